"""What can hurt someone or spoil the system, computed from this design and its year, in the reader's units."""

from dataclasses import dataclass
from math import cos, hypot, radians

from heat.control.timetable import between
from heat.design.contradictions import warnings
from heat.fluid import freezing_point_c
from heat.sizing.weight import wet_weight
from heat.weather.world import DOUBT
from web.sheet.page import Sheet
from web.ui import units
from web.years.rough import is_rough

PLAIN_WARNINGS = {
    "demand.pool.exchanger_w_k", "system.coil.bottom_share", "system.backup.element.height_share", "system.dump.fitted",
    "system.loop.geometry.store_bottom_m",
}  # fmt: skip
"""Warnings of the core whose words hold no number in a unit; the others are worded below in the reader's."""
SCALD_C, LEGIONELLA_C, STEAM_C = 60.0, 55.0, 120.0
"""Water that scalds in seconds; below which Legionella lives on; collectors that make steam (°C). Source: common
codes."""
TUBE_LEAST_DEG, SIPHON_LEAST_DEG, SIPHON_USUAL_DEG = 20.0, 15.0, 45.0
"""Least tilt of heat-pipe tubes, and of a thermosiphon by two schools (deg). Source: usual instructions."""
FREEZES_C = 2.0
"""Air at which water in outdoor pipes can freeze under a clear sky (°C)."""
ELSEWHERE_DEG = 0.5
"""A climate made so far from the site (deg) is another place's. Source: our own choice, some 50 km."""
MARGIN_K = 5.0
"""Frost reserve antifreeze should keep below the coldest hour (K)."""
PART_OF = {"demand.pool.exchanger_w_k": "", "system.coil.bottom_share": "coil",
    "system.backup.element.height_share": "element",
           "system.dump.fitted": "add", "system.loop.geometry.store_bottom_m": "siphon"}  # fmt: skip


@dataclass(frozen=True)
class Caution:
    """A danger by name, its reason and number, and the part it concerns."""

    name: str
    text: str
    part: str = ""


def heated_words(sheet: Sheet) -> str:
    """How often each store was heated through at its coldest point, and how cold that stayed."""
    book = sheet.year.book
    target = book.design.system.backup.pasteurisation.target_c
    degrees = lambda c: f"{sheet.show(c, 'degC', 0)} {sheet.sign('degC')}"
    through = book.heated_through()
    if not through:
        return "not planned"
    names = ("the first store", "the second store") if len(through) > 1 else ("the store",)
    told = [
        f"{name} reached {degrees(target)} at its coldest point {store.reached} times of {store.planned}"
        + (f" (the worst stayed at {degrees(store.coldest_c)})" if store.reached < store.planned else "")
        for name, store in zip(names, through, strict=True)
    ]
    return ", ".join(told)


def climate_cautions(sheet: Sheet) -> list[Caution]:
    """What the climate behind every figure is not."""
    file, site, weather = sheet.project.weather, sheet.document["site"], sheet.weather
    if is_rough(file):
        return [Caution(
            "Rough climate",
            f"sun and air come from a map and a rule; the sun may be off by {100 * DOUBT:.0f} %, one time in ten by "
            "more. Put a weather file or twelve means in its place (Site, Weather) before anything is bought.",
        )]  # fmt: skip
    eastward = (weather.longitude_deg - site["longitude_deg"]) * cos(radians(site["latitude_deg"]))
    if file.made_up and hypot(weather.latitude_deg - site["latitude_deg"], eastward) > ELSEWHERE_DEG:
        return [Caution(
            "Made-up climate",
            "the site lies elsewhere, so no figure here is its own. Take the rough climate of the place, or a file "
            "(Site, Weather).",
        )]  # fmt: skip
    return []


def cautions(sheet: Sheet) -> list[Caution]:
    """Every caution this design and its year give rise to."""
    book = sheet.year.book
    design, system = book.design, book.design.system
    scheme, loop, control = system.scheme, system.loop, system.control
    coldest = float(sheet.weather.air_c.min())
    degrees = lambda c: f"{sheet.show(c, 'degC', 0)} {sheet.sign('degC')}"
    hours = lambda h: f"{units.number(h, 0)} h"
    found: list[Caution] = climate_cautions(sheet)
    hottest = float(book.profile.max())
    if hottest > SCALD_C and not system.tempering_valve and design.demand.hot_water:
        found.append(
            Caution("Scald", f"the store reaches {degrees(hottest)} and no tempering valve is fitted.", "valves")
        )
    peak = book.stagnation_peak_c()
    if book.stagnation_hours() > 0 and peak > STEAM_C:
        over = book.fluid_hours()[1]
        more = (
            f" The fluid in them is above {degrees(STEAM_C)} for {hours(over)}."
            if over >= 1 and not scheme.drains
            else ""
        )
        found.append(Caution(
            "Stagnation",
            f"{hours(book.stagnation_hours())} in the year; collectors reach {degrees(peak)}. Steam, relief valve, "
            f"vessel and fluid must be laid out for it.{more}", "control"))  # fmt: skip
    found += _frost(sheet, coldest, degrees)
    if design.demand.hot_water and scheme.exchange != "pool" and not scheme.draw_coil and not system.draw_coil.fitted:
        cool = book.legionella_hours(LEGIONELLA_C)
        through = book.heated_through()
        if through and any(store.reached < store.planned for store in through):
            found.append(Caution(
                "Legionella",
                f"{heated_words(sheet)}. Give the heater more power or hours, set it lower, or let a pump carry its "
                "heat to the bottom.", "pasteurisation"))  # fmt: skip
        if cool > 0 and not through:
            found.append(Caution(
                "Legionella",
                f"the water that feeds the taps stays below {degrees(LEGIONELLA_C)} for {hours(cool)} of the year. "
                "Plan a daily or weekly pasteurisation, a heater after the store that makes it safe, or a draw coil.",
                "add"))  # fmt: skip
    if scheme.moved == "pump" and not scheme.drains and not loop.check_valve:
        back = book.reversed_hours()
        told = f"the loop ran backwards for {hours(back)}" if back >= 1 else "the loop can run backwards at night"
        found.append(Caution("No check valve", f"{told}, and the store warms the sky.", "valves"))
    found += _weight_and_tilt(sheet)
    if book.boiled_kg() >= 1:
        found.append(
            Caution(
                "Water let go",
                f"{sheet.show(book.boiled_kg(), 'kg')} {sheet.sign('kg')} a year boil off or pass the relief, hot, "
                f"and must be made up.",
                "store",
            )
        )
    if (
        scheme.exchange == "coil"
        and loop.glycol_percent > 0
        and design.demand.hot_water
        and not system.draw_coil.fitted
    ):
        found.append(
            Caution("Drinking water", "one wall parts antifreeze from drinking water; some codes ask for two.", "coil")
        )
    if (
        scheme.exchange == "direct"
        and control.season_from_day == 1
        and control.season_to_day == 365
        and scheme.moved == "pump"
    ):
        found.append(
            Caution(
                "Hot pipes",
                "the collectors carry the taps’ own water: their pipes and valves must bear its pressure and "
                "temperature.",
                "loop",
            )
        )
    found += [
        Caution("Consider", f"{w.text} {w.way_out}", PART_OF.get(w.path, "")) for w in warnings(design,
            coldest) if w.path in PLAIN_WARNINGS
    ]  # fmt: skip
    return found


def _frost(sheet: Sheet, coldest: float, degrees) -> list[Caution]:  # type: ignore[no-untyped-def]
    book = sheet.year.book
    system = book.design.system
    scheme, control = system.scheme, system.control
    whole_year = control.season_from_day == 1 and control.season_to_day == 365
    if scheme.moved == "none":
        if book.frozen_hours() >= 1:
            return [
                Caution(
                    "Frost",
                    f"the water in the collector is below {degrees(0)} for {units.number(book.frozen_hours(), 0)} h: "
                    f"it bursts what holds it.",
                    "integral",
                )
            ]
        if coldest < 0:
            return [
                Caution(
                    "Frost",
                    f"the air falls to {degrees(coldest)}: pipes to and from the collector freeze before its water "
                    f"does.",
                    "pipes",
                )
            ]
        return []
    if scheme.drains:
        if coldest < 0:
            return [
                Caution(
                    "Frost",
                    f"the air falls to {degrees(coldest)}: every outdoor pipe must slope and run empty.",
                    "pipes",
                )
            ]
        return []
    if scheme.water_outdoors:
        if not whole_year and scheme.moved == "pump":
            in_use = between(control.season_from_day, control.season_to_day)
            coldest = float(sheet.weather.air_c[in_use].min())
            when = "even in its season "
        else:
            when = ""
        if coldest < FREEZES_C and system.kind != "drain_down":
            return [
                Caution(
                    "Frost",
                    f"plain water stands outdoors and {when}the air falls to {degrees(coldest)}: drain it for the "
                    f"cold months, or choose another loop.",
                    "season" if scheme.moved == "pump" else "kind",
                )
            ]
        if system.kind == "drain_down":
            return (
                [
                    Caution(
                        "Frost",
                        f"the loop lives by its drain valves, which must open at {degrees(control.drain_air_c)}; try "
                        f"them every autumn.",
                        "season",
                    )
                ]
                if coldest < control.drain_air_c
                else []
            )
        return []
    freezing = freezing_point_c(system.loop.glycol_percent)
    if coldest < freezing + MARGIN_K:
        return [
            Caution("Frost", f"the air falls to {degrees(coldest)}; this fluid freezes at {degrees(freezing)}.", "loop")
        ]
    return []


def _weight_and_tilt(sheet: Sheet) -> list[Caution]:
    design = sheet.year.book.design
    system = design.system
    found = []
    weight = wet_weight(design)
    load = lambda v: f"{sheet.show(v, 'kg/m2')} {sheet.sign('kg/m2')}"
    plane = next((p for p in design.site.planes if p.key == design.plane.on), None)
    if plane and weight.per_m2 > plane.load_kg_m2:
        found.append(
            Caution(
                "Weight",
                f"the collectors weigh {load(weight.per_m2)} full of water; plane {plane.key} was surveyed to carry "
                f"{load(plane.load_kg_m2)}. An engineer must check it.",
                "plane",
            )
        )
    if weight.store_kg:
        found.append(
            Caution(
                "Weight",
                f"the store above the collectors weighs {sheet.show(weight.store_kg, 'kg')} {sheet.sign('kg')} full: "
                f"what bears it must be checked.",
                "store",
            )
        )
    tilt = f"{design.plane.tilt_deg:.0f}°"
    if system.collector.iam == "biaxial" and design.plane.tilt_deg < TUBE_LEAST_DEG:
        found.append(
            Caution(
                "Tilt",
                f"heat-pipe tubes want {TUBE_LEAST_DEG:.0f}° at least to return their fluid; this plane lies at "
                f"{tilt}.",
                "plane",
            )
        )
    if system.scheme.moved == "weight" and design.plane.tilt_deg < SIPHON_USUAL_DEG:
        low = design.plane.tilt_deg < SIPHON_LEAST_DEG
        found.append(
            Caution(
                "Tilt",
                f"a thermosiphon at {tilt} {'hardly moves' if low else 'needs pipes that rise all the way'}: schools "
                f"ask for {SIPHON_USUAL_DEG:.0f}° and more, some for {SIPHON_LEAST_DEG:.0f}° at least.",
                "plane",
            )
        )
    return found
