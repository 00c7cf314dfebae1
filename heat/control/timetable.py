"""When things may run: seasons, pasteurising, valves, the pump's hours."""

import numpy as np
from numpy.typing import NDArray

from heat.common.calendar import DAY_OF_YEAR, HOUR_OF_DAY, MONTH_OF_HOUR
from heat.constants import HOURS
from heat.design import Design

Array = NDArray[np.float64]


def between(first_day: int, last_day: int) -> NDArray[np.bool_]:
    """True in the hours from the first to the last day (1 to 365), also over the turn of the year (no unit).

    Parameters
    ----------
    first_day
        First day, 1 to 365.
    last_day
        Last day, 1 to 365.

    Returns
    -------
    ndarray of bool
        True in the hours from the first to the last day (1 to 365), also over the turn of the year.
    """
    if first_day <= last_day:
        return (first_day <= DAY_OF_YEAR) & (last_day >= DAY_OF_YEAR)
    return (first_day <= DAY_OF_YEAR) | (last_day >= DAY_OF_YEAR)


def pasteurising(design: Design) -> NDArray[np.bool_]:
    """True in the hours the store is pasteurised (8,760, no unit).

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    ndarray of bool
        True in the hours the store is pasteurised (8,760).
    """
    plan = design.system.backup.pasteurisation
    if not plan.fitted:
        return np.zeros(HOURS, dtype=bool)
    day = (DAY_OF_YEAR - 1) % plan.every_days == 0
    hour = np.arange(HOURS)
    starts = np.flatnonzero(day & (plan.from_hour == HOUR_OF_DAY))
    mask = np.zeros(HOURS, dtype=bool)
    for shift in range(plan.hours):
        mask[np.minimum(starts + shift, HOURS - 1)] = True
    return mask & (hour >= 0)


def under_snow(design: Design) -> NDArray[np.bool_]:
    """True in the hours snow lies on the glass (8,760, no unit).

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    ndarray of bool
        True in the hours snow lies on the glass (8,760).
    """
    site = design.site
    covered = np.zeros(HOURS, dtype=bool)
    for first, last in site.snow:
        covered |= between(first, last) & ~((last == DAY_OF_YEAR) & (site.snow_until_hour <= HOUR_OF_DAY))
    return covered


def valve_mode(design: Design) -> Array:
    """Position of the valves in 8,760 hours: 0 preheat, 1 direct, 2 bypass (no unit).

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    ndarray, shape (8760,)
        Position of the valves in 8,760 hours: 0 preheat, 1 direct, 2 bypass (no unit).
    """
    control = design.system.control
    number = {"preheat": 0.0, "direct": 1.0, "bypass": 2.0}
    mode = np.full(HOURS, number[control.mode])
    if control.other_mode != control.mode:
        mode[between(control.other_from_day, control.other_to_day)] = number[control.other_mode]
    return mode


def pump_allowed(design: Design, mode: Array, heating_through: NDArray[np.bool_]) -> tuple[Array, Array]:
    """Whether the pump may run (0, 1; 2: must) and whether the loop is dry (0, 1) in 8,760 hours (no unit).

    Parameters
    ----------
    design
        The design.
    mode
        Position of the valves: 0 preheat, 1 direct, 2 bypass.
    heating_through
        Hours in which the store is pasteurised.

    Returns
    -------
    tuple[Array, Array]
        Whether the pump may run (0, 1; 2: must) and whether the loop is dry (0, 1) in 8,760 hours (no unit).
    """
    system = design.system
    control, scheme = system.control, system.scheme
    season = between(control.season_from_day, control.season_to_day)
    allowed = np.asarray(control.hours_allowed)[HOUR_OF_DAY] & season & (mode != 2.0)
    if control.rests_while_pasteurising:
        allowed &= ~heating_through
    if scheme.exchange == "pool":
        allowed &= np.asarray(design.demand.pool.months)[MONTH_OF_HOUR]
    dry = np.zeros(HOURS)
    if scheme.water_outdoors and scheme.driven_by != "none":
        dry[~season] = 1.0
    return allowed.astype(float), dry
