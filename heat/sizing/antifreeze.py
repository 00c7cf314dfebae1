"""How strong antifreeze must be for the coldest hour, how much of it there is, and how it ages."""

from dataclasses import dataclass
from functools import cache
from math import inf

from heat.common.fluid import freezing_point_c
from heat.design import Design
from heat.ledger.year_book import YearBook
from heat.sizing.vessel import contents

STRONGEST = 60.0
"""Most glycol that is considered (% by volume). Source: range of the fluid's table."""
TOO_THIN = 25.0
"""Below this inhibitors no longer keep metals from rusting (% by volume). Source: usual data sheets."""


@cache
def ice_c(percent: float) -> float:
    """First ice (°C) of a strength (% by volume), remembered.

    Parameters
    ----------
    percent
        Strength (% by volume).

    Returns
    -------
    float
        First ice (°C).
    """
    return freezing_point_c(percent)


def needed_percent(coldest_c: float, margin_k: float) -> float | None:
    """Least glycol (% by volume, whole) whose first ice forms a margin (K) below the coldest hour (°C); None where
    none does.

    Parameters
    ----------
    coldest_c
        Air of the coldest hour (°C).
    margin_k
        Margin below the coldest hour (K).

    Returns
    -------
    float | None
        Least glycol (% by volume, whole) whose first ice forms a margin (K) below the coldest hour (°C); None
        where none does.

    References
    ----------
    heat.common.fluid.freezing_point_c.
    """
    wanted = coldest_c - margin_k
    return next((float(p) for p in range(int(STRONGEST) + 1) if ice_c(float(p)) <= wanted), None)


@dataclass(frozen=True)
class Antifreeze:
    """A loop's antifreeze: strength it has and needs (%), first ice (°C), amount (L), hours above 120 °C in a year (h)
    and years until its limit (a).
    """

    percent: float
    needed: float | None
    ice_c: float
    litres: float
    hot_h: float
    lasts_years: float

    @property
    def enough(self) -> bool:
        """Whether it is as strong as it must be."""
        return self.needed is not None and self.percent >= self.needed


def antifreeze(book: YearBook, design: Design, coldest_c: float) -> Antifreeze | None:
    """The antifreeze of a closed loop through its year (%, °C, L, h, a); None where the loop holds water by kind.

    Parameters
    ----------
    book
        The year's results.
    design
        The design.
    coldest_c
        Air of the coldest hour (°C).

    Returns
    -------
    Antifreeze | None
        The antifreeze of a closed loop through its year (%, °C, L, h, a).
    """
    scheme = design.system.scheme
    if scheme.water_outdoors or scheme.drains or scheme.driven_by == "none":
        return None
    percent, hot = design.system.loop.glycol_percent, book.fluid_hours()[1]
    needed = needed_percent(coldest_c, design.safety.frost_margin_k)
    return Antifreeze(
        percent,
        needed,
        ice_c(percent),
        contents(design).whole_l,
        hot,
        design.safety.fluid_limit_h / hot if hot > 0 else inf,
    )
