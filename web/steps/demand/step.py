"""Demand, step 1: cut the need first, list the uses, see the year."""

from web.editor.design_page import DesignPage
from web.editor.step import Action, PaletteCommand, Step, View, address_of, value_commands
from web.steps.demand import intake
from web.steps.demand.cut import cut_view
from web.steps.demand.lists import CHOICES, ROWS
from web.steps.demand.uses import USES, in_use, uses_view
from web.steps.demand.year import next_line, year_view

VIEWS = (
    View(key="cut", title="Cut first", template="demand/cut.html", build=cut_view),
    View(key="uses", title="Uses", template="demand/uses.html", build=uses_view),
    View(key="year", title="The year", template="demand/year.html", build=year_view),
)


def commands(page: DesignPage) -> list[PaletteCommand]:
    """Its views and the uses that are on."""
    at = lambda **query: address_of(page.design, "demand", **query)
    found = [PaletteCommand(text=f"Demand: {view.title.lower()}", href=at(view=view.key)) for view in VIEWS]
    for key in in_use(page.year.book.design.demand):
        name, _switch, _what, paths = USES[key]
        here = at(view="uses", use=key)
        found += [PaletteCommand(text=f"Use: {name.lower()}", href=here)]
        found += value_commands(page, paths, here, name.lower())
    return found


STEP = Step(
    styles=("demand/demand.css",),
    scripts=("demand/bars.js",),
    key="demand",
    title="Demand",
    views=VIEWS,
    rows=ROWS,
    choices=CHOICES,
    commands=commands,
    next_line=next_line,
    needs="survey",
    choose_view=lambda page: page.state.view or "uses",
    actions=(
        Action(name="load", path="load", run=intake.load),
        Action(name="load-table", path="load/<int:upload>", run=intake.table),
    ),
)
