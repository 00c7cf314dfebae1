"""What is wrong: every fault, sound operation and likely pairs run through the measured days and held against them.

Each candidate's days are calculated from what was found; the readings' likelihood under it, times how common it is,
ranks it. Readings a few minutes apart say the same thing twice, so each counts for the time it stands for alone.
"""

from collections.abc import Iterable, Mapping
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from heat.common.documents import Document
from heat.design import Design, parse
from heat.errors import HeatError
from heat.monitoring.faults import FAULTS, faulty_document, suffers
from heat.monitoring.likelihood import SENSOR_K, ReadingRow, combined, misfit_k, modes_of, rows_ready
from heat.monitoring.log import Log
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
TEMPER, MODEL = 5.0, 0.05
"""Likelihoods count for so much less (1), and again by this share of what the best explains (1): what model and plant
differ by otherwise grows with what there is to explain. Calibrated on the plant of heat.tests.plant, cases 0 to 199."""
SIZED = 1.0
"""What a size that was sought costs (nats)."""
LIKELY, PAIRED = 5, 6
"""Causes whose sizes are sought closer, and pairs of the likely that are tried (1)."""


@dataclass(frozen=True)
class Cause:
    """A cause held against readings: faults with their sizes (each in its unit; none: sound), how much better than
    sound it explains the readings (nats), its share of all (1), by which rows (nats by name), the mean square of
    what it leaves in its uncertainties (1), and how far the temperatures lie from it (K).
    """

    sizes: Mapping[str, float]
    gain: float
    share: float
    by_row: Mapping[str, float]
    displayed: SensorTraces
    off: float = 0.0
    misfit_k: float = 0.0

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
    likelihood = combined(rows, modes_of(log, design, weather, rows))

    def lock(sizes: Mapping[str, float]) -> ScoredCandidate | None:
        try:
            made = parse(faulty_document(document, sizes, 1)) if sizes else design
            ways = [sensor_traces(book, weather, log) for book in days_of(log, made, weather)]
        except HeatError:
            return None
        counts = {row.name: row.hour.size for row in rows}
        current = [ScoredCandidate(sizes, counts, likelihood.by_row(way), way) for way in ways]
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
    return _ranked([sound, *singles, *_best_of_each(pairs)], rows)


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


def _ranked(found: list[ScoredCandidate], rows: list[ReadingRow]) -> list[Cause]:
    """Causes by their share. Where even the best leaves more unexplained than its uncertainties allow, all count for
    less.
    """
    readings = max(sum(found[0].counts.values()), 1)
    left = max(1.0, 2.0 * -max(current.log_likelihood for current in found) / readings)
    sound = found[0]
    alone = {tuple(current.sizes): current.log_likelihood for current in found if len(current.sizes) == 1}
    explained = max(current.log_likelihood for current in found) - sound.log_likelihood
    divisor = TEMPER * left + MODEL * explained

    def unproven(candidate: ScoredCandidate) -> float:
        """What a second fault must explain before it counts (nats)."""
        return (
            PAIR_GAIN * max(alone[key,] - sound.log_likelihood for key in candidate.sizes)
            if len(candidate.sizes) > 1
            else 0.0
        )

    scores = np.array(
        [(current.log_likelihood - unproven(current)) / divisor + _prior(current.sizes) for current in found]
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
            -2.0 * current.log_likelihood / readings,
            misfit_k(rows, current.displayed),
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
