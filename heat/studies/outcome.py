"""What is kept of each year that is compared: some numbers of fixed order, so that thousands stay small."""

from collections.abc import Callable, Iterable, Mapping, Sequence
from concurrent.futures import Executor, ThreadPoolExecutor
from dataclasses import dataclass, field
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from heat.common.documents import Document
from heat.design import Design, parse
from heat.economics.offer import Offered, figures, offered, offered_prices
from heat.economics.prices import PRICES
from heat.economics.tariff import Energy
from heat.errors import HeatError
from heat.ledger import accounts as acc
from heat.ledger.year_book import BOUGHT, LOSSES, NEEDED, SUN, YearBook
from heat.simulation.year import simulate
from heat.weather.year import WeatherYear

Array = NDArray[np.float64]
_N = TypeVar("_N")
ENERGY = ("energy_with_sun", "energy_without", "sun_share_kwh", "co2_with_sun_kg", "co2_saved_kg")
"""A year's energy in money and CO2, from which its money is calculated anew when prices move."""
MONEY = ("first_cost", "life_cycle_cost", "present_value", "solar_kwh_cost", "payback_years")
"""What it costs and is worth, at the prices of the document (currency, a kWh of it, years)."""
KEYS = (
    "fraction",
    "dark_fraction",
    "bought_kwh",
    "unmet_kwh",
    "needed_kwh",
    "sun_kwh",
    "solar_kwh",
    "lost_kwh",
    "yield_kwh_m2",
    "stagnation_h",
    "collector_peak_c",
    "store_hottest_c",
    "pump_kwh",
    "pump_h",
    "energy_cost",
    "co2_kg",
    "free_days",
    "area_m2",
    "volume_l",
    "hours_closed",
    *ENERGY,
    *MONEY,
)
"""Names of the numbers, each ending in its unit (kWh, h, °C as _c; shares and money without)."""
EARLIER_KEYS = {"missing_kwh": "unmet_kwh"}
"""Numbers by the names that earlier questions give them."""


def with_earlier_names(numbers: Mapping[str, _N]) -> dict[str, _N]:
    """Numbers by name, each in the unit its name ends in (such as kWh), and once more by the name it had before.

    Parameters
    ----------
    numbers
        Figures by name, each in the unit its name ends in.

    Returns
    -------
    dict[str, _N]
        Numbers by name, each in the unit its name ends in (such as kWh), and once more by the name it had
        before.
    """
    return {**numbers, **{old: numbers[name] for old, name in EARLIER_KEYS.items() if name in numbers}}


COLUMN = {name: i for i, name in enumerate(KEYS)}
NORTH_DARK, SOUTH_DARK = (10, 11, 0), (4, 5, 6)
"""Months of the three darkest months of the year (0 is January), north and south of the equator."""


@dataclass(frozen=True)
class Outcomes:
    """Years compared: one row of KEYS each (nan where refused), and why by row (no unit)."""

    figures: Array
    refused: dict[int, str] = field(default_factory=dict)

    def __getitem__(self, name: str) -> Array:
        """One number of every year, in the unit its name ends in (such as kWh)."""
        return np.asarray(self.figures[:, COLUMN[name]])


Run = Callable[[Sequence[Document]], Outcomes]
"""Years of designs, in the order they are given."""


def row_of(book: YearBook, design: Design | None = None, prices: Mapping[str, float] = PRICES) -> list[float]:
    """The numbers of KEYS of one year, in the units their names end in (such as kWh); money at prices (currency) by
    item, or at those a design was offered with.

    Parameters
    ----------
    book
        The year's results.
    design
        Whose money it is, where it is not the book's own.
    prices
        Prices by item (currency of the project).

    Returns
    -------
    list[float]
        The numbers of KEYS of one year, in the units their names end in (such as kWh); money at prices
        (currency) by item, or at those a design was offered with.
    """
    design = design or book.design
    dark = list(NORTH_DARK if book.design.site.latitude_deg >= 0 else SOUTH_DARK)
    needed = book.by_month(*NEEDED)[dark].sum()
    short = book.by_month(*BOUGHT, acc.UNMET)[dark].sum()
    integral = book.design.system.scheme.driven_by == "none"
    return [
        book.fractions.at_tap,
        1.0 - short / needed if needed > 0 else np.nan,
        book.total(*BOUGHT),
        book.total(acc.UNMET),
        book.total(*NEEDED),
        book.total(*SUN),
        book.total(acc.INTO_STORE, acc.INTO_POOL),
        sum(book.total(*columns) for columns in LOSSES.values()),
        book.yield_kwh_m2()[0],
        book.stagnation_hours(),
        float(book.profile.max()) if integral else book.stagnation_peak_c(),
        float(book.profile.max()),
        book.total(acc.PUMP_ELECTRICITY),
        book.pump_hours(),
        book.cost(),
        book.co2_kg(),
        float(book.days_without_backup()[0]),
        design.system.gross_m2,
        design.system.store.volume_l,
        float(book.hours_closed),
        *_money(offered(design, book, prices)),
    ]


def _money(found: Offered) -> list[float]:
    energy = found.energy
    return [
        energy.with_sun,
        energy.without,
        energy.solar_kwh,
        energy.co2_kg,
        energy.co2_saved_kg,
        *figures(found).values(),
    ]


def repriced(row: Array, design: Design, prices: Mapping[str, float]) -> list[float]:
    """The numbers of MONEY (currency, currency/kWh, years) of a row that was compared before, at a design's rates and
    prices (currency, by item) as they now are.

    Parameters
    ----------
    row
        Numbers of KEYS of one year.
    design
        The design.
    prices
        Prices by item (currency of the project).

    Returns
    -------
    list[float]
        The numbers of MONEY (currency, currency/kWh, years).
    """
    numbers = {name: float(row[COLUMN[name]]) for name in (*ENERGY, "yield_kwh_m2", "area_m2", "pump_kwh")}
    pump = numbers["pump_kwh"] * design.money.pump_price_kwh  # with a tariff, at its price without one
    energy = Energy(
        {"": numbers["energy_with_sun"] - pump},
        pump,
        0.0,
        numbers["energy_without"],
        numbers["sun_share_kwh"],
        numbers["co2_with_sun_kg"],
        numbers["co2_saved_kg"],
    )
    solar = numbers["yield_kwh_m2"] * numbers["area_m2"]
    return list(figures(Offered(design, energy, solar, offered_prices(design, prices))).values())


def evaluate_design(document: Document, weather: WeatherYear) -> tuple[list[float], str]:
    """The numbers of KEYS of one design (units as names end, such as kWh), or why it is refused.

    Parameters
    ----------
    document
        The design document; numbers in the units its schema names.
    weather
        The weather, 8,760 hours.

    Returns
    -------
    tuple[list[float], str]
        The numbers of KEYS of one design (units as names end, such as kWh), or why it is refused.
    """
    try:
        design = parse(document)
        return row_of(simulate(design, weather), design), ""
    except HeatError as error:
        return [np.nan] * len(KEYS), str(error)


def evaluate_designs(
    documents: Iterable[Document], weather: WeatherYear, *, executor: Executor | None = None, workers: int = 2
) -> Outcomes:
    """Years of designs in one weather (units of KEYS, such as kWh), the same on threads or any executor.

    Parameters
    ----------
    documents
        The designs' documents.
    weather
        The weather, 8,760 hours.
    executor
        Runs the years; None for threads of its own.
    workers
        Number of threads.

    Returns
    -------
    Outcomes
        Years of designs in one weather (units of KEYS, such as kWh).
    """
    listed = list(documents)
    pool = executor or ThreadPoolExecutor(workers)
    try:
        found = list(pool.map(evaluate_design, listed, [weather] * len(listed)))
    finally:
        if executor is None:
            pool.shutdown()
    figures = np.array([row for row, _why in found]).reshape(len(found), len(KEYS))
    return Outcomes(figures, {i: why for i, (_row, why) in enumerate(found) if why})
