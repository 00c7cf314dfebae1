"""What designs of a need are judged by: never bought heat alone, for where nothing is bought less sun costs nothing."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from heat.common.calendar import MONTH_OF_HOUR
from heat.design import Design
from heat.ledger import accounts as acc
from heat.ledger.year_book import BOUGHT, YearBook


@dataclass(frozen=True)
class Merit:
    """A figure that designs are judged by: its key, words, unit, whether more of it is better, from what difference
    on it says anything (its unit), and the figure of a comparison it is.
    """

    key: str
    words: str
    unit: str
    more: bool
    least: float


MERITS: Final = {
    merit.key: merit
    for merit in (
        Merit("bought", "heat bought or unmet", "kWh", False, 0.5),
        Merit("unmet", "unmet heat", "kWh", False, 0.5),
        Merit("cold", "hours with the tap too cold", "h", False, 1.0),
        Merit("pool", "warmth of the pool in its season", "degC", True, 0.02),
        Merit("money", "cost of energy a year, unmet heat as if bought", "money", False, 0.5),
    )
}
"""The figures to choose from; the least differences are our own choice."""


def buys_heat(design: Design) -> bool:
    """Whether a design has anything that is bought when the sun does not do.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    bool
        Whether some heater that burns or draws something bought can serve a use.
    """
    backup, demand = design.system.backup, design.demand
    store = design.system.scheme.exchange != "pool"
    taps = demand.hot_water and store
    rooms = demand.heating.fitted or demand.process.fitted or demand.fresh_air.fitted
    in_store = (backup.element, backup.top_element, backup.boiler)
    return (
        (taps and backup.tankless.fitted)
        or (store and any(heater.fitted for heater in in_store))
        or (store and backup.stove.fitted and backup.stove.counts_as_bought)
        or (rooms and backup.series.fitted)
        or (demand.pool.fitted and demand.pool.heater_kw > 0.0)
    )


def usual(design: Design) -> str:
    """The key of the figure that a design's need is judged by: what is bought or unmet where something is bought, the
    pool's warmth where a pool alone is heated by nothing else, unmet heat where nothing is bought.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    str
        Key of the figure.
    """
    if buys_heat(design):
        return "bought"
    return "pool" if design.system.scheme.exchange == "pool" else "unmet"


def possible(design: Design) -> tuple[str, ...]:
    """Keys of the figures that say something of a design, its usual one first.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    tuple[str, ...]
        Keys of figures.
    """
    demand, first = design.demand, usual(design)
    taps = demand.hot_water and design.system.scheme.exchange != "pool"
    rest = {
        "bought": buys_heat(design),
        "unmet": taps,
        "cold": taps,
        "pool": demand.pool.fitted and any(demand.pool.months),
        "money": buys_heat(design),
    }
    return (first, *(key for key, fits in rest.items() if fits and key != first))


def measure(book: YearBook, key: str) -> float:
    """A year's figure by its key (kWh, h, °C); money is priced by whoever knows the prices.

    Parameters
    ----------
    book
        The year's results.
    key
        Key of the figure.

    Returns
    -------
    float
        The figure in its unit.

    Raises
    ------
    KeyError
        For an unknown key, or money.
    """
    if key == "pool":
        in_season = np.asarray(book.design.demand.pool.months)[MONTH_OF_HOUR]
        return float(book.traces[in_season, acc.POOL_C].mean()) if in_season.any() else float("nan")
    return {
        "bought": lambda: book.total(*BOUGHT, acc.UNMET),
        "unmet": lambda: book.total(acc.UNMET),
        "cold": lambda: book.hours_below_tap(),
    }[key]()
