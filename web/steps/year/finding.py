"""Where to look in a year: its extremes, and questions such as when the tap was too cold."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from heat.ledger import accounts as acc
from heat.ledger.events import Span, spans, sun_w_m2
from heat.ledger.year_book import BOUGHT, SUN, YearBook
from heat.weather.year import WeatherYear
from web.presentation.moment import Moment
from web.ui import units
from web.ui.calendar import date_of
from web.ui.png import veil
from web.ui.rows import Row

Array = NDArray[np.float64]
DAYS, HOURS_A_DAY = 365, 24
CLOUDY_DAYS, DARK_SHARE, BRIGHT_SHARE = 7, 0.4, 0.7
"""A cloudy week: so many days (1) whose mean sun lies below this share of the year's days, then one above that
share."""
MORNING = slice(5, 10)


@dataclass(frozen=True)
class EventKind:
    """Something that can happen: the question that asks for it, its short name, whether it is a caution or heat
    short."""

    question: str
    name: str
    manner: str = ""


EVENT_KINDS = {
    "cold_tap": EventKind("When was the tap below its temperature?", "tap too cold", "red"),
    "cold_rooms": EventKind("When did the rooms get too little?", "rooms too cold", "red"),
    "bought_by_day": EventKind("When was heat bought while the sun shone?", "bought in sunshine"),
    "limit": EventKind("When was the store, or the pool, at its limit?", "at the limit"),
    "standing": EventKind("When did the collectors stand hot without flow?", "stagnation", "amber"),
    "boiled": EventKind("When did water boil off?", "boiled off", "amber"),
    "dumped": EventKind("When was heat dumped?", "heat dumped"),
    "locked": EventKind("When was the pump locked out in sunshine?", "pump locked out"),
    "pasteurising": EventKind("When was it pasteurised?", "pasteurising"),
    "night": EventKind("When did it flow without sun?", "flow without sun"),
    "backwards": EventKind("When did it flow backwards?", "flow backwards", "amber"),
    "drained": EventKind("When did the loop drain?", "loop drained"),
    "frozen": EventKind("When did water freeze?", "frozen", "amber"),
    "open": EventKind("When did an hour not close?", "hour not closed", "amber"),
    "pump": EventKind("When did it flow?", "flow"),
}
"""What can happen in an hour, in the order it is asked."""


def questions(happened: dict[str, NDArray[np.bool_]]) -> list[Row]:
    """Every question with the number of hours that answer it."""
    return [
        {"key": key, "words": item.question, "hours": units.number(int(happened[key].sum()), 0)}
        for key, item in EVENT_KINDS.items()
    ]


def answer(key: str, hours: NDArray[np.bool_], now: Moment) -> Row:
    """The hours that answer a question: how many, the runs before and after the chosen hour, a veil over all others."""
    runs = spans(key, hours)
    after = next((run for run in runs if run.first > now.index), None) or (runs[0] if runs else None)
    before = next((run for run in reversed(runs) if run.last < now.index), None) or (runs[-1] if runs else None)
    here = next((n for n, run in enumerate(runs, 1) if run.first <= now.index <= run.last), 0)
    return {
        "key": key,
        "words": EVENT_KINDS[key].question,
        "hours": units.number(int(hours.sum()), 0),
        "runs": units.number(len(runs), 0),
        "here": units.number(here, 0) if here else "",
        "any": bool(runs),
        "after": _at(after),
        "before": _at(before),
        "days": units.number(int(hours.reshape(DAYS, HOURS_A_DAY).any(axis=1).sum()), 0),
        "veil": veil(hours.reshape(DAYS, HOURS_A_DAY).T) if runs else "",
    }


def _at(run: Span | None) -> str:
    """The query of the hour in which a run begins."""
    return "" if run is None else f"day={run.first // HOURS_A_DAY}&hour={run.first % HOURS_A_DAY}"


def jumps(book: YearBook, weather: WeatherYear) -> list[dict[str, object]]:
    """Days worth opening: extremes of the year, each with its day, hour and why."""
    air = weather.air_c.reshape(DAYS, HOURS_A_DAY)
    bought = book.hourly(*BOUGHT, acc.UNMET).reshape(DAYS, HOURS_A_DAY)
    sun = book.hourly(*SUN).reshape(DAYS, HOURS_A_DAY).sum(axis=1)
    found = [_jump("coldest morning", int(air[:, MORNING].min(axis=1).argmin()), 6)]
    busy = bought.sum(axis=1)
    if busy.max() >= 1.0:
        found.append(_jump("most bought", int(busy.argmax()), int(bought[busy.argmax()].argmax())))
    first, length = longest_run(busy < 1.0)
    if length > 1:
        found.append(_jump(f"{length} days running, nothing bought", first, 12))
    dark, days = longest_run(sun < DARK_SHARE * sun.mean())
    if days > 1:
        found.append(_jump(f"{days} dark days", dark, 12))
    still = book.traces[:, acc.STAGNANT_SHARE] > 0
    if still.any():
        found.append(_jump_to("hottest stagnation", np.where(still, book.traces[:, acc.COLLECTOR_PEAK_C], -99.0)))
    sunny = first_sunny_day(sun)
    if sunny is not None:
        found.append(_jump("first sun after a cloudy week", sunny, 12))
    if book.design.system.scheme.exchange == "pool":
        found.append(_jump_to("warmest pool", book.traces[:, acc.POOL_C]))
    else:
        found.append(_jump_to("hottest store", book.profile[:, -1]))
    found.append(_jump_to("brightest hour", sun_w_m2(book)))
    return found


def _jump(words: str, day: int, hour: int) -> dict[str, object]:
    return {"words": words, "day": day, "hour": hour, "date": date_of(day), "x": round(1000 * (day + 0.5) / DAYS, 1)}


def _jump_to(words: str, values: Array) -> dict[str, object]:
    hour = int(values.argmax())
    return _jump(words, hour // HOURS_A_DAY, hour % HOURS_A_DAY)


def longest_run(true: NDArray[np.bool_]) -> tuple[int, int]:
    """First day and length (days) of the longest run of days; the earliest of equals."""
    runs = spans("", true)
    best = max(runs, key=lambda run: run.last - run.first, default=None)
    return (0, 0) if best is None else (best.first, best.last - best.first + 1)


def first_sunny_day(sun: Array) -> int | None:
    """The first day (0 to 364) brighter than most that follows a week darker than most; None where there is none."""
    ranked = np.sort(sun)
    low, high = ranked[int(DARK_SHARE * DAYS)], ranked[int(BRIGHT_SHARE * DAYS)]
    return next((d for d in range(CLOUDY_DAYS, DAYS) if sun[d] > high and sun[d - CLOUDY_DAYS : d].mean() < low), None)
