"""Hours of the year from what a person types: shapes, weekdays, months, holidays, patterns."""

import numpy as np
from numpy.typing import NDArray

from heat.constants import HOURS, HOURS_OF_MONTH, WATER_J_KGK
from heat.design.needs import Demand, Heating
from heat.weather.year import WeatherYear

Array = NDArray[np.float64]
MONTH_OF_HOUR = np.repeat(np.arange(12), np.array(HOURS_OF_MONTH))
HOUR_OF_DAY = np.arange(HOURS) % 24
DAY_OF_HOUR = np.arange(HOURS) // 24
TAPPING_KWH = {
    "M": (0, 0, 0, 0, 0, 0, 0, 1.61, 0.42, 0.21, 0.105, 0.21, 0.315, 0, 0.105, 0.105, 0.105, 0, 0.315, 0.105,
          0.735, 1.505, 0, 0),
    "L": (0, 0, 0, 0, 0, 0, 0, 1.715, 3.92, 0.21, 0.105, 0.21, 0.315, 0, 0.105, 0.105, 0.105, 0, 0.315, 0.105,
          0.735, 3.71, 0, 0),
}  # fmt: skip
"""Useful heat of the load profiles M and L by hour (kWh). Source: EU 814/2013, annex III, table 1, summed by hour."""
TAPPING_COLD_C = 10.0
"""Cold water the load profiles are stated for (°C). Source: EU 814/2013, annex III."""


def spread_series(values: tuple[float, ...], first_weekday: int) -> Array:
    """8,760 values from 24 (a day), 168 (a week from Monday) or 8,760; same unit as given."""
    array = np.asarray(values, dtype=float)
    if array.size == 168:
        return np.tile(np.roll(array, -24 * first_weekday), 53)[:HOURS]
    return np.tile(array, HOURS // array.size)


def tap_litres(demand: Demand) -> Array:
    """Litres at tap temperature in each of 8,760 hours (L).

    A shape keeps its mean over the year's ordinary days: people times litres, times month and weekend.
    """
    if not demand.hot_water:
        return np.zeros(HOURS)
    weekend = (DAY_OF_HOUR + demand.first_weekday) % 7 >= 5
    if demand.measured_l is not None:
        litres = spread_series(demand.measured_l, demand.first_weekday)
    else:
        if demand.pattern == "shape":
            weights = np.asarray(demand.hour_shape, dtype=float)
            day = demand.litres_per_day * weights / weights.sum()
        else:
            kwh = np.asarray(TAPPING_KWH[demand.pattern])
            day = kwh * 3.6e6 / (WATER_J_KGK * (demand.tap_c - TAPPING_COLD_C))
        other = day
        if demand.weekend_shape is not None:
            weights = np.asarray(demand.weekend_shape, dtype=float)
            other = day.sum() * weights / weights.sum()
        litres = np.where(weekend, other[HOUR_OF_DAY] * demand.weekend_factor, day[HOUR_OF_DAY])
    litres = litres * np.asarray(demand.month_factors)[MONTH_OF_HOUR]
    return np.where(away(demand), 0.0, litres)


def away(demand: Demand) -> NDArray[np.bool_]:
    """True in the hours of holidays (8,760, no unit); a holiday may run over the turn of the year."""
    gone = np.zeros(365, dtype=bool)
    for first, last in demand.holidays:
        days = np.arange(first, last + 1) if first <= last else np.r_[first:366, 1 : last + 1]
        gone[days - 1] = True
    return gone[DAY_OF_HOUR]


def heating_watts(heating: Heating, weather: WeatherYear, first_weekday: int) -> Array:
    """Heat the rooms want in each of 8,760 hours (W): ``H (base - T_felt) - free - sun``, never below 0.

    T_felt: the air (°C) as the building feels it through its storage, an exponential mean over
    ``storage/loss`` hours (one capacity; the loads of a light house follow the air at once).
    Reference: EN ISO 52016-1's one-capacity node in degree-hour form; base temperature method, CIBSE TM41.
    """
    if not heating.fitted:
        return np.zeros(HOURS)
    on = np.asarray(heating.months)[MONTH_OF_HOUR]
    if heating.hourly_kw is not None:
        return np.where(on, 1000.0 * spread_series(heating.hourly_kw, first_weekday), 0.0)
    hours = max(heating.storage_kwh_k * 1000.0 / heating.loss_w_k, 1.0)
    felt = exponential_mean(weather.air_c, hours)
    free = heating.free_w + heating.window_m2 * exponential_mean(0.5 * weather.ghi_w_m2, hours)
    return np.where(on, np.maximum(heating.loss_w_k * (heating.base_c - felt) - free, 0.0), 0.0)


def exponential_mean(values: Array, hours: float) -> Array:
    """Running exponential mean of 8,760 values over ``hours`` (h), round the turn of the year; same unit."""
    from scipy.signal import lfilter

    share = 1.0 - np.exp(-1.0 / hours)
    twice = np.concatenate([values, values])
    smooth = lfilter([share], [1.0, share - 1.0], twice, zi=[float(values[-1]) * (1.0 - share)])[0]
    return np.asarray(smooth[HOURS:])


def reset_temperatures(heating: Heating, watts: Array) -> tuple[Array, Array]:
    """Supply and return (°C) in each hour by outdoor reset: room plus the design excess by ``(Q/Q0)^(1/n)``.

    watts (W). Reference: EN 442-1, eq. 3 (emitter exponent n).
    """
    design = heating.loss_w_k * max(heating.base_c - heating.design_air_c, 1.0)
    if heating.hourly_kw is not None:
        design = max(float(watts.max()), 1.0)
    part = np.clip(watts / design, 0.0, 1.0)
    excess = 0.5 * (heating.supply_c + heating.return_c) - heating.room_c
    mean = heating.room_c + excess * part ** (1.0 / heating.exponent)
    spread = 0.5 * (heating.supply_c - heating.return_c) * part
    spread = np.maximum(spread, 0.5)
    return mean + spread, mean - spread
