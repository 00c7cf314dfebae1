"""Weigh, step 5: every design beside the others, what decides, how sure a year is, what the next step buys."""

from web.editor.design_page import DesignPage
from web.editor.step import Action, Download, Fragment, PaletteCommand, Step, View, address_of
from web.steps.weigh.best import best_view, open_best, request_best
from web.steps.weigh.choices import choices_csv, choices_view, open_choice, request_choices
from web.steps.weigh.maps import maps_view, pin_figures, request_map, save_pin
from web.steps.weigh.next_step import next_view, next_years
from web.steps.weigh.side_by_side import side_view
from web.steps.weigh.tables import comparison_spreadsheet, side_csv
from web.steps.weigh.uncertainty import progress_fragment, request_uncertainty, stop, uncertainty_view

VIEWS = (
    View(key="side", title="Side by side", template="weigh/side.html", build=side_view, under="w"),
    View(key="choices", title="Choices", template="weigh/choices.html", build=choices_view, under="w"),
    View(key="maps", title="Where and how much", template="weigh/maps.html", build=maps_view, under="w"),
    View(key="best", title="Find the best", template="weigh/best.html", build=best_view, under="w"),
    View(
        key="uncertainty",
        earlier=("sure",),
        title="How sure",
        template="weigh/uncertainty.html",
        build=uncertainty_view,
        under="w",
    ),
    View(key="next", title="What the next step buys", template="weigh/next.html", build=next_view, under="w"),
)


def commands(page: DesignPage) -> list[PaletteCommand]:
    """Its views."""
    return [
        PaletteCommand(text=f"Weigh: {view.title.lower()}", href=address_of(page.design, "weigh", view=view.key))
        for view in VIEWS
    ]


STEP = Step(
    styles=("weigh/weigh.css",),
    key="weigh",
    title="Weigh",
    views=VIEWS,
    commands=commands,
    scripts=("weigh/pin.js",),
    actions=(
        Action(name="weigh-choices", path="weigh/choices", run=request_choices),
        Action(name="open-choice", path="weigh/open", run=open_choice),
        Action(name="weigh-map", path="weigh/map", run=request_map),
        Action(name="keep-pin", path="weigh/keep", run=save_pin),
        Action(name="weigh-best", path="weigh/best", run=request_best),
        Action(name="open-best", path="weigh/open-best", run=open_best),
        Action(name="weigh-doubt", path="weigh/doubt", run=request_uncertainty),
        Action(name="stop-run", path="weigh/stop", run=stop),
    ),
    fragments=(
        Fragment(name="run-progress", path="weigh/progress", answer=progress_fragment),
        Fragment(name="pin", path="weigh/pin", answer=pin_figures),
        Fragment(name="next-years", path="weigh/next", answer=next_years, patient=True),
    ),
    downloads=(
        Download(name="choices-csv", path="weigh/choices.csv", file="choices.csv", make=choices_csv),
        Download(name="side-csv", path="weigh/designs.csv", file="designs.csv", make=side_csv),
        Download(name="side-sheet", path="weigh/designs.xlsx", file="designs.xlsx", make=comparison_spreadsheet),
    ),
)
