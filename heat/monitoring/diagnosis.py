"""What is wrong: every fault, sound operation and likely pairs run through the measured days and held against them.

Each candidate's days are calculated from what was found; the readings' likelihood under it, times how common it is,
ranks it. Readings a few minutes apart say the same thing twice, so each counts for the time it stands for alone.
"""

from collections.abc import Iterable, Mapping
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from itertools import combinations
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import solve_triangular

from heat.common.documents import Document
from heat.design import Design, parse
from heat.errors import HeatError
from heat.monitoring.faults import FAULTS, faulty_document, suffers
from heat.monitoring.log import Log, binned
from heat.monitoring.measured_days import SensorTraces, days_of, sensor_traces
from heat.weather.year import WeatherYear

Array = NDArray[np.float64]
SIZES: dict[str, tuple[float, ...]] = {
    "high": (4.0, 7.0, 11.0, 17.0), "low": (4.0, 7.0, 11.0, 17.0), "feels": (35.0, 55.0, 80.0),
    "top": (55.0, 75.0, 100.0), "dirt": (10.0, 18.0, 30.0, 50.0), "tree": (16.0, 26.0, 38.0),
    "slow": (15.0, 30.0, 50.0), "fast": (200.0, 300.0, 450.0), "bundled": (0.2, 0.5, 1.5),
    "cooked": (50.0, 90.0), "bare": (5.0, 15.0, 30.0), "element": (50.0, 60.0, 70.0), "small": (30.0, 45.0, 65.0),
    "few": (35.0, 50.0, 65.0),
}  # fmt: skip
"""Sizes each fault is tried at, in its own unit; the best is sought between them. Source: our own choice, as a fitter
would meet them."""
SOUND = 0.5
COMMON: dict[str, float] = {
    "air": 0.09,
    "valve": 0.06,
    "slow": 0.06,
    "high": 0.04,
    "low": 0.04,
    "feels": 0.05,
    "top": 0.04,
    "dirt": 0.04,
    "tree": 0.03,
    "fast": 0.03,
    "bundled": 0.02,
    "cooked": 0.03,
    "bare": 0.03,
    "element": 0.05,
    "small": 0.01,
    "few": 0.01,
    "boiler": 0.02,
    "night": 0.02,
}
"""How common sound operation and each fault are among systems somebody calls about (1). Source: own estimate."""
PAIR, PAIR_GAIN = 0.15, 0.15
"""How much rarer a second fault is than its own share alone (1), and how much of what the likelier of the two
explains it must explain besides (1): days with a grave fault are calculated less surely. Source: own."""
SENSOR_K = 0.5
"""Uncertainty of a temperature sensor (K, one standard deviation), as usual controllers have it."""
FAR = 3.0
"""From so many of its uncertainties on (1) a reading that is off counts by its distance, no more by "
"the square of it."""
SIZED = 2.0
"""What a size that was sought costs (nats)."""
LIKELY, PAIRED = 5, 6
"""Causes whose sizes are sought closer, and pairs of the likely that are tried (1)."""


@dataclass(frozen=True)
class Cause:
    """A cause held against readings: faults with their sizes (each in its unit; none: sound), how much better than
    sound it explains the readings (nats), its share of all (1), and by which rows (nats by name).
    """

    sizes: Mapping[str, float]
    gain: float
    share: float
    by_row: Mapping[str, float]
    displayed: SensorTraces

    @property
    def keys(self) -> tuple[str, ...]:
        """Its faults by key."""
        return tuple(self.sizes)


@dataclass(frozen=True)
class ScoredCandidate:
    """A candidate held against readings: how well it explains each row (nats), of how many readings, what it shows."""

    sizes: Mapping[str, float]
    counts: Mapping[str, int]
    rows: Mapping[str, float]
    displayed: SensorTraces

    @property
    def log_likelihood(self) -> float:
        """How well it explains them all (nats)."""
        return sum(self.rows.values())


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


def diagnose(
    log: Log, document: Document, weather: WeatherYear, *, sensor_k: float = SENSOR_K, threads: int = 2
) -> list[Cause]:
    """Sound operation, every fault the design can suffer and pairs of the likely, the likeliest first.

    ``weather`` holds what was read of sun and air (:func:`heat.monitoring.measured_days.weather_of`); ``sensor_k``:
    uncertainty of the temperature sensors (K).

    Parameters
    ----------
    log
        The readings.
    document
        The design document; numbers in the units its schema names.
    weather
        The weather, 8,760 hours.
    sensor_k
        Standard uncertainty of a temperature sensor (K).
    threads
        Number of threads.

    Returns
    -------
    list[Cause]
        Sound operation, every fault the design can suffer and pairs of the likely, the likeliest first.

    Raises
    ------
    HeatError
        Where the design itself cannot be calculated.
    """
    design, rows = parse(document), rows_ready(log, sensor_k)

    def lock(sizes: Mapping[str, float]) -> ScoredCandidate | None:
        try:
            made = parse(faulty_document(document, sizes, 1)) if sizes else design
            ways = [sensor_traces(book, weather, log) for book in days_of(log, made, weather)]
        except HeatError:
            return None
        counts = {row.name: row.hour.size for row in rows}
        current = [ScoredCandidate(sizes, counts, log_likelihood(rows, way), way) for way in ways]
        return max(current, key=lambda one: one.log_likelihood)

    with ThreadPoolExecutor(threads) as pool:
        every = lambda wanted: [current for current in pool.map(lock, wanted) if current is not None]
        sound = lock({})
        if sound is None:
            raise HeatError("The design's own days cannot be calculated.")
        found = every(_singles(design))
        found += every(_closer(_best_of_each(found)[:LIKELY]))
        singles = _best_of_each(found)
        pairs = every(_pairs(singles))
    return _ranked([sound, *singles, *_best_of_each(pairs)])


def _singles(design: Design) -> Iterable[dict[str, float]]:
    """Each fault the design can suffer, at each size it is tried at."""
    for key, item in FAULTS.items():
        if suffers(design, key):
            for size in SIZES.get(key, (item.size,)):
                yield {key: size}


def _best_of_each(found: list[ScoredCandidate]) -> list[ScoredCandidate]:
    """The best size of each fault or pair, the likeliest first."""
    best: dict[tuple[str, ...], ScoredCandidate] = {}
    for current in found:
        key = tuple(current.sizes)
        if key not in best or current.log_likelihood > best[key].log_likelihood:
            best[key] = current
    return sorted(best.values(), key=_score, reverse=True)


def _closer(best: list[ScoredCandidate]) -> Iterable[dict[str, float]]:
    """Sizes half way from the best of each to its neighbours."""
    for current in best:
        ((key, size),) = current.sizes.items()
        tried = SIZES.get(key, ())
        for other in (s for s in tried if s != size and abs(tried.index(s) - tried.index(size)) == 1):
            yield {key: (size * other) ** 0.5}
        if tried and size in (tried[0], tried[-1]):
            yield {key: size * (0.75 if size == tried[0] else 1.25 if FAULTS[key].high >= 1.25 * size else 1.0)}


def _pairs(singles: list[ScoredCandidate]) -> Iterable[dict[str, float]]:
    """Pairs of the likeliest faults, each at its best size."""
    few = [current for current in singles[:4] if "few" not in current.sizes and "small" not in current.sizes]
    for a, b in list(combinations(few, 2))[:PAIRED]:
        yield {**a.sizes, **b.sizes}


def _prior(sizes: Mapping[str, float]) -> float:
    if not sizes:
        return float(np.log(SOUND))
    sized = SIZED * sum(key in SIZES for key in sizes)
    return float(sum(np.log(COMMON[key]) for key in sizes) + (len(sizes) - 1) * np.log(PAIR) - sized)


def _score(candidate: ScoredCandidate) -> float:
    return candidate.log_likelihood + _prior(candidate.sizes)


def _ranked(found: list[ScoredCandidate]) -> list[Cause]:
    """Causes by their share. Where even the best leaves more unexplained than its uncertainties "
    "allow, all count for less.
    """
    readings = max(sum(found[0].counts.values()), 1)
    left = max(1.0, 2.0 * -max(current.log_likelihood for current in found) / readings)
    sound, alone = (
        found[0],
        {tuple(current.sizes): current.log_likelihood for current in found if len(current.sizes) == 1},
    )

    def unproven(candidate: ScoredCandidate) -> float:
        """What a second fault must explain before it counts (nats)."""
        return (
            PAIR_GAIN * max(alone[key,] - sound.log_likelihood for key in candidate.sizes)
            if len(candidate.sizes) > 1
            else 0.0
        )

    scores = np.array(
        [(current.log_likelihood - unproven(current)) / left + _prior(current.sizes) for current in found]
    )
    shares = np.exp(scores - scores.max())
    shares /= shares.sum()
    made = [
        Cause(
            current.sizes,
            current.log_likelihood - sound.log_likelihood,
            float(share),
            {name: value - sound.rows.get(name, 0.0) for name, value in current.rows.items()},
            current.displayed,
        )
        for current, share in zip(found, shares, strict=True)
    ]
    return sorted(made, key=lambda cause: cause.share, reverse=True)


def discriminating_row(one: Cause, other: Cause, log: Log) -> tuple[str, float, float, float] | None:
    """Where two causes differ most: row, moment (h of the year), and what each shows there (in the row's unit).

    Parameters
    ----------
    one
        One cause.
    other
        The other.
    log
        The readings.

    Returns
    -------
    tuple[str, float, float, float] | None
        The row, the moment (h of the year), and what each shows there (in the row's unit).
    """
    read = log.rows()
    best: tuple[float, tuple[str, float, float, float]] | None = None
    for name, (when, values) in one.displayed.rows.items():
        if name not in other.displayed.rows or name not in read or name in ("flow", "supply", "return"):
            continue
        gap = np.abs(values - other.displayed.at(name, when))
        gap = gap * (20.0 if name == "pump" else 1.0)
        at = int(gap.argmax())
        if best is None or gap[at] > best[0]:
            best = float(gap[at]), (name, float(when[at]), float(values[at]), float(other.displayed.at(name, when[at])))
    return best[1] if best else None
