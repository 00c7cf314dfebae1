"""A pool as a store: sun in, evaporation, air, sky and fresh water out."""

from math import exp
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from heat.common.compiled import kernel
from heat.constants import KELVIN, STEFAN_BOLTZMANN
from heat.design.needs import PoolUse

Array = NDArray[np.float64]
BOWEN_KPA_K = 0.0613
"""Psychrometric constant of the Bowen ratio at 101.3 kPa (kPa/K), ±2 %. Source: Bowen (1926), Physical Review 27,
779."""
WATER_EMITTANCE = 0.95
"""Long-wave emittance of a water surface (no unit), 0.95 to 0.98. Source: Duffie & Beckman, 4th ed., sec. 9.9."""
LATENT_J_KG = 2.43e6
"""Latent heat of water near 30 °C (J/kg), ±1 % from 10 to 45 °C. Source: IAPWS-95 tables."""
EVAPORATION = {"indoor": (89.0, 78.2), "quiet": (64.7, 64.2), "busy": (89.0, 78.2), "standard": (50.6, 66.9)}
"""Surface coefficient (W/m²kPa) and its rise with wind (W/m²kPa per m/s).
Indoor, and busy outdoors: ASHRAE Handbook, HVAC Applications, natatoriums, 0.089 + 0.0782 V kW/m²kPa, times an
activity factor. Quiet: Smith, Löf & Jones (1994), Solar Energy 53, 3-7: 69.4 + 30.8 v Btu/h ft² inHg, v in mph.
Standard: ISO/TR 12596:1995, 50.6 + 66.9 v."""


class Pool(NamedTuple):
    """A pool: heat held (J/K), area (m²), surface coefficient (W/m²kPa) and per wind (W/m²kPa per m/s),
    exchanger (W/K; 0 = its water passes the collectors), heater (W), highest from the sun (°C).
    """

    heat_j_k: float
    area_m2: float
    still: float
    windy: float
    exchanger_w_k: float
    heater_w: float
    limit_c: float


def saturation_kpa(temperature_c: Array | float) -> Array:
    """Vapour pressure over water (kPa) at temperature_c (°C), -20 to 50 °C.

    Parameters
    ----------
    temperature_c
        Temperature of the water (°C), -20 to 50.

    Returns
    -------
    ndarray
        Vapour pressure over water (kPa).

    References
    ----------
    Buck (1981), Journal of Applied Meteorology 20, 1527-1532; constants of 1996.
    """
    t = np.asarray(temperature_c, dtype=float)
    return np.asarray(0.61121 * np.exp((18.678 - t / 234.5) * t / (257.14 + t)))


def surface_coefficients(pool: PoolUse) -> tuple[float, float]:
    """Surface coefficient (W/m²kPa) and its rise with wind (W/m²kPa per m/s) of a pool: :data:`EVAPORATION`.

    Parameters
    ----------
    pool
        The pool.

    Returns
    -------
    tuple[float, float]
        Surface coefficient (W/m²kPa) and its rise with wind (W/m²kPa per m/s) of a pool: :data:`EVAPORATION`.
    """
    return EVAPORATION["indoor" if pool.indoor else pool.evaporation]


@kernel
def vapour_kpa(t: float) -> float:
    """As :func:`saturation_kpa`, for kernels: kPa at t (°C).

    Parameters
    ----------
    t
        Temperature (°C).

    Returns
    -------
    float
        As :func:`saturation_kpa`, for kernels: kPa at t (°C).
    """
    return 0.61121 * exp((18.678 - t / 234.5) * t / (257.14 + t))


@kernel
def pool_losses(
    pool: Pool, water_c: float, air_c: float, vapour: float, wind_m_s: float, sky_c: float, bare: float, activity: float
) -> tuple[float, float, float]:
    """Surface losses (W): evaporation, to the air, to the sky, for a pool at water_c (°C).

    air_c, sky_c (°C); vapour of the air (kPa); wind (m/s) over the water; ``bare``: share of loss a cover lets pass
    (0 to 1, no unit); ``activity``: factor on evaporation (no unit). Convection by the Bowen ratio.

    Parameters
    ----------
    pool
        The pool.
    water_c
        Temperature of the water (°C).
    air_c
        Outdoor air (°C).
    vapour
        Vapour pressure of the air (kPa).
    wind_m_s
        Wind (m/s).
    sky_c
        Effective sky temperature (°C).
    bare
        Share of the loss that a cover lets pass (no unit).
    activity
        Factor on evaporation (no unit).

    Returns
    -------
    tuple[float, float, float]
        Surface losses (W): evaporation, to the air, to the sky, for a pool at water_c (°C).

    References
    ----------
    EVAPORATION, BOWEN_KPA_K.
    """
    coefficient = pool.area_m2 * bare * activity * (pool.still + pool.windy * wind_m_s)
    evaporation = max(coefficient * (vapour_kpa(water_c) - vapour), 0.0)
    convection = coefficient * BOWEN_KPA_K * (water_c - air_c)
    warm = water_c + KELVIN
    cold = sky_c + KELVIN
    radiation = pool.area_m2 * bare * WATER_EMITTANCE * STEFAN_BOLTZMANN * (warm**4 - cold**4)
    return evaporation, convection, radiation
