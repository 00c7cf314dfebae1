"""Sections that go to the site: the sky and which way to face, whether it can be built, valves by season."""

from math import cos, hypot, radians, sin

from heat.design import Design
from heat.sizing.circuit import rise_m
from heat.sizing.roof_load import wet_weight
from heat.sizing.wind import wind_load
from heat.store.vessel import store_shape, store_volume_l
from heat.sun.survey import collectors_that_fit, shaded_months
from web.editor.design_page import DesignPage
from web.presentation.certificates import missing_text
from web.presentation.sky import sun_path_chart
from web.simulations.planes import MAP_OFFS, MAP_TILTS, best_plane, on_plane, sun_map
from web.ui import units
from web.ui.calendar import MONTHS, date_of

Context = dict[str, object]
SHADES = 5
"""Shades of a map, paper to sand: least sun to most."""
NEAR = 0.98
"""Share of the best from which a way to face is as good as the best."""


def sun(page: DesignPage) -> Context:
    """The sun's paths over the horizon of the design's plane, what it takes, and the sun by way of facing."""
    design = page.year.book.design
    file = page.project.weather
    taken = on_plane(design, file, design.plane)
    tilt, azimuth, most = best_plane(design, file)
    table = sun_map(design, file)
    toward = 180.0 if design.site.latitude_deg >= 0 else 0.0
    off = (design.plane.azimuth_deg - toward + 180.0) % 360.0 - 180.0
    shaded = shaded_months(design.site)
    share = lambda v: f"{100 * v:.0f}"
    low = float(table.min())
    shade = lambda v: f"shade-{min(int(SHADES * (v - low) / max(most - low, 1e-9)), SHADES - 1)}"
    return {
        "sky": sun_path_chart(design.site, design.plane),
        "tilt": f"{design.plane.tilt_deg:.0f}",
        "azimuth": f"{design.plane.azimuth_deg:.0f}",
        "open": page.show(float(taken.open_kwh_m2.sum()), "kWh/m2", 0),
        "left": page.show(float(taken.left.sum()), "kWh/m2", 0),
        "sign": page.sign("kWh/m2"),
        "lost": units.number(100 * float(taken.lost.sum()) / max(float(taken.open_kwh_m2.sum()), 1e-9), 1),
        "rows": [
            {
                "tilt": f"{t:.0f}°",
                "cells": [
                    {
                        "text": share(v / most),
                        "shade": shade(v),
                        "best": v >= NEAR * most,
                        "here": _nearest(MAP_TILTS, design.plane.tilt_deg) == t
                        and _nearest(MAP_OFFS, off) == o
                        and abs(off) <= 105.0,
                    }
                    for o, v in zip(MAP_OFFS, row, strict=True)
                ],
            }
            for t, row in zip(MAP_TILTS, table, strict=True)
        ],
        "bearings": [f"{(toward + o) % 360:.0f}°" for o in MAP_OFFS],
        "best": f"{tilt:.0f}° facing {azimuth:.0f}°: {page.show(most, 'kWh/m2', 0)} {page.sign('kWh/m2')}",
        "clear": "The sky is clear from 9 to 15 h by the sun all year."
        if not shaded
        else f"Something hides the sun between 9 and 15 h in {', '.join(MONTHS[m] for m in shaded)}.",
        "things": [
            f"{t.name}, {t.from_deg:.0f}° to {t.to_deg:.0f}°, {t.altitude_deg:.0f}° high" for t in design.site.trees
        ]
        + [f"{o.name} at {o.bearing_deg:.0f}°, {o.altitude_deg():.0f}° high" for o in design.site.obstacles],
        "skyline": [(f"{p.bearing_deg:.0f}°", f"{units.number(p.altitude_deg, 1)}°") for p in design.site.skyline],
    }


def _nearest(marks: tuple[float, ...], value: float) -> float:
    return min(marks, key=lambda mark: abs(mark - value))


def feasible(page: DesignPage) -> Context:
    """Whether it can be built, on a page: what it asks of the place, what is there, room to answer by hand."""
    design = page.year.book.design
    rows = [*_roof(page, design), *_room(page, design), *_way(page, design)]
    by_hand = (
        ("Roof sound for as long as the collectors live, its warranty asked", "25 years and more"),
        ("Permits: building, structure, plumbing, pressure", "asked and written"),
        ("Certificates for them and for grants", missing_text(page.parsed) or "all at hand, on the parts list"),
        ("Without a shutdown", "hot water back the same day"),
        ("Power for pump and control", "own fuse, earth, lightning"),
        ("Drain, relief and condensate", "led where nobody is burnt"),
        ("Access to service", "standing place, anchor"),
    )
    return {"rows": rows + [{"words": w, "asks": a, "there": "", "fits": None} for w, a in by_hand]}


def _row(words: str, asks: str, there: str = "", fits: bool | None = None) -> Context:
    return {"words": words, "asks": asks, "there": there, "fits": fits}


def _roof(page: DesignPage, design: Design) -> list[Context]:
    plane = next((p for p in design.site.planes if p.key == design.plane.on), None)
    part = design.system.collector
    weight, load = wet_weight(design), wind_load(design)
    show = lambda v, q, d=0: f"{page.show(v, q, d)} {page.sign(q)}"
    rows = [_row("Collectors on the plane", f"{part.count}, {show(design.system.gross_m2, 'm2', 1)}")]
    if plane is not None:
        room, way = collectors_that_fit(plane, design.plane.slope_m, part.total_gross_m2 / part.count)
        rows[0] |= {"there": f"{plane.key} {plane.name}: room for {room}, {way}", "fits": room >= part.count}
        rows.append(_row("Room to extend", "some, for later", f"{max(room - part.count, 0)} more", room > part.count))
        carries = f"may carry {show(plane.load_kg_m2, 'kg/m2')}"
        rows.append(_row("Weight on it, wet", show(weight.per_m2, "kg/m2"), carries, weight.per_m2 <= plane.load_kg_m2))
    else:
        rows.append(_row("Weight on it, wet", f"{show(weight.plane_kg, 'kg')}, {show(weight.per_m2, 'kg/m2')}"))
    rows.append(_row("One collector on the hook", show(weight.hook_kg, "kg")))
    bears = f"may bear {show(design.safety.fixing_kg, 'kg')}"
    holds = load.per_fixing_kg <= design.safety.fixing_kg
    rows.append(_row("Each fixing holds", show(load.per_fixing_kg, "kg"), bears, holds))
    slope, tilt = design.plane.slope_m, radians(design.plane.tilt_deg)
    rows.append(
        _row(
            "Frame, each: slope, foot, upright",
            ", ".join(show(v, "m", 2) for v in (slope, slope * cos(tilt), slope * sin(tilt))),
        )
    )
    return rows


def _room(page: DesignPage, design: Design) -> list[Context]:
    system = design.system
    if system.scheme.exchange == "pool":
        return []
    show = lambda v, q, d=0: f"{page.show(v, q, d)} {page.sign(q)}"
    litres = store_volume_l(design)
    rows = []
    if system.scheme.driven_by != "none":
        wide, high = store_shape(system.store, litres)
        rows.append(_row("Store, bare: width, height", f"{show(wide, 'm', 2)}, {show(high, 'm', 2)}"))
        rows.append(
            _row(
                "Way in: doors, stairs; tipped up", f"{show(wide, 'm', 2)} wide, {show(hypot(wide, high), 'm', 2)} high"
            )
        )
    rows.append(_row("Floor under it carries, full", show(1.25 * litres, "kg")))
    return rows


def _way(page: DesignPage, design: Design) -> list[Context]:
    if design.system.scheme.driven_by == "none":
        return []
    loop = design.system.loop
    show = lambda v, q, d=0: f"{page.show(v, q, d)} {page.sign(q)}"
    pipe = loop.supply_pipe
    runs = "in the ground" if pipe.buried else "outdoors" if pipe.outdoors else "indoors"
    duct = pipe.outer_diameter_mm + 2 * pipe.insulation_mm
    return [
        _row("Pipe, there and back", show(pipe.length_m + loop.return_pipe.length_m, "m"), runs),
        _row("Duct or slot for two pipes and the sensor’s wire", f"{show(2 * duct + 20, 'mm')} × {show(duct, 'mm')}"),
        _row("Collectors above the plant room", show(rise_m(design), "m", 1)),
    ]


def valves(page: DesignPage) -> Context:
    """A card to hang at the tank: every valve, and how it stands by season."""
    design = page.year.book.design
    mixed = f"{page.show(design.safety.mixed_c, 'degC', 0)} {page.sign('degC')}"
    return {
        "heads": ("In use", "Away, or off for service", "Frost"),
        "rows": valve_rows(design, mixed),
        "turns": _valve_turns(design),
    }


def _open(is_open: bool) -> str:
    return "open" if is_open else "closed"


def valve_rows(design: Design, mixed: str) -> list[tuple[str, str, str, str]]:
    """Each valve of a design with its place in use, while nobody is there, and in frost."""
    system = design.system
    scheme, loop = system.scheme, system.loop
    water = scheme.exchange in ("direct", "none", "pool")
    rows = [("Cold water to the store", "open", "closed", "open")] if scheme.exchange != "pool" else []
    if scheme.driven_by == "pump":
        rows.append(
            (
                "Collectors, to and from",
                "open",
                "closed" if scheme.drains else "open",
                "closed, then drain" if water and not scheme.drains else "open",
            )
        )
    if scheme.driven_by == "buoyancy":
        rows.append(
            ("Siphon, to and from", "open", "open, collectors covered", "closed, then drain" if water else "open")
        )
    if water:
        rows.append(("Drain at the lowest point", "closed", "closed", "open until nothing runs, left open"))
        rows.append(("Air let in at the top", "closed", "closed", "open"))
    if scheme.exchange == "pool":
        rows.append(("Three ways at the filter", "by the control", "past the collectors", "past the collectors"))
    if loop.check_valve and scheme.driven_by == "pump" and not scheme.drains:
        rows.append(("Check valve", "at work", "at work", "at work"))
    if system.tempering_valve and scheme.exchange != "pool":
        rows.append(("Mixing valve", f"set to {mixed}", "set", "set"))
    now, other = system.control.mode, system.control.other_mode
    if system.second_store.fitted or (now, other) != ("preheat", "preheat"):
        rows.append(("Past the solar store", _open(now == "bypass"), "open", _open(other == "bypass")))
        rows.append(("Past the heater after it", _open(now == "direct"), "closed", _open(other == "direct")))
    if not scheme.vented and scheme.exchange != "pool":
        rows.append(("Relief valves", "never closed off", "never closed off", "never closed off"))
    return rows


def _valve_turns(design: Design) -> list[str]:
    """When the valves are to be turned."""
    control = design.system.control
    found = []
    if (control.season_from_day, control.season_to_day) != (1, 365):
        found.append(f"Filled {date_of(control.season_from_day - 1)}, emptied {date_of(control.season_to_day - 1)}.")
    if control.other_mode != control.mode and control.other_from_day != control.other_to_day:
        found.append(
            f"Turned to “{control.other_mode}” {date_of(control.other_from_day - 1)}, "
            f"back to “{control.mode}” {date_of(control.other_to_day - 1)}."
        )
    return found
