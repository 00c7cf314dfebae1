"""What is bought when the sun does not carry the day: heaters after and in the store, and heating through."""

from pydantic import Field

from heat.design.base import ALL_DAY, Part, Share, quantity, rows


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
    hours_on: tuple[bool, ...] = rows(ALL_DAY, "1", 24, "Hours it may heat")
    price_kwh: float = quantity(0.28, "1/kWh", 0, 10, "Price of its energy")
    co2_kg_kwh: float = quantity(0.35, "kg/kWh", 0, 3, "CO2 of its energy")


class Boiler(Element):
    """A boiler on a coil in the upper part of the store."""

    power_kw: float = quantity(15, "kW", 0.1, 5000, "Power")
    height_share: Share = Field(0.6, title="Its coil begins at, share of height")
    sensor_share: Share = Field(0.75, title="Thermostat, share of height")
    efficiency: float = quantity(0.9, "1", 0.2, 5, "Efficiency")
    price_kwh: float = quantity(0.14, "1/kWh", 0, 10, "Price of its energy")
    co2_kg_kwh: float = quantity(0.21, "kg/kWh", 0, 3, "CO2 of its energy")


class Stove(Part):
    """A wood stove with a water jacket, lit by a timetable."""

    fitted: bool = Field(False, title="Fitted")
    power_kw: float = quantity(4, "kW", 0.1, 500, "To water when lit")
    height_share: Share = Field(0.4, title="Its jacket feeds at, share of height")
    lit_hours: tuple[bool, ...] = rows((False,) * 17 + (True,) * 5 + (False,) * 2, "1", 24, "Hours it is lit")
    lit_months: tuple[bool, ...] = rows((True,) * 4 + (False,) * 5 + (True,) * 3, "1", 12, "Months it is lit")
    efficiency: float = quantity(0.75, "1", 0.2, 1, "Efficiency")
    price_kwh: float = quantity(0.07, "1/kWh", 0, 10, "Price of its energy")
    co2_kg_kwh: float = quantity(0.03, "kg/kWh", 0, 3, "CO2 of its energy")


class Series(Part):
    """A boiler after the store that tops up rooms and process."""

    fitted: bool = Field(True, title="Fitted")
    power_kw: float = quantity(20, "kW", 0.5, 50_000, "Power")
    efficiency: float = quantity(0.9, "1", 0.2, 6, "Efficiency")
    price_kwh: float = quantity(0.14, "1/kWh", 0, 10, "Price of its energy")
    co2_kg_kwh: float = quantity(0.21, "kg/kWh", 0, 3, "CO2 of its energy")


class Pasteurisation(Part):
    """Now and then everything is heated through."""

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
    pump_price_kwh: float = quantity(0.28, "1/kWh", 0, 10, "Price of pump electricity")
    pump_co2_kg_kwh: float = quantity(0.35, "kg/kWh", 0, 3, "CO2 of pump electricity")
