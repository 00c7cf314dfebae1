"""Water through ports: taken out at one height, let in at another; the column between moves along.

Heights are shares of the store's mass (0 bottom, 1 top). What comes in mixes with the segment at its
port; buoyancy afterwards is left to :func:`heat.store.layers.mix_inversions`.
"""

import numpy as np
from numpy.typing import NDArray

from heat.common.compiled import inline_kernel, kernel
from heat.constants import WATER_J_KGK
from heat.store.layers import TINY_KG, LayeredStore, add_below, mean_between, part, segment_at, thawed

Array = NDArray[np.float64]


SPARE = 4
"""Segments beyond the layers a store may hold before two are joined (1). Source: our own choice."""


def room_for(layers: int) -> int:
    """Segments a column needs room for (1): a step may add half as many again before they are joined.

    Parameters
    ----------
    layers
        Number of layers.

    Returns
    -------
    int
        Segments a column needs room for (1).
    """
    return 2 * layers + 16


@inline_kernel
def port_mean(share: float, kg: float, total_kg: float, temperature_c: Array, mass_kg: Array, count: int) -> float:
    """Mean temperature (°C) of the kg that leave by a port at ``share`` (no unit) of total_kg (kg).

    Parameters
    ----------
    share
        Height, 0 at the bottom to 1 at the top (no unit).
    kg
        Water that passes (kg).
    total_kg
        Water of the whole store (kg).
    temperature_c
        Temperatures of the segments, bottom first (°C).
    mass_kg
        Masses of the segments, bottom first (kg).
    count
        Number of segments in use.

    Returns
    -------
    float
        Mean temperature (°C).
    """
    low = share * max(total_kg - kg, 0.0)
    return mean_between(low, low + kg, temperature_c, mass_kg, count)


@kernel
def take(share: float, kg: float, total_kg: float, temperature_c: Array, mass_kg: Array, count: int) -> int:
    """Remove kg around a port at ``share`` (no unit) of total_kg (kg); new count (1). °C, kg in place.

    Parameters
    ----------
    share
        Height, 0 at the bottom to 1 at the top (no unit).
    kg
        Water that passes (kg).
    total_kg
        Water of the whole store (kg).
    temperature_c
        Temperatures of the segments, bottom first (°C).
    mass_kg
        Masses of the segments, bottom first (kg).
    count
        Number of segments in use.

    Returns
    -------
    int
        New count (1).
    """
    low = share * max(total_kg - kg, 0.0)
    high = low + kg
    bottom = 0.0
    left = 0
    for k in range(count):
        mass = mass_kg[k]
        top = bottom + mass
        cut = min(top, high) - max(bottom, low)
        rest = mass - max(cut, 0.0)
        if rest > TINY_KG or (k == count - 1 and left == 0):
            temperature_c[left] = temperature_c[k]
            mass_kg[left] = max(rest, 0.0)
            left += 1
        elif rest > 0.0:  # a crumb joins its neighbour, so that no mass is lost
            if left > 0:
                below = mass_kg[left - 1]
                temperature_c[left - 1] += (temperature_c[k] - temperature_c[left - 1]) * rest / (below + rest)
                mass_kg[left - 1] = below + rest
            else:
                above = mass_kg[k + 1]
                temperature_c[k + 1] += (temperature_c[k] - temperature_c[k + 1]) * rest / (above + rest)
                mass_kg[k + 1] = above + rest
        bottom = top
    return left


ROUNDING_K = 1e-6
"""Water this much warmer (K) counts as alike, so that rounding alone does not decide. Source: our own choice."""
CRUMB_KG = 1e-6
"""As :data:`ROUNDING_K`, of masses (kg). Source: our own choice."""
ALIKE = 0.1
"""Water joins a segment it would not change by more than this, in kelvin of a layer (1). Source: our own choice."""


@inline_kernel
def joins(k: int, kg: float, inlet_c: float, layer_kg: float, temperature_c: Array, mass_kg: Array) -> bool:
    """Whether kg of water at inlet_c (°C) is so like segment k that it joins it, up to layer_kg (kg). °C, kg.

    Parameters
    ----------
    k
        Number of the segment.
    kg
        Water that passes (kg).
    inlet_c
        Temperature at the inlet (°C).
    layer_kg
        Water of one layer (kg).
    temperature_c
        Temperatures of the segments, bottom first (°C).
    mass_kg
        Masses of the segments, bottom first (kg).

    Returns
    -------
    bool
        Whether kg of water at inlet_c (°C) is so like segment k that it joins it, up to layer_kg (kg). °C, kg.
    """
    grown = mass_kg[k] + kg
    away = inlet_c - temperature_c[k]
    if grown > layer_kg + CRUMB_KG or abs(away) * kg * mass_kg[k] > ALIKE * layer_kg * grown:
        return False
    temperature_c[k] += away * kg / grown
    mass_kg[k] = grown
    return True


@kernel
def put(
    level_kg: float,
    kg: float,
    inlet_c: float,
    layer_kg: float,
    layering: bool,
    temperature_c: Array,
    mass_kg: Array,
    count: int,
) -> int:
    """Let kg of water at inlet_c (°C) in at a port with level_kg (kg) below it; new count (1). °C, kg in place.

    It parts the column at the port. Denser than the water there, it sinks unmixed to where that is as cold as
    itself (Morrison & Braun 1985, Solar Energy 34, 389-405); lighter, it stays where it came in and what lies above
    is left to :func:`heat.store.layers.mix_inversions`. A ``layering`` inlet lets it rise unmixed as well.

    Parameters
    ----------
    level_kg
        Water below the port (kg).
    kg
        Water that passes (kg).
    inlet_c
        Temperature at the inlet (°C).
    layer_kg
        Water of one layer (kg).
    layering
        Whether the inlet lets water rise to its own temperature.
    temperature_c
        Temperatures of the segments, bottom first (°C).
    mass_kg
        Masses of the segments, bottom first (kg).
    count
        Number of segments in use.

    Returns
    -------
    int
        New count (1).
    """
    at, below_kg = segment_at(level_kg, temperature_c, mass_kg, count)
    if mass_kg[at] - below_kg <= TINY_KG:  # at the very top: nothing lies above to be parted off
        at += 1
        below_kg = 0.0
        if temperature_c[at - 1] > inlet_c + ROUNDING_K:
            at -= 1
    sinks_c = inlet_c + ROUNDING_K
    if at < count and temperature_c[at] > sinks_c:
        while at > 0 and temperature_c[at - 1] > sinks_c:
            at -= 1
        below_kg = 0.0
    elif layering and at < count and temperature_c[at] < inlet_c:
        at += 1
        while at < count and temperature_c[at] < inlet_c:
            at += 1
        below_kg = 0.0
    if at == count:  # above all there is
        if joins(at - 1, kg, inlet_c, layer_kg, temperature_c, mass_kg):
            return count
        temperature_c[at] = inlet_c
        mass_kg[at] = kg
        return count + 1
    if joins(at, kg, inlet_c, layer_kg, temperature_c, mass_kg):
        return count
    if below_kg > TINY_KG:
        count = part(at, below_kg, temperature_c, mass_kg, count)
        at += 1
    elif at > 0 and joins(at - 1, kg, inlet_c, layer_kg, temperature_c, mass_kg):
        return count
    for k in range(count - 1, at - 1, -1):
        temperature_c[k + 1] = temperature_c[k]
        mass_kg[k + 1] = mass_kg[k]
    temperature_c[at] = inlet_c
    mass_kg[at] = kg
    return count + 1


@kernel
def tidy(layers: int, temperature_c: Array, mass_kg: Array, count: int) -> int:
    """Join the most alike neighbours, of equals the lowest, until layers + SPARE segments remain (1). °C, kg.

    Parameters
    ----------
    layers
        Number of layers.
    temperature_c
        Temperatures of the segments, bottom first (°C).
    mass_kg
        Masses of the segments, bottom first (kg).
    count
        Number of segments in use.

    Returns
    -------
    int
        New count (1).
    """
    while count > layers + SPARE:
        best = 0
        least = 1e300
        for k in range(count - 1):
            low = mass_kg[k]
            high = mass_kg[k + 1]
            harm = abs(temperature_c[k + 1] - temperature_c[k]) * min(low, high) + 1e-6 * (low + high + k)
            if harm < least:
                least = harm
                best = k
        low = mass_kg[best]
        high = mass_kg[best + 1]
        temperature_c[best] += (temperature_c[best + 1] - temperature_c[best]) * high / (low + high)
        mass_kg[best] = low + high
        for k in range(best + 1, count - 1):
            temperature_c[k] = temperature_c[k + 1]
            mass_kg[k] = mass_kg[k + 1]
        count -= 1
    return count


@kernel
def pass_through(
    out_share: float,
    in_share: float,
    kg: float,
    inlet_c: float,
    layering: bool,
    store: LayeredStore,
    temperature_c: Array,
    mass_kg: Array,
    count: int,
) -> int:
    """Take kg out at one port and let as much in at another at inlet_c (°C); new count (1).

    More than the store holds is passed in several turns of half the store each. Shares, ``layering`` (no unit).

    Parameters
    ----------
    out_share
        Height of the outlet, 0 bottom to 1 top (no unit).
    in_share
        Height of the inlet, 0 bottom to 1 top (no unit).
    kg
        Water that passes (kg).
    inlet_c
        Temperature at the inlet (°C).
    layering
        Whether the inlet lets water rise to its own temperature.
    store
        The store.
    temperature_c
        Temperatures of the segments, bottom first (°C).
    mass_kg
        Masses of the segments, bottom first (kg).
    count
        Number of segments in use.

    Returns
    -------
    int
        New count (1).
    """
    layer_kg = store.mass_kg / store.layers
    left = kg
    while left > TINY_KG:
        some = min(left, 0.5 * store.mass_kg)
        count = take(out_share, some, store.mass_kg, temperature_c, mass_kg, count)
        level_kg = in_share * store.mass_kg  # what came in last has moved along: its end lies at the port again
        if in_share > out_share:
            level_kg = max(level_kg - some, 0.0)
        count = put(level_kg, some, inlet_c, layer_kg, layering, temperature_c, mass_kg, count)
        count = tidy(store.layers, temperature_c, mass_kg, count)
        left -= some
    return count


@kernel
def refill(
    taken_kg: float,
    mains_c: float,
    layer_kg: float,
    low_c: Array,
    low_kg: Array,
    low_count: int,
    store: LayeredStore,
    high_c: Array,
    high_kg: Array,
    high_count: int,
) -> tuple[int, int]:
    """Fill an upper store from below with what leaves the top of a lower one; new counts (1, 1).

    taken_kg (kg) were drawn from the upper store (high_*: °C, kg); the lower (low_*: °C, kg) is filled with mains
    at mains_c (°C). Layers' worths in kg.

    Parameters
    ----------
    taken_kg
        Water drawn (kg).
    mains_c
        Cold water (°C).
    layer_kg
        Water of one layer (kg).
    low_c
        Lower sensor of the controller (°C).
    low_kg
        Water below the lower level (kg).
    low_count
        Number of segments in use of the lower store.
    store
        The store.
    high_c
        Temperatures of the upper store (°C).
    high_kg
        Water below the upper level (kg).
    high_count
        Number of segments in use of the upper store.

    Returns
    -------
    tuple
        New counts of the lower and the upper store (1).
    """
    high_layer_kg = store.mass_kg / store.layers
    left = taken_kg
    while left > TINY_KG:
        top = low_count - 1
        part = min(left, low_kg[top])
        if part > 0.0:
            high_count = add_below(low_c[top], part, high_layer_kg, high_c, high_kg, high_count)
            high_count = tidy(store.layers, high_c, high_kg, high_count)
            low_kg[top] -= part
            left -= part
        if low_kg[top] <= TINY_KG:
            if low_count == 1:
                break
            crumb = low_kg[top]
            below = low_kg[top - 1]
            low_c[top - 1] += (low_c[top] - low_c[top - 1]) * crumb / (below + crumb)
            low_kg[top - 1] = below + crumb
            low_count -= 1
    if left > TINY_KG:  # the lower store is empty: its own refill passes on
        high_count = add_below(mains_c, left, high_layer_kg, high_c, high_kg, high_count)
        high_count = tidy(store.layers, high_c, high_kg, high_count)
    low_count = add_below(mains_c, taken_kg - left, layer_kg, low_c, low_kg, low_count)
    return low_count, high_count


@kernel
def end_loss(
    loss_w_k: float,
    around_c: float,
    top: bool,
    dt_s: float,
    band_kg: float,
    temperature_c: Array,
    mass_kg: Array,
    count: int,
) -> float:
    """Loss (J) through the top (top) or the floor of a store at loss_w_k (W/K) in dt_s (s).

    The segments of the last band_kg (kg), however thin each, cool alike towards around_c (°C).

    Parameters
    ----------
    loss_w_k
        Heat loss (W/K).
    around_c
        Temperature around (°C).
    top
        Whether it is the top.
    dt_s
        Length of the step (s).
    band_kg
        Water that the end cools (kg).
    temperature_c
        Temperatures of the segments, bottom first (°C).
    mass_kg
        Masses of the segments, bottom first (kg).
    count
        Number of segments in use.

    Returns
    -------
    float
        Loss (J).
    """
    end = count - 1 if top else 0
    last = end
    mass = mass_kg[end]
    warmth = mass * thawed(temperature_c[end])
    while mass < band_kg and (last > 0 if top else last < count - 1):
        last += -1 if top else 1
        mass += mass_kg[last]
        warmth += mass_kg[last] * thawed(temperature_c[last])
    pace = loss_w_k * dt_s / (mass * WATER_J_KGK)
    fall = (warmth / mass - around_c) * (pace / (1.0 + pace))
    for k in range(min(end, last), max(end, last) + 1):
        temperature_c[k] -= fall
    return mass * WATER_J_KGK * fall


@kernel
def boil(
    limit_c: float,
    mains_c: float,
    steam_j_kg: float,
    store: LayeredStore,
    temperature_c: Array,
    mass_kg: Array,
    count: int,
) -> tuple[float, float, int]:
    """Let off whatever is hotter than limit_c (°C): heat (J), water (kg), new count (1). °C, kg in place.

    Open vented: steam leaves with its latent heat steam_j_kg (J/kg) and its warmth above the make-up water at
    mains_c (°C), which enters below. steam_j_kg = 0: a relief valve lets hot water out.

    Parameters
    ----------
    limit_c
        Temperature not to be passed (°C).
    mains_c
        Cold water (°C).
    steam_j_kg
        Latent heat of the steam (J/kg); 0 for a relief valve.
    store
        The store.
    temperature_c
        Temperatures of the segments, bottom first (°C).
    mass_kg
        Masses of the segments, bottom first (kg).
    count
        Number of segments in use.

    Returns
    -------
    tuple
        Heat let off (J), water let off (kg), new count (1).
    """
    excess = 0.0
    for k in range(count):
        if temperature_c[k] > limit_c:
            excess += mass_kg[k] * (temperature_c[k] - limit_c) * WATER_J_KGK
            temperature_c[k] = limit_c
    if excess <= 0.0:
        return 0.0, 0.0, count
    warmth = WATER_J_KGK * max(limit_c - mains_c, 1.0)
    per_kg = steam_j_kg if steam_j_kg > 0.0 else warmth
    gone = min(excess / per_kg, 0.5 * store.mass_kg)
    lost = excess
    if steam_j_kg > 0.0:
        lost += gone * WATER_J_KGK * (limit_c - mains_c)
        count = pass_through(1.0, 0.0, gone, mains_c, False, store, temperature_c, mass_kg, count)
    return lost, gone, count
