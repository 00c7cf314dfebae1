"""A synthetic year from twelve means: honest weather for places without a measured year.

Daily clearness is drawn from the Hollands-Huget distribution in the order of a Gaussian AR(1)
process, spread over the hours by Collares-Pereira & Rabl with hourly noise, and split into beam
and diffuse by Erbs. The twelve means come out as they went in.
"""

from dataclasses import dataclass
from math import exp

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import brentq
from scipy.special import ndtr

from heat.common.documents import Document
from heat.constants import HOURS, HOURS_OF_MONTH
from heat.errors import InputError
from heat.weather.solar_position import SunYear
from heat.weather.split import erbs_diffuse_share
from heat.weather.year import Note, WeatherYear, monthly_means, monthly_sums, sun_year

Array = NDArray[np.float64]
DAY_LAG = 0.52
"""Lag of the Gaussian order of days (no unit). Ranking within the month lowers it: this comes out as a lag of 0.33 of
the clearness of successive days, as in real temperate years (0.28 and 0.35 of the two at hand; 0.29: Graham, Hollands &
Huget 1988, Solar Energy 40, 83-92), so that dull spells last as long."""
HOUR_LAG = 0.54  # Aguiar & Collares-Pereira (1992), Solar Energy 49, 167-174
HOUR_SPREAD = 0.35
TEMPERATURE_LAG = 0.6
DARK_WH_M2 = 1.0
"""Sun above the air of a day (Wh/m²) below which a month counts as polar night; the clearness of none is defined."""
CLEARNESS = (0.05, 0.8)
"""Mean clearness a month can have (no unit). Source: Hollands & Huget (1983) hold from 0.2; clear deserts reach
0.75."""
TEMPERATURE_SPREAD_K = 2.6


@dataclass(frozen=True, kw_only=True)
class MonthlyMeans:
    """Twelve means: global sun (kWh/m² a day), air (°C), daily range (K), humidity (%), wind (m/s)."""

    ghi_kwh_m2_day: tuple[float, ...]
    air_c: tuple[float, ...]
    daily_range_k: tuple[float, ...] = (8.0,) * 12
    humidity_pct: tuple[float, ...] = (75.0,) * 12
    wind_m_s: tuple[float, ...] = (3.0,) * 12


def largest_clearness(mean_clearness: float) -> float:
    """Upper end of daily clearness (no unit) in a month of mean clearness (0.2 to 0.8, no unit).

    Parameters
    ----------
    mean_clearness
        Mean clearness index of the month (no unit).

    Returns
    -------
    float
        Upper end of daily clearness (no unit).

    References
    ----------
    Hollands & Huget (1983), Solar Energy 30, 195-209, eq. 12.
    """
    return 0.6313 + 0.267 * mean_clearness - 11.9 * (mean_clearness - 0.75) ** 8


def clearness_mean(gamma: float, upper: float) -> float:
    """Mean of the Hollands-Huget density ``C (upper - K)/upper exp(gamma K)``, 0 < K < upper (no unit).

    Closed form; the limit upper/3 at gamma = 0.

    Parameters
    ----------
    gamma
        Parameter of the density (no unit).
    upper
        Upper end of daily clearness (no unit).

    Returns
    -------
    float
        Mean of the Hollands-Huget density ``C (upper - K)/upper exp(gamma K)``, 0 < K < upper (no unit).

    References
    ----------
    Hollands & Huget (1983), eq. 7.
    """
    g = gamma * upper
    if abs(g) < 1e-3:
        return upper * (1.0 / 3.0 + g / 36.0)
    whole = (exp(g) - 1.0 - g) / g**2
    first = (g * (exp(g) + 1.0) - 2.0 * (exp(g) - 1.0)) / g**3
    return upper * first / whole


def clearness_quantile(share: Array, gamma: float, upper: float) -> Array:
    """Clearness (no unit) below which the given share (0 to 1) of days lies; tabulated inverse.

    Parameters
    ----------
    share
        Share of days (0 to 1).
    gamma
        Parameter of the density (no unit).
    upper
        Upper end of daily clearness (no unit).

    Returns
    -------
    ndarray
        Clearness (no unit).
    """
    k = np.linspace(0.0, upper, 801)
    density = (upper - k) / upper * np.exp(gamma * (k - upper))
    steps = np.concatenate(([0.0], np.cumsum((density[1:] + density[:-1]) / 2)))
    return np.interp(share, steps / steps[-1], k)


def hour_pattern(sun: SunYear) -> Array:
    """Share of each day's global sun that falls in each hour (365 x 24, no unit).

    ``r = (a + b cos w)(cos w - cos ws)``, with cos w - cos ws taken from cos z and sunset from the day's highest
    sun.

    Parameters
    ----------
    sun
        The sun over the site, 8,760 hours.

    Returns
    -------
    ndarray, shape (8760,)
        Share of each day's global sun that falls in each hour (365 x 24, no unit).

    References
    ----------
    Collares-Pereira & Rabl (1979), Solar Energy 22, 155-164.
    """
    height = np.maximum(sun.cos_zenith, 0.0).reshape(365, 24)
    lit = (sun.cos_zenith.reshape(365, 24) > 0).sum(axis=1)
    sunset = np.radians(np.clip(lit * 7.5, 20.0, 180.0))[:, None]
    a = 0.409 + 0.5016 * np.sin(sunset - np.pi / 3)
    b = 0.6609 - 0.4767 * np.sin(sunset - np.pi / 3)
    noon = np.argmax(height, axis=1)[:, None]
    angle = np.radians(15.0 * (np.arange(24)[None, :] - noon))
    pattern = np.maximum(a + b * np.cos(angle), 0.05) * height
    return pattern / np.maximum(pattern.sum(axis=1, keepdims=True), 1e-9)


def _autoregressive(rng: np.random.Generator, length: int, lag: float) -> Array:
    """Standard normal AR(1) series."""
    noise = rng.standard_normal(length)
    series = np.empty(length)
    series[0] = noise[0]
    for i in range(1, length):
        series[i] = lag * series[i - 1] + np.sqrt(1 - lag**2) * noise[i]
    return series


def _daily_clearness(means: MonthlyMeans, above_day: Array, rng: np.random.Generator) -> Array:
    order = ndtr(_autoregressive(rng, 365, DAY_LAG))
    clearness = np.empty(365)
    start = 0
    for month, hours in enumerate(HOURS_OF_MONTH):
        days = slice(start, start + hours // 24)
        whole_wh = float(above_day[days].mean())
        if whole_wh < DARK_WH_M2:
            raise InputError(
                "latitude_deg",
                None,
                f"a place where the sun rises in every month; it does not in month {month + 1} here",
            )
        mean = means.ghi_kwh_m2_day[month] * 1000.0 / whole_wh
        if not CLEARNESS[0] <= mean <= CLEARNESS[1]:
            low, high = (round(whole_wh / 1000.0 * share, 1) for share in CLEARNESS)
            raise InputError(
                f"ghi_kwh_m2_day.{month}", means.ghi_kwh_m2_day[month], f"{low} to {high} kWh/m² a day here"
            )
        upper = max(largest_clearness(mean), mean + 0.05)
        gamma = brentq(lambda g, u=upper, m=mean: clearness_mean(g, u) - m, -60.0, 60.0)
        share = (np.argsort(np.argsort(order[days])) + 0.5) / (hours // 24)
        clearness[days] = clearness_quantile(share, gamma, upper)
        start += hours // 24
    return clearness


def synthetic_year(
    means: MonthlyMeans,
    *,
    name: str,
    latitude_deg: float,
    longitude_deg: float,
    elevation_m: float,
    utc_offset_h: float,
    seed: int,
    made_up: bool = False,
) -> WeatherYear:
    """A seeded year of 8,760 h whose monthly means are those given (sun W/m², air °C).

    Place in degrees (latitude north, longitude east positive) and m; ``utc_offset_h`` in h.

    Parameters
    ----------
    means
        Twelve monthly means.
    name
        Name of the year.
    latitude_deg
        Latitude, north positive (deg).
    longitude_deg
        Longitude, east positive (deg).
    elevation_m
        Height above the sea (m).
    utc_offset_h
        Standard time as an offset from UTC (h).
    seed
        Seed of the random numbers.
    made_up
        Whether the year is marked as made up.

    Returns
    -------
    WeatherYear
        A seeded year of 8,760 h whose monthly means are those given (sun W/m², air °C).

    Raises
    ------
    InputError
        Where a month's mean clearness leaves CLEARNESS.
    """
    rng = np.random.default_rng(seed)
    zeros = np.zeros(HOURS)
    blank = WeatherYear(
        name=name,
        kind="synthetic",
        latitude_deg=latitude_deg,
        longitude_deg=longitude_deg,
        elevation_m=elevation_m,
        utc_offset_h=utc_offset_h,
        made_up=made_up,
        ghi_w_m2=zeros,
        dni_w_m2=zeros,
        dhi_w_m2=zeros,
        air_c=zeros,
        wind_m_s=zeros,
        humidity_pct=zeros,
        pressure_pa=zeros + 101_325.0 * np.exp(-elevation_m / 8434.0),
        notes=(Note("info", f"Synthetic year from twelve means, seed {seed}."),),
    )
    sun = sun_year(blank)
    above = sun.extraterrestrial_w_m2 * np.maximum(sun.cos_zenith, 0.0)
    daily = _daily_clearness(means, above.reshape(365, 24).sum(axis=1), rng)
    ghi = _hourly_sun(means, daily, above, sun, rng)
    clearness = np.where(above > 20.0, ghi / np.maximum(above, 20.0), 0.0)
    dhi = ghi * erbs_diffuse_share(clearness)
    low = sun.cos_zenith < 0.05
    dhi = np.where(low, ghi, dhi)
    dni = np.where(low, 0.0, (ghi - dhi) / np.maximum(sun.cos_zenith, 0.05))
    day_month = np.repeat(np.arange(12), np.array(HOURS_OF_MONTH))
    return WeatherYear(
        **{
            **blank.__dict__,
            "ghi_w_m2": ghi,
            "dni_w_m2": dni,
            "dhi_w_m2": dhi,
            "air_c": _hourly_air(means, daily, rng),
            "wind_m_s": np.array(means.wind_m_s)[day_month]
            * np.clip(1.0 + 0.35 * _autoregressive(rng, HOURS, 0.9), 0.05, 3.0),
            "humidity_pct": np.clip(
                np.array(means.humidity_pct)[day_month] + 8.0 * _autoregressive(rng, HOURS, 0.95), 15.0, 100.0
            ),
        }
    )


def _hourly_sun(means: MonthlyMeans, daily: Array, above: Array, sun: SunYear, rng: np.random.Generator) -> Array:
    """Global sun each hour (W/m²): pattern, noise rescaled to the day, capped, months made exact."""
    day_sum = daily * above.reshape(365, 24).sum(axis=1)
    noise = np.clip(1.0 + HOUR_SPREAD * _autoregressive(rng, HOURS, HOUR_LAG), 0.1, 2.0)
    shape = hour_pattern(sun) * noise.reshape(365, 24)
    shape /= np.maximum(shape.sum(axis=1, keepdims=True), 1e-9)
    ghi = (shape * day_sum[:, None]).ravel()
    wanted = np.array(means.ghi_kwh_m2_day) * 1000.0 * np.array(HOURS_OF_MONTH) / 24.0
    month = np.repeat(np.arange(12), np.array(HOURS_OF_MONTH))
    for _ in range(12):
        ghi = np.minimum(ghi * (wanted / monthly_sums(ghi))[month], 0.82 * above)
    return ghi


def _hourly_air(means: MonthlyMeans, daily: Array, rng: np.random.Generator) -> Array:
    """Air temperature each hour (°C): months, days by AR(1), a wave by clearness; means exact."""
    edges = np.concatenate(([0.0], np.cumsum(HOURS_OF_MONTH)))
    middles = (edges[:-1] + edges[1:]) / 2.0
    hours = np.arange(HOURS) + 0.5
    base = np.interp(hours, middles, means.air_c, period=HOURS)
    swing = np.interp(hours, middles, means.daily_range_k, period=HOURS)
    days = np.interp(
        hours / 24.0, np.arange(365) + 0.5, TEMPERATURE_SPREAD_K * _autoregressive(rng, 365, TEMPERATURE_LAG)
    )
    clear = np.clip(np.repeat(daily / daily.mean(), 24), 0.35, 1.5)
    wave = -np.cos(2 * np.pi * (hours % 24.0 - 3.0) / 24.0) * 0.5 * swing * clear
    air = base + days + wave
    month = np.repeat(np.arange(12), np.array(HOURS_OF_MONTH))
    return air + (np.array(means.air_c) - monthly_means(air))[month]


def spread_of_years(years: list[float]) -> tuple[float, float]:
    """Mean and standard deviation of one figure over several seeds (its own unit, such as kWh).

    Parameters
    ----------
    years
        The figure of each seed.

    Returns
    -------
    tuple[float, float]
        Mean and standard deviation of one figure over several seeds (its own unit, such as kWh).
    """
    values = np.asarray(years, dtype=float)
    return float(values.mean()), float(values.std(ddof=1)) if values.size > 1 else 0.0


def read_means(name: str, document: Document, seed: int | None = None) -> WeatherYear:
    """A synthetic year from a document of twelve means (kWh/m² a day, °C, K, %, m/s) and a place (deg, m, h).

    Parameters
    ----------
    name
        Name of the year.
    document
        Twelve means (kWh/m² a day, °C, K, %, m/s) and a place (deg, m, h).
    seed
        Seed of the random numbers.

    Returns
    -------
    WeatherYear
        A synthetic year from a document of twelve means (kWh/m² a day, °C, K, %, m/s) and a place (deg, m, h).

    Raises
    ------
    KeyError
        Where a value is refused.
    ValueError
        Where a value is missing or impossible.
    """
    rows = {
        key: tuple(float(v) for v in document[key])
        for key in ("ghi_kwh_m2_day", "air_c", "daily_range_k", "humidity_pct", "wind_m_s")
        if key in document
    }
    for key, values in rows.items():
        if len(values) != 12 or not np.isfinite(values).all():
            raise ValueError(f"{key} must hold twelve numbers")
    place = {k: float(document[k]) for k in ("latitude_deg", "longitude_deg", "elevation_m", "utc_offset_h")}
    return synthetic_year(
        MonthlyMeans(**rows),
        name=str(document.get("name", name)),
        seed=int(document.get("seed", 1) if seed is None else seed),
        made_up=bool(document.get("made_up", False)),
        **place,
    )
