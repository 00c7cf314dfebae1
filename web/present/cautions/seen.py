"""A design and its year as cautions look at it, and what a caution is."""

from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

from heat.design import Design
from heat.ledger import YearBook
from web.sheet.page import Sheet
from web.ui import units

HURTS, BREAKS, COSTS = 1, 2, 3
"""How grave a caution is: someone is hurt, something breaks, heat or money is lost or a figure hangs on a guess."""
GRAVITY = {HURTS: "can hurt someone", BREAKS: "can break something", COSTS: "costs heat, or hangs on a guess"}
Changes = dict[str, Any]


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
class Seen:
    """A sheet with its year, and numbers in the reader's units."""

    sheet: Sheet

    @cached_property
    def design(self) -> Design:
        """The design with what is on its papers."""
        return self.sheet.parsed

    @property
    def book(self) -> YearBook:
        """Its year."""
        return self.sheet.year.book

    @cached_property
    def coldest_c(self) -> float:
        """The coldest hour of the air."""
        return float(self.sheet.weather.air_c.min())

    def told(self, value: float, quantity: str, decimals: int | None = None) -> str:
        """A value with its unit."""
        return f"{self.sheet.show(value, quantity, decimals)} {self.sheet.sign(quantity)}".strip()

    def size(self, value: float, quantity: str) -> str:
        """A size as it is sold, without needless decimals."""
        return f"{units.field_text(value, quantity, self.sheet.system)} {self.sheet.sign(quantity)}".strip()

    def degrees(self, value: float) -> str:
        """A temperature."""
        return self.told(value, "degC", 0)

    def hours(self, value: float) -> str:
        """A number of hours."""
        return f"{units.number(value, 0)} h"
