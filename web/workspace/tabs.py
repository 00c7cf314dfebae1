"""The designs of a project as tabs with their solar fractions."""

from typing import Any

from heat.errors import HeatError
from web.sheet.page import Sheet
from web.ui import units
from web.years.reckoned import fraction


def tabs(sheet: Sheet) -> dict[str, Any]:
    """The designs in sight with their solar fractions, and those put away."""
    shown, away = [], []
    for design in sheet.project.designs.all():
        if design.archived:
            away.append(design)
            continue
        design.project = sheet.project
        try:
            text = f"{units.number(100 * fraction(design.document(), sheet.project.weather), 1)} %"
        except HeatError:
            text = "not reckoned"
        shown.append(
            {
                "letter": design.letter,
                "name": design.name,
                "fraction": text,
                "here": design.letter == sheet.design.letter,
            }
        )
    return {"shown": shown, "away": away, "others": [d for d in shown if not d["here"]]}
