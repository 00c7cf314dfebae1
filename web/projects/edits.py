"""From what was typed or chosen to a change of the document, or to a refusal in its place."""

import json
from collections.abc import Callable
from typing import Any

from heat.design.changing import ways_out
from heat.errors import HeatError, InputError
from web.accounts.models import User
from web.projects.models import Design
from web.projects.services import Conflict, change_values, place_changes, previewed, value_at
from web.projects.sheet import Refusal, Sheet, seen_text
from web.projects.typed import COMPASS, typed_value
from web.projects.vessels import height_words

Changes = dict[str, Any]


def apply_edit(
    design: Design, user: User, path: str, text: str, seen: str = "", force: bool = False, preview: bool = False
) -> Sheet:
    """Make one edit and return the sheet to show: re-inked, or with the refusal in its place.

    ``preview``: the sheet as it would be, nothing kept.
    """
    sheet = Sheet(design, user)
    shown, path = path, path.removesuffix(COMPASS)
    try:
        current = value_at(sheet.document, path)
        value = typed_value(shown, text, current, user.units, sheet.document["site"])
    except KeyError:
        sheet.note = f"There is no value called “{path}”."
        return sheet
    except ValueError as error:
        allowed = sheet.range_text(path)
        message = f"{error} Allowed: {allowed}." if allowed else str(error)
        sheet.refusals[shown] = Refusal(text, message)
        return sheet
    changes = {path: value}
    if path in ("site.latitude_deg", "site.longitude_deg"):
        changes = place_changes(sheet.document, {path.removeprefix("site."): value})
    try:
        if preview:
            return Sheet(previewed(design=design, changes=changes), user)
        if not force and seen and seen != seen_text(current) and value != current:
            raise Conflict(path, current)
        return Sheet(
            change_values(
                design=design, author=user, changes=changes, seen={} if force or not seen else {path: current}
            ),
            user,
        )
    except Conflict as conflict:
        if isinstance(conflict.current, list):
            sheet.refusals[shown] = Refusal(text, "Another tab changed these values.", conflict=True)
            return sheet
        pen = sheet.pen(shown)
        became = f"In another tab this became {pen.text} {pen.sign}".strip()
        sheet.refusals[shown] = Refusal(text, f"{became}; you typed {text}.", conflict=True, current=pen.text)
    except InputError as error:
        ways = tuple((words, json.dumps(found)) for words, found in ways_out(sheet.document, changes, error))
        sheet.refusals[shown] = Refusal(text, _words(sheet, path, error), ways_out=ways, words=height_words(path))
    except HeatError as error:
        sheet.refusals[shown] = Refusal(text, str(error))
    return sheet


def apply_changes(design: Design, user: User, make: Callable[[dict[str, Any]], Changes]) -> Sheet:
    """Make several changes as one edit, from a function of the document; a refusal is said above the page."""
    sheet = Sheet(design, user)
    try:
        return Sheet(change_values(design=design, author=user, changes=make(sheet.document)), user)
    except KeyError:
        sheet.note = "That is not there any more: another tab took it away."
    except HeatError as error:
        sheet.note = f"Not done. {_words(sheet, '', error) if isinstance(error, InputError) else error}"
    return sheet


def _words(sheet: Sheet, path: str, error: InputError) -> str:
    """A refusal in the reader's units: the rule broken, else the allowed range."""
    allowed = sheet.range_text(path) if path else ""
    if error.value is None:
        return error.allowed[0].upper() + error.allowed[1:] + "."
    return f"Allowed: {allowed or error.allowed}."
