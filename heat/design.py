"""The design document: demand, site, plane, system and controls of one design, valid once made.

Every field carries its unit, its range and a sensible default, so that a new design is complete
from the first moment. Documents are frozen; :func:`refusals` turns pydantic's complaints into
ours, :func:`parse` reads a document of this version.
"""

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError, model_validator

from heat.errors import HeatError, InputError

VERSION = 1


def quantity(default: Any, unit: str, low: float, high: float, title: str) -> Any:
    """A field with its unit (such as "W/K"), inclusive range (in that unit) and title."""
    return Field(default, ge=low, le=high, title=title, json_schema_extra={"unit": unit})


class Part(BaseModel):
    """Base of every part: frozen, no unknown fields, no NaN or infinity."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)


Weight = Annotated[float, Field(ge=0, le=1000)]
Celsius = Annotated[float, Field(ge=-2, le=35)]
Share = Annotated[float, Field(ge=0, le=1)]

EVENING_AND_MORNING = (
    0, 0, 0, 0, 0, 1, 8, 12, 8, 5, 4, 4, 5, 4, 3, 3, 4, 6, 10, 9, 6, 4, 3, 1,
)  # fmt: skip


class Demand(Part):
    """Hot water wanted at the tap."""

    people: float = quantity(4, "1", 0.5, 500, "People")
    litres_per_person_day: float = quantity(45, "L", 1, 300, "Hot water per person and day")
    tap_c: float = quantity(45, "degC", 30, 65, "Temperature at the tap")
    hour_shape: tuple[Weight, ...] = Field(
        EVENING_AND_MORNING,
        min_length=24,
        max_length=24,
        title="Shape of the day",
        json_schema_extra={"unit": "1"},
    )

    @model_validator(mode="after")
    def _some_water(self) -> "Demand":
        if sum(self.hour_shape) <= 0:
            raise ValueError("hour_shape|some hour of the day must draw water")
        return self

    @property
    def litres_per_day(self) -> float:
        return self.people * self.litres_per_person_day


class Mains(Part):
    """Cold water: reckoned from the air, twelve months typed, or a yearly wave."""

    source: Literal["reckoned", "monthly", "wave"] = Field("reckoned", title="Mains temperature")
    monthly_c: tuple[Celsius, ...] = Field(
        (7, 7, 8, 9, 12, 14, 16, 16, 15, 13, 10, 8),
        min_length=12,
        max_length=12,
        title="Mains by month",
        json_schema_extra={"unit": "degC"},
    )
    mean_c: float = quantity(13, "degC", 0, 30, "Mean over the year")
    swing_c: float = quantity(6, "delta_degC", 0, 15, "Half the yearly range")
    coldest_day: float = quantity(35, "day", 0, 365, "Coldest day of the year")


class Site(Part):
    """The place."""

    latitude_deg: float = quantity(46.4, "deg", -66, 66, "Latitude, north positive")
    longitude_deg: float = quantity(-11.6, "deg", -180, 180, "Longitude, east positive")
    elevation_m: float = quantity(20, "m", -430, 5500, "Elevation")
    ground_reflectance: float = quantity(0.2, "1", 0, 0.9, "Ground reflects")
    mains: Mains = Mains()


class Plane(Part):
    """Where the collectors lie."""

    tilt_deg: float = quantity(40, "deg", 0, 90, "Tilt from horizontal")
    azimuth_deg: float = quantity(180, "deg", 0, 360, "True azimuth, clockwise from north")


class Collector(Part):
    """Like collectors side by side, rated by test (ISO 9806:2017) on the area named."""

    count: int = Field(2, ge=1, le=500, title="Number of collectors", json_schema_extra={"unit": "1"})
    area_m2: float = quantity(2.3, "m2", 0.2, 30, "Area of each")
    area_basis: Literal["gross", "aperture", "absorber"] = Field("gross", title="Area is")
    gross_area_m2: float | None = Field(
        None, ge=0.2, le=30, title="Gross area of each", json_schema_extra={"unit": "m2"}
    )
    eta0: float = quantity(0.75, "1", 0.1, 0.95, "Zero-loss efficiency")
    a1_w_m2k: float = quantity(3.6, "W/m2/K", 0.3, 30, "Heat loss, linear (a1)")
    a2_w_m2k2: float = quantity(0.014, "W/m2/K2", 0, 0.2, "Heat loss, quadratic (a2)")
    a5_kj_m2k: float = quantity(7.0, "kJ/m2/K", 0, 100, "Thermal capacity (a5)")
    iam_b0: float = quantity(0.12, "1", 0, 0.6, "Incidence factor (b0)")
    iam_diffuse: float = quantity(0.9, "1", 0.3, 1.2, "Diffuse incidence factor")

    @property
    def total_area_m2(self) -> float:
        return self.count * self.area_m2

    @property
    def total_gross_m2(self) -> float:
        return self.count * (self.gross_area_m2 or self.area_m2)


class Pipe(Part):
    """One pipe run between collector and store."""

    length_m: float = quantity(12, "m", 0, 300, "Length")
    outer_diameter_mm: float = quantity(18, "mm", 6, 120, "Outer diameter")
    wall_mm: float = quantity(1, "mm", 0.3, 12, "Wall")
    insulation_mm: float = quantity(19, "mm", 0, 120, "Insulation")
    insulation_w_mk: float = quantity(0.040, "W/m/K", 0.015, 0.2, "Insulation, conductivity")
    outdoors: bool = Field(False, title="Runs outdoors")
    loss_w_k: float | None = Field(None, ge=0, le=200, title="Loss, if known", json_schema_extra={"unit": "W/K"})
    contents_l: float | None = Field(None, ge=0, le=500, title="Contents, if known", json_schema_extra={"unit": "L"})

    @model_validator(mode="after")
    def _bore(self) -> "Pipe":
        if 2 * self.wall_mm >= self.outer_diameter_mm:
            raise ValueError("wall_mm|the wall must be thinner than half the outer diameter")
        return self


class Loop(Part):
    """Fluid, pump and pipes."""

    glycol_percent: float = quantity(40, "percent", 0, 60, "Propylene glycol by volume")
    heat_capacity_j_kgk: float | None = Field(
        None, ge=1500, le=4500, title="Heat capacity, if known",
        json_schema_extra={"unit": "J/kg/K"},
    )  # fmt: skip
    flow_kg_h: float = quantity(200, "kg/h", 5, 50_000, "Flow")
    pump_w: float = quantity(25, "W", 0, 5000, "Pump draws")
    supply_pipe: Pipe = Pipe()
    return_pipe: Pipe = Pipe()


class Coil(Part):
    """Coil inside the store; its hot side flows downwards."""

    ua_w_k: float = quantity(350, "W/K", 5, 50_000, "Coil, heat transfer")
    bottom_share: Share = Field(0.0, title="Lower end, share of height")
    top_share: Share = Field(0.35, title="Upper end, share of height")

    @model_validator(mode="after")
    def _span(self) -> "Coil":
        if self.top_share - self.bottom_share < 0.02:
            raise ValueError("top_share|the upper end must lie at least 0.02 of the height above the lower end")
        return self


class Control(Part):
    """Differential controller."""

    on_k: float = quantity(7, "delta_degC", 1, 30, "Pump on at")
    off_k: float = quantity(3, "delta_degC", 0.2, 25, "Pump off at")
    sensor_share: Share = Field(0.0, title="Store sensor, share of height")
    store_limit_c: float = quantity(85, "degC", 30, 110, "Store limit")
    limit_sensor_share: Share = Field(1.0, title="Limit sensor, share of height")
    release_k: float = quantity(3, "delta_degC", 0, 20, "Limit releases after a fall of")
    stop_without_gain: bool = Field(True, title="Pump stops when the collector returns no heat")
    collector_limit_c: float = quantity(130, "degC", 80, 300, "No start above")

    @model_validator(mode="after")
    def _hysteresis(self) -> "Control":
        if self.off_k >= self.on_k:
            raise ValueError("off_k|the pump must stop at a smaller difference than it starts at")
        return self


class Store(Part):
    """The storage tank."""

    volume_l: float = quantity(300, "L", 50, 100_000, "Volume")
    loss_w_k: float = quantity(2.0, "W/K", 0, 500, "Heat loss, UA")
    height_to_width: float = quantity(2.2, "1", 0.3, 8, "Height to width")
    room_c: float = quantity(18, "degC", -20, 45, "Room")
    start_c: float = quantity(20, "degC", 1, 95, "On 1 January")
    conductivity_w_mk: float = quantity(1.0, "W/m/K", 0, 20, "Conduction down the tank, water and wall")


class Tankless(Part):
    """Instantaneous heater after the store."""

    fitted: bool = Field(True, title="Fitted")
    power_kw: float = quantity(21, "kW", 0.5, 500, "Power")
    efficiency: float = quantity(0.92, "1", 0.2, 5, "Efficiency")
    price_kwh: float = quantity(0.14, "1/kWh", 0, 10, "Price of its energy")
    co2_kg_kwh: float = quantity(0.21, "kg/kWh", 0, 3, "CO2 of its energy")


class Element(Part):
    """Electric element in the store."""

    fitted: bool = Field(False, title="Fitted")
    power_kw: float = quantity(3, "kW", 0.1, 500, "Power")
    height_share: Share = Field(0.55, title="Element, share of height")
    sensor_share: Share = Field(0.65, title="Thermostat, share of height")
    set_c: float = quantity(55, "degC", 30, 90, "Set point")
    hysteresis_k: float = quantity(4, "delta_degC", 0.5, 20, "Hysteresis")
    hours_on: tuple[bool, ...] = Field(
        (True,) * 24,
        min_length=24,
        max_length=24,
        title="Hours it may heat",
        json_schema_extra={"unit": "1"},
    )
    price_kwh: float = quantity(0.28, "1/kWh", 0, 10, "Price of its energy")
    co2_kg_kwh: float = quantity(0.35, "kg/kWh", 0, 3, "CO2 of its energy")


class Backup(Part):
    """What is bought when the sun does not carry the day."""

    tankless: Tankless = Tankless()
    element: Element = Element()
    pump_price_kwh: float = quantity(0.28, "1/kWh", 0, 10, "Price of pump electricity")
    pump_co2_kg_kwh: float = quantity(0.35, "kg/kWh", 0, 3, "CO2 of pump electricity")


class System(Part):
    """A pumped closed loop with an internal coil."""

    kind: Literal["pumped_coil"] = Field("pumped_coil", title="Scheme")
    collector: Collector = Collector()
    loop: Loop = Loop()
    coil: Coil = Coil()
    control: Control = Control()
    store: Store = Store()
    tempering_valve: bool = Field(True, title="Tempering valve")
    backup: Backup = Backup()


class Reckoning(Part):
    """How finely the year is reckoned."""

    layers: int = Field(20, ge=1, le=100, title="Layers of the store", json_schema_extra={"unit": "1"})
    step_minutes: Literal[1, 2, 3, 4, 5, 6, 10, 12, 15] = Field(6, title="Step", json_schema_extra={"unit": "min"})
    inflow: Literal["plug", "stirred"] = Field("plug", title="Cold water enters")
    sky: Literal["perez", "haydavies", "isotropic"] = Field("perez", title="Sky model")


class Design(Part):
    """One design: everything but the weather."""

    version: Literal[1] = 1
    demand: Demand = Demand()
    site: Site = Site()
    plane: Plane = Plane()
    system: System = System()
    reckoning: Reckoning = Reckoning()


def refusals(error: ValidationError) -> list[InputError]:
    """Each complaint of pydantic as an InputError: path, value, allowed range with unit (such as °C),
    way out."""
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


def field_at(path: str) -> Any:
    """The pydantic field at a dotted path such as ``system.store.volume_l`` (units in its extras).

    Raises KeyError for an unknown path.
    """
    model: Any = Design
    field: Any = None
    for name in path.split("."):
        if name.isdigit() and field is not None:
            return field
        if not hasattr(model, "model_fields") or name not in model.model_fields:
            raise KeyError(path)
        field = model.model_fields[name]
        model = field.annotation
    if field is None:
        raise KeyError(path)
    return field


def bounds(path: str) -> tuple[float | None, float | None]:
    """Lowest and highest allowed value at a path, in the field's own unit (such as L); None where open."""
    low = high = None
    if path.split(".")[-1].isdigit():
        item = {"hour_shape": (0.0, 1000.0), "monthly_c": (-2.0, 35.0)}
        return item.get(path.split(".")[-2], (None, None))
    for rule in field_at(path).metadata:
        low = getattr(rule, "ge", None) if getattr(rule, "ge", None) is not None else low
        high = getattr(rule, "le", None) if getattr(rule, "le", None) is not None else high
    return low, high


def allowed_range(path: str) -> str:
    """The allowed range at a path in words, with its unit such as °C; empty where there is none."""
    try:
        low, high = bounds(path)
        extra = field_at(path).json_schema_extra or {}
    except KeyError:
        return ""
    if low is None or high is None:
        return ""
    unit = extra.get("unit", "1")
    return f"{low:g} to {high:g}" + ("" if unit == "1" else f" {unit}")


def parse(document: dict[str, Any]) -> Design:
    """Read a design document (each number in the unit its schema names, such as W/K).

    Raises InputError for the first value refused, HeatError for an unknown version.
    """
    if document.get("version", VERSION) != VERSION:
        raise HeatError(
            f"version: this document is version {document['version']!r}; this engine reads version {VERSION}."
        )
    try:
        return Design.model_validate(document)
    except ValidationError as error:
        raise refusals(error)[0] from error


def schema() -> dict[str, Any]:
    """JSON Schema of the design document; each field names its unit, such as W/K, under ``unit``."""
    return Design.model_json_schema()


if __name__ == "__main__":
    import json

    print(json.dumps(schema(), indent=1, ensure_ascii=False))
