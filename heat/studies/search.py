"""Find the best: full years searched over fields within their limits, by differential evolution."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import differential_evolution

from heat.common.documents import Document, Values
from heat.studies.following import following
from heat.studies.outcome import COLUMN, Run
from heat.studies.question import Limit

Array = NDArray[np.float64]
REFUSED = 1e12
"""What a refused design counts as (the goal's unit): far from any that can be."""
POPULATION, ROUNDS, CALM = 5, 40, 1e-3
"""Designs tried a round for each field (1), rounds at most (1), spread of goals at which it ends (1). Source: scipy's
documentation of the method; smaller populations find a smooth optimum sooner."""


@dataclass(frozen=True)
class Free:
    """A field that may move (its own unit): path, ends, and the step it is rounded to, 0 for none."""

    path: str
    low: float
    high: float
    step: float = 0.0

    def rounded(self, value: float) -> float | int:
        """The value on its grid (the field's unit).

        Parameters
        ----------
        value
            Value of the field.

        Returns
        -------
        float | int
            The value on its grid (the field's unit).
        """
        if not self.step:
            return float(np.clip(value, self.low, self.high))
        on_grid = round(np.clip(self.low + self.step * round((value - self.low) / self.step), self.low, self.high), 9)
        return int(on_grid) if self.step == int(self.step) and on_grid == int(on_grid) else float(on_grid)


def most_years(fields: int, rounds: int = ROUNDS) -> int:
    """The most years a search over so many fields can take (1): Sobol' points come in powers of two.

    Parameters
    ----------
    fields
        Number of fields that move.
    rounds
        Rounds of the search.

    Returns
    -------
    int
        The most years a search over so many fields can take (1).
    """
    crowd = 2 ** int(np.ceil(np.log2(max(5, POPULATION * fields))))
    return int(crowd * (rounds + 1))


@dataclass(frozen=True)
class Best:
    """The best design so far: values by path (their fields' units), its numbers (KEYS), years calculated (1), and
    whether the search came to rest.
    """

    values: Values
    figures: Array
    years: int
    rested: bool


def search(
    document: Document,
    free: Sequence[Free],
    goal: str,
    run: Run,
    put: Callable[..., Document],
    *,
    most: bool = False,
    limits: Sequence[Limit] = (),
    seed: int = 1,
    rounds: int = ROUNDS,
    progress: Callable[[Best], bool] = lambda best: False,
) -> Best | None:
    """The design with the least (or most) of a number of KEYS (such as kWh) within limits; None where none can be.

    ``progress`` is called with the best so far after each round; where it answers true the search ends. A design
    calculated once is not calculated again.

    Parameters
    ----------
    document
        The design document; numbers in the units its schema names.
    free
        The fields that may move.
    goal
        Name of the figure.
    run
        Simulates a list of documents.
    put
        Sets values by dotted path in a document.
    most
        Whether the greatest is wanted, not the least.
    limits
        What a design must keep to.
    seed
        Seed of the random numbers.
    rounds
        Rounds of the search.
    progress
        Called with what is done so far; a true answer ends the search where one is asked for.

    Returns
    -------
    Best | None
        The design with the least (or most).

    References
    ----------
    Storn & Price (1997), J. Global Optimization 11, 341-359, through scipy; limits by Deb's (2000) rule as a
    penalty above every design that keeps to them.
    """
    known: dict[tuple[Any, ...], Array] = {}
    best: list[Best | None] = [None]
    lead = [np.inf]
    sign = -1.0 if most else 1.0

    def simulated(points: Array) -> Array:
        """Goals of designs, a column each."""
        rows = [tuple(f.rounded(v) for f, v in zip(free, point, strict=True)) for point in points.T]
        fresh = list(dict.fromkeys(row for row in rows if row not in known))
        if fresh:
            paths = [f.path for f in free]
            wanted = [following(document, dict(zip(paths, row, strict=True))) for row in fresh]
            found = run([put(document, values) for values in wanted])
            known.update(zip(fresh, found.figures, strict=True))
        goals = np.array([_goal(known[row], goal, sign, limits) for row in rows])
        at = int(np.argmin(goals))
        if goals[at] < lead[0]:
            lead[0] = float(goals[at])
            keeps = lead[0] < REFUSED / 2
            values = dict(zip((f.path for f in free), rows[at], strict=True))
            best[0] = Best(values, known[rows[at]], len(known), False) if keeps else None
        return goals

    def last_contact(intermediate_result: Any) -> bool:
        if best[0] is None:
            return False
        best[0] = Best(best[0].values, best[0].figures, len(known), False)
        return progress(best[0])

    ends = [(f.low, f.high) for f in free]
    found = differential_evolution(
        simulated,
        ends,
        maxiter=rounds,
        popsize=POPULATION,
        tol=CALM,
        rng=seed,
        vectorized=True,
        updating="deferred",
        polish=False,
        callback=last_contact,
        init="sobol",
    )
    done = best[0]
    return None if done is None else Best(done.values, done.figures, len(known), bool(found.success))


def _goal(figures: Array, goal: str, sign: float, limits: Sequence[Limit]) -> float:
    """What is made least: the goal, or far above it how far a design is from its limits."""
    value = figures[COLUMN[goal]]
    if not np.isfinite(value):
        return REFUSED
    beyond = 0.0
    for limit in limits:
        number = float(np.clip(figures[COLUMN[limit.key]], -REFUSED, REFUSED))
        if limit.most is not None:
            beyond += max(number - limit.most, 0.0) / max(abs(limit.most), 1.0)
        if limit.least is not None:
            beyond += max(limit.least - number, 0.0) / max(abs(limit.least), 1.0)
    return float(sign * value) if beyond == 0.0 else REFUSED * (0.6 + 0.3 * beyond / (1.0 + beyond))
