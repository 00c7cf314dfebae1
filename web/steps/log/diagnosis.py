"""What is wrong: every fault held against the days looked at, ranked, described in words, with what it costs a year."""

import numpy as np

from heat.design import parse
from heat.errors import HeatError
from heat.ledger.year_book import BOUGHT
from heat.monitoring.diagnosis import Cause, diagnose, discriminating_row
from heat.monitoring.faults import FAULTS, faulty_document, suffers
from heat.monitoring.verdict import USUAL_MISFIT_K, Verdict, judged
from web.accounts.requests import SignedIn
from web.editor.design_page import DesignPage
from web.editor.step import PageResult
from web.logs.services import name_secret
from web.simulations.cache import LONG_WORK, simulate, simulate_uncached
from web.simulations.weather import weather_year
from web.steps.log.current import DAYS_CACHED, Here, frame, here, log_here, own_log
from web.steps.log.typed import words_of
from web.ui import units

MOST_LISTED, ALWAYS, LEAST, SUREST = 6, 3, 0.005, 0.9
"""Causes that are listed at most and at least (1); others below this share (1) are left out; the largest share that is
calibrated (1)."""


def wrong_view(page: DesignPage) -> dict[str, object]:
    """The ranking, where it was asked for."""
    log = log_here(page)
    context: dict[str, object] = frame(page, log)
    found = here(page, log)
    context["found"] = found
    if found is None:
        return context
    context |= _training(page, found)
    context["days"] = (found.rows.hour[-1] - found.rows.hour[0]) / 24.0
    if page.state.query.get("ask") != "1":
        return context
    try:
        ranked = _ranked(found)
    except HeatError as error:
        return context | {"problem": str(error)}
    verdict = judged(ranked)
    listed = [] if verdict.kind == "nothing_fits" else ranked[:MOST_LISTED]
    return context | {
        "ranked": [
            _describe(page, found, cause) for i, cause in enumerate(listed) if i < ALWAYS or cause.share >= LEAST
        ],
        "concluded": _concluded(verdict),
        "misfit": _misfit(page, verdict),
        "unsure": verdict.kind not in ("sound", "likely"),
        "apart": "" if verdict.kind == "nothing_fits" else _apart(page, found, ranked),
        "requested": True,
    }


def _training(page: DesignPage, found: Here) -> dict[str, object]:
    """Where a fault hides for training: what may be named, and what came of it."""
    log = found.log
    if log.secret is None:
        return {}
    answer = " and ".join(_one(key, size) for key, size in log.secret.items()) if log.named else ""
    return {
        "secret": True,
        "tries": log.tries,
        "answer": answer,
        "offered": [(key, item.words) for key, item in FAULTS.items() if suffers(found.design, key)],
    }


def name_it(request: SignedIn, page: DesignPage) -> PageResult:
    """Name the fault that hides in this log."""
    log = own_log(page, request.POST)
    right = name_secret(log=log, author=page.user, key=request.POST.get("cause", "")[:20])
    words = "That is it." if right else "That is not it: look again at what the readings say."
    return PageResult(page=page.at("diagnosis").with_given(message=words), step="log")


def _ranked(found: Here) -> list[Cause]:
    def make() -> list[Cause]:
        with LONG_WORK:
            return diagnose(found.rows, found.log.document, found.weather, sensor_k=found.log.sensor_k)

    made: list[Cause] = DAYS_CACHED.get(f"causes {found.key}", make)
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


def _describe(page: DesignPage, found: Here, cause: Cause) -> dict[str, object]:
    rows = sorted(cause.by_row.items(), key=lambda item: item[1], reverse=True)
    signs = [words_of(name, found.log) for name, gained in rows[:2] if gained > 1.0]
    return {
        "words": cause_words(cause),
        "share": _share(cause.share),
        "what": " ".join(FAULTS[key].what for key in cause.keys),
        "sign": "; ".join(FAULTS[key].sign for key in cause.keys),
        "says": " and ".join(signs),
        "sound": not cause.sizes,
        "cost": _cost(page, found, cause),
    }


def _share(share: float) -> str:
    """A share as it may be printed (%): beyond nine of ten nothing is known of how often it is right."""
    if share >= SUREST:
        return f"over {100 * SUREST:.0f}"
    return f"{100 * share:.0f}" if share >= 0.01 else "under 1"


def _cost(page: DesignPage, found: Here, cause: Cause) -> str:
    """What it costs in a whole year if it is left."""
    if not cause.sizes or cause.share < 0.05:
        return ""

    def make() -> float:
        weather = weather_year(found.log.weather)
        base = simulate(parse(found.log.document), found.log.weather).book
        book = simulate_uncached(faulty_document(found.log.document, cause.sizes, 1), weather)
        return book.total(*BOUGHT) - base.total(*BOUGHT)

    try:
        kwh: float = DAYS_CACHED.get(f"cost {found.log.pk} {sorted(cause.sizes.items())}", make)
    except HeatError:
        return ""
    return f"{page.show(kwh, 'kWh', 0)} {page.sign('kWh')}"


def _concluded(verdict: Verdict) -> str:
    """The answer as a fitter wants it: one cause, a few that these days do not part, or that nothing is known."""
    named = [cause_words(one) for one in verdict.named]
    return {
        "sound": "It works as designed, as far as these readings show.",
        "likely": f"Most likely: {'; '.join(named)}.",
        "one_of": f"One of these, not parted by these days: {'; '.join(named)}.",
        "unclear": "These readings cannot decide: three days of sun with the collector’s outlet would.",
        "nothing_fits": "Nothing that is known here explains these days: look at the clock, the sensors and the design "
        "first.",
    }[verdict.kind]


def _misfit(page: DesignPage, verdict: Verdict) -> str:
    """How far the temperatures lie from the first cause, in words."""
    if not np.isfinite(verdict.misfit_k):
        return ""
    sign = page.sign("delta_degC")
    off, usual = (page.show(value, "delta_degC", 1) for value in (verdict.misfit_k, USUAL_MISFIT_K))
    return f"The first explains the temperatures of these days to within {off} {sign}; usual is under {usual} {sign}."


def _apart(page: DesignPage, found: Here, ranked: list[Cause]) -> str:
    """What to look at on the site to tell the first two apart."""
    second = next((cause for cause in ranked[1:] if not set(cause.keys) & set(ranked[0].keys)), None)
    if second is None:
        return ""
    difference = discriminating_row(ranked[0], second, found.rows)
    if difference is None:
        return ""
    name, hour, one, other = difference
    if name == "pump":
        values = [f"{100 * v:.0f} % of the hour" for v in (one, other)]
    else:
        values = [f"{page.show(v, 'degC', 0)} {page.sign('degC')}" for v in (one, other)]
    when = f"day {int(hour // 24) - int(found.rows.hour[0] // 24) + 1}, {int(hour % 24)} h"
    read = found.rows.rows().get(name)
    was = ""
    if read is not None and np.isfinite(read).any() and name != "pump":
        there = np.isfinite(read)
        at = float(np.interp(hour, found.rows.hour[there], read[there]))
        was = f"; {page.show(at, 'degC', 0)} was read"
    words = words_of(name, found.log).capitalize()
    first, other_words = cause_words(ranked[0]), cause_words(second)
    return f"{words}, {when}: {values[0]} if it is the first ({first}), {values[1]} if it is {other_words}{was}."
