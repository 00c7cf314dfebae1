"""The day at the tank: a line typed, what was read, and the same day as the design would have had it."""

from typing import Any

import numpy as np
from django.db import IntegrityError
from django.http import HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404

from heat.errors import HeatError
from heat.ledger import accounts as acc
from heat.ledger.year_book import BOUGHT, SOLAR_IN, SUN, YearBook
from heat.monitoring.checks import findings
from heat.monitoring.likelihood import log_likelihood, rows_ready
from heat.monitoring.measured_days import days_of, guessed, sensor_traces, weather_of
from heat.sun.site import sun_of
from web.accounts.requests import SignedIn
from web.editor.design_page import DesignPage
from web.editor.step import PageResult
from web.logs.models import Log, Photo, Reading, local_of, moment_of
from web.logs.reading import built
from web.logs.services import IncomingReading, add_photo, add_readings, begin_log, correct, set_sensors, strike
from web.logs.upkeep import note_due
from web.steps.log.current import DAYS_CACHED, Here, frame, here, log_here, own_log
from web.steps.log.traces import traces
from web.steps.log.typed import as_text, fields_of, line_typed, names_of, quantity, retyped, time_typed, words_of
from web.ui import units
from web.ui.calendar import date_text
from web.ui.pictures import PHOTO, drawn_anew
from web.ui.rows import Row

DISPLAYED_LINES = 60
WITHIN = 1.0
"""Up to so many of their uncertainties (1, rms) readings count as within expectation."""


def day_view(page: DesignPage) -> dict[str, object]:
    """A line to type, the last readings, traces with the calculated day beside, and whether they agree."""
    log = log_here(page)
    context: dict[str, object] = frame(page, log)
    if log is None:
        return context
    last = log.readings.filter(struck=None).order_by("-at").first()
    before = last.values if last else {}
    found = here(page, log)
    given = page.given.get("typed") or _as_typed(page, log)
    context |= {
        "fields": fields_of(log, page.system, before, given),
        "given": given,
        "go_on": page.given.get("go_on", False),
        "photos": [{"photo": p, "at": local_of(p.at, log.offset_h)} for p in Photo.light.filter(log=log)[:24]],
        "sensors": [
            {"height": f"{h:g}", "litres": units.field_text(v, "L", page.system), "words": words_of(f"s{i}", log)}
            for i, (h, v) in enumerate(zip(log.heights, log.litres, strict=True))
        ],
        "sensor_k": f"{log.sensor_k:g}",
        "found": found,
        "names": [words_of(n, log) for n in names_of(log)],
    }
    if context["window"]:
        context["lines"] = _lines(page, context)
    if found is not None:
        context |= _beside(page, found)
    return context


def _lines(page: DesignPage, context: Row) -> Row:
    """Readings of the days looked at, the last first, struck ones too."""
    log, window = context["log"], context["window"]
    begins, ends = (moment_of(t, log.offset_h) for t in (window.begins, window.ends))
    rows = list(log.readings.filter(at__gte=begins, at__lt=ends).order_by("-at")[:DISPLAYED_LINES])
    names = [n for n in names_of(log) if any(n in row.values for row in rows)]
    return {
        "heads": [{"words": words_of(n, log), "sign": units.unit_of(quantity(n), page.system).sign} for n in names],
        "rows": [
            {
                "reading": row,
                "at": local_of(row.at, log.offset_h),
                "cells": [as_text(n, row.values[n], page.system) if n in row.values else "" for n in names],
            }
            for row in rows
        ],
        "more": log.readings.filter(at__gte=begins, at__lt=ends).count() - len(rows),
    }


def sound_days(found: Here) -> tuple[YearBook, Any]:
    """The days as the design would have had them, from the opening that fits the readings best."""

    def make() -> tuple[YearBook, Any]:
        ready = rows_ready(found.rows, found.log.sensor_k)
        ways = [
            (book, sensor_traces(book, found.weather, found.rows))
            for book in days_of(found.rows, found.design, found.weather)
        ]
        return max(ways, key=lambda way: sum(log_likelihood(ready, way[1]).values()))

    made: tuple[YearBook, Any] = DAYS_CACHED.get(f"days {found.key}", make)
    return made


def _beside(page: DesignPage, found: Here) -> dict[str, object]:
    log, rows = found.log, found.rows
    wrong = [
        {"words": words_of(f.row, log).capitalize(), "text": f.words}
        for f in findings(rows, sun_of(found.design, found.weather))
    ]
    try:
        book, observed = sound_days(found)
    except HeatError as error:
        return {
            "picture": traces(log, rows, None, rows.first, rows.last, page.system),
            "problem": str(error),
            "findings": wrong,
        }
    ready = rows_ready(rows, log.sensor_k)
    current = log_likelihood(ready, observed)
    counts = {row.name: row.hour.size for row in ready}
    lines = [
        {
            "words": words_of(name, log),
            "off": _off(page, name, found, observed),
            "sigmas": units.number((2.0 * -value / counts[name]) ** 0.5, 1),
            "within": (2.0 * -value / counts[name]) ** 0.5 <= WITHIN,
        }
        for name, value in current.items()
    ]
    within = all(row["within"] for row in lines)
    return {
        "picture": traces(log, rows, observed, rows.first, rows.last, page.system),
        "comparison": lines,
        "within": within,
        "findings": wrong,
        "account": _account(page, book, rows.first, rows.last),
        "guess": _guess(page, found),
        "concluded": "The readings lie where the design’s own days lie, within the uncertainty of both."
        if within
        else "The readings lie beside the design’s own days: see what is wrong.",
    }


def _guess(page: DesignPage, found: Here) -> str:
    """What the sun and the store would have had under a darker and a brighter assumption of the clouds."""
    if not {"sun", "plane", "cloud"} & set(found.rows.rows()):
        return "No sun was read: the days of the weather year stand in, whatever those days were really like."
    if not guessed(found.rows):
        return ""
    _design, weather = built(found.log)
    hours = slice(found.rows.first, found.rows.last)
    levels = []
    for side in (-1.645, 1.645):
        moved = weather_of(found.rows, found.design, weather, side)
        book = days_of(found.rows, found.design, moved, (None,))[0]
        levels.append([float(book.books[hours][:, list(c)].sum()) / 1000.0 for c in (SUN, SOLAR_IN)])
    show = lambda v: page.show(v, "kWh", 1)
    (sun_low, in_low), (sun_high, in_high) = levels
    return (
        f"The sun is an assumption of the clouds: {show(sun_low)} to {show(sun_high)} {page.sign('kWh')} received, "
        f"{show(in_low)} to {show(in_high)} into the store, nine of ten."
    )


def _off(page: DesignPage, name: str, found: Here, expected: Any) -> str:
    row = found.rows.rows()[name]
    there = np.isfinite(row)
    off = float(np.mean(row[there] - expected.at(name, found.rows.hour[there])))
    if name == "pump":
        return f"{units.number(100 * off, 0)} %"
    if name == "flow":
        return f"{page.show(off / 60.0, 'L/min', 1)} {page.sign('L/min')}"
    return f"{page.show(off, 'delta_degC', 1)} {page.sign('delta_degC')}"


def _account(page: DesignPage, book: YearBook, first: int, last: int) -> list[dict[str, object]]:
    """What the design's days come to."""
    hours = slice(first, last)
    total = lambda columns: float(book.books[hours][:, list(columns)].sum()) / 1000.0
    rows = [
        ("sun received", total(SUN)),
        ("into the store", total(SOLAR_IN)),
        ("bought", total(BOUGHT)),
        ("pump ran", float(book.traces[hours, acc.PUMP_SHARE].sum())),
    ]
    show = lambda words, v: (
        f"{units.number(v, 1)} h" if words == "pump ran" else f"{page.show(v, 'kWh', 1)} {page.sign('kWh')}"
    )
    return [
        {
            "words": words,
            "value": f"({show(words, v)})" if words == "bought" else show(words, v),
            "red": words == "bought",
        }
        for words, v in rows
    ]


def begin(request: SignedIn, page: DesignPage) -> PageResult:
    """Begin a log of the design as it stands: it is built."""
    try:
        log = begin_log(design=page.design, author=page.user)
    except HeatError as error:
        return refused(page, "day", str(error))
    note_due(page.project)
    message = f"Design {log.letter} is commissioned: its log has begun, and keeps the design as it is today."
    return PageResult(page=page.at("day").with_given(message=message), step="log")


def refused(page: DesignPage, view: str, words: str, **more: Any) -> PageResult:
    """The page with why something was not taken; what was typed stays."""
    return PageResult(page=page.at(view).with_given(wrong=words, **more), step="log", status=422)


def type_line(request: SignedIn, page: DesignPage) -> PageResult | HttpResponse:
    """Keep a line as typed. A line that waited in a browser is answered in JSON: kept, or why not."""
    page_of_line = _typed_line(request, page)
    if "application/json" not in request.headers.get("Accept", ""):
        return page_of_line
    problem = page_of_line.page.given.get("wrong", "").removeprefix("Not kept: ")
    return JsonResponse({"problem": problem}, status=422) if problem else JsonResponse({"kept": True})


def _typed_line(request: SignedIn, page: DesignPage) -> PageResult:
    log, text = own_log(page, request.POST), request.POST
    typed = {name: str(text.get(name, ""))[:40] for name in (*names_of(log), "day", "clock", "remark", "instead")}
    try:
        at = moment_of(time_typed(text.get("day", ""), text.get("clock", ""), page.system == "us"), log.offset_h)
        values = line_typed(log, text, page.system)
        line, instead = IncomingReading(at, values, typed["remark"]), _instead(log, text.get("instead", ""))
        if instead is not None:
            done = correct(reading=instead, author=page.user, line=line)
        else:
            known = log.readings.filter(at=at, source="typed", struck=None).first()
            if known is not None and known.values != values:
                raise HeatError("A line of this minute is kept already: correct it below, or type another minute.")
            done = add_readings(log=log, author=page.user, readings=[line], source="typed")
    except (HeatError, IntegrityError) as error:
        return refused(page, "day", str(error), typed=typed)
    if done.refused:
        why = done.refused[0].partition(": ")[2]  # its moment is the one that was typed
        return refused(page, "day", f"Not kept: {why}.", typed=typed)
    message = f"Kept: {typed['clock']}, {len(values)} reading{'s' if len(values) != 1 else ''}."
    stays = {"day": typed["day"]}  # the next line is mostly of the same day
    return PageResult(page=page.at("day").with_given(message=message, typed=stays, go_on=True), step="log")


def _instead(log: Log, text: str) -> Reading | None:
    """The line that is corrected, if one is."""
    found = log.readings.filter(pk=int(text), struck=None).first() if text.isdecimal() and len(text) < 15 else None
    if text and found is None:
        raise HeatError("The line that was to be corrected is not there any more.")
    if found is not None:
        found.log = log
    return found


def _as_typed(page: DesignPage, log: Log) -> dict[str, str]:
    """The line that an address asks to correct, as it would be typed; nothing where none is."""
    wanted = page.state.query.get("correct", "")
    try:
        found = _instead(log, wanted)
    except HeatError:
        return {}
    if found is None:
        return {}
    at = local_of(found.at, log.offset_h)
    values = {name: retyped(name, value, page.system) for name, value in found.values.items()}
    when = {"day": date_text(at.date()), "clock": f"{at:%H:%M}", "remark": found.remark, "instead": str(found.pk)}
    return values | when


def strike_line(request: SignedIn, page: DesignPage) -> PageResult:
    """Strike a reading out, with a reason."""
    log = own_log(page, request.POST)
    text = request.POST.get("reading", "")
    reading = get_object_or_404(Reading, log=log, pk=int(text) if text.isdecimal() and len(text) < 15 else 0)
    reading.log = log
    try:
        strike(reading=reading, author=page.user, why=request.POST.get("why", "").replace("\0", ""))
    except HeatError as error:
        return refused(page, "day", str(error))
    return PageResult(page=page.at("day").with_given(message="Struck out; it stays to be seen."), step="log")


def sensors(request: SignedIn, page: DesignPage) -> PageResult:
    """Heights, litres and uncertainty of the store's sensors."""
    log = own_log(page, request.POST)
    try:
        heights = [_number(one) for one in request.POST.getlist("height") if one.strip()]
        litres = [
            units.to_core(_number(one), "L", page.system) for one in request.POST.getlist("litres") if one.strip()
        ]
        set_sensors(
            log=log,
            author=page.user,
            heights=heights,
            litres=litres,
            sensor_k=_number(request.POST.get("sensor_k", "")),
        )
    except HeatError as error:
        return refused(page, "day", str(error))
    return PageResult(page=page.at("day").with_given(message="The sensors are saved."), step="log")


def _number(text: str) -> float:
    try:
        return units.parse_number(text)
    except ValueError as error:
        raise HeatError(units.no_number(text, error)) from error


def photo(request: SignedIn, page: DesignPage) -> PageResult:
    """Keep a comment, with a photograph."""
    log = own_log(page, request.POST)
    file = request.FILES.get("photo")
    try:
        picture = drawn_anew(file.read(), PHOTO) if file else None
        add_photo(log=log, author=page.user, remark=request.POST.get("remark", "").replace("\0", ""), picture=picture)
    except HeatError as error:
        return refused(page, "day", str(error))
    return PageResult(page=page.at("day").with_given(message="Kept."), step="log")
