"""What decides: the mean effect of each answer, each question's share of the variance, pairs that do not merely add."""

from dataclasses import dataclass
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from heat.studies.plans import Levels

Array = NDArray[np.float64]
SIGNIFICANT = 0.01
"""Share of the variance from which a pair of questions is named (1). Source: our choice."""


@dataclass(frozen=True)
class QuestionEffect:
    """What a question does: each answer's mean outcome, all else alike, with the lowest and highest seen (the outcome's
    unit), and its share of the variance (1). Nan for an answer that was never calculated.
    """

    means: Array
    lows: Array
    highs: Array
    share: float


@dataclass(frozen=True)
class Pair:
    """Two questions whose answers do not merely add: their share (1), and how far each cell lies from the sum of both
    (the outcome's unit).
    """

    first: int
    second: int
    share: float
    cells: Array


@dataclass(frozen=True)
class Effects:
    """The mean outcome, its variance (units of the outcome), questions, pairs worth telling, and what is left (1)."""

    mean: float
    variance: float
    questions: tuple[QuestionEffect, ...]
    pairs: tuple[Pair, ...]
    rest: float


def effects(levels: Levels, counts: tuple[int, ...], outcome: Array) -> Effects:
    """What decides an outcome (any unit) over combinations (1); refused ones, nan, are left out.

    An additive model by least squares, its answers' effects summing to nothing; in a whole plan that is the
    analysis of variance exactly. A question's share is the covariance of its effects with the outcome over the
    outcome's variance, so that shares and rest sum to one in any plan.

    Parameters
    ----------
    levels
        Number of the answer of each question, by row.
    counts
        Number of answers of each question.
    outcome
        Figure of each year (its own unit).

    Returns
    -------
    Effects
        What decides an outcome (any unit) over combinations (1); refused ones, nan, are left out.

    References
    ----------
    Fisher (1925); Box, Hunter & Hunter (2005), ch. 5.
    """
    finite = np.isfinite(outcome)
    rows, values = levels[finite], outcome[finite]
    if len(values) == 0:
        blank = tuple(QuestionEffect(*(np.full(c, np.nan),) * 3, 0.0) for c in counts)
        return Effects(float("nan"), 0.0, blank, (), 0.0)
    variance = float(values.var())
    mean, steps = _additive(rows, counts, values)
    parts = [step[rows[:, k]] for k, step in enumerate(steps)]
    share = lambda part: float(np.mean((part - part.mean()) * (values - values.mean()))) / variance if variance else 0.0
    questions = tuple(
        QuestionEffect(mean + step, *_ends(rows[:, k], counts[k], values), share(part))
        for k, (step, part) in enumerate(zip(steps, parts, strict=True))
    )
    left = values - mean - np.sum(parts, axis=0)
    pairs = _pairs(rows, counts, left, variance) if variance > 0 else ()
    return Effects(mean, variance, questions, pairs, float(left.var()) / variance if variance else 0.0)


def _additive(rows: Levels, counts: tuple[int, ...], values: Array) -> tuple[float, list[Array]]:
    """The mean over all answers and each answer's effect; nan for answers that do not occur."""
    columns, places = [np.ones(len(rows))], []
    for k, count in enumerate(counts):
        there = np.flatnonzero(np.bincount(rows[:, k], minlength=count))
        places.append(there)
        for answer in there[:-1]:
            columns.append((rows[:, k] == answer) * 1.0 - (rows[:, k] == there[-1]) * 1.0)
    found = np.linalg.lstsq(np.column_stack(columns), values, rcond=None)[0]
    steps, at = [], 1
    for count, there in zip(counts, places, strict=True):
        step = np.full(count, np.nan)
        own = found[at : at + len(there) - 1]
        step[there[:-1]], step[there[-1]] = own, -own.sum()
        at += len(there) - 1
        steps.append(step)
    return float(found[0]), steps


def _ends(answers: NDArray[np.int64], count: int, values: Array) -> tuple[Array, Array]:
    low, high = np.full(count, np.inf), np.full(count, -np.inf)
    np.minimum.at(low, answers, values)
    np.maximum.at(high, answers, values)
    return np.where(np.isfinite(low), low, np.nan), np.where(np.isfinite(high), high, np.nan)


def _pairs(rows: Levels, counts: tuple[int, ...], left: Array, variance: float) -> tuple[Pair, ...]:
    """Pairs of questions that explain more of what adding left over than chance would, the largest first."""
    found = []
    whole = len(rows) == int(np.prod(counts))
    for i, j in combinations(range(len(counts)), 2):
        cell = rows[:, i] * counts[j] + rows[:, j]
        times = np.bincount(cell, minlength=counts[i] * counts[j])
        means = np.bincount(cell, left, minlength=counts[i] * counts[j]) / np.maximum(times, 1)
        share = float(np.mean(means[cell] * left)) / variance
        chance = 0.0 if whole else (counts[i] - 1) * (counts[j] - 1) / len(rows) * float(left.var()) / variance
        if share - 2.0 * chance >= SIGNIFICANT:
            cells = np.where(times > 0, means, np.nan).reshape(counts[i], counts[j])
            found.append(Pair(i, j, share - chance, cells))
    return tuple(sorted(found, key=lambda pair: -pair.share))


@dataclass(frozen=True)
class Contrast:
    """The sharpest way a pair can be put: answer ``better`` of a question against ``worse`` gains most at ``here`` of
    the other and least ``there`` (1), by so much each (the outcome's unit).
    """

    question: int
    other: int
    better: int
    worse: int
    here: int
    there: int
    gain_here: float
    gain_there: float


def contrast(found: Effects, pair: Pair) -> Contrast | None:
    """The two answers of either question whose difference the other one changes most (the outcome's unit).

    Parameters
    ----------
    found
        The effects.
    pair
        The two answers.

    Returns
    -------
    Contrast | None
        The two answers of either question whose difference the other one changes most (the outcome's unit).
    """
    best: Contrast | None = None
    for question, other, cells in ((pair.first, pair.second, pair.cells), (pair.second, pair.first, pair.cells.T)):
        means = found.questions[question].means
        for better, worse in combinations(range(len(means)), 2):
            gain = means[better] - means[worse] + cells[better] - cells[worse]
            if not np.isfinite(gain).any():
                continue
            here, there = int(np.nanargmax(gain)), int(np.nanargmin(gain))
            a, b = float(gain[here]), float(gain[there])
            sharpest = Contrast(question, other, better, worse, here, there, a, b)
            if abs(b) > abs(a):  # put the other way round, so that the gain is one
                sharpest = Contrast(question, other, worse, better, there, here, -b, -a)
            if best is None or sharpest.gain_here - sharpest.gain_there > best.gain_here - best.gain_there + 1e-12:
                best = sharpest
    return best


def front(cost: Array, gain: Array) -> NDArray[np.int64]:
    """Rows no other beats in both, cheapest first: least ``cost``, most ``gain`` (any units, such as kWh; no nan).

    Parameters
    ----------
    cost
        What each row costs (any unit).
    gain
        What each row brings (any unit).

    Returns
    -------
    ndarray of int
        Rows no other beats in both, cheapest first: least ``cost``, most ``gain`` (any units, such as kWh; no
        nan).

    References
    ----------
    Pareto (1896).
    """
    order = np.lexsort((-gain, cost))
    frontier, best = [], -np.inf
    for row in order:
        if np.isfinite(cost[row]) and np.isfinite(gain[row]) and gain[row] > best:
            frontier.append(row)
            best = gain[row]
    return np.array(frontier, dtype=np.int64)
