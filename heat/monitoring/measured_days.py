"""The measured days as the design would have had them: from what was found, in the weather that was."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from heat.design import Design
from heat.ledger import accounts as acc
from heat.ledger.year_book import YearBook
from heat.monitoring.log import Log, by_hour
from heat.monitoring.sky import measured_weather
from heat.simulation.sensors import sensors_c
from heat.simulation.year import Opening, simulate_hours
from heat.store.vessel import store_layers
from heat.weather.year import WeatherYear

Array = NDArray[np.float64]
OPENED_H, COLD_C, ONE_K, SHORT = 3.0, 15.0, 2.0, 0.05
"""How long after its start (h) a log may first name a sensor for that to count as what was found; cold
water where no sensor is (°C); a store whose sensors lie no further apart (K) is of one temperature; of a
flow for a shorter share of an hour (1) no loop temperature is given."""


@dataclass(frozen=True)
class SensorTraces:
    """What the sensors would show by the hour: moments (h of the year) and values (in the row's unit) by name."""

    first: int
    rows: dict[str, tuple[Array, Array]]

    def at(self, name: str, hour: Array) -> Array:
        """A row at moments (h of the year), straight between its own; in its unit.

        Parameters
        ----------
        name
            Name of the row.
        hour
            Moments, hours of the year (h).

        Returns
        -------
        ndarray
            A row at moments (h of the year), straight between its own; in its unit.
        """
        when, values = self.rows[name]
        return np.interp(hour, when, values)


def weather_of(log: Log, design: Design, weather: WeatherYear, guess: float = 0.0) -> WeatherYear:
    """The weather (W/m², °C) with the log's own sun, cloud and air in its hours; an assumption of cloud moved by so
    many of its uncertainties (1).

    Parameters
    ----------
    log
        The readings.
    design
        The design.
    weather
        The weather, 8,760 hours.
    guess
        By so many of its uncertainties the sun of an assumed cloud is moved.

    Returns
    -------
    WeatherYear
        The weather (W/m², °C).
    """
    row = lambda name: by_hour(log, name, log.first, log.last) if name in log.readings else None
    return measured_weather(
        design,
        weather,
        log.first,
        level=row("sun"),
        plane=row("plane"),
        cloud=row("cloud"),
        air_c=row("air"),
        guess=guess,
    )


def guessed(log: Log) -> bool:
    """Whether a log's sun is but an assumption of the clouds.

    Parameters
    ----------
    log
        The readings.

    Returns
    -------
    bool
        Whether a log's sun is but an assumption of the clouds.
    """
    return "cloud" in log.rows() and not {"sun", "plane"} & set(log.rows())


STEPS = (None, 0.06, 0.17, 0.3, 0.45, 0.6, 0.75, 0.9)
"""How a store may lie between two sensors: straight, or cold below and warm above a step at this share of the way."""


def openings_of(log: Log, design: Design, ways: tuple[float | None, ...] = STEPS) -> list[Opening]:
    """What may have been found when the log begins (°C): the store's sensors, wrong as a controller's is, and each way
    it may lie between them; the pool.

    Parameters
    ----------
    log
        The readings.
    design
        The design.
    ways
        Ways in which layers without a sensor may lie.

    Returns
    -------
    list[Opening]
        What may have been found when the log begins (°C): the store's sensors, wrong as a controller's is, and
        each way it may lie between them; the pool.
    """
    found = _found(log, design)
    pool = _first(log, log.readings.get("pool"))
    if pool is not None and design.system.scheme.exchange == "pool":
        pool -= design.system.faults.store_sensor_k
    if len(found) < 2 or found[-1][1] - found[0][1] <= ONE_K:
        ways = (None,)
    layers = [tuple(between(found, store_layers(design), way)) if found else None for way in ways]
    return [Opening(store_c=one, pool_c=pool) for one in layers]


def _found(log: Log, design: Design) -> list[tuple[float, float]]:
    """What the store's sensors read first: heights (share) and temperatures (°C), the controller's put right."""
    found = []
    wrong, control = design.system.faults, controller_sensor(log.heights, design)
    for index, height in enumerate(log.heights):
        value = _first(log, None if log.store_c is None else log.store_c[index])
        if value is None:
            continue
        moved = wrong.store_sensor_share if index == control else None
        if moved is not None:  # it reads where it sits; what lies below nobody knows: cold water, or as warm
            found.append((0.0, min(value, COLD_C)))
        found.append((height if moved is None else moved, value - (wrong.store_sensor_k if index == control else 0.0)))
    return sorted(found)


def between(found: list[tuple[float, float]], count: int, step: float | None = None) -> Array:
    """Layers (°C, from the floor up) between sensors (share of the height, °C), level beyond the outermost: straight,
    or the lower one's below a step at a share of the way, the upper one's above it.

    Parameters
    ----------
    found
        Height (no unit) and temperature (°C) of each sensor.
    count
        Number of layers.
    step
        Share of the way at which the step lies; None for a straight line.

    Returns
    -------
    ndarray
        Layers (°C, from the floor up).
    """
    at = (np.arange(count) + 0.5) / count
    heights, values = np.array(sorted(found)).T
    if step is None or len(found) < 2:
        return np.asarray(np.interp(at, heights, values))
    edges = heights[:-1] + step * np.diff(heights)
    above = np.clip((np.arange(1, count + 1) / count - edges[:, None]) * count, 0.0, 1.0)  # share of a layer above it
    return np.asarray(values[0] + (np.diff(values)[:, None] * above).sum(axis=0))


def _first(log: Log, row: Array | None) -> float | None:
    if row is None:
        return None
    there = np.isfinite(row) & (log.hour <= log.hour[0] + OPENED_H)
    return float(row[there][0]) if there.any() else None


def controller_sensor(heights: tuple[float, ...], design: Design) -> int | None:
    """Which of the store's sensors (1) is the controller's: the nearest to where it sits.

    Parameters
    ----------
    heights
        Heights of the sensors, 0 bottom to 1 top (no unit).
    design
        The design.

    Returns
    -------
    int | None
        Which of the store's sensors (1) is the controller's: the nearest to where it sits.
    """
    if not heights:
        return None
    return int(np.argmin(np.abs(np.array(heights) - design.system.control.sensor_share)))


def days_of(log: Log, design: Design, weather: WeatherYear, ways: tuple[float | None, ...] = STEPS) -> list[YearBook]:
    """The log's hours (Wh, °C) as a design would have had them, in weather that holds what was read already, from each
    way its store may have opened (share of the way between sensors).

    Parameters
    ----------
    log
        The readings.
    design
        The design.
    weather
        The weather, 8,760 hours.
    ways
        Ways in which layers without a sensor may lie.

    Returns
    -------
    list[YearBook]
        The log's hours (Wh, °C) as a design would have had them, in weather that holds what was read already,
        from each way its store may have opened (share of the way between sensors).
    """
    drawn = by_hour(log, "draw", log.first, log.last, summed=True) if "draw" in log.readings else None
    return simulate_hours(design, weather, log.first, log.last, openings_of(log, design, ways), drawn)


def sensor_traces(book: YearBook, weather: WeatherYear, log: Log) -> SensorTraces:
    """What the sensors of a log would show in a book's hours (°C, kg/h, shares): means at the middle of each hour,
    layers at its end; from what was found on.

    Loop temperatures are those of the hours in which it flowed.

    Parameters
    ----------
    book
        The year's results.
    weather
        The weather, 8,760 hours.
    log
        The readings.

    Returns
    -------
    SensorTraces
        What the sensors of a log would show in a book's hours (°C, kg/h, shares): means at the middle of each
        hour, layers at its end; from what was found on.
    """
    first, last = log.first, log.last
    hours = slice(first, last)
    middle = np.arange(first, last, dtype=np.float64) + 0.5
    end = middle + 0.5
    collector, lower = sensors_c(book, weather)
    share = np.maximum(book.traces[hours, acc.PUMP_SHARE], 1e-6)
    trace = lambda column: (middle, book.traces[hours, column])
    flowed = lambda column: (middle, np.where(share > SHORT, book.traces[hours, column] / share, collector[hours]))
    rows: dict[str, tuple[Array, Array]] = {
        "collector": (middle, collector[hours]),
        "pump": trace(acc.PUMP_SHARE),
        "flow": trace(acc.FLOW_KG_H),
        "supply": flowed(acc.OUTLET_C),
        "return": flowed(acc.INLET_C),
    }
    if book.design.system.scheme.exchange == "pool":
        rows["pool"] = (end, lower[hours])
        return SensorTraces(first, rows)
    control = controller_sensor(log.heights, book.design)
    count = book.profile.shape[1]
    for index, height in enumerate(log.heights):
        layer = min(int(height * count), count - 1)
        values = lower[hours] if index == control else book.profile[hours, layer]
        rows[f"store {index}"] = (end, values)
    return SensorTraces(first, rows)
