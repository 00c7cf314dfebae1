"""What stands before the sun: skyline, trees, a roof edge, the row in front.

Beam is taken away hour by hour; sky light by the share of the tilted hemisphere that is hidden, integrated
over directions once for each month.
"""

from dataclasses import dataclass
from functools import lru_cache
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from heat.constants import HOURS_OF_MONTH
from heat.design.place import Obstacle, Plane, Site, SkylinePoint, Tree
from heat.sun.plane import PlaneSun, tilted_irradiance
from heat.weather.solar_position import SunYear
from heat.weather.year import WeatherYear

Array = NDArray[np.float64]
Mask = NDArray[np.bool_]
MONTH_OF_HOUR: NDArray[np.int64] = np.repeat(np.arange(12), np.array(HOURS_OF_MONTH))
JULY = 6


@dataclass(frozen=True)
class Shade:
    """What is left of the beam (8,760 h), of sky and ground light (8,760 h): shares (0 to 1, no unit)."""

    beam: Array
    sky: Array
    ground: Array


def skyline_altitude(site: "Site | Horizon", bearing_deg: Array) -> Array:
    """Altitude of the skyline (deg) at bearings (deg): straight between its points, round the compass.

    Parameters
    ----------
    site
        The site.
    bearing_deg
        Bearing, clockwise from true north (deg).

    Returns
    -------
    ndarray
        Altitude of the skyline (deg).
    """
    if not site.skyline:
        return np.zeros_like(bearing_deg)
    points = sorted((p.bearing_deg % 360.0, p.altitude_deg) for p in site.skyline)
    at, height = zip(*points, strict=True)
    return np.interp(bearing_deg % 360.0, at, height, period=360.0)


class Horizon(NamedTuple):
    """What stands round a site: skyline, trees, obstacles (no unit)."""

    skyline: tuple[SkylinePoint, ...]
    trees: tuple[Tree, ...]
    obstacles: tuple[Obstacle, ...]


@lru_cache(maxsize=32)
def _sky_through(horizon: Horizon, month: int) -> Array:
    """Share of the sky light (0 to 1) that passes, in every direction of the rays, in a month (0 to 11)."""
    bearing, altitude, _weight = _rays(0.0, 0.0)
    return lets_through(horizon, bearing, altitude, np.full(altitude.shape, month, dtype=np.int64))


def lets_through(site: "Site | Horizon", bearing_deg: Array, altitude_deg: Array, month: NDArray[np.int64]) -> Array:
    """Share of light (0 to 1, no unit) from bearing and altitude (deg) that passes, by month (0 to 11).

    Parameters
    ----------
    site
        The site.
    bearing_deg
        Bearing, clockwise from true north (deg).
    altitude_deg
        Altitude (deg).
    month
        Month of each, 0 for January.

    Returns
    -------
    ndarray
        Share of light (0 to 1, no unit).
    """
    share = np.where(altitude_deg > skyline_altitude(site, bearing_deg), 1.0, 0.0)
    for tree in site.trees:
        span = (tree.to_deg - tree.from_deg) % 360.0
        inside = ((bearing_deg - tree.from_deg) % 360.0 <= span) & (altitude_deg <= tree.altitude_deg)
        share = share * np.where(inside, np.array(tree.transmittance)[month], 1.0)
    for wall in site.obstacles:
        off = (bearing_deg - wall.bearing_deg + 180.0) % 360.0 - 180.0
        edge = np.tan(np.radians(altitude_deg)) * wall.distance_m
        hidden = (np.abs(off) <= wall.half_deg) & (edge <= wall.height_m * np.cos(np.radians(off)))
        share = np.where(hidden, 0.0, share)
    return share


def _rays(tilt_deg: float, azimuth_deg: float) -> tuple[Array, Array, Array]:
    """Bearings, altitudes (deg) and weights of the sky light a tilted plane receives (sum 1)."""
    bearing, altitude = np.meshgrid(np.arange(1.0, 360.0, 2.0), np.arange(1.0, 90.0, 2.0))
    elevation = np.radians(altitude)
    tilt = np.radians(tilt_deg)
    toward = np.cos(np.radians(bearing - azimuth_deg))
    incidence = np.sin(elevation) * np.cos(tilt) + np.cos(elevation) * np.sin(tilt) * toward
    weight = np.maximum(incidence, 0.0) * np.cos(elevation)
    return bearing, altitude, weight / weight.sum()


def _profile_tangent(sun: SunYear, azimuth_deg: float) -> tuple[Array, Mask]:
    """Tangent of the sun's profile angle before a wall facing azimuth_deg; whether it stands before it."""
    sin_zenith = np.sqrt(np.maximum(1.0 - sun.cos_zenith**2, 1e-12))
    ahead = sin_zenith * np.cos(np.radians(sun.azimuth_deg - azimuth_deg))
    return sun.cos_zenith / np.where(np.abs(ahead) < 1e-9, 1e-9, ahead), ahead > 1e-9


def overhang_beam(sun: SunYear, plane: Plane) -> Array:
    """Share of a plane's slope (0 to 1, no unit) in the sun below a roof edge of depth and gap (m).

    Parameters
    ----------
    sun
        The sun over the site, 8,760 hours.
    plane
        The plane of the collectors (deg, m).

    Returns
    -------
    ndarray
        Share of a plane's slope (0 to 1, no unit).
    """
    edge = plane.overhang
    tangent, ahead = _profile_tangent(sun, plane.azimuth_deg)
    tilt = np.radians(plane.tilt_deg)
    # The edge stands `gap` above and `depth` before the upper end; its shadow runs down at the profile angle.
    depth, gap = edge.depth_m, edge.gap_m
    shadow = (depth * tangent - gap) / np.maximum(np.sin(tilt) + np.cos(tilt) * np.maximum(tangent, 0.0), 1e-6)
    covered = np.clip(shadow / plane.slope_m, 0.0, 1.0)
    return np.where(ahead & (sun.cos_zenith > 0.0), 1.0 - covered, 1.0)


def overhang_hides(plane: Plane) -> float:
    """Share of sky light (0 to 1, no unit) a long roof edge hides from the middle of a slope (m).

    Parameters
    ----------
    plane
        The plane of the collectors (deg, m).

    Returns
    -------
    float
        Share of sky light (0 to 1, no unit) a long roof edge hides from the middle of a slope (m).
    """
    edge = plane.overhang
    tilt = np.radians(plane.tilt_deg)
    up = edge.gap_m + 0.5 * plane.slope_m * np.sin(tilt)
    out = edge.depth_m - 0.5 * plane.slope_m * np.cos(tilt)
    angle = np.degrees(np.arctan2(up, max(out, 1e-9)))
    bearing, altitude, weight = _rays(plane.tilt_deg, plane.azimuth_deg)
    ahead = np.cos(np.radians(bearing - plane.azimuth_deg))
    profile = np.degrees(np.arctan2(np.tan(np.radians(altitude)), np.where(ahead > 1e-6, ahead, 1e-6)))
    return float(weight[(profile > angle) & (ahead > 0)].sum()) if out > 0 else 0.0


def rows_beam(sun: SunYear, plane: Plane) -> Array:
    """Share of the whole field (0 to 1, no unit) in the sun, of rows one behind the other on level ground (m).

    ``shaded = 1 - spacing sin(p)/(slope sin(p + tilt))`` with the profile angle p, for every row but the first.

    Parameters
    ----------
    sun
        The sun over the site, 8,760 hours.
    plane
        The plane of the collectors (deg, m).

    Returns
    -------
    ndarray
        Share of the whole field (0 to 1, no unit).

    References
    ----------
    Appelbaum & Bany (1979), Solar Energy 23, 497-507.
    """
    tangent, ahead = _profile_tangent(sun, plane.azimuth_deg)
    profile = np.arctan(np.maximum(tangent, 1e-6))
    tilt = np.radians(plane.tilt_deg)
    free = plane.rows.spacing_m * np.sin(profile) / (plane.slope_m * np.maximum(np.sin(profile + tilt), 1e-6))
    shaded = np.clip(1.0 - free, 0.0, 1.0)
    share = 1.0 - shaded * (plane.rows.count - 1) / plane.rows.count
    return np.where(ahead & (sun.cos_zenith > 0.0), share, 1.0)


def rows_sky(plane: Plane) -> float:
    """Share of sky light (0 to 1, no unit) the rows behind keep, from the middle of the slope, over all rows.

    Parameters
    ----------
    plane
        The plane of the collectors (deg, m).

    Returns
    -------
    float
        Share of sky light (0 to 1, no unit) the rows behind keep, from the middle of the slope, over all rows.
    """
    tilt = np.radians(plane.tilt_deg)
    top = 0.5 * plane.slope_m * np.sin(tilt)
    away = plane.rows.spacing_m - 0.5 * plane.slope_m * np.cos(tilt)
    block = np.degrees(np.arctan2(top, max(away, 1e-3)))
    bearing, altitude, weight = _rays(plane.tilt_deg, plane.azimuth_deg)
    ahead = np.cos(np.radians(bearing - plane.azimuth_deg))
    profile = np.degrees(np.arctan2(np.tan(np.radians(altitude)), np.where(ahead > 1e-6, ahead, 1e-6)))
    hidden = float(weight[(profile < block) & (ahead > 0)].sum())
    return 1.0 - hidden * (plane.rows.count - 1) / plane.rows.count


def open_sky(weather: WeatherYear, sun: SunYear, site: Site, plane: Plane, sky: str) -> PlaneSun:
    """Sun on a plane (W/m²) with nothing before it, the ground by the site's reflectance.

    Parameters
    ----------
    weather
        The weather, 8,760 hours.
    sun
        The sun over the site, 8,760 hours.
    site
        The site.
    plane
        The plane of the collectors (deg, m).
    sky
        Sky model, one of SKY_MODELS.

    Returns
    -------
    PlaneSun
        Sun on a plane (W/m²).
    """
    ground: Array | float = site.ground_reflectance
    if site.ground_by_month is not None:
        ground = np.asarray(site.ground_by_month)[MONTH_OF_HOUR]
    return tilted_irradiance(
        weather, sun, tilt_deg=plane.tilt_deg, azimuth_deg=plane.azimuth_deg, reflectance=ground, sky=sky
    )


def has_horizon(site: Site) -> bool:
    """Whether a skyline, a tree or an obstacle is known.

    Parameters
    ----------
    site
        The site.

    Returns
    -------
    bool
        Whether a skyline, a tree or an obstacle is known.
    """
    return bool(site.skyline or site.trees or site.obstacles)


def sky_view_fraction(site: Site, plane: Plane) -> float:
    """Share of the sky light on a plane that skyline, trees in leaf and obstacles leave (0 to 1, no unit).

    Weighted by the cosine of incidence over the tilted hemisphere, an even sky.

    Parameters
    ----------
    site
        The site.
    plane
        The plane of the collectors (deg, m).

    Returns
    -------
    float
        Share of the sky light on a plane that skyline, trees in leaf and obstacles leave (0 to 1, no unit).
    """
    _bearing, _height, weight = _rays(plane.tilt_deg, plane.azimuth_deg)
    return float((weight * _sky_through(Horizon(site.skyline, site.trees, site.obstacles), JULY)).sum())


def shade_on(site: Site, plane: Plane, sun: SunYear) -> Shade | None:
    """Everything that shades a plane in 8,760 hours (shares); None where nothing does.

    Parameters
    ----------
    site
        The site.
    plane
        The plane of the collectors (deg, m).
    sun
        The sun over the site, 8,760 hours.

    Returns
    -------
    Shade | None
        Everything that shades a plane in 8,760 hours (shares); None where nothing does.
    """
    if not (has_horizon(site) or plane.overhang.fitted or plane.rows.fitted):
        return None
    altitude = np.degrees(np.arcsin(np.clip(sun.cos_zenith, -1.0, 1.0)))
    beam = np.ones_like(altitude)
    sky_by_month = np.ones(12)
    if has_horizon(site):
        beam = lets_through(site, sun.azimuth_deg, altitude, MONTH_OF_HOUR)
        _bearing, _height, weight = _rays(plane.tilt_deg, plane.azimuth_deg)
        horizon = Horizon(site.skyline, site.trees, site.obstacles)
        alike: dict[tuple[float, ...], float] = {}  # months whose trees let the same through
        for month in range(12):
            leaves = tuple(tree.transmittance[month] for tree in site.trees)
            if leaves not in alike:
                alike[leaves] = float((weight * _sky_through(horizon, month)).sum())
            sky_by_month[month] = alike[leaves]
    if plane.overhang.fitted:
        beam = beam * overhang_beam(sun, plane)
        sky_by_month = sky_by_month * (1.0 - overhang_hides(plane))
    if plane.rows.fitted:
        beam = beam * rows_beam(sun, plane)
        sky_by_month = sky_by_month * rows_sky(plane)
    sky = sky_by_month[MONTH_OF_HOUR]
    return Shade(beam, sky, np.ones_like(beam))
