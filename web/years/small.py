"""Small figures of a design's year, kept with the design under the key of what they come from.

A list or a row of tabs shows them without a year, in whichever process; a key that does not fit is reckoned anew.
"""

import json
from dataclasses import asdict, dataclass
from hashlib import sha256

from heat.errors import HeatError
from heat.ledger import BOUGHT
from web.projects.models import Design
from web.years.reckoned import ENGINE, Reckoned, simulate_uncached
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
    kept = json.dumps([design.project.survey, design.scheme], sort_keys=True)
    return sha256(f"{ENGINE} {checksum} {kept}".encode()).hexdigest()[:32]


def small_of(year: Reckoned) -> Small:
    """The small figures of a year."""
    return Small(year.book.fractions.at_tap, year.book.total(*BOUGHT))


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
    return keep(design, Small(book.fractions.at_tap, book.total(*BOUGHT)))
