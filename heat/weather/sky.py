"""The sky's and the ground's temperature."""

import numpy as np
from numpy.typing import NDArray

from heat.constants import HOURS, KELVIN, STEFAN_BOLTZMANN
from heat.weather.year import WeatherYear, monthly_means

Array = NDArray[np.float64]
SOIL_M2_DAY = 0.06
"""Thermal diffusivity of moist soil (m²/day), 0.03 dry to 0.09 wet. Source: Kusuda & Achenbach (1965), NBS 8972."""


def dew_point_c(air_c: Array, humidity_pct: Array) -> Array:
    """Dew point (°C) from air (°C) and humidity (%).

    Parameters
    ----------
    air_c
        Outdoor air (°C).
    humidity_pct
        Relative humidity (%).

    Returns
    -------
    ndarray
        Dew point (°C).

    References
    ----------
    Magnus form, Alduchov & Eskridge (1996).
    """
    humidity = np.clip(humidity_pct, 1.0, 100.0) / 100.0
    gamma = np.log(humidity) + 17.625 * air_c / (243.04 + air_c)
    return np.asarray(243.04 * gamma / (17.625 - gamma))


def sky_temperature_c(weather: WeatherYear) -> Array:
    """Effective sky temperature in 8,760 hours (°C): from the measured infrared (W/m²) where a year has it.

    Else ``eps = 0.711 + 0.56 (Td/100) + 0.73 (Td/100)² + 0.013 cos(15 t)`` for a clear sky, Td in °C, t hours from
    midnight, raised by cloud estimated from the diffuse share of the sun, carried through the night.

    Parameters
    ----------
    weather
        The weather, 8,760 hours.

    Returns
    -------
    ndarray, shape (8760,)
        Effective sky temperature in 8,760 hours (°C): from the measured infrared (W/m²) where a year has it.

    References
    ----------
    Berdahl & Martin (1984), Solar Energy 32, 663-664; cloud: Martin & Berdahl (1984), Solar Energy 33, 321-336,
    with an infrared cloud factor of 0.8.
    """
    if weather.infrared_w_m2 is not None:
        return np.asarray((weather.infrared_w_m2 / STEFAN_BOLTZMANN) ** 0.25 - KELVIN)
    dew = dew_point_c(weather.air_c, weather.humidity_pct) / 100.0
    hour = np.arange(HOURS) % 24 + 0.5
    clear = 0.711 + 0.56 * dew + 0.73 * dew**2 + 0.013 * np.cos(np.radians(15.0 * hour))
    lit = weather.ghi_w_m2 > 50.0
    diffuse = np.where(lit, weather.dhi_w_m2 / np.maximum(weather.ghi_w_m2, 50.0), np.nan)
    cloud = np.clip((diffuse - 0.15) / 0.85, 0.0, 1.0)
    if lit.any():
        index = np.arange(HOURS)
        cloud = np.interp(index, index[lit], cloud[lit], period=HOURS)
    else:
        cloud = np.full(HOURS, 0.5)
    emittance = np.clip(clear + (1.0 - clear) * cloud * 0.8, 0.5, 1.0)
    return np.asarray((weather.air_c + KELVIN) * emittance**0.25 - KELVIN)


def ground_temperature_c(air_c: Array, depth_m: float) -> Array:
    """Ground temperature in 8,760 hours (°C) at depth_m (m), from 8,760 air temperatures (°C).

    ``T = mean - amplitude exp(-z/d) cos(2 pi/365 (day - coldest) - z/d)``, ``d = sqrt(365 D/pi)`` m.

    Parameters
    ----------
    air_c
        Outdoor air (°C), 8,760 hours.
    depth_m
        Depth below the ground (m).

    Returns
    -------
    ndarray, shape (8760,)
        Ground temperature in 8,760 hours (°C) at depth_m (m), from 8,760 air temperatures (°C).

    References
    ----------
    Kusuda & Achenbach (1965), NBS report 8972.
    """
    months = monthly_means(air_c)
    amplitude = float(months.max() - months.min()) / 2.0
    coldest = (int(np.argmin(months)) + 0.5) * 365.0 / 12.0
    reach = np.sqrt(365.0 * SOIL_M2_DAY / np.pi)
    day = np.arange(HOURS) / 24.0
    phase = 2.0 * np.pi * (day - coldest) / 365.0 - depth_m / reach
    return np.asarray(float(np.mean(air_c)) - amplitude * np.exp(-depth_m / reach) * np.cos(phase))
