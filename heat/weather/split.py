"""Beam and diffuse from the global sun."""

import numpy as np
from numpy.typing import NDArray

from heat.weather.solar_position import SunYear
from heat.weather.year import WeatherYear

Array = NDArray[np.float64]


def erbs_diffuse_share(clearness: Array) -> Array:
    """Diffuse share of hourly global sun (0 to 1, no unit) by clearness (no unit).

    Parameters
    ----------
    clearness
        Clearness index (no unit).

    Returns
    -------
    ndarray
        Diffuse share of hourly global sun (0 to 1, no unit).

    References
    ----------
    Erbs, Klein & Duffie (1982), Solar Energy 28, 293-302, eq. 1.
    """
    k = np.clip(clearness, 0.0, 1.0)
    middle = 0.9511 - 0.1604 * k + 4.388 * k**2 - 16.638 * k**3 + 12.336 * k**4
    return np.where(k <= 0.22, 1.0 - 0.09 * k, np.where(k <= 0.8, middle, 0.165))


def split_global(weather: WeatherYear, sun: SunYear, known: tuple[str, ...] = ()) -> tuple[Array, Array]:
    """DNI and DHI (W/m²) where a year holds only global sun, or only one of them (named in ``known``).

    Where one is known the other closes ``GHI = DHI + DNI cos z``; else Erbs, Klein & Duffie (1982).

    Parameters
    ----------
    weather
        The weather, 8,760 hours.
    sun
        The sun over the site, 8,760 hours.
    known
        Names of what the year holds already.

    Returns
    -------
    tuple[Array, Array]
        DNI and DHI (W/m²) where a year holds only global sun, or only one of them (named in ``known``).
    """
    up = np.maximum(sun.cos_zenith, 0.0)
    low = sun.cos_zenith < 0.05
    if "dhi" in known:
        dhi = np.minimum(weather.dhi_w_m2, weather.ghi_w_m2)
    elif "dni" in known:
        dhi = np.maximum(weather.ghi_w_m2 - weather.dni_w_m2 * up, 0.0)
        return weather.dni_w_m2, dhi
    else:
        above = sun.extraterrestrial_w_m2 * up
        clearness = np.where(above > 20.0, weather.ghi_w_m2 / np.maximum(above, 20.0), 0.0)
        dhi = weather.ghi_w_m2 * erbs_diffuse_share(clearness)
    dhi = np.where(low, weather.ghi_w_m2, dhi)
    return np.where(low, 0.0, (weather.ghi_w_m2 - dhi) / np.maximum(up, 0.05)), dhi
