"""One editable value as the page shows it: text, unit, range, choices, refusal."""

from dataclasses import dataclass
from typing import Any

from web.ui import units
from web.ui.calendar import day_text


@dataclass(frozen=True)
class Refusal:
    """A value not taken: what was typed, why, and (for two tabs) what it became elsewhere."""

    typed: str
    message: str
    conflict: bool = False
    current: str = ""
    ways_out: tuple[tuple[str, str], ...] = ()
    words: str = "not taken"
    forced: bool = False
    """Whether its ways out are taken against a warning."""


@dataclass(frozen=True)
class Field:
    """One editable value as the template draws it."""

    path: str
    label: str
    kind: str  # number, text, choice, switch, pairs
    text: str
    expected: str
    sign: str
    low: str = ""
    high: str = ""
    step: str = ""
    choices: tuple[tuple[str, str], ...] = ()
    refusal: Refusal | None = None
    empty: bool = False
    none: str = "calculated"
    closed: bool = False
    """Not the reader's to change."""


CHOICE_WORDS = {
    "": "as the first design has it",
    "by_name": "by its name",
    "gross": "gross area",
    "aperture": "aperture area",
    "absorber": "absorber area",
    "calculated": "calculated from the air",
    "percent": "a share of the cost",
    "sum": "a fixed amount",
    "per_m2": "an amount per m² of collectors",
    "per_kwh": "an amount per kWh of yield",
    "monthly": "twelve months typed",
    "wave": "a yearly wave",
    "perez": "Perez",
    "haydavies": "Hay-Davies",
    "isotropic": "isotropic",
    "shape": "the shape below",
    "M": "EU profile M, 5.8 kWh a day",
    "L": "EU profile L, 11.7 kWh a day",
    "person": "by person",
    "fixtures": "by fixture",
    "loss": "its loss coefficient",
    "fuel": "last year’s fuel",
    "roof": "roof face",
    "wall": "wall",
    "ground": "ground rack",
    "awning": "awning",
    "flat_roof": "flat roof",
    "by_kind": "as its kind does",
    "all_stirred": "all stirred",
    "unmixed": "unmixed",
    "quiet": "Smith and Löf 1994, quiet",
    "busy": "ASHRAE, in use",
    "standard": "ISO/TR 12596",
    "store": "store",
    "collectors": "collectors",
    "timetable": "a timetable",
    "rooms": "the rooms’ need",
    "thermosiphon": "its own weight",
    "pump": "a pump",
    "after": "after the first",
    "before": "before the first",
    "beside": "side by side",
    "preheat": "preheat",
    "direct": "direct",
    "bypass": "bypass",
    "stainless": "stainless steel",
    "glass": "glass does",
    "straight": "a straight line",
    "plug": "as a plug",
    "stirred": "stirring each layer",
}


def pairs_text(value: Any, names: tuple[str, str], quantities: tuple[str, str], system: str) -> str:
    """Points as they are typed: two numbers each, parted by commas, in the reader's units; so decimals have a point."""
    with units.written("point"):
        return ", ".join(
            " ".join(units.field_text(point[n], q, system) for n, q in zip(names, quantities, strict=True))
            for point in value
        )


def spans_text(value: Any) -> str:
    """Spans of days as they are typed."""
    return ", ".join(f"{day_text(first)} - {day_text(last)}" for first, last in value)


def expected_text(value: Any) -> str:
    """A value of the document as the page hands it back, to notice changes made elsewhere."""
    return repr(value)


HEIGHT_WORDS = {
    "coil.top_share": "coil, upper end",
    "coil.bottom_share": "coil, lower end",
    "jacket.top_share": "jacket, upper end",
    "jacket.bottom_share": "jacket, lower end",
    "loop.in_share": "port in",
    "loop.out_share": "port out",
    "draw_coil.top_share": "draw coil, upper end",
    "draw_coil.bottom_share": "draw coil, lower end",
    "control.sensor_share": "sensor",
    "control.limit_sensor_share": "limit sensor",
    "element.height_share": "element",
    "element.sensor_share": "element's thermostat",
    "top_element.height_share": "top element",
    "top_element.sensor_share": "top element's thermostat",
    "boiler.height_share": "boiler's coil",
    "boiler.sensor_share": "boiler's thermostat",
    "stove.height_share": "stove's flow",
    "stove.out_share": "to the stove",
    "second.out_share": "to the second circuit",
    "second.in_share": "back from the second circuit",
    "heating.out_share": "to the rooms",
    "heating.in_share": "back from the rooms",
}
"""What sits at each height, by the end of its path."""


def height_words(path: str) -> str:
    """What sits at the height a path holds."""
    return HEIGHT_WORDS.get(".".join(path.split(".")[-2:]), "not taken")
