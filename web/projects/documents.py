"""Design documents as they are kept: read, completed and placed; values at dotted paths; where a value is kept."""

from typing import Any

from heat.common.documents import Document, Values, value_at
from heat.design import PAPER, VERSION, Design, completed, current_values, parse, upgraded
from heat.design.changing import with_changes
from heat.design.contradictions import too_fine
from heat.errors import InputError

SURVEY = ("demand", "site", "money", "exposure")
SCHEME = ("plane", "system", "numerics", "offer", "safety")
SURVEYED = ("tilt_deg", "azimuth_deg", "overhang")
"""What a design's plane takes from the surveyed plane it stands on."""

SEASONS = ("demand.pool.months", "demand.pool.set_by_month", "demand.showers.month_factors")
"""Months of the survey that go with the sun's season."""


def survey_of(document: Document) -> Document:
    """The parts of a document that a project keeps for all its designs."""
    return {"version": document.get("version", VERSION), **{part: document[part] for part in SURVEY}}


def scheme_of(document: Document) -> Document:
    """The parts of a document that a design keeps of its own."""
    return {"version": document.get("version", VERSION), **{part: document[part] for part in SCHEME}}


def joined(survey: Document, scheme: Document) -> Document:
    """The whole document of a kept survey and scheme, each of any earlier version. Raises HeatError for an unknown
    one."""
    return placed(completed({**upgraded(survey), **upgraded(scheme)}))


def weighty(document: Document) -> Document:
    """What a year depends on: the document without its money."""
    return {name: part for name, part in document.items() if name not in PAPER}


def placed(document: Document) -> Document:
    """A design document whose plane is that of the surveyed plane it stands on, where it stands on one."""
    for surveyed in document["site"]["planes"]:
        if surveyed["key"] == document["plane"]["on"]:
            return {
                **document,
                "plane": {**document["plane"], **{name: surveyed[name] for name in SURVEYED if name in surveyed}},
            }
    return document


def surveyed_path(document: Document, path: str) -> str:
    """Where a value is kept: tilt, bearing and edge of a design's plane lie with the surveyed plane it stands on."""
    first, _, name = path.partition(".")
    if first == "plane" and name.split(".")[0] in SURVEYED:
        for index, plane in enumerate(document["site"]["planes"]):
            if plane["key"] == document["plane"]["on"]:
                return f"site.planes.{index}.{name}"
    return path


def with_values(document: Document, changes: Values) -> Document:
    """A valid document with values replaced, each where it is kept. Raises InputError, KeyError."""
    changes = {surveyed_path(document, path): value for path, value in changes.items()}
    made = with_changes(document, changes)
    try:
        made = placed(made)
    except (AttributeError, KeyError, TypeError):
        parse(made)  # says what is wrong with the parts that were put in
        raise KeyError(next(iter(changes), "")) from None
    return served(parse(made)).model_dump(mode="json")


def served(design: Design) -> Design:
    """A design whose year a server simulates while others wait. Raises InputError for one that is finer than anything
    gains by."""
    found = too_fine(design)
    if found:
        raise InputError(found[0], None, found[1])
    return design


def as_they_were(document: Document, changes: Values) -> Document:
    """A document with values put back that stood in it before, each at its path; nothing is asked of them."""
    return placed(with_changes(document, changes))


def upgraded_values(changes: Values) -> Values:
    """Values of an edit kept earlier, at the paths they have now; whole parts among them lack nothing."""
    changes = current_values(changes)
    parts = upgraded({"version": VERSION} | {path: v for path, v in changes.items() if path in SURVEY + SCHEME})
    return {path: parts.get(path, value) if path in SURVEY + SCHEME else value for path, value in changes.items()}


def place_changes(document: Document, place: dict[str, float]) -> Values:
    """Moving a site (deg, m): planes that face the equator exactly, and seasons, turn when it is crossed."""
    changes: Values = {f"site.{name}": value for name, value in place.items()}
    was, now = document["site"]["latitude_deg"], place.get("latitude_deg", document["site"]["latitude_deg"])
    if (was < 0) == (now < 0):
        return changes
    old, new = (0.0, 180.0) if was < 0 else (180.0, 0.0)
    for index, plane in enumerate(document["site"]["planes"]):
        if plane["azimuth_deg"] % 360.0 == old:
            changes[f"site.planes.{index}.azimuth_deg"] = new
    if document["plane"]["azimuth_deg"] % 360.0 == old and not document["plane"]["on"]:
        changes["plane.azimuth_deg"] = new
    for index, tree in enumerate(document["site"]["trees"]):
        changes[f"site.trees.{index}.leaf_months"] = half_a_year_on(tree["leaf_months"])
    for path in SEASONS:
        if months := value_at(document, path):
            changes[path] = half_a_year_on(months)
    return changes


def half_a_year_on(months: list[Any]) -> list[Any]:
    """Twelve months as they fall on the other side of the equator."""
    return months[6:] + months[:6]
