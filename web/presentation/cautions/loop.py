"""The loop: backwards at night, pipes too thin, vessels too small, valves that do not fit, siphons that do not rise."""

from math import ceil

from heat.loop.runs import pump_power_w
from heat.sizing.circuit import (
    BRISK_M_S,
    groups_of,
    lift_m,
    pipe_sizes,
    recommended,
    resistances,
    rise_m,
    working_point,
)
from heat.sizing.thermosiphon import siphon
from heat.sizing.vessel import SizedVessel, expansion_vessel
from web.presentation.cautions.case import BREAKS, COSTS, HURTS, Caution, CautionCase, Remedy

UNEVEN = 0.1
"""A row's share of the flow that is warned of, from even (1). Source: our own choice."""


def loop(case: CautionCase) -> list[Caution]:
    """What can go wrong between collectors and store."""
    scheme = case.design.system.scheme
    if scheme.driven_by == "none":
        return []
    return [*_back(case), *_pipes(case), *_power(case), *_vessel(case), *_rows(case), *_head(case), *_siphon(case)]


def _back(case: CautionCase) -> list[Caution]:
    scheme, back = case.design.system.scheme, case.book.reversed_hours()
    if scheme.driven_by != "pump" or scheme.drains or case.design.system.loop.check_valve:
        return []
    text = f"the loop ran backwards for {case.hours(back)}" if back >= 1 else "the loop can run backwards at night"
    return [
        Caution(
            "check valve",
            COSTS,
            "No check valve",
            f"{text}, and the store warms the sky.",
            f"{back:.0f}",
            "valves",
            "Warm water rises into cold collectors by itself, and may freeze a plate.",
            "One in every pumped loop.",
            "year?q=flow",
            "hours of flow by night",
            (Remedy("fit a check valve", {"system.loop.check_valve": True}),),
        )
    ]


def _pipes(case: CautionCase) -> list[Caution]:
    design = case.design
    if design.system.scheme.driven_by != "pump":
        return []
    found = [part for part in resistances(design, working_point(design).flow_kg_h) if part.words.startswith("pipe")]
    fastest = max(found, key=lambda part: part.speed_m_s, default=None)
    if fastest is None or fastest.speed_m_s <= BRISK_M_S * 1.4:
        return []
    size = recommended(pipe_sizes(design, norm=case.page.pipe_norm))
    changes = {
        f"system.loop.{pipe}.{name}": value
        for pipe in ("supply_pipe", "return_pipe")
        for name, value in (("outer_diameter_mm", float(size.outer_mm)), ("wall_mm", size.wall_mm))
    }
    return [
        Caution(
            "thin pipes",
            COSTS,
            "Thin pipes",
            f"the {fastest.words} runs at {case.text(fastest.speed_m_s, 'flow m/s')}.",
            f"{fastest.speed_m_s:.2f}",
            "pipes",
            "It sings, wears its bends and asks for a stronger pump.",
            "0.3 to 0.7 m/s in small pipes: usual practice.",
            "cautions?view=loop",
            "speeds and losses",
            (Remedy(f"pipes of {case.page.pipe_text(size)}", changes),),
        )
    ]


def _power(case: CautionCase) -> list[Caution]:
    """A pump whose typed power is less than the loop needs at that flow."""
    design = case.design
    if design.system.scheme.driven_by != "pump" or design.system.loop.drive.rule == "by_sun":
        return []
    typed, needs = float(design.system.loop.pump_w), pump_power_w(design)
    if needs <= typed + 0.5:
        return []
    return [
        Caution(
            "pump power",
            COSTS,
            "Pump",
            f"no pump drives {case.text(working_point(design).flow_kg_h, 'kg/h', 0)} through this loop with "
            f"{typed:.0f} W; the year counts {needs:.0f} W. Wider pipes, less flow, or a pump of that power.",
            f"{typed:.0f}/{needs:.0f}",
            "loop",
            "Its flow and its power cannot both be so.",
            "Pressure times flow, by the best of pumps.",
            "cautions?view=loop",
            "flow and pump",
            (Remedy(f"a pump of {ceil(needs / 5.0) * 5:.0f} W", {"system.loop.pump_w": ceil(needs / 5.0) * 5.0}),),
        )
    ]


def _vessel(case: CautionCase) -> list[Caution]:
    scheme, vessel = case.design.system.scheme, expansion_vessel(case.design)
    if scheme.drains or scheme.vented or scheme.exchange in ("direct", "pool"):
        return []
    return [*_relief(case)] if vessel is None else [*_too_small(case, vessel), *_steam(case, vessel)]


def _relief(case: CautionCase) -> list[Caution]:
    design = case.design
    higher = min(round(0.0981 * rise_m(design) + 4.0), 20.0)
    return [
        Caution(
            "relief",
            HURTS,
            "Relief too low",
            f"a relief of {case.text(design.safety.relief_bar, 'bar', 1)} leaves no room above the weight of "
            f"{case.text(rise_m(design), 'm', 0)} of fluid.",
            f"{design.safety.relief_bar:g}/{rise_m(design):.0f}",
            "loop",
            "It weeps from the first warm day, and the loop runs dry.",
            "VDI 6002-1; EN 12977-1.",
            "cautions?view=pressure",
            "pressures of the loop",
            (Remedy(f"a relief of {case.text(higher, 'bar', 0)}", {"safety.relief_bar": higher}),),
        )
    ]


def _too_small(case: CautionCase, vessel: SizedVessel) -> list[Caution]:
    fitted = case.design.safety.vessel_l
    if fitted is None or fitted >= vessel.least_l:
        return []
    return [
        Caution(
            "vessel",
            BREAKS,
            "Vessel too small",
            f"{case.text(fitted, 'L', 0)} are fitted; fluid, steam and reserve ask for "
            f"{case.text(vessel.least_l, 'L', 0)}.",
            f"{fitted:.0f}/{vessel.least_l:.0f}",
            "loop",
            "The relief spits fluid at each standstill, and air comes in.",
            "VDI 6002-1: reserve, growth and the collectors’ steam.",
            "cautions?view=pressure",
            "the vessel",
            (Remedy(f"a vessel of {case.text(vessel.nominal_l, 'L', 0)}", {"safety.vessel_l": vessel.nominal_l}),),
        )
    ]


def _steam(case: CautionCase, vessel: SizedVessel) -> list[Caution]:
    if vessel.cooling_l <= 0 or case.book.stagnation_hours() <= 0:
        return []
    design = case.design
    return [
        Caution(
            "steam",
            BREAKS,
            "Steam reaches the vessel",
            f"steam comes {case.text(vessel.steam_m, 'm', 0)} down the pipes, past half of them: a cooling vessel "
            f"of {case.text(vessel.cooling_l, 'L', 0)} before the other keeps its membrane below "
            f"{case.degrees(70.0)}.",
            f"{vessel.steam_m:.0f}",
            "pipes",
            "A cooked membrane lets its gas go within a summer.",
            "Steam power 50 to 110 W/m²: IEA SHC task 26.",
            "cautions?view=pressure",
            "how far steam reaches",
            (Remedy("collectors that empty well", {"safety.empties_well": True}),)
            if not design.safety.empties_well
            else (),
        )
    ]


def _rows(case: CautionCase) -> list[Caution]:
    rows = groups_of(case.design)
    if rows.rows < 2 or max(abs(share - 1.0) for share in rows.shares) <= UNEVEN:
        return []
    return [
        Caution(
            "rows",
            COSTS,
            "Uneven rows",
            f"{rows.rows - 1} of {rows.in_row} collectors and one of {rows.last}: the short row takes "
            f"{100 * (rows.shares[-1] - 1):.0f} % more than its share.",
            f"{rows.in_row}/{rows.last}",
            "collectors",
            "What flows too fast there is missing in the others.",
            "Rows of one length, fed from opposite ends, or valves.",
            "cautions?view=loop",
            "the rows",
        )
    ]


def _head(case: CautionCase) -> list[Caution]:
    design = case.design
    if not design.system.scheme.drains or not design.system.loop.drive.curve:
        return []
    lift, most = lift_m(design), design.system.loop.drive.curve[0].head_m
    if most >= lift:
        return []
    return [
        Caution(
            "lift",
            BREAKS,
            "Pump too weak to fill",
            f"it must lift water by {case.text(lift, 'm', 1)} and reaches {case.text(most, 'm', 1)}.",
            f"{lift:.1f}/{most:.1f}",
            "loop",
            "The collectors never fill, and boil dry.",
            "The head at no flow above the whole lift.",
            "cautions?view=loop",
            "the pump’s curve",
        )
    ]


def _siphon(case: CautionCase) -> list[Caution]:
    noon = siphon(case.design)
    if noon is None:
        return []
    found, back = [], case.book.reversed_hours()
    if not noon.rises:
        found.append(
            Caution(
                "rise",
                COSTS,
                "Pipes rise too little",
                f"they rise by {case.text(case.design.safety.rise_mm_m, 'mm/m')}: bubbles stay and stop the flow.",
                f"{case.design.safety.rise_mm_m:.0f}",
                "siphon",
                "There is no pump to push air along.",
                "1 in 20 at least, all the way: usual practice.",
                "cautions?view=loop",
                "the siphon",
                (Remedy("1 in 20", {"safety.rise_mm_m": 50.0}),),
            )
        )
    if not noon.trapped or back >= 1:
        text = (
            f"it ran backwards for {case.hours(back)}" if back >= 1 else "no dip of the pipe below the store is known"
        )
        found.append(
            Caution(
                "heat trap",
                COSTS,
                "Backwards at night",
                f"{text}: the store warms the sky.",
                f"{back:.0f}/{noon.trapped}",
                "siphon",
                "Cold collectors below a warm store drive it as the sun does.",
                "Store 0.3 m and more above the collectors, and a dip in the warm pipe.",
                "year?q=flow",
                "flow by night",
                () if noon.trapped else (Remedy("a dip below the store", {"safety.heat_trap": True}),),
            )
        )
    return found
