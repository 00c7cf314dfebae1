"""The design document: :class:`Design` and all its parts, each field with unit, range and default."""

from heat.design.base import Part, quantity
from heat.design.document import (
    VERSION,
    Design,
    Reckoning,
    allowed_range,
    bounds,
    field_at,
    parse,
    refusals,
    schema,
)
from heat.design.needs import Demand
from heat.design.place import Mains, Plane, Site
from heat.design.system import Collector, Pipe, Store, System

__all__ = [
    "VERSION", "Collector", "Demand", "Design", "Mains", "Part", "Pipe", "Plane", "Reckoning", "Site", "Store",
    "System", "allowed_range", "bounds", "field_at", "parse", "quantity", "refusals", "schema",
]  # fmt: skip
