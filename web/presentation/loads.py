"""What a design weighs and what wind and snow do to it, as a page and the report show it."""

from heat.sizing.roof_load import wet_weight
from heat.sizing.wind import WIND_GUESS_M_S, ground_snow, wind_load
from web.editor.design_page import DesignPage
from web.presentation.cautions.case import CautionCase
from web.presentation.sized import fields, row
from web.ui import units
from web.ui.rows import Row


def load_view(page: DesignPage) -> Row:
    """Weight, wind and snow, and clearances that were measured."""
    case = CautionCase(page)
    design, text = case.design, case.text
    weight, wind = wet_weight(design), wind_load(design)
    typed = design.exposure.snow_kg_m2
    snow_from = f"of a guess of {text(ground_snow(design), 'kg/m2')}" if typed is None else "it slides from steep ones"
    groups = [
        {
            "title": "Weight",
            "rows": [
                row("collectors and frame, full", text(weight.plane_kg, "kg", 0), text(weight.per_m2, "kg/m2")),
                row("dry", text(weight.dry_kg, "kg", 0)),
                row(
                    "one collector on the hook",
                    text(weight.hook_kg, "kg", 0),
                    f"by two, or by a hoist above {text(50, 'kg')}",
                ),
                *([row("store beside them, full", text(weight.store_kg, "kg", 0))] if weight.store_kg else []),
                *(
                    [
                        row(
                            "store on its floor, full",
                            text(weight.floor_kg, "kg", 0),
                            f"a room’s floor bears some {text(200, 'kg/m2')}",
                        )
                    ]
                    if weight.floor_kg
                    else []
                ),
            ],
        },
        {
            "title": "Wind",
            "rows": [
                row(
                    "pressure of the gust",
                    text(wind.gust_pa / 1000.0, "wind kPa"),
                    f"{design.exposure.code}, simplified"
                    + ("" if design.exposure.wind_m_s else f"; a guess of {text(WIND_GUESS_M_S, 'm/s', 0)}"),
                ),
                row("coefficient", units.number(wind.coefficient, 2), "frame" if wind.framed else "close to the roof"),
                row("force square to them", text(abs(wind.force_kn), "kN", 1), "it lifts"),
                row("left to hold down", text(wind.up_kn, "kN", 1), f"{wind.factor:g} on the wind, 0.9 on the weight"),
                *(
                    [
                        row("left to hold along", text(wind.along_kn, "kN", 1)),
                        row("ballast against sliding", text(wind.slides_kg, "kg", 0)),
                        row("ballast against tipping", text(wind.tips_kg, "kg", 0), "feet as far apart as it is deep"),
                        row(
                            "ballast instead of fixings",
                            text(wind.ballast_kg, "kg", 0),
                            text(wind.ballast_kg / design.system.gross_m2, "kg/m2"),
                        ),
                    ]
                    if wind.framed
                    else []
                ),
                row(
                    "pull on each fixing",
                    text(wind.per_fixing_kg, "kg", 0),
                    f"may bear {text(design.safety.fixing_kg, 'kg', 0)}",
                ),
            ],
        },
        {
            "title": "Snow",
            "rows": [
                row("on the collectors", text(wind.snow_kg_m2, "kg/m2"), snow_from),
                row("all that presses", text(wind.presses_kg_m2, "kg/m2")),
            ],
        },
    ]
    current = (
        f"{text(wind.ballast_kg, 'kg', 0)} of ballast"
        if wind.framed
        else (f"{text(wind.per_fixing_kg, 'kg', 0)} on each fixing")
    )
    return {
        "groups": groups,
        "conclusion": f"Full they weigh {text(weight.plane_kg, 'kg', 0)}; a gust asks for {current}.",
        "fields": fields(
            page,
            "exposure.code",
            "exposure.wind_m_s",
            "exposure.terrain",
            "exposure.height_m",
            "exposure.edge",
            "exposure.snow_kg_m2",
            "safety.fixings",
            "safety.fixing_kg",
            "safety.friction",
        ),
        "clearances": [
            {
                "index": i,
                "fields": fields(
                    page, *(f"exposure.clearances.{i}.{name}" for name in ("name", "measured_m", "limit_m"))
                ),
            }
            for i in range(len(design.exposure.clearances))
        ],
    }
