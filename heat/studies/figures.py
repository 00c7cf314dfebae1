"""Questions a year's books answer beside the accounts: draw-off, steady output, the sheet of figures."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from heat.collector.absorbed import absorbed_and_loss, mean_rating
from heat.collector.standing import standing_c
from heat.common.calendar import MONTH_OF_HOUR
from heat.constants import WATER_KG_L
from heat.demand.hot_water import draw
from heat.design import Design
from heat.ledger import accounts as acc
from heat.ledger.year_book import BOUGHT, DELIVERED, NEEDED, SUN, YearBook
from heat.loop.fields import pipe_contents_l
from heat.loop.runs import loop_drop_pa, loop_flow_kg_h
from heat.sizing.monthly_correlation import second_opinion
from heat.store.vessel import store_volume_l
from heat.sun.site import plane_sun, sun_of
from heat.weather.year import WeatherYear

Array = NDArray[np.float64]
STEADY_C = (25.0, 50.0, 75.0)
"""Mean temperatures (°C) of the steady yearly output. Source: common practice of collector certificates."""


@dataclass(frozen=True)
class DrawOff:
    """A store emptied at the tap: litres at tap temperature, heat (kWh) above mains, outlet (°C) each 1/100."""

    litres: float
    kwh: float
    outlet_c: Array


def draw_off(book: YearBook, hour: int, tap_c: float | None = None) -> DrawOff:
    """Usable litres at tap temperature (L) from the store at the end of an hour (0 to 8759), nothing added.

    Drawn in hundredths of the store with the tempering valve, until the mixed water falls below tap_c (°C) by 0.5
    K. Two stores are drawn one after the other.

    Parameters
    ----------
    book
        The year's results.
    hour
        Hour of the year (h).
    tap_c
        Temperature wanted at the tap (°C).

    Returns
    -------
    DrawOff
        Usable litres at tap temperature (L).
    """
    design = book.design
    want = tap_c if tap_c is not None else design.demand.tap_c
    mains = float(book.mains_c[hour])
    volumes = [(book.profile[hour], store_volume_l(design))]
    if book.second_profile is not None:
        volumes.append((book.second_profile[hour], design.system.second_store.total_volume_l))
    temperatures = np.concatenate([p for p, _v in volumes])
    kilograms = np.concatenate([np.full(p.size, v * WATER_KG_L / p.size) for p, v in volumes])
    count = temperatures.size
    warm = np.zeros(count + 110)
    mass = np.zeros(count + 110)
    warm[:count], mass[:count] = temperatures, kilograms
    part = float(kilograms.sum()) / 100.0
    litres = heat = 0.0
    outlet = []
    for _ in range(2000):
        top = float(warm[count - 1])
        if top < want - 0.5 or top <= mains:
            break
        outlet.append(top)
        count, drawn, short, _above, _taken = draw(part, want, mains, True, part, warm, mass, count)
        if short > 0.02 * (drawn + short):
            break
        litres += part / WATER_KG_L
        heat += drawn
    return DrawOff(litres, heat / 3.6e6, np.array(outlet))


def steady_output(design: Design, weather: WeatherYear, mean_c: float) -> float:
    """Heat of 1 m² in a year (kWh/m²) if the fluid always stood at mean_c (°C): positive hours only, no capacity.

    Parameters
    ----------
    design
        The design.
    weather
        The weather, 8,760 hours.
    mean_c
        Mean temperature of the fluid (°C).

    Returns
    -------
    float
        Heat of 1 m² in a year (kWh/m²) if the fluid always stood at mean_c (°C): positive hours only, no
        capacity.
    """
    collector = design.system.collector
    absorbed, loss, sky = absorbed_and_loss(
        collector, plane_sun(weather, design), sun_of(design, weather), design, weather
    )
    x = mean_c - weather.air_c
    a2 = mean_rating(collector)[2]
    gain = absorbed + sky - loss * x - np.where(x > 0, a2 * x * x, 0.0)
    return float(np.maximum(gain, 0.0).sum()) / 1000.0


PARTS = {
    "collectors": (acc.FROM_COLLECTOR,),
    "exchanger": (acc.INTO_STORE,),
    "pool exchanger": (acc.INTO_POOL, acc.STORE_TO_POOL),
    "tap": (acc.TO_TAP,),
    "rooms": (acc.TO_HEATING,),
    "circulation": (acc.TO_CIRCULATION,),
    "process": (acc.TO_PROCESS,),
    "fresh air": (acc.TO_FRESH,),
    "floor": (acc.STORE_TO_SLAB,),
    "tankless": (acc.BOUGHT_TANKLESS,),
    "element": (acc.BOUGHT_ELEMENT,),
    "boiler": (acc.BOUGHT_BOILER,),
    "stove": (acc.BOUGHT_STOVE, acc.OWN_STOVE),
    "heating boiler": (acc.BOUGHT_HEATING,),
    "pool heater": (acc.BOUGHT_POOL,),
    "dump": (acc.DUMP, acc.COLLECTOR_DUMP),
}
"""What carries heat, and the accounts (Wh) that pass it."""


def part_powers(book: YearBook) -> dict[str, tuple[float, float]]:
    """Peak and mean power of each part at work (kW, kW): highest hourly mean, and mean over its working hours.

    Parameters
    ----------
    book
        The year's results.

    Returns
    -------
    dict[str, tuple[float, float]]
        Peak and mean power of each part at work (kW, kW).
    """
    return {name: book.power_kw(*columns) for name, columns in PARTS.items() if book.total(*columns)}


def pasteurised(book: YearBook) -> dict[str, float]:
    """Per store how often it was pasteurised at its coldest point, of how many times planned (1), and the coldest
    point (°C) of the worst.

    Parameters
    ----------
    book
        The year's results.

    Returns
    -------
    dict[str, float]
        Per store how often it was pasteurised at its coldest point, of how many times planned (1), and the
        coldest point (°C) of the worst.
    """
    found: dict[str, float] = {}
    for name, store in zip(("first", "second"), book.heated_through(), strict=False):
        found[f"pasteurised_{name}_store"] = float(store.reached)
        found[f"pasteurised_{name}_store_planned"] = float(store.planned)
        found[f"pasteurised_{name}_store_coldest_c"] = store.coldest_c
    return found


def loop_figures(design: Design) -> dict[str, float]:
    """The loop's flow (kg/h), resistance at it (Pa) and the contents of its pipes (L).

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    dict[str, float]
        The loop's flow (kg/h).
    """
    flow, pipes = loop_flow_kg_h(design), (design.system.loop.supply_pipe, design.system.loop.return_pipe)
    return {
        "loop_flow_kg_h": flow,
        "loop_pressure_drop_pa": loop_drop_pa(design, flow),
        "loop_contents_l": sum(pipe_contents_l(pipe) for pipe in pipes),
    }


def figures(book: YearBook, weather: WeatherYear) -> dict[str, float]:
    """The year in one sheet: each key ends in its unit (kWh, h, °C as _c, share as no unit).

    Parameters
    ----------
    book
        The year's results.
    weather
        The weather, 8,760 hours.

    Returns
    -------
    dict[str, float]
        The year in one sheet: each key ends in its unit (kWh, h, °C as _c, share as no unit).
    """
    design = book.design
    fractions = book.fractions
    integral = design.system.scheme.driven_by == "none"
    gross, rated = book.yield_kwh_m2()
    free_days, longest = book.days_without_backup()
    above_95, above_120 = book.fluid_hours()
    peak, mean = book.power_kw(acc.INTO_STORE, acc.INTO_POOL)
    tappable = [draw_off(book, h).litres for h in (24 * 171 + 17, 24 * 354 + 17)] if design.demand.hot_water else [0, 0]
    page = {
        "sun_kwh": book.total(*SUN),
        "solar_into_store_and_pool_kwh": book.total(acc.INTO_STORE, acc.INTO_POOL),
        "needed_kwh": book.total(*NEEDED),
        "delivered_kwh": book.total(*DELIVERED),
        "bought_kwh": book.total(*BOUGHT),
        "unmet_kwh": book.total(acc.UNMET),
        "pump_kwh": book.total(acc.PUMP_ELECTRICITY),
        "fraction_at_use": fractions.at_tap,
        "fraction_of_supply": fractions.of_supply,
        "fraction_fuel_saved": fractions.fuel_saved,
        "yield_kwh_m2_gross": gross,
        "yield_kwh_m2_rated": rated,
        "efficiency": book.efficiency(),
        "peak_kw": peak,
        "mean_kw": mean,
        "pump_h": book.pump_hours(),
        "reversed_h": book.reversed_hours(),
        "stagnation_h": book.stagnation_hours(),
        "collector_peak_c": float(book.profile.max()) if integral else book.stagnation_peak_c(),
        "stagnation_at_1000_w_m2_c": standing_c(design.system.collector),
        "fluid_above_95_c_h": above_95,
        "fluid_above_120_c_h": above_120,
        "below_tap_h": book.hours_below_tap(),
        "store_hottest_c": float(book.profile.max()),
        "store_coldest_c": float(book.profile.min()),
        "frozen_h": book.frozen_hours(),
        "boiled_kg": book.boiled_kg(),
        "top_below_55_c_h": book.legionella_hours(),
        "days_without_backup": float(free_days),
        "longest_run_days": float(longest),
        "usable_l_midsummer_evening": float(tappable[0]),
        "usable_l_midwinter_evening": float(tappable[1]),
        "hours_closed": float(book.hours_closed),
        "largest_residual_wh": float(book.residual_wh.max()),
    }
    page |= loop_figures(design) | pasteurised(book)
    for temperature in STEADY_C:
        page[f"steady_{temperature:.0f}c_kwh_m2"] = steady_output(design, weather, temperature)
    opinion = second_opinion(book, weather)
    if opinion is not None:
        page["fraction_monthly_correlation"] = opinion.yearly
    if design.demand.pool.fitted:
        open_hours = np.asarray(design.demand.pool.months)[MONTH_OF_HOUR]
        if open_hours.any():
            page["pool_mean_in_season_c"] = float(book.traces[open_hours, acc.POOL_C].mean())
    return page
