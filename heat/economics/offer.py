"""What a design costs and is worth: its list at a book's prices, and the years of its money."""

from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from functools import cached_property

from heat.design import Design
from heat.economics.cash import (
    Case,
    Economics,
    Upkeep,
    YearLine,
    cents,
    evaluate,
    granted,
    ledger,
    life_cycle_cost,
    project_of,
)
from heat.economics.grants import Given, given
from heat.economics.parts_list import Line, changed, fluid_l, parts_list
from heat.economics.prices import PRICES
from heat.economics.tariff import Energy, energy_of, water_saved_m3
from heat.ledger.year_book import YearBook

WORK = ("Work",)
"""Groups that bear no margin."""


@dataclass(frozen=True)
class Offered:
    """A design with its year's energy in money, yield (kWh) and prices: lines, sums to the cent (currency), grants, and
    what it comes to.
    """

    design: Design
    energy: Energy
    solar_kwh: float
    prices: Mapping[str, float]

    @cached_property
    def lines(self) -> list[Line]:
        """The list with what was changed by hand."""
        return changed(parts_list(self.design), self.design.offer.lines)

    def _coins(self, value: float) -> Decimal:
        return cents(value, self.design.money.currency)

    def sum_of(self, line: Line) -> Decimal:
        """What a line comes to.

        Parameters
        ----------
        line
            A line of the parts list.

        Returns
        -------
        Decimal
            What a line comes to.
        """
        return Decimal(0) if line.left_out else self._coins(line.quantity * line.price_of_one(self.prices))

    @cached_property
    def parts(self) -> Decimal:
        """Parts without work."""
        return sum((self.sum_of(line) for line in self.lines if line.group not in WORK), Decimal(0))

    @cached_property
    def work(self) -> Decimal:
        """Work, permits and the like."""
        return sum((self.sum_of(line) for line in self.lines if line.group in WORK), Decimal(0))

    @cached_property
    def margin(self) -> Decimal:
        """The margin on parts."""
        return self._coins(float(self.parts) * self.design.money.margin / 100.0)

    @cached_property
    def tax(self) -> Decimal:
        """Tax on the whole."""
        return self._coins(float(self.parts + self.margin + self.work) * self.design.money.tax / 100.0)

    @cached_property
    def cost(self) -> Decimal:
        """What it costs, before grants."""
        return self.parts + self.margin + self.work + self.tax

    @cached_property
    def grants(self) -> list[Given]:
        """What each grant gives."""
        return given(self.design.money.grants, float(self.cost), self.design.system.gross_m2, self.solar_kwh)

    @cached_property
    def upkeep(self) -> tuple[Upkeep, ...]:
        """What comes again, from the design's own parts."""
        money, keys = self.design.money, {line.key for line in self.lines if not line.left_out}
        pumps = next((line.quantity for line in self.lines if line.key == "pump"), 0.0)
        found = [Upkeep("looked after", 1, money.inspection)]
        if fluid_l(self.design) > 0 and "fluid" in keys:
            found.append(Upkeep("fluid changed", money.fluid_years, fluid_l(self.design) * self.prices["fluid"]))
        if "anode" in keys:
            found.append(Upkeep("anode changed", money.anode_years, self.prices["anode"]))
        if pumps:
            found.append(Upkeep("pump replaced", money.pump_years, pumps * self.prices["pump"]))
        return tuple(found)

    @cached_property
    def case(self) -> Case:
        """Everything its years depend on."""
        money = self.design.money
        water = water_saved_m3(self.design) * money.water_price_m3 if money.water_counts else 0.0
        return Case(
            money,
            float(self.cost),
            self.energy.saved,
            self.energy.solar_kwh,
            self.energy.co2_saved_kg,
            tuple(self.grants),
            self.upkeep,
            self.energy.without,
            water,
            self.energy.pump,
        )

    @cached_property
    def years(self) -> list[YearLine]:
        """Its ledger, year by year."""
        return ledger(self.case)

    @cached_property
    def economics(self) -> Economics:
        """What the project comes to, however it is paid for."""
        return evaluate(project_of(self.case))

    @cached_property
    def own_economics(self) -> Economics:
        """What one's own money comes to: the loan in it."""
        return evaluate(self.case)


def offered(design: Design, book: YearBook, prices: Mapping[str, float]) -> Offered:
    """A design with its year, at prices (currency, by item), or at those it was offered with.

    Parameters
    ----------
    design
        The design.
    book
        The year's results.
    prices
        Prices by item (currency of the project).

    Returns
    -------
    Offered
        A design with its year, at prices (currency, by item), or at those it was offered with.
    """
    energy = energy_of(book, design.money)
    return Offered(
        design, energy, float(book.yield_kwh_m2()[0] * design.system.gross_m2), offered_prices(design, prices)
    )


def offered_prices(design: Design, prices: Mapping[str, float]) -> Mapping[str, float]:
    """Prices (currency, by item) that a design is offered with: its own where they were kept, else the book's.

    Parameters
    ----------
    design
        The design.
    prices
        Prices by item (currency of the project).

    Returns
    -------
    Mapping[str, float]
        Prices (currency, by item).
    """
    return PRICES | dict(prices) | {key: price for key, price in design.offer.prices.items() if key in PRICES}


def figures(found: Offered) -> dict[str, float]:
    """The numbers of money that stand beside a year's others: what it costs after grants, life-cycle cost and net
    present value (currency), the cost of a solar kilowatt-hour (currency/kWh) and when it is paid back (years).

    Parameters
    ----------
    found
        The offer.

    Returns
    -------
    dict[str, float]
        The numbers of money that stand beside a year's others: what it costs after grants, life-cycle cost and
        net present value (currency), the cost of a solar kilowatt-hour (currency/kWh) and when it is paid back
        (years).
    """
    return {
        "first_cost": float(found.cost) - granted(found.case),
        "life_cycle_cost": life_cycle_cost(found.case),
        "present_value": found.economics.present_value,
        "solar_kwh_cost": found.economics.cost_kwh,
        "payback_years": found.economics.payback,
    }
