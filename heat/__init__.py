"""Books on heat: a year of a solar heating system, hour by hour, every hour closed.

The flow, in the order of the folders::

    weather -> sun on the plane -> collector -> loop -> store -> demand -> ledger

    weather/     read, check and hold a typical year; mains water temperature
    sun/         where the sun stands; what falls on a tilted plane
    collector/   what the absorber keeps of it
    loop/        fluid, pipes, exchanger
    control/     when the pump runs
    store/       layers of water
    demand/      litres at the tap
    year.py      the only module that knows them all: prepare -> run -> account
    ledger.py    accounts, closing lines, solar fractions
    sizing/      the published monthly correlation, a second opinion

Inside: SI units, degrees Celsius, angles in degrees at every public edge,
azimuth clockwise from true north, hours named by their start in local standard time.
"""

ENGINE_VERSION = "1"
