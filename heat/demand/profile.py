"""Hours of the year from what a person types: shapes, weekdays, months, holidays, patterns."""

import numpy as np
from numpy.typing import NDArray

from heat.common.calendar import DAY_OF_HOUR, HOUR_OF_DAY, MONTH_OF_HOUR
from heat.constants import HOURS, WATER_J_KGK
from heat.design.needs import Demand
from heat.loop.pipe import insulated_loss_w_k

Array = NDArray[np.float64]
TAPPING_KWH = {
    "M": (0, 0, 0, 0, 0, 0, 0, 1.61, 0.42, 0.21, 0.105, 0.21, 0.315, 0, 0.105, 0.105, 0.105, 0, 0.315, 0.105,
          0.735, 1.505, 0, 0),
    "L": (0, 0, 0, 0, 0, 0, 0, 1.715, 3.92, 0.21, 0.105, 0.21, 0.315, 0, 0.105, 0.105, 0.105, 0, 0.315, 0.105,
          0.735, 3.71, 0, 0),
}  # fmt: skip
"""Useful heat of the load profiles M and L by hour (kWh). Source: EU 814/2013, annex III, table 1, summed by hour."""
TAPPING_COLD_C = 10.0
"""Cold water the load profiles are stated for (°C). Source: EU 814/2013, annex III."""

CIRCULATION_ROOM_C = 20.0
"""Air around a circulation loop (°C). Source: our own choice, a heated house."""
INSULATION_W_MK = 0.040
"""Conductivity of pipe insulation (W/mK). Source: EN ISO 13787, mineral wool and foam at 40 °C, rounded."""


def spread_series(values: tuple[float, ...], first_weekday: int) -> Array:
    """8,760 values from 24 (a day), 168 (a week from Monday) or 8,760; same unit as given.

    Parameters
    ----------
    values
        24, 168 or 8,760 values.
    first_weekday
        Weekday of 1 January, 0 for Monday.

    Returns
    -------
    ndarray, shape (8760,)
        8,760 values from 24 (a day), 168 (a week from Monday) or 8,760; same unit as given.
    """
    array = np.asarray(values, dtype=float)
    if array.size == 168:
        return np.tile(np.roll(array, -24 * first_weekday), 53)[:HOURS]
    return np.tile(array, HOURS // array.size)


def mixing_share(at_c: float, tap_c: float, mains_c: Array) -> Array:
    """Litres at tap_c that hold the heat of one litre mixed to at_c (°C) from mains of mains_c (°C), 8,760 (no unit).

    Parameters
    ----------
    at_c
        Temperature of the mixed water (°C).
    tap_c
        Temperature wanted at the tap (°C).
    mains_c
        Cold water (°C).

    Returns
    -------
    ndarray, shape (8760,)
        Litres at tap_c that hold the heat of one litre mixed to at_c (°C) from mains of mains_c (°C), 8,760 (no
        unit).
    """
    return np.maximum(at_c - mains_c, 0.0) / np.maximum(tap_c - mains_c, 1.0)


def weekly(weekday: Array, weekend: Array, first_weekday: int) -> Array:
    """8,760 values from the 24 of a weekday and of a weekend day; same unit as given.

    Parameters
    ----------
    weekday
        Values of a weekday, 24 hours.
    weekend
        Values of a day of the weekend, 24 hours.
    first_weekday
        Weekday of 1 January, 0 for Monday.

    Returns
    -------
    ndarray, shape (8760,)
        8,760 values from the 24 of a weekday and of a weekend day; same unit as given.
    """
    late = (DAY_OF_HOUR + first_weekday) % 7 >= 5
    return np.where(late, weekend[HOUR_OF_DAY], weekday[HOUR_OF_DAY])


def household_litres(demand: Demand) -> Array:
    """Litres through the household's taps in each of 8,760 hours (L), as mixed there, without leaks.

    A shape keeps its mean over the year's ordinary days: people times litres, times month and weekend.

    Parameters
    ----------
    demand
        The demand.

    Returns
    -------
    ndarray, shape (8760,)
        Litres through the household's taps in each of 8,760 hours (L), as mixed there, without leaks.
    """
    if not demand.hot_water:
        return np.zeros(HOURS)
    if demand.measured_l is not None:
        litres = spread_series(demand.measured_l, demand.first_weekday)
    else:
        if demand.pattern == "shape":
            weights = np.asarray(demand.hour_shape, dtype=float)
            day = demand.people_litres * weights / weights.sum()
        else:
            kwh = np.asarray(TAPPING_KWH[demand.pattern])
            day = kwh * 3.6e6 / (WATER_J_KGK * (demand.tap_c - TAPPING_COLD_C))
        other = day
        if demand.weekend_shape is not None:
            weights = np.asarray(demand.weekend_shape, dtype=float)
            other = day.sum() * weights / weights.sum()
        litres = weekly(day, other * demand.weekend_factor, demand.first_weekday)
    litres = litres * np.asarray(demand.month_factors)[MONTH_OF_HOUR]
    return np.where(away(demand), 0.0, litres)


def shower_litres(demand: Demand) -> Array:
    """Litres through the pool's showers in each of 8,760 hours (L), as mixed there.

    Parameters
    ----------
    demand
        The demand.

    Returns
    -------
    ndarray, shape (8760,)
        Litres through the pool's showers in each of 8,760 hours (L), as mixed there.
    """
    use = demand.showers
    if not use.fitted:
        return np.zeros(HOURS)
    weights = np.asarray(use.hour_shape, dtype=float)
    day = use.count_day * use.litres_each * weights / weights.sum()
    litres = weekly(day, day * use.weekend_factor, demand.first_weekday)
    return litres * np.asarray(use.month_factors)[MONTH_OF_HOUR]


def household_tap_litres(demand: Demand, mains_c: Array) -> Array:
    """Litres at tap temperature that hold the household's heat, leaks included, 8,760 hours (L).

    Fixtures may mix cooler or warmer than the tap's temperature; leaks drip at it in every hour.

    Parameters
    ----------
    demand
        The demand.
    mains_c
        Cold water (°C).

    Returns
    -------
    ndarray, shape (8760,)
        Litres at tap temperature that hold the household's heat, leaks included, 8,760 hours (L).
    """
    if not demand.hot_water:
        return np.zeros(HOURS)
    litres = household_litres(demand)
    if demand.counted == "fixtures" and demand.pattern == "shape" and demand.measured_l is None:
        mixed = [(f.litres_a_person(after=True), f.at_c) for f in demand.fixtures]
        whole = sum(amount for amount, _ in mixed)
        litres = litres * sum(amount / whole * mixing_share(at, demand.tap_c, mains_c) for amount, at in mixed)
    return litres + demand.leaks_l_day / 24.0


def tap_litres(demand: Demand, mains_c: Array) -> Array:
    """Litres at tap temperature in each of 8,760 hours (L), of household and showers.

    Parameters
    ----------
    demand
        The demand.
    mains_c
        Cold water (°C).

    Returns
    -------
    ndarray, shape (8760,)
        Litres at tap temperature in each of 8,760 hours (L), of household and showers.
    """
    showers = shower_litres(demand) * mixing_share(demand.showers.at_c, demand.tap_c, mains_c)
    return household_tap_litres(demand, mains_c) + showers


def circulation_watts(demand: Demand) -> Array:
    """What a circulation loop loses in each of 8,760 hours (W), known or calculated from its pipe (20 °C around it).

    Parameters
    ----------
    demand
        The demand.

    Returns
    -------
    ndarray, shape (8760,)
        What a circulation loop loses in each of 8,760 hours (W), known or calculated from its pipe (20 °C
        around it).
    """
    use = demand.circulation
    if not use.fitted:
        return np.zeros(HOURS)
    watts = use.loss_w
    if watts is None:
        warm = max(demand.tap_c - 0.5 * use.drop_k - CIRCULATION_ROOM_C, 0.0)
        watts = warm * insulated_loss_w_k(use.length_m, use.diameter_mm, use.insulation_mm, INSULATION_W_MK)
    on = np.asarray(use.hours_on, dtype=float)[HOUR_OF_DAY] * np.asarray(use.months)[MONTH_OF_HOUR]
    return watts * on


def process_watts(demand: Demand) -> Array:
    """Any other load in each of 8,760 hours (W).

    Parameters
    ----------
    demand
        The demand.

    Returns
    -------
    ndarray, shape (8760,)
        Any other load in each of 8,760 hours (W).
    """
    use = demand.process
    if not use.fitted:
        return np.zeros(HOURS)
    watts = 1000.0 * spread_series(use.hourly_kw, demand.first_weekday)
    factor = weekly(np.ones(24), np.full(24, use.weekend_factor), demand.first_weekday)
    return watts * factor * np.asarray(use.month_factors)[MONTH_OF_HOUR]


def away(demand: Demand) -> NDArray[np.bool_]:
    """True in the hours of holidays (8,760, no unit); a holiday may run over the turn of the year.

    Parameters
    ----------
    demand
        The demand.

    Returns
    -------
    ndarray of bool
        True in the hours of holidays (8,760); a holiday may run over the turn of the year.
    """
    gone = np.zeros(365, dtype=bool)
    for first, last in demand.holidays:
        days = np.arange(first, last + 1) if first <= last else np.r_[first:366, 1 : last + 1]
        gone[days - 1] = True
    return gone[DAY_OF_HOUR]


def as_it_is(demand: Demand) -> Demand:
    """The demand as it stands today, before anything is mended (litres, mm, hours of :class:`Before`).

    Parameters
    ----------
    demand
        The demand.

    Returns
    -------
    Demand
        The demand as it stands today, before anything is mended (litres, mm, hours of :class:`Before`).
    """
    before = demand.before
    loop = demand.circulation
    change: dict[str, object] = {}
    if before.circulation_mm is not None:
        change["insulation_mm"] = before.circulation_mm
    if before.circulation_hours is not None:
        first = sorted(range(24), key=lambda h: (not loop.hours_on[h], h))[: round(before.circulation_hours)]
        change["hours_on"] = tuple(h in first for h in range(24))
    return demand.model_copy(
        update={
            "litres_per_person_day": before.litres_per_person_day or demand.litres_per_person_day,
            "leaks_l_day": demand.leaks_l_day if before.leaks_l_day is None else before.leaks_l_day,
            "fixtures": tuple(
                f.model_copy(update={"flow_after_l_min": None, "minutes_after_day": None}) for f in demand.fixtures
            ),
            "circulation": loop.model_copy(update=change),
        }
    )


def mean_draw_l(demand: Demand) -> float:
    """Litres of a draw (L): as typed, or of the fixtures by the water each takes.

    Parameters
    ----------
    demand
        The demand.

    Returns
    -------
    float
        Litres of a draw (L).
    """
    if demand.counted != "fixtures":
        return demand.litres_a_draw
    litres = np.array([fixture.litres_a_person(after=True) for fixture in demand.fixtures])
    each = np.array([fixture.litres_a_draw for fixture in demand.fixtures])
    return float((litres * each).sum() / litres.sum()) if litres.sum() > 0 else demand.litres_a_draw
