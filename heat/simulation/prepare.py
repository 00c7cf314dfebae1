"""From a design and its weather to what the compiled loop reads: parts once, rows hour by hour.

Everything that does not depend on the loop's state is done here, vectorised over 8,760 hours.
"""

from math import exp, pi, radians, sin
from typing import Any

import numpy as np
from numpy.typing import NDArray

from heat.collector.absorbed import absorbed_and_loss, collector_heat, mean_rating
from heat.collector.rated import RatedCollector
from heat.common.calendar import HOUR_OF_DAY
from heat.common.fluid import Fluid, fluid_curves
from heat.constants import HOURS, WATER_J_KGK, WATER_KG_L
from heat.control.differential import Differential
from heat.control.timetable import pasteurising, pump_allowed, under_snow, valve_mode
from heat.demand.draw_coil import draw_coil_ua_w_k, own_water_share
from heat.design import Design, Mains, Store
from heat.design.system import Faults
from heat.loop.circulation import Heights, Passage
from heat.loop.coil import Coil
from heat.loop.fields import pipe_contents_l
from heat.loop.pipe import pipe_retention
from heat.loop.runs import loop_flow_kg_h, loop_heat_capacity, pipe_run, pump_power_w, riser_passage, store_side_w_k
from heat.simulation import parts as run
from heat.simulation.prepare_uses import UNTRAPPED_W_K, heaters_on, prepare_stove, uses_on
from heat.store.layers import LayeredStore
from heat.store.pool import Pool, surface_coefficients
from heat.store.vessel import (
    back_loss_w_k,
    boiling_point_c,
    flat_end_share,
    lit_share,
    store_layers,
    store_loss_w_k,
    store_shape,
    store_volume_l,
)
from heat.sun.plane import PlaneSun
from heat.sun.site import sun_of
from heat.weather.mains import mains_from_air, mains_from_months, mains_wave
from heat.weather.sky import ground_temperature_c
from heat.weather.year import WeatherYear

Array = NDArray[np.float64]
QUICK_H = 60.0
"""Stores that cool faster than this time constant (h) lose heat at every step, others hourly. Source: our own
choice."""
EXCHANGES = {
    "coil": run.COIL,
    "jacket": run.COIL,
    "direct": run.DIRECT,
    "plate": run.PLATE,
    "passive": run.PASSIVE,
    "pool": run.POOL,
    "none": run.NONE,
}
STEAM_J_KG = 2.257e6
"""Latent heat of water at 100 °C (J/kg). Source: IAPWS-95 tables."""


def mains_temperature(mains: Mains, weather: WeatherYear, latitude_deg: float) -> Array:
    """Cold water each hour (°C) by the source the design names; the latitude (deg) gives the hemisphere.

    Parameters
    ----------
    mains
        The mains water of the site.
    weather
        The weather, 8,760 hours.
    latitude_deg
        Latitude, north positive (deg).

    Returns
    -------
    ndarray, shape (8760,)
        Cold water each hour (°C).
    """
    if mains.source == "monthly":
        return mains_from_months(mains.monthly_c)
    if mains.source == "wave":
        return mains_wave(mains.mean_c, mains.swing_c, mains.coldest_day)
    return mains_from_air(weather.air_c, latitude_deg < 0)


def prepare_hours(
    design: Design, weather: WeatherYear, sun: PlaneSun, *, at_fault: bool = False
) -> tuple[Array, Array]:
    """Hourly inputs (run.ROWS x 8,760: W/m², °C, kg, W) and the field's exchange with the sky (W).

    Parameters
    ----------
    design
        The design.
    weather
        The weather, 8,760 hours.
    sun
        Sun on the plane.
    at_fault
        The design's faults are at work.

    Returns
    -------
    tuple[Array, Array]
        Hourly inputs (run.ROWS x 8,760: W/m², °C, kg, W) and the field's exchange with the sky (W).
    """
    system = design.system
    scheme, loop = system.scheme, system.loop
    position = sun_of(design, weather)
    rows = np.zeros((run.ROWS, HOURS))
    bare = ~under_snow(design)
    absorbed, loss, sky = absorbed_and_loss(system.collector, sun, position, design, weather)
    absorbed = absorbed * bare
    area = system.collector.total_area_m2
    sky_w = area * sky
    air = weather.air_c
    rows[run.AIR] = air
    rows[run.MAINS] = mains_temperature(design.site.mains, weather, design.site.latitude_deg)
    rows[run.A1] = 1.0
    rows[run.A1_2] = 1.0
    room = air if system.store.outdoors or scheme.driven_by == "none" else system.store.room_c
    rows[run.STORE_AROUND] = room
    for row, pipe in ((run.SUPPLY_AROUND, loop.supply_pipe), (run.BACK_AROUND, loop.return_pipe)):
        if pipe.buried:
            rows[row] = ground_temperature_c(air, pipe.depth_m)
        else:
            rows[row] = air if pipe.outdoors else system.store.room_c
    if scheme.driven_by == "none":
        _, _, a2 = mean_rating(system.collector)
        covered = np.asarray(system.integral.blanket)[HOUR_OF_DAY]
        blanket = np.where(covered, system.integral.blanket_leaves, 1.0)
        sky_w = sky_w * blanket
        rows[run.STORE_GAIN_W] = area * np.where(covered, 0.0, absorbed * lit_share(design)) + sky_w
        rows[run.COVER_W_K] = area * loss * blanket
        rows[run.COVER_W_K2] = area * a2 * blanket
    else:
        rows[run.ABSORBED] = absorbed + sky
        rows[run.A1] = loss
        if system.second_collector.fitted:
            second, loss_2, sky_2 = absorbed_and_loss(system.second_collector, sun, position, design, weather)
            rows[run.ABSORBED_2] = second * bare + sky_2
            rows[run.A1_2] = loss_2
            sky_w = sky_w + system.second_collector.total_area_m2 * sky_2
    _commands(design, sun, rows, at_fault=at_fault)
    heaters_on(design, rows, pasteurising(design))
    uses_on(design, weather, sun.total_w_m2(), rows)
    return rows, sky_w


def _commands(design: Design, sun: PlaneSun, rows: Array, *, at_fault: bool) -> None:
    """When the loop may run, how fast and when it is dry, and the valves' positions (shares, no unit)."""
    system, drive = design.system, design.system.loop.drive
    mode = valve_mode(design)
    rows[run.MODE] = mode
    rows[run.PUMP_OK], rows[run.DRY] = pump_allowed(design, mode, pasteurising(design))
    if system.kind == "drain_down":
        rows[run.DRY] = np.maximum(rows[run.DRY], rows[run.AIR] < system.control.drain_air_c)
    if at_fault and system.faults.night_boiler:
        night = (HOUR_OF_DAY >= 22) | (HOUR_OF_DAY < 6)
        rows[run.NIGHT_BOILER_ON] = night
        if system.faults.boiler_overnight:
            rows[run.PUMP_OK][night] = 2.0
    rows[run.FLOW_SHARE] = 1.0
    if drive.rule == "by_sun":
        ramp = drive.sun_full_w_m2 - drive.sun_starts_w_m2
        rows[run.FLOW_SHARE] = np.clip((sun.total_w_m2() - drive.sun_starts_w_m2) / ramp, 0.0, 1.0)


def _layered(
    store: Store, volume_l: float, loss_w_k: float, room_c: float, layers: int, stirred: bool, section_m2: float = 0.0
) -> LayeredStore:
    width, _height = store_shape(store, volume_l)
    section = section_m2 or pi * width**2 / 4.0
    return LayeredStore(
        volume_l * WATER_KG_L,
        layers,
        float(loss_w_k),
        float(room_c),
        store.conductivity_w_mk * section**2 * 1000.0 * WATER_KG_L,
        stirred,
    )


def _loop_part(design: Design, capacity: float, *, at_fault: bool) -> run.LoopPart:
    system = design.system
    loop, scheme, wrong = system.loop, system.scheme, system.faults
    flow = loop_flow_kg_h(design) / 3600.0 * capacity
    coupled = wrong.bundled_w_mk * min(loop.supply_pipe.length_m, loop.return_pipe.length_m) if at_fault else 0.0
    units = coupled / flow
    step_s = 60.0 * design.numerics.step_minutes
    pump_w = pump_power_w(design)
    return run.LoopPart(
        exchange=EXCHANGES[scheme.exchange],
        natural=scheme.driven_by == "buoyancy",
        check_valve=loop.check_valve,
        flow_w_k=flow,
        steady=loop.drive.rule == "fixed" and scheme.driven_by == "pump",
        supply_retention=pipe_retention(pipe_run(loop.supply_pipe, design), flow, step_s),
        back_retention=pipe_retention(pipe_run(loop.return_pipe, design), flow, step_s),
        pump_w=pump_w if loop.drive.rule != "by_sun" else 0.0,
        variable=loop.drive.rule == "variable",
        least_share=float(loop.drive.least_share),
        target_k=float(loop.drive.target_k),
        by_sun=loop.drive.rule == "by_sun",
        least_run_s=60.0 * system.control.least_run_minutes,
        bundled=units / (1.0 + units),
        blocked=at_fault and wrong.air_lock and scheme.driven_by == "pump",
        drains=run.TO_VESSEL if scheme.drains else run.STAYS,
        lift_j=max(loop.drive.lift_w - pump_w, 0.0) * loop.drive.fill_minutes * 60.0 if scheme.drains else 0.0,
        lock_with_boiler=system.control.rests_with_boiler,
        convective=scheme.exchange == "coil" and system.coil.free_convection,
        out_share=float(loop.out_share),
        in_share=float(loop.in_share),
        layering=loop.layering,
        exchanger_w_k=float(system.plate.ua_w_k),
        store_flow_w_k=store_side_w_k(design) if scheme.exchange == "plate" else 0.0,
        store_pump_w=float(system.plate.store_pump_w) if scheme.exchange == "plate" else 0.0,
        water_kg=pipe_contents_l(loop.supply_pipe) + pipe_contents_l(loop.return_pipe),
    )


def _natural_part(design: Design, capacity: float) -> run.NaturalPart:
    system = design.system
    loop, geometry = system.loop, system.loop.geometry
    # heights count from the lowest point of the heated fluid: of tubes on a header that is the header itself
    header = system.collector.manifold
    top = 0.0 if header else design.plane.slope_m * sin(radians(design.plane.tilt_deg))
    floor = top + system.store_bottom_m
    _width, height = store_shape(system.store, store_volume_l(design))
    low, high = loop.out_share, loop.in_share
    if EXCHANGES[system.scheme.exchange] == run.COIL:
        part = system.jacket if system.scheme.exchange == "jacket" else system.coil
        low, high = part.bottom_share, part.top_share
    pipe = loop.supply_pipe
    bore = (pipe.outer_diameter_mm - 2 * pipe.wall_mm) / 1000.0
    length = float(loop.supply_pipe.length_m + loop.return_pipe.length_m)
    fluid: Fluid = fluid_curves(loop.glycol_percent, capacity)
    return run.NaturalPart(
        heights=Heights(top, floor + high * height, floor + low * height),
        pipes=Passage(max(length, 0.1), bore, 1.0, float(geometry.fittings)),
        risers=riser_passage(design),
        store_side=Passage(
            geometry.exchanger_run_m, geometry.exchanger_bore_mm / 1000.0, 1.0, float(geometry.fittings)
        ),
        exchanger_m=float(geometry.exchanger_m),
        fluid=fluid,
        water=fluid_curves(0.0, WATER_J_KGK),
    )


def store_unused(design: Design) -> bool:
    """Whether the store is only on paper: a pool takes the sun, and nothing else heats the store.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    bool
        Whether the store is only on paper: a pool takes the sun, and nothing else heats the store.
    """
    backup = design.system.backup
    heated = (backup.element, backup.top_element, backup.boiler, backup.stove)
    return design.system.scheme.exchange == "pool" and not any(part.fitted for part in heated)


def prepare_parts(design: Design, weather: WeatherYear, *, at_fault: bool = False) -> run.Parts:
    """The parts (W, W/K, kg, °C) of a design as the compiled loop reads them.

    Parameters
    ----------
    design
        The design.
    weather
        The weather, 8,760 hours.
    at_fault
        Whether the design's faults are at work.

    Returns
    -------
    run.Parts
        The parts (W, W/K, kg, °C).
    """
    system, demand = design.system, design.demand
    scheme, wrong = system.scheme, system.faults
    volume, layers = store_volume_l(design), store_layers(design)
    stirred = design.numerics.inflow == "stirred"
    capacity = loop_heat_capacity(design)
    area = system.collector.total_area_m2
    integral = scheme.driven_by == "none"
    _, _, a2 = mean_rating(system.collector)
    loss = back_loss_w_k(design) if integral else store_loss_w_k(system.store, volume)
    unused = store_unused(design)
    loss = 0.0 if unused else loss
    end = 0.0 if integral else loss * flat_end_share(system.store, volume)
    control = system.control
    off = wrong if at_fault else type(wrong)()
    coil = system.jacket if scheme.exchange == "jacket" else system.coil
    second = system.second_collector
    open_vented = system.store.open_vented or scheme.vented
    boiling = boiling_point_c(float(np.mean(weather.pressure_pa)))
    draw = system.draw_coil
    with_coil = draw.fitted or scheme.draw_coil
    pool, stove = demand.pool, system.backup.stove
    heaters: list[Any] = [system.backup.element, system.backup.top_element, system.backup.boiler]
    tankless = system.backup.tankless
    plan = system.backup.pasteurisation
    main = system.second_store
    untrapped = 0.0 if not stove.fitted or stove.heat_trap or main.fitted else UNTRAPPED_W_K
    still, windy = surface_coefficients(pool)
    parts = run.Parts(
        collector=RatedCollector(0.0 if integral else area, a2, 0.0 if integral else collector_heat(system.collector)),
        second=RatedCollector(
            second.total_area_m2 if second.fitted and not integral else 0.0,
            mean_rating(second)[2],
            collector_heat(second),
        ),
        supply=pipe_run(system.loop.supply_pipe, design),
        back=pipe_run(system.loop.return_pipe, design),
        coil=Coil(float(coil.ua_w_k), float(coil.bottom_share), float(coil.top_share)),
        control=Differential(
            on_k=float(control.on_k),
            off_k=float(control.off_k),
            sensor_share=float(control.sensor_share),
            limit_share=float(control.limit_sensor_share),
            store_limit_c=float(control.store_limit_c),
            release_k=float(control.release_k),
            stop_without_gain=control.stop_without_gain and not (at_fault and control_deceived(wrong)),
            collector_limit_c=float(control.collector_limit_c),
            collector_offset_k=float(off.collector_sensor_k),
            collector_exposure=float(off.collector_sensor_feels),
            store_offset_k=float(off.store_sensor_k),
        ),
        loop=_loop_part(design, capacity, at_fault=at_fault),
        natural=_natural_part(design, capacity),
        store=_layered(
            system.store,
            volume,
            loss - 2.0 * end,
            system.store.room_c,
            layers,
            stirred,
            area if system.kind == "bag" else 0.0,
        ),
        store_retention=exp(-(loss - 2.0 * end) * 3600.0 / (volume * WATER_KG_L * WATER_J_KGK)),
        vessel=run.VesselPart(
            limit_c=min(boiling, 100.5) if open_vented else float(system.store.relief_c),
            steam_j_kg=STEAM_J_KG if open_vented else 0.0,
            dump_c=float(system.dump.above_c),
            dump_w=1000.0 * system.dump.power_kw if system.dump.fitted and system.dump.at == "store" else 0.0,
            dump_to_rooms=system.dump.fitted and system.dump.at == "store" and system.dump.to_rooms,
            dump_pump_w=float(system.dump.pump_w),
            collector_dump_w=1000.0 * system.dump.power_kw if system.dump.fitted and system.dump.at != "store" else 0.0,
            top_w_k=0.0 if integral or unused else end + float(system.store.top_loss_w_k) + untrapped,
            floor_w_k=0.0 if integral or unused else end + float(system.store.floor_loss_w_k),
            draws_mix=integral and mixes(design),
            sun_above=integral and system.integral.layers_by_day,
            quick=integral or volume * WATER_KG_L * WATER_J_KGK < QUICK_H * 3600.0 * loss,
        ),
        main=_layered(
            system.store,
            main.total_volume_l,
            main.count * main.loss_w_k,
            main.room_c,
            design.numerics.layers,
            stirred,
            main.count * pi / 4.0 * store_shape(system.store, main.volume_l)[0] ** 2,
        ),
        two_stores=main.fitted,
        tap=run.TapPart(
            system.tempering_valve,
            1000.0 * tankless.power_kw if tankless.fitted else 0.0,
            Coil(draw_coil_ua_w_k(draw), float(draw.bottom_share), float(draw.top_share)),
            draw.flow_l_min / 60.0 * WATER_J_KGK if with_coil else 0.0,
            own_water_share(design) if with_coil else 0.0,
        ),
        pool=Pool(
            pool.area_m2 * pool.depth_m * 1000.0 * WATER_J_KGK,
            float(pool.area_m2),
            still,
            windy,
            float(pool.exchanger_w_k),
            1000.0 * pool.heater_kw,
            float(pool.limit_c),
        ),
        has_pool=pool.fitted,
        has_loads=any(use.fitted for use in (demand.heating, demand.circulation, demand.process, demand.fresh_air)),
        heaters=sum(part.fitted for part in heaters) + int(off.night_boiler),
        has_stove=stove.fitted,
        stove=prepare_stove(design),
        transfer_kg_s=plan.transfer_kg_h / 3600.0 if plan.transfer_pump else 0.0,
        steps=60 // design.numerics.step_minutes,
    )
    return run.exact(parts)


def mixes(design: Design) -> bool:
    """Whether a draw stirs all the water of a collector that holds it: a fat tank, unless typed otherwise.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    bool
        Whether a draw stirs all the water of a collector that holds it: a fat tank, unless typed otherwise.
    """
    typed = design.system.integral.draws
    return design.system.kind == "batch_tank" if typed == "by_kind" else typed == "all_stirred"


def control_deceived(wrong: Faults) -> bool:
    """True where the controller's own reading, or a hand on its switch, deceives it.

    Parameters
    ----------
    wrong
        The faults.

    Returns
    -------
    bool
        True where the controller's own reading, or a hand on its switch, deceives it.
    """
    return bool(
        wrong.collector_sensor_k or wrong.store_sensor_k or wrong.collector_sensor_feels < 1 or wrong.boiler_overnight
    )
