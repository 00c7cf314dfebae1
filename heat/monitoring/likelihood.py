"""How well days explain readings: what a reading may be off by alone, for a while, and by what was built otherwise.

A built plant is off its drawing by a few percent, its sensors by half a kelvin, its clock by minutes: the same for all
candidates. Each of these moves every reading in a way of its own (a mode), found by calculating the sound days once
more; readings share them, so that an error that all readings have in common is not counted as often as it is read.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import solve_triangular

from heat.design import Design
from heat.errors import HeatError
from heat.monitoring.log import Log, binned
from heat.monitoring.measured_days import SensorTraces, days_of, sensor_traces
from heat.weather.year import WeatherYear

Array = NDArray[np.float64]
SENSOR_K = 0.5
"""Uncertainty of a temperature sensor (K, one standard deviation), as usual controllers have it."""
FAR = 3.0
"""From so many of its uncertainties on (1) a reading that is off counts by its distance, no more by the square of
it."""


@dataclass(frozen=True)
class RowUncertainty:
    """How far the calculated may lie from a row that is read (in its unit): from reading to reading, and for a while
    (h) together, as what was found at the start is only half known. Source: own estimates, held against logs made with
    known truth.
    """

    quick: float
    slow: float
    while_h: float


UNCERTAINTIES = {
    "store": RowUncertainty(0.9, 1.4, 36.0),
    "pool": RowUncertainty(0.4, 0.8, 36.0),
    "collector": RowUncertainty(1.2, 0.8, 6.0),
    "supply": RowUncertainty(1.5, 1.0, 6.0),
    "return": RowUncertainty(1.5, 1.0, 6.0),
    "pump": RowUncertainty(0.15, 0.05, 3.0),
    "flow": RowUncertainty(0.12, 0.06, 24.0),
}  # fmt: skip
"""Uncertainties by row (K; pump: share of an hour; flow: share of the greatest flow)."""
LEAD_SHARE, SWINGS_K = 0.05, 12.0
"""More uncertainty of a collector: share of its lead over the air (1), and while the pump cuts in and out (K). Source:
own estimate from hourly means of what starts and stops within the hour."""
SMOOTHED, READ_SHARE = 5, 0.7
"""Half hours a pump's share is taken over (1), and the uncertainty of a share seen by two looks at it (share of the
root of p(1 - p), 1): the binomial's."""
SHIFTED_H = 0.3
"""How far in time (h) what moves fast may be shifted: the calculated hours are means. Source: half of the half hour
that readings are taken together by, and what a draw's own minute adds."""
OPENED_K, OPENED_H, FOUND_H = 5.0, 10.0, 3.0
"""Uncertainty of layers between sensors at the start (K), how soon it is forgotten (h), and for how long it is one and
the same (h). Source: own estimate."""


@dataclass(frozen=True)
class ReadingRow:
    """A row of a log made ready: moments (h), values (its unit), and the root of its uncertainty's covariance."""

    name: str
    hour: Array
    value: Array
    root: NDArray[Any]


def rows_ready(log: Log, sensor_k: float = SENSOR_K) -> list[ReadingRow]:
    """Every row of a log that days can be held against (h and each row's unit).

    Parameters
    ----------
    log
        The readings.
    sensor_k
        Standard uncertainty of a temperature sensor (K).

    Returns
    -------
    list[ReadingRow]
        Every row of a log that days can be held against (h and each row's unit).
    """
    rows = log.rows()
    air = rows.get("air")
    middle_c = 15.0 if air is None else float(np.nanmean(air))
    pump = _smoothed(*binned(log.hour, rows["pump"])) if "pump" in rows else None
    found = []
    for name, row in rows.items():
        kind = name.split()[0]
        if kind not in UNCERTAINTIES:
            continue
        hour, value = binned(log.hour, row)
        share = np.interp(hour, *pump) if pump is not None else np.zeros(hour.shape)
        if name in ("supply", "return"):
            hour, value, share = (part[share > 0.5] for part in (hour, value, share))
        if hour.size:
            root = np.linalg.cholesky(_covariance(kind, hour, value, share, middle_c, sensor_k))
            found.append(ReadingRow(name, hour, value, root))
    return found


def _smoothed(hour: Array, share: Array) -> tuple[Array, Array]:
    """The pump's share of the time (1) about each moment (h)."""
    width = min(SMOOTHED, share.size)
    return hour, np.convolve(share, np.ones(width), "same") / np.convolve(np.ones(share.size), np.ones(width), "same")


def _covariance(kind: str, hour: Array, value: Array, share: Array, air_c: float, sensor_k: float) -> Array:
    uncertainty, size = UNCERTAINTIES[kind], 1.0
    quick = np.full(hour.shape, uncertainty.quick)
    if kind == "pump":
        quick = np.hypot(quick, READ_SHARE * np.sqrt(share * (1.0 - share)))
    elif kind == "flow":
        size = max(float(np.abs(value).max()), 1.0)
    elif kind in ("collector", "supply", "return"):
        quick = np.hypot(quick + LEAD_SHARE * np.abs(value - air_c), SWINGS_K * share * (1.0 - share))
    if kind not in ("pump", "flow"):
        steep = np.abs(np.gradient(value, hour)) if hour.size > 1 else np.zeros(hour.shape)
        quick = np.hypot(np.hypot(quick, sensor_k), SHIFTED_H * steep)
    apart = np.abs(hour[:, None] - hour[None, :])
    made = (uncertainty.slow * size) ** 2 * np.exp(-apart / uncertainty.while_h) + np.diag((quick * size) ** 2)
    if kind == "store":
        opened = OPENED_K * np.exp(-(hour - hour[0]) / OPENED_H)
        made += np.outer(opened, opened) * np.exp(-apart / FOUND_H)
    return np.asarray(made)


@dataclass(frozen=True)
class Modes:
    """Ways in which a built plant and its sensors are off, as one standard deviation of each moves every row: a row of
    the log by name, and a column for each mode (each row's unit).
    """

    words: tuple[str, ...]
    by_row: dict[str, Array]


Change = Callable[[Design], Design]


def _system(**parts: dict[str, float]) -> Change:
    """A design whose parts of the system are a factor off, by part and field."""

    def changed(design: Design) -> Design:
        made = {}
        for part, factors in parts.items():
            now = getattr(design.system, part)
            made[part] = now.model_copy(
                update={name: getattr(now, name) * f for name, f in factors.items() if getattr(now, name) is not None}
            )
        return design.model_copy(update={"system": design.system.model_copy(update=made)})

    return changed


def _pipes(factor: float) -> Change:
    """A design whose pipes lose so much more."""

    def changed(design: Design) -> Design:
        loop = design.system.loop
        of = lambda pipe: pipe.model_copy(update={"length_m": pipe.length_m * factor})
        update = {"supply_pipe": of(loop.supply_pipe), "return_pipe": of(loop.return_pipe)}
        return design.model_copy(
            update={"system": design.system.model_copy(update={"loop": loop.model_copy(update=update)})}
        )

    return changed


def _stirred(design: Design) -> Design:
    """A design whose inflow mixes the layers it meets."""
    return design.model_copy(update={"numerics": design.numerics.model_copy(update={"inflow": "stirred"})})


def _pool(factor: float) -> Change:
    """A design whose pool loses as if its water were so much larger a surface."""

    def changed(design: Design) -> Design:
        pool = design.demand.pool
        made = pool.model_copy(update={"area_m2": pool.area_m2 * factor, "depth_m": pool.depth_m / factor})
        return design.model_copy(update={"demand": design.demand.model_copy(update={"pool": made})})

    return changed


BUILT: tuple[tuple[str, Change, float], ...] = (
    ("efficiency and sun", _system(collector={"eta0": 1.06}), 1.0),
    ("collector loss", _system(collector={"a1_w_m2k": 1.1}), 1.0),
    ("store loss", _system(store={"loss_w_k": 1.25}), 1.0),
    ("flow", _system(loop={"flow_kg_h": 1.1}), 1.0),
    ("exchanger", _system(coil={"ua_w_k": 1.2}, plate={"ua_w_k": 1.2}, jacket={"ua_w_k": 1.2}), 1.0),
    ("store volume", _system(store={"volume_l": 1.03}), 1.0),
    ("pipes", _pipes(1.25), 1.0),
    ("mixing of the inflow", _stirred, 0.7),
    ("the pool’s losses", _pool(1.1), 1.0),
)
"""What a plant is off its drawing by: words, the design one step off, and how many such steps one standard deviation
is. Source: tolerances of the trade; efficiency and sun sensor together, each some 3 to 5 %."""
DRAWN, CLOCK_H, OFFSET_K, SPLIT = 0.08, 0.08, 0.5, 0.2
"""Standard deviations of what was drawn (share), of the clock (h), of each sensor's own offset (K), and of the beam as
it is split from the level sun (share). Source: water meters and hand, loggers' clocks, sensors, Erbs' correlation."""


def modes_of(log: Log, design: Design, weather: WeatherYear, rows: list[ReadingRow]) -> Modes:
    """How each way of being off moves the readings, found by the sound days calculated once more (each row's unit).

    Parameters
    ----------
    log
        The readings.
    design
        The design.
    weather
        The weather, 8,760 hours, with what was read of sun and air.
    rows
        Rows of the log.

    Returns
    -------
    Modes
        Columns by row.
    """
    ways = (None,)
    sound = sensor_traces(days_of(log, design, weather, ways)[0], weather, log)
    words: list[str] = []
    columns: dict[str, list[Array]] = {row.name: [] for row in rows}

    def add(name: str, moved: dict[str, Array]) -> None:
        if any(np.abs(column).max(initial=0.0) > 1e-6 for column in moved.values()):
            words.append(name)
            for row in rows:
                columns[row.name].append(moved.get(row.name, np.zeros(row.hour.shape)))

    def difference(traces: SensorTraces, times: float) -> dict[str, Array]:
        return {
            row.name: times * (traces.at(row.name, row.hour) - sound.at(row.name, row.hour))
            for row in rows
            if row.name in traces.rows
        }

    def calculated(name: str, other: Design, sky: WeatherYear, times: float, drawn: Log) -> None:
        try:
            book = days_of(drawn, other, sky, ways)[0]
        except HeatError:
            return
        add(name, difference(sensor_traces(book, sky, log), times))

    for name, change, times in BUILT:
        calculated(name, change(design), weather, times, log)
    if "draw" in log.readings:
        more = {**log.readings, "draw": log.readings["draw"] * (1.0 + DRAWN)}
        calculated("what was drawn", design, weather, 1.0, replace(log, readings=more))
    beam = weather.dni_w_m2 * (1.0 - SPLIT)
    lost = (weather.ghi_w_m2 - weather.dhi_w_m2) * SPLIT
    calculated("beam and sky", design, replace(weather, dni_w_m2=beam, dhi_w_m2=weather.dhi_w_m2 + lost), 1.0, log)
    add(
        "clock",
        {
            row.name: sound.at(row.name, row.hour + CLOCK_H) - sound.at(row.name, row.hour)
            for row in rows
            if row.name in sound.rows
        },
    )
    for row in rows:
        if row.name not in ("pump", "flow"):
            add(f"offset of {row.name}", {row.name: np.full(row.hour.shape, OFFSET_K)})
    return Modes(tuple(words), {name: np.array(made).T.reshape(-1, len(words)) for name, made in columns.items()})


@dataclass(frozen=True)
class Likelihood:
    """The rows of a log together: the root of the covariance of all their readings, in the order of the rows."""

    rows: list[ReadingRow]
    root: Array

    @property
    def count(self) -> int:
        """Readings (1)."""
        return sum(row.hour.size for row in self.rows)

    def off(self, expected: SensorTraces) -> Array:
        """How far readings are from the expected, each in units of what is left of its uncertainty (no unit)."""
        gap = [
            row.value - expected.at(row.name, row.hour) if row.name in expected.rows else np.zeros(row.hour.shape)
            for row in self.rows
        ]
        return np.asarray(np.abs(solve_triangular(self.root, np.concatenate(gap), lower=True)))

    def by_row(self, expected: SensorTraces) -> dict[str, float]:
        """How well the expected explains each row (nats, the greater the better)."""
        off, found, start = self.off(expected), {}, 0
        nats = np.where(off < FAR, 0.5 * off**2, FAR * (off - 0.5 * FAR))
        for row in self.rows:
            found[row.name] = -float(nats[start : start + row.hour.size].sum())
            start += row.hour.size
        return found


def combined(rows: list[ReadingRow], modes: Modes) -> Likelihood:
    """The likelihood of all rows: each with its own scatter, all with the modes they share (each row's unit).

    Parameters
    ----------
    rows
        Rows of the log.
    modes
        Ways in which plant and sensors are off.

    Returns
    -------
    Likelihood
        The rows with the root of their covariance.
    """
    size = sum(row.hour.size for row in rows)
    covariance, start = np.zeros((size, size)), 0
    for row in rows:
        part = slice(start, start + row.hour.size)
        covariance[part, part] = row.root @ row.root.T
        start += row.hour.size
    shared = np.concatenate([modes.by_row[row.name] for row in rows]) if rows else np.zeros((0, 0))
    return Likelihood(rows, np.asarray(np.linalg.cholesky(covariance + shared @ shared.T)))


def misfit_k(rows: list[ReadingRow], expected: SensorTraces) -> float:
    """How far the readings of temperatures lie from the expected (K, root of the mean square).

    Parameters
    ----------
    rows
        Rows of the log.
    expected
        What the sensors would show.

    Returns
    -------
    float
        Distance (K); not a number where no temperature was read.
    """
    gaps = [
        row.value - expected.at(row.name, row.hour)
        for row in rows
        if row.name in expected.rows and row.name not in ("pump", "flow")
    ]
    return float(np.sqrt(np.mean(np.concatenate(gaps) ** 2))) if gaps else float("nan")


def log_likelihood(rows: list[ReadingRow], expected: SensorTraces) -> dict[str, float]:
    """How well the expected traces explain each row of a log (nats, no unit, the greater the better).

    Parameters
    ----------
    rows
        Rows of the log.
    expected
        What the sensors would show.

    Returns
    -------
    dict[str, float]
        How well the expected traces explain each row of a log (nats, no unit, the greater the better).
    """
    found = {}
    for row in rows:
        if row.name in expected.rows:
            off = np.abs(solve_triangular(row.root, row.value - expected.at(row.name, row.hour), lower=True))
            found[row.name] = -float(np.where(off < FAR, 0.5 * off**2, FAR * (off - 0.5 * FAR)).sum())
    return found
