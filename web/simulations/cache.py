"""The only door from the web to simulated years: by content (document, weather, engine), kept a while.

Two that ask for the same year at once wait for one and the same.
"""

import json
from collections.abc import Callable, Iterable
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass
from datetime import UTC, datetime
from hashlib import sha256
from threading import BoundedSemaphore, Lock
from time import perf_counter
from typing import Any, get_args

import numpy as np
from cachetools import LRUCache

from heat.common.compiled import source_hash
from heat.common.documents import Document
from heat.design import PAPER, Design, parse
from heat.design.base import Energy
from heat.errors import HeatError
from heat.ledger.year_book import YearBook
from heat.simulation.year import simulate as simulate_year
from heat.studies.figures import figures
from heat.weather.year import WeatherYear
from web.projects.models import WeatherFile
from web.simulations.weather import weather_year
from web.ui.rows import Row

YEARS_CACHED, FIGURES_CACHED = 4, 400
ENGINE = source_hash()
AT_WORK = BoundedSemaphore(1)
"""Years calculated at once in a process: there is a process for each core, and a year at work takes some 20 MB."""

LONG_WORK = BoundedSemaphore(1)
"""What takes seconds, a log held against every cause, say, goes beside the years of pages, one at a time: no edit waits
for its end."""

on_simulated: list[Callable[[float], None]] = []
"""Called with every year that was calculated for a page, with how long it took (s)."""


@dataclass(frozen=True)
class SimulatedYear:
    """A year's books, and how long they took (ms)."""

    book: YearBook
    took_ms: float
    at: datetime


class ContentCache:
    """What was made by key, the last so many; whoever asks while it is being made waits for it."""

    def __init__(self, size: int) -> None:
        self.made: LRUCache[str, Any] = LRUCache(size)
        self.making: dict[str, Future[Any]] = {}
        self.lock = Lock()

    def get(self, key: str, make: Callable[[], Any]) -> Any:
        """The value of a key, made once. Raises what ``make`` raises, for all who wait."""
        with self.lock:
            if key in self.made:
                return self.made[key]
            promise = self.making.get(key)
            mine = promise is None
            if promise is None:
                promise = self.making[key] = Future()
        if not mine:
            return promise.result()
        try:
            value = make()
        except BaseException as error:
            with self.lock:
                del self.making[key]
            promise.set_exception(error)
            raise
        with self.lock:
            self.made[key] = value
            del self.making[key]
        promise.set_result(value)
        return value


years, small_figures, others = ContentCache(YEARS_CACHED), ContentCache(FIGURES_CACHED), ContentCache(1)


def content_key(design: Design, file: WeatherFile) -> str:
    """What a year and its bought heat depend on, and nothing else: the document, what energy costs, the weather's
    checksum, the engine's sources."""
    energies = {name: design.money.energy(name) for name in get_args(Energy)}
    text = json.dumps([design.model_dump(mode="json", exclude=set(PAPER)), energies], sort_keys=True)
    return sha256(f"{ENGINE} {file.checksum} {text}".encode()).hexdigest()


def simulate(document: Document | Design, file: WeatherFile) -> SimulatedYear:
    """The year of a design document in a weather file. Raises HeatError."""
    design = document if isinstance(document, Design) else parse(document)

    def make() -> SimulatedYear:
        weather = weather_year(file)
        with AT_WORK:
            start = perf_counter()
            book = simulate_year(design, weather)
            took_s = perf_counter() - start
        for record in on_simulated:
            record(took_s)
        return SimulatedYear(book, 1000 * took_s, datetime.now(UTC))

    found: SimulatedYear = years.get(content_key(design, file), make)
    return found


def remembered(name: str, design: Design, file: WeatherFile, make: Callable[[], Any]) -> Any:
    """Small figures of a design and its weather, made once and kept while they are asked for."""
    return small_figures.get(f"{name} {content_key(design, file)}", make)


def is_remembered(name: str, design: Design, file: WeatherFile) -> bool:
    """Whether such figures are at hand in this process."""
    return f"{name} {content_key(design, file)}" in small_figures.made


def simulate_uncached(design: Document | Design, weather: WeatherYear) -> YearBook:
    """A year that is asked for once and not kept: a swap, another seed. Raises HeatError."""
    parsed = design if isinstance(design, Design) else parse(design)
    with AT_WORK:
        return simulate_year(parsed, weather)


def years_beside(
    name: str, design: Design, file: WeatherFile, documents: Iterable[Row], weather: WeatherYear
) -> list[YearBook | str]:
    """Whole years of other designs beside one, or why there is none. Only the last asked for are kept: a year is some
    8 MB."""

    def year(document: Document) -> YearBook | str:
        try:
            return simulate_uncached(document, weather)
        except HeatError as error:
            return str(getattr(error, "allowed", error))

    def make() -> list[YearBook | str]:
        with ThreadPoolExecutor(2) as threads:
            return list(threads.map(year, documents))

    found: list[YearBook | str] = others.get(f"{name} {content_key(design, file)}", make)
    return found


def warm() -> None:
    """Compile, or load from disk, every kernel a year and its figures need: the loop of every system, and that of plain
    ones."""
    hours = np.zeros(8760)
    light = 300.0 * (np.arange(8760) % 24 == 12)
    blank = WeatherYear(
        name="warm",
        kind="made up",
        latitude_deg=45.0,
        longitude_deg=0.0,
        elevation_m=0.0,
        utc_offset_h=0.0,
        ghi_w_m2=light,
        dni_w_m2=light,
        dhi_w_m2=light / 2,
        air_c=hours + 10,
        wind_m_s=hours,
        humidity_pct=hours,
        pressure_pa=hours + 1e5,
    )
    figures(simulate_year(parse({"demand": {"heating": {"fitted": True}}}), blank), blank)
    simulate_year(parse({}), blank)
