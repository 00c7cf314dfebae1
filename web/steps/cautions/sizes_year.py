"""What the size of a pipe and of the exchanger does to the year: full years beside the one as drawn."""

from django.http import HttpResponse
from django.shortcuts import render

from heat.design.changing import with_changes
from heat.ledger.year_book import BOUGHT, YearBook, points_between
from heat.sizing.pipe_tables import sold_pipes
from web.accounts.requests import SignedIn
from web.editor.design_page import DesignPage
from web.simulations.cache import years_beside
from web.ui import units
from web.ui.rows import Row

SHARES = ((0.5, "half the exchanger"), (2.0, "twice the exchanger"), (20.0, "an exchanger without end"))


def size_figures(request: SignedIn, page: DesignPage) -> HttpResponse:
    """Bought heat with other pipes and exchangers, against the design as drawn."""
    design = page.parsed
    ways = {**_pipes(page), **_exchangers(page)}

    documents = [with_changes(page.document, changes) for changes in ways.values()]
    found = years_beside("sizes and the year", design, page.project.weather, documents, page.weather)
    rows = [_row(page, words, book) for words, book in zip(ways, found, strict=True)]
    return render(request, "cautions/sizes.html", {"rows": rows, "sign": page.sign("kWh")})


def _row(page: DesignPage, words: str, book: YearBook | str) -> dict[str, str]:
    if isinstance(book, str):
        return {"words": words, "more": "", "points": book}
    more = book.total(*BOUGHT) - page.bought_kwh
    points = points_between(page.year.book, book)
    return {"words": words, "more": page.show(more, "kWh", 0), "points": units.number(points, 2)}


def _pipes(page: DesignPage) -> dict[str, Row]:
    """The next sizes below and above the one drawn."""
    if page.parsed.system.scheme.driven_by == "none":
        return {}
    now = page.parsed.system.loop.supply_pipe
    sizes = sold_pipes(now.material, page.pipe_norm)
    near = sorted(sizes, key=lambda size: abs(size.outer_mm - now.outer_diameter_mm))[:4]
    ways = {}
    for made in sorted(near):
        if abs(made.outer_mm - now.outer_diameter_mm) < 0.01:
            continue
        ways[f"pipes of {page.pipe_text(made)}"] = {
            f"system.loop.{pipe}.{name}": value
            for pipe in ("supply_pipe", "return_pipe")
            for name, value in (("outer_diameter_mm", made.outer_mm), ("wall_mm", made.wall_mm))
        }
    return ways


def _exchangers(page: DesignPage) -> dict[str, Row]:
    kind = page.parsed.system.scheme.exchange
    if kind not in ("coil", "plate", "jacket"):
        return {}
    path = f"system.{kind}.ua_w_k"
    now = page.document["system"][kind]["ua_w_k"]
    return {words: {path: min(share * now, 50_000.0)} for share, words in SHARES}
