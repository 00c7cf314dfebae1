"""The years of an investment: what goes out and comes in, to the cent, and what it comes to.

Terms after ISO 15686-5; annuity and present value after EN 15459-1: ``PV = sum flow_t/(1 + i)^t``.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace
from decimal import ROUND_HALF_EVEN, Decimal
from functools import cache
from math import inf

import numpy as np
from babel.numbers import get_currency_precision

from heat.design.money import Money
from heat.economics.grants import Given, paid_in


@cache
def coin(currency: str = "EUR") -> Decimal:
    """The smallest amount that a currency is calculated in (currency).

    Parameters
    ----------
    currency
        Currency of the project.

    Returns
    -------
    Decimal
        The smallest amount that a currency is calculated in (currency).

    References
    ----------
    CLDR, through Babel.
    """
    return Decimal(1).scaleb(-get_currency_precision(currency))


def cents(value: float, currency: str = "EUR") -> Decimal:
    """An amount (currency) rounded once, to the smallest coin of its currency, halves to even.

    Parameters
    ----------
    value
        An amount (currency).
    currency
        Currency of the project.

    Returns
    -------
    Decimal
        An amount (currency) rounded once, to the smallest coin of its currency, halves to even.
    """
    return Decimal(repr(float(value))).quantize(coin(currency), ROUND_HALF_EVEN)


@dataclass(frozen=True)
class Upkeep:
    """What comes again: its words, every how many years, and what it costs at today's prices (currency)."""

    words: str
    every: int
    cost: float


@dataclass(frozen=True)
class Case:
    """What the money of a design depends on: its cost (currency), what the sun saves in the first year (currency) and
    gives (kWh), CO2 saved (kg), grants and upkeep; the rates of the project; what energy would cost in the first year
    without the sun (currency), what else is saved a year, such as water (currency), and power of pumps, which what is
    saved is net of (currency a year).
    """

    money: Money
    cost: float
    saved: float
    solar_kwh: float
    co2_kg: float
    grants: tuple[Given, ...] = ()
    upkeep: tuple[Upkeep, ...] = ()
    without: float = 0.0
    water: float = 0.0
    pump: float = 0.0


@dataclass(frozen=True)
class YearLine:
    """A year's line (currency, to the cent): what is paid for the system, grants, loan taken or paid back, energy
    saved, upkeep, what is left of the year, and of all years until then, plain and discounted.
    """

    year: int
    system: Decimal
    grants: Decimal
    loan: Decimal
    saved: Decimal
    upkeep: Decimal
    net: Decimal
    total: Decimal
    discounted: Decimal


def rate(percent: float) -> float:
    """A rate of so many percent a year (1).

    Parameters
    ----------
    percent
        A rate (% a year).

    Returns
    -------
    float
        A rate of so many percent a year (1).
    """
    return percent / 100.0


def annuity(principal: float, percent: float, years: int) -> float:
    """Yearly payment (currency) of a loan (currency) at an interest (%) over years: ``P i/(1 - (1+i)^-n)``.

    Parameters
    ----------
    principal
        Sum borrowed (currency).
    percent
        Interest (% a year).
    years
        Years (a).

    Returns
    -------
    float
        Yearly payment (currency).

    References
    ----------
    EN 15459-1, annuity factor.
    """
    i = rate(percent)
    return principal / years if i == 0 else principal * i / (1.0 - (1.0 + i) ** -years)


def owed(principal: float, percent: float, years: int, after: int) -> float:
    """What is still owed of a loan after some years of its yearly payment.

    Parameters
    ----------
    principal
        Sum borrowed (currency).
    percent
        Interest (% a year).
    years
        Years the loan runs (a).
    after
        Years paid (a).

    Returns
    -------
    float
        Sum still owed (currency).

    References
    ----------
    The present value of the payments to come, ``A (1 - (1+i)^-(n-t)) / i``; EN 15459-1, annuity factor.
    """
    left = years - after
    if left <= 0:
        return 0.0
    i, payment = rate(percent), annuity(principal, percent, years)
    return payment * left if i == 0 else payment * (1.0 - (1.0 + i) ** -left) / i


def water_in(case: Case, year: int) -> float:
    """Water and what else is saved beside energy in a year (currency).

    Parameters
    ----------
    case
        What the caution is about.
    year
        Year of the horizon, from 1.

    Returns
    -------
    float
        Water and what else is saved beside energy in a year (currency).
    """
    return case.water * (1.0 + rate(case.money.upkeep_rise)) ** (year - 1)


def saved_in(case: Case, year: int) -> float:
    """Energy saved in a year (currency): at first-year prices in year 1, risen and faded from then on.

    Parameters
    ----------
    case
        What the caution is about.
    year
        Year of the horizon, from 1.

    Returns
    -------
    float
        Energy saved in a year (currency).
    """
    m = case.money
    risen = (1.0 + rate(m.energy_rise)) ** (year - 1)
    energy = case.saved * (1.0 - rate(m.fade)) ** (year - 1) * risen + m.standing_saved * risen
    return energy + water_in(case, year)


def upkeep_in(case: Case, year: int) -> float:
    """Upkeep of a year (currency): what comes due, at prices risen since today.

    Parameters
    ----------
    case
        What the caution is about.
    year
        Year of the horizon, from 1.

    Returns
    -------
    float
        Upkeep of a year (currency).
    """
    due = sum(item.cost for item in case.upkeep if item.every and year % item.every == 0)
    return due * (1.0 + rate(case.money.upkeep_rise)) ** year


def ledger(case: Case) -> list[YearLine]:
    """Every year's line (currency, to the cent), from the year of building; each net is the sum of its line as
    printed, each total that of the nets. A loan that outlasts the horizon is paid back with it.

    Parameters
    ----------
    case
        What the caution is about.

    Returns
    -------
    list[YearLine]
        Every year's line (currency, to the cent), from the year of building; each net is the sum of its line as
        printed, each total that of the nets.
    """
    m = case.money
    borrowed = rate(m.loan_share) * max(case.cost - paid_in(list(case.grants), 0), 0.0)
    payment = annuity(borrowed, m.loan_interest, m.loan_years) if borrowed else 0.0
    lines, total, discounted = [], Decimal(0), Decimal(0)
    round_ = lambda value: cents(value, m.currency)
    for year in range(m.horizon_years + 1):
        system = round_(-case.cost if year == 0 else 0.0)
        grants = round_(paid_in(list(case.grants), year))
        back = payment if year <= m.loan_years else 0.0
        if borrowed and year == m.horizon_years:
            back += owed(borrowed, m.loan_interest, m.loan_years, year)
        loan = round_(-back if year else borrowed)
        saved = round_(saved_in(case, year) if year else 0.0)
        upkeep = round_(-upkeep_in(case, year) if year else 0.0)
        net = system + grants + loan + saved + upkeep
        total += net
        discounted += round_(float(net) / (1.0 + rate(m.interest)) ** year)
        lines.append(YearLine(year, system, grants, loan, saved, upkeep, net, total, discounted))
    return lines


@dataclass(frozen=True)
class Economics:
    """What an investment comes to: net present value (currency), simple payback at the first year's prices, payback
    with rising prices, plain and discounted (years, inf for never), internal rate (%, nan for none), cost of a solar
    kilowatt-hour (currency/kWh) and of a tonne of CO2 (currency/t, below zero where it earns), and what energy prices
    would have to be for it to break even (times today's).
    """

    present_value: float
    simple_payback: float
    payback: float
    discounted_payback: float
    internal_rate: float
    cost_kwh: float
    cost_tonne: float
    break_even: float


def flows(case: Case) -> list[float]:
    """Net flows of the years (currency), unrounded, own money only.

    Parameters
    ----------
    case
        What the caution is about.

    Returns
    -------
    list[float]
        Net flows of the years (currency).
    """
    return [float(line.net) for line in ledger(case)]


def discounted_sum(values: Callable[[int], float], money: Money) -> float:
    """Present value (currency, or kWh) of yearly values of years 1 to the horizon.

    Parameters
    ----------
    values
        Amount (currency) of each year from 1.
    money
        Prices, tariffs and conditions of the project.

    Returns
    -------
    float
        Present value (currency, or kWh).
    """
    return sum(values(t) / (1.0 + rate(money.interest)) ** t for t in range(1, money.horizon_years + 1))


def evaluate(case: Case) -> Economics:
    """What it comes to (currency, years, %, currency/kWh).

    Parameters
    ----------
    case
        What the caution is about.

    Returns
    -------
    Economics
        What it comes to (currency, years, %, currency/kWh).
    """
    lines, m = ledger(case), case.money
    value = float(lines[-1].discounted)
    out = case.cost - granted(case)
    upkeep = discounted_sum(lambda t: upkeep_in(case, t), m)
    pump = discounted_sum(lambda t: case.pump * (1.0 + rate(m.energy_rise)) ** (t - 1), m)
    heat = discounted_sum(lambda t: case.solar_kwh * (1.0 - rate(m.fade)) ** (t - 1), m)
    energy = discounted_sum(lambda t: saved_in(case, t) - water_in(case, t), m)
    tonnes = sum(case.co2_kg * (1.0 - rate(m.fade)) ** (t - 1) for t in range(1, m.horizon_years + 1)) / 1000.0
    return Economics(
        value,
        simple_payback(case),
        _payback([line.total for line in lines]),
        _payback([line.discounted for line in lines]),
        internal_rate([float(line.net) for line in lines]),
        (out + upkeep + pump) / heat if heat > 0 else inf,
        -value / tonnes if tonnes > 0 else inf,
        1.0 - value / energy if energy > 0 else inf,
    )


def project_of(case: Case) -> Case:
    """The case of the whole project, however it is paid for: without its loan.

    Parameters
    ----------
    case
        What the money depends on.

    Returns
    -------
    Case
        The case without a loan.
    """
    return replace(case, money=case.money.model_copy(update={"loan_share": 0.0}))


def simple_payback(case: Case) -> float:
    """Simple payback (years, inf for never): what it costs after grants, by what the first year leaves after what
    comes up every year on average, all at the first year's prices.

    Parameters
    ----------
    case
        What the money depends on.

    Returns
    -------
    float
        Simple payback (years).

    References
    ----------
    Duffie and Beckman (2013), 11.6, without inflation and discount.
    """
    yearly = sum(item.cost / item.every for item in case.upkeep if item.every)
    left = case.saved + case.money.standing_saved + case.water - yearly
    cost = case.cost - sum(grant.amount for grant in case.grants)
    return 0.0 if cost <= 0 else cost / left if left > 0 else inf


def discount_factor(money: Money, years: int) -> float:
    """Present value (1) of one paid at the end of each of so many years within the horizon.

    Parameters
    ----------
    money
        Prices, tariffs and conditions of the project.
    years
        Years (a).

    Returns
    -------
    float
        Present value (1).
    """
    i = rate(money.interest)
    n = min(years, money.horizon_years)
    return float(n) if i == 0 else (1.0 - (1.0 + i) ** -n) / i


def energy_in(case: Case, year: int) -> float:
    """What energy costs with the sun in a year (currency), and the water that is not saved counts as nothing.

    Parameters
    ----------
    case
        What the caution is about.
    year
        Year of the horizon, from 1.

    Returns
    -------
    float
        What energy costs with the sun in a year (currency), and the water that is not saved counts as nothing.
    """
    return case.without * (1.0 + rate(case.money.energy_rise)) ** (year - 1) - saved_in(case, year)


def granted(case: Case, amount: Callable[[Given], float] = lambda grant: grant.amount) -> float:
    """Present value of the grants within the horizon (currency), or of something else of each.

    Parameters
    ----------
    case
        What the money depends on.
    amount
        What of a grant is summed; its amount (currency).

    Returns
    -------
    float
        Present value of the grants within the horizon (currency).
    """
    m = case.money
    return sum(amount(g) / g.years * (discount_factor(m, g.years) if g.years > 1 else 1.0) for g in case.grants)


def life_cycle_cost(case: Case) -> float:
    """Present value of all that is paid within the horizon (currency): first cost less grants, upkeep, and energy with
    the sun; a loan is left out.

    Parameters
    ----------
    case
        What the caution is about.

    Returns
    -------
    float
        Present value of all that is paid within the horizon (currency).

    References
    ----------
    ISO 15686-5, life-cycle cost in real terms of one discount rate; no value is left at the end.
    """
    running = discounted_sum(lambda t: upkeep_in(case, t) + energy_in(case, t), case.money)
    return case.cost - granted(case) + running


def present_value(case: Case) -> float:
    """Net present value (currency) without the roundings of a ledger and without a loan.

    Parameters
    ----------
    case
        What the caution is about.

    Returns
    -------
    float
        Net present value (currency).
    """
    return discounted_sum(lambda t: saved_in(case, t) - upkeep_in(case, t), case.money) + granted(case) - case.cost


def _payback(totals: list[Decimal]) -> float:
    """Years until a running total stays at or above zero (a), straight within its year; inf for never."""
    below = [year for year, total in enumerate(totals) if total < 0]
    if not below:
        return 0.0
    last = below[-1]
    if last == len(totals) - 1:
        return inf
    a, b = float(totals[last]), float(totals[last + 1])
    return last + -a / (b - a)


def internal_rate(nets: list[float]) -> float:
    """Interest at which flows (currency) come to nothing (%); nan where there is none between -99 and 1000.

    Parameters
    ----------
    nets
        Net payment of each year (currency).

    Returns
    -------
    float
        Interest at which flows (currency) come to nothing (%); nan where there is none between -99 and 1000.
    """
    from scipy.optimize import brentq

    value = lambda i: sum(flow / (1.0 + i) ** t for t, flow in enumerate(nets))
    low, high = -0.99, 10.0
    if not np.isfinite(value(low)) or value(low) * value(high) > 0:
        return float("nan")
    return 100.0 * float(brentq(value, low, high))
