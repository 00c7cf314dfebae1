"""What the rule of rough climates leaves over at places whose sun is known, spread to their neighbours.

Kriging of log(map / rule): places nearby are off alike, and the farther the next one, the less is known.
"""

from functools import cache
from math import sqrt

import numpy as np
from numpy.typing import NDArray

from heat.common.compiled import PACKAGE

Array = NDArray[np.float64]
ATLAS = PACKAGE / "data" / "world" / "atlas_ghi.csv"
PLACES = PACKAGE / "data" / "world" / "left_over.csv"
REACH_KM, NUGGET = 800.0, 0.03
"""How far what is left over is alike (km), and the maps' own rounding (log, no unit). Source: fitted on the places
themselves, each left out once; docs/validation.md."""
EARTH_KM = 6371.0
YEARS_SPREAD = 0.05
"""Standard deviation of a year, or a decade, about a map's long mean (share, no unit). Source: maps print within 4 %;
years of earlier decades are 3 % dimmer than those since 2000."""
MONTHS_SPREAD = 0.045
"""What months that go their own way add to half a year's sun (share, no unit). Source: their rms of 11 % over six."""
NINETY = 1.645
"""Standard deviations within which nine of ten lie (no unit)."""


def atlas() -> Array:
    """Latitude, longitude and yearly horizontal sun of the places that are known.

    Returns
    -------
    ndarray
        A place a row: deg, deg, kWh/m².
    """
    return _table(ATLAS.read_text())


def _table(text: str) -> Array:
    rows = [line.split(",") for line in text.splitlines() if line and not line.startswith("#")]
    return np.array([[float(v) for v in row] for row in rows[1:]])


def distance_km(latitude_deg: float, longitude_deg: float, latitudes_deg: Array, longitudes_deg: Array) -> Array:
    """Great-circle distance of a place from others.

    Parameters
    ----------
    latitude_deg
        Latitude, north positive (deg).
    longitude_deg
        Longitude, east positive (deg).
    latitudes_deg
        Latitudes of the others (deg).
    longitudes_deg
        Longitudes of the others (deg).

    Returns
    -------
    ndarray
        Distances (km).

    References
    ----------
    The haversine formula.
    """
    a, b = np.radians(latitude_deg), np.radians(latitudes_deg)
    east = np.radians(longitudes_deg - longitude_deg)
    half = np.sin((b - a) / 2.0) ** 2 + np.cos(a) * np.cos(b) * np.sin(east / 2.0) ** 2
    return np.asarray(2.0 * EARTH_KM * np.arcsin(np.sqrt(np.minimum(half, 1.0))))


def known_places() -> Array:
    """What the rule leaves over at the places that are known.

    Returns
    -------
    ndarray
        A place a row: latitude, longitude (deg), log of map by rule (no unit).
    """
    return _table(PLACES.read_text())


@cache
def _known() -> tuple[Array, Array, Array, float]:
    return kriged(known_places())


def kriged(places: Array) -> tuple[Array, Array, Array, float]:
    """Places (deg, deg, log) ready to be asked: places, inverse of their covariance, weights, and spread of all.

    Parameters
    ----------
    places
        A place a row: latitude, longitude (deg) and log of map by rule (no unit).

    Returns
    -------
    tuple
        Places (deg, deg, no unit), inverse covariance and weights (no unit), standard deviation of all (no unit).
    """
    spread = float(places[:, 2].std())
    apart = np.array([distance_km(lat, lon, places[:, 0], places[:, 1]) for lat, lon, _left in places])
    covariance = spread**2 * np.exp(-apart / REACH_KM) + NUGGET**2 * np.eye(len(places))
    inverse: Array = np.asarray(np.linalg.inv(covariance), dtype=np.float64)
    return places, inverse, inverse @ places[:, 2], spread


def left_over(
    latitude_deg: float, longitude_deg: float, known: tuple[Array, Array, Array, float] | None = None
) -> tuple[float, float]:
    """What to add to the logarithm of the rule's sun at a place, and the standard deviation of what then remains.

    Parameters
    ----------
    latitude_deg
        Latitude, north positive (deg).
    longitude_deg
        Longitude, east positive (deg).
    known
        Places to ask, from :func:`kriged`; else all that are known.

    Returns
    -------
    tuple[float, float]
        Logarithm to add (no unit); its standard deviation (no unit).

    References
    ----------
    Simple kriging, Chilès & Delfiner, Geostatistics, 2nd ed., 3.3.
    """
    places, inverse, weights, spread = known or _known()
    near = spread**2 * np.exp(-distance_km(latitude_deg, longitude_deg, places[:, 0], places[:, 1]) / REACH_KM)
    return float(near @ weights), sqrt(max(spread**2 - float(near @ inverse @ near), 0.0))


def sun_band(latitude_deg: float, longitude_deg: float) -> float:
    """How far the year's sun of a rough climate may be off at a place: nine of ten lie within.

    Parameters
    ----------
    latitude_deg
        Latitude, north positive (deg).
    longitude_deg
        Longitude, east positive (deg).

    Returns
    -------
    float
        Share of the year's sun (no unit).
    """
    _mean, spread = left_over(latitude_deg, longitude_deg)
    return float(NINETY * np.hypot(spread, YEARS_SPREAD))


def months_band(latitude_deg: float, longitude_deg: float) -> float:
    """The same of the twelve means together, as a solar fraction feels them: months go their own way besides.

    Parameters
    ----------
    latitude_deg
        Latitude, north positive (deg).
    longitude_deg
        Longitude, east positive (deg).

    Returns
    -------
    float
        Share of the sun in each of the twelve means (no unit).
    """
    return float(np.hypot(sun_band(latitude_deg, longitude_deg), NINETY * MONTHS_SPREAD))
