"""Where to point it, how much of it: full years over two numbers of the design, with what the rules "
"of thumb say on them."""

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

import numpy as np
from django.http import HttpResponse
from django.shortcuts import render

from heat.common.documents import Document
from heat.design.changing import varied
from heat.errors import HeatError
from heat.studies.following import following
from heat.studies.maps import Axis
from heat.studies.outcome import COLUMN
from web.accounts.requests import SignedIn
from web.editor.design_page import DesignPage
from web.editor.step import PageResult, sent_to
from web.jobs.models import Run
from web.jobs.purposes import axis_payload, places_of
from web.jobs.services import fits, latest, progress, request_run
from web.projects.services.designs import begin_design
from web.steps.weigh.drawn import drawn_map, sign_of
from web.steps.weigh.economics import priced, row_at, row_now
from web.steps.weigh.numbers import AREA, BEARING, TILT, Number, mapped, reading
from web.steps.weigh.plot import Plot
from web.steps.weigh.rows import LINES
from web.ui import units

POINTED, SIZED = (BEARING, TILT), (AREA, "system.store.volume_l")
OUTCOMES = ("fraction", "dark", "bought", "yield", "stagnation", "hottest", "money", "first", "life", "worth")
REQUESTED = ("x", "y", "x_low", "x_high", "y_low", "y_high", "of", "about")
"""What the page's address says of a map."""
PINNED = ("fraction", "dark", "bought", "yield", "stagnation", "first", "life")


def axes_of(page: DesignPage) -> tuple[dict[str, tuple[Number, Axis]], tuple[str, str]]:
    """Every number a map can have, and the two that are asked for."""
    found = mapped(page)
    query = page.state.query
    x, y = query.get("x", ""), query.get("y", "")
    if x not in found or y not in found or x == y:
        sized = query.get("about") == "much" and all(name in found for name in SIZED)
        x, y = SIZED if sized else POINTED
    return found, (x, y)


def ends_of(
    page: DesignPage, found: dict[str, tuple[Number, Axis]], keys: tuple[str, str]
) -> tuple[list[Axis], list[Any]]:
    """The two axes with their ends as typed, and their fields in the form."""
    axes, typed_ends = [], []
    for name, key in zip("xy", keys, strict=True):
        number, axis = found[key]
        texts = [page.state.query.get(f"{name}_{end}", "")[:20] for end in ("low", "high")]
        read = [reading(page, t, number, usual) for t, usual in zip(texts, (axis.low, axis.high), strict=True)]
        (low, wrong), (high, worse) = read
        if high - low < axis.step:
            low, high, worse = axis.low, axis.high, wrong or worse or "The upper end must lie above the lower one."
        axes.append(replace(axis, low=low, high=high))
        typed_ends.append(
            {
                "name": name,
                "key": key,
                "words": number.name,
                "sign": page.sign(number.quantity),
                "low": texts[0] or units.field_text(low, number.quantity, page.system),
                "high": texts[1] or units.field_text(high, number.quantity, page.system),
                "wrong": wrong or worse,
            }
        )
    return axes, typed_ends


def maps_view(page: DesignPage) -> dict[str, object]:
    """The map asked for, drawn from the run that is done as far as it is, with the pin on the design as drawn."""
    found, keys = axes_of(page)
    axes, typed_ends = ends_of(page, found, keys)
    numbers = [found[key][0] for key in keys]
    run = latest(
        page.design,
        "map",
        x={"key": keys[0], "axis": axis_payload(axes[0])},
        y={"key": keys[1], "axis": axis_payload(axes[1])},
    )
    of = page.state.query.get("of", "")
    line = LINES[of if of in OUTCOMES else "fraction"]
    now = row_now(page)
    fresh = run is not None and fits(run, page.design)
    context: dict[str, object] = {
        "requested": typed_ends,
        "others": _others(found),
        "of": line.key,
        "outcomes": [(k, LINES[k].words) for k in OUTCOMES],
        "about": "point" if keys == POINTED else "much" if keys == SIZED else "",
        "sized": SIZED[0] in found,
        "run": run,
        "progress": progress(run) if run else None,
        "fits": fresh,
        "ask": not fresh,
        "rows": pin_rows(page, now, now),
        "outcome": line.words,
        "sign": sign_of(page, line),
    }
    if run is not None:
        context |= drawn_map(page, run, line, Plot.of(page, axes, numbers))
    return context


def _others(found: dict[str, tuple[Number, Axis]]) -> list[tuple[str, list[Number]]]:
    """Every number a map can have, by part."""
    parts: dict[str, list[Number]] = {}
    for key, (number, _axis) in found.items():
        parts.setdefault(number.part, []).append(replace(number, path=key))
    return sorted(parts.items())


def request_map(request: SignedIn, page: DesignPage) -> PageResult | HttpResponse:
    """Ask for the map of two numbers: the coarse one at once, the rest by whoever is free."""
    posted = {name: str(text)[:60] for name, text in request.POST.items() if name in REQUESTED}
    here = page.with_state(replace(page.state, view="maps", requested=(*page.state.requested, *posted.items())))
    found, keys = axes_of(here)
    axes, typed_ends = ends_of(here, found, keys)
    wrong = [field["wrong"] for field in typed_ends if field["wrong"]]
    if wrong:
        return PageResult(page=here.with_note(wrong[0]), step="weigh", status=422)
    try:
        request_map_over(page, keys, axes)
    except HeatError as error:
        return PageResult(page=here.with_note(f"Not asked: {error}"), step="weigh", status=422)
    return sent_to(page.design, "weigh", view="maps", **{name: text for name, text in posted.items() if text})


def request_map_over(page: DesignPage, keys: tuple[str, str], axes: list[Axis]) -> Run:
    """Ask for the map over two axes."""
    question = {
        name: {"key": key, "axis": axis_payload(axis)} for name, key, axis in zip("xy", keys, axes, strict=True)
    }
    places, first = places_of(question)
    return request_run(
        design=page.design,
        author=page.user,
        purpose="map",
        question=question,
        size=len(places),
        first=first,
        document=priced(page),
    )


def _pinned(page: DesignPage, query: Mapping[str, str]) -> tuple[Document, list[Number], list[float]] | None:
    """The design where the pin stands; None where no place is chosen."""
    found = mapped(page)
    keys = [query.get(name, "") for name in ("pin.x", "pin.y")]
    try:
        at = [float(query[name]) for name in ("at.x", "at.y")]
    except (KeyError, ValueError):
        return None
    if any(key not in found for key in keys) or not np.isfinite(at).all():
        return None
    values: dict[str, object] = {}
    for key, place in zip(keys, at, strict=True):
        values |= pin_values(page, key, found[key][1], place)
    return varied(page.document, following(page.document, values)), [found[key][0] for key in keys], at


def pin_values(page: DesignPage, key: str, axis: Axis, place: float) -> dict[str, object]:
    """Values by path that put the design there; collectors come whole."""
    if key == AREA:
        return {"system.collector.count": max(1, round(place / axis.step))}
    return axis.values(place)


def pin_figures(request: SignedIn, page: DesignPage) -> HttpResponse:
    """The year where the pin stands, beside that of the design as drawn."""
    try:
        found = _pinned(page, request.GET)
        if found is None:
            return HttpResponse("No place was named.", content_type="text/plain; charset=utf-8")
        document, numbers, at = found
        pinned, drawn = row_at(page, document), row_now(page)
    except HeatError as error:
        return HttpResponse(str(getattr(error, "allowed", error)), content_type="text/plain; charset=utf-8")
    plot = Plot.of(page, [mapped(page)[request.GET[f"pin.{name}"]][1] for name in "xy"], numbers)
    place = f"{plot.describe(0, at[0])}, {plot.describe(1, at[1])}"
    return render(request, "weigh/pin.html", {"rows": pin_rows(page, pinned, drawn), "place": place})


def pin_rows(page: DesignPage, pinned: list[float], drawn: list[float]) -> list[dict[str, object]]:
    """The numbers of a year beside those of the design as drawn."""
    rows = []
    for key in PINNED:
        line = LINES[key]
        now, then = (line.times * row[COLUMN[line.figure]] for row in (pinned, drawn))
        change = page.show(now - then, line.quantity, line.decimals)
        rows.append(
            {
                "words": line.words,
                "sign": sign_of(page, line),
                "red": line.red,
                "now": page.show(now, line.quantity, line.decimals),
                "change": change if change.startswith("−") else "same" if not change.strip("0.") else f"+{change}",
            }
        )
    return rows


def save_pin(request: SignedIn, page: DesignPage) -> PageResult | HttpResponse:
    """The design where the pin stands, as one of its own."""
    try:
        found = _pinned(page, request.POST)
        if found is None:
            return PageResult(
                page=page.at("maps").with_note("The pin has no place on this map."), step="weigh", status=422
            )
        document, numbers, at = found
        plot = Plot.of(page, [mapped(page)[request.POST[f"pin.{name}"]][1] for name in "xy"], numbers)
        place = ", ".join(plot.describe(i, at[i]) for i in (0, 1))
        wanted = {
            number.path: value for number, value in zip(numbers, at, strict=True) if number.path.startswith("demand.")
        }
        fresh = begin_design(
            design=page.design,
            author=page.user,
            name=place[:60],
            document=document,
            wanted=wanted,
            note=f"From Weigh: pinned at {place}.",
        )
    except HeatError as error:
        note = f"Not kept: {getattr(error, 'allowed', error)}."
        return PageResult(page=page.at("maps").with_note(note), step="weigh", status=422)
    return sent_to(fresh, "scheme")
