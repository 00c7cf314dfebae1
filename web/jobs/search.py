"""Find the best: a search whose rounds are kept, so that whoever takes it up again goes on where it was."""

from collections.abc import Sequence

import numpy as np
from django.utils import timezone

from heat.common.documents import Document, Values
from heat.design.changing import varied
from heat.studies.outcome import KEYS, Outcomes, evaluate_designs
from heat.studies.question import Limit
from heat.studies.search import Best, Free, search
from web.jobs.models import Chunk, Run
from web.jobs.services import figures_in
from web.simulations.weather import weather_year
from web.ui.rows import Row


def free_of(question: Values) -> list[Free]:
    """The fields a search may move."""
    return [Free(field["path"], field["low"], field["high"], field["step"]) for field in question["free"]]


class RoundDone(Exception):
    """One new round is enough for a turn."""


def search_round(run_id: int) -> bool:
    """One more round of a search; whether another is left. The search is the same each time, so the rounds of before
    are read, not simulated."""
    run = Run.objects.select_related("weather").filter(pk=run_id, stopped=None).first()
    if run is None or (run.best or {}).get("ended"):
        return False
    weather, question = weather_year(run.weather), run.question
    stored = {part.index: part for part in run.chunks.all()}
    rounds = [0, 0]  # rounds and years so far
    fresh: list[int] = []

    def years(designs: Sequence[Document]) -> Outcomes:
        index, first = rounds
        rounds[:] = index + 1, first + len(designs)
        part = stored.get(index)
        if part is not None and part.count == len(designs) and figures_in(part).shape[1] == len(KEYS):
            return Outcomes(figures_in(part))
        if fresh:
            raise RoundDone
        fresh.append(index)
        found = evaluate_designs(designs, weather)
        Chunk.objects.bulk_create(
            [
                Chunk(
                    run=run,
                    index=index,
                    first=first,
                    count=len(designs),
                    figures=found.figures.tobytes(),
                    done=timezone.now(),
                )
            ],
            ignore_conflicts=True,
        )
        return found

    def text(best: Best) -> bool:
        if fresh:  # of rounds that are only read the best is known already
            Run.objects.filter(pk=run_id).update(best=_stored(best, ended=False))
        return not Run.objects.filter(pk=run_id, stopped=None).exists()

    limits = [Limit(**limit) for limit in question["limits"]]
    try:
        best = search(
            run.document,
            free_of(question),
            question["goal"],
            years,
            varied,
            most=question["most"],
            limits=limits,
            progress=text,
        )
    except RoundDone:
        return True
    ended = {"ended": True} if best is None else _stored(best, ended=True)
    Run.objects.filter(pk=run_id, stopped=None).update(best=ended, size=rounds[1])
    return False


def _stored(best: Best, *, ended: bool) -> Row:
    figures = dict(zip(KEYS, (float(v) if np.isfinite(v) else None for v in best.figures), strict=True))
    return {"values": best.values, "figures": figures, "years": best.years, "rested": best.rested, "ended": ended}
