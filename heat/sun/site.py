"""The sun over a design's site and on its plane, with what shades it; kept for the last few planes."""

from collections import OrderedDict
from dataclasses import replace
from math import cos, radians
from threading import Lock

import numpy as np
from numpy.typing import NDArray

from heat.common.calendar import MONTH_OF_HOUR
from heat.design import Design, Mains, Plane
from heat.sun.mirror import mirror_beam, mirror_view
from heat.sun.plane import PlaneSun, ThrownBeam
from heat.sun.shade import open_sky, shade_on
from heat.weather.solar_position import SunYear, sun_positions
from heat.weather.year import WeatherYear

Array = NDArray[np.float64]
PLANES_CACHED = 8


def sun_of(design: Design, weather: WeatherYear) -> SunYear:
    """The sun over the design's site by the weather's clock (cos z, azimuth in deg, W/m²).

    Parameters
    ----------
    design
        The design.
    weather
        The weather, 8,760 hours.

    Returns
    -------
    SunYear
        The sun over the design's site by the weather's clock (cos z, azimuth in deg, W/m²).
    """
    site = design.site
    return sun_positions(
        site.latitude_deg, site.longitude_deg, site.elevation_m, weather.utc_offset_h, weather.sun_moment_h
    )


def plane_sun(weather: WeatherYear, design: Design) -> PlaneSun:
    """Sun (W/m²) on the design's plane in 8,760 h, with what shades it; the sun stands as seen from its site.

    Kept for the last few planes: an edit elsewhere need not calculate it again.

    Parameters
    ----------
    weather
        The weather, 8,760 hours.
    design
        The design.

    Returns
    -------
    PlaneSun
        Sun (W/m²).
    """
    site, plane = design.site, design.plane
    key = (id(weather), site.model_copy(update={"mains": Mains()}), plane, design.numerics.sky)
    with _PLANES_LOCK:
        for content_key, stored in _PLANES.items():
            if content_key == key:
                _PLANES.move_to_end(content_key)
                return stored[1]
    sun = sun_of(design, weather)
    result = open_sky(weather, sun, site, plane, design.numerics.sky)
    shade = shade_on(site, plane, sun)
    if shade is not None:
        result = replace(result, beam_w_m2=result.beam_w_m2 * shade.beam, sky_w_m2=result.sky_w_m2 * shade.sky)
    if plane.mirror.fitted:
        width = plane.width_m or design.system.collector.total_gross_m2 / plane.slope_m
        clear = weather.dni_w_m2 * (shade.beam if shade is not None else 1.0)
        result = mirrored(result, weather, sun, plane, width, clear)
    with _PLANES_LOCK:
        _PLANES[key] = (weather, result)  # holding the weather keeps its id from being reused
        while len(_PLANES) > PLANES_CACHED:
            _PLANES.popitem(last=False)
    return result


def mirrored(
    open_: PlaneSun, weather: WeatherYear, sun: SunYear, plane: Plane, width_m: float, clear_w_m2: Array
) -> PlaneSun:
    """The sun (W/m²) on a plane with its mirror: what that throws on and shows, less what it hides and shades.

    width_m (m): of the field; clear_w_m2 (W/m²): the beam that reaches the mirror.

    Parameters
    ----------
    open_
        The sun on the plane without the mirror.
    weather
        The weather, 8,760 hours.
    sun
        The sun over the site, 8,760 hours.
    plane
        The plane of the collectors (deg, m).
    width_m
        Width of the collector field (m).
    clear_w_m2
        Sun under a clear sky (W/m²).

    Returns
    -------
    PlaneSun
        The sun (W/m²).
    """
    thrown, lit = mirror_beam(sun, plane, width_m)
    view = mirror_view(plane, width_m)
    hidden, blind, sky_share = (v[MONTH_OF_HOUR] for v in (view.ground_hidden, view.sky_hidden, view.sky_mirrored))
    beams = tuple(ThrownBeam(clear_w_m2 * t.share, t.cos_incidence, t.cos_zenith, t.azimuth_deg) for t in thrown)
    ground_view = 0.5 * (1.0 - cos(radians(plane.tilt_deg)))  # of the ground, all that gives the plane its ground light
    left = max(ground_view, 1e-9)
    return replace(
        open_,
        beam_w_m2=open_.beam_w_m2 * lit,
        sky_w_m2=np.maximum(open_.sky_w_m2 - blind * weather.dhi_w_m2, 0.0),
        ground_w_m2=open_.ground_w_m2 * np.maximum(1.0 - hidden / left, 0.0),
        mirror_w_m2=sum((b.beam_w_m2 for b in beams), sky_share * weather.dhi_w_m2),
        thrown=beams,
    )


_PLANES: "OrderedDict[tuple[object, ...], tuple[WeatherYear, PlaneSun]]" = OrderedDict()
_PLANES_LOCK = Lock()
