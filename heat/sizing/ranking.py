"""Which use of heat should the sun serve first? Calculated for a site before any part is chosen.

The cooler the collectors may run for a use, and the more of it falls in the sunny months, the more a
square metre carries of it.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from heat.catalogue import collector
from heat.collector.absorbed import absorbed_and_loss, mean_rating
from heat.constants import WATER_J_KGK
from heat.demand.profile import circulation_watts, household_tap_litres, mixing_share, process_watts, shower_litres
from heat.demand.rooms import fresh_air, heating_watts, known_heating, reset_temperatures
from heat.design import Design
from heat.simulation import parts as run
from heat.simulation.prepare import mains_temperature
from heat.simulation.prepare_uses import pool_hours
from heat.store.pool import Pool, pool_losses, surface_coefficients
from heat.sun.site import plane_sun, sun_of
from heat.weather.year import WeatherYear, monthly_sums

Array = NDArray[np.float64]
KINDS = ("unglazed", "flat_selective", "tube_direct")
"""Catalogue keys of the three kinds compared. Source: heat/data/catalogue, generic entries."""
APPROACH_K = 7.0
"""Collectors run warmer than what they heat by this (K), 5 to 12 through coil and pipes. Source: our own choice."""
SMALL_KWH_M2 = 600.0
"""A small system has 1 m² for so much yearly need (kWh/m²). Source: our own choice, near a good yearly yield."""
BRIGHT_W_M2 = 600.0
"""Sun at which efficiencies are compared (W/m²). Source: our own choice, a working hour on a tilted plane."""


@dataclass(frozen=True)
class Rank:
    """One use: need by month (kWh), mean collector temperature (°C), efficiency of three kinds there (no unit),
    how well its months match the sun's and what a small system carries (0 to 1, no unit), and why in words.
    """

    use: str
    need_kwh: Array
    collector_c: float
    efficiency: dict[str, float]
    match: float
    carried: float
    reason: str

    @property
    def year_kwh(self) -> float:
        """Heat the use needs in the year (kWh)."""
        return float(self.need_kwh.sum())


def pool_need(design: Design, weather: WeatherYear) -> Array:
    """Heat a pool held at its temperature wants in each of 8,760 hours (W): losses less the sun on it.

    Parameters
    ----------
    design
        The design.
    weather
        The weather, 8,760 hours.

    Returns
    -------
    ndarray, shape (8760,)
        Heat a pool held at its temperature wants in each of 8,760 hours (W): losses less the sun on it.
    """
    use = design.demand.pool
    rows = np.zeros((run.ROWS, weather.air_c.size))
    pool_hours(design, weather, rows)
    still, windy = surface_coefficients(use)
    pool = Pool(1.0, float(use.area_m2), still, windy, 0.0, 0.0, 99.0)
    watts = np.zeros(weather.air_c.size)
    for h in np.flatnonzero(rows[run.POOL_ON]):
        lost = pool_losses(
            pool,
            rows[run.POOL_SET, h],
            rows[run.POOL_AIR, h],
            rows[run.POOL_VAPOUR, h],
            rows[run.POOL_WIND, h],
            rows[run.POOL_SKY, h],
            rows[run.POOL_BARE, h],
            rows[run.POOL_ACTIVITY, h],
        )
        watts[h] = sum(lost) - rows[run.POOL_SUN_W, h]
    daily = watts.reshape(365, 24).mean(axis=1)  # a pool evens out the day
    return np.repeat(np.maximum(daily, 0.0), 24)


def uses(design: Design, weather: WeatherYear) -> dict[str, tuple[Array, float]]:
    """Each use that is on: heat wanted in 8,760 hours (W) and the mean temperature it is wanted at (°C).

    Parameters
    ----------
    design
        The design.
    weather
        The weather, 8,760 hours.

    Returns
    -------
    dict[str, tuple[Array, float]]
        Each use that is on: heat wanted in 8,760 hours (W) and the mean temperature it is wanted at (°C).
    """
    demand = design.demand
    found: dict[str, tuple[Array, float]] = {}
    mains = mains_temperature(design.site.mains, weather, design.site.latitude_deg)
    lift_w = WATER_J_KGK * np.maximum(demand.tap_c - mains, 0.0) / 3600.0
    if demand.hot_water:
        watts = household_tap_litres(demand, mains) * lift_w
        found["hot water"] = watts, 0.5 * (demand.tap_c + float(mains.mean()))
    if demand.circulation.fitted:
        found["circulation"] = circulation_watts(demand), demand.tap_c - 0.5 * demand.circulation.drop_k
    if demand.heating.fitted:
        heating = known_heating(demand.heating, weather, demand.first_weekday)
        watts = heating_watts(heating, weather, demand.first_weekday)
        supply, back = reset_temperatures(heating, watts)
        weight = max(float(watts.sum()), 1e-9)
        found["rooms"] = watts, float((0.5 * (supply + back) * watts).sum()) / weight
    if demand.fresh_air.fitted:
        watts, supply, back = fresh_air(demand.fresh_air, weather.air_c)
        weight = max(float(watts.sum()), 1e-9)
        found["fresh air"] = watts, float((0.5 * (supply + back) * watts).sum()) / weight
    if demand.process.fitted:
        found["process"] = process_watts(demand), 0.5 * (demand.process.supply_c + demand.process.return_c)
    if demand.pool.fitted:
        rows = np.zeros((run.ROWS, weather.air_c.size))
        pool_hours(design, weather, rows)
        wanted = (
            float(rows[run.POOL_SET][rows[run.POOL_ON] > 0].mean()) if rows[run.POOL_ON].any() else demand.pool.set_c
        )
        found["pool surface"] = pool_need(design, weather), wanted
        fresh = rows[run.POOL_FRESH_KG] * WATER_J_KGK * np.maximum(rows[run.POOL_SET] - mains, 0.0)
        if fresh.any():
            found["pool make-up"] = fresh, 0.5 * (wanted + float(mains.mean()))
    if demand.showers.fitted:
        watts = shower_litres(demand) * mixing_share(demand.showers.at_c, demand.tap_c, mains) * lift_w
        found["pool showers"] = watts, 0.5 * (demand.showers.at_c + float(mains.mean()))
    return found


def rank_uses(design: Design, weather: WeatherYear) -> list[Rank]:
    """The uses of a design, best first by what a small system of flat collectors carries.

    Efficiency at 600 W/m² and the need's own air; months by the overlap of the shares of need and sun; carried: the
    steady monthly output at the collector's temperature against the month's need.

    Parameters
    ----------
    design
        The design.
    weather
        The weather, 8,760 hours.

    Returns
    -------
    list[Rank]
        The uses of a design, best first by what a small system of flat collectors carries.
    """
    sun = plane_sun(weather, design)
    position = sun_of(design, weather)
    sunny = monthly_sums(sun.total_w_m2())
    ranks = []
    for use, (watts, wanted_c) in uses(design, weather).items():
        need = monthly_sums(watts) / 1000.0
        year = max(float(need.sum()), 1e-9)
        at_c = wanted_c + APPROACH_K
        air = float((weather.air_c * watts).sum() / max(float(watts.sum()), 1e-9))
        efficiency, output = {}, np.zeros(12)
        for kind in KINDS:
            part = collector(kind)
            eta0, a1, a2 = mean_rating(part)
            x = at_c - air
            efficiency[kind] = max(eta0 - (a1 * x + a2 * max(x, 0.0) * x) / BRIGHT_W_M2, 0.0)
            if kind == "flat_selective":
                absorbed, loss, sky = absorbed_and_loss(part, sun, position, design, weather)
                lead = at_c - weather.air_c
                gain = absorbed + sky - loss * lead - np.where(lead > 0, a2 * lead * lead, 0.0)
                output = monthly_sums(np.maximum(gain, 0.0)) / 1000.0
        match = float(np.minimum(need / year, sunny / max(float(sunny.sum()), 1e-9)).sum())
        bright = float(need[np.argsort(sunny)[6:]].sum()) / year
        carried = float(np.minimum(output * year / SMALL_KWH_M2, need).sum()) / year
        ranks.append(Rank(use, need, at_c, efficiency, match, carried, reason(at_c, bright)))
    return sorted(ranks, key=lambda r: -r.carried)


def reason(at_c: float, bright: float) -> str:
    """One line on a use by its collector temperature (°C) and its share in the six brightest months.

    Parameters
    ----------
    at_c
        Collector temperature for the use (°C).
    bright
        Share of the need in the six brightest months (no unit).

    Returns
    -------
    str
        One line on a use by its collector temperature (°C) and its share in the six brightest months.
    """
    warmth = "cool" if at_c < 40 else "warm" if at_c < 52 else "hot"
    season = "all year"
    if bright > 0.75:
        season = "while the sun is high"
    elif bright < 0.4:
        season = "mostly in the dark months"
    return f"collectors run {warmth}, wanted {season}"
