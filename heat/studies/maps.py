"""Maps: one number of full years over two others, coarse first, with its lines, its best place and what is near it."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from heat.common.documents import Values

Array = NDArray[np.float64]
Line = list[tuple[float, float]]
FINE, STRIDE = (19, 13), 3
"""Places along and up a map (1), and how many apart those of the coarse one stand (1)."""
NICE = (1.0, 2.0, 2.5, 5.0, 10.0)
"""Steps between lines, times a power of ten (the outcome's unit)."""


@dataclass(frozen=True)
class Axis:
    """A number that a map varies: its ends and the step of its pin (its own unit), and the fields it sets.

    ``sets``: each path with what the number is multiplied by. ``turn``: where it begins again, such as 360 (deg), or
    0. ``fixed``: values set wherever the axis is. ``whole``: whether only whole numbers are meant.
    """

    low: float
    high: float
    step: float
    sets: tuple[tuple[str, float], ...]
    turn: float = 0.0
    fixed: tuple[tuple[str, Any], ...] = ()
    whole: bool = False

    def places(self, most: int) -> Array:
        """Where the map is calculated along this axis (its unit), evenly, and no oftener than its whole numbers.

        Parameters
        ----------
        most
            At most so many.

        Returns
        -------
        ndarray
            Where the map is calculated along this axis (its unit), evenly, and no oftener than its whole
            numbers.
        """
        if self.whole:
            return np.arange(np.ceil(self.low), np.floor(self.high) + 1.0)[: max(most, 2)]
        return np.linspace(self.low, self.high, most)

    def values(self, at: float) -> Values:
        """Values by path (each in its field's unit, such as m²) that put a design there.

        Parameters
        ----------
        at
            Value of the axis.

        Returns
        -------
        Values
            Values by path (each in its field's unit, such as m²).
        """
        turned = at % self.turn if self.turn else at
        found: Values = dict(self.fixed)
        for path, times in self.sets:
            found[path] = round(turned * times) if self.whole else round(float(turned * times), 9)
        return found

    def pinned(self, at: float) -> float:
        """The nearest place a pin may stand (the axis's unit).

        Parameters
        ----------
        at
            Value of the axis.

        Returns
        -------
        float
            The nearest place a pin may stand (the axis's unit).
        """
        return float(np.clip(round(at / self.step) * self.step, self.low, self.high))


def coarse(count: int) -> list[int]:
    """Places of a coarse map among so many (1): every third, and the last.

    Parameters
    ----------
    count
        Number of segments in use.

    Returns
    -------
    list[int]
        Places of a coarse map among so many (1).
    """
    return sorted({*range(0, count, STRIDE), count - 1})


def lattice(x: Axis, y: Axis, fine: tuple[int, int] = FINE) -> tuple[Array, int]:
    """Places of a map (rows of x and y in their units), those of the coarse one first, and how many these are (1).

    Parameters
    ----------
    x
        First axis.
    y
        Second axis.
    fine
        Steps of the fine lattice.

    Returns
    -------
    tuple[Array, int]
        Places of a map (rows of x and y in their units), those of the coarse one first, and how many these are
        (1).
    """
    along, up = x.places(fine[0]), y.places(fine[1])
    first = [(i, j) for j in coarse(len(up)) for i in coarse(len(along))]
    rest = [(i, j) for j in range(len(up)) for i in range(len(along)) if (i, j) not in set(first)]
    return np.array([(along[i], up[j]) for i, j in first + rest]), len(first)


class MapField(NamedTuple):
    """An outcome over two axes: places along (nx) and up (ny) in their units, values (ny, nx) in the outcome's, nan
    where a design cannot be.
    """

    xs: Array
    ys: Array
    values: Array


def field(places: Array, values: Array, known: int) -> MapField:
    """The map of the first ``known`` places (1) of a lattice and their values (the outcome's unit, such as kWh).

    Parameters
    ----------
    places
        Number of places.
    values
        The figure at each place.
    known
        Number of places simulated.

    Returns
    -------
    MapField
        The map of the first ``known`` places (1) of a lattice and their values (the outcome's unit, such as
        kWh).
    """
    xs, ys = np.unique(places[:known, 0]), np.unique(places[:known, 1])
    made = np.full((len(ys), len(xs)), np.nan)
    made[np.searchsorted(ys, places[:known, 1]), np.searchsorted(xs, places[:known, 0])] = values[:known]
    return MapField(xs, ys, made)


def levels(values: Array, most: int = 10) -> list[float]:
    """Round values for the lines of a map (the outcome's unit), no more than ``most`` (1).

    Parameters
    ----------
    values
        The figure at each place.
    most
        At most so many.

    Returns
    -------
    list[float]
        Round values for the lines of a map (the outcome's unit).
    """
    finite = values[np.isfinite(values)]
    if not len(finite) or np.ptp(finite) < 1e-9:
        return []
    power = 10.0 ** np.floor(np.log10(np.ptp(finite) / most))
    step = next(nice * power for nice in NICE if nice * power * most >= np.ptp(finite))
    first = np.ceil(finite.min() / step - 1e-9)
    return [float(round(k * step, 10)) for k in np.arange(first, np.floor(finite.max() / step + 1e-9) + 1)]


def contours(found: MapField, at: Sequence[float]) -> list[tuple[float, list[Line]]]:
    """Lines of equal value (x and y in their units) for each level (the outcome's unit).

    Parameters
    ----------
    found
        The map.
    at
        Levels of the contours, in the figure's unit.

    Returns
    -------
    list[tuple[float, list[Line]]]
        Lines of equal value (x and y in their units).

    References
    ----------
    marching squares as contourpy has them, straight between places.
    """
    from contourpy import LineType, contour_generator  # for the few pages that show a map

    made = contour_generator(found.xs, found.ys, np.ma.masked_invalid(found.values), line_type=LineType.Separate)
    drawn: Any = [made.lines(level) for level in at]
    return [(level, [_points(line) for line in lines]) for level, lines in zip(at, drawn, strict=True)]


def _points(rows: Any) -> Line:
    """Rows of two as points."""
    return [(float(x), float(y)) for x, y in rows]


def beyond(found: MapField, least: float) -> list[list[Line]]:
    """Where the outcome is at least so much (its unit): areas of one outline and its holes each (x, y in their units).

    Parameters
    ----------
    found
        The map.
    least
        At least so much.

    Returns
    -------
    list[list[Line]]
        Where the outcome is at least so much (its unit): areas of one outline and its holes each (x, y in their
        units).
    """
    from contourpy import FillType, contour_generator

    made = contour_generator(found.xs, found.ys, np.ma.masked_invalid(found.values), fill_type=FillType.OuterOffset)
    filled: Any = made.filled(least, np.inf)
    return [[_points(ring[a:b]) for a, b in pairwise(cuts)] for ring, cuts in zip(*filled, strict=True)]


def surface(found: MapField) -> Any:
    """A cubic through the places of a map (in units of the axes and the outcome, such as deg and kWh); None where one
    is missing.

    Parameters
    ----------
    found
        The map.

    Returns
    -------
    Any
        A cubic through the places of a map (in units of the axes and the outcome, such as deg and kWh); None
        where one is missing.
    """
    from scipy.interpolate import RectBivariateSpline

    if not np.isfinite(found.values).all() or min(found.values.shape) < 2:
        return None
    along, up = (min(3, n - 1) for n in found.values.shape[::-1])
    return RectBivariateSpline(found.xs, found.ys, found.values.T, kx=along, ky=up, s=0)


def refined(found: MapField, times: int = 5) -> MapField:
    """A map with so many places for each (1) along and up, read off the cubic (units as they were, such as kWh); as it
    is where a place is missing.

    Parameters
    ----------
    found
        The map.
    times
        Number of repetitions.

    Returns
    -------
    MapField
        A map with so many places for each (1) along and up, read off the cubic (units as they were, such as
        kWh); as it is where a place is missing.
    """
    through = surface(found)
    if through is None:
        return found
    xs, ys = (np.interp(np.arange(times * (len(a) - 1) + 1) / times, np.arange(len(a)), a) for a in found[:2])
    return MapField(xs, ys, through(xs, ys).T)


class Peak(NamedTuple):
    """The best place of a map: x, y in their units and the outcome in its own."""

    x: float
    y: float
    value: float


def peak(found: MapField, most: bool = True, fine: int = 181) -> Peak | None:
    """The most (or least) of a map between its places by a cubic, else at the best of them (units of the axes and the
    outcome, such as deg and kWh).

    Parameters
    ----------
    found
        The map.
    most
        Whether the greatest is wanted, not the least.
    fine
        Steps of the fine lattice.

    Returns
    -------
    Peak | None
        The most (or least).
    """
    if not np.isfinite(found.values).any():
        return None
    sign = 1.0 if most else -1.0
    through = surface(found)
    if through is None:
        row, column = np.unravel_index(np.nanargmax(sign * found.values), found.values.shape)
        return Peak(float(found.xs[column]), float(found.ys[row]), float(found.values[row, column]))
    xs, ys = (np.linspace(a[0], a[-1], fine) for a in (found.xs, found.ys))
    made = through(xs, ys)
    i, j = np.unravel_index(np.argmax(sign * made), made.shape)
    return Peak(float(xs[i]), float(ys[j]), float(made[i, j]))


def reach(found: MapField, least: float) -> tuple[float, float, float, float] | None:
    """How far the area of at least so much (the outcome's unit) goes: lowest and highest x, then y (their units).

    Parameters
    ----------
    found
        The map.
    least
        At least so much.

    Returns
    -------
    tuple[float, float, float, float] | None
        How far the area of at least so much (the outcome's unit) goes: lowest and highest x, then y (their
        units).
    """
    points = [point for area in beyond(found, least) for point in area[0]]
    if not points:
        return None
    xs, ys = zip(*points, strict=True)
    return min(xs), max(xs), min(ys), max(ys)
