"""Comments pinned to a part, a value, a day or a page of a design; answered below, closed and opened again."""

import re

from django.db import transaction
from django.utils import timezone

from heat.errors import HeatError
from web.accounts.models import User
from web.projects.models import Comment, Design, Project
from web.projects.permissions import require

MOST_COMMENTS, MOST_LETTERS = 1000, 1000
PIN = re.compile(r"(path:[a-z0-9_.]{1,120}|part:[a-z0-9_.-]{1,60}|day:[0-9]{1,3}|step:[a-z]{1,20})")
"""What a comment may be pinned to; a day by its number from the first of January, 0."""


def _text(text: str) -> str:
    text = text.replace("\0", "").strip()
    if not text:
        raise HeatError("A comment needs some words.")
    if len(text) > MOST_LETTERS:
        raise HeatError(f"A comment has {MOST_LETTERS} letters at most; this has {len(text)}.")
    return text


def _room(project: Project) -> None:
    if project.comments.count() >= MOST_COMMENTS:
        raise HeatError("This project has no room for more comments.")


@transaction.atomic
def add_comment(*, design: Design, author: User, pin: str, text: str, where: str = "") -> Comment:
    """Say something about what is pinned to: whoever may look may say. Raises HeatError."""
    require(author, "view", design.project)
    if not PIN.fullmatch(pin) or (pin.startswith("day:") and int(pin[4:]) > 364):
        raise HeatError("A comment is pinned to a part, a value, a day or a page.")
    _room(design.project)
    return Comment.objects.create(
        project=design.project, design=design, pin=pin, text=_text(text), author=author, where=where[:300]
    )


def _of(project: Project, number: int) -> Comment:
    found = project.comments.filter(pk=number, under=None).first()
    if found is None:
        raise HeatError("That comment is not here any more.")
    return found


@transaction.atomic
def answer(*, project: Project, author: User, number: int, text: str) -> Comment:
    """Answer a comment. Raises HeatError."""
    require(author, "view", project)
    first = _of(project, number)
    _room(project)
    return Comment.objects.create(
        project=project, design=first.design, pin=first.pin, text=_text(text), author=author, under=first
    )


@transaction.atomic
def close(*, project: Project, author: User, number: int, closed: bool) -> None:
    """Close a comment, or open it again: by who said it, or who may change something here. Raises HeatError."""
    first = _of(project, number)
    if first.author_id != author.pk:
        require(author, "survey", project)
    first.closed, first.closed_by = (timezone.now(), author) if closed else (None, None)
    first.save(update_fields=["closed", "closed_by"])
