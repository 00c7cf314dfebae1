"""Choices: every combination of answers as a year, what decides, the best within limits, any of them as a design."""

from math import prod
from typing import Any

import numpy as np
from django.http import HttpResponse
from django.shortcuts import get_object_or_404

from heat.errors import HeatError
from heat.tables import csv_table
from heat.weighing.effects import Effects, contrast, effects, front
from heat.weighing.outcome import COLUMN, KEYS, Weighed
from heat.weighing.plans import Levels, plan
from heat.weighing.question import MOST_COMBINATIONS, Question, design_of, names_of, question_of
from web.accounts.requests import SignedIn
from web.projects.services.designs import begin_design
from web.runs.models import Run
from web.runs.purposes import standing
from web.runs.services import ask_run, fits, latest, progress
from web.sheet.page import Sheet
from web.sheet.step import Shown, sent_to
from web.steps.weigh.asked import USUAL, known, own_question, said
from web.steps.weigh.drawn import sign_of
from web.steps.weigh.numbers import numbers_of
from web.steps.weigh.rows import LINES, Line
from web.steps.weigh.worth import answered, priced
from web.ui import units

MOST, ROWS = 1000, 15
"""Combinations reckoned at most, and rows of the table a page shows."""
OUTCOMES = ("fraction", "dark", "bought", "yield", "stagnation", "hottest", "money", "first", "life", "worth")
"""Lines of the comparison that can be asked for, by key."""
LIMITS = (
    ("stagnation", "most"), ("hottest", "most"), ("fraction", "least"), ("bought", "most"), ("missing", "most"),
    ("area", "most"), ("first", "most"), ("life", "most"),
)  # fmt: skip
MOST_QUESTIONS = 12
FRONT_LEFT, FRONT_WIDE, FRONT_HIGH = 54, 420, 120
OWN_ROWS = 2
"""Questions of any number that can be asked beside those the project knows."""


def choices_view(sheet: Sheet) -> dict[str, Any]:
    """The questions to tick, the run that is under way or done, and what came of it."""
    run = latest(sheet.design, "choices")
    asked = set(run.question["keys"]) if run else set(USUAL)
    asked = set(sheet.given["ticked"]) if "ticked" in sheet.given else asked
    offers = known(sheet)
    own = sheet.given.get("own") or (run.question.get("own", []) if run else [])
    page: dict[str, Any] = {
        "own": [*own, *([["", ""]] * (OWN_ROWS - len(own)))], "others": others(sheet), "questions": [
            {"key": key, "words": words, "ticked": key in asked,
             "answers": [said(sheet, a["name"], a.get("set", {})) for a in answers]}
            for key, (words, answers) in offers.items()
        ],
        "run": run, "progress": progress(run) if run else None, "most": units.number(MOST, 0),
        "many": units.number(prod(len(a) for k, (_w, a) in offers.items() if k in asked), 0),
    }  # fmt: skip
    if run and page["progress"].finished:
        page |= _found(sheet, run) | {"fits": fits(run, sheet.design)}
    return page


def question_in(run: Run) -> tuple[Question, Levels]:
    """The question of a run and its combinations."""
    question = question_of(run.question["asked"])
    return question, plan(question.counts, question.most, question.seed)


def _found(sheet: Sheet, run: Run) -> dict[str, Any]:
    """What decides the outcome asked for, the best within the limits, the front, and the rows."""
    question, levels = question_in(run)
    years = answered(sheet, run)
    key = sheet.look.query.get("of", "")
    line = LINES[key if key in OUTCOMES else "fraction"]
    values = line.times * years[line.figure]
    told = effects(levels, question.counts, values)
    limits, wrong = _limits(sheet)
    good = _within(years, limits)
    show = lambda v: sheet.show(v, line.quantity, line.decimals)
    order = _ordered(sheet, years, good, line.figure, line.better)
    best = order[0] if len(order) else None
    return {
        "outcomes": [(k, LINES[k].words) for k in OUTCOMES], "of": line.key, "outcome": line.words,
        "sign": sign_of(sheet, line), "refused": len(years.refused), "size": run.size,
        "whole": run.size == prod(question.counts), "limits": limits, "wrong": wrong, "good": len(order),
        "deciding": sorted(
            (_deciding(asked.name, [said(sheet, a.name, a.values) for a in asked.answers], found, show)
             for asked, found in zip(question.questions, told.questions, strict=True)),
            key=lambda row: -row["share_of"],
        ),
        "pairs": _pairs(sheet, question, told, show, _difference(sheet, line)),
        "rows": [_row(sheet, question, levels, years, i) for i in order[:ROWS]], "more": max(len(order) - ROWS, 0),
        "columns": [q.name for q in question.questions], "currency": sheet.project.currency,
        "front": _front(sheet, years, good), "why_refused": sorted(set(years.refused.values()))[:3],
        "conclusion": _conclusion(sheet, question, levels, years, told, best),
    }  # fmt: skip


def _front(sheet: Sheet, years: Weighed, good: np.ndarray) -> dict[str, Any]:
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
    kept = front(across, -up)
    best = [(x(across[i]), y(up[i]), rows[i]) for i in kept]
    return {
        "dots": sorted({(x(a), y(b)) for a, b in zip(across, up, strict=True)}),
        "line": "M" + "L".join(f"{a},{b}" for a, b, _row in best), "best": best, "foot": 8 + FRONT_HIGH,
        "money": size.key == "first", "title": f"{size.words}, {sign_of(sheet, size)}", "ends": [
            {"x": x(v), "text": sheet.show(v, size.quantity, size.decimals)} for v in sorted({low, high})
        ],
        "up": [{"y": y(v), "text": sheet.show(v, "kWh", 0)} for v in sorted({foot, top})],
        "words": f"{size.words[0].lower()}{size.words[1:]}",
    }  # fmt: skip


def _limits(sheet: Sheet) -> tuple[list[dict[str, Any]], dict[str, str]]:
    """The limits as typed, in the core's units, and what is wrong with any."""
    found, wrong = [], {}
    for key, side in LIMITS:
        line, text = LINES[key], sheet.look.query.get(f"{side}.{key}", "")[:20]
        value = None
        if text.strip():
            try:
                value = units.kept(units.parse_number(text), line.quantity, sheet.system) / line.times
            except ValueError as error:
                wrong[key] = units.no_number(text, error)
        found.append({"key": key, "side": side, "words": line.words, "text": text, "value": value,
                      "sign": sign_of(sheet, line), "figure": line.figure})  # fmt: skip
    return found, wrong


def _within(years: Weighed, limits: list[dict[str, Any]]) -> np.ndarray:
    good = np.isfinite(years["fraction"])
    for limit in limits:
        if limit["value"] is not None:
            figure = years[limit["figure"]]
            good &= figure <= limit["value"] if limit["side"] == "most" else figure >= limit["value"]
    return good


def _ordered(sheet: Sheet, years: Weighed, good: np.ndarray, figure: str, better: str) -> list[int]:
    """Rows that keep to the limits, the best first by the column asked for."""
    by = LINES.get(sheet.look.query.get("by", ""))
    name, end = (by.figure, by.better) if by else (figure, better)
    values = years[name] * (-1.0 if end == "most" else 1.0)
    rows = np.flatnonzero(good)
    return [int(i) for i in rows[np.argsort(values[rows], kind="stable")]]


def _deciding(name: str, answers: list[str], found: Any, show: Any) -> dict[str, Any]:
    """A question with its answers' means and ranges, and its share of the differences."""
    seen = [m for m in found.means if np.isfinite(m)]
    low, high = (min(seen), max(seen)) if seen else (0.0, 0.0)
    span = max(high - low, 1e-9)
    return {
        "name": name, "share": units.number(100 * found.share, 0), "share_of": found.share,
        "bar": round(150 * max(found.share, 0.0), 1),
        "answers": [
            {"name": answer_, "mean": show(mean), "low": show(a), "high": show(b),
             "x": round(100 * (mean - low) / span, 1)}
            for answer_, mean, a, b in zip(answers, found.means, found.lows, found.highs, strict=True)
            if np.isfinite(mean)
        ],
    }  # fmt: skip


def _pairs(sheet: Sheet, question: Question, told: Effects, show: Any, sign: str) -> list[str]:
    """Pairs that do not merely add, in words with their sharpest contrast."""
    words = []
    for pair in told.pairs[:4]:
        sharp = contrast(told, pair)
        if sharp is None:
            continue
        asked, other = question.questions[sharp.question], question.questions[sharp.other]
        name = lambda q, k: said(sheet, q.answers[k].name, q.answers[k].values)
        there = f"{show(abs(sharp.gain_there))} {sign}".strip()
        less = f"only {there}" if sharp.gain_there >= 0 else f"{there} less, that is, it loses,"
        words.append(
            f"{asked.name}: {name(asked, sharp.better)} against {name(asked, sharp.worse)} brings "
            f"{show(sharp.gain_here)} {sign} with {name(other, sharp.here)}, {less} with {name(other, sharp.there)} "
            f"({other.name.lower()}); the pair makes {units.number(100 * pair.share, 0)} % of the differences."
        )
    return words


def said_names(sheet: Sheet, question: Question, row: Any) -> list[str]:
    """The answers of one combination by name, in the reader's units."""
    answers = [asked.answers[int(level)] for asked, level in zip(question.questions, row, strict=True)]
    return [said(sheet, answer_.name, answer_.values) for answer_ in answers]


def _difference(sheet: Sheet, line: Line) -> str:
    """The unit of a difference: points of a share, degrees of a temperature."""
    return {"percent": "points", "degC": sheet.sign("delta_degC")}.get(line.quantity, sign_of(sheet, line))


def _row(sheet: Sheet, question: Question, levels: Levels, years: Weighed, index: int) -> dict[str, Any]:
    row = years.figures[index]
    cells = [("fraction", 1), ("bought", 0), ("stagnation", 0), ("first", 0), ("life", 0)]
    return {
        "index": index, "names": said_names(sheet, question, levels[index]),
        "cells": [sheet.show(LINES[k].times * row[COLUMN[LINES[k].figure]], LINES[k].quantity, d) for k, d in cells],
    }  # fmt: skip


def _conclusion(
    sheet: Sheet, question: Question, levels: Levels, years: Weighed, told: Effects, best: int | None
) -> str:
    """What decides, and the best within the limits, in one line."""
    if best is None:
        return "No combination keeps to the limits: loosen one."
    shares = [q.share for q in told.questions]
    first = int(np.argmax(shares))
    bought = f"{sheet.show(years['bought_kwh'][best], 'kWh', 0)} {sheet.sign('kWh')}"
    names = ", ".join(said_names(sheet, question, levels[best]))
    return (
        f"{question.questions[first].name} decides most, {units.number(100 * shares[first], 0)} % of the differences. "
        f"Best within the limits: {names}, with {bought} bought."
    )


def ask_choices(request: SignedIn, sheet: Sheet) -> Shown | HttpResponse:
    """Ask every combination of the questions ticked; beyond a thousand a sample of them."""
    offers = known(sheet)
    keys = [key for key in offers if key in request.POST.getlist("ask")]
    own = [[path[:90], text[:200]] for path, text in zip(request.POST.getlist("own"), request.POST.getlist("answers"),
           strict=False) if path or text.strip()][:OWN_ROWS]  # fmt: skip
    here = sheet.at("choices").handing(ticked=keys, own=own)
    try:
        asked_own = [own_question(sheet, path, text) for path, text in own]
    except ValueError as error:
        return Shown(sheet=here.noting(str(error)), step="weigh", status=422)
    questions = [offers[key] for key in keys] + asked_own
    counts = [len(answers) for _words, answers in questions]
    note = _cannot(keys, len(questions))
    if note:
        return Shown(sheet=here.noting(note), step="weigh", status=422)
    if prod(counts) > MOST_COMBINATIONS:
        note = (
            f"These questions have {units.number(prod(counts), 0)} combinations, more than the "
            f"{units.number(MOST_COMBINATIONS, 0)} a sample can stand for: untick one or two."
        )
        return Shown(sheet=here.noting(note), step="weigh", status=422)
    try:
        ask_of(sheet, questions, keys, own)
    except HeatError as error:
        return Shown(sheet=here.noting(f"Not asked: {error}"), step="weigh", status=422)
    return sent_to(sheet.design, "weigh", view="choices")


def ask_of(sheet: Sheet, questions: list[tuple[str, list[Any]]], keys: list[str], own: list[list[str]]) -> Run:
    """Ask every combination of questions' answers, or a sample of them; ``keys`` and ``own``: as they were asked."""
    named = [{"name": words, "answers": answers} for words, answers in questions]
    asked = {"questions": named, "most": MOST, "seed": 1}
    question = question_of(asked)
    size = len(plan(question.counts, question.most, question.seed))
    told = {"asked": asked, "keys": keys, "own": own}
    return ask_run(
        design=sheet.design, author=sheet.user, purpose="choices", question=told, size=size, document=priced(sheet)
    )


def others(sheet: Sheet) -> list[tuple[str, str]]:
    """Every number of the design that can be asked about, by name."""
    return sorted((number.name, path) for path, number in numbers_of(sheet).items())


def _cannot(keys: list[str], many: int) -> str:
    """Why questions cannot be asked together; empty where they can."""
    if not many:
        return "Tick at least one question."
    if "plane" in keys and {"tilt", "bearing"} & set(keys):
        return "A surveyed plane has its own tilt and bearing: tick either the plane or these."
    return "" if many <= MOST_QUESTIONS else f"At most {MOST_QUESTIONS} questions can be combined: untick some."


def open_choice(request: SignedIn, sheet: Sheet) -> Shown | HttpResponse:
    """A row as a design of its own; what it asks of the survey is one edit."""
    run = get_object_or_404(sheet.project.runs, pk=_whole(request.POST.get("run")), purpose="choices")
    question, levels = question_in(run)
    index = _whole(request.POST.get("row"))
    if index >= len(levels):
        return Shown(sheet=sheet.noting("That row is not there any more."), step="weigh", status=422)
    names = said_names(sheet, question, levels[index])
    made = design_of(run.document, question, levels[index], standing)
    wanted = {
        path: value
        for asked, level in zip(question.questions, levels[index], strict=True)
        for path, value in asked.answers[int(level)].values.items()
        if path.startswith("demand.")
    }
    try:
        design = begin_design(
            design=sheet.design, author=sheet.user, name=", ".join(names)[:60], document=made, wanted=wanted,
            note="From Weigh, Choices: " + "; ".join(
                f"{q.name} {n}" for q, n in zip(question.questions, names, strict=True)),
        )  # fmt: skip
    except HeatError as error:
        note = f"Not opened: {getattr(error, 'allowed', error)}."
        return Shown(sheet=sheet.at("choices").noting(note), step="weigh", status=422)
    return sent_to(design, "scheme")


def _whole(text: str | None) -> int:
    return int(text) if text and text.isdecimal() and len(text) < 15 else 0


def choices_csv(sheet: Sheet) -> str:
    """Every combination with its answers and numbers (units as the columns' names end), or why it is refused."""
    run = latest(sheet.design, "choices")
    if run is None:
        return csv_table([["nothing asked yet"]])
    question, levels = question_in(run)
    years = answered(sheet, run)
    head = [*(q.name for q in question.questions), *KEYS, "refused"]
    return csv_table([head, *(
        [*names_of(question, level), *(float(v) if np.isfinite(v) else "" for v in row), years.refused.get(i, "")]
        for i, (level, row) in enumerate(zip(levels, years.figures, strict=True))
    )])  # fmt: skip
