"""The published monthly correlation for liquid systems: a second opinion on the simulated year.

Klein, Beckman & Duffie (1976), Solar Energy 18, 113-127; Duffie & Beckman, 4th ed., ch. 20. It
was fitted to nearly mixed stores, so a well layered one beats it by several points.
"""

from dataclasses import dataclass
from math import exp

import numpy as np
from numpy.typing import NDArray

from heat.collector.absorbed import mean_rating
from heat.constants import HOURS_OF_MONTH
from heat.design import Design
from heat.ledger import accounts as acc
from heat.ledger.year_book import SUN, YearBook
from heat.loop.fields import pipe_loss_w_k
from heat.loop.plate import counterflow_effectiveness
from heat.loop.runs import loop_flow_kg_h, loop_heat_capacity, store_side_w_k
from heat.weather.year import WeatherYear, monthly_means

Array = NDArray[np.float64]
REFERENCE_STORE_L_M2 = 75.0
WORKING_EXCESS_K = 40.0
"""Excess temperature (K) at which the quadratic loss is made linear; 30 to 50 in hot-water use.
Source: our own choice, the middle of the range over which a2 is fitted in ISO 9806."""


@dataclass(frozen=True)
class SecondOpinion:
    """Monthly fractions and the year's (no unit), and the load they are weighted by (kWh)."""

    monthly: Array
    yearly: float
    load_kwh: Array


def correlation_fraction(x: Array, y: Array) -> Array:
    """``f = 1.029 Y - 0.065 X - 0.245 Y² + 0.0018 X² + 0.0215 Y³`` within 0 to 1 (no unit).

    X: losses at the reference temperature over the load, 0 to 18; Y: absorbed sun over the load, 0 to 3 (no unit).
    Duffie & Beckman, 4th ed., eq. 20.3.1.

    Parameters
    ----------
    x
        Losses at the reference temperature over the load (no unit).
    y
        Absorbed sun over the load (no unit).

    Returns
    -------
    ndarray
        ``f = 1.029 Y - 0.065 X - 0.245 Y² + 0.0018 X² + 0.0215 Y³`` within 0 to 1 (no unit).
    """
    y = np.minimum(y, 3.0)
    x = np.minimum(x, 18.0)
    f = 1.029 * y - 0.065 * x - 0.245 * y**2 + 0.0018 * x**2 + 0.0215 * y**3
    return np.clip(np.where(y <= 0.0, 0.0, f), 0.0, 1.0)


def hot_water_correction(tap_c: float, mains_c: Array, air_c: Array) -> Array:
    """Factor on X for hot water (no unit) from tap, mains and air temperatures (°C).

    ``(11.6 + 1.18 T_w + 3.86 T_m - 2.32 T_a)/(100 - T_a)``. Duffie & Beckman, eq. 20.3.5.

    Parameters
    ----------
    tap_c
        Temperature wanted at the tap (°C).
    mains_c
        Cold water (°C).
    air_c
        Outdoor air (°C).

    Returns
    -------
    ndarray
        Factor on X for hot water (no unit).
    """
    return (11.6 + 1.18 * tap_c + 3.86 * mains_c - 2.32 * air_c) / (100.0 - air_c)


def store_correction(litres_per_m2: float) -> float:
    """Factor on X for store size (no unit): ``(V/75)^-0.25``, 37.5 to 300 L/m².

    Eq. 20.3.2.

    Parameters
    ----------
    litres_per_m2
        Store for each m² of collectors (L/m²).

    Returns
    -------
    float
        Factor on X for store size (no unit).
    """
    return (min(max(litres_per_m2, 37.5), 300.0) / REFERENCE_STORE_L_M2) ** -0.25


def applies(design: Design) -> bool:
    """True for the systems the correlation was made for: a pumped loop into a store for taps or rooms.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    bool
        True for the systems the correlation was made for: a pumped loop into a store for taps or rooms.
    """
    system, demand = design.system, design.demand
    uses = demand.hot_water or demand.heating.fitted
    others = demand.process.fitted or demand.pool.fitted or demand.circulation.fitted
    control = system.control
    season = (control.season_from_day, control.season_to_day) != (1, 365)
    parts = system.second_collector.fitted or system.collector.trough or system.faults.any or season
    return system.scheme.driven_by == "pump" and system.scheme.exchange != "pool" and uses and not (others or parts)


def exchanger_effectiveness(design: Design, loop_w_k: float) -> float:
    """Effectiveness (no unit) of what stands between loop (W/K) and store; 1 where the store's water passes.

    Parameters
    ----------
    design
        The design.
    loop_w_k
        Heat capacity rate of the loop (W/K).

    Returns
    -------
    float
        Effectiveness (no unit).
    """
    system = design.system
    if system.scheme.exchange == "direct":
        return 1.0
    if system.scheme.exchange == "plate":
        store_w_k = store_side_w_k(design)
        least = min(loop_w_k, store_w_k)
        return float(counterflow_effectiveness(system.plate.ua_w_k, loop_w_k, store_w_k)) * least / loop_w_k
    if system.scheme.exchange == "passive":
        return float(counterflow_effectiveness(system.plate.ua_w_k, loop_w_k, loop_w_k))
    return 1.0 - exp(-system.coil.ua_w_k / loop_w_k)


def second_opinion(book: YearBook, weather: WeatherYear) -> SecondOpinion | None:
    """The correlation's monthly and yearly fraction for the system of a simulated year; None where it was not made for
    such a system.

    Collector in F_R form by Duffie & Beckman eq. 6.17.2 (mean to inlet temperature), pipes by eq. 10.3.9 and
    10.3.10, exchanger by F'_R/F_R of eq. 10.2.3; the hot-water correction where only taps are served.

    Parameters
    ----------
    book
        The year's results.
    weather
        The weather, 8,760 hours.

    Returns
    -------
    SecondOpinion | None
        The correlation's monthly and yearly fraction.
    """
    design = book.design
    if not applies(design):
        return None
    system = design.system
    _eta0, a1, a2 = mean_rating(system.collector)
    area = system.collector.total_area_m2
    loop_w_k = loop_flow_kg_h(design) / 3600.0 * loop_heat_capacity(design)
    per_area = loop_w_k / area
    loss = a1 + a2 * WORKING_EXCESS_K
    to_inlet = 1.0 / (1.0 + loss / (2.0 * per_area))
    gain, slope = to_inlet, loss * to_inlet
    hot = pipe_loss_w_k(system.loop.supply_pipe)
    cold = pipe_loss_w_k(system.loop.return_pipe)
    after = 1.0 / (1.0 + hot / loop_w_k)
    slope = after * (slope * (1.0 - cold / loop_w_k) + (hot + cold) / area)
    gain *= after
    exchanger = 1.0 / (1.0 + slope / per_area * (1.0 / exchanger_effectiveness(design, loop_w_k) - 1.0))
    load = book.by_month(acc.DEMAND, acc.HEATING_DEMAND)
    safe = np.where(load > 0, load, 1.0)
    air = monthly_means(weather.air_c)
    hours = np.array(HOURS_OF_MONTH, dtype=float)
    absorbed = book.by_month(acc.ABSORBED)
    y = gain * exchanger * absorbed / safe
    x = slope * exchanger * area * (100.0 - air) * hours / 1000.0 / safe
    if not design.demand.heating.fitted:
        x *= hot_water_correction(design.demand.tap_c, monthly_means(book.mains_c), air)
    volume = system.store.volume_l + (system.second_store.total_volume_l if system.second_store.fitted else 0.0)
    x *= store_correction(volume / area)
    monthly = np.where((book.by_month(*SUN) > 0) & (load > 0), correlation_fraction(x, y), 0.0)
    return SecondOpinion(monthly, float((monthly * load).sum() / max(load.sum(), 1e-9)), load)
