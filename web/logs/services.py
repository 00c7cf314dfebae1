"""Logs begun, readings added and struck out, photographs, meters, a logger's key. Each asks who may first."""

import secrets
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from hashlib import sha256
from itertools import pairwise
from math import isfinite

from django.db import transaction
from django.utils import timezone

from heat.design import parse
from heat.errors import HeatError
from heat.monitoring.checks import BOUNDS
from heat.store.vessel import store_volume_l
from web.accounts.models import User
from web.logs.models import Log, Meter, Photo, Reading, Values
from web.projects.models import Design, Project
from web.projects.permissions import locked, require
from web.ui.rows import Row

MOST_READINGS, MOST_LOGS, MOST_PHOTOS, MOST_SENSORS = 120_000, 50, 200, 12
"""Readings of a log, logs and photographs of a project, sensors of a store."""
AHEAD = timedelta(hours=26)
"""A reading may lie so far ahead of the server's clock: the other side of the date line, and a clock that is off."""
LONG_AGO = timedelta(days=3660)
METERS = {"solar_kwh": 1e6, "fuel_kwh": 1e6, "litres": 1e7, "sun_kwh_m2_day": 12.0, "air_c": 60.0}
"""What a month's meters may read, and the most of each."""


@dataclass(frozen=True)
class IncomingReading:
    """A reading on its way in: its moment, values in the core's units by name, a comment."""

    at: datetime
    values: Values
    remark: str = ""


@dataclass(frozen=True)
class IntakeResult:
    """What became of readings: kept, known before, refused with why (the first few)."""

    stored: int
    known: int
    refused: tuple[str, ...]


@transaction.atomic
def begin_log(*, design: Design, author: User, heights: list[float] | None = None) -> Log:
    """Begin the log of a design as it now stands. Raises HeatError where it cannot be calculated."""
    project = locked(design.project, author, "survey")
    design.project = project
    if project.weather is None:
        raise HeatError("A log needs the weather of its place.")
    if project.logs.count() >= MOST_LOGS:
        raise HeatError("This project has no room for more logs.")
    document = design.document()
    made = parse(document)
    known = heights if heights is not None else sorted({round(made.system.control.sensor_share, 2), 0.5, 0.85})
    pool = made.system.scheme.exchange == "pool"
    return Log.objects.create(
        project=project,
        letter=design.letter,
        document=document,
        weather=project.weather,
        heights=[] if pool else known,
        litres=[] if pool else even(known, store_volume_l(made)),
    )


def even(heights: list[float], litres: float) -> list[float]:
    """Water (L) each sensor stands for: half way to its neighbours."""
    edges = [0.0, *((a + b) / 2.0 for a, b in pairwise(heights)), 1.0]
    return [round(litres * (b - a), 1) for a, b in pairwise(edges)]


@transaction.atomic
def set_sensors(*, log: Log, author: User, heights: list[float], litres: list[float], sensor_k: float) -> Log:
    """Say where the store's sensors are, what each stands for (L) and how sure they are (K). Raises HeatError."""
    require(author, "survey", log.project)
    check_sensors(heights, litres, sensor_k)
    log.heights, log.litres, log.sensor_k = heights, litres, sensor_k
    log.save(update_fields=["heights", "litres", "sensor_k"])
    return log


def check_sensors(heights: list[float], litres: list[float], sensor_k: float) -> None:
    """Raises HeatError for sensors (share of height, L, K) that no store has."""
    if len(heights) > MOST_SENSORS or len(heights) != len(litres):
        raise HeatError(f"One volume for each sensor, {MOST_SENSORS} at most.")
    if sorted(heights) != heights or any(not 0.0 <= h <= 1.0 for h in heights) or len(set(heights)) < len(heights):
        raise HeatError("Heights run from the floor (0) to the top (1), each above the one before.")
    if any(not 0.0 < v <= 200_000.0 for v in litres):
        raise HeatError("Each sensor stands for some litres.")
    if not 0.05 <= sensor_k <= 10.0:
        raise HeatError("A sensor is sure to 0.05 to 10 K.")


def wrong_with(values: Values, at: datetime, heights: int) -> str:
    """Why a reading cannot be kept; nothing where it can."""
    now = timezone.now()
    try:
        at = at.astimezone(UTC)
    except (OverflowError, ValueError):
        return "its moment is none of this era"
    if at > now + AHEAD:
        return "it lies in the future"
    if at < now - LONG_AGO:
        return "it lies more than ten years back"
    if not values:
        return "it holds no value"
    for name, value in values.items():
        sensor = name[:1] == "s" and name[1:].isdecimal()
        if sensor and int(name[1:]) >= heights:
            return f"the store has {heights} sensors"
        bounds = BOUNDS.get("store" if sensor else name)
        if bounds is None:
            return f"there is no “{name[:20]}”"
        if isinstance(value, bool) or not isinstance(value, int | float) or not isfinite(value):
            return f"{name} is no number"
        if not bounds[0] <= value <= bounds[1]:
            return f"{name} must lie between {bounds[0]:g} and {bounds[1]:g}"
    return ""


@transaction.atomic
def add_readings(*, log: Log, author: User | None, readings: Iterable[IncomingReading], source: str) -> IntakeResult:
    """Keep readings; one of a moment and source that is known stays as it was. ``author``: none for a logger, whose key
    was asked before. Raises HeatError where there is no room."""
    if author is not None:
        require(author, "survey", log.project)
    Log.objects.select_for_update(of=("self",)).get(pk=log.pk)  # equal posts at once: each answers with what it added
    rows, refused, moments = [], [], set()
    for one in readings:
        why = wrong_with(one.values, one.at, len(log.heights))
        if why:
            refused.append(f"{one.at:%Y-%m-%d %H:%M}: {why}")
        elif one.at not in moments:
            moments.add(one.at)
            moment = one.at.astimezone(UTC)  # the database takes no offset of a day
            rows.append(
                Reading(log=log, at=moment, values=one.values, source=source, remark=one.remark[:300], author=author)
            )
    before = log.readings.count()
    if before + len(rows) > MOST_READINGS:
        raise HeatError(f"A log keeps {MOST_READINGS:,} readings: take fewer, or begin another log.")
    Reading.objects.bulk_create(rows, batch_size=2000, ignore_conflicts=True)
    fresh = log.readings.count() - before if rows else 0
    if source == "logger":
        Log.objects.filter(pk=log.pk).update(heard=timezone.now())
    return IntakeResult(fresh, len(rows) - fresh, tuple(refused))


@transaction.atomic
def strike(*, reading: Reading, author: User, why: str) -> None:
    """Strike a reading out, with a reason; it stays to be seen. Raises HeatError without one."""
    require(author, "survey", reading.log.project)
    if not why.strip():
        raise HeatError("Why is it struck out? A reason is needed.")
    Reading.objects.filter(pk=reading.pk, struck=None).update(
        struck=timezone.now(), why=why.strip()[:200], struck_by=author
    )


@transaction.atomic
def correct(*, reading: Reading, author: User, line: IncomingReading) -> IntakeResult:
    """Put a typed line in the place of another, which is struck out and stays to be seen. Raises HeatError."""
    if reading.source != "typed":
        raise HeatError("Only what was typed is corrected; strike a logger's reading out.")
    strike(reading=reading, author=author, why="corrected")
    done = add_readings(log=reading.log, author=author, readings=[line], source="typed")
    if not done.stored:
        raise HeatError(done.refused[0].partition(": ")[2] if done.refused else "a line of this minute is kept already")
    return done


def new_token(*, log: Log, author: User) -> str:
    """A key for a logger, shown once; the one before ends."""
    require(author, "survey", log.project)
    token = secrets.token_urlsafe(24)
    log.token, log.token_made = sha256(token.encode()).hexdigest(), timezone.now()
    log.save(update_fields=["token", "token_made"])
    return token


def end_token(*, log: Log, author: User) -> None:
    """Take the key back: its logger is heard no more."""
    require(author, "survey", log.project)
    Log.objects.filter(pk=log.pk).update(token=None)


def log_of_token(pk: int, token: str) -> Log | None:
    """The log a key opens, if it is that one's."""
    found = Log.objects.select_related("project", "weather").filter(
        pk=pk, token=sha256(token[:200].encode()).hexdigest(), project__deleted=None
    )
    return found.first()


@transaction.atomic
def name_secret(*, log: Log, author: User, key: str) -> bool:
    """Name the fault that hides in a log: whether it is that one. Each try counts."""
    require(author, "survey", log.project)
    log = Log.objects.select_for_update(of=("self",)).get(pk=log.pk)
    right = log.secret is not None and key in log.secret
    log.tries += 1
    if right:
        log.named = timezone.now()
    log.save(update_fields=["tries", "named"])
    return right


@transaction.atomic
def add_photo(*, log: Log, author: User, remark: str, picture: bytes | None) -> Photo:
    """Keep a comment, with a photograph that was drawn anew. Raises HeatError where there is neither."""
    project: Project = locked(log.project, author, "survey")
    if not remark.strip() and picture is None:
        raise HeatError("Write a comment, or choose a photograph.")
    if Photo.objects.filter(log__project=project).count() >= MOST_PHOTOS:
        raise HeatError("This project has no room for more photographs.")
    return Photo.objects.create(log=log, author=author, remark=remark.strip()[:300], picture=picture)


@transaction.atomic
def set_meter(*, log: Log, author: User, month: date, values: dict[str, float]) -> Meter:
    """Store what meters read in a month. Raises HeatError."""
    require(author, "survey", log.project)
    check_meters(values)
    return Meter.objects.create(log=log, month=month.replace(day=1), values=values, author=author)


def check_meters(values: dict[str, float]) -> None:
    """Raises HeatError for what no month's meters read (each its own unit)."""
    for name, value in values.items():
        low = -60.0 if name == "air_c" else 0.0
        if name not in METERS or not low <= value <= METERS[name]:
            raise HeatError(f"{name.replace('_', ' ')} must lie between {low:g} and {METERS.get(name, 0):g}.")
    if not values:
        raise HeatError("Type one meter at least.")


def meters_of(log: Log) -> dict[date, Row]:
    """The last word of each month."""
    return {meter.month: meter.values for meter in log.meters.all()}
