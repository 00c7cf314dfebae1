"""Values of a part as blanks of a form, in the reader's units: for forms that are sent whole."""

from dataclasses import dataclass
from typing import Any, get_args, get_origin

from heat.design.base import Part
from web.ui import units

WORDS = {
    "gross": "gross area",
    "aperture": "aperture area",
    "absorber": "absorber area",
    "mean": "mean fluid temperature",
    "inlet": "inlet temperature",
    "b0": "factor b0",
    "table": "a table",
    "biaxial": "along and across tubes",
    "glass": "glass does",
    "straight": "a straight line",
    "by_sun": "by the sun",
    "fixed": "at fixed speed",
    "variable": "at variable speed",
}


@dataclass(frozen=True)
class Blank:
    """One value to fill in: name, label, kind (number, switch, choice, row), text, unit, range, choices, refusal."""

    name: str
    label: str
    kind: str
    text: str
    sign: str
    range_text: str
    choices: tuple[tuple[str, str], ...] = ()
    refusal: str = ""


def field_of(part: type[Part], name: str) -> Any:
    """The pydantic field of a part at a dotted name."""
    *parents, last = name.split(".")
    for parent in parents:
        part = part.model_fields[parent].annotation  # type: ignore[assignment]
    return part.model_fields[last]


def _bounds(item: Any) -> tuple[float | None, float | None]:
    low = high = None
    for rule in (*item.metadata, *(m for a in get_args(item.annotation) for m in getattr(a, "metadata", ()))):
        low = getattr(rule, "ge", low) if getattr(rule, "ge", None) is not None else low
        high = getattr(rule, "le", high) if getattr(rule, "le", None) is not None else high
    return low, high


def _quantity(item: Any) -> str:
    return (item.json_schema_extra or {}).get("unit", "1")


def blank(part: type[Part], name: str, value: Any, system: str, typed: str | None = None, refusal: str = "") -> Blank:
    """The blank of a part's value; ``typed`` stands instead of the value where it was refused."""
    item = field_of(part, name)
    quantity = _quantity(item)
    options = get_args(item.annotation) if get_origin(item.annotation) is not None else ()
    words = [o for o in options if isinstance(o, str)]
    low, high = _bounds(item)
    allowed = ""
    if low is not None and high is not None:
        allowed = f"{units.field_text(low, quantity, system)} to {units.field_text(high, quantity, system)}"
    group = ".".join(name.split(".")[:-1])
    label = f"{group.capitalize()}: {item.title.lower()}" if group and item.title else item.title or name
    if item.annotation is bool:
        return Blank(name, label, "switch", typed if typed is not None else ("1" if value else ""), "", "", (), refusal)
    if words:
        choices = tuple((w, WORDS.get(w, w.replace("_", " "))) for w in words)
        return Blank(name, label, "choice", typed if typed is not None else str(value), "", "", choices, refusal)
    if isinstance(value, list | tuple):
        return Blank(
            name,
            label,
            "row",
            typed if typed is not None else " ".join(f"{v:g}" for v in value),
            "",
            "ten numbers",
            (),
            refusal,
        )
    text = "" if value is None else units.field_text(value, quantity, system)
    return Blank(
        name,
        label,
        "number",
        typed if typed is not None else text,
        units.unit_of(quantity, system).sign,
        allowed,
        (),
        refusal,
    )


def read_blank(part: type[Part], name: str, text: str, system: str) -> Any:
    """The value of a filled-in blank; None for an empty one. Raises ValueError with the words for the page."""
    item = field_of(part, name)
    if item.annotation is bool:
        return text == "1"
    options = get_args(item.annotation) if get_origin(item.annotation) is not None else ()
    if any(isinstance(o, str) for o in options):
        return text
    if not text.strip():
        return None
    try:
        if "tuple" in str(item.annotation):
            return [units.parse_number(p) for p in text.replace(";", " ").split()]
        return units.to_core(units.parse_number(text), _quantity(item), system)
    except ValueError as error:
        raise ValueError(units.no_number(text, error)) from error
