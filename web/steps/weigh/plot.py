"""Laying a map out on the page: its frame, ticks, lines with labels, the area near the best, its pin and marks."""

from collections.abc import Callable
from dataclasses import dataclass
from itertools import pairwise
from math import atan2, degrees, hypot

import numpy as np

from heat.studies.maps import Axis, Line, MapField, beyond
from heat.studies.maps import levels as round_values
from web.editor.design_page import DesignPage
from web.steps.weigh.numbers import AREA, BEARING, Number
from web.ui import units
from web.ui.rows import Row

LEFT, TOP, RIGHT, FOOT = 58, 18, 628, 292
WIDTH, HEIGHT = 646, 332
SIDES = {
    0: "north",
    45: "north-east",
    90: "east",
    135: "south-east",
    180: "south",
    225: "south-west",
    270: "west",
    315: "north-west",
}
EDGE, LABEL_ROOM = 26.0, 40.0
"""How far from the frame a line's label stays, and from its line's ends (px)."""


@dataclass(frozen=True)
class Mark:
    """A point on the map with its words, which stand left of it where there is no room at the right."""

    x: float
    y: float
    words: str
    shape: str = "cross"
    left: bool = False

    @property
    def word_x(self) -> float:
        """Where the words begin, or end."""
        return self.x - 10 if self.left else self.x + 10


@dataclass(frozen=True)
class Plot:
    """The frame of a map: axes in their own units, and how a place is said."""

    page: DesignPage
    axes: tuple[Axis, Axis]
    numbers: tuple[Number, Number]
    left: int = LEFT
    top: int = TOP
    right: int = RIGHT
    foot: int = FOOT
    width: int = WIDTH
    height: int = HEIGHT

    @staticmethod
    def of(page: DesignPage, axes: list[Axis], numbers: list[Number]) -> "Plot":
        """The frame of two axes."""
        return Plot(page, (axes[0], axes[1]), (numbers[0], numbers[1]))

    def x(self, value: float) -> float:
        """Where a value lies across (px)."""
        axis = self.axes[0]
        return round(LEFT + (RIGHT - LEFT) * (value - axis.low) / (axis.high - axis.low), 1)

    def y(self, value: float) -> float:
        """Where a value lies down (px)."""
        axis = self.axes[1]
        return round(FOOT - (FOOT - TOP) * (value - axis.low) / (axis.high - axis.low), 1)

    def describe(self, which: int, value: float) -> str:
        """A value of an axis in words: a bearing from the equator, a tilt, whole collectors, or a number."""
        number, page = self.numbers[which], self.page
        if number.path == BEARING:
            return f"{value % 360.0:.0f}°{_side(value)}"
        if number.path == AREA:
            return f"{page.show(value, 'm2', 1)} {page.sign('m2')}"
        if number.quantity == "deg":
            return f"{value:.0f}°"
        places = 0 if abs(value) >= 30 or number.whole else None
        return f"{page.show(value, number.quantity, places)} {page.sign(number.quantity)}".strip()

    def ticks(self, which: int) -> list[dict[str, object]]:
        """Ticks of an axis: place and text."""
        axis, number = self.axes[which], self.numbers[which]
        place = self.x if which == 0 else self.y
        if number.path == BEARING:
            step = 30.0 if axis.high - axis.low <= 180 else 45.0
            at = [a for k in range(30) if axis.low <= (a := step * k) <= axis.high]
            return [{"at": place(a), "text": SIDES.get(int(a % 360), f"{a % 360:.0f}°")} for a in at]
        convert = lambda v: units.to_display(v, number.quantity, self.page.system)
        values = round_values(np.array([convert(axis.low), convert(axis.high)]), 8)
        decimals = (
            0
            if all(float(v).is_integer() for v in values)
            else 1
            if all(round(v, 1) == round(v, 6) for v in values)
            else 2
        )
        return [
            {
                "at": place(units.to_core(v, number.quantity, self.page.system)),
                "text": units.number(v, decimals) + ("°" if number.quantity == "deg" else ""),
            }
            for v in values
        ]

    @property
    def across(self) -> list[dict[str, object]]:
        """Ticks along the foot."""
        return self.ticks(0)

    @property
    def up(self) -> list[dict[str, object]]:
        """Ticks up the side."""
        return self.ticks(1)

    def title(self, which: int) -> str:
        """What an axis is, with its unit."""
        number = self.numbers[which]
        sign = "" if number.quantity == "deg" else self.page.sign(number.quantity)
        return f"{number.name}{', ' + sign if sign else ''}"

    @property
    def title_x(self) -> str:
        """What lies across."""
        return self.title(0)

    @property
    def title_y(self) -> str:
        """What lies up."""
        return self.title(1)

    def inside(self, x: float, y: float) -> bool:
        """Whether a place lies on the map."""
        return all(a.low <= v <= a.high for a, v in zip(self.axes, (x, y), strict=True))

    def mark(self, x: float, y: float, words: str, shape: str = "cross") -> Mark:
        """A marked place."""
        left = self.x(x) > RIGHT - 7.0 * len(words) - 16
        return Mark(self.x(x), self.y(y), words, shape, left)

    def pin(self, x: float, y: float) -> Row:
        """The pin on a place, at the map's edge where it lies beyond."""
        x, y = (min(max(v, a.low), a.high) for v, a in zip((x, y), self.axes, strict=True))
        return {"x": self.x(x), "y": self.y(y), "at": (x, y), "message": (self.describe(0, x), self.describe(1, y))}


def _side(value: float) -> str:
    side = SIDES.get(round(value % 360.0))
    return f" ({side})" if side else ""


def path_of(plot: Plot, line: Line, close: bool = False) -> str:
    """A line as an SVG path."""
    points = [f"{plot.x(x)},{plot.y(y)}" for x, y in line]
    return "M" + "L".join(points) + ("Z" if close else "")


def lines_of(plot: Plot, contours: list[tuple[float, list[Line]]], show: Callable[[float], str]) -> list[Row]:
    """Lines with their labels; every other one is bold."""
    found = []
    for k, (level, lines) in enumerate(contours):
        for line in lines:
            found.append({"d": path_of(plot, line), "bold": k % 2 == 0, "label": _label(plot, line, show(level))})
    return found


def _label(plot: Plot, line: Line, words: str) -> dict[str, object] | None:
    """Where a line's label stands: on its flattest long stretch away from the frame, turned along it; none on a short
    line."""
    points = [(plot.x(x), plot.y(y)) for x, y in line]
    length = sum(hypot(b[0] - a[0], b[1] - a[1]) for a, b in pairwise(points))
    if length < 2.2 * LABEL_ROOM:
        return None
    best: tuple[float, dict[str, object]] | None = None
    for a, b in pairwise(points):
        x, y = (a[0] + b[0]) / 2, (a[1] + b[1]) / 2
        if not (LEFT + EDGE < x < RIGHT - EDGE and TOP + EDGE / 2 < y < FOOT - EDGE / 2):
            continue
        turn = degrees(atan2(b[1] - a[1], b[0] - a[0]))
        turn = turn - 180 if turn > 90 else turn + 180 if turn < -90 else turn
        cost = abs(turn) + 0.12 * abs(x - (LEFT + 0.7 * (RIGHT - LEFT)))
        if best is None or cost < best[0]:
            best = cost, {"x": round(x, 1), "y": round(y, 1), "turn": round(turn), "words": words}
    return best[1] if best else None


def hatched(plot: Plot, found: MapField, least: float) -> str:
    """The area of at least so much as one SVG path, its holes cut by the even-odd rule."""
    return "".join(path_of(plot, part, close=True) for area in beyond(found, least) for part in area)
