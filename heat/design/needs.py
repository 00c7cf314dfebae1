"""What heat is wanted: hot water, circulation, rooms, a process, a pool."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from heat.design.base import (
    ALL_DAY,
    ALL_YEAR,
    Energy,
    Factor,
    Kilowatt,
    Litres,
    Name,
    Part,
    Weight,
    optional,
    quantity,
    rows,
)
from heat.design.rooms import SERIES, FreshAir, Heating

EVENING_AND_MORNING = (
    0, 0, 0, 0, 0, 1, 8, 12, 8, 5, 4, 4, 5, 4, 3, 3, 4, 6, 10, 9, 6, 4, 3, 1,
)  # fmt: skip
AFTER_BATHING = (0, 0, 0, 0, 0, 0, 0, 1, 2, 2, 3, 4, 5, 4, 4, 5, 6, 6, 5, 3, 1, 0, 0, 0)
PoolCelsius = Annotated[float, Field(ge=10, le=40)]


class Fixture(Part):
    """A tap or shower: what runs through it now, and after it is replaced or used with more care."""

    name: Name = Field("shower", title="Fixture")
    flow_l_min: float = quantity(12, "L/min", 0, 60, "Flow now")
    minutes_day: float = quantity(5, "min/day", 0, 600, "Minutes a person and day now")
    flow_after_l_min: float | None = optional("L/min", 0, 60, "Flow after")
    minutes_after_day: float | None = optional("min/day", 0, 600, "Minutes after")
    at_c: float = quantity(39, "degC", 20, 65, "Mixed to")
    litres_a_draw: float = quantity(8, "L", 0.2, 500, "Litres a draw")

    def litres_a_person(self, after: bool) -> float:
        """Mixed litres a person and day (L).

        Parameters
        ----------
        after
            Whether what is mended counts.

        Returns
        -------
        float
            Mixed litres a person and day (L).
        """
        flow, minutes = self.flow_l_min, self.minutes_day
        if after:
            flow = flow if self.flow_after_l_min is None else self.flow_after_l_min
            minutes = minutes if self.minutes_after_day is None else self.minutes_after_day
        return flow * minutes


class Circulation(Part):
    """A loop that keeps hot water near the taps."""

    fitted: bool = Field(False, title="Fitted")
    loss_w: float | None = optional("W", 0, 100_000, "Loses while it runs, if known")
    length_m: float = quantity(30, "m", 1, 5000, "Pipe, there and back")
    diameter_mm: float = quantity(18, "mm", 6, 120, "Outer diameter")
    insulation_mm: float = quantity(20, "mm", 0, 120, "Insulation")
    drop_k: float = quantity(5, "delta_degC", 1, 20, "Returns cooler by")
    hours_on: tuple[bool, ...] = rows(ALL_DAY, "1", 24, "Hours it runs")
    months: tuple[bool, ...] = rows((True,) * 12, "1", 12, "Months it runs")


class Before(Part):
    """How it stands today, before anything is mended; the design takes what comes after."""

    litres_per_person_day: float | None = optional("L", 1, 300, "Hot water per person and day today")
    leaks_l_day: float | None = optional("L", 0, 2000, "Leaks and drips today")
    circulation_mm: float | None = optional("mm", 0, 120, "Circulation's insulation today")
    circulation_hours: float | None = optional("h", 0, 24, "Circulation runs today")


class Showers(Part):
    """Showers at a pool, counted by the bather."""

    fitted: bool = Field(False, title="Fitted")
    count_day: float = quantity(10, "1", 0, 10_000, "Showers a day")
    litres_each: float = quantity(25, "L", 1, 200, "Each")
    at_c: float = quantity(38, "degC", 20, 60, "Mixed to")
    hour_shape: tuple[Weight, ...] = rows(AFTER_BATHING, "1", 24, "Shape of the day")
    weekend_factor: float = quantity(1, "1", 0, 5, "Weekend against weekday")
    month_factors: tuple[Factor, ...] = rows((0.0,) * 4 + (1.0,) * 5 + (0.0,) * 3, "1", 12, "Months against the mean")

    @model_validator(mode="after")
    def _some_water(self) -> "Showers":
        if sum(self.hour_shape) <= 0:
            raise ValueError("hour_shape|some hour of the day must draw water")
        return self


class Process(Part):
    """Any other load, hour by hour."""

    fitted: bool = Field(False, title="Fitted")
    hourly_kw: tuple[Kilowatt, ...] = Field((2.0,) * 24, title="Demand by hour", json_schema_extra={"unit": "kW"})
    weekend_factor: float = quantity(1, "1", 0, 5, "Weekend against weekday")
    month_factors: tuple[Factor, ...] = rows(ALL_YEAR, "1", 12, "Months against the mean")
    supply_c: float = quantity(55, "degC", 15, 95, "Supply")
    return_c: float = quantity(40, "degC", 5, 90, "Return")
    out_share: float = quantity(1.0, "1", 0, 1, "Taken from, height (0 bottom, 1 top)")
    in_share: float = quantity(0.1, "1", 0, 1, "Returned to, height (0 bottom, 1 top)")
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
    surface: bool = Field(True, title="Its surface counts, not only its fresh water")
    area_m2: float = quantity(32, "m2", 2, 5000, "Surface")
    depth_m: float = quantity(1.4, "m", 0.3, 6, "Mean depth")
    set_c: float = quantity(27, "degC", 10, 40, "Wanted at")
    set_by_month: tuple[PoolCelsius, ...] | None = Field(
        None, min_length=12, max_length=12, title="Wanted at, by month", json_schema_extra={"unit": "degC"}
    )
    months: tuple[bool, ...] = rows((False,) * 4 + (True,) * 5 + (False,) * 3, "1", 12, "Months in use")
    indoor: bool = Field(False, title="Indoors")
    hall_c: float = quantity(29, "degC", 15, 40, "Hall, air")
    hall_humidity: float = quantity(55, "percent", 20, 90, "Hall, humidity")
    wind_share: float = quantity(0.3, "1", 0, 1, "Share of the wind that reaches the water")
    hall_air_m_s: float = quantity(0.1, "m/s", 0, 2, "Hall, air over the water")
    evaporation: Literal["quiet", "busy", "standard"] = Field("quiet", title="Evaporation outdoors by")
    activity: float = quantity(1.0, "1", 0.3, 2, "Activity factor on evaporation")
    absorptance: float = quantity(0.85, "1", 0.3, 0.98, "Absorbs of the sun")
    covered: tuple[bool, ...] = rows((False,) * 24, "1", 24, "Hours covered")
    cover_saves: float = quantity(0.75, "1", 0, 1, "Cover saves of surface loss")
    cover_passes: float = quantity(0.7, "1", 0, 1, "Cover passes of the sun")
    bathers_day: float = quantity(4, "1", 0, 10_000, "Bathers a day")
    fresh_l_bather: float = quantity(30, "L", 0, 200, "Fresh water each")
    fresh_l_day: float = quantity(0, "L", 0, 1_000_000, "More fresh water a day (filter, leaks)")
    exchanger_w_k: float = quantity(0, "W/K", 0, 1_000_000, "Exchanger (0: pool water passes)")
    heater_kw: float = quantity(0, "kW", 0, 10_000, "Heater")
    heater_efficiency: float = quantity(0.9, "1", 0.2, 6, "Heater, efficiency")
    otherwise: Literal["heater", "heat_pump", "nothing", "cover"] = Field("heater", title="Without solar it would have")
    burns: Energy = Field("gas", title="Heater, its energy")
    price_kwh: float | None = optional("1/kWh", 0, 10_000, "Price of its energy, where it is its own")
    co2_kg_kwh: float | None = optional("kg/kWh", 0, 3, "CO2 of its energy, where it is its own")
    limit_c: float = quantity(31, "degC", 15, 45, "Sun may warm it to")
    reserve_c: float = quantity(50, "degC", 0, 90, "Waits while the store's top is below")


class Demand(Part):
    """Hot water wanted at the tap, and the other uses of heat."""

    people: float = quantity(4, "1", 0.5, 500, "People")
    counted: Literal["person", "fixtures"] = Field("person", title="Litres counted")
    litres_per_person_day: float = quantity(45, "L", 1, 300, "Hot water per person and day")
    fixtures: tuple[Fixture, ...] = Field((), max_length=30, title="Fixtures")
    leaks_l_day: float = quantity(0, "L", 0, 2000, "Leaks and drips left")
    before: Before = Before()
    litres_a_draw: float = quantity(8, "L", 0.2, 500, "Litres a draw")
    tap_c: float = quantity(45, "degC", 30, 65, "Temperature at the tap")
    pattern: Literal["shape", "M", "L"] = Field("shape", title="Day's pattern")
    hour_shape: tuple[Weight, ...] = rows(EVENING_AND_MORNING, "1", 24, "Shape of the day")
    weekend_shape: tuple[Weight, ...] | None = Field(
        None, min_length=24, max_length=24, title="Shape of the weekend", json_schema_extra={"unit": "1"}
    )
    weekend_factor: float = quantity(1, "1", 0, 5, "Weekend against weekday")
    first_weekday: int = Field(0, ge=0, le=6, title="1 January is a", json_schema_extra={"unit": "1"})
    month_factors: tuple[Factor, ...] = rows(ALL_YEAR, "1", 12, "Months against the mean")
    holidays: tuple[tuple[int, int], ...] = Field(
        (), title="Away, first and last day", json_schema_extra={"unit": "day"}
    )
    measured_l: tuple[Litres, ...] | None = Field(
        None, title="Measured litres by hour", json_schema_extra={"unit": "L"}
    )
    hot_water: bool = Field(True, title="Hot water is wanted")
    showers: Showers = Showers()
    circulation: Circulation = Circulation()
    heating: Heating = Heating()
    fresh_air: FreshAir = FreshAir()
    process: Process = Process()
    pool: PoolUse = PoolUse()

    @model_validator(mode="after")
    def _some_water(self) -> "Demand":
        if sum(self.hour_shape) <= 0:
            raise ValueError("hour_shape|some hour of the day must draw water")
        if self.hot_water and self.counted == "fixtures" and self.people_litres <= 0:
            raise ValueError("fixtures|no water runs: add a fixture with flow and minutes, or count by person")
        if self.weekend_shape is not None and sum(self.weekend_shape) <= 0:
            raise ValueError("weekend_shape|some hour of the day must draw water")
        if self.measured_l is not None and len(self.measured_l) not in SERIES:
            raise ValueError("measured_l|24, 168 or 8760 values are needed")
        for first, last in self.holidays:
            if not (1 <= first <= 365 and 1 <= last <= 365):
                raise ValueError("holidays|days of the year run from 1 to 365")
        return self

    @property
    def people_litres(self) -> float:
        """Mixed litres of all people on an ordinary day (L), without leaks."""
        if self.counted == "fixtures":
            return self.people * sum(f.litres_a_person(after=True) for f in self.fixtures)
        return self.people * self.litres_per_person_day

    @property
    def litres_per_day(self) -> float:
        """Mixed litres on an ordinary day (L), leaks included; as measured on the mean of its days, where it was."""
        if self.measured_l is not None:
            return 24.0 * sum(self.measured_l) / len(self.measured_l) + self.leaks_l_day
        return self.people_litres + self.leaks_l_day
