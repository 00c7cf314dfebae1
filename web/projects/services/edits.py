"""Edits of a design: each is checked, made and logged in one transaction; undo and redo walk along them."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from django.db import transaction

from heat.design import parse
from heat.errors import HeatError, InputError
from web.accounts.models import User
from web.projects.documents import (
    SURVEY,
    Changes,
    Document,
    as_they_were,
    joined,
    kept_values,
    scheme_of,
    survey_of,
    surveyed_path,
    value_at,
    with_values,
)
from web.projects.models import Design, Edit, Project
from web.projects.permissions import ask, locked

WEATHER_PATH = "weather"


@dataclass
class Conflict(Exception):
    """The value changed elsewhere after this page was drawn."""

    path: str
    current: Any


@dataclass
class Needed(Exception):
    """Other designs of the project would not be reckoned any more, by letter, with the reason of the first."""

    letters: list[str]
    reason: HeatError


def _store(
    project: Project,
    design: Design,
    changes: Changes,
    made: Callable[[Document, Changes], Document] = with_values,
) -> Document:
    """Take accepted values into survey, scheme and weather, unsaved, and count the revision; the document then."""
    document = design.document()
    inside = {path: value for path, value in changes.items() if path != WEATHER_PATH}
    if inside:
        document = made(document, inside)
        project.survey = survey_of(document)
        design.scheme = scheme_of(document)
    if WEATHER_PATH in changes:
        project.weather_id = changes[WEATHER_PATH]
    project.revision += 1
    return document


@transaction.atomic
def change_values(
    *, design: Design, author: User, changes: dict[str, Any], seen: dict[str, Any] | None = None, force: bool = True
) -> Design:
    """Set values of a design document as one edit, undone as one.

    ``seen`` is what the page showed before: Conflict is raised where that has changed since. Without ``force``, Needed
    is raised where another design in sight would no longer be reckoned. Raises InputError for a refused value, KeyError
    for an unknown path.
    """
    project = locked(design.project, author)
    design = project.designs.select_for_update().get(pk=design.pk)
    design.project = project
    document = design.document()
    for path, value in (seen or {}).items():
        now = value_at(document, path)
        if now not in (value, changes.get(path)):
            raise Conflict(path, now)
    changes = {surveyed_path(document, path): value for path, value in changes.items()}
    before = {p: project.weather_id if p == WEATHER_PATH else value_at(document, p) for p in changes}
    if WEATHER_PATH in changes and not project.weather_files.filter(pk=changes[WEATHER_PATH]).exists():
        raise InputError("weather", changes[WEATHER_PATH], "a weather file of this project")
    changes = {path: value for path, value in changes.items() if value != before[path]}
    if not changes:
        return design
    survey = project.survey
    document = _store(project, design, changes)
    if not force and project.survey != survey:
        _ask_others(project, design, survey)
    design.save(update_fields=["scheme"])
    after = {p: v if p == WEATHER_PATH else value_at(document, p) for p, v in changes.items()}
    before = {path: before[path] for path in changes}
    project.edits.filter(place__gt=project.cursor, dropped=False).update(dropped=True)
    project.cursor += 1
    one = next(iter(changes)) if len(changes) == 1 else ""
    Edit.objects.create(
        project=project,
        design=None if {p.split(".")[0] for p in changes} <= {*SURVEY, WEATHER_PATH} else design,
        place=project.cursor,
        revision=project.revision,
        path=one,
        before=before[one] if one else before,
        after=after[one] if one else after,
        author=author,
    )
    project.save()
    return design


def _why_not(survey: Document, design: Design) -> HeatError | None:
    """Why a design cannot be reckoned with a survey."""
    try:
        parse(joined(survey, design.scheme))
    except HeatError as error:
        return error
    return None


def _ask_others(project: Project, design: Design, before: Document) -> None:
    """Raises Needed where other designs in sight could be reckoned with the survey before, and cannot be any more."""
    broken = {}
    for other in project.designs.filter(archived=False).exclude(pk=design.pk):
        error = _why_not(project.survey, other)
        if error and _why_not(before, other) is None:
            broken[other.letter] = error
    if broken:
        raise Needed(list(broken), next(iter(broken.values())))


def previewed(*, design: Design, author: User, changes: dict[str, Any]) -> Design:
    """The design with values as they would be, in memory only. Raises InputError, KeyError."""
    ask(author, "edit", design.project)
    document = design.document()
    _store(design.project, design, {surveyed_path(document, path): value for path, value in changes.items()})
    design.project.revision -= 1
    return design


@transaction.atomic
def step_back(*, design: Design, author: User) -> tuple[Design, Edit | None]:
    """Undo the last edit of the project; None where there is none."""
    return _step(design, author, back=True)


@transaction.atomic
def step_forward(*, design: Design, author: User) -> tuple[Design, Edit | None]:
    """Redo the edit undone last; None where there is none."""
    return _step(design, author, back=False)


def _step(design: Design, author: User, *, back: bool) -> tuple[Design, Edit | None]:
    project = locked(design.project, author)
    place = project.cursor if back else project.cursor + 1
    edit = project.edits.filter(place=place, dropped=False).first()
    design = project.designs.select_for_update().get(pk=design.pk)
    design.project = project
    if edit is None:
        return design, None
    target = design
    if edit.design_id and edit.design_id != design.pk:
        target = project.designs.select_for_update().get(pk=edit.design_id)
        target.project = project
    kept = edit.before if back else edit.after
    _store(project, target, kept_values({edit.path: kept} if edit.path else dict(kept or {})), as_they_were)
    target.save(update_fields=["scheme"])
    project.cursor += -1 if back else 1
    project.save()
    return design, edit
