"""What an investment's worth depends on: one assumption otherwise at a time, and all of them at once as a band."""

from dataclasses import dataclass, replace
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from heat.economics.cash import Case, granted, ledger, rate

Array = NDArray[np.float64]
BAND = (0.1, 0.5, 0.9)
"""Shares of cases below the lower edge, the middle and the upper edge of a band (1)."""
DRAWS = 1024
"""Cases a band is made of (1): a power of two, as Sobol' points come."""
TENTH = 1.2815515655446004
"""How many standard deviations the outer tenths of a normal spread lie from its middle (1)."""


class Guess(NamedTuple):
    """What may be otherwise: its key, words, how far in words, and how far (a share, or points of a rate): eight cases
    of ten lie within.
    """

    key: str
    words: str
    by: str
    far: float


GUESSES = (
    Guess("price", "energy prices", "a fifth higher or lower", 0.2),
    Guess("cost", "first cost", "a tenth higher or lower", 0.1),
    Guess("yield", "yield", "a tenth higher or lower", 0.1),
    Guess("interest", "interest", "two points higher or lower", 2.0),
    Guess("rise", "rise of energy prices", "two points higher or lower", 2.0),
)
"""Source: our own choice. The yield's own band takes the place of its tenth where it was calculated."""


def guesses(yield_far: float | None = None) -> tuple[Guess, ...]:
    """The assumptions, the yield's as far as its own band (a share), where there is one.

    Parameters
    ----------
    yield_far
        Yield of the far end (kWh).

    Returns
    -------
    tuple[Guess, ...]
        The assumptions, the yield's as far as its own band (a share), where there is one.
    """
    if yield_far is None:
        return GUESSES
    own = Guess("yield", "yield", f"{100 * yield_far:.0f} % higher or lower, its own band", yield_far)
    return tuple(own if guess.key == "yield" else guess for guess in GUESSES)


def otherwise(case: Case, key: str, by: float) -> Case:
    """A case with one assumption off by a share (1), or by points of a rate (%).

    Parameters
    ----------
    case
        What the caution is about.
    key
        What is otherwise.
    by
        How much, as a share (no unit).

    Returns
    -------
    Case
        A case with one assumption off by a share (1), or by points of a rate (%).
    """
    money = case.money
    if key == "cost":
        more = case.cost * by
        return replace(case, cost=case.cost + more, grants=tuple(grant.at_cost(more) for grant in case.grants))
    if key == "interest":
        return replace(case, money=money.model_copy(update={"interest": max(money.interest + by, -5.0)}))
    if key == "rise":
        return replace(case, money=money.model_copy(update={"energy_rise": money.energy_rise + by}))
    current = money.standing_saved * (1.0 + by) if key == "price" else money.standing_saved
    return replace(case, saved=case.saved * (1.0 + by), money=money.model_copy(update={"standing_saved": current}))


def shaken(case: Case, guesses: tuple[Guess, ...] = GUESSES) -> list[tuple[Guess, float, float]]:
    """Net present value (currency) with one thing lower and higher at a time, the one that matters most first.

    Parameters
    ----------
    case
        What the caution is about.
    guesses
        The uncertain prices and rates.

    Returns
    -------
    list[tuple[Guess, float, float]]
        Net present value (currency).
    """
    value = lambda guess, by: float(ledger(otherwise(case, guess.key, by))[-1].discounted)
    found = [(guess, value(guess, -guess.far), value(guess, guess.far)) for guess in guesses]
    return sorted(found, key=lambda row: -abs(row[2] - row[1]))


@dataclass(frozen=True)
class JointRisk:
    """All assumptions at once: edges of the net present value (currency), and the share of cases that pay (1)."""

    edges: tuple[float, float, float]
    pays: float


def joint_risk(case: Case, guesses: tuple[Guess, ...] = GUESSES, draws: int = DRAWS) -> JointRisk:
    """The band of the net present value (currency, no loan) with every assumption off at once, each by itself and
    normally spread.

    Parameters
    ----------
    case
        What the caution is about.
    guesses
        The uncertain prices and rates.
    draws
        Number of draws.

    Returns
    -------
    JointRisk
        The band of the net present value (currency, no loan).

    References
    ----------
    Sobol' (1967) points through scipy.
    """
    from scipy.special import ndtri  # only for the few pages that show a band
    from scipy.stats import qmc

    points = qmc.Sobol(len(guesses), seed=1).random(draws)
    off = {g.key: g.far / TENTH * ndtri(np.clip(points[:, i], 1e-6, 1 - 1e-6)) for i, g in enumerate(guesses)}
    values = present_values(case, off)
    low, middle, high = np.quantile(values, BAND)
    return JointRisk((float(low), float(middle), float(high)), float(np.mean(values > 0.0)))


def present_values(case: Case, off: dict[str, Array]) -> Array:
    """Net present values (currency, no loan) of a case with assumptions off by shares and points (%), by key.

    Parameters
    ----------
    case
        What the caution is about.
    off
        How far off each input is (no unit), by name.

    Returns
    -------
    ndarray
        Net present values (currency, no loan).
    """
    m, none = case.money, np.zeros(1)
    get = lambda key: off.get(key, none)
    year = np.arange(1, m.horizon_years + 1)[:, None]
    interest = np.maximum((m.interest + get("interest")) / 100.0, -0.5)
    risen = (1.0 + (m.energy_rise + get("rise")) / 100.0) ** (year - 1)
    other = (1.0 + rate(m.upkeep_rise)) ** (year - 1)
    price = np.maximum(1.0 + get("price"), 0.0)
    heat = case.saved * np.maximum(1.0 + get("yield"), 0.0) * (1.0 - rate(m.fade)) ** (year - 1)
    due = np.array([[sum(u.cost for u in case.upkeep if u.every and t % u.every == 0)] for t in year[:, 0]])
    net = price * (heat + m.standing_saved) * risen + case.water * other - due * other * (1.0 + rate(m.upkeep_rise))
    discounted = (net / (1.0 + interest) ** year).sum(axis=0)
    more = case.cost * get("cost")
    followed = granted(case, lambda grant: grant.follows) * more
    return np.asarray(discounted + granted(case) + followed - case.cost - more)
