"""What a store does beside serving: the sun on it, the heat dump, boiling and relief."""

from math import exp

import numpy as np
from numpy.typing import NDArray

from heat.common.compiled import inline_kernel, kernel
from heat.constants import WATER_J_KGK
from heat.ledger import accounts as acc
from heat.simulation.parts import AIR, COVER_W_K, COVER_W_K2, STORE_GAIN_W, Parts, Totals, VesselPart, Water
from heat.store.layers import LayeredStore, mix_inversions, thawed
from heat.store.ports import boil

Array = NDArray[np.float64]


LIT_SHARE = 1.0 / 3.0
"""Share of its water that a store warmed from above takes the sun into (no unit). Source: our own choice; water takes
half of the sun's light within its first 10 cm."""


@kernel
def dump_heat(
    vessel: VesselPart, power_w: float, dt: float, store: LayeredStore, layers: Array, mass: Array, count: int
) -> float:
    """Heat (J) let go above the dump's temperature in dt (s) by up to power_w (W), from the top down; °C, kg in
    place.
    """
    # from the top down, as the dump's coil sits there: no layer is cooled below the dump's own temperature
    left = power_w * dt
    gone = 0.0
    for k in range(count - 1, -1, -1):
        over = layers[k] - vessel.dump_c
        if over <= 0.0 or left <= 0.0:
            break
        heat = min(left, mass[k] * over * WATER_J_KGK)
        layers[k] -= heat / (mass[k] * WATER_J_KGK)
        left -= heat
        gone += heat
    if gone > 0.0:
        mix_inversions(layers, mass, count)
    return gone


@inline_kernel
def warm_by_sun(
    store: LayeredStore,
    vessel: VesselPart,
    hours: Array,
    h: int,
    dt: float,
    totals: Totals,
    layers: Array,
    mass: Array,
    count: int,
) -> None:
    """Sun on, and loss through the cover of, a store that is its own collector, in dt (s); °C, kg in place.

    The water relaxes to the balance of gain (W) and cover loss (W/K), exactly for any step: all of it, or its upper
    third, from which it is conducted and, once cooler, sinks.
    """
    book = totals.book
    outside = hours[AIR, h]
    gain = hours[STORE_GAIN_W, h] * dt
    low = 0
    lit_kg = store.mass_kg
    if vessel.sun_above:
        low = count - 1
        lit_kg = mass[low]
        while low > 0 and lit_kg < LIT_SHARE * store.mass_kg:
            low -= 1
            lit_kg += mass[low]
    warm_c = 0.0
    for k in range(low, count):
        warm_c += layers[k] * mass[k] / lit_kg
    cover = hours[COVER_W_K, h] + hours[COVER_W_K2, h] * max(warm_c - outside, 0.0)
    pace = cover * dt / (lit_kg * WATER_J_KGK)
    goal = outside + gain / (cover * dt)
    nearer = 1.0 - exp(-pace) if warm_c > 0.0 else pace  # while it freezes or thaws it stays at 0 °C
    through = 0.0
    for k in range(low, count):
        rise = (goal - thawed(layers[k])) * nearer
        layers[k] += rise
        through += mass[k] * rise
    through *= WATER_J_KGK
    if vessel.sun_above:
        mix_inversions(layers, mass, count)
    book[acc.COLLECTOR_LOSS] += gain - through
    book[acc.FROM_COLLECTOR] += through
    book[acc.INTO_STORE] += through
    if layers[0] < 0.0:
        totals.trace[acc.FROZEN_SHARE] += dt


@inline_kernel
def relieve(
    parts: Parts, mains: float, dumping: float, dt: float, count: int, count_2: int, water: Water, totals: Totals
) -> tuple[int, int]:
    """Dump (by ``dumping`` of its power, no unit), boil-off and relief in dt (s): new counts (1, 1).

    mains and stores in °C, masses in kg.
    """
    store = parts.store
    main = parts.main
    two = parts.two_stores
    vessel = parts.vessel
    book = totals.book
    trace = totals.trace
    layers = water.layers
    mass = water.mass
    layers_2 = water.layers_2
    mass_2 = water.mass_2
    if vessel.dump_w > 0.0 and dumping > 0.0:
        gone = dump_heat(vessel, vessel.dump_w * dumping, dt, store, layers, mass, count)
        book[acc.DUMP] += gone
        book[acc.PUMP_ELECTRICITY] += vessel.dump_pump_w * gone / vessel.dump_w
    if layers[count - 1] > vessel.limit_c:
        lost, gone_kg, count = boil(vessel.limit_c, mains, vessel.steam_j_kg, store, layers, mass, count)
        book[acc.BOIL_OFF] += lost
        trace[acc.BOILED_KG] += gone_kg * 3600.0
        mix_inversions(layers, mass, count)
    if two and layers_2[count_2 - 1] > vessel.limit_c:
        lost, gone_kg, count_2 = boil(vessel.limit_c, mains, vessel.steam_j_kg, main, layers_2, mass_2, count_2)
        book[acc.BOIL_OFF] += lost
        trace[acc.BOILED_KG] += gone_kg * 3600.0
        mix_inversions(layers_2, mass_2, count_2)
    return count, count_2
