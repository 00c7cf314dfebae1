"""How sure: the year under the uncertainty of its inputs, as bands, and which uncertainty makes most of them."""

from collections.abc import Mapping
from math import sqrt
from typing import Any

import numpy as np
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, render

from heat.errors import HeatError
from heat.studies.uncertainty import band, draws, of_use, weather_share
from web.accounts.requests import SignedIn
from web.editor.design_page import DesignPage
from web.editor.step import PageResult, sent_to
from web.jobs.models import Run
from web.jobs.purposes import uncertainties_of
from web.jobs.services import answer, fits, latest, progress, request_run, stop_run
from web.simulations.rough import is_rough, sun_uncertainty
from web.steps.weigh.best import search_result
from web.ui import units
from web.ui.rows import Row

YEARS, MOST_OFF = 200, 0.5
"""Years of a band, and the most an uncertainty may be set to (share; ten times as many kelvins for the air)."""
OUTCOMES = (
    ("fraction", "Solar fraction", "percent", 100.0, 1),
    ("yield_kwh_m2", "Yield into store", "kWh/m2", 1.0, 0),
    ("bought_kwh", "Bought heat", "kWh", 1.0, 0),
)
WIDTH, HEIGHT, BARS = 420, 64, 24
Z90 = 1.645
"""Standard deviations within which nine of ten lie (1)."""


def usual_spreads(page: DesignPage) -> dict[str, float]:
    """How far each input may be off where nothing is given; a rough climate's sun by its own uncertainty."""
    found = {uncertainty.key: uncertainty.spread for uncertainty in of_use(page.document)}
    if is_rough(page.project.weather):
        found["sun"] = round(sun_uncertainty(page.project.weather) / Z90, 3)
    return found


def read_spreads(page: DesignPage, query: Mapping[str, str]) -> tuple[dict[str, float], dict[str, str]]:
    """The uncertainties as typed (%, or kelvins for the air), and what is wrong with any."""
    found, wrong = usual_spreads(page), {}
    for uncertainty in of_use(page.document):
        text = query.get(f"off.{uncertainty.key}", "").strip()
        if not text:
            continue
        scale = units.to_core(1.0, "delta_degC", page.system) if uncertainty.key == "air" else 0.01
        most = 10.0 * MOST_OFF if uncertainty.key == "air" else MOST_OFF
        try:
            value = scale * units.parse_number(text)
        except ValueError as error:
            wrong[uncertainty.key] = units.no_number(text, error)
            continue
        if 0 <= value <= most:
            found[uncertainty.key] = round(value, 6)
        else:
            wrong[uncertainty.key] = f"Allowed: 0 to {most / scale:.0f}."
    return found, wrong


def uncertainty_view(page: DesignPage) -> Row:
    """The uncertainties to enter, the run that is under way or done, its bands and what makes most of them."""
    spreads, wrong = read_spreads(page, page.given.get("typed", {}))
    run = latest(page.design, "doubt")
    context: Row = {
        "uncertainties": [_row(page, uncertainty, spreads, run, wrong) for uncertainty in of_use(page.document)],
        "years": YEARS,
        "run": run,
        "wrong": bool(wrong),
        "progress": progress(run) if run else None,
    }
    if run and context["progress"].finished:
        context |= _bands(page, run) | {"fits": fits(run, page.design)}
    return context


def _row(page: DesignPage, uncertainty: Any, spreads: dict[str, float], run: Run | None, wrong: dict[str, str]) -> Row:
    scale = units.to_display(1.0, "delta_degC", page.system) if uncertainty.key == "air" else 100.0
    spread = run.question["spreads"].get(uncertainty.key, spreads[uncertainty.key]) if run else spreads[uncertainty.key]
    typed = page.given.get("typed", {}).get(f"off.{uncertainty.key}")
    return {
        "key": uncertainty.key,
        "words": uncertainty.words,
        "sign": page.sign("delta_degC") if uncertainty.key == "air" else "%",
        "text": typed if typed is not None else f"{scale * spread:.4g}",
        "wrong": wrong.get(uncertainty.key, ""),
    }


def _bands(page: DesignPage, run: Run) -> Row:
    """The bands of a finished run with their pictures, and each uncertainty's share."""
    uncertainties = uncertainties_of(run.question)
    drawn, years = draws(uncertainties, run.size, int(run.question["seed"])), answer(run)
    words = {uncertainty.key: uncertainty.words for uncertainty in uncertainties}
    found: list[Row] = []
    for key, title, quantity, times, decimals in OUTCOMES:
        outcome = times * years[key]
        edges = band(uncertainties, drawn, outcome)
        show = lambda v, q=quantity, d=decimals: page.show(v, q, d)
        found.append(
            {
                "key": key,
                "title": title,
                "sign": page.sign(quantity),
                "edges": [show(v) for v in edges.edges],
                "picture": _picture(outcome[np.isfinite(outcome)], edges.edges),
                "red": key == "bought_kwh",
                "shares": [
                    {"words": words[k], "share": units.number(100 * share, 0), "bar": round(160 * max(share, 0.0), 1)}
                    for k, share in sorted(edges.shares.items(), key=lambda item: -item[1])
                    if share >= 0.005
                ],
                "rest": units.number(100 * max(edges.rest, 0.0), 0),
            }
        )
    first = found[0]
    low, middle, high = first["edges"]
    most = first["shares"][0] if first["shares"] else None
    conclusion = f"In eight of ten such plants the sun carries {low} to {high} % of the heat, {middle} % in the middle."
    of_fraction = band(uncertainties, drawn, 100.0 * years["fraction"])
    by_year = sqrt(weather_share(of_fraction)) * (of_fraction.edges[2] - of_fraction.edges[0]) / 2.0
    if by_year >= 0.05:
        conclusion += (
            f" From year to year one and the same plant moves by some ±{units.number(by_year, 1)} points of it."
        )
    if most:
        conclusion += f" Most of that uncertainty, {most['share']} %, lies in {most['words']}."
    return {"bands": found, "conclusion": conclusion, "refused": len(years.refused)}


def _picture(values: np.ndarray, edges: tuple[float, float, float]) -> Row:
    """How the years of an outcome are spread: bars, and where the band begins, its middle and its end."""
    low, high = float(values.min()), float(values.max())
    span = max(high - low, 1e-9)
    counts, _ends = np.histogram(values, BARS, (low, low + span))
    wide = WIDTH / BARS
    top = max(int(counts.max()), 1)
    bars = [
        {
            "x": round(i * wide, 1),
            "w": round(wide - 1.0, 1),
            "y": round(HEIGHT - HEIGHT * n / top, 1),
            "h": round(HEIGHT * n / top, 1),
            "in": edges[0] <= low + (i + 0.5) * span / BARS <= edges[2],
        }
        for i, n in enumerate(counts)
    ]
    return {"bars": bars, "marks": [round(WIDTH * (edge - low) / span, 1) for edge in edges]}


def request_uncertainty(request: SignedIn, page: DesignPage) -> PageResult | HttpResponse:
    """Ask for the years under the uncertainties as entered."""
    typed = {name: str(text)[:20] for name, text in request.POST.items() if name.startswith("off.")}
    spreads, wrong = read_spreads(page, typed)
    here = page.at("uncertainty").with_given(typed=typed)
    if wrong:
        return PageResult(page=here, step="weigh", status=422)
    if not any(spreads.values()):
        return PageResult(
            page=here.with_note("Enter at least one standard deviation: a year without any is sure."),
            step="weigh",
            status=422,
        )
    try:
        request_under(page, spreads)
    except HeatError as error:
        return PageResult(page=here.with_note(f"Not asked: {error}"), step="weigh", status=422)
    return sent_to(page.design, "weigh", view="uncertainty")


def request_under(page: DesignPage, spreads: dict[str, float]) -> Run:
    """Ask for the years under uncertainties so far off."""
    question = {"spreads": spreads, "seed": 1}
    return request_run(design=page.design, author=page.user, purpose="doubt", question=question, size=YEARS)


VIEW_OF = {"choices": "choices", "doubt": "uncertainty", "map": "maps", "best": "best"}
"""The view that shows a run, by its purpose."""


def stop(request: SignedIn, page: DesignPage) -> HttpResponse:
    """Stop a run of the project."""
    run = get_object_or_404(page.project.runs, pk=_number(request.POST.get("run")))
    stop_run(run=run, author=page.user)
    return sent_to(page.design, "weigh", view=VIEW_OF[run.purpose])


def _number(text: str | None) -> int:
    return int(text) if text and text.isdecimal() and len(text) < 15 else 0


def progress_fragment(request: SignedIn, page: DesignPage) -> HttpResponse:
    """How far a run is; asked again and again while it lasts."""
    if "run" not in request.GET:
        return HttpResponse("No run was named.", content_type="text/plain; charset=utf-8")
    run = get_object_or_404(page.project.runs, pk=_number(request.GET["run"]))
    current = progress(run)
    context: Row = {"run": run, "progress": current, "page": page, "asked": True}
    if run.purpose == "best":  # what stands above and beside the line goes on with it
        context["w"] = {"run": run, "progress": current, "fits": True, **search_result(page, run)}
    return render(request, "weigh/progress.html", context)
