"""The designs of a project as tabs with their solar fractions."""

from typing import Any

from web.sheet.page import Sheet
from web.ui import units
from web.years.small import Small, kept, small, small_of


def tabs(sheet: Sheet) -> dict[str, Any]:
    """The designs in sight with their solar fractions, and those put away."""
    shown, away = [], []
    for design in sheet.project.designs.all():
        if design.archived:
            away.append(design)
            continue
        here = design.pk == sheet.design.pk
        figures = _of_this(sheet) if here else _of_another(sheet, design)
        shown.append(
            {
                "letter": design.letter,
                "name": design.name,
                "fraction": f"{units.number(100 * figures.fraction, 1)} %" if figures.reckoned else "not reckoned",
                "here": here,
            }
        )
    return {"shown": shown, "away": away, "others": [d for d in shown if not d["here"]]}


def _of_another(sheet: Sheet, design: Any) -> Small:
    design.project = sheet.project
    return small(design)


def _of_this(sheet: Sheet) -> Small:
    """Of the design shown, whose year the page holds anyway; kept, so that others need not reckon it."""
    return kept(sheet.design, lambda: small_of(sheet.year.book) if sheet.reckons else Small(reckoned=False))
