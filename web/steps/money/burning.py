"""When to boost, and what to burn: the same design heated otherwise, each as a full year with its money."""

from heat.design import Design
from heat.design.changing import with_changes
from heat.economics.fuels import burnt
from heat.economics.tariff import energy_of
from heat.ledger.year_book import BOUGHT
from web.editor.design_page import DesignPage
from web.simulations.cache import years_beside
from web.steps.money.cost import amount
from web.ui import units
from web.ui.rows import Row

HOURS = {
    "at any hour, by its thermostat": (0, 24),
    "before the evening, 14 to 17": (14, 17),
    "at night, 23 to 5": (23, 5),
}
"""Hours an element may heat, from and to."""
WEEKLY = "once a week, by the element alone"
COLDER_H = 24
"""Hours of a tap too cold that one way may have more than the thermostat's. Source: our own choice."""
FIELDS = ("name", "energy", "price_kwh", "efficiency", "co2_kg_kwh", "standing", "by_hour")


def _weekly() -> Row:
    """Heated through once a week by the element, which rests on all other days."""
    backup = "system.backup."
    plan = {"fitted": True, "every_days": 7, "from_hour": 14, "hours": 4, "transfer_pump": False}
    return {f"{backup}element.hours_on": [False] * 24} | {
        f"{backup}pasteurisation.{name}": value for name, value in plan.items()
    }


def burning_view(page: DesignPage) -> Row:
    """Times of boosting, where an element is fitted, and fuels, each with a year's heat and money."""
    design = page.parsed
    boosts = _boosts(page, design)
    fuels = _fuels(page, design)
    bought = [row for row in fuels if not row["free"]]
    words = "No fuel with a price stands in the table."
    if bought:
        best = min(bought, key=lambda row: row["cost"])
        words = f"Of what is bought, {best['words']} costs least: {page.money(best['cost'])} a year."
    possible = [row for row in boosts if not row["why"]]
    if len(possible) > 1:
        warm = [row for row in possible if float(row["cold"]) <= float(possible[0]["cold"]) + COLDER_H]
        least = min(warm, key=lambda row: row["cost"])
        words += f" Boosting {least['words']} costs least"
        words += " of those that keep the tap as warm" if len(warm) < len(possible) else ""
        words += f": {page.money(least['cost'])} a year."
    with_money = lambda rows: [row | {"money": amount(row["cost"])} for row in rows]
    return {
        "boosts": with_money(boosts),
        "fuels": with_money(fuels),
        "currency": page.project.currency,
        "conclusion": words,
        "tariff": bool(design.money.tariff),
        "without": amount(energy_of(page.year.book, design.money).without),
    }


def _hours(first: int, last: int) -> list[bool]:
    return [first <= h < last if first < last else h >= first or h < last for h in range(24)]


def _boosts(page: DesignPage, design: Design) -> list[Row]:
    """The element allowed at other hours: full years, kept while they are asked for."""
    if not design.system.backup.element.fitted or design.system.scheme.exchange in ("pool", "none"):
        return []

    ways = {words: {"system.backup.element.hours_on": _hours(*span)} for words, span in HOURS.items()}
    ways[WEEKLY] = _weekly()

    documents = [with_changes(page.document, changes) for changes in ways.values()]
    found = years_beside("boosts", design, page.project.weather, documents, page.weather)
    rows = []
    for words, book in zip(ways, found, strict=True):
        if isinstance(book, str):
            rows.append({"words": words, "why": book, "cost": 0.0})
            continue
        energy = energy_of(book, design.money)
        rows.append(
            {
                "words": words,
                "why": "",
                "cost": energy.with_sun,
                "fraction": units.number(100 * book.fractions.at_tap, 1),
                "bought": page.show(book.total(*BOUGHT), "kWh", 0),
                "cold": f"{book.hours_below_tap():.0f}",
            }
        )
    return rows


def _fuels(page: DesignPage, design: Design) -> list[Row]:
    """The heat that is bought, and that of the house without solar, by each fuel of the project."""
    rows = []
    for index, fuel in enumerate(design.money.fuels):
        found = burnt(page.year.book, design.money, fuel)
        fields = [page.field(f"money.fuels.{index}.{name}") for name in FIELDS]
        rows.append(
            {
                "index": index,
                "fields": fields,
                "words": fuel.name,
                "cost": found.cost,
                "without": amount(found.without),
                "saved": amount(found.saved),
                "co2": page.show(found.co2_kg, "kg", 0),
                "free": fuel.price_kwh == 0,
            }
        )
    return rows
