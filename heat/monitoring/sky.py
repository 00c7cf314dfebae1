"""The sun of a measured day: read on the level or on the plane, estimated from the clouds, or a clear sky scaled."""

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from heat.design import Design
from heat.sun.plane import tilted_irradiance
from heat.sun.site import sun_of
from heat.weather.solar_position import SunYear
from heat.weather.split import erbs_diffuse_share
from heat.weather.year import WeatherYear

Array = NDArray[np.float64]
CLOUD_A, CLOUD_B = 0.75, 3.4
"""Global sun under cloud, share of the clear sky: ``1 - 0.75 (N/8)^3.4``. Source: Kasten & Czeplak (1980), Solar Energy
24, 177-189."""
CLOUD_BAND = 0.25
"""How far the sun under an assumption of cloud may be off (share, one standard deviation at half cover). Source: own
estimate from the scatter in Kasten & Czeplak's figures."""
SEARCH = 24
"""Halvings in the search for the level sun behind a sun on the plane (1)."""


def clear_w_m2(sun: SunYear) -> Array:
    """Global sun under a clear sky on the level in 8,760 h (W/m²): ``1098 cos z exp(-0.057 / cos z)``.

    Parameters
    ----------
    sun
        The sun over the site, 8,760 hours.

    Returns
    -------
    ndarray, shape (8760,)
        Global sun under a clear sky on the level in 8,760 h (W/m²): ``1098 cos z exp(-0.057 / cos z)``.

    References
    ----------
    Haurwitz (1945), Journal of Meteorology 2, 154-166.
    """
    up = np.maximum(sun.cos_zenith, 0.0)
    return np.where(up > 0.0, 1098.0 * up * np.exp(-0.057 / np.maximum(up, 1e-3)), 0.0)


def cloudy_share(eighths: Array) -> Array:
    """Share of the clear sky's sun (1) under cloud (eighths, 0 to 8).

    Parameters
    ----------
    eighths
        Cloud (eighths).

    Returns
    -------
    ndarray
        Share of the clear sky's sun (1).

    References
    ----------
    Kasten & Czeplak (1980).
    """
    return 1.0 - CLOUD_A * (np.clip(eighths, 0.0, 8.0) / 8.0) ** CLOUD_B


def cloud_uncertainty(eighths: Array) -> Array:
    """How far the sun under an assumption of cloud may be off (share of the clear sky, 1): most at half cover and
    more.

    Parameters
    ----------
    eighths
        Cloud (eighths).

    Returns
    -------
    ndarray
        How far the sun under an assumption of cloud may be off (share of the clear sky, 1): most at half
        cover and more.
    """
    cover = np.clip(eighths, 0.0, 8.0) / 8.0
    return CLOUD_BAND * np.clip(2.0 * cover, 0.2, 1.0)


def split(ghi_w_m2: Array, sun: SunYear) -> tuple[Array, Array]:
    """DNI and DHI (W/m²) of global sun (W/m²) by Erbs, Klein & Duffie (1982).

    Parameters
    ----------
    ghi_w_m2
        Global horizontal irradiance (W/m²).
    sun
        The sun over the site, 8,760 hours.

    Returns
    -------
    tuple[Array, Array]
        DNI and DHI (W/m²) of global sun (W/m²) by Erbs, Klein & Duffie (1982).
    """
    up = np.maximum(sun.cos_zenith, 0.0)
    above = sun.extraterrestrial_w_m2 * up
    clearness = np.where(above > 20.0, ghi_w_m2 / np.maximum(above, 20.0), 0.0)
    low = sun.cos_zenith < 0.05
    diffuse = np.where(low, ghi_w_m2, ghi_w_m2 * erbs_diffuse_share(clearness))
    return np.where(low, 0.0, (ghi_w_m2 - diffuse) / np.maximum(up, 0.05)), diffuse


def level_behind(plane_w_m2: Array, design: Design, weather: WeatherYear) -> Array:
    """The level sun (W/m², 8,760 h) whose share on the design's open plane is what was read there (W/m²; NaN where
    nothing was): by halving, as the plane's sun grows with the level one.

    Parameters
    ----------
    plane_w_m2
        Irradiance read on the plane (W/m²); NaN where none was.
    design
        The design.
    weather
        The weather, 8,760 hours.

    Returns
    -------
    ndarray, shape (8760,)
        The level sun (W/m², 8,760 h) whose share on the design's open plane is what was read there (W/m²; NaN
        where nothing was): by halving, as the plane's sun grows with the level one.
    """
    sun = sun_of(design, weather)
    low = np.zeros(plane_w_m2.shape)
    high = np.maximum(1.2 * sun.extraterrestrial_w_m2 * np.maximum(sun.cos_zenith, 0.0), 1.0)
    for _ in range(SEARCH):
        middle = 0.5 * (low + high)
        beam, diffuse = split(middle, sun)
        tried = replace(weather, ghi_w_m2=middle, dni_w_m2=beam, dhi_w_m2=diffuse)
        on = tilted_irradiance(
            tried,
            sun,
            tilt_deg=design.plane.tilt_deg,
            azimuth_deg=design.plane.azimuth_deg,
            reflectance=design.site.ground_reflectance,
            sky=design.numerics.sky,
        ).total_w_m2()
        short = on < np.nan_to_num(plane_w_m2)
        low, high = np.where(short, middle, low), np.where(short, high, middle)
    return np.where(np.isfinite(plane_w_m2), 0.5 * (low + high), np.nan)


def measured_weather(
    design: Design,
    weather: WeatherYear,
    first: int,
    *,
    level: Array | None = None,
    plane: Array | None = None,
    cloud: Array | None = None,
    air_c: Array | None = None,
    guess: float = 0.0,
) -> WeatherYear:
    """A weather year with what was read put in from hour ``first`` (h) on, hour by hour (NaN where nothing was).

    Sun on the level (W/m²), else on the plane (W/m²), else cloud (eighths); air (°C). What was not read stays.

    Parameters
    ----------
    design
        The design.
    weather
        The weather, 8,760 hours.
    first
        The first hour of the year (h).
    level
        Irradiance read on the level (W/m²); NaN where none was.
    plane
        The plane of the collectors (deg, m).
    cloud
        Cloud (eighths).
    air_c
        Outdoor air read in each hour (°C); NaN where none was.
    guess
        By so many of its uncertainties the cloud's sun is moved (1).

    Returns
    -------
    WeatherYear
        A weather year with what was read put in from hour ``first`` (h) on, hour by hour (NaN where nothing
        was).
    """
    sun = sun_of(design, weather)
    ghi, air = weather.ghi_w_m2.copy(), weather.air_c.copy()
    known = np.full(ghi.shape, np.nan)

    def put(values: Array | None, into: Array) -> Array:
        if values is not None:
            part = into[first : first + len(values)]
            part[:] = np.where(np.isfinite(values), values, part)
        return into

    if cloud is not None:
        eighths = put(cloud, np.full(ghi.shape, np.nan))
        cover = np.nan_to_num(eighths)
        share = np.clip(cloudy_share(cover) + guess * cloud_uncertainty(cover), 0.02, 1.1)
        known = np.where(np.isfinite(eighths), clear_w_m2(sun) * share, known)
    if plane is not None:
        behind = level_behind(put(plane, np.full(ghi.shape, np.nan)), design, weather)
        known = np.where(np.isfinite(behind), behind, known)
    known = put(level, known)
    beam, diffuse = split(np.nan_to_num(known), sun)
    there = np.isfinite(known)
    return replace(
        weather,
        ghi_w_m2=np.where(there, known, ghi),
        dni_w_m2=np.where(there, beam, weather.dni_w_m2),
        dhi_w_m2=np.where(there, diffuse, weather.dhi_w_m2),
        air_c=put(air_c, air),
    )
