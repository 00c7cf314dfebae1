"""What each kind of question makes of a design: the years of any part of it, by number."""

from collections.abc import Callable
from contextlib import AbstractContextManager, nullcontext
from dataclasses import asdict
from typing import Any

import numpy as np

from heat.errors import HeatError
from heat.sweep import varied
from heat.weather.year import WeatherYear
from heat.weighing.doubt import USUAL, Doubt, doubted, doubted_year, draws
from heat.weighing.following import following
from heat.weighing.maps import Axis, lattice
from heat.weighing.outcome import KEYS, Weighed, weigh_one
from heat.weighing.plans import plan
from heat.weighing.question import design_of, question_of
from web.projects.documents import placed
from web.projects.models import WeatherFile
from web.runs.models import Run
from web.years.weather import weather_year

Question = dict[str, Any]
Wanted = tuple[dict[str, Any], WeatherYear] | str
"""A year to reckon, or why it cannot be."""


def doubts_of(question: Question) -> tuple[Doubt, ...]:
    """The doubts asked about, each as far off as told."""
    told = question["spreads"]
    return tuple(
        Doubt(doubt.key, doubt.words, float(told[doubt.key]), doubt.scales) for doubt in USUAL if told.get(doubt.key)
    )


def _doubted(run: Run, weather: WeatherYear, first: int, count: int) -> list[Wanted]:
    """Years of the design under the doubt of its inputs."""
    doubts = doubts_of(run.question)
    drawn = draws(doubts, run.size, int(run.question["seed"]))[first : first + count]
    return [(doubted(run.document, doubts, row, varied), doubted_year(weather, doubts, row)) for row in drawn]


def _chosen(run: Run, weather: WeatherYear, first: int, count: int) -> list[Wanted]:
    """Years of combinations of answers; what cannot be set is told like what cannot be reckoned."""
    question = question_of(run.question["asked"])
    levels = plan(question.counts, question.most, question.seed)[first : first + count]

    def one(row: Any) -> Wanted:
        try:
            return design_of(run.document, question, row, standing), _weather_of(run, question, row, weather)
        except (HeatError, KeyError) as error:
            return str(error)

    return [one(row) for row in levels]


def standing(document: dict[str, Any], values: dict[str, Any]) -> dict[str, Any]:
    """A document with values put in, on the surveyed plane they name."""
    made = varied(document, values)
    return placed(made) if "plane.on" in values else made


def _weather_of(run: Run, question: Any, row: Any, weather: WeatherYear) -> WeatherYear:
    """The weather year of the run's project that a combination asks for, else the run's own."""
    for asked, level in zip(question.questions, row, strict=True):
        wanted = asked.answers[int(level)].weather
        if wanted:
            file = WeatherFile.objects.filter(project=run.project_id, checksum=wanted, deleted=None).first()
            if file is None:
                raise HeatError("That weather year is not kept any more.")
            return weather_year(file)
    return weather


def axis_of(told: dict[str, Any]) -> Axis:
    """An axis as a question keeps it."""
    pairs = {name: tuple((path, value) for path, value in told[name]) for name in ("sets", "fixed")}
    return Axis(**{**told, **pairs})


def told_axis(axis: Axis) -> dict[str, Any]:
    """An axis as JSON keeps it."""
    return asdict(axis) | {name: [list(pair) for pair in getattr(axis, name)] for name in ("sets", "fixed")}


def places_of(question: Question) -> tuple[np.ndarray, int]:
    """The places of a map in the order they are reckoned, and how many the coarse one has."""
    return lattice(axis_of(question["x"]["axis"]), axis_of(question["y"]["axis"]))


def _mapped(run: Run, weather: WeatherYear, first: int, count: int) -> list[Wanted]:
    """Years of the places of a map."""
    x, y = (axis_of(run.question[name]["axis"]) for name in "xy")
    places, _coarse = lattice(x, y)
    there = lambda a, b: varied(run.document, following(run.document, x.values(a) | y.values(b)))
    return [(there(a, b), weather) for a, b in places[first : first + count]]


PURPOSES: dict[str, Callable[[Run, WeatherYear, int, int], list[Wanted]]] = {
    "doubt": _doubted, "choices": _chosen, "map": _mapped,
}  # fmt: skip
"""Years first to first + count of a run, by its purpose."""


def designs_of(run: Run) -> list[dict[str, Any] | None]:
    """The design of every year of a run, in their order; none where it cannot be."""
    wanted = PURPOSES[run.purpose](run, weather_year(run.weather), 0, run.size)
    return [None if isinstance(one, str) else one[0] for one in wanted]


Turn = AbstractContextManager[Any]
NO_TURN: Turn = nullcontext()
"""For a worker: whose turn it is was settled before."""


def reckoned(run: Run, weather: WeatherYear, first: int, count: int, turn: Turn = NO_TURN) -> Weighed:
    """The numbers of a run's years first to first + count. Each year waits for ``turn`` by itself, so that a page's
    own year comes between."""

    def one(wanted: Wanted) -> tuple[list[float], str]:
        if isinstance(wanted, str):
            return [np.nan] * len(KEYS), wanted
        with turn:
            return weigh_one(*wanted)

    found = [one(wanted) for wanted in PURPOSES[run.purpose](run, weather, first, count)]
    figures = np.array([row for row, _why in found]).reshape(len(found), len(KEYS))
    return Weighed(figures, {i: why for i, (_row, why) in enumerate(found) if why})
