"""A project as one file, taken to another account or machine and brought back: a zip of open formats.

The format is described in docs/format.md. What comes in is checked before anything is kept: names, sizes, checksums,
version, every document and every hour of weather.
"""

import io
import json
import re
import zipfile
from datetime import datetime
from hashlib import sha256
from typing import Any

import numpy as np
from django.db import transaction
from django.utils import timezone

from heat.common.documents import Values
from heat.common.tables import reading
from heat.design import current_path, current_values, parse
from heat.errors import HeatError
from heat.weather.year import COLUMNS, Note, WeatherYear
from web.accounts.models import User
from web.projects.archive_shapes import unlike
from web.projects.documents import joined, scheme_of, served, survey_of
from web.projects.models import Design, Edit, Project, Version, WeatherFile
from web.projects.services.designs import LETTERS
from web.projects.services.weather import add_weather
from web.projects.weather_files import about, unpacked
from web.ui.rows import Row

FORMAT = 1
"""Version of the format that is written; files of later versions are refused."""
MOST_BYTES, MOST_WHOLE = 40_000_000, 120_000_000
"""Largest file taken, and what it may hold unpacked (bytes)."""
MOST_WEATHER, MOST_EDITS, MOST_VERSIONS = 24, 20_000, 500
NAMES = re.compile(
    r"README\.txt|project\.json|log\.json|logs\.json|prices\.csv|checksums\.txt|weather/\d{1,2}\.(csv|json|upload)"
)
ARRAYS = (*COLUMNS, "infrared_w_m2")
BOUNDS = {
    "ghi_w_m2": (0, 2000), "dni_w_m2": (0, 2000), "dhi_w_m2": (0, 1500), "air_c": (-90, 70), "wind_m_s": (0, 120),
    "humidity_pct": (0, 110), "pressure_pa": (30_000, 120_000), "infrared_w_m2": (0, 800),
}  # fmt: skip
"""What an hour of weather may be, each in its own unit."""
PLACE = {
    "latitude_deg": (-90, 90),
    "longitude_deg": (-180, 180),
    "elevation_m": (-500, 9000),
    "utc_offset_h": (-14, 14),
    "sun_moment_h": (0, 1),
}
README = """A project of Red Ledger, format {format}: {name}

project.json   name, place, survey, designs with their versions and what was answered of their cautions
log.json       every edit, in its order
weather/N.csv  8,760 hours, a row each, named by their start, local standard time; units end the names
weather/N.json where and what the year is; weather/N.upload is the table it was read from, where there was one
logs.json      what was read at the built system, where there is such a log
prices.csv     the price book, as the price book's page takes it back
checksums.txt  SHA-256 of every other file

Documents follow docs/design.schema.json of the application, the files docs/project.schema.json, log.schema.json and
weather.schema.json. A file is brought back on the list of projects.
"""


class NoProjectFile(HeatError):
    """A file that is no project, or none that can be taken, in words."""


def project_file(project: Project, prices_csv: str = "", logs: bytes = b"") -> bytes:
    """The whole project as a zip; the same project gives the same bytes but for its moment."""
    files = list(WeatherFile.objects.defer(None).filter(project=project, deleted=None).order_by("pk"))
    index = {file.pk: number for number, file in enumerate(files, start=1)}
    members = {
        "README.txt": README.format(format=FORMAT, name=project.name).encode(),
        "project.json": _json(_project(project, index)),
        "log.json": _json(_log(project)),
    }
    if prices_csv:
        members["prices.csv"] = prices_csv.encode()
    if logs:
        members["logs.json"] = logs
    for file in files:
        stem = f"weather/{index[file.pk]}"
        year = unpacked(file)
        member = {"name": file.name, "kind": file.kind, "made_up": file.made_up, "shift_h": file.offered_shift_h}
        members |= {f"{stem}.csv": _hours(year), f"{stem}.json": _json(member | about(year))}
        if file.raw:
            members[f"{stem}.upload"] = bytes(file.raw)
    sums = "".join(f"{sha256(raw).hexdigest()}  {name}\n" for name, raw in sorted(members.items()))
    members["checksums.txt"] = sums.encode()
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        for name in sorted(members):
            packed.writestr(zipfile.ZipInfo(name, (1980, 1, 1, 0, 0, 0)), members[name], zipfile.ZIP_DEFLATED)
    return out.getvalue()


def _json(value: Any) -> bytes:
    return (json.dumps(value, indent=1, sort_keys=True) + "\n").encode()


def _project(project: Project, index: dict[int, int]) -> dict[str, object]:
    return {
        "format": FORMAT,
        "name": project.name,
        "place": project.place,
        "survey": project.survey,
        "weather": index.get(project.weather_id or 0),
        "revision": project.revision,
        "cursor": project.cursor,
        "undone": project.undone,
        "designs": [
            {
                "letter": d.letter,
                "name": d.name,
                "note": d.note,
                "archived": d.archived,
                "place": d.place,
                "scheme": d.scheme,
                "answers": d.answers,
                "versions": [
                    {
                        "document": v.document,
                        "weather": index.get(v.weather_id),
                        "note": v.note,
                        "revision": v.revision,
                        "at": v.at.isoformat(),
                    }
                    for v in d.versions.all()
                    if v.weather_id in index
                ],
            }
            for d in project.designs.all()
        ],
    }


def _log(project: Project) -> list[dict[str, object]]:
    return [
        {
            "place": e.place,
            "revision": e.revision,
            "path": e.path,
            "before": e.before,
            "after": e.after,
            "dropped": e.dropped,
            "design": e.design.letter if e.design else None,
            "at": e.at.isoformat(),
        }
        for e in project.edits.select_related("design").order_by("pk")
    ]


def _hours(year: WeatherYear) -> bytes:
    names = [name for name in ARRAYS if getattr(year, name) is not None]
    out = io.StringIO()
    np.savetxt(
        out, np.column_stack([getattr(year, name) for name in names]), "%.9g", ",", header=",".join(names), comments=""
    )
    return out.getvalue().encode()


def read_members(raw: bytes) -> dict[str, bytes]:
    """The files of a zip, each checked. Raises NoProjectFile."""
    if len(raw) > MOST_BYTES:
        raise NoProjectFile(f"This file is larger than {MOST_BYTES // 1_000_000} MB.")
    with reading("", "This is no project file: its zip", NoProjectFile), zipfile.ZipFile(io.BytesIO(raw)) as packed:
        entries = packed.infolist()
        strange = next((e.filename for e in entries if not NAMES.fullmatch(e.filename)), None)
        if strange is not None:
            raise NoProjectFile(f"It holds “{strange[:60]}”, which no project file does.")
        names = [e.filename for e in entries]
        if len(set(names)) < len(names):
            raise NoProjectFile("It holds a file twice.")
        if sum(e.file_size for e in entries) > MOST_WHOLE:
            raise NoProjectFile("Unpacked it would be far larger than any project.")
        found = {}
        for entry in entries:
            with packed.open(entry) as part:
                found[entry.filename] = part.read(entry.file_size + 1)
            if len(found[entry.filename]) != entry.file_size:
                raise NoProjectFile(f"“{entry.filename}” is not as long as it says.")
    _verify(found)
    return found


def _verify(members: dict[str, bytes]) -> None:
    if "project.json" not in members or "checksums.txt" not in members:
        raise NoProjectFile("This is no project file: project.json or checksums.txt is missing.")
    lines = [line.partition("  ") for line in members["checksums.txt"].decode("ascii", "replace").splitlines()]
    digests = {name: digest for digest, _, name in lines}
    for name, raw in members.items():
        if name != "checksums.txt" and digests.get(name) != sha256(raw).hexdigest():
            raise NoProjectFile(f"“{name}” is not what it was when the file was made: its checksum differs.")


def _loads(members: dict[str, bytes], name: str) -> Any:
    try:
        return json.loads(members[name])
    except (ValueError, RecursionError) as error:
        raise NoProjectFile(f"“{name}” cannot be read.") from error


def bring_back(*, owner: User, raw: bytes) -> Project:
    """A project of one's own from a file. Raises HeatError, and nothing is kept then."""
    members = read_members(raw)
    payload = _loads(members, "project.json")
    version = payload.get("format") if isinstance(payload, dict) else None
    if not isinstance(version, int) or isinstance(version, bool):
        raise NoProjectFile("project.json does not say which format it is of.")
    if version > FORMAT:
        raise NoProjectFile(
            f"It is of format {version}; this application reads {FORMAT} and earlier: bring it to a newer."
        )
    for name, shape in (("project.json", "project"), ("log.json", "log")):
        if name in members and (words := unlike(shape, _loads(members, name))):
            raise NoProjectFile(f"{name} lacks or garbles something: {words}.")
    with reading("", "project.json lacks or garbles something: it", NoProjectFile), transaction.atomic():
        return _made(owner, payload, members)


def _made(owner: User, payload: Values, members: dict[str, bytes]) -> Project:
    if not 1 <= len(payload["designs"]) <= len(LETTERS):
        raise NoProjectFile("A project holds one to 26 designs.")
    survey = survey_of(joined(payload["survey"], payload["designs"][0]["scheme"]))
    project = Project.objects.create(
        owner=owner,
        name=_text(payload["name"], 80) or "Brought back",
        place=_text(payload["place"], 80),
        survey=survey,
        revision=int(payload["revision"]),
    )
    years = {number: _year_stored(project, owner, members, number) for number in _numbers(members)}
    project.weather = years[payload["weather"]]
    designs = {}
    for one in payload["designs"]:
        letter = str(one["letter"])
        try:
            document = served(parse(joined(payload["survey"], one["scheme"]))).model_dump(mode="json")
        except HeatError as error:
            raise NoProjectFile(f"Design {letter[:2]}: {error}") from error
        if letter not in LETTERS or letter in designs:
            raise NoProjectFile(f"“{letter[:8]}” cannot name a design here.")
        designs[letter] = design = Design.objects.create(
            project=project,
            letter=letter,
            name=_text(one["name"], 60),
            note=_text(one["note"], 2000),
            archived=bool(one["archived"]),
            place=min(int(one["place"]), 100),
            scheme=scheme_of(document),
            answers=_answers(one["answers"]),
        )
        for version in one["versions"][:MOST_VERSIONS]:
            whole = parse(joined(version["document"], version["document"])).model_dump(mode="json")
            stored = Version.objects.create(
                design=design,
                document=whole,
                weather=years[version["weather"]],
                author=owner,
                revision=int(version["revision"]),
                note=_text(version["note"], 200),
            )
            Version.objects.filter(pk=stored.pk).update(at=_moment(version["at"]))
    _bring_log(project, owner, designs, _loads(members, "log.json") if "log.json" in members else [])
    project.cursor, project.undone = int(payload["cursor"]), int(payload["undone"])
    project.save()
    return project


def _numbers(members: dict[str, bytes]) -> list[int]:
    numbers = sorted(int(name[8:-4]) for name in members if name.startswith("weather/") and name.endswith(".csv"))
    if len(numbers) > MOST_WEATHER:
        raise NoProjectFile(f"A project brings {MOST_WEATHER} years of weather at most.")
    return numbers


def _year_stored(project: Project, owner: User, members: dict[str, bytes], number: int) -> WeatherFile:
    stem = f"weather/{number}"
    payload = _loads(members, f"{stem}.json")
    if words := unlike("weather", payload):
        raise NoProjectFile(f"{stem}.json lacks or garbles something: {words}.")
    year = read_hours(members[f"{stem}.csv"], payload, f"{stem}.csv")
    return add_weather(
        project=project,
        author=owner,
        weather=year,
        raw=members.get(f"{stem}.upload", b""),
        offered_shift_h=max(-24, min(24, int(payload["shift_h"]))),
    )


def read_hours(raw: bytes, payload: Values, name: str) -> WeatherYear:
    """A year from its hours and its description, every value within what weather can be. Raises NoProjectFile."""
    head, _, rows = raw.decode("utf-8").partition("\n")
    names = head.strip().split(",")
    if len(set(names)) < len(names) or not set(COLUMNS) <= set(names) <= set(ARRAYS):
        raise NoProjectFile(f"“{name}” must hold the columns {', '.join(COLUMNS)}.")
    table = np.loadtxt(io.StringIO(rows), delimiter=",", ndmin=2)
    if table.shape != (8760, len(names)):
        raise NoProjectFile(f"“{name}” must hold 8,760 hours; it holds {len(table)}.")
    columns: Row = {}
    for i, column in enumerate(names):
        values, (low, high) = table[:, i], BOUNDS[column]
        if not np.isfinite(values).all() or values.min() < low or values.max() > high:
            raise NoProjectFile(f"“{name}”, {column}: an hour lies outside {low} to {high}.")
        columns[column] = values.astype(np.float32).astype(np.float64)
    place: Row = {key: float(payload[key]) for key in PLACE}
    for key, (low, high) in PLACE.items():
        if not low <= place[key] <= high:
            raise NoProjectFile(f"“{name}”, {key}: {low} to {high} is needed.")
    notes = tuple(
        Note(_text(kind, 40), _text(text, 300), None if line is None else int(line))
        for kind, text, line in payload["notes"][:200]
    )
    return WeatherYear(
        name=_text(payload["name"], 120),
        kind=_text(payload["kind"], 12),
        made_up=bool(payload["made_up"]),
        notes=notes,
        **place,
        **columns,
    )


def _edited(path: str, before: Any, after: Any) -> Row:
    """What an edit changed, at the path it has now, whatever version wrote the file."""
    now = current_path(path)
    at = lambda value: current_values({path: value})[now]
    if not path:
        at = lambda value: current_values(value) if isinstance(value, dict) else value
    return {"path": now, "before": at(before), "after": at(after)}


def _bring_log(project: Project, owner: User, designs: dict[str, Design], payload: list[Row]) -> None:
    edits = [
        Edit(
            project=project,
            design=designs.get(e["design"]),
            place=int(e["place"]),
            revision=int(e["revision"]),
            **_edited(_text(e["path"], 120), e["before"], e["after"]),
            dropped=bool(e["dropped"]),
            author=owner,
        )
        for e in payload[:MOST_EDITS]
    ]
    stored = Edit.objects.bulk_create(edits, batch_size=1000)
    for edit, e in zip(stored, payload, strict=False):
        edit.at = _moment(e["at"])
    Edit.objects.bulk_update(stored, ["at"], batch_size=1000)


def _answers(payload: Values) -> Row:
    words = ("proof", "name", "remark", "at")
    return {
        _text(key, 60): [
            {
                **{w: _text(word[w], 300) for w in words},
                "at": _moment(word["at"]).isoformat(),
                "stands": bool(word["stands"]),
            }
            for word in answers[:500]
        ]
        for key, answers in list(payload.items())[:200]
    }


def _moment(text: Any) -> datetime:
    moment = datetime.fromisoformat(str(text))
    return moment if moment.tzinfo else timezone.make_aware(moment)


def _text(value: Any, most: int) -> str:
    return str(value).replace("\0", "")[:most]
