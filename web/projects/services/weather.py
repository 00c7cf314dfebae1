"""Weather years and tables that come in and are kept with a project."""

from dataclasses import replace

from django.conf import settings
from django.db import transaction
from django.db.models import Func, IntegerField, Q, Sum

from heat.common.documents import Values
from heat.errors import WeatherFileError
from heat.weather.checks import checked
from heat.weather.columns import ColumnMap
from heat.weather.readers import read_weather
from heat.weather.world import KIND
from heat.weather.year import Note, WeatherYear, shifted
from web.accounts.models import User
from web.places.where import Place
from web.projects.climates import rough_there
from web.projects.documents import place_changes
from web.projects.models import Design, Project, Upload, WeatherFile
from web.projects.permissions import require
from web.projects.services.edits import PLACE_PATH, WEATHER_PATH, change_values
from web.projects.weather_files import about, pack, unpacked
from web.ui.rows import Row

UPLOADS_STORED = 20


class OctetLength(Func):
    """Bytes of a column, counted where it is kept."""

    function = "OCTET_LENGTH"
    output_field = IntegerField()


def stored_bytes(firm: int | None = None, owner: int | None = None) -> int:
    """Bytes of uploads kept with a firm's projects, or with a person's own."""
    counts = Q(project__firm=firm) if firm else Q(project__owner=owner, project__firm=None)
    return sum(
        rows.filter(counts).aggregate(bytes=Sum(OctetLength("raw")))["bytes"] or 0
        for rows in (WeatherFile.objects.all(), Upload.objects.all())
    )


def require_space(project: Project, more: int) -> None:
    """Raises WeatherFileError where so many bytes more would pass what one person, or a firm, may keep."""
    firm = project.firm_id
    whose, quota = ("a firm", settings.FIRM_QUOTA) if firm else ("one person", settings.QUOTA)
    used = stored_bytes(firm, project.owner_id)
    if used + more > quota:
        raise WeatherFileError(
            "Upload",
            f"{used / 1e6:.0f} MB are kept of the {quota / 1e6:.0f} MB {whose} may keep.",
            way_out="Delete years that are not needed: they are swept away some days later, or at once by whoever runs "
            "this server.",
        )


@transaction.atomic
def store_upload(*, upload: Upload, author: User) -> None:
    """Keep a table on its way in; a project holds the last twenty, the oldest give way."""
    require(author, "survey", upload.project)
    require_space(upload.project, len(upload.raw))
    upload.save()
    newest = upload.project.uploads.order_by("-pk").values_list("pk", flat=True)[:UPLOADS_STORED]
    upload.project.uploads.exclude(pk__in=list(newest)).delete()


def add_weather(
    *, project: Project, author: User, weather: WeatherYear, raw: bytes = b"", offered_shift_h: int = 0
) -> WeatherFile:
    """Keep a checked year with the project; the same year is kept once."""
    require(author, "survey", project)
    weather = replace(weather, name=storable(weather.name), notes=tuple(_storable_note(n) for n in weather.notes))
    checksum = weather.checksum()
    known = project.weather_files.filter(checksum=checksum).first()
    if known:
        if known.deleted:
            WeatherFile.objects.filter(pk=known.pk).update(deleted=None)
        return known
    require_space(project, len(raw))
    return WeatherFile.objects.create(
        project=project,
        name=weather.name[:120],
        kind=weather.kind,
        made_up=weather.made_up,
        raw=raw,
        data=pack(weather),
        about=about(weather),
        checksum=checksum,
        offered_shift_h=offered_shift_h,
    )


def storable(text: str) -> str:
    """A text as a database holds it: without what is no letter."""
    return text.replace("\0", "").encode("utf-8", "replace").decode()


def _storable_note(note: Note) -> Note:
    return replace(note, text=storable(note.text))


def file_place(file: WeatherFile) -> dict[str, float]:
    """Where a weather year was made (deg, m)."""
    return {name: file.about[name] for name in ("latitude_deg", "longitude_deg", "elevation_m")}


def use_weather(*, design: Design, author: User, file: WeatherFile, take_place: bool) -> Design:
    """Calculate with a kept year, and move the site to its place if wished: one edit."""
    changes: dict[str, object] = {WEATHER_PATH: file.pk}
    if take_place:
        changes |= place_changes(design.document(), file_place(file))
    return change_values(design=design, author=author, changes=changes)


def move_site(*, design: Design, author: User, place: Place) -> Values:
    """The changes of moving the site to a place; weather that is no file's becomes the rough climate of it.

    Raises InputError beyond the latitudes a site may have.
    """
    changes = place_changes(design.document(), place.site) | {PLACE_PATH: place.words[:80]}
    file = design.project.weather
    if file is None or file.made_up or file.kind == KIND:
        changes |= rough_changes(design, author, place.site, place.words)
    return changes


def rough_changes(design: Design, author: User, site: Row, words: str) -> Values:
    """The rough climate of a site (deg, m), kept with the project, as a change of its weather."""
    made = rough_there(site, words)
    return {WEATHER_PATH: add_weather(project=design.project, author=author, weather=made).pk}


def read_upload(
    *, design: Design, author: User, name: str, raw: bytes, columns: ColumnMap | None = None
) -> WeatherFile:
    """Read, check and keep an uploaded year beside the one in use. Raises WeatherFileError where it cannot be used."""
    weather, clock = checked(read_weather(name, raw, columns))
    return add_weather(
        project=design.project,
        author=author,
        weather=weather,
        raw=raw,
        offered_shift_h=clock.best_shift_h if clock.off else 0,
    )


@transaction.atomic
def shift_weather(*, design: Design, author: User, file: WeatherFile) -> WeatherFile:
    """Use the same year with its clock moved as offered; the old one stays in the list."""
    moved = shifted(unpacked(file), file.offered_shift_h)
    notes = tuple(n for n in moved.notes if "stamps may be UTC" not in n.text)
    moved, clock = checked(
        type(moved)(**{**moved.__dict__, "name": f"{file.name}, moved {file.offered_shift_h:+d} h", "notes": notes})
    )
    stored = add_weather(
        project=design.project,
        author=author,
        weather=moved,
        raw=bytes(file.raw),
        offered_shift_h=clock.best_shift_h if clock.off else 0,
    )
    if design.project.weather_id == file.pk:
        change_values(design=design, author=author, changes={WEATHER_PATH: stored.pk})
    return stored


def store_layout(*, upload: Upload, author: User, layout: dict[str, object]) -> None:
    """Store what a table's columns hold."""
    require(author, "survey", upload.project)
    upload.layout = layout
    upload.save(update_fields=["layout"])


def store_draft(*, project: Project, author: User, name: str, values: dict[str, str]) -> None:
    """Keep a form half typed with the project."""
    require(author, "survey", project)
    project.drafts = {**project.drafts, name: {key: text.replace("\0", "") for key, text in values.items()}}
    project.save(update_fields=["drafts"])
