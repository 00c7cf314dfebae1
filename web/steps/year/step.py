"""Year, step 4: inside the hours, the year's shape, what mistakes cost, what can be taken away."""

from django.http import HttpResponse

from heat.cli import hours_table
from web.accounts.requests import SignedIn
from web.sheet.look import whole
from web.sheet.page import Sheet
from web.sheet.step import Command, Download, Piece, Step, View, address_of, told
from web.steps.year.bundle import figures_csv, year_bundle
from web.steps.year.days import play, shown_csv
from web.steps.year.faults_view import faults_view, keep_score
from web.steps.year.finding import HAPPENINGS
from web.steps.year.hours import carpet_values, hours_view
from web.steps.year.quantities import quantities
from web.steps.year.shapes import shape_view


def hours_csv(sheet: Sheet) -> str:
    """Every hour of the year as a table: accounts in Wh, traces, layers, residual."""
    text: str = hours_table(sheet.year.book).to_csv(index=False)
    return text


def values(request: SignedIn, sheet: Sheet) -> HttpResponse:
    """The carpet's values in words."""
    return told(lambda: carpet_values(sheet))


def played(request: SignedIn, sheet: Sheet) -> HttpResponse:
    """A fortnight of hours for the drawing to be played."""
    return told(lambda: play(sheet, whole(request.GET.get("day"), 0, 364) or 0))


def commands(sheet: Sheet) -> list[Command]:
    """Quantities to weave, questions of the hours, its views."""
    at = lambda **query: address_of(sheet.design, "year", **query)
    found = [Command(text=f"Year: {q.words.lower()}", href=at(q=key)) for key, q in quantities(sheet).items()]
    found += [Command(text=item.question, href=at(ask=key)) for key, item in HAPPENINGS.items()]
    return [
        *found,
        Command(text="Year: its shape, from sun to use", href=at(view="shape")),
        Command(text="Year: what mistakes cost", href=at(view="mistakes")),
        Command(text="Year: find the mistake by its readings", href=at(view="mistakes", find=1)),
    ]


STEP = Step(
    styles=("year/year.css",),
    scripts=("year/carpet.js", "year/days.js", "year/play.js", "year/readings.js",),
    key="year", title="Year", commands=commands,
    views=(
        View(key="hours", title="Hour by hour", template="year/hours.html", build=hours_view, under="y"),
        View(key="shape", title="Its shape", template="year/shape.html", build=shape_view, under="s"),
        View(key="mistakes", title="Mistakes", template="year/faults.html", build=faults_view, under="m",
            remember=keep_score),
    ),
    pieces=(
        Piece(name="values", path="values", answer=values),
        Piece(name="play", path="play", answer=played),
    ),
    downloads=(
        Download(name="hours", path="hours.csv", file="hours-{letter}.csv", make=hours_csv),
        Download(name="figures", path="figures.csv", file="figures-{letter}.csv", make=figures_csv),
        Download(name="days", path="days.csv", file="days-{letter}.csv", make=shown_csv),
        Download(name="bundle", path="year.zip", file="year-{letter}.zip", make=year_bundle),
    ),
)  # fmt: skip
