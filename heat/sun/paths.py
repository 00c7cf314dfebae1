"""The sun's path over the sky by date and solar hour, for the sheet on which a horizon is drawn."""

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
DAY_21 = (21, 52, 80, 111, 141, 172, 202, 233, 264, 294, 325, 355)
"""Day of the year of the 21st of each month."""


def declination_deg(day: float) -> float:
    """Declination of the sun (deg) on a day of the year (1 to 365).

    ``23.45 sin(360 (284 + n)/365)``.

    Parameters
    ----------
    day
        Day of the year, 1 to 365.

    Returns
    -------
    float
        Declination of the sun (deg).

    References
    ----------
    Cooper (1969), Solar Energy 12, 333-346.
    """
    return float(23.45 * np.sin(np.radians(360.0 * (284.0 + day) / 365.0)))


def path(latitude_deg: float, declination: float, solar_hour: Array) -> tuple[Array, Array]:
    """Bearing (deg clockwise from north) and altitude (deg) of the sun at solar hours (h; 12 = noon).

    ``sin a = sin L sin d + cos L cos d cos w`` with latitude and declination (deg).

    Parameters
    ----------
    latitude_deg
        Latitude, north positive (deg).
    declination
        Declination (deg).
    solar_hour
        Solar time (h); 12 is noon.

    Returns
    -------
    tuple[Array, Array]
        Bearing (deg clockwise from north) and altitude (deg) of the sun at solar hours (h; 12 = noon).

    References
    ----------
    Duffie & Beckman, 4th ed., eq. 1.6.5 and 1.6.6.
    """
    lat, dec = np.radians(latitude_deg), np.radians(declination)
    hour = np.radians(15.0 * (np.asarray(solar_hour, dtype=float) - 12.0))
    up = np.sin(lat) * np.sin(dec) + np.cos(lat) * np.cos(dec) * np.cos(hour)
    east = -np.cos(dec) * np.sin(hour)
    north = np.cos(lat) * np.sin(dec) - np.sin(lat) * np.cos(dec) * np.cos(hour)
    return np.degrees(np.arctan2(east, north)) % 360.0, np.degrees(np.arcsin(np.clip(up, -1.0, 1.0)))


def sunrise_hour(latitude_deg: float, declination: float) -> float:
    """Solar hour of sunrise (h); 0 where the sun does not set, 12 where it does not rise.

    ``cos w = -tan L tan d``.

    Parameters
    ----------
    latitude_deg
        Latitude, north positive (deg).
    declination
        Declination (deg).

    Returns
    -------
    float
        Solar hour of sunrise (h).

    References
    ----------
    Duffie & Beckman, 4th ed., eq. 1.6.10.
    """
    cosine = -np.tan(np.radians(latitude_deg)) * np.tan(np.radians(declination))
    return 12.0 - float(np.degrees(np.arccos(np.clip(cosine, -1.0, 1.0)))) / 15.0
