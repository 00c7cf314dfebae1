"""A fire's water jacket and its store: what weight, or a pump, carries up, and how the fire falls as it warms."""

from typing import NamedTuple

from heat.common.compiled import inline_kernel, kernel
from heat.common.fluid import Fluid, density, viscosity
from heat.constants import WATER_J_KGK
from heat.loop.circulation import Heights, Passage, driving_pressure, pressure_drop

COLD_C, HOT_C = 20.0, 90.0
"""Water of the jacket at which the fire gives all its power, and the share named for hot water (°C). Source: our own
choice, near the ends of a day's firing."""
DAMPER_K = 15.0
"""The damper closes over the last kelvin below its temperature (K). Source: our own choice, usual band of draught
regulators."""
SLUMBERS = 0.1
"""What a fire with its damper closed still gives (no unit). Source: our own choice."""
LEFT_K = 10.0
"""So far above its damper (K) nobody lays on more wood. Source: our own choice."""
HALVINGS = 14
"""Halvings of the search for the temperature of the jacket (1): 100 K to less than a hundredth. Source: our own
choice."""


class Stove(NamedTuple):
    """A stove: power to water and room (W), ports of its store (shares), share of its power with hot water (no unit),
    where its damper closes (°C), pumped flow (kg/s, 0: by weight), heights (m), passage, water, whether it feeds the
    second store and whether its heat counts as bought.
    """

    water_w: float
    room_w: float
    out_share: float
    in_share: float
    hot_share: float
    damper_c: float
    pumped_kg_s: float
    pump_w: float
    heights: Heights
    pipes: Passage
    water: Fluid
    in_second: bool
    bought: bool


@inline_kernel
def fire_share(stove: Stove, jacket_c: float) -> float:
    """Share of its power (no unit) a fire gives with the jacket's water at jacket_c (°C).

    Parameters
    ----------
    stove
        The stove (W, m, shares).
    jacket_c
        Temperature of the jacket (°C).

    Returns
    -------
    float
        Share of its power (no unit) a fire gives with the jacket's water at jacket_c (°C).
    """
    share = 1.0 - (1.0 - stove.hot_share) * (jacket_c - COLD_C) / (HOT_C - COLD_C)
    open_ = (stove.damper_c - jacket_c) / DAMPER_K
    slumber = SLUMBERS * min(max(1.0 + (stove.damper_c - jacket_c) / LEFT_K, 0.0), 1.0)
    return min(max(share, 0.0), 1.0) * min(max(open_, slumber), 1.0)


@inline_kernel
def weight_pressure(stove: Stove, jacket_c: float, low_c: float, store_density: float) -> float:
    """Pressure (Pa) that drives water from the jacket, leaving at jacket_c (°C), to the store and back at low_c (°C);
    density of the store's water between the ports (kg/m³).

    The jacket is at their mean.

    Parameters
    ----------
    stove
        The stove (W, m, shares).
    jacket_c
        Temperature of the jacket (°C).
    low_c
        Lower sensor of the controller (°C).
    store_density
        Density of the store's water between the connections (kg/m³).

    Returns
    -------
    float
        Pressure (Pa).
    """
    middle_c = 0.5 * (jacket_c + low_c)
    return driving_pressure(stove.heights, stove.water, middle_c, jacket_c, store_density, low_c)


@inline_kernel
def excess_drive(stove: Stove, power_w: float, jacket_c: float, low_c: float, store_density: float) -> float:
    """Whether the water would leave the jacket cooler than jacket_c (°C): positive where drive exceeds friction (Pa),
    or the pumped flow takes more than power_w (W).

    Parameters
    ----------
    stove
        The stove (W, m, shares).
    power_w
        Power (W).
    jacket_c
        Temperature of the jacket (°C).
    low_c
        Lower sensor of the controller (°C).
    store_density
        Density of the store's water between the connections (kg/m³).

    Returns
    -------
    float
        Whether the water would leave the jacket cooler than jacket_c (°C): positive where drive exceeds
        friction (Pa), or the pumped flow takes more than power_w (W).
    """
    given_w = power_w * fire_share(stove, jacket_c)
    if stove.pumped_kg_s > 0.0:
        return stove.pumped_kg_s * WATER_J_KGK * (jacket_c - low_c) - given_w
    flow = given_w / (WATER_J_KGK * (jacket_c - low_c))
    mu, rho = viscosity(stove.water, jacket_c), density(stove.water, jacket_c)
    return weight_pressure(stove, jacket_c, low_c, store_density) - pressure_drop(flow, mu, rho, stove.pipes)


@inline_kernel
def weight_flow(stove: Stove, limit_c: float, low_c: float, store_density: float) -> float:
    """Flow (kg/s) that weight drives with the jacket at limit_c (°C), its store's water at low_c (°C).

    Parameters
    ----------
    stove
        The stove (W, m, shares).
    limit_c
        Temperature not to be passed (°C).
    low_c
        Lower sensor of the controller (°C).
    store_density
        Density of the store's water between the connections (kg/m³).

    Returns
    -------
    float
        Flow (kg/s).
    """
    drive = weight_pressure(stove, limit_c, low_c, store_density)
    if drive <= 0.0:
        return 0.0
    low, high = 0.0, 5.0
    mu, rho = viscosity(stove.water, limit_c), density(stove.water, limit_c)
    for _ in range(2 * HALVINGS):
        middle = 0.5 * (low + high)
        if pressure_drop(middle, mu, rho, stove.pipes) > drive:
            high = middle
        else:
            low = middle
    return low


@kernel
def jacket_answer(
    stove: Stove, power_w: float, low_c: float, store_c: float, limit_c: float
) -> tuple[float, float, float]:
    """How a lit jacket of power_w (W) settles: flow (kg/s), water leaving it (°C), fire's share (no unit).

    Water comes at low_c (°C), the store is at store_c (°C) between the ports. Above limit_c (°C) it boils off: then
    the flow carries less than the fire gives. The temperature is where drive by weight meets friction, found by
    halving.

    Parameters
    ----------
    stove
        The stove (W, m, shares).
    power_w
        Power (W).
    low_c
        Lower sensor of the controller (°C).
    store_c
        Temperature of the store (°C).
    limit_c
        Temperature not to be passed (°C).

    Returns
    -------
    tuple
        Flow (kg/s), water that leaves it (°C), share of the fire it takes (no unit).
    """
    if low_c >= limit_c - 0.01:
        return 0.0, limit_c, fire_share(stove, limit_c)
    rho = density(stove.water, store_c)
    if excess_drive(stove, power_w, limit_c, low_c, rho) <= 0.0:
        flow = stove.pumped_kg_s if stove.pumped_kg_s > 0.0 else weight_flow(stove, limit_c, low_c, rho)
        return flow, limit_c, fire_share(stove, limit_c)
    cool_c, warm_c = low_c, limit_c
    for _ in range(HALVINGS):
        middle = 0.5 * (cool_c + warm_c)
        if excess_drive(stove, power_w, middle, low_c, rho) > 0.0:
            warm_c = middle
        else:
            cool_c = middle
    share = fire_share(stove, warm_c)
    return power_w * share / (WATER_J_KGK * (warm_c - low_c)), warm_c, share
