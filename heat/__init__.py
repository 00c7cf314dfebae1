"""Books on heat: a year of a solar heating system, hour by hour, every hour closed.

The flow, in the order of the folders::

    weather -> sun on the plane -> collector -> loop -> store -> demand -> ledger

    design/      the design document: demand, site, plane, system, what contradicts itself
    weather/     read, check, split, make up and hold a typical year; mains, sky, ground
    sun/         where the sun stands; what falls on a plane; skyline, overhang, rows, mirror; compass
    collector/   rated forms, incidence, the builder;  catalogue.py: parts to choose from
    loop/        fluids, pipes, coil, plate, flow by weight
    control/     when the pump runs
    store/       layers of water, ports, pool
    demand/      litres and kilowatts hour by hour, and the tap
    prepare.py   design and weather -> what the loop reads
    run/         the compiled loop over the hours
    year.py      prepare -> run -> account;  faults.py: the design after a mistake
    ledger.py    accounts, balances, solar fractions, differences;  results.py: figures beside them
    sweep.py     many designs;  cli.py: the command line
    sizing/      the published monthly correlation, a second opinion

Inside: SI units, degrees Celsius, angles in degrees at every public edge,
azimuth clockwise from true north, hours named by their start in local standard time.
"""

ENGINE_VERSION = "2"
