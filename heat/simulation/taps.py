"""Taps: hot water drawn from a store, through a coil in it, past it or from two in a row."""

import numpy as np
from numpy.typing import NDArray

from heat.common.compiled import inline_kernel, kernel
from heat.constants import WATER_J_KGK
from heat.demand.hot_water import draw, draw_off
from heat.ledger import accounts as acc
from heat.loop.coil import coil_lift_deliver, coil_lift_response
from heat.loop.own_water import own_water_deliver, own_water_mean_c
from heat.simulation.parts import MAINS, MODE, TAP_C, Parts, TapPart, Totals, Water
from heat.store.layers import LayeredStore, add_below, heat_content, inverted_below, mix_inversions
from heat.store.ports import SPARE, refill, tidy

Array = NDArray[np.float64]


SIP_SHARE = 0.02
"""Largest draw (share of the tank) before the tank is mixed again. Source: our own choice."""
MOST_SIPS = 100
"""A draw is taken in no more sips than this (1): two tanks' worth leaves nothing warm. Source: our own choice."""
COLD_K = 0.5
"""A tap this much below its temperature (K) is called cold. Source: our own choice, less than a hand feels."""


@kernel
def draw_through_coil(
    tap: TapPart,
    guess_share: float,
    tap_kg: float,
    tap_c: float,
    mains_c: float,
    store: LayeredStore,
    layers: Array,
    mass: Array,
    count: int,
    effect: Array,
    warming: Array,
) -> tuple[float, float, float, float]:
    """Tap water warmed by a coil in the store: drawn, short, above (J), kg through the coil, new count (1).

    It flows at the coil's own rate while drawn; the tempering valve lets past what would be too warm.
    ``guess_share``: share of the tap's water that passed the coil last time (no unit). °C, kg.
    """
    lift = max(tap_c - mains_c, 0.0)
    kg = tap_kg * guess_share if tap.tempered else tap_kg
    upper = -1
    stood_kg = tap.own_share * tap_kg
    drawn = 0.0
    if stood_kg > 0.0:  # the upper part of what stood in the coil comes first, where not all of it is wanted
        own_kg = stood_kg
        rise = 0.0
        for _ in range(3):
            part = stood_kg / own_kg
            rise = max(
                own_water_mean_c(tap.coil, tap.coil_flow_w_k, part, layers, mass, count, store.mass_kg) - mains_c, 0.0
            )
            if not tap.tempered or stood_kg * rise <= tap_kg * lift:
                break
            stood_kg = tap_kg * lift / rise
        drawn = own_water_deliver(
            tap.coil,
            tap.coil_flow_w_k,
            stood_kg * rise * WATER_J_KGK,
            mains_c,
            layers,
            mass,
            count,
            store.mass_kg,
            effect,
        )
        mix_inversions(layers, mass, count)
    wanted = tap_kg * lift * WATER_J_KGK
    most_kg = tap_kg - stood_kg
    left_kg = most_kg
    if tap.tempered:
        left_kg = 0.0 if drawn >= wanted * (1.0 - 1e-9) else min(max(kg - stood_kg, 0.05 * most_kg), most_kg)
    duty_s = 0.0
    for turn in range(4):  # the rise hardly depends on how long it flows
        duty_s = left_kg * WATER_J_KGK / tap.coil_flow_w_k
        if duty_s <= 0.0:
            break
        share, offset, upper = coil_lift_response(
            tap.coil, tap.coil_flow_w_k, duty_s, layers, mass, count, store.mass_kg, effect, warming
        )
        rise = share * mains_c + offset - mains_c
        better = most_kg
        if tap.tempered and rise > 0.0:
            better = min((wanted - drawn) / (WATER_J_KGK * rise), most_kg)
        if turn == 3 or abs(better - left_kg) < 1e-3 * tap_kg:
            break
        left_kg = max(better, 0.0)
    if duty_s > 0.0:
        drawn -= coil_lift_deliver(mains_c, tap.coil_flow_w_k, duty_s, layers, upper, effect, warming)
        mix_inversions(layers, mass, count)
    gap = wanted - drawn
    return drawn, max(gap, 0.0), max(-gap, 0.0), stood_kg + left_kg


@kernel
def draw_mixed(
    tap_kg: float,
    tap_c: float,
    mains_c: float,
    tempered: bool,
    store: LayeredStore,
    layers: Array,
    mass: Array,
    count: int,
) -> tuple[int, float, float, float, float]:
    """:func:`heat.demand.hot_water.draw` from a tank that its own refill stirs, sip by sip (°C, kg)."""
    sips = min(1 + int(tap_kg / (SIP_SHARE * store.mass_kg)), MOST_SIPS)
    drawn = 0.0
    short = 0.0
    above = 0.0
    taken = 0.0
    for _ in range(sips):
        count, some, lacking, over, kg = draw(
            tap_kg / sips, tap_c, mains_c, tempered, store.mass_kg / store.layers, layers, mass, count
        )
        mean_c = heat_content(layers, mass, count) / (store.mass_kg * WATER_J_KGK)
        for k in range(count):
            layers[k] = mean_c
        drawn += some
        short += lacking
        above += over
        taken += kg
    return count, drawn, short, above, taken


@kernel
def follow(parts: Parts, taken_kg: float, mains_c: float, count: int, count_2: int, water: Water) -> tuple[int, int]:
    """Fill the second store with taken_kg (kg) that the first has warmed from mains_c (°C); new counts (1, 1).

    They pass its draw coil; or its own water leaves at the top, stirred by its refill where it is a fat tank.
    """
    store = parts.store
    main = parts.main
    layers = water.layers
    mass = water.mass
    main_layer_kg = main.mass_kg / main.layers
    if parts.tap.coil_flow_w_k > 0.0:
        whole = TapPart(False, 0.0, parts.tap.coil, parts.tap.coil_flow_w_k, parts.tap.own_share)
        drawn, _short, _above, _kg = draw_through_coil(
            whole, 1.0, taken_kg, mains_c, mains_c, store, layers, mass, count, water.effect, water.warming
        )
        warm_c = mains_c + drawn / (taken_kg * WATER_J_KGK)
        count_2 = add_below(warm_c, taken_kg, main_layer_kg, water.layers_2, water.mass_2, count_2)
        return count, tidy(main.layers, water.layers_2, water.mass_2, count_2)
    sips = 1
    if parts.vessel.draws_mix:
        sips = min(1 + int(taken_kg / (SIP_SHARE * store.mass_kg)), MOST_SIPS)
    for _ in range(sips):
        count, count_2 = refill(
            taken_kg / sips,
            mains_c,
            store.mass_kg / store.layers,
            layers,
            mass,
            count,
            main,
            water.layers_2,
            water.mass_2,
            count_2,
        )
        count = tidy(store.layers, layers, mass, count)
        if parts.vessel.draws_mix:
            mean_c = heat_content(layers, mass, count) / (store.mass_kg * WATER_J_KGK)
            for k in range(count):
                layers[k] = mean_c
    mix_inversions(layers, mass, count)
    return count, count_2


@inline_kernel
def serve_tap(
    parts: Parts,
    hours: Array,
    h: int,
    dt: float,
    tap_kg: float,
    coil_share: float,
    count: int,
    count_2: int,
    water: Water,
    totals: Totals,
) -> tuple[int, int, float]:
    """The tap in dt (s) of hour h: tap_kg (kg) drawn, warmed or missed; new counts (1, 1), coil's share (no unit)."""
    store = parts.store
    main = parts.main
    two = parts.two_stores
    book = totals.book
    trace = totals.trace
    layers = water.layers
    mass = water.mass
    layers_2 = water.layers_2
    mass_2 = water.mass_2
    tap_c = hours[TAP_C, h]
    mains = hours[MAINS, h]
    mode = hours[MODE, h]
    layer_kg = store.mass_kg / store.layers
    main_layer_kg = main.mass_kg / main.layers
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
    elif not through and parts.tap.coil_flow_w_k > 0.0:
        drawn, short, above, taken = draw_through_coil(
            parts.tap, coil_share, tap_kg, tap_c, mains, store, layers, mass, count, water.effect, water.warming
        )
        coil_share = min(max(taken / tap_kg, 0.05), 1.0)
    elif through:
        count_2, drawn, short, above, taken = draw_off(
            tap_kg, tap_c, mains, parts.tap.tempered, layers_2, mass_2, count_2
        )
        if mode == 2.0:
            count_2 = add_below(mains, taken, main_layer_kg, layers_2, mass_2, count_2)
            count_2 = tidy(main.layers, layers_2, mass_2, count_2)
        elif taken > 0.0:
            count, count_2 = follow(parts, taken, mains, count, count_2, water)
        mix_inversions(layers_2, mass_2, count_2)
    elif parts.vessel.draws_mix:
        count, drawn, short, above, taken = draw_mixed(
            tap_kg, tap_c, mains, parts.tap.tempered, store, layers, mass, count
        )
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
    book[acc.UNMET] += short - added
    book[acc.OVER_TEMPERATURE] += above
    book[acc.TO_TAP] += drawn + added - above
    book[acc.DEMAND] += wanted
    if short - added > COLD_K * tap_kg * WATER_J_KGK:
        trace[acc.COLD_TAP_SHARE] += dt
    trace[acc.TAP_C] += top_c * dt
    trace[acc.HOT_LITRES] += taken * 3600.0
    if warm_inlet and inverted_below(layers, count):
        mix_inversions(layers, mass, count)
    return count, count_2, coil_share
