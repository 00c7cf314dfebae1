"""Heaters of the stores: elements and boiler, each at its height with its thermostat, a stove, and pasteurising."""

import numpy as np
from numpy.typing import NDArray

from heat.common.compiled import inline_kernel, kernel
from heat.constants import WATER_J_KGK
from heat.ledger import accounts as acc
from heat.loop.stove import Stove, jacket_answer
from heat.simulation.parts import ELEMENT_ON, MAINS, MODE, PASTEURISE_C, STOVE_ON, Heater, Heaters, Parts, Totals, Water
from heat.store.layers import LayeredStore, heat_above, mean_between, mix_inversions, sensor
from heat.store.ports import SPARE, pass_through, port_mean, tidy

Array = NDArray[np.float64]


REACHED_K = 1e-6
"""How near its set point a thermostat is satisfied (K): a heater gives exactly what is wanted, so that rounding alone
would decide whether it rests until the store has cooled by the hysteresis. Source: our own choice, far below any
sensor."""


PASTEURISING_S = 60.0
"""Longest turn of heaters and transfer while pasteurising (s): in a longer one they would heat a top past its set point
that the pump has long carried down. Source: our own choice; half of it changes a year by less than 0.1 %."""


PIPED_K = 1.0
"""What the transfer's way costs while pasteurising (K). Source: our own choice; usual pipes lose less."""


@kernel
def heat_store(
    heater: Heater, power_w: float, dt: float, set_c: float, store: LayeredStore, layers: Array, mass: Array, count: int
) -> tuple[float, int]:
    """Heat (J) of a heater of power_w (W) in dt (s) into a store up to set_c (°C), new count (1); °C, kg in place."""
    heat, count = heat_above(heater.height_share, power_w * dt, set_c, store, layers, mass, count)
    if heat > 0.0:
        mix_inversions(layers, mass, count)
        if count > store.layers + SPARE:
            count = tidy(store.layers, layers, mass, count)
    return heat, count


@inline_kernel
def heats(
    i: int,
    heater: Heater,
    on: float,
    pasteurise_c: float,
    mode: float,
    dt: float,
    parts: Parts,
    latched: Array,
    count: int,
    count_2: int,
    water: Water,
) -> tuple[float, int, int]:
    """Heat (J) of heater i in dt (s), ``on`` for a share of its power (no unit), and the stores' counts (1, 1).

    Its latch is kept; °C, kg in place.

    While pasteurising all but the night boiler (3) heat towards its temperature, at any hour; in the direct mode (1)
    they rest otherwise.
    """
    killing = pasteurise_c > 0.0 and i < 3
    if heater.power_w <= 0.0 or (on <= 0.0 and not killing) or (mode == 1.0 and i < 3 and not killing):
        return 0.0, count, count_2
    in_second = parts.two_stores and heater.in_second
    set_c = heater.set_c
    if killing:  # so much above it that the thermostat's own swing stays above it
        set_c = max(pasteurise_c + heater.hysteresis_k + PIPED_K, set_c)
    place = heater.sensor_share
    if in_second:
        warm_c = sensor(place, parts.main, water.layers_2, water.mass_2, count_2)
    else:
        warm_c = sensor(place, parts.store, water.layers, water.mass, count)
    # between the two it stays as it was: the latch is the thermostat's memory, so it outlives the step and the hour
    if warm_c < set_c - heater.hysteresis_k:
        latched[i] = 1.0
    elif warm_c >= set_c - REACHED_K:
        latched[i] = 0.0
    if latched[i] <= 0.0:
        return 0.0, count, count_2
    power_w = heater.power_w * (1.0 if killing else on)
    if in_second:
        heat, count_2 = heat_store(heater, power_w, dt, set_c, parts.main, water.layers_2, water.mass_2, count_2)
    else:
        heat, count = heat_store(heater, power_w, dt, set_c, parts.store, water.layers, water.mass, count)
    return heat, count, count_2


@kernel
def fire(
    stove: Stove, lit: float, dt: float, limit_c: float, store: LayeredStore, layers: Array, mass: Array, count: int
) -> tuple[float, float, float, int]:
    """A fire lit for a share of its power (no unit) in dt (s): heat (J) to water, boiled off, to the room; new count
    (1).

    The store's water passes the jacket from port to port; °C, kg in place.
    """
    power_w = stove.water_w * lit
    low_c = port_mean(stove.out_share, 0.02 * store.mass_kg, store.mass_kg, layers, mass, count)
    store_c = mean_between(stove.out_share * store.mass_kg, stove.in_share * store.mass_kg, layers, mass, count)
    flow, _jacket_c, share = jacket_answer(stove, power_w, low_c, store_c, limit_c)
    given = power_w * share * dt
    kg = min(flow * dt, 0.5 * store.mass_kg)  # passed in one turn: more in a step would only come round again
    from_c = port_mean(stove.out_share, kg, store.mass_kg, layers, mass, count) if kg > 0.0 else low_c
    back_c = from_c
    if kg > 0.0:
        back_c = max(min(from_c + given / (kg * WATER_J_KGK), limit_c), from_c)
        count = pass_through(stove.out_share, stove.in_share, kg, back_c, False, store, layers, mass, count)
    carried = kg * WATER_J_KGK * (back_c - from_c)
    return given, max(given - carried, 0.0), stove.room_w * lit * share * dt, count


@inline_kernel
def heat_by_stove(
    parts: Parts, hours: Array, h: int, dt: float, count: int, count_2: int, water: Water, totals: Totals
) -> tuple[float, float, int, int]:
    """The stove lit in hour h for dt (s): heat to water and to its room (J), new counts (1, 1); °C, kg in place.

    Whether its room wants that heat is decided where rooms are served.
    """
    stove = parts.stove
    book = totals.book
    limit_c = parts.vessel.limit_c
    if stove.in_second:
        given, boiled, room_j, count_2 = fire(
            stove, hours[STOVE_ON, h], dt, limit_c, parts.main, water.layers_2, water.mass_2, count_2
        )
        mix_inversions(water.layers_2, water.mass_2, count_2)
    else:
        given, boiled, room_j, count = fire(
            stove, hours[STOVE_ON, h], dt, limit_c, parts.store, water.layers, water.mass, count
        )
    book[acc.STOVE_TO_STORE] += given
    book[acc.BOUGHT_STOVE if stove.bought else acc.OWN_STOVE] += given + room_j
    book[acc.BOIL_OFF] += boiled
    if boiled > 0.0:
        warmth = WATER_J_KGK * max(limit_c - hours[MAINS, h], 1.0)
        per_kg = parts.vessel.steam_j_kg + warmth if parts.vessel.steam_j_kg > 0.0 else warmth
        totals.trace[acc.BOILED_KG] += boiled / per_kg * 3600.0
    book[acc.PUMP_ELECTRICITY] += stove.pump_w * dt
    return given, room_j, count, count_2


@inline_kernel
def heat_stores(
    parts: Parts,
    heaters: Heaters,
    hours: Array,
    h: int,
    dt: float,
    latched: Array,
    count: int,
    count_2: int,
    water: Water,
    totals: Totals,
) -> tuple[bool, bool, float, int, int]:
    """Elements, boiler and stove at work in hour h for dt (s): whether the boiler heated, any is on (1), the stove's
    heat to its room (J), new counts.

    Stores in °C and kg, in place. While pasteurising a pump carries their heat from the top to the
    bottom, where there are two stores from each to the other.
    """
    book = totals.book
    pasteurise_c = hours[PASTEURISE_C, h]
    mode = hours[MODE, h]
    bought_j = 0.0
    boiler_j = 0.0
    turns = max(1, int(np.ceil(dt / PASTEURISING_S))) if pasteurise_c > 0.0 else 1
    turn_s = dt / turns
    for _ in range(turns):
        for i in range(4):
            heater = heaters[i]
            heat_j, count, count_2 = heats(
                i, heater, hours[ELEMENT_ON + i, h], pasteurise_c, mode, turn_s, parts, latched, count, count_2, water
            )
            if i < 2:
                book[acc.BOUGHT_ELEMENT] += heat_j
            else:
                book[acc.BOUGHT_BOILER] += heat_j
                boiler_j += heat_j
            bought_j += heat_j
        if pasteurise_c > 0.0 and parts.transfer_kg_s > 0.0:
            kg = min(parts.transfer_kg_s * turn_s, parts.store.mass_kg)  # once round in a turn is as much as can matter
            if parts.two_stores:
                kg = min(kg, parts.main.mass_kg)
            top_c = port_mean(1.0, kg, parts.store.mass_kg, water.layers, water.mass, count)
            from_c = top_c
            if parts.two_stores:
                from_c = port_mean(1.0, kg, parts.main.mass_kg, water.layers_2, water.mass_2, count_2)
                count_2 = pass_through(1.0, 0.0, kg, top_c, False, parts.main, water.layers_2, water.mass_2, count_2)
                mix_inversions(water.layers_2, water.mass_2, count_2)
            count = pass_through(1.0, 0.0, kg, from_c, False, parts.store, water.layers, water.mass, count)
            mix_inversions(water.layers, water.mass, count)
    room_j = 0.0
    if hours[STOVE_ON, h] > 0.0:
        heat_j, room_j, count, count_2 = heat_by_stove(parts, hours, h, dt, count, count_2, water, totals)
        bought_j += heat_j
    return boiler_j > 0.0, bought_j > 0.0, room_j, count, count_2
