"""Which combinations of answers are calculated: all of them, or a sample that fills their space evenly."""

from math import prod

import numpy as np
from numpy.typing import NDArray

Levels = NDArray[np.int64]


def factorial(counts: tuple[int, ...]) -> Levels:
    """Every combination (1): a row for each, a column for each question, the last answering fastest.

    Parameters
    ----------
    counts
        Number of answers of each question.

    Returns
    -------
    Levels
        Every combination (1): a row for each, a column for each question, the last answering fastest.
    """
    return np.array(np.unravel_index(np.arange(prod(counts)), counts)).T.astype(np.int64)


def sampled(counts: tuple[int, ...], size: int, seed: int = 1) -> Levels:
    """A sample of combinations (1) in which each answer stands about equally often, alone and in pairs; no row twice.

    Parameters
    ----------
    counts
        Number of answers of each question.
    size
        Number of rows.
    seed
        Seed of the random numbers.

    Returns
    -------
    Levels
        A sample of combinations (1) in which each answer stands about equally often, alone and in pairs; no row
        twice.

    References
    ----------
    Sobol' points, scrambled (Owen 1998), through scipy.
    """
    from scipy.stats import qmc  # a tenth of a server's memory, for the few who ask so much

    draw = qmc.Sobol(len(counts), scramble=True, rng=seed)
    points = draw.random_base2(max(int(np.ceil(np.log2(size * 2))), 1))
    rows = np.floor(points * np.array(counts)).astype(np.int64)
    _, first = np.unique(rows, axis=0, return_index=True)
    return rows[np.sort(first)][:size]


def plan(counts: tuple[int, ...], most: int, seed: int = 1) -> Levels:
    """All combinations (1) where there are no more than ``most``, else a sample of so many.

    Parameters
    ----------
    counts
        Number of answers of each question.
    most
        At most so many.
    seed
        Seed of the random numbers.

    Returns
    -------
    Levels
        All combinations (1) where there are no more than ``most``, else a sample of so many.
    """
    return factorial(counts) if prod(counts) <= most else sampled(counts, most, seed)


def is_whole(levels: Levels, counts: tuple[int, ...]) -> bool:
    """Whether a plan holds every combination (1) once.

    Parameters
    ----------
    levels
        Number of the answer of each question, by row.
    counts
        Number of answers of each question.

    Returns
    -------
    bool
        Whether a plan holds every combination (1) once.
    """
    return len(levels) == prod(counts)


def spread(dimensions: int, size: int, seed: int = 1) -> NDArray[np.float64]:
    """Points that fill a unit cube evenly (no unit), each stratum of each side once: a Latin hypercube.

    Parameters
    ----------
    dimensions
        Number of dimensions.
    size
        Number of years.
    seed
        Seed of the random numbers.

    Returns
    -------
    ndarray
        Points that fill a unit cube evenly (no unit).

    References
    ----------
    McKay, Beckman & Conover (1979), Technometrics 21, 239-245.
    """
    random = np.random.default_rng(seed)
    strata = np.argsort(random.random((size, dimensions)), axis=0)
    return (strata + random.random((size, dimensions))) / size
