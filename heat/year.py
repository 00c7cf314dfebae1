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
from heat.prepare import prepare_hours, prepare_parts
from heat.prepare_uses import prepare_heaters, prepare_loads
from heat.run import parts as run
from heat.run.hours import run_hours, run_plain_hours
from heat.run.plain import is_plain
from heat.store.ports import room_for
from heat.store.vessel import store_layers, store_volume_l
from heat.sun.plane import PlaneSun
from heat.sun.site import plane_sun
from heat.weather.year import WeatherYear

Array = NDArray[np.float64]
Span = tuple[int, int, Design, Array, bool]


def start_state(design: Design, rows: Array, parts: run.Parts) -> run.State:
    """Everything at rest on the first day at 0 h (°C, kg/s, W/K)."""
    pool, first = design.demand.pool, 24 * (design.reckoning.first_day - 1)
    air = np.roll(rows[run.AIR], -first)
    return run.exact(run.State(
        collector_c=air[0], second_c=air[0], supply_c=rows[run.SUPPLY_AROUND][first],
        back_c=rows[run.BACK_AROUND][first],
        inlet_c=design.system.store.start_c,
        pool_c=rows[run.POOL_SET][first] if pool.indoor else max(float(np.mean(air[:720])), 2.0),
        running=False, full=False, dry=False, boiler_on=False, flow_kg_s=0.0, ran=0.0,
        store_flow_w_k=parts.loop.store_flow_w_k, coil_share=1.0,
        bed_c=design.demand.heating.room_c, segments=store_layers(design),
        segments_2=design.reckoning.layers, written_j=0.0,
    ))  # fmt: skip


def column_of(layers: int, volume_l: float, start_c: float, layers_c: tuple[float, ...] | None = None) -> Array:
    """A store's segments at rest, bottom first: °C and kg (2 x room for them); of one temperature, or of layers given
    from the floor up (°C)."""
    column = np.zeros((2, room_for(layers)))
    column[0, :layers] = start_c
    if layers_c is not None:
        edges = np.linspace(0.0, len(layers_c), layers + 1)
        held = np.concatenate([[0.0], np.cumsum(layers_c)])
        column[0, :layers] = np.diff(np.interp(edges, np.arange(len(layers_c) + 1), held)) / np.diff(edges)
    column[1, :layers] = volume_l * WATER_KG_L / layers
    return column


def simulate(design: Design, weather: WeatherYear) -> YearBook:
    """The year of a design in its weather: hourly accounts (Wh), traces, layers (°C).

    Raises HeatError where no heat can be reckoned (a value that is not finite).
    """
    sun = plane_sun(weather, design)
    rows, sky_w = prepare_hours(design, weather, sun)
    wrong = design.system.faults
    spans: list[Span] = [(0, HOURS, design, rows, False)]
    if wrong.any:
        broken = faulty(design)
        broken_sun = plane_sun(weather, broken)
        broken_rows, broken_sky = prepare_hours(broken, weather, broken_sun, at_fault=True)
        since = 24 * (wrong.from_day - 1)
        spans = [(0, since, design, rows, False), (since, HOURS, broken, broken_rows, True)]
        sun, sky_w = spliced(sun, broken_sun, since), np.where(np.arange(HOURS) < since, sky_w, broken_sky)
    store, second, layers = design.system.store, design.system.second_store, design.reckoning.layers
    columns = (
        column_of(store_layers(design), store_volume_l(design), store.start_c, store.start_layers_c),
        column_of(layers, second.total_volume_l, second.start_c),
    )
    books = np.zeros((acc.COLUMNS, HOURS))
    traces = np.zeros((acc.TRACES, HOURS))
    profiles = np.zeros((HOURS, store_layers(design))), np.zeros((HOURS if second.fitted else 1, layers))
    work = np.zeros((2, room_for(layers))), np.zeros((2, run.PAGE))
    latched, loads = np.zeros(len(run.Heaters._fields)), prepare_loads(design)
    state = start_state(design, rows, prepare_parts(design, weather))
    begins = 24 * (design.reckoning.first_day - 1)
    for first, last, now, now_rows, at_fault in turned(spans, begins):
        if last > first:
            parts = prepare_parts(now, weather, at_fault=at_fault)
            run_span = run_plain_hours if is_plain(parts) else run_hours
            state = run_span(
                parts, prepare_heaters(now, at_fault=at_fault), loads, now_rows, first, last, state, latched, *columns,
                *work, books, traces, *profiles,
            )  # fmt: skip
    _sun_accounts(design, sun, sky_w, books)
    if not np.isfinite(np.array(state, dtype=float)).all():
        raise HeatError("The year could not be reckoned: a value is not finite.")
    return YearBook(
        design, books.T, traces.T, profiles[0], rows[run.MAINS].copy(), profiles[1] if second.fitted else None
    )


def turned(spans: list[Span], begins: int) -> list[Span]:
    """Spans of hours (first and last in h, and what belongs to them) in the order of a year that begins at an hour."""
    later = [(max(a, begins), b, d, r, f) for a, b, d, r, f in spans if b > begins]
    sooner = [(a, min(b, begins), d, r, f) for a, b, d, r, f in spans if a < begins]
    return later + sooner


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
