"""What can hurt someone or spoil the system, computed from this design and its year, in the reader's units."""

from dataclasses import replace
from math import cos, hypot, radians

from heat.design.contradictions import warnings
from web.editor.design_page import DesignPage
from web.presentation.cautions.case import COSTS, GRAVITY, Caution, CautionCase, Remedy
from web.presentation.cautions.frost import frost
from web.presentation.cautions.hot import hot
from web.presentation.cautions.load import load
from web.presentation.cautions.loop import loop
from web.presentation.cautions.water import heated_words, water
from web.simulations.rough import is_rough, sun_uncertainty
from web.ui import units
from web.ui.rows import Row

__all__ = ["GRAVITY", "Caution", "Remedy", "cautions", "heated_words"]

PART_OF = {
    "demand.pool.exchanger_w_k": "",
    "system.coil.bottom_share": "coil",
    "system.backup.element.height_share": "element",
    "system.dump.fitted": "add",
    "system.loop.geometry.store_bottom_m": "siphon",
}
"""Warnings of the core whose words hold no number in a unit, and the part each concerns; the others are worded in the
reader's units by the cautions themselves."""
ELSEWHERE_DEG = 0.5
"""A climate made so far from the site (deg) is another place's. Source: our own choice, some 50 km."""


def cautions(page: DesignPage) -> list[Caution]:
    """Every caution this design and its year give rise to, the gravest first."""
    case = CautionCase(page)
    found = [*climate(case), *hot(case), *frost(case), *water(case), *loop(case), *load(case), *considered(case)]
    found.sort(key=lambda caution: caution.gravity)
    return found if page.system == "si" else [_in_words(caution, page.system) for caution in found]


def _in_words(caution: Caution, system: str) -> Caution:
    """A caution whose usual rule and reason are in the reader's units too."""
    text, why, rule = (units.words(words, system) for words in (caution.text, caution.why, caution.rule))
    remedies = tuple(replace(way, words=units.words(way.words, system)) for way in caution.remedies)
    return replace(caution, text=text, why=why, rule=rule, remedies=remedies)


def climate(case: CautionCase) -> list[Caution]:
    """What the climate behind every figure is not."""
    file, site, weather = case.page.project.weather, case.page.document["site"], case.page.weather
    common: Row = {"at": "site?view=weather", "where": "the weather", "why": "Every figure rests on it."}
    if is_rough(file):
        off = 100.0 * sun_uncertainty(file)
        return [
            Caution(
                "rough",
                COSTS,
                "Rough climate",
                f"sun and air come from a map and a rule; the sun may be off by {off:.0f} %, one time in "
                "ten by more. Put a weather file or twelve means in its place (Site, Weather) before anything is "
                "bought.",
                file.checksum[:12],
                **common,
            )
        ]
    eastward = (weather.longitude_deg - site["longitude_deg"]) * cos(radians(site["latitude_deg"]))
    if file.made_up and hypot(weather.latitude_deg - site["latitude_deg"], eastward) > ELSEWHERE_DEG:
        return [
            Caution(
                "made up",
                COSTS,
                "Made-up climate",
                "the site lies elsewhere, so no figure here is its own. Take the rough climate of the place, or a file "
                "(Site, Weather).",
                file.checksum[:12],
                **common,
            )
        ]
    return []


def considered(case: CautionCase) -> list[Caution]:
    """Warnings of the core."""
    return [
        Caution(f"consider {w.path}"[:60], COSTS, "Consider", f"{w.text} {w.way_out}", w.text[:60], PART_OF[w.path])
        for w in warnings(case.book.design, case.coldest_c)
        if w.path in PART_OF
    ]
