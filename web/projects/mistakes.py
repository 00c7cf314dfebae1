"""The mistakes bench: what goes wrong, what it costs over the year, how it looks on a controller; and a game of finding it.

Nothing here is kept in the design: mistakes are tried on a copy.
"""

import json
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from hashlib import sha256
from typing import Any
from urllib.parse import urlencode

import numpy as np
from django.conf import settings
from numpy.typing import NDArray

from heat import accounts as acc
from heat.design import Design
from heat.design.changing import with_changes
from heat.errors import HeatError
from heat.events import DAYLIGHT_W_M2, spans, sun_w_m2
from heat.ledger import BOUGHT, SOLAR_IN, YearBook, difference
from heat.readings import sensors_c
from heat.weather.year import WeatherYear
from web.projects.account import signed
from web.projects.drawing import date_of
from web.projects.reckon import passing_year, remembered, weather_year
from web.projects.sheet import Sheet
from web.projects.typed import day_number, day_text
from web.ui import units

Array = NDArray[np.float64]
DAYS_SHOWN = 3
HOURS_SHOWN = 24 * DAYS_SHOWN
LEFT, WIDTH, HEIGHT = 34.0, 440.0, 62.0
SMALLEST_KWH = 0.5


@dataclass(frozen=True)
class Mistake:
    """Something that goes wrong: words, the values it is tried with, what happens, and the sign of it on the readings."""

    words: str
    values: dict[str, Any]
    what: str
    sign: str


MISTAKES = {
    "boiler": Mistake("boiler heats the solar store overnight, pump running", {"boiler_overnight": True},
                      "The collectors cool what the boiler has just heated: bought heat goes to the night sky.",
                      "the pump runs at night and the collector is warmer than the air without any sun"),
    "valve": Mistake("no check valve", {"no_check_valve": True},
                     "Warm water rises to the cold collectors at night and the store empties to the sky.",
                     "the pump rests, yet the collector stays well above the air at night and the store cools faster"),
    "high": Mistake("collector sensor reads 10 K too high", {"collector_sensor_k": 10.0},
                    "The controller sees gain where there is none and the pump carries heat out of the store.",
                    "the pump starts early, runs on late, and the store falls while it runs"),
    "low": Mistake("store sensor reads 10 K too low", {"store_sensor_k": -10.0},
                   "The store seems cold, so the pump hardly rests, and the limit comes too late.",
                   "the pump runs on although collector and store are alike"),
    "feels": Mistake("collector sensor half in the open air", {"collector_sensor_feels": 0.5},
                     "The sensor feels the air as much as the collector: the pump starts late and stops early.",
                     "the collector grows hot before the pump starts, and again after it has stopped"),
    "top": Mistake("store sensor at the top", {"store_sensor_share": 1.0},
                   "The controller compares with the warmest water: cool water below is not heated.",
                   "the pump waits until the collector beats the top; the bottom stays cold in the sun"),
    "air": Mistake("air in the loop", {"air_lock": True},
                   "Nothing flows: the collectors stand, the store gets nothing.",
                   "the pump runs and the collector still grows as hot as if it stood; the store does not rise"),
    "dirt": Mistake("dirt on the glass takes 15 %", {"soiling": 0.15},
                    "Less sun reaches the plate, in every hour alike.", "everything as usual, only a little lower each day"),
    "tree": Mistake("a tree has grown to 30°", {"tree_deg": 30.0},
                    "It takes the low sun of morning, evening and winter.", "the collector wakes later in the low sun; high noon is as ever"),
    "slow": Mistake("flow a third of what it should be", {"flow_factor": 0.3},
                    "The collectors run hotter and lose more; the exchanger passes less.", "the collector is hotter while the pump runs"),
    "fast": Mistake("flow three times too high", {"flow_factor": 3.0},
                    "The lead falls below the stop and the pump cuts in and out.", "the collector hardly leads the store while the pump runs"),
    "bundled": Mistake("supply and return bundled together", {"bundled_w_mk": 0.4},
                       "Hot pipe warms cold pipe: what was gained goes back to the roof.", "the collector runs warmer and less arrives at the store"),
    "cooked": Mistake("antifreeze cooked by stagnation", {"cooked": 0.9},
                      "Thick and sooty, it flows less and hands its heat on badly.", "the collector is hotter than it should be while the pump runs"),
}  # fmt: skip
"""Every mistake with a typical size. Source of the sizes: our own choice, as a designer would meet them."""
TELLING_K_H = 40.0
"""What the readings of a mistake must differ by on some day (K h) for it to be hidden in the game: less is not to be seen."""


def suffers(design: Design, key: str) -> bool:
    """Whether a design has what this mistake spoils."""
    scheme, loop = design.system.scheme, design.system.loop
    pumped = scheme.moved == "pump"
    if key in ("dirt", "tree"):
        return True
    if key == "bundled":
        return scheme.moved != "none"
    if key == "cooked":
        return scheme.moved != "none" and not scheme.water_outdoors and loop.glycol_percent > 0
    if key == "valve":  # a loop that drains, or meets an exchanger below its collectors, does not drift
        return pumped and scheme.exchange == "coil" and not scheme.drains and loop.check_valve
    if key in ("boiler", "top"):
        return pumped and scheme.exchange != "pool"
    return pumped


def possible(sheet: Sheet) -> dict[str, Mistake]:
    """The mistakes this design can suffer."""
    return {key: item for key, item in MISTAKES.items() if suffers(sheet.year.book.design, key)}


def spoilt(document: dict[str, Any], keys: list[str], from_day: int) -> dict[str, Any]:
    """A copy of a document with mistakes from a day (1 to 365) on."""
    values = {f"system.mistakes.{name}": v for key in keys for name, v in MISTAKES[key].values.items()}
    return with_changes(document, {**values, "system.mistakes.from_day": from_day})


def costs(sheet: Sheet, from_day: int) -> list[dict[str, Any]]:
    """What each mistake alone costs: a full year each, remembered while the design stays as it is."""
    weather, base = weather_year(sheet.project.weather), sheet.year.book

    def one(key: str) -> dict[str, Any]:
        try:
            book = passing_year(spoilt(sheet.document, [key], from_day), weather)
        except HeatError as error:
            return {"key": key, "why": str(error)}
        lines = [line for line in difference(base, book) if line.words not in ("rounding", "left missing")]
        decisive = max(lines, key=lambda line: abs(line.kwh))
        return {
            "key": key, "kwh": book.total(*BOUGHT) - base.total(*BOUGHT), "missing": book.total(acc.MISSING) - base.total(acc.MISSING),
            "money": book.cost() - base.cost(), "points": 100 * (book.fractions.at_tap - base.fractions.at_tap), "moves": decisive.words,
            "gain": book.total(*SOLAR_IN) - base.total(*SOLAR_IN),
            "telling": float(apart(base, book, weather).reshape(365, 24).sum(axis=1).max()),
        }  # fmt: skip

    def every() -> list[dict[str, Any]]:
        with ThreadPoolExecutor(2) as threads:
            return list(threads.map(one, possible(sheet)))

    found: list[dict[str, Any]] = remembered(f"mistakes {from_day}", base.design, sheet.project.weather, every)
    return found


def mistakes_page(sheet: Sheet, query: dict[str, str], chosen: list[str]) -> dict[str, Any]:
    """The bench: each mistake with its cost, the chosen ones together, readings with and without; or the game."""
    has = possible(sheet)
    wrong = ""
    try:
        from_day = day_number(query["from"]) if query.get("from") else 1
    except ValueError as error:
        from_day, wrong = 1, str(error)
    game = query.get("find", "")
    number = int(game) if game.isascii() and game.isdecimal() and len(game) < 9 else None
    hidden = secret_mistake(sheet, number) if number is not None else ""
    keys = [hidden] if hidden else [key for key in has if key in chosen]
    page: dict[str, Any] = {
        "from": day_text(from_day), "wrong": wrong, "number": number,
        "options": [{"key": key, "words": m.words} for key, m in has.items()], "chosen": keys,
    }  # fmt: skip
    if not hidden:
        page["rows"] = [_row(sheet, has, cost, keys) for cost in costs(sheet, from_day)]
    if keys:
        base = sheet.year.book
        book = passing_year(spoilt(sheet.document, keys, from_day), weather_year(sheet.project.weather))
        page["together"] = _together(sheet, base, book, keys)
        gap = apart(base, book, weather_year(sheet.project.weather))
        telling = int(min(gap.reshape(365, 24).sum(axis=1).argmax(), 365 - DAYS_SHOWN))
        day = min(telling if sheet.day is None else sheet.day, 365 - DAYS_SHOWN)
        page["readings"] = readings(sheet, base, book, day)
        kept = {"from": query.get("from", ""), "find": query.get("find", ""), "guess": query.get("guess", "")}
        page["query"] = (
            "?"
            + urlencode([("view", "mistakes"), *((k, v) for k, v in kept.items() if v), *(("m", k) for k in chosen)])
            + "&"
        )
        page["at"] = int(gap[24 * day : 24 * day + HOURS_SHOWN].argmax())
        page["step"] = round(WIDTH / (HOURS_SHOWN - 1), 4)
        page |= {"day": day, "date": date_of(day), "telling": telling, "first": 24 * day}
        page["days"] = [
            (words, max(min(to, 365 - DAYS_SHOWN), 0))
            for words, to in (("‹ week", day - 7), ("‹ day", day - 1), ("day ›", day + 1), ("week ›", day + 7))
        ]
    guess = query.get("guess", "")
    if hidden and guess in has:
        page["told"] = {
            "right": guess == hidden,
            "guess": has[guess].words,
            "words": has[hidden].words,
            "what": has[hidden].what,
            "sign": has[hidden].sign,
        }
    return page


def secret_mistake(sheet: Sheet, number: int) -> str:
    """The mistake hidden behind a number of the game: not to be read from the address."""
    has = [cost["key"] for cost in costs(sheet, 1) if cost.get("telling", 0.0) >= TELLING_K_H] or list(possible(sheet))
    digest = sha256(f"{settings.SECRET_KEY} {sheet.project.pk} {number}".encode()).digest()
    return has[int.from_bytes(digest[:4], "big") % len(has)]


def _row(sheet: Sheet, has: dict[str, Mistake], cost: dict[str, Any], keys: list[str]) -> dict[str, Any]:
    mistake = has[cost["key"]]
    row: dict[str, Any] = {
        "key": cost["key"],
        "words": mistake.words,
        "what": mistake.what,
        "on": cost["key"] in keys,
        "why": cost.get("why", ""),
    }
    if "kwh" in cost:
        row |= {
            "kwh": signed(sheet, cost["kwh"]), "money": ("+" if cost["money"] >= 0.5 else "") + units.number(cost["money"], 0),
            "points": ("+" if cost["points"] > 0.05 else "") + units.number(cost["points"], 1), "moves": cost["moves"],
            "gain": signed(sheet, cost["gain"]),
            "missing": sheet.show(cost["missing"], "kWh") if cost["missing"] >= 1 else "",
        }  # fmt: skip
    return row


def _together(sheet: Sheet, base: YearBook, book: YearBook, keys: list[str]) -> dict[str, Any]:
    lines = [line for line in difference(base, book) if abs(line.kwh) >= SMALLEST_KWH]
    largest = max((abs(line.kwh) for line in lines), default=1.0)
    return {
        "words": [MISTAKES[key].words for key in keys], "sign": [MISTAKES[key].sign for key in keys],
        "bought": signed(sheet, book.total(*BOUGHT) - base.total(*BOUGHT)), "of": sheet.show(base.total(*BOUGHT), "kWh"),
        "money": ("+" if book.cost() >= base.cost() else "") + units.number(book.cost() - base.cost(), 0),
        "points": units.number(100 * (book.fractions.at_tap - base.fractions.at_tap), 1),
        "temperatures": _temperatures(sheet, base, book),
        "pump": units.number(book.pump_hours() - base.pump_hours(), 0), "closed": book.hours_closed == len(book.books),
        "lines": [{"name": line.words, "text": signed(sheet, line.kwh), "more": line.kwh > 0,
                   "x": round(100 - 95 * max(-line.kwh, 0) / largest, 1), "w": round(95 * abs(line.kwh) / largest, 1)} for line in lines],
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


def apart(base: YearBook, book: YearBook, weather: WeatherYear) -> Array:
    """How far the readings of two years lie apart in 8,760 hours (K, a pump at work counted as 20 K)."""
    sensors = sum(np.abs(a - b) for a, b in zip(sensors_c(base, weather), sensors_c(book, weather), strict=True))
    pump = np.abs(book.traces[:, acc.PUMP_SHARE] - base.traces[:, acc.PUMP_SHARE])
    gap: Array = sensors + np.abs(book.profile - base.profile).mean(axis=1) + 20.0 * pump
    return gap


def readings(sheet: Sheet, base: YearBook, book: YearBook, day: int) -> list[dict[str, Any]]:
    """Three days of what a controller shows, as designed and with the mistakes (SVG units), each with its range."""
    first = 24 * min(max(day, 0), 365 - DAYS_SHOWN)
    hours = slice(first, first + HOURS_SHOWN)
    weather = weather_year(sheet.project.weather)
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
        {"x": round(LEFT + max(step * (run.first - 0.5), 0.0), 1), "w": round(step * (min(run.last, HOURS_SHOWN - 1.5) - max(run.first, 0.5) + 1), 1)}
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
            "words": words, "usual": path(usual), "odd": path(odd), "low": sheet.show(low, unit, 0), "high": sheet.show(high, unit, 0),
            "sign": sheet.sign(unit),
            "values": json.dumps([[sheet.show(float(v), unit, 0 if unit == "percent" else 1) for v in values] for values in (usual, odd)]),
        })  # fmt: skip
    return found
