"""Two ways to the same heat: flow times the difference of its temperatures, and what the store gained; pump runs."""

from dataclasses import dataclass
from math import sqrt

import numpy as np
from numpy.typing import NDArray

from heat.common.fluid import fluid_property
from heat.monitoring.layers import WH_L_K
from heat.monitoring.log import Log

Array = NDArray[np.float64]
FLOW_UNCERTAINTY = 0.05
"""Uncertainty of a small flow meter (share). Source: usual vane meters, 3 to 5 % in their range."""
LONG_H = 1.0
"""Between readings further apart (h) nothing is summed: nobody knows what flowed meanwhile."""
RUNS = 0.5
"""Share of full speed from which a pump counts as running (1)."""
NIGHT_W_M2 = 10.0
"""Sun (W/m²) below which it is night."""


LOOP_MORE = (
    "The loop says more than the store holds: usual are a draw that was not noted, pipe between the meter and the "
    "store, sensors on the pipe's skin, glycol taken for water, a flow read too high."
)
STORE_MORE = (
    "The store holds more than the loop brought: usual are a heater that ran meanwhile, a flow read too low, a return "
    "sensor warmed by its pipe, layers filled in too warm."
)


@dataclass(frozen=True)
class Flowed:
    """Heat that a flow carried (kWh), its uncertainty (kWh, one standard deviation), hours of flow (h), the power
    while it flowed (kW), and hours without a reading (h).
    """

    kwh: float
    uncertainty_kwh: float
    hours: float
    kw: float
    missed_h: float


@dataclass(frozen=True)
class Gap:
    """Two ways to the same heat: what the loop brought and what the store gained with what it lost and gave (kWh), the
    gap (kWh), how many of its uncertainties that is (1), and what usually explains it.
    """

    loop_kwh: float
    store_kwh: float
    gap_kwh: float
    sigmas: float
    words: str


@dataclass(frozen=True)
class Runs:
    """What a pump did: hours it ran (h), starts (1), hours it ran at night (h), hours of flow backwards (h)."""

    hours: float
    starts: int
    night_h: float
    backwards_h: float


def spacing(hour: Array) -> Array:
    """Time each reading stands for (h): half way to its neighbours, none across a gap.

    Parameters
    ----------
    hour
        Moments, hours of the year (h).

    Returns
    -------
    ndarray
        Time each reading stands for (h).
    """
    steps = np.diff(hour)
    halves = np.where(steps <= LONG_H, steps / 2.0, 0.0)
    return np.concatenate([[0.0], halves]) + np.concatenate([halves, [0.0]])


def flowed(
    hour: Array, flow_kg_h: Array, supply_c: Array, return_c: Array, glycol_percent: float, sensor_k: float = 0.5
) -> Flowed:
    """Heat a flow carried: ``Q = sum m c (T_s - T_r) dt`` by the fluid's own heat capacity at its mean temperature.

    ``hour`` (h), ``flow_kg_h`` (kg/h), temperatures (°C), ``glycol_percent`` (percent by volume), ``sensor_k``:
    uncertainty of a sensor (K), the same error all the time.

    Parameters
    ----------
    hour
        Moments, hours of the year (h).
    flow_kg_h
        Flow at each moment (kg/h).
    supply_c
        Supply temperature at each moment (°C).
    return_c
        Return temperature at each moment (°C).
    glycol_percent
        Glycol (% by volume).
    sensor_k
        Standard uncertainty of a temperature sensor (K).

    Returns
    -------
    Flowed
        Heat a flow carried: ``Q = sum m c (T_s - T_r) dt`` by the fluid's own heat capacity at its mean
        temperature.
    """
    there = np.isfinite(flow_kg_h) & np.isfinite(supply_c) & np.isfinite(return_c)
    hour, flow, supply, back = hour[there], flow_kg_h[there], supply_c[there], return_c[there]
    if hour.size < 2:
        return Flowed(0.0, 0.0, 0.0, 0.0, 0.0)
    lasts = spacing(hour)
    moving = flow > 0.0
    middle = float(np.mean(0.5 * (supply + back)[moving])) if moving.any() else 40.0
    wh_kg_k = fluid_property("heat_capacity_j_kgk", glycol_percent, middle) / 3600.0
    kwh = float((flow * wh_kg_k * (supply - back) * lasts).sum()) / 1000.0
    hours = float(lasts[moving].sum())
    by_sensor = float((flow * wh_kg_k * lasts).sum()) / 1000.0 * sensor_k * sqrt(2.0)
    uncertainty = sqrt(by_sensor**2 + (FLOW_UNCERTAINTY * kwh) ** 2)
    missed = float(np.diff(hour)[np.diff(hour) > LONG_H].sum())
    return Flowed(kwh, uncertainty, hours, kwh / hours if hours else 0.0, missed)


def gap(
    loop: Flowed, gained_kwh: float, gained_uncertainty: float, lost_kwh: float = 0.0, drawn_kwh: float = 0.0
) -> Gap:
    """The loop's heat beside the store's (kWh): what it gained, what it lost meanwhile and what was drawn from it.

    Parameters
    ----------
    loop
        Heat the loop carried.
    gained_kwh
        Heat the store gained (kWh).
    gained_uncertainty
        Standard uncertainty of that heat (kWh).
    lost_kwh
        Heat the store lost (kWh).
    drawn_kwh
        Heat drawn from the store (kWh).

    Returns
    -------
    Gap
        The loop's heat beside the store's (kWh).
    """
    store = gained_kwh + lost_kwh + drawn_kwh
    off = loop.kwh - store
    sigmas = off / max(sqrt(loop.uncertainty_kwh**2 + gained_uncertainty**2), 1e-9)
    return Gap(loop.kwh, store, off, sigmas, _explained(off, sigmas))


def _explained(off: float, sigmas: float) -> str:
    if abs(sigmas) < 2.0:
        return "They agree within the uncertainty of their sensors."
    if off > 0.0:
        return LOOP_MORE
    return STORE_MORE


def runs(hour: Array, pump: Array, sun_w_m2: Array | None = None, flow: Array | None = None) -> Runs:
    """Hours, starts and hours by night of a pump (1, 0 to 1) at moments (h).

    Parameters
    ----------
    hour
        Moments, hours of the year (h).
    pump
        Share of the time the pump ran, by reading (0 to 1).
    sun_w_m2
        Sun (W/m²), where it was read.
    flow
        Flow (kg/h); negative the wrong way.

    Returns
    -------
    Runs
        Hours, starts and hours by night of a pump (1, 0 to 1) at moments (h).
    """
    there = np.isfinite(pump)
    lasts = spacing(hour[there]) if there.sum() > 1 else np.zeros(int(there.sum()))
    on = pump[there] > RUNS
    starts = int((on[1:] & ~on[:-1]).sum()) + int(on.size > 0 and on[0])
    dark = np.nan_to_num(sun_w_m2[there], nan=1e9) < NIGHT_W_M2 if sun_w_m2 is not None else np.zeros(on.shape, bool)
    back = 0.0
    if flow is not None and np.isfinite(flow).sum() > 1:
        known = np.isfinite(flow)
        back = float(spacing(hour[known])[flow[known] < 0.0].sum())
    return Runs(float(lasts[on].sum()), starts, float(lasts[on & dark].sum()), back)


@dataclass(frozen=True)
class Day:
    """A day as read: its first hour (h of the year), sun on the level or the plane (kWh/m²), hours of the pump (h) and
    its starts, litres drawn (L), heat of the loop (kWh), highest collector (°C); none where nothing was read.
    """

    first: int
    sun_kwh_m2: float | None
    pump_h: float | None
    starts: int
    drawn_l: float | None
    loop_kwh: float | None
    hottest_c: float | None


def by_day(log: Log, glycol_percent: float) -> list[Day]:
    """Every day of a log (kWh, h, L, °C); the loop's heat by the fluid's own heat capacity (percent of glycol).

    Parameters
    ----------
    log
        The readings.
    glycol_percent
        Glycol (% by volume).

    Returns
    -------
    list[Day]
        Every day of a log (kWh, h, L, °C); the loop's heat by the fluid's own heat capacity (percent of
        glycol).
    """
    found = []
    for first in range(24 * (log.first // 24), log.last, 24):
        part = log.between(first, first + 24.0 - 1e-6)
        if part.hour.size < 2:
            continue
        readings = {name: row for name, row in part.readings.items() if np.isfinite(row).any()}
        sun = readings.get("sun", readings.get("plane"))
        lit = None if sun is None else float((np.nan_to_num(sun) * spacing(part.hour)).sum()) / 1000.0
        pump = runs(part.hour, readings["pump"]) if "pump" in readings else None
        loop = None
        if {"flow", "supply", "return"} <= set(readings):
            loop = flowed(part.hour, readings["flow"], readings["supply"], readings["return"], glycol_percent).kwh
        found.append(
            Day(
                first,
                lit,
                pump.hours if pump else None,
                pump.starts if pump else 0,
                float(np.nansum(readings["draw"])) if "draw" in readings else None,
                loop,
                float(np.nanmax(readings["collector"])) if "collector" in readings else None,
            )
        )
    return found


def drawn_kwh(litres: float, hot_c: float, cold_c: float) -> float:
    """Heat (kWh) that a draw of litres (L) carried away, from hot to cold (°C).

    Parameters
    ----------
    litres
        Volume drawn (L).
    hot_c
        What came out (°C).
    cold_c
        Cold water (°C).

    Returns
    -------
    float
        Heat (kWh).
    """
    return litres * WH_L_K * (hot_c - cold_c) / 1000.0
