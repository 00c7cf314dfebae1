"""Choices: every combination of answers as a year, what decides, the best within limits, any of them as a design."""

from math import prod
from typing import Any

import numpy as np
from django.http import HttpResponse
from django.shortcuts import get_object_or_404

from heat.common.tables import csv_table
from heat.errors import HeatError
from heat.studies.effects import Effects, contrast, effects, front
from heat.studies.outcome import COLUMN, KEYS, Outcomes
from heat.studies.plans import Levels, plan
from heat.studies.question import MOST_COMBINATIONS, Question, design_of, names_of, question_of
from web.accounts.requests import SignedIn
from web.editor.design_page import DesignPage
from web.editor.step import PageResult, sent_to
from web.jobs.models import Run
from web.jobs.purposes import placed_document
from web.jobs.services import fits, latest, progress, request_run
from web.projects.services.designs import begin_design
from web.steps.weigh.drawn import sign_of
from web.steps.weigh.economics import answered, priced
from web.steps.weigh.numbers import numbers_of
from web.steps.weigh.questions import USUAL, answer_text, known, own_question
from web.steps.weigh.rows import LINES, ComparisonLine
from web.ui import units
from web.ui.rows import Row

MOST, ROWS = 1000, 15
"""Combinations calculated at most, and rows of the table a page shows."""
OUTCOMES = ("fraction", "dark", "bought", "yield", "stagnation", "hottest", "money", "first", "life", "worth")
"""Lines of the comparison that can be asked for, by key."""
LIMITS = (
    ("stagnation", "most"),
    ("hottest", "most"),
    ("fraction", "least"),
    ("bought", "most"),
    ("unmet", "most"),
    ("area", "most"),
    ("first", "most"),
    ("life", "most"),
)
MOST_QUESTIONS = 12
FRONT_LEFT, FRONT_WIDE, FRONT_HIGH = 54, 420, 120
OWN_ROWS = 2
"""Questions of any number that can be asked beside those the project knows."""


def choices_view(page: DesignPage) -> Row:
    """The questions to tick, the run that is under way or done, and what came of it."""
    run = latest(page.design, "choices")
    requested = set(run.question["keys"]) if run else set(USUAL)
    requested = set(page.given["ticked"]) if "ticked" in page.given else requested
    offers = known(page)
    own = page.given.get("own") or (run.question.get("own", []) if run else [])
    context: Row = {
        "own": [*own, *([["", ""]] * (OWN_ROWS - len(own)))],
        "others": others(page),
        "questions": [
            {
                "key": key,
                "words": words,
                "ticked": key in requested,
                "answers": [answer_text(page, a["name"], a.get("set", {})) for a in answers],
            }
            for key, (words, answers) in offers.items()
        ],
        "run": run,
        "progress": progress(run) if run else None,
        "most": units.number(MOST, 0),
        "many": units.number(prod(len(a) for k, (_w, a) in offers.items() if k in requested), 0),
    }
    if run and context["progress"].finished:
        context |= _found(page, run) | {"fits": fits(run, page.design)}
    return context


def question_in(run: Run) -> tuple[Question, Levels]:
    """The question of a run and its combinations."""
    question = question_of(run.question["asked"])
    return question, plan(question.counts, question.most, question.seed)


def _found(page: DesignPage, run: Run) -> Row:
    """What decides the outcome asked for, the best within the limits, the front, and the rows."""
    question, levels = question_in(run)
    years = answered(page, run)
    key = page.state.query.get("of", "")
    line = LINES[key if key in OUTCOMES else "fraction"]
    values = line.times * years[line.figure]
    decided = effects(levels, question.counts, values)
    limits, wrong = _limits(page)
    good = _within(years, limits)
    show = lambda v: page.show(v, line.quantity, line.decimals)
    order = _ordered(page, years, good, line.figure, line.better)
    best = order[0] if len(order) else None
    return {
        "outcomes": [(k, LINES[k].words) for k in OUTCOMES],
        "of": line.key,
        "outcome": line.words,
        "sign": sign_of(page, line),
        "refused": len(years.refused),
        "size": run.size,
        "whole": run.size == prod(question.counts),
        "limits": limits,
        "wrong": wrong,
        "good": len(order),
        "deciding": sorted(
            (
                _deciding(requested.name, [answer_text(page, a.name, a.values) for a in requested.answers], found, show)
                for requested, found in zip(question.questions, decided.questions, strict=True)
            ),
            key=lambda row: -row["share_of"],
        ),
        "pairs": _pairs(page, question, decided, show, _difference(page, line)),
        "rows": [_row(page, question, levels, years, i) for i in order[:ROWS]],
        "more": max(len(order) - ROWS, 0),
        "columns": [q.name for q in question.questions],
        "currency": page.project.currency,
        "front": _front(page, years, good),
        "why_refused": sorted(set(years.refused.values()))[:3],
        "conclusion": _conclusion(page, question, levels, years, decided, best),
    }


def _front(page: DesignPage, years: Outcomes, good: np.ndarray) -> Row:
    """How little is bought by how much collector, or store where the collectors are all alike: every combination that
    keeps to the limits, and those no other beats in both. By first cost where that differs, else by size."""
    differ = {k: len(set(np.round(years[LINES[k].figure][good], 3))) for k in ("first", "area", "volume")}
    size = LINES["first" if differ["first"] > 1 else max(differ, key=lambda k: differ[k])]
    if differ[size.key] < 2:
        return {}
    rows = np.flatnonzero(good)
    across, up = years[size.figure][rows], years["bought_kwh"][rows]
    low, high, foot, top = across.min(), across.max(), min(up.min(), 0.9 * up.max()), up.max()
    x = lambda v: round(FRONT_LEFT + FRONT_WIDE * (v - low) / max(high - low, 1e-9), 1)
    y = lambda v: round(8 + FRONT_HIGH * (top - v) / max(top - foot, 1e-9), 1)
    frontier = front(across, -up)
    best = [(x(across[i]), y(up[i]), rows[i]) for i in frontier]
    return {
        "dots": sorted({(x(a), y(b)) for a, b in zip(across, up, strict=True)}),
        "line": "M" + "L".join(f"{a},{b}" for a, b, _row in best),
        "best": best,
        "foot": 8 + FRONT_HIGH,
        "money": size.key == "first",
        "title": f"{size.words}, {sign_of(page, size)}",
        "ends": [{"x": x(v), "text": page.show(v, size.quantity, size.decimals)} for v in sorted({low, high})],
        "up": [{"y": y(v), "text": page.show(v, "kWh", 0)} for v in sorted({foot, top})],
        "words": f"{size.words[0].lower()}{size.words[1:]}",
    }


def _limits(page: DesignPage) -> tuple[list[Row], dict[str, str]]:
    """The limits as typed, in the core's units, and what is wrong with any."""
    found, wrong = [], {}
    for key, side in LIMITS:
        line, text = LINES[key], page.state.query.get(f"{side}.{key}", "")[:20]
        value = None
        if text.strip():
            try:
                value = units.to_core(units.parse_number(text), line.quantity, page.system) / line.times
            except ValueError as error:
                wrong[key] = units.no_number(text, error)
        found.append(
            {
                "key": key,
                "side": side,
                "words": line.words,
                "text": text,
                "value": value,
                "sign": sign_of(page, line),
                "figure": line.figure,
            }
        )
    return found, wrong


def _within(years: Outcomes, limits: list[Row]) -> np.ndarray:
    good = np.isfinite(years["fraction"])
    for limit in limits:
        if limit["value"] is not None:
            figure = years[limit["figure"]]
            good &= figure <= limit["value"] if limit["side"] == "most" else figure >= limit["value"]
    return good


def _ordered(page: DesignPage, years: Outcomes, good: np.ndarray, figure: str, better: str) -> list[int]:
    """Rows that keep to the limits, the best first by the column asked for."""
    by = LINES.get(page.state.query.get("by", ""))
    name, end = (by.figure, by.better) if by else (figure, better)
    values = years[name] * (-1.0 if end == "most" else 1.0)
    rows = np.flatnonzero(good)
    return [int(i) for i in rows[np.argsort(values[rows], kind="stable")]]


def _deciding(name: str, answers: list[str], found: Any, show: Any) -> Row:
    """A question with its answers' means and ranges, and its share of the differences."""
    finite = [m for m in found.means if np.isfinite(m)]
    low, high = (min(finite), max(finite)) if finite else (0.0, 0.0)
    span = max(high - low, 1e-9)
    return {
        "name": name,
        "share": units.number(100 * found.share, 0),
        "share_of": found.share,
        "bar": round(150 * max(found.share, 0.0), 1),
        "answers": [
            {
                "name": answer_,
                "mean": show(mean),
                "low": show(a),
                "high": show(b),
                "x": round(100 * (mean - low) / span, 1),
            }
            for answer_, mean, a, b in zip(answers, found.means, found.lows, found.highs, strict=True)
            if np.isfinite(mean)
        ],
    }


def _pairs(page: DesignPage, question: Question, payload: Effects, show: Any, sign: str) -> list[str]:
    """Pairs that do not merely add, in words with their sharpest contrast."""
    words = []
    for pair in payload.pairs[:4]:
        sharp = contrast(payload, pair)
        if sharp is None:
            continue
        requested, other = question.questions[sharp.question], question.questions[sharp.other]
        name = lambda q, k: answer_text(page, q.answers[k].name, q.answers[k].values)
        there = f"{show(abs(sharp.gain_there))} {sign}".strip()
        less = f"only {there}" if sharp.gain_there >= 0 else f"{there} less, that is, it loses,"
        words.append(
            f"{requested.name}: {name(requested, sharp.better)} against {name(requested, sharp.worse)} brings "
            f"{show(sharp.gain_here)} {sign} with {name(other, sharp.here)}, {less} with {name(other, sharp.there)} "
            f"({other.name.lower()}); the pair makes {units.number(100 * pair.share, 0)} % of the differences."
        )
    return words


def answer_names(page: DesignPage, question: Question, row: Any) -> list[str]:
    """The answers of one combination by name, in the reader's units."""
    answers = [requested.answers[int(level)] for requested, level in zip(question.questions, row, strict=True)]
    return [answer_text(page, answer_.name, answer_.values) for answer_ in answers]


def _difference(page: DesignPage, line: ComparisonLine) -> str:
    """The unit of a difference: points of a share, degrees of a temperature."""
    return {"percent": "points", "degC": page.sign("delta_degC")}.get(line.quantity, sign_of(page, line))


def _row(page: DesignPage, question: Question, levels: Levels, years: Outcomes, index: int) -> Row:
    row = years.figures[index]
    cells = [("fraction", 1), ("bought", 0), ("stagnation", 0), ("first", 0), ("life", 0)]
    return {
        "index": index,
        "names": answer_names(page, question, levels[index]),
        "cells": [page.show(LINES[k].times * row[COLUMN[LINES[k].figure]], LINES[k].quantity, d) for k, d in cells],
    }


def _conclusion(
    page: DesignPage, question: Question, levels: Levels, years: Outcomes, payload: Effects, best: int | None
) -> str:
    """What decides, and the best within the limits, in one line."""
    if best is None:
        return "No combination keeps to the limits: loosen one."
    shares = [q.share for q in payload.questions]
    first = int(np.argmax(shares))
    bought = f"{page.show(years['bought_kwh'][best], 'kWh', 0)} {page.sign('kWh')}"
    names = ", ".join(answer_names(page, question, levels[best]))
    return (
        f"{question.questions[first].name} decides most, {units.number(100 * shares[first], 0)} % of the differences. "
        f"Best within the limits: {names}, with {bought} bought."
    )


def request_choices(request: SignedIn, page: DesignPage) -> PageResult | HttpResponse:
    """Ask every combination of the questions ticked; beyond a thousand a sample of them."""
    offers = known(page)
    keys = [key for key in offers if key in request.POST.getlist("ask")]
    own = [
        [path[:90], text[:200]]
        for path, text in zip(request.POST.getlist("own"), request.POST.getlist("answers"), strict=False)
        if path or text.strip()
    ][:OWN_ROWS]
    here = page.at("choices").with_given(ticked=keys, own=own)
    try:
        own_answers = [own_question(page, path, text) for path, text in own]
    except ValueError as error:
        return PageResult(page=here.with_note(str(error)), step="weigh", status=422)
    questions = [offers[key] for key in keys] + own_answers
    counts = [len(answers) for _words, answers in questions]
    note = _cannot(keys, len(questions))
    if note:
        return PageResult(page=here.with_note(note), step="weigh", status=422)
    if prod(counts) > MOST_COMBINATIONS:
        note = (
            f"These questions have {units.number(prod(counts), 0)} combinations, more than the "
            f"{units.number(MOST_COMBINATIONS, 0)} a sample can stand for: untick one or two."
        )
        return PageResult(page=here.with_note(note), step="weigh", status=422)
    try:
        request_choices_of(page, questions, keys, own)
    except HeatError as error:
        return PageResult(page=here.with_note(f"Not asked: {error}"), step="weigh", status=422)
    return sent_to(page.design, "weigh", view="choices")


def request_choices_of(
    page: DesignPage, questions: list[tuple[str, list[Any]]], keys: list[str], own: list[list[str]]
) -> Run:
    """Ask every combination of questions' answers, or a sample of them; ``keys`` and ``own``: as they were asked."""
    named = [{"name": words, "answers": answers} for words, answers in questions]
    requested = {"questions": named, "most": MOST, "seed": 1}
    question = question_of(requested)
    size = len(plan(question.counts, question.most, question.seed))
    whole = {"asked": requested, "keys": keys, "own": own}
    return request_run(
        design=page.design, author=page.user, purpose="choices", question=whole, size=size, document=priced(page)
    )


def others(page: DesignPage) -> list[tuple[str, str]]:
    """Every number of the design that can be asked about, by name."""
    return sorted((number.name, path) for path, number in numbers_of(page).items())


def _cannot(keys: list[str], many: int) -> str:
    """Why questions cannot be asked together; empty where they can."""
    if not many:
        return "Tick at least one question."
    if "plane" in keys and {"tilt", "bearing"} & set(keys):
        return "A surveyed plane has its own tilt and bearing: tick either the plane or these."
    return "" if many <= MOST_QUESTIONS else f"At most {MOST_QUESTIONS} questions can be combined: untick some."


def open_choice(request: SignedIn, page: DesignPage) -> PageResult | HttpResponse:
    """A row as a design of its own; what it asks of the survey is one edit."""
    run = get_object_or_404(page.project.runs, pk=_whole(request.POST.get("run")), purpose="choices")
    question, levels = question_in(run)
    index = _whole(request.POST.get("row"))
    if index >= len(levels):
        return PageResult(page=page.with_note("That row is not there any more."), step="weigh", status=422)
    names = answer_names(page, question, levels[index])
    made = design_of(run.document, question, levels[index], placed_document)
    wanted = {
        path: value
        for requested, level in zip(question.questions, levels[index], strict=True)
        for path, value in requested.answers[int(level)].values.items()
        if path.startswith("demand.")
    }
    try:
        design = begin_design(
            design=page.design,
            author=page.user,
            name=", ".join(names)[:60],
            document=made,
            wanted=wanted,
            note="From Weigh, Choices: "
            + "; ".join(f"{q.name} {n}" for q, n in zip(question.questions, names, strict=True)),
        )
    except HeatError as error:
        note = f"Not opened: {getattr(error, 'allowed', error)}."
        return PageResult(page=page.at("choices").with_note(note), step="weigh", status=422)
    return sent_to(design, "scheme")


def _whole(text: str | None) -> int:
    return int(text) if text and text.isdecimal() and len(text) < 15 else 0


def choices_csv(page: DesignPage) -> str:
    """Every combination with its answers and numbers (units as the columns' names end), or why it is refused."""
    run = latest(page.design, "choices")
    if run is None:
        return csv_table([["nothing asked yet"]])
    question, levels = question_in(run)
    years = answered(page, run)
    head = [*(q.name for q in question.questions), *KEYS, "refused"]
    return csv_table(
        [
            head,
            *(
                [
                    *names_of(question, level),
                    *(float(v) if np.isfinite(v) else "" for v in row),
                    years.refused.get(i, ""),
                ]
                for i, (level, row) in enumerate(zip(levels, years.figures, strict=True))
            ),
        ]
    )
