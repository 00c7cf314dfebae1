"""A small plant that stands in for a real one: a design run through its weather, read by sensors a little off."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from heat.demand.profile import tap_litres
from heat.ledger import accounts as acc
from heat.ledger.year_book import YearBook
from heat.monitoring.log import Log
from heat.simulation.sensors import sensors_c
from heat.weather.year import WeatherYear

Array = NDArray[np.float64]
NOISE_K = 0.5
"""Scatter of a sensor (K)."""
UPPER = 0.85
"""Height of the upper sensor (share)."""
DRIFT_DAYS = 10.0


@dataclass(frozen=True)
class Sensors:
    """How well a plant is read: scatter (K), drift in ten days (K), share of readings lost (1), hours between (h)."""

    noise_k: float = NOISE_K
    drift_k: float = 0.0
    lost: float = 0.0
    every_h: float = 0.25


USUAL = Sensors()


def read(
    book: YearBook,
    weather: WeatherYear,
    first: int,
    hours: int,
    rng: np.random.Generator,
    sensors: Sensors = USUAL,
    heights: tuple[float, ...] | None = None,
) -> Log:
    """What the sensors read in some hours of a year (h, from hour ``first`` on): collector, store or pool, pump, sun
    on the level, air and draws, each off as its sensor is; stores at heights (share), else the controller's and the
    top.

    Parameters
    ----------
    book
        The year's results.
    weather
        The weather, 8,760 hours.
    first
        The first hour of the year (h).
    hours
        Number of hours.
    rng
        Source of random numbers.
    sensors
        How far the sensors are off.
    heights
        Heights of the sensors, 0 bottom to 1 top (no unit).

    Returns
    -------
    Log
        The readings.
    """
    design = book.design
    hour = np.arange(first, first + hours, sensors.every_h) + 1e-9
    middle, end = np.arange(8760) + 0.5, np.arange(8760) + 1.0
    collector, lower = sensors_c(book, weather)
    drifts = iter(rng.normal(0.0, sensors.drift_k, 12)) if sensors.drift_k else iter(np.zeros(12))
    days = (hour - first) / 24.0 / DRIFT_DAYS
    noisy = lambda row: row + next(drifts) * days + rng.normal(0.0, sensors.noise_k, row.shape)
    at = np.floor(hour).astype(np.int64)
    drawn = np.zeros(hour.shape)
    starts = np.flatnonzero(np.diff(at, prepend=at[0] - 1) > 0)
    drawn[starts] = tap_litres(design.demand, book.mains_c)[at[starts]]
    readings = {
        "collector": noisy(np.interp(hour, middle, collector)),
        "sun": weather.ghi_w_m2[at],
        "air": noisy(np.interp(hour, middle, weather.air_c)),
        "draw": drawn,
    }
    if design.system.scheme.driven_by == "pump":
        readings["pump"] = (rng.random(hour.shape) < book.traces[at, acc.PUMP_SHARE]).astype(float)
    if design.system.scheme.exchange == "pool":
        return _lost(Log(hour, readings | {"pool": noisy(np.interp(hour, end, lower))}), rng, sensors.lost)
    control = design.system.control.sensor_share
    every = heights if heights is not None else (control, UPPER)
    count = book.profile.shape[1]
    nearest = int(np.argmin(np.abs(np.array(every) - control)))
    layer = lambda height: book.profile[:, min(int(height * count), count - 1)]
    rows = [noisy(np.interp(hour, end, lower if i == nearest else layer(h))) for i, h in enumerate(every)]
    return _lost(Log(hour, readings, every, np.array(rows)), rng, sensors.lost)


def _lost(log: Log, rng: np.random.Generator, share: float) -> Log:
    """A log without the readings that were lost; what was drawn meanwhile counts with the next one."""
    if share <= 0.0:
        return log
    present = rng.random(log.hour.shape) >= share
    present[0] = present[-1] = True
    drawn = np.add.reduceat(log.readings["draw"], np.concatenate([[0], np.flatnonzero(present)[:-1] + 1]))
    readings = {name: row[present] for name, row in log.readings.items()} | {"draw": drawn}
    return Log(log.hour[present], readings, log.heights, None if log.store_c is None else log.store_c[:, present])
