"""Year, step 4: inside the hours, the year's shape, what faults cost, what can be taken away."""

from django.http import HttpResponse

from heat.library import hours_table
from web.accounts.requests import SignedIn
from web.editor.design_page import DesignPage
from web.editor.step import Download, Fragment, PaletteCommand, Step, View, address_of, json_or_reason
from web.editor.view_state import whole
from web.steps.year.bundle import figures_csv, year_bundle
from web.steps.year.days import play, window_csv
from web.steps.year.faults_view import faults_view, save_score
from web.steps.year.finding import EVENT_KINDS
from web.steps.year.hours import carpet_values, hours_view
from web.steps.year.quantities import quantities
from web.steps.year.shapes import shape_view


def hours_csv(page: DesignPage) -> str:
    """Every hour of the year as a table: accounts in Wh, traces, layers, residual."""
    text: str = hours_table(page.year.book).to_csv(index=False)
    return text


def values(request: SignedIn, page: DesignPage) -> HttpResponse:
    """The carpet's values in words."""
    return json_or_reason(lambda: carpet_values(page))


def played(request: SignedIn, page: DesignPage) -> HttpResponse:
    """A fortnight of hours for the drawing to be played."""
    return json_or_reason(lambda: play(page, whole(request.GET.get("day"), 0, 364) or 0))


def commands(page: DesignPage) -> list[PaletteCommand]:
    """Quantities to weave, questions of the hours, its views."""
    at = lambda **query: address_of(page.design, "year", **query)
    found = [PaletteCommand(text=f"Year: {q.words.lower()}", href=at(q=key)) for key, q in quantities(page).items()]
    found += [PaletteCommand(text=item.question, href=at(question=key)) for key, item in EVENT_KINDS.items()]
    return [
        *found,
        PaletteCommand(text="Year: shape of the year, from sun to use", href=at(view="shape")),
        PaletteCommand(text="Year: what faults cost", href=at(view="faults")),
        PaletteCommand(text="Year: find the fault by its readings", href=at(view="faults", find=1)),
    ]


STEP = Step(
    styles=("year/year.css",),
    scripts=("year/carpet.js", "year/days.js", "year/play.js", "year/readings.js"),
    key="year",
    title="Year",
    commands=commands,
    views=(
        View(key="hours", title="Hour by hour", template="year/hours.html", build=hours_view, under="y"),
        View(key="shape", title="Shape of the year", template="year/shape.html", build=shape_view, under="s"),
        View(
            key="faults",
            earlier=("mistakes",),
            title="Faults",
            template="year/faults.html",
            build=faults_view,
            under="m",
            remember=save_score,
        ),
    ),
    fragments=(
        Fragment(name="values", path="values", answer=values),
        Fragment(name="play", path="play", answer=played),
    ),
    downloads=(
        Download(name="hours", path="hours.csv", file="hours-{letter}.csv", make=hours_csv),
        Download(name="figures", path="figures.csv", file="figures-{letter}.csv", make=figures_csv),
        Download(name="days", path="days.csv", file="days-{letter}.csv", make=window_csv),
        Download(name="bundle", path="year.zip", file="year-{letter}.zip", make=year_bundle),
    ),
)
