"""Documents of earlier versions, step by step up to this one.

A new field with a default needs nothing here: it is filled in when a document is read. A field that
moves, or whose meaning changes, is a new version with a step of its own. Steps take whole documents or
some of their parts.
"""

from collections.abc import Callable
from typing import Any

from heat.errors import HeatError

VERSION = 2
Parts = dict[str, Any]


def _name_the_faults(parts: Parts) -> Parts:
    """1 to 2: what goes wrong in a system is called its faults."""
    system = dict(parts.get("system", {}))
    if "mistakes" not in system:
        return parts
    system["faults"] = system.pop("mistakes")
    return {**parts, "system": system}


STEPS: dict[int, Callable[[Parts], Parts]] = {1: _name_the_faults}
"""The step that leads from each earlier version to the next."""


def stepped(parts: Parts) -> Parts:
    """A document, or some parts of one, in the form of this version; numbers stay in their units, such as W/K.

    Without a number of its version it is of the first. Raises HeatError for a version this engine does not know.
    """
    version = parts.get("version", 1)
    if isinstance(version, bool) or not isinstance(version, int) or not 1 <= version <= VERSION:
        raise HeatError(f"version: this document is version {version!r}; this engine reads versions 1 to {VERSION}.")
    for number in range(version, VERSION):
        parts = STEPS[number](parts)
    return {**parts, "version": VERSION}
