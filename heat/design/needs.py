"""What heat is wanted: hot water, circulation, rooms, a process, a pool."""

from typing import Literal

from pydantic import Field, model_validator

from heat.design.base import ALL_DAY, ALL_YEAR, Factor, Kilowatt, Litres, Part, Weight, quantity, rows

EVENING_AND_MORNING = (
    0, 0, 0, 0, 0, 1, 8, 12, 8, 5, 4, 4, 5, 4, 3, 3, 4, 6, 10, 9, 6, 4, 3, 1,
)  # fmt: skip
SERIES = (24, 168, 8760)


class Circulation(Part):
    """A loop that keeps hot water near the taps."""

    fitted: bool = Field(False, title="Fitted")
    loss_w: float = quantity(120, "W", 0, 100_000, "Loses while it runs")
    drop_k: float = quantity(5, "delta_degC", 1, 20, "Returns cooler by")
    hours_on: tuple[bool, ...] = rows(ALL_DAY, "1", 24, "Hours it runs")


class Heating(Part):
    """Rooms to heat: loss coefficient and base temperature, or kilowatts hour by hour."""

    fitted: bool = Field(False, title="Fitted")
    loss_w_k: float = quantity(180, "W/K", 1, 1_000_000, "The building loses")
    base_c: float = quantity(16, "degC", 0, 25, "Heats below")
    free_w: float = quantity(0, "W", 0, 1_000_000, "Free heat of people and appliances")
    window_m2: float = quantity(0, "m2", 0, 5000, "Sunlit glass, effective")
    storage_kwh_k: float = quantity(10, "kWh/K", 0, 10_000, "The building stores")
    room_c: float = quantity(20, "degC", 10, 28, "Room")
    design_air_c: float = quantity(-10, "degC", -50, 15, "Coldest air designed for")
    supply_c: float = quantity(40, "degC", 25, 85, "Supply on the coldest day")
    return_c: float = quantity(32, "degC", 20, 75, "Return on the coldest day")
    exponent: float = quantity(1.1, "1", 1, 1.6, "Emitter exponent")
    out_share: float = quantity(0.8, "1", 0, 1, "Taken from, share of height")
    in_share: float = quantity(0.15, "1", 0, 1, "Returned to, share of height")
    reserve_c: float = quantity(45, "degC", 0, 90, "Waits while the store's top is below")
    months: tuple[bool, ...] = rows((True,) * 12, "1", 12, "Months it runs")
    hourly_kw: tuple[Kilowatt, ...] | None = Field(
        None, title="Hourly demand, if known", json_schema_extra={"unit": "kW"}
    )

    @model_validator(mode="after")
    def _circuit(self) -> "Heating":
        if self.return_c >= self.supply_c - 0.5:
            raise ValueError("return_c|the return must be at least 0.5 K cooler than the supply")
        if self.hourly_kw is not None and len(self.hourly_kw) not in SERIES:
            raise ValueError("hourly_kw|24, 168 or 8760 values are needed")
        return self


class Process(Part):
    """Any other load, hour by hour."""

    fitted: bool = Field(False, title="Fitted")
    hourly_kw: tuple[Kilowatt, ...] = Field((2.0,) * 24, title="Demand by hour", json_schema_extra={"unit": "kW"})
    supply_c: float = quantity(55, "degC", 15, 95, "Supply")
    return_c: float = quantity(40, "degC", 5, 90, "Return")
    out_share: float = quantity(1.0, "1", 0, 1, "Taken from, share of height")
    in_share: float = quantity(0.1, "1", 0, 1, "Returned to, share of height")
    reserve_c: float = quantity(0, "degC", 0, 90, "Waits while the store's top is below")

    @model_validator(mode="after")
    def _circuit(self) -> "Process":
        if self.return_c >= self.supply_c - 0.5:
            raise ValueError("return_c|the return must be at least 0.5 K cooler than the supply")
        if len(self.hourly_kw) not in SERIES:
            raise ValueError("hourly_kw|24, 168 or 8760 values are needed")
        return self


class PoolUse(Part):
    """A pool: what it loses, and when it is wanted warm."""

    fitted: bool = Field(False, title="Fitted")
    area_m2: float = quantity(32, "m2", 2, 5000, "Surface")
    depth_m: float = quantity(1.4, "m", 0.3, 6, "Mean depth")
    set_c: float = quantity(27, "degC", 10, 40, "Wanted at")
    months: tuple[bool, ...] = rows((False,) * 4 + (True,) * 5 + (False,) * 3, "1", 12, "Months in use")
    indoor: bool = Field(False, title="Indoors")
    hall_c: float = quantity(29, "degC", 15, 40, "Hall, air")
    hall_humidity: float = quantity(55, "percent", 20, 90, "Hall, humidity")
    wind_share: float = quantity(0.3, "1", 0, 1, "Share of the wind that reaches the water")
    activity: float = quantity(1.0, "1", 0.3, 2, "Activity factor on evaporation")
    absorptance: float = quantity(0.85, "1", 0.3, 0.98, "Absorbs of the sun")
    covered: tuple[bool, ...] = rows((False,) * 24, "1", 24, "Hours covered")
    cover_saves: float = quantity(0.75, "1", 0, 1, "Cover saves of surface loss")
    cover_passes: float = quantity(0.7, "1", 0, 1, "Cover passes of the sun")
    bathers_day: float = quantity(4, "1", 0, 10_000, "Bathers a day")
    fresh_l_bather: float = quantity(30, "L", 0, 200, "Fresh water each")
    exchanger_w_k: float = quantity(0, "W/K", 0, 1_000_000, "Exchanger (0: pool water passes)")
    heater_kw: float = quantity(0, "kW", 0, 10_000, "Heater")
    heater_efficiency: float = quantity(0.9, "1", 0.2, 6, "Heater, efficiency")
    price_kwh: float = quantity(0.14, "1/kWh", 0, 10, "Price of its energy")
    co2_kg_kwh: float = quantity(0.21, "kg/kWh", 0, 3, "CO2 of its energy")
    limit_c: float = quantity(31, "degC", 15, 45, "Sun may warm it to")
    reserve_c: float = quantity(50, "degC", 0, 90, "Waits while the store's top is below")


class Demand(Part):
    """Hot water wanted at the tap, and the other uses of heat."""

    people: float = quantity(4, "1", 0.5, 500, "People")
    litres_per_person_day: float = quantity(45, "L", 1, 300, "Hot water per person and day")
    tap_c: float = quantity(45, "degC", 30, 65, "Temperature at the tap")
    pattern: Literal["shape", "M", "L"] = Field("shape", title="Day's pattern")
    hour_shape: tuple[Weight, ...] = rows(EVENING_AND_MORNING, "1", 24, "Shape of the day")
    weekend_shape: tuple[Weight, ...] | None = Field(
        None, min_length=24, max_length=24, title="Shape of the weekend", json_schema_extra={"unit": "1"}
    )
    weekend_factor: float = quantity(1, "1", 0, 5, "Weekend against weekday")
    first_weekday: int = Field(0, ge=0, le=6, title="1 January is (0 Monday)", json_schema_extra={"unit": "1"})
    month_factors: tuple[Factor, ...] = rows(ALL_YEAR, "1", 12, "Months against the mean")
    holidays: tuple[tuple[int, int], ...] = Field(
        (), title="Away, first and last day", json_schema_extra={"unit": "day"}
    )
    measured_l: tuple[Litres, ...] | None = Field(
        None, title="Measured litres by hour", json_schema_extra={"unit": "L"}
    )
    hot_water: bool = Field(True, title="Hot water is wanted")
    circulation: Circulation = Circulation()
    heating: Heating = Heating()
    process: Process = Process()
    pool: PoolUse = PoolUse()

    @model_validator(mode="after")
    def _some_water(self) -> "Demand":
        if sum(self.hour_shape) <= 0:
            raise ValueError("hour_shape|some hour of the day must draw water")
        if self.weekend_shape is not None and sum(self.weekend_shape) <= 0:
            raise ValueError("weekend_shape|some hour of the day must draw water")
        if self.measured_l is not None and len(self.measured_l) not in SERIES:
            raise ValueError("measured_l|24, 168 or 8760 values are needed")
        for first, last in self.holidays:
            if not (1 <= first <= 365 and 1 <= last <= 365):
                raise ValueError("holidays|days of the year run from 1 to 365")
        return self

    @property
    def litres_per_day(self) -> float:
        return self.people * self.litres_per_person_day
