"""Documents of earlier versions, step by step up to this one.

A new field with a default needs nothing here: it is filled in when a document is read. A field that
moves, or whose meaning changes, is a new version with a step of its own. Steps take whole documents or
some of their parts; one that finds nothing of an earlier version changes nothing.
"""

import re
from collections.abc import Callable
from typing import Any

from heat.common.documents import Document, Values
from heat.errors import HeatError

VERSION = 4
Step = Callable[[Document], Document]

RENAMED: dict[int, tuple[tuple[str, str], ...]] = {
    1: (("system.mistakes", "faults"),),
    2: (
        ("reckoning", "numerics"),
        ("demand.heating.bed", "slab"),
        ("system.collector.diffuse_reckoned", "diffuse_calculated"),
        ("system.second_collector.diffuse_reckoned", "diffuse_calculated"),
    ),
    3: (),
}
"""Fields by dotted path, and their names since the version after."""
REWORDED: dict[int, tuple[tuple[str, str, str], ...]] = {
    2: (("site.mains.source", "reckoned", "calculated"), ("system.backup.stove.circulation", "weight", "thermosiphon"))
}
"""Choices by dotted path: the earlier word, and today's."""


GUESSED: dict[int, tuple[tuple[str, float], ...]] = {
    3: (
        ("exposure.wind_m_s", 25),
        ("exposure.snow_kg_m2", 80),
        ("safety.branch_m", 8),
        *(
            (f"system.backup.{heater}.{name}", value)
            for heater, price, co2 in (
                ("boiler", 0.14, 0.21),
                ("element", 0.28, 0.35),
                ("tankless", 0.14, 0.21),
                ("series", 0.14, 0.21),
                ("stove", 0.07, 0.03),
            )
            for name, value in (("price_kwh", price), ("co2_kg_kwh", co2))
        ),
    )
}
"""Values that stood in every document of a version whether anyone had typed them or not, and stand empty since: what
is not known of the place is not looked at, and heaters pay the project's price of their energy."""


def _at(parts: Any, names: list[str], change: Step) -> Any:
    """Document with the part below some names changed; where there is none, the parts as they are."""
    if not names:
        return change(parts) if isinstance(parts, dict) else parts
    if not isinstance(parts, dict) or names[0] not in parts:
        return parts
    return {**parts, names[0]: _at(parts[names[0]], names[1:], change)}


def _renamed(parts: Document, path: str, name: str) -> Document:
    *holder, old = path.split(".")
    change: Step = lambda part: {name if key == old else key: value for key, value in part.items()}
    made: Document = _at(parts, holder, change)
    return made


def _reworded(parts: Document, path: str, old: str, new: str) -> Document:
    *holder, name = path.split(".")
    change: Step = lambda part: {**part, name: new} if part.get(name) == old else part
    made: Document = _at(parts, holder, change)
    return made


def _emptied(parts: Document, path: str, guess: float) -> Document:
    *holder, name = path.split(".")
    change: Step = lambda part: {**part, name: None} if part.get(name) == guess else part
    made: Document = _at(parts, holder, change)
    return made


def _next(parts: Document, version: int, whole: bool) -> Document:
    for path, name in RENAMED.get(version, ()):
        parts = _renamed(parts, path, name)
    for path, old, new in REWORDED.get(version, ()):
        parts = _reworded(parts, path, old, new)
    for path, guess in GUESSED.get(version, ()) if whole else ():
        parts = _emptied(parts, path, guess)
    return parts


def stepped(parts: Document) -> Document:
    """A document, or some parts of one, in the form of this version.

    Without a number of its version its names may be of any; what stands in it was then written by hand and stays.

    Parameters
    ----------
    parts
        The system's parts as the compiled year reads them.

    Returns
    -------
    Document
        The document in the form of this version.

    Raises
    ------
    HeatError
        For a version this engine does not know.
    """
    version = parts.get("version", 1)
    if isinstance(version, bool) or not isinstance(version, int) or not 1 <= version <= VERSION:
        raise HeatError(f"version: this document is version {version!r}; this engine reads versions 1 to {VERSION}.")
    for number in range(version, VERSION):
        parts = _next(parts, number, whole="version" in parts)
    return {**parts, "version": VERSION}


_EARLIER = [
    (re.compile(rf"^{re.escape(path)}(?=\.|$)"), f"{path.rpartition('.')[0]}.{name}".lstrip("."))
    for version in sorted(RENAMED)
    for path, name in RENAMED[version]
]


def current_path(path: str) -> str:
    """A dotted path of any version, such as one kept with an edit, as this version writes it.

    Parameters
    ----------
    path
        Dotted path in the document, such as ``system.store.volume_l``.

    Returns
    -------
    str
        A dotted path of any version, such as one kept with an edit, as this version writes it.
    """
    for earlier, now in _EARLIER:
        path = earlier.sub(now, path)
    return path


def current_values(values: Values) -> Values:
    """Values of any version by dotted path, parts of a document among them, each in its field's unit (such as W/K), as
    this version writes them.

    Parameters
    ----------
    values
        Values by name, each in its field's unit.

    Returns
    -------
    Values
        Values of any version by dotted path, parts of a document among them, each in its field's unit (such as
        W/K), as this version writes them.
    """
    made = {}
    for path, value in values.items():
        if path.startswith("version"):
            made[path] = value  # no design holds it below a part: refused where it is put in
            continue
        nested: Any = value
        for name in reversed(path.split(".")):
            nested = {name: nested}
        now = current_path(path)
        nested = stepped(nested)
        for name in now.split("."):
            nested = nested[name]
        made[now] = nested
    return made
