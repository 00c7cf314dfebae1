"""Some hours to two weeks of a year as traces: what is chosen, layers of the store, what happened, values by the
hour."""

import json
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from heat.common.tables import csv_table
from heat.ledger import accounts as acc
from heat.ledger.events import spans, sun_w_m2
from heat.ledger.year_book import BOUGHT, YearBook
from heat.weather.year import WeatherYear
from web.editor.design_page import DesignPage
from web.presentation.moment import Moment, moment
from web.presentation.picture import SCALE, spread_labels
from web.steps.year.finding import EVENT_KINDS
from web.steps.year.quantities import USUAL, Quantity, every, quantity_text
from web.ui import units
from web.ui.calendar import date_of
from web.ui.png import banded
from web.ui.rows import Row

Array = NDArray[np.float64]
HOURS_A_DAY, HOURS = 24, 8760
SHORTEST, LONGEST = 6, 14 * HOURS_A_DAY
"""Hours a window may show."""
STEPS_H = (6, 12, 24, 48, 72, 120, 168, 240, 336)
"""Widths of the window (h) a zoom steps through."""
MOST_LINES = MOST_ROWS = 6
LONGEST_WORDS = 18
"""Letters beside the picture."""
LEFT, WIDTH, RIGHT, TOP, DEPTH = 34.0, 372.0, 406.0, 8.0, 100.0
"""The picture: left edge, width and right edge of the hours, top and depth of the temperatures (SVG units)."""
BAND, ROW, LANE, LABEL = 30.0, 25.0, 13.0, 13.0
"""Depth of the store's layers, of a row of bars, of what happened, of a label (SVG units)."""
PLAYED_DAYS = 14


@dataclass(frozen=True)
class Window:
    """Hours shown: the first (0 to 8759 of the year) and how many."""

    first: int
    count: int

    @property
    def hours(self) -> slice:
        return slice(self.first, self.first + self.count)

    @property
    def day_text(self) -> str:
        """The days it shows, in words."""
        first, last = self.first // HOURS_A_DAY, (self.first + self.count - 1) // HOURS_A_DAY
        return date_of(first) if first == last else f"{date_of(first)} to {date_of(last)}"


def window(now: int, count: int, start: int | None) -> Window:
    """The window of so many hours that holds hour ``now``, as near as can be to the one that began at ``start``."""
    count = min(max(count, SHORTEST), LONGEST)
    day = HOURS_A_DAY * (now // HOURS_A_DAY)
    if start is None or not start - HOURS_A_DAY <= now < start + count + HOURS_A_DAY:
        start = day if count >= HOURS_A_DAY else now - count // 2
    elif not start <= now < start + count:
        whole = HOURS_A_DAY if count >= HOURS_A_DAY else 1
        start = whole * (now // whole) - (0 if now < start else count - whole)
    return Window(min(max(start, 0), HOURS - count), count)


def current_window(page: DesignPage) -> Window:
    return window(moment(page).index, page.state.span, page.state.start)


def chosen_traces(page: DesignPage) -> dict[str, Quantity]:
    """Lines and rows asked for that this design has, as many as fit; the usual ones where none is left."""
    has = every(page)
    for requested in (page.state.traces, USUAL):
        found = {key: has[key] for key in requested if key in has}
        lines = [key for key in found if found[key].line][:MOST_LINES]
        rows = [key for key in found if not found[key].line][:MOST_ROWS]
        if lines or rows:
            break
    return {key: item for key, item in found.items() if key in lines or key in rows}


def days_picture(
    page: DesignPage, book: YearBook, weather: WeatherYear, now: Moment, happened: dict[str, NDArray[np.bool_]]
) -> Row:
    """The window's traces: temperatures as lines over the store's layers, all else as bars, then what happened (SVG
    units)."""
    win = current_window(page)
    traces = chosen_traces(page)
    values = {key: item.read(book, weather)[win.hours] for key, item in traces.items()}
    chosen, step = now.index - win.first, WIDTH / win.count
    lines = {key: item for key, item in traces.items() if item.line}
    low, high = _reach([values[key] for key in lines])
    y = lambda c: TOP + DEPTH * (high - min(max(c, low), high)) / (high - low)
    plot = TOP + DEPTH if lines else TOP
    levels = _levels(low, high) if lines else []
    context: Row = {
        "lines": [
            {"d": _path(values[key], step, y), "width": item.width, "dash": item.dash} for key, item in lines.items()
        ],
        "levels": [{"y": round(y(c), 1), "text": page.show(c, "degC", 0)} for c in levels],
        "labels": _labels(page, lines, values, chosen, y),
        "degree": page.sign("degC"),
    }
    has_store = book.design.system.scheme.exchange != "pool"
    context["band"] = banded(book.profile[win.hours].T[::-1], 10.0, 90.0, SCALE) if has_store else ""
    context["band_y"] = plot + 6
    foot = plot + (6 + BAND if has_store else 0)
    context["band_h"], context["band_mid"] = BAND, foot - BAND / 2 + 4
    context["rows"] = []
    for key, item in traces.items():
        if item.line:
            continue
        foot += ROW
        context["rows"].append(_row(page, key, item, values[key], chosen, step, foot))
    context["lanes"] = []
    for lane in _lanes(book, happened, win, step):
        foot += LANE
        context["lanes"].append({**lane, "y": foot - 6, "text_y": foot - 2})
    tap = book.design.demand.tap_c
    has_tap = book.design.demand.hot_water and lines and low < tap < high
    labels = {key: [quantity_text(page, item, float(v)) for v in values[key]] for key, item in traces.items()}
    context |= {
        "left": LEFT,
        "right": RIGHT,
        "width": WIDTH,
        "first": win.first,
        "count": win.count,
        "step": round(step, 5),
        "bar": round(0.8 * step, 2),
        "chosen": chosen,
        "cursor": round(LEFT + step * chosen, 2),
        "wide": round(max(step, 1.5), 2),
        "foot": round(foot, 1),
        "height": round(foot + 18, 1),
        "plot": plot,
        "clock": _clock(win, step),
        "tap_y": round(y(tap), 1) if has_tap else None,
        "tap": f"tap {page.show(tap, 'degC', 0)}°",
        "words": win.day_text,
        "at": f"chosen hour {now.hour} h"
        if win.day_text == date_of(now.day)
        else f"chosen hour {date_of(now.day)}, {now.hour} h",
        "values": json.dumps(labels),
        "keys": list(traces),
        "days": win.count // HOURS_A_DAY if win.count % HOURS_A_DAY == 0 else 0,
        "start": win.first,
        "closer": max((s for s in STEPS_H if s < win.count), default=0),
        "wider": min((s for s in STEPS_H if s > win.count), default=0),
    }
    context["table"] = _table(page, traces, labels, win) if page.state.as_table else None
    return context


def _reach(values: list[Array]) -> tuple[float, float]:
    """Ends of the temperatures' axis (°C), in tens, from freezing or below to 60 or above."""
    known = [v[np.isfinite(v)] for v in values]
    low = min((float(v.min()) for v in known if v.size), default=0.0)
    high = max((float(v.max()) for v in known if v.size), default=60.0)
    return min(0.0, 10.0 * np.floor(low / 10.0)), max(60.0, 10.0 * np.ceil(high / 10.0))


def _levels(low: float, high: float) -> list[float]:
    each = 20 if high - low <= 130 else 50
    return [float(c) for c in range(int(each * np.ceil(low / each)), int(high) + 1, each)]


def _path(values: Array, step: float, y: Any) -> str:
    """A line through the hours' middles, broken where there is no value."""
    parts, field = [], "M"
    for h, v in enumerate(values):
        if not np.isfinite(v):
            field = "M"
            continue
        parts.append(f"{field}{LEFT + step * (h + 0.5):.1f},{y(float(v)):.1f}" + ("h0.1" if field == "M" else ""))
        field = "L"
    return "".join(parts)


def _labels(page: DesignPage, lines: dict[str, Quantity], values: dict[str, Array], chosen: int, y: Any) -> list[Row]:
    """Names of the lines beside their ends, kept apart and inside the picture, with their values at the chosen hour."""
    end = lambda key: next((float(v) for v in values[key][::-1] if np.isfinite(v)), None)
    ends = sorted(((key, end(key)) for key in lines), key=lambda e: -1e3 if e[1] is None else e[1], reverse=True)
    wanted = [TOP + DEPTH if celsius is None else y(celsius) + 4 for _key, celsius in ends]
    return [
        {
            "key": key,
            "words": lines[key].words,
            "text": quantity_text(page, lines[key], float(values[key][chosen])),
            "y": round(place, 1),
            "from": None if celsius is None else round(y(celsius), 1),
        }
        for (key, celsius), place in zip(ends, spread_labels(wanted, LABEL, TOP + 6, TOP + DEPTH + 4), strict=True)
    ]


def _fits(words: str) -> str:
    """Words as long as the column beside the picture."""
    return words if len(words) <= LONGEST_WORDS else words[: LONGEST_WORDS - 1].rstrip() + "…"


def _row(page: DesignPage, key: str, item: Quantity, values: Array, chosen: int, step: float, foot: float) -> Row:
    """Bars of one quantity, below zero downwards, on a scale of its own largest."""
    most = max(float(np.nanmax(np.abs(values))), 1e-9)
    down = float(np.nanmin(values)) < -1e-9 * most
    zero = foot - 3 - (9 if down else 0)
    tall = (ROW - 6 - (9 if down else 0)) / most
    bars = "".join(
        f"M{LEFT + step * (h + 0.5):.2f},{zero:.1f}v{-tall * v if v > 0 else min(-tall * v, 8.0):.2f}"
        for h, v in enumerate(values)
        if np.isfinite(v) and abs(v) > 1e-6 * most
    )
    return {
        "key": key,
        "words": _fits(item.words),
        "whole": item.words,
        "sign": page.sign(item.unit),
        "foot": zero,
        "label": round(foot - 6, 1),
        "red": item.red,
        "d": bars,
        "text": quantity_text(page, item, float(values[chosen])),
        "sun": key == "sun",
    }


def _lanes(book: YearBook, happened: dict[str, NDArray[np.bool_]], win: Window, step: float) -> list[Row]:
    """A lane for each thing that happened in the window; of the pump, its starts and stops."""
    lanes: list[dict[str, object]] = []
    for key, hours in happened.items():
        inside = hours[win.hours]
        item = EVENT_KINDS[key]
        if not inside.any() or key in ("bought_by_day", "open"):
            continue
        if key == "pump":
            runs = spans(key, inside)
            starts = [r.first for r in runs if r.first > 0 or win.first == 0 or not hours[win.first - 1]]
            ends = [r.last + 1 for r in runs if r.last < win.count - 1]
            lanes.append(
                {
                    "key": key,
                    "words": "pump on, off" if book.design.system.scheme.driven_by == "pump" else "flow on, off",
                    "text": f"{len(starts)} ×",
                    "manner": "",
                    "on": [round(LEFT + step * h, 1) for h in starts],
                    "off": [round(LEFT + step * h, 1) for h in ends],
                }
            )
            continue
        lanes.append(
            {
                "key": key,
                "words": item.name,
                "text": f"{int(inside.sum())} h",
                "manner": item.manner,
                "runs": [
                    {"x": round(LEFT + step * r.first, 1), "w": round(step * (r.last - r.first + 1), 1)}
                    for r in spans(key, inside)
                ],
            }
        )
    return lanes


def _clock(win: Window, step: float) -> list[Row]:
    """Marks of the time axis: hours of up to two days, days of more."""
    if win.count <= 2 * HOURS_A_DAY:
        each = 1 if win.count <= 12 else 3 if win.count <= 24 else 6
        ticks = [
            h
            for h in range(win.count + 1)
            if (win.first + h) % each == 0 and not (h == win.count and (win.first + h) % 24)
        ]
        show = lambda h: str((win.first + h) % 24 or (24 if h == win.count else 0))
        return [{"x": round(LEFT + step * h, 1), "text": show(h), "line": (win.first + h) % 24 == 0} for h in ticks]
    each = 1 if win.count <= 8 * HOURS_A_DAY else 2
    days = range(win.first // HOURS_A_DAY, (win.first + win.count) // HOURS_A_DAY + 1)
    marks = [(HOURS_A_DAY * d - win.first, d) for d in days]
    return [
        {
            "x": round(LEFT + step * h, 1),
            "text": date_of(d) if n % each == 0 and h <= win.count - 20 else "",
            "line": True,
        }
        for n, (h, d) in enumerate(marks)
        if 0 <= h < win.count
    ]


def _table(page: DesignPage, traces: dict[str, Quantity], payload: dict[str, list[str]], win: Window) -> Row:
    """The values of the picture as a table: an hour a line, each leading to its hour."""
    hours = range(win.first, win.first + win.count)
    red = [item.red for item in traces.values()]
    return {
        "heads": [{"words": item.words, "sign": page.sign(item.unit), "red": item.red} for item in traces.values()],
        "lines": [
            {
                "day": h // HOURS_A_DAY,
                "hour": h % HOURS_A_DAY,
                "date": date_of(h // HOURS_A_DAY),
                "cells": list(zip(cells, red, strict=True)),
            }
            for h, cells in zip(hours, zip(*payload.values(), strict=True), strict=True)
        ],
    }


def window_csv(page: DesignPage) -> str:
    """What the days show as a table of full precision: units of the reader in its header."""
    book, weather = page.year.book, page.weather
    win, traces = current_window(page), chosen_traces(page)
    columns = [_in_units(page, item, book, weather, win) for item in traces.values()]
    head = ["hour_of_year", "date", "hour", *(f"{i.words} [{page.sign(i.unit)}]" for i in traces.values())]
    hours = range(win.first, win.first + win.count)
    return csv_table(
        [
            head,
            *(
                [
                    hour,
                    date_of(hour // HOURS_A_DAY),
                    hour % HOURS_A_DAY,
                    *(float(c[n]) if np.isfinite(c[n]) else "" for c in columns),
                ]
                for n, hour in enumerate(hours)
            ),
        ]
    )


def _in_units(page: DesignPage, item: Quantity, book: YearBook, weather: WeatherYear, win: Window) -> Array:
    offset = units.to_display(0.0, item.unit, page.system)
    return offset + item.read(book, weather)[win.hours] * (units.to_display(1.0, item.unit, page.system) - offset)


def play(page: DesignPage, day: int) -> dict[str, object]:
    """A fortnight of hours from a day (0 to 364) for the drawing to be played: °C, shares, and words in the reader's
    units."""
    book = page.year.book
    first = HOURS_A_DAY * day
    hours = slice(first, min(first + HOURS_A_DAY * PLAYED_DAYS + 1, len(book.books)))
    traces, layers = book.traces[hours], book.profile[hours]
    running = traces[:, acc.PUMP_SHARE]
    rounded = lambda values: [round(float(v), 2) for v in values]
    second = book.second_profile
    scheme = book.design.system.scheme
    zero = units.to_display(0.0, "degC", page.system)
    return {
        "first": first,
        "layers": [rounded(row) for row in layers],
        "second": [rounded(row) for row in second[hours]] if second is not None else None,
        "supply": rounded(np.where(running > 0, traces[:, acc.COLLECTOR_C], layers[:, 0])),
        "collector": rounded(traces[:, acc.COLLECTOR_C]),
        "flow": rounded(traces[:, acc.FLOW_KG_H]),
        "mains": rounded(book.mains_c[hours]),
        "pool": rounded(traces[:, acc.POOL_C]),
        "pump": rounded(running),
        "shine": rounded(sun_w_m2(book)[hours]),
        "sun": [page.show(v, "W/m2") for v in sun_w_m2(book)[hours]],
        "litres": rounded(traces[:, acc.HOT_LITRES]),
        "draw": [page.show(float(v), "L") for v in traces[:, acc.HOT_LITRES]],
        "heat": rounded(book.hourly(*BOUGHT)[hours]),
        "bought": [page.show(float(v) / 1000.0, "kWh", 2) for v in book.hourly(*BOUGHT)[hours]],
        "degree": [units.to_display(1.0, "degC", page.system) - zero, zero],
        "signs": [page.sign("W/m2"), page.sign("L"), page.sign("kWh")],
        "pumped": scheme.driven_by == "pump",
        "stored": scheme.exchange != "pool",
    }
