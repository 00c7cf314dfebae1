"""The tally below every page, and how each of its figures came about."""

from math import isfinite
from typing import Any

import numpy as np

from heat.ledger import accounts as acc
from heat.ledger.year_book import BOUGHT, DELIVERED, SUN, YearBook
from heat.sizing.monthly_correlation import second_opinion
from heat.studies.merit import measure, usual
from web.editor.design_page import DesignPage
from web.jobs.bands import fraction_edges
from web.presentation.band import widened
from web.simulations.rough import fraction_band, months_uncertainty
from web.simulations.tallies import tallied_of
from web.ui import units
from web.ui.calendar import MONTHS, date_of

BOUGHT_KWH = 0.5
"""Energy (kWh a year) from which a heater buys any."""


def _change(
    now: float, base: float | None, page: DesignPage, quantity: str, decimals: int, better: int
) -> dict[str, str]:
    """The change against the saved version: arrow, number, word."""
    if base is None:
        return {}
    slope = units.to_display(now, quantity, page.system) - units.to_display(base, quantity, page.system)
    text = units.number(abs(slope), decimals)
    if units.parse_number(text) == 0:
        return {"arrow": "", "text": "as saved", "word": ""}
    rise = slope > 0
    word = "" if better == 0 else ("better" if rise == (better > 0) else "worse")
    return {"arrow": "▲" if rise else "▼", "text": ("+" if rise else "−") + text, "word": word}


def tally(page: DesignPage) -> list[dict[str, object]]:
    """The strip below: five figures and their change against the saved version."""
    book, base = page.year.book, page.base
    now = tallied_of(book)

    def cell(
        key: str, label: str, read: Any, quantity: str, decimals: int, better: int, sign: str = ""
    ) -> dict[str, object]:
        value = read(now)
        return {
            "key": key,
            "label": label,
            "text": page.show(value, quantity, decimals),
            "sign": sign or page.sign(quantity),
            "change": _change(value, read(base) if base else None, page, quantity, decimals, better),
        }

    bought = cell("bought", "Bought from backup", lambda t: t.bought_kwh, "kWh", 0, -1)
    bought["red"] = True
    bought["money"] = units.number(book.cost(), 0)
    co2 = cell("co2", "CO₂ from bought heat", lambda t: t.co2_kg, "kg", 0, -1)
    co2["beside"] = f"{page.show(book.co2_saved_kg(), 'kg', 0)} saved"
    fraction = cell("fraction", "Solar fraction", lambda t: 100 * t.fraction, "percent", 1, 1)
    if now.fraction < 0:
        fraction["beside"] = "below zero"
    band = fraction_band(book, page.project.weather)
    if band:
        low, high = (units.number(100 * v, 0) for v in widened(book, page.weather, *band))
        fraction["beside"] = f"{low} to {high}, rough"
    edges = fraction_edges(page.design)
    if edges:
        low, high = (units.number(100 * v, 0) for v in widened(book, page.weather, edges.low, edges.high))
        fraction["beside"] = f"{low} to {high}, {edges.at.day} {MONTHS[edges.at.month - 1]}"
        fraction["past"] = not edges.fits
    if book.fractions.of_wood > 0.0005:
        wood = f"own wood {units.number(100 * book.fractions.of_wood, 1)} %"
        fraction["beside"] = f"{fraction['beside']}; {wood}" if "beside" in fraction else wood
    if usual(book.design) == "pool":
        fraction = _warmth(page)
    return [
        fraction,
        cell("yield", "Yield into store", lambda t: t.yield_kwh_m2, "kWh/m2", 0, 1),
        bought,
        cell("stagnation", "Stagnation", lambda t: t.stagnation_h, "h", 0, -1),
        co2,
    ]


def _warmth(page: DesignPage) -> dict[str, object]:
    """The first figure of a pool that nothing else heats: how warm it is in the months it is in use."""
    mean, wanted = measure(page.year.book, "pool"), page.year.book.design.demand.pool.set_c
    return {
        "key": "fraction",
        "label": "Pool in its season, mean",
        "text": page.show(mean, "degC", 1) if isfinite(mean) else "–",
        "sign": page.sign("degC"),
        "change": {},
        "beside": f"wanted {page.show(wanted, 'degC', 0)} {page.sign('degC')}",
    }


def explanations(page: DesignPage) -> dict[str, dict[str, object]]:
    """How each asked-for number came about: words, figures, source."""
    book = page.year.book
    f = book.fractions
    opinion = second_opinion(book, page.weather)
    e = lambda *c: f"{page.show(book.total(*c), 'kWh')} {page.sign('kWh')}"
    percent = lambda v: f"{units.number(100 * v, 1)} %"
    daily = book.hourly(*BOUGHT).reshape(365, 24).sum(axis=1)
    worst = int(np.argmax(daily))
    free, run = book.days_without_backup()
    second = percent(opinion.yearly) if opinion else "not made for such a system"
    wood = book.total(acc.OWN_STOVE) >= 0.5
    band = fraction_band(book, page.project.weather)
    perturbed = (
        [
            (
                f"(a) with ±{100 * months_uncertainty(page.project.weather):.0f} % of sun in its months",
                "what this rough climate may be off, nine times of ten",
                f"{percent(band[0])} to {percent(band[1])}",
            )
        ]
        if band
        else []
    )
    by_sun = book.total(*DELIVERED) - book.total(acc.OWN_STOVE, *BOUGHT)
    wood_words = (
        f" {e(acc.OWN_STOVE)} came from the stove’s own wood, which is neither bought nor sun: it has a line of its "
        "own, and (c) counts it as saved. A switch at the stove counts it as bought."
        if wood
        else ""
    )
    below = (
        " It is below zero: more heat was bought, and lost between heater and use, than the uses asked for."
        if f.at_tap < 0
        else ""
    )
    gap_words = _gap_words(book, f.at_tap - opinion.yearly) if opinion else ""
    pump = page.show(book.total(acc.PUMP_ELECTRICITY), "kWh power")
    return {
        "fraction": {
            "term": "solar-fraction",
            "title": "Solar fraction, three ways",
            "rows": [
                (
                    "(a) of the heat at the tap",
                    "1 − (bought + unmet" + (" + own wood" if wood else "") + ") ÷ demand",
                    percent(f.at_tap),
                ),
                *([("of it, own wood", "what it carried of the demand", percent(f.of_wood))] if wood else []),
                (
                    "(b) of the supply",
                    "sun into store ÷ (sun into store + " + ("wood + " if wood else "") + "bought)",
                    percent(f.of_supply),
                ),
                ("(c) fuel saved", "1 − (fuel + pump) ÷ fuel of the same house without solar", percent(f.fuel_saved)),
                *perturbed,
                ("Monthly correlation", "Klein, Beckman and Duffie (1976), a second opinion", second),
            ],
            "text": f"The strip shows (a).{below}{wood_words}{gap_words}",
        },
        "yield": {
            "term": "collector-yield",
            "title": "Yield into the store",
            "rows": [
                ("From the collectors", "flow × heat capacity × (outlet − inlet)", e(acc.FROM_COLLECTOR)),
                ("Into the store", "through the coil, pipe losses taken off", e(acc.INTO_STORE)),
                (
                    "Gross area",
                    "number × gross area of each",
                    f"{page.show(book.design.system.collector.total_gross_m2, 'm2')} {page.sign('m2')}",
                ),
                (
                    "System efficiency",
                    "heat from the sun at the tap ÷ sun received",
                    percent(by_sun / max(book.total(*SUN), 1e-9)),
                ),
            ],
            "text": f"Yield is counted at the coil, for each {page.sign('m2')} of gross area.",
        },
        "bought": {
            "term": "bought-heat",
            "title": "Bought heat",
            "rows": [
                ("Tankless heater", "what the draw was short of tap temperature", f"({e(acc.BOUGHT_TANKLESS)})"),
                ("Element in the store", "heat given by the element", f"({e(acc.BOUGHT_ELEMENT)})"),
                ("Unmet", "what no heater could add", f"({e(acc.UNMET)})"),
                ("Days with nothing bought", f"longest run {run} days", f"{free} d"),
                ("Most in one day", date_of(worst), f"({page.show(daily[worst] / 1000, 'kWh', 1)} {page.sign('kWh')})"),
                ("Pump electricity", "kept apart from heat", f"{pump} kWh"),
            ],
            "text": "Money and CO₂ are those of the energy behind the heat, by the heater’s efficiency and price.",
        },
        "stagnation": {
            "term": "stagnation",
            "title": "Stagnation",
            "rows": [
                (
                    "Hours",
                    "the sun would run the pump, but a limit keeps it still",
                    f"{units.number(book.stagnation_hours(), 1)} h",
                ),
                (
                    "Hottest",
                    "mean temperature of the standing collector",
                    f"{page.show(book.stagnation_peak_c(), 'degC', 0)} {page.sign('degC')}",
                ),
                ("Pump ran", "sum over the year", f"{units.number(book.pump_hours(), 0)} h"),
            ],
            "text": "Steam and hot surfaces can injure. Expansion vessel, relief valve and fluid must suit these "
            "temperatures: "
            "follow the local code and leave the work to licensed trades.",
        },
        "co2": {
            "term": "co2",
            "title": "CO₂ from bought heat",
            "rows": _energy_rows(page),
            "text": "The pump’s power is left out here; it stands with the bought heat. Saved is what the same uses "
            "would cause without solar by their own heaters, less this, unmet heat and the pump’s power.",
        },
    }


def _gap_words(book: YearBook, gap: float) -> str:
    """How far the year's fraction (1) lies from the monthly correlation, and what that correlation does not know."""
    points = units.number(abs(100 * gap), 1)
    known = (
        "fitted to nearly mixed stores: a well layered store keeps its bottom cool and its top warm, and does better"
    )
    unknown = "fitted to short pipes and well wrapped stores, and knows no set point of the heater beside the sun"
    if book.design.demand.heating.fitted:
        known = "fitted to one nearly mixed store for taps and rooms: layers, and cool water for the rooms, do better"
        unknown += "; nor how warm the water comes back from the rooms"
    words = f"above the correlation, which was {known}" if gap > 0 else f"below the correlation, which was {unknown}"
    return (
        f" The year lies {points} points {words}. Where it lies outside the band, that is a doubt of the model, and "
        "the band reaches to it."
    )


ENERGIES = {
    "gas": ("kWh gas", "gas"),
    "oil": ("kWh oil", "oil"),
    "power": ("kWh power", "power"),
    "wood": ("kWh", "wood"),
}
"""An energy's unit, as it is bought where the reader lives, and its word."""
SOURCE_WORDS = {
    "tankless": "Tankless heater",
    "element": "Element",
    "boiler": "Boiler",
    "bought stove": "Stove",
    "heating": "Heater of the rooms",
    "pool": "Pool’s heater",
}


def _energy_rows(page: DesignPage) -> list[tuple[str, str, str]]:
    """The energy each heater buys in the year, in the unit it is bought in; what buys none is left out."""
    rows = []
    for name, source in page.year.book.sources().items():
        if name in SOURCE_WORDS and source.fuel_kwh >= BOUGHT_KWH:
            unit, energy = ENERGIES.get(source.burns, ("kWh", "energy"))
            text = f"{page.show(source.fuel_kwh, unit)} {page.sign(unit)}"
            rows.append((SOURCE_WORDS[name], f"{energy} bought × its CO₂", text))
    return rows or [("Nothing", "no heater buys energy in this year", "–")]
