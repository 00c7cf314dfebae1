"""A year of a solar heating system, hour by hour, every hour closed.

What stands in ``__all__`` is stable; ``docs/library.md`` shows it in use. The flow, in the order of the folders::

    weather -> sun -> collector -> loop -> store -> demand -> simulation -> ledger

    design/      the design document: demand, site, plane, system, what contradicts itself; earlier versions
    weather/     read, check, split and make up a typical year; mains, sky, solar position
    sun/         what falls on a plane; skyline, overhang, rows, mirror; compass
    collector/   rated forms, incidence, a collector from its materials
    loop/        pipes, coil, plate, stove, flow without a pump
    control/     when the pump runs
    store/       layers of water, ports, pool
    demand/      litres and kilowatts hour by hour, and the tap
    simulation/  design and weather -> rows and parts -> the compiled loop over the hours; faults
    ledger/      accounts, balances, solar fractions, events
    catalogue.py parts to choose from
    sizing/      rules, correlations, safety parts, a first estimate
    economics/   parts list, prices, tariffs, the years of the money
    studies/     many designs: combinations, maps, search, uncertainty, what decides
    monitoring/  after commissioning: readings, sums, diagnosis, fit, maintenance
    library.py   the core from Python;  cli.py: the command line

Inside: SI units, degrees Celsius, angles in degrees at every public edge,
azimuth clockwise from true north, hours named by their start in local standard time.
"""

from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from heat.library import (
        ACCOUNTS,
        Design,
        HeatError,
        WeatherYear,
        Year,
        compare,
        read_design,
        read_weather,
        simulate,
        variants,
    )

ENGINE_VERSION = "2"
__all__ = [
    "ACCOUNTS",
    "ENGINE_VERSION",
    "Design",
    "HeatError",
    "WeatherYear",
    "Year",
    "compare",
    "read_design",
    "read_weather",
    "simulate",
    "variants",
]


def __getattr__(name: str) -> Any:
    """The library, loaded when it is first used: parts of the core import this package without it."""
    if name in __all__:
        from heat import library

        return getattr(library, name)
    raise AttributeError(f"module 'heat' has no attribute {name!r}")
