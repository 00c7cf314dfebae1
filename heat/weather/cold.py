"""How cold it gets: what a year shows, and what a site must be safe from.

A typical or made-up year is mild by intent: its coldest hour is no ground for a decision about frost. The rule takes
the coldest month's mean; :mod:`heat.tests.validation_light` compares it with design tables of 68 places.
"""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from heat.constants import HOURS_OF_MONTH
from heat.weather.year import Note, WeatherYear, monthly_means

Array = NDArray[np.float64]
DESIGN_RULE, LOWEST_RULE = (1.354, -12.3), (1.395, -15.8)
"""Air that 99.6 % of the hours exceed, and the mean of each year's lowest (°C), by the coldest month's mean: slope (no
unit) and offset (°C). Fitted on the 68 places of heat/data/world/cold.csv."""
LOWER_END_K = 4.3
"""How far below the second a decision about frost looks (K): nine of ten places lie above. Source: the same fit, 1.28
times its spread of 3.4 K."""
WINTER_SHARE = 0.996
"""Share of the hours that are warmer than the design air (no unit). Source: climatic design tables, 99.6 %."""
MOST_SWING = 3.0
"""A made-up year's swing about its months is stretched no more than this (no unit). Source: our own choice."""


@dataclass(frozen=True)
class Cold:
    """The coldest hour of the year at hand, the design air, the mean of each year's lowest, and what to be safe from
    (°C).
    """

    year_c: float
    design_c: float
    lowest_c: float
    safe_from_c: float


def by_rule(coldest_month_c: float) -> tuple[float, float]:
    """Design air and the mean of each year's lowest, from the coldest month's mean.

    Parameters
    ----------
    coldest_month_c
        Mean air of the coldest month (°C).

    Returns
    -------
    tuple[float, float]
        Design air, 99.6 % (°C); mean of each year's lowest (°C).
    """
    (a, b), (c, d) = DESIGN_RULE, LOWEST_RULE
    return a * coldest_month_c + b, c * coldest_month_c + d


def is_made(weather: WeatherYear) -> bool:
    """Whether a year was made from means and not measured.

    Parameters
    ----------
    weather
        The weather year.

    Returns
    -------
    bool
        Whether it was made.
    """
    return weather.made_up or weather.kind in ("synthetic", "rough")


def cold_of(weather: WeatherYear) -> Cold:
    """How cold it gets where a year was taken or made up.

    A measured or typical year is itself one winter's evidence: there the mean of each year's lowest counts. Where the
    year is made from means, the lower end of the rule does.

    Parameters
    ----------
    weather
        The weather year.

    Returns
    -------
    Cold
        What the year shows, and what to be safe from (°C).
    """
    year_c = float(weather.air_c.min())
    design, lowest = by_rule(float(min(monthly_means(weather.air_c))))
    below = LOWER_END_K if is_made(weather) else 0.0
    return Cold(year_c, design, lowest, min(year_c, lowest - below))


def season_cold_c(weather: WeatherYear, in_use: NDArray[np.bool_]) -> float:
    """How far the air may fall in some of the hours.

    Parameters
    ----------
    weather
        The weather year.
    in_use
        The hours that count (1), hourly.

    Returns
    -------
    float
        The coldest of them, below a made-up year's by the margin of the rule (°C).
    """
    return float(weather.air_c[in_use].min()) - (LOWER_END_K if is_made(weather) else 0.0)


def stretched(air_c: Array, design_c: float) -> Array:
    """A made-up year's air with cold days as cold as the design air has it; each month's mean stays.

    Parameters
    ----------
    air_c
        Outdoor air (°C), hourly.
    design_c
        Air that 99.6 % of the hours shall exceed (°C).

    Returns
    -------
    ndarray
        Outdoor air (°C), hourly.
    """
    month = np.repeat(np.arange(12), HOURS_OF_MONTH)
    mean = np.array([air_c[month == m].mean() for m in range(12)])[month]
    low, high = 1.0, MOST_SWING
    coldest = lambda swing: float(np.quantile(mean + swing * (air_c - mean), 1.0 - WINTER_SHARE))
    if coldest(low) <= design_c:
        return air_c
    for _ in range(40):
        swing = 0.5 * (low + high)
        low, high = (swing, high) if coldest(swing) > design_c else (low, swing)
    return np.asarray(mean + high * (air_c - mean))


def with_cold_days(year: WeatherYear) -> WeatherYear:
    """A year made from means whose cold days are as cold as the rule has them (°C), with a note that says so.

    Parameters
    ----------
    year
        The year, made from means.

    Returns
    -------
    WeatherYear
        The same sun and the same monthly means of the air (°C).
    """
    design_c, _lowest_c = by_rule(float(min(monthly_means(year.air_c))))
    note = Note("info", f"Cold days reach the design air of {design_c:.0f} °C that follows from the coldest month.")
    return replace(year, air_c=stretched(year.air_c, design_c), notes=(*year.notes, note))
