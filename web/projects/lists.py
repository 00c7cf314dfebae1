"""Lists a person adds to and takes from: fixtures, planes, trees, obstacles; and sets of values chosen at one touch."""

from collections.abc import Callable
from typing import Any

from heat.design.changing import kind_changes
from web.projects.services import value_at
from web.projects.typed import declination

Document = dict[str, Any]
Changes = dict[str, Any]

FIXTURES = {
    "shower": {"name": "shower", "flow_l_min": 12, "minutes_day": 5, "flow_after_l_min": 7.5, "at_c": 39},
    "hand basin": {"name": "hand basin", "flow_l_min": 9, "minutes_day": 1.5, "flow_after_l_min": 5, "at_c": 37},
    "kitchen tap": {"name": "kitchen tap", "flow_l_min": 9, "minutes_day": 1.5, "flow_after_l_min": 6, "at_c": 48},
    "bath": {"name": "bath", "flow_l_min": 14, "minutes_day": 1.2, "at_c": 40},
}
"""Fixtures to start from (L/min, minutes a person and day, °C). Source: ordinary and water-saving fittings, rounded."""
LISTS = ("demand.fixtures", "site.planes", "site.trees", "site.obstacles")


def _equator(document: Document) -> float:
    return 180.0 if document["site"]["latitude_deg"] >= 0 else 0.0


def new_row(document: Document, path: str, preset: str) -> dict[str, Any]:
    """A row to add: a fixture by name, or a plane, tree or obstacle that suits the hemisphere."""
    rows = value_at(document, path)
    toward = _equator(document)
    if path == "demand.fixtures":
        return {**FIXTURES.get(preset, FIXTURES["shower"])}
    if path == "site.planes":
        keys = {row["key"] for row in rows}
        key = next(f"P{n}" for n in range(1, 100) if f"P{n}" not in keys)
        here = document["plane"]
        names = {
            "roof": "roof face",
            "wall": "wall",
            "ground": "ground rack",
            "awning": "awning",
            "flat_roof": "flat roof",
        }
        kind = preset if preset in names else "roof"
        tilt = {"wall": 90.0, "ground": 45.0, "awning": 60.0, "flat_roof": 35.0}.get(kind, 40.0)
        row = {"key": key, "name": names[kind], "kind": kind, "tilt_deg": tilt, "azimuth_deg": toward}
        if not rows and kind == "roof":
            row |= {"tilt_deg": here["tilt_deg"], "azimuth_deg": here["azimuth_deg"], "overhang": here["overhang"]}
        return row
    if path == "site.trees":
        leaf = [False] * 3 + [True] * 7 + [False] * 2
        middle = (toward + 30.0) % 360.0
        return {"from_deg": (middle - 12) % 360.0, "to_deg": (middle + 12) % 360.0, "altitude_deg": 28,
                "leaf_months": leaf if toward == 180.0 else leaf[6:] + leaf[:6]}  # fmt: skip
    return {"bearing_deg": (toward - 35.0) % 360.0}


def add_row(document: Document, path: str, preset: str) -> Changes:
    """The changes that add a row to a list. KeyError for a path that is no list."""
    if path not in LISTS:
        raise KeyError(path)
    row = new_row(document, path, preset)
    changes: Changes = {path: [*value_at(document, path), row]}
    if path == "demand.fixtures":
        changes["demand.counted"] = "fixtures"
    if path == "site.planes" and not value_at(document, path):
        changes["plane.on"] = row["key"]
    return changes


def take_row(document: Document, path: str, index: int) -> Changes:
    """The changes that take a row from a list. KeyError for a path that is no list or has no such row."""
    rows = value_at(document, path)
    if path not in LISTS or not 0 <= index < len(rows):
        raise KeyError(path)
    changes: Changes = {path: [row for i, row in enumerate(rows) if i != index]}
    if path == "demand.fixtures" and len(rows) == 1:
        changes["demand.counted"] = "person"
    return changes


def _emitter(supply: float, back: float, exponent: float) -> Callable[[Document], Changes]:
    h = "demand.heating."
    return lambda document: {f"{h}supply_c": supply, f"{h}return_c": back, f"{h}exponent": exponent}


def _stand_on(key: str) -> Callable[[Document], Changes]:
    def changes(document: Document) -> Changes:
        plane = next(p for p in document["site"]["planes"] if p["key"] == key)
        found: Changes = {"plane.on": key}
        for pipe in ("supply_pipe", "return_pipe"):
            found[f"system.loop.{pipe}.length_m"] = plane["pipe_m"]
            found[f"system.loop.{pipe}.outdoors"] = plane["pipe_runs"] == "outdoors"
            found[f"system.loop.{pipe}.buried"] = plane["pipe_runs"] == "buried"
        return found

    return changes


def _turned(document: Document) -> Changes:
    by = declination(document["site"])
    points = [{**p, "bearing_deg": round((p["bearing_deg"] + by) % 360.0, 1)} for p in document["site"]["skyline"]]
    return {"site.skyline": points}


PRESETS: dict[str, Callable[[Document], Changes]] = {
    "floor": _emitter(35, 28, 1.1),
    "radiators": _emitter(55, 45, 1.3),
    "air coil": _emitter(45, 38, 1.0),
    "pool by month": lambda d: {"demand.pool.set_by_month": [d["demand"]["pool"]["set_c"]] * 12},
    "pool all year alike": lambda d: {"demand.pool.set_by_month": None},
    "weekend of its own": lambda d: {"demand.weekend_shape": d["demand"]["hour_shape"]},
    "weekend as weekday": lambda d: {"demand.weekend_shape": None},
    "forget measured litres": lambda d: {"demand.measured_l": None},
    "forget measured heat": lambda d: {"demand.process.hourly_kw": [2.0] * 24},
    "night cover": lambda d: {"demand.pool.covered": [h >= 20 or h < 8 for h in range(24)]},
    "no cover": lambda d: {"demand.pool.covered": [False] * 24},
    "skyline from compass": _turned,
    "no skyline": lambda d: {"site.skyline": []},
}
"""Sets of values by name. Emitters: usual supply, return (°C) and exponents of EN 442 and EN 1264 for existing houses."""


def preset(document: Document, name: str) -> Changes:
    """The changes of a named set of values. KeyError for an unknown name."""
    if name.startswith("kind "):
        return kind_changes(document, name.removeprefix("kind "))
    if name.startswith("stand on "):
        try:
            return _stand_on(name.removeprefix("stand on "))(document)
        except StopIteration:
            raise KeyError(name) from None
    return PRESETS[name](document)
