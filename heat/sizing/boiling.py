"""Collectors that boil: how hot, how far steam reaches, what each part must bear, and a cooler that ends it."""

from dataclasses import dataclass

from heat.collector.absorbed import mean_rating
from heat.collector.standing import CLEAR_W_M2, WARM_C, is_unglazed, standing_c
from heat.design import Design
from heat.ledger.year_book import YearBook
from heat.sizing.vessel import SizedVessel

IN_STEAM_C, AFTER_STEAM_C, MEMBRANE_C = 150.0, 110.0, 70.0
"""What pipes within the steam must bear at least, pumps and valves beyond it, and a vessel's membrane (°C). Source:
usual data sheets; EN 12977-1."""


@dataclass(frozen=True)
class Bears:
    """A part and the temperature it must bear (°C), and why."""

    words: str
    must_c: float
    why: str


def bearing(design: Design, book: YearBook, vessel: SizedVessel | None) -> list[Bears]:
    """What each part must bear (°C): collectors by the year's hottest hour or the standard one, pipes as far as steam
    goes, what lies beyond.

    Parameters
    ----------
    design
        The design.
    book
        The year's results.
    vessel
        The expansion vessel.

    Returns
    -------
    list[Bears]
        What each part must bear (°C): collectors by the year's hottest hour or the standard one, pipes as far
        as steam goes, what lies beyond.
    """
    why = "they stand still in full sun"
    if is_unglazed(design.system.collector):
        why += ": without glass radiation and air end it, where the rated curve is past its test"
    peak = max(book.stagnation_peak_c(), standing_c(design.system.collector))
    found = [Bears("collectors, their pipes and seals", peak, why)]
    if vessel is not None:
        found.append(
            Bears("pipes and insulation within the steam", max(vessel.boils_c, IN_STEAM_C), "as far as steam comes")
        )
        found.append(Bears("pump, valves and gauge", AFTER_STEAM_C, "they belong beyond the steam, in the return"))
        found.append(Bears("the vessel’s membrane", MEMBRANE_C, "it hangs, with pipe or a cooling vessel before it"))
    hottest, limit = float(book.profile.max()), float(design.system.control.store_limit_c)
    why = "the hottest layer of the year" if hottest >= limit else "the controller’s limit; the year stays below it"
    found.append(Bears("store, its seals and the taps’ pipes to the mixing valve", max(hottest, limit), why))
    return found


def heat_dump_kw(design: Design, above_c: float) -> float:
    """Power (kW) of a cooler that takes all that collectors give at a temperature (°C) in full sun (1000 W/m², 30 °C)
    square to them.

    Parameters
    ----------
    design
        The design.
    above_c
        Temperature of the collectors (°C).

    Returns
    -------
    float
        Power (kW).
    """
    eta0, a1, a2 = mean_rating(design.system.collector)
    lead = max(above_c - WARM_C, 0.0)
    each = max(eta0 * CLEAR_W_M2 - a1 * lead - a2 * lead * lead, 0.0)
    area = design.system.collector.total_area_m2
    if design.system.second_collector.fitted:
        area += design.system.second_collector.total_area_m2
    return each * area / 1000.0
