"""Readings of a system: moments and what its sensors, meters and people read, in one clock and one set of units."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
QUANTITIES = {
    "collector": "degC",
    "supply": "degC",
    "return": "degC",
    "pool": "degC",
    "air": "degC",
    "flow": "kg/h",
    "pump": "1",
    "sun": "W/m2",
    "plane": "W/m2",
    "cloud": "1",
    "draw": "L",
}
"""What can be read beside the store, and its unit: collector, loop at the store in and out, pool, air, flow, pump (0 to
1), sun on the level and on the plane, cloud (eighths), water drawn since the reading before."""
PARTS = 12
"""Parts of an hour a mean is taken over (1)."""
BIN_H = 0.5
"""Readings closer together (h) are taken together."""


@dataclass(frozen=True)
class Log:
    """Readings in the order of time. ``hour``: hours of the year since 1 January 0 h, local standard time (h).

    ``readings``: rows as long as ``hour`` by name (of QUANTITIES, each in its unit; NaN where nothing was read).
    ``store_c``: a row (°C) for each sensor of the store, whose heights (share, 0 floor to 1 top) are ``heights``.
    """

    hour: Array
    readings: Mapping[str, Array]
    heights: tuple[float, ...] = ()
    store_c: Array | None = None

    @property
    def first(self) -> int:
        """The hour of the year (h) in which it begins."""
        return int(self.hour[0])

    @property
    def last(self) -> int:
        """The hour of the year (h) after the one in which it ends."""
        return min(int(self.hour[-1]) + 1, 8760)

    def rows(self) -> dict[str, Array]:
        """Every row by name; sensors of the store as ``store 0``, ``store 1`` … from the floor up (°C)."""
        found = {name: row for name, row in self.readings.items() if np.isfinite(row).any()}
        if self.store_c is not None:
            found |= {f"store {i}": row for i, row in enumerate(self.store_c) if np.isfinite(row).any()}
        return found

    def between(self, first: float, last: float) -> "Log":
        """Its readings from one hour of the year to another (h).

        Parameters
        ----------
        first
            First hour of the year (h).
        last
            Last hour of the year (h).

        Returns
        -------
        Log
            Its readings from one hour of the year to another (h).
        """
        at = (self.hour >= first) & (self.hour <= last)
        store = None if self.store_c is None else self.store_c[:, at]
        return Log(self.hour[at], {name: row[at] for name, row in self.readings.items()}, self.heights, store)


def binned(hour: Array, row: Array) -> tuple[Array, Array]:
    """Mean moments (h) and values of a row (in its unit), readings of each half hour taken together.

    Parameters
    ----------
    hour
        Moments, hours of the year (h).
    row
        Values at these moments, in the row's unit.

    Returns
    -------
    tuple[Array, Array]
        Mean moments (h) and values of a row (in its unit), readings of each half hour taken together.
    """
    there = np.isfinite(row)
    slot = np.floor(hour[there] / BIN_H).astype(np.int64)
    if slot.size == 0:
        return np.empty(0), np.empty(0)
    places, which, count = np.unique(slot, return_inverse=True, return_counts=True)
    mean = lambda v: np.bincount(which, v, len(places)) / count
    return mean(hour[there]), mean(row[there])


def by_hour(log: Log, name: str, first: int, last: int, *, summed: bool = False) -> Array:
    """A row in the hours ``first`` to ``last`` (h, the last excluded): mean of each hour, or sum; NaN where none was
    read.

    In the row's own unit.

    Parameters
    ----------
    log
        The readings.
    name
        Name of the row.
    first
        The first hour, 0 to 8,759 (h).
    last
        The hour after the last (h).
    summed
        Whether the hour's sum is wanted, not its mean.

    Returns
    -------
    ndarray
        A row in the hours ``first`` to ``last`` (h, the last excluded): mean of each hour, or sum; NaN where
        none was read.
    """
    row = log.readings.get(name)
    if row is None:
        return np.full(last - first, np.nan)
    at = np.floor(log.hour).astype(np.int64) - first
    if not summed:
        return _hourly_means(log.hour, row, first, last)
    there = np.isfinite(row) & (at >= 0) & (at < last - first)
    return np.asarray(np.bincount(at[there], row[there], minlength=last - first), dtype=np.float64)


def _hourly_means(hour: Array, row: Array, first: int, last: int) -> Array:
    """Means of the hours (in the row's unit): readings count as moments, straight between them, so that a quarter past
    stands for no more of the hour than it is; NaN in hours without any.
    """
    there = np.isfinite(row)
    means = np.full(last - first, np.nan)
    if not there.any():
        return means
    known = np.unique(np.floor(hour[there]).astype(np.int64)) - first
    known = known[(known >= 0) & (known < last - first)]
    moments = first + known[:, None] + (np.arange(PARTS) + 0.5) / PARTS
    means[known] = np.interp(moments, hour[there], row[there]).mean(axis=1)
    return means
