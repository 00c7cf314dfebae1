"""Drinking water: bacteria, dead legs, what parts it from antifreeze; pools."""

from heat.sizing.hygiene import (
    SAFE_C,
    THREE_L,
    WEEKLY,
    burns_in_s,
    dead_leg,
    is_small_system,
    made_safe_after,
    plan_changes,
)
from heat.sizing.thermosiphon import pool_flow
from heat.store.vessel import store_volume_l
from web.editor.design_page import DesignPage
from web.presentation.cautions.case import BREAKS, COSTS, HURTS, Caution, CautionCase, Remedy
from web.ui import units

LEGIONELLA_C = 55.0
"""Below which Legionella lives on (°C). Source: common codes."""
LEAST_POOL_FLOW = 80.0
"""Flow through a pool's collectors (kg/h m²) below which they run hot and lose. Source: data sheets, 100 to 250."""
PLAN = "system.backup.pasteurisation."


def burn_words(water_c: float) -> str:
    """How soon water of a temperature (°C) burns."""
    seconds = burns_in_s(water_c)
    if seconds > 80_000:
        return "burns nobody in a day"
    return f"burns in {units.number(seconds, 0)} s" if seconds >= 1.5 else "burns at once, in about a second or less"


def heated_words(page: DesignPage) -> str:
    """How often each store was pasteurised at its coldest point, and how cold that stayed."""
    book = page.year.book
    target = book.design.system.backup.pasteurisation.target_c
    degrees = lambda c: f"{page.show(c, 'degC', 0)} {page.sign('degC')}"
    through = book.heated_through()
    if not through:
        return "not planned"
    names = ("the first store", "the second store") if len(through) > 1 else ("the store",)
    sentences = [
        f"{name} reached {degrees(target)} at its coldest point {store.reached} times of {store.planned}"
        + (f" (the worst stayed at {degrees(store.coldest_c)})" if store.reached < store.planned else "")
        for name, store in zip(names, through, strict=True)
    ]
    return ", ".join(sentences)


def water(case: CautionCase) -> list[Caution]:
    """What can make water ill."""
    return [*_legionella(case), *_dead_leg(case), *_parted(case), *_pool(case)]


def _legionella(case: CautionCase) -> list[Caution]:
    design, book = case.design, case.book
    scheme = design.system.scheme
    if not design.demand.hot_water or scheme.exchange == "pool" or scheme.draw_coil or design.system.draw_coil.fitted:
        return []
    cool, through = book.legionella_hours(LEGIONELLA_C), book.heated_through()
    common = {
        "why": "Breathed in with a shower’s mist it brings a pneumonia that kills one in ten.",
        "rule": "Rules of thumb: 60 °C daily, 70 °C weekly through both stores with the sun’s pump "
        "resting, or no drinking "
        "water stored; large systems by the local code.",
        "at": "cautions?view=hygiene",
        "where": "the rules of thumb, each with its heat and money",
    }
    if through and any(store.reached < store.planned for store in through):
        proof = "/".join(f"{store.reached} of {store.planned}" for store in through)
        return [
            Caution(
                "legionella",
                HURTS,
                "Legionella",
                f"{heated_words(case.page)}. Give the heater more power or hours, set it lower, or let a pump carry "
                "its heat to the bottom.",
                proof,
                "pasteurisation",
                remedies=(Remedy("six hours to heat through", {f"{PLAN}hours": 6, f"{PLAN}transfer_pump": True}),),
                **common,
            )
        ]
    if cool <= 0 or through or made_safe_after(design):
        return []
    small, litres = is_small_system(design), case.text(store_volume_l(design), "L", 0)
    cold = f"the water that feeds the taps stays below {case.degrees(LEGIONELLA_C)} for {case.hours(cool)} of the year"
    text = (
        f"a small system ({litres}, {case.text(dead_leg(design)[0], 'L', 1)} in the longest pipe), for which codes ask "
        f"no pasteurising; {cold}. Where old or ill people live, heat it through or keep a heater after the store at "
        f"{case.degrees(SAFE_C)}."
        if small
        else f"a large system ({litres}): {cold}. Plan a daily or weekly pasteurisation, a heater after the store that "
        "makes it safe, or a draw coil."
    )
    return [
        Caution(
            "legionella",
            COSTS if small else HURTS,
            "Legionella",
            text,
            f"{cool:.0f}",
            "add",
            remedies=(
                Remedy("heat it through weekly", plan_changes(case.page.document, WEEKLY)),
                Remedy("a draw coil", {"system.draw_coil.fitted": True}),
            ),
            **common,
        )
    ]


def _dead_leg(case: CautionCase) -> list[Caution]:
    litres, wait = dead_leg(case.design)
    if not case.design.demand.hot_water or litres <= THREE_L:
        return []
    return [
        Caution(
            "dead leg",
            HURTS,
            "Dead leg",
            f"{case.text(litres, 'L', 1)} stand in the longest pipe to a tap, which waits {wait:.0f} s for warm water.",
            f"{litres:.1f}",
            "",
            "Water that stands lukewarm breeds, and is run away.",
            "Three litres at most between store or ring and tap: DVGW W 551.",
            "cautions?view=hygiene",
            "the longest pipe",
            (Remedy("a bore of 10 mm", {"safety.branch_bore_mm": 10.0}),),
        )
    ]


def _parted(case: CautionCase) -> list[Caution]:
    design, scheme, control = case.design, case.design.system.scheme, case.design.system.control
    found = []
    if (
        scheme.exchange == "coil"
        and design.system.loop.glycol_percent > 0
        and design.demand.hot_water
        and (not design.system.draw_coil.fitted)
    ):
        found.append(
            Caution(
                "one wall",
                HURTS,
                "Drinking water",
                "one wall parts antifreeze from drinking water; some codes ask for two.",
                f"{design.system.loop.glycol_percent:.0f}",
                "coil",
                "A hole in the coil is not seen until it is tasted.",
                "Propylene glycol of food grade, and two walls where the code asks.",
                "scheme?part=coil",
                "the coil",
                (Remedy("a draw coil", {"system.draw_coil.fitted": True}),),
            )
        )
    if (
        scheme.exchange == "direct"
        and scheme.driven_by == "pump"
        and (control.season_from_day, control.season_to_day) == (1, 365)
    ):
        found.append(
            Caution(
                "hot pipes",
                BREAKS,
                "Hot pipes",
                "the collectors carry the taps’ own water: their pipes and valves must bear its pressure and "
                "temperature.",
                case.design.system.kind,
                "loop",
                "Scale falls out where water is hottest, and the relief is the taps’ own.",
                "Parts approved for drinking water throughout: usual codes.",
                "scheme?part=loop",
                "the loop",
            )
        )
    return found


def _pool(case: CautionCase) -> list[Caution]:
    flow = pool_flow(case.design)
    if flow is None:
        return []
    found = [
        Caution(
            "chemistry",
            BREAKS,
            "Pool water",
            "treated water passes the collectors: dose it after them, and keep copper and steel out of it.",
            "pool",
            "",
            "Chlorine and salt eat metal, and dosing before collectors gathers in them by night.",
            "pH 7.2 to 7.6; polymers or titanium: makers of collectors and pools.",
            "cautions?view=loop",
            "the pool’s flow",
        )
    ]
    if flow["flow_m2"] < LEAST_POOL_FLOW:
        area = case.design.system.collector.total_area_m2
        better = round(LEAST_POOL_FLOW * 1.5 * area / 10.0) * 10.0
        found.append(
            Caution(
                "pool flow",
                COSTS,
                "Pool’s flow",
                f"{case.text(flow['flow_m2'], 'kg/h/m2')} through the collectors let them rise by "
                f"{case.text(flow['rise_k'], 'delta_degC', 0)} in full sun.",
                f"{flow['flow_m2']:.0f}",
                "loop",
                "Uncovered collectors lose by every degree.",
                "100 to 250 L/h for each m²: makers of collectors.",
                "cautions?view=loop",
                "the pool’s flow",
                (Remedy(case.text(better, "kg/h"), {"system.loop.flow_kg_h": better}),) if better <= 50_000 else (),
            )
        )
    return found
