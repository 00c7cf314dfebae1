"""What the pages beside the drawing show: a part's values, the demand's and the site's pictures."""

from datetime import UTC, datetime
from math import cos, radians, sin
from typing import Any

import numpy as np

from heat import accounts as acc
from heat.constants import HOURS_OF_MONTH
from heat.demand.profile import tap_litres
from heat.design import field_at
from heat.errors import HeatError
from heat.ledger import BOUGHT, NEEDED
from heat.prepare import mains_temperature, plane_sun
from heat.sizing.ranking import BRIGHT_W_M2, SMALL_KWH_M2, rank_uses
from heat.sun.magnetic import declination_deg
from heat.weather.year import monthly_means, monthly_sums
from web.projects.drawing import MONTHS
from web.projects.reckon import reckon, weather_year
from web.projects.services import value_at, with_value
from web.projects.sheet import Pen, Sheet
from web.ui import units
from web.ui.png import tinted

S = "system."
CARPET_TOP_W_M2 = 1000.0
PARTS: dict[str, tuple[str, tuple[str, ...], str, float]] = {
    # key: title, paths, main value stepped, step
    "collector": ("Collectors", tuple(f"{S}collector.{n}" for n in (
        "count", "area_m2", "area_basis", "gross_area_m2", "eta0", "a1_w_m2k", "a2_w_m2k2", "a5_kj_m2k", "iam_b0",
        "iam_diffuse")), f"{S}collector.count", 1),
    "store": ("Storage tank", tuple(f"{S}store.{n}" for n in (
        "volume_l", "loss_w_k", "height_to_width", "conductivity_w_mk", "room_c", "start_c",
    )), f"{S}store.volume_l", 50),
    "coil": ("Coil", tuple(f"{S}coil.{n}" for n in ("ua_w_k", "bottom_share", "top_share")),
             f"{S}coil.ua_w_k", 50),
    "loop": ("Loop and pump", tuple(f"{S}loop.{n}" for n in (
        "flow_kg_h", "glycol_percent", "heat_capacity_j_kgk", "pump_w")), f"{S}loop.flow_kg_h", 40),
    "pipes": ("Pipe to the store", tuple(f"{S}loop.supply_pipe.{n}" for n in (
        "length_m", "outer_diameter_mm", "wall_mm", "insulation_mm", "insulation_w_mk", "outdoors", "loss_w_k",
        "contents_l")), f"{S}loop.supply_pipe.insulation_mm", 6),
    "return": ("Pipe to the collectors", tuple(f"{S}loop.return_pipe.{n}" for n in (
        "length_m", "outer_diameter_mm", "wall_mm", "insulation_mm", "insulation_w_mk", "outdoors", "loss_w_k",
        "contents_l")), f"{S}loop.return_pipe.insulation_mm", 6),
    "control": ("Controller", tuple(f"{S}control.{n}" for n in (
        "on_k", "off_k", "sensor_share", "store_limit_c", "limit_sensor_share", "release_k", "collector_limit_c",
        "stop_without_gain")), f"{S}control.store_limit_c", 5),
    "tankless": ("Tankless heater", (*tuple(f"{S}backup.tankless.{n}" for n in ("fitted", "power_kw", "efficiency", "price_kwh", "co2_kg_kwh")), "system.tempering_valve"),
        "demand.tap_c", 2),
    "element": ("Element in the store", tuple(f"{S}backup.element.{n}" for n in (
        "fitted", "power_kw", "height_share", "sensor_share", "set_c", "hysteresis_k", "price_kwh", "co2_kg_kwh")),
        f"{S}backup.element.set_c", 5),
    "plane": ("Plane", ("plane.tilt_deg", "plane.azimuth_deg", "site.ground_reflectance", "reckoning.sky"),
              "plane.tilt_deg", 5),
    "reckoning": ("Reckoning", ("reckoning.layers", "reckoning.step_minutes", "reckoning.inflow", "reckoning.sky"),
                  "reckoning.layers", 10),
}  # fmt: skip


def panel(sheet: Sheet) -> dict[str, Any]:
    """The chosen part's title and values."""
    title, paths, _main, _step = PARTS[sheet.part]
    return {"key": sheet.part, "title": title, "pens": [sheet.pen(p) for p in paths]}


def next_step(sheet: Sheet, part: str) -> list[dict[str, str]]:
    """What one step down and up of the part's main value would change, by two full years."""
    _title, _paths, path, step = PARTS[part]
    value = float(value_at(sheet.document, path))
    quantity = sheet.pen(path).sign
    now = sheet.year.book.fractions.at_tap
    rows = []
    for sign, mark in ((-1, "▼"), (1, "▲")):
        try:
            changed = value + sign * step
            book = reckon(with_value(sheet.document, path, changed if value % 1 or step % 1 else int(changed)),
                          sheet.project.weather).book  # fmt: skip
        except HeatError:
            continue
        points = 100 * (book.fractions.at_tap - now)
        from_unit = _quantity(path)
        rows.append({
            "mark": mark,
            "text": f"{units.field_text(changed, from_unit, sheet.system)} {quantity}".strip(),
            "points": ("+" if points > 0 else "") + units.number(points, 1),
            "bought": sheet.show(book.total(*BOUGHT), "kWh"),
        })  # fmt: skip
    return rows


def _quantity(path: str) -> str:
    return (field_at(path).json_schema_extra or {}).get("unit", "1")


D = "demand."
SHAPES = {
    "morning house": (0, 0, 0, 0, 1, 4, 14, 18, 10, 4, 2, 2, 3, 2, 1, 1, 2, 3, 5, 4, 3, 2, 1, 0),
    "evening house": (0, 0, 0, 0, 0, 1, 4, 6, 3, 2, 2, 3, 4, 2, 2, 2, 4, 8, 14, 16, 12, 8, 4, 1),
    "all day": (1, 1, 1, 1, 1, 2, 5, 6, 6, 6, 6, 6, 6, 6, 6, 6, 6, 6, 6, 6, 5, 4, 2, 1),
}
"""Shapes of the day to start from (parts, no unit), made up for the three kinds of household the trade tells apart."""
USES = (
    ("Circulation", "keeps the pipes to the taps warm", f"{D}circulation.fitted",
     tuple(f"{D}circulation.{n}" for n in ("loss_w", "drop_k"))),
    ("Rooms", "floor, radiators or air coil, by the weather", f"{D}heating.fitted",
     tuple(f"{D}heating.{n}" for n in (
        "loss_w_k", "base_c", "supply_c", "return_c", "design_air_c", "reserve_c"))),
    ("Pool", "through an exchanger, after the taps", f"{D}pool.fitted",
     tuple(f"{D}pool.{n}" for n in (
        "area_m2", "depth_m", "set_c", "wind_share", "cover_saves", "bathers_day", "exchanger_w_k", "heater_kw"))),
)  # fmt: skip
KIND_WORDS = {"unglazed": "mat", "flat_selective": "flat", "tube_direct": "tubes"}


def uses_of_heat(sheet: Sheet) -> list[dict[str, Any]]:
    """The uses beside the tap: a switch each, and its values while it is on."""
    return [
        {"words": words, "switch": sheet.pen(switch, name),
         "pens": [sheet.pen(p) for p in paths] if value_at(sheet.document, switch) else []}
        for name, words, switch, paths in USES
    ]  # fmt: skip


def ranking(sheet: Sheet) -> list[dict[str, Any]]:
    """Which use first: the uses in the order a small system carries them, with the figures behind it."""
    ranks = rank_uses(sheet.year.book.design, weather_year(sheet.project.weather))
    return [
        {"use": r.use, "reason": r.reason, "need": sheet.show(r.year_kwh, "kWh"), "at": sheet.show(r.collector_c, "degC", 0),
         "efficiency": [units.number(100 * r.efficiency[k], 0) for k in KIND_WORDS],
         "match": units.number(100 * r.match, 0), "carried": units.number(100 * r.carried, 0),
         "bar": round(90 * min(r.carried, 1.0), 1)}
        for r in ranks
    ]  # fmt: skip


def demand_page(sheet: Sheet) -> dict[str, Any]:
    """Bars of the day, and demand by month against what the sun carries."""
    book = sheet.year.book
    shape = np.array(sheet.document["demand"]["hour_shape"], dtype=float)
    litres = tap_litres(book.design.demand).reshape(365, 24).mean(axis=0)
    top = max(float(shape.max()), 1.0)
    need, missed = book.by_month(*NEEDED), book.by_month(*BOUGHT, acc.MISSING)
    highest = max(float(need.max()), 1e-9)
    mains = monthly_means(book.mains_c)
    return {
        "bars": [
            {"hour": h, "weight": units.field_text(shape[h], "1", "si"), "height": round(150 * shape[h] / top, 1),
             "y": round(160 - 150 * shape[h] / top, 1),
             "litres": sheet.show(litres[h], "L", 1 if sheet.system == "si" else 2)}
            for h in range(24)
        ],
        "bar_top": top,
        "shape_seen": repr(sheet.document["demand"]["hour_shape"]),
        "shape_refusal": sheet.refusals.get("demand.hour_shape"),
        "litres_day": sheet.show(float(litres.sum()), "L", 0),
        "litre": sheet.sign("L"),
        "months": [
            {"name": MONTHS[m], "need": sheet.show(need[m], "kWh"), "missed": sheet.show(missed[m], "kWh"),
             "mains": sheet.show(mains[m], "degC", 1), "x": 44 + 40 * m,
             "sun_h": round(120 * (need[m] - missed[m]) / highest, 1), "red_h": round(120 * missed[m] / highest, 1),
             "red_y": round(140 - 120 * need[m] / highest, 1), "sun_y": round(140 - 120 * (need[m] - missed[m]) / highest, 1)}
            for m in range(12)
        ],
        "need_year": sheet.show(float(need.sum()), "kWh"),
        "missed_year": sheet.show(float(missed.sum()), "kWh"),
        "mains_year": sheet.show(float(mains.mean()), "degC", 1),
        "axis_top": sheet.show(highest, "kWh"),
        "shapes": [(name, " ".join(map(str, shape))) for name, shape in SHAPES.items()],
        "patterned": sheet.document["demand"]["pattern"] != "shape",
        "uses": uses_of_heat(sheet),
        "ranking": ranking(sheet),
        "kinds": list(KIND_WORDS.values()),
        "bright": f"{sheet.show(BRIGHT_W_M2, 'W/m2')} {sheet.sign('W/m2')}",
        "small": f"{sheet.show(1, 'm2')} {sheet.sign('m2')} for each {sheet.show(SMALL_KWH_M2, 'kWh')} {sheet.sign('kWh')}",
    }  # fmt: skip


YEAR_NOW = datetime.now(UTC).year + 0.5


def site_page(sheet: Sheet) -> dict[str, Any]:
    """The weather as read, the compass, mains and the sun on the plane by month."""
    book, file = sheet.year.book, sheet.project.weather
    weather, design = weather_year(file), book.design
    on_plane = monthly_sums(plane_sun(weather, design).total_w_m2()) / 1000.0
    level = monthly_sums(weather.ghi_w_m2) / 1000.0
    mains = monthly_means(mains_temperature(design.site.mains, weather, design.site.latitude_deg))
    air = monthly_means(weather.air_c)
    top = max(float(on_plane.max()), float(level.max()))
    toward = 180.0 if design.site.latitude_deg >= 0 else 0.0
    off = (design.plane.azimuth_deg - toward + 180) % 360 - 180
    days = np.array(HOURS_OF_MONTH) / 24
    apart = ((weather.latitude_deg - design.site.latitude_deg) ** 2
             + ((weather.longitude_deg - design.site.longitude_deg) * cos(radians(design.site.latitude_deg))) ** 2) ** 0.5  # fmt: skip
    show = sheet.show
    free = design.site.model_copy(update={"skyline": (), "trees": ()})
    unshaded = monthly_sums(plane_sun(weather, design.model_copy(update={"site": free})).total_w_m2()) / 1000.0
    lost = 1.0 - on_plane / np.maximum(unshaded, 1e-9)
    declination = declination_deg(
        design.site.latitude_deg, design.site.longitude_deg, design.site.elevation_m, YEAR_NOW
    )
    return {
        "declination": f"{abs(declination):.1f}° {'east' if declination >= 0 else 'west'}",
        "needle_reads": f"{(design.plane.azimuth_deg - declination) % 360:.0f}°",
        "lost": [{"name": MONTHS[m], "share": units.number(100 * lost[m], 1)} for m in range(12)],
        "lost_year": units.number(100 * (1.0 - on_plane.sum() / unshaded.sum()), 1),
        "shaded": bool(design.site.skyline or design.site.trees),
        "file": file,
        "carpet": tinted(weather.ghi_w_m2.reshape(365, 24).T, CARPET_TOP_W_M2),
        "carpet_top": show(CARPET_TOP_W_M2, "W/m2"),
        "notes": weather.notes,
        "clock": f"UTC{weather.utc_offset_h:+g}".replace("-", "−"),
        "apart_km": units.number(apart * 111.2, 0) if apart * 111.2 > 50 else "",
        "files": sheet.project.weather_files.all(),
        "hemisphere": "north" if toward == 180.0 else "south",
        "toward": "south (180°)" if toward == 180.0 else "north (0°)",
        "off": units.number(abs(off), 1),
        "off_side": ("east" if (off < 0) == (toward == 180.0) else "west") if abs(off) > 0.05 else "",
        "faces_away": abs(off) > 90 and design.plane.tilt_deg > 10,
        "needle": {"x": round(90 + 62 * sin(radians(design.plane.azimuth_deg)), 1),
                   "y": round(90 - 62 * cos(radians(design.plane.azimuth_deg)), 1)},
        "equator_y": 168 if toward == 180.0 else 12,
        "months": [
            {"name": MONTHS[m], "plane": show(on_plane[m], "kWh/m2"), "level": show(level[m], "kWh/m2"),
             "day": show(level[m] / days[m], "kWh/m2", 1), "air": show(air[m], "degC", 1),
             "mains": show(mains[m], "degC", 1), "x": 44 + 40 * m,
             "h": round(110 * on_plane[m] / top, 1), "y": round(122 - 110 * on_plane[m] / top, 1),
             "level_y": round(122 - 110 * level[m] / top, 1)}
            for m in range(12)
        ],
        "year": {"plane": show(on_plane.sum(), "kWh/m2"), "level": show(level.sum(), "kWh/m2"),
                 "air": show(float(weather.air_c.mean()), "degC", 1), "mains": show(float(mains.mean()), "degC", 1),
                 "day": show(level.sum() / 365, "kWh/m2", 1),
                 "coldest": show(float(weather.air_c.min()), "degC", 1), "hottest": show(float(weather.air_c.max()), "degC", 1)},
        "mains_pens": _mains_pens(sheet),
    }  # fmt: skip


def _mains_pens(sheet: Sheet) -> list[Pen]:
    source = sheet.document["site"]["mains"]["source"]
    if source == "monthly":
        return [sheet.pen(f"site.mains.monthly_c.{m}", MONTHS[m]) for m in range(12)]
    if source == "wave":
        return [sheet.pen(f"site.mains.{n}") for n in ("mean_c", "swing_c", "coldest_day")]
    return []
