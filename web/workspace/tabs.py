"""The designs of a project as tabs with their solar fractions."""

from typing import Any

from web.editor.design_page import DesignPage
from web.simulations.tallies import Small, small, small_of, stored
from web.ui import units


def tabs(page: DesignPage) -> dict[str, object]:
    """The designs in sight with their solar fractions, and those put away."""
    displayed, away = [], []
    for design in page.project.designs.all():
        if design.archived:
            away.append(design)
            continue
        here = design.pk == page.design.pk
        figures = _of_this(page) if here else _of_another(page, design)
        displayed.append(
            {
                "letter": design.letter,
                "name": design.name,
                "fraction": f"{units.number(100 * figures.fraction, 1)} %" if figures.simulated else "not calculated",
                "here": here,
            }
        )
    return {"displayed": displayed, "away": away, "others": [d for d in displayed if not d["here"]]}


def _of_another(page: DesignPage, design: Any) -> Small:
    design.project = page.project
    return small(design)


def _of_this(page: DesignPage) -> Small:
    """Of the design shown, whose year the page holds anyway; kept, so that others need not calculate it."""
    return stored(page.design, lambda: small_of(page.year.book) if page.simulates else Small(simulated=False))
