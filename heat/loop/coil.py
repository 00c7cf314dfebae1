"""An internal coil: hot fluid passes the layers one after the other, downwards.

Each stretch is a one-stream exchanger, ``eps = 1 - exp(-UA_k/C)`` (Incropera & DeWitt, 6th ed.,
eq. 11.35a). The layer warms while the fluid passes; averaging its exponential approach over the
step keeps the step linear in the fluid temperature and stable at any length.
"""

from math import exp
from typing import NamedTuple

from heat.compiled import kernel
from heat.constants import WATER_J_KGK

TINY_KG = 1e-9


class Coil(NamedTuple):
    """A coil between two heights, as shares of the store's mass (0 bottom, 1 top); UA in W/K."""

    ua_w_k: float
    bottom_share: float
    top_share: float


@kernel
def coil_response(coil, loop_w_k, dt_s, temperature_c, mass_kg, count, total_kg, effect):
    """Answer of the coil, ``T_out = share T_in + offset``: share (no unit), offset (°C).

    loop_w_k: capacity rate of the fluid (W/K); dt_s (s); layers bottom first: temperature_c (°C),
    mass_kg (kg), ``count`` of them; total_kg (kg). Fills ``effect[k]`` (no unit), the
    effectiveness met in layer k, averaged over the step.
    """
    low = coil.bottom_share * total_kg
    high = coil.top_share * total_kg
    span = high - low
    share = 1.0
    offset = 0.0
    top = total_kg
    last_covered = -1.0
    last_kg = -1.0
    reached = 0.0
    for k in range(count - 1, -1, -1):
        bottom = top - mass_kg[k]
        covered = min(top, high) - max(bottom, low)
        if k == 0:
            covered = min(top, high) - low
        if covered > TINY_KG and mass_kg[k] > TINY_KG:
            if covered != last_covered or mass_kg[k] != last_kg:  # most layers are alike
                last_covered = covered
                last_kg = mass_kg[k]
                reached = 1.0 - exp(-coil.ua_w_k * covered / (span * loop_w_k))
                pace = loop_w_k * reached * dt_s / (mass_kg[k] * WATER_J_KGK)
                if pace > 1e-9:
                    reached *= (1.0 - exp(-pace)) / pace
            effect[k] = reached
            share *= 1.0 - reached
            offset = offset * (1.0 - reached) + reached * temperature_c[k]
        else:
            effect[k] = 0.0
        top = bottom
        if top <= low:
            for j in range(k):
                effect[j] = 0.0
            break
    return share, offset


@kernel
def coil_deliver(inlet_c, loop_w_k, dt_s, temperature_c, mass_kg, count, effect):
    """Pass the fluid down the coil; warms ``temperature_c`` (°C) in place, returns heat given (J).

    inlet_c (°C); loop_w_k (W/K); dt_s (s); mass_kg (kg); ``effect`` from :func:`coil_response`.
    """
    fluid_c = inlet_c
    given = 0.0
    for k in range(count - 1, -1, -1):
        if effect[k] > 0.0:
            drop = effect[k] * (fluid_c - temperature_c[k])
            heat = loop_w_k * drop * dt_s
            temperature_c[k] += heat / (mass_kg[k] * WATER_J_KGK)
            fluid_c -= drop
            given += heat
    return given
