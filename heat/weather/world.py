"""A rough climate of anywhere: air and rain from a half-degree grid, the sun by a rule from rain, warmth and latitude.

For a first estimate where no weather file is at hand. How far its sun may be off says
:func:`heat.weather.known_sun.sun_band`.
"""

from dataclasses import dataclass, replace
from functools import cache, lru_cache
from pathlib import Path

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from heat.common.compiled import PACKAGE
from heat.constants import HOURS_OF_MONTH
from heat.errors import InputError
from heat.weather.cold import by_rule, stretched
from heat.weather.known_sun import left_over, sun_band
from heat.weather.place import ground_m, standard_offset_h
from heat.weather.solar_position import sun_positions
from heat.weather.synthetic import CLEARNESS, MonthlyMeans, synthetic_year
from heat.weather.year import Note, WeatherYear, monthly_means, monthly_sums

Array = NDArray[np.float64]
DATA = PACKAGE / "data" / "world" / "climate_half_degree.npz"
RULE = (-0.2495, -0.0319, 0.0465, 0.2259)
"""``log(GHI/clear) = a + b sqrt(rain) + c |latitude|/50 + d air/20`` (rain in mm a month, °C). Fitted on the yearly
sums of 274 places; what it leaves over at them is spread to their neighbours (known_sun). Leave-one-out in
docs/validation.md."""
MOST_OF_CLEAR = 1.03
"""A month has no more than this of a clear one's sun (no unit). Source: the fit; the clear sky's own uncertainty."""
LAPSE_K_M = 0.0065
"""Air cools with height (K/m). Source: ISO 2533:1975, standard atmosphere."""
FURTHEST_DEG = 66.0
"""Latitudes a site may have (deg). Source: the range of the document's field."""
KIND = "rough"
"""The kind of such a year (no unit): what pages ask to mark figures that rest on it."""
DAYS = (3, 8, 13, 18, 23, 28)
"""Days of each month whose clear sky is calculated (1). Source: our own choice; all days change a month by 0.2 %."""
CELL_DEG = 0.5


@dataclass(frozen=True)
class Rough:
    """Twelve rough means of a place: sun (kWh/m² a day), air there and in its cell (°C), rain (mm a month); its height
    (m).
    """

    ghi_kwh_m2_day: Array
    air_c: Array
    grid_air_c: Array
    rain_mm: Array
    elevation_m: float


@cache
def _grid() -> tuple[NDArray[np.int16], NDArray[np.uint8]]:
    """Air (fifths of a kelvin above 0 °C) and rain (8 times the root of mm a month), packed: 12 x 361 x 720."""
    with np.load(DATA) as stored:
        return stored["t"], stored["p"]


def _corners(latitude_deg: float, longitude_deg: float) -> list[tuple[int, int, float]]:
    """The four cells of the grid around a place (deg): row, column and weight (no unit); round the date line."""
    north = (90.0 - latitude_deg) / CELL_DEG
    east = (longitude_deg % 360.0) / CELL_DEG
    row, column = min(int(north), 359), int(east)
    down, right = north - row, east - column
    return [
        (row + i, (column + j) % 720, (down if i else 1.0 - down) * (right if j else 1.0 - right))
        for i in (0, 1)
        for j in (0, 1)
    ]


@lru_cache(maxsize=256)
def _cell_height_m(row: int, column: int) -> float:
    """Mean height (m) of a cell of the grid, from the map of heights that ships with pvlib (5 arc minutes)."""
    import h5py
    import pvlib

    latitude, longitude = 90.0 - CELL_DEG * row, CELL_DEG * column
    with h5py.File(Path(pvlib.__file__).parent / "data" / "Altitude.h5", "r") as stored:
        heights = stored["Altitude"]
        first_row = int(np.clip((90.0 - latitude) * 12.0 - 3, 0, heights.shape[0] - 6))
        first = int((longitude + 180.0) % 360.0 * 12.0) - 3
        columns = np.arange(first, first + 6) % heights.shape[1]
        block = np.stack([heights[first_row : first_row + 6, int(c)] for c in columns]).astype(float)
    return float(np.where(block == 255, 0.0, block * 28.0 - 450.0).mean())


@lru_cache(maxsize=64)
def clear_months(latitude_deg: float, longitude_deg: float, elevation_m: float) -> Array:
    """Horizontal sun of a clear day of each month (kWh/m² a day), at a place (deg, m).

    Parameters
    ----------
    latitude_deg
        Latitude, north positive (deg).
    longitude_deg
        Longitude, east positive (deg).
    elevation_m
        Height above the sea (m).

    Returns
    -------
    ndarray
        Horizontal sun of a clear day of each month (kWh/m² a day).

    References
    ----------
    Ineichen & Perez (2002), Solar Energy 73, 151-157, with Linke turbidity from the map that ships with pvlib;
    30-minute steps.
    """
    from pvlib.location import Location

    days = pd.DatetimeIndex([pd.Timestamp(2021, month, day, tz="UTC") for month in range(1, 13) for day in DAYS])
    minutes = pd.to_timedelta(np.arange(15, 1440, 30), unit="min")
    times = pd.DatetimeIndex(np.add.outer(days.values, minutes.values).ravel(), tz="UTC")
    place = Location(latitude_deg, longitude_deg, altitude=max(elevation_m, 0.0))
    clear = place.get_clearsky(times, model="ineichen")["ghi"].to_numpy()
    return np.asarray(clear.reshape(12, len(DAYS), 48).sum(axis=2).mean(axis=1) / 2000.0)


def rule_share(rain_mm: Array, air_c: Array, latitude_deg: float, rule: tuple[float, ...] = RULE) -> Array:
    """What clouds leave of a clear month's sun (no unit), by rain (mm a month), air (°C) and latitude (deg).

    Parameters
    ----------
    rain_mm
        Rain of each month (mm).
    air_c
        Outdoor air (°C).
    latitude_deg
        Latitude, north positive (deg).
    rule
        Coefficients of the rule (no unit).

    Returns
    -------
    ndarray
        What clouds leave of a clear month's sun (no unit), by rain (mm a month), air (°C) and latitude (deg).
    """
    a, b, c, d = rule
    logarithm = a + b * np.sqrt(rain_mm) + c * abs(latitude_deg) / 50.0 + d * air_c / 20.0
    return np.minimum(np.exp(logarithm), MOST_OF_CLEAR)


@lru_cache(maxsize=64)
def grid_means(latitude_deg: float, longitude_deg: float, elevation_m: float | None = None) -> Rough:
    """As :func:`rough_climate`, by the rule alone.

    Parameters
    ----------
    latitude_deg
        Latitude, north positive (deg).
    longitude_deg
        Longitude, east positive (deg).
    elevation_m
        Height above the sea (m).

    Returns
    -------
    Rough
        Twelve rough means of a place (deg).

    Raises
    ------
    InputError
        Beyond the latitudes a site may have.
    """
    if not -FURTHEST_DEG <= latitude_deg <= FURTHEST_DEG:
        raise InputError("latitude_deg", latitude_deg, f"-{FURTHEST_DEG:g} to {FURTHEST_DEG:g} deg")
    longitude_deg = (longitude_deg + 180.0) % 360.0 - 180.0
    height = ground_m(latitude_deg, longitude_deg) if elevation_m is None else elevation_m
    air_5, rain_8 = _grid()
    air, rain, under = np.zeros(12), np.zeros(12), 0.0
    for row, column, weight in _corners(latitude_deg, longitude_deg):
        air += weight * air_5[:, row, column] / 5.0
        rain += weight * (rain_8[:, row, column] / 8.0) ** 2
        under += weight * _cell_height_m(row, column)
    share = rule_share(rain, air, latitude_deg)
    sun = clear_months(latitude_deg, longitude_deg, height) * share
    return Rough(sun, air - LAPSE_K_M * (max(height, 0.0) - max(under, 0.0)), air, rain, height)


@lru_cache(maxsize=64)
def rough_climate(latitude_deg: float, longitude_deg: float, elevation_m: float | None = None) -> Rough:
    """Twelve rough means of a place (deg), at its height (m) or that of the map.

    Air: the grid's, by the difference of height.

    Parameters
    ----------
    latitude_deg
        Latitude, north positive (deg).
    longitude_deg
        Longitude, east positive (deg).
    elevation_m
        Height above the sea (m).

    Returns
    -------
    Rough
        Twelve rough means of a place (deg).

    Raises
    ------
    InputError
        Beyond the latitudes a site may have.

    References
    ----------
    ERA5 monthly means 2000-2025, Copernicus Climate Change Service.
    """
    means = grid_means(latitude_deg, longitude_deg, elevation_m)
    more, _spread = left_over(latitude_deg, longitude_deg)
    most = MOST_OF_CLEAR * clear_months(latitude_deg, (longitude_deg + 180.0) % 360.0 - 180.0, means.elevation_m)
    return replace(means, ghi_kwh_m2_day=np.minimum(means.ghi_kwh_m2_day * np.exp(more), most))


def rough_year(
    latitude_deg: float, longitude_deg: float, elevation_m: float | None = None, name: str = "", seed: int = 1
) -> WeatherYear:
    """A year of a place (deg, m) made of its rough means (W/m², °C): kind ``rough``, with its uncertainty among the
    notes.

    Daily range, humidity and wind are the synthetic year's usual ones.

    Parameters
    ----------
    latitude_deg
        Latitude, north positive (deg).
    longitude_deg
        Longitude, east positive (deg).
    elevation_m
        Height above the sea (m).
    name
        Name of the year.
    seed
        Seed of the random numbers.

    Returns
    -------
    WeatherYear
        A year of a place (deg, m) made of its rough means (W/m², °C): kind ``rough``, with its uncertainty
        among the notes.

    Raises
    ------
    InputError
        Beyond a site's latitudes.
    """
    rough = rough_climate(latitude_deg, longitude_deg, elevation_m)
    offset = standard_offset_h(latitude_deg, longitude_deg)
    year = synthetic_year(
        MonthlyMeans(
            ghi_kwh_m2_day=within_reach(rough.ghi_kwh_m2_day, latitude_deg), air_c=tuple(map(float, rough.air_c))
        ),
        name=name or f"Rough climate of {abs(latitude_deg):.2f}° {'N' if latitude_deg >= 0 else 'S'}",
        latitude_deg=latitude_deg,
        longitude_deg=longitude_deg,
        elevation_m=max(rough.elevation_m, -430.0),
        utc_offset_h=offset,
        seed=seed,
    )
    off = 100.0 * sun_band(latitude_deg, longitude_deg)
    design_c, _lowest_c = by_rule(float(rough.air_c.min()))
    year = replace(year, air_c=stretched(year.air_c, design_c))
    notes = (
        Note(
            "warning",
            f"A rough climate: its sun may be off by {off:.0f} % in the year (one place in ten "
            "by more; fog coasts and basins by far more), and by a third in a month. A weather file or twelve means "
            "of the place are better.",
        ),
        Note(
            "info",
            "Air and rain: ERA5 monthly means 2000-2025, Copernicus Climate Change Service; the sun by a rule "
            "from rain, warmth and latitude. Daily range, humidity and wind are assumed; cold days reach the design "
            f"air of {design_c:.0f} °C that follows from the coldest month.",
        ),
        *year.notes,
    )
    return replace(year, kind=KIND, notes=notes)


def with_sun(year: WeatherYear, share: float) -> WeatherYear:
    """A year made anew from twelve means that have a share more (or, negative, less) sun; its air stays.

    Less sun is also a smaller share of beam: scaling beam and sky alike understates what it does to a solar fraction.

    Parameters
    ----------
    year
        The weather year.
    share
        Share by which the sun is more, negative for less (no unit).

    Returns
    -------
    WeatherYear
        A year with a share more (or, negative, less) sun (W/m²).
    """
    days = np.array(HOURS_OF_MONTH) / 24.0
    means = monthly_sums(year.ghi_w_m2) / 1000.0 / days * (1.0 + share)
    made = synthetic_year(
        MonthlyMeans(
            ghi_kwh_m2_day=within_reach(means, year.latitude_deg),
            air_c=tuple(float(c) for c in monthly_means(year.air_c)),
        ),
        name=year.name,
        latitude_deg=year.latitude_deg,
        longitude_deg=year.longitude_deg,
        elevation_m=year.elevation_m,
        utc_offset_h=year.utc_offset_h,
        seed=1,
    )
    return replace(year, ghi_w_m2=made.ghi_w_m2, dni_w_m2=made.dni_w_m2, dhi_w_m2=made.dhi_w_m2)


def within_reach(ghi_kwh_m2_day: Array, latitude_deg: float) -> tuple[float, ...]:
    """Means of the sun (kWh/m² a day) within what a synthetic year of that latitude (deg) can have.

    Parameters
    ----------
    ghi_kwh_m2_day
        Global horizontal irradiation (kWh/m² a day).
    latitude_deg
        Latitude, north positive (deg).

    Returns
    -------
    tuple[float, ...]
        Means of the sun (kWh/m² a day) within what a synthetic year of that latitude (deg) can have.
    """
    above = above_months(latitude_deg)
    low, high = (share * above for share in CLEARNESS)
    return tuple(float(v) for v in np.clip(ghi_kwh_m2_day, low * 1.02, high * 0.98))


@lru_cache(maxsize=64)
def above_months(latitude_deg: float) -> Array:
    """Horizontal sun above the air in each month (kWh/m² a day) at a latitude (deg), from the year's own sun.

    Parameters
    ----------
    latitude_deg
        Latitude, north positive (deg).

    Returns
    -------
    ndarray
        Horizontal sun above the air in each month (kWh/m² a day).
    """
    sun = sun_positions(latitude_deg, 0.0, 0.0, 0.0)
    hourly = sun.extraterrestrial_w_m2 * np.maximum(sun.cos_zenith, 0.0)
    return np.asarray(monthly_sums(hourly) / 1000.0 / (np.array(HOURS_OF_MONTH) / 24.0))
