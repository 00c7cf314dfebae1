"""Trials on the site: a bucket in the sun, a cooling night, a draw until it is cold."""

from dataclasses import dataclass
from math import log, sqrt

import numpy as np
from numpy.typing import NDArray

from heat.constants import WATER_J_KGK, WATER_KG_L
from heat.monitoring.layers import WH_L_K
from heat.monitoring.sky import CLOUD_BAND, cloudy_share

Array = NDArray[np.float64]
FULL_SUN_W_M2 = 1000.0
"""Sun that "full sun" means (W/m²)."""
STEADY_W_M2 = 600.0
"""Mean sun (W/m²) from which a trial may be carried over to full sun. Source: ISO 9806 asks for 700; our own choice."""
NINETY = 1.645
"""Standard deviations to either edge of a band that holds nine of ten (1)."""
MORE_THAN_SUN = (
    "More heat than the sun gave on this area: warm air helped, the water was warmer than thought, or area, litres or "
    "minutes are off."
)
SHOWER_L_MIN, SHOWER_C = 8.0, 38.0
"""A shower (L/min, °C). Source: usual heads, 6 to 10."""


@dataclass(frozen=True)
class Bucket:
    """A bucket's trial: heat (kWh), power (W) and per area (W/m²), share of the sun that was there (1), power in full
    sun (W) as a band (lower, middle, upper), and what is to be said of it.
    """

    kwh: float
    watts: float
    per_m2: float
    efficiency: float | None
    full_sun_w: tuple[float, float, float] | None
    words: str


def bucket(
    litres: float,
    rise_k: float,
    minutes: float,
    area_m2: float,
    *,
    sun_w_m2: float | None = None,
    cloud: float | None = None,
    clear_w_m2: float = 900.0,
    sensor_k: float = 0.5,
) -> Bucket:
    """Power of a collector that warmed litres (L) by rise_k (K) in so many minutes (min), on area_m2 (m²).

    Corrected to full sun by the sun that was measured (W/m²), or bracketed by an assumption of cloud (eighths)
    under a clear sky (W/m²); from a trial in little sun nothing follows for full sun, for losses do not shrink with it.

    Parameters
    ----------
    litres
        Volume warmed (L).
    rise_k
        Rise of temperature (K).
    minutes
        Duration (min).
    area_m2
        Area (m²).
    sun_w_m2
        Sun on the plane (W/m²).
    cloud
        Cloud (eighths).
    clear_w_m2
        Sun under a clear sky (W/m²).
    sensor_k
        Standard uncertainty of a temperature sensor (K).

    Returns
    -------
    Bucket
        Power of a collector that warmed litres (L).
    """
    joule = litres * WATER_KG_L * WATER_J_KGK * rise_k
    watts = joule / (60.0 * minutes)
    uncertainty = sqrt(2.0) * sensor_k / max(abs(rise_k), 1e-9)
    sun, spread = sun_w_m2, 0.05
    if sun is None and cloud is not None:
        sun, spread = clear_w_m2 * float(cloudy_share(np.array(cloud))), CLOUD_BAND * max(2.0 * cloud / 8.0, 0.2)
    tried = lambda full, words: Bucket(
        joule / 3.6e6, watts, watts / area_m2, None if sun is None else watts / (area_m2 * sun), full, words
    )
    if sun is None:
        return tried(None, "No sun was noted: this is the power of that half hour, not of the system.")
    if watts > area_m2 * sun * (1.0 + spread):
        return tried(None, MORE_THAN_SUN)
    if sun < STEADY_W_M2:
        return tried(None, f"In {sun:.0f} W/m² nothing follows for full sun: try again above {STEADY_W_M2:.0f} W/m².")
    middle, off = watts * FULL_SUN_W_M2 / sun, NINETY * sqrt(uncertainty**2 + spread**2)
    words = (
        "Carried over to full sun by the sun that was measured."
        if sun_w_m2 is not None
        else ("Carried over to full sun by an assumption of the clouds: hence so wide a band.")
    )
    return tried((middle * (1.0 - off), middle, middle * (1.0 + off)), words)


@dataclass(frozen=True)
class Cooling:
    """A cooling store: loss (W/K), its band of nine in ten, halved in (h), how far the readings lie off (K, rms)."""

    w_k: float
    low: float
    high: float
    half_h: float
    off_k: float


def cooling(hour: Array, celsius: Array, room_c: Array | float, litres: float) -> Cooling:
    """Loss of a store of litres (L) that only cools, from its mean temperature (°C) at moments (h) in its room (°C).

    ``ln((T - T_r)/(T_0 - T_r)) = -UA t / C`` fitted by least squares.

    Parameters
    ----------
    hour
        Moments (h).
    celsius
        Mean temperature of the store at each moment (°C).
    room_c
        Temperature of the room (°C).
    litres
        Volume of the store (L).

    Returns
    -------
    Cooling
        Loss of a store of litres (L).

    Raises
    ------
    ValueError
        Where it does not cool, or is not warmer than its room.
    """
    lead = celsius - room_c
    if hour.size < 3 or (lead <= 1.0).any():
        raise ValueError("three readings of a store at least a kelvin warmer than its room are needed")
    from scipy import stats  # a tenth of a server's memory, for the few who ask so much

    fit = stats.linregress(hour, np.log(lead))
    if fit.slope >= 0.0:
        raise ValueError("the store does not cool between these readings")
    wh_k = litres * WH_L_K
    edge = float(stats.t.ppf(0.95, max(hour.size - 2, 1))) * float(fit.stderr)
    line = np.exp(fit.intercept + fit.slope * hour)
    ua = -float(fit.slope) * wh_k
    return Cooling(
        ua,
        max(ua - edge * wh_k, 0.0),
        ua + edge * wh_k,
        log(2.0) * wh_k / ua,
        float(np.sqrt(np.mean((line - lead) ** 2))),
    )


@dataclass(frozen=True)
class DrawTrial:
    """A draw until it is cold: heat carried away (kWh), litres at the tap's temperature once mixed (L), litres that
    came warm enough (L), how long a shower lasts (min), the coil's heat transfer where the store was read (W/K).
    """

    kwh: float
    usable_l: float
    warm_l: float
    shower_min: float
    coil_w_k: float | None


def draw_off(
    litres: Array,
    outlet_c: Array,
    cold_c: float,
    tap_c: float = 45.0,
    store_c: float | None = None,
    flow_l_min: float | None = None,
) -> DrawTrial:
    """A draw read by the litre: litres so far (L) and what came out (°C), cold water (°C), taps at tap_c (°C).

    What is hotter than the tap is mixed: ``V (T - T_cold) / (T_tap - T_cold)``. ``store_c`` (°C) and ``flow_l_min``
    (L/min): the store about a draw coil and the flow through it, for ``UA = m c ln((T_s - T_cold)/(T_s - T_out))``.

    Parameters
    ----------
    litres
        Litres drawn so far (L).
    outlet_c
        What came out (°C).
    cold_c
        Cold water (°C).
    tap_c
        Temperature wanted at the tap (°C).
    store_c
        Temperature of the store (°C).
    flow_l_min
        Flow through the draw coil (L/min).

    Returns
    -------
    DrawTrial
        A draw read by the litre: litres so far (L) and what came out (°C), cold water (°C), taps at tap_c (°C).
    """
    steps = np.diff(np.concatenate([[0.0], litres]))
    kwh = float((steps * WH_L_K * (outlet_c - cold_c)).sum()) / 1000.0

    def mixed(wanted: float) -> float:
        warm = outlet_c >= wanted
        return float((steps * np.where(warm, (outlet_c - cold_c) / (wanted - cold_c), 0.0)).sum())

    coil = None
    if store_c is not None and flow_l_min is not None and store_c > outlet_c[0] > cold_c:
        coil = flow_l_min * 60.0 * WH_L_K * log((store_c - cold_c) / (store_c - float(outlet_c[0])))
    warm_l = float(steps[outlet_c >= tap_c].sum())
    return DrawTrial(kwh, mixed(tap_c), warm_l, mixed(SHOWER_C) / SHOWER_L_MIN, coil)
