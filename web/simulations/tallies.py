"""Small figures of a design's year, kept with the design under the key of what they come from.

A list or a row of tabs shows them without a year, in whichever process; a key that does not fit is calculated anew.
"""

import json
from collections.abc import Callable
from dataclasses import asdict, dataclass, fields
from hashlib import sha256
from threading import Lock

from cachetools import LRUCache, cached

from heat.errors import HeatError
from heat.ledger.year_book import BOUGHT, YearBook
from web.projects.models import Design, Version, WeatherFile
from web.simulations.cache import ENGINE, simulate_uncached, small_figures
from web.simulations.weather import weather_year

BASE = "base"
"""Where the tally of the last version stands among a design's kept figures."""
DOCUMENTS_CACHED = 60
"""Documents of saved versions kept in a process: some 40 kB each."""


@dataclass(frozen=True)
class Small:
    """Solar fraction (0 to 1) and bought heat (kWh) of a year; a design that is not calculated has neither."""

    fraction: float = 0.0
    bought_kwh: float = 0.0
    simulated: bool = True


def content_key(design: Design) -> str:
    """What a design's year depends on, as it is kept: survey, scheme, weather, engine."""
    checksum = design.project.weather.checksum if design.project.weather else ""
    stored = json.dumps([design.project.survey, design.scheme], sort_keys=True)
    return sha256(f"{ENGINE} {SHAPE} {checksum} {stored}".encode()).hexdigest()[:32]


def small_of(book: YearBook) -> Small:
    """The small figures of a year."""
    return Small(book.fractions.at_tap, book.total(*BOUGHT))


@dataclass(frozen=True)
class Tallied:
    """What stands in the tally below every page."""

    fraction: float
    """Solar fraction at the tap (0 to 1)."""
    yield_kwh_m2: float
    """Heat into the store (kWh/m² of gross area)."""
    bought_kwh: float
    stagnation_h: float
    co2_kg: float
    """CO₂ of bought heat (kg)."""


SHAPE = " ".join(field.name for kind in (Small, Tallied) for field in fields(kind))
"""Part of each key: figures kept under other names are made anew."""


def tallied_of(book: YearBook) -> Tallied:
    """A year's tally."""
    return Tallied(
        fraction=book.fractions.at_tap,
        yield_kwh_m2=book.yield_kwh_m2()[0],
        bought_kwh=book.total(*BOUGHT),
        stagnation_h=book.stagnation_hours(),
        co2_kg=book.co2_kg(),
    )


@cached(LRUCache(DOCUMENTS_CACHED), key=lambda version: version.pk, lock=Lock())
def saved(version: Version) -> dict[str, object]:
    """The document of a saved version, which never changes: to be read and not written."""
    return version.whole()


def tallied(design: Design, version: Version, file: WeatherFile) -> Tallied:
    """The tally of a version saved of a design, kept with the design; its year is not. Raises HeatError."""
    key = f"{ENGINE} {SHAPE} {file.checksum} {version.pk}"
    figures = dict(design.figures.get(BASE, {}))
    if figures.pop("key", "") == key:
        return Tallied(**figures)
    found: Tallied = small_figures.get(key, lambda: tallied_of(simulate_uncached(saved(version), weather_year(file))))
    _put(design, {**design.figures, BASE: {"key": key, **asdict(found)}})
    return found


def _put(design: Design, figures: dict[str, object]) -> None:
    design.figures = figures
    Design.objects.filter(pk=design.pk).update(figures=figures)


def _under(key: str, design: Design) -> Small | None:
    figures = {name: text for name, text in design.figures.items() if name != BASE}
    return Small(**figures) if figures.pop("key", "") == key else None


def known(design: Design) -> Small | None:
    """The figures kept with a design, if they are those of what it is now."""
    return _under(content_key(design), design)


def stored(design: Design, make: Callable[[], Small]) -> Small:
    """The figures kept with a design, if they are those of what it is now; else made, and kept with it."""
    key = content_key(design)
    found = _under(key, design)
    if found:
        return found
    made = make()
    base = {BASE: design.figures[BASE]} if BASE in design.figures else {}
    _put(design, {"key": key, **asdict(made), **base})
    return made


def small(design: Design) -> Small:
    """A design's figures: as kept, else of a year calculated now and not kept itself."""

    def make() -> Small:
        try:
            return small_of(simulate_uncached(design.document(), weather_year(design.project.weather)))
        except HeatError:
            return Small(simulated=False)

    return stored(design, make)
