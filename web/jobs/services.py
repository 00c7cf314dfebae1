"""Runs asked, calculated chunk by chunk, stopped, and read; the same question is answered once."""

import json
from dataclasses import dataclass
from hashlib import sha256
from time import monotonic
from typing import Any

import numpy as np
from django.conf import settings
from django.db import transaction
from django.db.models import Max, Sum
from django.utils import timezone
from procrastinate.contrib.django import app

from heat.common.documents import Document, Values
from heat.design.money import HOURLY
from heat.errors import HeatError
from heat.studies.outcome import KEYS, Outcomes
from web.accounts.models import User
from web.jobs.limits import require_capacity
from web.jobs.models import Chunk, Run
from web.jobs.purposes import NO_TURN, Turn, simulated_outcomes
from web.projects.documents import weighty
from web.projects.models import Design, Project
from web.projects.permissions import locked, require
from web.simulations.cache import AT_WORK, ENGINE
from web.simulations.weather import weather_year

CHUNK, SMALL_CHUNK, AT_ONCE = 20, 5, 60
"""Years in a chunk, in one of those answered within a request, and years that may be answered so."""
RUNS_STORED = 12
"""Runs of each purpose kept with a project; the oldest give way."""


@dataclass(frozen=True)
class Progress:
    """How far a run is: years done of all, seconds it ran so far, whether it was stopped."""

    done: int
    size: int
    seconds: float
    stopped: bool

    @property
    def finished(self) -> bool:
        """Whether every year is done."""
        return self.done >= self.size

    @property
    def left_s(self) -> float | None:
        """Seconds that are left at this pace; None before the first years are done."""
        return self.seconds * (self.size - self.done) / self.done if self.done else None


def key_of(document: Any, checksum: str, purpose: str, question: Any) -> str:
    """What a run's answer depends on, and nothing else."""
    hourly = {name: document["money"][name] for name in HOURLY}
    text = json.dumps([weighty(document), hourly, checksum, ENGINE, purpose, question], sort_keys=True)
    return sha256(text.encode()).hexdigest()


def latest(design: Design, purpose: str, **about: Any) -> Run | None:
    """The last run of a purpose for a design (matching what is given of its question), whether it still fits or not."""
    matching = {f"question__{name}": value for name, value in about.items()}
    return design.project.runs.filter(letter=design.letter, purpose=purpose, stopped=None, **matching).first()


def fits(run: Run, design: Design) -> bool:
    """Whether a run is about the design, the weather and the engine as they now are."""
    weather = design.project.weather
    return weather is not None and run.key == key_of(design.document(), weather.checksum, run.purpose, run.question)


@transaction.atomic
def request_run(
    *,
    design: Design,
    author: User,
    purpose: str,
    question: Values,
    size: int,
    first: int = 0,
    document: Document | None = None,
    token: int | None = None,
) -> Run:
    """Ask a question of a design as it stands; asked before, it is the same run. Few years are calculated at once, and
    of many the first so many where they say something by themselves. A search goes from ``document``; ``token`` is the
    key of a program that asks."""
    project = locked(design.project, author)
    design.project = project
    weather = project.weather
    if weather is None:
        raise HeatError("This project has no weather yet.")
    key = key_of(design.document(), weather.checksum, purpose, question)
    known = project.runs.filter(key=key, stopped=None).first()
    if known is not None:
        return known
    require_capacity(author, project, size, token)
    run = Run.objects.create(
        project=project,
        letter=design.letter,
        purpose=purpose,
        question=question,
        weather=weather,
        document=document or design.document(),
        engine=ENGINE,
        key=key,
        size=size,
        requested_by=author,
        token=token,
    )
    _let_go_of_old(project, purpose)
    if purpose == "best":  # it cuts itself, round by round
        _defer_turns(1)
        return run
    at_once = size if size <= AT_ONCE else min(first, AT_ONCE)
    Chunk.objects.bulk_create(
        Chunk(run=run, index=i, first=start, count=count) for i, (start, count) in enumerate(cuts(size, at_once))
    )
    until = monotonic() + settings.AT_ONCE_S
    for index in run.chunks.filter(first__lt=at_once).values_list("index", flat=True):
        if monotonic() > until:
            break  # a busy machine: the worker goes on, and nobody waits for this request
        simulate_chunk(run.pk, index, turn=AT_WORK)
    _defer_turns(run.chunks.filter(done=None).count())
    return run


def cuts(size: int, at_once: int) -> list[tuple[int, int]]:
    """Where chunks begin and how many years each has: first those answered at once, then the rest."""
    starts = [*range(0, at_once, SMALL_CHUNK), *range(at_once, size, CHUNK)]
    return [(a, b - a) for a, b in zip(starts, [*starts[1:], size], strict=True)]


def _defer_turns(count: int) -> None:
    """Ask for so many turns of whatever worker is free."""
    if count:  # by name: the tasks import this module
        app.configure_task("turn", queue="years").batch_defer(*({} for _ in range(count)))


def _let_go_of_old(project: Project, purpose: str) -> None:
    runs = project.runs.filter(purpose=purpose)
    runs.exclude(pk__in=list(runs.values_list("pk", flat=True)[:RUNS_STORED])).delete()


def simulate_chunk(run_id: int, index: int, turn: Turn = NO_TURN) -> bool:
    """Simulate a chunk and store its figures, once: done already, or of a run that was stopped, it is left alone.
    Whether it was simulated. Each year waits for ``turn``."""
    place = Chunk.objects.filter(run=run_id, index=index, done=None, run__stopped=None)
    part = place.select_related("run__weather").first()
    if part is None:
        return False
    run = part.run
    weather = weather_year(run.weather)
    years = simulated_outcomes(run, weather, part.first, part.count, turn)
    refused = {str(k): why for k, why in years.refused.items()}
    return bool(place.update(figures=years.figures.tobytes(), refused=refused, done=timezone.now()))


def stop_run(*, run: Run, author: User) -> None:
    """Stop a run: what is calculated stays with it, the rest is not begun."""
    require(author, "edit", run.project)
    Run.objects.filter(pk=run.pk, stopped=None).update(stopped=timezone.now())


def progress(run: Run) -> Progress:
    """How far a run is."""
    done = run.chunks.exclude(done=None).aggregate(years=Sum("count"), last=Max("done"))
    years = done["years"] or 0
    until = run.stopped or (done["last"] if years == run.size else timezone.now())
    return Progress(years, run.size, (until - run.created).total_seconds(), run.stopped is not None)


def figures_in(part: Chunk) -> np.ndarray:
    """The figures of a chunk, a row for each year; fewer columns where an earlier version calculated it."""
    return np.frombuffer(bytes(part.figures or b""), dtype=np.float64).reshape(part.count, -1)


def answer(run: Run) -> Outcomes:
    """The years of a run that are done, in their order; nan where they are not yet."""
    figures = np.full((run.size, len(KEYS)), np.nan)
    refused: dict[int, str] = {}
    for part in run.chunks.exclude(done=None):
        rows = figures_in(part)
        figures[part.first : part.first + part.count, : rows.shape[1]] = rows
        refused |= {part.first + int(k): why for k, why in part.refused.items()}
    return Outcomes(figures, refused)
