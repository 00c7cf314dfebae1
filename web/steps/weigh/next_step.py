"""What the next step buys: one sensible step of everything, up and down, each as a full year, the best first."""

import json
from dataclasses import dataclass

from django.http import HttpResponse
from django.shortcuts import render

from heat.common.documents import Values, value_at
from heat.design.changing import varied
from heat.design.money import HOURLY
from heat.economics.tariff import energy_of
from heat.errors import HeatError
from heat.ledger.year_book import BOUGHT, YearBook
from heat.studies.following import following
from heat.studies.merit import MERITS, Merit, buys_heat, measure, possible
from heat.studies.next_steps import NextStep, steps
from web.accounts.requests import SignedIn
from web.editor.design_page import DesignPage
from web.editor.typed import quantity_of
from web.projects.documents import with_values
from web.simulations.cache import is_remembered, remembered, simulate_uncached
from web.ui import units
from web.ui.rows import Row

LIMITED_H = 10.0
"""Hours more at a limit from which they are named as the reason (h). Source: our own choice."""
HEADS = {
    "bought": "Less bought or unmet",
    "unmet": "Less unmet",
    "cold": "Fewer hours too cold",
    "pool": "Warmer",
    "money": "Costs less",
}
"""What a step brings by each figure, above its column."""


@dataclass(frozen=True)
class StepYear:
    """A step's year: solar fraction (1), heat bought (kWh), what energy costs (currency), hours in which a limit kept
    the pump still (h), and what it is judged by, by key."""

    fraction: float
    bought: float
    cost: float
    limited_h: float
    measures: dict[str, float]


StepOutcome = StepYear | str
"""A step's year, or why there is none."""


def _in_numbers(page: DesignPage, book: YearBook) -> StepYear:
    cost, keys = energy_of(book, page.parsed.money).with_sun, possible(page.year.book.design)
    measures = {key: cost if key == "money" else measure(book, key) for key in keys}
    return StepYear(book.fractions.at_tap, book.total(*BOUGHT), cost, book.stagnation_hours(), measures)


def _year_of(page: DesignPage, step: NextStep) -> StepOutcome:
    """A step's year in numbers, or why it cannot be."""
    try:
        moved = with_values if step.path.startswith("plane.") else varied  # a plane may be a surveyed one
        document = moved(page.document, following(page.document, {step.path: step.then}))
        book = simulate_uncached(document, page.weather)
    except HeatError as error:
        return str(getattr(error, "allowed", error))
    return _in_numbers(page, book)


def years_of(page: DesignPage) -> list[tuple[NextStep, StepOutcome]]:
    """Every step of the design with its year, kept while it is asked for."""

    def make() -> list[tuple[NextStep, StepOutcome]]:
        found = steps(page.document)
        return [(step, _year_of(page, step)) for step in found]

    made: list[tuple[NextStep, StepOutcome]] = remembered(_name(page), page.parsed, page.project.weather, make)
    return made


def _name(page: DesignPage) -> str:
    """What the steps' years are remembered by beside the year: what energy costs by the hour."""
    return f"next steps {page.parsed.money.model_dump_json(include=set(HOURLY))}"


def next_view(page: DesignPage) -> dict[str, object]:
    """The steps where their years are at hand; else the page asks for them once it stands (some thirty years)."""
    ready = is_remembered(_name(page), page.parsed, page.project.weather)
    return {"ready": ready, "by": judged_by(page).key, **(steps_view(page) if ready else {})}


def next_years(request: SignedIn, page: DesignPage) -> HttpResponse:
    """The ranking, for a page that stands without it."""
    return render(request, "weigh/next_rows.html", {"page": page, "w": steps_view(page)})


def judged_by(page: DesignPage) -> Merit:
    """The figure the steps are ranked by: the one asked for, else the usual one of the design's need."""
    design = page.year.book.design
    keys = possible(design)
    wanted = page.state.query.get("by", "")
    return MERITS[wanted if wanted in keys else keys[0]]


def steps_view(page: DesignPage) -> Row:
    """The steps ranked by what they bring; those that bring nothing, or cannot be, apart."""
    design, merit = page.year.book.design, judged_by(page)
    now = _in_numbers(page, page.year.book)
    sign = 1.0 if merit.more else -1.0
    rows: list[Row] = []
    refused = []
    for step, found in years_of(page):
        if isinstance(found, str):
            refused.append({"words": _words(page, step), "why": found})
            continue
        rows.append(
            {
                "points": 100 * (found.fraction - now.fraction),
                "words": _words(page, step),
                "path": step.path,
                "changes": (changes := following(page.document, {step.path: step.then})),
                "besides": _besides(page, step.path, changes),
                "gain": sign * (found.measures[merit.key] - now.measures[merit.key]),
                "less": now.bought - found.bought,
                "saves": now.cost - found.cost,
                "need": step.path.startswith("demand."),
                "limited": found.limited_h - now.limited_h,
            }
        )
    rows.sort(key=lambda row: -row["gain"])
    largest = max((abs(row["gain"]) for row in rows), default=1.0) or 1.0
    of = lambda kept: [_displayed(page, row, largest, merit) for row in kept]
    useful = of(row for row in rows if row["gain"] > merit.least)
    worse = of(row for row in rows if row["gain"] < -merit.least)[::-1]
    return {
        "parts": [part for part in (("Steps that help", useful, True), ("Steps that cost", worse, False)) if part[1]],
        "nothing": [row["words"] for row in rows if abs(row["gain"]) <= merit.least],
        "refused": refused,
        "conclusion": _conclusion(page, rows, merit),
        "currency": page.project.currency,
        "head": f"{HEADS[merit.key]}, {_sign(page, merit)}",
        "buys": buys_heat(design),
        "apart": any(abs(row["gain"] - row["less"]) > merit.least for row in rows),
        "fraction": merit.key != "pool",
        "merits": [(key, MERITS[key].words, key == merit.key) for key in possible(design)],
        "merit": merit.words,
    }


def _sign(page: DesignPage, merit: Merit) -> str:
    if merit.unit == "money":
        return page.project.currency
    return page.sign("delta_degC" if merit.unit == "degC" else merit.unit)


def _amount(page: DesignPage, merit: Merit, value: float) -> str:
    """A difference of the figure, in the reader's units."""
    if merit.unit == "money":
        return units.number(value, 0)
    unit = "delta_degC" if merit.unit == "degC" else merit.unit
    return page.show(value, unit, 2 if merit.unit == "degC" else 0)


def _words(page: DesignPage, step: NextStep) -> str:
    """A step as a person would say it: what, from where to where."""
    quantity = quantity_of(step.path)
    now, then = (units.field_text(value, quantity, page.system) for value in (step.now, step.then))
    return f"{step.words} {now} to {then} {page.sign(quantity)}".strip()


def _besides(page: DesignPage, path: str, changes: Values) -> str:
    """What a step changes besides its own value: litres with the glass that holds them, loss with a store's size."""
    words = []
    for other, then in changes.items():
        now = value_at(page.document, other)
        if other != path and isinstance(now, int | float) and now != then:
            quantity = quantity_of(other)
            before, after = (units.field_text(value, quantity, page.system) for value in (now, then))
            label = page.label_of(other)
            words.append(f"{label[:1].lower()}{label[1:]} {before} to {after} {page.sign(quantity)}")
    return f"with it: {', '.join(words)}" if words else ""


def _displayed(page: DesignPage, row: Row, largest: float, merit: Merit) -> Row:
    points = row["points"]
    return row | {
        "points": ("+" if points > 0 else "") + units.number(points, 1),
        "gain": _amount(page, merit, row["gain"]),
        "less": page.show(row["less"], "kWh", 0),
        "saves": units.number(row["saves"], 0),
        "bar": round(120 * abs(row["gain"]) / largest, 1),
        "way": json.dumps(row["changes"]),
        "notes": [note for note in (row["besides"], _why(row, merit)) if note],
    }


def _why(row: Row, merit: Merit) -> str:
    """Why a step that should help costs: a store that keeps its heat better meets its limit sooner, say."""
    if row["gain"] >= -merit.least or row["limited"] < LIMITED_H:
        return ""
    return f"a limit keeps the pump still for {units.number(row['limited'], 0)} h more"


def _conclusion(page: DesignPage, rows: list[Row], merit: Merit) -> str:
    """What the best step is, of the system and of the need."""
    helps = lambda need: next((row for row in rows if row["need"] is need and row["gain"] > merit.least), None)
    sentences = [f"Judged by {merit.words}."]
    for row, lead in zip((helps(False), helps(True)), ("Of the system", "Of the need"), strict=True):
        if row:
            amount = f"{_amount(page, merit, row['gain'])} {_sign(page, merit)}"
            sentences.append(f"{lead}, “{row['words']}” brings most: {amount} {'more' if merit.more else 'less'}.")
    return " ".join(sentences) if len(sentences) > 1 else f"{sentences[0]} No single step would better it."
