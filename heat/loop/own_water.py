"""What stood in a draw coil when the tap opens: as warm as the store at its own height, and still to pass the coil
above it.
"""

from math import exp

import numpy as np
from numpy.typing import NDArray

from heat.common.compiled import kernel
from heat.constants import WATER_J_KGK
from heat.loop.coil import Coil

Array = NDArray[np.float64]


@kernel
def own_water_mean_c(
    coil: Coil, loop_w_k: float, part: float, temperature_c: Array, mass_kg: Array, count: int, total_kg: float
) -> float:
    """Mean temperature at which the upper ``part`` of a coil's own water leaves.

    Each litre starts at its layer's temperature and passes the transfer of the coil above it.

    Parameters
    ----------
    coil
        The coil (W/K, shares).
    loop_w_k
        Heat capacity rate of the water while it flows (W/K).
    part
        Share of the coil's own water that leaves, the upper first (0 to 1, no unit).
    temperature_c
        Temperatures of the segments, bottom first (°C).
    mass_kg
        Masses of the segments, bottom first (kg).
    count
        Number of segments in use.
    total_kg
        Water of the whole store (kg).

    Returns
    -------
    float
        Mean temperature of what leaves (°C).

    References
    ----------
    Plug flow with the exchanger equation dT/dx = NTU (T_store(x) - T), Incropera & DeWitt, 6th ed., ch. 11.
    """
    low = coil.bottom_share * total_kg
    high = coil.top_share * total_kg
    ntu_per_kg = coil.ua_w_k / ((high - low) * loop_w_k)
    top = total_kg
    passed = 1.0  # share of its own temperature that water from here still has at the outlet
    gained = 0.0  # °C that the layers above add to it
    left = part
    leaves = 0.0
    for k in range(count - 1, -1, -1):
        bottom = top - mass_kg[k]
        covered = min(top, high) - max(bottom, low)
        top = bottom
        if covered <= 0.0:
            continue
        from_here = min(covered / (high - low), left)
        leaves += from_here * (passed * temperature_c[k] + gained)
        left -= from_here
        if left <= 0.0:
            break
        remains = exp(-ntu_per_kg * covered)
        gained += passed * (1.0 - remains) * temperature_c[k]
        passed *= remains
    return leaves / (part - left) if part > left else temperature_c[count - 1]


@kernel
def own_water_deliver(
    coil: Coil,
    loop_w_k: float,
    heat_j: float,
    inlet_c: float,
    temperature_c: Array,
    mass_kg: Array,
    count: int,
    total_kg: float,
    given: Array,
) -> float:
    """Take from the layers what the coil's own water carries off, each by its part in it.

    A layer warms the new water that rises past it, all of what comes to rest in it, and the old water from below.

    Parameters
    ----------
    coil
        The coil (W/K, shares).
    loop_w_k
        Heat capacity rate of the water while it flows (W/K).
    heat_j
        Heat it carries off above the inlet's temperature (J).
    inlet_c
        Temperature of the water that follows it in (°C).
    temperature_c
        Temperatures of the segments, bottom first (°C); written in place.
    mass_kg
        Masses of the segments, bottom first (kg).
    count
        Number of segments in use.
    total_kg
        Water of the whole store (kg).
    given
        Room for the parts of the layers (no unit); written in place.

    Returns
    -------
    float
        Heat given by the layers (J): ``heat_j``, or nothing where no layer is warmer than the inlet.
    """
    low = coil.bottom_share * total_kg
    high = coil.top_share * total_kg
    ntu_per_kg = coil.ua_w_k / ((high - low) * loop_w_k)
    below = 0.0  # share of the coil below this layer
    old_c = inlet_c
    new_c = inlet_c
    bottom = 0.0
    whole = 0.0
    for k in range(count):
        top = bottom + mass_kg[k]
        covered = min(top, high) - max(bottom, low)
        bottom = top
        given[k] = 0.0
        if covered <= 0.0:
            continue
        here = covered / (high - low)
        reached = 1.0 - exp(-ntu_per_kg * covered)
        above = max(1.0 - below - here, 0.0)
        layer_c = temperature_c[k]
        given[k] = (above * reached + here) * (layer_c - new_c) + below * reached * (layer_c - old_c)
        new_c += reached * (layer_c - new_c)
        old_c = (below * (old_c + reached * (layer_c - old_c)) + here * layer_c) / (below + here)
        below += here
        whole += given[k]
    if whole <= 0.0:
        return 0.0
    for k in range(count):
        temperature_c[k] -= heat_j * given[k] / (whole * mass_kg[k] * WATER_J_KGK)
    return heat_j
