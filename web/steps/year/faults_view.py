"""The mistakes bench: each with its size and cost, several together, readings with and without; or the game of finding
one."""

import json
from collections.abc import Mapping
from typing import Any
from urllib.parse import urlencode

import numpy as np
from numpy.typing import NDArray

from heat import accounts as acc
from heat.errors import HeatError
from heat.events import DAYLIGHT_W_M2, spans, sun_w_m2
from heat.field.mistakes import FAULTS, Fault, faulty_document, sized
from heat.ledger import BOUGHT, YearBook, difference
from heat.readings import sensors_c
from web.present.account import signed
from web.sheet.page import Sheet
from web.sheet.step import Memory
from web.steps.year.faults import apart, costs, possible, secret_fault
from web.ui import units
from web.ui.calendar import date_of, day_number, day_text
from web.ui.units import parse_number
from web.years.reckoned import simulate_uncached

Array = NDArray[np.float64]
DAYS_SHOWN = 3
HOURS_SHOWN = 24 * DAYS_SHOWN
LEFT, WIDTH, HEIGHT = 34.0, 440.0, 62.0
SMALLEST_KWH = 0.5
ANSWERS_KEPT = 1000
SIZE = "s-"
"""Beginning of the names of the sizes' fields."""


def typed_sizes(sheet: Sheet, query: Mapping[str, str]) -> tuple[dict[str, float], dict[str, str]]:
    """Sizes typed (each in its mistake's unit), and what is wrong with those that are none."""
    sizes, wrong = {}, {}
    for key, item in possible(sheet).items():
        text = query.get(SIZE + key, "")
        if not item.unit or not text.strip():
            continue
        sign = sheet.sign(item.unit)
        low, high = (units.field_text(v, item.unit, sheet.system) for v in (item.low, item.high))
        try:
            size = units.kept(parse_number(text), item.unit, sheet.system)
        except ValueError as error:
            wrong[key] = f"{units.no_number(text, error)} Allowed: {low} to {high} {sign}."
            continue
        if item.low - 1e-9 <= size <= item.high + 1e-9:
            sizes[key] = min(max(size, item.low), item.high)
        else:
            wrong[key] = f"Allowed: {low} to {high} {sign}."
    return sizes, wrong


def size_text(sheet: Sheet, item: Fault, size: float) -> str:
    """A size with its unit, nothing for what has none."""
    return f" {units.field_text(size, item.unit, sheet.system)} {sheet.sign(item.unit)}" if item.unit else ""


def faults_view(sheet: Sheet) -> dict[str, Any]:
    """The bench: each mistake with its cost, the chosen ones together, readings with and without; or the game."""
    query, chosen, has = sheet.look.query, sheet.look.all("m"), possible(sheet)
    wrong = ""
    try:
        from_day = day_number(query["from"]) if query.get("from") else 1
    except ValueError as error:
        from_day, wrong = 1, str(error)
    game = query.get("find", "")
    number = int(game) if game.isascii() and game.isdecimal() and len(game) < 9 else None
    hidden = secret_fault(sheet, number) if number is not None else ""
    keys = [hidden] if hidden else [key for key in has if key in chosen]
    both = "slow" in keys and "fast" in keys
    if both:  # one loop has one flow
        keys.remove("slow")
    sizes, unsized = ({}, {}) if hidden else typed_sizes(sheet, query)
    named = {key: item.words + size_text(sheet, item, item.size) for key, item in has.items()}
    page: dict[str, Any] = {
        "from": day_text(from_day), "wrong": wrong, "number": number,
        "note": "Flow cannot be too low and too high at once: too high is taken." if both else "",
        "options": [{"key": key, "words": words} for key, words in named.items()], "chosen": keys,
    }  # fmt: skip
    if not hidden:
        page["rows"] = [
            _row(sheet, has[cost["key"]], cost, keys, query.get(SIZE + cost["key"], ""), unsized.get(cost["key"], ""))
            for cost in costs(sheet, from_day, sizes)
        ]
    if keys:
        try:
            page |= _tried(sheet, query, chosen, sized(keys, sizes), from_day)
        except HeatError as error:
            page["refused"] = str(error)
    guess = query.get("guess", "")
    if hidden and guess in has:
        page["told"] = {
            "right": guess == hidden,
            "guess": named[guess],
            "words": named[hidden],
            "what": has[hidden].what,
            "sign": has[hidden].sign,
        }
    return page


def _tried(
    sheet: Sheet, query: Mapping[str, str], chosen: list[str], sizes: dict[str, float], from_day: int
) -> dict[str, Any]:
    """The year with these mistakes beside the year without: accounts, temperatures, three days of readings. Raises
    HeatError."""
    base, weather = sheet.year.book, sheet.weather
    book = simulate_uncached(faulty_document(sheet.document, sizes, from_day), weather)
    gap, last = apart(base, book, weather), 365 - DAYS_SHOWN
    telling = int(min(gap.reshape(365, 24).sum(axis=1).argmax(), last))
    day = min(telling if sheet.look.day is None else sheet.look.day, last)
    kept = [
        (name, text)
        for name, text in query.items()
        if text and (name in ("from", "find", "guess") or name.startswith(SIZE))
    ]
    return {
        "together": _together(sheet, base, book, list(sizes)),
        "readings": readings(sheet, base, book, day),
        "query": "?" + urlencode([("view", "mistakes"), *kept, *(("m", key) for key in chosen)]) + "&",
        "at": int(gap[24 * day : 24 * day + HOURS_SHOWN].argmax()), "step": round(WIDTH / (HOURS_SHOWN - 1), 4),
        "day": day, "date": date_of(day), "telling": telling, "first": 24 * day,
        "days": [(words, min(max(day + by, 0), last))
            for words, by in (("‹ week", -7), ("‹ day", -1), ("day ›", 1), ("week ›", 7))],
    }  # fmt: skip


def _row(sheet: Sheet, fault: Fault, cost: dict[str, Any], keys: list[str], typed: str, wrong: str) -> dict[str, Any]:
    usual = units.field_text(fault.size, fault.unit, sheet.system) if fault.unit else ""
    row: dict[str, Any] = {
        "key": cost["key"], "words": fault.words, "what": fault.what, "on": cost["key"] in keys,
        "why": cost.get("why", ""),
        "unit": sheet.sign(fault.unit) if fault.unit else "", "usual": usual, "size": typed or usual, "wrong": wrong,
    }  # fmt: skip
    if "kwh" in cost:
        row |= {
            "kwh": signed(sheet, cost["kwh"]),
            "money": ("+" if cost["money"] >= 0.5 else "") + units.number(cost["money"], 0),
            "points": ("+" if cost["points"] > 0.05 else "") + units.number(cost["points"], 1), "moves": cost["moves"],
            "gain": signed(sheet, cost["gain"]),
            "missing": sheet.show(cost["missing"], "kWh") if cost["missing"] >= 1 else "",
        }  # fmt: skip
    return row


def _together(sheet: Sheet, base: YearBook, book: YearBook, keys: list[str]) -> dict[str, Any]:
    lines = [line for line in difference(base, book) if abs(line.kwh) >= SMALLEST_KWH]
    largest = max((abs(line.kwh) for line in lines), default=1.0)
    return {
        "words": [FAULTS[key].words for key in keys], "sign": [FAULTS[key].sign for key in keys],
        "bought": signed(sheet, book.total(*BOUGHT) - base.total(*BOUGHT)),
        "of": sheet.show(base.total(*BOUGHT), "kWh"),
        "money": ("+" if book.cost() >= base.cost() else "") + units.number(book.cost() - base.cost(), 0),
        "points": units.number(100 * (book.fractions.at_tap - base.fractions.at_tap), 1),
        "temperatures": _temperatures(sheet, base, book),
        "pump": units.number(book.pump_hours() - base.pump_hours(), 0), "closed": book.hours_closed == len(book.books),
        "lines": [{"name": line.words, "text": signed(sheet, line.kwh), "more": line.kwh > 0,
                   "x": round(100 - 95 * max(-line.kwh, 0) / largest, 1),
                   "w": round(95 * abs(line.kwh) / largest, 1)} for line in lines],
    }  # fmt: skip


def _temperatures(sheet: Sheet, base: YearBook, book: YearBook) -> list[dict[str, str]]:
    """What the mistakes do to temperatures: as designed, and with them."""
    stored = base.design.system.scheme.exchange != "pool"
    degree = lambda read: [f"{sheet.show(float(read(b)), 'degC', 1)}°" for b in (base, book)]
    rows = []
    if stored:
        rows.append(("store top, mean of the year", *degree(lambda b: b.profile[:, -1].mean())))
        rows.append(("store, hottest", *degree(lambda b: b.profile.max())))
    if base.design.system.scheme.moved != "none":
        rows.append(("collector, hottest", *degree(lambda b: b.traces[:, acc.COLLECTOR_PEAK_C].max())))
    if base.design.demand.pool.fitted:
        rows.append(("pool, mean of the year", *degree(lambda b: b.traces[:, acc.POOL_C].mean())))
    if base.design.demand.hot_water:
        rows.append(("hours the tap is too cold", *(units.number(b.hours_below_tap(), 0) for b in (base, book))))
    rows.append(("hours of stagnation", *(units.number(b.stagnation_hours(), 0) for b in (base, book))))
    return [{"words": words, "usual": usual, "odd": odd} for words, usual, odd in rows]


def readings(sheet: Sheet, base: YearBook, book: YearBook, day: int) -> list[dict[str, Any]]:
    """Three days of what a controller shows, as designed and with the mistakes (SVG units), each with its range."""
    first = 24 * min(max(day, 0), 365 - DAYS_SHOWN)
    hours = slice(first, first + HOURS_SHOWN)
    weather = sheet.weather
    (usual_c, usual_low), (odd_c, odd_low) = sensors_c(base, weather), sensors_c(book, weather)
    scheme = base.design.system.scheme
    rows: list[tuple[str, str, Array, Array]] = [("Collector sensor", "degC", usual_c, odd_c)]
    if scheme.exchange == "pool":
        rows.append(("Pool sensor", "degC", usual_low, odd_low))
    else:
        rows.append(("Store sensor", "degC", usual_low, odd_low))
        rows.append(("Store top", "degC", base.profile[:, -1], book.profile[:, -1]))
    if scheme.moved == "pump":
        share = lambda b: 100 * b.traces[:, acc.PUMP_SHARE]
        rows.append(("Pump", "percent", share(base), share(book)))
    air, dark = weather.air_c[hours], sun_w_m2(base)[hours] < DAYLIGHT_W_M2
    step = WIDTH / (HOURS_SHOWN - 1)
    nights = [
        {"x": round(LEFT + max(step * (run.first - 0.5), 0.0), 1),
            "w": round(step * (min(run.last, HOURS_SHOWN - 1.5) - max(run.first, 0.5) + 1), 1)}
        for run in spans("night", dark)
    ]  # fmt: skip
    found = []
    for words, unit, whole, spoiled in rows:
        usual, odd = whole[hours], spoiled[hours]
        low = 0.0 if unit == "percent" else 10.0 * np.floor(min(usual.min(), odd.min()) / 10.0)
        high = 100.0 if unit == "percent" else 10.0 * np.ceil(max(usual.max(), odd.max(), low + 20.0) / 10.0)

        def path(values: Array, low: float = low, high: float = high) -> str:
            return "M" + "L".join(
                f"{LEFT + WIDTH * h / (HOURS_SHOWN - 1):.1f},{6 + HEIGHT * (high - v) / (high - low):.1f}"
                for h, v in enumerate(values)
            )

        found.append({
            "air": path(np.clip(air, low, high)) if words == "Collector sensor" else "", "nights": nights,
            "words": words, "usual": path(usual), "odd": path(odd), "low": sheet.show(low, unit, 0),
            "high": sheet.show(high, unit, 0),
            "sign": sheet.sign(unit),
            "values": json.dumps([[sheet.show(float(v), unit,
                0 if unit == "percent" else 1) for v in values] for values in (usual, odd)]),
        })  # fmt: skip
    return found


def keep_score(memory: Memory, sheet: Sheet, page: dict[str, Any]) -> dict[str, Any]:
    """First answers of the finding game, kept while the person is signed in."""
    scores = memory.get("found", {})
    mine: dict[str, bool] = scores.get(str(sheet.project.pk), {})
    number = page["number"]
    if "told" in page and str(number) not in mine and len(mine) < ANSWERS_KEPT:
        mine[str(number)] = page["told"]["right"]
        memory["found"] = {**scores, str(sheet.project.pk): mine}
    fresh = next(n for n in range(1, len(mine) + 2) if str(n) not in mine)
    right = sum(mine.values())
    return page | {"next": fresh, "score": f"{right} of {len(mine)} named at the first answer" if mine else ""}
