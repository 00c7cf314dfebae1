"""A design and its year as cautions look at it, and what a caution is."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property

from heat.design import Design
from heat.ledger.year_book import YearBook
from heat.weather.cold import cold_of
from web.editor.design_page import DesignPage
from web.ui import units

HURTS, BREAKS, COSTS = 1, 2, 3
"""How grave a caution is: someone is hurt, something breaks, heat or money is lost or a figure "
"rests on an assumption."""
GRAVITY = {HURTS: "can hurt someone", BREAKS: "can break something", COSTS: "loses heat, or rests on an assumption"}
Changes = Mapping[str, object]


@dataclass(frozen=True)
class Remedy:
    """What the drawing can do about it at one touch: its words, and values by path."""

    words: str
    changes: Changes


@dataclass(frozen=True)
class Caution:
    """A danger by key and name, its reason and number, and the part of the drawing it concerns.

    ``proof``: the number behind it, the same in any units: when it changes, what was ticked off comes back.
    ``rule``: the usual rule and whose. ``at``: where the number is seen, as a step's address. ``where``: what stands
    there, in words.
    """

    key: str
    gravity: int
    name: str
    text: str
    proof: str
    part: str = ""
    why: str = ""
    rule: str = ""
    at: str = ""
    where: str = ""
    remedies: tuple[Remedy, ...] = field(default=())


@dataclass(frozen=True)
class CautionCase:
    """A page with its year, and numbers in the reader's units."""

    page: DesignPage

    @cached_property
    def design(self) -> Design:
        """The design with what is on its papers."""
        return self.page.parsed

    @property
    def book(self) -> YearBook:
        """Its year."""
        return self.page.year.book

    @cached_property
    def coldest_c(self) -> float:
        """How far the air may fall in a hard winter (°C): what to be safe from, not the mild year at hand."""
        return cold_of(self.page.weather).safe_from_c

    def text(self, value: float, quantity: str, decimals: int | None = None) -> str:
        """A value with its unit."""
        return f"{self.page.show(value, quantity, decimals)} {self.page.sign(quantity)}".strip()

    def size(self, value: float, quantity: str) -> str:
        """A size as it is sold, without needless decimals."""
        return f"{units.field_text(value, quantity, self.page.system)} {self.page.sign(quantity)}".strip()

    def degrees(self, value: float) -> str:
        """A temperature."""
        return self.text(value, "degC", 0)

    def hours(self, value: float) -> str:
        """A number of hours."""
        return f"{units.number(value, 0)} h"
