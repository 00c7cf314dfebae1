"""Where to point it, how much of it: full years over two numbers of the design, with what the schools say on them."""

from dataclasses import replace
from typing import Any

import numpy as np
from django.http import HttpResponse
from django.shortcuts import render

from heat.errors import HeatError
from heat.sweep import varied
from heat.weighing.following import following
from heat.weighing.maps import Axis
from heat.weighing.outcome import COLUMN
from web.accounts.requests import SignedIn
from web.projects.documents import Document
from web.projects.services.designs import begin_design
from web.runs.models import Run
from web.runs.purposes import places_of, told_axis
from web.runs.services import ask_run, fits, latest, progress
from web.sheet.page import Sheet
from web.sheet.step import Shown, sent_to
from web.steps.weigh.drawn import drawn_map, sign_of
from web.steps.weigh.numbers import AREA, BEARING, TILT, Number, mapped, reading
from web.steps.weigh.plot import Plot
from web.steps.weigh.rows import LINES
from web.steps.weigh.worth import priced, row_at, row_now
from web.ui import units

POINTED, SIZED = (BEARING, TILT), (AREA, "system.store.volume_l")
OUTCOMES = ("fraction", "dark", "bought", "yield", "stagnation", "hottest", "money", "first", "life", "worth")
ASKED = ("x", "y", "x_low", "x_high", "y_low", "y_high", "of", "about")
"""What the page's address tells of a map."""
PINNED = ("fraction", "dark", "bought", "yield", "stagnation", "first", "life")


def axes_of(sheet: Sheet) -> tuple[dict[str, tuple[Number, Axis]], tuple[str, str]]:
    """Every number a map can have, and the two that are asked for."""
    found = mapped(sheet)
    query = sheet.look.query
    x, y = query.get("x", ""), query.get("y", "")
    if x not in found or y not in found or x == y:
        sized = query.get("about") == "much" and all(name in found for name in SIZED)
        x, y = SIZED if sized else POINTED
    return found, (x, y)


def ends_of(sheet: Sheet, found: dict[str, tuple[Number, Axis]], keys: tuple[str, str]) -> tuple[list[Axis], list[Any]]:
    """The two axes with their ends as typed, and their fields in the form."""
    axes, asked = [], []
    for name, key in zip("xy", keys, strict=True):
        number, axis = found[key]
        texts = [sheet.look.query.get(f"{name}_{end}", "")[:20] for end in ("low", "high")]
        read = [reading(sheet, t, number, usual) for t, usual in zip(texts, (axis.low, axis.high), strict=True)]
        (low, wrong), (high, worse) = read
        if high - low < axis.step:
            low, high, worse = axis.low, axis.high, wrong or worse or "The upper end must lie above the lower one."
        axes.append(replace(axis, low=low, high=high))
        asked.append({
            "name": name, "key": key, "words": number.name, "sign": sheet.sign(number.quantity),
            "low": texts[0] or units.field_text(low, number.quantity, sheet.system),
            "high": texts[1] or units.field_text(high, number.quantity, sheet.system), "wrong": wrong or worse,
        })  # fmt: skip
    return axes, asked


def maps_view(sheet: Sheet) -> dict[str, Any]:
    """The map asked for, drawn from the run that is done as far as it is, with the pin on the design as drawn."""
    found, keys = axes_of(sheet)
    axes, asked = ends_of(sheet, found, keys)
    numbers = [found[key][0] for key in keys]
    run = latest(sheet.design, "map", x={"key": keys[0], "axis": told_axis(axes[0])},
                 y={"key": keys[1], "axis": told_axis(axes[1])})  # fmt: skip
    of = sheet.look.query.get("of", "")
    line = LINES[of if of in OUTCOMES else "fraction"]
    now = row_now(sheet)
    fresh = run is not None and fits(run, sheet.design)
    page: dict[str, Any] = {
        "asked": asked, "others": _others(found), "of": line.key, "outcomes": [(k, LINES[k].words) for k in OUTCOMES],
        "about": "point" if keys == POINTED else "much" if keys == SIZED else "", "sized": SIZED[0] in found,
        "run": run, "progress": progress(run) if run else None, "fits": fresh, "ask": not fresh,
        "rows": pin_rows(sheet, now, now), "outcome": line.words, "sign": sign_of(sheet, line),
    }  # fmt: skip
    if run is not None:
        page |= drawn_map(sheet, run, line, Plot.of(sheet, axes, numbers))
    return page


def _others(found: dict[str, tuple[Number, Axis]]) -> list[tuple[str, list[Number]]]:
    """Every number a map can have, by part."""
    parts: dict[str, list[Number]] = {}
    for key, (number, _axis) in found.items():
        parts.setdefault(number.part, []).append(replace(number, path=key))
    return sorted(parts.items())


def ask_map(request: SignedIn, sheet: Sheet) -> Shown | HttpResponse:
    """Ask for the map of two numbers: the coarse one at once, the rest by whoever is free."""
    posted = {name: str(text)[:60] for name, text in request.POST.items() if name in ASKED}
    here = sheet.looking(replace(sheet.look, view="maps", asked=(*sheet.look.asked, *posted.items())))
    found, keys = axes_of(here)
    axes, asked = ends_of(here, found, keys)
    wrong = [field["wrong"] for field in asked if field["wrong"]]
    if wrong:
        return Shown(sheet=here.noting(wrong[0]), step="weigh", status=422)
    try:
        ask_over(sheet, keys, axes)
    except HeatError as error:
        return Shown(sheet=here.noting(f"Not asked: {error}"), step="weigh", status=422)
    return sent_to(sheet.design, "weigh", view="maps", **{name: text for name, text in posted.items() if text})


def ask_over(sheet: Sheet, keys: tuple[str, str], axes: list[Axis]) -> Run:
    """Ask for the map over two axes."""
    question = {
        name: {"key": key, "axis": told_axis(axis)} for name, key, axis in zip("xy", keys, axes, strict=True)
    }  # fmt: skip
    places, first = places_of(question)
    return ask_run(
        design=sheet.design, author=sheet.user, purpose="map", question=question, size=len(places), first=first,
        document=priced(sheet),
    )  # fmt: skip


def _pinned(sheet: Sheet, query: Any) -> tuple[Document, list[Number], list[float]] | None:
    """The design where the pin stands; None where no place is told."""
    found = mapped(sheet)
    keys = [query.get(name, "") for name in ("pin.x", "pin.y")]
    try:
        at = [float(query[name]) for name in ("at.x", "at.y")]
    except (KeyError, ValueError):
        return None
    if any(key not in found for key in keys) or not np.isfinite(at).all():
        return None
    values: dict[str, Any] = {}
    for key, place in zip(keys, at, strict=True):
        values |= pin_values(sheet, key, found[key][1], place)
    return varied(sheet.document, following(sheet.document, values)), [found[key][0] for key in keys], at


def pin_values(sheet: Sheet, key: str, axis: Axis, place: float) -> dict[str, Any]:
    """Values by path that put the design there; collectors come whole."""
    if key == AREA:
        return {"system.collector.count": max(1, round(place / axis.step))}
    return axis.values(place)


def told_pin(request: SignedIn, sheet: Sheet) -> HttpResponse:
    """The year where the pin stands, beside that of the design as drawn."""
    try:
        found = _pinned(sheet, request.GET)
        if found is None:
            return HttpResponse("No place was named.", content_type="text/plain; charset=utf-8")
        document, numbers, at = found
        pinned, drawn = row_at(sheet, document), row_now(sheet)
    except HeatError as error:
        return HttpResponse(str(getattr(error, "allowed", error)), content_type="text/plain; charset=utf-8")
    plot = Plot.of(sheet, [mapped(sheet)[request.GET[f"pin.{name}"]][1] for name in "xy"], numbers)
    place = f"{plot.said(0, at[0])}, {plot.said(1, at[1])}"
    return render(request, "weigh/pin.html", {"rows": pin_rows(sheet, pinned, drawn), "place": place})


def pin_rows(sheet: Sheet, pinned: list[float], drawn: list[float]) -> list[dict[str, Any]]:
    """The numbers of a year beside those of the design as drawn."""
    rows = []
    for key in PINNED:
        line = LINES[key]
        now, then = (line.times * row[COLUMN[line.figure]] for row in (pinned, drawn))
        change = sheet.show(now - then, line.quantity, line.decimals)
        rows.append({
            "words": line.words, "sign": sign_of(sheet, line), "red": line.red,
            "now": sheet.show(now, line.quantity, line.decimals),
            "change": change if change.startswith("−") else "same" if not change.strip("0.") else f"+{change}",
        })  # fmt: skip
    return rows


def keep_pin(request: SignedIn, sheet: Sheet) -> Shown | HttpResponse:
    """The design where the pin stands, as one of its own."""
    try:
        found = _pinned(sheet, request.POST)
        if found is None:
            return Shown(sheet=sheet.at("maps").noting("The pin has no place on this map."), step="weigh", status=422)
        document, numbers, at = found
        plot = Plot.of(sheet, [mapped(sheet)[request.POST[f"pin.{name}"]][1] for name in "xy"], numbers)
        place = ", ".join(plot.said(i, at[i]) for i in (0, 1))
        wanted = {
            number.path: value for number, value in zip(numbers, at, strict=True) if number.path.startswith("demand.")
        }
        fresh = begin_design(
            design=sheet.design, author=sheet.user, name=place[:60], document=document, wanted=wanted,
            note=f"From Weigh: pinned at {place}.",
        )  # fmt: skip
    except HeatError as error:
        note = f"Not kept: {getattr(error, 'allowed', error)}."
        return Shown(sheet=sheet.at("maps").noting(note), step="weigh", status=422)
    return sent_to(fresh, "scheme")
