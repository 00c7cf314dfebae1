"""An internal coil: hot fluid passes the layers one after the other, downwards.

Each stretch is a one-stream exchanger, ``eps = 1 - exp(-UA_k/C)`` (Incropera & DeWitt, 6th ed.,
eq. 11.35a). The layer warms while the fluid passes; averaging its exponential approach over the
step keeps the step linear in the fluid temperature and stable at any length.
"""

from math import exp
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from heat.common.compiled import inline_kernel, kernel
from heat.constants import WATER_J_KGK

Array = NDArray[np.float64]


TINY_KG = 1e-9


class Coil(NamedTuple):
    """A coil between two heights, as shares of the store's mass (0 bottom, 1 top); UA in W/K."""

    ua_w_k: float
    bottom_share: float
    top_share: float


RATED_LEAD_K = 20.0
"""Lead of the fluid over the store at which a coil's UA is stated (K), 10 to 25. Source: common test practice."""


@kernel
def convection_factor(lead_k: float) -> float:
    """Factor on UA (no unit) of a coil limited by free convection, for fluid lead_k (K) warmer than the store.

    ``(lead/20)^0.25`` within 0.3 to 1.5: laminar free convection, Nu ~ Ra^0.25.

    Parameters
    ----------
    lead_k
        How much warmer the fluid is than the store (K).

    Returns
    -------
    float
        Factor on UA (no unit).

    References
    ----------
    Churchill & Chu (1975), Int. J. Heat Mass Transfer 18, 1049-1053.
    """
    return min(max((max(abs(lead_k), 0.1) / RATED_LEAD_K) ** 0.25, 0.3), 1.5)


@inline_kernel
def coil_response(
    coil: Coil,
    loop_w_k: float,
    dt_s: float,
    temperature_c: Array,
    mass_kg: Array,
    count: int,
    total_kg: float,
    effect: Array,
    warming: Array,
) -> tuple[float, float, int]:
    """Answer of the coil, ``T_out = share T_in + offset``: share (no unit), offset (°C), top layer (1).

    Fills ``effect[k]`` (no unit), the effectiveness met in layer k averaged over the step, and ``warming[k]`` (no
    unit), the layer's rise for each kelvin the fluid is warmer. Built from the bottom up: what lies below weakens
    what lies above.

    Parameters
    ----------
    coil
        The coil (W/K, shares).
    loop_w_k
        Capacity rate of the fluid (W/K); dt_s (s); layers bottom first: temperature_c (°C), mass_kg (kg),
        ``count`` of them; total_kg (kg).
    dt_s
        Length of the step (s).
    temperature_c
        Temperatures of the segments, bottom first (°C).
    mass_kg
        Masses of the segments, bottom first (kg).
    count
        Number of segments in use.
    total_kg
        Water of the whole store (kg).
    effect
        Effectiveness met in each layer (no unit); written in place.
    warming
        Rise of each layer for a kelvin of the fluid's lead (no unit); written in place.

    Returns
    -------
    tuple
        Share (no unit), offset (°C), topmost layer reached (1).
    """
    low = coil.bottom_share * total_kg
    high = coil.top_share * total_kg
    ntu_per_kg = coil.ua_w_k / ((high - low) * loop_w_k)
    store_kg = loop_w_k * dt_s / WATER_J_KGK  # water the passing fluid could carry the heat of
    share = 1.0
    offset = 0.0
    last_covered = -1.0
    last_kg = -1.0
    reached = 0.0
    rise = 0.0
    bottom = 0.0
    upper = -1
    for k in range(count):
        if bottom >= high:
            break
        top = bottom + mass_kg[k]
        covered = min(top, high) - max(bottom, low)
        upper = k
        if covered > TINY_KG:
            if covered != last_covered or mass_kg[k] != last_kg:  # most layers are alike
                last_covered = covered
                last_kg = mass_kg[k]
                reached = 1.0 - exp(-ntu_per_kg * covered)
                pace = store_kg * reached / mass_kg[k]
                reached /= 1.0 + pace * (0.5 + pace / 12.0)  # (1 - exp(-p))/p to 1 % up to p = 2, stable beyond
                rise = store_kg * reached / mass_kg[k]
            effect[k] = reached
            warming[k] = rise
            offset += reached * temperature_c[k] * share
            share *= 1.0 - reached
        else:
            effect[k] = 0.0
            warming[k] = 0.0
        bottom = top
    return share, offset, upper


@inline_kernel
def coil_deliver(
    inlet_c: float, loop_w_k: float, dt_s: float, temperature_c: Array, upper: int, effect: Array, warming: Array
) -> float:
    """Pass the fluid down the coil.

    inlet_c (°C); loop_w_k (W/K); dt_s (s); ``upper``, ``effect`` and ``warming`` (no unit) from
    :func:`coil_response`.

    Parameters
    ----------
    inlet_c
        Temperature at the inlet (°C).
    loop_w_k
        Heat capacity rate of the loop (W/K).
    dt_s
        Length of the step (s).
    temperature_c
        Temperatures of the segments, bottom first (°C).
    upper
        Topmost layer that the coil reaches.
    effect
        Effectiveness met in each layer (no unit); written in place.
    warming
        Rise of each layer for a kelvin of the fluid's lead (no unit); written in place.

    Returns
    -------
    float
        Heat given (J).
    """
    fluid_c = inlet_c
    for k in range(upper, -1, -1):
        lead = fluid_c - temperature_c[k]
        temperature_c[k] += warming[k] * lead
        fluid_c -= effect[k] * lead
    return loop_w_k * (inlet_c - fluid_c) * dt_s


@inline_kernel
def coil_lift_response(
    coil: Coil,
    loop_w_k: float,
    dt_s: float,
    temperature_c: Array,
    mass_kg: Array,
    count: int,
    total_kg: float,
    effect: Array,
    warming: Array,
) -> tuple[float, float, int]:
    """As :func:`coil_response` for fluid that rises: share (no unit), offset (°C), lowest and topmost layer (1).

    Mains water in a draw coil, or a loop flowing backwards: it meets the lowest layer first, so what lies above
    weakens what lies below. loop_w_k (W/K) over dt_s (s) of actual flow.

    Parameters
    ----------
    coil
        The coil (W/K, shares).
    loop_w_k
        Heat capacity rate of the loop (W/K).
    dt_s
        Length of the step (s).
    temperature_c
        Temperatures of the segments, bottom first (°C).
    mass_kg
        Masses of the segments, bottom first (kg).
    count
        Number of segments in use.
    total_kg
        Water of the whole store (kg).
    effect
        Effectiveness met in each layer (no unit); written in place.
    warming
        Rise of each layer for a kelvin of the fluid's lead (no unit); written in place.

    Returns
    -------
    tuple
        Share (no unit), offset (°C), lowest and topmost layer reached (1).
    """
    low = coil.bottom_share * total_kg
    high = coil.top_share * total_kg
    ntu_per_kg = coil.ua_w_k / ((high - low) * loop_w_k)
    store_kg = loop_w_k * dt_s / WATER_J_KGK
    share = 1.0
    offset = 0.0
    bottom = 0.0
    upper = -1
    last_covered = -1.0
    last_kg = -1.0
    reached = 0.0
    rise = 0.0
    for k in range(count):
        if bottom >= high:
            break
        top = bottom + mass_kg[k]
        covered = min(top, high) - max(bottom, low)
        upper = k
        effect[k] = 0.0
        warming[k] = 0.0
        if covered > TINY_KG:
            if covered != last_covered or mass_kg[k] != last_kg:  # most layers are alike
                last_covered = covered
                last_kg = mass_kg[k]
                reached = 1.0 - exp(-ntu_per_kg * covered)
                pace = store_kg * reached / mass_kg[k]
                reached /= 1.0 + pace * (0.5 + pace / 12.0)
                rise = store_kg * reached / mass_kg[k]
            effect[k] = reached
            warming[k] = rise
            offset = offset * (1.0 - reached) + reached * temperature_c[k]
            share *= 1.0 - reached
        bottom = top
    return share, offset, upper


@inline_kernel
def coil_lift_deliver(
    inlet_c: float, loop_w_k: float, dt_s: float, temperature_c: Array, upper: int, effect: Array, warming: Array
) -> float:
    """Pass rising fluid through the coil.

    Arguments as in :func:`coil_deliver` (°C, W/K, s); negative where the store warms the fluid.

    Parameters
    ----------
    inlet_c
        Temperature at the inlet (°C).
    loop_w_k
        Heat capacity rate of the loop (W/K).
    dt_s
        Length of the step (s).
    temperature_c
        Temperatures of the segments, bottom first (°C).
    upper
        Topmost layer that the coil reaches.
    effect
        Effectiveness met in each layer (no unit); written in place.
    warming
        Rise of each layer for a kelvin of the fluid's lead (no unit); written in place.

    Returns
    -------
    float
        Heat given (J).
    """
    fluid_c = inlet_c
    for k in range(upper + 1):
        lead = fluid_c - temperature_c[k]
        temperature_c[k] += warming[k] * lead
        fluid_c -= effect[k] * lead
    return loop_w_k * (inlet_c - fluid_c) * dt_s
