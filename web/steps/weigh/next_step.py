"""What the next step buys: one sensible step of everything, up and down, each as a full year, the best first."""

import json
from typing import Any

from django.http import HttpResponse
from django.shortcuts import render

from heat.errors import HeatError
from heat.ledger import BOUGHT
from heat.sweep import varied
from heat.weighing.following import following
from heat.weighing.next_steps import Step, steps
from web.accounts.requests import SignedIn
from web.projects.documents import with_values
from web.sheet.page import Sheet
from web.sheet.typed import quantity_of
from web.ui import units
from web.years.reckoned import is_remembered, remembered, simulate_uncached

SMALLEST_POINTS = 0.05
Found = tuple[float, float, float] | str
"""Solar fraction, bought and missing heat (kWh) of a step's year, or why there is none."""


def _year_of(sheet: Sheet, step: Step) -> Found:
    """A step's year in three numbers, or why it cannot be."""
    try:
        moved = with_values if step.path.startswith("plane.") else varied  # a plane may be a surveyed one
        document = moved(sheet.document, following(sheet.document, {step.path: step.then}))
        book = simulate_uncached(document, sheet.weather)
    except HeatError as error:
        return str(getattr(error, "allowed", error))
    return book.fractions.at_tap, book.total(*BOUGHT), book.cost()


def years_of(sheet: Sheet) -> list[tuple[Step, Found]]:
    """Every step of the design with its year, kept while it is asked for."""

    def make() -> list[tuple[Step, Found]]:
        found = steps(sheet.document)
        return [(step, _year_of(sheet, step)) for step in found]

    made: list[tuple[Step, Found]] = remembered("next steps", sheet.year.book.design, sheet.project.weather, make)
    return made


def next_view(sheet: Sheet) -> dict[str, Any]:
    """The steps where their years are at hand; else the page asks for them once it stands (some thirty years)."""
    ready = is_remembered("next steps", sheet.year.book.design, sheet.project.weather)
    return {"ready": ready} | (steps_view(sheet) if ready else {})


def next_years(request: SignedIn, sheet: Sheet) -> HttpResponse:
    """The ranking, for a page that stands without it."""
    return render(request, "weigh/next_rows.html", {"sheet": sheet, "w": steps_view(sheet)})


def steps_view(sheet: Sheet) -> dict[str, Any]:
    """The steps ranked by what they bring; those that bring nothing, or cannot be, apart."""
    book = sheet.year.book
    now, bought, money = book.fractions.at_tap, book.total(*BOUGHT), book.cost()
    rows: list[dict[str, Any]] = []
    refused = []
    for step, found in years_of(sheet):
        if isinstance(found, str):
            refused.append({"words": _words(sheet, step), "why": found})
            continue
        fraction, heat, cost = found
        rows.append({
            "points": 100 * (fraction - now), "words": _words(sheet, step), "path": step.path,
            "changes": following(sheet.document, {step.path: step.then}), "less": bought - heat, "saves": money - cost,
            "need": step.path.startswith("demand."),
        })  # fmt: skip
    rows.sort(key=lambda row: -row["less"])
    largest = max((abs(row["less"]) for row in rows), default=1.0) or 1.0
    useful = [_shown(sheet, row, largest) for row in rows if row["less"] > 0.5]
    worse = [_shown(sheet, row, largest) for row in rows if row["less"] < -0.5][::-1]
    return {
        "parts": [part for part in (("Steps that help", useful, True), ("Steps that cost", worse, False)) if part[1]],
        "nothing": [row["words"] for row in rows if abs(row["less"]) <= 0.5], "refused": refused,
        "conclusion": _conclusion(sheet, rows), "currency": sheet.project.currency,
    }  # fmt: skip


def _words(sheet: Sheet, step: Step) -> str:
    """A step as a person would say it: what, from where to where."""
    quantity = quantity_of(step.path)
    now, then = (units.field_text(value, quantity, sheet.system) for value in (step.now, step.then))
    return f"{step.words} {now} to {then} {sheet.sign(quantity)}".strip()


def _shown(sheet: Sheet, row: dict[str, Any], largest: float) -> dict[str, Any]:
    points = row["points"]
    return row | {
        "points": ("+" if points > 0 else "") + units.number(points, 1),
        "less": sheet.show(row["less"], "kWh", 0), "saves": units.number(row["saves"], 0),
        "bar": round(120 * abs(row["less"]) / largest, 1), "way": json.dumps(row["changes"]),
    }  # fmt: skip


def _conclusion(sheet: Sheet, rows: list[dict[str, Any]]) -> str:
    """What the best step is, of the system and of the need."""
    best = [next((row for row in rows if row["need"] is need and row["less"] > 0.5), None) for need in (False, True)]
    told = []
    for row, lead in zip(best, ("Of the system", "Of the need"), strict=True):
        if row:
            kwh = f"{sheet.show(row['less'], 'kWh', 0)} {sheet.sign('kWh')}"
            told.append(f"{lead}, “{row['words']}” buys most: {kwh} less bought a year.")
    return " ".join(told) or "No single step would lessen what is bought."
