"""Comments as a page shows them: the open ones with their answers, what a new one may be pinned to, the closed ones."""

from dataclasses import dataclass, field
from datetime import datetime

from django.urls import reverse

from web.editor.design_page import DesignPage
from web.projects.models import Comment
from web.ui.calendar import day_text
from web.workspace.history import name_of
from web.workspace.registry import step_of

DISPLAYED = 400


@dataclass
class Pinned:
    """A comment with what it is about and where that is shown."""

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


def pinned(page: DesignPage, step: str) -> dict[str, object]:
    """Comments of the project, in one query, and what one on this page may be about."""
    displayed: dict[int, Pinned] = {}
    rows: list[Comment] = []
    if getattr(page.project, "commented", True):
        found = Comment.objects.filter(project=page.project).select_related("author", "design", "closed_by")
        rows = list(found.order_by("-pk")[:DISPLAYED])[::-1]
    closed = []
    for row in rows:
        one = _pinned(row, page)
        if row.under_id in displayed:
            displayed[row.under_id].answers.append(one)
        elif row.under_id is None:
            displayed[row.pk] = one
            if row.closed:
                closed.append(one)
    current = [one for one in displayed.values() if not one.closed_by]
    context = step_of(step)
    abouts = [(f"step:{step}", f"this page, {context.title}")] if context else []
    part, day = page.state.query.get("part", "")[:60], page.state.day
    if part:
        abouts.insert(0, (f"part:{part}", f"the part shown, {part.replace('_', ' ')}"))
    if "day" in page.state.query and day is not None:
        abouts.append((f"day:{day}", f"the day shown, {day_text(day + 1)}"))
    return {"open": current, "closed": closed, "abouts": abouts}


def _pinned(row: Comment, page: DesignPage) -> Pinned:
    step, _, query = row.where.partition("?")
    href = reverse("screen", args=(page.project.pk, row.design.letter, step)) if row.design and step else ""
    return Pinned(
        row.pk,
        row.pin,
        _about(row),
        f"{href}?{query}" if href and query else href,
        row.text,
        row.author.get_username() if row.author else "somebody who left",
        row.at,
        (row.closed_by.get_username() if row.closed_by else "somebody") if row.closed else "",
        row.author_id == page.user.pk,
    )


def _about(row: Comment) -> str:
    kind, _, what = row.pin.partition(":")
    letter = f"{row.design.letter}: " if row.design else ""
    if kind == "day":
        return letter + day_text(int(what) + 1)
    if kind == "path":
        return letter + name_of(what)
    step = step_of(what) if kind == "step" else None
    return letter + (step.title if step else what.replace("_", " "))
