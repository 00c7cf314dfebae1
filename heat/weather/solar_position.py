"""Where the sun stands, hour by hour."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import pandas as pd
from numpy.typing import NDArray
from pvlib import irradiance, solarposition

from heat.constants import HOURS, SOLAR_CONSTANT

Array = NDArray[np.float64]
REFERENCE_YEAR = 1990  # a typical year has no year of its own; 1990 is no leap year


@dataclass(frozen=True)
class SunYear:
    """The sun in 8,760 hours: cos of zenith (no unit), azimuth (deg clockwise from north),
    normal irradiance outside the atmosphere (W/m²).
    """

    cos_zenith: Array
    azimuth_deg: Array
    extraterrestrial_w_m2: Array


def _solar_position(times: pd.DatetimeIndex, lat: float, lon: float, elevation: float) -> pd.DataFrame:
    return solarposition.spa_python(times, lat, lon, altitude=elevation, how="numpy")


@lru_cache(maxsize=64)
def sun_positions(
    latitude_deg: float, longitude_deg: float, elevation_m: float, utc_offset_h: float, sun_moment_h: float = 0.5
) -> SunYear:
    """The sun for 8,760 hours at a place (degrees, m) and clock (h): cos z, azimuth (deg), W/m².

    Position at ``sun_moment_h`` past each hour (h); where that is 0.5, hours of sunrise and sunset take the middle
    of their lit part. Geometric zenith, without refraction.

    Parameters
    ----------
    latitude_deg
        Latitude, north positive (deg).
    longitude_deg
        Longitude, east positive (deg).
    elevation_m
        Height above the sea (m).
    utc_offset_h
        Standard time as an offset from UTC (h).
    sun_moment_h
        Moment within the hour at which the sun is taken (h).

    Returns
    -------
    SunYear
        The sun for 8,760 hours at a place (degrees, m) and clock (h): cos z, azimuth (deg), W/m².

    References
    ----------
    Reda & Andreas (2004), NREL/TP-560-34302; Spencer (1971) for the distance.
    """
    start = pd.Timestamp(REFERENCE_YEAR, 1, 1, tz="UTC") - pd.Timedelta(hours=utc_offset_h)
    times = pd.date_range(start, periods=HOURS, freq="h") + pd.Timedelta(hours=sun_moment_h)
    position = _solar_position(times, latitude_deg, longitude_deg, elevation_m)
    cos_zenith = np.cos(np.radians(position["zenith"].to_numpy()))
    azimuth = position["azimuth"].to_numpy().copy()
    if sun_moment_h == 0.5:
        cos_zenith, azimuth = _middle_of_lit_part(
            times, cos_zenith, azimuth, (latitude_deg, longitude_deg, elevation_m)
        )
    extra = irradiance.get_extra_radiation(times, solar_constant=SOLAR_CONSTANT, method="spencer").to_numpy()
    for array in (cos_zenith, azimuth, extra):
        array.flags.writeable = False
    return SunYear(cos_zenith, azimuth, extra)


def _middle_of_lit_part(
    times: pd.DatetimeIndex, cos_zenith: Array, azimuth: Array, place: tuple[float, float, float]
) -> tuple[Array, Array]:
    """Replace the position in hours that the horizon cuts by that amid their lit part.

    The crossing is found by linear interpolation of cos z between neighbouring hours.
    """
    before = np.roll(cos_zenith, 1)
    after = np.roll(cos_zenith, -1)
    at_start = (before + cos_zenith) / 2.0
    at_end = (cos_zenith + after) / 2.0
    cut = np.flatnonzero(at_start * at_end < 0.0)
    crossing = at_start[cut] / (at_start[cut] - at_end[cut])
    rising = at_end[cut] > 0.0
    middle = np.where(rising, (1.0 + crossing) / 2.0, crossing / 2.0)
    stamps = times[cut] + pd.to_timedelta((middle - 0.5) * 3600.0, unit="s")
    position = _solar_position(stamps, *place)
    cos_zenith = cos_zenith.copy()
    cos_zenith[cut] = np.cos(np.radians(position["zenith"].to_numpy()))
    azimuth[cut] = position["azimuth"].to_numpy()
    return cos_zenith, azimuth
