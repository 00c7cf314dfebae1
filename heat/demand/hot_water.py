"""Hot water at the tap: what the store must give for it."""

import numpy as np
from numpy.typing import NDArray

from heat.common.compiled import inline_kernel, kernel
from heat.constants import WATER_J_KGK
from heat.store.layers import TINY_KG, add_below, drop_crumb

Array = NDArray[np.float64]


@kernel
def draw_off(
    tap_kg: float, tap_c: float, mains_c: float, tempered: bool, temperature_c: Array, mass_kg: Array, count: int
) -> tuple[int, float, float, float, float]:
    """Take water for the tap from the top of the store; nothing follows yet.

    tap_kg (kg) wanted at tap_c (°C), mains at mains_c (°C); ``tempered``: a tempering valve adds cold water to what
    is too warm, segment by segment. Segments in °C and kg, changed in place. Returns count (1), heat drawn above
    mains (J), heat short of tap_c (J), heat above tap_c (J), and kg taken from the store.

    Parameters
    ----------
    tap_kg
        Water wanted at the tap (kg).
    tap_c
        Temperature wanted at the tap (°C).
    mains_c
        Cold water (°C).
    tempered
        Whether a tempering valve is fitted.
    temperature_c
        Temperatures of the segments, bottom first (°C).
    mass_kg
        Masses of the segments, bottom first (kg).
    count
        Number of segments in use.

    Returns
    -------
    tuple
        New count (1), heat drawn above mains (J), heat short of ``tap_c`` (J), heat above it (J), water taken
        (kg).
    """
    left = tap_kg
    taken = 0.0
    drawn = 0.0
    short = 0.0
    above = 0.0
    lift = max(tap_c - mains_c, 0.0)
    while left > TINY_KG:
        top = count - 1
        warmth = temperature_c[top] - mains_c
        share = 1.0
        if tempered and warmth > lift:
            share = lift / warmth
        part = left * share
        served = left
        if part > mass_kg[top]:
            part = mass_kg[top]
            served = part / share
        mass_kg[top] -= part
        taken += part
        heat = part * warmth
        drawn += heat
        gap = served * lift - heat
        if gap > 0.0:
            short += gap
        else:
            above -= gap
        left -= served
        if mass_kg[top] <= TINY_KG:
            if count == 1:
                break
            count = drop_crumb(temperature_c, mass_kg, count)
    short += left * lift
    return count, drawn * WATER_J_KGK, short * WATER_J_KGK, above * WATER_J_KGK, taken


@inline_kernel
def draw(
    tap_kg: float,
    tap_c: float,
    mains_c: float,
    tempered: bool,
    layer_kg: float,
    temperature_c: Array,
    mass_kg: Array,
    count: int,
) -> tuple[int, float, float, float, float]:
    """:func:`draw_off` with cold water following below at mains_c (°C); layer_kg (kg), else alike.

    Parameters
    ----------
    tap_kg
        Water wanted at the tap (kg).
    tap_c
        Temperature wanted at the tap (°C).
    mains_c
        Cold water (°C).
    tempered
        Whether a tempering valve is fitted.
    layer_kg
        Water of one layer (kg).
    temperature_c
        Temperatures of the segments, bottom first (°C).
    mass_kg
        Masses of the segments, bottom first (kg).
    count
        Number of segments in use.

    Returns
    -------
    tuple
        As of :func:`draw_off`.
    """
    count, drawn, short, above, taken = draw_off(tap_kg, tap_c, mains_c, tempered, temperature_c, mass_kg, count)
    count = add_below(mains_c, taken, layer_kg, temperature_c, mass_kg, count)
    return count, drawn, short, above, taken
