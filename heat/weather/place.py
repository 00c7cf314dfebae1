"""What is known of a place without asking anyone: its height and its clock."""

from functools import cache, lru_cache

import numpy as np
from numpy.typing import NDArray

from heat.common.compiled import PACKAGE

STEP_DEG = 0.25


@lru_cache(maxsize=64)
def ground_m(latitude_deg: float, longitude_deg: float) -> float:
    """Height of the ground (m) at a place (deg), from a coarse map (about 10 km): good to a hundred metres in hills.

    Parameters
    ----------
    latitude_deg
        Latitude, north positive (deg).
    longitude_deg
        Longitude, east positive (deg).

    Returns
    -------
    float
        Height of the ground (m).

    References
    ----------
    the height map that ships with pvlib, made of open data.
    """
    from pvlib.location import lookup_altitude

    return float(lookup_altitude(latitude_deg, longitude_deg))


@cache
def _quarters() -> NDArray[np.int8]:
    with np.load(PACKAGE / "data" / "clocks.npz") as stored:
        return np.asarray(stored["quarters"])


def standard_offset_h(latitude_deg: float, longitude_deg: float) -> float:
    """Standard time at a place (deg), as an offset from UTC (h); nautical hours at sea.

    Within 66 deg of the equator.

    From a grid of a quarter degree: within 15 km of a border it may be the neighbour's.

    Parameters
    ----------
    latitude_deg
        Latitude, north positive (deg).
    longitude_deg
        Longitude, east positive (deg).

    Returns
    -------
    float
        Standard time at a place (deg).

    References
    ----------
    the IANA time zone database and its borders, by scripts/clocks.py.
    """
    grid = _quarters()
    row = int(np.clip((latitude_deg + 66.0) / STEP_DEG, 0, grid.shape[0] - 1))
    column = int(((longitude_deg + 180.0) / STEP_DEG) % grid.shape[1])
    return float(grid[row, column]) / 4.0
