"""The year: prepare (vectorised) -> run (one compiled loop) -> account."""

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from heat import accounts as acc
from heat.constants import HOURS, WATER_KG_L
from heat.design import Design
from heat.errors import HeatError
from heat.faults import faulty
from heat.ledger import YearBook
from heat.prepare import (
    plane_sun,
    prepare_heaters,
    prepare_hours,
    prepare_loads,
    prepare_parts,
    store_layers,
    store_volume_l,
)
from heat.run import parts as run
from heat.run.hours import run_hours
from heat.store.ports import room_for
from heat.sun.plane import PlaneSun
from heat.weather.year import WeatherYear

Array = NDArray[np.float64]


def start_state(design: Design, rows: Array) -> tuple[Array, Array, Array]:
    """State on 1 January at 0 h, and the columns of both stores (°C, kg): everything at rest."""
    layers, main_layers = store_layers(design), design.reckoning.layers
    state = np.zeros(run.STATE)
    air = float(rows[run.AIR][0])
    state[[run.S_COLLECTOR, run.S_COLLECTOR_2]] = air
    state[run.S_SUPPLY] = rows[run.SUPPLY_AROUND][0]
    state[run.S_BACK] = rows[run.BACK_AROUND][0]
    state[run.S_INLET] = design.system.store.start_c
    pool = design.demand.pool
    state[run.S_POOL] = rows[run.POOL_SET][0] if pool.indoor else max(float(np.mean(rows[run.AIR][:720])), 2.0)
    state[run.S_COUNT] = layers
    state[run.S_COUNT_2] = main_layers
    column = np.zeros((2, room_for(layers)))
    column[0, :layers] = design.system.store.start_c
    column[1, :layers] = store_volume_l(design) * WATER_KG_L / layers
    column_2 = np.zeros((2, room_for(main_layers)))
    column_2[0, :main_layers] = design.system.second_store.start_c
    column_2[1, :main_layers] = design.system.second_store.volume_l * WATER_KG_L / main_layers
    return state, column, column_2


def simulate(design: Design, weather: WeatherYear) -> YearBook:
    """The year of a design in its weather: hourly accounts (Wh), traces, layers (°C).

    Raises HeatError where no heat can be reckoned (a value that is not finite).
    """
    sun = plane_sun(weather, design)
    rows, sky_w = prepare_hours(design, weather, sun)
    wrong = design.system.mistakes
    spans: list[tuple[int, int, Design, Array, bool]] = [(0, HOURS, design, rows, False)]
    if wrong.any:
        broken = faulty(design)
        broken_sun = plane_sun(weather, broken)
        broken_rows, broken_sky = prepare_hours(broken, weather, broken_sun, at_fault=True)
        since = 24 * (wrong.from_day - 1)
        spans = [(0, since, design, rows, False), (since, HOURS, broken, broken_rows, True)]
        sun, sky_w = spliced(sun, broken_sun, since), np.where(np.arange(HOURS) < since, sky_w, broken_sky)
    state, column, column_2 = start_state(design, rows)
    books = np.zeros((acc.COLUMNS, HOURS))
    traces = np.zeros((acc.TRACES, HOURS))
    profile = np.zeros((HOURS, store_layers(design)))
    two = design.system.second_store.fitted
    profile_2 = np.zeros((HOURS, design.reckoning.layers)) if two else np.zeros((1, design.reckoning.layers))
    work = np.zeros((2, room_for(design.reckoning.layers)))
    page = np.zeros((2, run.PAGE))
    loads = prepare_loads(design)
    for first, last, now, now_rows, at_fault in spans:
        if last > first:
            run_hours(
                prepare_parts(now, weather, at_fault=at_fault), prepare_heaters(now), loads, now_rows, first, last,
                state, column, column_2, work, page, books, traces, profile, profile_2,
            )  # fmt: skip
    _sun_accounts(design, sun, sky_w, books)
    if not np.isfinite(state).all():
        raise HeatError("The year could not be reckoned: a value is not finite.")
    return YearBook(design, books.T, traces.T, profile, rows[run.MAINS], profile_2 if two else None)


def spliced(before: PlaneSun, after: PlaneSun, hour: int) -> PlaneSun:
    """The sun (W/m²) before an hour by one plane, from then on by another."""

    def join(read: Callable[[PlaneSun], Array | None]) -> Array:
        parts = [read(p) if read(p) is not None else np.zeros(HOURS) for p in (before, after)]
        return np.concatenate([parts[0][:hour], parts[1][hour:]])  # type: ignore[index]

    return PlaneSun(
        join(lambda p: p.beam_w_m2), join(lambda p: p.sky_w_m2), join(lambda p: p.ground_w_m2),
        join(lambda p: p.cos_incidence), join(lambda p: p.mirror_w_m2),
    )  # fmt: skip


def _sun_accounts(design: Design, sun: PlaneSun, sky_w: Array, books: Array) -> None:
    """What fell on the collectors, and what their glass kept of it (Wh)."""
    system = design.system
    area = system.collector.total_area_m2
    if system.second_collector.fitted and system.scheme.moved != "none":
        area += system.second_collector.total_area_m2
    books[acc.SUN_BEAM] = area * sun.beam_w_m2
    books[acc.SUN_SKY] = area * sun.sky_w_m2
    books[acc.SUN_GROUND] = area * sun.ground_w_m2
    if sun.mirror_w_m2 is not None:
        books[acc.SUN_MIRROR] = area * sun.mirror_w_m2
    books[acc.SKY_EXCHANGE] = sky_w
    books[acc.OPTICAL_LOSS] = area * sun.total_w_m2() + sky_w - books[acc.ABSORBED]
