"""Heaters of the stores: elements, boiler and stove, each at its height with its thermostat, and pasteurising."""

from heat import accounts as acc
from heat.compiled import inline_kernel, kernel
from heat.constants import WATER_J_KGK
from heat.run.parts import ELEMENT_ON, MODE, PASTEURISE_C
from heat.store.layers import heat_above, mix_inversions, sensor
from heat.store.ports import SPARE, blend, tidy

REACHED_K = 1e-6
"""How near its set point a thermostat is satisfied (K): a heater gives exactly what is wanted, so that rounding alone
would decide whether it rests until the store has cooled by the hysteresis. Source: our own choice, far below any
sensor."""


@kernel
def heat_store(heater, power_w, dt, set_c, everywhere, store, layers, mass, count):
    """Heat (J) of a heater of power_w (W) in dt (s) into a store up to set_c (°C), new count (1); °C, kg in place."""
    if not everywhere:
        heat, count = heat_above(heater.height_share, power_w * dt, set_c, store, layers, mass, count)
        if heat > 0.0:
            mix_inversions(layers, mass, count)
            if count > store.layers + SPARE:
                count = tidy(store.layers, layers, mass, count)
        return heat, count
    wanted = 0.0
    for k in range(count):
        wanted += mass[k] * max(set_c - layers[k], 0.0) * WATER_J_KGK
    heat = min(power_w * dt, wanted)
    for k in range(count):
        layers[k] += heat / (store.mass_kg * WATER_J_KGK)
    return heat, count


@inline_kernel
def heats(i, heater, on, pasteurise_c, mode, dt, parts, latched, count, count_2, water):
    """Heat (J) of heater i in dt (s), ``on`` for a share of its power (no unit), and the stores' counts (1, 1).

    Its latch is kept; °C, kg in place.

    While pasteurising all but the stove (3) heat everything through; in the direct mode (1) they rest otherwise.
    """
    everywhere = pasteurise_c > 0.0 and i < 3
    if heater.power_w <= 0.0 or (on <= 0.0 and not everywhere) or (mode == 1.0 and i < 3 and not everywhere):
        return 0.0, count, count_2
    in_second = parts.two_stores and heater.in_second
    set_c = pasteurise_c if everywhere else heater.set_c
    place = 0.0 if everywhere else heater.sensor_share
    if in_second:
        warm_c = sensor(place, parts.main, water.layers_2, water.mass_2, count_2)
    else:
        warm_c = sensor(place, parts.store, water.layers, water.mass, count)
    if warm_c < set_c - heater.hysteresis_k:
        latched[i] = 1.0
    elif warm_c >= set_c - REACHED_K:
        latched[i] = 0.0
    if latched[i] <= 0.0:
        return 0.0, count, count_2
    power_w = heater.power_w * (1.0 if everywhere else on)
    if in_second:
        heat, count_2 = heat_store(
            heater, power_w, dt, set_c, everywhere, parts.main, water.layers_2, water.mass_2, count_2
        )
    else:
        heat, count = heat_store(heater, power_w, dt, set_c, everywhere, parts.store, water.layers, water.mass, count)
    return heat, count, count_2


@inline_kernel
def heat_stores(parts, heaters, hours, h, dt, latched, count, count_2, water, page):
    """Elements, boiler and stove at work in hour h for dt (s): whether the boiler heated, any is on (1), new counts.

    Stores in °C and kg, in place. While pasteurising all but the stove heat everything through.
    """
    book = page.book
    pasteurise_c = hours[PASTEURISE_C, h]
    mode = hours[MODE, h]
    bought_j = 0.0
    boiler_j = 0.0
    for i in range(4):
        heater = heaters[i]
        heat_j, count, count_2 = heats(
            i, heater, hours[ELEMENT_ON + i, h], pasteurise_c, mode, dt, parts, latched, count, count_2, water
        )
        if i < 2:
            book[acc.BOUGHT_ELEMENT] += heat_j
        elif i == 2:
            book[acc.BOUGHT_BOILER] += heat_j
            boiler_j = heat_j
        else:
            book[acc.BOUGHT_STOVE] += heat_j
        bought_j += heat_j
    if parts.two_stores and pasteurise_c > 0.0 and parts.transfer_share > 0.0:
        blend(parts.transfer_share, water.layers, water.mass, count, water.layers_2, water.mass_2, count_2)
    return boiler_j > 0.0, bought_j > 0.0, count, count_2
