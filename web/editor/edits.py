"""From what was typed or chosen to a change of the document, or to a refusal in its place."""

import json
from collections.abc import Callable

from django.core.exceptions import PermissionDenied

from heat.design.changing import ways_out
from heat.errors import HeatError, InputError
from web.accounts.models import User
from web.editor.design_page import DesignPage
from web.editor.fields import Refusal, expected_text, height_words
from web.editor.typed import COMPASS, DATES, PAIRS, ROW_WORDS, SHAPES, quantity_of, typed_value
from web.editor.view_state import PLAIN, ViewState
from web.places.where import degrees
from web.projects.documents import Changes, Document, place_changes, value_at
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


def apply_edit(
    design: Design,
    user: User,
    path: str,
    text: str,
    expected: str = "",
    force: bool = False,
    preview: bool = False,
    state: ViewState = PLAIN,
) -> DesignPage:
    """Make one edit and return the page to show: updated, or with the refusal in its place.

    ``preview``: the page as it would be, nothing stored.
    """
    page = DesignPage(design, user, state)
    displayed, path = path, path.removesuffix(COMPASS)
    try:
        current = value_at(page.document, path)
        if len(path) > LONGEST_PATH or not typeable(path, current):
            raise KeyError(path)
        value = typed_value(displayed, text, current, user.units, page.document["site"])
    except KeyError:
        return page.with_note(
            f"There is no value called “{path[:LONGEST_PATH]}” any more: what was typed is not taken."
        )
    except ValueError as error:
        allowed = page.range_text(path)
        message = f"{error} Allowed: {allowed}." if allowed else str(error)
        return page.refused(displayed, Refusal(text, message, ways_out=_readings(page, path, error)))
    changes = {path: value}
    if path in PLACED[:2]:
        changes = place_changes(page.document, {path.removeprefix("site."): value})
    try:
        if path in PLACED and not preview and is_rough(page.project.weather):
            site = {**page.document["site"], path.removeprefix("site."): value}
            changes |= rough_changes(design, user, site, degrees(site["latitude_deg"], site["longitude_deg"]))
        if preview:
            return DesignPage(previewed(design=design, author=user, changes=changes), user, state)
        if not force and expected and expected != expected_text(current) and value != current:
            raise Conflict(path, current)
        expected_values = {} if force or not expected else {path: current}
        made = change_values(design=design, author=user, changes=changes, expected=expected_values, force=force)
        return DesignPage(made, user, state)
    except Needed as needed:
        return page.refused(displayed, _needed(text, changes, needed))
    except Conflict as conflict:
        return page.refused(displayed, _conflict(page, displayed, text, conflict))
    except InputError as error:
        ways = tuple((words, json.dumps(found)) for words, found in ways_out(page.document, changes, error))
        refusal = Refusal(text, _words(page, path, error), ways_out=ways, words=height_words(path))
        return page.refused(displayed, refusal)
    except (HeatError, PermissionDenied) as error:
        return page.refused(displayed, Refusal(text, str(error)))


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


def _conflict(page: DesignPage, path: str, text: str, conflict: Conflict) -> Refusal:
    """What became of a value in another tab, or in another's hands."""
    edit = page.project.edits.filter(path=path.removesuffix(COMPASS), dropped=False).select_related("author").last()
    other = edit.author if edit and edit.author_id not in (None, page.user.pk) else None
    if isinstance(conflict.current, list | dict):
        return Refusal(text, f"{other or 'Another tab'} changed these values.", conflict=True)
    field = page.field(path)
    became = f"{f'{other} made this' if other else 'In another tab this became'} {field.text} {field.sign}".strip()
    return Refusal(text, f"{became}; you typed {text}.", conflict=True, current=field.text)


def _needed(text: str, changes: Changes, needed: Needed) -> Refusal:
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


def apply_changes(
    design: Design, user: User, make: Callable[[Document], Changes], state: ViewState = PLAIN, force: bool = False
) -> DesignPage:
    """Make several changes as one edit, from a function of the document; a refusal is said above the page."""
    page = DesignPage(design, user, state)
    changes: Changes = {}
    try:
        changes = make(page.document)
        return DesignPage(change_values(design=design, author=user, changes=changes, force=force), user, state)
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
        return error.allowed[0].upper() + error.allowed[1:] + "."
    return f"Allowed: {allowed or error.allowed}."
