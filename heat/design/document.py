"""The design document: demand, site, plane, system and controls of one design, valid once made.

Every field carries its unit, its range and a sensible default, so that a new design is complete
from the first moment. Documents are frozen; :func:`refusals` turns pydantic's complaints into
ours, :func:`parse` reads a document of this version.
"""

from copy import deepcopy
from functools import cache, lru_cache
from typing import Any, Literal, get_args

from pydantic import Field, ValidationError, model_validator

from heat.common.documents import Document, Values
from heat.design.base import Part
from heat.design.contradictions import contradiction
from heat.design.money import Money, Offer
from heat.design.needs import Demand
from heat.design.place import Plane, Site
from heat.design.safety import Exposure, Safety
from heat.design.system import System
from heat.design.upgrade import VERSION, stepped
from heat.errors import InputError

ITEM_BOUNDS = {
    "hour_shape": (0.0, 1000.0), "weekend_shape": (0.0, 1000.0), "month_factors": (0.0, 5.0), "monthly_c": (-2.0, 35.0),
    "set_by_month": (10.0, 40.0), "ground_by_month": (0.0, 1.0), "tilt_by_month": (-45.0, 60.0),
}  # fmt: skip
"""Range of each value of a row, in the row's own unit."""
PATHS_CACHED = 2000
"""Paths whose fields are kept: several times the fields of the whole document."""


class Numerics(Part):
    """How finely the year is calculated."""

    layers: int = Field(20, ge=1, le=100, title="Layers of the store", json_schema_extra={"unit": "1"})
    step_minutes: Literal[1, 2, 3, 4, 5, 6, 10, 12, 15] = Field(6, title="Step", json_schema_extra={"unit": "min"})
    inflow: Literal["plug", "stirred"] = Field("plug", title="Cold water enters")
    first_day: int = Field(1, ge=1, le=365, title="Calculated from day", json_schema_extra={"unit": "day"})
    sky: Literal["perez", "haydavies", "isotropic"] = Field("perez", title="Sky model")


PAPER = ("money", "offer", "exposure", "safety")
"""Parts that no year depends on."""


class Design(Part):
    """One design: everything but the weather."""

    version: Literal[4] = 4
    demand: Demand = Demand()
    site: Site = Site()
    plane: Plane = Plane()
    system: System = System()
    numerics: Numerics = Numerics()
    money: Money = Money()
    offer: Offer = Offer()
    exposure: Exposure = Exposure()
    safety: Safety = Safety()

    @model_validator(mode="after")
    def _possible(self) -> "Design":
        found = contradiction(self)
        if found:
            raise ValueError(f"{found[0]}|{found[1]}")
        return self


def refusals(error: ValidationError) -> list[InputError]:
    """Each complaint of pydantic as an InputError: path, value, allowed range with unit (such as °C), way out.

    Parameters
    ----------
    error
        The refusal.

    Returns
    -------
    list[InputError]
        Each complaint of pydantic as an InputError: path, value, allowed range with unit (such as °C), way out.
    """
    found = []
    for item in error.errors():
        path = ".".join(str(p) for p in item["loc"])
        limits = item.get("ctx", {})
        if item["type"] == "value_error":
            inner, _, text = str(limits["error"]).partition("|")
            found.append(InputError(f"{path}.{inner}".strip("."), None, text))
        elif item["type"] == "missing":
            found.append(InputError(path, None, "a value is needed here"))
        elif item["type"] == "extra_forbidden":
            found.append(InputError(path, item["input"], "no such field", "Check its spelling."))
        else:
            found.append(InputError(path, item["input"], allowed_range(path) or item["msg"]))
    return found


@lru_cache(PATHS_CACHED)
def field_at(path: str) -> Any:
    """The pydantic field at a dotted path such as ``system.store.volume_l`` (units in its extras).

    Parameters
    ----------
    path
        Dotted path in the document, such as ``system.store.volume_l``.

    Returns
    -------
    Any
        The pydantic field at a dotted path such as ``system.store.volume_l`` (units in its extras).

    Raises
    ------
    KeyError
        For an unknown path.
    """
    model: Any = Design
    field: Any = None
    for name in path.split("."):
        if name.isdigit() and field is not None:
            items = [a for a in get_args(field.annotation) if hasattr(a, "model_fields")]
            if not items:
                return field
            model = items[0]  # a row of parts, such as the points of a skyline
            continue
        if not hasattr(model, "model_fields") or name not in model.model_fields:
            raise KeyError(path)
        field = model.model_fields[name]
        model = field.annotation
    if field is None:
        raise KeyError(path)
    return field


def bounds(path: str) -> tuple[float | None, float | None]:
    """Lowest and highest allowed value at a path, in the field's own unit (such as L); None where open.

    Parameters
    ----------
    path
        Dotted path in the document, such as ``system.store.volume_l``.

    Returns
    -------
    tuple[float | None, float | None]
        Lowest and highest allowed value at a path, in the field's own unit (such as L); None where open.
    """
    low = high = None
    if path.split(".")[-1].isdigit():
        return ITEM_BOUNDS.get(path.split(".")[-2], (None, None))
    for rule in field_at(path).metadata:
        low = getattr(rule, "ge", None) if getattr(rule, "ge", None) is not None else low
        high = getattr(rule, "le", None) if getattr(rule, "le", None) is not None else high
    return low, high


def allowed_range(path: str) -> str:
    """The allowed range at a path in words, with its unit such as °C; empty where there is none.

    Parameters
    ----------
    path
        Dotted path in the document, such as ``system.store.volume_l``.

    Returns
    -------
    str
        The allowed range at a path in words, with its unit such as °C; empty where there is none.
    """
    try:
        low, high = bounds(path)
        extra = field_at(path).json_schema_extra or {}
    except KeyError:
        return ""
    if low is None or high is None:
        return ""
    unit = extra.get("unit", "1")
    return f"{low:g} to {high:g}" + ("" if unit == "1" else f" {unit}")


def parse(document: Document) -> Design:
    """Read a design document (each number in the unit its schema names, such as W/K).

    One of an earlier version is brought up to this one; one without a number may hold the names of any version.

    Parameters
    ----------
    document
        The design document; numbers in the units its schema names.

    Returns
    -------
    Design
        The design.

    Raises
    ------
    InputError
        For the first value refused.
    HeatError
        For an unknown version.
    """
    if document.get("version") != VERSION:
        document = stepped(document)
    try:
        return Design.model_validate(document)
    except ValidationError as error:
        raise refusals(error)[0] from error


def upgraded(parts: Document) -> Document:
    """A kept document, or some parts of one, as this version writes it: earlier versions stepped up, missing fields
    filled in.

    Numbers in the unit the schema names, such as W/K. Nothing is validated.

    Parameters
    ----------
    parts
        The system's parts as the compiled year reads them.

    Returns
    -------
    Values
        A kept document, or some parts of one, as this version writes it: earlier versions stepped up, missing
        fields filled in.

    Raises
    ------
    HeatError
        For an unknown version.
    """
    return {
        name: _filled(Design.model_fields[name].annotation, value) if name in Design.model_fields else value
        for name, value in stepped(parts).items()
    }


def _filled(kind: Any, value: Any) -> Any:
    """A part with its missing fields at their defaults, all the way down; rows of parts alike."""
    part, row = _shape(kind)
    if part is not None and isinstance(value, dict):
        return {
            **{name: deepcopy(usual) for name, usual in _usual(part).items() if name not in value},
            **value,
            **{name: _filled(inner, value[name]) for name, inner in _inner_parts(part) if name in value},
        }
    if row is not None and isinstance(value, list):
        return [_filled(row, item) for item in value]
    return value


@cache
def _shape(kind: Any) -> tuple[type[Part] | None, type[Part] | None]:
    """The part that a field's type is, and the part that its rows are."""
    if isinstance(kind, type) and issubclass(kind, Part):
        return kind, None
    rows = [row for row in get_args(kind) if isinstance(row, type) and issubclass(row, Part)]
    return None, rows[0] if rows else None


@cache
def _inner_parts(kind: type[Part]) -> tuple[tuple[str, Any], ...]:
    """The fields of a part that hold parts or rows of them, with their types."""
    fields: list[tuple[str, Any]] = [(name, field.annotation) for name, field in kind.model_fields.items()]
    return tuple((name, inner) for name, inner in fields if any(_shape(inner)))


@cache
def _usual(kind: type[Part]) -> Values:
    """A part's defaults as a document holds them; fields that must be given are left out."""
    return kind.model_construct().model_dump(mode="json")


def completed(document: Document) -> Document:
    """A whole document of this version, with the parts it was kept without as they usually are (each value in its
    field's unit, such as %).

    Parameters
    ----------
    document
        The design document; numbers in the units its schema names.

    Returns
    -------
    Values
        A whole document of this version, with the parts it was kept without as they usually are (each value in
        its field's unit, such as %).
    """
    return {**{name: deepcopy(_usual(Design)[name]) for name in PAPER if name not in document}, **document}


def schema() -> Values:
    """JSON Schema of the design document; each field names its unit, such as W/K, under ``unit``."""
    return Design.model_json_schema()
