"""From a compass to true north."""

from functools import cache
from typing import Any


@cache
def _model() -> Any:
    from pygeomag import GeoMag

    return GeoMag(coefficients_file="wmm/WMM_2025.COF")


def declination_deg(latitude_deg: float, longitude_deg: float, elevation_m: float = 0.0, year: float = 2026.0) -> float:
    """Magnetic declination (deg, east positive) at a place (deg, m) and decimal year 2025 to 2030.

    Reference: World Magnetic Model 2025, NOAA NCEI and BGS (the library computes it).
    """
    year = min(max(year, 2025.0), 2029.99)
    found = _model().calculate(glat=latitude_deg, glon=longitude_deg, alt=elevation_m / 1000.0, time=year)
    return float(found.d)


def true_bearing_deg(magnetic_deg: float, declination: float) -> float:
    """True bearing (deg clockwise from north, 0 to 360) from a magnetic one and the declination (deg)."""
    return (magnetic_deg + declination) % 360.0
