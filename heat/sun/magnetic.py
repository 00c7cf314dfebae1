"""From a compass to true north."""

from functools import cache
from typing import Any

EPOCHS = ((2025.0, "wmm/WMM_2025.COF"), (2020.0, "wmm/WMM_2020.COF"))


@cache
def _model(coefficients: str) -> Any:
    from pygeomag import GeoMag

    return GeoMag(coefficients_file=coefficients)


def declination_deg(latitude_deg: float, longitude_deg: float, elevation_m: float = 0.0, year: float = 2026.5) -> float:
    """Magnetic declination (deg, east positive) at a place (deg, m) and decimal year, held to 2020 to 2029.99.

    Parameters
    ----------
    latitude_deg
        Latitude, north positive (deg).
    longitude_deg
        Longitude, east positive (deg).
    elevation_m
        Height above the sea (m).
    year
        Decimal year.

    Returns
    -------
    float
        Magnetic declination (deg, east positive).

    References
    ----------
    World Magnetic Model 2020 and 2025, NOAA NCEI and BGS (a library computes it), ±0.5 deg.
    """
    year = min(max(year, 2020.0), 2029.99)
    coefficients = next(name for start, name in EPOCHS if year >= start)
    found = _model(coefficients).calculate(glat=latitude_deg, glon=longitude_deg, alt=elevation_m / 1000.0, time=year)
    return float(found.d)


def true_bearing_deg(magnetic_deg: float, declination: float) -> float:
    """True bearing (deg clockwise from north, 0 to 360) from a magnetic one and the declination (deg).

    Parameters
    ----------
    magnetic_deg
        Magnetic bearing (deg).
    declination
        Declination (deg).

    Returns
    -------
    float
        True bearing (deg clockwise from north, 0 to 360) from a magnetic one and the declination (deg).
    """
    return (magnetic_deg + declination) % 360.0
