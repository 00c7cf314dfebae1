"""Side by side: every design of the project as a column, the accounts people decide by as rows."""

from dataclasses import dataclass

import numpy as np

from heat.design import Design as DesignDocument
from heat.design import parse
from heat.ledger.year_book import difference
from heat.studies.merit import MERITS, Merit, usual
from web.editor.design_page import DesignPage
from web.presentation.against import measured_against
from web.presentation.kinds import KINDS
from web.prices.books import prices_for
from web.projects.models import Design
from web.simulations.beside import Figures, figures_of
from web.simulations.cache import simulate
from web.simulations.rough import is_rough, sun_uncertainty_text
from web.steps.weigh.pictogram import pictogram
from web.steps.weigh.rows import GROUPS, LINES, ComparisonLine
from web.ui import units

SAME = 1e-9
BEST_WORDS = {"bought": "has least heat bought or unmet", "unmet": "leaves least unmet", "pool": "warms the pool most"}
"""How the best by a figure is named."""


@dataclass(frozen=True)
class DesignColumn:
    """A design with its figures, or the words why it has none."""

    design: Design
    document: DesignDocument | None
    figures: Figures
    refused: str = ""


def columns_of(page: DesignPage) -> list[DesignColumn]:
    """Every design in sight with its figures."""
    found = []
    prices = prices_for(page.project.books, page.document)
    for design in page.project.designs.filter(archived=False):
        design.project = page.project
        figures = figures_of(design, prices)
        if isinstance(figures, str):
            found.append(DesignColumn(design, None, {}, figures))
        else:
            found.append(DesignColumn(design, parse(design.document()), figures))
    return found


def arranged(page: DesignPage, columns: list[DesignColumn]) -> tuple[list[DesignColumn], DesignColumn | None]:
    """The columns asked for, sorted by a line where one is asked, and the one the differences are from."""
    query = page.state.query
    left_out = set(query.get("without", "").split(","))
    visible = [c for c in columns if c.design.letter not in left_out] or columns
    simulated = [c for c in visible if c.figures]
    base = next((c for c in simulated if c.design.letter == query.get("base")), None)
    base = base or next((c for c in simulated if c.design.pk == page.design.pk), simulated[0] if simulated else None)
    line = LINES.get(query.get("by", ""))
    if line:
        worst = np.inf
        key = lambda c: (-1.0 if line.better == "most" else 1.0) * c.figures.get(line.figure, worst)
        visible = sorted(visible, key=lambda c: (not c.figures, key(c)))
    return visible, base


def side_view(page: DesignPage) -> dict[str, object]:
    """Columns with their heads, groups of lines with the best underlined and differences from the base, and what it
    comes to in words."""
    every = columns_of(page)
    columns, base = arranged(page, every)
    folded = set(page.state.query.get("fold", "").split(","))
    query = page.state.query
    tallest = max((c.document.system.store.volume_l for c in columns if c.document), default=1.0)
    longest = max((c.document.plane.slope_m for c in columns if c.document), default=1.0)
    return {
        "heads": [_head(page, c, base, tallest, longest) for c in columns],
        "groups": [
            {
                "title": title,
                "folded": title in folded,
                "lines": [_line(page, line, columns, base) for line in lines if _informative(line, columns)],
            }
            for title, lines in GROUPS
        ],
        "left_out": [c.design for c in every if c not in columns],
        "without": query.get("without", ""),
        "by": query.get("by", ""),
        "base": base.design.letter if base else "",
        "conclusion": conclusion(page, columns, base),
        "many": len(columns) > 5,
        "against": measured_against(page),
        "rough": sun_uncertainty_text(page.project.weather) if is_rough(page.project.weather) else "",
        "refused": [{"letter": c.design.letter, "why": c.refused} for c in columns if c.refused],
    }


def _informative(line: ComparisonLine, columns: list[DesignColumn]) -> bool:
    """Whether a line says anything: what is nothing in every design is left out, but for the books."""
    values = [c.figures.get(line.figure, np.nan) for c in columns if c.figures]
    return bool(values) and (line.key in ("fraction", "bought", "closed") or any(abs(v) > SAME for v in values))


def _head(
    page: DesignPage, column: DesignColumn, base: DesignColumn | None, tallest: float, longest: float
) -> dict[str, object]:
    design, document = column.design, column.document
    head: dict[str, object] = {"design": design, "is_base": column is base, "here": design.pk == page.design.pk}
    if document is None:
        return head | {"words": ["not calculated"], "picture": None}
    collector, plane, system = document.system.collector, document.plane, document.system
    each = units.field_text(collector.total_gross_m2 / collector.count, "m2", page.system)
    store = f"{page.show(system.store.volume_l, 'L', 0)} {page.sign('L')} store"
    return head | {
        "words": [
            KINDS[system.kind],
            f"{collector.count} × {each} {page.sign('m2')}",
            f"{plane.tilt_deg:.0f}° towards {plane.azimuth_deg:.0f}°",
            "" if system.scheme.exchange == "pool" else store,
        ],
        "picture": pictogram(document, tallest, longest),
    }


def display_value(page: DesignPage, line: ComparisonLine, value: float) -> str:
    """A figure in the reader's units; a dash where there is none."""
    if not np.isfinite(value):
        return "–"
    text = page.show(line.times * value, line.quantity, line.decimals)
    return f"({text})" if line.red else text


def _line(
    page: DesignPage, line: ComparisonLine, columns: list[DesignColumn], base: DesignColumn | None
) -> dict[str, object]:
    values = [c.figures.get(line.figure, np.nan) for c in columns]
    finite = [v for v in values if np.isfinite(v)]
    best = (max(finite) if line.better == "most" else min(finite)) if finite and line.better else None
    differs = best is not None and len(finite) > 1 and max(finite) - min(finite) > SAME
    sign = page.project.currency if line.sign == "money" else page.sign(line.quantity)
    start = base.figures.get(line.figure, np.nan) if base else np.nan
    cells = []
    for column, value in zip(columns, values, strict=True):
        cell = {"text": display_value(page, line, value), "best": differs and abs(value - (best or 0.0)) <= SAME}
        if column is not base and np.isfinite(value) and np.isfinite(start):
            cell["change"] = _change(page, line, value, start)
        cells.append(cell)
    return {"key": line.key, "words": line.words, "sign": sign, "cells": cells, "red": line.red}


def _change(page: DesignPage, line: ComparisonLine, value: float, start: float) -> str:
    """A difference from the base in the reader's units; a temperature's is one of degrees."""
    quantity = "delta_degC" if line.quantity == "degC" else line.quantity
    text = page.show(line.times * (value - start), quantity, line.decimals)
    if not text.strip("0.−"):
        return "same"
    return text if text.startswith("−") else f"+{text}"


def conclusion(page: DesignPage, columns: list[DesignColumn], base: DesignColumn | None) -> str:
    """What names the winner, and the account of the ledger that made it so."""
    simulated = [c for c in columns if c.figures]
    if base is None or len(simulated) < 2:
        return "One design alone has nothing to be compared with: copy it, or begin another."
    needs = [c.figures["needed_kwh"] for c in simulated]
    merit = _judged_by(simulated)
    best = max(simulated, key=lambda c: _value_of(c, merit))
    unit = "delta_degC" if merit.unit == "degC" else merit.unit
    amount = lambda v: f"{page.show(abs(v), unit, 1 if merit.more else 0)} {page.sign(unit)}"
    verb = {
        "bought": "has least heat bought or unmet",
        "unmet": "leaves least heat unmet",
        "pool": "warms the pool most",
    }
    words = f"{best.design.letter} {verb[merit.key]}: "
    words += f"{page.show(abs(_value_of(best, merit)), merit.unit, 1 if merit.more else 0)} {page.sign(merit.unit)}."
    if merit.key == "bought" and best.figures["unmet_kwh"] > 1.0:
        words += f" Of it {amount(best.figures['unmet_kwh'])} are unmet."
    if best is base:
        others = sorted((c for c in simulated if c is not base), key=lambda c: -_value_of(c, merit))
        best, base, lead = others[0], base, f"The next, {others[0].design.letter},"
    else:
        lead = "It"
    more = _value_of(best, merit) - _value_of(base, merit)
    if abs(more) < merit.least:
        return f"{words} {lead} does as well as {base.design.letter}."
    better = ("warmer" if more > 0 else "colder") if merit.more else ("less" if more > 0 else "more")
    words += (
        f" {lead} is {amount(more)} {better} than {base.design.letter}"
        if merit.more
        else (f" {lead} has {amount(more)} {better} than {base.design.letter}")
    )
    words += f"; {_reason(page, base, best)}."
    if max(needs) - min(needs) > 0.02 * max(needs) and not merit.more:
        words += " The designs do not carry the same need, so heat bought depends on both."
    return words + _money(page, simulated)


def _judged_by(columns: list[DesignColumn]) -> Merit:
    """What the designs can all be judged by: heat bought or unmet where any buys, else what their need is about."""
    keys = {usual(c.document) for c in columns if c.document is not None}
    return MERITS[keys.pop() if len(keys) == 1 else "bought"]


def _value_of(column: DesignColumn, merit: Merit) -> float:
    """How good a design is by its figure, more being better (the figure's unit)."""
    figures = column.figures
    if merit.key == "pool":
        return figures.get("pool_mean_in_season_c", -np.inf)
    return -(figures["unmet_kwh"] + (figures["bought_kwh"] if merit.key == "bought" else 0.0))


def _money(page: DesignPage, simulated: list[DesignColumn]) -> str:
    """Which design is worth most in money, by the prices and rates there are."""
    richest = max(simulated, key=lambda c: c.figures["present_value"])
    value = richest.figures["present_value"]
    amount = f"{units.number(abs(value), 0)} {page.project.currency}"
    text = f"leaves most, {amount}" if value >= 0 else f"falls least short, by {amount}"
    return f" In money, design {richest.design.letter} {text} over {page.document['money']['horizon_years']} years."


def _reason(page: DesignPage, base: DesignColumn, best: DesignColumn) -> str:
    """The account that moved bought heat most between two designs."""
    file = page.project.weather
    lines = difference(simulate(base.document, file).book, simulate(best.document, file).book)  # type: ignore[arg-type]
    decisive = max(lines, key=lambda line: abs(line.kwh))
    amount = f"{page.show(abs(decisive.kwh), 'kWh', 0)} {page.sign('kWh')}"
    account = decisive.words.replace("lost: ", "loss of the ")
    return f"what moved most is {account}, by {amount}"
