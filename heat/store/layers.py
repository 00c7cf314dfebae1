"""A layered store: segments of water that move with the flow.

Water drawn at the top lets the whole column rise; cold water below starts a segment of its own
until that holds one layer's worth. Fronts stay sharp, because nothing is averaged across a fixed
grid (Kleinbach, Beckman & Klein 1993, Solar Energy 50, 155-166, "plug flow"). Arrays are bottom
first; ``count`` segments are in use; their masses always sum to the store's.
"""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from heat.common.compiled import inline_kernel, kernel
from heat.constants import WATER_J_KGK

Array = NDArray[np.float64]


TINY_KG = 1e-9
FREEZING_K = 333.55e3 / WATER_J_KGK
"""Latent heat of freezing in kelvin of water (K): 333.55 kJ/kg. Source: IAPWS R14-08 (2011), ice Ih at 0 °C."""
FELT_SHARE = 0.05
"""Share of a store's water whose mean a sensor in its pocket feels (no unit), however fine the layers. Source: our own
choice."""


class LayeredStore(NamedTuple):
    """A store: mass (kg), layers (1), loss (W/K), room (°C), conductance between layers (W kg/K).

    ``conductance_w_kg_k`` is that of two neighbours, times the mass between their middles.
    ``stirred``: each layer is mixed in itself at every step, else fronts stay sharp.
    """

    mass_kg: float
    layers: int
    loss_w_k: float
    room_c: float
    conductance_w_kg_k: float
    stirred: bool


@inline_kernel
def heat_content(temperature_c: Array, mass_kg: Array, count: int) -> float:
    """Heat in the segments above 0 °C (J): temperatures (°C), masses (kg).

    Parameters
    ----------
    temperature_c
        Temperatures of the segments, bottom first (°C).
    mass_kg
        Masses of the segments, bottom first (kg).
    count
        Number of segments in use.

    Returns
    -------
    float
        Heat in the segments above 0 °C (J): temperatures (°C), masses (kg).
    """
    total = 0.0
    for k in range(count):
        total += mass_kg[k] * temperature_c[k]
    return total * WATER_J_KGK


@inline_kernel
def mean_between(low_kg: float, high_kg: float, temperature_c: Array, mass_kg: Array, count: int) -> float:
    """Mean temperature (°C) between two levels, given by the mass (kg) below each.

    Parameters
    ----------
    low_kg
        Water below the lower level (kg).
    high_kg
        Water below the upper level (kg).
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
    bottom = 0.0
    total = 0.0
    weight = 0.0
    # a walk from the bottom, not a table of sums: the masses change with each draw, and few segments lie below
    for k in range(count):
        top = bottom + mass_kg[k]
        covered = min(top, high_kg) - max(bottom, low_kg)
        if covered > 0.0:
            total += covered * temperature_c[k]
            weight += covered
        if top >= high_kg:
            break
        bottom = top
    if weight <= 0.0:
        return temperature_c[count - 1]
    return total / weight


@kernel
def spread(store: LayeredStore, temperature_c: Array, mass_kg: Array, count: int, even_c: Array) -> None:
    """Write the temperatures (°C) of equal layers, bottom first, into even_c.

    Parameters
    ----------
    store
        The store.
    temperature_c
        Temperatures of the segments, bottom first (°C).
    mass_kg
        Masses of the segments, bottom first (kg).
    count
        Number of segments in use.
    even_c
        Room for the temperatures of equal layers (°C); written in place.
    """
    layer = store.mass_kg / store.layers
    part_of = 1.0 / layer
    k = 0
    left = mass_kg[0]
    for j in range(store.layers):
        need = layer
        heat = 0.0
        while left < need and k < count - 1:
            heat += left * temperature_c[k]
            need -= left
            k += 1
            left = mass_kg[k]
        even_c[j] = (heat + need * temperature_c[k]) * part_of
        left -= need


@kernel
def stir(store: LayeredStore, temperature_c: Array, mass_kg: Array, count: int, even_c: Array) -> int:
    """Mix each layer's worth of water: back to equal layers (°C, kg); new count (1).

    The fixed-grid form of a layered store: each node fully mixed, so that fronts smear as in Duffie & Beckman, 4th
    ed., sec. 8.4.

    Parameters
    ----------
    store
        The store.
    temperature_c
        Temperatures of the segments, bottom first (°C).
    mass_kg
        Masses of the segments, bottom first (kg).
    count
        Number of segments in use.
    even_c
        Room to work in (°C).

    Returns
    -------
    int
        New count (1).
    """
    spread(store, temperature_c, mass_kg, count, even_c)
    for k in range(store.layers):
        temperature_c[k] = even_c[k]
        mass_kg[k] = store.mass_kg / store.layers
    return store.layers


@inline_kernel
def sensor(share: float, store: LayeredStore, temperature_c: Array, mass_kg: Array, count: int) -> float:
    """Reading (°C) of a sensor at a height (share 0 to 1): the mean of a twentieth of the store's water there.

    Parameters
    ----------
    share
        Height, 0 at the bottom to 1 at the top (no unit).
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
    float
        Reading (°C).
    """
    felt = FELT_SHARE * store.mass_kg
    low = share * (store.mass_kg - felt)
    return mean_between(low, low + felt, temperature_c, mass_kg, count)


@kernel
def add_below(
    inlet_c: float, inlet_kg: float, layer_kg: float, temperature_c: Array, mass_kg: Array, count: int
) -> int:
    """Add water (kg at °C) at the bottom; returns the new count (1).

    Columns rise by as much.

    Parameters
    ----------
    inlet_c
        Temperature at the inlet (°C).
    inlet_kg
        Water that comes in (kg).
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
    int
        New count (1).
    """
    left = inlet_kg
    # a segment takes water until it holds a layer's worth, then the next begins: fronts as sharp as the layers are fine
    while left > TINY_KG:
        room = layer_kg - mass_kg[0]
        if room > TINY_KG:
            part = min(room, left)
            temperature_c[0] += (inlet_c - temperature_c[0]) * part / (mass_kg[0] + part)
            mass_kg[0] += part
        else:
            part = min(layer_kg, left)
            for k in range(count, 0, -1):
                temperature_c[k] = temperature_c[k - 1]
                mass_kg[k] = mass_kg[k - 1]
            count += 1
            temperature_c[0] = inlet_c
            mass_kg[0] = part
        left -= part
    if left > 0.0:
        temperature_c[0] += (inlet_c - temperature_c[0]) * left / (mass_kg[0] + left)
        mass_kg[0] += left
    return count


@kernel
def drop_crumb(temperature_c: Array, mass_kg: Array, count: int) -> int:
    """Join a vanishing top segment (below 1e-9 kg) to the one under it; new count (1). °C, kg.

    Parameters
    ----------
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
    if count > 1 and mass_kg[count - 1] <= TINY_KG:
        crumb = mass_kg[count - 1]
        below = mass_kg[count - 2]
        rise = (temperature_c[count - 1] - temperature_c[count - 2]) * crumb / (below + crumb)
        temperature_c[count - 2] += rise
        mass_kg[count - 2] = below + crumb
        return count - 1
    return count


@inline_kernel
def mix_inversions(temperature_c: Array, mass_kg: Array, count: int) -> None:
    """Mix wherever warm water lies under cold (°C, kg), in place.

    Pools adjacent violators in one pass: the stable column with the same heat. A pool grows upwards and downwards
    until its neighbours agree with its mean, then is written once.

    Parameters
    ----------
    temperature_c
        Temperatures of the segments, bottom first (°C).
    mass_kg
        Masses of the segments, bottom first (kg).
    count
        Number of segments in use.

    References
    ----------
    Barlow et al. (1972), Statistical Inference under Order Restrictions, sec. 1.2.
    """
    k = 1
    while k < count:
        if temperature_c[k] >= temperature_c[k - 1]:
            k += 1
            continue
        first = k
        last = k
        mass = mass_kg[k]
        heat = temperature_c[k] * mass
        while True:
            if first > 0 and temperature_c[first - 1] * mass > heat:
                first -= 1
                heat += temperature_c[first] * mass_kg[first]
                mass += mass_kg[first]
            elif last < count - 1 and temperature_c[last + 1] * mass < heat:
                last += 1
                heat += temperature_c[last] * mass_kg[last]
                mass += mass_kg[last]
            else:
                break
        mean = heat / mass
        for j in range(first, last + 1):
            temperature_c[j] = mean
        k = last + 1


@kernel
def inverted_below(temperature_c: Array, count: int) -> bool:
    """True if the lowest water (°C) is warmer than the first different water above it.

    Parameters
    ----------
    temperature_c
        Temperatures of the segments, bottom first (°C).
    count
        Number of segments in use.

    Returns
    -------
    bool
        True if the lowest water (°C) is warmer than the first different water above it.
    """
    k = 1
    while k < count and temperature_c[k] == temperature_c[0]:
        k += 1
    return k < count and temperature_c[k] < temperature_c[0]


@inline_kernel
def thawed(heat_c: float) -> float:
    """Temperature (°C) of water whose heat above 0 °C is that of ``heat_c`` (°C): freezing takes 79.7 K worth of heat.

    Segments carry their heat as if they stayed water, so that sums close; below zero that is ice in the making.

    Parameters
    ----------
    heat_c
        Heat above 0 °C as the temperature of water (°C).

    Returns
    -------
    float
        Temperature (°C).
    """
    if heat_c >= 0.0:
        return heat_c
    return min(heat_c + FREEZING_K, 0.0)


@inline_kernel
def lose_to_room(room_c: float, retention: float, temperature_c: Array, mass_kg: Array, count: int) -> float:
    """Cool every segment towards room_c (°C) by ``retention`` = exp(-UA dt/Mc); °C and kg; loss (J).

    Loss is shared by mass, so one factor serves all: exact for any step while nothing freezes.

    Parameters
    ----------
    room_c
        Temperature of the room (°C).
    retention
        Share of the excess over the surroundings that is kept over the step (no unit).
    temperature_c
        Temperatures of the segments, bottom first (°C).
    mass_kg
        Masses of the segments, bottom first (kg).
    count
        Number of segments in use.

    Returns
    -------
    float
        Heat lost (J).
    """
    lost = 0.0
    gone = 1.0 - retention
    for k in range(count):
        fall = gone * (thawed(temperature_c[k]) - room_c)
        lost += mass_kg[k] * fall
        temperature_c[k] -= fall
    return lost * WATER_J_KGK


@kernel
def conduct(
    store: LayeredStore, dt_s: float, temperature_c: Array, mass_kg: Array, count: int, share: Array, later_c: Array
) -> None:
    """Conduct heat through the whole column over dt_s (s), in place (°C, kg); two rows of room to work in.

    One implicit step of the heat equation for all segments together: stable for any step and any thickness. What is
    left of a segment's own mass in the elimination is summed, never a difference, so that heat is kept to rounding
    where crumbs lie on crumbs, too.

    Parameters
    ----------
    store
        The store.
    dt_s
        Length of the step (s).
    temperature_c
        Temperatures of the segments, bottom first (°C).
    mass_kg
        Masses of the segments, bottom first (kg).
    count
        Number of segments in use.
    share
        Shares (no unit).
    later_c
        Room to work in (°C).

    References
    ----------
    Carslaw & Jaeger, Conduction of Heat in Solids, 2nd ed., ch. XVIII (implicit difference); tridiagonal
    elimination after Thomas, in the form of Grassmann, Taksar & Heyman (1985), Operations Research 33, 1107-1116.
    """
    if store.conductance_w_kg_k <= 0.0 or count < 2:
        return
    pace = 2.0 * store.conductance_w_kg_k * dt_s / WATER_J_KGK
    before = 0.0  # conductance to the segment below, times the step (kg)
    below_kg = 0.0  # of what lies below, as much as this segment feels through that conductance
    for k in range(count):
        after = pace / (mass_kg[k] + mass_kg[k + 1]) if k < count - 1 else 0.0
        own = mass_kg[k] + below_kg
        right = mass_kg[k] * temperature_c[k]
        if k > 0:
            right += before * later_c[k - 1]
        part_of = 1.0 / (own + after)
        below_kg = after * own * part_of
        share[k] = after * part_of
        later_c[k] = right * part_of
        before = after
    warm_c = later_c[count - 1]
    temperature_c[count - 1] = warm_c
    for k in range(count - 2, -1, -1):
        warm_c = later_c[k] + share[k] * warm_c
        temperature_c[k] = warm_c


@inline_kernel
def segment_at(level_kg: float, temperature_c: Array, mass_kg: Array, count: int) -> tuple[int, float]:
    """The segment in which a level lies (1), given by the mass (kg) below it, and how much of it is below (kg).

    A level less than a crumb under a segment's top lies at the floor of the next.

    Parameters
    ----------
    level_kg
        Water below the port (kg).
    temperature_c
        Temperatures of the segments, bottom first (°C).
    mass_kg
        Masses of the segments, bottom first (kg).
    count
        Number of segments in use.

    Returns
    -------
    tuple
        Number of the segment (1), and how much of it lies below the level (kg).
    """
    at = 0
    floor_kg = 0.0
    while at < count - 1 and floor_kg + mass_kg[at] <= level_kg + TINY_KG:
        floor_kg += mass_kg[at]
        at += 1
    below_kg = level_kg - floor_kg
    return at, min(below_kg, mass_kg[at]) if below_kg > TINY_KG else 0.0


@kernel
def part(at: int, below_kg: float, temperature_c: Array, mass_kg: Array, count: int) -> int:
    """Part segment ``at`` in two of its temperature, the lower of below_kg (kg); new count (1). °C, kg in place.

    Parameters
    ----------
    at
        Number of the segment.
    below_kg
        Mass of the lower part (kg).
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
    for k in range(count - 1, at - 1, -1):
        temperature_c[k + 1] = temperature_c[k]
        mass_kg[k + 1] = mass_kg[k]
    mass_kg[at] = below_kg
    mass_kg[at + 1] -= below_kg
    return count + 1


@kernel
def heat_above(
    share: float, heat_j: float, set_c: float, store: LayeredStore, temperature_c: Array, mass_kg: Array, count: int
) -> tuple[float, int]:
    """Give up to heat_j (J) at a height (share) until the water above is at set_c (°C); J given, new count (1).

    The column is parted at the heater, so that what lies below stays as it is; a body reaches over a twentieth of
    the store, or to its top, and stirs it. What becomes warmer than the water above it is left to
    :func:`mix_inversions`. °C, kg in place.

    Parameters
    ----------
    share
        Height, 0 at the bottom to 1 at the top (no unit).
    heat_j
        Heat at most (J).
    set_c
        Temperature up to which it heats (°C).
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
        Heat given (J), new count (1).
    """
    band_kg = FELT_SHARE * store.mass_kg
    low_kg = min(share * store.mass_kg, store.mass_kg - band_kg)
    at, below_kg = segment_at(low_kg, temperature_c, mass_kg, count)
    wanted = -min(below_kg, mass_kg[at]) * max(set_c - temperature_c[at], 0.0)
    for k in range(at, count):
        wanted += mass_kg[k] * max(set_c - temperature_c[k], 0.0)
    heat_j = min(heat_j, wanted * WATER_J_KGK)
    if heat_j <= 0.0:
        return 0.0, count
    if below_kg > 0.0:
        count = part(at, below_kg, temperature_c, mass_kg, count)
        at += 1
    high = at
    heated_kg = mass_kg[at]
    current = heated_kg * temperature_c[at]
    while heated_kg < band_kg - TINY_KG and high < count - 1:
        high += 1
        heated_kg += mass_kg[high]
        current += mass_kg[high] * temperature_c[high]
    for k in range(at, high + 1):
        temperature_c[k] = (current + heat_j / WATER_J_KGK) / heated_kg
    return heat_j, count
