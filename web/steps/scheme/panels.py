"""What stands beside the drawing: the chosen part's values, and what a step of its main value would buy."""

from typing import Any

from heat.design import field_at, parse
from heat.design.schemes import SCHEMES
from heat.errors import HeatError
from heat.loop.runs import loop_drop_pa, loop_flow_kg_h
from web.present.cautions import heated_words
from web.projects.documents import value_at, with_values
from web.sheet.page import Sheet
from web.steps.scheme.alternatives import GROUPS_OF, taken_from
from web.ui import units
from web.years.reckoned import remembered, simulate_uncached
from web.years.small import Small, known, small_of

S = "system."
TUBES = ("manifold", "tubes_inside", "tube_bore_mm", "tube_length_m", "in_series")
NOTES = {
    "collector": "η0, a1, a2, a5 and the incidence factor stand on the collector’s data sheet or test certificate, by "
    "gross or aperture area: choose the one it says.",
    "store": "Insulation loss is what the tank loses for each degree it is warmer than its room: 1 kWh in 24 h at 45 K "
    "is 0.93 W/K or 1.76 Btu/h °F.",
    "stove": "Solid fuel cannot be switched off: its water needs an open way to rise, to cool and to boil off. Pipes "
    "at least 1 in 20 upwards, no valve between stove and vent, fitted by a licensed trade to the local code.",
    "mirror": "A mirror can blind people and set fire to what it is turned on: mind neighbours, roads and dry leaves, "
    "and turn or cover it when the collectors stand still.",
    "second_store": "The first store preheats this one. Preheat: water passes both. Direct: the first alone serves the "
    "taps and this one’s heaters rest. Bypass: the first is cut off.",
    "loop": "A pump’s curve is typed as points of flow and head, from still to free flow: the flow then follows the "
    "loop. Without it the flow is as typed.",
    "tubes": "A serpentine is one tube of its true length. Collectors one after the other share the flow’s way; side "
    "by side they share the flow.",
    "dump": "Radiators that warm rooms count as room heat while those want it; else their heat is led away.",
}
"""What a part's panel says beneath its values: cautions first."""
PARTS: dict[str, tuple[str, tuple[str, ...], str, float]] = {
    # key: title, paths, main value stepped, step
    "kind": ("How it works", (), "", 0),
    "collector": ("Collectors", tuple(f"{S}collector.{n}" for n in (
        "count", "area_m2", "area_basis", "gross_area_m2", "eta0", "a1_w_m2k", "a2_w_m2k2", "a5_kj_m2k", "iam_b0",
        "iam_diffuse")), f"{S}collector.count", 1),
    "store": ("Storage tank", tuple(f"{S}store.{n}" for n in (
        "volume_l", "loss_w_k", "height_to_width", "conductivity_w_mk", "room_c", "start_c",
    )), f"{S}store.volume_l", 50),
    "add": ("Add or leave out", (), "", 0),
    "second_collector": ("Second collectors", tuple(f"{S}second_collector.{n}" for n in (
        "count", "area_m2", "area_basis", "eta0", "a1_w_m2k", "a2_w_m2k2", "a5_kj_m2k")), f"{S}second_collector.count",
        1),
    "second_store": ("Second store",
        (*tuple(f"{S}second_store.{n}" for n in ("volume_l", "count", "loss_w_k", "room_c", "start_c")),
            *tuple(f"{S}control.{n}" for n in ("mode", "other_mode", "other_from_day", "other_to_day"))),
                     f"{S}second_store.volume_l", 50),
    "coil": ("Coil", tuple(f"{S}coil.{n}" for n in ("ua_w_k", "bottom_share", "top_share")),
             f"{S}coil.ua_w_k", 50),
    "plate": ("Exchanger", tuple(f"{S}plate.{n}" for n in ("ua_w_k", "store_flow_kg_h", "store_pump_w")),
        f"{S}plate.ua_w_k", 100),
    "jacket": ("Jacket", tuple(f"{S}jacket.{n}" for n in ("ua_w_k", "bottom_share", "top_share")), f"{S}jacket.ua_w_k",
        50),
    "draw": ("Draw coil", tuple(f"{S}draw_coil.{n}" for n in ("ua_w_k", "bottom_share", "top_share", "flow_l_min",
        "measured", "length_m", "outer_mm", "wall_mm", "material")),
             f"{S}draw_coil.ua_w_k", 100),
    "integral": ("Water in the collector", (*tuple(f"{S}integral.{n}" for n in (
        "depth_mm", "vessels", "diameter_mm", "length_m", "gap_reflects", "back_w_m2k", "insulation_mm",
        "insulation_w_mk", "blanket_leaves", "draws", "layers_by_day")), f"{S}store.volume_l"),
        f"{S}integral.back_w_m2k", 0.2),
    "ports": ("Ports of the store", tuple(f"{S}loop.{n}" for n in ("in_share", "out_share", "layering")),
        f"{S}loop.in_share", 0.1),
    "siphon": ("Heights and passages", (
        *tuple(f"{S}loop.geometry.{n}" for n in ("store_bottom_m", "fittings", "exchanger_m", "exchanger_bore_mm",
               "exchanger_run_m")),
        *tuple(f"{S}collector.{n}" for n in TUBES)),
        f"{S}loop.geometry.fittings", 4),
    "tubes": ("Tubes and groups", (*tuple(f"{S}collector.{n}" for n in TUBES), f"{S}loop.geometry.fittings"), "", 0),
    "loop": ("Loop and pump", tuple(f"{S}loop.{n}" for n in (
        "flow_kg_h", "drive.curve", "glycol_percent", "heat_capacity_j_kgk", "pump_w")), f"{S}loop.flow_kg_h", 40),
    "pipes": ("Pipe to the store", tuple(f"{S}loop.supply_pipe.{n}" for n in (
        "length_m", "outer_diameter_mm", "wall_mm", "insulation_mm", "insulation_w_mk", "outdoors", "loss_w_k",
        "contents_l")), f"{S}loop.supply_pipe.insulation_mm", 6),
    "return": ("Pipe to the collectors", tuple(f"{S}loop.return_pipe.{n}" for n in (
        "length_m", "outer_diameter_mm", "wall_mm", "insulation_mm", "insulation_w_mk", "outdoors", "loss_w_k",
        "contents_l")), f"{S}loop.return_pipe.insulation_mm", 6),
    "control": ("Controller", tuple(f"{S}control.{n}" for n in (
        "on_k", "off_k", "sensor_share", "store_limit_c", "limit_sensor_share", "release_k", "collector_limit_c",
        "stop_without_gain")), f"{S}control.store_limit_c", 5),
    "tankless": ("Tankless heater",
        (*tuple(f"{S}backup.tankless.{n}" for n in ("fitted", "power_kw", "efficiency", "price_kwh", "co2_kg_kwh")),
            "system.tempering_valve"),
        "demand.tap_c", 2),
    "element": ("Element in the store", tuple(f"{S}backup.element.{n}" for n in (
        "fitted", "power_kw", "height_share", "sensor_share", "set_c", "hysteresis_k", "price_kwh", "co2_kg_kwh")),
        f"{S}backup.element.set_c", 5),
    "top_element": ("Second element", tuple(f"{S}backup.top_element.{n}" for n in (
        "power_kw", "height_share", "sensor_share", "set_c", "hysteresis_k")), f"{S}backup.top_element.set_c", 5),
    "boiler": ("Boiler on the top coil", tuple(f"{S}backup.boiler.{n}" for n in (
        "power_kw", "height_share", "sensor_share", "set_c", "hysteresis_k", "efficiency", "price_kwh", "co2_kg_kwh")),
        f"{S}backup.boiler.set_c", 5),
    "stove": ("Wood stove", tuple(f"{S}backup.stove.{n}" for n in (
        "power_kw", "room_kw", "fired", "hot_share", "damper_c", "circulation", "store_above_m", "out_share",
        "height_share", "pipe_m", "bore_mm", "rise_mm_m", "heat_trap", "pump_kg_h", "pump_w", "efficiency",
        "price_kwh", "co2_kg_kwh", "counts_as_bought")), f"{S}backup.stove.power_kw", 1),
    "dump": ("Heat dump", tuple(f"{S}dump.{n}" for n in ("at", "above_c", "power_kw", "to_rooms", "pump_w", "from_day",
        "to_day")),
        f"{S}dump.above_c", 5),
    "pasteurisation": ("Pasteurisation", tuple(f"{S}backup.pasteurisation.{n}" for n in (
        "every_days", "from_hour", "hours", "target_c", "transfer_pump",
        "transfer_kg_h")), f"{S}backup.pasteurisation.target_c", 5),
    "valves": ("Valves and safety", (f"{S}tempering_valve", f"{S}loop.check_valve", f"{S}store.open_vented",
        f"{S}store.relief_c"),
               f"{S}store.relief_c", 10),
    "season": ("Season and valves", tuple(f"{S}control.{n}" for n in (
        "season_from_day", "season_to_day", "drain_air_c", "mode", "other_mode", "other_from_day", "other_to_day")),
        "", 0),
    "plane": ("Plane", ("plane.tilt_deg", "plane.azimuth_deg", "site.ground_reflectance", "site.wind_share",
              "reckoning.sky"),
              "plane.tilt_deg", 5),
    "mirror": ("Mirror", tuple(f"plane.mirror.{n}" for n in ("width_m", "depth_m", "gap_m", "foot_m", "tilt_deg",
        "facets", "facet_step_deg", "reflectance", "soiling")), "plane.mirror.tilt_deg", 5),
    "reckoning": ("Reckoning", ("reckoning.layers", "reckoning.step_minutes", "reckoning.inflow", "reckoning.sky",
                  "reckoning.first_day", f"{S}store.start_c"), "reckoning.layers", 10),
}  # fmt: skip


BY_PUMP, BY_WEIGHT = ("stove.pump_kg_h", "stove.pump_w"), ("pipe_m", "bore_mm", "rise_mm_m", "store_above_m")
"""Values of a stove that matter only where a pump, or weight, moves its water."""
IN_VESSELS = ("vessels", "diameter_mm", "length_m", "gap_reflects", "volume_l")
"""Values of the water in a collector that a bag, told by its depth, has no use for."""


def parts_of(sheet: Sheet) -> dict[str, tuple[str, tuple[str, ...], str, float]]:
    """The parts this kind of system has."""
    design = sheet.year.book.design
    scheme, exchange = design.system.scheme, design.system.scheme.exchange
    has = {
        "store": scheme.moved != "none" and exchange != "pool", "coil": exchange == "coil",
        "plate": exchange in ("plate", "passive"), "jacket": exchange == "jacket",
        "draw": scheme.draw_coil or design.system.draw_coil.fitted, "integral": scheme.moved == "none",
        "ports": exchange in ("direct", "plate", "passive"),
            "siphon": scheme.moved == "weight" or exchange == "passive",
        "tubes": scheme.moved == "pump" and exchange != "passive", "mirror": design.plane.mirror.fitted,
        "loop": scheme.moved != "none", "pipes": scheme.moved != "none", "return": scheme.moved != "none",
        "control": scheme.moved == "pump",
        "season": scheme.moved == "pump" and scheme.water_outdoors,
        "second_collector": design.system.second_collector.fitted, "second_store": design.system.second_store.fitted,
        "dump": design.system.dump.fitted,
        **{name: getattr(design.system.backup, name).fitted for name in ("top_element", "boiler", "stove",
            "pasteurisation")},
    }  # fmt: skip
    return {key: part for key, part in PARTS.items() if has.get(key, True)}


def first_part(sheet: Sheet) -> str:
    """The part whose values stand open where none was asked for."""
    has = parts_of(sheet)
    return next(key for key in ("store", "integral", "collector") if key in has)


def chosen_part(sheet: Sheet) -> str:
    """The part asked for; where none is, the first this kind of system has."""
    asked = sheet.look.part
    return first_part(sheet) if not asked else asked if asked in PARTS else "store"


def panel(sheet: Sheet, part: str) -> dict[str, Any]:
    """A part's title and values."""
    title, paths, _main, _step = PARTS[part]
    listed = part in ("kind", "add")
    if part == "loop" and sheet.year.book.design.system.scheme.moved == "weight":
        paths = tuple(p for p in paths if not p.endswith(("flow_kg_h", "pump_w")))  # nothing pumps
    system = sheet.year.book.design.system
    if part == "loop" and system.loop.drive.curve:
        paths = tuple(p for p in paths if not p.endswith("flow_kg_h"))  # it follows the curve
    if part == "stove":
        idle = BY_PUMP if system.backup.stove.circulation == "weight" else BY_WEIGHT
        paths = tuple(p for p in paths if not p.endswith(idle))
    if part == "integral":
        bag = sheet.year.book.design.system.kind == "bag"
        paths = tuple(p for p in paths if not p.endswith(IN_VESSELS if bag else ("depth_mm",)))
    return {
        "key": part,
        "title": title,
        "pens": [] if sheet.look.instead else [sheet.pen(p) for p in paths],
        "taken": [heated_words(sheet)]
        if part == "pasteurisation"
        else [f"from {text}" for text in taken_from(sheet, part)] + pumped_words(sheet, part),
        "note": NOTES.get(part, ""),
        "has_others": part in GROUPS_OF,
        "instead": sheet.look.instead and part in GROUPS_OF,
        "listed": listed,
    }


def pumped_words(sheet: Sheet, part: str) -> list[str]:
    """What flow comes of the pump's curve, and the loop's resistance at it."""
    design = sheet.year.book.design
    if part not in ("loop", "tubes") or design.system.scheme.moved != "pump":
        return []
    flow = loop_flow_kg_h(design)
    head = loop_drop_pa(design, flow) / 9806.65
    where = "the curve meets the loop at" if design.system.loop.drive.curve else "the loop asks, at"
    asked = f"{sheet.show(flow, 'kg/h')} {sheet.sign('kg/h')}"
    return [f"{where} {asked}, {sheet.show(head, 'm', 2)} {sheet.sign('m')} of head and what the exchanger takes"]


def stepped(sheet: Sheet, path: str, value: float) -> Small:
    """The figures of the year with one value stepped; of that year nothing else is kept. Raises HeatError."""
    design, file = parse(with_values(sheet.document, {path: value})), sheet.project.weather

    found: Small = remembered("step", design, file, lambda: small_of(simulate_uncached(design, sheet.weather)))
    return found


def next_step(sheet: Sheet, part: str) -> list[dict[str, str]]:
    """What one step down and up of the part's main value would change, by two full years."""
    _title, _paths, path, step = PARTS[part]
    if not path or value_at(sheet.document, path) is None:
        return []
    if part == "loop" and SCHEMES[sheet.document["system"]["kind"]].moved == "weight":
        return []
    value = float(value_at(sheet.document, path))
    quantity = sheet.pen(path).sign
    now = (known(sheet.design) or small_of(sheet.year.book)).fraction
    rows = []
    for sign, mark in ((-1, "▼"), (1, "▲")):
        changed = value + sign * step
        try:
            other = stepped(sheet, path, changed if value % 1 or step % 1 else int(changed))
        except HeatError:
            continue
        points = 100 * (other.fraction - now)
        from_unit = _quantity(path)
        rows.append({
            "mark": mark,
            "text": f"{units.field_text(changed, from_unit, sheet.system)} {quantity}".strip(),
            "points": ("+" if points > 0 else "") + units.number(points, 1),
            "bought": sheet.show(other.bought_kwh, "kWh"),
        })  # fmt: skip
    return rows


def _quantity(path: str) -> str:
    return (field_at(path).json_schema_extra or {}).get("unit", "1")
