"""How sure a year is: the same design under the doubt of its inputs, as a band, and which doubt makes most of it."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtri

from heat.weather.year import WeatherYear
from heat.weighing.plans import spread

Array = NDArray[np.float64]
Document = dict[str, Any]
BAND = (0.1, 0.5, 0.9)
"""Shares of years below the lower edge, the middle and the upper edge of a band (1)."""
CUT = 2.5
"""Doubts are cut off so many standard deviations from the middle (1): nothing turns negative."""


@dataclass(frozen=True)
class Doubt:
    """An input that is not sure: what it is, one standard deviation as a share of it (1), and what it scales."""

    key: str
    words: str
    spread: float
    scales: tuple[str, ...] = ()


USUAL = (
    Doubt("sun", "the sun of a year", 0.05),
    Doubt("air", "the air of a year", 0.7),
    Doubt("litres", "the litres drawn", 0.15, ("demand.people",)),
    Doubt("collector", "the collector’s test, η0", 0.02, ("system.collector.eta0",)),
    Doubt(
        "collector loss", "the collector’s test, losses", 0.06,
        ("system.collector.a1_w_m2k", "system.collector.a2_w_m2k2"),
    ),
    Doubt("store loss", "the insulation of the store", 0.15, ("system.store.loss_w_k", "system.second_store.loss_w_k")),
    Doubt(
        "pipe loss", "the insulation of the pipes", 0.2,
        ("system.loop.supply_pipe.insulation_w_mk", "system.loop.return_pipe.insulation_w_mk"),
    ),
)  # fmt: skip
"""Doubts where none are told (one standard deviation: shares; kelvins for the air). Source: year to year the sun varies
by 4 to 6 %, the air by 0.5 to 1 K (WMO normals); EN ISO 9806 test scatter; workmanship by our own choice."""


@dataclass(frozen=True)
class Band:
    """The edges and the middle of an outcome (its unit), and each doubt's share of its variance (1) by key, with what
    no single doubt explains as ``rest``."""

    edges: tuple[float, float, float]
    shares: dict[str, float]
    rest: float


def draws(doubts: tuple[Doubt, ...], size: int, seed: int = 1) -> Array:
    """How many standard deviations each doubt is off in each year (1): normal, cut off, filling their space evenly."""
    return np.clip(ndtri(spread(len(doubts), size, seed)), -CUT, CUT)


def doubted(document: Document, doubts: tuple[Doubt, ...], drawn: Array, put: Callable[..., Document]) -> Document:
    """The design with its inputs off as drawn (1, in standard deviations); ``put`` sets values by dotted path.

    What a kind does not use, or does not know, stays as it is.
    """
    changes = {}
    for doubt, off in zip(doubts, drawn, strict=True):
        for path in doubt.scales:
            value = _at(document, path)
            if isinstance(value, int | float) and not isinstance(value, bool):
                changes[path] = value * (1.0 + doubt.spread * float(off))
    return put(document, changes)


def _at(document: Document, path: str) -> Any:
    value: Any = document
    for name in path.split("."):
        value = value.get(name) if isinstance(value, dict) else None
    return value


def doubted_year(weather: WeatherYear, doubts: tuple[Doubt, ...], drawn: Array) -> WeatherYear:
    """The weather with its sun (share) and air (K) off as drawn (1, in standard deviations)."""
    off = {doubt.key: doubt.spread * float(d) for doubt, d in zip(doubts, drawn, strict=True)}
    sun, air = 1.0 + off.get("sun", 0.0), off.get("air", 0.0)
    return replace(
        weather, ghi_w_m2=weather.ghi_w_m2 * sun, dni_w_m2=weather.dni_w_m2 * sun, dhi_w_m2=weather.dhi_w_m2 * sun,
        air_c=weather.air_c + air,
    )  # fmt: skip


def band(doubts: tuple[Doubt, ...], drawn: Array, outcome: Array) -> Band:
    """The band of an outcome (any unit, such as kWh) and which doubt makes most of it.

    Shares by a regression on each doubt and its square, drawn independently: the covariance of its part with the
    outcome over the outcome's variance. Reference: Saltelli et al. (2008), Global Sensitivity Analysis, ch. 1.
    """
    seen = np.isfinite(outcome)
    values, off = outcome[seen], drawn[seen]
    low, middle, high = (float(v) for v in np.quantile(values, BAND))
    terms = np.column_stack([off, off**2 - (off**2).mean(axis=0)])
    centred = values - values.mean()
    found = np.linalg.lstsq(terms - terms.mean(axis=0), centred, rcond=None)[0]
    count, variance = len(doubts), float(values.var())
    shares = {}
    for k, doubt in enumerate(doubts):
        part = found[k] * terms[:, k] + found[count + k] * terms[:, count + k]
        shares[doubt.key] = float(np.mean((part - part.mean()) * centred)) / variance if variance > 0 else 0.0
    return Band((low, middle, high), shares, 1.0 - sum(shares.values()))
