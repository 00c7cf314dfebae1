"""From what was typed or chosen to a change of the document, or to a refusal in its place."""

import json
from collections.abc import Callable, Mapping
from dataclasses import dataclass

from django.core.exceptions import PermissionDenied

from heat.common.documents import Document, Values, value_at
from heat.design import current_path
from heat.design.changing import ways_out
from heat.errors import HeatError, InputError
from web.editor.design_page import DesignPage
from web.editor.fields import Refusal, expected_text, height_words
from web.editor.typed import COMPASS, DATES, PAIRS, ROW_WORDS, SHAPES, quantity_of, typed_value
from web.places.where import degrees
from web.projects.documents import place_changes
from web.projects.models import Design, Edit
from web.projects.services.edits import OF_PROJECT, Conflict, Needed, change_values, previewed
from web.projects.services.weather import rough_changes
from web.simulations.rough import is_rough
from web.ui import units

LONGEST_PATH = 120
PLACED = ("site.latitude_deg", "site.longitude_deg", "site.elevation_m")
"""What a rough climate is made of: it follows when one of these is typed."""


def typeable(path: str, value: object) -> bool:
    """Whether what stands at a path is one value that a person types: lists have rows, parts values of their own."""
    rows = path.endswith(SHAPES) or path in PAIRS or path in DATES or path in ROW_WORDS
    return rows or not isinstance(value, list | dict)


@dataclass(frozen=True)
class ValueEdit:
    """One value as its field sends it: where, what was typed, and what the field showed before."""

    path: str
    text: str
    expected: str = ""
    force: bool = False
    """Whether it stands although designs would no longer be calculated, or another's edit is overwritten."""
    preview: bool = False
    """Whether the page is only to show what it would do."""

    @classmethod
    def posted(cls, post: Mapping[str, str]) -> "ValueEdit":
        """The edit of a form; ``seen`` is what pages opened before this version call ``expected``."""
        return cls(
            current_path(post.get("path", "")),
            post.get("value", ""),
            post.get("expected", post.get("seen", "")),
            post.get("force") == "1",
            post.get("preview") == "1",
        )


def apply_edit(page: DesignPage, edit: ValueEdit) -> DesignPage:
    """Make one edit and return the page to show: updated, or with the refusal in its place."""
    path = edit.path.removesuffix(COMPASS)
    try:
        current = value_at(page.document, path)
        if len(path) > LONGEST_PATH or not typeable(path, current):
            raise KeyError(path)
        value = typed_value(edit.path, edit.text, current, page.system, page.document["site"])
    except KeyError:
        return page.with_note(
            f"There is no value called “{path[:LONGEST_PATH]}” any more: what was typed is not taken."
        )
    except ValueError as error:
        allowed = page.range_text(path)
        message = f"{error} Allowed: {allowed}." if allowed else str(error)
        return page.refused(edit.path, Refusal(edit.text, message, ways_out=_readings(page, path, error)))
    changes = {path: value}
    if path in PLACED[:2]:
        changes = place_changes(page.document, {path.removeprefix("site."): value})
    try:
        return page.of(_stored(page, edit, current, changes))
    except Needed as needed:
        return page.refused(edit.path, _needed(edit.text, changes, needed))
    except Conflict as conflict:
        return page.refused(edit.path, _conflict(page, edit, conflict))
    except InputError as error:
        ways = tuple((words, json.dumps(found)) for words, found in ways_out(page.document, changes, error))
        refusal = Refusal(edit.text, _words(page, path, error), ways_out=ways, words=height_words(path))
        return page.refused(edit.path, refusal)
    except (HeatError, PermissionDenied) as error:
        return page.refused(edit.path, Refusal(edit.text, str(error)))


def _stored(page: DesignPage, edit: ValueEdit, current: object, changes: Values) -> Design:
    """The design with an edit's changes; ``current``: what stands at its path. Raises what services raise."""
    path = edit.path.removesuffix(COMPASS)
    if path in PLACED and not edit.preview and is_rough(page.project.weather):
        site = {**page.document["site"], path.removeprefix("site."): changes[path]}
        where = degrees(site["latitude_deg"], site["longitude_deg"])
        changes |= rough_changes(page.design, page.user, site, where)
    if edit.preview:
        return previewed(design=page.design, author=page.user, changes=changes)
    if not edit.force and edit.expected and edit.expected != expected_text(current) and changes[path] != current:
        raise Conflict(path, current)
    expected = {} if edit.force or not edit.expected else {path: current}
    return change_values(design=page.design, author=page.user, changes=changes, expected=expected, force=edit.force)


def _readings(page: DesignPage, path: str, error: ValueError) -> tuple[tuple[str, str], ...]:
    """Both readings of a number that can be read in two ways, each to be taken at a touch."""
    if not isinstance(error, units.Ambiguous):
        return ()
    quantity, system = quantity_of(path), page.system
    sign = page.field(path).sign
    return tuple(
        (f"{reading:.10g} {sign}".strip(), json.dumps({path: units.to_core(reading, quantity, system)}))
        for reading in error.readings
    )


def _conflict(page: DesignPage, edit: ValueEdit, conflict: Conflict) -> Refusal:
    """What became of a value in another tab, or in another's hands."""
    path = edit.path.removesuffix(COMPASS)
    last = page.project.edits.filter(path=path, dropped=False).select_related("author").last()
    other = last.author if last and last.author_id not in (None, page.user.pk) else None
    if isinstance(conflict.current, list | dict):
        return Refusal(edit.text, f"{other or 'Another tab'} changed these values.", conflict=True)
    field = page.field(edit.path)
    became = f"{f'{other} made this' if other else 'In another tab this became'} {field.text} {field.sign}".strip()
    return Refusal(edit.text, f"{became}; you typed {edit.text}.", conflict=True, current=field.text)


def _needed(text: str, changes: Values, needed: Needed) -> Refusal:
    """Which designs would no longer be calculated, and the way to go on."""
    names = "Design " + needed.letters[0] if len(needed.letters) == 1 else "Designs " + ", ".join(needed.letters)
    reason = needed.reason
    why = reason.allowed if isinstance(reason, InputError) and reason.value is None else str(reason)
    message = f"{names} would no longer be calculated: {why}."
    return Refusal(text, message, ways_out=(("change it all the same", json.dumps(changes)),), forced=True)


def of_another(page: DesignPage, edit: Edit) -> DesignPage:
    """What undo says where the last edit is another person's, and the way to put it back all the same."""
    before = {edit.path: edit.before} if edit.path else dict(edit.before or {})
    name = page.label_of(edit.path) or "several values"
    words = f"The last edit is {edit.author}’s: {name}."
    ways = () if set(before) & set(OF_PROJECT) else (("put it back all the same", json.dumps(before)),)
    return page.refused("", Refusal("", words, ways_out=ways))


def apply_changes(page: DesignPage, make: Callable[[Document], Values], force: bool = False) -> DesignPage:
    """Make several changes as one edit, from a function of the document; a refusal is said above the page."""
    changes: Values = {}
    try:
        changes = make(page.document)
        return page.of(change_values(design=page.design, author=page.user, changes=changes, force=force))
    except Needed as needed:
        return page.refused("", _needed("", changes, needed))
    except KeyError:
        return page.with_note("That is not there any more: another tab took it away.")
    except PermissionDenied as error:
        return page.with_note(f"Not done. {error}")
    except HeatError as error:
        return page.with_note(f"Not done. {_words(page, '', error) if isinstance(error, InputError) else error}")


def _words(page: DesignPage, path: str, error: InputError) -> str:
    """A refusal in the reader's units: the rule broken, else the allowed range."""
    allowed = page.range_text(path) if path else ""
    if error.value is None:
        return units.words(error.allowed[0].upper() + error.allowed[1:] + ".", page.system)
    return f"Allowed: {allowed or units.words(error.allowed, page.system)}."
