"""The compiled year: one pass over the hours, each step in the order the heat flows.

Command, collector and loop, heaters, uses, tap, pool, room. State in, state out: a run may stop at any
hour and go on with other parts (that is how a fault sets in on a date). Every year of every system
kind passes through here; :mod:`heat.simulation.prepare` makes what it reads.
"""

from collections.abc import Callable
from math import exp
from typing import Any

import numpy as np
from numpy.typing import NDArray

from heat.collector.rated import stagnation_temperature
from heat.common.compiled import inline_kernel, kernel, section
from heat.constants import WATER_J_KGK
from heat.control.differential import collector_reading
from heat.ledger import accounts as acc
from heat.simulation.parts import (
    A1,
    A1_2,
    ABSORBED,
    ABSORBED_2,
    AIR,
    BACK_AROUND,
    DRAW_KG,
    DRY,
    DUMP_ON,
    FLOW_SHARE,
    MAINS,
    NONE,
    PUMP_OK,
    SLOW_FLOW,
    STORE_AROUND,
    STORE_GAIN_W,
    STOVE_ON,
    SUPPLY_AROUND,
    TO_VESSEL,
    Heaters,
    Hour,
    Loads,
    Parts,
    State,
    Totals,
    Water,
)
from heat.simulation.plain import plain_parts
from heat.simulation.steps import (
    accumulate_loop_heat,
    apply_loads,
    circulate,
    command_pump,
    may_drift,
    solve_loop,
    stagnate,
)
from heat.store.layers import FELT_SHARE, conduct, heat_content, lose_to_room, mix_inversions, spread, thawed
from heat.store.ports import end_loss

Array = NDArray[np.float64]


MOMENT_S = 1e-6
"""What is left of an hour (s) when it is over: rounding. Source: our own choice."""


def _year_loop(plain: bool) -> Callable[..., Any]:
    """The loop for every system, or for plain ones: what those do not have is known when it is compiled, and costs
    nothing.
    """

    @kernel
    def run_hours(
        parts: Parts,
        heaters: Heaters,
        loads: Loads,
        hours: Array,
        first: int,
        last: int,
        state: State,
        latched: NDArray[np.bool_],
        column: Array,
        column_2: Array,
        work: Array,
        page: Array,
        books: Array,
        traces: Array,
        profile: Array,
        profile_2: Array,
    ) -> State:
        """Run the hours ``first`` to ``last``; the state after them. Inputs hourly: ROWS x 8760 (W/m², °C, kg, W).

        ``column`` and ``column_2`` (2 x segments: °C and kg of the stores) and ``latched`` (4: whether each heater is
        on, 1) are changed in place. Writes ``books`` (COLUMNS x 8760, Wh), ``traces`` (TRACES x 8760) and the profiles
        (8760 x layers, °C at the end of each hour, bottom first). ``work``: room for two rows of segments,
        ``page`` for the hour's accounts. Accounts that stay zero are never touched, so they take no memory.
        """
        if plain:
            parts = plain_parts(parts)
        water = Water(column[0], column[1], column_2[0], column_2[1], work[0], work[1])
        totals = Totals(page[0], page[1])
        for h in range(first, last):
            # in place: one array a year, none an hour
            totals.book[:] = 0.0
            totals.trace[:] = 0.0
            hour = hour_of(parts, hours, h)
            opening = state
            retained_j = heat_in_stores(parts, state, water)
            fired = parts.has_stove and hours[STOVE_ON, h] > 0.0
            # a draw or a fire may want finer steps than an idle hour; asked once an hour, as the answer costs time
            steps = steps_of(parts, hour, state, water, fired)
            step_s = 3600.0 / steps
            left_s = 3600.0
            state = drained(parts, hour, state, totals)
            peak_c = -100.0
            while left_s > MOMENT_S:
                # the order is that of the heat: what the sun gives now can be drawn in the same step, but water
                # drawn in this step does not cool the collectors before the next
                command = command_pump(parts, hour, state, water, totals, min(step_s, left_s))
                answer = solve_loop(parts, hour, state, command, water)
                # a pump that starts or stops cuts the step where it does, so that the year does not depend on steps
                dt = answer.dt_s
                left_s -= dt
                tap_kg = hours[DRAW_KG, h] * (dt / 3600.0)
                if answer.go:
                    loop = circulate(parts, hour, state, command, answer, water, totals, dt)
                else:
                    loop = stagnate(parts, hour, state, command, hours[DUMP_ON, h], totals, dt)
                peak_c = max(peak_c, accumulate_loop_heat(parts, loop, answer.go, totals, dt))
                served = apply_loads(parts, heaters, loads, hours, h, state, loop, tap_kg, dt, latched, water, totals)
                state = State(
                    loop.collector_c,
                    loop.second_c,
                    loop.supply_c,
                    loop.back_c,
                    loop.inlet_c,
                    served.pool_c,
                    answer.go and not command.drifting,
                    command.full,
                    state.dry,
                    served.boiler_on,
                    command.flow_kg_s,
                    loop.ran,
                    answer.store_flow_w_k,
                    served.coil_share,
                    served.slab_c,
                    served.segments,
                    served.segments_2,
                    state.written_j,
                )
            lose_heat(parts, hour, state, water, totals, profile_2[h] if parts.two_stores else profile_2[0])
            close_hour(parts, loads, hours, h, hour, opening, state, retained_j, peak_c, water, totals)
            state = write_hour(parts, h, state, water, totals, books, traces, profile[h])
        return state

    return run_hours


run_hours, run_plain_hours = _year_loop(False), _year_loop(True)


@section
def hour_of(parts: Parts, hours: Array, h: int) -> Hour:
    """What hour h brings to the loop (W/m², °C, shares), from the rows of hourly inputs."""
    room_c = hours[STORE_AROUND, h]
    to_vessel = parts.loop.drains == TO_VESSEL
    return Hour(
        hours[ABSORBED, h],
        hours[A1, h],
        hours[ABSORBED_2, h],
        hours[A1_2, h],
        hours[AIR, h],
        hours[MAINS, h],
        hours[SUPPLY_AROUND, h],
        hours[BACK_AROUND, h],
        room_c if to_vessel else hours[SUPPLY_AROUND, h],
        room_c if to_vessel else hours[BACK_AROUND, h],
        room_c,
        hours[PUMP_OK, h],
        hours[FLOW_SHARE, h],
        hours[DRY, h] > 0.0,
    )


@inline_kernel
def heat_in_stores(parts: Parts, state: State, water: Water) -> float:
    """Heat in the stores above 0 °C (J)."""
    retained_j = heat_content(water.layers, water.mass, state.segments)
    if parts.two_stores:
        retained_j += heat_content(water.layers_2, water.mass_2, state.segments_2)
    return retained_j


@section
def steps_of(parts: Parts, hour: Hour, state: State, water: Water, fired: bool) -> int:
    """Steps of this hour (1): one where the pump cannot start and nothing heats, or a loop without a pump only
    creeps.
    """
    loop = parts.loop
    if loop.natural:
        # at night a creep changes little in an hour, and each of its steps is an iteration: one does
        creeps = hour.sun <= 0.0 and abs(state.flow_kg_s) < SLOW_FLOW and parts.heaters == 0 and not fired
        return 1 if creeps else parts.steps
    if (
        state.running
        or parts.store.stirred
        or parts.heaters > 0
        or fired
        or parts.vessel.quick
        or parts.has_pool
        or parts.has_loads
    ):
        return parts.steps
    if hour.pump_ok >= 2.0 or loop.by_sun or may_drift(parts):
        return parts.steps
    control = parts.control
    later_c = stagnation_temperature(hour.sun, hour.air_c, state.collector_c, 3600.0, hour.a1, parts.collector)
    coldest_c = min(water.layers[0], hour.mains_c) + control.store_offset_k
    hottest_c = collector_reading(control, max(later_c, state.collector_c), hour.air_c)
    # by the hottest the collectors could become against the coldest water there could be: never a start missed
    still = hottest_c < coldest_c + control.on_k and (parts.second.area_m2 <= 0.0 or hour.sun_2 <= 0.0)
    return 1 if still else parts.steps


@section
def drained(parts: Parts, hour: Hour, state: State, totals: Totals) -> State:
    """The state (°C) when frost threatens first: the loop's water runs to waste and mains water is left to come."""
    if hour.dry == state.dry:
        return state
    supply_c = state.supply_c
    back_c = state.back_c
    if hour.dry:
        totals.book[acc.DRAINED] += (parts.supply.contents_j_k * (supply_c - hour.mains_c)) + (
            parts.back.contents_j_k * (back_c - hour.mains_c)
        )
        totals.trace[acc.DRAINED_KG] += parts.loop.water_kg * 3600.0
        supply_c = hour.mains_c
        back_c = hour.mains_c
    return State(
        state.collector_c,
        state.second_c,
        supply_c,
        back_c,
        state.inlet_c,
        state.pool_c,
        state.running,
        state.full,
        hour.dry,
        state.boiler_on,
        state.flow_kg_s,
        state.ran,
        state.store_flow_w_k,
        state.coil_share,
        state.slab_c,
        state.segments,
        state.segments_2,
        state.written_j,
    )


@section
def lose_heat(parts: Parts, hour: Hour, state: State, water: Water, totals: Totals, even_2_c: Array) -> None:
    """An hour's losses of the stores to their rooms, and conduction in them (J); ``even_2_c``: row of the second
    (°C).
    """
    store = parts.store
    main = parts.main
    vessel = parts.vessel
    book = totals.book
    layers = water.layers
    mass = water.mass
    count = state.segments
    # losses once an hour: exact for any step while nothing else happens, and a quarter of a percent of a day's if it
    # does; stores that cool in hours (quick) lose step by step instead
    if not vessel.quick:
        book[acc.STORE_LOSS] += lose_to_room(hour.room_c, parts.store_retention, layers, mass, count)
    band_kg = FELT_SHARE * store.mass_kg
    if vessel.top_w_k > 0.0:
        book[acc.STORE_LOSS] += end_loss(vessel.top_w_k, hour.room_c, True, 3600.0, band_kg, layers, mass, count)
    if vessel.floor_w_k > 0.0:
        book[acc.STORE_LOSS] += end_loss(vessel.floor_w_k, hour.room_c, False, 3600.0, band_kg, layers, mass, count)
    conduct(store, 3600.0, layers, mass, count, water.effect, water.warming)
    if vessel.top_w_k > 0.0:
        mix_inversions(layers, mass, count)
    if parts.two_stores:
        retention = exp(-main.loss_w_k * 3600.0 / (main.mass_kg * WATER_J_KGK))
        book[acc.SECOND_STORE_LOSS] += lose_to_room(
            main.room_c, retention, water.layers_2, water.mass_2, state.segments_2
        )
        conduct(main, 3600.0, water.layers_2, water.mass_2, state.segments_2, water.effect, water.warming)
        spread(main, water.layers_2, water.mass_2, state.segments_2, even_2_c)
        totals.trace[acc.SECOND_TOP_C] = water.layers_2[state.segments_2 - 1] * 3600.0


@section
def close_hour(
    parts: Parts,
    loads: Loads,
    hours: Array,
    h: int,
    hour: Hour,
    opening: State,
    state: State,
    retained_j: float,
    peak_c: float,
    water: Water,
    totals: Totals,
) -> None:
    """What an hour keeps in stores, collectors, pipes and pool (J) against its opening, and its traces."""
    book = totals.book
    trace = totals.trace
    collector = parts.collector
    second = parts.second
    book[acc.STORE_STORED] = heat_in_stores(parts, state, water) - retained_j
    book[acc.COLLECTOR_STORED] = collector.area_m2 * collector.a5 * (
        state.collector_c - opening.collector_c
    ) + second.area_m2 * second.a5 * (state.second_c - opening.second_c)
    book[acc.PIPE_STORED] = parts.supply.contents_j_k * (
        state.supply_c - opening.supply_c
    ) + parts.back.contents_j_k * (state.back_c - opening.back_c)
    book[acc.ABSORBED] = (collector.area_m2 * hour.sun + second.area_m2 * hour.sun_2) * 3600.0
    if parts.loop.exchange == NONE:
        book[acc.ABSORBED] = hours[STORE_GAIN_W, h] * 3600.0
    book[acc.SLAB_STORED] = loads.slab.heat_j_k * (state.slab_c - opening.slab_c)
    if parts.has_pool:
        book[acc.POOL_STORED] = parts.pool.heat_j_k * (state.pool_c - opening.pool_c)
    trace[acc.STORE_TOP_C] = thawed(water.layers[state.segments - 1]) * 3600.0
    trace[acc.PUMP_STARTS] *= 3600.0
    trace[acc.COLLECTOR_PEAK_C] = peak_c * 3600.0


@section
def write_hour(
    parts: Parts, h: int, state: State, water: Water, totals: Totals, books: Array, traces: Array, even_c: Array
) -> State:
    """Copy the hour's page into the books (Wh), traces and profile (°C); the state with all accounts summed (J)."""
    written_j = state.written_j
    for i in range(acc.KERNEL_COLUMNS):
        # an account never used stays a page of zeros that the system has not even allotted
        if totals.book[i] != 0.0:
            books[i, h] = totals.book[i] / 3600.0
            written_j += totals.book[i]
    for i in range(acc.TRACES):
        if totals.trace[i] != 0.0:
            traces[i, h] = totals.trace[i] / 3600.0
    spread(parts.store, water.layers, water.mass, state.segments, even_c)
    if even_c[0] < 0.0:
        for k in range(parts.store.layers):
            even_c[k] = thawed(even_c[k])
    return State(
        state.collector_c,
        state.second_c,
        state.supply_c,
        state.back_c,
        state.inlet_c,
        state.pool_c,
        state.running,
        state.full,
        state.dry,
        state.boiler_on,
        state.flow_kg_s,
        state.ran,
        state.store_flow_w_k,
        state.coil_share,
        state.slab_c,
        state.segments,
        state.segments_2,
        written_j,
    )
