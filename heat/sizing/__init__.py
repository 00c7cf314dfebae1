"""Rules, correlations and safety parts to size by, compared with the simulated year.

antifreeze           How strong antifreeze must be for the coldest hour, how much of it there is, and how it ages
batch_water          Water that is its own collector
boiling              Collectors that boil
circuit              The loop as its pump feels it
exchange             The exchanger at its design point
first_estimate       A first estimate
fitting              Which kinds of system fit what is wanted and the frost of the place, the fittest first, …
hygiene              Water that scalds and water that breeds
monthly_correlation  The published monthly correlation for liquid systems
ranking              Which use of heat should the sun serve first? Calculated for a site before any part is chosen
requirements         What a person wants heated, in the words of a first talk, and what that makes of the demand
roof_load            What collectors, and a store that stands with them, weigh full of water
thermosiphon         A thermosiphon on a sunny noon
vessel               Room for what grows
wind                 Wind and snow on collectors
"""
