"""The numbers of a design that may be otherwise: what each is called, what it is now, and between what it may lie."""

from dataclasses import dataclass
from math import floor, log10

from heat.common.documents import Document
from heat.design import bounds, field_at
from heat.studies.maps import Axis
from heat.studies.next_steps import used
from web.editor.design_page import DesignPage
from web.editor.typed import quantity_of
from web.ui import units

ROOTS = ("plane", "system", "demand")
LEFT_OUT = ("demand.first_weekday",)
"""Numbers that are names of something."""
PART_WORDS = {
    "plane": "plane",
    "demand": "demand",
    "system": "system",
    "supply_pipe": "pipe to the store",
    "return_pipe": "pipe to the collectors",
    "second_collector": "second collectors",
    "second_store": "second store",
    "tankless": "tankless heater",
    "top_element": "top element",
    "draw_coil": "draw coil",
    "control": "controller",
    "collector": "collectors",
    "plate": "plate exchanger",
}
BELOW, ABOVE = 0.4, 2.0
"""Ends of a number's usual range, as shares of what it is."""
TILT, BEARING, AREA = "plane.tilt_deg", "plane.azimuth_deg", "area"


@dataclass(frozen=True)
class Number:
    """A number by path: its part's and its own words, value now, quantity, and usual range (the field's unit)."""

    path: str
    part: str
    words: str
    now: float
    quantity: str
    low: float
    high: float
    step: float
    whole: bool = False

    @property
    def name(self) -> str:
        """What it is called where it stands alone."""
        message = self.part == "plane" or self.part.rstrip("s") in self.words
        return self.words if message else f"{self.part}, {self.words}"


def numbers_of(page: DesignPage) -> dict[str, Number]:
    """Every number of the design that its kind has a use for, by path."""
    found: dict[str, Number] = {}
    for root in ROOTS:
        _gather(page.document, page.document[root], root, found)
    return found


def _gather(document: Document, part: Document, path: str, found: dict[str, Number]) -> None:
    if part.get("fitted") is False:
        return
    for name, value in part.items():
        here = f"{path}.{name}"
        if isinstance(value, dict):
            _gather(document, value, here, found)
        elif isinstance(value, int | float) and not isinstance(value, bool):
            number = _number(here, value) if used(document, here) and here not in LEFT_OUT else None
            if number is not None:
                found[here] = number


def _number(path: str, value: float) -> Number | None:
    title = field_at(path).title
    if not title:
        return None
    low, high = bounds(path)
    part = path.split(".")[-2]
    whole = isinstance(value, int)
    span = max(abs(value), 1.0) if value == 0 else abs(value)
    near, far = (value - span, value + span) if value <= 0 else (BELOW * value, ABOVE * value)
    ends = [near if low is None else max(near, low), far if high is None else min(far, high)]
    if path == TILT:
        ends = [0.0, 90.0]
    if whole:
        ends = [max(value - 3.0, low or 0.0), min(value + 6.0, value + 6.0 if high is None else high)]
    if ends[1] <= ends[0]:
        return None
    words = title[0].lower() + title[1:]
    return Number(
        path,
        PART_WORDS.get(part, part.replace("_", " ")),
        words,
        float(value),
        quantity_of(path),
        ends[0],
        ends[1],
        1.0 if whole or path in (TILT, BEARING) else nice((ends[1] - ends[0]) / 40.0),
        whole,
    )


def nice(step: float) -> float:
    """The round step next to one: 1, 2 or 5 times a power of ten."""
    power = 10.0 ** floor(log10(step))
    return float(min((n * power for n in (1.0, 2.0, 5.0, 10.0)), key=lambda n: abs(n - step)))


def reading(page: DesignPage, text: str, number: Number, usual: float) -> tuple[float, str]:
    """A number as typed in the reader's units, within its field's range, else its usual value and why."""
    if not text.strip():
        return usual, ""
    try:
        value = units.to_core(units.parse_number(text[:20]), number.quantity, page.system)
    except ValueError as error:
        return usual, units.no_number(text, error)
    low, high = (None, None) if number.path == AREA else bounds(number.path)
    if (low is not None and value < low) or (high is not None and value > high):
        return usual, f"Allowed: {page.range_text(number.path)}."
    return value, ""


def at_equator(page: DesignPage) -> float:
    """Where the equator lies from the site (deg)."""
    return 180.0 if page.document["site"]["latitude_deg"] >= 0 else 360.0


def mapped(page: DesignPage) -> dict[str, tuple[Number, Axis]]:
    """What a map can have along or up: tilt, bearing, collector area, and every other number."""
    system = page.document["system"]
    found: dict[str, tuple[Number, Axis]] = {}
    for path, number in numbers_of(page).items():
        fixed = (("plane.on", ""),) if path.startswith("plane.") else ()
        found[path] = (
            number,
            Axis(number.low, number.high, number.step, ((path, 1.0),), fixed=fixed, whole=number.whole),
        )
    toward, now = at_equator(page), page.document["plane"]["azimuth_deg"]
    now = toward + (now - toward + 180.0) % 360.0 - 180.0
    half = 90.0 if abs(now - toward) <= 90.0 else 180.0
    bearing = Number(BEARING, "plane", "bearing", now, "deg", toward - half, toward + half, 1.0)
    found[BEARING] = (
        bearing,
        Axis(toward - half, toward + half, 1.0, ((BEARING, 1.0),), turn=360.0, fixed=(("plane.on", ""),)),
    )
    if "system.collector.count" in found:
        collector, each = system["collector"], page.year.book.design.system.collector
        one = each.total_gross_m2 / each.count
        gross = collector["gross_area_m2"]
        sets = [("system.collector.area_m2", collector["area_m2"] / each.total_gross_m2)]
        if gross:
            sets.append(("system.collector.gross_area_m2", gross / each.total_gross_m2))
        most = max(2.5 * each.total_gross_m2, 4 * one)
        number = Number(AREA, "collectors", "area", each.total_gross_m2, "m2", one, most, one)
        found[AREA] = number, Axis(one, most, one, tuple(sets))
    return found
