"""Cold water from the mains: typed, a yearly wave, or calculated from the air."""

import numpy as np
from numpy.typing import NDArray

from heat.constants import HOURS, HOURS_OF_MONTH
from heat.weather.year import monthly_means

Array = NDArray[np.float64]


def mains_from_air(air_c: Array, southern: bool) -> Array:
    """Mains temperature each hour (°C) from 8,760 air temperatures (°C).

    ``T = (Tm + 6) + ratio (dT/2) sin(360/365 (day - 15 - lag) - 90)``, in °F with ratio = 0.4 + 0.01 (Tm - 44), lag
    = 35 - (Tm - 44) days; half a year later in the south. Never below 0 °C.

    Parameters
    ----------
    air_c
        Outdoor air (°C), 8,760 hours.
    southern
        Whether the site lies south of the equator.

    Returns
    -------
    ndarray, shape (8760,)
        Mains temperature each hour (°C).

    References
    ----------
    Burch & Christensen (2007), Proc. ASES, "Towards development of an algorithm for mains water temperature".
    """
    months = monthly_means(air_c) * 1.8 + 32.0
    mean_f = float(np.mean(air_c)) * 1.8 + 32.0
    swing_f = float(months.max() - months.min())
    ratio = 0.4 + 0.01 * (mean_f - 44.0)
    lag = 35.0 - (mean_f - 44.0)
    day = np.arange(HOURS) / 24.0 + (182.5 if southern else 0.0)
    wave = np.sin(np.radians(360.0 / 365.0 * (day - 15.0 - lag) - 90.0))
    fahrenheit = mean_f + 6.0 + ratio * swing_f / 2.0 * wave
    return np.maximum((fahrenheit - 32.0) / 1.8, 0.0)


def mains_from_months(monthly_c: tuple[float, ...]) -> Array:
    """Mains temperature each hour (°C) from twelve monthly means (°C), linear between mid-months.

    Parameters
    ----------
    monthly_c
        Twelve monthly means (°C).

    Returns
    -------
    ndarray, shape (8760,)
        Mains temperature each hour (°C).
    """
    edges = np.concatenate(([0.0], np.cumsum(HOURS_OF_MONTH)))
    middles = (edges[:-1] + edges[1:]) / 2.0
    return np.interp(np.arange(HOURS) + 0.5, middles, monthly_c, period=HOURS)


def mains_wave(mean_c: float, swing_c: float, coldest_day: float) -> Array:
    """Mains temperature each hour (°C): a cosine of half-range swing_c (K) about mean_c (°C).

    ``T = mean - swing cos(2 pi (hour/24 - coldest_day)/365)``; coldest_day in days from 1 January.

    Parameters
    ----------
    mean_c
        Mean of the year (°C).
    swing_c
        Half the range of the year (K).
    coldest_day
        Day of the coldest water, counted from 1 January.

    Returns
    -------
    ndarray, shape (8760,)
        Mains temperature each hour (°C).
    """
    days = np.arange(HOURS) / 24.0 - coldest_day
    return mean_c - swing_c * np.cos(2.0 * np.pi * days / 365.0)
