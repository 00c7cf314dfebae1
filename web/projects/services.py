"""Writes: each checks, changes and logs, in one transaction."""

import copy
from dataclasses import dataclass
from typing import Any

from django.db import transaction

from heat.design import Design as DesignDocument
from heat.design import parse
from heat.errors import InputError
from heat.weather.checks import checked
from heat.weather.readers import read_weather
from heat.weather.year import WeatherYear, shifted
from web.accounts.models import User
from web.projects.models import SCHEME, SURVEY, Design, Edit, Project, Version, WeatherFile
from web.projects.reckon import about, pack, weather_year

WEATHER_PATH = "weather"


@dataclass
class Conflict(Exception):
    """The value changed elsewhere after this page was drawn."""

    path: str
    current: Any
    edit: Edit | None


def value_at(document: dict[str, Any], path: str) -> Any:
    """The value at a dotted path; KeyError for none."""
    value: Any = document
    for name in path.split("."):
        try:
            value = value[int(name)] if isinstance(value, list) else value[name]
        except (KeyError, IndexError, ValueError, TypeError) as error:
            raise KeyError(path) from error
    return value


def with_value(document: dict[str, Any], path: str, value: Any) -> dict[str, Any]:
    """A copy of the document with one value replaced; KeyError for an unknown path."""
    value_at(document, path)
    changed = copy.deepcopy(document)
    *parents, last = path.split(".")
    holder: Any = changed
    for name in parents:
        holder = holder[int(name)] if isinstance(holder, list) else holder[name]
    if isinstance(holder, list):
        holder[int(last)] = value
    else:
        holder[last] = value
    return changed


def _locked(project: Project) -> Project:
    return Project.objects.select_for_update().get(pk=project.pk)


def _store(project: Project, design: Design, path: str, value: Any) -> None:
    """Write one accepted value into survey, scheme or weather, and count the revision."""
    if path == WEATHER_PATH:
        project.weather_id = value
    else:
        document = parse(with_value(design.document(), path, value)).model_dump(mode="json")
        project.survey = {part: document[part] for part in SURVEY}
        design.scheme = {part: document[part] for part in SCHEME}
        design.save(update_fields=["scheme"])
    project.revision += 1


@transaction.atomic
def create_project(
    *, owner: User, name: str, place: str, weather: WeatherYear, document: DesignDocument | None = None
) -> Project:
    """A new project, complete and computed from the first moment."""
    whole = (document or DesignDocument()).model_dump(mode="json")
    project = Project.objects.create(owner=owner, name=name, place=place, survey={part: whole[part] for part in SURVEY})
    design = Design.objects.create(
        project=project,
        letter="A",
        name="roof flat plate",
        scheme={part: whole[part] for part in SCHEME},
    )
    project.weather = add_weather(project=project, weather=weather)
    project.save()
    save_version(design=design, author=owner)
    return project


@transaction.atomic
def change_value(
    *, design: Design, author: User, path: str, value: Any, seen: Any = ..., force: bool = False
) -> Design:
    """Set one value of a design document.

    ``seen`` is what the page showed before: if the value has changed since, Conflict is raised
    unless ``force``. Raises InputError for a refused value, KeyError for an unknown path.
    """
    project = _locked(design.project)
    design = project.designs.select_for_update().get(pk=design.pk)
    design.project = project
    if path == WEATHER_PATH:
        before = project.weather_id
        if not project.weather_files.filter(pk=value).exists():
            raise InputError("weather", value, "a weather file of this project")
    else:
        before = value_at(design.document(), path)
    if seen is not ... and seen != before and value != before and not force:
        latest = project.edits.filter(path=path, dropped=False).order_by("-revision").first()
        raise Conflict(path, before, latest)
    if value == before:
        return design
    _store(project, design, path, value)
    if path != WEATHER_PATH:
        value = value_at(design.document(), path)
    project.edits.filter(place__gt=project.cursor, dropped=False).update(dropped=True)
    project.cursor += 1
    Edit.objects.create(
        project=project,
        design=None if path.split(".")[0] in (*SURVEY, WEATHER_PATH) else design,
        place=project.cursor,
        revision=project.revision,
        path=path,
        before=before,
        after=value,
        author=author,
    )
    project.save()
    return design


@transaction.atomic
def step_back(*, design: Design) -> tuple[Design, Edit | None]:
    """Undo the last edit of the project; None where there is none."""
    return _step(design, back=True)


@transaction.atomic
def step_forward(*, design: Design) -> tuple[Design, Edit | None]:
    """Redo the edit undone last; None where there is none."""
    return _step(design, back=False)


def _step(design: Design, *, back: bool) -> tuple[Design, Edit | None]:
    project = _locked(design.project)
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
    _store(project, target, edit.path, edit.before if back else edit.after)
    project.cursor += -1 if back else 1
    project.save()
    return design, edit


@transaction.atomic
def save_version(*, design: Design, author: User) -> Version:
    """Keep the design as it stands, as the base of the tally."""
    return Version.objects.create(
        design=design,
        document=design.document(),
        weather_id=design.project.weather_id,
        revision=design.project.revision,
        author=author,
    )


def add_weather(*, project: Project, weather: WeatherYear, raw: bytes = b"", offered_shift_h: int = 0) -> WeatherFile:
    """Keep a checked year with the project; the same year is kept once."""
    checksum = weather.checksum()
    known = project.weather_files.filter(checksum=checksum).first()
    if known:
        return known
    return WeatherFile.objects.create(
        project=project, name=weather.name[:120], kind=weather.kind, made_up=weather.made_up,
        raw=raw, data=pack(weather), about=about(weather), checksum=checksum,
        offered_shift_h=offered_shift_h,
    )  # fmt: skip


@transaction.atomic
def upload_weather(*, design: Design, author: User, name: str, raw: bytes, take_place: bool) -> WeatherFile:
    """Read, check and keep an uploaded year, use it, and move the site to its place if wished.

    Raises WeatherFileError where the file cannot be used.
    """
    weather, clock = checked(read_weather(name, raw))
    file = add_weather(
        project=design.project, weather=weather, raw=raw,
        offered_shift_h=clock.best_shift_h if clock.off else 0,
    )  # fmt: skip
    design = change_value(design=design, author=author, path=WEATHER_PATH, value=file.pk)
    if take_place:
        for field in ("latitude_deg", "longitude_deg", "elevation_m"):
            change_value(design=design, author=author, path=f"site.{field}", value=getattr(weather, field))
        if weather.latitude_deg < 0 < design.scheme["plane"]["azimuth_deg"] == 180:
            change_value(design=design, author=author, path="plane.azimuth_deg", value=0)
    return file


@transaction.atomic
def shift_weather(*, design: Design, author: User, file: WeatherFile) -> WeatherFile:
    """Use the same year with its clock moved as offered; the old one stays in the list."""
    moved = shifted(weather_year(file), file.offered_shift_h)
    notes = tuple(n for n in moved.notes if "stamps may be UTC" not in n.text)
    moved, clock = checked(
        type(moved)(**{**moved.__dict__, "name": f"{file.name}, moved {file.offered_shift_h:+d} h", "notes": notes})
    )
    kept = add_weather(
        project=design.project, weather=moved, raw=bytes(file.raw),
        offered_shift_h=clock.best_shift_h if clock.off else 0,
    )  # fmt: skip
    change_value(design=design, author=author, path=WEATHER_PATH, value=kept.pk)
    return kept
