"""Frost: water that stands outdoors, loops that must run empty, antifreeze that is too thin."""

from heat.control.timetable import between
from heat.design.changing import kind_changes
from heat.sizing.antifreeze import TOO_THIN, antifreeze
from web.present.cautions.seen import BREAKS, Caution, Changes, Remedy, Seen
from web.ui import units

FREEZES_C = 2.0
"""Air at which water in outdoor pipes can freeze under a clear sky (°C)."""
RULE = "Pipes freeze before tanks do, and under a clear sky above 0 °C: usual practice."
WHY = "Ice bursts what holds it; the damage is seen when it thaws."


def frost(seen: Seen) -> list[Caution]:
    """What could freeze, by the kind's own way of keeping from it."""
    scheme = seen.design.system.scheme
    if scheme.moved == "none":
        return _standing(seen)
    if scheme.drains:
        return (
            _told(
                seen,
                f"the air falls to {seen.degrees(seen.coldest_c)}: every outdoor pipe must slope and run empty.",
                "pipes",
            )
            if seen.coldest_c < 0
            else []
        )
    return _water(seen) if scheme.water_outdoors else _fluid(seen)


def _told(seen: Seen, text: str, part: str, proof: str = "", remedies: tuple[Remedy, ...] = ()) -> list[Caution]:
    return [
        Caution(
            "frost",
            BREAKS,
            "Frost",
            text,
            proof or f"{seen.coldest_c:.1f}",
            part,
            WHY,
            RULE,
            "year?q=air",
            "the air’s coldest hours",
            remedies,
        )
    ]


def _kind(seen: Seen, kind: str, words: str) -> Remedy:
    changes: Changes = kind_changes(seen.sheet.document, kind)
    return Remedy(words, changes)


def _standing(seen: Seen) -> list[Caution]:
    frozen = seen.book.frozen_hours()
    if frozen >= 1:
        text = (
            f"the water in the collector is below {seen.degrees(0)} for {units.number(frozen, 0)} h: it bursts what "
            "holds it."
        )
        return _told(seen, text, "integral", f"{frozen:.0f} h", (_kind(seen, "drainback", "a drainback instead"),))
    if seen.coldest_c < 0:
        text = (
            f"the air falls to {seen.degrees(seen.coldest_c)}: pipes to and from the collector freeze before its water "
            "does."
        )
        return _told(seen, text, "pipes")
    return []


def _water(seen: Seen) -> list[Caution]:
    system, control = seen.design.system, seen.design.system.control
    coldest, when = seen.coldest_c, ""
    if (control.season_from_day, control.season_to_day) != (1, 365) and system.scheme.moved == "pump":
        in_use = between(control.season_from_day, control.season_to_day)
        coldest, when = float(seen.sheet.weather.air_c[in_use].min()), "even in its season "
    if system.kind == "drain_down":
        if coldest >= control.drain_air_c:
            return []
        text = (
            f"the loop lives by its drain valves, which must open at {seen.degrees(control.drain_air_c)}; try them "
            "every autumn."
        )
        return _told(seen, text, "season")
    if coldest >= FREEZES_C:
        return []
    text = (
        f"plain water stands outdoors and {when}the air falls to {seen.degrees(coldest)}: drain it for the cold "
        "months, or choose another loop."
    )
    other = "thermosiphon_sealed" if system.scheme.moved == "weight" else "pumped_coil"
    return _told(
        seen,
        text,
        "season" if system.scheme.moved == "pump" else "kind",
        f"{coldest:.1f}",
        (_kind(seen, other, "a loop with antifreeze"),),
    )


def _fluid(seen: Seen) -> list[Caution]:
    found = antifreeze(seen.book, seen.design, seen.coldest_c)
    if found is None:
        return []
    if not found.enough:
        text = (
            f"the air falls to {seen.degrees(seen.coldest_c)}; this fluid freezes at {seen.degrees(found.ice_c)} and "
            f"should keep {seen.told(seen.design.safety.frost_margin_k, 'delta_degC', 0)} below the coldest hour."
        )
        remedies = (
            (_kind(seen, "drainback", "a drainback instead"),)
            if found.needed is None
            else (
                Remedy(
                    f"{max(found.needed, TOO_THIN):.0f} % glycol",
                    {"system.loop.glycol_percent": max(found.needed, TOO_THIN)},
                ),
            )
        )
        return _told(seen, text, "loop", f"{seen.coldest_c:.1f}/{found.percent:.0f}", remedies)
    if 0 < found.percent < TOO_THIN:
        text = f"at {found.percent:.0f} % the fluid’s inhibitors no longer keep metal from rusting."
        return _told(
            seen,
            text,
            "loop",
            f"thin {found.percent:.0f}",
            (Remedy(f"{TOO_THIN:.0f} % glycol", {"system.loop.glycol_percent": TOO_THIN}),),
        )
    return []
