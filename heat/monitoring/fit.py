"""As measured: values of a design fitted to logged days, with their bands, and which of them cannot be told apart."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import solve_triangular
from scipy.optimize import least_squares

from heat.common.documents import Document, Values
from heat.design import Design, parse
from heat.design.changing import with_changes
from heat.errors import HeatError
from heat.monitoring.likelihood import FAR, SENSOR_K, ReadingRow, rows_ready
from heat.monitoring.log import Log
from heat.monitoring.measured_days import STEPS, days_of, openings_of, sensor_traces
from heat.weather.year import WeatherYear

Array = NDArray[np.float64]
ALIKE = 0.9
"""Correlation (1) from which two values cannot be told apart by these days."""
NINETY = 1.645
"""Standard deviations to either edge of a band that holds nine of ten (1)."""
UNSURE = {"eta0": 0.03, "a1": 0.08, "ua": 0.17, "flow": 0.06, "pipes": 0.25, "sensor": 0.06}
"""What hourly means and a store found at few heights leave unsure of a fitted value, however many readings there are
(share of it; the sensor: of its reach). Source: logs of known truth, 100 of five days."""
RESAMPLED, BLOCK, SEED = 200, 12, 20
"""Draws of the bootstrap (1), readings taken together in it (1), and its seed."""
STEP = 0.02
FELT_H, OPENED = 12.0, 0.3
"""Share of a value's reach by which its effect is sought (1); hours (h) in which the start is still felt; how far the
step in the store at the start may lie off (share of the way between its sensors)."""


@dataclass(frozen=True)
class Value:
    """A value that can be fitted: words, unit, its reach, what it is as designed, and how it goes into a document.

    ``start``, ``low`` and ``high`` in ``unit``; ``prior``: how far off it may be before anything is read (unit).
    """

    key: str
    words: str
    unit: str
    start: float
    low: float
    high: float
    prior: float
    put: Callable[[Document, float], Values]


@dataclass(frozen=True)
class Fitted:
    """A value as fitted (its unit): best, its band of nine in ten by the covariance and by the bootstrap."""

    value: Value
    best: float
    low: float
    high: float
    boot_low: float
    boot_high: float


@dataclass(frozen=True)
class Fit:
    """Values fitted together, pairs that cannot be told apart (by key), how far the readings lie off before and after
    (1, in standard deviations), and the document as measured.
    """

    values: tuple[Fitted, ...]
    alike: tuple[tuple[str, str], ...]
    before: float
    after: float
    document: Document


def values_of(document: Document) -> dict[str, Value]:
    """Every value that can be fitted to a design's days (each in its unit, such as W/K).

    Parameters
    ----------
    document
        The design document; numbers in the units its schema names.

    Returns
    -------
    dict[str, Value]
        Every value that can be fitted to a design's days (each in its unit, such as W/K).
    """
    system = document["system"]
    collector, store, loop = system["collector"], system["store"], system["loop"]
    path = lambda name: lambda _document, value: {name: value}
    share = lambda name, size: Value(name.rsplit(".", 1)[1], "", "", size, 0.0, 0.0, 0.0, path(name))
    made = {
        "eta0": ("zero-loss efficiency", "1", share("system.collector.eta0", collector["eta0"]), 0.4, 0.92, 0.1),
        "a1": (
            "heat loss, linear",
            "W/m2/K",
            share("system.collector.a1_w_m2k", collector["a1_w_m2k"]),
            0.4,
            14.0,
            1.5,
        ),
        "ua": ("insulation loss of the tank", "W/K", share("system.store.loss_w_k", store["loss_w_k"]), 0.2, 15.0, 1.5),
    }
    found = {
        key: Value(key, words, unit, v.start, min(low, 0.9 * v.start), max(high, 1.1 * v.start), prior, v.put)
        for key, (words, unit, v, low, high, prior) in made.items()
    }
    found["flow"] = Value(
        "flow",
        "flow, of the designed",
        "1",
        1.0,
        0.2,
        2.5,
        0.3,
        lambda document, v: {"system.loop.flow_kg_h": document["system"]["loop"]["flow_kg_h"] * v},
    )
    found["pipes"] = Value(
        "pipes",
        "pipes’ insulation, of the designed",
        "1",
        1.0,
        0.15,
        3.0,
        0.4,
        lambda document, v: {
            f"system.loop.{pipe}.insulation_mm": max(loop[pipe]["insulation_mm"] * v, 0.0)
            for pipe in ("supply_pipe", "return_pipe")
        },
    )
    found["sensor"] = Value(
        "sensor",
        "collector’s sensor is off by",
        "delta_degC",
        0.0,
        -12.0,
        12.0,
        2.0,
        path("system.faults.collector_sensor_k"),
    )
    return found


def fit(
    log: Log,
    document: Document,
    weather: WeatherYear,
    keys: Sequence[str],
    *,
    sensor_k: float = SENSOR_K,
    progress: Callable[[int], None] = lambda count: None,
) -> Fit:
    """Values of a design fitted to a log: bounded least squares over all readings at once, each weighted by its
    uncertainty.

    ``weather`` holds what was read of sun and air; ``sensor_k``: uncertainty of sensors (K); ``progress`` is called
    with every set of days that was calculated (1). Bands hold nine of ten: by the covariance at the best, and by a
    bootstrap of blocks of residuals carried through the same slopes.

    Parameters
    ----------
    log
        The readings.
    document
        The design document; numbers in the units its schema names.
    weather
        The weather, 8,760 hours.
    keys
        Keys of what is asked for.
    sensor_k
        Standard uncertainty of a temperature sensor (K).
    progress
        Called with the number of sets of days simulated.

    Returns
    -------
    Fit
        Values of a design fitted to a log: bounded least squares over all readings at once, each weighted by
        its uncertainty.

    Raises
    ------
    HeatError
        Where the days cannot be calculated.
    """
    every = values_of(document)
    wanted = [every[key] for key in keys]
    rows, count = rows_ready(log, sensor_k), [0]
    opened = _way(log, parse(document), weather, rows)
    rows = [_later(row) for row in rows]
    start = np.array([*(v.start for v in wanted), 0.5 if opened is None else opened])
    reach = np.array([*(v.prior for v in wanted), OPENED])

    def residuals(scaled: Array) -> Array:
        count[0] += 1
        progress(count[0])
        values = start + scaled * reach
        made = parse(_with(document, wanted, values[:-1]))
        way = None if opened is None else float(np.clip(values[-1], 0.0, 1.0))
        off = np.concatenate(
            [*_off(log, made, weather, rows, way), scaled]
        )  # what was thought before is a reading, too
        return np.asarray(off)

    low = np.array([*((v.low - v.start) / v.prior for v in wanted), -start[-1] / OPENED])
    high = np.array([*((v.high - v.start) / v.prior for v in wanted), (1.0 - start[-1]) / OPENED])
    first = residuals(np.zeros(start.size))
    found = least_squares(
        residuals,
        np.zeros(start.size),
        bounds=(low, high),
        diff_step=STEP,
        x_scale=1.0,
        loss="soft_l1",
        f_scale=FAR,
        max_nfev=12,
    )
    left = residuals(found.x)
    slopes = _slopes(residuals, found.x, left)
    readings = left.size - start.size
    over = max(1.0, float((left[:readings] ** 2).sum()) / max(readings - start.size, 1))
    covariance = np.linalg.pinv(slopes.T @ slopes / over + np.eye(start.size) * (1.0 - 1.0 / over))
    deviation = np.sqrt(np.maximum(np.diag(covariance), 1e-12))
    unsure = np.array([UNSURE[v.key] * (abs(v.start) or v.prior) / v.prior for v in wanted] + [0.0])
    wide = NINETY * np.hypot(deviation, unsure)
    boot = _resampled(slopes[:readings], left[:readings])
    best = start + found.x * reach
    fitted = tuple(
        Fitted(
            v,
            float(best[i]),
            float(best[i] - wide[i] * reach[i]),
            float(best[i] + wide[i] * reach[i]),
            float(best[i] + boot[0][i] * reach[i]),
            float(best[i] + boot[1][i] * reach[i]),
        )
        for i, v in enumerate(wanted)
    )
    combined = covariance / np.outer(deviation, deviation)
    alike = tuple(
        (wanted[i].key, wanted[j].key) for i in range(len(wanted)) for j in range(i) if abs(combined[i, j]) > ALIKE
    )
    spread = lambda off: float(np.sqrt(np.mean(off[:readings] ** 2)))
    return Fit(fitted, alike, spread(first), spread(left), _with(document, wanted, best[:-1]))


def _with(document: Document, wanted: Sequence[Value], values: Array) -> Document:
    changes: Values = {}
    for value, size in zip(wanted, values, strict=True):
        changes |= value.put(document, float(np.clip(size, value.low, value.high)))
    return with_changes(document, changes)


def _off(log: Log, design: Design, weather: WeatherYear, rows: list[ReadingRow], way: float | None) -> list[Array]:
    """How far readings lie off (1, in standard deviations), from one way the store may have opened."""
    traces = sensor_traces(days_of(log, design, weather, (way,))[0], weather, log)
    off = [
        solve_triangular(row.root, row.value - traces.at(row.name, row.hour), lower=True)
        for row in rows
        if row.name in traces.rows
    ]
    if not off:
        raise HeatError("Nothing was read that a design's days could be held against.")
    return off


def _way(log: Log, design: Design, weather: WeatherYear, rows: list[ReadingRow]) -> float | None:
    """The way the store opened that fits the readings best; none where it was of one temperature or lay straight."""
    tried = [way for way in STEPS if way is not None]
    if len(openings_of(log, design)) < 2:
        return None
    return min(tried, key=lambda way: sum(float((part**2).sum()) for part in _off(log, design, weather, rows, way)))


def _later(row: ReadingRow) -> ReadingRow:
    """A row without its first hours, in which what was found at the start is still felt."""
    late = row.hour >= row.hour[0] + FELT_H
    if not late.any():
        return row
    covariance = (row.root @ row.root.T)[np.ix_(late, late)]
    return ReadingRow(row.name, row.hour[late], row.value[late], np.linalg.cholesky(covariance))


def _slopes(residuals: Callable[[Array], Array], at: Array, base: Array) -> Array:
    """How residuals move with each value (both sides)."""
    made = []
    for i in range(at.size):
        step = np.zeros(at.size)
        step[i] = 3.0 * STEP
        made.append((residuals(at + step) - residuals(at - step)) / (6.0 * STEP))
    return np.column_stack(made) if made else np.zeros((base.size, 0))


def _resampled(slopes: Array, left: Array) -> tuple[Array, Array]:
    """Edges of nine in ten of what blocks of residuals, drawn anew, would have moved the values by."""
    rng = np.random.default_rng(SEED)
    inverse = np.linalg.pinv(np.vstack([slopes, np.eye(slopes.shape[1])]))[:, : left.size]
    blocks = max(left.size // BLOCK, 1)
    drawn = []
    for _ in range(RESAMPLED):
        starts = rng.integers(0, max(left.size - BLOCK, 1), blocks + 1)
        sample = np.concatenate([left[s : s + BLOCK] for s in starts])[: left.size]
        sample = np.pad(sample, (0, left.size - sample.size))
        drawn.append(inverse @ (sample - sample.mean()))
    edges = np.quantile(np.array(drawn), (0.05, 0.95), axis=0)
    return edges[0], edges[1]
