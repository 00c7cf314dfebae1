"""The year: prepare (vectorised) -> run (one compiled loop) -> account."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial
from typing import Any

import numpy as np
from numpy.typing import NDArray

from heat.constants import HOURS, WATER_KG_L
from heat.design import Design
from heat.errors import HeatError
from heat.ledger import accounts as acc
from heat.ledger.year_book import YearBook
from heat.simulation import parts as run
from heat.simulation.faults import faulty
from heat.simulation.hours import run_hours, run_plain_hours
from heat.simulation.plain import is_plain
from heat.simulation.prepare import prepare_hours, prepare_parts
from heat.simulation.prepare_uses import prepare_heaters, prepare_loads
from heat.store.ports import room_for
from heat.store.vessel import store_layers, store_volume_l
from heat.sun.plane import PlaneSun
from heat.sun.site import plane_sun
from heat.weather.year import WeatherYear

Array = NDArray[np.float64]
Span = tuple[int, int, Design, Array, bool]


@dataclass(frozen=True)
class Opening:
    """How a run of hours opens (°C): layers of the first and the second store from the floor up, pool; where nothing is
    told, as the design has it at rest.
    """

    store_c: tuple[float, ...] | None = None
    second_c: tuple[float, ...] | None = None
    pool_c: float | None = None


AT_REST = Opening()


def start_state(design: Design, rows: Array, parts: run.Parts, first: int) -> run.State:
    """Everything at rest at an hour of the year (0 to 8759; °C, kg/s, W/K).

    Parameters
    ----------
    design
        The design.
    rows
        Hourly inputs, a row for each; written in place.
    parts
        The system's parts as the compiled year reads them.
    first
        The first hour, 0 to 8,759 (h).

    Returns
    -------
    run.State
        Everything at rest at an hour of the year (0 to 8759; °C, kg/s, W/K).
    """
    pool = design.demand.pool
    air = np.roll(rows[run.AIR], -first)
    return run.exact(
        run.State(
            collector_c=air[0],
            second_c=air[0],
            supply_c=rows[run.SUPPLY_AROUND][first],
            back_c=rows[run.BACK_AROUND][first],
            inlet_c=design.system.store.start_c,
            pool_c=rows[run.POOL_SET][first] if pool.indoor else max(float(np.mean(air[:720])), 2.0),
            running=False,
            full=False,
            dry=False,
            boiler_on=False,
            flow_kg_s=0.0,
            ran=0.0,
            store_flow_w_k=parts.loop.store_flow_w_k,
            coil_share=1.0,
            slab_c=design.demand.heating.room_c,
            segments=store_layers(design),
            segments_2=design.numerics.layers,
            written_j=0.0,
        )
    )


def column_of(layers: int, volume_l: float, start_c: float, layers_c: tuple[float, ...] | None = None) -> Array:
    """A store's segments at rest, bottom first: °C and kg (2 x room for them).

    Parameters
    ----------
    layers
        Number of layers.
    volume_l
        Volume of the store (L).
    start_c
        Temperature at rest (°C).
    layers_c
        Temperatures of layers at rest, from the bottom up (°C).

    Returns
    -------
    ndarray
        A store's segments at rest, bottom first: °C and kg (2 x room for them).
    """
    column = np.zeros((2, room_for(layers)))
    column[0, :layers] = start_c
    if layers_c is not None:
        edges = np.linspace(0.0, len(layers_c), layers + 1)
        current = np.concatenate([[0.0], np.cumsum(layers_c)])
        column[0, :layers] = np.diff(np.interp(edges, np.arange(len(layers_c) + 1), current)) / np.diff(edges)
    column[1, :layers] = volume_l * WATER_KG_L / layers
    return column


def simulate(design: Design, weather: WeatherYear) -> YearBook:
    """The year of a design in its weather: hourly accounts (Wh), traces, layers (°C).

    Parameters
    ----------
    design
        The design.
    weather
        The weather, 8,760 hours.

    Returns
    -------
    YearBook
        The year of a design in its weather: hourly accounts (Wh), traces, layers (°C).

    Raises
    ------
    HeatError
        Where no heat can be calculated (a value that is not finite).
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
    book = _ready(design, weather, turned(spans, 24 * (design.numerics.first_day - 1))).books(AT_REST)
    _sun_accounts(design, sun, sky_w, book.books.T, slice(0, HOURS))
    return book


def simulate_hours(
    design: Design,
    weather: WeatherYear,
    first: int,
    last: int,
    openings: Sequence[Opening] = (AT_REST,),
    draws_l: Array | None = None,
) -> list[YearBook]:
    """Hours ``first`` to ``last`` (numbers of the year, h, the last excluded) of a design, its faults at work from the
    first, once from each opening; all other hours stay empty.

    Parameters
    ----------
    design
        The design.
    weather
        The weather, 8,760 hours.
    first
        The first hour, 0 to 8,759 (h).
    last
        The hour after the last (h).
    openings
        States in which the hours begin.
    draws_l
        Water drawn at the taps' temperature (L) in each of these hours, where it was noted.

    Returns
    -------
    list[YearBook]
        Hours ``first`` to ``last`` (numbers of the year, h, the last excluded) of a design, its faults at work
        from the first, once from each opening; all other hours stay empty.

    Raises
    ------
    HeatError
        As :func:`simulate` does.
    """
    wrong = design.system.faults.any
    now = faulty(design) if wrong else design
    sun = plane_sun(weather, now)
    rows, sky_w = prepare_hours(now, weather, sun, at_fault=wrong)
    if draws_l is not None:
        rows[run.DRAW_KG, first:last] = draws_l * WATER_KG_L
    ready = _ready(design, weather, [(first, last, now, rows, wrong)])
    books = [ready.books(opening) for opening in openings]
    for book in books:
        _sun_accounts(design, sun, sky_w, book.books.T, slice(first, last))
    return books


@dataclass(frozen=True)
class _Ready:
    """Spans of hours (h) with what the compiled loop reads in each, and how it opens at rest."""

    design: Design
    spans: list[tuple[int, int, Any]]
    mains_c: Array
    rest: run.State

    def books(self, opening: Opening) -> YearBook:
        """The books of the spans one after the other, from an opening."""
        design = self.design
        store, second, layers = design.system.store, design.system.second_store, design.numerics.layers
        found = opening.store_c or store.start_layers_c
        columns = (
            column_of(store_layers(design), store_volume_l(design), store.start_c, found),
            column_of(layers, second.total_volume_l, second.start_c, opening.second_c),
        )
        books = np.zeros((acc.COLUMNS, HOURS))
        traces = np.zeros((acc.TRACES, HOURS))
        profiles = np.zeros((HOURS, store_layers(design))), np.zeros((HOURS if second.fitted else 1, layers))
        work = np.zeros((2, room_for(layers))), np.zeros((2, run.NO_TOTALS))
        latched = np.zeros(len(run.Heaters._fields))
        state = self.rest if opening.pool_c is None else self.rest._replace(pool_c=opening.pool_c)
        for first, last, run_span in self.spans:
            state = run_span(first, last, state, latched, *columns, *work, books, traces, *profiles)
        if not np.isfinite(np.array(state, dtype=float)).all():
            raise HeatError("The year could not be calculated: a value is not finite.")
        return YearBook(
            design, books.T, traces.T, profiles[0], self.mains_c.copy(), profiles[1] if second.fitted else None
        )


def _ready(design: Design, weather: WeatherYear, spans: list[Span]) -> _Ready:
    """Spans made ready: parts, heaters and loads once for all that run through them."""
    loads, rows = prepare_loads(design), spans[0][3]
    made = []
    for first, last, now, now_rows, at_fault in spans:
        if last > first:
            parts = prepare_parts(now, weather, at_fault=at_fault)
            run_span = run_plain_hours if is_plain(parts) else run_hours
            made.append(
                (first, last, partial(run_span, parts, prepare_heaters(now, at_fault=at_fault), loads, now_rows))
            )
    rest = start_state(design, rows, prepare_parts(design, weather), spans[0][0])
    return _Ready(design, made, rows[run.MAINS], rest)


def turned(spans: list[Span], begins: int) -> list[Span]:
    """Spans of hours (first and last in h, and what belongs to them) in the order of a year that begins at an hour.

    Parameters
    ----------
    spans
        Spans of hours with what belongs to them.
    begins
        Hour at which the year begins.

    Returns
    -------
    list[Span]
        Spans of hours (first and last in h, and what belongs to them).
    """
    later = [(max(a, begins), b, d, r, f) for a, b, d, r, f in spans if b > begins]
    sooner = [(a, min(b, begins), d, r, f) for a, b, d, r, f in spans if a < begins]
    return later + sooner


def spliced(before: PlaneSun, after: PlaneSun, hour: int) -> PlaneSun:
    """The sun (W/m²) before an hour by one plane, from then on by another.

    Parameters
    ----------
    before
        Sun on the plane up to the hour.
    after
        Sun on the plane from the hour on.
    hour
        Hour of the year (h).

    Returns
    -------
    PlaneSun
        The sun (W/m²) before an hour by one plane, from then on by another.
    """

    def join(read: Callable[[PlaneSun], Array | None]) -> Array:
        parts = [read(p) if read(p) is not None else np.zeros(HOURS) for p in (before, after)]
        return np.concatenate([parts[0][:hour], parts[1][hour:]])  # type: ignore[index]

    return PlaneSun(
        join(lambda p: p.beam_w_m2),
        join(lambda p: p.sky_w_m2),
        join(lambda p: p.ground_w_m2),
        join(lambda p: p.cos_incidence),
        join(lambda p: p.mirror_w_m2),
    )


def _sun_accounts(design: Design, sun: PlaneSun, sky_w: Array, books: Array, hours: slice) -> None:
    """What fell on the collectors, and what their glass kept of it (Wh)."""
    system = design.system
    area = system.collector.total_area_m2
    if system.second_collector.fitted and system.scheme.driven_by != "none":
        area += system.second_collector.total_area_m2
    books[acc.SUN_BEAM, hours] = area * sun.beam_w_m2[hours]
    books[acc.SUN_SKY, hours] = area * sun.sky_w_m2[hours]
    books[acc.SUN_GROUND, hours] = area * sun.ground_w_m2[hours]
    if sun.mirror_w_m2 is not None:
        books[acc.SUN_MIRROR, hours] = area * sun.mirror_w_m2[hours]
    books[acc.SKY_EXCHANGE, hours] = sky_w[hours]
    books[acc.OPTICAL_LOSS, hours] = area * sun.total_w_m2()[hours] + sky_w[hours] - books[acc.ABSORBED, hours]
