"""The compiled year: one pass over the hours, each step in the order the heat flows.

Control, collector and loop, heaters, uses, tap, pool, room. State in, state out: a run may stop at any
hour and go on with other parts (that is how a fault sets in on a date). Every year of every system
kind passes through :func:`run_hours`; :mod:`heat.prepare` makes what it reads.
"""

from math import exp

from heat import accounts as acc
from heat.collector.rated import heat_loss, standing_temperature
from heat.compiled import kernel
from heat.constants import WATER_J_KGK
from heat.control.differential import collector_reading, store_allows, wants_start, wants_stop
from heat.loop.coil import convection_factor
from heat.loop.pipe import pipe_kept, pipe_pass, pipe_rest
from heat.run.loop import exchange_answer, exchange_deliver, field_answer, loop_answer, natural_flow, passive_flow
from heat.run.parts import (
    A1,
    A1_2,
    ABSORBED,
    ABSORBED_2,
    AIR,
    BACK_AROUND,
    BALANCE,
    COIL,
    DRAW_KG,
    DRY,
    FLOW_SHARE,
    MAINS,
    NONE,
    PASSIVE,
    POOL,
    PUMP_OK,
    S_BACK,
    S_COLLECTOR,
    S_COLLECTOR_2,
    S_COUNT,
    S_COUNT_2,
    S_DRY,
    S_FLOW,
    S_FULL,
    S_HEATING,
    S_INLET,
    S_POOL,
    S_RAN,
    S_RUNNING,
    S_SUPPLY,
    S_WRITTEN,
    SLOW_FLOW,
    STAYS,
    STORE_AROUND,
    STORE_GAIN_W,
    SUPPLY_AROUND,
    TO_VESSEL,
)
from heat.run.uses import heat_stores, let_off, run_pool, serve_loads, serve_tap, warm_by_sun
from heat.store.layers import conduct, heat_held, lose_to_room, mix_inversions, sensor, spread, stir
from heat.store.ports import end_loss


@kernel
def run_hours(parts, heaters, loads, hours, first, last, state, column, column_2, work, page, books, traces,
              profile, profile_2):  # fmt: skip
    """Run the hours ``first`` to ``last``. Inputs hourly: ROWS x 8760 (W/m², °C, kg, W; see the row names).

    ``state`` (STATE numbers), ``column`` and ``column_2`` (2 x segments: °C and kg of the stores) are
    changed in place. Writes ``books`` (COLUMNS x 8760, Wh), ``traces`` (TRACES x 8760) and the profiles
    (8760 x layers, °C at the end of each hour, bottom first). ``work``: room for two rows of segments,
    ``page`` for the hour's accounts. Accounts that stay zero are never touched, so they take no memory.
    """
    store = parts.store
    main = parts.main
    loop = parts.loop
    vessel = parts.vessel
    layers = column[0]
    mass = column[1]
    layers_2 = column_2[0]
    mass_2 = column_2[1]
    effect = work[0]
    warming = work[1]
    book = page[0]
    trace = page[1]
    count = int(state[S_COUNT])
    count_2 = int(state[S_COUNT_2])
    collector_c = state[S_COLLECTOR]
    second_c = state[S_COLLECTOR_2]
    supply_c = state[S_SUPPLY]
    back_c = state[S_BACK]
    running = state[S_RUNNING] > 0.0
    full = state[S_FULL] > 0.0
    pool_c = state[S_POOL]
    flow = state[S_FLOW]
    inlet_c = state[S_INLET]
    ran = state[S_RAN]
    dry = state[S_DRY] > 0.0
    area = parts.collector.area_m2
    area_2 = parts.second.area_m2
    collector_j_k = area * parts.collector.a5
    second_j_k = area_2 * parts.second.a5
    two = parts.two_stores
    pumped = loop.exchange != NONE and not loop.natural
    sunless = loop.exchange == NONE
    may_drift = pumped and not loop.check_valve and loop.exchange == COIL and loop.drains == STAYS
    store_flow_w_k = loop.store_flow_w_k
    kept_s = 0.0
    kept_b = 0.0
    if loop.steady:
        kept_s = pipe_kept(parts.supply, loop.flow_w_k)
        kept_b = pipe_kept(parts.back, loop.flow_w_k)
    boiler_on = state[S_HEATING + 2] > 0.0
    coil_share = 1.0
    written = 0.0
    for h in range(first, last):
        book[:] = 0.0
        trace[:] = 0.0
        sun = hours[ABSORBED, h]
        a1 = hours[A1, h]
        sun_2 = hours[ABSORBED_2, h]
        a1_2 = hours[A1_2, h]
        outside = hours[AIR, h]
        mains = hours[MAINS, h]
        around_s = hours[SUPPLY_AROUND, h]
        around_b = hours[BACK_AROUND, h]
        allowed_hour = hours[PUMP_OK, h]
        flow_share = hours[FLOW_SHARE, h]
        room = hours[STORE_AROUND, h]
        held_start = heat_held(layers, mass, count)
        if two:
            held_start += heat_held(layers_2, mass_2, count_2)
        collector_start = collector_c
        second_start = second_c
        supply_start = supply_c
        back_start = back_c
        pool_start = pool_c
        peak = -100.0
        if loop.drains == TO_VESSEL:
            around_s_rest = room
            around_b_rest = room
        else:
            around_s_rest = around_s
            around_b_rest = around_b

        # An hour in which the pump cannot start and nothing heats needs one step only.
        steps = parts.steps
        if not running and not store.stirred and not loop.natural and parts.heaters == 0 and not vessel.quick:
            if not parts.has_pool and not parts.has_loads and allowed_hour < 2.0 and not loop.by_sun and not may_drift:
                later = standing_temperature(sun, outside, collector_c, 3600.0, a1, parts.collector)
                coldest = min(layers[0], mains) + parts.control.store_offset_k
                hottest = collector_reading(parts.control, max(later, collector_c), outside)
                if hottest < coldest + parts.control.on_k and (area_2 <= 0.0 or sun_2 <= 0.0):
                    steps = 1
        elif loop.natural and sun <= 0.0 and abs(flow) < SLOW_FLOW and parts.heaters == 0:
            steps = 1  # the night creep of a loop without a pump changes slowly
        dt = 3600.0 / steps
        tap_kg = hours[DRAW_KG, h] / steps

        if hours[DRY, h] > 0.0 and not dry:  # frost threatens: the loop's water runs to waste
            book[acc.DRAINED] += (parts.supply.contents_j_k * (supply_c - mains)) + (
                parts.back.contents_j_k * (back_c - mains)
            )
            supply_c = mains
            back_c = mains
            trace[acc.DRAINED_KG] += loop.water_kg * steps
        dry = hours[DRY, h] > 0.0

        for _ in range(steps):
            stirred = False
            low_c = sensor(parts.control.sensor_share, store, layers, mass, count) + parts.control.store_offset_k
            if loop.exchange == POOL:
                low_c = pool_c + parts.control.store_offset_k
                full = pool_c >= parts.pool.limit_c
            elif pumped and layers[count - 1] >= parts.control.store_limit_c - parts.control.release_k:
                limit_c = sensor(parts.control.limit_share, store, layers, mass, count)
                full = not store_allows(parts.control, limit_c, full)
            else:
                full = False
            allowed = not sunless and allowed_hour > 0.0 and not dry and not full
            if full:
                trace[acc.FULL_SHARE] += 1.0
            if loop.lock_with_boiler and boiler_on:
                allowed = False
                trace[acc.LOCKED_SHARE] += 1.0
            elif allowed_hour <= 0.0 and not sunless:
                trace[acc.LOCKED_SHARE] += 1.0
            forced = allowed_hour > 1.0
            drifting = loop.natural and allowed_hour > 0.0 and not dry
            go = False
            flow_w_k = loop.flow_w_k
            if pumped and allowed:
                wanted_on = running
                if not running:
                    standing_c = standing_temperature(sun, outside, collector_c, dt, a1, parts.collector)
                    reading = collector_reading(parts.control, standing_c, outside)
                    wanted_on = forced or (not loop.by_sun and wants_start(parts.control, reading, low_c))
                share_now = flow_share
                if loop.by_sun:
                    wanted_on = forced or flow_share > 0.0
                elif loop.variable and not forced:
                    lead = collector_reading(parts.control, collector_c, outside) - low_c
                    share_now *= min(max(lead / loop.target_k, loop.least_share), 1.0)
                go = wanted_on and share_now > 0.0
                flow_w_k = loop.flow_w_k * share_now
                if go and loop.blocked:
                    book[acc.PUMP_ELECTRICITY] += loop.pump_w * dt
                    trace[acc.PUMP_SHARE] += 1.0
                    go = False
            if may_drift and not go and not dry:
                drifting = True
            backwards = False
            if drifting:
                flow = natural_flow(
                    parts, flow, sun, sun_2, outside, collector_c, second_c if area_2 > 0.0 else collector_c, dt, a1,
                    a1_2, supply_c, back_c, around_s, around_b, inlet_c, pool_c, BALANCE, layers, mass, count, effect, warming,
                )  # fmt: skip
                go = flow != 0.0 and not (full and flow > 0.0)
                backwards = flow < 0.0
                flow_w_k = abs(flow) * parts.natural.fluid.heat_j_kgk
            if go:
                keep_s = kept_s
                keep_b = kept_b
                if drifting or not loop.steady:
                    keep_s = pipe_kept(parts.supply, flow_w_k)
                    keep_b = pipe_kept(parts.back, flow_w_k)
                if loop.exchange == PASSIVE:
                    store_flow_w_k = passive_flow(parts, store_flow_w_k, flow_w_k, supply_c, layers, mass, count)
                coil_factor = 1.0
                if loop.convective:
                    coil_factor = convection_factor(supply_c - layers[0])
                share_x, offset_x, upper = exchange_answer(
                    parts, coil_factor, flow_w_k, dt, backwards, pool_c, store_flow_w_k, layers, mass, count, effect,
                    warming,
                )  # fmt: skip
                share, offset = loop_answer(
                    parts, flow_w_k, keep_s, keep_b, dt, backwards, supply_c, back_c, around_s, around_b, share_x,
                    offset_x,
                )  # fmt: skip
                mean_c, mean_2, outlet_c, entry_c = field_answer(
                    parts, sun, sun_2, outside, collector_c, second_c, dt, a1, a1_2, flow_w_k, share, offset, inlet_c
                )
                if running and not drifting and not forced and not loop.by_sun and ran >= loop.least_steps:
                    reading = collector_reading(parts.control, outlet_c, outside)
                    go = not wants_stop(parts.control, reading, entry_c, low_c, outlet_c)
            if go:
                inlet_c = entry_c
                book[acc.FROM_COLLECTOR] += flow_w_k * (outlet_c - inlet_c) * dt
                book[acc.COLLECTOR_LOSS] += area * heat_loss(mean_c - outside, a1, parts.collector.a2) * dt
                if area_2 > 0.0:
                    book[acc.COLLECTOR_LOSS] += area_2 * heat_loss(mean_2 - outside, a1_2, parts.second.a2) * dt
                    second_c = mean_2
                collector_c = mean_c
                leaving_c = outlet_c
                if loop.bundled > 0.0:
                    leaving_c = outlet_c - loop.bundled * (outlet_c - inlet_c) / (1.0 - loop.bundled)
                if backwards:
                    back_c, to_store_c, lost = pipe_pass(parts.back, flow_w_k, keep_b, dt, back_c, around_b, leaving_c)
                    book[acc.RETURN_PIPE_LOSS] += lost
                else:
                    supply_c, to_store_c, lost = pipe_pass(
                        parts.supply, flow_w_k, keep_s, dt, supply_c, around_s, leaving_c
                    )
                    book[acc.SUPPLY_PIPE_LOSS] += lost
                given, count = exchange_deliver(
                    parts, flow_w_k, dt, backwards, to_store_c, offset_x, share_x, upper, store_flow_w_k, layers, mass,
                    count, effect, warming,
                )  # fmt: skip
                if loop.exchange == POOL:
                    book[acc.INTO_POOL] += given
                    pool_c += given / parts.pool.heat_j_k
                else:
                    book[acc.INTO_STORE] += given
                    stirred = True
                from_store_c = to_store_c - given / (flow_w_k * dt)
                if backwards:
                    supply_c, _ignored, lost = pipe_pass(
                        parts.supply, flow_w_k, keep_s, dt, supply_c, around_s, from_store_c
                    )
                    book[acc.SUPPLY_PIPE_LOSS] += lost
                    trace[acc.REVERSED_SHARE] += 1.0
                else:
                    back_c, _ignored, lost = pipe_pass(parts.back, flow_w_k, keep_b, dt, back_c, around_b, from_store_c)
                    book[acc.RETURN_PIPE_LOSS] += lost
                trace[acc.FLOW_KG_H] += (
                    (-1.0 if backwards else 1.0) * flow_w_k / parts.natural.fluid.heat_j_kgk * 3600.0
                )
                trace[acc.OUTLET_C] += outlet_c
                trace[acc.INLET_C] += inlet_c
                if not drifting:
                    share_now = flow_w_k / loop.flow_w_k
                    book[acc.PUMP_ELECTRICITY] += (loop.pump_w * share_now * share_now + loop.store_pump_w) * dt
                    if not running:
                        trace[acc.PUMP_STARTS] += 1.0
                        book[acc.PUMP_ELECTRICITY] += loop.lift_j
                if not drifting or loop.natural:
                    trace[acc.PUMP_SHARE] += 1.0
                ran += 1.0
            else:
                standing_c = standing_temperature(sun, outside, collector_c, dt, a1, parts.collector)
                book[acc.COLLECTOR_IDLE] += area * sun * dt - collector_j_k * (standing_c - collector_c)
                collector_c = standing_c
                if area_2 > 0.0:
                    standing_2 = standing_temperature(sun_2, outside, second_c, dt, a1_2, parts.second)
                    book[acc.COLLECTOR_IDLE] += area_2 * sun_2 * dt - second_j_k * (standing_2 - second_c)
                    second_c = standing_2
                supply_c, lost = pipe_rest(parts.supply, dt, supply_c, around_s_rest)
                book[acc.SUPPLY_PIPE_LOSS] += lost
                back_c, lost = pipe_rest(parts.back, dt, back_c, around_b_rest)
                book[acc.RETURN_PIPE_LOSS] += lost
                too_hot = standing_c > parts.control.collector_limit_c
                if (full or too_hot or loop.blocked) and standing_c - low_c >= parts.control.on_k and sun > 0.0:
                    trace[acc.STAGNANT_SHARE] += 1.0
                ran = 0.0
            running = go and not drifting
            hottest = max(collector_c, second_c) if area_2 > 0.0 else collector_c
            peak = max(peak, hottest)
            if hottest > 95.0 and (go or loop.drains == STAYS):
                trace[acc.HOT_95_SHARE] += 1.0
                if hottest > 120.0:
                    trace[acc.HOT_120_SHARE] += 1.0
            trace[acc.COLLECTOR_C] += collector_c

            if sunless:
                warm_by_sun(store, hours, h, dt, book, trace, layers, mass, count)

            if parts.heaters > 0:
                boiler_on, heated = heat_stores(
                    parts, heaters, hours, h, dt, state, book, layers, mass, count, layers_2, mass_2, count_2
                )
                stirred = stirred or heated
            if stirred:
                mix_inversions(layers, mass, count)

            if parts.has_loads:
                count, count_2 = serve_loads(
                    parts, loads, hours, h, dt, book, trace, layers, mass, count, layers_2, mass_2, count_2
                )
            if tap_kg > 0.0:
                count, count_2, coil_share = serve_tap(
                    parts, hours, h, dt, tap_kg, steps, coil_share, book, trace, layers, mass, count, layers_2, mass_2,
                    count_2, effect, warming,
                )  # fmt: skip
            if parts.has_pool:
                pool_c, count = run_pool(parts, loads, hours, h, dt, pool_c, book, trace, layers, mass, count)
            if store.stirred:
                count = stir(store, layers, mass, count, effect)
                if two:
                    count_2 = stir(main, layers_2, mass_2, count_2, effect)
            count, count_2 = let_off(
                parts, mains, steps, dt, book, trace, layers, mass, count, layers_2, mass_2, count_2
            )
            if vessel.quick:
                kept = exp(-store.loss_w_k * dt / (store.mass_kg * WATER_J_KGK))
                book[acc.STORE_LOSS] += lose_to_room(room, kept, layers, mass, count)

        if not vessel.quick:
            kept = exp(-store.loss_w_k * 3600.0 / (store.mass_kg * WATER_J_KGK))
            book[acc.STORE_LOSS] += lose_to_room(room, kept, layers, mass, count)
        if vessel.top_w_k > 0.0:
            book[acc.STORE_LOSS] += end_loss(vessel.top_w_k, room, True, 3600.0, layers, mass, count)
        if vessel.floor_w_k > 0.0:
            book[acc.STORE_LOSS] += end_loss(vessel.floor_w_k, room, False, 3600.0, layers, mass, count)
        conduct(store, 3600.0, layers, mass, count)
        if vessel.top_w_k > 0.0:
            mix_inversions(layers, mass, count)
        held = heat_held(layers, mass, count)
        if two:
            kept = exp(-main.loss_w_k * 3600.0 / (main.mass_kg * WATER_J_KGK))
            book[acc.SECOND_STORE_LOSS] += lose_to_room(main.room_c, kept, layers_2, mass_2, count_2)
            conduct(main, 3600.0, layers_2, mass_2, count_2)
            held += heat_held(layers_2, mass_2, count_2)
            spread(main, layers_2, mass_2, count_2, profile_2[h])
            trace[acc.SECOND_TOP_C] = layers_2[count_2 - 1] * steps
        book[acc.STORE_STORED] = held - held_start
        book[acc.COLLECTOR_STORED] = collector_j_k * (collector_c - collector_start) + second_j_k * (
            second_c - second_start
        )
        book[acc.PIPE_STORED] = parts.supply.contents_j_k * (supply_c - supply_start) + parts.back.contents_j_k * (
            back_c - back_start
        )
        book[acc.ABSORBED] = (area * sun + area_2 * sun_2) * 3600.0
        if sunless:
            book[acc.ABSORBED] = hours[STORE_GAIN_W, h] * 3600.0
        if parts.has_pool:
            book[acc.POOL_STORED] = parts.pool.heat_j_k * (pool_c - pool_start)
        trace[acc.STORE_TOP_C] = layers[count - 1] * steps
        trace[acc.PUMP_STARTS] *= steps
        trace[acc.COLLECTOR_PEAK_C] = peak * steps
        for i in range(acc.KERNEL_COLUMNS):
            if book[i] != 0.0:
                books[i, h] = book[i] / 3600.0
                written += book[i]
        for i in range(acc.TRACES):
            if trace[i] != 0.0:
                traces[i, h] = trace[i] / steps
        spread(store, layers, mass, count, profile[h])
    state[S_COUNT] = count
    state[S_COUNT_2] = count_2
    state[S_COLLECTOR] = collector_c
    state[S_COLLECTOR_2] = second_c
    state[S_SUPPLY] = supply_c
    state[S_BACK] = back_c
    state[S_RUNNING] = 1.0 if running else 0.0
    state[S_FULL] = 1.0 if full else 0.0
    state[S_POOL] = pool_c
    state[S_FLOW] = flow
    state[S_INLET] = inlet_c
    state[S_RAN] = ran
    state[S_DRY] = 1.0 if dry else 0.0
    state[S_WRITTEN] += written
