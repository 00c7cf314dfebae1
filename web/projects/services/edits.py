"""Edits of a design: each is checked, made and logged in one transaction; undo and redo walk along them."""

from collections.abc import Callable
from contextlib import nullcontext
from dataclasses import dataclass
from functools import wraps
from typing import Any, ParamSpec, TypeVar

from django.db import connection, transaction
from django.db.models import Q

from heat.common.documents import Document, Values, value_at
from heat.common.tables import reading
from heat.design import parse
from heat.errors import HeatError, InputError
from heat.studies.following import litres_following
from web.accounts.models import User
from web.projects.documents import SURVEY, as_they_were, joined, survey_of, surveyed_path, upgraded_values, with_values
from web.projects.models import Design, Edit
from web.projects.permissions import design_in, locked_design, need_of, require
from web.ui.rows import Row

Params = ParamSpec("Params")
Answer = TypeVar("Answer")
KIND_PATH, EDITS_LOOKED_AT = "system.kind", 300
WEATHER_PATH, PLACE_PATH = "weather", "place"
OF_PROJECT = {WEATHER_PATH: "weather_id", PLACE_PATH: "place"}
"""Paths of an edit that lie with the project, not in a document, and the field that holds each."""
WALKED = ("weather", "place", "revision", "cursor", "undone", "changed")
"""What an edit moves with the project besides its survey."""


@dataclass
class Conflict(Exception):
    """The value changed elsewhere after this page was drawn."""

    path: str
    current: Any


@dataclass
class OfAnother(Exception):
    """The edit that would be undone is another person's."""

    edit: Edit


@dataclass
class Needed(Exception):
    """Other designs of the project would not be calculated any more, by letter, with the reason of the first."""

    letters: list[str]
    reason: HeatError


def _changed(design: Design, changes: Values, made: Callable[[Document, Values], Document] = with_values) -> Document:
    """The document with values as they would be; the design stays as it is."""
    inside = {path: value for path, value in changes.items() if path not in OF_PROJECT}
    return made(design.document(), inside) if inside else design.document()


def _take(design: Design, changes: Values, document: Document) -> None:
    """Take a changed document into survey, scheme and weather, unsaved, and count the revision."""
    project = design.project
    if set(changes) - set(OF_PROJECT):
        design.take(document)
    for path in set(changes) & set(OF_PROJECT):
        setattr(project, OF_PROJECT[path], changes[path])
    project.revision += 1


def all_or_nothing(service: Callable[Params, Answer]) -> Callable[Params, Answer]:
    """In a transaction of its own, or in that of whoever asks and without a savepoint in it: what such a service
    refuses, it refuses before it writes."""

    @wraps(service)
    def requested(*args: Params.args, **kwargs: Params.kwargs) -> Answer:
        with nullcontext() if connection.in_atomic_block else transaction.atomic():
            return service(*args, **kwargs)

    return requested


@all_or_nothing
def change_values(
    *, design: Design, author: User, changes: Values, expected: Row | None = None, force: bool = True
) -> Design:
    """Set values of a design document as one edit, undone as one.

    ``seen`` is what the page showed before: Conflict is raised where that has changed since. Without ``force``, Needed
    is raised where another design in sight would no longer be calculated. Raises InputError for a refused value,
    KeyError for an unknown path.
    """
    design = locked_design(design, author, "survey")
    project, document = design.project, design.document()
    require(author, need_of(surveyed_path(document, path) for path in changes), project)
    for path, value in (expected or {}).items():
        now = value_at(document, path)
        if now not in (value, changes.get(path)):
            raise Conflict(path, now)
    changes = {surveyed_path(document, path): value for path, value in changes.items()}
    changes |= litres_following(document, changes)
    valid = lambda p: getattr(project, OF_PROJECT[p]) if p in OF_PROJECT else value_at(document, p)
    before = {path: valid(path) for path in changes}
    if WEATHER_PATH in changes and not project.weather_files.filter(pk=changes[WEATHER_PATH]).exists():
        raise InputError("weather", changes[WEATHER_PATH], "a weather file of this project")
    changes = {path: value for path, value in changes.items() if value != before[path]}
    if not changes:
        return design
    document = _changed(design, changes)
    if not force and survey_of(document) != survey_of(design.document()):
        _require_consent_of_others(design, survey_of(document))
    surveyed = survey_of(document) != project.survey
    _take(design, changes, document)
    design.save(update_fields=["scheme"])
    after = {path: valid(path) for path in changes}
    before = {path: before[path] for path in changes}
    if project.undone:
        project.edits.filter(place__gt=project.cursor, dropped=False).update(dropped=True)
        project.undone = 0
    project.cursor += 1
    one = next(iter(changes)) if len(changes) == 1 else ""
    Edit.objects.create(
        project=project,
        design=None if {p.split(".")[0] for p in changes} <= {*SURVEY, *OF_PROJECT} else design,
        place=project.cursor,
        revision=project.revision,
        path=one,
        before=before[one] if one else before,
        after=after[one] if one else after,
        author=author,
    )
    project.save(update_fields=[*(["survey"] if surveyed else []), *WALKED])
    return design


def as_typed_before(design: Design, changes: Values) -> Values:
    """The changes to another kind of system, with what stood when the design last was of that kind.

    Only what changes of kind alone have moved since comes back; what was typed in between stays.
    """
    kind = changes.get(KIND_PATH)
    if kind is None:
        return changes
    project, back, typed = design.project, Values(), set()
    edits = project.edits.filter(dropped=False, place__lte=project.cursor).filter(Q(design=design) | Q(design=None))
    for edit in edits.order_by("-place")[:EDITS_LOOKED_AT]:
        before = {edit.path: edit.before} if edit.path else dict(edit.before or {})
        if KIND_PATH not in before:
            typed |= set(before)
            continue
        back |= {path: value for path, value in before.items() if path not in typed and path not in OF_PROJECT}
        if before[KIND_PATH] == kind:
            return changes | upgraded_values(back)
    return changes


def _why_not(survey: Document, design: Design) -> HeatError | None:
    """Why a design cannot be calculated with a survey."""
    try:
        parse(joined(survey, design.scheme))
    except HeatError as error:
        return error
    return None


def _require_sound(design: Design, document: Document) -> None:
    """Raises HeatError where a step along the edits would spoil a design that is sound now: an edit that came in with
    a file may hold anything."""
    try:
        parse(document)
    except HeatError as error:
        try:
            parse(design.document())
        except HeatError:
            return  # it is not sound now: any step may be a way out
        raise HeatError(f"Not done: with what this edit stored the design would be refused. {error}") from error


def _require_consent_of_others(design: Design, survey: Document) -> None:
    """Raises Needed where other designs in sight can be calculated as things stand, and could not be with a survey."""
    broken = {}
    for other in design.project.designs.all():
        if other.archived or other.pk == design.pk:
            continue
        error = _why_not(survey, other)
        if error and _why_not(design.project.survey, other) is None:
            broken[other.letter] = error
    if broken:
        raise Needed(list(broken), next(iter(broken.values())))


def previewed(*, design: Design, author: User, changes: Values) -> Design:
    """The design with values as they would be, in memory only. Raises InputError, KeyError."""
    document = design.document()
    changes = {surveyed_path(document, path): value for path, value in changes.items()}
    require(author, need_of(changes), design.project)
    _take(design, changes, _changed(design, changes))
    design.project.revision -= 1
    return design


@all_or_nothing
def step_back(*, design: Design, author: User) -> tuple[Design, Edit | None]:
    """Undo the last edit of the project; None where there is none. Raises OfAnother for what another person edited,
    HeatError for an edit that came in with a file and stored what no design holds."""
    return _step(design, author, back=True)


@all_or_nothing
def step_forward(*, design: Design, author: User) -> tuple[Design, Edit | None]:
    """Redo the edit undone last; None where there is none."""
    return _step(design, author, back=False)


def _step(design: Design, author: User, *, back: bool) -> tuple[Design, Edit | None]:
    design = locked_design(design, author, "survey")
    project = design.project
    place = project.cursor if back else project.cursor + 1
    edit = project.edits.filter(place=place, dropped=False).first()
    if edit is None:
        return design, None
    if back and edit.author_id not in (None, author.pk):
        raise OfAnother(edit)
    require(author, need_of([edit.path] if edit.path else (edit.before or {})), project)
    target = design_in(project, edit.design_id) if edit.design_id else design
    stored = edit.before if back else edit.after
    with reading("", "What this edit stored", HeatError):
        changes = upgraded_values({edit.path: stored} if edit.path else dict(stored or {}))
        document = _changed(target, changes, as_they_were)
    _require_sound(target, document)
    _take(target, changes, document)
    target.save(update_fields=["scheme"])
    project.cursor += -1 if back else 1
    project.undone += 1 if back else -1
    project.save()
    return design, edit
