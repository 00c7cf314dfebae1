"""Cases by number: a design, the plant that was built from it a little otherwise, its fault, and what was read."""

from dataclasses import replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from heat.demand.profile import tap_litres
from heat.design import Design, parse
from heat.monitoring.faults import suffers
from heat.monitoring.log import Log
from heat.simulation.prepare import mains_temperature
from heat.tests.made_logs import made_document
from heat.tests.plant.physics import COIL, POOL, SIPHON, STEP_S, TANK, Plant, run
from heat.tests.plant.sky import absorbed, hourly, moments
from heat.weather.year import WeatherYear

Array = NDArray[np.float64]
KINDS = ("pumped_coil", "drainback", "pumped_coil", "pool_direct", "pumped_coil", "drainback", "thermosiphon_open")
BEFORE_H, SHOWING, TRIES = 96, 40.0, 12
"""The plant runs so long before its log begins (h); a fault shows where it moves the readings by so much in three days
(K h, a pump's hour counted as 20 K); draws of one that shows (1)."""
SIZES: dict[str, tuple[float, float]] = {
    "high": (6.0, 15.0), "low": (6.0, 15.0), "feels": (40.0, 75.0), "top": (60.0, 95.0), "dirt": (15.0, 45.0),
    "tree": (20.0, 38.0), "slow": (12.0, 40.0), "fast": (220.0, 400.0), "bundled": (0.3, 1.5), "cooked": (60.0, 95.0),
    "bare": (8.0, 25.0), "element": (48.0, 65.0), "small": (35.0, 60.0), "few": (35.0, 60.0),
    "air": (1.0, 1.0), "valve": (1.0, 1.0), "boiler": (1.0, 1.0), "night": (1.0, 1.0),
}  # fmt: skip
"""Sizes of faults as fitters meet them, each in its unit."""


def plant_of(design: Design) -> Plant:
    """The plant as it was drawn."""
    system = design.system
    collector, loop, store, control = system.collector, system.loop, system.store, system.control
    scheme = system.scheme
    kind = POOL if scheme.exchange == "pool" else SIPHON if scheme.driven_by == "buoyancy" else COIL
    pipe = loop.supply_pipe
    outer = pipe.outer_diameter_mm / 1000.0
    wrapped = outer + 2.0 * pipe.insulation_mm / 1000.0
    wrap = 2.0 * np.pi * 0.045 / max(np.log(wrapped / outer), 0.01) if pipe.insulation_mm > 0 else 1.2
    water, bore = loop.glycol_percent == 0, (pipe.outer_diameter_mm - 2.0 * pipe.wall_mm) / 1000.0
    return Plant(
        kind=kind,
        drains=bool(scheme.drains),
        area_m2=collector.count * collector.area_m2,
        eta0=collector.eta0,
        a1=collector.a1_w_m2k,
        a2=collector.a2_w_m2k2,
        tilt_deg=design.plane.tilt_deg,
        azimuth_deg=design.plane.azimuth_deg,
        latitude_deg=design.site.latitude_deg,
        longitude_deg=design.site.longitude_deg,
        flow_kg_s=loop.flow_kg_h / 3600.0,
        fluid_j_kgk=4180.0 if water else 3700.0,
        pipe_m=pipe.length_m,
        pipe_w_mk=float(wrap),
        pipe_outdoors=1.0 if pipe.outdoors else 0.0,
        tank_l=store.volume_l,
        tank_w_k=store.loss_w_k,
        room_c=store.room_c,
        coil_w_k=system.coil.ua_w_k,
        coil_low=system.coil.bottom_share,
        coil_high=system.coil.top_share,
        on_k=control.on_k,
        off_k=control.off_k,
        limit_c=control.store_limit_c,
        sensor_share=control.sensor_share,
        tap_c=design.demand.tap_c,
        pool_m2=design.demand.pool.area_m2,
        pool_m3=design.demand.pool.area_m2 * design.demand.pool.depth_m,
        pool_limit_c=design.demand.pool.limit_c,
        boiler_set_c=system.backup.boiler.set_c,
        boiler_w=1000.0 * system.backup.boiler.power_kw,
        friction=_friction(bore, 2.0 * pipe.length_m, 6e-4 if kind == SIPHON else 2e-3),
    )


def _friction(bore_m: float, length_m: float, viscosity: float) -> float:
    """What a loop resists a slow flow with (Pa for each kg/s), by Hagen and Poiseuille, fittings half as much again."""
    return 1.5 * 128.0 * viscosity * length_m / (np.pi * 1000.0 * bore_m**4)


def built(plant: Plant, rng: np.random.Generator) -> Plant:
    """The plant as it was built: off its drawing by a few percent."""
    off = lambda spread: float(np.exp(rng.normal(0.0, spread)))
    return replace(
        plant,
        eta0=plant.eta0 * off(0.03),
        a1=plant.a1 * off(0.08),
        flow_kg_s=plant.flow_kg_s * off(0.08),
        tank_l=plant.tank_l * off(0.02),
        tank_w_k=plant.tank_w_k * off(0.2),
        coil_w_k=plant.coil_w_k * off(0.15),
        pipe_w_mk=plant.pipe_w_mk * off(0.2),
        pipe_m=plant.pipe_m * off(0.1),
        heat_j_m2k=plant.heat_j_m2k * off(0.15),
        room_c=plant.room_c + float(rng.normal(0.0, 1.5)),
        pool_w_m2k=plant.pool_w_m2k * off(0.2),
        boiler_set_c=plant.boiler_set_c + float(rng.normal(0.0, 3.0)),
        friction=plant.friction * off(0.2),
        lag_s=float(rng.uniform(20.0, 90.0)),
        inlet_nodes=int(rng.integers(1, 6)),
    )


def broken(plant: Plant, key: str, size: float) -> Plant:
    """The plant with a fault of a size in its unit."""
    share = size / 100.0
    changes: dict[str, dict[str, Any]] = {
        "air": {"air": True},
        "valve": {"valve": True},
        "high": {"collector_off_k": size},
        "low": {"store_off_k": -size},
        "feels": {"feels": 1.0 - share},
        "top": {"sits_at": share},
        "dirt": {"dirt": share},
        "tree": {"tree_deg": size},
        "slow": {"flow_factor": share},
        "fast": {"flow_factor": share},
        "bundled": {"bundled_w_mk": size},
        "cooked": {"cooked": share},
        "bare": {"pipe_m": plant.pipe_m + size, "pipe_w_mk": 1.2},
        "element": {"element_c": size},
        "small": {"tank_l": plant.tank_l * share, "tank_w_k": plant.tank_w_k * share ** (2 / 3)},
        "few": {"area_m2": plant.area_m2 * share},
        "boiler": {"boiler_c": plant.boiler_set_c, "pump_forced": True},
        "night": {"boiler_c": plant.boiler_set_c},
    }
    return replace(plant, **changes[key])


def drawn_kg(design: Design, weather: WeatherYear, hour: Array, rng: np.random.Generator) -> Array:
    """Draws at the tap in each step (kg): each hour's litres in one to three runs of some minutes."""
    mains = mains_temperature(design.site.mains, weather, design.site.latitude_deg)
    litres, found = tap_litres(design.demand, mains), np.zeros(hour.size)
    at = np.floor(hour).astype(int) % 8760
    for h in np.unique(at):
        steps = np.flatnonzero(at == h)
        left = float(litres[h] * np.exp(rng.normal(0.0, 0.25)))
        while left > 0.2:
            run_kg = min(left, float(rng.uniform(4.0, 30.0)))
            length = max(int(run_kg / float(rng.uniform(5.0, 9.0)) * 60.0 / STEP_S), 1)
            begin = int(rng.integers(0, max(steps.size - length, 1)))
            found[steps[begin : begin + length]] += run_kg / min(length, steps.size)
            left -= run_kg
    return found


def made_case(number: int, weather: WeatherYear) -> tuple[dict[str, Any], dict[str, float], Log]:
    """Case by number: the design's document, its fault (none in about two of five), and the log as it was read."""
    rng = np.random.default_rng(70_000 + number)
    kind = KINDS[int(rng.integers(len(KINDS)))]
    document = made_document(kind, rng)
    document["system"]["control"]["sensor_share"] = 0.1
    design = parse(document)
    month = int(rng.choice(range(4, 9) if kind == "pool_direct" else range(12)))
    first = 24 * int(rng.integers(30 * month + 5, 30 * month + 24))
    plant, sizes = built(plant_of(design), rng), {}
    days = int(rng.integers(3, 6))
    if rng.random() < 0.6:
        keys = [one for one in SIZES if suffers(design, one)]
        sound = days_of(design, plant, weather, first, days, np.random.default_rng(number))[1]
        for _ in range(TRIES):
            key = str(rng.choice(keys))
            size = round(float(rng.uniform(*SIZES[key])), 2)
            other = broken(plant, key, size)
            made = days_of(design, other, weather, first, days, np.random.default_rng(number))[1]
            if shows(sound, made, days):
                plant, sizes = other, {key: size}
                break
    return document, sizes, read(design, plant, weather, first, days, rng)


def shows(sound: Array, made: Array, days: int) -> bool:
    """Whether a fault moves what the sensors show: one that does not cannot be found by anybody."""
    begin = int(BEFORE_H * 3600 / STEP_S)
    hours = np.abs(sound - made)[begin:].sum(axis=0) * STEP_S / 3600.0
    return bool(hours[0] + hours[5] + 20.0 * hours[1] >= SHOWING * days / 3.0)


def days_of(
    design: Design, plant: Plant, weather: WeatherYear, first: int, days: int, rng: np.random.Generator
) -> tuple[dict[str, Array], Array]:
    """What a plant went through (by name, for each step), and what happened in it."""
    hour = moments(first - BEFORE_H, BEFORE_H + 24 * days)
    sun, level, _plane = absorbed(
        plant, weather.ghi_w_m2, weather.dni_w_m2, weather.dhi_w_m2, weather.utc_offset_h, hour, rng
    )
    air = hourly(weather.air_c, hour)
    mains = float(mains_temperature(design.site.mains, weather, design.site.latitude_deg)[first])
    draw = drawn_kg(design, weather, hour, rng) if design.demand.hot_water else np.zeros(hour.size)
    start = 26.0 if plant.kind == POOL else 40.0
    made = run(plant, sun, level, air, mains, draw, hour, start)
    return {"hour": hour, "level": level, "air": air, "draw": draw}, made


def read(design: Design, plant: Plant, weather: WeatherYear, first: int, days: int, rng: np.random.Generator) -> Log:
    """Some days of a plant as a cheap logger keeps them."""
    went, made = days_of(design, plant, weather, first, days, rng)
    hour, level, air, draw = went["hour"], went["level"], went["air"], went["draw"]
    every_s = float(rng.choice([60.0, 300.0, 900.0, 1800.0]))
    step, resolution = int(every_s / STEP_S), float(rng.choice([0.1, 0.5, 1.0]))
    noise, clock_h = float(rng.choice([0.1, 0.3, 0.5])), float(rng.normal(0.0, 4.0)) / 60.0
    begin = int(BEFORE_H * 3600 / STEP_S)
    picks = np.arange(begin + step - 1, hour.size, step)
    coarse = lambda row: (
        np.round((row + rng.normal(0.0, noise, row.shape) + rng.normal(0.0, 0.3)) / resolution) * resolution
    )
    summed = lambda row: np.add.reduceat(row[begin:], np.arange(0, hour.size - begin, step))[: picks.size]
    mean = lambda row: summed(row) / step
    sun_off = 1.0 + float(rng.normal(0.0, 0.05))
    readings = {
        "collector": coarse(made[picks, 0]),
        "sun": np.maximum(mean(level) * sun_off, 0.0),
        "air": coarse(air[picks]),
    }
    if plant.kind != SIPHON:
        readings["pump"] = mean(made[:, 1]) if rng.random() < 0.5 else made[picks, 1]
    if plant.kind == POOL:
        readings["pool"] = coarse(made[picks, 5])
        heights: tuple[float, ...] = ()
        store = None
    else:
        heights = (plant.sensor_share, 0.85)
        readings["draw"] = summed(draw) * float(np.exp(rng.normal(0.0, 0.04)))
        upper = made[picks, 6 + int(0.85 * TANK)]
        store = np.array([coarse(made[picks, 5]), coarse(upper)])
    present = rng.random(picks.size) >= float(rng.choice([0.0, 0.05, 0.15]))
    present[0] = present[-1] = True
    if "draw" in readings:
        ends = np.concatenate([[0], np.flatnonzero(present)[:-1] + 1])
        draws = np.add.reduceat(readings["draw"], ends)
    rows = {name: row[present] for name, row in readings.items()}
    if "draw" in readings:
        rows["draw"] = draws
    when = hour[picks] + STEP_S / 7200.0 + clock_h
    when = np.clip(when, first, None)
    return Log(when[present], rows, heights, None if store is None else store[:, present])
