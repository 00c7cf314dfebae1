"""What is wrong: every mistake held against the days looked at, ranked, told in words, with what it costs a year."""

from typing import Any

import numpy as np

from heat.design import parse
from heat.errors import HeatError
from heat.field.causes import Cause, causes, tell_apart
from heat.field.mistakes import FAULTS, faulty_document, suffers
from heat.ledger import BOUGHT
from web.accounts.requests import SignedIn
from web.logs.services import name_secret
from web.sheet.page import Sheet
from web.sheet.step import Shown
from web.steps.log.here import DAYS_KEPT, Here, frame, here, log_here, own_log
from web.steps.log.typed import words_of
from web.ui import units
from web.years.reckoned import LONG_WORK, reckon, simulate_uncached
from web.years.weather import weather_year

TOLD, ALWAYS, UNSURE, LEAST = 6, 3, 0.6, 0.005
"""Causes that are told at most and at least (1); a first one below this share (1) is no answer; others
below this (1) are left out."""


def wrong_view(sheet: Sheet) -> dict[str, Any]:
    """The ranking, where it was asked for."""
    log = log_here(sheet)
    page: dict[str, Any] = frame(sheet, log)
    found = here(sheet, log)
    page["found"] = found
    if found is None:
        return page
    page |= _training(sheet, found)
    page["days"] = (found.rows.hour[-1] - found.rows.hour[0]) / 24.0
    if sheet.look.query.get("ask") != "1":
        return page
    try:
        ranked = _ranked(found)
    except HeatError as error:
        return page | {"problem": str(error)}
    return page | {
        "ranked": [
            _told(sheet, found, cause) for i, cause in enumerate(ranked[:TOLD]) if i < ALWAYS or cause.share >= LEAST
        ],
        "concluded": _concluded(ranked),
        "unsure": ranked[0].share < UNSURE,
        "apart": _apart(sheet, found, ranked),
        "asked": True,
    }


def _training(sheet: Sheet, found: Here) -> dict[str, Any]:
    """Where a mistake hides for training: what may be named, and what came of it."""
    log = found.log
    if log.secret is None:
        return {}
    answer = " and ".join(_one(key, size) for key, size in log.secret.items()) if log.named else ""
    return {"secret": True, "tries": log.tries, "answer": answer,
            "offered": [(key, item.words) for key, item in FAULTS.items() if suffers(found.design, key)]}  # fmt: skip


def name_it(request: SignedIn, sheet: Sheet) -> Shown:
    """Name the mistake that hides in this log."""
    log = own_log(sheet, request.POST)
    right = name_secret(log=log, author=sheet.user, key=request.POST.get("cause", "")[:20])
    words = "That is it." if right else "That is not it: look again at what the readings say."
    return Shown(sheet=sheet.at("wrong").handing(said=words), step="log")


def _ranked(found: Here) -> list[Cause]:
    def make() -> list[Cause]:
        with LONG_WORK:
            return causes(found.rows, found.log.document, found.weather, sensor_k=found.log.sensor_k)

    made: list[Cause] = DAYS_KEPT.get(f"causes {found.key}", make)
    return made


def cause_words(cause: Cause) -> str:
    """A cause in words."""
    return " and ".join(_one(key, size) for key, size in cause.sizes.items()) or "nothing: it works as designed"


def _one(key: str, size: float) -> str:
    item = FAULTS[key]
    if not item.unit:
        return item.words
    sign = {"percent": " %", "delta_degC": " K", "degC": " °C", "deg": "°", "m": " m", "W/m/K": " W/mK"}[item.unit]
    return f"{item.words} about {units.number(size, 1 if size < 3 else 0)}{sign}"


def _told(sheet: Sheet, found: Here, cause: Cause) -> dict[str, Any]:
    rows = sorted(cause.by_row.items(), key=lambda item: item[1], reverse=True)
    says = [words_of(name, found.log) for name, gained in rows[:2] if gained > 1.0]
    return {
        "words": cause_words(cause),
        "share": f"{100 * cause.share:.0f}" if cause.share >= 0.01 else "under 1",
        "what": " ".join(FAULTS[key].what for key in cause.keys),
        "sign": "; ".join(FAULTS[key].sign for key in cause.keys),
        "says": " and ".join(says),
        "sound": not cause.sizes,
        "cost": _cost(sheet, found, cause),
    }


def _cost(sheet: Sheet, found: Here, cause: Cause) -> str:
    """What it costs in a whole year if it is left."""
    if not cause.sizes or cause.share < 0.05:
        return ""

    def make() -> float:
        weather = weather_year(found.log.weather)
        base = reckon(parse(found.log.document), found.log.weather).book
        book = simulate_uncached(faulty_document(found.log.document, cause.sizes, 1), weather)
        return book.total(*BOUGHT) - base.total(*BOUGHT)

    try:
        kwh: float = DAYS_KEPT.get(f"cost {found.log.pk} {sorted(cause.sizes.items())}", make)
    except HeatError:
        return ""
    return f"{sheet.show(kwh, 'kWh', 0)} {sheet.sign('kWh')}"


def _concluded(ranked: list[Cause]) -> str:
    first = ranked[0]
    if first.share < UNSURE:
        return "These readings cannot tell. What fits best comes first; more days, or the look below, may decide."
    if not first.sizes:
        return "It works as designed, as far as these readings can tell."
    return f"Most likely: {cause_words(first)}."


def _apart(sheet: Sheet, found: Here, ranked: list[Cause]) -> str:
    """What to look at on the site to tell the first two apart."""
    second = next((cause for cause in ranked[1:] if not set(cause.keys) & set(ranked[0].keys)), None)
    if second is None:
        return ""
    told = tell_apart(ranked[0], second, found.rows)
    if told is None:
        return ""
    name, hour, one, other = told
    if name == "pump":
        values = [f"{100 * v:.0f} % of the hour" for v in (one, other)]
    else:
        values = [f"{sheet.show(v, 'degC', 0)} {sheet.sign('degC')}" for v in (one, other)]
    when = f"day {int(hour // 24) - int(found.rows.hour[0] // 24) + 1}, {int(hour % 24)} h"
    read = found.rows.rows().get(name)
    was = ""
    if read is not None and np.isfinite(read).any() and name != "pump":
        there = np.isfinite(read)
        at = float(np.interp(hour, found.rows.hour[there], read[there]))
        was = f"; {sheet.show(at, 'degC', 0)} was read"
    words = words_of(name, found.log).capitalize()
    first, other_words = cause_words(ranked[0]), cause_words(second)
    return f"{words}, {when}: {values[0]} if it is the first ({first}), {values[1]} if it is {other_words}{was}."
