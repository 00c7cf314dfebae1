"""What the bench shows: a built collector's rating and curve; standing water by depth and cover."""

from collections.abc import Mapping
from dataclasses import replace
from datetime import UTC, datetime

from pydantic import ValidationError

from heat.catalogue import Entry, collector
from heat.collector.builder import Build, Built, Cover, rate, surface, tube_length_m
from heat.errors import HeatError
from heat.sizing.batch_water import batch_temperatures
from web.accounts.models import User
from web.projects.climates import merrow_coast
from web.projects.models import Project
from web.simulations.weather import weather_year
from web.ui import units
from web.ui.blanks import Blank, blank, read_blank
from web.ui.calendar import MONTHS
from web.ui.rows import Row

DATASHEET = {
    "Glass": ("covers", "cover_transmittance", "cover_emittance"),
    "Weather": ("air_c", "sky_c", "wind_w_m2k"),
    "Plate": ("absorptance", "emittance", "cutoff_um", "absorptance_long", "plate_mm", "plate_w_mk"),
    "Tubes": (
        "tube_spacing_mm",
        "tube_outer_mm",
        "tube_inner_mm",
        "bond_w_mk",
        "layout_serpentine",
        "tubes",
        "flow_kg_h",
        "glycol_percent",
    ),
    "Casing": ("area_m2", "perimeter_m", "height_mm", "back_mm", "edge_mm", "insulation_w_mk", "tilt_deg"),
}
"""The bench's values by what they belong to."""
COATINGS = {
    "black paint": (0.95, 0.9),
    "selective foil": (0.95, 0.05),
    "black chrome": (0.94, 0.1),
    "oxidised copper": (0.88, 0.2),
}
"""Absorptance and emittance (1) to start from. Source: Duffie & Beckman, 4th ed., table 4.8.1 and common data
sheets."""
COMPARED = {
    "flat_selective": "flat plate, selective",
    "tube_heatpipe": "evacuated tubes",
    "unglazed": "unglazed pool mat",
}
LABELLED_AT = {"flat_selective": 66, "tube_heatpipe": 82, "unglazed": 22}
"""Where each curve bears its name (K)."""
SUN_W_M2, REACH_K = 800.0, 100
DEPTHS_MM = (50.0, 100.0, 150.0, 250.0)


def _of_cover(name: str) -> bool:
    return name.startswith("cover_")


def _blank(build: Build, covers: int, cover: Cover, name: str, system: str, typed: str | None, refusal: str) -> Blank:
    if name == "covers":
        words = (("0", "none"), ("1", "one"), ("2", "two"), ("3", "three"))
        return Blank("covers", "Covers", "choice", str(covers), "", "", words, refusal)
    if _of_cover(name):
        inner = name.removeprefix("cover_")
        found = blank(Cover, inner, getattr(cover, inner), system, typed, refusal)
        return replace(found, name=name, label=f"Each {found.label.lower()}", choices=(), refusal=refusal)
    return blank(Build, name, getattr(build, name), system, typed, refusal)


def bench_page(query: Mapping[str, str], user: User) -> Row:
    """The bench for what was typed: blanks with refusals beside them, the rating and the curve of what stands."""
    system = user.units
    usual, values, refused, typed = Build(), {}, {}, {}
    covers = int(query["covers"]) if query.get("covers") in ("0", "1", "2", "3") else 1
    cover: dict[str, object] = {}
    coating = COATINGS.get(query.get("coating", ""))
    for name in (n for names in DATASHEET.values() for n in names if n != "covers"):
        if coating and name in ("absorptance", "emittance"):
            values[name] = coating[name == "emittance"]
            continue
        if name not in query and not (name == "layout_serpentine" and "area_m2" in query):
            continue
        part, inner = (Cover, name.removeprefix("cover_")) if _of_cover(name) else (Build, name)
        text = query.get(name, "")[:60]
        try:
            value = read_blank(part, inner, text, system)
        except ValueError as error:
            refused[name], typed[name] = str(error), text
            continue
        if value is not None:
            (cover if part is Cover else values)[inner] = value
    for name in ("tubes",):
        if name in values:
            values[name] = round(values[name])
    build, each = usual, Cover()
    try:
        each = Cover(**cover)
        build = Build(**{**values, "covers": (each,) * covers})
    except ValidationError as error:
        for item in error.errors():
            name = str(item["loc"][0]) if item["loc"] else ""
            text = str(item.get("ctx", {}).get("error", ""))
            if "|" in text:
                name, text = text.split("|", 1)
            name = f"cover_{name}" if name in cover and name not in values else name
            found = (
                _blank(usual, covers, Cover(), name, system, None, "")
                if name in {n for ns in DATASHEET.values() for n in ns}
                else None
            )
            refused[name] = text or (
                f"Allowed: {found.range_text} {found.sign}.".replace(" .", ".") if found else item["msg"]
            )
            typed[name] = query.get(name, "")[:60]
    built = None
    try:
        built = rate(build)
    except (ValueError, ArithmeticError) as error:
        refused["area_m2"] = f"Nothing sensible comes of these values together ({error}). Put the last one back."
    show = lambda v, q, d=None: units.number(
        units.to_display(v, q, system), units.unit_of(q, system).decimals if d is None else d
    )
    return {
        "page": {
            title: [_blank(build, covers, each, n, system, typed.get(n), refused.get(n, "")) for n in names]
            for title, names in DATASHEET.items()
        },
        "coatings": COATINGS,
        "refused": refused,
        "build": build,
        "built": built,
        "figures": []
        if built is None
        else [
            ("Zero-loss efficiency", "η₀, about the mean fluid temperature", show(built.eta0, "1", 3), ""),
            ("Heat loss, linear", "a₁", show(built.a1_w_m2k, "W/m2/K"), units.unit_of("W/m2/K", system).sign),
            ("Heat loss, quadratic", "a₂", show(built.a2_w_m2k2, "W/m2/K2"), units.unit_of("W/m2/K2", system).sign),
            (
                "Stands still at",
                (
                    f"plate at {show(1000, 'W/m2')} {units.unit_of('W/m2', system).sign} and "
                    f"{show(build.air_c, 'degC', 0)} "
                    f"{units.unit_of('degC', system).sign}"
                ),
                show(built.stagnation_c, "degC", 0),
                units.unit_of("degC", system).sign,
            ),
            ("Fins and tubes, F′", "heat reaching the fluid", show(built.efficiency_factor, "1", 3), ""),
            ("Removal factor", "about the inlet temperature", show(built.removal_factor, "1", 3), ""),
            ("Glass and plate, (τα)", "of the sun turned to heat", show(built.transmittance_absorptance, "1", 3), ""),
            ("Plate, absorbs", "of the sun’s light", show(surface(build, 60.0)[0], "1", 3), ""),
            (
                "Plate, emits",
                f"at {show(60.0, 'degC', 0)} {units.unit_of('degC', system).sign}",
                show(surface(build, 60.0)[1], "1", 3),
                "",
            ),
            ("Wind", "a₃, on the heat loss", show(built.a3_j_m3k, "J/m3/K", 2), units.unit_of("J/m3/K", system).sign),
            (
                "Wind",
                "a₆, on the zero-loss efficiency",
                show(built.a6_s_m, "s/m", 4),
                units.unit_of("s/m", system).sign,
            ),
            ("Sky", "a₄, share of a colder sky it feels", show(built.a4, "1", 2), ""),
        ],
        "curve": curve(built, system) if built else None,
    }


def curve(built: Built, system: str) -> dict[str, object]:
    """Efficiency against the lead over the air, with the generic ones beside it (SVG units)."""
    left, top, width, height = 44.0, 14.0, 420.0, 250.0

    def path(eta0: float, a1: float, a2: float) -> str:
        points = []
        for x in range(0, REACH_K + 1, 2):
            eta = eta0 - (a1 * x + a2 * x * x) / SUN_W_M2
            if eta < 0:
                break
            points.append(f"{left + width * x / REACH_K:.1f},{top + height * (1 - eta / 0.9):.1f}")
        return "M" + "L".join(points)

    lines = []
    for key, words in COMPARED.items():
        other = collector(key)
        at = LABELLED_AT[key]
        eta = other.eta0 - (other.a1_w_m2k * at + other.a2_w_m2k2 * at * at) / SUN_W_M2
        lines.append(
            {
                "d": path(other.eta0, other.a1_w_m2k, other.a2_w_m2k2),
                "words": words,
                "x": left + width * at / REACH_K + 5,
                "y": top + height * (1 - eta / 0.9) - 6,
            }
        )
    own = path(built.eta0, built.a1_w_m2k, built.a2_w_m2k2)
    named_at = 0.6 * next(
        (x for x in range(REACH_K) if built.eta0 < (built.a1_w_m2k * x + built.a2_w_m2k2 * x * x) / SUN_W_M2), REACH_K
    )
    own_eta = built.eta0 - (built.a1_w_m2k * named_at + built.a2_w_m2k2 * named_at**2) / SUN_W_M2
    step = units.to_display(20, "delta_degC", system)
    return {
        "own": own,
        "own_x": left + width * named_at / REACH_K - 8,
        "own_y": top + height * (1 - own_eta / 0.9) + 12,
        "lines": lines,
        "left": left,
        "top": top,
        "foot": top + height,
        "right": left + width,
        "across": [{"x": left + width * i / 5, "text": f"{step * i:.0f}"} for i in range(6)],
        "up": [{"y": top + height * (1 - e / 90), "text": str(e)} for e in (0, 20, 40, 60, 80)],
        "sign": units.unit_of("delta_degC", system).sign,
        "sun": f"{units.number(units.to_display(SUN_W_M2, 'W/m2', system), 0)} {units.unit_of('W/m2', system).sign}",
    }


def built_entry(build: Build, built: Built, name: str) -> Entry:
    """A built collector as an entry on its absorber area."""
    return Entry(
        "collector",
        "",
        name,
        "site-built",
        "from the bench: Klein top loss, fins and tubes",
        datetime.now(UTC).date().isoformat(),
        {
            "area_m2": build.area_m2,
            "area_basis": "absorber",
            "gross_area_m2": build.area_m2,
            "eta0": min(max(built.eta0, 0.1), 0.95),
            "a1_w_m2k": min(max(built.a1_w_m2k, 0.3), 30.0),
            "a2_w_m2k2": min(built.a2_w_m2k2, 0.2),
            "a5_kj_m2k": 10.0,
            "a3_j_m3k": min(built.a3_j_m3k, 10.0),
            "a4": min(built.a4, 1.0),
            "a6_s_m": min(built.a6_s_m, 0.2),
            "iam": "b0",
            "iam_b0": 0.14 if build.covers else 0.08,
            "iam_diffuse": 0.88,
            "tubes_inside": 1 if build.layout_serpentine else min(build.tubes, 60),
            "tube_bore_mm": min(max(build.tube_inner_mm, 3.0), 60.0),
            "tube_length_m": round(min(max(tube_length_m(build), 0.2), 500.0), 2),
        },
    )


DAY_LEFT, DAY_FOOT, DAY_WIDTH, DAY_SCALE = 34.0, 176.0, 216.0, 1.9
"""A day's picture: left edge, foot and width (SVG units), and units a °C."""


def day_path(day_c: tuple[float, ...]) -> str:
    """A mean day's temperatures (°C) as a path."""
    points = [f"{DAY_LEFT + DAY_WIDTH * h / 24:.1f},{DAY_FOOT - DAY_SCALE * day_c[h % 24]:.1f}" for h in range(25)]
    return "M" + "L".join(points)


def standing_page(query: Mapping[str, str], user: User) -> dict[str, object]:
    """Evening and morning temperatures of undrawn water by depth and covers."""
    system = user.units
    projects = list(Project.objects.visible_to(user).with_weather())
    project = next((p for p in projects if str(p.pk) == query.get("project")), projects[0] if projects else None)
    weather = weather_year(project.weather) if project and project.weather else merrow_coast()
    kind = "batch_tank" if query.get("kind") == "batch_tank" else "bag"
    month = MONTHS.index(query["month"]) if query.get("month") in MONTHS else (6 if weather.latitude_deg >= 0 else 0)
    south = weather.latitude_deg < 0
    try:
        tilt = min(max(units.parse_number(query.get("tilt", "")), 0.0), 90.0)
    except ValueError:
        tilt = 0.0 if kind == "bag" else 40.0
    blanket = query.get("blanket") == "1"
    problem, rows = "", []
    try:
        rows = batch_temperatures(
            weather,
            kind="bag" if kind == "bag" else "batch_tank",
            depths_mm=DEPTHS_MM,
            tilt_deg=tilt,
            azimuth_deg=0.0 if south else 180.0,
            month=month,
            blanket=blanket,
        )
    except HeatError as error:
        problem = str(error)
    show = lambda c: units.number(units.to_display(c, "degC", system), 0)
    places = 0 if system == "si" else 2
    litres = lambda mm: (
        f"{units.number(units.to_display(mm, 'L', system) / units.to_display(1, 'm2', system), places)} "
        f"{units.unit_of('L', system).sign}/{units.unit_of('m2', system).sign}"
    )
    table = [
        {
            "depth": f"{units.field_text(depth, 'mm', system)} {units.unit_of('mm', system).sign}",
            "litres": litres(depth),
            "cells": [
                {
                    "evening": show(r.evening_c),
                    "morning": show(r.morning_c),
                    "coldest": show(r.coldest_c),
                    "frost": r.coldest_c < 0,
                }
                for covers in (1, 2, 3)
                for r in rows
                if (r.depth_mm, r.covers) == (depth, covers)
            ],
        }
        for depth in DEPTHS_MM
    ]
    for row in table:
        row["days"] = [
            {"d": day_path(r.day_c), "y": DAY_FOOT - DAY_SCALE * r.day_c[18], "covers": r.covers}
            for r in rows
            if f"{units.field_text(r.depth_mm, 'mm', system)} {units.unit_of('mm', system).sign}" == row["depth"]
        ]
    best = max(rows, key=lambda r: r.morning_c, default=None)
    return {
        "projects": projects,
        "project": project,
        "weather": weather,
        "kind": kind,
        "month": MONTHS[month],
        "months": MONTHS,
        "tilt": f"{tilt:g}",
        "blanket": blanket,
        "table": table if rows else [],
        "problem": problem,
        "sign": units.unit_of("degC", system).sign,
        "levels": [{"y": DAY_FOOT - DAY_SCALE * c, "text": show(c)} for c in (0, 20, 40, 60, 80)],
        "clock": [{"x": DAY_LEFT + DAY_WIDTH * h / 24, "text": h} for h in (0, 6, 12, 18, 24)],
        "best": {
            "depth": f"{units.field_text(best.depth_mm, 'mm', system)} {units.unit_of('mm', system).sign}",
            "covers": ("one cover", "two covers", "three covers")[best.covers - 1],
            "morning": show(best.morning_c),
        }
        if best
        else None,
    }
