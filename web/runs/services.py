"""Runs asked, reckoned chunk by chunk, stopped, and read; the same question is answered once."""

import json
from dataclasses import dataclass
from hashlib import sha256
from typing import Any

import numpy as np
from django.db import transaction
from django.db.models import Max, Sum
from django.utils import timezone

from heat.errors import HeatError
from heat.weighing.outcome import KEYS, Weighed
from web.accounts.models import User
from web.projects.models import Design, Project
from web.projects.permissions import ask, locked
from web.runs.models import Chunk, Run
from web.runs.purposes import PURPOSES
from web.years.reckoned import AT_WORK, ENGINE
from web.years.weather import weather_year

CHUNK, AT_ONCE = 20, 60
"""Years in a chunk, and years answered within a request."""
RUNS_KEPT = 20
"""Runs kept with a project; the oldest give way."""


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
        return self.done == self.size

    @property
    def left_s(self) -> float | None:
        """Seconds that are left at this pace; None before the first years are done."""
        return self.seconds * (self.size - self.done) / self.done if self.done else None


def key_of(document: Any, checksum: str, purpose: str, question: Any) -> str:
    """What a run's answer depends on, and nothing else."""
    text = json.dumps([document, checksum, ENGINE, purpose, question], sort_keys=True)
    return sha256(text.encode()).hexdigest()


def latest(design: Design, purpose: str) -> Run | None:
    """The last run of a purpose for a design, whether it still fits or not."""
    return design.project.runs.filter(letter=design.letter, purpose=purpose, stopped=None).first()


def fits(run: Run, design: Design) -> bool:
    """Whether a run is about the design, the weather and the engine as they now are."""
    weather = design.project.weather
    return weather is not None and run.key == key_of(design.document(), weather.checksum, run.purpose, run.question)


@transaction.atomic
def ask_run(*, design: Design, author: User, purpose: str, question: dict[str, Any], size: int) -> Run:
    """Ask a question of a design as it stands; asked before, it is the same run. Few years are reckoned at once."""
    project = locked(design.project, author)
    design.project = project
    weather = project.weather
    if weather is None:
        raise HeatError("This project has no weather yet.")
    document = design.document()
    key = key_of(document, weather.checksum, purpose, question)
    known = project.runs.filter(key=key, stopped=None).first()
    if known is not None:
        return known
    run = Run.objects.create(
        project=project, letter=design.letter, purpose=purpose, question=question, document=document, weather=weather,
        engine=ENGINE, key=key, size=size, asked_by=author,
    )  # fmt: skip
    Chunk.objects.bulk_create(
        Chunk(run=run, index=i, first=first, count=min(CHUNK, size - first))
        for i, first in enumerate(range(0, size, CHUNK))
    )
    _let_go_of_old(project)
    if size <= AT_ONCE:
        with AT_WORK:
            for index in run.chunks.values_list("index", flat=True):
                reckon_chunk(run.pk, index)
    else:
        _defer(run)
    return run


def _defer(run: Run) -> None:
    """Hand the chunks that are not done to whatever worker is free."""
    from web.runs.tasks import chunk

    for index in run.chunks.filter(done=None).values_list("index", flat=True):
        chunk.defer(run_id=run.pk, index=index)


def _let_go_of_old(project: Project) -> None:
    kept = list(project.runs.values_list("pk", flat=True)[:RUNS_KEPT])
    project.runs.exclude(pk__in=kept).delete()


def reckon_chunk(run_id: int, index: int) -> bool:
    """Reckon a chunk and keep its figures, once: done already, or of a run that was stopped, it is left alone. Whether
    it was reckoned."""
    place = Chunk.objects.filter(run=run_id, index=index, done=None, run__stopped=None)
    part = place.select_related("run__weather").first()
    if part is None:
        return False
    run = part.run
    weather = weather_year(run.weather)
    years = PURPOSES[run.purpose](run, weather, part.first, part.count)
    refused = {str(k): why for k, why in years.refused.items()}
    return bool(place.update(figures=years.figures.tobytes(), refused=refused, done=timezone.now()))


def stop_run(*, run: Run, author: User) -> None:
    """Stop a run: what is reckoned stays with it, the rest is not begun."""
    ask(author, "edit", run.project)
    Run.objects.filter(pk=run.pk, stopped=None).update(stopped=timezone.now())


def progress(run: Run) -> Progress:
    """How far a run is."""
    done = run.chunks.exclude(done=None).aggregate(years=Sum("count"), last=Max("done"))
    years = done["years"] or 0
    until = run.stopped or (done["last"] if years == run.size else timezone.now())
    return Progress(years, run.size, (until - run.created).total_seconds(), run.stopped is not None)


def answer(run: Run) -> Weighed:
    """The years of a run that are done, in their order; nan where they are not yet."""
    figures = np.full((run.size, len(KEYS)), np.nan)
    refused: dict[int, str] = {}
    for part in run.chunks.exclude(done=None):
        rows = np.frombuffer(bytes(part.figures or b""), dtype=np.float64).reshape(part.count, len(KEYS))
        figures[part.first : part.first + part.count] = rows
        refused |= {part.first + int(k): why for k, why in part.refused.items()}
    return Weighed(figures, refused)
