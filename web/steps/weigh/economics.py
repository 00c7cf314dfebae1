"""Money of the years of a run: as it was when they were calculated, or anew where prices or rates have moved since."""

import json
from hashlib import sha256
from threading import Lock
from typing import Any

import numpy as np
from cachetools import LRUCache

from heat.common.documents import Document
from heat.design import parse
from heat.design.document import PAPER
from heat.errors import HeatError
from heat.studies.outcome import MONEY, Outcomes, repriced, row_of
from web.editor.design_page import DesignPage
from web.jobs.models import Run
from web.jobs.purposes import designs_of
from web.jobs.services import answer
from web.prices.books import prices_for
from web.simulations.cache import simulate_uncached
from web.steps.weigh.rows import LINES

STORED = 24
_known: LRUCache[tuple[Any, ...], Outcomes] = LRUCache(STORED)
_lock = Lock()
MONEY_LINES = tuple(key for key, line in LINES.items() if line.figure in MONEY)
"""Lines that depend on prices and rates."""


def priced(page: DesignPage) -> Document:
    """The design as it stands with the prices it is offered with, so that its years can be priced."""
    offer = page.document["offer"]
    return {
        **page.compared,
        "offer": {**offer, "prices": prices_for(page.project.books, page.document) | offer["prices"]},
    }


def money_key(document: Document) -> str:
    """What the money of a priced document depends on beside its year."""
    stated = {name: dict(document.get(name, {})) for name in PAPER}
    stated["offer"] = {name: stated["offer"].get(name) for name in ("lines", "prices")}
    return sha256(json.dumps(stated, sort_keys=True).encode()).hexdigest()


def row_now(page: DesignPage) -> list[float]:
    """The numbers of the design as drawn, at its prices."""
    return row_of(page.year.book, page.parsed, prices_for(page.project.books, page.document))


def row_at(page: DesignPage, document: Document) -> list[float]:
    """The numbers of another design in the same weather, at the same prices."""
    return row_of(
        simulate_uncached(document, page.weather), parse(document), prices_for(page.project.books, page.document)
    )


def answered(page: DesignPage, run: Run) -> Outcomes:
    """The years of a run, their money at the prices and rates that now are."""
    now = priced(page)
    years, key = answer(run), money_key(now)
    if money_key(run.document) == key:
        return years
    cache_key = (run.pk, int(np.isfinite(years["fraction"]).sum()), key)
    with _lock:
        found = _known.get(cache_key)
    if found is None:
        found = _anew(run, years, {name: now[name] for name in PAPER})
        with _lock:
            _known[cache_key] = found
    return found


def _anew(run: Run, years: Outcomes, paper: Document) -> Outcomes:
    figures = years.figures.copy()
    for i, document in enumerate(designs_of(run)):
        if document is None or not np.isfinite(figures[i, 0]):
            continue
        try:
            figures[i, -len(MONEY) :] = repriced(figures[i], parse({**document, **paper}), {})
        except HeatError:  # a row of an older version of the design
            figures[i, -len(MONEY) :] = np.nan
    return Outcomes(figures, years.refused)
