"""The day at the tank: a line typed, what was read, and the same day as the design would have had it."""

from typing import Any

import numpy as np
from django.db import IntegrityError
from django.http import HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404

from heat import accounts as acc
from heat.errors import HeatError
from heat.field.causes import held_against, rows_ready
from heat.field.checks import findings
from heat.field.days import days_of, guessed, shown, weather_of
from heat.ledger import BOUGHT, SOLAR_IN, SUN, YearBook
from heat.sun.site import sun_of
from web.accounts.requests import SignedIn
from web.logs.models import Photo, Reading, local_of, moment_of
from web.logs.reading import built
from web.logs.services import Told, add_photo, add_readings, begin_log, set_sensors, strike
from web.logs.upkeep import note_due
from web.sheet.page import Sheet
from web.sheet.step import Shown
from web.steps.log.here import DAYS_KEPT, Here, frame, here, log_here, own_log
from web.steps.log.traces import traces
from web.steps.log.typed import as_text, fields_of, line_typed, names_of, quantity, time_typed, words_of
from web.ui import units
from web.ui.pictures import PHOTO, drawn_anew

SHOWN_LINES = 60
WITHIN = 1.0
"""Up to so many of their doubts (1, rms) readings count as within expectation."""


def day_view(sheet: Sheet) -> dict[str, Any]:
    """A line to type, the last readings, traces with the reckoned day beside, and whether they agree."""
    log = log_here(sheet)
    page: dict[str, Any] = frame(sheet, log)
    if log is None:
        return page
    last = log.readings.filter(struck=None).order_by("-at").first()
    before = last.values if last else {}
    found = here(sheet, log)
    page |= {
        "fields": fields_of(log, sheet.system, before, sheet.given.get("typed", {})),
        "told": sheet.given.get("typed", {}),
        "photos": [{"photo": p, "at": local_of(p.at, log.offset_h)} for p in Photo.light.filter(log=log)[:24]],
        "sensors": [
            {"height": f"{h:g}", "litres": units.field_text(v, "L", sheet.system), "words": words_of(f"s{i}", log)}
            for i, (h, v) in enumerate(zip(log.heights, log.litres, strict=True))
        ],
        "sensor_k": f"{log.sensor_k:g}",
        "found": found,
        "names": [words_of(n, log) for n in names_of(log)],
    }
    if page["window"]:
        page["lines"] = _lines(sheet, page)
    if found is not None:
        page |= _beside(sheet, found)
    return page


def _lines(sheet: Sheet, page: dict[str, Any]) -> dict[str, Any]:
    """Readings of the days looked at, the last first, struck ones too."""
    log, window = page["log"], page["window"]
    begins, ends = (moment_of(t, log.offset_h) for t in (window.begins, window.ends))
    rows = list(log.readings.filter(at__gte=begins, at__lt=ends).order_by("-at")[:SHOWN_LINES])
    names = [n for n in names_of(log) if any(n in row.values for row in rows)]
    return {
        "heads": [{"words": words_of(n, log), "sign": units.unit_of(quantity(n), sheet.system).sign} for n in names],
        "rows": [
            {
                "reading": row,
                "at": local_of(row.at, log.offset_h),
                "cells": [as_text(n, row.values[n], sheet.system) if n in row.values else "" for n in names],
            }
            for row in rows
        ],
        "more": log.readings.filter(at__gte=begins, at__lt=ends).count() - len(rows),
    }


def sound_days(found: Here) -> tuple[YearBook, Any]:
    """The days as the design would have had them, from the opening that tells the readings best."""

    def make() -> tuple[YearBook, Any]:
        ready = rows_ready(found.rows, found.log.sensor_k)
        ways = [
            (book, shown(book, found.weather, found.rows)) for book in days_of(found.rows, found.design, found.weather)
        ]
        return max(ways, key=lambda way: sum(held_against(ready, way[1]).values()))

    made: tuple[YearBook, Any] = DAYS_KEPT.get(f"days {found.key}", make)
    return made


def _beside(sheet: Sheet, found: Here) -> dict[str, Any]:
    log, rows = found.log, found.rows
    wrong = [
        {"words": words_of(f.row, log).capitalize(), "text": f.words}
        for f in findings(rows, sun_of(found.design, found.weather))
    ]
    try:
        book, seen = sound_days(found)
    except HeatError as error:
        return {
            "picture": traces(log, rows, None, rows.first, rows.last, sheet.system),
            "problem": str(error),
            "findings": wrong,
        }
    ready = rows_ready(rows, log.sensor_k)
    held = held_against(ready, seen)
    counts = {row.name: row.hour.size for row in ready}
    told = [
        {
            "words": words_of(name, log),
            "off": _off(sheet, name, found, seen),
            "sigmas": f"{(2.0 * -value / counts[name]) ** 0.5:.1f}",
            "within": (2.0 * -value / counts[name]) ** 0.5 <= WITHIN,
        }
        for name, value in held.items()
    ]
    within = all(row["within"] for row in told)
    return {
        "picture": traces(log, rows, seen, rows.first, rows.last, sheet.system),
        "held": told,
        "within": within,
        "findings": wrong,
        "account": _account(sheet, book, rows.first, rows.last),
        "guess": _guess(sheet, found),
        "concluded": "The readings lie where the design’s own days lie, within the doubt of both."
        if within
        else "The readings lie beside the design’s own days: see what is wrong.",
    }


def _guess(sheet: Sheet, found: Here) -> str:
    """What the sun and the store would have had under a darker and a brighter guess of the clouds."""
    if not {"sun", "plane", "cloud"} & set(found.rows.rows()):
        return "No sun was read: the days of the weather year stand in, whatever those days were really like."
    if not guessed(found.rows):
        return ""
    _design, weather = built(found.log)
    hours = slice(found.rows.first, found.rows.last)
    told = []
    for side in (-1.645, 1.645):
        moved = weather_of(found.rows, found.design, weather, side)
        book = days_of(found.rows, found.design, moved, (None,))[0]
        told.append([float(book.books[hours][:, list(c)].sum()) / 1000.0 for c in (SUN, SOLAR_IN)])
    show = lambda v: sheet.show(v, "kWh", 1)
    (sun_low, in_low), (sun_high, in_high) = told
    return (
        f"The sun is a guess of the clouds: {show(sun_low)} to {show(sun_high)} {sheet.sign('kWh')} received, "
        f"{show(in_low)} to {show(in_high)} into the store, nine of ten."
    )


def _off(sheet: Sheet, name: str, found: Here, seen: Any) -> str:
    row = found.rows.rows()[name]
    there = np.isfinite(row)
    off = float(np.mean(row[there] - seen.at(name, found.rows.hour[there])))
    if name == "pump":
        return f"{units.number(100 * off, 0)} %"
    if name == "flow":
        return f"{sheet.show(off / 60.0, 'L/min', 1)} {sheet.sign('L/min')}"
    return f"{sheet.show(off, 'delta_degC', 1)} {sheet.sign('delta_degC')}"


def _account(sheet: Sheet, book: YearBook, first: int, last: int) -> list[dict[str, Any]]:
    """What the design's days come to."""
    hours = slice(first, last)
    total = lambda columns: float(book.books[hours][:, list(columns)].sum()) / 1000.0
    rows = [
        ("sun received", total(SUN)),
        ("into the store", total(SOLAR_IN)),
        ("bought", total(BOUGHT)),
        ("pump ran", float(book.traces[hours, acc.PUMP_SHARE].sum())),
    ]
    show = lambda words, v: f"{v:.1f} h" if words == "pump ran" else f"{sheet.show(v, 'kWh', 1)} {sheet.sign('kWh')}"
    return [
        {
            "words": words,
            "value": f"({show(words, v)})" if words == "bought" else show(words, v),
            "red": words == "bought",
        }
        for words, v in rows
    ]


def begin(request: SignedIn, sheet: Sheet) -> Shown:
    """Begin a log of the design as it stands: it is built."""
    try:
        log = begin_log(design=sheet.design, author=sheet.user)
    except HeatError as error:
        return refused(sheet, "day", str(error))
    note_due(sheet.project)
    said = f"Design {log.letter} is commissioned: its log has begun, and keeps the design as it is today."
    return Shown(sheet=sheet.at("day").handing(said=said), step="log")


def refused(sheet: Sheet, view: str, words: str, **more: Any) -> Shown:
    """The page with why something was not taken; what was typed stays."""
    return Shown(sheet=sheet.at(view).handing(wrong=words, **more), step="log", status=422)


def type_line(request: SignedIn, sheet: Sheet) -> Shown | HttpResponse:
    """Keep a line as typed. A line that waited in a browser is answered in JSON: kept, or why not."""
    shown = _typed_line(request, sheet)
    if "application/json" not in request.headers.get("Accept", ""):
        return shown
    problem = shown.sheet.given.get("wrong", "").removeprefix("Not kept: ")
    return JsonResponse({"problem": problem}, status=422) if problem else JsonResponse({"kept": True})


def _typed_line(request: SignedIn, sheet: Sheet) -> Shown:
    log, told = own_log(sheet, request.POST), request.POST
    kept = {name: str(told.get(name, ""))[:40] for name in (*names_of(log), "day", "clock", "remark")}
    try:
        at = moment_of(time_typed(told.get("day", ""), told.get("clock", "")), log.offset_h)
        values = line_typed(log, told, sheet.system)
        if log.readings.filter(at=at, source="typed").exists():
            known = log.readings.get(at=at, source="typed")
            if known.values != values:
                raise HeatError("A line of this minute is kept already: strike it out first, or type another minute.")
        done = add_readings(log=log, author=sheet.user, told=[Told(at, values, kept["remark"])], source="typed")
    except (HeatError, IntegrityError) as error:
        return refused(sheet, "day", str(error), typed=kept)
    if done.refused:
        why = done.refused[0].partition(": ")[2]  # its moment is the one that was typed
        return refused(sheet, "day", f"Not kept: {why}.", typed=kept)
    said = f"Kept: {kept['clock']}, {len(values)} reading{'s' if len(values) != 1 else ''}."
    return Shown(sheet=sheet.at("day").handing(said=said), step="log")


def strike_line(request: SignedIn, sheet: Sheet) -> Shown:
    """Strike a reading out, with a reason."""
    log = own_log(sheet, request.POST)
    text = request.POST.get("reading", "")
    reading = get_object_or_404(Reading, log=log, pk=int(text) if text.isdecimal() and len(text) < 15 else 0)
    reading.log = log
    try:
        strike(reading=reading, author=sheet.user, why=request.POST.get("why", "").replace("\0", ""))
    except HeatError as error:
        return refused(sheet, "day", str(error))
    return Shown(sheet=sheet.at("day").handing(said="Struck out; it stays to be seen."), step="log")


def sensors(request: SignedIn, sheet: Sheet) -> Shown:
    """Heights, litres and doubt of the store's sensors."""
    log = own_log(sheet, request.POST)
    try:
        heights = [_number(text) for text in request.POST.getlist("height") if text.strip()]
        litres = [
            units.kept(_number(text), "L", sheet.system) for text in request.POST.getlist("litres") if text.strip()
        ]
        set_sensors(
            log=log,
            author=sheet.user,
            heights=heights,
            litres=litres,
            sensor_k=_number(request.POST.get("sensor_k", "")),
        )
    except HeatError as error:
        return refused(sheet, "day", str(error))
    return Shown(sheet=sheet.at("day").handing(said="The sensors are told."), step="log")


def _number(text: str) -> float:
    try:
        return units.parse_number(text)
    except ValueError as error:
        raise HeatError(units.no_number(text, error)) from error


def photo(request: SignedIn, sheet: Sheet) -> Shown:
    """Keep a remark, with a photograph."""
    log = own_log(sheet, request.POST)
    file = request.FILES.get("photo")
    try:
        picture = drawn_anew(file.read(), PHOTO) if file else None
        add_photo(log=log, author=sheet.user, remark=request.POST.get("remark", "").replace("\0", ""), picture=picture)
    except HeatError as error:
        return refused(sheet, "day", str(error))
    return Shown(sheet=sheet.at("day").handing(said="Kept."), step="log")
