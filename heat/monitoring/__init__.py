"""After commissioning: what was read at the system, compared with the design, explained and fitted.

balance         Two ways to the same heat
checks          What looks wrong in readings before anything is calculated from them
diagnosis       What is wrong
faults          What can go wrong in a system
fit             As measured
layers          Heat in a store from its layers, each with its own volume
log             Readings of a system
maintenance     Upkeep
measured_days   The measured days as the design would have had them
monthly_meters  A year watched
plant           A small plant that stands in for a real one
sky             The sun of a measured day
trials          Trials on the site
"""
