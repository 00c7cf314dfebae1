"""A year watched: monthly meters beside the year of the design, in this year's weather as far as it is known."""

from collections.abc import Mapping
from dataclasses import dataclass
from math import sqrt

import numpy as np

from heat.constants import HOURS_OF_MONTH
from heat.ledger import accounts as acc
from heat.ledger.year_book import BOUGHT, SOLAR_IN, YearBook
from heat.weather.year import WeatherYear, monthly_means

METER_UNCERTAINTY, MONTH_UNCERTAINTY = 0.04, 0.10
"""Uncertainty of a heat or fuel meter, and of a month's calculated heat under a known sun (share). Source: meters of
class 3 and their fitting; own estimate of a month's draws."""
SUN_ANSWER = 0.8
"""Share by which a month's solar heat follows its sun (1): losses do not, and a full store takes no more. Source: own
estimate; 0.7 in summer to 0.95 in winter in the made-up years."""
BASE_C = 15.0
"""Air below which rooms are heated (°C), for degree days. Source: EN ISO 15927-6 allows any; usual for houses."""
NINETY = 1.645


@dataclass(frozen=True)
class Month:
    """A month as metered and as expected (kWh; litres in L; month 0 to 11): solar heat expected in this month's
    weather, bought heat for this month's litres, and how many uncertainties they lie apart (1).
    """

    month: int
    solar_kwh: float | None
    solar_expected: float
    bought_kwh: float | None
    bought_expected: float
    litres: float | None
    litres_expected: float
    sigmas: float | None


@dataclass(frozen=True)
class Watch:
    """Months watched, the fraction so far as metered (1) with its band, and the promise for the same months (1)."""

    months: tuple[Month, ...]
    fraction: float | None
    low: float | None
    high: float | None
    promised: float | None
    words: str


def watched(
    book: YearBook, weather: WeatherYear, meters: Mapping[int, Mapping[str, float]], efficiency: float = 1.0
) -> Watch:
    """Meters by month (0 to 11) beside a design's year: ``solar_kwh`` (kWh), ``fuel_kwh`` (kWh of fuel, times
    ``efficiency`` of the heater, 1), ``litres`` (L), ``sun_kwh_m2_day`` on the level (kWh/m²) and ``air_c`` (°C).

    Solar heat follows the month's sun, rooms its degree days, hot water its litres; what was not read stays.

    Parameters
    ----------
    book
        The year's results.
    weather
        The weather, 8,760 hours.
    meters
        Readings by month (0 to 11) and name.
    efficiency
        Efficiency of the heater (no unit).

    Returns
    -------
    Watch
        Meters by month (0 to 11) beside a design's year: ``solar_kwh`` (kWh), ``fuel_kwh`` (kWh of fuel, times
        ``efficiency`` of the heater, 1), ``litres`` (L), ``sun_kwh_m2_day`` on the level (kWh/m²) and ``air_c``
        (°C).
    """
    solar, bought = book.by_month(*SOLAR_IN), book.by_month(*BOUGHT)
    litres = np.add.reduceat(book.traces[:, acc.HOT_LITRES], np.concatenate(([0], np.cumsum(HOURS_OF_MONTH)[:-1])))
    level = monthly_means(weather.ghi_w_m2) * 24.0 / 1000.0
    degrees = np.maximum(BASE_C - monthly_means(weather.air_c), 0.0)
    months = []
    for month, text in sorted(meters.items()):
        sunny = text["sun_kwh_m2_day"] / max(level[month], 0.1) if "sun_kwh_m2_day" in text else 1.0
        cold = max(BASE_C - text["air_c"], 0.0) / degrees[month] if "air_c" in text and degrees[month] > 0.5 else 1.0
        drawn = text["litres"] / litres[month] if "litres" in text and litres[month] > 1.0 else 1.0
        expected = float(solar[month]) * (1.0 + SUN_ANSWER * (sunny - 1.0))
        need = float(solar[month] + bought[month])
        heated = need * (cold if book.design.demand.heating.fitted else drawn)
        left = max(heated - expected, 0.0)
        got = text.get("solar_kwh")
        fuel = text["fuel_kwh"] * efficiency if "fuel_kwh" in text else None
        uncertainty = sqrt(
            (METER_UNCERTAINTY * max(got or 0.0, 1.0)) ** 2 + (MONTH_UNCERTAINTY * max(expected, 10.0)) ** 2
        )
        months.append(
            Month(
                month,
                got,
                expected,
                fuel,
                left,
                text.get("litres"),
                float(litres[month]),
                None if got is None else (got - expected) / uncertainty,
            )
        )
    return _summed(tuple(months))


def _summed(months: tuple[Month, ...]) -> Watch:
    both = [m for m in months if m.solar_kwh is not None and m.bought_kwh is not None]
    if not both:
        return Watch(months, None, None, None, None, "Heat and fuel of one month at least are needed.")
    got, paid = sum(m.solar_kwh or 0.0 for m in both), sum(m.bought_kwh or 0.0 for m in both)
    hoped, left = sum(m.solar_expected for m in both), sum(m.bought_expected for m in both)
    fraction, promised = got / max(got + paid, 1e-9), hoped / max(hoped + left, 1e-9)
    off = NINETY * sqrt(2.0) * METER_UNCERTAINTY * fraction * (1.0 - fraction) + NINETY * MONTH_UNCERTAINTY * (
        promised * (1.0 - promised) / sqrt(len(both))
    )
    low, high = fraction - off, fraction + off
    words = (
        "on its way to what was promised"
        if low <= promised <= high
        else ("better than promised" if promised < low else "below what was promised")
    )
    return Watch(months, fraction, low, high, promised, words)
