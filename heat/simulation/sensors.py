"""What a controller shows: its sensors' readings, wrong where a sensor is wrong."""

import numpy as np
from numpy.typing import NDArray

from heat.constants import HOURS
from heat.ledger import accounts as acc
from heat.ledger.year_book import YearBook
from heat.weather.year import WeatherYear

Array = NDArray[np.float64]


def sensors_c(book: YearBook, weather: WeatherYear) -> tuple[Array, Array]:
    """Collector sensor and lower sensor (of the store, or of a pool) in 8,760 hours (°C).

    From the day the design's faults set in, an exposed collector sensor shows a mixture of collector and air, one
    that is off adds its error (K), and a misplaced store sensor shows the layer it sits at. The collector is the
    hour's mean, the store its end.

    Parameters
    ----------
    book
        The year's results.
    weather
        The weather, 8,760 hours.

    Returns
    -------
    tuple[Array, Array]
        Collector sensor and lower sensor (of the store, or of a pool) in 8,760 hours (°C).
    """
    design = book.design
    control, wrong = design.system.control, design.system.faults
    since = 24 * (wrong.from_day - 1)
    at_fault = np.arange(HOURS) >= since
    # it sits at the outlet: while the loop flows that is half the rise above the mean
    flows = book.traces[:, acc.OUTLET_C] - book.traces[:, acc.INLET_C]
    collector = book.traces[:, acc.COLLECTOR_C] + 0.5 * np.maximum(flows, 0.0)
    feels = np.where(at_fault, wrong.collector_sensor_feels, 1.0)
    collector = weather.air_c + feels * (collector - weather.air_c) + np.where(at_fault, wrong.collector_sensor_k, 0.0)
    if design.system.scheme.exchange == "pool":
        lower = book.traces[:, acc.POOL_C].copy()
    else:
        at = _layer(book, control.sensor_share)
        moved = at if wrong.store_sensor_share is None else _layer(book, wrong.store_sensor_share)
        lower = np.where(at_fault, book.profile[:, moved], book.profile[:, at])
    return collector, lower + np.where(at_fault, wrong.store_sensor_k, 0.0)


def _layer(book: YearBook, share: float) -> int:
    layers = book.profile.shape[1]
    return min(int(share * layers), layers - 1)
