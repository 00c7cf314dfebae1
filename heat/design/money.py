"""Money of a project and the list of a design: horizon, rates, tariffs, grants; what is changed on the list by hand.

Amounts are in the project's currency. No year depends on them.
"""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from heat.design.base import Factor, Name, Part, optional, quantity

MOST = 10_000_000.0
"""Largest amount taken (currency)."""


class Grant(Part):
    """Help with the cost: a share of it with a cap, a sum, so much for a square metre or a kilowatt-hour of yield."""

    name: str = Field("grant", max_length=60, title="Name")
    kind: Literal["percent", "sum", "per_m2", "per_kwh"] = Field("percent", title="It is")
    amount: float = quantity(20, "1", 0, MOST, "Amount")
    cap: float | None = optional("money", 0, MOST, "At most")
    years: int = Field(1, ge=1, le=30, title="Paid over years", json_schema_extra={"unit": "1"})
    condition: str = Field("", max_length=200, title="On condition of")


class Rate(Part):
    """A price of power from an hour of the day until the next."""

    from_hour: float = quantity(0, "h", 0, 23, "From the hour")
    price_kwh: float = quantity(0.28, "1/kWh", 0, 10_000, "Price")


class Fuel(Part):
    """What could be burnt: its price, the efficiency it is burnt with, and its CO2. The first of an energy is what the
    project's heaters pay for theirs.
    """

    name: str = Field("fuel", max_length=40, title="Fuel")
    energy: Literal["by_name", "gas", "oil", "power", "wood", "other"] = Field("by_name", title="Energy")
    price_kwh: float = quantity(0.14, "1/kWh", 0, 10_000, "Price")
    efficiency: float = quantity(0.9, "1", 0.2, 6, "Efficiency")
    co2_kg_kwh: float = quantity(0.21, "kg/kWh", 0, 3, "CO2")
    standing: float = quantity(0, "money", 0, MOST, "Standing charge a year")
    by_hour: bool = Field(False, title="It is power, by the hour’s price")

    @property
    def of_energy(self) -> str:
        """Its energy as stated, else that of the usual fuel of its name; "other" for any other."""
        return ENERGY_BY_NAME.get(self.name, "other") if self.energy == "by_name" else self.energy


ENERGY_BY_NAME = {"electric, direct": "power", "heat pump": "power", "gas": "gas", "oil": "oil", "wood, bought": "wood"}
FUELS = tuple(
    Fuel(
        name=name,
        energy=energy,
        price_kwh=price,
        efficiency=efficiency,
        co2_kg_kwh=co2,
        standing=standing,
        by_hour=energy == "power",
    )
    for name, energy, price, efficiency, co2, standing in (
        ("electric, direct", "power", 0.28, 1.0, 0.35, 0),
        ("heat pump", "power", 0.28, 2.8, 0.35, 0),
        ("gas", "gas", 0.14, 0.92, 0.21, 90),
        ("oil", "oil", 0.12, 0.85, 0.28, 60),
        ("wood, bought", "wood", 0.07, 0.75, 0.03, 40),
        ("wood, one’s own", "other", 0.0, 0.75, 0.03, 40),
    )
)
"""Source of efficiencies and CO2: usual round values; prices and standing charges (a sweep, a meter) made up."""
Emission = Annotated[float, Field(ge=0, le=3)]


class OldHeater(Part):
    """A heater of the house without solar, where it is not the one on the drawing."""

    burns: Literal["", "gas", "oil", "power", "wood"] = Field("", title="Its energy")
    efficiency: float | None = optional("1", 0.2, 6, "Efficiency")
    price_kwh: float | None = optional("1/kWh", 0, 10_000, "Price of its energy")
    co2_kg_kwh: float | None = optional("kg/kWh", 0, 3, "CO2 of its energy")


class Old(OldHeater):
    """The heater of the taps without solar, and that of the rooms."""

    standing_w: float | None = optional("W", 0, 5000, "It loses, standing")
    rooms: OldHeater = OldHeater()


class Money(Part):
    """What a project's money is calculated with."""

    currency: str = Field("EUR", pattern="^[A-Z]{3}$", title="Currency")
    book_rate: float = quantity(1, "1", 1e-6, 1e6, "One of the price book’s currency is")
    horizon_years: int = Field(20, ge=1, le=50, title="Horizon", json_schema_extra={"unit": "year"})
    interest: float = quantity(3, "rate", -5, 30, "Interest a year")
    energy_rise: float = quantity(2, "rate", -10, 30, "Energy prices rise a year")
    upkeep_rise: float = quantity(2, "rate", -10, 30, "Other prices rise a year")
    fade: float = quantity(0.3, "rate", 0, 10, "Yield falls a year")
    margin: float = quantity(15, "rate", 0, 200, "Margin on parts")
    tax: float = quantity(0, "rate", 0, 50, "Tax on the whole")
    loan_share: float = quantity(0, "rate", 0, 100, "Share paid by a loan")
    loan_interest: float = quantity(4, "rate", 0, 30, "Interest of the loan")
    loan_years: int = Field(10, ge=1, le=50, title="Loan runs", json_schema_extra={"unit": "year"})
    pump_price_kwh: float = quantity(0.28, "1/kWh", 0, 10_000, "Power for pumps")
    standing_saved: float = quantity(0, "money", 0, MOST, "Standing charge that falls away, a year")
    inspection: float = quantity(40, "money", 0, MOST, "Looked after, a year")
    fluid_years: int = Field(6, ge=0, le=50, title="Fluid changed every", json_schema_extra={"unit": "year"})
    anode_years: int = Field(4, ge=0, le=50, title="Anode changed every", json_schema_extra={"unit": "year"})
    pump_years: int = Field(12, ge=0, le=50, title="Pump replaced every", json_schema_extra={"unit": "year"})
    tariff: tuple[Rate, ...] = Field((), max_length=24, title="Power by the hour")
    summer_tariff: tuple[Rate, ...] = Field((), max_length=24, title="In summer")
    summer_from_month: int = Field(4, ge=1, le=12, title="Summer from month", json_schema_extra={"unit": "1"})
    summer_to_month: int = Field(9, ge=1, le=12, title="to month", json_schema_extra={"unit": "1"})
    grants: tuple[Grant, ...] = Field((), max_length=8, title="Grants")
    fuels: tuple[Fuel, ...] = Field(FUELS, max_length=12, title="Fuels")
    old: Old = Old()
    co2_by_month: tuple[Emission, ...] | None = Field(
        None, min_length=12, max_length=12, title="CO2 of power by month", json_schema_extra={"unit": "kg/kWh"}
    )
    co2_by_hour: tuple[Factor, ...] | None = Field(
        None, min_length=24, max_length=24, title="times, by hour of the day", json_schema_extra={"unit": "1"}
    )
    water_price_m3: float = quantity(4, "1/m3", 0, 200, "Price of water and sewage")
    water_counts: bool = Field(False, title="Count the water that is saved")

    def energy(self, name: str) -> tuple[float, float]:
        """Price (currency/kWh) and CO2 (kg/kWh) of an energy: those of the project's first fuel of it, else usual ones.

        Parameters
        ----------
        name
            The energy.

        Returns
        -------
        tuple[float, float]
            Price (currency/kWh) and CO2 (kg/kWh).
        """
        fuel = next(fuel for fuel in (*self.fuels, *FUELS) if fuel.of_energy == name)
        return fuel.price_kwh, fuel.co2_kg_kwh

    @model_validator(mode="after")
    def _hours_once(self) -> "Money":
        for name in ("tariff", "summer_tariff"):
            hours = [rate.from_hour for rate in getattr(self, name)]
            twice = next((h for h in hours if hours.count(h) > 1), None)
            if twice is not None:
                raise ValueError(f"{name}|{twice:g} h begins twice: each hour has one price")
            if any(h != int(h) for h in hours):
                raise ValueError(f"{name}|prices change at whole hours")
        if self.summer_tariff and not self.tariff:
            raise ValueError("summer_tariff|give the prices of the other months first")
        return self


HOURLY = (
    "fuels",
    "tariff",
    "summer_tariff",
    "summer_from_month",
    "summer_to_month",
    "pump_price_kwh",
    "old",
    "co2_by_month",
    "co2_by_hour",
)
"""Fields of money that a year's hours are priced in money and CO2 by; all others act on their sums."""


class HandLine(Part):
    """What a person changed on the list of parts: another quantity or price, left out, or a line of their own."""

    key: Name = Field("", title="Line")
    words: str = Field("", max_length=80, title="What it is")
    unit: str = Field("", max_length=12, title="Unit")
    quantity: float | None = Field(None, ge=0, le=1_000_000, title="Quantity", json_schema_extra={"unit": "1"})
    price: float | None = optional("money", 0, MOST, "Price of one")
    left_out: bool = Field(False, title="Left out")


class Offer(Part):
    """The list of parts as offered: what was changed by hand, and the prices it was offered with, by item."""

    lines: tuple[HandLine, ...] = Field((), max_length=80, title="Changed by hand")
    dated: str = Field("", max_length=20, title="Offered on")
    prices: dict[str, float] = Field(default_factory=dict, title="Prices it was offered with")
