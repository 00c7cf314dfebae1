"""How sure a year is: the same design under the uncertainty of its inputs, as a band, and which "
"uncertainty makes most of it.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtri

from heat.common.documents import Document, value_or_none
from heat.design.schemes import SCHEMES
from heat.studies.plans import spread
from heat.weather.year import WeatherYear

Array = NDArray[np.float64]
OPINION_GAP = 0.005
"""How far outside a band a second opinion is a doubt of the model (1). Source: our own choice."""
BAND = (0.1, 0.5, 0.9)
"""Shares of years below the lower edge, the middle and the upper edge of a band (1)."""
CUT = 2.5
"""Uncertainties are cut off so many standard deviations from the middle (1): nothing turns negative."""


@dataclass(frozen=True)
class UncertainInput:
    """An input that is not sure: what it is, one standard deviation as a share of it (1), and what it scales."""

    key: str
    words: str
    spread: float
    scales: tuple[str, ...] = ()


USUAL = (
    UncertainInput("sun", "the sun of a year", 0.05),
    UncertainInput("air", "the air of a year", 0.7),
    UncertainInput("litres", "the litres drawn", 0.15, ("demand.people", "demand.measured_l")),
    UncertainInput(
        "building", "the heat the building loses", 0.1, ("demand.heating.loss_w_k", "demand.heating.hourly_kw")
    ),
    UncertainInput("collector", "the collector’s test, η0", 0.02, ("system.collector.eta0",)),
    UncertainInput(
        "collector loss",
        "the collector’s test, losses",
        0.06,
        ("system.collector.a1_w_m2k", "system.collector.a2_w_m2k2"),
    ),
    UncertainInput(
        "store loss",
        "the insulation of the store",
        0.15,
        (
            "system.store.loss_w_k",
            "system.store.insulation_w_mk",
            "system.second_store.loss_w_k",
            "system.integral.back_w_m2k",
            "system.integral.insulation_w_mk",
        ),
    ),
    UncertainInput(
        "pipe loss",
        "the insulation of the pipes",
        0.2,
        tuple(
            f"system.loop.{pipe}.{name}"
            for pipe in ("supply_pipe", "return_pipe")
            for name in ("insulation_w_mk", "loss_w_k")
        ),
    ),
)
"""Uncertainties where none are given (one standard deviation: shares; kelvins for the air). Source: year to year the
sun varies by 4 to 6 %, the air by 0.5 to 1 K (WMO normals); EN ISO 9806 test scatter; workmanship by our own choice."""


@dataclass(frozen=True)
class Band:
    """The edges and the middle of an outcome (its unit), and each uncertainty's share of its variance (1) by key, with
    what no single uncertainty explains as ``rest``.
    """

    edges: tuple[float, float, float]
    shares: dict[str, float]
    rest: float


def _loss_w_k(document: Document) -> float:
    return float(document["demand"]["heating"]["loss_w_k"])


def of_use(document: Document) -> tuple[UncertainInput, ...]:
    """The usual uncertainties of what a design has: no building's where no rooms are heated, no pipes' where there are
    none.

    Parameters
    ----------
    document
        The design document; numbers in the units its schema names.

    Returns
    -------
    tuple[UncertainInput, ...]
        Uncertain inputs.
    """
    demand, scheme = document["demand"], SCHEMES[document["system"]["kind"]]
    has = {
        "litres": demand["hot_water"],
        "building": demand["heating"]["fitted"],
        "store loss": scheme.exchange != "pool",
        "pipe loss": scheme.driven_by != "none",
    }
    return tuple(uncertainty for uncertainty in USUAL if has.get(uncertainty.key, True))


def weather_share(found: Band) -> float:
    """How much of an outcome's variance the weather of the year alone makes (1); the rest does not change by the year.

    Parameters
    ----------
    found
        The band.

    Returns
    -------
    float
        Share of the variance (1).
    """
    return min(max(sum(found.shares.get(key, 0.0) for key in ("sun", "air")), 0.0), 1.0)


def draws(uncertainties: tuple[UncertainInput, ...], size: int, seed: int = 1) -> Array:
    """How many standard deviations each uncertainty is off in each year (1): normal, cut off, filling their space
    evenly.

    Parameters
    ----------
    uncertainties
        The uncertain inputs.
    size
        Number of years.
    seed
        Seed of the random numbers.

    Returns
    -------
    ndarray
        How many standard deviations each uncertainty is off in each year (1): normal, cut off, filling their
        space evenly.
    """
    return np.clip(ndtri(spread(len(uncertainties), size, seed)), -CUT, CUT)


def perturbed(
    document: Document, uncertainties: tuple[UncertainInput, ...], drawn: Array, put: Callable[..., Document]
) -> Document:
    """The design with its inputs off as drawn (1, in standard deviations).

    What a kind does not use, or does not know, stays as it is.

    Parameters
    ----------
    document
        The design document; numbers in the units its schema names.
    uncertainties
        The uncertain inputs.
    drawn
        How far off each input is, in standard deviations.
    put
        Sets values by dotted path in a document.

    Returns
    -------
    Document
        The design with its inputs off as drawn (1, in standard deviations).
    """
    changes: dict[str, Any] = {}
    for uncertainty, off in zip(uncertainties, drawn, strict=True):
        for path in uncertainty.scales:
            value = value_or_none(document, path)
            times = 1.0 + uncertainty.spread * float(off)
            if isinstance(value, int | float) and not isinstance(value, bool):
                changes[path] = value * times
            elif isinstance(value, list | tuple):
                changes[path] = [one * times for one in value]
    if changes.get("demand.heating.loss_w_k") and document["demand"]["heating"]["source"] == "fuel":
        used = document["demand"]["heating"]["fuel_year"]
        changes["demand.heating.fuel_year"] = used * changes["demand.heating.loss_w_k"] / _loss_w_k(document)
    return put(document, changes)


def perturbed_year(weather: WeatherYear, uncertainties: tuple[UncertainInput, ...], drawn: Array) -> WeatherYear:
    """The weather with its sun (share) and air (K) off as drawn (1, in standard deviations).

    Parameters
    ----------
    weather
        The weather, 8,760 hours.
    uncertainties
        The uncertain inputs.
    drawn
        How far off each input is, in standard deviations.

    Returns
    -------
    WeatherYear
        The weather with its sun (share) and air (K) off as drawn (1, in standard deviations).
    """
    off = {uncertainty.key: uncertainty.spread * float(d) for uncertainty, d in zip(uncertainties, drawn, strict=True)}
    sun, air = 1.0 + off.get("sun", 0.0), off.get("air", 0.0)
    return replace(
        weather,
        ghi_w_m2=weather.ghi_w_m2 * sun,
        dni_w_m2=weather.dni_w_m2 * sun,
        dhi_w_m2=weather.dhi_w_m2 * sun,
        air_c=weather.air_c + air,
    )


def band(uncertainties: tuple[UncertainInput, ...], drawn: Array, outcome: Array) -> Band:
    """The band of an outcome (any unit, such as kWh) and which uncertainty makes most of it.

    Shares by a regression on each uncertainty and its square, drawn independently: the covariance of its part with
    the outcome over the outcome's variance.

    Parameters
    ----------
    uncertainties
        The uncertain inputs.
    drawn
        How far off each input is, in standard deviations.
    outcome
        Figure of each year (its own unit).

    Returns
    -------
    Band
        The band of an outcome (any unit, such as kWh) and which uncertainty makes most of it.

    References
    ----------
    Saltelli et al. (2008), Global Sensitivity Analysis, ch. 1.
    """
    finite = np.isfinite(outcome)
    values, off = outcome[finite], drawn[finite]
    low, middle, high = (float(v) for v in np.quantile(values, BAND))
    terms = np.column_stack([off, off**2 - (off**2).mean(axis=0)])
    centred = values - values.mean()
    found = np.linalg.lstsq(terms - terms.mean(axis=0), centred, rcond=None)[0]
    count, variance = len(uncertainties), float(values.var())
    shares = {}
    for k, uncertainty in enumerate(uncertainties):
        part = found[k] * terms[:, k] + found[count + k] * terms[:, count + k]
        shares[uncertainty.key] = float(np.mean((part - part.mean()) * centred)) / variance if variance > 0 else 0.0
    return Band((low, middle, high), shares, 1.0 - sum(shares.values()))


def with_second_opinion(low: float, high: float, opinion: float | None) -> tuple[float, float]:
    """A band of the solar fraction (1) that reaches to an independent method's answer where that lies outside: two
    models that disagree by more than their inputs can explain are a doubt of the model.

    Parameters
    ----------
    low
        Lower edge (1).
    high
        Upper edge (1).
    opinion
        The other method's fraction (1); None where it was not made for such a system.

    Returns
    -------
    tuple[float, float]
        Both edges (1).
    """
    if opinion is None or low - OPINION_GAP <= opinion <= high + OPINION_GAP:
        return low, high
    return min(low, opinion), max(high, opinion)
