"""Read, check, complete and write a typical year.

checks          Does a year of weather obey the sun? Warnings, refusals, and the offer to mend its clock
columns         Any hourly table, read by a map of its columns that can be kept and used again
formats         The formats of typical years
mains           Cold water from the mains
place           What is known of a place without asking anyone
readers         Read EPW, TMY3, TM2 and PVGIS typical years, any table by a column map, and twelve means
sky             The sky's and the ground's temperature
solar_position  Where the sun stands, hour by hour
split           Beam and diffuse from the global sun
synthetic       A synthetic year from twelve means
world           A rough climate of anywhere
writers         A weather year as a file that other tools read
year            One checked year of weather, the only form the rest of the core knows
"""
