"""The faults bench: each with its size and cost, several together, readings with and without; or the game of finding
one."""

import json
from collections.abc import Mapping
from urllib.parse import urlencode

import numpy as np
from numpy.typing import NDArray

from heat.errors import HeatError
from heat.ledger import accounts as acc
from heat.ledger.events import DAYLIGHT_W_M2, spans, sun_w_m2
from heat.ledger.year_book import BOUGHT, YearBook, difference, points_between
from heat.monitoring.faults import FAULTS, Fault, faulty_document, sized
from heat.simulation.sensors import sensors_c
from web.editor.design_page import DesignPage
from web.editor.step import Memory
from web.presentation.account import signed
from web.simulations.cache import simulate_uncached
from web.steps.year.faults import apart, costs, possible, secret_fault
from web.ui import units
from web.ui.calendar import date_of, day_number, day_text
from web.ui.rows import Row
from web.ui.units import parse_number

Array = NDArray[np.float64]
DAYS_DISPLAYED = 3
HOURS_DISPLAYED = 24 * DAYS_DISPLAYED
LEFT, WIDTH, HEIGHT = 34.0, 440.0, 62.0
SMALLEST_KWH = 0.5
ANSWERS_STORED = 1000
SIZE = "s-"
"""Beginning of the names of the sizes' fields."""


def typed_sizes(page: DesignPage, query: Mapping[str, str]) -> tuple[dict[str, float], dict[str, str]]:
    """Sizes typed (each in its fault's unit), and what is wrong with those that are none."""
    sizes, wrong = {}, {}
    for key, item in possible(page).items():
        text = query.get(SIZE + key, "")
        if not item.unit or not text.strip():
            continue
        sign = page.sign(item.unit)
        low, high = (units.field_text(v, item.unit, page.system) for v in (item.low, item.high))
        try:
            size = units.to_core(parse_number(text), item.unit, page.system)
        except ValueError as error:
            wrong[key] = f"{units.no_number(text, error)} Allowed: {low} to {high} {sign}."
            continue
        if item.low - 1e-9 <= size <= item.high + 1e-9:
            sizes[key] = min(max(size, item.low), item.high)
        else:
            wrong[key] = f"Allowed: {low} to {high} {sign}."
    return sizes, wrong


def size_text(page: DesignPage, item: Fault, size: float) -> str:
    """A size with its unit, nothing for what has none."""
    return f" {units.field_text(size, item.unit, page.system)} {page.sign(item.unit)}" if item.unit else ""


def faults_view(page: DesignPage) -> Row:
    """The bench: each fault with its cost, the chosen ones together, readings with and without; or the game."""
    query, chosen, has = page.state.query, page.state.all("m"), possible(page)
    wrong = ""
    try:
        from_day = day_number(query["from"]) if query.get("from") else 1
    except ValueError as error:
        from_day, wrong = 1, str(error)
    game = query.get("find", "")
    number = int(game) if game.isascii() and game.isdecimal() and len(game) < 9 else None
    hidden = secret_fault(page, number) if number is not None else ""
    keys = [hidden] if hidden else [key for key in has if key in chosen]
    both = "slow" in keys and "fast" in keys
    if both:  # one loop has one flow
        keys.remove("slow")
    sizes, unsized = ({}, {}) if hidden else typed_sizes(page, query)
    named = {key: item.words + size_text(page, item, item.size) for key, item in has.items()}
    context: Row = {
        "from": day_text(from_day),
        "wrong": wrong,
        "number": number,
        "note": "Flow cannot be too low and too high at once: too high is taken." if both else "",
        "options": [{"key": key, "words": words} for key, words in named.items()],
        "chosen": keys,
    }
    if not hidden:
        context["rows"] = [
            _row(page, has[cost["key"]], cost, keys, query.get(SIZE + cost["key"], ""), unsized.get(cost["key"], ""))
            for cost in costs(page, from_day, sizes)
        ]
    if keys:
        try:
            context |= _tried(page, query, chosen, sized(keys, sizes), from_day)
        except HeatError as error:
            context["refused"] = str(error)
    guess = query.get("guess", "")
    if hidden and guess in has:
        context["given"] = {
            "right": guess == hidden,
            "guess": named[guess],
            "words": named[hidden],
            "what": has[hidden].what,
            "sign": has[hidden].sign,
        }
    return context


def _tried(
    page: DesignPage, query: Mapping[str, str], chosen: list[str], sizes: dict[str, float], from_day: int
) -> dict[str, object]:
    """The year with these faults beside the year without: accounts, temperatures, three days of readings. Raises
    HeatError."""
    base, weather = page.year.book, page.weather
    book = simulate_uncached(faulty_document(page.document, sizes, from_day), weather)
    gap, last = apart(base, book, weather), 365 - DAYS_DISPLAYED
    naming = int(min(gap.reshape(365, 24).sum(axis=1).argmax(), last))
    day = min(naming if page.state.day is None else page.state.day, last)
    stored = [
        (name, text)
        for name, text in query.items()
        if text and (name in ("from", "find", "guess") or name.startswith(SIZE))
    ]
    return {
        "together": _jointly(page, base, book, list(sizes)),
        "readings": readings(page, base, book, day),
        "query": "?" + urlencode([("view", "faults"), *stored, *(("m", key) for key in chosen)]) + "&",
        "at": int(gap[24 * day : 24 * day + HOURS_DISPLAYED].argmax()),
        "step": round(WIDTH / (HOURS_DISPLAYED - 1), 4),
        "day": day,
        "date": date_of(day),
        "telling": naming,
        "first": 24 * day,
        "days": [
            (words, min(max(day + by, 0), last))
            for words, by in (("‹ week", -7), ("‹ day", -1), ("day ›", 1), ("week ›", 7))
        ],
    }


def _row(page: DesignPage, fault: Fault, cost: Row, keys: list[str], typed: str, wrong: str) -> Row:
    usual = units.field_text(fault.size, fault.unit, page.system) if fault.unit else ""
    row: Row = {
        "key": cost["key"],
        "words": fault.words,
        "what": fault.what,
        "on": cost["key"] in keys,
        "why": cost.get("why", ""),
        "unit": page.sign(fault.unit) if fault.unit else "",
        "usual": usual,
        "size": typed or usual,
        "wrong": wrong,
    }
    if "kwh" in cost:
        row |= {
            "kwh": signed(page, cost["kwh"]),
            "money": ("+" if cost["money"] >= 0.5 else "") + units.number(cost["money"], 0),
            "points": ("+" if cost["points"] > 0.05 else "") + units.number(cost["points"], 1),
            "moves": cost["moves"],
            "gain": signed(page, cost["gain"]),
            "parts": _parts(page, cost) if cost["night"] >= 1.0 else (),
            "missing": page.show(cost["missing"], "kWh") if cost["missing"] >= 1 else "",
        }
    return row


def _parts(page: DesignPage, cost: Row) -> tuple[str, str]:
    """A yield that is a net, taken apart: what more or less came in, and what went out again."""
    return f"in {signed(page, cost['gain'] + cost['night'])}", f"out {signed(page, -cost['night'])}"


def _jointly(page: DesignPage, base: YearBook, book: YearBook, keys: list[str]) -> dict[str, object]:
    lines = [line for line in difference(base, book) if abs(line.kwh) >= SMALLEST_KWH]
    largest = max((abs(line.kwh) for line in lines), default=1.0)
    return {
        "words": [FAULTS[key].words for key in keys],
        "sign": [FAULTS[key].sign for key in keys],
        "bought": signed(page, book.total(*BOUGHT) - base.total(*BOUGHT)),
        "of": page.show(base.total(*BOUGHT), "kWh"),
        "money": ("+" if book.cost() >= base.cost() else "") + units.number(book.cost() - base.cost(), 0),
        "points": units.number(points_between(base, book), 1),
        "temperatures": _temperatures(page, base, book),
        "pump": units.number(book.pump_hours() - base.pump_hours(), 0),
        "closed": book.hours_closed == len(book.books),
        "lines": [
            {
                "name": line.words,
                "text": signed(page, line.kwh),
                "more": line.kwh > 0,
                "x": round(100 - 95 * max(-line.kwh, 0) / largest, 1),
                "w": round(95 * abs(line.kwh) / largest, 1),
            }
            for line in lines
        ],
    }


def _temperatures(page: DesignPage, base: YearBook, book: YearBook) -> list[dict[str, str]]:
    """What the faults do to temperatures: as designed, and with them."""
    has_store = base.design.system.scheme.exchange != "pool"
    degree = lambda read: [f"{page.show(float(read(b)), 'degC', 1)}°" for b in (base, book)]
    rows = []
    if has_store:
        rows.append(("store top, mean of the year", *degree(lambda b: b.profile[:, -1].mean())))
        rows.append(("store, hottest", *degree(lambda b: b.profile.max())))
    if base.design.system.scheme.driven_by != "none":
        rows.append(("collector, hottest", *degree(lambda b: b.traces[:, acc.COLLECTOR_PEAK_C].max())))
    if base.design.demand.pool.fitted:
        rows.append(("pool, mean of the year", *degree(lambda b: b.traces[:, acc.POOL_C].mean())))
    if base.design.demand.hot_water:
        rows.append(("hours the tap is too cold", *(units.number(b.hours_below_tap(), 0) for b in (base, book))))
    rows.append(("hours of stagnation", *(units.number(b.stagnation_hours(), 0) for b in (base, book))))
    return [{"words": words, "usual": usual, "odd": odd} for words, usual, odd in rows]


def readings(page: DesignPage, base: YearBook, book: YearBook, day: int) -> list[Row]:
    """Three days of what a controller shows, as designed and with the faults (SVG units), each with its range."""
    first = 24 * min(max(day, 0), 365 - DAYS_DISPLAYED)
    hours = slice(first, first + HOURS_DISPLAYED)
    weather = page.weather
    (usual_c, usual_low), (odd_c, odd_low) = sensors_c(base, weather), sensors_c(book, weather)
    scheme = base.design.system.scheme
    rows: list[tuple[str, str, Array, Array]] = [("Collector sensor", "degC", usual_c, odd_c)]
    if scheme.exchange == "pool":
        rows.append(("Pool sensor", "degC", usual_low, odd_low))
    else:
        rows.append(("Store sensor", "degC", usual_low, odd_low))
        rows.append(("Store top", "degC", base.profile[:, -1], book.profile[:, -1]))
    if scheme.driven_by == "pump":
        share = lambda b: 100 * b.traces[:, acc.PUMP_SHARE]
        rows.append(("Pump", "percent", share(base), share(book)))
    air, dark = weather.air_c[hours], sun_w_m2(base)[hours] < DAYLIGHT_W_M2
    step = WIDTH / (HOURS_DISPLAYED - 1)
    nights = [
        {
            "x": round(LEFT + max(step * (run.first - 0.5), 0.0), 1),
            "w": round(step * (min(run.last, HOURS_DISPLAYED - 1.5) - max(run.first, 0.5) + 1), 1),
        }
        for run in spans("night", dark)
    ]
    found = []
    for words, unit, whole, spoiled in rows:
        usual, odd = whole[hours], spoiled[hours]
        low = 0.0 if unit == "percent" else 10.0 * np.floor(min(usual.min(), odd.min()) / 10.0)
        high = 100.0 if unit == "percent" else 10.0 * np.ceil(max(usual.max(), odd.max(), low + 20.0) / 10.0)

        def path(values: Array, low: float = low, high: float = high) -> str:
            return "M" + "L".join(
                f"{LEFT + WIDTH * h / (HOURS_DISPLAYED - 1):.1f},{6 + HEIGHT * (high - v) / (high - low):.1f}"
                for h, v in enumerate(values)
            )

        found.append(
            {
                "air": path(np.clip(air, low, high)) if words == "Collector sensor" else "",
                "nights": nights,
                "words": words,
                "usual": path(usual),
                "odd": path(odd),
                "low": page.show(low, unit, 0),
                "high": page.show(high, unit, 0),
                "sign": page.sign(unit),
                "values": json.dumps(
                    [
                        [page.show(float(v), unit, 0 if unit == "percent" else 1) for v in values]
                        for values in (usual, odd)
                    ]
                ),
            }
        )
    return found


def save_score(memory: Memory, page: DesignPage, context: Row) -> Row:
    """First answers of the finding game, kept while the person is signed in."""
    scores = memory.get("found", {})
    mine: dict[str, bool] = scores.get(str(page.project.pk), {})
    number = context["number"]
    if "given" in context and str(number) not in mine and len(mine) < ANSWERS_STORED:
        mine[str(number)] = context["given"]["right"]
        memory["found"] = {**scores, str(page.project.pk): mine}
    fresh = next(n for n in range(1, len(mine) + 2) if str(n) not in mine)
    right = sum(mine.values())
    return context | {"next": fresh, "score": f"{right} of {len(mine)} named at the first answer" if mine else ""}
