"""Find the best: what to make least or most, what may move between which ends, and the design the years arrive at."""

from dataclasses import replace
from typing import Any

import numpy as np
from django.http import HttpResponse
from django.shortcuts import get_object_or_404

from heat.design.changing import varied
from heat.errors import HeatError
from heat.studies.following import following
from heat.studies.outcome import COLUMN, MONEY
from heat.studies.search import most_years
from web.accounts.requests import SignedIn
from web.editor.design_page import DesignPage
from web.editor.step import PageResult, sent_to
from web.jobs.models import Run
from web.jobs.services import fits, progress, request_run
from web.projects.services.designs import begin_design
from web.steps.weigh.drawn import sign_of
from web.steps.weigh.economics import money_key, priced, row_now
from web.steps.weigh.numbers import BEARING, Number, mapped, numbers_of, reading
from web.steps.weigh.rows import LINES
from web.steps.weigh.side_by_side import display_value
from web.ui import units
from web.ui.rows import Row

GOALS = ("bought", "fraction", "dark", "yield", "money", "life", "worth", "first", "stagnation")
USUAL = (
    "plane.tilt_deg",
    BEARING,
    "system.collector.count",
    "system.store.volume_l",
    "system.store.loss_w_k",
    "system.coil.ua_w_k",
    "system.plate.ua_w_k",
    "system.jacket.ua_w_k",
    "system.loop.flow_kg_h",
    "system.control.on_k",
)
"""What is offered to move first, in this order; the rest is found in the list."""
TICKED = ("plane.tilt_deg", BEARING, "system.store.volume_l")
LIMITS = (
    ("stagnation", "most"),
    ("hottest", "most"),
    ("unmet", "most"),
    ("area", "most"),
    ("first", "most"),
    ("fraction", "least"),
)
MOST_FREE = 8
"""Numbers that may move at once: each more doubles the years."""


def movable(page: DesignPage) -> dict[str, Number]:
    """Every number that may move; a bearing's ends lie around the equator."""
    found = numbers_of(page)
    if BEARING in found:
        found[BEARING] = mapped(page)[BEARING][0]
    return found


def best_view(page: DesignPage) -> dict[str, object]:
    """The goal, what may move, the limits, and the search that is under way or done."""
    found, typed = movable(page), page.given.get("typed", {})
    run = page.project.runs.filter(letter=page.design.letter, purpose="best").first()
    chosen = {free["path"]: free for free in run.question["free"]} if run else {}
    ticked = set(page.given.get("ticked", chosen or TICKED))
    displayed = [path for path in USUAL if path in found]
    displayed += [path for path in (*chosen, *page.given.get("ticked", ())) if path in found and path not in displayed]
    context: dict[str, object] = {
        "goals": [(key, _goal_words(key)) for key in GOALS],
        "goal": typed.get("goal") or (run.question["line"] if run else "bought"),
        "free": [_row(page, found[path], chosen.get(path), typed, path in ticked) for path in displayed],
        "others": sorted((n.name, path) for path, n in found.items() if path not in displayed),
        "limits": [_limit_row(page, run, key, side, typed) for key, side in LIMITS],
        "run": run,
        "progress": progress(run) if run else None,
        "most_free": MOST_FREE,
    }
    if run is not None:
        moved = run.question.get("money", "") not in ("", money_key(priced(page)))
        context |= {"fits": fits(run, page.design) and not moved} | search_result(page, run)
    return context


def _goal_words(key: str) -> str:
    line = LINES[key]
    words = {"dark": "solar fraction of the three darkest months"}.get(key, line.words[0].lower() + line.words[1:])
    return f"the {line.better} {words}"


def _row(page: DesignPage, number: Number, payload: Any, typed: Any, ticked: bool) -> Row:
    show = lambda v: units.field_text(v, number.quantity, page.system)
    low, high = (payload["low"], payload["high"]) if payload else (number.low, number.high)
    return {
        "path": number.path,
        "name": number.name,
        "now": show(number.now),
        "sign": page.sign(number.quantity),
        "low": typed.get(f"low {number.path}", show(low)),
        "high": typed.get(f"high {number.path}", show(high)),
        "ticked": ticked,
        "wrong": page.given.get("wrong", {}).get(number.path, ""),
    }


def _limit_row(page: DesignPage, run: Run | None, key: str, side: str, typed: Any) -> dict[str, object]:
    line = LINES[key]
    stored = {limit["key"]: limit.get(side) for limit in run.question["limits"]} if run else {}
    value = stored.get(line.figure)
    text = "" if value is None else units.field_text(line.times * value, line.quantity, page.system)
    return {
        "key": key,
        "side": side,
        "words": line.words,
        "sign": page.sign(line.quantity),
        "text": typed.get(f"{side} {key}", text),
        "wrong": page.given.get("wrong", {}).get(key, ""),
    }


def search_result(page: DesignPage, run: Run) -> Row:
    """The best so far: what it moved, its numbers beside those of the design it went from, and in words."""
    best, line = run.best or {}, LINES[run.question["line"]]
    if not best.get("values"):
        return {"conclusion": "Nothing within the limits can be: loosen one, or let more move."} if best else {}
    names = movable(page)
    moved = []
    for free in run.question["free"]:
        path, value = free["path"], best["values"][free["path"]]
        number = names.get(path)
        if number is None:
            continue
        write = lambda v, q=number.quantity: units.field_text(v, q, page.system)
        at_end = value in (free["low"], free["high"])
        now = free["now"] % 360.0 if path == BEARING else free["now"]
        value = value % 360.0 if path == BEARING else value
        moved.append(
            {
                "name": number.name,
                "from": write(now),
                "to": write(value),
                "sign": page.sign(number.quantity),
                "same": write(now) == write(value),
                "end": at_end,
            }
        )
    start = row_now(page)
    show = lambda v: page.show(v, line.quantity, line.decimals)
    now, then = line.times * start[COLUMN[line.figure]], line.times * best["figures"].get(line.figure) or np.nan
    rows = []
    for key in ("fraction", "bought", "unmet", "stagnation", "hottest", "money", "first", "life"):
        other = LINES[key]
        was, comes = (other.times * v for v in (start[COLUMN[other.figure]], best["figures"].get(other.figure, np.nan)))
        payload = lambda v, o=other: display_value(page, o, v / o.times)
        rows.append(
            {
                "words": other.words,
                "sign": sign_of(page, other),
                "was": payload(was),
                "comes": payload(comes),
                "red": other.red,
            }
        )
    ended = "the search came to rest" if best["rested"] else "it ended with its rounds" if best["ended"] else "so far"
    words = f"{line.words} {show(then)} {sign_of(page, line)} instead of {show(now)}".replace("  ", " ")
    changed = [f"{m['name']} {m['to']} {m['sign']}".strip().replace(" °", "°") for m in moved if not m["same"]]
    words += f", with {', '.join(changed)}" if changed else ", with everything as it is"
    return {
        "moved": moved,
        "rows": rows,
        "years": units.number(best["years"], 0),
        "conclusion": f"{words}; {ended}, {units.number(best['years'], 0)} years.",
    }


def request_best(request: SignedIn, page: DesignPage) -> PageResult | HttpResponse:
    """Ask for a search; what is wrong with any of its numbers is reported where it was typed."""
    found = movable(page)
    post = {name: str(text)[:60] for name, text in request.POST.items()}
    ticked = [path for path in request.POST.getlist("free") if path in found]
    if post.get("another") in found:
        ticked.append(post["another"])
    goal = post.get("goal", "")
    wrong: dict[str, str] = {}
    free = [_free(page, found[path], post, wrong) for path in dict.fromkeys(ticked)]
    limits = _limits(page, post, wrong)
    here = page.at("best").with_given(typed=post, ticked=ticked, wrong=wrong)
    note = (
        "Some numbers were not understood."
        if wrong
        else "Tick what may move."
        if not free
        else f"At most {MOST_FREE} numbers may move at once."
        if len(free) > MOST_FREE
        else "Name what to make least or most."
        if goal not in GOALS
        else ""
    )
    if note:
        return PageResult(page=here.with_note(note), step="weigh", status=422)
    if "add" in request.POST:  # only another number for the list
        return PageResult(page=here, step="weigh")
    line = LINES[goal]
    question = {"free": free, "goal": line.figure, "line": goal, "most": line.better == "most", "limits": limits}
    document = priced(page)
    if LINES[goal].figure in MONEY or {limit["key"] for limit in limits} & set(MONEY):
        question["money"] = money_key(document)
    if any(f["path"].startswith("plane.") for f in free):
        document = varied(document, {"plane.on": ""})
    try:
        request_run(
            design=page.design,
            author=page.user,
            purpose="best",
            question=question,
            size=most_years(len(free)),
            document=document,
        )
    except HeatError as error:
        return PageResult(page=here.with_note(f"Not asked: {error}"), step="weigh", status=422)
    return sent_to(page.design, "weigh", view="best")


def _free(page: DesignPage, number: Number, post: dict[str, str], wrong: dict[str, str]) -> Row:
    """A number that may move, between its ends as typed."""
    around = number.path == BEARING  # turns through north, so that its ends may lie beyond a whole turn
    quantity_like = replace(number, path="area") if around else number
    low, bad = reading(page, post.get(f"low {number.path}", ""), quantity_like, number.low)
    high, worse = reading(page, post.get(f"high {number.path}", ""), quantity_like, number.high)
    if bad or worse or high <= low:
        wrong[number.path] = bad or worse or "The upper end must lie above the lower one."
    return {"path": number.path, "low": low, "high": high, "step": number.step, "now": number.now}


def _limits(page: DesignPage, post: dict[str, str], wrong: dict[str, str]) -> list[Row]:
    found = []
    for key, side in LIMITS:
        line, text = LINES[key], post.get(f"{side} {key}", "")
        if not text.strip():
            continue
        try:
            value = units.to_core(units.parse_number(text), line.quantity, page.system) / line.times
        except ValueError as error:
            wrong[key] = units.no_number(text, error)
            continue
        found.append({"key": line.figure, side: value})
    return found


def open_best(request: SignedIn, page: DesignPage) -> PageResult | HttpResponse:
    """The best so far as a design, with the list of what it changed as its note."""
    number = request.POST.get("run", "")
    run = get_object_or_404(
        page.project.runs, pk=int(number) if number.isdecimal() and len(number) < 15 else 0, purpose="best"
    )
    found = search_result(page, run)
    if "moved" not in found:
        return PageResult(page=page.at("best").with_note("Nothing was found yet."), step="weigh", status=422)
    values = {path: value % 360.0 if path == BEARING else value for path, value in (run.best or {})["values"].items()}
    changed = "; ".join(f"{m['name']} {m['from']} → {m['to']} {m['sign']}".strip() for m in found["moved"])
    try:
        fresh = begin_design(
            design=page.design,
            author=page.user,
            name=f"best of {page.design.letter}",
            note=f"From Weigh, Find the best ({found['years']} years): {changed}",
            document=varied(run.document, following(run.document, values)),
            wanted={path: value for path, value in values.items() if path.startswith("demand.")},
        )
    except HeatError as error:
        note = f"Not opened: {getattr(error, 'allowed', error)}."
        return PageResult(page=page.at("best").with_note(note), step="weigh", status=422)
    return sent_to(fresh, "scheme")
