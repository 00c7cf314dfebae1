"""The design document: :class:`Design` and all its parts, each field with unit, range and default."""

from heat.design.base import Part, quantity
from heat.design.document import (
    PAPER,
    Design,
    Numerics,
    allowed_range,
    bounds,
    completed,
    field_at,
    parse,
    refusals,
    schema,
    upgraded,
)
from heat.design.needs import Demand
from heat.design.place import Mains, Plane, Site
from heat.design.system import Collector, Pipe, Store, System
from heat.design.upgrade import VERSION, current_path, current_values

__all__ = [
    "PAPER",
    "VERSION",
    "Collector",
    "Demand",
    "Design",
    "Mains",
    "Numerics",
    "Part",
    "Pipe",
    "Plane",
    "Site",
    "Store",
    "System",
    "allowed_range",
    "bounds",
    "completed",
    "current_path",
    "current_values",
    "field_at",
    "parse",
    "quantity",
    "refusals",
    "schema",
    "upgraded",
]
