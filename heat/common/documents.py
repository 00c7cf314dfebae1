"""Designs as JSON objects: where the types of the core end, and the one way to look a value up.

A document is what was written to a file or typed on a page; it may hold anything until :func:`heat.design.parse`
has checked it. Code past that point takes a :class:`heat.design.Design`, whose fields have types.
"""

from collections.abc import Mapping
from typing import Any

Document = dict[str, Any]
"""A design, or a part of one, as a JSON object."""
Values = dict[str, Any]
"""Values by their dotted paths in a document, or by the names of an entry."""


def value_at(document: Mapping[str, Any], path: str) -> Any:
    """The value at a dotted path; a row of a list by its number.

    Parameters
    ----------
    document
        A document.
    path
        Names divided by dots, "system.store.volume_m3".

    Returns
    -------
    Any
        What stands there, in the unit of the field's name.

    Raises
    ------
    KeyError
        Where nothing stands there.
    """
    value: Any = document
    for name in path.split("."):
        try:
            value = value[int(name)] if isinstance(value, list) else value[name]
        except (KeyError, IndexError, ValueError, TypeError) as error:
            raise KeyError(path) from error
    return value


def value_or_none(document: Mapping[str, Any], path: str) -> Any:
    """The value at a dotted path, or None where nothing stands there.

    Parameters
    ----------
    document
        A document.
    path
        Names divided by dots, "system.store.volume_m3".

    Returns
    -------
    Any
        What stands there, in the unit of the field's name, or None.
    """
    try:
        return value_at(document, path)
    except KeyError:
        return None
