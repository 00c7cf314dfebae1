"""From what was typed to a value of the document, or to a refusal in its place."""

import re
from typing import Any

from heat.design import field_at
from heat.errors import HeatError, InputError
from web.accounts.models import User
from web.projects.models import Design
from web.projects.services import Conflict, change_value, value_at
from web.projects.sheet import PAIRS, Refusal, Sheet, seen_text
from web.ui import units


def typed_value(path: str, text: str, current: Any, system: str) -> Any:
    """The document's value for a typed text. Raises ValueError with the words for the page."""
    item = field_at(path)
    if path == "demand.hour_shape":
        parts = [p for p in text.replace(";", " ").split() if p]
        try:
            return [units.parse_number(p) for p in parts]
        except ValueError as error:
            raise ValueError("Twenty-four numbers are needed, one for each hour.") from error
    if path in PAIRS:
        return typed_pairs(text, PAIRS[path])
    if isinstance(current, bool):
        return text == "1"
    if isinstance(current, str):
        return text
    if not text.strip():
        if current is None or "None" in str(item.annotation):
            return None
        raise ValueError("A number is needed here; the old value still stands.")
    quantity = (item.json_schema_extra or {}).get("unit", "1")
    if path.startswith("site.mains.monthly_c."):
        quantity = "degC"
    try:
        number = units.parse_number(text)
    except ValueError as error:
        raise ValueError(f"“{text[:30]}” is not a number.") from error
    if isinstance(current, int) and item.annotation is not float and quantity in ("1", "min"):
        if number != int(number):
            raise ValueError("A whole number is needed here.")
        return int(number)
    return units.kept(number, quantity, system)


def typed_pairs(text: str, names: tuple[str, str]) -> list[dict[str, float]]:
    """Points from lines or commas of two numbers each; headings are passed over. Raises ValueError."""
    points = []
    for number, part in enumerate(re.split(r"[,\n]+", text.strip()), start=1):
        values = part.replace(";", " ").split()
        if not values or (number == 1 and all(re.fullmatch(r"[A-Za-z°()_./-]+", v) for v in values)):
            continue
        try:
            first, second = (units.parse_number(v) for v in values)
        except ValueError as error:
            raise ValueError(f"Point {number}, “{part.strip()[:30]}”: a bearing and an altitude are needed.") from error
        points.append(dict(zip(names, (first % 360.0 if first > 360 else first, second), strict=True)))
    return points


def apply_edit(design: Design, user: User, path: str, text: str, seen: str, force: bool) -> Sheet:
    """Make one edit and return the sheet to show: re-inked, or with the refusal in its place."""
    sheet = Sheet(design, user)
    try:
        current = value_at(sheet.document, path)
        value = typed_value(path, text, current, user.units)
    except KeyError:
        sheet.note = f"There is no value called “{path}”."
        return sheet
    except ValueError as error:
        allowed = sheet.range_text(path)
        message = f"{error} Allowed: {allowed}." if allowed else str(error)
        sheet.refusals[path] = Refusal(text, message)
        return sheet
    same = not force and seen and seen != seen_text(current)
    try:
        if same and value != current:
            raise Conflict(path, current, None)
        fresh = change_value(
            design=design, author=user, path=path, value=value,
            seen=... if force or not seen else current,
        )  # fmt: skip
    except Conflict as conflict:
        pen = sheet.pen(path)
        sheet.refusals[path] = Refusal(
            text,
            f"In another tab this became {pen.text} {pen.sign}".strip() + f"; you typed {text}.",
            conflict=True,
            current=pen.text,
        )
        if isinstance(conflict.current, list):
            sheet.refusals[path] = Refusal(text, "Another tab changed the shape of the day.", conflict=True)
        return sheet
    except InputError as error:
        at = error.name if error.name in (path,) or error.value is None else path
        sheet.refusals[path] = Refusal(text, _words(sheet, at, path, error))
        return sheet
    except HeatError as error:
        sheet.refusals[path] = Refusal(text, str(error))
        return sheet
    return Sheet(fresh, user)


def _words(sheet: Sheet, at: str, path: str, error: InputError) -> str:
    """A refusal in the reader's units: the rule broken, else the allowed range."""
    allowed = sheet.range_text(path)
    if error.value is None:
        return error.allowed[0].upper() + error.allowed[1:] + "."
    return f"Allowed: {allowed or error.allowed}."
