"""The year: design and weather become rows and parts; the compiled loop takes the hours in their order.

faults        Faults made real
heaters       Heaters of the stores
hours         The compiled year
loop          The loop in one step
parts         What the compiled year reads
plain         The plain system
prepare       From a design and its weather to what the compiled loop reads
prepare_uses  What the compiled year reads of heaters and uses
sensors       What a controller shows
steps         A step of the year's loop, in the order the heat flows
taps          Taps
uses          What the uses take from the stores: taps' neighbours, rooms, floor slab, pool
vessel        What a store does beside serving: sun on it, heat dump, boiling, relief
year          The year
"""
