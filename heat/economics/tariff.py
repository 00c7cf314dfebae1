"""Prices of power by hour and season, and what a year's energy costs with the sun and without it."""

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from heat.common.documents import Document
from heat.constants import HOURS, HOURS_OF_MONTH
from heat.demand.profile import as_it_is
from heat.design import Design
from heat.design.money import Money, Old, OldHeater, Rate
from heat.ledger import accounts as acc
from heat.ledger.without_solar import Heated, without_solar
from heat.ledger.year_book import NEEDED, YearBook

Array = NDArray[np.float64]


def by_hour(rates: tuple[Rate, ...]) -> Array:
    """Prices of the 24 hours (currency/kWh): each from its hour until the next begins, through midnight.

    Parameters
    ----------
    rates
        Rates of the tariff.

    Returns
    -------
    ndarray
        Prices of the 24 hours (currency/kWh).
    """
    ordered = sorted(rates, key=lambda rate: rate.from_hour)
    prices = np.empty(24)
    for hour in range(24):
        last = [rate for rate in ordered if rate.from_hour <= hour]
        prices[hour] = (last or ordered)[-1].price_kwh
    return prices


def price_row(money: Money, flat: float) -> Array:
    """Price of power in each of 8,760 hours (currency/kWh): the tariff, or one flat price where there is none.

    Parameters
    ----------
    money
        Prices, tariffs and conditions of the project.
    flat
        Price of a kWh without a tariff (currency).

    Returns
    -------
    ndarray, shape (8760,)
        Price of power in each of 8,760 hours (currency/kWh): the tariff, or one flat price where there is none.
    """
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
    missing as if it were bought, and the same house without solar; CO2 with the sun and saved (kg).
    """

    bought: dict[str, float]
    pump: float
    missing: float
    without: float
    solar_kwh: float
    co2_kg: float
    co2_saved_kg: float

    @property
    def with_sun(self) -> float:
        """What the year costs with the sun (currency)."""
        return sum(self.bought.values()) + self.pump + self.missing

    @property
    def saved(self) -> float:
        """What the sun saves in the first year (currency)."""
        return self.without - self.with_sun


def emission_row(money: Money, flat: float) -> Array:
    """CO2 of power in each of 8,760 hours (kg/kWh): by month and by hour of the day, or one value (kg/kWh).

    Parameters
    ----------
    money
        Prices, tariffs and conditions of the project.
    flat
        Price of a kWh without a tariff (currency).

    Returns
    -------
    ndarray, shape (8760,)
        CO2 of power in each of 8,760 hours (kg/kWh): by month and by hour of the day, or one value (kg/kWh).
    """
    months = np.full(12, flat) if money.co2_by_month is None else np.asarray(money.co2_by_month, dtype=float)
    hours = np.ones(24) if money.co2_by_hour is None else np.asarray(money.co2_by_hour, dtype=float)
    return np.concatenate([np.tile(months[m] * hours, int(HOURS_OF_MONTH[m]) // 24) for m in range(12)])


def water_saved_m3(design: Design) -> float:
    """Water that fixtures and leaks no longer take in a year (such as 46 m³), mixed as it ran, on ordinary days.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    float
        Water that fixtures and leaks no longer take in a year (such as 46 m³).
    """
    demand = design.demand
    less = as_it_is(demand).litres_per_day - demand.litres_per_day if demand.hot_water else 0.0
    return 365.0 * max(less, 0.0) / 1000.0


def energy_of(book: YearBook, money: Money) -> Energy:
    """What a year's energy costs (currency) with the sun and without; the sun's share of the need (kWh).

    Parameters
    ----------
    book
        The year's results.
    money
        Prices, tariffs and conditions of the project.

    Returns
    -------
    Energy
        What a year's energy costs (currency) with the sun and without; the sun's share of the need (kWh).
    """
    bought, co2 = {}, 0.0
    for name, source in book.sources().items():
        if source.kwh <= 0:
            continue
        if source.electric:
            hourly = book.hourly(source.column) / 1000.0 / source.efficiency
            bought[name] = float(hourly @ price_row(money, source.price_kwh))
            co2 += float(hourly @ emission_row(money, source.co2_kg_kwh))
        else:
            bought[name] = source.fuel_kwh * source.price_kwh
            co2 += source.fuel_kwh * source.co2_kg_kwh
    power = book.hourly(acc.PUMP_ELECTRICITY) / 1000.0
    co2 += float(power @ emission_row(money, book.design.system.backup.pump_co2_kg_kwh))
    tap, *others = house_without(book, money)
    missing = book.total(acc.UNMET) / tap.efficiency
    uses = [_power(book, money, line) for line in (tap, *others)]
    with_sun = co2 + missing * tap.co2_kg_kwh
    return Energy(
        bought,
        float(power @ price_row(money, money.pump_price_kwh)),
        missing * tap.price_kwh,
        sum(cost for cost, _co2 in uses),
        max(book.fractions.at_tap, 0.0) * book.total(*NEEDED),
        with_sun,
        sum(emitted for _cost, emitted in uses) - with_sun,
    )


def house_without(book: YearBook, money: Money) -> tuple[Heated, ...]:
    """What heats taps, rooms and pool without solar (kWh, currency/kWh, kg/kWh): the heaters on the drawing, or for
    the taps the old one as it was described.

    Parameters
    ----------
    book
        The year's results.
    money
        Prices, tariffs and conditions of the project.

    Returns
    -------
    tuple[Heated, ...]
        What heats taps, rooms and pool without solar (kWh, currency/kWh, kg/kWh): the heaters on the drawing,
        or for the taps the old one as it was described.
    """
    tap, rooms, pool = book.without_solar()
    old = money.old
    tap = tap._replace(**_stated(old, money))
    if old.standing_w is not None:
        tap = tap._replace(kwh=book.total(*tap.columns) + old.standing_w * HOURS / 1000.0)
    return tap, rooms._replace(**_stated(old.rooms, money)), pool


def _stated(heater: OldHeater, money: Money) -> dict[str, Any]:
    """What is described of an old heater, as fields of a heated use; price and CO2 by its energy where not given."""
    stated = {name: getattr(heater, name) for name in OldHeater.model_fields if getattr(heater, name) not in (None, "")}
    if "burns" in stated:
        price, co2 = money.energy(stated["burns"])
        stated = {"price_kwh": price, "co2_kg_kwh": co2} | stated
    return stated


def old_heaters(design: Design) -> Old:
    """The heaters of taps and rooms of the house without solar (1, currency/kWh, kg/kWh, W), each value as it was
    described or as the design has it.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    Old
        Both heaters, nothing left open.
    """
    tap, rooms, _pool = without_solar(design, lambda *_columns: 0.0)
    money, old = design.money, design.money.old
    of = lambda line, own: {name: getattr(line, name) for name in OldHeater.model_fields} | _stated(own, money)
    standing = 1000.0 * tap.kwh / HOURS if old.standing_w is None else old.standing_w
    return Old(**of(tap, old), standing_w=standing, rooms=OldHeater(**of(rooms, old.rooms)))


def with_old_heaters(document: Document, old: Old) -> Document:
    """A design document whose house without solar has these heaters: what designs of one house are all measured
    against.

    Parameters
    ----------
    document
        The design document; numbers in the units its schema names.
    old
        The heaters (1, currency/kWh, kg/kWh, W).

    Returns
    -------
    Document
        The document with them.
    """
    return {**document, "money": {**document["money"], "old": old.model_dump(mode="json")}}


def charged_wh(wanted_wh: Array, hours_on: tuple[bool, ...], power_w: float) -> Array:
    """When a tank's heater charges for what is drawn: at once in the hours it may heat, else in the next of them, as
    fast as it can.

    Parameters
    ----------
    wanted_wh
        Heat drawn from the tank and lost by it in each hour (Wh), 8,760 hours.
    hours_on
        Hours of the day it may heat.
    power_w
        Power (W).

    Returns
    -------
    ndarray, shape (8760,)
        Heat bought in each hour (Wh); what is left over at the year's end is charged in its first hours.
    """
    bought, due = np.zeros(wanted_wh.size), 0.0
    for again in range(2):
        for hour, wanted in enumerate(wanted_wh):
            due += 0.0 if again else wanted
            if hours_on[hour % 24]:
                now = min(due, power_w - bought[hour])
                bought[hour] += now
                due -= now
            if again and due <= 0.0:
                return bought
    return bought


def _power(book: YearBook, money: Money, line: Heated) -> tuple[float, float]:
    """What a use costs (currency) and emits (kg) without solar; power in the hours in which its heater charges."""
    fuel = line.kwh / line.efficiency
    wanted = book.hourly(*line.columns) if line.electric and line.kwh > 0 else np.zeros(1)
    if wanted.sum() <= 0:
        return fuel * line.price_kwh, fuel * line.co2_kg_kwh
    backup = book.design.system.backup
    element = backup.element if backup.element.fitted else backup.top_element
    timed = element.fitted and not all(element.hours_on) and any(element.hours_on)
    if timed and (money.tariff or money.co2_by_hour):
        standing = max(1000.0 * line.kwh - wanted.sum(), 0.0) / wanted.size
        wanted = charged_wh(wanted + standing, element.hours_on, 1000.0 * element.power_kw)
    mean = lambda row: float(wanted @ row) / wanted.sum()
    return fuel * mean(price_row(money, line.price_kwh)), fuel * mean(emission_row(money, line.co2_kg_kwh))
