"""What the next step buys: one sensible step of everything, up and down, each as a full year, the best first."""

import json

from django.http import HttpResponse
from django.shortcuts import render

from heat.design.changing import varied
from heat.errors import HeatError
from heat.ledger.year_book import BOUGHT
from heat.studies.following import following
from heat.studies.next_steps import NextStep, steps
from web.accounts.requests import SignedIn
from web.editor.design_page import DesignPage
from web.editor.typed import quantity_of
from web.projects.documents import with_values
from web.simulations.cache import is_remembered, remembered, simulate_uncached
from web.ui import units
from web.ui.rows import Row

SMALLEST_POINTS = 0.05
StepOutcome = tuple[float, float, float] | str
"""Solar fraction, bought and missing heat (kWh) of a step's year, or why there is none."""


def _year_of(page: DesignPage, step: NextStep) -> StepOutcome:
    """A step's year in three numbers, or why it cannot be."""
    try:
        moved = with_values if step.path.startswith("plane.") else varied  # a plane may be a surveyed one
        document = moved(page.document, following(page.document, {step.path: step.then}))
        book = simulate_uncached(document, page.weather)
    except HeatError as error:
        return str(getattr(error, "allowed", error))
    return book.fractions.at_tap, book.total(*BOUGHT), book.cost()


def years_of(page: DesignPage) -> list[tuple[NextStep, StepOutcome]]:
    """Every step of the design with its year, kept while it is asked for."""

    def make() -> list[tuple[NextStep, StepOutcome]]:
        found = steps(page.document)
        return [(step, _year_of(page, step)) for step in found]

    made: list[tuple[NextStep, StepOutcome]] = remembered(
        "next steps", page.year.book.design, page.project.weather, make
    )
    return made


def next_view(page: DesignPage) -> dict[str, object]:
    """The steps where their years are at hand; else the page asks for them once it stands (some thirty years)."""
    ready = is_remembered("next steps", page.year.book.design, page.project.weather)
    return {"ready": ready, **(steps_view(page) if ready else {})}


def next_years(request: SignedIn, page: DesignPage) -> HttpResponse:
    """The ranking, for a page that stands without it."""
    return render(request, "weigh/next_rows.html", {"page": page, "w": steps_view(page)})


def steps_view(page: DesignPage) -> Row:
    """The steps ranked by what they bring; those that bring nothing, or cannot be, apart."""
    book = page.year.book
    now, bought, money = book.fractions.at_tap, book.total(*BOUGHT), book.cost()
    rows: list[Row] = []
    refused = []
    for step, found in years_of(page):
        if isinstance(found, str):
            refused.append({"words": _words(page, step), "why": found})
            continue
        fraction, heat, cost = found
        rows.append(
            {
                "points": 100 * (fraction - now),
                "words": _words(page, step),
                "path": step.path,
                "changes": following(page.document, {step.path: step.then}),
                "less": bought - heat,
                "saves": money - cost,
                "need": step.path.startswith("demand."),
            }
        )
    rows.sort(key=lambda row: -row["less"])
    largest = max((abs(row["less"]) for row in rows), default=1.0) or 1.0
    useful = [_displayed(page, row, largest) for row in rows if row["less"] > 0.5]
    worse = [_displayed(page, row, largest) for row in rows if row["less"] < -0.5][::-1]
    return {
        "parts": [part for part in (("Steps that help", useful, True), ("Steps that cost", worse, False)) if part[1]],
        "nothing": [row["words"] for row in rows if abs(row["less"]) <= 0.5],
        "refused": refused,
        "conclusion": _conclusion(page, rows),
        "currency": page.project.currency,
    }


def _words(page: DesignPage, step: NextStep) -> str:
    """A step as a person would say it: what, from where to where."""
    quantity = quantity_of(step.path)
    now, then = (units.field_text(value, quantity, page.system) for value in (step.now, step.then))
    return f"{step.words} {now} to {then} {page.sign(quantity)}".strip()


def _displayed(page: DesignPage, row: Row, largest: float) -> Row:
    points = row["points"]
    return row | {
        "points": ("+" if points > 0 else "") + units.number(points, 1),
        "less": page.show(row["less"], "kWh", 0),
        "saves": units.number(row["saves"], 0),
        "bar": round(120 * abs(row["less"]) / largest, 1),
        "way": json.dumps(row["changes"]),
    }


def _conclusion(page: DesignPage, rows: list[Row]) -> str:
    """What the best step is, of the system and of the need."""
    best = [next((row for row in rows if row["need"] is need and row["less"] > 0.5), None) for need in (False, True)]
    sentences = []
    for row, lead in zip(best, ("Of the system", "Of the need"), strict=True):
        if row:
            kwh = f"{page.show(row['less'], 'kWh', 0)} {page.sign('kWh')}"
            sentences.append(f"{lead}, “{row['words']}” buys most: {kwh} less bought a year.")
    return " ".join(sentences) or "No single step would lessen what is bought."
