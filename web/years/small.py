"""Small figures of a design's year, kept with the design under the key of what they come from.

A list or a row of tabs shows them without a year, in whichever process; a key that does not fit is reckoned anew.
"""

import json
from dataclasses import asdict, dataclass
from hashlib import sha256
from typing import Any

from heat.errors import HeatError
from heat.ledger import BOUGHT, YearBook
from web.projects.models import Design, WeatherFile
from web.years.reckoned import ENGINE, simulate_uncached, small_figures
from web.years.weather import weather_year


@dataclass(frozen=True)
class Small:
    """Solar fraction (0 to 1) and bought heat (kWh) of a year; a design that is not reckoned has neither."""

    fraction: float = 0.0
    bought_kwh: float = 0.0
    reckoned: bool = True


def kept_key(design: Design) -> str:
    """What a design's year depends on, as it is kept: survey, scheme, weather, engine."""
    checksum = design.project.weather.checksum if design.project.weather else ""
    return _hashed(checksum, [design.project.survey, design.scheme])


def _hashed(checksum: str, kept: Any) -> str:
    return sha256(f"{ENGINE} {checksum} {json.dumps(kept, sort_keys=True)}".encode()).hexdigest()[:32]


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


def tallied_of(book: YearBook) -> Tallied:
    """A year's tally."""
    return Tallied(
        fraction=book.fractions.at_tap, yield_kwh_m2=book.yield_kwh_m2()[0], bought_kwh=book.total(*BOUGHT),
        stagnation_h=book.stagnation_hours(), co2_kg=book.co2_kg(),
    )  # fmt: skip


def tallied(document: dict[str, Any], file: WeatherFile) -> Tallied:
    """The tally of a document's year, which itself is not kept. Raises HeatError."""
    key = f"tally {_hashed(file.checksum, document)}"
    found: Tallied = small_figures.get(key, lambda: tallied_of(simulate_uncached(document, weather_year(file))))
    return found


def known(design: Design) -> Small | None:
    """The figures kept with a design, if they are those of what it is now."""
    figures = dict(design.figures)
    return Small(**figures) if figures.pop("key", "") == kept_key(design) else None


def keep(design: Design, figures: Small) -> Small:
    """Keep a design's figures with it."""
    design.figures = {"key": kept_key(design), **asdict(figures)}
    Design.objects.filter(pk=design.pk).update(figures=design.figures)
    return figures


def small(design: Design) -> Small:
    """A design's figures: as kept, else of a year reckoned now and not kept itself."""
    found = known(design)
    if found:
        return found
    try:
        book = simulate_uncached(design.document(), weather_year(design.project.weather))
    except HeatError:
        return keep(design, Small(reckoned=False))
    return keep(design, small_of(book))
