"""Cautions, step 7: what can hurt, each answered for; flow, pressure, load and hygiene sized."""

from web.editor.design_page import DesignPage
from web.editor.step import Action, Fragment, PaletteCommand, RowList, Step, View, address_of, value_commands
from web.presentation.loads import load_view
from web.presentation.sized import loop_view, pressure_view
from web.steps.cautions.hygiene import hygiene_view
from web.steps.cautions.listing import answer, list_view, remedy, remedy_cost
from web.steps.cautions.sizes_year import size_figures

VIEWS = (
    View(key="list", title="Cautions", template="cautions/list.html", build=list_view, under="c"),
    View(key="loop", title="Flow and pump", template="cautions/loop.html", build=loop_view, under="c"),
    View(key="pressure", title="Pressure and heat", template="cautions/sized.html", build=pressure_view, under="c"),
    View(key="load", title="Weight and wind", template="cautions/sized.html", build=load_view, under="c"),
    View(key="hygiene", title="Scald and hygiene", template="cautions/sized.html", build=hygiene_view, under="c"),
)


VALUES = {
    "load": ("exposure.wind_m_s", "exposure.snow_kg_m2", "exposure.height_m", "safety.fixings", "safety.fixing_kg"),
    "pressure": ("safety.relief_bar", "safety.vessel_l", "safety.static_m", "safety.frost_margin_k"),
    "hygiene": ("safety.mixed_c", "safety.branch_m", "safety.branch_bore_mm"),
}
"""Values that the command line finds, by the view that shows them."""


def commands(page: DesignPage) -> list[PaletteCommand]:
    """Its views."""
    at = lambda view: address_of(page.design, "cautions", view=view)
    found = [PaletteCommand(text=f"Cautions: {view.title.lower()}", href=at(view.key)) for view in VIEWS]
    for view, paths in VALUES.items():
        found += value_commands(page, paths, at(view))
    return found


def _clearance(document: dict[str, object], preset: str) -> dict[str, object]:
    return {"name": "flue to a window", "measured_m": None, "limit_m": None}


STEP = Step(
    key="cautions",
    title="Cautions",
    views=VIEWS,
    commands=commands,
    styles=("cautions/cautions.css",),
    rows={"exposure.clearances": RowList(new=_clearance)},
    actions=(
        Action(name="caution-answer", path="cautions/answer", run=answer),
        Action(name="caution-remedy", path="cautions/remedy", run=remedy),
    ),
    fragments=(
        Fragment(name="caution-cost", path="cautions/cost", answer=remedy_cost),
        Fragment(name="sizes-year", path="cautions/sizes", answer=size_figures, patient=True),
    ),
)
