"""What can hurt someone or spoil the system, computed from this design and its year, in the reader's units."""

from math import cos, hypot, radians
from typing import Any

from heat.design.contradictions import warnings
from heat.weather.world import DOUBT
from web.present.cautions.frost import frost
from web.present.cautions.hot import hot
from web.present.cautions.load import load
from web.present.cautions.loop import loop
from web.present.cautions.seen import COSTS, GRAVITY, Caution, Remedy, Seen
from web.present.cautions.water import heated_words, water
from web.sheet.page import Sheet
from web.years.rough import is_rough

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


def cautions(sheet: Sheet) -> list[Caution]:
    """Every caution this design and its year give rise to, the gravest first."""
    seen = Seen(sheet)
    found = [*climate(seen), *hot(seen), *frost(seen), *water(seen), *loop(seen), *load(seen), *considered(seen)]
    return sorted(found, key=lambda caution: caution.gravity)


def climate(seen: Seen) -> list[Caution]:
    """What the climate behind every figure is not."""
    file, site, weather = seen.sheet.project.weather, seen.sheet.document["site"], seen.sheet.weather
    common: dict[str, Any] = {"at": "site?view=weather", "where": "the weather", "why": "Every figure rests on it."}
    if is_rough(file):
        return [
            Caution(
                "rough",
                COSTS,
                "Rough climate",
                f"sun and air come from a map and a rule; the sun may be off by {100 * DOUBT:.0f} %, one time in "
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


def considered(seen: Seen) -> list[Caution]:
    """Warnings of the core."""
    return [
        Caution(f"consider {w.path}"[:60], COSTS, "Consider", f"{w.text} {w.way_out}", w.text[:60], PART_OF[w.path])
        for w in warnings(seen.book.design, seen.coldest_c)
        if w.path in PART_OF
    ]
