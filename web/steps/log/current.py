"""Which log and which days a page of the log looks at."""

from dataclasses import dataclass
from datetime import timedelta
from typing import Any

from django.http import Http404
from django.utils import timezone

from heat.design import Design
from heat.monitoring.log import Log as Rows
from heat.monitoring.measured_days import weather_of
from heat.weather.year import WeatherYear
from web.editor.design_page import DesignPage
from web.logs.models import Log, local_of
from web.logs.reading import ReadingWindow, built, changed_since, rows_of, window_of
from web.simulations.cache import ContentCache
from web.ui.rows import Row

DAYS_CACHED = ContentCache(16)
"""What was calculated of days lately, by log, days, readings and design."""


@dataclass(frozen=True)
class Here:
    """A log with the days that are looked at, what was read in them, and what they are held against."""

    log: Log
    window: ReadingWindow
    rows: Rows
    design: Design
    weather: WeatherYear
    """With the log's own sun and air put in."""
    key: str


def log_here(page: DesignPage) -> Log | None:
    """The log asked for, else the design's last, else the project's last; none where none was begun."""
    logs = page.project.logs.select_related("weather", "project")
    requested = page.state.query.get("log", "")
    if requested.isdecimal() and len(requested) < 12:
        found = logs.filter(pk=int(requested)).first()
        if found is not None:
            return found
    return logs.filter(letter=page.design.letter).first() or logs.first()


def own_log(page: DesignPage, payload: Any) -> Log:
    """The log a form names, of this project. Raises Http404."""
    text = str(payload.get("log", ""))
    found = (
        page.project.logs.select_related("weather")
        .filter(pk=int(text) if text.isdecimal() and len(text) < 12 else 0)
        .first()
    )
    if found is None:
        raise Http404("There is no such log.")
    found.project = page.project
    return found


def here(page: DesignPage, log: Log | None) -> Here | None:
    """What the page looks at; none where nothing was read in its days."""
    if log is None:
        return None
    query = page.state.query
    window = window_of(log, query.get("day", ""), query.get("days", ""))
    rows = rows_of(log, window) if window else None
    if window is None or rows is None:
        return None
    design, weather = built(log)
    stamp = hash((rows.hour.tobytes(), tuple((n, r.tobytes()) for n, r in rows.rows().items()), rows.heights))
    key = f"{log.pk} {window.first} {window.days} {stamp} {log.sensor_k}"
    made = DAYS_CACHED.get(f"weather {key}", lambda: weather_of(rows, design, weather))
    return Here(log, window, rows, design, made, key)


def logger_state(log: Log | None) -> str:
    """How many readings there are and when the logger was heard: what a page that follows it has seen."""
    return f"{log.readings.count()} {log.heard.isoformat() if log.heard else ''}" if log else ""


def frame(page: DesignPage, log: Log | None) -> Row:
    """What every page of the log shows above: which log, whether the design has moved on, the days around."""
    query = page.state.query
    window = window_of(log, query.get("day", ""), query.get("days", "")) if log else None
    return {
        "log": log,
        "logs": list(page.project.logs.all()),
        "window": window,
        "changed": log is not None and log.letter == page.design.letter and changed_since(log, page.document),
        "wrong": page.given.get("wrong", ""),
        "message": page.given.get("message", ""),
        "asked_for": f"?view={query.get('view', 'day')}&log={log.pk}&day={window.first}&days={window.days}"
        if log and window
        else "",
        "signs": {"kelvin": page.sign("delta_degC"), "power": page.sign("W/m2"), "flow": page.sign("L/min")},
        "before": window.first - timedelta(days=window.days) if window else None,
        "after": window.first + timedelta(days=window.days) if window else None,
        "until": window.first + timedelta(days=window.days - 1) if window else None,
        "count": log.readings.filter(struck=None).count() if log else 0,
        "status": logger_state(log),
        "today": local_of(timezone.now(), log.offset_h) if log else None,
    }
