"""A project's logs taken along with its file, and brought back: readings, photographs, meters, what was done."""

import json
from base64 import b64decode, b64encode
from typing import Annotated

from django.utils import timezone
from pydantic import Field, ValidationError

from heat.common.tables import reading
from heat.design import parse
from heat.errors import HeatError
from web.accounts.models import User
from web.logs.models import Log, MaintenanceDone, Meter, Photo, Reading
from web.logs.services import AHEAD, MOST_LOGS, MOST_PHOTOS, MOST_READINGS, check_meters, check_sensors, wrong_with
from web.projects.archive_shapes import Shape
from web.projects.documents import joined
from web.projects.models import Project
from web.projects.timestamps import Day, Moment
from web.ui.pictures import STORED_PHOTO, drawn_anew

Words = Annotated[str, Field(max_length=4000)]


class ReadingShape(Shape):
    """A reading, in the core's units."""

    at: Moment
    values: dict[str, float]
    source: Annotated[str, Field(pattern="^(typed|table|logger)$")]
    remark: Words = ""
    struck: Moment | None = None
    why: Words = ""


class PhotoShape(Shape):
    """A comment, and a photograph as base64."""

    at: Moment
    remark: Words
    picture: str | None


class MeterShape(Shape):
    """What meters read in a month."""

    month: Day
    values: dict[str, float]
    at: Moment


class LogShape(Shape):
    """A log with all it holds."""

    letter: Annotated[str, Field(pattern="^[A-Z]$")]
    document: dict[str, object]
    weather: Annotated[int, Field(ge=1, le=99)]
    began: Moment
    heights: list[Annotated[float, Field(ge=0, le=1)]]
    litres: list[Annotated[float, Field(gt=0, le=200_000)]]
    sensor_k: Annotated[float, Field(gt=0, le=10)]
    columns: dict[str, object]
    readings: Annotated[list[ReadingShape], Field(max_length=MOST_READINGS)]
    photos: Annotated[list[PhotoShape], Field(max_length=MOST_PHOTOS)]
    meters: Annotated[list[MeterShape], Field(max_length=2000)]


class DoneShape(Shape):
    """A task that was done."""

    key: Words
    on: Day
    name: Words
    remark: Words
    at: Moment


class SiteShape(Shape):
    """logs.json"""

    logs: Annotated[list[LogShape], Field(max_length=MOST_LOGS)]
    done: Annotated[list[DoneShape], Field(max_length=2000)]


def logs_file(project: Project) -> bytes:
    """Everything that was logged, as JSON; nothing where nothing was."""
    logs = list(project.logs.all())
    if not logs:
        return b""
    index = {
        pk: n
        for n, pk in enumerate(
            project.weather_files.filter(deleted=None).order_by("pk").values_list("pk", flat=True), start=1
        )
    }
    site = {
        "logs": [_log(log, index) for log in logs if log.weather_id in index],
        "done": [
            {"key": d.key, "on": d.on.isoformat(), "name": d.name, "remark": d.remark, "at": d.at.isoformat()}
            for d in project.upkeep.all()
        ],
    }
    return (json.dumps(site, indent=1, sort_keys=True) + "\n").encode()


def _log(log: Log, index: dict[int, int]) -> dict[str, object]:
    return {
        "letter": log.letter,
        "document": log.document,
        "weather": index[log.weather_id],
        "began": log.began.isoformat(),
        "heights": log.heights,
        "litres": log.litres,
        "sensor_k": log.sensor_k,
        "columns": log.columns,
        "readings": [
            {
                "at": r.at.isoformat(),
                "values": r.values,
                "source": r.source,
                "remark": r.remark,
                "struck": r.struck.isoformat() if r.struck else None,
                "why": r.why,
            }
            for r in log.readings.all()
        ],
        "photos": [
            {
                "at": p.at.isoformat(),
                "remark": p.remark,
                "picture": b64encode(bytes(p.picture)).decode() if p.picture else None,
            }
            for p in log.photos.all()
        ],
        "meters": [
            {"month": m.month.isoformat(), "values": m.values, "at": m.at.isoformat()} for m in log.meters.all()
        ],
    }


def bring_logs(*, project: Project, owner: User, raw: bytes) -> None:
    """Keep the logs of a file with a project that was just brought back. Raises HeatError."""
    if not raw:
        return
    try:
        site = SiteShape.model_validate_json(raw)
    except ValidationError as error:
        first = error.errors()[0]
        raise HeatError(
            f"logs.json lacks or garbles something: {'.'.join(map(str, first['loc']))}: {first['msg']}."
        ) from error
    with reading("", "logs.json lacks or garbles something: it", HeatError):
        _bring(project, owner, site)


def _bring(project: Project, owner: User, payload: SiteShape) -> None:
    files = dict(enumerate(project.weather_files.filter(deleted=None).order_by("pk"), start=1))
    for one in payload.logs:
        if one.weather not in files:
            raise HeatError("logs.json names weather that is not there.")
        if one.began > timezone.now() + AHEAD:
            raise HeatError("logs.json holds a log that begins in the future.")
        check_sensors(one.heights, one.litres, one.sensor_k)
        document = parse(joined(one.document, one.document)).model_dump(mode="json")
        log = Log.objects.create(
            project=project,
            letter=one.letter,
            document=document,
            weather=files[one.weather],
            began=one.began,
            heights=one.heights,
            litres=one.litres,
            sensor_k=one.sensor_k,
            columns=one.columns,
        )
        for row in one.readings:
            if why := wrong_with(dict(row.values), row.at, len(one.heights)):
                raise HeatError(f"logs.json, {row.at:%Y-%m-%d %H:%M}: {why}.")
        Reading.objects.bulk_create(
            [
                Reading(
                    log=log,
                    at=r.at,
                    values=r.values,
                    source=r.source,
                    remark=r.remark[:300],
                    author=owner,
                    struck=r.struck,
                    why=r.why[:200],
                )
                for r in one.readings
            ],
            batch_size=2000,
            ignore_conflicts=True,
        )
        for photo in one.photos:
            picture = drawn_anew(b64decode(photo.picture, validate=True), STORED_PHOTO) if photo.picture else None
            Photo.objects.create(log=log, at=photo.at, remark=photo.remark[:300], picture=picture, author=owner)
        for meter in one.meters:
            check_meters(meter.values)
        Meter.objects.bulk_create(
            [Meter(log=log, month=m.month.replace(day=1), values=m.values, at=m.at, author=owner) for m in one.meters]
        )
    MaintenanceDone.objects.bulk_create(
        [
            MaintenanceDone(
                project=project, key=d.key[:40], on=d.on, name=d.name[:80], remark=d.remark[:300], at=d.at, author=owner
            )
            for d in payload.done
        ]
    )
