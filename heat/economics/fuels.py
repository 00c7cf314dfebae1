"""What the bought heat of a year would cost and emit, burnt as something else."""

from typing import NamedTuple

from heat.design.money import Fuel, Money
from heat.economics.tariff import emission_row, house_without, price_row
from heat.ledger.year_book import BOUGHT, YearBook


class Burnt(NamedTuple):
    """A fuel with what a year costs with the sun and without (currency, standing charge in both), and CO2 (kg)."""

    fuel: Fuel
    cost: float
    without: float
    co2_kg: float

    @property
    def saved(self) -> float:
        """What the sun saves of it in a year (currency)."""
        return self.without - self.cost


def burnt(book: YearBook, money: Money, fuel: Fuel) -> Burnt:
    """A year's bought heat (kWh) by a fuel (currency, kg): power in the hours in which it is bought where the fuel
    pays by the hour, else at its one price.

    Parameters
    ----------
    book
        The year's results.
    money
        Prices, tariffs and conditions of the project.
    fuel
        The fuel.

    Returns
    -------
    Burnt
        A year's bought heat (kWh) by a fuel (currency, kg): power in the hours in which it is bought where the
        fuel pays by the hour, else at its one price.
    """
    heat = book.total(*BOUGHT)
    uses = house_without(book, money)
    without = sum(line.kwh for line in uses)
    if not fuel.by_hour:
        cost, co2 = fuel.price_kwh * heat, fuel.co2_kg_kwh * heat
        whole = fuel.price_kwh * without
    else:
        prices, hourly = price_row(money, fuel.price_kwh), book.hourly(*BOUGHT) / 1000.0
        cost, co2 = float(hourly @ prices), float(hourly @ emission_row(money, fuel.co2_kg_kwh))
        wanted = book.hourly(*(column for line in uses for column in line.columns)) / 1000.0
        whole = without * (float(wanted @ prices) / wanted.sum() if wanted.sum() > 0 else fuel.price_kwh)
    return Burnt(
        fuel, cost / fuel.efficiency + fuel.standing, whole / fuel.efficiency + fuel.standing, co2 / fuel.efficiency
    )
