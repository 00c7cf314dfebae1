"""The compiled year: one pass over the hours, each step in the order the heat flows.

Control, collector and loop, heaters, uses, tap, pool, room. State in, state out: a run may stop at any
hour and go on with other parts (that is how a fault sets in on a date). Every year of every system
kind passes through :func:`run_hours`; :mod:`heat.prepare` makes what it reads.
"""

from math import exp, log
from typing import Final, NamedTuple

from heat import accounts as acc
from heat.collector.rated import (
    RatedCollector,
    heat_loss,
    running_temperature,
    series_temperature,
    standing_temperature,
)
from heat.compiled import inline_kernel, kernel
from heat.constants import WATER_J_KGK
from heat.control.differential import Differential, collector_reading, store_allows, wants_start, wants_stop
from heat.demand.hot_water import draw, draw_off
from heat.loop.circulation import (
    GRAVITY,
    LEAST_FLOW,
    Fluid,
    Heights,
    Passage,
    density,
    driving_pressure,
    next_flow,
    pressure_drop,
    viscosity,
)
from heat.loop.coil import (
    Coil,
    coil_deliver,
    coil_lift_deliver,
    coil_lift_response,
    coil_response,
    convection_factor,
)
from heat.loop.pipe import Pipe, pipe_kept, pipe_pass, pipe_response, pipe_rest
from heat.loop.plate import plate_response
from heat.store.layers import (
    LayeredStore,
    add_below,
    conduct,
    heat_from,
    heat_held,
    heat_wanted,
    inverted_below,
    lose_to_room,
    mean_between,
    mix_inversions,
    sensor,
    spread,
    stir,
)
from heat.store.pool import LATENT_J_KG, Pool, pool_losses
from heat.store.ports import SPARE, blend, boil, end_loss, pass_through, port_mean, refill, tidy

# How the loop hands its heat on.
COIL: Final = 0
DIRECT: Final = 1
PLATE: Final = 2
PASSIVE: Final = 3
POOL: Final = 4
NONE: Final = 5

# What happens to the loop's water when the pump stops.
STAYS: Final = 0
TO_VESSEL: Final = 1

# Rows of the hourly inputs.
(
    ABSORBED, A1, ABSORBED_2, A1_2, AIR, MAINS, DRAW_KG, TAP_C, SUPPLY_AROUND, BACK_AROUND, PUMP_OK, FLOW_SHARE, DRY,
    ELEMENT_ON, TOP_ELEMENT_ON, BOILER_ON, STOVE_ON, PASTEURISE_C, MODE, STORE_AROUND, COVER_W_K, COVER_W_K2,
    STORE_GAIN_W, HEATING_W, HEATING_SUPPLY_C, HEATING_RETURN_C, CIRCULATION_W, PROCESS_W, POOL_SUN_W, POOL_VAPOUR,
    POOL_WIND, POOL_AIR, POOL_SKY, POOL_BARE, POOL_ACTIVITY, POOL_FRESH_KG, POOL_ON,
) = range(37)  # fmt: skip
ROWS: Final = 37

# Where a state is kept between runs; S_WRITTEN sums all accounts, so that a value that is no number shows.
(
    S_COLLECTOR, S_COLLECTOR_2, S_SUPPLY, S_BACK, S_RUNNING, S_FULL, S_POOL, S_FLOW, S_INLET, S_RAN, S_DRY,
    S_HEATING, S_COUNT, S_COUNT_2, S_WRITTEN,
) = (0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 15, 16, 17)  # fmt: skip
STATE: Final = 18
HEATERS: Final = 4

# Columns of a heater.
H_POWER, H_HEIGHT, H_SENSOR, H_SET, H_HYSTERESIS, H_STORE = range(6)

# Columns of a load: ports (shares), backup in series (W), reserve of the store's top (°C).
L_OUT, L_IN, L_BACKUP, L_RESERVE = range(4)


class LoopPart(NamedTuple):
    """The loop: how it hands heat on, what moves it, how it stops (W/K, W, m, shares, steps)."""

    exchange: int
    natural: bool
    check_valve: bool
    flow_w_k: float
    steady: bool
    pump_w: float
    variable: bool
    least_share: float
    target_k: float
    by_sun: bool
    least_steps: float
    bundled: float
    blocked: bool
    drains: int
    lift_j: float
    lock_with_boiler: bool
    convective: bool
    out_share: float
    in_share: float
    exchanger_w_k: float
    store_flow_w_k: float
    store_pump_w: float
    water_kg: float


class NaturalPart(NamedTuple):
    """What a loop without a pump needs: heights, passages and fluids."""

    heights: Heights
    pipes: Passage
    risers: Passage
    store_side: Passage
    exchanger_m: float
    fluid: Fluid
    water: Fluid


class TapPart(NamedTuple):
    """Tap: tempering valve, tankless heater (W), draw coil (0 W/K: none) and its flow (W/K)."""

    tempered: bool
    tankless_w: float
    coil: Coil
    coil_flow_w_k: float


class VesselPart(NamedTuple):
    """Beyond a plain store: boiling or relief (°C), latent heat (J/kg), dump (°C, W), extra loss through
    lid and floor (W/K), whether loss must be reckoned each step."""

    limit_c: float
    steam_j_kg: float
    dump_c: float
    dump_w: float
    top_w_k: float
    floor_w_k: float
    quick: bool


class Parts(NamedTuple):
    """All parts of one system, and the steps in an hour."""

    collector: RatedCollector
    second: RatedCollector
    supply: Pipe
    back: Pipe
    coil: Coil
    control: Differential
    loop: LoopPart
    natural: NaturalPart
    store: LayeredStore
    vessel: VesselPart
    main: LayeredStore
    two_stores: bool
    tap: TapPart
    pool: Pool
    has_pool: bool
    has_loads: bool
    heaters: int
    transfer_share: float
    steps: int


@inline_kernel
def exchange_answer(
    parts, coil_factor, flow_w_k, dt, backwards, pool_c, store_flow_w_k, layers, mass, count, effect, warming
):
    """Answer of store or pool to the loop, ``T_out = share T_in + offset``: share (no unit), offset (°C), layer.

    flow_w_k, store_flow_w_k (W/K); dt (s); pool_c and layers (°C), mass (kg); ``coil_factor`` on UA (no unit).
    """
    loop = parts.loop
    if loop.exchange == COIL:
        coil = Coil(parts.coil.ua_w_k * coil_factor, parts.coil.bottom_share, parts.coil.top_share)
        if backwards:
            return coil_lift_response(coil, flow_w_k, dt, layers, mass, count, parts.store.mass_kg, effect, warming)
        return coil_response(coil, flow_w_k, dt, layers, mass, count, parts.store.mass_kg, effect, warming)
    if loop.exchange == POOL:
        if parts.pool.exchanger_w_k <= 0.0:
            return 0.0, pool_c, -1
        reached = 1.0 - exp(-parts.pool.exchanger_w_k / flow_w_k)
        return 1.0 - reached, reached * pool_c, -1
    if loop.exchange == DIRECT:
        port = loop.in_share if backwards else loop.out_share
        return 0.0, port_mean(port, flow_w_k * dt / WATER_J_KGK, parts.store.mass_kg, layers, mass, count), -1
    kg = store_flow_w_k * dt / WATER_J_KGK
    cold = port_mean(loop.out_share, kg, parts.store.mass_kg, layers, mass, count)
    share, offset = plate_response(loop.exchanger_w_k, flow_w_k, store_flow_w_k, cold)
    return share, offset, -1


@kernel
def through_store(out_share, in_share, kg, inlet_c, heat, store, layers, mass, count):
    """Pass kg of store water from port to port, returning at inlet_c (°C) with ``heat`` (J) more; new count (1).

    A flow of more than half the store in one step is taken as mixing it all.
    """
    if kg <= 0.5 * store.mass_kg:
        return pass_through(out_share, in_share, kg, inlet_c, store, layers, mass, count)
    for k in range(count):
        layers[k] += heat / (store.mass_kg * WATER_J_KGK)
    return count


@inline_kernel
def exchange_deliver(parts, flow_w_k, dt, backwards, inlet_c, offset_c, share, upper, store_flow_w_k, layers, mass,
                     count, effect, warming):  # fmt: skip
    """Hand the loop's heat on: J given to store or pool, and the store's new count (1). °C, W/K, s, kg."""
    loop = parts.loop
    if loop.exchange == COIL:
        if backwards:
            return coil_lift_deliver(inlet_c, flow_w_k, dt, layers, upper, effect, warming), count
        return coil_deliver(inlet_c, flow_w_k, dt, layers, upper, effect, warming), count
    heat = flow_w_k * dt * (inlet_c - (share * inlet_c + offset_c))
    if loop.exchange == POOL:
        return heat, count
    if loop.exchange == DIRECT:
        kg = flow_w_k * dt / WATER_J_KGK
        out_share = loop.in_share if backwards else loop.out_share
        in_share = loop.out_share if backwards else loop.in_share
        count = through_store(out_share, in_share, kg, inlet_c, heat, parts.store, layers, mass, count)
        return heat, count
    kg = store_flow_w_k * dt / WATER_J_KGK
    if kg > 0.0:
        cold = port_mean(loop.out_share, kg, parts.store.mass_kg, layers, mass, count)
        warm = cold + heat / (store_flow_w_k * dt)
        count = through_store(loop.out_share, loop.in_share, kg, warm, heat, parts.store, layers, mass, count)
    return heat, count


@inline_kernel
def loop_answer(parts, flow_w_k, kept_s, kept_b, dt, backwards, supply_c, back_c, around_s, around_b, share_x, offset_x):
    """Answer of pipes and exchanger together, from a collector's outlet to its inlet: share (1), offset (°C)."""
    share_s, offset_s = pipe_response(parts.supply, flow_w_k, kept_s, dt, supply_c, around_s)
    share_b, offset_b = pipe_response(parts.back, flow_w_k, kept_b, dt, back_c, around_b)
    if backwards:
        return share_b * share_x * share_s, (offset_b * share_x + offset_x) * share_s + offset_s
    return share_s * share_x * share_b, (offset_s * share_x + offset_x) * share_b + offset_b


@inline_kernel
def field_answer(parts, sun, sun_2, air, mean, mean_2, dt, a1, a1_2, flow_w_k, share, offset, inlet):
    """Means and outlet of the collector field and the inlet it agrees on with the loop (all °C).

    sun (W/m²), a1 (W/m²K), flow (W/K), dt (s). Bundled pipes warm the inlet by the outlet.
    """
    bundled = parts.loop.bundled
    if bundled > 0.0:
        rest = 1.0 - share * bundled
        offset = (1.0 - bundled) * offset / rest
        share = (1.0 - bundled) * (1.0 - bundled) * share / rest + bundled
    if parts.second.area_m2 > 0.0:
        mean, _middle, mean_2, outlet, inlet = series_temperature(
            sun, sun_2, air, mean, mean_2, dt, a1, a1_2, parts.collector, parts.second, flow_w_k, share, offset, inlet
        )
        return mean, mean_2, outlet, inlet
    mean, outlet = running_temperature(sun, air, mean, dt, a1, parts.collector, flow_w_k, share, offset)
    return mean, mean, outlet, share * outlet + offset


@kernel
def between_connections(parts, layers, mass, count):
    """Density of the store's water between the loop's connections (kg/m³); layers (°C), mass (kg)."""
    low = min(parts.loop.out_share, parts.loop.in_share) * parts.store.mass_kg
    high = max(parts.loop.out_share, parts.loop.in_share) * parts.store.mass_kg
    if high - low < 1e-6:
        return density(parts.natural.water, layers[count - 1])
    return density(parts.natural.water, mean_between(low, high, layers, mass, count))


@kernel
def natural_flow(parts, guess, sun, sun_2, air, mean, mean_2, dt, a1, a1_2, supply_c, back_c, around_s, around_b, inlet,
                 pool_c, tolerance, layers, mass, count, effect, warming):  # fmt: skip
    """Flow round a loop without a pump (kg/s, negative backwards) where drive equals friction, to ``tolerance`` (1).

    The sign is that of the drive at rest; then secants in logarithms. 0 where nothing moves it or a
    check valve forbids it. Temperatures °C, sun W/m², a1 W/m²K, dt s, mass kg; guess (kg/s) of the last step.
    """
    natural = parts.natural
    heights = natural.heights
    fluid = natural.fluid
    coil = parts.loop.exchange == COIL
    store_density = between_connections(parts, layers, mass, count)
    at_rest = store_density
    if coil:
        low = parts.coil.bottom_share * parts.store.mass_kg
        high = parts.coil.top_share * parts.store.mass_kg
        at_rest = density(fluid, mean_between(low, high, layers, mass, count))
    drive = driving_pressure(heights, fluid, mean, supply_c, at_rest, back_c)
    backwards = drive < 0.0
    if abs(drive) < 0.02 or (backwards and parts.loop.check_valve):  # less than a fiftieth of a pascal
        return 0.0
    sign = -1.0 if backwards else 1.0
    flow = abs(guess) if guess * sign > LEAST_FLOW else LEAST_FLOW
    search = (0.0, abs(drive), -1.0, 0.0, 0.0, 0.0)
    weight = density(fluid, mean)
    thick_risers = viscosity(fluid, mean)  # as the step begins: it changes little within one
    thick_pipes = viscosity(fluid, 0.5 * (supply_c + back_c))
    for _ in range(60):
        flow_w_k = flow * fluid.heat_j_kgk
        kept_s = pipe_kept(parts.supply, flow_w_k)
        kept_b = pipe_kept(parts.back, flow_w_k)
        share_x, offset_x, _upper = exchange_answer(
            parts, 1.0, flow_w_k, dt, backwards, pool_c, 0.0, layers, mass, count, effect, warming
        )
        share, offset = loop_answer(
            parts, flow_w_k, kept_s, kept_b, dt, backwards, supply_c, back_c, around_s, around_b, share_x, offset_x
        )
        now, now_2, outlet, into = field_answer(
            parts, sun, sun_2, air, mean, mean_2, dt, a1, a1_2, flow_w_k, share, offset, inlet
        )
        leaving = parts.back if backwards else parts.supply
        held = back_c if backwards else supply_c
        around = around_b if backwards else around_s
        kept = kept_b if backwards else kept_s
        share_p, offset_p = pipe_response(leaving, flow_w_k, kept, dt, held, around)
        at_exchange = share_p * outlet + offset_p
        from_exchange = share_x * at_exchange + offset_x
        leaving_c = 0.5 * (outlet + at_exchange)
        coming_c = 0.5 * (from_exchange + into)
        exchange_density = density(fluid, 0.5 * (at_exchange + from_exchange)) if coil else store_density
        collector_c = 0.5 * (now + now_2)
        if backwards:
            drive = -driving_pressure(heights, fluid, collector_c, coming_c, exchange_density, leaving_c)
        else:
            drive = driving_pressure(heights, fluid, collector_c, leaving_c, exchange_density, coming_c)
        friction = pressure_drop(flow, thick_pipes, weight, natural.pipes)
        friction += pressure_drop(flow, thick_risers, weight, natural.risers)
        if abs(drive - friction) <= tolerance * friction:
            break
        flow, search = next_flow(flow, drive, friction, search)
        if flow < LEAST_FLOW:
            return 0.0
    return sign * flow


@kernel
def passive_flow(parts, guess_w_k, flow_w_k, hot_c, layers, mass, count):
    """Store-side capacity rate (W/K) that buoyancy drives past a passive exchanger.

    hot_c (°C): loop fluid entering at flow_w_k (W/K); store water enters at the low port, leaves warmed,
    and rises to the high port; the store's own column weighs against it. Friction: Darcy-Weisbach.
    """
    natural = parts.natural
    loop = parts.loop
    height = natural.exchanger_m
    water = natural.water
    store_density = between_connections(parts, layers, mass, count)
    cold = port_mean(loop.out_share, 1.0, parts.store.mass_kg, layers, mass, count)
    if hot_c <= cold + 0.05:
        return 0.0
    flow = max(guess_w_k / WATER_J_KGK, 1e-3)
    search = (0.0, 1.0, -1.0, 0.0, 0.0, 0.0)
    weight = density(water, cold)
    thick = viscosity(water, cold)
    for _ in range(60):
        share, offset = plate_response(loop.exchanger_w_k, flow_w_k, flow * WATER_J_KGK, cold)
        warm = cold + flow_w_k * (hot_c - share * hot_c - offset) / (flow * WATER_J_KGK)
        total = natural.heights.upper_m - natural.heights.lower_m
        rising = density(water, 0.5 * (cold + warm)) * height + density(water, warm) * max(total - height, 0.0)
        drive = GRAVITY * (store_density * max(total, height) - rising)
        friction = pressure_drop(flow, thick, weight, natural.store_side)
        if abs(drive - friction) <= 1e-6 * friction:
            break
        flow, search = next_flow(flow, drive, friction, search)
        if flow < LEAST_FLOW:
            return 0.0
    return flow * WATER_J_KGK


@kernel
def serve_load(load, wanted_j, supply_c, return_c, dt, store, layers, mass, count):
    """Heat a load takes from a store (J) and the store's new count (1).

    wanted_j (J) between supply_c and return_c (°C): the store's water is passed as it is needed, mixed
    down by the circuit; cooler water than asked for serves as far as it goes. Ports by share (no unit).
    """
    if wanted_j <= 0.0 or layers[count - 1] < load[L_RESERVE]:
        return 0.0, count
    circuit_kg = wanted_j / (WATER_J_KGK * max(supply_c - return_c, 1.0))
    kg = min(circuit_kg, 0.5 * store.mass_kg)
    warm = port_mean(load[L_OUT], kg, store.mass_kg, layers, mass, count)
    if warm <= return_c + 0.5:
        return 0.0, count
    kg = min(kg, wanted_j / (WATER_J_KGK * (warm - return_c)))
    warm = port_mean(load[L_OUT], kg, store.mass_kg, layers, mass, count)
    heat = min(kg * WATER_J_KGK * (warm - return_c), wanted_j)
    if heat <= 0.0:
        return 0.0, count
    back_c = warm - heat / (kg * WATER_J_KGK)
    count = pass_through(load[L_OUT], load[L_IN], kg, back_c, store, layers, mass, count)
    mix_inversions(layers, mass, count)
    return heat, count


@kernel
def draw_through_coil(tap, guess_share, tap_kg, tap_c, mains_c, store, layers, mass, count, effect, warming):
    """Tap water warmed by a coil in the store: drawn, short, above (J), kg through the coil, new count (1).

    It flows at the coil's own rate while drawn; the tempering valve lets past what would be too warm.
    ``guess_share``: share of the tap's water that passed the coil last time (no unit). °C, kg.
    """
    lift = max(tap_c - mains_c, 0.0)
    kg = tap_kg * guess_share if tap.tempered else tap_kg
    duty_s = 0.0
    upper = -1
    for turn in range(4):  # the rise hardly depends on how long it flows
        duty_s = kg * WATER_J_KGK / tap.coil_flow_w_k
        share, offset, upper = coil_lift_response(
            tap.coil, tap.coil_flow_w_k, duty_s, layers, mass, count, store.mass_kg, effect, warming
        )
        rise = share * mains_c + offset - mains_c
        better = min(tap_kg * lift / rise, tap_kg) if tap.tempered and rise > lift else tap_kg
        if turn == 3 or abs(better - kg) < 1e-3 * tap_kg:
            break
        kg = better
    drawn = -coil_lift_deliver(mains_c, tap.coil_flow_w_k, duty_s, layers, upper, effect, warming)
    mix_inversions(layers, mass, count)
    gap = tap_kg * lift * WATER_J_KGK - drawn
    return drawn, max(gap, 0.0), max(-gap, 0.0), kg


@kernel
def heat_store(heater, power_w, dt, set_c, everywhere, store, layers, mass, count):
    """Heat (J) of a heater of power_w (W) in dt (s) into a store up to set_c (°C); °C, kg in place."""
    height = 0.0 if everywhere else heater[H_HEIGHT]
    wanted = heat_wanted(height, set_c, store, layers, mass, count)
    heat = min(power_w * dt, wanted)
    if heat <= 0.0:
        return 0.0
    if everywhere:
        for k in range(count):
            layers[k] += heat / (store.mass_kg * WATER_J_KGK)
    else:
        heat_from(height, heat, store, layers, mass, count)
    mix_inversions(layers, mass, count)
    return heat


@kernel
def dump_heat(vessel, dt, store, layers, mass, count):
    """Heat (J) let go above the dump's temperature in dt (s), from the top down; °C, kg in place."""
    left = vessel.dump_w * dt
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


SLOW_FLOW: Final = 3e-4
"""Natural flow (kg/s) below which a dark hour is reckoned in one step. Source: our own choice, 1 kg/h."""
BALANCE: Final = 1e-3
"""How closely drive and friction agree in the year's loop (share, no unit); the flow is then right to half of it.
Source: our own choice."""
PAGE: Final = max(acc.COLUMNS, acc.TRACES)


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
    layer_kg = store.mass_kg / store.layers
    main_layer_kg = main.mass_kg / main.layers
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
    step_s = 3600.0 / parts.steps
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
        tap_c = hours[TAP_C, h]
        around_s = hours[SUPPLY_AROUND, h]
        around_b = hours[BACK_AROUND, h]
        allowed_hour = hours[PUMP_OK, h]
        flow_share = hours[FLOW_SHARE, h]
        room = hours[STORE_AROUND, h]
        pasteurise_c = hours[PASTEURISE_C, h]
        mode = hours[MODE, h]
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
            if loop.lock_with_boiler and boiler_on:
                allowed = False
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
                    back_c, to_store_c, lost = pipe_pass(
                        parts.back, flow_w_k, keep_b, dt, back_c, around_b, leaving_c
                    )
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
                    back_c, _ignored, lost = pipe_pass(
                        parts.back, flow_w_k, keep_b, dt, back_c, around_b, from_store_c
                    )
                    book[acc.RETURN_PIPE_LOSS] += lost
                trace[acc.FLOW_KG_H] += (-1.0 if backwards else 1.0) * flow_w_k / parts.natural.fluid.heat_j_kgk * 3600.0
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

            if sunless:  # the store is the collector
                gain = hours[STORE_GAIN_W, h] * dt
                warm_c = heat_held(layers, mass, count) / (store.mass_kg * WATER_J_KGK)
                cover = hours[COVER_W_K, h] + hours[COVER_W_K2, h] * max(warm_c - outside, 0.0)
                pace = cover * dt / (store.mass_kg * WATER_J_KGK)
                goal = outside + gain / (cover * dt)
                through = store.mass_kg * WATER_J_KGK * (goal - warm_c) * (1.0 - exp(-pace))
                for k in range(count):
                    layers[k] += (goal - layers[k]) * (1.0 - exp(-pace))
                book[acc.COLLECTOR_LOSS] += gain - through
                book[acc.FROM_COLLECTOR] += through
                book[acc.INTO_STORE] += through
                if layers[0] < 0.0:
                    trace[acc.FROZEN_SHARE] += 1.0

            if parts.heaters > 0:
                boiler_on = False
                for i in range(HEATERS):
                    on = hours[ELEMENT_ON + i, h]
                    if heaters[i, H_POWER] <= 0.0:
                        continue
                    everywhere = pasteurise_c > 0.0 and i < 3
                    if on <= 0.0 and not everywhere:
                        continue
                    if mode == 1.0 and i < 3 and not everywhere:
                        continue
                    upper_store = two and heaters[i, H_STORE] > 0.0
                    set_c = pasteurise_c if everywhere else heaters[i, H_SET]
                    place = 0.0 if everywhere else heaters[i, H_SENSOR]
                    if upper_store:
                        warm_c = sensor(place, main, layers_2, mass_2, count_2)
                    else:
                        warm_c = sensor(place, store, layers, mass, count)
                    if warm_c < set_c - heaters[i, H_HYSTERESIS]:
                        state[S_HEATING + i] = 1.0
                    elif warm_c >= set_c:
                        state[S_HEATING + i] = 0.0
                    if state[S_HEATING + i] <= 0.0:
                        continue
                    power = heaters[i, H_POWER] * (1.0 if everywhere else on)
                    if upper_store:
                        heat = heat_store(heaters[i], power, dt, set_c, everywhere, main, layers_2, mass_2, count_2)
                    else:
                        heat = heat_store(heaters[i], power, dt, set_c, everywhere, store, layers, mass, count)
                    if i < 2:
                        book[acc.BOUGHT_ELEMENT] += heat
                    elif i == 2:
                        book[acc.BOUGHT_BOILER] += heat
                        boiler_on = heat > 0.0
                    else:
                        book[acc.BOUGHT_STOVE] += heat
                    stirred = True
                if two and pasteurise_c > 0.0 and parts.transfer_share > 0.0:
                    blend(parts.transfer_share, layers, mass, count, layers_2, mass_2, count_2)
            if stirred:
                mix_inversions(layers, mass, count)

            if parts.has_loads:
                for i in range(3):
                    wanted = dt * (
                        hours[HEATING_W, h] if i == 0 else hours[CIRCULATION_W, h] if i == 1 else hours[PROCESS_W, h]
                    )
                    if wanted <= 0.0:
                        continue
                    warm_in = hours[HEATING_SUPPLY_C, h] if i == 0 else loads[i, 4]
                    warm_out = hours[HEATING_RETURN_C, h] if i == 0 else loads[i, 5]
                    if two:
                        heat, count_2 = serve_load(
                            loads[i], wanted, warm_in, warm_out, dt, main, layers_2, mass_2, count_2
                        )
                    else:
                        heat, count = serve_load(loads[i], wanted, warm_in, warm_out, dt, store, layers, mass, count)
                    rest = wanted - heat
                    added = min(rest, loads[i, L_BACKUP] * dt)
                    if i == 0:
                        book[acc.STORE_TO_HEATING] += heat
                        book[acc.BOUGHT_HEATING] += added
                        book[acc.TO_HEATING] += heat + added
                        book[acc.HEATING_DEMAND] += wanted
                    elif i == 1:
                        book[acc.STORE_TO_CIRCULATION] += heat
                        book[acc.BOUGHT_TANKLESS] += added
                        book[acc.TO_CIRCULATION] += heat + added
                        book[acc.CIRCULATION_DEMAND] += wanted
                    else:
                        book[acc.STORE_TO_PROCESS] += heat
                        book[acc.BOUGHT_HEATING] += added
                        book[acc.TO_PROCESS] += heat + added
                        book[acc.PROCESS_DEMAND] += wanted
                    book[acc.MISSING] += rest - added
                    if rest - added > 1e-3 * wanted:
                        trace[acc.COLD_HEATING_SHARE] += 1.0

            if tap_kg > 0.0:
                backup_w = 0.0 if mode == 1.0 else parts.tap.tankless_w
                warm_inlet = mains > layers[0]
                through = two and mode != 1.0
                top_c = layers_2[count_2 - 1] if through else layers[count - 1]
                if mode == 2.0 and not two:
                    wanted = tap_kg * max(tap_c - mains, 0.0) * WATER_J_KGK
                    drawn = 0.0
                    short = wanted
                    above = 0.0
                    taken = 0.0
                    top_c = mains
                elif parts.tap.coil_flow_w_k > 0.0:
                    drawn, short, above, taken = draw_through_coil(
                        parts.tap, coil_share, tap_kg, tap_c, mains, store, layers, mass, count, effect, warming
                    )
                    coil_share = max(taken / tap_kg, 0.05)
                elif through:
                    count_2, drawn, short, above, taken = draw_off(
                        tap_kg, tap_c, mains, parts.tap.tempered, layers_2, mass_2, count_2
                    )
                    if mode == 2.0:
                        count_2 = add_below(mains, taken, main_layer_kg, layers_2, mass_2, count_2)
                        count_2 = tidy(main.layers, layers_2, mass_2, count_2)
                    else:
                        count, count_2 = refill(
                            taken, mains, layer_kg, layers, mass, count, main, layers_2, mass_2, count_2
                        )
                        count = tidy(store.layers, layers, mass, count)
                        mix_inversions(layers, mass, count)
                    mix_inversions(layers_2, mass_2, count_2)
                else:
                    count, drawn, short, above, taken = draw(
                        tap_kg, tap_c, mains, parts.tap.tempered, layer_kg, layers, mass, count
                    )
                    if count > store.layers + SPARE:
                        count = tidy(store.layers, layers, mass, count)
                added = min(short, backup_w * dt)
                wanted = tap_kg * max(tap_c - mains, 0.0) * WATER_J_KGK
                book[acc.DRAWN] += drawn
                book[acc.BOUGHT_TANKLESS] += added
                book[acc.MISSING] += short - added
                book[acc.OVERWARM] += above
                book[acc.TO_TAP] += drawn + added - above
                book[acc.DEMAND] += wanted
                if short - added > 1e-3 * wanted:
                    trace[acc.COLD_TAP_SHARE] += 1.0
                trace[acc.TAP_C] += top_c
                trace[acc.HOT_LITRES] += taken * steps
                if warm_inlet and inverted_below(layers, count):
                    mix_inversions(layers, mass, count)

            if parts.has_pool:
                activity = hours[POOL_ACTIVITY, h]
                gone, air_loss, sky_loss = pool_losses(
                    parts.pool, pool_c, hours[POOL_AIR, h], hours[POOL_VAPOUR, h], hours[POOL_WIND, h],
                    hours[POOL_SKY, h], hours[POOL_BARE, h], activity,
                )  # fmt: skip
                fresh_kg = hours[POOL_FRESH_KG, h] + gone / LATENT_J_KG
                fresh = fresh_kg * WATER_J_KGK * (pool_c - mains)
                free = hours[POOL_SUN_W, h]
                wanted = 0.0
                from_store = 0.0
                added = 0.0
                if hours[POOL_ON, h] > 0.0:
                    balance = gone + air_loss + sky_loss + fresh - free
                    wanted = max((parts.pool.set_c - pool_c) * parts.pool.heat_j_k + balance * dt, 0.0)
                    if loop.exchange != POOL and parts.pool.exchanger_w_k > 0.0 and wanted > 0.0:
                        carry = min(wanted, parts.pool.exchanger_w_k * max(layers[count - 1] - pool_c, 0.0) * dt)
                        from_store, count = serve_load(
                            loads[3], carry, layers[count - 1], pool_c + 2.0, dt, store, layers, mass, count
                        )
                    added = min(wanted - from_store, parts.pool.heater_w * dt)
                book[acc.STORE_TO_POOL] += from_store
                book[acc.BOUGHT_POOL] += added
                book[acc.POOL_SUN] += free * dt
                book[acc.POOL_EVAPORATION] += gone * dt
                book[acc.POOL_AIR] += air_loss * dt
                book[acc.POOL_SKY] += sky_loss * dt
                book[acc.POOL_WATER] += fresh * dt
                book[acc.TO_POOL] += from_store + added
                change = from_store + added + (free - gone - air_loss - sky_loss - fresh) * dt
                pool_c += change / parts.pool.heat_j_k
                trace[acc.POOL_C] += pool_c

            if store.stirred:
                count = stir(store, layers, mass, count, effect)
                if two:
                    count_2 = stir(main, layers_2, mass_2, count_2, effect)
            if vessel.dump_w > 0.0:
                book[acc.DUMP] += dump_heat(vessel, dt, store, layers, mass, count)
            if layers[count - 1] > vessel.limit_c:
                lost, gone_kg, count = boil(vessel.limit_c, mains, vessel.steam_j_kg, store, layers, mass, count)
                book[acc.BOIL_OFF] += lost
                trace[acc.BOILED_KG] += gone_kg * steps
                mix_inversions(layers, mass, count)
            if two and layers_2[count_2 - 1] > vessel.limit_c:
                lost, gone_kg, count_2 = boil(
                    vessel.limit_c, mains, vessel.steam_j_kg, main, layers_2, mass_2, count_2
                )
                book[acc.BOIL_OFF] += lost
                trace[acc.BOILED_KG] += gone_kg * steps
                mix_inversions(layers_2, mass_2, count_2)
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
