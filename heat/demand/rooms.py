"""Rooms in each hour: what a thermostat asks for, how warm its circuits run, what fresh air takes."""

import numpy as np
from numpy.typing import NDArray

from heat.common.calendar import HOUR_OF_DAY, MONTH_OF_HOUR
from heat.common.compiled import kernel
from heat.constants import HOURS
from heat.demand.profile import spread_series
from heat.design.rooms import FUEL_KWH, FreshAir, Heating, SecondCircuit
from heat.errors import InputError
from heat.weather.year import WeatherYear

Array = NDArray[np.float64]
LOSS_RANGE_W_K = (1.0, 1e6)
"""Loss coefficients sought between (W/K). Source: the range of the document's field."""
WARMEST_K = 5.0
"""So far above its temperature (K) a room is aired. Source: our own choice."""
AIR_J_M3K = 1200.0
"""Heat of a cubic metre of air (J/m³K). Source: ISO 13789, 1,200 J/m³K at 20 °C."""


def fuel_heat_kwh(heating: Heating) -> float:
    """Heat the rooms got from last year's fuel (kWh): what went to them, times the boiler's efficiency.

    Parameters
    ----------
    heating
        The rooms' heating.

    Returns
    -------
    float
        Heat the rooms got from last year's fuel (kWh).
    """
    return (heating.fuel_year - heating.fuel_other) * FUEL_KWH[heating.fuel] * heating.fuel_efficiency


def known_heating(heating: Heating, weather: WeatherYear, first_weekday: int) -> Heating:
    """Heating with its loss coefficient (W/K): as typed, or the one whose year needs last year's fuel heat.

    Solved on the weather's own hours, so storage, free heat and sunlit glass count. Base temperature method run
    backwards, CIBSE TM41 (2006), section 4.

    Parameters
    ----------
    heating
        The rooms' heating.
    weather
        The weather, 8,760 hours.
    first_weekday
        Weekday of 1 January, 0 for Monday.

    Returns
    -------
    Heating
        Heating with its loss coefficient (W/K).

    Raises
    ------
    InputError
        Where no hour is cold enough.
    """
    if not heating.fitted or heating.source == "loss" or heating.hourly_kw is not None:
        return heating
    wanted = 1000.0 * fuel_heat_kwh(heating)

    def enough(log_loss: float) -> bool:
        tried = heating.model_copy(update={"loss_w_k": float(np.exp(log_loss))})
        return float(heating_watts(tried, weather, first_weekday).sum()) >= wanted

    low, high = (float(v) for v in np.log(LOSS_RANGE_W_K))
    if not enough(high):
        raise InputError(
            "demand.heating.fuel_year",
            None,
            "the air here is never cold enough to need that much heat: check base temperature, months and fuel",
        )
    while high - low > 1e-5:
        middle = 0.5 * (low + high)
        low, high = (low, middle) if enough(middle) else (middle, high)
    loss = float(np.exp(high))
    return heating.model_copy(update={"loss_w_k": loss})


def design_watts(heating: Heating) -> float:
    """Heat the rooms want on the coldest day designed for (W).

    Parameters
    ----------
    heating
        The rooms' heating.

    Returns
    -------
    float
        Heat the rooms want on the coldest day designed for (W).
    """
    return heating.loss_w_k * max(heating.base_c - heating.design_air_c, 1.0)


def heating_watts(heating: Heating, weather: WeatherYear, first_weekday: int) -> Array:
    """Heat a thermostat asks for in each of 8,760 hours (W), never below 0.

    One capacity at one temperature: ``C dT/dt = H (T_air - T) + H (room - base) + free + sun + heat``; the
    thermostat holds it from falling below its set point, so what a held room cannot store is not smoothed. Above
    it, the sun is kept in the building, up to where windows are opened; after a set-back the emitters give no more
    than they can.

    Parameters
    ----------
    heating
        The rooms' heating.
    weather
        The weather, 8,760 hours.
    first_weekday
        Weekday of 1 January, 0 for Monday.

    Returns
    -------
    ndarray, shape (8760,)
        Heat a thermostat asks for in each of 8,760 hours (W), never below 0.

    References
    ----------
    EN ISO 52016-1's one-capacity node, hour by hour; base temperature method, CIBSE TM41.
    """
    if not heating.fitted:
        return np.zeros(HOURS)
    on = np.asarray(heating.months)[MONTH_OF_HOUR]
    if heating.hourly_kw is not None:
        return np.where(on, 1000.0 * spread_series(heating.hourly_kw, first_weekday), 0.0)
    inner = heating.loss_w_k * (heating.room_c - heating.base_c) + heating.free_w
    gains = inner + heating.window_m2 * 0.5 * weather.ghi_w_m2
    back = np.asarray(heating.set_back_hours)[HOUR_OF_DAY]
    wanted = heating.room_c - np.where(back, heating.set_back_k, 0.0)
    watts = np.zeros(HOURS)
    heat_to_hold(
        heating.loss_w_k,
        1000.0 * heating.storage_kwh_k,
        heating.heat_up * design_watts(heating),
        heating.room_c + WARMEST_K,
        weather.air_c,
        gains,
        wanted,
        np.where(on, 1.0, 0.0),
        watts,
    )
    return watts


@kernel
def heat_to_hold(
    loss_w_k: float,
    storage_wh_k: float,
    most_w: float,
    aired_c: float,
    air_c: Array,
    gains_w: Array,
    wanted_c: Array,
    on: Array,
    watts: Array,
) -> None:
    """Heat (W) that holds a room of one capacity (Wh/K) at or above wanted_c (°C), up to most_w (W) where it must warm
    up.

    Exact for each hour's constant air (°C) and gains (W).

    Parameters
    ----------
    loss_w_k
        Heat loss (W/K).
    storage_wh_k
        Heat capacity of the building (Wh/K).
    most_w
        Power of the emitters (W).
    aired_c
        Temperature at which windows are opened (°C).
    air_c
        Outdoor air (°C), 8,760 hours.
    gains_w
        Heat from sun and use (W).
    wanted_c
        Set point (°C).
    on
        Hours in which the rooms are heated.
    watts
        The heat asked for (W); written in place.
    """
    retention = np.exp(-loss_w_k / storage_wh_k) if storage_wh_k > 1e-3 * loss_w_k else 0.0
    room_c = wanted_c[-1]
    for _ in range(2):  # the first round finds where the year begins
        for h in range(air_c.size):
            free_c = air_c[h] + gains_w[h] / loss_w_k
            idle_c = free_c + (room_c - free_c) * retention
            need_w = 0.0
            if on[h] > 0.0 and idle_c < wanted_c[h]:
                need_w = loss_w_k * (wanted_c[h] - idle_c) / (1.0 - retention)
                if room_c < wanted_c[h] - 1e-6:  # it warms up again: as fast as the emitters can
                    need_w = min(need_w, max(most_w, loss_w_k * (wanted_c[h] - free_c)))
            watts[h] = need_w
            room_c = min(idle_c + need_w / loss_w_k * (1.0 - retention), aired_c)


def share_out(heating: Heating, watts: Array) -> tuple[Array, Array]:
    """The rooms' heat (W) by the first circuit and by the second.

    Parameters
    ----------
    heating
        The rooms' heating.
    watts
        Power in each of 8,760 hours (W).

    Returns
    -------
    tuple[Array, Array]
        The rooms' heat (W) by the first circuit and by the second.
    """
    part = heating.second
    if not part.fitted:
        return watts, np.zeros_like(watts)
    most = 1000.0 * part.power_kw
    if part.order == "beside":
        second = part.share * watts
    elif part.order == "before":
        second = np.minimum(watts, most)
    else:
        second = np.maximum(watts - most, 0.0)
    return watts - second, second


def reset_temperatures(heating: Heating, watts: Array) -> tuple[Array, Array]:
    """Supply and return (°C) in each hour by outdoor reset: room plus the design excess by ``(Q/Q0)^(1/n)``.

    watts (W).

    Parameters
    ----------
    heating
        The rooms' heating.
    watts
        Power in each of 8,760 hours (W).

    Returns
    -------
    tuple[Array, Array]
        Supply and return (°C) in each hour by outdoor reset: room plus the design excess by ``(Q/Q0)^(1/n)``.

    References
    ----------
    EN 442-1, eq. 3 (emitter exponent n).
    """
    design = design_watts(heating)
    if heating.hourly_kw is not None:
        design = max(float(watts.max()), 1.0)
    return circuit_temperatures(heating, heating.room_c, np.clip(watts / design, 0.0, 1.0))


def second_temperatures(heating: Heating, watts: Array) -> tuple[Array, Array]:
    """As :func:`reset_temperatures` (°C) for the second circuit, whose most is what it is asked for at most (W).

    Parameters
    ----------
    heating
        The rooms' heating.
    watts
        Power in each of 8,760 hours (W).

    Returns
    -------
    tuple[Array, Array]
        As :func:`reset_temperatures` (°C) for the second circuit, whose most is what it is asked for at most
        (W).
    """
    return circuit_temperatures(heating.second, heating.room_c, watts / max(float(watts.max()), 1.0))


def circuit_temperatures(part: Heating | SecondCircuit, room_c: float, share: Array) -> tuple[Array, Array]:
    """Supply and return (°C) of a circuit that gives a share of its most (no unit) to a room (°C).

    Parameters
    ----------
    part
        The circuit.
    room_c
        Temperature of the room (°C).
    share
        Share of the circuit's most (no unit).

    Returns
    -------
    tuple[Array, Array]
        Supply and return (°C) of a circuit that gives a share of its most (no unit) to a room (°C).
    """
    excess = 0.5 * (part.supply_c + part.return_c) - room_c
    mean = room_c + excess * share ** (1.0 / part.exponent)
    spread = np.maximum(0.5 * (part.supply_c - part.return_c) * share, 0.5)
    return mean + spread, mean - spread


def fresh_air(use: FreshAir, air_c: Array) -> tuple[Array, Array, Array]:
    """Heat fresh air takes in each of 8,760 hours (W), and the water of its coil there and back (°C).

    ``V 1,200 (to - in)``, the air coming in at outdoor temperature or warmed by what leaves.

    Parameters
    ----------
    use
        The fresh air.
    air_c
        Outdoor air (°C), 8,760 hours.

    Returns
    -------
    tuple[Array, Array, Array]
        Heat fresh air takes in each of 8,760 hours (W), and the water of its coil there and back (°C).

    References
    ----------
    ISO 13789, ventilation heat; water and air in counterflow, the water above the air by its approach at both ends.
    """
    if not use.fitted:
        return np.zeros(HOURS), np.zeros(HOURS), np.zeros(HOURS)
    enters = air_c + use.recovered * np.maximum(use.from_c - air_c, 0.0)
    on = np.asarray(use.hours_on)[HOUR_OF_DAY] & np.asarray(use.months)[MONTH_OF_HOUR]
    watts = np.where(on, use.flow_m3_h / 3600.0 * AIR_J_M3K * np.maximum(use.to_c - enters, 0.0), 0.0)
    back = np.maximum(enters + use.approach_k, 1.0)
    return watts, np.maximum(np.full(HOURS, use.to_c + use.approach_k), back + 0.5), back
