"""The loop in one step: how pipes, exchanger, pool or store answer a flow, and which flow weight drives."""

from math import exp

import numpy as np
from numpy.typing import NDArray

from heat.collector.rated import outlet_weight, running_temperature, series_temperature
from heat.common.compiled import inline_kernel, kernel
from heat.common.fluid import density, viscosity
from heat.constants import WATER_J_KGK
from heat.loop.circulation import GRAVITY, LEAST_FLOW, driving_pressure, laminar_terms, next_flow, pressure_drop
from heat.loop.coil import Coil, coil_deliver, coil_lift_deliver, coil_lift_response, coil_response
from heat.loop.pipe import pipe_pass, pipe_response, pipe_retention
from heat.loop.plate import plate_response
from heat.simulation.parts import BALANCE, COIL, DIRECT, POOL, Hour, LoopAnswer, Parts, State, Water
from heat.store.layers import LayeredStore, heat_content, mean_between
from heat.store.ports import pass_through, port_mean

Array = NDArray[np.float64]


@inline_kernel
def mean_approach(x: float) -> float:
    """``(1 - exp(-x))/x`` (no unit): how much of a lead is met on the mean while the other side catches up."""
    # the quotient loses its digits near zero; its series to the first order is exact to 1e-13 there
    if x < 1e-6:
        return 1.0 - 0.5 * x
    return (1.0 - exp(-x)) / x


@inline_kernel
def exchange_answer(
    parts: Parts,
    coil_factor: float,
    flow_w_k: float,
    dt: float,
    backwards: bool,
    pool_c: float,
    store_flow_w_k: float,
    count: int,
    water: Water,
) -> tuple[float, float, int]:
    """Answer of store or pool to the loop, ``T_out = share T_in + offset``: share (no unit), offset (°C), layer.

    flow_w_k, store_flow_w_k (W/K); dt (s); pool_c (°C); ``coil_factor`` on UA (no unit).
    """
    loop = parts.loop
    layers = water.layers
    mass = water.mass
    if loop.exchange == COIL:
        coil = Coil(parts.coil.ua_w_k * coil_factor, parts.coil.bottom_share, parts.coil.top_share)
        if backwards:
            return coil_lift_response(
                coil, flow_w_k, dt, layers, mass, count, parts.store.mass_kg, water.effect, water.warming
            )
        return coil_response(coil, flow_w_k, dt, layers, mass, count, parts.store.mass_kg, water.effect, water.warming)
    if loop.exchange == POOL:
        if parts.pool.exchanger_w_k <= 0.0:
            reached = mean_approach(flow_w_k * dt / parts.pool.heat_j_k)
            return 1.0 - reached, reached * pool_c, -1
        reached = 1.0 - exp(-parts.pool.exchanger_w_k / flow_w_k)
        reached *= mean_approach(reached * flow_w_k * dt / parts.pool.heat_j_k)
        return 1.0 - reached, reached * pool_c, -1
    passing_w_k = flow_w_k if loop.exchange == DIRECT else store_flow_w_k
    port = loop.in_share if backwards else loop.out_share
    kg = passing_w_k * dt / WATER_J_KGK
    cold = port_mean(port, kg, parts.store.mass_kg, layers, mass, count)
    share = 0.0
    offset = cold
    if loop.exchange != DIRECT:
        share, offset = plate_response(loop.exchanger_w_k, flow_w_k, store_flow_w_k, cold)
    if kg > 0.5 * parts.store.mass_kg:  # so much passes that the store follows within the step
        reached = (1.0 - share) * mean_approach((1.0 - share) * flow_w_k * dt / (parts.store.mass_kg * WATER_J_KGK))
        share = 1.0 - reached
        offset = reached * port_mean(0.0, parts.store.mass_kg, parts.store.mass_kg, layers, mass, count)
    return share, offset, -1


@kernel
def through_store(
    out_share: float,
    in_share: float,
    kg: float,
    inlet_c: float,
    heat: float,
    layering: bool,
    store: LayeredStore,
    layers: Array,
    mass: Array,
    count: int,
) -> int:
    """Pass kg of store water from port to port, returning at inlet_c (°C) with ``heat`` (J) more; new count (1).

    A flow of more than half the store in one step mixes it all: see :func:`exchange_answer`.
    """
    if kg <= 0.5 * store.mass_kg:
        return pass_through(out_share, in_share, kg, inlet_c, layering, store, layers, mass, count)
    mixed = (heat_content(layers, mass, count) + heat) / (store.mass_kg * WATER_J_KGK)
    for k in range(count):
        layers[k] = mixed
    return count


@inline_kernel
def exchange_deliver(
    parts: Parts,
    flow_w_k: float,
    dt: float,
    backwards: bool,
    inlet_c: float,
    answer: LoopAnswer,
    count: int,
    water: Water,
) -> tuple[float, int]:
    """Hand the loop's heat on: J given to store or pool, and the store's new count (1). °C, W/K, s."""
    loop = parts.loop
    layers = water.layers
    mass = water.mass
    if loop.exchange == COIL:
        if backwards:
            return coil_lift_deliver(inlet_c, flow_w_k, dt, layers, answer.upper, water.effect, water.warming), count
        return coil_deliver(inlet_c, flow_w_k, dt, layers, answer.upper, water.effect, water.warming), count
    heat = flow_w_k * dt * (inlet_c - (answer.share * inlet_c + answer.offset_c))
    if loop.exchange == POOL:
        return heat, count
    if loop.exchange == DIRECT:
        kg = flow_w_k * dt / WATER_J_KGK
        out_share = loop.in_share if backwards else loop.out_share
        in_share = loop.out_share if backwards else loop.in_share
        count = through_store(out_share, in_share, kg, inlet_c, heat, loop.layering, parts.store, layers, mass, count)
        return heat, count
    kg = answer.store_flow_w_k * dt / WATER_J_KGK
    if kg > 0.0:
        cold = port_mean(loop.out_share, kg, parts.store.mass_kg, layers, mass, count)
        warm = cold + heat / (answer.store_flow_w_k * dt)
        count = through_store(
            loop.out_share, loop.in_share, kg, warm, heat, loop.layering, parts.store, layers, mass, count
        )
    return heat, count


@inline_kernel
def loop_answer(
    parts: Parts,
    hour: Hour,
    state: State,
    flow_w_k: float,
    retention_s: float,
    retention_b: float,
    dt: float,
    backwards: bool,
    share_x: float,
    offset_x: float,
) -> tuple[float, float]:
    """Answer of pipes and exchanger together, from a collector's outlet to its inlet: share (1), offset (°C)."""
    share_s, offset_s = pipe_response(parts.supply, retention_s, dt, state.supply_c, hour.around_supply_c)
    share_b, offset_b = pipe_response(parts.back, retention_b, dt, state.back_c, hour.around_back_c)
    if backwards:
        return share_b * share_x * share_s, (offset_b * share_x + offset_x) * share_s + offset_s
    return share_s * share_x * share_b, (offset_s * share_x + offset_x) * share_b + offset_b


@inline_kernel
def field_answer(
    parts: Parts, hour: Hour, state: State, flow_w_k: float, share: float, offset: float, dt: float, creeps: bool
) -> tuple[float, float, float, float]:
    """Means and outlet of the collector field and the inlet it agrees on with the loop (all °C).

    Flow (W/K), dt (s); the loop answers with share (no unit) and offset (°C). Bundled pipes warm the inlet by the
    outlet. ``creeps``: it flows by its own weight, so that the profile counts.
    """
    bundled = parts.loop.bundled
    if bundled > 0.0:
        rest = 1.0 - share * bundled
        offset = (1.0 - bundled) * offset / rest
        share = (1.0 - bundled) * (1.0 - bundled) * share / rest + bundled
    if parts.second.area_m2 > 0.0:
        mean, _middle, mean_2, outlet, inlet = series_temperature(
            hour.sun,
            hour.sun_2,
            hour.air_c,
            state.collector_c,
            state.second_c,
            dt,
            hour.a1,
            hour.a1_2,
            parts.collector,
            parts.second,
            flow_w_k,
            share,
            offset,
            state.inlet_c,
            creeps,
        )
        return mean, mean_2, outlet, inlet
    # pumped, the fluid is so fast that its mean is halfway; creeping, the profile along the absorber is bent
    weight = outlet_weight(parts.collector.area_m2, hour.a1, flow_w_k) if creeps else 0.5
    mean, outlet = running_temperature(
        hour.sun, hour.air_c, state.collector_c, dt, hour.a1, parts.collector, flow_w_k, share, offset, weight
    )
    return mean, mean, outlet, share * outlet + offset


@kernel
def between_connections(parts: Parts, water: Water, count: int) -> float:
    """Density of the store's water between the loop's connections (kg/m³)."""
    low = min(parts.loop.out_share, parts.loop.in_share) * parts.store.mass_kg
    high = max(parts.loop.out_share, parts.loop.in_share) * parts.store.mass_kg
    # both connections at one height: no column between them
    if high - low < 1e-6:
        return density(parts.natural.water, water.layers[count - 1])
    return density(parts.natural.water, mean_between(low, high, water.layers, water.mass, count))


@kernel
def natural_flow(parts: Parts, hour: Hour, state: State, water: Water, tolerance: float, dt: float) -> float:
    """Flow round a loop without a pump (kg/s, negative backwards) where drive equals friction, to ``tolerance`` (1).

    The sign is that of the drive at rest; then secants in logarithms. 0 where nothing moves it or a
    check valve forbids it. dt (s); the flow of the last step is where it begins.
    """
    guess = state.flow_kg_s
    supply_c = state.supply_c
    back_c = state.back_c
    mean = state.collector_c
    count = state.segments
    natural = parts.natural
    heights = natural.heights
    fluid = natural.fluid
    coil = parts.loop.exchange == COIL
    store_density = between_connections(parts, water, count)
    at_rest = store_density
    beside_coil_c = 0.0
    if coil:
        low = parts.coil.bottom_share * parts.store.mass_kg
        high = parts.coil.top_share * parts.store.mass_kg
        beside_coil_c = mean_between(low, high, water.layers, water.mass, count)
        at_rest = density(fluid, beside_coil_c)
    drive = driving_pressure(heights, fluid, mean, supply_c, at_rest, back_c)
    backwards = drive < 0.0
    if abs(drive) < 0.02 or (backwards and parts.loop.check_valve):  # less than a fiftieth of a pascal
        return 0.0
    sign = -1.0 if backwards else 1.0
    # the last step's flow is near; after a standstill or a turn the smallest flow, from which the drive only falls
    flow = abs(guess) if guess * sign > LEAST_FLOW else LEAST_FLOW
    search = (0.0, abs(drive), -1.0, 0.0, 0.0, 0.0)
    weight = density(fluid, mean)
    thick_risers = viscosity(fluid, mean)  # as the step begins: it changes little within one
    thick_pipes = viscosity(fluid, 0.5 * (supply_c + back_c))
    linear, square, laminar = laminar_terms(thick_pipes, weight, natural.pipes)
    more_linear, more_square, sooner = laminar_terms(thick_risers, weight, natural.risers)
    linear += more_linear
    square += more_square
    laminar = min(laminar, sooner)
    # temperatures follow the flow and drive it: drive minus friction falls with the flow, so one root; secants
    # find it in four to eight rounds, 60 is the bisection's worst
    for _ in range(60):
        flow_w_k = flow * fluid.heat_j_kgk
        retention_s = pipe_retention(parts.supply, flow_w_k, dt)
        retention_b = pipe_retention(parts.back, flow_w_k, dt)
        share_x, offset_x, _upper = exchange_answer(
            parts, 1.0, flow_w_k, dt, backwards, state.pool_c, 0.0, count, water
        )
        share, offset = loop_answer(
            parts, hour, state, flow_w_k, retention_s, retention_b, dt, backwards, share_x, offset_x
        )
        now, now_2, outlet, _into = field_answer(parts, hour, state, flow_w_k, share, offset, dt, True)
        leaving = parts.back if backwards else parts.supply
        current = back_c if backwards else supply_c
        around = hour.around_back_c if backwards else hour.around_supply_c
        retention = retention_b if backwards else retention_s
        leaving_c, at_exchange, _lost = pipe_pass(leaving, flow_w_k, retention, dt, current, around, outlet)
        from_exchange = share_x * at_exchange + offset_x
        coming = parts.supply if backwards else parts.back
        retained_2 = supply_c if backwards else back_c
        around_2 = hour.around_supply_c if backwards else hour.around_back_c
        retention_2 = retention_s if backwards else retention_b
        coming_c, _inlet, _lost = pipe_pass(coming, flow_w_k, retention_2, dt, retained_2, around_2, from_exchange)
        exchange_density = store_density
        if coil:
            exchange_density = density(
                fluid, beside_coil_c + (at_exchange - from_exchange) * flow_w_k / parts.coil.ua_w_k
            )
        collector_c = 0.5 * (now + now_2)
        if backwards:
            drive = -driving_pressure(heights, fluid, collector_c, coming_c, exchange_density, leaving_c)
        else:
            drive = driving_pressure(heights, fluid, collector_c, leaving_c, exchange_density, coming_c)
        if flow <= laminar:
            friction = (linear + square * flow) * flow
        else:
            friction = pressure_drop(flow, thick_pipes, weight, natural.pipes)
            friction += pressure_drop(flow, thick_risers, weight, natural.risers)
        if abs(drive - friction) <= tolerance * friction:
            break
        trial, search = next_flow(flow, drive, friction, search)
        settled = abs(trial - flow) < 2e-3 * tolerance  # kg/s: a creep of 2e-6 kg/s carries a fifth of a watt
        flow = trial
        if flow < LEAST_FLOW:
            return 0.0
        if settled:
            break
    return sign * flow


@kernel
def passive_flow(parts: Parts, guess_w_k: float, flow_w_k: float, hot_c: float, count: int, water: Water) -> float:
    """Store-side capacity rate (W/K) that buoyancy drives past a passive exchanger.

    hot_c (°C): loop fluid entering at flow_w_k (W/K); store water enters at the low port, leaves warmed,
    and rises to the high port; the store's own column weighs against it. Friction: Darcy-Weisbach.
    """
    natural = parts.natural
    loop = parts.loop
    height = natural.exchanger_m
    fluid = natural.water
    store_density = between_connections(parts, water, count)
    cold = port_mean(loop.out_share, 1.0, parts.store.mass_kg, water.layers, water.mass, count)
    # below a twentieth of a kelvin buoyancy is less than the friction of the smallest flow
    if hot_c <= cold + 0.05:
        return 0.0
    flow = max(guess_w_k / WATER_J_KGK, 1e-3)
    search = (0.0, 1.0, -1.0, 0.0, 0.0, 0.0)
    weight = density(fluid, cold)
    thick = viscosity(fluid, cold)
    for _ in range(60):
        share, offset = plate_response(loop.exchanger_w_k, flow_w_k, flow * WATER_J_KGK, cold)
        warm = cold + flow_w_k * (hot_c - share * hot_c - offset) / (flow * WATER_J_KGK)
        total = natural.heights.upper_m - natural.heights.lower_m
        rising = density(fluid, 0.5 * (cold + warm)) * height + density(fluid, warm) * max(total - height, 0.0)
        drive = GRAVITY * (store_density * max(total, height) - rising)
        friction = pressure_drop(flow, thick, weight, natural.store_side)
        if abs(drive - friction) <= BALANCE * friction:
            break
        flow, search = next_flow(flow, drive, friction, search)
        if flow < LEAST_FLOW:
            return 0.0
    return flow * WATER_J_KGK
