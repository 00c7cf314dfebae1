"""From a design and its weather to what the compiled loop reads: parts once, rows hour by hour.

Everything that does not depend on the loop's state is done here, vectorised over 8,760 hours.
"""

from collections import OrderedDict
from functools import cache
from math import log10, pi, radians, sin
from threading import Lock
from typing import Any, get_type_hints

import numpy as np
from numpy.typing import NDArray

from heat.collector.incidence import (
    b0_modifier,
    biaxial_angles,
    biaxial_modifier,
    hemispherical_modifier,
    hemispherical_table,
    table_modifier,
)
from heat.collector.rated import RatedCollector
from heat.constants import HOURS, KELVIN, STEFAN_BOLTZMANN, WATER_J_KGK, WATER_KG_L
from heat.control.differential import Differential
from heat.demand.profile import (
    HOUR_OF_DAY,
    MONTH_OF_HOUR,
    circulation_watts,
    heating_watts,
    known_heating,
    process_watts,
    reset_temperatures,
    tap_litres,
)  # fmt: skip
from heat.design import Collector, Design, Mains, Pipe, Store
from heat.design.system import Mistakes
from heat.loop.circulation import Fluid, Heights, Passage
from heat.loop.coil import Coil
from heat.loop.fields import pipe_contents_l, pipe_loss_w_k
from heat.loop.fluid import fluid_curves, fluid_property
from heat.loop.pipe import Pipe as PipeRun
from heat.run import parts as run
from heat.store.layers import LayeredStore
from heat.store.pool import EVAPORATION, Pool, saturation_kpa
from heat.sun.mirror import mirror_share
from heat.sun.plane import PlaneSun
from heat.sun.position import SunYear, sun_positions
from heat.sun.shade import open_sky, shade_on
from heat.weather.mains import mains_from_air, mains_from_months, mains_wave
from heat.weather.sky import ground_temperature_c, sky_temperature_c
from heat.weather.year import WeatherYear

Array = NDArray[np.float64]
FLUID_REFERENCE_C = 50.0
"""Loop fluid's properties are taken at this temperature (°C); heat capacity varies by ±2 % over
20 to 80 °C. Source: table of heat.loop.fluid."""
QUICK_H = 60.0
"""Stores that cool faster than this time constant (h) lose heat at every step, others hourly. Source: our own choice."""
LEAST_LOSS = 0.25
"""Share of a1 that calm air leaves at least (no unit): ISO 9806's straight line in the wind ends there. Source: our own choice."""
PLANES_KEPT = 8
DAY_OF_YEAR = np.arange(HOURS) // 24 + 1
EXCHANGES = {
    "coil": run.COIL, "jacket": run.COIL, "direct": run.DIRECT, "plate": run.PLATE, "passive": run.PASSIVE,
    "pool": run.POOL, "none": run.NONE,
}  # fmt: skip
STEAM_J_KG = 2.257e6
"""Latent heat of water at 100 °C (J/kg). Source: IAPWS-95 tables."""


def sun_of(design: Design, weather: WeatherYear) -> SunYear:
    """The sun over the design's site by the weather's clock (cos z, azimuth in deg, W/m²)."""
    site = design.site
    return sun_positions(
        site.latitude_deg, site.longitude_deg, site.elevation_m, weather.utc_offset_h, weather.sun_moment_h
    )


def plane_sun(weather: WeatherYear, design: Design) -> PlaneSun:
    """Sun (W/m²) on the design's plane in 8,760 h, with what shades it; the sun stands as seen from its site.

    Kept for the last few planes: an edit elsewhere need not reckon it again.
    """
    site, plane = design.site, design.plane
    key = (id(weather), site.model_copy(update={"mains": Mains()}), plane, design.reckoning.sky)
    with _PLANES_LOCK:
        for kept_key, kept in _PLANES.items():
            if kept_key == key:
                _PLANES.move_to_end(kept_key)
                return kept[1]
    sun = sun_of(design, weather)
    result = open_sky(weather, sun, site, plane, design.reckoning.sky)
    shade = shade_on(site, plane, sun)
    beam, sky, mirror = result.beam_w_m2, result.sky_w_m2, None
    if shade is not None:
        beam, sky = beam * shade.beam, sky * shade.sky
    if plane.mirror.fitted:
        width = plane.width_m or design.system.collector.total_gross_m2 / plane.slope_m
        clear = shade.beam if shade is not None else 1.0
        mirror = weather.dni_w_m2 * mirror_share(sun, plane, width) * clear
    result = PlaneSun(beam, sky, result.ground_w_m2, result.cos_incidence, mirror)
    with _PLANES_LOCK:
        _PLANES[key] = (weather, result)  # holding the weather keeps its id from being reused
        while len(_PLANES) > PLANES_KEPT:
            _PLANES.popitem(last=False)
    return result


_PLANES: "OrderedDict[tuple[object, ...], tuple[WeatherYear, PlaneSun]]" = OrderedDict()
_PLANES_LOCK = Lock()


def mains_temperature(mains: Mains, weather: WeatherYear, latitude_deg: float) -> Array:
    """Cold water each hour (°C) by the source the design names; latitude (deg) tells the hemisphere."""
    if mains.source == "monthly":
        return mains_from_months(mains.monthly_c)
    if mains.source == "wave":
        return mains_wave(mains.mean_c, mains.swing_c, mains.coldest_day)
    return mains_from_air(weather.air_c, latitude_deg < 0)


def loop_heat_capacity(design: Design) -> float:
    """Heat capacity of the loop's fluid (J/kgK): as typed, else by its glycol at 50 °C.

    Where the store's or the pool's own water passes the collectors it is that of the store.
    """
    loop = design.system.loop
    if design.system.scheme.exchange in ("direct", "none"):
        return WATER_J_KGK
    if loop.heat_capacity_j_kgk is not None:
        return loop.heat_capacity_j_kgk
    return fluid_property("heat_capacity_j_kgk", loop.glycol_percent, FLUID_REFERENCE_C)


def pipe_run(pipe: Pipe, design: Design) -> PipeRun:
    """Loss (W/K) and contents (J/K) of one run, from geometry where not typed."""
    density = fluid_property("density_kg_m3", design.system.loop.glycol_percent, FLUID_REFERENCE_C)
    held = pipe_contents_l(pipe) / 1000.0 * density * loop_heat_capacity(design)
    return PipeRun(float(pipe_loss_w_k(pipe)), held)


def boiling_point_c(pressure_pa: float) -> float:
    """Boiling point of water (°C) at a pressure (Pa), 50 to 110 kPa: Antoine, ``1730.63/(8.07131 - lg p) - 233.426``.

    p in mmHg. Reference: Antoine constants for 1 to 100 °C, Dortmund Data Bank.
    """
    return 1730.63 / (8.07131 - log10(pressure_pa / 133.322)) - 233.426


def store_volume_l(design: Design) -> float:
    """Water in the first store (L); of a bag, its depth times the collectors' area."""
    if design.system.kind == "bag":
        return design.system.collector.total_area_m2 * design.system.integral.depth_mm
    return design.system.store.volume_l


def store_layers(design: Design) -> int:
    """Layers of the first store (1): a bag lies flat and has three at most."""
    return min(design.reckoning.layers, 3) if design.system.kind == "bag" else design.reckoning.layers


def store_shape(store: Store, volume_l: float) -> tuple[float, float]:
    """Width and height of a round store (m) of volume_l (L)."""
    width = (4.0 * volume_l / 1000.0 / (pi * store.height_to_width)) ** (1.0 / 3.0)
    return width, width * store.height_to_width


def store_loss_w_k(store: Store, volume_l: float) -> float:
    """Loss of a store (W/K): UA as typed, or from its insulation over its surface with a film of 8 W/m²K."""
    if store.insulation_mm is None:
        return store.loss_w_k
    width, height = store_shape(store, volume_l)
    surface = pi * width * height + pi * width**2 / 2.0
    return surface / (store.insulation_mm / 1000.0 / store.insulation_w_mk + 1.0 / 8.0)


def mean_rating(collector: Collector) -> tuple[float, float, float]:
    """eta0 (no unit), a1 (W/m²K) and a2 (W/m²K²) about the mean fluid temperature.

    Inlet-based data: ``F' = F_R/(1 - F_R U_L/(2 m c))`` with the flow of the test.
    Reference: Duffie & Beckman, 4th ed., eq. 6.19.1 (with 6.7.4).
    """
    eta0, a1, a2 = collector.eta0, collector.a1_w_m2k, collector.a2_w_m2k2
    if collector.rating == "inlet":
        per_area = collector.test_flow_kg_h_m2 / 3600.0 * WATER_J_KGK
        rise = 1.0 / (1.0 - min(a1 / (2.0 * per_area), 0.9))
        return eta0 * rise, a1 * rise, a2 * rise
    return eta0, a1, a2


def modifiers(collector: Collector, sun: PlaneSun, position: SunYear, design: Design) -> tuple[Array, float]:
    """Beam modifier in 8,760 h and the diffuse modifier (no unit) of one kind of collector on the plane."""
    plane = design.plane
    diffuse = collector.iam_diffuse
    across: Array | None = None
    along: Array | None = None
    if collector.iam == "biaxial" or collector.trough:
        across, along = biaxial_angles(position.cos_zenith, position.azimuth_deg, plane.tilt_deg, plane.azimuth_deg)
        if collector.tubes == "across":
            across, along = along, across
    if collector.iam == "biaxial":
        assert across is not None
        assert along is not None
        beam = biaxial_modifier(across, along, collector.iam_across, collector.iam_table)
        beam = np.where(sun.cos_incidence > 0.0, beam, 0.0)
        if collector.diffuse_reckoned:
            tables = collector.iam_across, collector.iam_table
            diffuse = hemispherical_table(lambda t, n: biaxial_modifier(t, n, *tables))
    elif collector.iam == "table":
        beam = table_modifier(sun.cos_incidence, collector.iam_table)
        if collector.diffuse_reckoned:
            angle = np.radians(np.arange(0.5, 90.0, 1.0))
            weight = np.sin(2 * angle)
            diffuse = float((table_modifier(np.cos(angle), collector.iam_table) * weight).sum() / weight.sum())
    else:
        beam = b0_modifier(sun.cos_incidence, collector.iam_b0)
        if collector.diffuse_reckoned:
            diffuse = hemispherical_modifier(collector.iam_b0)
    if collector.trough:
        assert across is not None
        beam = np.where(across <= collector.acceptance_deg, beam, 0.0)
        diffuse = 0.0
    return beam, diffuse


def absorbed_and_loss(
    collector: Collector, sun: PlaneSun, position: SunYear, design: Design, weather: WeatherYear
) -> tuple[Array, Array, Array]:
    """Absorbed sun (W/m²), linear loss a1 (W/m²K) and exchange with the sky (W/m²) in 8,760 h.

    The wind enters as ``a1 + a3 (u - 3)`` and ``- a6 (u - 3) G``, the sky as ``a4 (E_L - sigma T_a⁴)``
    (half of the sky's share is seen by a vertical plane). Reference: ISO 9806:2017, eq. 12.
    """
    eta0, a1, _a2 = mean_rating(collector)
    beam, diffuse = modifiers(collector, sun, position, design)
    light = beam * sun.beam_w_m2 + diffuse * (sun.sky_w_m2 + sun.ground_w_m2)
    if sun.mirror_w_m2 is not None:
        light = light + diffuse * sun.mirror_w_m2
    absorbed = eta0 * light
    loss = np.full(HOURS, a1)
    sky = np.zeros(HOURS)
    gust = weather.wind_m_s - 3.0
    if collector.a3_j_m3k > 0.0:
        loss = np.maximum(a1 + collector.a3_j_m3k * gust, LEAST_LOSS * a1)
    if collector.a6_s_m > 0.0:
        absorbed = np.maximum(absorbed - collector.a6_s_m * gust * sun.total_w_m2(), 0.0)
    if collector.a4 > 0.0:
        seen = 0.5 * (1.0 + np.cos(radians(design.plane.tilt_deg)))
        cold = sky_temperature_c(weather) + KELVIN
        sky = collector.a4 * seen * STEFAN_BOLTZMANN * (cold**4 - (weather.air_c + KELVIN) ** 4)
    return absorbed, loss, sky


def between(first_day: int, last_day: int) -> NDArray[np.bool_]:
    """True in the hours from the first to the last day (1 to 365), also over the turn of the year (no unit)."""
    if first_day <= last_day:
        return (first_day <= DAY_OF_YEAR) & (last_day >= DAY_OF_YEAR)
    return (first_day <= DAY_OF_YEAR) | (last_day >= DAY_OF_YEAR)


def pasteurising(design: Design) -> NDArray[np.bool_]:
    """True in the hours the store is heated through (8,760, no unit)."""
    plan = design.system.backup.pasteurisation
    if not plan.fitted:
        return np.zeros(HOURS, dtype=bool)
    day = (DAY_OF_YEAR - 1) % plan.every_days == 0
    hour = np.arange(HOURS)
    starts = np.flatnonzero(day & (plan.from_hour == HOUR_OF_DAY))
    mask = np.zeros(HOURS, dtype=bool)
    for shift in range(plan.hours):
        mask[np.minimum(starts + shift, HOURS - 1)] = True
    return mask & (hour >= 0)


def valve_mode(design: Design) -> Array:
    """Position of the valves in 8,760 hours: 0 preheat, 1 direct, 2 bypass (no unit)."""
    control = design.system.control
    number = {"preheat": 0.0, "direct": 1.0, "bypass": 2.0}
    mode = np.full(HOURS, number[control.mode])
    if control.other_mode != control.mode:
        mode[between(control.other_from_day, control.other_to_day)] = number[control.other_mode]
    return mode


def pump_allowed(design: Design, mode: Array, heating_through: NDArray[np.bool_]) -> tuple[Array, Array]:
    """Whether the pump may run (0, 1; 2: must) and whether the loop is dry (0, 1) in 8,760 hours (no unit)."""
    system = design.system
    control, scheme = system.control, system.scheme
    season = between(control.season_from_day, control.season_to_day)
    allowed = np.asarray(control.hours_allowed)[HOUR_OF_DAY] & season & (mode != 2.0)
    if control.rests_while_pasteurising:
        allowed &= ~heating_through
    if scheme.exchange == "pool":
        allowed &= np.asarray(design.demand.pool.months)[MONTH_OF_HOUR]
    dry = np.zeros(HOURS)
    if scheme.water_outdoors and scheme.moved != "none":
        dry[~season] = 1.0
    return allowed.astype(float), dry


def prepare_hours(
    design: Design, weather: WeatherYear, sun: PlaneSun, *, at_fault: bool = False
) -> tuple[Array, Array]:
    """Hourly inputs (run.ROWS x 8,760: W/m², °C, kg, W) and the field's exchange with the sky (W).

    ``at_fault``: the design's mistakes are at work.
    """
    system = design.system
    scheme, loop = system.scheme, system.loop
    position = sun_of(design, weather)
    rows = np.zeros((run.ROWS, HOURS))
    absorbed, loss, sky = absorbed_and_loss(system.collector, sun, position, design, weather)
    area = system.collector.total_area_m2
    sky_w = area * sky
    air = weather.air_c
    rows[run.AIR] = air
    rows[run.MAINS] = mains_temperature(design.site.mains, weather, design.site.latitude_deg)
    rows[run.A1] = 1.0
    rows[run.A1_2] = 1.0
    room = air if system.store.outdoors or scheme.moved == "none" else system.store.room_c
    rows[run.STORE_AROUND] = room
    for row, pipe in ((run.SUPPLY_AROUND, loop.supply_pipe), (run.BACK_AROUND, loop.return_pipe)):
        if pipe.buried:
            rows[row] = ground_temperature_c(air, pipe.depth_m)
        else:
            rows[row] = air if pipe.outdoors else system.store.room_c
    if scheme.moved == "none":
        _, _, a2 = mean_rating(system.collector)
        covered = np.asarray(system.integral.blanket)[HOUR_OF_DAY]
        lid = np.where(covered, system.integral.blanket_leaves, 1.0)
        sky_w = sky_w * lid
        rows[run.STORE_GAIN_W] = area * np.where(covered, 0.0, absorbed) + sky_w
        rows[run.COVER_W_K] = area * loss * lid
        rows[run.COVER_W_K2] = area * a2 * lid
    else:
        rows[run.ABSORBED] = absorbed + sky
        rows[run.A1] = loss
        if system.second_collector.fitted:
            second, loss_2, sky_2 = absorbed_and_loss(system.second_collector, sun, position, design, weather)
            rows[run.ABSORBED_2] = second + sky_2
            rows[run.A1_2] = loss_2
            sky_w = sky_w + system.second_collector.total_area_m2 * sky_2
    heating_through = pasteurising(design)
    mode = valve_mode(design)
    rows[run.MODE] = mode
    rows[run.PUMP_OK], rows[run.DRY] = pump_allowed(design, mode, heating_through)
    if system.kind == "drain_down":
        rows[run.DRY] = np.maximum(rows[run.DRY], air < system.control.drain_air_c)
    if at_fault and system.mistakes.boiler_overnight:
        rows[run.PUMP_OK][(HOUR_OF_DAY >= 22) | (HOUR_OF_DAY < 6)] = 2.0
    rows[run.FLOW_SHARE] = 1.0
    if loop.drive.rule == "by_sun":
        ramp = loop.drive.sun_full_w_m2 - loop.drive.sun_starts_w_m2
        rows[run.FLOW_SHARE] = np.clip((sun.total_w_m2() - loop.drive.sun_starts_w_m2) / ramp, 0.0, 1.0)
    _heaters_on(design, rows, heating_through)
    _uses(design, weather, rows)
    return rows, sky_w


def _heaters_on(design: Design, rows: Array, heating_through: NDArray[np.bool_]) -> None:
    backup = design.system.backup
    for row, part in (
        (run.ELEMENT_ON, backup.element), (run.TOP_ELEMENT_ON, backup.top_element), (run.BOILER_ON, backup.boiler)
    ):  # fmt: skip
        if part.fitted:
            rows[row] = np.asarray(part.hours_on, dtype=float)[HOUR_OF_DAY]
    if backup.stove.fitted:
        lit = np.asarray(backup.stove.lit_hours)[HOUR_OF_DAY] & np.asarray(backup.stove.lit_months)[MONTH_OF_HOUR]
        rows[run.STOVE_ON] = lit
    rows[run.PASTEURISE_C] = np.where(heating_through, backup.pasteurisation.target_c, 0.0)


def _uses(design: Design, weather: WeatherYear, rows: Array) -> None:
    demand = design.demand
    rows[run.TAP_C] = demand.tap_c
    rows[run.DRAW_KG] = tap_litres(demand, rows[run.MAINS]) * WATER_KG_L
    if demand.heating.fitted:
        heating = known_heating(demand.heating, weather, demand.first_weekday)
        rows[run.HEATING_W] = heating_watts(heating, weather, demand.first_weekday)
        rows[run.HEATING_SUPPLY_C], rows[run.HEATING_RETURN_C] = reset_temperatures(heating, rows[run.HEATING_W])
    rows[run.CIRCULATION_W] = circulation_watts(demand)
    rows[run.PROCESS_W] = process_watts(demand)
    if demand.pool.fitted:
        pool_hours(design, weather, rows)


def pool_hours(design: Design, weather: WeatherYear, rows: Array) -> None:
    """Write the pool's rows of hourly inputs (°C, kPa, m/s, W, kg/s, shares)."""
    pool = design.demand.pool
    covered = np.asarray(pool.covered, dtype=float)[HOUR_OF_DAY]
    open_ = np.asarray(pool.months)[MONTH_OF_HOUR]
    rows[run.POOL_BARE] = 1.0 - covered * pool.cover_saves
    rows[run.POOL_ACTIVITY] = pool.activity
    fresh_l = pool.bathers_day * pool.fresh_l_bather + pool.fresh_l_day
    rows[run.POOL_FRESH_KG] = np.where(open_, fresh_l / 86_400.0, 0.0)
    rows[run.POOL_SET] = pool.set_c if pool.set_by_month is None else np.asarray(pool.set_by_month)[MONTH_OF_HOUR]
    rows[run.POOL_ON] = open_
    if pool.indoor:
        rows[run.POOL_AIR] = pool.hall_c
        rows[run.POOL_SKY] = pool.hall_c
        rows[run.POOL_VAPOUR] = saturation_kpa(pool.hall_c) * pool.hall_humidity / 100.0
    else:
        passes = 1.0 - covered * (1.0 - pool.cover_passes)
        rows[run.POOL_SUN_W] = weather.ghi_w_m2 * pool.area_m2 * pool.absorptance * passes
        rows[run.POOL_AIR] = weather.air_c
        rows[run.POOL_SKY] = sky_temperature_c(weather)
        rows[run.POOL_WIND] = weather.wind_m_s * pool.wind_share
        rows[run.POOL_VAPOUR] = saturation_kpa(weather.air_c) * weather.humidity_pct / 100.0


def _layered(store: Store, volume_l: float, loss_w_k: float, room_c: float, layers: int, stirred: bool) -> LayeredStore:
    width, _height = store_shape(store, volume_l)
    section = pi * width**2 / 4.0
    return LayeredStore(
        volume_l * WATER_KG_L, layers, float(loss_w_k), float(room_c),
        store.conductivity_w_mk * section**2 * 1000.0 * WATER_KG_L, stirred,
    )  # fmt: skip


def _loop_part(design: Design, capacity: float, *, at_fault: bool) -> run.LoopPart:
    system = design.system
    loop, scheme, wrong = system.loop, system.scheme, system.mistakes
    plate_flow = system.plate.store_flow_kg_h / 3600.0 * WATER_J_KGK
    flow = loop.flow_kg_h / 3600.0 * capacity
    coupled = wrong.bundled_w_mk * min(loop.supply_pipe.length_m, loop.return_pipe.length_m) if at_fault else 0.0
    units = coupled / flow
    return run.LoopPart(
        exchange=EXCHANGES[scheme.exchange],
        natural=scheme.moved == "weight",
        check_valve=loop.check_valve,
        flow_w_k=flow,
        steady=loop.drive.rule == "fixed" and scheme.moved == "pump",
        pump_w=float(loop.pump_w) if loop.drive.rule != "by_sun" else 0.0,
        variable=loop.drive.rule == "variable",
        least_share=float(loop.drive.least_share),
        target_k=float(loop.drive.target_k),
        by_sun=loop.drive.rule == "by_sun",
        least_steps=system.control.least_run_minutes / design.reckoning.step_minutes,
        bundled=units / (1.0 + units),
        blocked=at_fault and wrong.air_lock and scheme.moved == "pump",
        drains=run.TO_VESSEL if scheme.drains else run.STAYS,
        lift_j=max(loop.drive.lift_w - loop.pump_w, 0.0) * loop.drive.fill_minutes * 60.0 if scheme.drains else 0.0,
        lock_with_boiler=system.control.rests_with_boiler,
        convective=scheme.exchange == "coil" and system.coil.free_convection,
        out_share=float(loop.out_share),
        in_share=float(loop.in_share),
        exchanger_w_k=float(system.plate.ua_w_k),
        store_flow_w_k=plate_flow if scheme.exchange == "plate" else 0.0,
        store_pump_w=float(system.plate.store_pump_w) if scheme.exchange == "plate" else 0.0,
        water_kg=pipe_contents_l(loop.supply_pipe) + pipe_contents_l(loop.return_pipe),
    )


def _natural_part(design: Design, capacity: float) -> run.NaturalPart:
    system = design.system
    loop, geometry = system.loop, system.loop.geometry
    top = design.plane.slope_m * sin(radians(design.plane.tilt_deg))
    floor = top + system.store_bottom_m
    _width, height = store_shape(system.store, store_volume_l(design))
    low, high = loop.out_share, loop.in_share
    if EXCHANGES[system.scheme.exchange] == run.COIL:
        part = system.jacket if system.scheme.exchange == "jacket" else system.coil
        low, high = part.bottom_share, part.top_share
    pipe = loop.supply_pipe
    bore = (pipe.outer_diameter_mm - 2 * pipe.wall_mm) / 1000.0
    length = float(loop.supply_pipe.length_m + loop.return_pipe.length_m)
    collector = system.collector
    fluid: Fluid = fluid_curves(loop.glycol_percent, capacity)
    return run.NaturalPart(
        heights=Heights(top, floor + high * height, floor + low * height),
        pipes=Passage(max(length, 0.1), bore, 1.0, float(geometry.fittings)),
        risers=Passage(design.plane.slope_m, collector.tube_bore_mm / 1000.0,
                       float(collector.tubes_inside * collector.count), 2.0),
        store_side=Passage(geometry.exchanger_run_m, geometry.exchanger_bore_mm / 1000.0, 1.0, float(geometry.fittings)),
        exchanger_m=float(geometry.exchanger_m),
        fluid=fluid,
        water=fluid_curves(0.0, WATER_J_KGK),
    )  # fmt: skip


@cache
def _field_types(kind: type) -> dict[str, type]:
    return get_type_hints(kind)


def exact(part: Any) -> Any:
    """The same tuple of parts with every number of the type it declares (units unchanged, such as W/K).

    An int where another design has a float would compile the loop a second time, for twenty seconds.
    """
    types = _field_types(type(part))  # type: ignore[arg-type]
    values = [
        exact(value) if hasattr(value, "_fields") else types[name](value)
        for name, value in zip(part._fields, part, strict=True)
    ]
    return type(part)(*values)


def stands_aside(design: Design) -> bool:
    """Whether the store is only on paper (no unit): a pool takes the sun, and nothing else heats the store."""
    backup = design.system.backup
    heated = (backup.element, backup.top_element, backup.boiler, backup.stove)
    return design.system.scheme.exchange == "pool" and not any(part.fitted for part in heated)


def prepare_parts(design: Design, weather: WeatherYear, *, at_fault: bool = False) -> run.Parts:
    """The parts (W, W/K, kg, °C) of a design as the compiled loop reads them."""
    system, demand = design.system, design.demand
    scheme, wrong = system.scheme, system.mistakes
    volume, layers = store_volume_l(design), store_layers(design)
    stirred = design.reckoning.inflow == "stirred"
    capacity = loop_heat_capacity(design)
    area = system.collector.total_area_m2
    integral = scheme.moved == "none"
    _, _, a2 = mean_rating(system.collector)
    loss = system.integral.back_w_m2k * area if integral else store_loss_w_k(system.store, volume)
    unused = stands_aside(design)
    loss = 0.0 if unused else loss
    control = system.control
    off = wrong if at_fault else type(wrong)()
    coil = system.jacket if scheme.exchange == "jacket" else system.coil
    second = system.second_collector
    open_vented = system.store.open_vented or scheme.vented
    boiling = boiling_point_c(float(np.mean(weather.pressure_pa)))
    draw = system.draw_coil
    with_coil = draw.fitted or scheme.draw_coil
    pool = demand.pool
    heaters: list[Any] = [
        system.backup.element, system.backup.top_element, system.backup.boiler, system.backup.stove
    ]  # fmt: skip
    tankless = system.backup.tankless
    step_s = 60.0 * design.reckoning.step_minutes
    main = system.second_store
    still, windy = EVAPORATION["indoor" if pool.indoor else "outdoor"]
    parts = run.Parts(
        collector=RatedCollector(0.0 if integral else area, a2, 0.0 if integral else collector_heat(system.collector)),
        second=RatedCollector(
            second.total_area_m2 if second.fitted and not integral else 0.0, mean_rating(second)[2],
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
            stop_without_gain=control.stop_without_gain and not (at_fault and misled(wrong)),
            collector_limit_c=float(control.collector_limit_c),
            collector_offset_k=float(off.collector_sensor_k),
            collector_exposure=float(off.collector_sensor_feels),
            store_offset_k=float(off.store_sensor_k),
        ),
        loop=_loop_part(design, capacity, at_fault=at_fault),
        natural=_natural_part(design, capacity),
        store=_layered(system.store, volume, loss, system.store.room_c, layers, stirred),
        vessel=run.VesselPart(
            limit_c=min(boiling, 100.5) if open_vented else float(system.store.relief_c),
            steam_j_kg=STEAM_J_KG if open_vented else 0.0,
            dump_c=float(system.dump.above_c),
            dump_w=1000.0 * system.dump.power_kw if system.dump.fitted else 0.0,
            top_w_k=0.0 if integral or unused else float(system.store.top_loss_w_k),
            floor_w_k=0.0 if integral or unused else float(system.store.floor_loss_w_k),
            quick=integral or volume * WATER_KG_L * WATER_J_KGK < QUICK_H * 3600.0 * loss,
        ),
        main=_layered(
            system.store, main.volume_l, main.loss_w_k, main.room_c, design.reckoning.layers, stirred
        ),
        two_stores=main.fitted,
        tap=run.TapPart(
            system.tempering_valve,
            1000.0 * tankless.power_kw if tankless.fitted else 0.0,
            Coil(float(draw.ua_w_k), float(draw.bottom_share), float(draw.top_share)),
            draw.flow_l_min / 60.0 * WATER_J_KGK if with_coil else 0.0,
        ),
        pool=Pool(
            pool.area_m2 * pool.depth_m * 1000.0 * WATER_J_KGK, float(pool.area_m2), still, windy,
            float(pool.exchanger_w_k), 1000.0 * pool.heater_kw, float(pool.limit_c),
        ),
        has_pool=pool.fitted,
        has_loads=demand.heating.fitted or demand.circulation.fitted or demand.process.fitted,
        heaters=sum(part.fitted for part in heaters),
        transfer_share=(step_s / 3600.0 if system.backup.pasteurisation.transfer_pump else 0.0),
        steps=60 // design.reckoning.step_minutes,
    )  # fmt: skip
    return exact(parts)


def misled(wrong: Mistakes) -> bool:
    """True where the controller's own reading, or a hand on its switch, deceives it (no unit)."""
    return bool(
        wrong.collector_sensor_k or wrong.store_sensor_k or wrong.collector_sensor_feels < 1 or wrong.boiler_overnight
    )


def collector_heat(collector: Collector) -> float:
    """Thermal capacity of a collector (J/m²K), never quite 0 for one that may cool below the air."""
    return collector.a5_kj_m2k * 1000.0


def prepare_heaters(design: Design) -> Array:
    """Heaters (run.HEATERS x 6: W, heights and sensors as shares, °C, K, store 0 or 1)."""
    backup = design.system.backup
    table = np.zeros((run.HEATERS, 6))
    in_main = 1.0 if design.system.second_store.fitted else 0.0
    for i, part in enumerate((backup.element, backup.top_element, backup.boiler)):
        if part.fitted:
            table[i] = (
                1000.0 * part.power_kw, part.height_share, part.sensor_share, part.set_c, part.hysteresis_k, in_main
            )  # fmt: skip
    if backup.stove.fitted:
        table[3] = 1000.0 * backup.stove.power_kw, backup.stove.height_share, 0.0, 1e6, 1.0, in_main
    return table


def prepare_loads(design: Design) -> Array:
    """Loads (4 x 6: ports as shares, backup in W, reserve in °C, supply and return in °C)."""
    demand, backup = design.demand, design.system.backup
    series = 1000.0 * backup.series.power_kw if backup.series.fitted else 0.0
    tankless = 1000.0 * backup.tankless.power_kw if backup.tankless.fitted else 0.0
    heating, process, circulation, pool = demand.heating, demand.process, demand.circulation, demand.pool
    back = demand.tap_c - circulation.drop_k
    return np.array(
        [
            (heating.out_share, heating.in_share, series, heating.reserve_c, heating.supply_c, heating.return_c),
            (1.0, 0.6, tankless, back, demand.tap_c, back),
            (process.out_share, process.in_share, series, process.reserve_c, process.supply_c, process.return_c),
            (1.0, 0.1, 0.0, pool.reserve_c, 0.0, 0.0),
        ]
    )  # fmt: skip
