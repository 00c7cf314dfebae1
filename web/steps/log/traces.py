"""Traces of measured days over the calculated ones: readings as dots, the design's days as lines."""

from typing import Any

import numpy as np

from heat.monitoring.log import Log as Rows
from heat.monitoring.log import binned
from heat.monitoring.measured_days import SensorTraces
from web.logs.models import Log
from web.steps.log.typed import display_value, words_of
from web.ui.rows import Row

WIDTH, LEFT, RIGHT, TOP, HEIGHT = 860, 44, 12, 8, 236
LOW = 58
COLOURS = ("#7E3B12", "#1B4F7A", "#3B6A4A", "#6A4A7A", "#855200")
"""Of the collector, then the store's sensors from the top down."""
TEMPERATURES = ("collector", "pool", "supply", "return")
MOST_DOTS = 400


def traces(log: Log, rows: Rows, expected: SensorTraces | None, first: int, last: int, system: str) -> Row:
    """Everything the picture's template draws."""
    names = [n for n in rows.rows() if n in ("collector", "pool") or n.startswith("store ")]
    names.sort(key=lambda n: (n.startswith("store"), -int(n[6:]) if n.startswith("store ") else 0))
    span = max(last - first, 1)
    x = lambda hour: LEFT + (np.asarray(hour) - first) / span * (WIDTH - LEFT - RIGHT)
    values = [row[np.isfinite(row)] for name, row in rows.rows().items() if name in names]
    lines = [expected.rows[name][1] for name in names if expected is not None and name in expected.rows]
    flat = np.concatenate([*values, *lines]) if values or lines else np.array([0.0, 60.0])
    low, high = 10.0 * np.floor(float(flat.min()) / 10.0), 10.0 * np.ceil(float(flat.max()) / 10.0 + 0.01)
    y = lambda v: TOP + (high - np.asarray(v)) / max(high - low, 10.0) * HEIGHT
    made = []
    for index, name in enumerate(names):
        hour, value = binned(rows.hour, rows.rows()[name])
        save = slice(None, None, max(len(hour) // MOST_DOTS, 1))
        made.append(
            {
                "name": name,
                "words": words_of(name, log),
                "colour": COLOURS[index % len(COLOURS)],
                "dots": [
                    (round(float(a), 1), round(float(b), 1)) for a, b in zip(x(hour[save]), y(value[save]), strict=True)
                ],
                "line": _path(x, y, *expected.rows[name]) if expected is not None and name in expected.rows else "",
            }
        )
    step = 20 if high - low > 60 else 10
    levels = np.arange(low, high + 1, step)
    return {
        "rows": made,
        "width": WIDTH,
        "left": LEFT,
        "right": WIDTH - RIGHT,
        "top": TOP,
        "foot": TOP + HEIGHT,
        "marks": [
            {"y": round(float(y(v)), 1), "text": f"{display_value('collector', float(v), system):.0f}°"} for v in levels
        ],
        "days": [{"x": round(float(x(h)), 1), "text": _hour(h, span)} for h in range(first, last + 1, _every(span))],
        "below": _below(rows, expected, x),
        "low_top": TOP + HEIGHT + 26,
        "low_foot": TOP + HEIGHT + 26 + LOW,
        "height": TOP + HEIGHT + 26 + LOW + 22,
    }


def _every(span: int) -> int:
    return 3 if span <= 30 else 6 if span <= 72 else 24


def _hour(hour: int, span: int) -> str:
    return f"{hour % 24}" if span <= 72 else f"{hour // 24 % 31 + 1}"


def _path(x: Any, y: Any, hour: Any, value: Any) -> str:
    points = (f"{a:.1f},{b:.1f}" for a, b in zip(x(hour), y(value), strict=True))
    return "M" + "L".join(points)


def _below(rows: Rows, expected: SensorTraces | None, x: Any) -> dict[str, object]:
    """Pump and sun under the temperatures: measured as an area, calculated pump as a line."""
    foot = TOP + HEIGHT + 26 + LOW
    every = rows.rows()
    found: dict[str, object] = {"sun": "", "pump": [], "line": ""}
    for name in ("sun", "plane"):
        if name in every:
            hour, value = binned(rows.hour, every[name])
            top = max(float(value.max()), 300.0)
            points = "L".join(f"{a:.1f},{foot - LOW * v / top:.1f}" for a, v in zip(x(hour), value, strict=True))
            found["sun"] = f"M{x(hour[0]):.1f},{foot}L{points}L{x(hour[-1]):.1f},{foot}Z"
            break
    if "pump" in every:
        hour, value = binned(rows.hour, every["pump"])
        found["pump"] = [
            (round(float(a), 1), round(foot - LOW * float(v), 1)) for a, v in zip(x(hour), value, strict=True)
        ]
    if expected is not None and "pump" in expected.rows and "pump" in every:
        hour, value = expected.rows["pump"]
        found["line"] = _path(x, lambda v: foot - LOW * np.asarray(v), hour, value)
    return found
