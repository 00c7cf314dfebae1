"""What is bought when the sun does not carry the day: heaters after and in the store, and heating through."""

from typing import Literal

from pydantic import Field, model_validator

from heat.design.base import ALL_DAY, Energy, Part, Share, optional, quantity, rows


class Tankless(Part):
    """Instantaneous heater after the store."""

    fitted: bool = Field(True, title="Fitted")
    power_kw: float = quantity(21, "kW", 0.5, 500, "Power")
    efficiency: float = quantity(0.92, "1", 0.2, 5, "Efficiency")
    burns: Energy = Field("gas", title="Its energy")
    price_kwh: float | None = optional("1/kWh", 0, 10_000, "Price of its energy, where it is its own")
    co2_kg_kwh: float | None = optional("kg/kWh", 0, 3, "CO2 of its energy, where it is its own")


class Element(Part):
    """Electric element in the store."""

    fitted: bool = Field(False, title="Fitted")
    power_kw: float = quantity(3, "kW", 0.1, 500, "Power")
    height_share: Share = Field(0.55, title="Element, height (0 bottom, 1 top)")
    sensor_share: Share = Field(0.65, title="Thermostat, height (0 bottom, 1 top)")
    set_c: float = quantity(55, "degC", 30, 90, "Set point")
    hysteresis_k: float = quantity(4, "delta_degC", 0.5, 20, "Hysteresis")
    hours_on: tuple[bool, ...] = rows(ALL_DAY, "1", 24, "Hours it may heat")
    burns: Energy = Field("power", title="Its energy")
    price_kwh: float | None = optional("1/kWh", 0, 10_000, "Price of its energy, where it is its own")
    co2_kg_kwh: float | None = optional("kg/kWh", 0, 3, "CO2 of its energy, where it is its own")


class Boiler(Element):
    """A boiler on a coil in the upper part of the store."""

    power_kw: float = quantity(15, "kW", 0.1, 5000, "Power")
    height_share: Share = Field(0.6, title="Its coil begins at, height (0 bottom, 1 top)")
    sensor_share: Share = Field(0.75, title="Thermostat, height (0 bottom, 1 top)")
    efficiency: float = quantity(0.9, "1", 0.2, 5, "Efficiency")
    burns: Energy = Field("gas", title="Its energy")
    price_kwh: float | None = optional("1/kWh", 0, 10_000, "Price of its energy, where it is its own")
    co2_kg_kwh: float | None = optional("kg/kWh", 0, 3, "CO2 of its energy, where it is its own")


class Stove(Part):
    """A wood stove with a water jacket, lit by a timetable or as the rooms need it."""

    fitted: bool = Field(False, title="Fitted")
    power_kw: float = quantity(4, "kW", 0.1, 500, "To water when lit")
    room_kw: float = quantity(0, "kW", 0, 500, "To its room when lit")
    fired: Literal["timetable", "rooms"] = Field("timetable", title="Fired by")
    hot_share: float = quantity(0.85, "1", 0.2, 1, "Gives with hot water, share")
    damper_c: float = quantity(80, "degC", 50, 120, "Its damper closes at")
    circulation: Literal["thermosiphon", "pump"] = Field("thermosiphon", title="Water is moved by")
    out_share: Share = Field(0.0, title="Leaves the store at, height (0 bottom, 1 top)")
    height_share: Share = Field(0.4, title="Its jacket feeds at, height (0 bottom, 1 top)")
    store_above_m: float = quantity(0.3, "m", -10, 20, "Store's bottom above the jacket's")
    jacket_m: float = quantity(0.4, "m", 0.05, 2, "Jacket, height")
    pipe_m: float = quantity(6, "m", 0.5, 100, "Pipe, there and back")
    bore_mm: float = quantity(25, "mm", 8, 100, "Pipe, bore")
    rise_mm_m: float = quantity(60, "mm/m", 0, 1000, "Pipe rises")
    heat_trap: bool = Field(True, title="Heat trap")
    pump_kg_h: float = quantity(400, "kg/h", 20, 20_000, "Its pump carries")
    pump_w: float = quantity(25, "W", 0, 2000, "Its pump draws")
    counts_as_bought: bool = Field(False, title="Its wood is bought")
    lit_hours: tuple[bool, ...] = rows((False,) * 17 + (True,) * 5 + (False,) * 2, "1", 24, "Hours it is lit")
    lit_months: tuple[bool, ...] = rows((True,) * 4 + (False,) * 5 + (True,) * 3, "1", 12, "Months it is lit")
    efficiency: float = quantity(0.75, "1", 0.2, 1, "Efficiency")
    burns: Energy = Field("wood", title="Its energy")
    price_kwh: float | None = optional("1/kWh", 0, 10_000, "Price of its energy, where it is its own")
    co2_kg_kwh: float | None = optional("kg/kWh", 0, 3, "CO2 of its energy, where it is its own")

    @model_validator(mode="after")
    def _ports(self) -> "Stove":
        if self.height_share - self.out_share < 0.05:
            raise ValueError("height_share|it must feed at least 0.05 of the height above where water leaves for it")
        return self


class Series(Part):
    """A boiler after the store that tops up rooms and process."""

    fitted: bool = Field(True, title="Fitted")
    power_kw: float = quantity(20, "kW", 0.5, 50_000, "Power")
    efficiency: float = quantity(0.9, "1", 0.2, 6, "Efficiency")
    burns: Energy = Field("gas", title="Its energy")
    price_kwh: float | None = optional("1/kWh", 0, 10_000, "Price of its energy, where it is its own")
    co2_kg_kwh: float | None = optional("kg/kWh", 0, 3, "CO2 of its energy, where it is its own")


class Pasteurisation(Part):
    """Now and then everything is pasteurised."""

    fitted: bool = Field(False, title="Planned")
    every_days: int = Field(7, ge=1, le=60, title="Every so many days", json_schema_extra={"unit": "day"})
    from_hour: int = Field(2, ge=0, le=23, title="From the hour", json_schema_extra={"unit": "h"})
    hours: int = Field(3, ge=1, le=12, title="For hours", json_schema_extra={"unit": "h"})
    target_c: float = quantity(65, "degC", 55, 80, "Heated to")
    transfer_pump: bool = Field(True, title="A pump carries it from top to bottom, through both stores")
    transfer_kg_h: float = quantity(400, "kg/h", 20, 50_000, "Its flow")


class Backup(Part):
    """What is bought when the sun does not carry the day."""

    tankless: Tankless = Tankless()
    element: Element = Element()
    top_element: Element = Element(height_share=0.75, sensor_share=0.85)
    boiler: Boiler = Boiler()
    stove: Stove = Stove()
    series: Series = Series()
    pasteurisation: Pasteurisation = Pasteurisation()
    pump_price_kwh: float = quantity(0.28, "1/kWh", 0, 10_000, "Price of pump electricity")
    pump_co2_kg_kwh: float = quantity(0.35, "kg/kWh", 0, 3, "CO2 of pump electricity")
