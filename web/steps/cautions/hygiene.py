"""Scald and hygiene: the mixing valve, dead legs, the rules of thumb each with its year and money; a stove's budget."""

from heat.economics.tariff import energy_of
from heat.ledger.year_book import BOUGHT, YearBook
from heat.sizing.hygiene import THREE_L, dead_leg, guidelines, meanwhile
from heat.sizing.thermosiphon import stove_budget
from web.editor.design_page import DesignPage
from web.presentation.cautions.case import CautionCase
from web.presentation.cautions.water import LEGIONELLA_C, burn_words
from web.presentation.sized import fields, row
from web.simulations.cache import years_beside
from web.ui import units
from web.ui.rows import Row

AS_DRAWN = "as drawn"


def hygiene_view(page: DesignPage) -> dict[str, object]:
    """Burns, dead legs, the rules of thumb, and a stove's budget where there is one."""
    case = CautionCase(page)
    design, text = case.design, case.text
    hottest, mixed = float(case.book.profile.max()), design.safety.mixed_c
    litres, wait = dead_leg(design)
    groups = [
        {
            "title": "Scald",
            "rows": [
                row("hottest water in the store", case.degrees(hottest), burn_words(hottest)),
                row("mixed to", case.degrees(mixed), burn_words(mixed)),
                row("tempering valve", "fitted" if design.system.tempering_valve else "none"),
            ],
        },
        {
            "title": "Longest pipe to a tap",
            "rows": [
                row("water that stands in it", text(litres, "L", 1), f"{text(THREE_L, 'L', 1)} at most (DVGW W 551)"),
                row("a basin waits", f"{wait:.0f} s", "and that much runs away cold"),
            ],
        },
    ]
    budget = stove_budget(design)
    if budget is not None:
        endless = budget["boils_h"] == float("inf")
        boils = "not at all" if endless else f"after {units.number(budget['boils_h'], 1)} h"
        groups.append(
            {
                "title": "Stove",
                "rows": [
                    row("burns, to room and water", text(budget["whole_kw"], "kW", 1)),
                    row("into its water", text(budget["water_kw"], "kW", 1)),
                    row("radiators that run without power", text(budget["radiators_kw"], "kW", 1)),
                    row("has nowhere to go without power", text(budget["left_kw"], "kW", 1)),
                    row("the store boils", boils, f"from {case.degrees(60.0)}, with nothing drawn"),
                ],
            }
        )
    stored = _guidelines(page) if design.demand.hot_water and design.system.scheme.exchange != "pool" else []
    names = ["safety.mixed_c", "safety.branch_m", "safety.branch_bore_mm"]
    if budget is not None:
        names += ["safety.jacket_open", "safety.radiator_kw"]
    return {
        "groups": groups,
        "guidelines": stored,
        "fields": fields(page, *names),
        "conclusion": _conclusion(page, stored),
        "currency": page.currency,
        "cool": case.degrees(LEGIONELLA_C),
    }


def _guidelines(page: DesignPage) -> list[dict[str, object]]:
    """The year as drawn and by each rule of thumb: heat, money, cool hours, how often it was pasteurised."""
    design = page.parsed
    documents = guidelines(page.document)

    beside = years_beside("guidelines", design, page.project.weather, documents.values(), page.weather)
    years = [page.year.book, *beside]
    drawn = page.year.book.total(*BOUGHT)
    rows: list[dict[str, object]] = []
    for words, book in zip((AS_DRAWN, *documents), years, strict=True):
        if isinstance(book, str):
            rows.append({"words": words, "why": book})
            continue
        through = book.heated_through()
        reached = (
            ", ".join(f"{store.reached} of {store.planned}" for store in through if store.planned) or "none planned"
        )
        has_coil = book.design.system.scheme.draw_coil or book.design.system.draw_coil.fitted
        cold = "none stored" if has_coil else f"{units.number(book.legionella_hours(LEGIONELLA_C), 0)}"
        more = book.total(*BOUGHT) - drawn
        rows.append(
            {
                "words": units.words(words, page.system),
                "why": "",
                "bought": page.show(book.total(*BOUGHT), "kWh", 0),
                "cold": cold,
                "more": "" if words == AS_DRAWN else page.show(more, "kWh", 0),
                "reached": reached,
                "money": units.number(energy_of(book, design.money).with_sun, 0),
                "kwh": more,
                "fraction": units.number(100 * book.fractions.at_tap, 1),
                "ring": _ring(book),
                "pump": f"{units.number(book.hours_below_tap(), 0)}",
            }
        )
    return rows


def _ring(book: YearBook) -> str:
    """Hours the sun's pump moved while the store was pasteurised: none, or it cooled what had to get hot."""
    hours, moved, _taken = meanwhile(book)
    return "–" if hours == 0 else f"{units.number(moved, 0)} of {units.number(hours, 0)}"


def _conclusion(page: DesignPage, rows: list[Row]) -> str:
    possible = [row_ for row_ in rows[1:] if not row_["why"]]
    if not possible:
        return "Nothing here stores drinking water."
    least = min(possible, key=lambda row_: row_["kwh"])
    most = max(possible, key=lambda row_: row_["kwh"])
    one = lambda r: f"{page.show(r['kwh'], 'kWh', 0)} {page.sign('kWh')}"
    words = f"{least['words']} asks least of the year ({one(least)}), {most['words']} most ({one(most)})."
    return f"Of the rules of thumb, {words}"
