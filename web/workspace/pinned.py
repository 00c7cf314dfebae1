"""Remarks as a page shows them: the open ones with their answers, what a new one may be pinned to, the closed ones."""

from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

from django.urls import reverse

from web.projects.models import Remark
from web.sheet.page import Sheet
from web.ui.calendar import day_text
from web.workspace.history import name_of
from web.workspace.registry import step_of

SHOWN = 400


@dataclass
class Pinned:
    """A remark with what it is about and where that is shown."""

    number: int
    pin: str
    about: str
    href: str
    text: str
    who: str
    at: datetime
    closed_by: str = ""
    mine: bool = False
    answers: list["Pinned"] = field(default_factory=list)


def pinned(sheet: Sheet, step: str) -> dict[str, Any]:
    """Remarks of the project, in one query, and what one on this page may be about."""
    shown: dict[int, Pinned] = {}
    rows: list[Remark] = []
    if getattr(sheet.project, "remarked", True):
        found = Remark.objects.filter(project=sheet.project).select_related("author", "design", "closed_by")
        rows = list(found.order_by("-pk")[:SHOWN])[::-1]
    closed = []
    for row in rows:
        one = _pinned(row, sheet)
        if row.under_id in shown:
            shown[row.under_id].answers.append(one)
        elif row.under_id is None:
            shown[row.pk] = one
            if row.closed:
                closed.append(one)
    standing = [one for one in shown.values() if not one.closed_by]
    page = step_of(step)
    abouts = [(f"step:{step}", f"this page, {page.title}")] if page else []
    part, day = sheet.look.query.get("part", "")[:60], sheet.look.day
    if part:
        abouts.insert(0, (f"part:{part}", f"the part shown, {part.replace('_', ' ')}"))
    if "day" in sheet.look.query and day is not None:
        abouts.append((f"day:{day}", f"the day shown, {day_text(day + 1)}"))
    return {"open": standing, "closed": closed, "abouts": abouts}


def _pinned(row: Remark, sheet: Sheet) -> Pinned:
    step, _, query = row.where.partition("?")
    href = reverse("screen", args=(sheet.project.pk, row.design.letter, step)) if row.design and step else ""
    return Pinned(
        row.pk, row.pin, _about(row), f"{href}?{query}" if href and query else href, row.text,
        row.author.get_username() if row.author else "somebody who left", row.at,
        (row.closed_by.get_username() if row.closed_by else "somebody") if row.closed else "",
        row.author_id == sheet.user.pk,
    )  # fmt: skip


def _about(row: Remark) -> str:
    kind, _, what = row.pin.partition(":")
    letter = f"{row.design.letter}: " if row.design else ""
    if kind == "day":
        return letter + day_text(int(what) + 1)
    if kind == "path":
        return letter + name_of(what)
    step = step_of(what) if kind == "step" else None
    return letter + (step.title if step else what.replace("_", " "))
