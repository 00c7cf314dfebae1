"""Weigh, step 5: every design beside the others, what decides, how sure a year is, what the next step buys."""

from web.sheet.page import Sheet
from web.sheet.step import Action, Command, Download, Piece, Step, View, address_of
from web.steps.weigh.best import ask_best, best_view, open_best
from web.steps.weigh.choices import ask_choices, choices_csv, choices_view, open_choice
from web.steps.weigh.maps import ask_map, keep_pin, maps_view, told_pin
from web.steps.weigh.next_step import next_view, next_years
from web.steps.weigh.side import side_view
from web.steps.weigh.sure import ask_doubt, stop, sure_view, told_progress
from web.steps.weigh.tables import side_csv, side_sheet

VIEWS = (
    View(key="side", title="Side by side", template="weigh/side.html", build=side_view, under="w"),
    View(key="choices", title="Choices", template="weigh/choices.html", build=choices_view, under="w"),
    View(key="maps", title="Where and how much", template="weigh/maps.html", build=maps_view, under="w"),
    View(key="best", title="Find the best", template="weigh/best.html", build=best_view, under="w"),
    View(key="sure", title="How sure", template="weigh/sure.html", build=sure_view, under="w"),
    View(key="next", title="What the next step buys", template="weigh/next.html", build=next_view, under="w"),
)


def commands(sheet: Sheet) -> list[Command]:
    """Its views."""
    return [
        Command(text=f"Weigh: {view.title.lower()}", href=address_of(sheet.design, "weigh", view=view.key))
        for view in VIEWS
    ]


STEP = Step(
    styles=("weigh/weigh.css",),
    key="weigh", title="Weigh", views=VIEWS, commands=commands,
    scripts=("ui/watch.js", "weigh/asking.js", "weigh/pin.js"),
    actions=(
        Action(name="weigh-choices", path="weigh/choices", run=ask_choices),
        Action(name="open-choice", path="weigh/open", run=open_choice),
        Action(name="weigh-map", path="weigh/map", run=ask_map),
        Action(name="keep-pin", path="weigh/keep", run=keep_pin),
        Action(name="weigh-best", path="weigh/best", run=ask_best),
        Action(name="open-best", path="weigh/open-best", run=open_best),
        Action(name="weigh-doubt", path="weigh/doubt", run=ask_doubt),
        Action(name="stop-run", path="weigh/stop", run=stop),
    ),
    pieces=(
        Piece(name="run-progress", path="weigh/progress", answer=told_progress),
        Piece(name="pin", path="weigh/pin", answer=told_pin),
        Piece(name="next-years", path="weigh/next", answer=next_years, patient=True),
    ),
    downloads=(
        Download(name="choices-csv", path="weigh/choices.csv", file="choices.csv", make=choices_csv),
        Download(name="side-csv", path="weigh/designs.csv", file="designs.csv", make=side_csv),
        Download(name="side-sheet", path="weigh/designs.xlsx", file="designs.xlsx", make=side_sheet),
    ),
)  # fmt: skip
