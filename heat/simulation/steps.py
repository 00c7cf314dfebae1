"""A step of the year's loop, in the order the heat flows: command, loop, heaters, uses, tap, pool, room."""

from math import exp

import numpy as np
from numpy.typing import NDArray

from heat.collector.rated import heat_loss, stagnation_temperature
from heat.common.compiled import inline_kernel, section
from heat.constants import WATER_J_KGK
from heat.control.differential import collector_reading, store_allows, wants_start, wants_stop
from heat.ledger import accounts as acc
from heat.loop.coil import convection_factor
from heat.loop.pipe import pipe_pass, pipe_rest, pipe_retention
from heat.simulation.heaters import heat_stores
from heat.simulation.loop import (
    exchange_answer,
    exchange_deliver,
    field_answer,
    loop_answer,
    natural_flow,
    passive_flow,
)
from heat.simulation.parts import (
    BALANCE,
    COIL,
    DUMP_ON,
    HEATING_2_W,
    HEATING_W,
    MAINS,
    NONE,
    PASSIVE,
    POOL,
    STAYS,
    STORE_AROUND,
    Heaters,
    Hour,
    Loads,
    Loop,
    LoopAnswer,
    LoopCommand,
    Parts,
    Served,
    State,
    Totals,
    Water,
)
from heat.simulation.taps import serve_tap
from heat.simulation.uses import run_pool, serve_loads
from heat.simulation.vessel import relieve, warm_by_sun
from heat.store.layers import lose_to_room, mix_inversions, sensor, stir

Array = NDArray[np.float64]


SHORTEST_S = 30.0
"""A step is not cut shorter than this (s) where a pump starts or stops. Source: our own choice, well below the time in
which a field's own water passes."""
FINE_S, STARTING_S, NEAR_K = 60.0, 120.0, 2.0
"""While a pump may soon stop a step is no longer than the first (s): for the second (s) after its start, when the
pipes' own water passes, and as long as its lead is within the third (K) of the difference it stops at. So its hours
hardly depend on the year's step. Source: our own choice; the fluid of usual pipes passes in one to three minutes."""
SHORTER = 0.2
"""Each trial of an earlier stop is this share of the last (no unit). Source: our own choice."""


@inline_kernel
def is_pumped(parts: Parts) -> bool:
    """Whether a pump moves the loop (no unit)."""
    return parts.loop.exchange != NONE and not parts.loop.natural


@inline_kernel
def may_drift(parts: Parts) -> bool:
    """Whether a pumped loop may flow by its own weight (no unit): a coil above its collectors and no check valve."""
    loop = parts.loop
    return is_pumped(parts) and not loop.check_valve and loop.exchange == COIL and loop.drains == STAYS


@inline_kernel
def store_is_full(parts: Parts, state: State, water: Water) -> bool:
    """Whether the store, or the pool, is at its limit (no unit)."""
    control = parts.control
    if parts.loop.exchange == POOL:
        return state.pool_c >= parts.pool.limit_c
    # the sensor costs a walk through the layers: asked only where the hottest of them could matter
    if is_pumped(parts) and water.layers[state.segments - 1] >= control.store_limit_c - control.release_k:
        limit_c = sensor(control.limit_share, parts.store, water.layers, water.mass, state.segments)
        return not store_allows(control, limit_c, state.full)
    return False


@section
def command_pump(parts: Parts, hour: Hour, state: State, water: Water, totals: Totals, dt: float) -> LoopCommand:
    """What the controller, or the water's weight, makes the loop do in a step of dt (s): W/K, kg/s, °C."""
    loop = parts.loop
    control = parts.control
    if loop.exchange == POOL:
        low_c = state.pool_c + control.store_offset_k
    else:
        low_c = (
            sensor(control.sensor_share, parts.store, water.layers, water.mass, state.segments) + control.store_offset_k
        )
    full = store_is_full(parts, state, water)
    sunless = loop.exchange == NONE
    allowed = not sunless and hour.pump_ok > 0.0 and not state.dry and not full
    if full:
        totals.trace[acc.FULL_SHARE] += dt
    # the lock looks at the boiler of the step before: this step's heaters run after the loop
    if loop.lock_with_boiler and state.boiler_on:
        allowed = False
        totals.trace[acc.LOCKED_SHARE] += dt
    elif hour.pump_ok <= 0.0 and not sunless:
        totals.trace[acc.LOCKED_SHARE] += dt
    forced = hour.pump_ok > 1.0
    drifting = loop.natural and hour.pump_ok > 0.0 and not state.dry
    go = False
    dt_s = dt
    flow_w_k = loop.flow_w_k
    if is_pumped(parts) and allowed:
        share, dt_s = pump_share(parts, hour, state, forced, low_c, dt)
        go = share > 0.0
        flow_w_k = loop.flow_w_k * share
        # a pump that runs against a closed valve draws its power and moves nothing
        if go and loop.blocked:
            totals.book[acc.PUMP_ELECTRICITY] += loop.pump_w * dt_s
            totals.trace[acc.PUMP_SHARE] += dt_s
            go = False
    if may_drift(parts) and not go and not state.dry:
        drifting = True
    flow_kg_s = state.flow_kg_s
    if drifting:
        flow_kg_s = natural_flow(parts, hour, state, water, BALANCE, dt)
        # a full store holds back only heat on its way in; a loop that flows backwards cools it
        go = flow_kg_s != 0.0 and not (full and flow_kg_s > 0.0)
        flow_w_k = abs(flow_kg_s) * parts.natural.fluid.heat_j_kgk
    return LoopCommand(dt_s, go, drifting, drifting and flow_kg_s < 0.0, forced, flow_w_k, flow_kg_s, low_c, full)


@inline_kernel
def rest_until_start(parts: Parts, hour: Hour, state: State, low_c: float, dt: float) -> float:
    """How long (s) the collectors stand until their pump is wanted, negative if not within dt (s); low_c (°C)."""
    control = parts.control
    standing_c = stagnation_temperature(hour.sun, hour.air_c, state.collector_c, dt, hour.a1, parts.collector)
    later_c = collector_reading(control, standing_c, hour.air_c)
    if not wants_start(control, later_c, low_c):
        return -1.0
    short_k = low_c + control.on_k - collector_reading(control, state.collector_c, hour.air_c)
    if short_k <= 0.0:
        return 0.0
    wait_s = dt * short_k / (short_k + later_c - low_c - control.on_k)
    # the curve bends a little: once more along the chord to where that guess leads
    guess_c = stagnation_temperature(hour.sun, hour.air_c, state.collector_c, wait_s, hour.a1, parts.collector)
    over_k = collector_reading(control, guess_c, hour.air_c) - low_c - control.on_k
    return wait_s * short_k / (short_k + over_k) if over_k > 0.0 else wait_s


@inline_kernel
def pump_share(parts: Parts, hour: Hour, state: State, forced: bool, low_c: float, dt: float) -> tuple[float, float]:
    """Share of its flow at which an allowed pump is wanted (no unit), 0 for not at all; low_c (°C), dt (s).

    Beside it how long this holds (s): a pump that is wanted before the step is over rests until then.
    """
    loop = parts.loop
    control = parts.control
    if loop.by_sun:
        return hour.flow_share if forced or hour.flow_share > 0.0 else 0.0, dt
    # two sensors, two differences: a pump starts at on_k and stops at off_k; between them it stays as it is
    # (hysteresis), or it would switch with each breath of the sun
    if not state.running and not forced:
        wait_s = rest_until_start(parts, hour, state, low_c, dt)
        if wait_s > SHORTEST_S:
            return 0.0, min(wait_s, dt)
        if wait_s < 0.0:
            return 0.0, dt
    if not forced and state.ran < STARTING_S:
        dt = min(dt, FINE_S)
    share = hour.flow_share
    if loop.variable and not forced:
        lead_k = collector_reading(control, state.collector_c, hour.air_c) - low_c
        share *= min(max(lead_k / loop.target_k, loop.least_share), 1.0)
    return share, dt


@section
def solve_loop(parts: Parts, hour: Hour, state: State, command: LoopCommand, water: Water) -> LoopAnswer:
    """How collectors, pipes and exchange agree on temperatures (°C) in a step, whether the pump goes on and how long.

    A pump that would stop before the step is over runs until then.
    """
    loop = parts.loop
    dt = command.dt_s
    store_flow_w_k = state.store_flow_w_k if loop.exchange == PASSIVE else loop.store_flow_w_k
    if not command.go:
        return LoopAnswer(dt, False, 0.0, 0.0, 0.0, state.inlet_c, 0.0, 0.0, -1, 0.0, 0.0, store_flow_w_k)
    flow_w_k = command.flow_w_k
    supply_retention = loop.supply_retention
    back_retention = loop.back_retention
    # what pipes retain at the usual flow and step is computed once before the year; any other is computed here
    usual = loop.steady and not command.drifting and dt * parts.steps == 3600.0
    if loop.exchange == PASSIVE:
        store_flow_w_k = passive_flow(parts, store_flow_w_k, flow_w_k, state.supply_c, state.segments, water)
    coil_factor = convection_factor(state.supply_c - water.layers[0]) if loop.convective else 1.0
    watched = not (command.drifting or command.forced or loop.by_sun)
    go = True
    # the longest step in which the pump is still wanted at its end: tried whole, then a fifth, down to SHORTEST_S
    while True:
        if not usual:
            supply_retention = pipe_retention(parts.supply, flow_w_k, dt)
            back_retention = pipe_retention(parts.back, flow_w_k, dt)
        share, offset_c, upper = exchange_answer(
            parts, coil_factor, flow_w_k, dt, command.backwards, state.pool_c, store_flow_w_k, state.segments, water
        )
        round_share, round_offset_c = loop_answer(
            parts, hour, state, flow_w_k, supply_retention, back_retention, dt, command.backwards, share, offset_c
        )
        mean_c, mean_2_c, outlet_c, inlet_c = field_answer(
            parts, hour, state, flow_w_k, round_share, round_offset_c, dt, command.drifting
        )
        # a controller with a least run does not look before it is over
        if not watched or state.ran + dt < loop.least_run_s:
            break
        reading_c = collector_reading(parts.control, outlet_c, hour.air_c)
        if not wants_stop(parts.control, reading_c, inlet_c, command.low_c, outlet_c):
            if dt <= FINE_S or reading_c - command.low_c > parts.control.off_k + NEAR_K:
                break
            dt = FINE_S
            usual = False
            continue
        # so short a run that was on goes on: it carries its own pipes' water, and ends with the next step
        if dt <= SHORTEST_S:
            go = not state.running
            break
        dt = max(dt * SHORTER, SHORTEST_S)
        usual = False
    if not go:
        dt = command.dt_s
        wait_s = rest_until_start(parts, hour, state, command.low_c, dt)
        if wait_s >= 0.0:  # collectors still hot though they gave nothing rest for a while
            dt = min(max(wait_s, FINE_S), dt)
    return LoopAnswer(
        dt,
        go,
        mean_c,
        mean_2_c,
        outlet_c,
        inlet_c,
        share,
        offset_c,
        upper,
        supply_retention,
        back_retention,
        store_flow_w_k,
    )


@section
def circulate(
    parts: Parts,
    hour: Hour,
    state: State,
    command: LoopCommand,
    answer: LoopAnswer,
    water: Water,
    totals: Totals,
    dt: float,
) -> Loop:
    """The loop after a step of dt (s) in which it flowed: heat (J) from collectors to pipes to store or pool, and back
    (°C).
    """
    loop = parts.loop
    book = totals.book
    trace = totals.trace
    flow_w_k = command.flow_w_k
    outlet_c = answer.outlet_c
    inlet_c = answer.inlet_c
    book[acc.FROM_COLLECTOR] += flow_w_k * (outlet_c - inlet_c) * dt
    loss_w = parts.collector.area_m2 * heat_loss(answer.mean_c - hour.air_c, hour.a1, parts.collector.a2)
    second_c = state.second_c
    if parts.second.area_m2 > 0.0:
        loss_w += parts.second.area_m2 * heat_loss(answer.mean_2_c - hour.air_c, hour.a1_2, parts.second.a2)
        second_c = answer.mean_2_c
    book[acc.COLLECTOR_LOSS] += loss_w * dt
    leaving_c = outlet_c
    if loop.bundled > 0.0:
        leaving_c = outlet_c - loop.bundled * (outlet_c - inlet_c) / (1.0 - loop.bundled)
    supply_c = state.supply_c
    back_c = state.back_c
    if command.backwards:
        back_c, to_store_c, lost = pipe_pass(
            parts.back, flow_w_k, answer.back_retention, dt, back_c, hour.around_back_c, leaving_c
        )
        book[acc.RETURN_PIPE_LOSS] += lost
    else:
        supply_c, to_store_c, lost = pipe_pass(
            parts.supply, flow_w_k, answer.supply_retention, dt, supply_c, hour.around_supply_c, leaving_c
        )
        book[acc.SUPPLY_PIPE_LOSS] += lost
    given, count = exchange_deliver(parts, flow_w_k, dt, command.backwards, to_store_c, answer, state.segments, water)
    pool_c = state.pool_c
    if loop.exchange == POOL:
        book[acc.INTO_POOL] += given
        pool_c += given / parts.pool.heat_j_k
    else:
        book[acc.INTO_STORE] += given
    # from what was given, not from the exchanger's formula once more: the loop closes to the last joule
    from_store_c = to_store_c - given / (flow_w_k * dt)
    if command.backwards:
        supply_c, _ignored, lost = pipe_pass(
            parts.supply, flow_w_k, answer.supply_retention, dt, supply_c, hour.around_supply_c, from_store_c
        )
        book[acc.SUPPLY_PIPE_LOSS] += lost
        trace[acc.REVERSED_SHARE] += dt
    else:
        back_c, _ignored, lost = pipe_pass(
            parts.back, flow_w_k, answer.back_retention, dt, back_c, hour.around_back_c, from_store_c
        )
        book[acc.RETURN_PIPE_LOSS] += lost
    way = -1.0 if command.backwards else 1.0
    trace[acc.FLOW_KG_H] += way * flow_w_k / parts.natural.fluid.heat_j_kgk * 3600.0 * dt
    trace[acc.OUTLET_C] += outlet_c * dt
    trace[acc.INLET_C] += inlet_c * dt
    if not command.drifting:
        # power with the square of the flow: between the cube of a bare pump and the line of a throttled one
        share = flow_w_k / loop.flow_w_k
        book[acc.PUMP_ELECTRICITY] += (loop.pump_w * share * share + loop.store_pump_w) * dt
        if not state.running:
            trace[acc.PUMP_STARTS] += 1.0
            book[acc.PUMP_ELECTRICITY] += loop.lift_j
    if not command.drifting or loop.natural:
        trace[acc.PUMP_SHARE] += dt
    heated = loop.exchange != POOL
    return Loop(answer.mean_c, second_c, supply_c, back_c, inlet_c, pool_c, state.ran + dt, count, heated)


@section
def stagnate(
    parts: Parts, hour: Hour, state: State, command: LoopCommand, dumping: float, totals: Totals, dt: float
) -> Loop:
    """The loop after a step of dt (s) without flow: collectors and pipes go their own ways (°C).

    A cooler at the collectors takes what would warm them above its temperature, while ``dumping``, up to its power.
    """
    book = totals.book
    collector = parts.collector
    standing_c = stagnation_temperature(hour.sun, hour.air_c, state.collector_c, dt, hour.a1, collector)
    cooled = 0.0
    over_c = standing_c - parts.vessel.dump_c
    if parts.vessel.collector_dump_w > 0.0 and dumping > 0.0 and over_c > 0.0:
        most = parts.vessel.collector_dump_w * dt
        taken = hour.sun - parts.vessel.collector_dump_w / collector.area_m2
        cold_c = stagnation_temperature(taken, hour.air_c, state.collector_c, dt, hour.a1, collector)
        share = min(over_c / max(standing_c - cold_c, 1e-9), 1.0)
        cooled = most * share
        standing_c -= share * (standing_c - cold_c)
        book[acc.COLLECTOR_DUMP] += cooled
    book[acc.COLLECTOR_IDLE] += (
        collector.area_m2 * hour.sun * dt - cooled - collector.area_m2 * collector.a5 * (standing_c - state.collector_c)
    )
    second_c = state.second_c
    if parts.second.area_m2 > 0.0:
        second = parts.second
        second_c = stagnation_temperature(hour.sun_2, hour.air_c, second_c, dt, hour.a1_2, second)
        book[acc.COLLECTOR_IDLE] += second.area_m2 * hour.sun_2 * dt - second.area_m2 * second.a5 * (
            second_c - state.second_c
        )
    supply_c, lost = pipe_rest(parts.supply, dt, state.supply_c, hour.resting_supply_c)
    book[acc.SUPPLY_PIPE_LOSS] += lost
    back_c, lost = pipe_rest(parts.back, dt, state.back_c, hour.resting_back_c)
    book[acc.RETURN_PIPE_LOSS] += lost
    too_hot = standing_c > parts.control.collector_limit_c
    wanted = standing_c - command.low_c >= parts.control.on_k and hour.sun > 0.0
    if (command.full or too_hot or parts.loop.blocked) and wanted:
        totals.trace[acc.STAGNANT_SHARE] += dt
    return Loop(standing_c, second_c, supply_c, back_c, state.inlet_c, state.pool_c, 0.0, state.segments, False)


@inline_kernel
def accumulate_loop_heat(parts: Parts, loop: Loop, go: bool, totals: Totals, dt: float) -> float:
    """The hottest collector (°C) of a step of dt (s); traces of it and of its fluid above 95 and 120 °C."""
    hottest_c = max(loop.collector_c, loop.second_c) if parts.second.area_m2 > 0.0 else loop.collector_c
    if hottest_c > 95.0 and (go or parts.loop.drains == STAYS):
        totals.trace[acc.HOT_95_SHARE] += dt
        if hottest_c > 120.0:
            totals.trace[acc.HOT_120_SHARE] += dt
    totals.trace[acc.COLLECTOR_C] += loop.collector_c * dt
    return hottest_c


@section
def apply_loads(
    parts: Parts,
    heaters: Heaters,
    loads: Loads,
    hours: Array,
    h: int,
    state: State,
    loop: Loop,
    tap_kg: float,
    dt: float,
    latched: NDArray[np.bool_],
    water: Water,
    totals: Totals,
) -> Served:
    """The stores after heaters, uses, tap and pool of a step of dt (s): segments (1), pool (°C), shares."""
    store = parts.store
    count = loop.segments
    count_2 = state.segments_2
    stirred = loop.heated
    boiler_on = state.boiler_on
    if parts.loop.exchange == NONE:
        warm_by_sun(store, parts.vessel, hours, h, dt, totals, water.layers, water.mass, count)
    room_j = 0.0
    if parts.heaters > 0 or parts.has_stove:
        boiler_on, heated, room_j, count, count_2 = heat_stores(
            parts, heaters, hours, h, dt, latched, count, count_2, water, totals
        )
        stirred = stirred or heated
    if stirred:
        mix_inversions(water.layers, water.mass, count)
    slab_c = state.slab_c
    if parts.has_loads:
        slab_c, count, count_2 = serve_loads(parts, loads, hours, h, dt, room_j, slab_c, count, count_2, water, totals)
    coil_share = state.coil_share
    if tap_kg > 0.0:
        count, count_2, coil_share = serve_tap(parts, hours, h, dt, tap_kg, coil_share, count, count_2, water, totals)
    pool_c = loop.pool_c
    if parts.has_pool:
        pool_c, count = run_pool(parts, loads.pool, hours, h, dt, pool_c, count, water, totals)
    if store.stirred:
        count = stir(store, water.layers, water.mass, count, water.effect)
        if parts.two_stores:
            count_2 = stir(parts.main, water.layers_2, water.mass_2, count_2, water.effect)
    dumping = hours[DUMP_ON, h]
    if parts.vessel.dump_to_rooms:  # what the rooms want of it they have had
        rooms_w = hours[HEATING_W, h] + hours[HEATING_2_W, h]
        dumping *= max(1.0 - rooms_w / parts.vessel.dump_w, 0.0)
    count, count_2 = relieve(parts, hours[MAINS, h], dumping, dt, count, count_2, water, totals)
    if parts.vessel.quick:
        retention = exp(-store.loss_w_k * dt / (store.mass_kg * WATER_J_KGK))
        totals.book[acc.STORE_LOSS] += lose_to_room(hours[STORE_AROUND, h], retention, water.layers, water.mass, count)
    return Served(count, count_2, pool_c, slab_c, boiler_on, coil_share)
