"""Many designs in one weather: vary fields over a grid or a list, run on threads or any executor.

Order does not matter, a stopped sweep goes on where it was, and each number is that of a single run.
"""

import json
from collections.abc import Callable, Iterable, Sequence
from concurrent.futures import FIRST_COMPLETED, Executor, Future, ThreadPoolExecutor, wait
from dataclasses import dataclass, field, replace
from hashlib import sha256
from itertools import product
from typing import Any

from heat.design import Design, parse
from heat.errors import HeatError, InputError
from heat.ledger import accounts as acc
from heat.ledger.year_book import BOUGHT, NEEDED, YearBook
from heat.simulation.year import simulate
from heat.weather.year import WeatherYear

Figures = dict[str, float]


@dataclass(frozen=True)
class Outcome:
    """One design of a sweep: the values varied (each in its field's unit), figures, or why it was refused."""

    index: int
    key: str
    values: dict[str, Any]
    figures: Figures = field(default_factory=dict)
    refused: str = ""


def grid(**axes: Sequence[Any]) -> list[dict[str, Any]]:
    """Every combination of values by dotted path with ``__`` for the dot (each in its field's unit, such as L)."""
    paths = [name.replace("__", ".") for name in axes]
    return [dict(zip(paths, row, strict=True)) for row in product(*axes.values())]


def varied(document: dict[str, Any], values: dict[str, Any]) -> dict[str, Any]:
    """A copy of a document with values at dotted paths (each in its field's unit, such as m²), rows of lists by number.

    Raises InputError where a list has no such row.
    """
    copy: dict[str, Any] = document
    for path, value in values.items():
        copy = _put(copy, path.split("."), value, path)
    return copy


def _put(part: Any, names: list[str], value: Any, path: str) -> Any:
    """A copy of a part with a value put in; what leads to it is copied, the rest is shared."""
    if not names:
        return value
    name, *below = names
    if isinstance(part, list | tuple):
        if not name.isdecimal() or int(name) >= len(part):
            raise InputError(path, name, f"a row of the list, 0 to {len(part) - 1}")
        row = int(name)
        return [*part[:row], _put(part[row], below, value, path), *part[row + 1 :]]
    inside = part if isinstance(part, dict) else {}
    return {**inside, name: _put(inside.get(name), below, value, path)}


def key_of(document: dict[str, Any], values: dict[str, Any]) -> str:
    """Name of a design by its document and the values changed in it (16 hex digits, no unit)."""
    return sha256(f"{_text(document)} {_text(values)}".encode()).hexdigest()[:16]


def _text(part: dict[str, Any]) -> str:
    return json.dumps(part, sort_keys=True)


def usual_figures(book: YearBook) -> Figures:
    """What a map of designs shows: fractions (no unit), kWh, kWh/m², stagnation (h), as single runs give them."""
    fractions = book.fractions
    return {
        "fraction": fractions.at_tap,
        "fraction_of_supply": fractions.of_supply,
        "fuel_saved": fractions.fuel_saved,
        "bought_kwh": book.total(*BOUGHT),
        "missing_kwh": book.total(acc.UNMET),
        "needed_kwh": book.total(*NEEDED),
        "solar_kwh": book.total(acc.INTO_STORE, acc.INTO_POOL),
        "yield_kwh_m2": book.yield_kwh_m2()[0],
        "stagnation_h": book.stagnation_hours(),
        "pump_kwh": book.total(acc.PUMP_ELECTRICITY),
        "hours_closed": float(book.hours_closed),
    }


def run_one(
    index: int,
    document: dict[str, Any],
    values: dict[str, Any],
    weather: WeatherYear,
    figures: Callable[[YearBook], Figures] = usual_figures,
) -> Outcome:
    """The outcome of one design (values in their fields' units, such as m²); refusals are told, not raised."""
    try:
        return Outcome(index, "", values, figures(simulate(parse(varied(document, values)), weather)))
    except HeatError as error:
        return Outcome(index, "", values, refused=str(error))


def sweep(
    design: Design | dict[str, Any],
    weather: WeatherYear,
    points: Iterable[dict[str, Any]],
    *,
    executor: Executor | None = None,
    workers: int = 2,
    figures: Callable[[YearBook], Figures] = usual_figures,
    done: dict[str, Outcome] | None = None,
    progress: Callable[[int], None] | None = None,
    cancelled: Callable[[], bool] | None = None,
) -> list[Outcome]:
    """Outcomes in the order of ``points`` (values by dotted path, each in its field's unit, such as L).

    ``executor``: any of concurrent.futures; else threads of this process, which the compiled loop lets run
    side by side. ``done``: outcomes by key of an earlier, stopped sweep; they are not run again, and new ones
    are added to it as they come. ``progress`` is told how many are finished; where ``cancelled`` answers
    true the sweep stops and returns what is finished.
    """
    document = design.model_dump(mode="json") if isinstance(design, Design) else design
    stored = done if done is not None else {}
    own = ThreadPoolExecutor(workers) if executor is None else None
    pool = executor if executor is not None else own
    assert pool is not None
    finished: list[Outcome] = []
    pending: list[tuple[int, dict[str, Any]]] = []
    keys: list[str] = []
    for index, values in enumerate(points):
        key = key_of(document, values)
        keys.append(key)
        if key in stored:
            finished.append(Outcome(index, key, values, stored[key].figures, stored[key].refused))
        else:
            pending.append((index, values))
    waiting: set[Future[Outcome]] = set()
    ahead = 4 * workers
    try:
        while waiting or pending:
            if cancelled is not None and cancelled():
                break
            while pending and len(waiting) < ahead:
                index, values = pending.pop(0)
                waiting.add(pool.submit(run_one, index, document, values, weather, figures))
            ready, waiting = wait(waiting, timeout=0.5, return_when=FIRST_COMPLETED)
            for future in ready:
                outcome = future.result()
                outcome = replace(outcome, key=keys[outcome.index])
                stored[outcome.key] = outcome
                finished.append(outcome)
            if ready and progress is not None:
                progress(len(finished))
    finally:
        for future in waiting:
            future.cancel()
        if own is not None:
            own.shutdown(wait=True, cancel_futures=True)
    return sorted(finished, key=lambda outcome: outcome.index)
