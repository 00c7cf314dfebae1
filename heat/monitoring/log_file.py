"""A log as a table (CSV): one moment a line, its readings under fixed names, any of them missing."""

from io import StringIO

import numpy as np
import pandas as pd
from numpy.typing import NDArray

from heat.errors import HeatError
from heat.monitoring.log import Log

Array = NDArray[np.float64]
TIME = "time"
ROWS = {
    "collector_c": "collector",
    "pool_c": "pool",
    "supply_c": "supply",
    "return_c": "return",
    "flow_kg_h": "flow",
    "pump": "pump",
    "sun_level_w_m2": "sun",
    "sun_plane_w_m2": "plane",
    "cloud_eighths": "cloud",
    "air_c": "air",
    "drawn_l": "draw",
}
"""Columns of the table, and the rows of a log they are (°C, kg/h, 0 to 1, W/m², eighths, L since the line before)."""
STORE = ("store_top_c", "store_floor_c")
"""Columns of the store's sensors (°C), in the order of their heights."""
HEIGHTS = (0.9, 0.05)
"""Where they sit unless it is given (share of the store's height)."""
HOURS = 8760.0


def read_log(text: str, utc_offset_h: float, heights: tuple[float, ...] = HEIGHTS) -> Log:
    """A log from a table (h of the year, °C, W/m², L); columns it does not know are left alone.

    Parameters
    ----------
    text
        The table: a line of names, then one moment a line.
    utc_offset_h
        Standard time of the place as an offset from UTC (h): what a time with an offset of its own is brought to.
    heights
        Heights of the sensors named ``store_top_c`` and ``store_floor_c`` (share).

    Returns
    -------
    Log
        The readings in the order of time.

    Raises
    ------
    HeatError
        Where there is no column ``time``, a time or a number cannot be read, or the lines span more than a year.
    """
    try:
        table = pd.read_csv(StringIO(text), sep=None, engine="python", skipinitialspace=True)
    except (ValueError, pd.errors.ParserError) as error:
        raise HeatError(f"The log cannot be read as a table: {error}.") from error
    table.columns = [str(name).strip().lower() for name in table.columns]
    if TIME not in table:
        raise HeatError(f"The log has no column “{TIME}”; there are {', '.join(table.columns)}.")
    hour = _hours(table[TIME], utc_offset_h)
    order = np.argsort(hour, kind="stable")
    numbers = {name: _numbers(table[name], name)[order] for name in table.columns if name in ROWS or name in STORE}
    known = {ROWS[name]: row for name, row in numbers.items() if name in ROWS and np.isfinite(row).any()}
    store = [(height, numbers[name]) for name, height in zip(STORE, heights, strict=False) if name in numbers]
    store.sort(key=lambda one: one[0])
    if not known and not store:
        raise HeatError(f"The log holds no readings: its columns are to be named {', '.join((*ROWS, *STORE))}.")
    rows = np.array([row for _height, row in store]) if store else None
    return Log(hour[order], known, tuple(height for height, _row in store), rows)


def _hours(column: "pd.Series[str]", utc_offset_h: float) -> Array:
    """Hours of the year of times as typed, in standard time."""
    found = []
    for line, text in enumerate(column, start=2):
        try:
            moment = pd.Timestamp(str(text).strip())
        except ValueError as error:
            raise HeatError(
                f"Line {line}: “{text}” is no time; write 2026-07-01T12:30, with or without +02:00."
            ) from error
        if moment is pd.NaT:
            raise HeatError(f"Line {line}: the time is missing.")
        if moment.tzinfo is not None:
            moment = moment.tz_convert("UTC").tz_localize(None) + pd.Timedelta(hours=utc_offset_h)
        found.append(moment)
    first = min(found)
    begin = pd.Timestamp(year=first.year, month=1, day=1)
    hour = np.array([(moment - begin).total_seconds() / 3600.0 for moment in found])
    if hour.max() > HOURS + 24.0:
        raise HeatError("The log runs on into the next year: split it at the turn of the year.")
    return np.clip(hour, 0.0, HOURS - 1e-6)


def _numbers(column: "pd.Series[str]", name: str) -> Array:
    """A column as numbers; what is blank was not read."""
    if column.dtype.kind in "fi":
        return column.to_numpy(dtype=np.float64)
    found = np.full(len(column), np.nan)
    for index, value in enumerate(column):
        text = str(value).strip().replace(",", ".")
        if text and text.lower() not in ("nan", "-", "–"):
            try:
                found[index] = float(text)
            except ValueError as error:
                raise HeatError(f"Line {index + 2}, {name}: “{value}” is not a number.") from error
    return found
