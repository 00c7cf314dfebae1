"""How sure: the year under the doubt of its inputs, as bands, and which doubt makes most of them."""

from typing import Any

import numpy as np
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, render

from heat.errors import HeatError
from heat.weather.world import DOUBT
from heat.weighing.doubt import USUAL, band, draws
from web.accounts.requests import SignedIn
from web.runs.models import Run
from web.runs.purposes import doubts_of
from web.runs.services import answer, ask_run, fits, latest, progress, stop_run
from web.sheet.page import Sheet
from web.sheet.step import Shown, sent_to
from web.steps.weigh.best import found_by
from web.ui import units
from web.years.rough import is_rough

YEARS, MOST_OFF = 200, 0.5
"""Years of a band, and the most a doubt may be told to be (share; ten times as many kelvins for the air)."""
OUTCOMES = (
    ("fraction", "Solar fraction", "percent", 100.0, 1), ("yield_kwh_m2", "Yield into store", "kWh/m2", 1.0, 0),
    ("bought_kwh", "Bought heat", "kWh", 1.0, 0),
)  # fmt: skip
WIDTH, HEIGHT, BARS = 420, 64, 24
Z90 = 1.645
"""Standard deviations within which nine of ten lie (1)."""


def usual_spreads(sheet: Sheet) -> dict[str, float]:
    """How far each input may be off where nothing is told; a rough climate's sun by its own doubt."""
    found = {doubt.key: doubt.spread for doubt in USUAL}
    if is_rough(sheet.project.weather):
        found["sun"] = round(DOUBT / Z90, 3)
    return found


def read_spreads(sheet: Sheet, query: Any) -> tuple[dict[str, float], dict[str, str]]:
    """The doubts as typed (%, or kelvins for the air), and what is wrong with any."""
    found, wrong = usual_spreads(sheet), {}
    for doubt in USUAL:
        text = query.get(f"off.{doubt.key}", "").strip()
        if not text:
            continue
        scale = units.kept(1.0, "delta_degC", sheet.system) if doubt.key == "air" else 0.01
        most = 10.0 * MOST_OFF if doubt.key == "air" else MOST_OFF
        try:
            value = scale * units.parse_number(text)
        except ValueError as error:
            wrong[doubt.key] = units.no_number(text, error)
            continue
        if 0 <= value <= most:
            found[doubt.key] = round(value, 6)
        else:
            wrong[doubt.key] = f"Allowed: 0 to {most / scale:.0f}."
    return found, wrong


def sure_view(sheet: Sheet) -> dict[str, Any]:
    """The doubts to tell, the run that is under way or done, its bands and what makes most of them."""
    spreads, wrong = read_spreads(sheet, sheet.given.get("typed", {}))
    run = latest(sheet.design, "doubt")
    page: dict[str, Any] = {
        "doubts": [_row(sheet, doubt, spreads, run, wrong) for doubt in USUAL], "years": YEARS, "run": run,
        "wrong": bool(wrong), "progress": progress(run) if run else None,
    }  # fmt: skip
    if run and page["progress"].finished:
        page |= _bands(sheet, run) | {"fits": fits(run, sheet.design)}
    return page


def _row(sheet: Sheet, doubt: Any, spreads: dict[str, float], run: Run | None, wrong: dict[str, str]) -> dict[str, Any]:
    scale = units.shown(1.0, "delta_degC", sheet.system) if doubt.key == "air" else 100.0
    told = run.question["spreads"].get(doubt.key, spreads[doubt.key]) if run else spreads[doubt.key]
    typed = sheet.given.get("typed", {}).get(f"off.{doubt.key}")
    return {
        "key": doubt.key, "words": doubt.words, "sign": sheet.sign("delta_degC") if doubt.key == "air" else "%",
        "text": typed if typed is not None else f"{scale * told:.4g}", "wrong": wrong.get(doubt.key, ""),
    }  # fmt: skip


def _bands(sheet: Sheet, run: Run) -> dict[str, Any]:
    """The bands of a finished run with their pictures, and each doubt's share."""
    doubts = doubts_of(run.question)
    drawn, years = draws(doubts, run.size, int(run.question["seed"])), answer(run)
    words = {doubt.key: doubt.words for doubt in doubts}
    found: list[dict[str, Any]] = []
    for key, title, quantity, times, decimals in OUTCOMES:
        outcome = times * years[key]
        told = band(doubts, drawn, outcome)
        show = lambda v, q=quantity, d=decimals: sheet.show(v, q, d)
        found.append({
            "key": key, "title": title, "sign": sheet.sign(quantity), "edges": [show(v) for v in told.edges],
            "picture": _picture(outcome[np.isfinite(outcome)], told.edges), "red": key == "bought_kwh",
            "shares": [
                {"words": words[k], "share": units.number(100 * share, 0), "bar": round(160 * max(share, 0.0), 1)}
                for k, share in sorted(told.shares.items(), key=lambda item: -item[1]) if share >= 0.005
            ],
            "rest": units.number(100 * max(told.rest, 0.0), 0),
        })  # fmt: skip
    first = found[0]
    low, middle, high = first["edges"]
    most = first["shares"][0] if first["shares"] else None
    conclusion = f"Eight years of ten the sun carries {low} to {high} % of the heat, {middle} % in the middle."
    if most:
        conclusion += f" Most of that doubt, {most['share']} %, lies in {most['words']}."
    return {"bands": found, "conclusion": conclusion, "refused": len(years.refused)}


def _picture(values: np.ndarray, edges: tuple[float, float, float]) -> dict[str, Any]:
    """How the years of an outcome are spread: bars, and where the band begins, its middle and its end."""
    low, high = float(values.min()), float(values.max())
    span = max(high - low, 1e-9)
    counts, _ends = np.histogram(values, BARS, (low, low + span))
    wide = WIDTH / BARS
    top = max(int(counts.max()), 1)
    bars = [
        {"x": round(i * wide, 1), "w": round(wide - 1.0, 1), "y": round(HEIGHT - HEIGHT * n / top, 1),
         "h": round(HEIGHT * n / top, 1), "in": edges[0] <= low + (i + 0.5) * span / BARS <= edges[2]}
        for i, n in enumerate(counts)
    ]  # fmt: skip
    return {"bars": bars, "marks": [round(WIDTH * (edge - low) / span, 1) for edge in edges]}


def ask_doubt(request: SignedIn, sheet: Sheet) -> Shown | HttpResponse:
    """Ask for the years under the doubts as told."""
    typed = {name: text[:20] for name, text in request.POST.items() if name.startswith("off.")}
    spreads, wrong = read_spreads(sheet, typed)
    here = sheet.at("sure").handing(typed=typed)
    if wrong:
        return Shown(sheet=here, step="weigh", status=422)
    if not any(spreads.values()):
        return Shown(
            sheet=here.noting("Tell at least one doubt: a year without any is sure."), step="weigh", status=422
        )
    try:
        ask_under(sheet, spreads)
    except HeatError as error:
        return Shown(sheet=here.noting(f"Not asked: {error}"), step="weigh", status=422)
    return sent_to(sheet.design, "weigh", view="sure")


def ask_under(sheet: Sheet, spreads: dict[str, float]) -> Run:
    """Ask for the years under doubts so far off."""
    question = {"spreads": spreads, "seed": 1}
    return ask_run(design=sheet.design, author=sheet.user, purpose="doubt", question=question, size=YEARS)


VIEW_OF = {"choices": "choices", "doubt": "sure", "map": "maps", "best": "best"}
"""The view that shows a run, by its purpose."""


def stop(request: SignedIn, sheet: Sheet) -> HttpResponse:
    """Stop a run of the project."""
    run = get_object_or_404(sheet.project.runs, pk=_number(request.POST.get("run")))
    stop_run(run=run, author=sheet.user)
    return sent_to(sheet.design, "weigh", view=VIEW_OF[run.purpose])


def _number(text: str | None) -> int:
    return int(text) if text and text.isdecimal() and len(text) < 15 else 0


def told_progress(request: SignedIn, sheet: Sheet) -> HttpResponse:
    """How far a run is; asked again and again while it lasts."""
    if "run" not in request.GET:
        return HttpResponse("No run was named.", content_type="text/plain; charset=utf-8")
    run = get_object_or_404(sheet.project.runs, pk=_number(request.GET["run"]))
    so_far = found_by(sheet, run).get("conclusion", "") if run.purpose == "best" else ""
    told = {"run": run, "progress": progress(run), "sheet": sheet, "so_far": so_far}
    return render(request, "weigh/progress.html", told)
