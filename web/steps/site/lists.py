"""Planes, trees and obstacles to add and take away; a design stood on a plane; the skyline by compass."""

from heat.common.documents import Document, Values
from web.accounts.models import User
from web.editor.step import Choice, RowList
from web.editor.typed import declination

PLANE_NAMES = {
    "roof": "roof face",
    "wall": "wall",
    "ground": "ground rack",
    "awning": "awning",
    "flat_roof": "flat roof",
}
PLANE_TILTS = {"wall": 90.0, "ground": 45.0, "awning": 60.0, "flat_roof": 35.0, "roof": 40.0}
"""Tilt a new plane begins with (deg). Source: our own choice, usual ones of each kind."""


def _equator(document: Document) -> float:
    return 180.0 if document["site"]["latitude_deg"] >= 0 else 0.0


def new_plane(document: Document, name: str) -> Document:
    """A plane of a kind toward the equator; the first roof takes the design's own tilt, bearing and edge."""
    rows, here = document["site"]["planes"], document["plane"]
    keys = {row["key"] for row in rows}
    kind = name if name in PLANE_NAMES else "roof"
    row = {
        "key": next(f"P{n}" for n in range(1, 100) if f"P{n}" not in keys),
        "name": PLANE_NAMES[kind],
        "kind": kind,
        "tilt_deg": PLANE_TILTS[kind],
        "azimuth_deg": _equator(document),
    }
    if not rows and kind == "roof":
        row |= {field: here[field] for field in ("tilt_deg", "azimuth_deg", "overhang")}
    return row


def _new_tree(document: Document, name: str) -> Document:
    toward = _equator(document)
    leaf = [False] * 3 + [True] * 7 + [False] * 2
    middle = (toward + 30.0) % 360.0
    return {
        "from_deg": (middle - 12) % 360.0,
        "to_deg": (middle + 12) % 360.0,
        "altitude_deg": 28,
        "leaf_months": leaf if toward == 180.0 else leaf[6:] + leaf[:6],
    }


def _new_obstacle(document: Document, name: str) -> Document:
    return {"bearing_deg": (_equator(document) - 35.0) % 360.0}


def _first_plane(document: Document, row: Document) -> Values:
    return {} if document["site"]["planes"] else {"plane.on": row["key"]}


def mount_on(document: Document, key: str, user: User) -> Values:
    """The changes that stand a design on a surveyed plane, with its pipe run. KeyError for an unknown plane."""
    plane = next((p for p in document["site"]["planes"] if p["key"] == key), None)
    if plane is None:
        raise KeyError(key)
    found: Values = {"plane.on": key}
    for pipe in ("supply_pipe", "return_pipe"):
        found[f"system.loop.{pipe}.length_m"] = plane["pipe_m"]
        found[f"system.loop.{pipe}.outdoors"] = plane["pipe_runs"] == "outdoors"
        found[f"system.loop.{pipe}.buried"] = plane["pipe_runs"] == "buried"
    return found


def _turned(document: Document, rest: str, user: User) -> Values:
    by = declination(document["site"])
    points = [{**p, "bearing_deg": round((p["bearing_deg"] + by) % 360.0, 1)} for p in document["site"]["skyline"]]
    return {"site.skyline": points}


ROWS = {
    "site.planes": RowList(new=new_plane, added=_first_plane),
    "site.trees": RowList(new=_new_tree),
    "site.obstacles": RowList(new=_new_obstacle),
}
CHOICES: dict[str, Choice] = {
    "stand on ": mount_on,
    "skyline from compass": _turned,
    "no skyline": lambda document, rest, user: {"site.skyline": []},
}
