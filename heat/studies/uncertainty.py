"""How sure a year is: the same design under the uncertainty of its inputs, as a band, and which "
"uncertainty makes most of it.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtri

from heat.common.documents import Document, value_or_none
from heat.studies.plans import spread
from heat.weather.year import WeatherYear

Array = NDArray[np.float64]
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
    UncertainInput("litres", "the litres drawn", 0.15, ("demand.people",)),
    UncertainInput("collector", "the collector’s test, η0", 0.02, ("system.collector.eta0",)),
    UncertainInput(
        "collector loss",
        "the collector’s test, losses",
        0.06,
        ("system.collector.a1_w_m2k", "system.collector.a2_w_m2k2"),
    ),
    UncertainInput(
        "store loss", "the insulation of the store", 0.15, ("system.store.loss_w_k", "system.second_store.loss_w_k")
    ),
    UncertainInput(
        "pipe loss",
        "the insulation of the pipes",
        0.2,
        ("system.loop.supply_pipe.insulation_w_mk", "system.loop.return_pipe.insulation_w_mk"),
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
    changes = {}
    for uncertainty, off in zip(uncertainties, drawn, strict=True):
        for path in uncertainty.scales:
            value = value_or_none(document, path)
            if isinstance(value, int | float) and not isinstance(value, bool):
                changes[path] = value * (1.0 + uncertainty.spread * float(off))
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
