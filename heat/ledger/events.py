"""What happened in the year's hours, read from the books: the pump starts, a limit is reached, water boils off ..."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from heat.control.timetable import pasteurising
from heat.ledger import accounts as acc
from heat.ledger.year_book import BOUGHT, SUN, YearBook

Hours = NDArray[np.bool_]
DAYLIGHT_W_M2 = 5.0
"""Sun on the collectors above which it is day (W/m²): below it dusk and the sky's own glow."""
SIGNIFICANT_WH = 1.0
"""Heat below this (Wh in an hour) is a rounding, not a happening."""
CREEP_KG_H = 1.0
"""A slower flow (kg/h), either way, is the creep of a loop that weight moves: it carries next to nothing."""
LOCK_SUN_W_M2 = 150.0
"""Sun (W/m²) from which a pump that may not run is worth telling."""


@dataclass(frozen=True)
class Span:
    """Hours running (numbers of the year, 0 to 8759) in which something holds; ``last`` is included."""

    what: str
    first: int
    last: int


def sun_w_m2(book: YearBook) -> NDArray[np.float64]:
    """Sun on the collectors' area in 8,760 hours (W/m²).

    Parameters
    ----------
    book
        The year's results.

    Returns
    -------
    ndarray, shape (8760,)
        Sun on the collectors' area in 8,760 hours (W/m²).
    """
    system = book.design.system
    area = system.collector.total_area_m2
    if system.second_collector.fitted and system.scheme.driven_by != "none":
        area += system.second_collector.total_area_m2
    return book.hourly(*SUN) / area


def flowing(book: YearBook) -> Hours:
    """The 8,760 hours in which the loop flowed: its pump ran, or weight moved more than a creep.

    Parameters
    ----------
    book
        The year's results.

    Returns
    -------
    Hours
        The 8,760 hours in which the loop flowed: its pump ran, or weight moved more than a creep.
    """
    if book.design.system.scheme.driven_by == "buoyancy":
        return np.abs(book.traces[:, acc.FLOW_KG_H]) > CREEP_KG_H
    return book.traces[:, acc.PUMP_SHARE] > 0


def events(book: YearBook) -> dict[str, Hours]:
    """For each thing that can happen, the 8,760 hours in which it did.

    ``pump``: flow; ``limit``: the store, or the pool, at its limit, or not yet fallen from it: the pump may not
    start; ``locked``: the sun shone and clock, season, pasteurising or boiler forbade the pump; ``standing``: hot
    without flow; ``boiled``: water let off as steam; ``dumped``: heat led away; ``pasteurising``; ``drained``: the
    loop's water run to waste; ``backwards``: flow the wrong way; ``night``: flow without sun; ``cold_tap``,
    ``cold_rooms``: a use got less than it asked; ``bought_by_day``: heat bought while the sun shone; ``frozen``;
    ``open``: a balance did not close.

    Parameters
    ----------
    book
        The year's results.

    Returns
    -------
    dict[str, Hours]
        For each thing that can happen, the 8,760 hours in which it did.
    """
    traces, sun = book.traces, sun_w_m2(book)
    day = sun > DAYLIGHT_W_M2
    moving = flowing(book)
    return {
        "pump": moving,
        "limit": traces[:, acc.FULL_SHARE] > 0,
        "locked": (traces[:, acc.LOCKED_SHARE] > 0) & (sun > LOCK_SUN_W_M2),
        "standing": traces[:, acc.STAGNANT_SHARE] > 0,
        "boiled": traces[:, acc.BOILED_KG] > 0,
        "dumped": book.hourly(acc.DUMP, acc.COLLECTOR_DUMP) > SIGNIFICANT_WH,
        "pasteurising": pasteurising(book.design),
        "drained": traces[:, acc.DRAINED_KG] > 0,
        "backwards": traces[:, acc.FLOW_KG_H] < -CREEP_KG_H,
        "night": moving & ~day,
        "cold_tap": traces[:, acc.COLD_TAP_SHARE] > 0,
        "cold_rooms": traces[:, acc.COLD_HEATING_SHARE] > 0,
        "bought_by_day": (book.hourly(*BOUGHT) > SIGNIFICANT_WH) & (sun > LOCK_SUN_W_M2),
        "frozen": traces[:, acc.FROZEN_SHARE] > 0,
        "open": book.residual_wh > book.allowance_wh,
    }


def spans(what: str, hours: Hours) -> list[Span]:
    """Runs of hours (h, numbers of the year), in order, in which something holds.

    Parameters
    ----------
    what
        Name of what happens.
    hours
        Hours in which it does.

    Returns
    -------
    list[Span]
        Runs of hours (h, numbers of the year).
    """
    edges = np.flatnonzero(np.diff(np.concatenate(([0], hours.astype(np.int8), [0]))))
    return [Span(what, int(a), int(b) - 1) for a, b in zip(edges[::2], edges[1::2], strict=True)]
