"""Many designs: combinations, maps, search, uncertainty, and what decides.

effects      What decides
figures      Questions a year's books answer beside the accounts
following    What follows a number where nothing else is said
maps         Maps
next_steps   What the next step buys
outcome      What is kept of each year that is compared
plans        Which combinations of answers are calculated
question     A question of choices
search       Find the best
sweep        Many designs in one weather
uncertainty  How sure a year is
"""
