"""Litres at the tap and heat for rooms, hour by hour.

draw_coil  A coil of drinking water from its measures
hot_water  Hot water at the tap
measured   A measured load, hourly or daily, made into one honest year with a note of everything repaired
profile    Hours of the year from what a person types
rooms      Rooms in each hour
shapes     Shapes of the day to start from
"""
