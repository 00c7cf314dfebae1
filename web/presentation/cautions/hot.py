"""Too hot: water that scalds, collectors that boil, fluid that ages, tanks that boil off, stoves without power."""

from math import isfinite

from heat.sizing.antifreeze import antifreeze
from heat.sizing.boiling import heat_dump_kw
from heat.sizing.thermosiphon import stove_budget
from web.presentation.cautions.case import BREAKS, HURTS, Caution, CautionCase, Remedy
from web.presentation.cautions.water import burn_words
from web.ui import units

SCALD_C, STEAM_C, HEAT_DUMP_AT_C = 60.0, 120.0, 100.0
"""Water that scalds in seconds; collectors that make steam; where a cooler begins (°C). Source: common codes."""
SHORT_LIFE_YEARS = 3.0
"""Antifreeze that must be changed sooner than this is warned of (a). Source: usual practice, 3 to 6 years."""


def hot(case: CautionCase) -> list[Caution]:
    """What gets too hot."""
    return [*_scald(case), *_stagnation(case), *_fluid(case), *_let_go(case), *_stove(case)]


def _scald(case: CautionCase) -> list[Caution]:
    design, hottest = case.design, float(case.book.profile.max())
    if not design.demand.hot_water or design.system.scheme.exchange == "pool":
        return []
    if hottest > SCALD_C and not design.system.tempering_valve:
        return [
            Caution(
                "scald",
                HURTS,
                "Scald",
                f"the store reaches {case.degrees(hottest)} and no tempering valve is fitted: "
                f"that {burn_words(hottest)}.",
                f"{hottest:.0f}",
                "valves",
                "A child or an old person cannot pull away in time.",
                "Usual codes ask for a valve that mixes to 45 to 50 °C, and for a store above 60 °C always.",
                "year?q=top",
                "the store’s hottest layer",
                (Remedy("fit a tempering valve", {"system.tempering_valve": True}),),
            )
        ]
    mixed = design.safety.mixed_c
    if mixed > 50.0 and hottest > mixed:
        return [
            Caution(
                "mixed",
                HURTS,
                "Scald at the tap",
                f"mixed to {case.degrees(mixed)}, water {burn_words(mixed)}.",
                f"{mixed:.0f}",
                "valves",
                "Burns come from the tap, not from the store.",
                "45 °C in homes for the old and for children, 50 °C elsewhere: usual codes.",
                "cautions?view=hygiene",
                "the mixing valve",
                (Remedy("mix to 48 °C", {"safety.mixed_c": 48.0}),),
            )
        ]
    return []


def _stagnation(case: CautionCase) -> list[Caution]:
    design, book = case.design, case.book
    scheme, peak, hours = design.system.scheme, book.stagnation_peak_c(), book.stagnation_hours()
    if hours <= 0 or peak <= STEAM_C:
        return []
    over = book.fluid_hours()[1]
    more = (
        f" The fluid in them is above {case.degrees(STEAM_C)} for {case.hours(over)}."
        if (over >= 1 and not scheme.drains)
        else ""
    )
    power = round(heat_dump_kw(design, HEAT_DUMP_AT_C), 1)
    remedies = []
    if scheme.driven_by == "pump" and not design.system.dump.fitted and power >= 0.1:
        words = f"a heat dump of {case.text(power, 'kW', 1)} at the collectors, from {case.degrees(HEAT_DUMP_AT_C)}"
        remedies.append(
            Remedy(
                words,
                {
                    "system.dump.fitted": True,
                    "system.dump.at": "collectors",
                    "system.dump.above_c": HEAT_DUMP_AT_C,
                    "system.dump.power_kw": power,
                    "system.dump.from_day": 1,
                    "system.dump.to_day": 365,
                },
            )
        )
    tilt = design.plane.tilt_deg
    if tilt < 60.0 and not design.plane.on:
        remedies.append(Remedy("tilt them to 60°, which sheds summer", {"plane.tilt_deg": 60.0}))
    return [
        Caution(
            "stagnation",
            BREAKS,
            "Stagnation",
            f"{case.hours(hours)} in the year; collectors reach {case.degrees(peak)}. Steam, relief valve, vessel "
            f"and fluid must be laid out for it.{more}",
            f"{peak:.0f}/{hours:.0f}",
            "control",
            "Steam drives the fluid out, ages it, and finds every part that cannot bear its heat.",
            "Sealed loops are laid out to bear it (EN 12977-1, VDI 6002-1); draining ones stand dry.",
            "year?q=collector",
            "the collectors’ hottest hours",
            tuple(remedies),
        )
    ]


def _fluid(case: CautionCase) -> list[Caution]:
    found = antifreeze(case.book, case.design, case.coldest_c)
    if found is None or not isfinite(found.lasts_years) or found.lasts_years >= SHORT_LIFE_YEARS:
        return []
    return [
        Caution(
            "cooked",
            BREAKS,
            "Fluid ages",
            f"it stands above {case.degrees(STEAM_C)} for {case.hours(found.hot_h)} a year and reaches its limit of "
            f"{case.hours(case.design.safety.fluid_limit_h)} after {units.number(found.lasts_years, 1)} years.",
            f"{found.hot_h:.0f}",
            "loop",
            "Aged antifreeze turns sour, thick and dark: it eats the pipes and then freezes.",
            "Tested every year, changed every 3 to 6 years; limits between 400 and 1,500 h are the fluid makers’.",
            "cautions?view=pressure",
            "the fluid’s hours",
        )
    ]


def _let_go(case: CautionCase) -> list[Caution]:
    boiled = case.book.boiled_kg()
    if boiled < 1:
        return []
    return [
        Caution(
            "boils",
            HURTS,
            "Water let go",
            f"{case.text(boiled, 'kg')} a year boil off or pass the relief, hot, and must be made up.",
            f"{boiled:.0f}",
            "store",
            "What leaves is steam and boiling water: lead it where nobody stands, and never close its way.",
            "An open pipe without a valve, falling to a drain that can be seen: usual codes.",
            "cautions?view=pressure",
            "the open tank or the relief",
        )
    ]


def _stove(case: CautionCase) -> list[Caution]:
    budget = stove_budget(case.design)
    if budget is None:
        return []
    found, safety = [], case.design.safety
    if not safety.jacket_open:
        found.append(
            Caution(
                "jacket",
                HURTS,
                "Stove without an open way",
                f"{case.text(budget['water_kw'], 'kW', 1)} go into water, and no way open to the air is known.",
                f"{budget['water_kw']:.1f}",
                "stove",
                "A jacket shut in is a boiler: it bursts with the strength of a bomb.",
                "Solid fuel only on an open vent, or with a heat-driven valve that cools it: every code known to us.",
                "cautions?view=hygiene",
                "the stove",
                (Remedy("it opens to the air", {"safety.jacket_open": True}),),
            )
        )
    if budget["left_kw"] > 0:
        found.append(
            Caution(
                "power",
                HURTS,
                "Stove without power",
                f"{case.text(budget['left_kw'], 'kW', 1)} have nowhere to go when the power fails; a store at "
                f"{case.degrees(60.0)} boils after {units.number(budget['boils_h'], 1)} h.",
                f"{budget['left_kw']:.1f}",
                "stove",
                "Fire cannot be switched off.",
                "Radiators that run without a pump, for all that the jacket gives.",
                "cautions?view=hygiene",
                "the stove’s budget",
                (Remedy("radiators for all of it", {"safety.radiator_kw": budget["water_kw"]}),),
            )
        )
    return found
