"""Inside the year: a carpet of hours of any quantity, the chosen day's traces, and its own account."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from heat import accounts as acc
from heat.ledger import BOUGHT, CARRIED, DELIVERED, LOSSES, SOLAR_IN, SUN, YearBook
from heat.weather.year import WeatherYear
from web.projects.account import LOSS_WORDS
from web.projects.drawing import Moment, date_of, drawing, moment
from web.projects.picture import SCALE
from web.projects.reckon import weather_year
from web.projects.sheet import Sheet
from web.projects.typed import MONTHS
from web.ui import units
from web.ui.png import RED_TINTS, TINTS, banded

Array = NDArray[np.float64]
DAYS, HOURS_A_DAY = 365, 24
MONTH_STARTS = (0, 31, 59, 90, 120, 151, 181, 212, 243, 273, 304, 334)
CLOUDY_DAYS, DARK_SHARE, BRIGHT_SHARE = 7, 0.4, 0.7
"""A cloudy week: so many days (1) whose mean sun lies below this share of the year's days, then one above that share."""
MORNING = slice(5, 10)
LEFT, WIDTH, TOP, FOOT = 60.0, 504.0, 8.0, 138.0
"""The days' picture: left edge, width, top and foot of the temperatures (SVG units)."""
DAYS_SHOWN = (1, 3, 7, 14)
HIGHEST_C = 100.0
ROW = 31.0


@dataclass(frozen=True)
class Quantity:
    """Something told for every hour: words, unit, how it is read, the range of its colours (None: its own highest)."""

    words: str
    unit: str
    read: Callable[[YearBook, WeatherYear], Array]
    low: float = 0.0
    high: float | None = None
    palette: tuple[str, ...] = TINTS


def _trace(column: int, scale: float = 1.0) -> Callable[[YearBook, WeatherYear], Array]:
    return lambda book, weather: book.traces[:, column] * scale


def _sum(*columns: int) -> Callable[[YearBook, WeatherYear], Array]:
    return lambda book, weather: book.hourly(*columns) / 1000.0


def _sun(book: YearBook, weather: WeatherYear) -> Array:
    return book.hourly(*SUN) / _area(book)


def _area(book: YearBook) -> float:
    system = book.design.system
    second = system.second_collector.total_area_m2 if system.second_collector.fitted else 0.0
    return system.collector.total_area_m2 + (0.0 if system.scheme.moved == "none" else second)


QUANTITIES = {
    "top": Quantity("Store top", "degC", lambda b, w: b.profile[:, -1], 10.0, 90.0, SCALE),
    "bottom": Quantity("Store bottom", "degC", lambda b, w: b.profile[:, 0], 10.0, 90.0, SCALE),
    "collector": Quantity("Collector", "degC", _trace(acc.COLLECTOR_C), 10.0, 90.0, SCALE),
    "pool": Quantity("Pool", "degC", _trace(acc.POOL_C), 10.0, 35.0, SCALE),
    "sun": Quantity("Sun", "W/m2", _sun, 0.0, 1000.0),
    "air": Quantity("Air", "degC", lambda b, w: w.air_c, -10.0, 35.0, SCALE),
    "flow": Quantity("Flow", "kg/h", _trace(acc.FLOW_KG_H)),
    "pump": Quantity("Pump", "percent", _trace(acc.PUMP_SHARE, 100.0), 0.0, 100.0),
    "store": Quantity("Into store", "kWh", _sum(*SOLAR_IN)),
    "draw": Quantity("Draw", "L", _trace(acc.HOT_LITRES)),
    "tap": Quantity("Tap too cold", "percent", _trace(acc.COLD_TAP_SHARE, 100.0), 0.0, 100.0, RED_TINTS),
    "bought": Quantity("Bought", "kWh", _sum(*BOUGHT), palette=RED_TINTS),
    "residual": Quantity("Residual", "Wh", lambda b, w: b.residual_wh),
}
"""Every quantity a carpet can be woven of."""


def quantities(sheet: Sheet) -> dict[str, Quantity]:
    """Those this design has."""
    design = sheet.year.book.design
    has = {"pool": design.demand.pool.fitted, "pump": design.system.scheme.moved == "pump",
           "flow": design.system.scheme.moved != "none"}  # fmt: skip
    return {key: item for key, item in QUANTITIES.items() if has.get(key, True)}


def year_page(sheet: Sheet) -> dict[str, Any]:
    """The carpet of the chosen quantity, what to jump to, the chosen day and its account."""
    book, weather = sheet.year.book, weather_year(sheet.project.weather)
    has = quantities(sheet)
    key = sheet.chosen if sheet.chosen in has else "top"
    item, now = has[key], moment(sheet)
    values = item.read(book, weather)
    high = item.high if item.high is not None else max(float(values.max()), 1e-9)
    places = 2 if item.unit == "kWh" else None
    show = lambda v: sheet.show(v, item.unit, places)
    return {
        "quantities": [(k, q.words) for k, q in has.items()],
        "key": key, "words": item.words, "sign": sheet.sign(item.unit), "now": now, "date": date_of(now.day),
        "carpet": banded(values.reshape(DAYS, HOURS_A_DAY).T, item.low, high, item.palette),
        "legend": [{"x": 18 * i, "fill": f"#{c.strip('#')}"} for i, c in enumerate(item.palette)],
        "legend_width": 18 * len(item.palette),
        "low": show(item.low), "middle": show((item.low + high) / 2), "high": show(high),
        "at_x": round(1000 * (now.day + 0.5) / DAYS, 2), "day_width": round(1000 / DAYS, 3), "hour_y": 7.5 * now.hour,
        "value": show(float(values[now.index])),
        "extremes": f"{show(float(values.min()))} to {show(float(values.max()))}",
        "months": [{"x": round(1000 * d / DAYS, 1), "name": m} for d, m in zip(MONTH_STARTS, MONTHS, strict=True)],
        "bought": _bought(sheet, book),
        "jumps": jumps(book, weather),
        "day": days_picture(sheet, book, weather, now),
        "days": sheet.days, "days_shown": DAYS_SHOWN,
        "account": day_account(sheet, book, now),
        "drawing": drawing(sheet),
        "scale": " ".join(SCALE),
    }  # fmt: skip


PLAYED_DAYS = 14


def play(sheet: Sheet, day: int) -> dict[str, Any]:
    """A fortnight of hours from a day (0 to 364) for the drawing to be played: °C, shares, and words in the reader's units."""
    book = sheet.year.book
    first = HOURS_A_DAY * day
    hours = slice(first, min(first + HOURS_A_DAY * PLAYED_DAYS + 1, len(book.books)))
    traces, layers = book.traces[hours], book.profile[hours]
    running = traces[:, acc.PUMP_SHARE]
    rounded = lambda values: [round(float(v), 2) for v in values]
    second = book.second_profile
    return {
        "first": first,
        "layers": [rounded(row) for row in layers],
        "second": [rounded(row) for row in second[hours]] if second is not None else None,
        "supply": rounded(np.where(running > 0, traces[:, acc.COLLECTOR_C], layers[:, 0])),
        "mains": rounded(book.mains_c[hours]), "pool": rounded(traces[:, acc.POOL_C]), "pump": rounded(running),
        "sun": [sheet.show(v, "W/m2") for v in book.hourly(*SUN)[hours] / _area(book)],
        "draw": [sheet.show(float(v), "L") for v in traces[:, acc.HOT_LITRES]],
        "bought": [sheet.show(float(v) / 1000.0, "kWh", 2) for v in book.hourly(*BOUGHT)[hours]],
        "degree": [units.shown(1.0, "degC", sheet.system) - units.shown(0.0, "degC", sheet.system), units.shown(0.0, "degC", sheet.system)],
        "signs": [sheet.sign("W/m2"), sheet.sign("L"), sheet.sign("kWh")],
        "pumped": book.design.system.scheme.moved == "pump",
    }  # fmt: skip


def _bought(sheet: Sheet, book: YearBook) -> dict[str, Any]:
    """Bought heat by day and by hour of the day, as red bars."""
    hourly = (book.hourly(*BOUGHT) / 1000.0).reshape(DAYS, HOURS_A_DAY)
    daily, clock = hourly.sum(axis=1), hourly.sum(axis=0)
    top, most = max(float(daily.max()), 1e-9), max(float(clock.max()), 1e-9)
    path = "".join(
        f"M{1000 * (d + 0.5) / DAYS:.1f},0v{36 * v / top:.1f}" for d, v in enumerate(daily) if v > 0.01 * top
    )
    return {
        "path": path,
        "top": f"({sheet.show(float(daily.max()), 'kWh', 1)})",
        "clock": [{"y": 6.25 * h, "w": round(48 * v / most, 1)} for h, v in enumerate(clock)],
        "most_y": round(6.25 * int(clock.argmax()) + 6, 1),
        "most": f"({sheet.show(float(clock.max()), 'kWh')})",
    }


def jumps(book: YearBook, weather: WeatherYear) -> list[dict[str, Any]]:
    """Days worth opening: extremes and questions, each with its day, hour and why."""
    air = weather.air_c.reshape(DAYS, HOURS_A_DAY)
    bought = book.hourly(*BOUGHT, acc.MISSING).reshape(DAYS, HOURS_A_DAY)
    sun = book.hourly(*SUN).reshape(DAYS, HOURS_A_DAY).sum(axis=1)
    found = [_jump("coldest morning", int(air[:, MORNING].min(axis=1).argmin()), 6)]
    busy = bought.sum(axis=1)
    found.append(_jump("most bought", int(busy.argmax()), int(bought[busy.argmax()].argmax())))
    first, length = longest_run(busy < 1.0)
    if length > 1:
        found.append(_jump(f"{length} days running, nothing bought", first, 12))
    dark, days = longest_run(sun < DARK_SHARE * sun.mean())
    if days > 1:
        found.append(_jump(f"{days} dark days", dark, 12))
    still = book.traces[:, acc.STAGNANT_SHARE] > 0
    if still.any():
        hour = int(np.where(still, book.traces[:, acc.COLLECTOR_PEAK_C], -99.0).argmax())
        found.append(_jump("hottest stagnation", hour // HOURS_A_DAY, hour % HOURS_A_DAY))
    sunny = first_sunny_day(sun)
    if sunny is not None:
        found.append(_jump("first sun after a cloudy week", sunny, 12))
    cold = np.flatnonzero(book.traces[:, acc.COLD_TAP_SHARE] > 0)
    if cold.size:
        found.append(
            _jump(
                f"tap below its temperature, {cold.size} hours", int(cold[0]) // HOURS_A_DAY, int(cold[0]) % HOURS_A_DAY
            )
        )
    hottest = int(book.profile[:, -1].argmax())
    found.append(_jump("hottest store", hottest // HOURS_A_DAY, hottest % HOURS_A_DAY))
    return found


def _jump(words: str, day: int, hour: int) -> dict[str, Any]:
    return {"words": words, "day": day, "hour": hour, "date": date_of(day), "x": round(1000 * (day + 0.5) / DAYS, 1)}


def longest_run(true: NDArray[np.bool_]) -> tuple[int, int]:
    """First day and length (days) of the longest run of days."""
    best = (0, 0)
    start = None
    for day, yes in enumerate([*true, False]):
        if yes and start is None:
            start = day
        elif not yes and start is not None:
            best = max(best, (start, day - start), key=lambda run: run[1])
            start = None
    return best


def first_sunny_day(sun: Array) -> int | None:
    """The first day (0 to 364) brighter than most that follows a week darker than most; None where there is none."""
    ranked = np.sort(sun)
    low, high = ranked[int(DARK_SHARE * DAYS)], ranked[int(BRIGHT_SHARE * DAYS)]
    return next((d for d in range(CLOUDY_DAYS, DAYS) if sun[d] > high and sun[d - CLOUDY_DAYS : d].mean() < low), None)


def days_picture(sheet: Sheet, book: YearBook, weather: WeatherYear, now: Moment) -> dict[str, Any]:
    """Traces of the chosen day and those after it: temperatures as lines, sun, draw, bought and pump as bars (SVG units)."""
    count = sheet.days
    first = HOURS_A_DAY * min(now.day, DAYS - count)
    hours = slice(first, first + HOURS_A_DAY * count)
    step, chosen = WIDTH / (HOURS_A_DAY * count), now.index - first
    scheme = book.design.system.scheme
    lines = [("Store top", book.profile[hours, -1], 2.2, ""), ("Store bottom", book.profile[hours, 0], 1.2, ""),
             ("Collector", book.traces[hours, acc.COLLECTOR_C], 1.4, "5 3")]  # fmt: skip
    if scheme.exchange == "pool":
        lines = lines[2:]
    if book.design.demand.pool.fitted:
        lines.append(("Pool", book.traces[hours, acc.POOL_C], 1.2, "2 2"))
    lines.append(("Air", weather.air_c[hours], 1.0, "1 3"))
    low = min(0.0, 10.0 * np.floor(min(float(v.min()) for _w, v, _s, _d in lines) / 10.0))
    y = lambda c: TOP + (FOOT - TOP) * (HIGHEST_C - min(max(c, low), HIGHEST_C)) / (HIGHEST_C - low)
    x = lambda h: LEFT + step * (h + 0.5)
    marks = sorted(((float(v[chosen]), w) for w, v, _s, _d in lines), reverse=True)
    labels, last = [], -99.0
    for celsius, words in marks:
        last = max(y(celsius) + 4, last + 14)
        labels.append(
            {
                "words": words,
                "text": f"{sheet.show(celsius, 'degC', 1)}°",
                "y": round(last, 1),
                "from": round(y(celsius), 1),
            }
        )
    bars = []
    rows = [("Sun", book.hourly(*SUN)[hours] / _area(book), "W/m2", 0, False), ("Draw", book.traces[hours, acc.HOT_LITRES], "L", 0, False),
            ("Bought", book.hourly(*BOUGHT)[hours] / 1000.0, "kWh", 2, True)]  # fmt: skip
    if scheme.moved == "pump":
        rows.append(("Pump", 100.0 * book.traces[hours, acc.PUMP_SHARE], "percent", 0, False))
    for n, (words, values, unit, places, red) in enumerate(rows):
        foot = FOOT + 18 + ROW * (n + 1)
        top = max(float(values.max()), 1e-9)
        text = f"{sheet.show(float(values[chosen]), unit, places)} {sheet.sign(unit)}"
        bars.append({
            "words": words, "foot": foot, "red": red, "text": f"({text.split(' ')[0]}) {sheet.sign(unit)}" if red else text,
            "bars": [{"x": round(LEFT + step * h + 0.1 * step, 1), "y": round(foot - 26 * v / top, 1), "h": round(26 * v / top, 1)} for h, v in enumerate(values) if v > 0],
        })  # fmt: skip
    return {
        "lines": [{"d": "M" + "L".join(f"{x(h):.1f},{y(float(v)):.1f}" for h, v in enumerate(values)), "width": width, "dash": dash}
                  for _words, values, width, dash in lines],
        "labels": labels, "bars": bars, "right": LEFT + WIDTH, "cursor": LEFT + step * chosen,
        "foot": FOOT + 18 + ROW * len(rows), "height": FOOT + 40 + ROW * len(rows),
        "levels": [{"y": round(y(c), 1), "text": sheet.show(c, "degC", 0)} for c in (0, 20, 40, 60, 80, 100)],
        "clock": [{"x": LEFT + step * h, "text": h} for h in (0, 3, 6, 9, 12, 15, 18, 21, 24)] if count == 1 else
                 [{"x": LEFT + step * HOURS_A_DAY * (d + 0.5), "text": date_of(first // HOURS_A_DAY + d)} for d in range(0, count, 1 if count < 8 else 2)],
        "step": round(step, 4), "first": first, "bar": round(0.8 * step, 2),
        "band": banded(book.profile[hours].T[::-1], 10.0, 90.0, SCALE) if scheme.exchange != "pool" else "",
        "tap_y": round(y(book.design.demand.tap_c), 1), "tap": f"tap {sheet.show(book.design.demand.tap_c, 'degC', 0)}°" if book.design.demand.hot_water else "",
    }  # fmt: skip


def day_account(sheet: Sheet, book: YearBook, now: Moment) -> dict[str, Any]:
    """What the day, and its chosen hour, received and spent; stored heat stands on the side it came from."""
    day = book.books[HOURS_A_DAY * now.day : HOURS_A_DAY * (now.day + 1)].sum(axis=0) / 1000.0
    total = lambda columns, row: float(row[list(columns)].sum())
    kept = total(CARRIED, day)
    received = [("Sun received", total(SUN, day), False), ("Bought", total(BOUGHT, day), True)]
    spent = [("Delivered", total(DELIVERED, day), False)]
    spent += [(f"Lost: {LOSS_WORDS[name][0]}", total(columns, day), False) for name, columns in LOSSES.items()]
    (received if kept < 0 else spent).append(
        ("Taken out of store and pipes" if kept < 0 else "Kept in store and pipes", abs(kept), False)
    )
    usual = {"Sun received", "Bought", "Delivered"}
    line = lambda words, kwh, red: {
        "words": words,
        "text": f"({sheet.show(kwh, 'kWh', 2)})" if red else sheet.show(kwh, "kWh", 2),
        "red": red,
    }
    hour = book.books[now.index] / 1000.0
    lost = [column for columns in LOSSES.values() for column in columns]
    return {
        "received": [line(*row) for row in received if row[0] in usual or abs(row[1]) >= 0.005],
        "spent": [line(*row) for row in spent if row[0] in usual or abs(row[1]) >= 0.005],
        "in": sheet.show(sum(r[1] for r in received), "kWh", 2), "out": sheet.show(sum(r[1] for r in spent), "kWh", 2),
        "residual": f"{abs(sum(r[1] for r in received) - sum(r[1] for r in spent)):.0e}",
        "hour": [
            ("Sun", sheet.show(total(SUN, hour), "kWh", 2), False), ("Bought", f"({sheet.show(total(BOUGHT, hour), 'kWh', 2)})", True),
            ("Delivered", sheet.show(total(DELIVERED, hour), "kWh", 2), False), ("Lost", sheet.show(total(lost, hour), "kWh", 2), False),
            ("Stored", sheet.show(total(CARRIED, hour), "kWh", 2), False),
        ],
        "missing": sheet.show(float(day[acc.MISSING]), "kWh", 2) if day[acc.MISSING] >= 0.005 else "",
        "number": units.number(now.index + 1, 0),
    }  # fmt: skip
