"""The year: prepare (vectorised) -> run (one compiled loop) -> account.

The only module that knows every part. A step of the loop reads as the heat flows: control,
collector and pipes and coil, element, tap, room.
"""

from collections import OrderedDict
from dataclasses import dataclass
from math import exp, pi
from threading import Lock
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from heat import accounts as acc
from heat.collector.incidence import b0_modifier
from heat.collector.rated import RatedCollector, heat_loss, running_temperature, standing_temperature
from heat.compiled import kernel
from heat.constants import HOURS, WATER_J_KGK, WATER_KG_L
from heat.control.differential import Differential, store_allows, wants_start, wants_stop
from heat.demand.hot_water import draw, hourly_litres
from heat.design import Design, Mains, Pipe
from heat.errors import HeatError
from heat.ledger import YearBook
from heat.loop.coil import Coil, coil_deliver, coil_response
from heat.loop.fluid import fluid_property
from heat.loop.pipe import (
    Pipe as PipeRun,
)
from heat.loop.pipe import contents_litres, insulated_loss_w_k, pipe_kept, pipe_pass, pipe_response, pipe_rest
from heat.store.layers import (
    LayeredStore,
    conduct,
    heat_from,
    heat_held,
    heat_wanted,
    inverted_below,
    lose_to_room,
    mix_inversions,
    sensor,
    spread,
    stir,
)
from heat.sun.plane import PlaneSun, tilted_irradiance
from heat.sun.position import sun_positions
from heat.weather.mains import mains_from_air, mains_from_months, mains_wave
from heat.weather.year import WeatherYear

Array = NDArray[np.float64]
FLUID_REFERENCE_C = 50.0
"""Loop fluid's properties are taken at this temperature (°C); heat capacity varies by ±2 % over
20 to 80 °C. Source: table of heat.loop.fluid."""


class ElementPart(NamedTuple):
    """Element: power (W), heights (shares), set point (°C), hysteresis (K)."""

    power_w: float
    height_share: float
    sensor_share: float
    set_c: float
    hysteresis_k: float


class TapPart(NamedTuple):
    """Tap: temperature (°C), tempering valve, power of the tankless heater (W)."""

    tap_c: float
    tempered: bool
    tankless_w: float


class Parts(NamedTuple):
    """All parts of one system; loop capacity rate (W/K), pump (W), steps per hour."""

    collector: RatedCollector
    supply: PipeRun
    back: PipeRun
    coil: Coil
    control: Differential
    store: LayeredStore
    element: ElementPart
    tap: TapPart
    loop_w_k: float
    pump_w: float
    steps: int


@dataclass(frozen=True)
class Hours:
    """Hourly inputs of the loop: absorbed sun (W/m²), air and mains (°C), tap draw (L), element on."""

    absorbed_w_m2: Array
    air_c: Array
    mains_c: Array
    draw_l: Array
    element_on: NDArray[np.bool_]


@kernel
def run_year(parts, absorbed, air, mains, litres, element_on, start_c, work, books, traces, profile):
    """Run 8,760 hours. Inputs hourly: absorbed sun (W/m²), air, mains (°C), litres (L), element_on.

    Writes ``books`` (8760 x KERNEL_COLUMNS, Wh), ``traces`` (8760 x TRACES) and ``profile``
    (8760 x layers: °C at the end of each hour, bottom first). ``start_c`` (°C): store on 1 January;
    ``work``: room for four rows of layers + 6 numbers.
    """
    dt = 3600.0 / parts.steps
    store = parts.store
    layer_kg = store.mass_kg / store.layers
    layers = work[0]
    mass = work[1]
    effect = work[2]
    warming = work[3]
    for k in range(store.layers):
        layers[k] = start_c
        mass[k] = layer_kg
    count = store.layers
    kept = exp(-store.loss_w_k * dt / (store.mass_kg * WATER_J_KGK))
    supply_kept = pipe_kept(parts.supply, parts.loop_w_k)
    back_kept = pipe_kept(parts.back, parts.loop_w_k)
    area = parts.collector.area_m2
    collector_j_k = area * parts.collector.a5
    collector_c = air[0]
    supply_c = store.room_c
    back_c = store.room_c
    running = False
    full = False
    heating = False
    for h in range(absorbed.size):
        book = books[h]
        trace = traces[h]
        sun = absorbed[h]
        outside = air[h]
        supply_around = outside if parts.supply.outdoors > 0.0 else store.room_c
        back_around = outside if parts.back.outdoors > 0.0 else store.room_c
        held_start = heat_held(layers, mass, count)
        collector_start = collector_c
        supply_start = supply_c
        back_start = back_c
        peak = -100.0
        tap_kg = litres[h] * WATER_KG_L / parts.steps
        for _ in range(parts.steps):
            stirred = False
            low_c = sensor(parts.control.sensor_share, store, layers, mass, count)
            if layers[count - 1] >= parts.control.store_limit_c - parts.control.release_k:
                limit_c = sensor(parts.control.limit_share, store, layers, mass, count)
                full = not store_allows(parts.control, limit_c, full)
            else:
                full = False
            allowed = not full
            standing_c = standing_temperature(sun, outside, collector_c, dt, parts.collector)
            go = False
            if allowed and (running or wants_start(parts.control, standing_c, low_c)):
                share_s, offset_s = pipe_response(
                    parts.supply, parts.loop_w_k, supply_kept, dt, supply_c, supply_around
                )
                share_c, offset_c, upper = coil_response(
                    parts.coil, parts.loop_w_k, dt, layers, mass, count, store.mass_kg, effect, warming
                )
                share_b, offset_b = pipe_response(parts.back, parts.loop_w_k, back_kept, dt, back_c, back_around)
                share = share_s * share_c * share_b
                offset = (offset_s * share_c + offset_c) * share_b + offset_b
                mean_c, outlet_c = running_temperature(
                    sun, outside, collector_c, dt, parts.collector, parts.loop_w_k, share, offset
                )
                inlet_c = share * outlet_c + offset
                go = not (running and wants_stop(parts.control, outlet_c, inlet_c, low_c))
            if go:
                book[acc.FROM_COLLECTOR] += parts.loop_w_k * (outlet_c - inlet_c) * dt
                book[acc.COLLECTOR_LOSS] += area * heat_loss(mean_c - outside, parts.collector) * dt
                collector_c = mean_c
                supply_c, to_coil_c, lost = pipe_pass(
                    parts.supply, parts.loop_w_k, supply_kept, dt, supply_c, supply_around, outlet_c
                )
                book[acc.SUPPLY_PIPE_LOSS] += lost
                given = coil_deliver(to_coil_c, parts.loop_w_k, dt, layers, upper, effect, warming)
                book[acc.INTO_STORE] += given
                from_coil_c = to_coil_c - given / (parts.loop_w_k * dt)
                back_c, _ignored, lost = pipe_pass(
                    parts.back, parts.loop_w_k, back_kept, dt, back_c, back_around, from_coil_c
                )
                book[acc.RETURN_PIPE_LOSS] += lost
                book[acc.PUMP_ELECTRICITY] += parts.pump_w * dt
                trace[acc.PUMP_SHARE] += 1.0
                if not running:
                    trace[acc.PUMP_STARTS] += 1.0
                stirred = True
            else:
                collector_c = standing_c
                book[acc.COLLECTOR_IDLE] += area * heat_loss(standing_c - outside, parts.collector) * dt
                supply_c, lost = pipe_rest(parts.supply, dt, supply_c, supply_around)
                book[acc.SUPPLY_PIPE_LOSS] += lost
                back_c, lost = pipe_rest(parts.back, dt, back_c, back_around)
                book[acc.RETURN_PIPE_LOSS] += lost
                too_hot = standing_c > parts.control.collector_limit_c
                if (full or too_hot) and standing_c - low_c >= parts.control.on_k and sun > 0.0:
                    trace[acc.STAGNANT_SHARE] += 1.0
            running = go
            peak = max(peak, collector_c)
            trace[acc.COLLECTOR_C] += collector_c

            if element_on[h] and parts.element.power_w > 0.0:
                warm_c = sensor(parts.element.sensor_share, store, layers, mass, count)
                if warm_c < parts.element.set_c - parts.element.hysteresis_k:
                    heating = True
                elif warm_c >= parts.element.set_c:
                    heating = False
                if heating:
                    wanted = heat_wanted(parts.element.height_share, parts.element.set_c, store, layers, mass, count)
                    heat = min(parts.element.power_w * dt, wanted)
                    if heat > 0.0:
                        heat_from(parts.element.height_share, heat, store, layers, mass, count)
                        book[acc.BOUGHT_ELEMENT] += heat
                        stirred = True
            if stirred:
                mix_inversions(layers, mass, count)

            if tap_kg > 0.0:
                top_c = layers[count - 1]
                warm_inlet = mains[h] > layers[0]
                count, drawn, short, above, taken = draw(
                    tap_kg, parts.tap.tap_c, mains[h], parts.tap.tempered, layer_kg, layers, mass, count
                )
                added = min(short, parts.tap.tankless_w * dt)
                wanted = tap_kg * max(parts.tap.tap_c - mains[h], 0.0) * WATER_J_KGK
                book[acc.DRAWN] += drawn
                book[acc.BOUGHT_TANKLESS] += added
                book[acc.MISSING] += short - added
                book[acc.OVERWARM] += above
                book[acc.TO_TAP] += drawn + added - above
                book[acc.DEMAND] += wanted
                if short - added > 1e-3 * wanted:
                    trace[acc.COLD_TAP_SHARE] += 1.0
                trace[acc.TAP_C] += top_c
                trace[acc.HOT_LITRES] += taken * parts.steps
                if warm_inlet and inverted_below(layers, count):
                    mix_inversions(layers, mass, count)
            if store.stirred:
                count = stir(store, layers, mass, count, effect)
            book[acc.STORE_LOSS] += lose_to_room(store, kept, layers, mass, count)
        conduct(store, 3600.0, layers, mass, count)
        book[acc.STORE_STORED] = heat_held(layers, mass, count) - held_start
        book[acc.COLLECTOR_STORED] = collector_j_k * (collector_c - collector_start)
        book[acc.PIPE_STORED] = parts.supply.contents_j_k * (supply_c - supply_start) + parts.back.contents_j_k * (
            back_c - back_start
        )
        book[acc.ABSORBED] = area * sun * 3600.0
        for column in range(acc.KERNEL_COLUMNS):
            book[column] /= 3600.0
        for column in range(acc.TRACES):
            trace[column] /= parts.steps
        trace[acc.PUMP_STARTS] *= parts.steps
        trace[acc.COLLECTOR_PEAK_C] = peak
        spread(store, layers, mass, count, profile[h])


def plane_sun(weather: WeatherYear, design: Design) -> PlaneSun:
    """Sun (W/m²) on the design's plane in 8,760 h; the sun stands as seen from the design's site.

    Kept for the last few planes: an edit elsewhere need not reckon it again.
    """
    site, plane = design.site, design.plane
    key = (
        id(weather), site.latitude_deg, site.longitude_deg, site.elevation_m,
        plane, site.ground_reflectance, design.reckoning.sky,
    )  # fmt: skip
    with _PLANES_LOCK:
        if key in _PLANES:
            _PLANES.move_to_end(key)
            return _PLANES[key][1]
    sun = sun_positions(
        site.latitude_deg, site.longitude_deg, site.elevation_m,
        weather.utc_offset_h, weather.sun_moment_h,
    )  # fmt: skip
    result = tilted_irradiance(
        weather,
        sun,
        tilt_deg=plane.tilt_deg,
        azimuth_deg=plane.azimuth_deg,
        reflectance=site.ground_reflectance,
        sky=design.reckoning.sky,
    )
    with _PLANES_LOCK:
        _PLANES[key] = (weather, result)  # holding the weather keeps its id from being reused
        while len(_PLANES) > PLANES_KEPT:
            _PLANES.popitem(last=False)
    return result


PLANES_KEPT = 8
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
    """Heat capacity of the loop's fluid (J/kgK): as typed, else by its glycol at 50 °C."""
    loop = design.system.loop
    if loop.heat_capacity_j_kgk is not None:
        return loop.heat_capacity_j_kgk
    return fluid_property("heat_capacity_j_kgk", loop.glycol_percent, FLUID_REFERENCE_C)


def pipe_run(pipe: Pipe, design: Design) -> PipeRun:
    """Loss (W/K) and contents (J/K) of one run, from geometry where not typed."""
    loss = pipe.loss_w_k
    if loss is None:
        loss = insulated_loss_w_k(pipe.length_m, pipe.outer_diameter_mm, pipe.insulation_mm, pipe.insulation_w_mk)
    litres = pipe.contents_l
    if litres is None:
        litres = contents_litres(pipe.length_m, pipe.outer_diameter_mm - 2 * pipe.wall_mm)
    density = fluid_property("density_kg_m3", design.system.loop.glycol_percent, FLUID_REFERENCE_C)
    held = litres / 1000.0 * density * loop_heat_capacity(design)
    return PipeRun(float(loss), held, 1.0 if pipe.outdoors else 0.0)


def prepare_parts(design: Design) -> Parts:
    """The parts (W, W/K, kg, °C) of a design as the compiled loop reads them."""
    system = design.system
    store = system.store
    mass = store.volume_l * WATER_KG_L
    width = (4.0 * store.volume_l / 1000.0 / (pi * store.height_to_width)) ** (1.0 / 3.0)
    section = pi * width**2 / 4.0
    element, control = system.backup.element, system.control
    tankless = system.backup.tankless
    return Parts(
        collector=RatedCollector(
            system.collector.total_area_m2,
            float(system.collector.a1_w_m2k),
            float(system.collector.a2_w_m2k2),
            system.collector.a5_kj_m2k * 1000.0,
        ),
        supply=pipe_run(system.loop.supply_pipe, design),
        back=pipe_run(system.loop.return_pipe, design),
        coil=Coil(*map(float, (system.coil.ua_w_k, system.coil.bottom_share, system.coil.top_share))),
        control=Differential(
            on_k=float(control.on_k),
            off_k=float(control.off_k),
            sensor_share=float(control.sensor_share),
            limit_share=float(control.limit_sensor_share),
            store_limit_c=float(control.store_limit_c),
            release_k=float(control.release_k),
            stop_without_gain=control.stop_without_gain,
            collector_limit_c=float(control.collector_limit_c),
        ),
        store=LayeredStore(
            mass,
            design.reckoning.layers,
            float(store.loss_w_k),
            float(store.room_c),
            store.conductivity_w_mk * section**2 * 1000.0 * WATER_KG_L,
            design.reckoning.inflow == "stirred",
        ),
        element=ElementPart(
            1000.0 * element.power_kw if element.fitted else 0.0,
            *map(
                float,
                (element.height_share, element.sensor_share, element.set_c, element.hysteresis_k),
            ),
        ),
        tap=TapPart(
            float(design.demand.tap_c),
            system.tempering_valve,
            1000.0 * tankless.power_kw if tankless.fitted else 0.0,
        ),
        loop_w_k=system.loop.flow_kg_h / 3600.0 * loop_heat_capacity(design),
        pump_w=float(system.loop.pump_w),
        steps=60 // design.reckoning.step_minutes,
    )


def prepare_hours(design: Design, weather: WeatherYear, sun: PlaneSun) -> Hours:
    """Hourly inputs of the loop: absorbed sun (W/m²), temperatures (°C), draws (L)."""
    collector = design.system.collector
    beam = b0_modifier(sun.cos_incidence, collector.iam_b0) * sun.beam_w_m2
    diffuse = collector.iam_diffuse * (sun.sky_w_m2 + sun.ground_w_m2)
    return Hours(
        absorbed_w_m2=collector.eta0 * (beam + diffuse),
        air_c=weather.air_c,
        mains_c=mains_temperature(design.site.mains, weather, design.site.latitude_deg),
        draw_l=hourly_litres(design.demand.litres_per_day, design.demand.hour_shape),
        element_on=np.tile(np.array(design.system.backup.element.hours_on), HOURS // 24),
    )


def simulate(design: Design, weather: WeatherYear) -> YearBook:
    """The year of a design in its weather: hourly accounts (Wh), traces, layers (°C).

    Raises HeatError where no heat can be reckoned (a value that is not finite).
    """
    sun = plane_sun(weather, design)
    hours = prepare_hours(design, weather, sun)
    parts = prepare_parts(design)
    books = np.zeros((HOURS, acc.COLUMNS))
    traces = np.zeros((HOURS, acc.TRACES))
    profile = np.zeros((HOURS, design.reckoning.layers))
    work = np.zeros((4, design.reckoning.layers + 6))
    run_year(
        parts, hours.absorbed_w_m2, hours.air_c, hours.mains_c, hours.draw_l, hours.element_on,
        float(design.system.store.start_c), work, books, traces, profile,
    )  # fmt: skip
    area = design.system.collector.total_area_m2
    books[:, acc.SUN_BEAM] = area * sun.beam_w_m2
    books[:, acc.SUN_SKY] = area * sun.sky_w_m2
    books[:, acc.SUN_GROUND] = area * sun.ground_w_m2
    books[:, acc.OPTICAL_LOSS] = area * (sun.total_w_m2() - hours.absorbed_w_m2)
    if not np.isfinite(books).all():
        raise HeatError("The year could not be reckoned: a value is not finite.")
    return YearBook(design, books, traces, profile, hours.mains_c)
