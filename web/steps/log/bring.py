"""Readings brought in: pasted, or from a table whose columns are named and stored; and the logger's key."""

import re
from datetime import UTC, datetime, timedelta

import numpy as np
import pandas as pd
from django.http import HttpResponse

from heat.common.documents import Values
from heat.common.tables import cells, csv_table, guess_layout, number_of, one_stamp, reading, within_limits
from heat.errors import HeatError, WeatherFileError
from heat.monitoring.checks import back_in_time, doubled_hour, findings
from heat.monitoring.log import QUANTITIES
from heat.monitoring.log import Log as Rows
from heat.sun.site import sun_of
from heat.weather.readers import decode
from web.accounts.requests import SignedIn
from web.editor.design_page import DesignPage
from web.editor.step import PageResult, sent_to
from web.editor.uploads import posted_file
from web.logs.models import Log, hour_of, local_of, moment_of
from web.logs.reading import built
from web.logs.services import MOST_READINGS, IncomingReading, add_readings, end_token, new_token
from web.projects.models import Upload
from web.projects.services.weather import store_upload
from web.steps.log.current import frame, log_here, own_log
from web.steps.log.day import refused
from web.steps.log.typed import meanings, words_of
from web.ui.rows import Row
from web.ui.spreadsheets import is_spreadsheet, spreadsheet_rows

PREVIEW, MOST_PASTED, LISTED = 6, 2_000_000, 8
"""Rows shown before they are taken, letters that may be pasted, and lines left out that are listed."""
HINTS = (
    (r"coll|roof|panel|^t1\b|s1\b", "collector"),
    (r"pump|relay|^r1\b", "pump"),
    (r"flow|l/min|gpm", "flow"),
    (r"plane|poa|tilt", "plane"),
    (r"sun|ghi|irr|pyra|w/m", "sun"),
    (r"cloud", "cloud"),
    (r"ambient|air|outdoor", "air"),
    (r"draw|drawn|hot water|litres", "draw"),
    (r"supply|hot side|vl", "supply"),
    (r"return|rl", "return"),
    (r"pool", "pool"),
)
STORE_HINTS = (r"bottom|below|lower|low\b|unten", r"mid", r"top|upper|above|oben")


def bring_view(page: DesignPage) -> dict[str, object]:
    """A table to bring, its columns where one was brought, and the logger's key."""
    log = log_here(page)
    context: dict[str, object] = frame(page, log)
    if log is None:
        return context
    context |= {"token": page.given.get("token", ""), "pasted": page.given.get("pasted", "")}
    upload = page.upload
    if upload is None or upload.purpose != "log":
        return context
    try:
        return context | _mapping(log, upload)
    except (WeatherFileError, HeatError) as error:
        return context | {"problem": str(error)}


def brought(request: SignedIn, page: DesignPage) -> PageResult | HttpResponse:
    """Take a table in, or what was pasted; its columns come next."""
    log = own_log(page, request.POST)
    pasted = request.POST.get("pasted", "").replace("\0", "")
    if pasted.strip():
        if len(pasted) > MOST_PASTED:
            return refused(page, "bring", f"More than {MOST_PASTED:,} letters are pasted: bring a file instead.")
        name, raw = "pasted.csv", pasted.encode()
    elif "file" not in request.FILES:
        return refused(page, "bring", "Paste a table, or choose a file first.")
    else:
        got = posted_file(request)
        if isinstance(got, str):
            return refused(page, "bring", got)
        name, raw = got
    try:
        if is_spreadsheet(raw):
            name, raw = f"{name}.csv", _from_spreadsheet(name, raw)
        text = decode(name, raw)
        within_limits(name, text)
        text = one_stamp(name, text)
        guessed = guess_layout(name, text)
    except (WeatherFileError, HeatError) as error:
        return refused(page, "bring", str(error), pasted=pasted[:20_000])
    names = [re.sub(r"\s+", " ", n).lower() for n in guessed.names]
    known = log.columns.get("names") == names
    layout = dict(log.columns) if known else {"names": names, "columns": _guessed(log, names, guessed.stamp)}
    layout |= {
        "separator": guessed.separator,
        "decimal": guessed.decimal,
        "heading_line": guessed.heading_line,
        "stamp": guessed.stamp,
        "stamp_format": guessed.stamp_format,
        "clock": layout.get("clock", "standard"),
        "known": known,
    }
    upload = Upload(project=page.project, purpose="log", name=name[:120], raw=text.encode(), layout=layout)
    try:
        store_upload(upload=upload, author=page.user)
    except HeatError as error:  # no room
        return refused(page, "bring", str(error), pasted=pasted[:20_000])
    return sent_to(page.design, "log", view="bring", log=log.pk, upload=upload.pk)


def _from_spreadsheet(name: str, raw: bytes) -> bytes:
    rows = spreadsheet_rows(name, raw, MOST_READINGS)
    return "\n".join(";".join(cell.replace(";", ",") for cell in row) for row in rows).encode()


def _guessed(log: Log, names: list[str], stamp: int) -> dict[str, str]:
    """What columns are likely to hold, by their names."""
    every: Row = meanings(log)
    found: dict[str, str] = {}
    heights = range(len(log.heights))
    for k, name in enumerate(names):
        row = next(
            (
                f"s{round(i * (len(heights) - 1) / 2)}"
                for i, p in enumerate(STORE_HINTS)
                if len(heights) and re.search(p, name)
            ),
            None,
        )
        row = row or next((f"s{i}" for i in heights if re.search(rf"(store|tank|sensor) ?{i + 1}\b", name)), None)
        row = row or next((text for pattern, text in HINTS if re.search(pattern, name)), None)
        wanted = [key for key in every if key.split()[0] == row]
        if not wanted or k == stamp or any(v.split()[0] == row for v in found.values()):
            continue
        other = any(mark in name for mark in ("°f", "(f)", "degf", "gpm", "gal", "[f]", "_f"))
        found[str(k)] = wanted[1] if other and len(wanted) > 1 else wanted[0]
    return found


def _mapping(log: Log, upload: Upload) -> dict[str, object]:
    """The columns with what each may hold, first rows, and what is to be said before they are taken."""
    layout, text = upload.layout, bytes(upload.raw).decode()
    guessed = guess_layout(upload.name, text)
    every = meanings(log)
    payload, notes = read_table(log, text, layout)
    return {
        "upload": upload,
        "layout": layout,
        "meanings": [(key, words) for key, (words, *_rest) in every.items()],
        "columns": [
            {"index": k, "name": name, "stamp": k == layout["stamp"], "meaning": layout["columns"].get(str(k), "")}
            for k, name in enumerate(guessed.names)
        ],
        "rows": guessed.rows[:PREVIEW],
        "count": len(payload),
        "notes": notes,
        "first": local_of(payload[0].at, log.offset_h) if payload else None,
        "last": local_of(payload[-1].at, log.offset_h) if payload else None,
    }


def read_table(log: Log, text: str, layout: Values) -> tuple[list[IncomingReading], list[str]]:
    """Readings of a table by its layout, in the core's units, and what looks wrong, in words. Raises HeatError."""
    if layout["stamp"] < 0 or not layout["stamp_format"]:
        raise HeatError("No column of days and times was found: write them as 2026-05-02 10:15.")
    with reading("Table"):
        return _read(log, text, layout)


def _read(log: Log, text: str, layout: Values) -> tuple[list[IncomingReading], list[str]]:
    rows = [r for r in cells(text, layout["separator"])[layout["heading_line"] :] if any(r)]
    stamps = pd.to_datetime(
        pd.Series([r[layout["stamp"]] if len(r) > layout["stamp"] else "" for r in rows]),
        format=layout["stamp_format"],
        errors="coerce",
        utc=False,
    )
    locals_ = [None if pd.isna(s) else s.to_pydatetime() for s in stamps]
    notes: list[str] = []
    left_out: list[str] = []
    every, columns = meanings(log), layout["columns"]
    made: list[IncomingReading] = []
    clock = _clock([s for s in locals_ if s is not None], layout["clock"], notes)
    at = iter(clock)
    for line, (row, local) in enumerate(zip(rows, locals_, strict=True), start=layout["heading_line"] + 1):
        if local is None:
            stamp = row[layout["stamp"]][:24] if len(row) > layout["stamp"] else ""
            left_out.append(f"line {line}: “{stamp}” is no day and time")
            continue
        moment = next(at)
        values = {}
        for index, meaning in columns.items():
            if meaning not in every or int(index) >= len(row):
                continue
            _words, name, slope, offset = every[meaning]
            cell = row[int(index)].strip().lower()
            number = number_of(cell, layout["decimal"])
            if cell in ("on", "off"):
                values[name] = float(cell == "on")
            elif np.isfinite(number):
                values[name] = round(number * slope + offset, 4)
        if values:
            local_std = moment if moment.tzinfo is None else None
            made.append(IncomingReading(moment_of(local_std, log.offset_h) if local_std else moment, values))
        elif columns:
            left_out.append(f"line {line}: it holds no reading")
    notes += _left_out(left_out, len(rows))
    made.sort(key=lambda one: one.at)
    notes += _findings(log, made)
    return made, notes


def _left_out(lines: list[str], whole: int) -> list[str]:
    """How many lines are not taken, of how many, and the first of them with the reason."""
    if not lines:
        return []
    more = f"; and {len(lines) - LISTED} more" if len(lines) > LISTED else ""
    return [f"{len(lines)} of {whole} lines are left out: {'; '.join(lines[:LISTED])}{more}."]


def _clock(stamps: list[datetime], clock: str, notes: list[str]) -> list[datetime]:
    """Times as local standard time: what a clock with summer time showed is put back, the doubled hour told apart."""
    if not stamps:
        return []
    if any(s.tzinfo is not None for s in stamps):
        return [s if s.tzinfo else s.replace(tzinfo=UTC) for s in stamps]
    base = stamps[0]
    hours = np.array([(s - base).total_seconds() / 3600.0 for s in stamps])
    back, twice = back_in_time(hours)
    doubled = doubled_hour(hours)
    if clock == "summer":
        if doubled is not None:
            notes.append("The hour when the clock was put back stands twice: its first half is taken as summer time.")
        return [s - timedelta(hours=1) if doubled is None or i < doubled else s for i, s in enumerate(stamps)]
    if doubled is not None:
        notes.append("An hour stands twice: does this clock have summer time? Say so below.")
    elif back:
        notes.append(f"Times run backwards {back} times: the lines are put in order.")
    if twice:
        notes.append(f"{twice} lines stand at the moment of the one before: the first of each is kept.")
    return stamps


def _findings(log: Log, made: list[IncomingReading]) -> list[str]:
    if not made:
        return ["No column holds a reading yet: choose what the columns hold."]
    hour = np.array([hour_of(one.at, log.offset_h) for one in made])
    row = lambda name: np.array([one.values.get(name, np.nan) for one in made], dtype=np.float64)
    store = np.array([row(f"s{i}") for i in range(len(log.heights))]) if log.heights else None
    rows = Rows(hour, {name: row(name) for name in QUANTITIES}, tuple(log.heights), store)
    design, weather = built(log)
    return [f"{words_of(f.row, log).capitalize()}: {f.words}." for f in findings(rows, sun_of(design, weather))]


def columns(request: SignedIn, page: DesignPage) -> PageResult | HttpResponse:
    """What the columns hold; or the table taken in."""
    log = own_log(page, request.POST)
    text = request.POST.get("upload", "")
    upload = page.project.uploads.filter(
        purpose="log", pk=int(text) if text.isdecimal() and len(text) < 12 else 0
    ).first()
    if upload is None:
        return refused(page, "bring", "This table is not kept any more: bring it again.")
    every = meanings(log)
    payload = {k.removeprefix("column-"): v for k, v in request.POST.items() if k.startswith("column-") and v in every}
    payload = {k: v for k, v in payload.items() if k.isdecimal() and len(k) < 4}
    names = [v.split()[0] for v in payload.values()]
    clock = request.POST.get("clock", "standard")
    upload.layout = {
        **upload.layout,
        "columns": payload,
        "clock": clock if clock in ("standard", "summer") else "standard",
    }
    here = lambda: sent_to(page.design, "log", view="bring", log=log.pk, upload=upload.pk)
    if len(set(names)) < len(names):
        return refused(page, "bring", "Two columns hold the same: leave one out.", upload=upload)
    upload.save(update_fields=["layout"])
    if request.POST.get("take") != "1":
        return here()
    try:
        made, notes = read_table(log, bytes(upload.raw).decode(), upload.layout)
        result = add_readings(log=log, author=page.user, readings=made, source="table")
    except (HeatError, WeatherFileError) as error:
        return refused(page, "bring", str(error), upload=upload)
    log.columns = {k: v for k, v in upload.layout.items() if k != "known"}
    log.save(update_fields=["columns"])
    message = (
        f"{result.stored} readings are kept"
        + (f", {result.known} were known" if result.known else "")
        + (f", {len(result.refused)} refused: {'; '.join(result.refused[:LISTED])}" if result.refused else "")
        + "."
    )
    message = " ".join([message, *(note for note in notes if "left out" in note)])
    return PageResult(page=page.at("day").with_given(message=message), step="log")


def key(request: SignedIn, page: DesignPage) -> PageResult:
    """A key for a logger, shown once; or taken back."""
    log = own_log(page, request.POST)
    if request.POST.get("end") == "1":
        end_token(log=log, author=page.user)
        return PageResult(page=page.at("bring").with_given(message="The key is taken back."), step="log")
    return PageResult(page=page.at("bring").with_given(token=new_token(log=log, author=page.user)), step="log")


def log_csv(page: DesignPage) -> str:
    """Every reading of the log, struck ones with why, in the core's units."""
    log = log_here(page)
    if log is None:
        return "at,source,struck\n"
    names = sorted({name for values in log.readings.values_list("values", flat=True) for name in values})
    head = ["at", "source", *names, "struck", "remark"]
    return csv_table(
        [
            head,
            *(
                [
                    one.at.isoformat(),
                    one.source,
                    *(one.values.get(name) for name in names),
                    one.why if one.struck else "",
                    one.remark,
                ]
                for one in log.readings.all()
            ),
        ]
    )
