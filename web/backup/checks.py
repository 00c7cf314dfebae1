"""Whether all is well: database, migrations, disk, the worker, documents that still parse, weather that is whole."""

import shutil
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import timedelta
from zipfile import BadZipFile

import numpy as np
from django.conf import settings
from django.db import DatabaseError, connection
from django.utils import timezone

from heat.design import parse
from heat.errors import HeatError
from heat.weather.year import COLUMNS
from web.backup.backups import known_migrations, migrations
from web.projects.models import Design, WeatherFile
from web.projects.weather_files import unpacked

LEAST_MB, SILENT_AFTER = 500, timedelta(minutes=2)
"""Free space below which it is reported (MB), and how long a worker may be silent."""


@dataclass(frozen=True)
class CheckResult:
    """Something looked at: its name, whether it is well, and in words."""

    name: str
    well: bool
    words: str


def database() -> CheckResult:
    """Whether the database answers, and which it is."""
    try:
        with connection.cursor() as cursor:
            cursor.execute("SHOW server_version")
            version = cursor.fetchone()[0]
            cursor.execute("SELECT pg_database_size(current_database())")
            size = cursor.fetchone()[0]
    except DatabaseError as error:
        return CheckResult("database", False, f"it does not answer: {str(error).strip()[:120]}")
    return CheckResult("database", True, f"PostgreSQL {version}, {size / 1e6:.0f} MB")


def upgrades() -> CheckResult:
    """Whether the database stands where this version wants it."""
    there, known = set(migrations()), known_migrations()
    if there - known:
        return CheckResult("version", False, f"the database is of a later version: {sorted(there - known)[-1]}")
    missing = sorted(known - there)
    words = (
        "as this version wants it" if not missing else f"{len(missing)} steps are missing: ./ledger serve takes them"
    )
    return CheckResult("version", not missing, words)


def disk() -> CheckResult:
    """Whether there is room."""
    free = shutil.disk_usage(settings.STATE if settings.STATE.exists() else settings.ROOT).free / 1e6
    return CheckResult("disk", free >= LEAST_MB, f"{free:,.0f} MB free")


def worker() -> CheckResult:
    """Whether a worker was heard lately, and how much waits for one."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT max(last_heartbeat) FROM procrastinate_workers")
        last_contact = cursor.fetchone()[0]
        cursor.execute("SELECT count(*) FROM procrastinate_jobs WHERE status IN ('todo', 'doing')")
        waiting = cursor.fetchone()[0]
        cursor.execute("SELECT count(*) FROM procrastinate_jobs WHERE status = 'failed'")
        failed = cursor.fetchone()[0]
    alive = last_contact is not None and last_contact > timezone.now() - SILENT_AFTER
    last = f"last seen {last_contact:%H:%M:%S}" if last_contact else "none was seen"
    words = f"{last}; {waiting} jobs wait, {failed} failed"
    return CheckResult("worker", alive or not waiting, words)


def documents() -> CheckResult:
    """Whether every design's document can be read."""
    bad = []
    for design in Design.objects.select_related("project").iterator(chunk_size=200):
        try:
            parse(design.document())
        except HeatError as error:
            bad.append(f"project {design.project_id}, {design.letter}: {str(error)[:80]}")
    return CheckResult("designs", not bad, bad[0] if bad else "every document is read")


def weather() -> CheckResult:
    """Whether every year of weather can be read, every hour of it a number."""
    bad = []
    for file in WeatherFile.objects.defer(None).defer("raw").iterator(chunk_size=5):
        try:
            year = unpacked(file)
            if not all(np.isfinite(getattr(year, name)).all() for name in COLUMNS):
                bad.append(f"{file.name} of project {file.project_id}: an hour is no number")
        except (ValueError, OSError, KeyError, EOFError, BadZipFile) as error:
            bad.append(f"{file.name} of project {file.project_id}: {str(error)[:80]}")
    return CheckResult("weather", not bad, bad[0] if bad else "every year is whole")


CHECKS: tuple[Callable[[], CheckResult], ...] = (database, upgrades, disk, worker, documents, weather)


def check_health() -> Iterator[CheckResult]:
    """Everything in its order; without a database nothing beyond it is looked at."""
    for state in CHECKS:
        found = state()
        yield found
        if state is database and not found.well:
            return
