"""Prices of power by hour and season, and what a year's energy costs with the sun and without it."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from heat import accounts as acc
from heat.constants import HOURS_OF_MONTH
from heat.design.money import Money, Rate
from heat.ledger import BOUGHT, NEEDED, YearBook

Array = NDArray[np.float64]
ELECTRIC = "element"
"""The source that pays the tariff, where there is one."""


def by_hour(rates: tuple[Rate, ...]) -> Array:
    """Prices of the 24 hours (currency/kWh): each from its hour until the next begins, through midnight."""
    told = sorted(rates, key=lambda rate: rate.from_hour)
    prices = np.empty(24)
    for hour in range(24):
        last = [rate for rate in told if rate.from_hour <= hour]
        prices[hour] = (last or told)[-1].price_kwh
    return prices


def price_row(money: Money, flat: float) -> Array:
    """Price of power in each of 8,760 hours (currency/kWh): the tariff, or one flat price where there is none."""
    if not money.tariff:
        return np.full(8760, flat)
    winter = by_hour(money.tariff)
    summer = by_hour(money.summer_tariff) if money.summer_tariff else winter
    first, last = money.summer_from_month, money.summer_to_month
    within = lambda m: first <= m <= last if first <= last else m >= first or m <= last
    return np.concatenate(
        [np.tile(summer if within(m + 1) else winter, int(HOURS_OF_MONTH[m]) // 24) for m in range(12)]
    )


@dataclass(frozen=True)
class Energy:
    """A year's energy (kWh) and what it costs (currency): what is bought by source, the pump's power, heat that is
    missing as if it were bought, and the same house without solar; CO2 saved (kg)."""

    bought: dict[str, float]
    pump: float
    missing: float
    without: float
    solar_kwh: float
    co2_saved_kg: float

    @property
    def with_sun(self) -> float:
        """What the year costs with the sun (currency)."""
        return sum(self.bought.values()) + self.pump + self.missing

    @property
    def saved(self) -> float:
        """What the sun saves in the first year (currency)."""
        return self.without - self.with_sun


def energy_of(book: YearBook, money: Money) -> Energy:
    """What a year's energy costs (currency) with the sun and without; the sun's share of the need (kWh)."""
    bought = {}
    for name, (heat, efficiency, price, _co2) in book.sources().items():
        if heat <= 0:
            continue
        if name == ELECTRIC and money.tariff:
            hourly = book.hourly(acc.BOUGHT_ELEMENT) / 1000.0
            bought[name] = float(hourly @ price_row(money, price)) / efficiency
        else:
            bought[name] = heat / efficiency * price
    power = book.hourly(acc.PUMP_ELECTRICITY) / 1000.0
    lines = book.without_solar()
    tap = lines[0]
    missing = book.total(acc.MISSING) / tap.efficiency * tap.price_kwh
    return Energy(
        bought, float(power @ price_row(money, money.pump_price_kwh)), missing, _without(book, money),
        max(book.total(*NEEDED) - book.total(*BOUGHT, acc.MISSING), 0.0), book.co2_saved_kg(),
    )  # fmt: skip


def _without(book: YearBook, money: Money) -> float:
    """What the same house pays without solar (currency): by its own heaters; power by the tariff of the hours in which
    heat is wanted."""
    total = 0.0
    for line in book.without_solar():
        if line.electric and money.tariff and line.kwh > 0:
            wanted = book.hourly(*line.columns)
            mean = float(wanted @ price_row(money, line.price_kwh)) / wanted.sum() if wanted.sum() > 0 else 0.0
            total += line.kwh / line.efficiency * mean
        else:
            total += line.kwh / line.efficiency * line.price_kwh
    return total
