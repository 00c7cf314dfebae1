"""What a survey is for: how much sun a plane gets, what its horizon takes, which way would be best, what fits."""

from dataclasses import dataclass
from math import floor

import numpy as np
from numpy.typing import NDArray

from heat.design import Design
from heat.design.place import Plane, Site, SurveyedPlane
from heat.sun.paths import DAY_21, declination_deg, path
from heat.sun.plane import tilted_irradiance
from heat.sun.shade import lets_through, open_sky, shade_on
from heat.weather.solar_position import SunYear
from heat.weather.year import WeatherYear, monthly_sums

Array = NDArray[np.float64]
WINDOW_H = (9.0, 15.0)
"""Solar hours that should be clear all year (h). Source: rule of the trade; most of a day's sun falls within."""
GAP_M = 0.05
"""Between neighbouring collectors (m). Source: our own choice, room for unions."""
WET_KG_M2 = 25.0
"""Flat collectors with fluid and frame (kg/m²), usual 18 to 30. Source: our own choice."""


@dataclass(frozen=True)
class Sun:
    """Sun on a plane by month (kWh/m²): under the open sky, lost to skyline and obstacles, to trees, to a roof edge;
    share of the 9-to-15 sun lost by month (0 to 1, no unit); sunlit hours lost in the year (h).
    """

    open_kwh_m2: Array
    to_skyline: Array
    to_trees: Array
    to_edge: Array
    window_open: Array
    window_lost: Array
    hours_lost: float

    @property
    def lost(self) -> Array:
        """Sun that something before the plane takes, by month (kWh/m²)."""
        return self.to_skyline + self.to_trees + self.to_edge

    @property
    def left(self) -> Array:
        """Sun that reaches the plane, by month (kWh/m²)."""
        return self.open_kwh_m2 - self.lost


def solar_hours(sun: SunYear) -> Array:
    """Solar time of day (h) of 8,760 positions: the hour at which each day's sun stands highest is 12.

    Parameters
    ----------
    sun
        The sun over the site, 8,760 hours.

    Returns
    -------
    ndarray, shape (8760,)
        Solar time of day (h).
    """
    height = sun.cos_zenith.reshape(365, 24)
    noon = np.argmax(height, axis=1)
    days = np.arange(365)
    before, peak, after = (height[days, (noon + k) % 24] for k in (-1, 0, 1))
    bend = np.minimum(before - 2.0 * peak + after, -1e-9)
    middle = noon + 0.5 * (before - after) / bend
    return np.asarray(((np.arange(24)[None, :] - middle[:, None] + 12.0) % 24.0).ravel())


def plane_sun_account(weather: WeatherYear, sun: SunYear, design: Design) -> Sun:
    """Sun on a design's plane and what takes it (kWh/m², h), without its own rows and mirror; ground light stays.

    Skyline and obstacles first, trees of what is left, then the roof edge.

    Parameters
    ----------
    weather
        The weather, 8,760 hours.
    sun
        The sun over the site, 8,760 hours.
    design
        The design.

    Returns
    -------
    Sun
        Sun on a design's plane and what takes it (kWh/m², h).
    """
    site = design.site
    plane = design.plane.model_copy(update={"rows": Plane().rows, "mirror": Plane().mirror})
    whole = open_sky(weather, sun, site, plane, design.numerics.sky)
    edgeless = plane.model_copy(update={"overhang": Plane().overhang})

    def left(stands: Site, on: Plane) -> Array:
        shade = shade_on(stands, on, sun)
        if shade is None:
            return whole.total_w_m2()
        return whole.beam_w_m2 * shade.beam + whole.sky_w_m2 * shade.sky + whole.ground_w_m2

    steps = [whole.total_w_m2(), left(site.model_copy(update={"trees": ()}), edgeless)]
    steps.append(left(site, edgeless) if site.trees else steps[-1])
    steps.append(left(site, plane) if plane.overhang.fitted else steps[-1])
    month = [monthly_sums(s) / 1000.0 for s in steps]
    hour = solar_hours(sun)
    window = (hour >= WINDOW_H[0]) & (hour < WINDOW_H[1])
    shade = shade_on(site, plane, sun)
    lit = whole.beam_w_m2 > 0.0
    hours_lost = 0.0 if shade is None else float((lit * (1.0 - shade.beam)).sum())
    return Sun(
        month[0],
        month[0] - month[1],
        month[1] - month[2],
        month[2] - month[3],
        monthly_sums(np.where(window, steps[0], 0.0)) / 1000.0,
        monthly_sums(np.where(window, steps[0] - steps[3], 0.0)) / 1000.0,
        hours_lost,
    )


def shaded_months(site: Site) -> tuple[int, ...]:
    """Months (0 to 11) in which something hides the sun between 9 and 15 h solar time on the 21st (no unit).

    Parameters
    ----------
    site
        The site.

    Returns
    -------
    tuple[int, ...]
        Months (0 to 11) in which something hides the sun between 9 and 15 h solar time on the 21st (no unit).
    """
    hours = np.arange(WINDOW_H[0], WINDOW_H[1] + 0.01, 0.25)
    found = []
    for month, day in enumerate(DAY_21):
        bearing, altitude = path(site.latitude_deg, declination_deg(day), hours)
        at = np.full(hours.shape, month, dtype=np.int64)
        if (lets_through(site, bearing, altitude, at)[altitude > 0.0] < 1.0).any():
            found.append(month)
    return tuple(found)


def best_orientation(weather: WeatherYear, sun: SunYear, reflectance: float, sky: str) -> tuple[float, float, float]:
    """Tilt and true azimuth (deg) with the most sun of the year under the open sky, and that sun (kWh/m²).

    Searched in steps of 20, 5 and 1 deg; ``reflectance`` of the ground (no unit), ``sky`` one of SKY_MODELS.

    Parameters
    ----------
    weather
        The weather, 8,760 hours.
    sun
        The sun over the site, 8,760 hours.
    reflectance
        Reflectance of the ground (no unit), one value or hourly.
    sky
        Sky model, one of SKY_MODELS.

    Returns
    -------
    tuple[float, float, float]
        Tilt and true azimuth (deg) with the most sun of the year under the open sky, and that sun (kWh/m²).
    """
    toward = 180.0 if weather.latitude_deg >= 0 else 0.0

    def yearly(tilt: float, off: float) -> float:
        on = tilted_irradiance(
            weather, sun, tilt_deg=tilt, azimuth_deg=(toward + off) % 360.0, reflectance=reflectance, sky=sky
        )
        return float(on.total_w_m2().sum()) / 1000.0

    best = (0.0, 35.0, 0.0)
    for step, reach in ((20.0, 2), (5.0, 2), (1.0, 2)):
        _, tilt, off = best
        around = [step * k for k in range(-reach, reach + 1)]
        best = max(
            (yearly(t, off + a), t, off + a) for t in {min(max(tilt + d, 0.0), 90.0) for d in around} for a in around
        )
    return best[1], (toward + best[2]) % 360.0, best[0]


def sun_by_orientation(
    weather: WeatherYear, sun: SunYear, design: Design, tilts: tuple[float, ...], offs: tuple[float, ...]
) -> Array:
    """Sun of the year (kWh/m²) under the open sky on planes of each tilt (deg; rows) and bearing off the equator's
    (deg, eastwards negative where it lies south; columns).

    Parameters
    ----------
    weather
        The weather, 8,760 hours.
    sun
        The sun over the site, 8,760 hours.
    design
        The design.
    tilts
        Tilts (deg).
    offs
        Bearings off the equator's (deg).

    Returns
    -------
    ndarray
        Sun of the year (kWh/m²).
    """
    toward = 180.0 if weather.latitude_deg >= 0 else 0.0
    on = lambda tilt, off: tilted_irradiance(
        weather,
        sun,
        tilt_deg=tilt,
        azimuth_deg=(toward + off) % 360.0,
        reflectance=design.site.ground_reflectance,
        sky=design.numerics.sky,
    ).total_w_m2()
    return np.array([[float(on(tilt, off).sum()) / 1000.0 for off in offs] for tilt in tilts])


def collectors_that_fit(plane: SurveyedPlane, slope_m: float, gross_m2: float) -> tuple[int, str]:
    """How many collectors (of length slope_m, m, and gross area, m²) fit a plane, and how they lie: upright or across.

    Parameters
    ----------
    plane
        The plane of the collectors (deg, m).
    slope_m
        Length of the plane up its slope (m).
    gross_m2
        Gross area of one collector (m²).

    Returns
    -------
    tuple[int, str]
        How many collectors (of length slope_m, m, and gross area, m²) fit a plane, and how they lie: upright or
        across.
    """
    wide = gross_m2 / slope_m

    def rows(along: float, up: float) -> int:
        return floor((plane.width_m + GAP_M) / (along + GAP_M)) * floor((plane.height_m + GAP_M) / (up + GAP_M))

    upright, across = rows(wide, slope_m), rows(slope_m, wide)
    return (across, "across") if across > upright else (upright, "upright")
