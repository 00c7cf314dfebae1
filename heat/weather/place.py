"""What is known of a place without asking anyone: its height and its clock."""

from datetime import UTC, datetime
from functools import lru_cache
from zoneinfo import ZoneInfo


@lru_cache(maxsize=64)
def ground_m(latitude_deg: float, longitude_deg: float) -> float:
    """Height of the ground (m) at a place (deg), from a coarse map (about 10 km): good to a hundred metres in hills.

    Reference: the height map that ships with pvlib, made of open data.
    """
    from pvlib.location import lookup_altitude

    return float(lookup_altitude(latitude_deg, longitude_deg))


@lru_cache(maxsize=64)
def clock_of(latitude_deg: float, longitude_deg: float) -> tuple[str, float]:
    """Name of the time zone at a place (deg) and its standard offset from UTC (h); nautical hours at sea.

    Reference: the IANA time zone database and simplified zone borders, both shipped.
    """
    from tzfpy import get_tz

    name = get_tz(longitude_deg, latitude_deg)
    if not name or name.startswith("Etc/"):
        hours = float(round(longitude_deg / 15.0))
        return "at sea", hours
    offsets = [datetime(2025, month, 15, tzinfo=UTC).astimezone(ZoneInfo(name)).utcoffset() for month in (1, 7)]
    return name, min(o.total_seconds() for o in offsets if o is not None) / 3600.0
