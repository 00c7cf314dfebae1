"""The system: how it works, and every part it can have. Parts a scheme has no use for keep their values."""

from itertools import pairwise
from typing import Annotated, Literal

from pydantic import Field, model_validator

from heat.design.backup import Backup
from heat.design.base import ALL_DAY, LayerCelsius, Modifier, Part, Share, optional, quantity, rows
from heat.design.schemes import SCHEMES, Kind, Scheme


class Collector(Part):
    """Like collectors side by side, rated by test (ISO 9806:2017) on the area named."""

    count: int = Field(2, ge=1, le=500, title="Number of collectors", json_schema_extra={"unit": "1"})
    area_m2: float = quantity(2.3, "m2", 0.2, 30, "Area of each")
    area_basis: Literal["gross", "aperture", "absorber"] = Field("gross", title="Area is")
    gross_area_m2: float | None = optional("m2", 0.2, 30, "Gross area of each")
    eta0: float = quantity(0.75, "1", 0.1, 0.95, "Zero-loss efficiency (η0, from the data sheet)")
    a1_w_m2k: float = quantity(3.6, "W/m2/K", 0.3, 30, "Heat loss, linear (a1, from the data sheet)")
    a2_w_m2k2: float = quantity(0.014, "W/m2/K2", 0, 0.2, "Heat loss, quadratic (a2, from the data sheet)")
    a3_j_m3k: float = quantity(0, "J/m3/K", 0, 10, "Wind on heat loss (a3)")
    a4: float = quantity(0, "1", 0, 1, "Sky exchange (a4)")
    a5_kj_m2k: float = quantity(7.0, "kJ/m2/K", 0, 100, "Thermal capacity (a5, from the data sheet)")
    a6_s_m: float = quantity(0, "s/m", 0, 0.2, "Wind on zero-loss efficiency (a6)")
    rating: Literal["mean", "inlet"] = Field("mean", title="Rated about")
    test_flow_kg_h_m2: float = quantity(72, "kg/h/m2", 5, 300, "Flow of the test")
    iam: Literal["b0", "table", "biaxial"] = Field("b0", title="Incidence given as")
    iam_b0: float = quantity(0.12, "1", 0, 0.6, "Incidence factor (b0, from the data sheet)")
    iam_beyond: Literal["glass", "straight"] = Field("glass", title="Beyond 60 deg it falls as")
    iam_table: tuple[Modifier, ...] = rows(
        (1, 1, 0.99, 0.98, 0.96, 0.92, 0.84, 0.68, 0.36, 0), "1", 10, "Incidence at 0, 10 ... 90 deg"
    )
    iam_across: tuple[Modifier, ...] = rows(
        (1, 1.01, 1.03, 1.08, 1.16, 1.24, 1.30, 1.20, 0.75, 0), "1", 10, "Across the tubes at 0, 10 ... 90 deg"
    )
    iam_diffuse: float = quantity(0.9, "1", 0.3, 1.5, "Diffuse incidence factor")
    diffuse_calculated: bool = Field(False, title="Diffuse factor calculated from the incidence curve")
    tubes: Literal["up", "across"] = Field("up", title="Tubes run")
    trough: bool = Field(False, title="Concentrating trough")
    acceptance_deg: float = quantity(10, "deg", 1, 60, "Accepts within")
    tubes_inside: int = Field(8, ge=1, le=60, title="Tubes side by side inside", json_schema_extra={"unit": "1"})
    tube_bore_mm: float = quantity(8, "mm", 3, 60, "Their bore")
    tube_length_m: float | None = optional("m", 0.2, 500, "True length of each, where it winds")
    in_series: int | None = Field(
        None, ge=1, le=500, title="Collectors one after the other", json_schema_extra={"unit": "1"}
    )
    manifold: bool = Field(False, title="Fluid passes a header at the top only")

    @property
    def total_area_m2(self) -> float:
        """Rated area of all collectors (m²)."""
        return self.count * self.area_m2

    @property
    def total_gross_m2(self) -> float:
        """Gross area of all collectors (m²)."""
        return self.count * (self.gross_area_m2 or self.area_m2)


class SecondCollector(Collector):
    """Unlike collectors that follow in series, on the same plane."""

    fitted: bool = Field(False, title="Fitted")
    count: int = Field(1, ge=1, le=500, title="Number of collectors", json_schema_extra={"unit": "1"})


class Pipe(Part):
    """One pipe run between collector and store."""

    length_m: float = quantity(12, "m", 0, 300, "Length")
    material: Literal["copper", "steel", "plastic"] = Field("copper", title="Material")
    outer_diameter_mm: float = quantity(18, "mm", 6, 120, "Outer diameter")
    wall_mm: float = quantity(1, "mm", 0.3, 12, "Wall")
    insulation_mm: float = quantity(19, "mm", 0, 120, "Insulation")
    insulation_w_mk: float = quantity(0.040, "W/m/K", 0.015, 0.2, "Insulation, conductivity")
    outdoors: bool = Field(False, title="Runs outdoors")
    buried: bool = Field(False, title="Runs in the ground")
    depth_m: float = quantity(0.6, "m", 0.05, 5, "Depth in the ground")
    loss_w_k: float | None = optional("W/K", 0, 200, "Loss, if known")
    contents_l: float | None = optional("L", 0, 500, "Contents, if known")

    @model_validator(mode="after")
    def _bore(self) -> "Pipe":
        if 2 * self.wall_mm >= self.outer_diameter_mm:
            raise ValueError("wall_mm|the wall must be thinner than half the outer diameter")
        return self


class CurvePoint(Part):
    """A point of a pump's curve."""

    flow_kg_h: float = quantity(0, "kg/h", 0, 200_000, "Flow")
    head_m: float = quantity(0, "m", 0, 200, "Head")


class Drive(Part):
    """What the pump does beyond on and off."""

    curve: tuple[CurvePoint, ...] = Field((), max_length=20, title="Pump's curve")

    rule: Literal["fixed", "variable", "by_sun"] = Field("fixed", title="Pump runs")
    least_share: float = quantity(0.3, "1", 0.05, 1, "Slowest, share of the flow")
    target_k: float = quantity(10, "delta_degC", 2, 40, "Full flow at a lead of")
    sun_starts_w_m2: float = quantity(150, "W/m2", 0, 800, "By sun: starts at")
    sun_full_w_m2: float = quantity(700, "W/m2", 100, 1200, "By sun: full flow at")
    lift_w: float = quantity(60, "W", 0, 5000, "Draws while it fills the collectors")
    fill_minutes: float = quantity(3, "min", 0, 30, "Fills in")

    @model_validator(mode="after")
    def _ramp(self) -> "Drive":
        if self.sun_full_w_m2 <= self.sun_starts_w_m2:
            raise ValueError("sun_full_w_m2|full flow needs more sun than the start")
        if len(self.curve) == 1:
            raise ValueError("curve|a curve needs two points at least, or none")
        for a, b in pairwise(self.curve):
            if b.flow_kg_h <= a.flow_kg_h or b.head_m >= a.head_m:
                raise ValueError("curve|from point to point the flow must rise and the head must fall")
        if self.curve and (self.curve[0].head_m < 0.1 or self.curve[-1].flow_kg_h < 10):
            raise ValueError("curve|it must begin with some head and reach a flow worth pumping")
        return self


class Geometry(Part):
    """Heights and passages, where weight moves the water."""

    store_bottom_m: float | None = optional("m", -50, 20, "Store's bottom above the collectors' upper edge")
    fittings: float = quantity(8, "1", 0, 200, "Fittings, sum of loss coefficients")
    exchanger_m: float = quantity(0.6, "m", 0.1, 4, "Passive exchanger, height")
    exchanger_bore_mm: float = quantity(18, "mm", 5, 120, "Passive exchanger's pipe, bore")
    exchanger_run_m: float = quantity(3, "m", 0.2, 30, "Passive exchanger's pipe, length")


class Loop(Part):
    """Fluid, pump and pipes."""

    glycol_percent: float = quantity(40, "percent", 0, 60, "Propylene glycol by volume")
    heat_capacity_j_kgk: float | None = optional("J/kg/K", 1500, 4500, "Heat capacity, if known")
    flow_kg_h: float = quantity(200, "kg/h", 5, 50_000, "Flow")
    pump_w: float = quantity(25, "W", 0, 5000, "Pump draws")
    check_valve: bool = Field(True, title="Check valve")
    drive: Drive = Drive()
    geometry: Geometry = Geometry()
    supply_pipe: Pipe = Pipe()
    return_pipe: Pipe = Pipe()
    out_share: Share = Field(0.0, title="Leaves the store at, height (0 bottom, 1 top)")
    in_share: Share = Field(0.9, title="Enters the store at, height (0 bottom, 1 top)")
    layering: bool = Field(False, title="Layering inlet")


class Coil(Part):
    """Coil inside the store; its hot side flows downwards."""

    ua_w_k: float = quantity(350, "W/K", 5, 50_000, "Coil, heat transfer")
    bottom_share: Share = Field(0.0, title="Lower end, height (0 bottom, 1 top)")
    top_share: Share = Field(0.35, title="Upper end, height (0 bottom, 1 top)")
    free_convection: bool = Field(False, title="UA falls with the lead (free convection), stated at 20 K")

    @model_validator(mode="after")
    def _span(self) -> "Coil":
        if self.top_share - self.bottom_share < 0.02:
            raise ValueError("top_share|the upper end must lie at least 0.02 of the height above the lower end")
        return self


class Jacket(Coil):
    """A jacket round the store."""

    ua_w_k: float = quantity(250, "W/K", 5, 50_000, "Jacket, heat transfer")
    bottom_share: Share = Field(0.1, title="Lower end, height (0 bottom, 1 top)")
    top_share: Share = Field(0.8, title="Upper end, height (0 bottom, 1 top)")


class DrawCoil(Coil):
    """A coil of drinking water through an unpressurised store."""

    fitted: bool = Field(False, title="Fitted")
    ua_w_k: float = quantity(900, "W/K", 5, 50_000, "Draw coil, heat transfer")
    bottom_share: Share = Field(0.0, title="Lower end, height (0 bottom, 1 top)")
    top_share: Share = Field(1.0, title="Upper end, height (0 bottom, 1 top)")
    flow_l_min: float = quantity(8, "L/min", 1, 200, "Flows while drawn at")
    measured: bool = Field(False, title="Heat transfer from its measures")
    length_m: float = quantity(20, "m", 1, 500, "Length")
    outer_mm: float = quantity(22, "mm", 6, 80, "Outer diameter")
    wall_mm: float = quantity(1, "mm", 0.2, 12, "Wall")
    material: Literal["copper", "stainless", "steel", "multilayer", "plastic"] = Field("stainless", title="Material")

    @model_validator(mode="after")
    def _bore(self) -> "DrawCoil":
        if 2 * self.wall_mm >= self.outer_mm - 1.0:
            raise ValueError("wall_mm|the wall must leave a bore of at least 1 mm")
        return self


class Plate(Part):
    """A plate exchanger beside the store, or a passive one."""

    ua_w_k: float = quantity(600, "W/K", 5, 100_000, "Exchanger, heat transfer")
    store_flow_kg_h: float | None = optional("kg/h", 5, 50_000, "Store-side flow")
    store_pump_w: float = quantity(15, "W", 0, 2000, "Store-side pump draws")


class Control(Part):
    """Differential controller and what overrules it."""

    on_k: float = quantity(7, "delta_degC", 1, 30, "Pump on at")
    off_k: float = quantity(3, "delta_degC", 0.2, 25, "Pump off at")
    sensor_share: Share = Field(0.0, title="Store sensor, height (0 bottom, 1 top)")
    store_limit_c: float = quantity(85, "degC", 30, 110, "Store limit")
    limit_sensor_share: Share = Field(1.0, title="Limit sensor, height (0 bottom, 1 top)")
    release_k: float = quantity(3, "delta_degC", 0, 20, "Limit releases after a fall of")
    stop_without_gain: bool = Field(True, title="Pump stops when the collector returns no heat")
    collector_limit_c: float = quantity(130, "degC", 80, 300, "No start above")
    least_run_minutes: float = quantity(0, "min", 0, 60, "Runs at least")
    hours_allowed: tuple[bool, ...] = rows(ALL_DAY, "1", 24, "Hours the pump may run")
    rests_with_boiler: bool = Field(False, title="Rests while the boiler heats")
    rests_while_pasteurising: bool = Field(True, title="Rests while pasteurising")
    season_from_day: int = Field(1, ge=1, le=365, title="In use from day", json_schema_extra={"unit": "day"})
    season_to_day: int = Field(365, ge=1, le=365, title="In use to day", json_schema_extra={"unit": "day"})
    drain_air_c: float = quantity(3, "degC", -10, 10, "Drain-down: lets water out below")
    mode: Literal["preheat", "direct", "bypass"] = Field("preheat", title="Valves")
    other_mode: Literal["preheat", "direct", "bypass"] = Field("preheat", title="Valves on the other days")
    other_from_day: int = Field(1, ge=1, le=365, title="Other valves from day", json_schema_extra={"unit": "day"})
    other_to_day: int = Field(1, ge=1, le=365, title="Other valves to day", json_schema_extra={"unit": "day"})

    @model_validator(mode="after")
    def _hysteresis(self) -> "Control":
        if self.off_k >= self.on_k:
            raise ValueError("off_k|the pump must stop at a smaller difference than it starts at")
        if not any(self.hours_allowed):
            raise ValueError("hours_allowed|the pump must be allowed in some hour")
        return self


class Store(Part):
    """The storage tank."""

    volume_l: float = quantity(300, "L", 5, 100_000, "Volume")
    loss_w_k: float = quantity(2.0, "W/K", 0, 500, "Insulation loss of the tank (UA)")
    top_loss_w_k: float = quantity(0, "W/K", 0, 200, "More through the top and its ports")
    floor_loss_w_k: float = quantity(0, "W/K", 0, 200, "More through the floor")
    insulation_mm: float | None = optional("mm", 0, 1000, "Insulation instead of UA")
    insulation_w_mk: float = quantity(0.04, "W/m/K", 0.015, 0.2, "Insulation, conductivity")
    height_to_width: float = quantity(2.2, "1", 0.3, 8, "Height to width")
    room_c: float = quantity(18, "degC", -20, 45, "Room")
    outdoors: bool = Field(False, title="Stands outdoors")
    start_c: float = quantity(20, "degC", 1, 95, "On the first day")
    start_layers_c: tuple[LayerCelsius, ...] | None = Field(
        None, min_length=2, max_length=20, title="Layers then, from the floor up", json_schema_extra={"unit": "degC"}
    )
    conductivity_w_mk: float = quantity(1.0, "W/m/K", 0, 20, "Conduction down the tank, water and wall")
    open_vented: bool = Field(False, title="Open to the air")
    relief_c: float = quantity(98, "degC", 60, 180, "Relief lets go at")


class SecondStore(Part):
    """A second store after the first: the first preheats, this one is kept hot. Several stand side by side."""

    fitted: bool = Field(False, title="Fitted")
    count: int = Field(1, ge=1, le=12, title="How many side by side", json_schema_extra={"unit": "1"})
    volume_l: float = quantity(200, "L", 5, 100_000, "Volume of each")
    loss_w_k: float = quantity(1.8, "W/K", 0, 500, "Insulation loss of each (UA)")
    room_c: float = quantity(18, "degC", -20, 45, "Room")
    start_c: float = quantity(50, "degC", 1, 95, "On 1 January")

    @property
    def total_volume_l(self) -> float:
        """Volume of all tanks side by side (L)."""
        return self.count * self.volume_l


class Integral(Part):
    """What a store that is its own collector has beside the collector's glass and the store's water."""

    depth_mm: float = quantity(100, "mm", 20, 600, "Water depth (bag)")
    vessels: int = Field(1, ge=1, le=60, title="Tanks or tubes to a glass", json_schema_extra={"unit": "1"})
    diameter_mm: float | None = optional("mm", 20, 1000, "Diameter of each")
    length_m: float | None = optional("m", 0.2, 6, "Length of each")
    gap_reflects: float = quantity(0.3, "1", 0, 1, "Gaps throw back of their light")
    insulation_mm: float | None = optional("mm", 0, 500, "Case’s insulation instead")
    insulation_w_mk: float = quantity(0.04, "W/m/K", 0.015, 0.3, "Insulation, conductivity")
    draws: Literal["by_kind", "all_stirred", "unmixed"] = Field("by_kind", title="A draw leaves it")
    layers_by_day: bool = Field(False, title="Sun warms the top first")
    back_w_m2k: float = quantity(0.8, "W/m2/K", 0, 10, "Back and sides lose, per area")
    blanket: tuple[bool, ...] = rows((False,) * 24, "1", 24, "Hours under the blanket")
    blanket_leaves: float = quantity(0.35, "1", 0.05, 1, "Blanket leaves of the loss")

    @property
    def shaped(self) -> bool:
        """Whether volume and light come from the vessels' own measures."""
        return self.diameter_mm is not None and self.length_m is not None


class Dump(Part):
    """Radiators or a cooler that take heat above a temperature."""

    fitted: bool = Field(False, title="Fitted")
    at: Literal["store", "collectors"] = Field("store", title="Takes it from the")
    above_c: float = quantity(80, "degC", 40, 160, "Takes heat above")
    power_kw: float = quantity(3, "kW", 0.1, 1000, "Power")
    to_rooms: bool = Field(False, title="Warms rooms that want heat")
    pump_w: float = quantity(0, "W", 0, 2000, "Its pump draws")
    from_day: int = Field(1, ge=1, le=365, title="From day", json_schema_extra={"unit": "day"})
    to_day: int = Field(365, ge=1, le=365, title="To day", json_schema_extra={"unit": "day"})


class Faults(Part):
    """What goes wrong, each to be switched on; all set in on one day of the year."""

    from_day: int = Field(1, ge=1, le=365, title="From day", json_schema_extra={"unit": "day"})
    boiler_overnight: bool = Field(False, title="Boiler heats the solar store overnight while the solar pump runs")
    boiler_at_night: bool = Field(False, title="Boiler heats the solar store overnight, the solar pump at rest")
    no_check_valve: bool = Field(False, title="Check valve missing or stuck")
    collector_sensor_k: float = quantity(0, "delta_degC", -30, 30, "Collector sensor reads off by")
    store_sensor_k: float = quantity(0, "delta_degC", -30, 30, "Store sensor reads off by")
    collector_sensor_feels: float = quantity(1, "1", 0.05, 1, "Collector sensor feels, share of the collector")
    store_sensor_share: Share | None = Field(None, title="Store sensor sits at, height (0 bottom, 1 top)")
    air_lock: bool = Field(False, title="Air stops the loop")
    soiling: float = quantity(0, "1", 0, 0.9, "Dirt on the glass takes")
    tree_deg: float = quantity(0, "deg", 0, 60, "A tree has grown to")
    flow_factor: float = quantity(1, "1", 0.05, 5, "Flow is off by a factor")
    bundled_w_mk: float = quantity(0, "W/m/K", 0, 5, "Pipes bundled, heat passing between them")
    cooked: float = quantity(0, "1", 0, 1, "Antifreeze cooked (0 fresh, 1 spent)")

    @property
    def any(self) -> bool:
        """Whether anything is wrong."""
        return self.model_copy(update={"from_day": 1}) != Faults()

    @property
    def night_boiler(self) -> bool:
        """Whether the boiler heats the solar store by night, whatever the pump does."""
        return self.boiler_overnight or self.boiler_at_night


class Used(Part):
    """A copy of the catalogue entry a part was taken from: its values as they were then."""

    group: Annotated[str, Field(max_length=20)]
    name: Annotated[str, Field(max_length=80)]
    source: Annotated[str, Field(max_length=200)] = ""
    dated: Annotated[str, Field(max_length=10)] = ""
    values: dict[str, bool | float | str | tuple[float, ...] | None] = {}


class System(Part):
    """A system of one kind, with everything it may have."""

    kind: Kind = Field("pumped_coil", title="Scheme")
    collector: Collector = Collector()
    second_collector: SecondCollector = SecondCollector()
    loop: Loop = Loop()
    coil: Coil = Coil()
    jacket: Jacket = Jacket()
    plate: Plate = Plate()
    control: Control = Control()
    store: Store = Store()
    second_store: SecondStore = SecondStore()
    integral: Integral = Integral()
    draw_coil: DrawCoil = DrawCoil()
    tempering_valve: bool = Field(True, title="Tempering valve")
    dump: Dump = Dump()
    backup: Backup = Backup()
    faults: Faults = Faults()
    used: tuple[Used, ...] = Field((), max_length=20, title="Taken from the catalogue")

    @property
    def scheme(self) -> Scheme:
        """How a system of this kind is plumbed."""
        return SCHEMES[self.kind]

    @property
    def gross_m2(self) -> float:
        """Gross area of all collectors (m²), unlike ones in series too."""
        second = self.second_collector
        return self.collector.total_gross_m2 + (second.total_gross_m2 if second.fitted else 0.0)

    @property
    def store_bottom_m(self) -> float:
        """Store's bottom above the collectors' upper edge (m): as typed, else as the scheme is usually built."""
        typed = self.loop.geometry.store_bottom_m
        if typed is not None:
            return typed
        return 0.4 if self.scheme.driven_by == "buoyancy" else -4.0
