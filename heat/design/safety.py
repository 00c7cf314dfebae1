"""What safety parts are sized by: wind, snow and height at the place; valves, fixings and measures of a design.

No year depends on them.
"""

from typing import Literal

from pydantic import Field

from heat.design.base import Name, Part, optional, quantity


class Clearance(Part):
    """A distance that was measured, and the least that the local code asks for."""

    name: Name = Field("flue to a window", title="From what to what")
    measured_m: float | None = optional("m", 0, 1000, "Measured")
    limit_m: float | None = optional("m", 0, 1000, "Code asks for")


class Certificate(Part):
    """What a certifier put a name to: which part, by which standard, under which number, when, and where it lies."""

    of: Literal["collector", "store", "controller"] = Field("collector", title="Part")
    number: str = Field("", max_length=60, title="Scheme and number")
    standard: str = Field("", max_length=60, title="Standard")
    dated: str = Field("", max_length=20, title="Dated")
    document: str = Field("", max_length=200, title="Where it is kept")


class Exposure(Part):
    """Wind and snow of the place, as the local code has them."""

    code: Literal["EN", "ASCE"] = Field("EN", title="Wind by")
    wind_m_s: float | None = optional("m/s", 5, 110, "Reference wind")
    terrain: Literal["sea", "open", "suburb", "town"] = Field("suburb", title="Ground around")
    height_m: float = quantity(8, "m", 1, 200, "Collectors above the ground")
    snow_kg_m2: float | None = optional("kg/m2", 0, 2000, "Snow on the ground")
    edge: bool = Field(False, title="Near the roof’s edge, or alone")
    clearances: tuple[Clearance, ...] = Field((), max_length=20, title="Clearances")


class Safety(Part):
    """What a design's safety parts are, where they are not as usual."""

    certificates: tuple[Certificate, ...] = Field((), max_length=12, title="Certificates")
    relief_bar: float = quantity(6, "bar", 1, 20, "Relief valve opens at")
    static_m: float | None = optional("m", 0, 200, "Loop’s top above the vessel")
    vessel_l: float | None = optional("L", 1, 5000, "Vessel that is fitted")
    empties_well: bool = Field(False, title="Collectors empty well when they boil")
    frost_margin_k: float = quantity(5, "delta_degC", 0, 30, "Antifreeze is safe below the design cold by")
    fluid_limit_h: float = quantity(400, "h", 10, 10_000, "Fluid bears, in hours above 120 °C")
    exchanger_kpa: float = quantity(3, "kPa", 0, 200, "Exchanger’s resistance")
    fixings: int = Field(4, ge=1, le=40, title="Fixings of each collector", json_schema_extra={"unit": "1"})
    fixing_kg: float = quantity(120, "kg", 5, 5000, "Each fixing may bear")
    friction: float = quantity(0.4, "1", 0.05, 1.5, "Friction under a weighted frame")
    mixed_c: float = quantity(50, "degC", 35, 65, "Mixing valve set to")
    branch_m: float | None = optional("m", 0, 500, "Longest pipe to a tap")
    branch_bore_mm: float = quantity(13, "mm", 4, 100, "Its bore")
    filter_kg_h: float = quantity(8000, "kg/h", 100, 500_000, "Pool’s filter pump moves")
    rise_mm_m: float = quantity(50, "mm/m", 0, 1000, "Siphon’s pipes rise")
    heat_trap: bool = Field(True, title="Siphon’s pipe dips below the store (heat trap)")
    jacket_open: bool = Field(False, title="Stove’s jacket has an open way to the air")
    radiator_kw: float = quantity(0, "kW", 0, 500, "Radiators that run without power")
