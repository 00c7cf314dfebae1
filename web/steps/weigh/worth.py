"""Money of the years of a run: as it was when they were reckoned, or anew where prices or rates have moved since."""

import json
from hashlib import sha256
from threading import Lock
from typing import Any

import numpy as np
from cachetools import LRUCache

from heat.design import parse
from heat.design.document import PAPER
from heat.errors import HeatError
from heat.weighing.outcome import MONEY, Weighed, repriced, row_of
from web.prices.books import prices_for
from web.projects.documents import Document
from web.runs.models import Run
from web.runs.purposes import designs_of
from web.runs.services import answer
from web.sheet.page import Sheet
from web.steps.weigh.rows import LINES
from web.years.reckoned import simulate_uncached

KEPT = 24
_known: LRUCache[tuple[Any, ...], Weighed] = LRUCache(KEPT)
_lock = Lock()
MONEY_LINES = tuple(key for key, line in LINES.items() if line.figure in MONEY)
"""Lines that depend on prices and rates."""


def priced(sheet: Sheet) -> Document:
    """The design as it stands with the prices it is offered with, so that its years can be told in money."""
    offer = sheet.document["offer"]
    return {
        **sheet.document,
        "offer": {**offer, "prices": prices_for(sheet.project.books, sheet.document) | offer["prices"]},
    }


def money_key(document: Document) -> str:
    """What the money of a priced document depends on beside its year."""
    told = {name: dict(document.get(name, {})) for name in PAPER}
    told["offer"] = {name: told["offer"].get(name) for name in ("lines", "prices")}
    return sha256(json.dumps(told, sort_keys=True).encode()).hexdigest()


def row_now(sheet: Sheet) -> list[float]:
    """The numbers of the design as drawn, at its prices."""
    return row_of(sheet.year.book, sheet.parsed, prices_for(sheet.project.books, sheet.document))


def row_at(sheet: Sheet, document: Document) -> list[float]:
    """The numbers of another design in the same weather, at the same prices."""
    return row_of(
        simulate_uncached(document, sheet.weather), parse(document), prices_for(sheet.project.books, sheet.document)
    )


def answered(sheet: Sheet, run: Run) -> Weighed:
    """The years of a run, their money at the prices and rates that now are."""
    now = priced(sheet)
    years, key = answer(run), money_key(now)
    if money_key(run.document) == key:
        return years
    seen = (run.pk, int(np.isfinite(years["fraction"]).sum()), key)
    with _lock:
        found = _known.get(seen)
    if found is None:
        found = _anew(run, years, {name: now[name] for name in PAPER})
        with _lock:
            _known[seen] = found
    return found


def _anew(run: Run, years: Weighed, paper: Document) -> Weighed:
    figures = years.figures.copy()
    for i, document in enumerate(designs_of(run)):
        if document is None or not np.isfinite(figures[i, 0]):
            continue
        try:
            figures[i, -len(MONEY) :] = repriced(figures[i], parse({**document, **paper}), {})
        except HeatError:  # a row of an older version of the design
            figures[i, -len(MONEY) :] = np.nan
    return Weighed(figures, years.refused)
