"""Projects, their designs and saved versions: begun, copied, named, put away."""

from django.db import transaction

from heat.common.documents import Document
from heat.design import Design as DesignDocument
from heat.design import parse
from heat.design.changing import with_changes
from heat.errors import InputError
from heat.weather.year import WeatherYear
from web.accounts.models import User
from web.places.where import Place
from web.projects.climates import merrow_coast, rough_there
from web.projects.documents import SCHEME, place_changes, scheme_of, served, survey_of
from web.projects.local_money import local_money
from web.projects.models import Design, Project, Version
from web.projects.permissions import locked, require
from web.projects.services.edits import change_values
from web.projects.services.weather import add_weather
from web.ui.rows import Row

LEAST_TILT_DEG, MOST_TILT_DEG = 15.0, 45.0
"""A roof's tilt where none was given is the latitude, within these (deg). Source: the all-year rule of thumb."""


@transaction.atomic
def create_project(
    *, owner: User, name: str, place: str, weather: WeatherYear, document: DesignDocument | None = None
) -> Project:
    """A new project, complete and computed from the first moment."""
    whole = (document or DesignDocument()).model_dump(mode="json")
    project = Project.objects.create(owner=owner, name=name, place=place, survey=survey_of(whole))
    design = Design.objects.create(project=project, letter="A", name="roof flat plate", scheme=scheme_of(whole))
    project.weather = add_weather(project=project, author=owner, weather=weather)
    project.save()
    save_version(design=design, author=owner)
    return project


def begin_project(*, owner: User, name: str, place: Place | None, book: str = "EUR") -> Project:
    """A new project in the rough climate and the currency of its place, its owner's price book in ``book``; or to try
    things out in a made-up climate where no place is given."""
    if place is None:
        return create_project(owner=owner, name=name or "Trying things out", place="", weather=merrow_coast())
    document = DesignDocument().model_dump(mode="json")
    tilt = min(max(5.0 * round(abs(place.latitude_deg) / 5.0), LEAST_TILT_DEG), MOST_TILT_DEG)
    changes = place_changes(document, place.site) | {"plane.tilt_deg": tilt} | local_money(place.words, book)
    return create_project(
        owner=owner,
        name=name or place.words.split(",")[0][:80],
        place=place.words[:80],
        weather=rough_there(place.site, place.words),
        document=parse(with_changes(document, changes)),
    )


@transaction.atomic
def save_version(*, design: Design, author: User, note: str = "") -> Version:
    """Keep the design as it stands, with a note, as the base of the tally."""
    require(author, "edit", design.project)
    assert design.project.weather_id is not None
    return Version.objects.create(
        design=design,
        note=note.replace("\0", "").strip()[:200],
        document=design.document(),
        weather_id=design.project.weather_id,
        revision=design.project.revision,
        author=author,
    )


LETTERS = "ABCDEFGHIJKLMNOPQRSTUVWXYZ"


def next_letter(project: Project) -> str:
    """The next free letter. Raises InputError where all are taken."""
    taken = set(project.designs.values_list("letter", flat=True))
    free = next((letter for letter in LETTERS if letter not in taken), None)
    if free is None:
        raise InputError(
            "design", None, "all 26 letters are taken: delete a project's old designs or begin a new project"
        )
    return free


@transaction.atomic
def begin_design(*, design: Design, author: User, name: str, note: str, document: Document, wanted: Row) -> Design:
    """A new design under the next free letter, saved as its own base; what is wanted of the survey is one edit.

    ``document``: whole or a scheme alone.
    Raises InputError where all letters are taken or a value is refused.
    """
    if wanted:
        design = change_values(design=design, author=author, changes=wanted)
    project = locked(design.project, author)
    fresh = Design.objects.create(
        project=project,
        letter=next_letter(project),
        name=name[:60],
        note=note[:2000],
        scheme=scheme_of(document),
        place=1 + max(project.designs.values_list("place", flat=True), default=0),
    )
    fresh.project = design.project
    served(parse(fresh.document()))
    save_version(design=fresh, author=author)
    return fresh


@transaction.atomic
def move_design(*, design: Design, author: User, by: int) -> None:
    """Move a design's tab among those in sight, to the left (-1) or the right (1)."""
    project = locked(design.project, author)
    row = [*project.designs.filter(archived=False), *project.designs.filter(archived=True)]
    at = next(i for i, d in enumerate(row) if d.pk == design.pk)
    to = min(max(at + by, 0), len(row) - 1)
    row.insert(to, row.pop(at))
    for place, other in enumerate(row):
        Design.objects.filter(pk=other.pk).update(place=place)


@transaction.atomic
def copy_design(*, design: Design, author: User) -> Design:
    """A copy under the next free letter, saved as its own base. Raises InputError where all letters are taken."""
    project = locked(design.project, author)
    free = next_letter(project)
    name = design.name if design.name.startswith("copy of ") else f"copy of {design.name}"
    fresh = Design.objects.create(
        project=project,
        letter=free,
        name=name[:60],
        note=design.note,
        scheme=design.scheme,
        place=1 + max(project.designs.values_list("place", flat=True), default=0),
    )
    fresh.project = design.project
    save_version(design=fresh, author=author)
    return fresh


def return_to(*, design: Design, author: User, version: Version) -> Design:
    """Bring a saved version's scheme back, as one edit that can be undone; the survey stays as it is."""
    document = version.whole()
    return change_values(design=design, author=author, changes={part: document[part] for part in SCHEME})


@transaction.atomic
def describe_design(*, design: Design, author: User, name: str, note: str) -> Design:
    """Name a design and keep a note with it; an empty name leaves the old one."""
    require(author, "edit", design.project)
    design.name = name.replace("\0", "").strip()[:60] or design.name
    design.note = note.replace("\0", "").strip()[:2000]
    design.save(update_fields=["name", "note"])
    return design


@transaction.atomic
def archive_design(*, design: Design, author: User, archived: bool) -> None:
    """Put a design away or bring it back. Raises InputError for the last one in sight."""
    project = locked(design.project, author)
    if archived and not project.designs.filter(archived=False).exclude(pk=design.pk).exists():
        raise InputError("design", None, "it is the only design in sight: copy it first")
    design.archived = archived
    design.save(update_fields=["archived"])
