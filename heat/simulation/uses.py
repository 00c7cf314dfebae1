"""What the uses beside the taps take from the stores: rooms, floor slab, circulation, fresh air, process, pool."""

from math import exp

import numpy as np
from numpy.typing import NDArray

from heat.common.compiled import inline_kernel, kernel
from heat.constants import WATER_J_KGK
from heat.ledger import accounts as acc
from heat.loop.coil import coil_lift_deliver, coil_lift_response
from heat.simulation.parts import (
    CIRCULATION_W,
    DUMP_ON,
    FRESH_RETURN_C,
    FRESH_SUPPLY_C,
    FRESH_W,
    HEATING_2_RETURN_C,
    HEATING_2_SUPPLY_C,
    HEATING_2_W,
    HEATING_RETURN_C,
    HEATING_SUPPLY_C,
    HEATING_W,
    MAINS,
    POOL,
    POOL_ACTIVITY,
    POOL_AIR,
    POOL_BARE,
    POOL_FRESH_KG,
    POOL_ON,
    POOL_SET,
    POOL_SKY,
    POOL_SUN_W,
    POOL_VAPOUR,
    POOL_WIND,
    PROCESS_W,
    SLAB_ON,
    Load,
    Loads,
    Parts,
    Totals,
    Water,
)
from heat.simulation.vessel import dump_heat
from heat.store.layers import LayeredStore, mix_inversions
from heat.store.pool import LATENT_J_KG, pool_losses
from heat.store.ports import pass_through, port_mean

Array = NDArray[np.float64]


@kernel
def serve_load(
    load: Load,
    wanted_j: float,
    supply_c: float,
    return_c: float,
    dt: float,
    store: LayeredStore,
    layers: Array,
    mass: Array,
    count: int,
) -> tuple[float, int]:
    """Heat a load takes from a store (J) and the store's new count (1).

    wanted_j (J) between supply_c and return_c (°C): the store's water is passed as it is needed, mixed
    down by the circuit; cooler water than asked for serves as far as it goes. Ports by share (no unit).
    """
    if wanted_j <= 0.0 or layers[count - 1] < load.reserve_c:
        return 0.0, count
    circuit_kg = wanted_j / (WATER_J_KGK * max(supply_c - return_c, 1.0))
    kg = min(circuit_kg, 0.5 * store.mass_kg)
    warm = port_mean(load.out_share, kg, store.mass_kg, layers, mass, count)
    if warm <= return_c + 0.5:
        return 0.0, count
    kg = min(kg, wanted_j / (WATER_J_KGK * (warm - return_c)))
    warm = port_mean(load.out_share, kg, store.mass_kg, layers, mass, count)
    heat = min(kg * WATER_J_KGK * (warm - return_c), wanted_j)
    if heat <= 0.0:
        return 0.0, count
    back_c = warm - heat / (kg * WATER_J_KGK)
    count = pass_through(load.out_share, load.in_share, kg, back_c, False, store, layers, mass, count)
    mix_inversions(layers, mass, count)
    return heat, count


@kernel
def serve_by_coil(
    load: Load,
    wanted_j: float,
    supply_c: float,
    return_c: float,
    dt: float,
    store: LayeredStore,
    layers: Array,
    mass: Array,
    count: int,
    effect: Array,
    warming: Array,
) -> float:
    """Heat (J) a circuit takes by its own coil in a store: its water rises through it from return_c (°C).

    Where it comes out warmer than supply_c (°C) the circuit's valve lets it pass for a part of the time, so that no
    more than wanted_j (J) is taken in dt (s).
    """
    if wanted_j <= 0.0 or layers[count - 1] < load.reserve_c:
        return 0.0
    flow_w_k = wanted_j / (dt * max(supply_c - return_c, 1.0))
    duty_s = 1e-6 * dt
    upper = -1
    for turn in range(9):  # the rise hardly depends on how long it flows; from below, and never so that it is too much
        share, offset, upper = coil_lift_response(
            load.coil, flow_w_k, duty_s, layers, mass, count, store.mass_kg, effect, warming
        )
        rise = share * return_c + offset - return_c
        if rise <= 0.5:
            return 0.0
        better = min(wanted_j / (flow_w_k * rise), dt)
        over_s = duty_s - better
        if turn == 8 or (over_s < 1e-9 * dt and (turn >= 4 or over_s > -1e-9 * dt)):
            break
        duty_s = better if turn < 4 else 0.999 * better  # not settled: a little less, so that it is not too much
    heat = -coil_lift_deliver(return_c, flow_w_k, duty_s, layers, upper, effect, warming)
    mix_inversions(layers, mass, count)
    return heat


@inline_kernel
def serve(
    parts: Parts,
    load: Load,
    wanted_j: float,
    supply_c: float,
    return_c: float,
    dt: float,
    count: int,
    count_2: int,
    water: Water,
) -> tuple[float, float, float, int, int]:
    """A use served from the store that is kept hot, what its heater adds, what is missing (J); new counts (1, 1)."""
    heat_j = 0.0
    if wanted_j > 0.0:
        by_coil = load.coil.ua_w_k > 0.0
        if parts.two_stores and by_coil:
            heat_j = serve_by_coil(
                load,
                wanted_j,
                supply_c,
                return_c,
                dt,
                parts.main,
                water.layers_2,
                water.mass_2,
                count_2,
                water.effect,
                water.warming,
            )
        elif parts.two_stores:
            heat_j, count_2 = serve_load(
                load, wanted_j, supply_c, return_c, dt, parts.main, water.layers_2, water.mass_2, count_2
            )
        elif by_coil:
            heat_j = serve_by_coil(
                load,
                wanted_j,
                supply_c,
                return_c,
                dt,
                parts.store,
                water.layers,
                water.mass,
                count,
                water.effect,
                water.warming,
            )
        else:
            heat_j, count = serve_load(
                load, wanted_j, supply_c, return_c, dt, parts.store, water.layers, water.mass, count
            )
    rest_j = max(wanted_j - heat_j, 0.0)
    added_j = min(rest_j, load.backup_w * dt)
    return heat_j, added_j, rest_j - added_j, count, count_2


@inline_kernel
def accumulate_unmet(wanted_j: float, unmet_j: float, dt: float, totals: Totals) -> None:
    """Write heat a use did not get (J) in dt (s), and whether that is worth a mark (no unit)."""
    totals.book[acc.UNMET] += unmet_j
    if unmet_j > 1e-3 * wanted_j:
        totals.trace[acc.COLD_HEATING_SHARE] += dt


@inline_kernel
def heat_slab(
    parts: Parts,
    loads: Loads,
    hours: Array,
    h: int,
    dt: float,
    slab_c: float,
    count: int,
    count_2: int,
    water: Water,
    totals: Totals,
) -> tuple[float, float, int, int]:
    """A heavy floor in dt (s) of hour h: charged from the store while there is sun; its temperature (°C), what it
    leaks to the room (J), new counts (1, 1). Exact for the leaks of a step.
    """
    slab = loads.slab
    store_c = water.layers_2[count_2 - 1] if parts.two_stores else water.layers[count - 1]
    heat_j = 0.0
    if hours[SLAB_ON, h] > 0.0 and slab_c < slab.most_c and store_c > slab_c + slab.lead_k:
        pace = slab.charge_w_k * dt / slab.heat_j_k
        most_j = slab.heat_j_k * min((store_c - slab_c) * (1.0 - exp(-pace)), slab.most_c - slab_c)
        if parts.two_stores:
            heat_j, count_2 = serve_load(
                loads.charging, most_j, store_c, slab_c + 2.0, dt, parts.main, water.layers_2, water.mass_2, count_2
            )
        else:
            heat_j, count = serve_load(
                loads.charging, most_j, store_c, slab_c + 2.0, dt, parts.store, water.layers, water.mass, count
            )
    to_room = max(slab_c - slab.room_c, 0.0) * slab.room_w_k
    to_ground = max(slab_c - slab.ground_c, 0.0) * slab.ground_w_k
    pace = (slab.room_w_k + slab.ground_w_k) * dt / slab.heat_j_k
    share = dt * (1.0 - exp(-pace)) / pace
    totals.book[acc.STORE_TO_SLAB] += heat_j
    totals.book[acc.SLAB_LOSS] += to_ground * share
    return slab_c + (heat_j - (to_room + to_ground) * share) / slab.heat_j_k, to_room * share, count, count_2


@inline_kernel
def serve_rooms(
    parts: Parts,
    loads: Loads,
    hours: Array,
    h: int,
    dt: float,
    room_j: float,
    leak_j: float,
    count: int,
    count_2: int,
    water: Water,
    totals: Totals,
) -> tuple[int, int]:
    """Rooms in hour h for dt (s), by one circuit or two; the stores' new counts (1, 1). W, °C, kg.

    A heavy floor has leaked leak_j (J) to them and a stove given room_j (J); radiators that take what a hot store holds
    too much warm them as well. What of all this they do not ask for makes them too warm.
    """
    book = totals.book
    first_j = dt * hours[HEATING_W, h]
    second_j = dt * hours[HEATING_2_W, h]
    wanted_total_j = first_j + second_j
    of_floor = min(leak_j, wanted_total_j)
    of_stove = min(room_j, wanted_total_j - of_floor)
    book[acc.SLAB_TO_ROOMS] += of_floor
    book[acc.SLAB_EXCESS] += leak_j - of_floor
    book[acc.STOVE_TO_ROOMS] += of_stove
    book[acc.STOVE_EXCESS] += room_j - of_stove
    free = of_floor + of_stove
    if parts.vessel.dump_to_rooms and wanted_total_j > free and hours[DUMP_ON, h] > 0.0:
        most_w = min((wanted_total_j - free) / dt, parts.vessel.dump_w)
        sunk = dump_heat(parts.vessel, most_w, dt, parts.store, water.layers, water.mass, count)
        book[acc.STORE_TO_HEATING] += sunk
        book[acc.PUMP_ELECTRICITY] += parts.vessel.dump_pump_w * sunk / parts.vessel.dump_w
        free += sunk
    book[acc.TO_HEATING] += free
    book[acc.HEATING_DEMAND] += wanted_total_j
    left = max(1.0 - free / wanted_total_j, 0.0) if wanted_total_j > 0.0 else 0.0
    if left <= 1e-9:
        return count, count_2
    heat, added, missing, count, count_2 = serve(
        parts,
        loads.rooms,
        first_j * left,
        hours[HEATING_SUPPLY_C, h],
        hours[HEATING_RETURN_C, h],
        dt,
        count,
        count_2,
        water,
    )
    if second_j > 0.0:
        heat_2, added_2, unmet_2, count, count_2 = serve(
            parts,
            loads.rooms_2,
            second_j * left,
            hours[HEATING_2_SUPPLY_C, h],
            hours[HEATING_2_RETURN_C, h],
            dt,
            count,
            count_2,
            water,
        )
        heat += heat_2
        added += added_2
        missing += unmet_2
        over = max(added - loads.rooms.backup_w * dt, 0.0)  # one heater serves both circuits
        added -= over
        missing += over
    book[acc.STORE_TO_HEATING] += heat
    book[acc.BOUGHT_HEATING] += added
    book[acc.TO_HEATING] += heat + added
    accumulate_unmet(wanted_total_j, missing, dt, totals)
    return count, count_2


@inline_kernel
def serve_loads(
    parts: Parts,
    loads: Loads,
    hours: Array,
    h: int,
    dt: float,
    room_j: float,
    slab_c: float,
    count: int,
    count_2: int,
    water: Water,
    totals: Totals,
) -> tuple[float, int, int]:
    """Rooms, circulation, fresh air and process in hour h for dt (s), a stove having given its room room_j (J).

    The heavy floor's temperature (°C) and the stores' new counts (1, 1). W, °C, kg.
    """
    book = totals.book
    leak_j = 0.0
    if loads.slab.heat_j_k > 0.0:
        slab_c, leak_j, count, count_2 = heat_slab(parts, loads, hours, h, dt, slab_c, count, count_2, water, totals)
    if hours[HEATING_W, h] + hours[HEATING_2_W, h] + leak_j + room_j > 0.0:
        count, count_2 = serve_rooms(parts, loads, hours, h, dt, room_j, leak_j, count, count_2, water, totals)
    wanted = dt * hours[CIRCULATION_W, h]
    if wanted > 0.0:
        load = loads.circulation
        heat, added, missing, count, count_2 = serve(
            parts, load, wanted, load.supply_c, load.return_c, dt, count, count_2, water
        )
        book[acc.STORE_TO_CIRCULATION] += heat
        book[acc.BOUGHT_TANKLESS] += added
        book[acc.TO_CIRCULATION] += heat + added
        book[acc.CIRCULATION_DEMAND] += wanted
        accumulate_unmet(wanted, missing, dt, totals)
    wanted = dt * hours[FRESH_W, h]
    if wanted > 0.0:
        heat, added, missing, count, count_2 = serve(
            parts, loads.fresh, wanted, hours[FRESH_SUPPLY_C, h], hours[FRESH_RETURN_C, h], dt, count, count_2, water
        )
        book[acc.STORE_TO_FRESH] += heat
        book[acc.BOUGHT_HEATING] += added
        book[acc.TO_FRESH] += heat + added
        book[acc.FRESH_DEMAND] += wanted
        accumulate_unmet(wanted, missing, dt, totals)
    wanted = dt * hours[PROCESS_W, h]
    if wanted > 0.0:
        load = loads.process
        heat, added, missing, count, count_2 = serve(
            parts, load, wanted, load.supply_c, load.return_c, dt, count, count_2, water
        )
        book[acc.STORE_TO_PROCESS] += heat
        book[acc.BOUGHT_HEATING] += added
        book[acc.TO_PROCESS] += heat + added
        book[acc.PROCESS_DEMAND] += wanted
        accumulate_unmet(wanted, missing, dt, totals)
    return slab_c, count, count_2


@inline_kernel
def run_pool(
    parts: Parts, load: Load, hours: Array, h: int, dt: float, pool_c: float, count: int, water: Water, totals: Totals
) -> tuple[float, int]:
    """The pool in dt (s) of hour h: its losses, sun, fresh water and heater; new temperature (°C), count (1)."""
    store = parts.store
    loop = parts.loop
    book = totals.book
    layers = water.layers
    mass = water.mass
    mains = hours[MAINS, h]
    activity = hours[POOL_ACTIVITY, h]
    gone, air_loss, sky_loss = pool_losses(
        parts.pool,
        pool_c,
        hours[POOL_AIR, h],
        hours[POOL_VAPOUR, h],
        hours[POOL_WIND, h],
        hours[POOL_SKY, h],
        hours[POOL_BARE, h],
        activity,
    )
    fresh_kg = hours[POOL_FRESH_KG, h] + gone / LATENT_J_KG
    fresh_j_k = fresh_kg * WATER_J_KGK * dt  # it comes in all the while: taken at the end's temperature, for any step
    free = hours[POOL_SUN_W, h]
    lost = (gone + air_loss + sky_loss - free) * dt
    wanted = 0.0
    from_store = 0.0
    added = 0.0
    if hours[POOL_ON, h] > 0.0:
        set_c = hours[POOL_SET, h]
        wanted = max((set_c - pool_c) * parts.pool.heat_j_k + lost + fresh_j_k * (set_c - mains), 0.0)
        if loop.exchange != POOL and parts.pool.exchanger_w_k > 0.0 and wanted > 0.0:
            carry = min(wanted, parts.pool.exchanger_w_k * max(layers[count - 1] - pool_c, 0.0) * dt)
            from_store, count = serve_load(load, carry, layers[count - 1], pool_c + 2.0, dt, store, layers, mass, count)
        added = min(wanted - from_store, parts.pool.heater_w * dt)
    book[acc.STORE_TO_POOL] += from_store
    book[acc.BOUGHT_POOL] += added
    book[acc.POOL_SUN] += free * dt
    book[acc.POOL_EVAPORATION] += gone * dt
    book[acc.POOL_AIR] += air_loss * dt
    book[acc.POOL_SKY] += sky_loss * dt
    book[acc.TO_POOL] += from_store + added
    current = parts.pool.heat_j_k * pool_c + from_store + added - lost + fresh_j_k * mains
    pool_c = current / (parts.pool.heat_j_k + fresh_j_k)
    book[acc.POOL_WATER] += fresh_j_k * (pool_c - mains)
    totals.trace[acc.POOL_C] += pool_c * dt
    return pool_c, count
