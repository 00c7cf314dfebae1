"""A stretch of work of five designers: memory, every connection to the database cut in the middle, a deleted project
whose time is over, a long question beside."""

import random
from concurrent.futures import ThreadPoolExecutor
from datetime import timedelta
from http.client import HTTPException
from time import monotonic, sleep

from django.conf import settings
from django.db import close_old_connections, connection
from django.utils import timezone

from web.accounts.models import User
from web.jobs.models import Run
from web.jobs.services import progress, request_run
from web.projects.models import Project
from web.projects.services.deletion import sweep
from web.workspace.management.attacks.load import EDIT_EVERY_S, act
from web.workspace.management.attacks.people import at_work
from web.workspace.management.serving import Person, Server
from web.workspace.management.studies import SPREADS

PEOPLE, JOB, CUTS = 5, 2000, 3


def stretch(server: Server, made: list[User], minutes: float) -> dict[str, float]:
    """So many minutes of it; requests that were refused for a while, and that failed."""
    until = monotonic() + 60 * minutes
    counts = {"asked": 0, "away": 0, "failed": 0}

    def works(person: Person, base: str, number: int) -> None:
        dice = random.Random(100 + number)
        while monotonic() < until:
            start = monotonic()
            try:
                status = act(person, base, dice)[1]
            except (OSError, HTTPException):
                status = 503
            counts["asked"] += 1
            counts["away"] += status == 503
            counts["failed"] += status >= 500 and status != 503
            sleep(max(EDIT_EVERY_S - (monotonic() - start), 0.0))

    user = made[PEOPLE]
    design = Project.objects.select_related("weather", "owner", "firm").filter(owner=user)[0].designs.get()
    run = request_run(design=design, author=user, purpose="doubt", question={"spreads": SPREADS, "seed": 8}, size=JOB)
    gone = Project.objects.filter(owner=made[PEOPLE + 1])[0]
    long_ago = timezone.now() - timedelta(days=settings.GRACE_DAYS + 1)
    Project.objects.filter(pk=gone.pk).update(deleted=long_ago)
    memory = [server.whole_mb()]
    result = at_work(server, made[:PEOPLE], PEOPLE)
    cuts = [until - 60 * minutes * (k + 1) / (CUTS + 1) for k in range(CUTS)]
    with ThreadPoolExecutor(PEOPLE) as pool:
        jobs = [pool.submit(works, person, base, i) for i, (person, base) in enumerate(result)]
        while monotonic() < until:
            sleep(min(20.0, max(until - monotonic(), 0.1)))
            memory.append(server.whole_mb())
            if cuts and monotonic() > cuts[-1]:
                cuts.pop()
                cut_all()
                sweep()
        for job in jobs:
            job.result()
    close_old_connections()
    found = {
        "stretch_minutes": minutes,
        "stretch_requests": counts["asked"],
        "stretch_away": counts["away"],
        "stretch_failed": counts["failed"],
        "stretch_mb_first": memory[0],
        "stretch_mb_last": memory[-1],
        "stretch_mb_most": max(memory),
        "stretch_job_years": progress(Run.objects.get(pk=run.pk)).done,
        "stretch_swept_is_gone": not Project.objects.filter(pk=gone.pk).exists(),
    }
    return {name: float(value) for name, value in found.items()}


def cut_all() -> None:
    """Cut every connection to the database but one's own, as its restart does."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT pg_terminate_backend(pid) FROM pg_stat_activity "
            "WHERE datname = current_database() AND usename = current_user AND pid <> pg_backend_pid()"
        )
