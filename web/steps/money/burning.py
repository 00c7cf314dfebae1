"""When to boost, and what to burn: the same design heated otherwise, each as a full year with its money."""

from concurrent.futures import ThreadPoolExecutor
from typing import Any, NamedTuple

from heat.design import Design, parse
from heat.design.changing import with_changes
from heat.errors import HeatError
from heat.ledger import BOUGHT, YearBook
from heat.money.tariff import energy_of
from web.sheet.page import Sheet
from web.steps.money.cost import amount
from web.years.reckoned import remembered, simulate_uncached

HOURS = {
    "at any hour, by its thermostat": (0, 24),
    "before the evening, 14 to 17": (14, 17),
    "at night, 23 to 5": (23, 5),
}
"""Hours an element may heat, from and to."""


class Fuel(NamedTuple):
    """What could be burnt: its price (currency/kWh), efficiency (1) and CO2 (kg/kWh), made up for a start."""

    words: str
    price: float
    efficiency: float
    co2: float


FUELS = (
    Fuel("electric, direct", 0.28, 1.0, 0.35), Fuel("heat pump", 0.28, 2.8, 0.35), Fuel("gas", 0.11, 0.92, 0.21),
    Fuel("oil", 0.12, 0.85, 0.28), Fuel("wood, bought", 0.07, 0.75, 0.03), Fuel("wood, one’s own", 0.0, 0.75, 0.03),
)  # fmt: skip
"""Source of the efficiencies and CO2: usual round values; prices made up."""


def burning_view(sheet: Sheet) -> dict[str, Any]:
    """Times of boosting, where an element is fitted, and fuels, each with a year's heat and money."""
    design = parse(sheet.document)
    boosts = _boosts(sheet, design)
    fuels = _fuels(sheet, design)
    best = min((row for row in fuels if row["cost"] > 0), key=lambda row: row["cost"], default=fuels[0])
    words = f"Of what is bought, {best['words']} costs least: {amount(best['cost'])} {sheet.project.currency} a year."
    told = [row for row in boosts if not row["why"]]
    if len(told) > 1:
        least = min(told, key=lambda row: row["cost"])
        words += f" Boosting {least['words']} costs least: {amount(least['cost'])} {sheet.project.currency} a year."
    shown = lambda rows: [row | {"money": amount(row["cost"])} for row in rows]
    return {"boosts": shown(boosts), "fuels": shown(fuels), "currency": sheet.project.currency, "conclusion": words,
            "tariff": bool(design.money.tariff)}  # fmt: skip


def _hours(first: int, last: int) -> list[bool]:
    return [first <= h < last if first < last else h >= first or h < last for h in range(24)]


def _boosts(sheet: Sheet, design: Design) -> list[dict[str, Any]]:
    """The element allowed at other hours: full years, kept while they are asked for."""
    if not design.system.backup.element.fitted or design.system.scheme.exchange in ("pool", "none"):
        return []

    def year(span: tuple[int, int]) -> YearBook | str:
        try:
            changes = {"system.backup.element.hours_on": _hours(*span)}
            return simulate_uncached(with_changes(sheet.document, changes), sheet.weather)
        except HeatError as error:
            return str(getattr(error, "allowed", error))

    def make() -> list[YearBook | str]:
        with ThreadPoolExecutor(2) as threads:
            return list(threads.map(year, HOURS.values()))

    found: list[YearBook | str] = remembered("boosts", design, sheet.project.weather, make)
    rows = []
    for words, book in zip(HOURS, found, strict=True):
        if isinstance(book, str):
            rows.append({"words": words, "why": book, "cost": 0.0})
            continue
        energy = energy_of(book, design.money)
        rows.append({
            "words": words, "why": "", "cost": energy.with_sun, "fraction": f"{100 * book.fractions.at_tap:.1f}",
            "bought": sheet.show(book.total(*BOUGHT), "kWh", 0), "cold": f"{book.hours_below_tap():.0f}",
        })  # fmt: skip
    return rows


def _fuels(sheet: Sheet, design: Design) -> list[dict[str, Any]]:
    """The heat that is bought, and that of the house without solar, by other fuels."""
    book = sheet.year.book
    heat = book.total(*BOUGHT)
    without = sum(line.kwh for line in book.without_solar())
    return [
        {"words": fuel.words, "price": f"{fuel.price:.2f}", "efficiency": f"{100 * fuel.efficiency:.0f}",
         "cost": heat / fuel.efficiency * fuel.price, "without": amount(without / fuel.efficiency * fuel.price),
         "saved": amount((without - heat) / fuel.efficiency * fuel.price),
         "co2": sheet.show(heat / fuel.efficiency * fuel.co2, "kg", 0)}
        for fuel in FUELS
    ]  # fmt: skip
