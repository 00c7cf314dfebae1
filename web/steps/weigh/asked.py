"""The questions a project knows to ask of a design, each with its answers: what could be otherwise."""

from typing import Any

from heat.catalogue import entries
from heat.demand.shapes import SHAPES
from heat.sizing.fitting import frost_reason
from web.present.kinds import KINDS
from web.sheet.page import Sheet
from web.ui import units

Answer = dict[str, Any]
Known = dict[str, tuple[str, list[Answer]]]
COLLECTORS = ("flat_selective", "flat_double", "tube_heatpipe")
"""Collectors compared, each in the number that comes nearest to the area there is."""
CLOSED = ("pumped_coil", "pumped_plate", "drainback")
"""Kinds that take each other's place with the parts as they are."""
TIMES = {"morning": "morning house", "evening": "evening house", "all day": "all day"}
SHARES = (0.67, 1.0, 1.5, 2.0)


def known(sheet: Sheet) -> Known:
    """Every question by key, with its words and its answers; those that say nothing of this kind are left out."""
    system, demand, plane = sheet.document["system"], sheet.document["demand"], sheet.document["plane"]
    scheme, site = sheet.year.book.design.system.scheme, sheet.document["site"]
    store = scheme.moved != "none" and scheme.exchange != "pool"
    found: Known = {}
    if scheme.moved != "none":
        found["collector"] = ("Collector", [_collector(sheet, key) for key in COLLECTORS])
    count = system["collector"]["count"]
    counts = [n for n in (count - 1, count, count + 1, count + 2) if n > 0]
    found["number"] = ("How many", [_value(sheet, "system.collector.count", n, "1") for n in counts])
    if system["kind"] in CLOSED:
        coldest = float(sheet.weather.air_c.min())
        ways = [kind for kind in CLOSED if not frost_reason(kind, coldest)]
        found["way"] = ("How it works", [{"name": KINDS[kind], "kind": kind} for kind in ways])
    if store:
        volume = system["store"]["volume_l"]
        litres = [round(share * volume / 10.0) * 10.0 for share in SHARES]
        found["store"] = ("Store volume", [_value(sheet, "system.store.volume_l", v, "L") for v in litres])
        loss = system["store"]["loss_w_k"]
        losses = [round(share * loss, 2) for share in (0.5, 1.0, 1.5)]
        found["wrap"] = ("Insulation loss of the store", [
            _value(sheet, "system.store.loss_w_k", v, "W/K") for v in losses
        ])  # fmt: skip
    if scheme.exchange in ("coil", "plate", "jacket"):
        path = f"system.{scheme.exchange}.ua_w_k"
        ua = system[scheme.exchange]["ua_w_k"]
        found["exchanger"] = ("Exchanger", [_value(sheet, path, round(s * ua, 1), "W/K") for s in (0.5, 1.0, 2.0)])
    latitude = abs(site["latitude_deg"])
    tilts = sorted({20.0, round(latitude), min(round(latitude + 15), 90), round(plane["tilt_deg"])})
    found["tilt"] = ("Tilt", [{"name": f"{t:.0f}°", "set": {"plane.on": "", "plane.tilt_deg": t}} for t in tilts])
    toward = 180.0 if site["latitude_deg"] >= 0 else 0.0
    bearings = {"to the equator": toward, "45° east of it": (toward - 45) % 360, "45° west of it": (toward + 45) % 360}
    if site["latitude_deg"] < 0:
        bearings = {"to the equator": 0.0, "45° east of it": 45.0, "45° west of it": 315.0}
    found["bearing"] = ("Bearing", [
        {"name": name, "set": {"plane.on": "", "plane.azimuth_deg": at}} for name, at in bearings.items()
    ])  # fmt: skip
    if demand["hot_water"] and not demand["measured_l"]:
        found["hours"] = ("When hot water is drawn", [
            {"name": name, "set": {"demand.hour_shape": list(SHAPES[shape]), "demand.weekend_shape": None,
                                   "demand.pattern": "shape"}}
            for name, shape in TIMES.items()
        ])  # fmt: skip
        people = demand["people"]
        found["people"] = (
            "People",
            [_value(sheet, "demand.people", round(s * people, 1), "1") for s in (0.5, 1.0, 1.5)],
        )
    return {key: (words, answers) for key, (words, answers) in found.items() if len(answers) > 1}


def _collector(sheet: Sheet, key: str) -> Answer:
    """A collector of the catalogue, in the number that comes nearest to the area there is."""
    entry = entries()[key]
    area = sheet.year.book.design.system.collector.total_gross_m2
    each = float(entry.values.get("gross_area_m2") or entry.values["area_m2"])
    return {"name": entry.name, "entry": key, "set": {"system.collector.count": min(max(round(area / each), 1), 500)}}


def _value(sheet: Sheet, path: str, value: float, quantity: str) -> Answer:
    """An answer that sets one value, named by it in the reader's units."""
    text = units.field_text(value, quantity, sheet.system)
    return {"name": f"{text} {sheet.sign(quantity)}".strip(), "set": {path: value}}


USUAL = ("collector", "tilt", "store", "hours")
"""What is ticked where nothing was asked yet."""
