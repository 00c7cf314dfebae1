"""What the rules of thumb say, where it lies on a map: points of tilt and bearing, lines of litres to square metres."""

from collections.abc import Callable

import numpy as np

from heat.demand.profile import tap_litres
from heat.weather.mains import mains_from_air
from web.editor.design_page import DesignPage
from web.steps.weigh.numbers import AREA, BEARING, TILT, at_equator
from web.steps.weigh.plot import FOOT, LEFT, RIGHT, TOP, Mark, Plot
from web.ui import units
from web.ui.rows import Row

TILTS = (("latitude, all year", 0.0, "square"), ("latitude + 15°, winter", 15.0, "diamond"))
STEEP_DEG = 60.0
"""Tilt of those who size for winter and let it shed the summer (deg)."""
LITRES_M2 = (40.0, 50.0, 75.0)
"""Litres of store for a square metre of collector, by three rules of thumb."""
DAYS = 1.5
"""Days' draw a store should hold, by another."""


def marks_of(page: DesignPage, plot: Plot, displayed: Callable[[float, float], str]) -> list[Mark]:
    """The rules of thumb of tilt on a map of bearing and tilt, each with what the years give there."""
    if [n.path for n in plot.numbers] != [BEARING, TILT]:
        return []
    latitude, toward = abs(page.document["site"]["latitude_deg"]), at_equator(page)
    tilts = [(words, min(latitude + more, 90.0), shape) for words, more, shape in TILTS]
    if tilts[-1][1] < STEEP_DEG - 4:
        tilts.append(("steep, sheds summer", STEEP_DEG, "diamond"))
    return [
        plot.mark(toward, tilt, f"{words}, {displayed(toward, tilt)}", shape)
        for words, tilt, shape in tilts
        if plot.inside(toward, tilt)
    ]


def rays_of(page: DesignPage, plot: Plot) -> list[Row]:
    """The rules of thumb of storage on a map of collector area and store volume."""
    if [n.path for n in plot.numbers] != [AREA, "system.store.volume_l"]:
        return []
    x, y = plot.axes
    found = []
    for litres in LITRES_M2:
        low, high = max(x.low, y.low / litres), min(x.high, y.high / litres)
        if low >= high:
            continue
        per = units.to_display(litres, "L", page.system) / units.to_display(1.0, "m2", page.system)
        words = f"{units.number(per, 0 if per > 10 else 1)} {page.sign('L')} per {page.sign('m2')}"
        a, b = (plot.x(low), plot.y(litres * low)), (plot.x(high), plot.y(litres * high))
        found.append(_ray(a, b, words))
    demand = page.year.book.design.demand
    if demand.hot_water:
        south = page.document["site"]["latitude_deg"] < 0
        daily = float(np.sum(tap_litres(demand, mains_from_air(page.weather.air_c, south)))) / 365.0
        if y.low < DAYS * daily < y.high:
            at = plot.y(DAYS * daily)
            found.append(_ray((LEFT, at), (RIGHT, at), "1½ days’ draw"))
    return found


def _ray(a: tuple[float, float], b: tuple[float, float], words: str) -> dict[str, object]:
    """A line with its words near its far end, along it."""
    turn = float(np.degrees(np.arctan2(b[1] - a[1], b[0] - a[0])))
    share = 0.97 if abs(turn) > 1 else 0.98
    x, y = (a[i] + share * (b[i] - a[i]) for i in (0, 1))
    return {
        "d": f"M{a[0]},{a[1]}L{b[0]},{b[1]}",
        "turn": round(turn),
        "words": words,
        "x": round(min(x, RIGHT - 6), 1),
        "y": round(min(max(y, TOP + 6), FOOT) - 4, 1),
    }
