"""Sun on planes in a weather year: what their horizon takes, and the best way to face, kept a while."""

from threading import Lock

import numpy as np
from cachetools import LRUCache, cached
from numpy.typing import NDArray

from heat.design import Design
from heat.design.place import Plane, SurveyedPlane
from heat.sun.site import sun_of
from heat.sun.survey import Sun, best_orientation, plane_sun_account, sun_by_orientation
from heat.weather.year import WeatherYear
from web.projects.models import WeatherFile
from web.simulations.weather import weather_year

BEST_CACHED = 8


def as_plane(design: Design, surveyed: SurveyedPlane) -> Plane:
    """A surveyed plane with the design's collectors on it."""
    return design.plane.model_copy(
        update={
            "on": surveyed.key,
            "tilt_deg": surveyed.tilt_deg,
            "azimuth_deg": surveyed.azimuth_deg,
            "overhang": surveyed.overhang,
        }
    )


def on_plane(design: Design, file: WeatherFile, plane: Plane) -> Sun:
    """Sun on a plane and what its horizon takes."""
    moved, weather = design.model_copy(update={"plane": plane}), weather_year(file)
    return plane_sun_account(weather, sun_of(moved, weather), moved)


def best_plane(design: Design, file: WeatherFile) -> tuple[float, float, float]:
    """Best tilt and azimuth (deg) for the year's sun and that sun (kWh/m²), kept by weather and place."""
    return _best(design, weather_year(file), file.checksum)


MAP_TILTS, MAP_OFFS = (0.0, 15.0, 30.0, 45.0, 60.0, 75.0, 90.0), (-90.0, -60.0, -30.0, 0.0, 30.0, 60.0, 90.0)
"""Planes a map of orientations is drawn of (deg)."""


def sun_map(design: Design, file: WeatherFile) -> NDArray[np.float64]:
    """Sun of the year (kWh/m²) by tilt (rows) and bearing off the equator's (columns), kept by weather and place."""
    return _map(design, weather_year(file), file.checksum)


def _requested(design: Design, weather: WeatherYear, checksum: str) -> tuple[object, ...]:
    site = design.site
    place = site.latitude_deg, site.longitude_deg, site.elevation_m, site.ground_reflectance
    return checksum, *place, design.numerics.sky


@cached(LRUCache(BEST_CACHED), key=_requested, lock=Lock())
def _best(design: Design, weather: WeatherYear, checksum: str) -> tuple[float, float, float]:
    return best_orientation(weather, sun_of(design, weather), design.site.ground_reflectance, design.numerics.sky)


@cached(LRUCache(BEST_CACHED), key=_requested, lock=Lock())
def _map(design: Design, weather: WeatherYear, checksum: str) -> NDArray[np.float64]:
    return sun_by_orientation(weather, sun_of(design, weather), design, MAP_TILTS, MAP_OFFS)
