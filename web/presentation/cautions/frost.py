"""Frost: water that stands outdoors, loops that must run empty, antifreeze that is too thin."""

from heat.control.timetable import between
from heat.design.changing import kind_changes
from heat.sizing.antifreeze import TOO_THIN, antifreeze
from heat.weather.cold import season_cold_c
from web.presentation.cautions.case import BREAKS, Caution, CautionCase, Changes, Remedy
from web.ui import units

FREEZES_C = 2.0
"""Air at which water in outdoor pipes can freeze under a clear sky (°C)."""
RULE = (
    "Pipes freeze before tanks do, and under a clear sky above 0 °C: usual practice. How cold hard winters are follows "
    "from the coldest month’s mean, as design tables have it; ask the local code."
)
WHY = "Ice bursts what holds it; the damage is seen when it thaws."


def frost(case: CautionCase) -> list[Caution]:
    """What could freeze, by the kind's own way of keeping from it."""
    scheme = case.design.system.scheme
    if scheme.driven_by == "none":
        return _standing(case)
    if scheme.drains:
        return (
            _describe(case, f"{_hard_winters(case)}: every outdoor pipe must slope and run empty.", "pipes")
            if case.coldest_c < 0
            else []
        )
    return _water(case) if scheme.water_outdoors else _fluid(case)


def _describe(
    case: CautionCase, text: str, part: str, proof: str = "", remedies: tuple[Remedy, ...] = ()
) -> list[Caution]:
    return [
        Caution(
            "frost",
            BREAKS,
            "Frost",
            text,
            proof or f"{case.coldest_c:.1f}",
            part,
            WHY,
            RULE,
            "year?q=air",
            "the air’s coldest hours",
            remedies,
        )
    ]


def _hard_winters(case: CautionCase) -> str:
    return f"in hard winters the air may fall to {case.degrees(case.coldest_c)}"


def _kind(case: CautionCase, kind: str, words: str) -> Remedy:
    changes: Changes = kind_changes(case.page.document, kind)
    return Remedy(words, changes)


def _standing(case: CautionCase) -> list[Caution]:
    frozen = case.book.frozen_hours()
    if frozen >= 1:
        text = (
            f"the water in the collector is below {case.degrees(0)} for {units.number(frozen, 0)} h: it bursts what "
            "holds it."
        )
        return _describe(case, text, "integral", f"{frozen:.0f} h", (_kind(case, "drainback", "a drainback instead"),))
    if case.coldest_c < 0:
        text = f"{_hard_winters(case)}: pipes to and from the collector freeze before its water does."
        return _describe(case, text, "pipes")
    return []


def _water(case: CautionCase) -> list[Caution]:
    system, control = case.design.system, case.design.system.control
    coldest, when = case.coldest_c, "in hard winters "
    if (control.season_from_day, control.season_to_day) != (1, 365) and system.scheme.driven_by == "pump":
        in_use = between(control.season_from_day, control.season_to_day)
        coldest, when = season_cold_c(case.page.weather, in_use), "even in its season "
    if system.kind == "drain_down":
        if coldest >= control.drain_air_c:
            return []
        text = (
            f"the loop lives by its drain valves, which must open at {case.degrees(control.drain_air_c)}; try them "
            "every autumn."
        )
        return _describe(case, text, "season")
    if coldest >= FREEZES_C:
        return []
    text = (
        f"plain water stands outdoors and {when}the air may fall to {case.degrees(coldest)}: drain it for the cold "
        f"months{'' if system.scheme.exchange == 'pool' else ', or choose another loop'}."
    )
    pool = system.scheme.exchange == "pool"  # its water freezes in no other loop either: it is drained
    other = "thermosiphon_sealed" if system.scheme.driven_by == "buoyancy" else "pumped_coil"
    return _describe(
        case,
        text,
        "season" if system.scheme.driven_by == "pump" else "kind",
        f"{coldest:.1f}",
        () if pool else (_kind(case, other, "a loop with antifreeze"),),
    )


def _fluid(case: CautionCase) -> list[Caution]:
    found = antifreeze(case.book, case.design, case.coldest_c)
    if found is None:
        return []
    if not found.enough:
        text = (
            f"{_hard_winters(case)}; this fluid freezes at {case.degrees(found.ice_c)} and "
            f"should be safe to {case.text(case.design.safety.frost_margin_k, 'delta_degC', 0)} below that."
        )
        remedies = (
            (_kind(case, "drainback", "a drainback instead"),)
            if found.needed is None
            else (
                Remedy(
                    f"{max(found.needed, TOO_THIN):.0f} % glycol",
                    {"system.loop.glycol_percent": max(found.needed, TOO_THIN)},
                ),
            )
        )
        return _describe(case, text, "loop", f"{case.coldest_c:.1f}/{found.percent:.0f}", remedies)
    if 0 < found.percent < TOO_THIN:
        text = f"at {found.percent:.0f} % the fluid’s inhibitors no longer keep metal from rusting."
        return _describe(
            case,
            text,
            "loop",
            f"thin {found.percent:.0f}",
            (Remedy(f"{TOO_THIN:.0f} % glycol", {"system.loop.glycol_percent": TOO_THIN}),),
        )
    return []
