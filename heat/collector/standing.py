"""How hot a collector becomes that stands still in the sun: by its rated curve, and without glass by what radiation and
wind take from it.
"""

from heat.collector.absorbed import mean_rating
from heat.collector.rated import excess_temperature
from heat.constants import STEFAN_BOLTZMANN
from heat.design.system import Collector

CLEAR_W_M2, WARM_C = 1000.0, 30.0
"""Sun square to the collectors (W/m²) and air (°C) under which they are rated. Source: ISO 9806:2017, 7.1."""
UNGLAZED_A1_W_M2K = 10.0
"""Linear loss from which a collector is taken for an unglazed one (W/m²K). Source: our own choice, between any glazed
collector's and any mat's."""
BLACK_ABSORBS, BLACK_EMITS = 0.94, 0.90
"""Absorptance and emittance of black rubber and plastic (no unit). Source: Duffie & Beckman, 4th ed., table 4.8.1."""
STILL_AIR_W_M2K = 5.7
"""Convection from a plate to air at rest (W/m²K). Source: McAdams (1954), in Duffie & Beckman, eq. 3.15.1."""


def is_unglazed(collector: Collector) -> bool:
    """Whether a collector has no glass, by its loss.

    Parameters
    ----------
    collector
        The collector.

    Returns
    -------
    bool
        Whether it has no glass.
    """
    return collector.a1_w_m2k >= UNGLAZED_A1_W_M2K


def bare_plate_c(sun_w_m2: float, air_c: float) -> float:
    """Temperature at which radiation and air at rest take all that a bare black plate absorbs.

    Parameters
    ----------
    sun_w_m2
        Sun on the plane (W/m²).
    air_c
        Outdoor air (°C).

    Returns
    -------
    float
        Temperature of the plate (°C).

    References
    ----------
    Sky temperature 0.0552 T_a^1.5, Swinbank (1963), in Duffie & Beckman, eq. 3.9.2.
    """
    air_k = air_c + 273.15
    sky_k = 0.0552 * air_k**1.5
    low, high = air_k - 40.0, air_k + 200.0
    for _ in range(60):
        plate_k = 0.5 * (low + high)
        lost = BLACK_EMITS * STEFAN_BOLTZMANN * (plate_k**4 - sky_k**4) + STILL_AIR_W_M2K * (plate_k - air_k)
        low, high = (plate_k, high) if lost < BLACK_ABSORBS * sun_w_m2 else (low, plate_k)
    return 0.5 * (low + high) - 273.15


def standing_c(collector: Collector, sun_w_m2: float = CLEAR_W_M2, air_c: float = WARM_C) -> float:
    """Temperature of standing collectors square to the sun.

    Where the rated curve of one without glass goes on past what it was measured for, radiation and the air end it.

    Parameters
    ----------
    collector
        The collector.
    sun_w_m2
        Sun on the plane (W/m²).
    air_c
        Outdoor air (°C).

    Returns
    -------
    float
        Temperature of the standing collectors (°C).

    References
    ----------
    ISO 9806:2017, 7.1 (standard stagnation conditions).
    """
    eta0, a1, a2 = mean_rating(collector)
    rated = air_c + float(excess_temperature(eta0 * sun_w_m2, a1, a2))
    return min(rated, bare_plate_c(sun_w_m2, air_c)) if is_unglazed(collector) else rated
