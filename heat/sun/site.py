"""The sun over a design's site and on its plane, with what shades it; kept for the last few planes."""

from collections import OrderedDict
from threading import Lock

from heat.design import Design, Mains
from heat.position import SunYear, sun_positions
from heat.sun.mirror import mirror_share
from heat.sun.plane import PlaneSun
from heat.sun.shade import open_sky, shade_on
from heat.weather.year import WeatherYear

PLANES_KEPT = 8


def sun_of(design: Design, weather: WeatherYear) -> SunYear:
    """The sun over the design's site by the weather's clock (cos z, azimuth in deg, W/m²)."""
    site = design.site
    return sun_positions(
        site.latitude_deg, site.longitude_deg, site.elevation_m, weather.utc_offset_h, weather.sun_moment_h
    )


def plane_sun(weather: WeatherYear, design: Design) -> PlaneSun:
    """Sun (W/m²) on the design's plane in 8,760 h, with what shades it; the sun stands as seen from its site.

    Kept for the last few planes: an edit elsewhere need not reckon it again.
    """
    site, plane = design.site, design.plane
    key = (id(weather), site.model_copy(update={"mains": Mains()}), plane, design.reckoning.sky)
    with _PLANES_LOCK:
        for kept_key, kept in _PLANES.items():
            if kept_key == key:
                _PLANES.move_to_end(kept_key)
                return kept[1]
    sun = sun_of(design, weather)
    result = open_sky(weather, sun, site, plane, design.reckoning.sky)
    shade = shade_on(site, plane, sun)
    beam, sky, mirror = result.beam_w_m2, result.sky_w_m2, None
    if shade is not None:
        beam, sky = beam * shade.beam, sky * shade.sky
    if plane.mirror.fitted:
        width = plane.width_m or design.system.collector.total_gross_m2 / plane.slope_m
        clear = shade.beam if shade is not None else 1.0
        mirror = weather.dni_w_m2 * mirror_share(sun, plane, width) * clear
    result = PlaneSun(beam, sky, result.ground_w_m2, result.cos_incidence, mirror)
    with _PLANES_LOCK:
        _PLANES[key] = (weather, result)  # holding the weather keeps its id from being reused
        while len(_PLANES) > PLANES_KEPT:
            _PLANES.popitem(last=False)
    return result


_PLANES: "OrderedDict[tuple[object, ...], tuple[WeatherYear, PlaneSun]]" = OrderedDict()
_PLANES_LOCK = Lock()
