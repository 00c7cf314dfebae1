"""What each kind of question makes of a design: the years of any part of it, by number."""

from collections.abc import Callable
from contextlib import AbstractContextManager, nullcontext
from dataclasses import asdict
from typing import Any

import numpy as np

from heat.common.documents import Values
from heat.design.changing import varied
from heat.errors import HeatError
from heat.studies.following import following
from heat.studies.maps import Axis, lattice
from heat.studies.outcome import KEYS, Outcomes, evaluate_design
from heat.studies.plans import plan
from heat.studies.question import design_of, question_of
from heat.studies.uncertainty import USUAL, UncertainInput, draws, perturbed, perturbed_year
from heat.weather.year import WeatherYear
from web.jobs.models import Run
from web.projects.documents import placed
from web.projects.models import WeatherFile
from web.simulations.weather import weather_year
from web.ui.rows import Row

Question = Row
Wanted = tuple[Row, WeatherYear] | str
"""A year to calculate, or why it cannot be."""


def uncertainties_of(question: Question) -> tuple[UncertainInput, ...]:
    """The uncertainties asked about, each as far off as given."""
    spreads = question["spreads"]
    return tuple(
        UncertainInput(uncertainty.key, uncertainty.words, float(spreads[uncertainty.key]), uncertainty.scales)
        for uncertainty in USUAL
        if spreads.get(uncertainty.key)
    )


def _uncertain_designs(run: Run, weather: WeatherYear, first: int, count: int) -> list[Wanted]:
    """Years of the design under the uncertainty of its inputs."""
    uncertainties = uncertainties_of(run.question)
    drawn = draws(uncertainties, run.size, int(run.question["seed"]))[first : first + count]
    return [
        (perturbed(run.document, uncertainties, row, varied), perturbed_year(weather, uncertainties, row))
        for row in drawn
    ]


def _chosen(run: Run, weather: WeatherYear, first: int, count: int) -> list[Wanted]:
    """Years of combinations of answers; what cannot be set is reported like what cannot be calculated."""
    question = question_of(run.question["asked"])
    levels = plan(question.counts, question.most, question.seed)[first : first + count]

    def one(row: Any) -> Wanted:
        try:
            return design_of(run.document, question, row, placed_document), _weather_of(run, question, row, weather)
        except (HeatError, KeyError) as error:
            return str(error)

    return [one(row) for row in levels]


def placed_document(document: dict[str, object], values: dict[str, object]) -> dict[str, object]:
    """A document with values put in, on the surveyed plane they name."""
    made = varied(document, values)
    return placed(made) if "plane.on" in values else made


def _weather_of(run: Run, question: Any, row: Any, weather: WeatherYear) -> WeatherYear:
    """The weather year of the run's project that a combination asks for, else the run's own."""
    for requested, level in zip(question.questions, row, strict=True):
        wanted = requested.answers[int(level)].weather
        if wanted:
            file = WeatherFile.objects.filter(project=run.project_id, checksum=wanted, deleted=None).first()
            if file is None:
                raise HeatError("That weather year is not kept any more.")
            return weather_year(file)
    return weather


def axis_of(payload: Values) -> Axis:
    """An axis as a question keeps it."""
    pairs = {name: tuple((path, value) for path, value in payload[name]) for name in ("sets", "fixed")}
    return Axis(**{**payload, **pairs})


def axis_payload(axis: Axis) -> Row:
    """An axis as JSON keeps it."""
    return asdict(axis) | {name: [list(pair) for pair in getattr(axis, name)] for name in ("sets", "fixed")}


def places_of(question: Question) -> tuple[np.ndarray, int]:
    """The places of a map in the order they are calculated, and how many the coarse one has."""
    return lattice(axis_of(question["x"]["axis"]), axis_of(question["y"]["axis"]))


def _mapped(run: Run, weather: WeatherYear, first: int, count: int) -> list[Wanted]:
    """Years of the places of a map."""
    x, y = (axis_of(run.question[name]["axis"]) for name in "xy")
    places, _coarse = lattice(x, y)
    there = lambda a, b: varied(run.document, following(run.document, x.values(a) | y.values(b)))
    return [(there(a, b), weather) for a, b in places[first : first + count]]


PURPOSES: dict[str, Callable[[Run, WeatherYear, int, int], list[Wanted]]] = {
    "doubt": _uncertain_designs,
    "choices": _chosen,
    "map": _mapped,
}
"""Years first to first + count of a run, by its purpose."""


def designs_of(run: Run) -> list[dict[str, object] | None]:
    """The design of every year of a run, in their order; none where it cannot be."""
    wanted = PURPOSES[run.purpose](run, weather_year(run.weather), 0, run.size)
    return [None if isinstance(one, str) else one[0] for one in wanted]


Turn = AbstractContextManager[Any]
NO_TURN: Turn = nullcontext()
"""For a worker: whose turn it is was settled before."""


def simulated_outcomes(run: Run, weather: WeatherYear, first: int, count: int, turn: Turn = NO_TURN) -> Outcomes:
    """The numbers of a run's years first to first + count. Each year waits for ``turn`` by itself, so that a page's
    own year comes between."""

    def one(wanted: Wanted) -> tuple[list[float], str]:
        if isinstance(wanted, str):
            return [np.nan] * len(KEYS), wanted
        with turn:
            return evaluate_design(*wanted)

    found = [one(wanted) for wanted in PURPOSES[run.purpose](run, weather, first, count)]
    figures = np.array([row for row, _why in found]).reshape(len(found), len(KEYS))
    return Outcomes(figures, {i: why for i, (_row, why) in enumerate(found) if why})
