"""Scald and hygiene: the mixing valve, dead legs, the schools each with its year and money; a stove's budget."""

from typing import Any

from heat.ledger import BOUGHT, YearBook
from heat.money.tariff import energy_of
from heat.sizing.hygiene import THREE_L, burns_in_s, dead_leg, meanwhile, schools
from heat.sizing.siphon import stove_budget
from web.present.cautions.seen import Seen
from web.present.cautions.water import LEGIONELLA_C
from web.present.sized import pens, row
from web.sheet.page import Sheet
from web.ui import units
from web.years.reckoned import years_beside

AS_DRAWN = "as drawn"


def hygiene_view(sheet: Sheet) -> dict[str, Any]:
    """Burns, dead legs, the schools, and a stove's budget where there is one."""
    seen = Seen(sheet)
    design, told = seen.design, seen.told
    hottest, mixed = float(seen.book.profile.max()), design.safety.mixed_c
    litres, wait = dead_leg(design)
    seconds = lambda s: "no burn in a day" if s > 80_000 else f"{units.number(s, 0)} s"
    groups = [
        {"title": "Scald", "rows": [
            row("hottest water in the store", seen.degrees(hottest), f"burns in {seconds(burns_in_s(hottest))}"),
            row("mixed to", seen.degrees(mixed), f"burns in {seconds(burns_in_s(mixed))}"),
            row("tempering valve", "fitted" if design.system.tempering_valve else "none"),
        ]},
        {"title": "Longest pipe to a tap", "rows": [
            row("water that stands in it", told(litres, "L", 1), f"{told(THREE_L, 'L', 1)} at most (DVGW W 551)"),
            row("a basin waits", f"{wait:.0f} s", "and that much runs away cold"),
        ]},
    ]  # fmt: skip
    budget = stove_budget(design)
    if budget is not None:
        boils = "never" if budget["boils_h"] == float("inf") else f"{units.number(budget['boils_h'], 1)} h"
        groups.append({"title": "Stove", "rows": [
            row("burns, to room and water", told(budget["whole_kw"], "kW", 1)),
            row("into its water", told(budget["water_kw"], "kW", 1)),
            row("radiators that run without power", told(budget["radiators_kw"], "kW", 1)),
            row("has nowhere to go without power", told(budget["left_kw"], "kW", 1)),
            row("the store boils after", boils, f"from {seen.degrees(60.0)}, with nothing drawn"),
        ]})  # fmt: skip
    kept = _schools(sheet) if design.demand.hot_water and design.system.scheme.exchange != "pool" else []
    names = ["safety.mixed_c", "safety.branch_m", "safety.branch_bore_mm"]
    if budget is not None:
        names += ["safety.jacket_open", "safety.radiator_kw"]
    return {"groups": groups, "schools": kept, "pens": pens(sheet, *names), "conclusion": _conclusion(sheet, kept),
            "currency": sheet.currency, "cool": seen.degrees(LEGIONELLA_C)}  # fmt: skip


def _schools(sheet: Sheet) -> list[dict[str, Any]]:
    """The year as drawn and by each school: heat, money, cool hours, how often it was heated through."""
    design = sheet.parsed
    documents = schools(sheet.document)

    beside = years_beside("schools", design, sheet.project.weather, documents.values(), sheet.weather)
    years = [sheet.year.book, *beside]
    drawn = sheet.year.book.total(*BOUGHT)
    rows: list[dict[str, Any]] = []
    for words, book in zip((AS_DRAWN, *documents), years, strict=True):
        if isinstance(book, str):
            rows.append({"words": words, "why": book})
            continue
        through = book.heated_through()
        reached = ", ".join(f"{store.reached} of {store.planned}" for store in through) or "–"
        kept = book.design.system.scheme.draw_coil or book.design.system.draw_coil.fitted
        cold = "none stored" if kept else f"{units.number(book.legionella_hours(LEGIONELLA_C), 0)}"
        more = book.total(*BOUGHT) - drawn
        rows.append({
            "words": words, "why": "", "bought": sheet.show(book.total(*BOUGHT), "kWh", 0), "cold": cold,
            "more": "" if words == AS_DRAWN else sheet.show(more, "kWh", 0), "reached": reached,
            "money": units.number(energy_of(book, design.money).with_sun, 0), "kwh": more,
            "fraction": f"{100 * book.fractions.at_tap:.1f}", "ring": _ring(book),
            "pump": f"{units.number(book.hours_below_tap(), 0)}",
        })  # fmt: skip
    return rows


def _ring(book: YearBook) -> str:
    """Hours the sun's pump moved while the store was heated through: none, or it cooled what had to get hot."""
    hours, moved, _taken = meanwhile(book)
    return "–" if hours == 0 else f"{units.number(moved, 0)} of {units.number(hours, 0)}"


def _conclusion(sheet: Sheet, rows: list[dict[str, Any]]) -> str:
    told = [row_ for row_ in rows[1:] if not row_["why"]]
    if not told:
        return "Nothing here stores drinking water."
    least = min(told, key=lambda row_: row_["kwh"])
    most = max(told, key=lambda row_: row_["kwh"])
    one = lambda r: f"{sheet.show(r['kwh'], 'kWh', 0)} {sheet.sign('kWh')}"
    return (
        f"Of the schools, {least['words']} asks least of the year ({one(least)}), {most['words']} most ({one(most)})."
    )
