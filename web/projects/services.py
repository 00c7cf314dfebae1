"""Writes: each checks, changes and logs, in one transaction."""

from dataclasses import dataclass
from typing import Any

from django.db import transaction

from heat.design import Design as DesignDocument
from heat.design import parse
from heat.design.changing import with_changes
from heat.errors import InputError
from heat.weather.checks import checked
from heat.weather.columns import ColumnMap
from heat.weather.readers import read_weather
from heat.weather.year import WeatherYear, shifted
from web.accounts.models import User
from web.projects.models import SCHEME, SURVEY, SURVEYED, Design, Edit, Project, Upload, Version, WeatherFile, placed
from web.projects.reckon import about, pack, weather_year

WEATHER_PATH = "weather"


@dataclass
class Conflict(Exception):
    """The value changed elsewhere after this page was drawn."""

    path: str
    current: Any


def value_at(document: dict[str, Any], path: str) -> Any:
    """The value at a dotted path; KeyError for none."""
    value: Any = document
    for name in path.split("."):
        try:
            value = value[int(name)] if isinstance(value, list) else value[name]
        except (KeyError, IndexError, ValueError, TypeError) as error:
            raise KeyError(path) from error
    return value


def _locked(project: Project) -> Project:
    return Project.objects.select_for_update().get(pk=project.pk)


def surveyed_path(document: dict[str, Any], path: str) -> str:
    """Where a value is kept: tilt, bearing and edge of a design's plane lie with the surveyed plane it stands on."""
    first, _, name = path.partition(".")
    if first == "plane" and name.split(".")[0] in SURVEYED:
        for index, plane in enumerate(document["site"]["planes"]):
            if plane["key"] == document["plane"]["on"]:
                return f"site.planes.{index}.{name}"
    return path


def with_values(document: dict[str, Any], changes: dict[str, Any]) -> dict[str, Any]:
    """A valid document with values replaced, each at its path. Raises InputError, KeyError."""
    return parse(placed(with_changes(document, changes))).model_dump(mode="json")


def _store(project: Project, design: Design, changes: dict[str, Any]) -> dict[str, Any]:
    """Take accepted values into survey, scheme and weather, unsaved, and count the revision; the document then."""
    document = design.document()
    inside = {path: value for path, value in changes.items() if path != WEATHER_PATH}
    if inside:
        document = with_values(document, inside)
        project.survey = {part: document[part] for part in SURVEY}
        design.scheme = {part: document[part] for part in SCHEME}
    if WEATHER_PATH in changes:
        project.weather_id = changes[WEATHER_PATH]
    project.revision += 1
    return document


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
def change_values(
    *, design: Design, author: User, changes: dict[str, Any], seen: dict[str, Any] | None = None
) -> Design:
    """Set values of a design document as one edit, undone as one.

    ``seen`` is what the page showed before: Conflict is raised where that has changed since. Raises
    InputError for a refused value, KeyError for an unknown path.
    """
    project = _locked(design.project)
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
    document = _store(project, design, changes)
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


def previewed(*, design: Design, changes: dict[str, Any]) -> Design:
    """The design with values as they would be, in memory only. Raises InputError, KeyError."""
    document = design.document()
    _store(design.project, design, {surveyed_path(document, path): value for path, value in changes.items()})
    design.project.revision -= 1
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
    kept = edit.before if back else edit.after
    _store(project, target, {edit.path: kept} if edit.path else kept)
    target.save(update_fields=["scheme"])
    project.cursor += -1 if back else 1
    project.save()
    return design, edit


@transaction.atomic
def save_version(*, design: Design, author: User, note: str = "") -> Version:
    """Keep the design as it stands, with a note, as the base of the tally."""
    return Version.objects.create(
        design=design,
        note=note.replace("\0", "").strip()[:200],
        document=design.document(),
        weather_id=design.project.weather_id,
        revision=design.project.revision,
        author=author,
    )


UPLOADS_KEPT = 20


@transaction.atomic
def keep_upload(upload: Upload) -> None:
    """Keep a table on its way in; a project holds the last twenty, the oldest give way."""
    upload.save()
    newest = upload.project.uploads.order_by("-pk").values_list("pk", flat=True)[:UPLOADS_KEPT]
    upload.project.uploads.exclude(pk__in=list(newest)).delete()


LETTERS = "ABCDEFGHIJKLMNOPQRSTUVWXYZ"


def _next_letter(project: Project) -> str:
    """The next free letter. Raises InputError where all are taken."""
    taken = set(project.designs.values_list("letter", flat=True))
    free = next((letter for letter in LETTERS if letter not in taken), None)
    if free is None:
        raise InputError(
            "design", None, "all 26 letters are taken: delete a project's old designs or begin a new project"
        )
    return free


@transaction.atomic
def begin_design(
    *, design: Design, author: User, name: str, note: str, scheme: dict[str, Any], wanted: dict[str, Any]
) -> Design:
    """A new design under the next free letter, saved as its own base; what is wanted of the survey is one edit.

    Raises InputError where all letters are taken or a value is refused.
    """
    if wanted:
        design = change_values(design=design, author=author, changes=wanted)
    project = _locked(design.project)
    fresh = Design.objects.create(
        project=project, letter=_next_letter(project), name=name[:60], note=note[:2000], scheme=scheme,
        place=1 + max(project.designs.values_list("place", flat=True), default=0),
    )  # fmt: skip
    fresh.project = design.project
    parse(fresh.document())
    save_version(design=fresh, author=author)
    return fresh


@transaction.atomic
def move_design(*, design: Design, by: int) -> None:
    """Move a design's tab among those in sight, to the left (-1) or the right (1)."""
    project = _locked(design.project)
    row = [*project.designs.filter(archived=False), *project.designs.filter(archived=True)]
    at = next(i for i, d in enumerate(row) if d.pk == design.pk)
    to = min(max(at + by, 0), len(row) - 1)
    row.insert(to, row.pop(at))
    for place, other in enumerate(row):
        Design.objects.filter(pk=other.pk).update(place=place)


@transaction.atomic
def copy_design(*, design: Design, author: User) -> Design:
    """A copy under the next free letter, saved as its own base. Raises InputError where all letters are taken."""
    project = _locked(design.project)
    free = _next_letter(project)
    name = design.name if design.name.startswith("copy of ") else f"copy of {design.name}"
    fresh = Design.objects.create(
        project=project, letter=free, name=name[:60], note=design.note, scheme=design.scheme,
        place=1 + max(project.designs.values_list("place", flat=True), default=0),
    )  # fmt: skip
    fresh.project = design.project
    save_version(design=fresh, author=author)
    return fresh


def return_to(*, design: Design, author: User, version: Version) -> Design:
    """Bring a saved version's scheme back, as one edit that can be undone; the survey stays as it is."""
    return change_values(design=design, author=author, changes={part: version.document[part] for part in SCHEME})


@transaction.atomic
def describe_design(*, design: Design, name: str, note: str) -> Design:
    """Name a design and keep a note with it; an empty name leaves the old one."""
    design.name = name.replace("\0", "").strip()[:60] or design.name
    design.note = note.replace("\0", "").strip()[:2000]
    design.save(update_fields=["name", "note"])
    return design


@transaction.atomic
def archive_design(*, design: Design, archived: bool) -> None:
    """Put a design away or bring it back. Raises InputError for the last one in sight."""
    project = _locked(design.project)
    if archived and not project.designs.filter(archived=False).exclude(pk=design.pk).exists():
        raise InputError("design", None, "it is the only design in sight: copy it first")
    design.archived = archived
    design.save(update_fields=["archived"])


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


def place_changes(document: dict[str, Any], place: dict[str, float]) -> dict[str, Any]:
    """Moving a site (deg, m): planes that face the equator exactly turn with it when it is crossed."""
    changes: dict[str, Any] = {f"site.{name}": value for name, value in place.items()}
    was, now = document["site"]["latitude_deg"], place.get("latitude_deg", document["site"]["latitude_deg"])
    if (was < 0) == (now < 0):
        return changes
    old, new = (0.0, 180.0) if was < 0 else (180.0, 0.0)
    for index, plane in enumerate(document["site"]["planes"]):
        if plane["azimuth_deg"] % 360.0 == old:
            changes[f"site.planes.{index}.azimuth_deg"] = new
    if document["plane"]["azimuth_deg"] % 360.0 == old and not document["plane"]["on"]:
        changes["plane.azimuth_deg"] = new
    for index, tree in enumerate(document["site"]["trees"]):
        months = tree["leaf_months"]
        changes[f"site.trees.{index}.leaf_months"] = months[6:] + months[:6]
    return changes


def file_place(file: WeatherFile) -> dict[str, float]:
    """Where a weather year was made (deg, m)."""
    return {name: file.about[name] for name in ("latitude_deg", "longitude_deg", "elevation_m")}


def use_weather(*, design: Design, author: User, file: WeatherFile, take_place: bool) -> Design:
    """Reckon with a kept year, and move the site to its place if wished: one edit."""
    changes: dict[str, Any] = {WEATHER_PATH: file.pk}
    if take_place:
        changes |= place_changes(design.document(), file_place(file))
    return change_values(design=design, author=author, changes=changes)


def read_upload(*, design: Design, name: str, raw: bytes, columns: ColumnMap | None = None) -> WeatherFile:
    """Read, check and keep an uploaded year beside the one in use. Raises WeatherFileError where it cannot be used."""
    weather, clock = checked(read_weather(name, raw, columns))
    return add_weather(
        project=design.project, weather=weather, raw=raw, offered_shift_h=clock.best_shift_h if clock.off else 0
    )


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
    if design.project.weather_id == file.pk:
        change_values(design=design, author=author, changes={WEATHER_PATH: kept.pk})
    return kept
