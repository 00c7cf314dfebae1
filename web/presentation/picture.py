"""A picture on a sheet of 676 x 600 (SVG units, y downwards): paths in the order they are drawn, and words."""

from dataclasses import dataclass, field
from html import escape

from django.utils.safestring import SafeString, mark_safe

from heat.ledger.events import CREEP_KG_H
from web.ui.rows import Row

STROKE, PAPER, FINE, RED, RED_LIGHT = "#1A2124", "#F7F1E3", "#625E50", "#AD1220", "#E8BFB3"
SCALE = ("#2D4A5D", "#3F5968", "#516873", "#64787E", "#778889", "#949683", "#B2A47B", "#D0B270", "#EFC061")
GROUND_Y = 510.0
"""The floor of the plant room."""


def colour(celsius: float) -> str:
    """The temperature scale, 10 to 90 °C in nine steps."""
    return SCALE[min(max(int((celsius - 10.0) / 80.0 * 9), 0), 8)]


def spread_labels(places: list[float], room: float, top: float, foot: float) -> list[float]:
    """Heights of labels, given from the top down, heights so that each has room and all stand between top and foot."""
    heights: list[float] = []
    for y in places:
        heights.append(max(y, heights[-1] + room if heights else top))
    for i in range(len(heights) - 1, -1, -1):  # pushed up again from the foot
        heights[i] = min(heights[i], foot - room * (len(heights) - 1 - i))
    return heights


def drawn(shapes: list[Row]) -> SafeString:
    """The shapes as SVG."""
    return mark_safe("".join(map(_path, shapes)))


def _path(shape: Row) -> str:
    given = {
        "d": shape["d"],
        "fill": shape["fill"],
        "stroke": shape["stroke"],
        "stroke-width": shape["width"],
        "stroke-linejoin": "round",
        "stroke-dasharray": shape["dash"],
        "data-of": shape["of"],
        "visibility": "hidden" if shape["hidden"] else "",
    }
    return "<path" + "".join(f' {name}="{escape(str(value))}"' for name, value in given.items() if value != "") + "/>"


@dataclass(frozen=True)
class Lettering:
    """A word on a drawing: where, what, in which class, and which end of it stands there."""

    x: float
    y: float
    text: str
    style: str
    anchor: str


@dataclass
class Picture:
    """Paths in the order they are drawn, and words over them."""

    shapes: list[dict[str, object]] = field(default_factory=list)
    words: list[Lettering] = field(default_factory=list)

    def line(
        self,
        d: str,
        width: float = 1.5,
        stroke: str = STROKE,
        fill: str = "none",
        dash: str = "",
        of: str = "",
        hidden: bool = False,
    ) -> None:
        """``of``: what moves it when the hours are played, such as the temperature it is coloured by."""
        self.shapes.append(
            {"d": d, "width": width, "stroke": stroke, "fill": fill, "dash": dash, "of": of, "hidden": hidden}
        )

    def arrow(self, x: float, y: float, way: str, of: str, on: bool) -> None:
        """A flow arrow on a pipe, seen only while it flows. ``way``: the letter of up, down, left, right."""
        along = {"u": (0, -1), "d": (0, 1), "l": (-1, 0), "r": (1, 0)}[way]
        across = (-along[1], along[0])
        point = lambda a, b: f"{x + a * along[0] + b * across[0]:.1f},{y + a * along[1] + b * across[1]:.1f}"
        d = f"M{point(10, 0)}L{point(-8, 8)}L{point(-4, 0)}L{point(-8, -8)}z"
        self.line(d, 1.2, PAPER, STROKE, of=of, hidden=not on)

    def flows(self, x: float, y: float, way: str, flow: float) -> None:
        """Arrows of a loop that may also flow backwards (kg/h); one that only creeps shows none."""
        self.arrow(x, y, way, "forward", flow > CREEP_KG_H)
        self.arrow(x, y, {"u": "d", "d": "u", "l": "r", "r": "l"}[way], "backward", flow < -CREEP_KG_H)

    def pipe(self, d: str, fill: str, of: str = "") -> None:
        self.line(d, 7)
        self.line(d, 4.4, fill, of=of)

    def box(
        self,
        x: float,
        y: float,
        w: float,
        h: float,
        fill: str = PAPER,
        stroke: str = STROKE,
        width: float = 1.5,
        of: str = "",
    ) -> None:
        self.line(f"M{x:.1f},{y:.1f}h{w:.1f}v{h:.1f}h{-w:.1f}z", width, stroke, fill, of=of)

    def disc(
        self, x: float, y: float, r: float, fill: str = PAPER, stroke: str = STROKE, width: float = 1.6, of: str = ""
    ) -> None:
        self.line(f"M{x - r:.1f},{y:.1f}a{r},{r} 0 1 0 {2 * r},0a{r},{r} 0 1 0 {-2 * r},0z", width, stroke, fill, of=of)

    def word(self, x: float, y: float, text: str, style: str = "", anchor: str = "start") -> None:
        self.words.append(Lettering(round(x, 1), round(y, 1), text, style, anchor))
