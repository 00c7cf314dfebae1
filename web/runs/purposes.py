"""What each kind of question makes of a design: the years of any part of it, by number."""

from collections.abc import Callable
from typing import Any

import numpy as np

from heat.errors import HeatError
from heat.sweep import varied
from heat.weather.year import WeatherYear
from heat.weighing.doubt import USUAL, Doubt, doubted, doubted_year, draws
from heat.weighing.outcome import KEYS, Weighed, weigh_one
from heat.weighing.plans import plan
from heat.weighing.question import design_of, question_of
from web.runs.models import Run

Question = dict[str, Any]


def doubts_of(question: Question) -> tuple[Doubt, ...]:
    """The doubts asked about, each as far off as told."""
    told = question["spreads"]
    return tuple(
        Doubt(doubt.key, doubt.words, float(told[doubt.key]), doubt.scales) for doubt in USUAL if told.get(doubt.key)
    )


def _doubted(run: Run, weather: WeatherYear, first: int, count: int) -> Weighed:
    """Years of the design under the doubt of its inputs."""
    doubts = doubts_of(run.question)
    drawn = draws(doubts, run.size, int(run.question["seed"]))[first : first + count]
    return _gathered([
        weigh_one(doubted(run.document, doubts, row, varied), doubted_year(weather, doubts, row)) for row in drawn
    ])  # fmt: skip


def _chosen(run: Run, weather: WeatherYear, first: int, count: int) -> Weighed:
    """Years of combinations of answers; what cannot be set is told like what cannot be reckoned."""
    question = question_of(run.question["asked"])
    levels = plan(question.counts, question.most, question.seed)[first : first + count]

    def one(row: Any) -> tuple[list[float], str]:
        try:
            return weigh_one(design_of(run.document, question, row, varied), weather)
        except (HeatError, KeyError) as error:
            return [np.nan] * len(KEYS), str(error)

    return _gathered([one(row) for row in levels])


def _gathered(found: list[tuple[list[float], str]]) -> Weighed:
    figures = np.array([row for row, _why in found]).reshape(len(found), len(KEYS))
    return Weighed(figures, {i: why for i, (_row, why) in enumerate(found) if why})


PURPOSES: dict[str, Callable[[Run, WeatherYear, int, int], Weighed]] = {"doubt": _doubted, "choices": _chosen}
"""Years first to first + count of a run, by its purpose."""
