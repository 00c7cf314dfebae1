"""Who is served next: long questions take turns by person, so that one person's sweeps keep nobody waiting.

A job in the queue is a turn and names no run. Whoever takes it looks for the person who was served longest ago, for the
run of theirs that was served longest ago, and works on its next piece: a chunk of years, or a round of a search.
"""

from collections.abc import Iterator
from contextlib import contextmanager

from django.db import connection
from django.db.models import Exists, F, Max, OuterRef, Q, QuerySet, Subquery
from django.utils import timezone
from procrastinate.contrib.django.models import ProcrastinateJob

from web.jobs.models import Chunk, Run
from web.jobs.search import search_round
from web.jobs.services import simulate_chunk

CHUNK_LOCK, RUN_LOCK = 1 << 61, 1 << 62
"""Where the numbers of advisory locks begin, of chunks and of searches."""


def waiting() -> QuerySet[Run]:
    """Runs with something left to do, the one whose turn it is first."""
    undone = Chunk.objects.filter(run=OuterRef("pk"), done=None)
    searching = Q(purpose="best") & (Q(best__isnull=True) | Q(best__ended=False))
    found = Run.objects.filter(Q(Exists(undone)) | searching, stopped=None)
    theirs = Run.objects.filter(requested_by=OuterRef("requested_by")).order_by().values("requested_by")
    last = Subquery(theirs.annotate(last=Max("served")).values("last"))
    longest_ago = F("person_served").asc(nulls_first=True), F("served").asc(nulls_first=True), "pk"
    return found.annotate(person_served=last).order_by(*longest_ago)


@contextmanager
def _locked(number: int) -> Iterator[bool]:
    """A lock of the database that goes with the connection: what a dead worker held is free at once."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_try_advisory_lock(%s)", [number])
        (mine,) = cursor.fetchone()
    try:
        yield mine
    finally:
        if mine:
            with connection.cursor() as cursor:
                cursor.execute("SELECT pg_advisory_unlock(%s)", [number])


def work_next() -> bool:
    """Work on the next piece; whether a search has another round after it, for which a turn is needed again."""
    for run in waiting().defer("document", "question"):
        if run.purpose == "best":
            with _locked(RUN_LOCK + run.pk) as mine:
                if mine:
                    _served(run)
                    return search_round(run.pk)
            continue
        for chunk in run.chunks.filter(done=None).only("pk", "index"):
            with _locked(CHUNK_LOCK + chunk.pk) as mine:
                if mine:
                    _served(run)
                    if simulate_chunk(run.pk, chunk.index):
                        return False
    return False


def turns_missing() -> int:
    """How many turns the queue lacks for the pieces that are left: a turn that was lost, with its worker or by a fault,
    would leave the last piece undone for good."""
    runs = list(waiting().values_list("pk", "purpose"))
    chunks = Chunk.objects.filter(run__in=[pk for pk, purpose in runs if purpose != "best"], done=None).count()
    left = chunks + sum(purpose == "best" for _, purpose in runs)
    queued = ProcrastinateJob.objects.filter(queue_name="years", status__in=("todo", "doing")).count()
    return max(left - queued, 0)


def _served(run: Run) -> None:
    Run.objects.filter(pk=run.pk).update(served=timezone.now())
