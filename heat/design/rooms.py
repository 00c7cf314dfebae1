"""Rooms to heat and their fresh air: what they lose, by which circuits they are warmed, what a heavy floor keeps."""

from typing import Literal

from pydantic import Field, model_validator

from heat.design.base import ALL_DAY, Kilowatt, Part, Share, quantity, rows

NIGHT = (True,) * 6 + (False,) * 16 + (True,) * 2
SERIES = (24, 168, 8760)
FUEL_KWH = {
    "kWh": 1.0,
    "heating oil, L": 10.0,
    "natural gas, m³": 10.4,
    "bottled gas, kg": 12.9,
    "wood pellets, kg": 4.8,
    "split wood, kg": 4.0,
    "natural gas, therm": 29.3,
    "heating oil, gal": 37.9,
    "propane, gal": 25.3,
}
"""Heat in one unit of fuel, lower heating value but for therms (kWh). Source: usual values of energy statistics, EN ISO
17225 for wood at usual moisture; gases and oils vary by some percent."""

Fuel = Literal[
    "kWh",
    "heating oil, L",
    "natural gas, m³",
    "bottled gas, kg",
    "wood pellets, kg",
    "split wood, kg",
    "natural gas, therm",
    "heating oil, gal",
    "propane, gal",
]


class RoomCoil(Part):
    """The rooms' own exchanger in the store; without it their circuit takes the store's water."""

    fitted: bool = Field(False, title="By a coil of their own")
    ua_w_k: float = quantity(800, "W/K", 5, 100_000, "Rooms' coil, heat transfer")
    bottom_share: Share = Field(0.3, title="Lower end, height (0 bottom, 1 top)")
    top_share: Share = Field(0.9, title="Upper end, height (0 bottom, 1 top)")

    @model_validator(mode="after")
    def _span(self) -> "RoomCoil":
        if self.top_share - self.bottom_share < 0.02:
            raise ValueError("top_share|the upper end must lie at least 0.02 of the height above the lower end")
        return self


class SecondCircuit(Part):
    """Another circuit for the same rooms, such as an air handler beside a warm floor."""

    fitted: bool = Field(False, title="A second circuit")
    order: Literal["after", "before", "beside"] = Field("after", title="It works")
    power_kw: float = quantity(4, "kW", 0.1, 10_000, "Whichever is first gives up to")
    share: float = quantity(0.5, "1", 0, 1, "Its share, side by side")
    supply_c: float = quantity(55, "degC", 25, 85, "Its supply on the coldest day")
    return_c: float = quantity(40, "degC", 20, 75, "Its return on the coldest day")
    exponent: float = quantity(1.0, "1", 1, 1.6, "Its emitter exponent")
    out_share: float = quantity(1.0, "1", 0, 1, "Taken from, height (0 bottom, 1 top)")
    in_share: float = quantity(0.3, "1", 0, 1, "Returned to, height (0 bottom, 1 top)")

    @model_validator(mode="after")
    def _circuit(self) -> "SecondCircuit":
        if self.return_c >= self.supply_c - 0.5:
            raise ValueError("return_c|the return must be at least 0.5 K cooler than the supply")
        return self


class FloorSlab(Part):
    """Sand or a slab under the floor, charged while the sun shines on days the rooms want heat, that leaks to them by
    its own hours.
    """

    fitted: bool = Field(False, title="A heavy floor")
    area_m2: float = quantity(60, "m2", 1, 100_000, "Area")
    depth_m: float = quantity(0.4, "m", 0.05, 3, "Depth")
    heat_kj_m3k: float = quantity(1600, "kJ/m3/K", 500, 4200, "Holds, by volume")
    charge_w_m2k: float = quantity(8, "W/m2/K", 0.5, 100, "Its pipes give, per area")
    room_w_m2k: float = quantity(0.8, "W/m2/K", 0.05, 12, "Leaks to the room, per area")
    ground_w_m2k: float = quantity(0.12, "W/m2/K", 0, 5, "Leaks to the ground, per area")
    ground_c: float = quantity(10, "degC", -5, 30, "Ground beneath")
    most_c: float = quantity(45, "degC", 20, 80, "Charged up to")
    lead_k: float = quantity(6, "delta_degC", 1, 40, "Charged from a store warmer by")
    sun_w_m2: float = quantity(200, "W/m2", 0, 1000, "Charged while the sun gives")
    reserve_c: float = quantity(45, "degC", 0, 90, "Waits while the store's top is below")


class Heating(Part):
    """Rooms to heat: loss coefficient and base temperature, or kilowatts hour by hour."""

    fitted: bool = Field(False, title="Fitted")
    source: Literal["loss", "fuel"] = Field("loss", title="Known by")
    loss_w_k: float = quantity(180, "W/K", 1, 1_000_000, "The building loses")
    fuel: Fuel = Field("kWh", title="Fuel")
    fuel_year: float = quantity(12_000, "1", 0.1, 1e8, "Used last year")
    fuel_efficiency: float = quantity(0.85, "1", 0.2, 6, "Its boiler's efficiency")
    fuel_other: float = quantity(0, "1", 0, 1e8, "Of it for hot water and cooking")
    base_c: float = quantity(16, "degC", 0, 25, "Heats below")
    free_w: float = quantity(0, "W", 0, 1_000_000, "Free heat of people and appliances")
    window_m2: float = quantity(0, "m2", 0, 5000, "Sunlit glass, effective")
    storage_kwh_k: float = quantity(10, "kWh/K", 0, 10_000, "The building stores")
    room_c: float = quantity(20, "degC", 10, 28, "Room")
    set_back_k: float = quantity(0, "delta_degC", 0, 10, "Set back by")
    set_back_hours: tuple[bool, ...] = rows(NIGHT, "1", 24, "Hours set back")
    heat_up: float = quantity(1.5, "1", 1, 5, "Warms up again with, times the coldest day's heat")
    design_air_c: float = quantity(-10, "degC", -50, 15, "Coldest air designed for")
    supply_c: float = quantity(40, "degC", 25, 85, "Supply on the coldest day")
    return_c: float = quantity(32, "degC", 20, 75, "Return on the coldest day")
    exponent: float = quantity(1.1, "1", 1, 1.6, "Emitter exponent")
    out_share: float = quantity(0.8, "1", 0, 1, "Taken from, height (0 bottom, 1 top)")
    in_share: float = quantity(0.15, "1", 0, 1, "Returned to, height (0 bottom, 1 top)")
    reserve_c: float = quantity(45, "degC", 0, 90, "Waits while the store's top is below")
    months: tuple[bool, ...] = rows((True,) * 12, "1", 12, "Months it runs")
    coil: RoomCoil = RoomCoil()
    second: SecondCircuit = SecondCircuit()
    slab: FloorSlab = FloorSlab()
    hourly_kw: tuple[Kilowatt, ...] | None = Field(
        None, title="Hourly demand, if known", json_schema_extra={"unit": "kW"}
    )

    @model_validator(mode="after")
    def _circuit(self) -> "Heating":
        if self.return_c >= self.supply_c - 0.5:
            raise ValueError("return_c|the return must be at least 0.5 K cooler than the supply")
        if self.fuel_other >= self.fuel_year:
            raise ValueError("fuel_other|less than all of the fuel must go to hot water and cooking")
        if self.hourly_kw is not None and len(self.hourly_kw) not in SERIES:
            raise ValueError("hourly_kw|24, 168 or 8760 values are needed")
        return self


class FreshAir(Part):
    """Outdoor air warmed before it enters: a use of its own, beside what the building loses through its surfaces."""

    fitted: bool = Field(False, title="Fitted")
    flow_m3_h: float = quantity(150, "m3/h", 1, 1_000_000, "Air")
    recovered: float = quantity(0, "1", 0, 0.95, "Of its warmth already recovered")
    to_c: float = quantity(18, "degC", 0, 40, "Warmed to")
    from_c: float = quantity(20, "degC", 5, 30, "Leaves the rooms at")
    hours_on: tuple[bool, ...] = rows(ALL_DAY, "1", 24, "Hours it runs")
    months: tuple[bool, ...] = rows((True,) * 12, "1", 12, "Months it runs")
    approach_k: float = quantity(6, "delta_degC", 1, 30, "Water leaves its coil above the air by")
    reserve_c: float = quantity(0, "degC", 0, 90, "Waits while the store's top is below")
