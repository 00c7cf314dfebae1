"""What looks wrong in readings before anything is calculated from them: reported, never changed by itself."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from heat.monitoring.log import Log
from heat.weather.solar_position import SunYear

Array = NDArray[np.float64]
BOUNDS = {
    "collector": (-60.0, 350.0), "supply": (-40.0, 250.0), "return": (-40.0, 250.0), "pool": (-2.0, 60.0),
    "air": (-60.0, 60.0), "store": (-5.0, 115.0), "flow": (-100_000.0, 100_000.0), "pump": (0.0, 1.0),
    "sun": (0.0, 1500.0), "plane": (0.0, 1500.0), "cloud": (0.0, 8.0), "draw": (0.0, 20_000.0),
}  # fmt: skip
"""What a reading may be, each in its unit (°C, kg/h, share, W/m², eighths, L)."""
TEMPERATURES = ("collector", "supply", "return", "pool", "air", "store")
STUCK_H, MOVES_K = 5.0, 3.0
"""A sensor that reads the same for so long (h) while another moves by so much (K) sticks. Source: our own choice."""
JUMP_K, JUMP_H = 30.0, 0.25
"""A store, pool or air that moves by so much (K) in so short a time (h) jumped. Source: our own choice."""
HOT_AIR_C, HOT_STORE_C = 47.0, 100.0
"""Air and water hotter than this (°C) are more likely in °F. Source: our own choice."""
NIGHT, LIT_W_M2 = -0.05, 30.0
"""Cosine of the zenith below which it is night (1), and sun (W/m²) that night does not have."""


@dataclass(frozen=True)
class Finding:
    """Something that looks wrong: its kind, the row, words, and from when to when (h of the year)."""

    kind: str
    row: str
    words: str
    first: float
    last: float


def findings(log: Log, sun: SunYear | None = None) -> list[Finding]:
    """Everything that looks wrong in a log (°C, h, W/m²), the gravest first.

    Parameters
    ----------
    log
        The readings.
    sun
        The sun over the site, 8,760 hours.

    Returns
    -------
    list[Finding]
        Everything that looks wrong in a log (°C, h, W/m²), the gravest first.
    """
    rows = log.rows()
    found = [*_fahrenheit(rows, log.hour), *_beyond(rows, log.hour)]
    found += [*_stuck(rows, log.hour), *_jumps(rows, log.hour)]
    if sun is not None:
        found += _night(rows, log.hour, sun)
    return found


def _kind(name: str) -> str:
    return name.split()[0]


def _fahrenheit(rows: dict[str, Array], hour: Array) -> list[Finding]:
    found = []
    for name, row in rows.items():
        known = row[np.isfinite(row)]
        limit = {"air": HOT_AIR_C, "pool": HOT_AIR_C, "store": HOT_STORE_C}.get(_kind(name))
        if limit is not None and known.size and float(np.median(known)) > limit:
            words = f"its middle value is {np.median(known):.0f}: is this column in °F?"
            found.append(Finding("fahrenheit", name, words, float(hour[0]), float(hour[-1])))
    return found


def _beyond(rows: dict[str, Array], hour: Array) -> list[Finding]:
    found = []
    for name, row in rows.items():
        low, high = BOUNDS[_kind(name)]
        off = np.isfinite(row) & ((row < low) | (row > high))
        if off.any():
            at = np.flatnonzero(off)
            words = f"{off.sum()} of its readings lie beyond {low:g} to {high:g}"
            found.append(Finding("beyond", name, words, float(hour[at[0]]), float(hour[at[-1]])))
    return found


def _stuck(rows: dict[str, Array], hour: Array) -> list[Finding]:
    """Sensors that read one value for hours while another moves."""
    warm = {name: row for name, row in rows.items() if _kind(name) in TEMPERATURES}
    found = []
    for name, row in warm.items():
        there = np.flatnonzero(np.isfinite(row))
        if there.size < 3:
            continue
        breaks = np.flatnonzero(np.diff(row[there]) != 0.0) + 1
        for part in np.split(there, breaks):
            first, last = part[0], part[-1]
            if hour[last] - hour[first] < STUCK_H:
                continue
            others = (o[first : last + 1] for n, o in warm.items() if n != name)
            moves = max((float(np.nanmax(o) - np.nanmin(o)) for o in others if np.isfinite(o).any()), default=0.0)
            if moves >= MOVES_K:
                lasts = hour[last] - hour[first]
                words = f"it reads {row[first]:.1f} for {lasts:.0f} h while another moves by {moves:.0f} K"
                found.append(Finding("stuck", name, words, float(hour[first]), float(hour[last])))
    return found


def _jumps(rows: dict[str, Array], hour: Array) -> list[Finding]:
    found = []
    for name, row in rows.items():
        if _kind(name) not in ("store", "pool", "air"):
            continue
        there = np.flatnonzero(np.isfinite(row))
        step = np.abs(np.diff(row[there]))
        quick = np.flatnonzero((step > JUMP_K) & (np.diff(hour[there]) <= JUMP_H))
        if quick.size:
            at = there[quick[0] + 1]
            words = f"it jumps by {step[quick[0]]:.0f} K within minutes, {quick.size} times in all"
            found.append(Finding("jump", name, words, float(hour[at]), float(hour[there[quick[-1] + 1]])))
    return found


def _night(rows: dict[str, Array], hour: Array, sun: SunYear) -> list[Finding]:
    found = []
    at = np.clip(hour.astype(np.int64), 0, 8759)
    dark = (
        (sun.cos_zenith[at] < NIGHT)
        & (sun.cos_zenith[np.clip(at - 1, 0, 8759)] < NIGHT)
        & (sun.cos_zenith[np.clip(at + 1, 0, 8759)] < NIGHT)
    )
    for name in ("sun", "plane"):
        if name in rows:
            lit = dark & (np.nan_to_num(rows[name]) > LIT_W_M2)
            if lit.any():
                when = np.flatnonzero(lit)
                words = f"sun at night, {lit.sum()} times: is the clock in another zone, or in summer time?"
                found.append(Finding("night", name, words, float(hour[when[0]]), float(hour[when[-1]])))
    return found


def back_in_time(hour: Array) -> tuple[int, int]:
    """How many moments (h) go back behind the one before, and how many stand twice (1).

    Parameters
    ----------
    hour
        Moments, hours of the year (h).

    Returns
    -------
    tuple[int, int]
        How many moments (h) go back behind the one before, and how many stand twice (1).
    """
    steps = np.diff(hour)
    return int((steps < 0.0).sum()), int((steps == 0.0).sum())


def doubled_hour(hour: Array) -> int | None:
    """Where a clock that was put back shows an hour twice: the place (1) of the first reading after it; nothing where
    it does not, or where times go back for another reason (h).

    Parameters
    ----------
    hour
        Moments, hours of the year (h).

    Returns
    -------
    int | None
        Where a clock that was put back shows an hour twice: the place (1) of the first reading after it;
        nothing where it does not, or where times go back for another reason (h).
    """
    back = np.flatnonzero(np.diff(hour) < 0.0)
    if back.size != 1:
        return None
    by = hour[back[0]] - hour[back[0] + 1]
    return int(back[0] + 1) if 0.0 < by <= 1.0 else None
