"""When to boost, and what to burn: the same design heated otherwise, each as a full year with its money."""

from typing import Any

from heat.design import Design
from heat.design.changing import with_changes
from heat.ledger import BOUGHT
from heat.money.fuels import burnt
from heat.money.tariff import energy_of
from web.sheet.page import Sheet
from web.steps.money.cost import amount
from web.years.reckoned import years_beside

HOURS = {
    "at any hour, by its thermostat": (0, 24),
    "before the evening, 14 to 17": (14, 17),
    "at night, 23 to 5": (23, 5),
}
"""Hours an element may heat, from and to."""
WEEKLY = "once a week, heated through"
COLDER_H = 24
"""Hours of a tap too cold that one way may have more than the thermostat's. Source: our own choice."""
PENS = ("name", "price_kwh", "efficiency", "co2_kg_kwh", "standing", "by_hour")


def _weekly() -> dict[str, Any]:
    """Heated through once a week by the element, which rests on all other days."""
    backup = "system.backup."
    plan = {"fitted": True, "every_days": 7, "from_hour": 14, "hours": 4, "transfer_pump": False}
    return {f"{backup}element.hours_on": [False] * 24} | {
        f"{backup}pasteurisation.{name}": value for name, value in plan.items()
    }  # fmt: skip


def burning_view(sheet: Sheet) -> dict[str, Any]:
    """Times of boosting, where an element is fitted, and fuels, each with a year's heat and money."""
    design = sheet.parsed
    boosts = _boosts(sheet, design)
    fuels = _fuels(sheet, design)
    bought = [row for row in fuels if not row["free"]]
    words = "No fuel with a price stands in the table."
    if bought:
        best = min(bought, key=lambda row: row["cost"])
        words = f"Of what is bought, {best['words']} costs least: {sheet.money(best['cost'])} a year."
    told = [row for row in boosts if not row["why"]]
    if len(told) > 1:
        warm = [row for row in told if float(row["cold"]) <= float(told[0]["cold"]) + COLDER_H]
        least = min(warm, key=lambda row: row["cost"])
        words += f" Boosting {least['words']} costs least"
        words += " of those that keep the tap as warm" if len(warm) < len(told) else ""
        words += f": {sheet.money(least['cost'])} a year."
    shown = lambda rows: [row | {"money": amount(row["cost"])} for row in rows]
    return {"boosts": shown(boosts), "fuels": shown(fuels), "currency": sheet.project.currency, "conclusion": words,
            "tariff": bool(design.money.tariff),
            "without": amount(energy_of(sheet.year.book, design.money).without)}  # fmt: skip


def _hours(first: int, last: int) -> list[bool]:
    return [first <= h < last if first < last else h >= first or h < last for h in range(24)]


def _boosts(sheet: Sheet, design: Design) -> list[dict[str, Any]]:
    """The element allowed at other hours: full years, kept while they are asked for."""
    if not design.system.backup.element.fitted or design.system.scheme.exchange in ("pool", "none"):
        return []

    ways = {words: {"system.backup.element.hours_on": _hours(*span)} for words, span in HOURS.items()}
    ways[WEEKLY] = _weekly()

    documents = [with_changes(sheet.document, changes) for changes in ways.values()]
    found = years_beside("boosts", design, sheet.project.weather, documents, sheet.weather)
    rows = []
    for words, book in zip(ways, found, strict=True):
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
    """The heat that is bought, and that of the house without solar, by each fuel of the project."""
    rows = []
    for index, fuel in enumerate(design.money.fuels):
        found = burnt(sheet.year.book, design.money, fuel)
        pens = [sheet.pen(f"money.fuels.{index}.{name}") for name in PENS]
        rows.append({
            "index": index, "pens": pens, "words": fuel.name, "cost": found.cost, "without": amount(found.without),
            "saved": amount(found.saved), "co2": sheet.show(found.co2_kg, "kg", 0), "free": fuel.price_kwh == 0,
        })  # fmt: skip
    return rows
