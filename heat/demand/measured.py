"""A measured load, hourly or daily, made into one honest year with a note of everything repaired."""

from typing import Literal, NamedTuple

import numpy as np
import pandas as pd
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from heat.common.tables import cells, number_of
from heat.constants import HOURS
from heat.errors import WeatherFileError
from heat.weather.year import Note

Array = NDArray[np.float64]
LOAD_UNITS: dict[str, tuple[str, float]] = {
    "L": ("L", 1.0),
    "m³": ("L", 1000.0),
    "gal": ("L", 3.785411784),
    "kWh": ("kWh", 1.0),
    "Wh": ("kWh", 1e-3),
    "MJ": ("kWh", 1 / 3.6),
    "kBtu": ("kWh", 0.29307107),
    "kW": ("kWh", 1.0),
    "W": ("kWh", 1e-3),
}
"""What a column may hold and its factor to L or kWh a row; kW and W are means of the hour or day."""
POWERS = ("kW", "W")
SHORT_GAP_H = 3
SPIKE = 20.0
"""A value so many times the mean of the hours with use is reported. Source: our own choice."""


class LoadMap(BaseModel):
    """How a measured load is laid out; columns count from 0."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    separator: Literal[";", "tab", ",", "space"] = ","
    decimal: Literal[".", ","] = "."
    heading_line: int = Field(1, ge=0, le=500)
    stamp: int = Field(0, ge=-1, le=200)
    stamp_format: str = ""
    stamped_at: Literal["start", "end"] = "start"
    value: int = Field(1, ge=0, le=200)
    unit: Literal["L", "m³", "gal", "kWh", "Wh", "MJ", "kBtu", "kW", "W"] = "L"


class MeasuredLoad(NamedTuple):
    """8,760 values (L or kWh in the hour), which of the two, days that were measured (day), and what was repaired."""

    values: Array
    kind: str
    days: int
    notes: tuple[Note, ...]


def read_load(name: str, text: str, layout: LoadMap, day_shape: tuple[float, ...]) -> MeasuredLoad:
    """A year of hours (L or kWh) from hourly or daily rows.

    Short gaps are bridged, longer ones take the mean of the same hour of the same weekday. At least a week is
    needed.

    Parameters
    ----------
    name
        Name of the file, for messages.
    text
        The table.
    layout
        What the columns of the table are.
    day_shape
        Share of a day's load in each of 24 hours (no unit).

    Returns
    -------
    MeasuredLoad
        A year of hours (L or kWh) from hourly or daily rows.

    Raises
    ------
    WeatherFileError
        With line and column.
    """
    series, notes = _series(name, text, layout)
    kind, factor = LOAD_UNITS[layout.unit]
    step_h = _step_hours(name, series)
    values = series["value"].to_numpy() * factor * (step_h if layout.unit in POWERS else 1.0)
    negative = values < 0
    if negative.any():
        line = int(series["line"].to_numpy()[int(np.flatnonzero(negative)[0])])
        notes.append(Note("repair", f"{int(negative.sum())} values below zero were set to zero.", line))
        values = np.where(negative, 0.0, values)
    stamps = pd.DatetimeIndex(series["stamp"])
    if layout.stamped_at == "end":
        stamps = stamps - pd.Timedelta(hours=min(step_h, 1.0) if step_h < 12 else 24.0)
    leap = np.asarray((stamps.month == 2) & (stamps.day == 29))
    if leap.any():
        notes.append(Note("repair", "29 February was left out: the year has 365 days."))
    stamps, values = stamps[~leap], values[~leap]
    if step_h >= 12:
        year = _from_days(name, stamps, values, notes, day_shape)
    else:
        year = _from_hours(name, stamps, values, notes, step_h)
    days = len(np.unique(_day_of_year(stamps)))
    used = year[year > 0]
    if used.size == 0:
        raise WeatherFileError(
            name, "every value is zero: there is no load in this column.", way_out="Choose another column."
        )
    if used.max() > SPIKE * used.mean():
        notes.append(
            Note(
                "warning",
                f"The largest hour is {used.max() / used.mean():.0f} times the mean of those in use: look at it.",
            )
        )
    return MeasuredLoad(year, kind, days, tuple(notes))


def _series(name: str, text: str, layout: LoadMap) -> tuple[pd.DataFrame, list[Note]]:
    """Lines, stamps and values (own unit) of a table, with notes on what could not be read."""
    notes: list[Note] = []
    rows = [(i + 1, r) for i, r in enumerate(cells(text, layout.separator)) if i >= layout.heading_line and any(r)]
    wide = max((len(r) for _, r in rows), default=0)
    for column in (layout.value, layout.stamp):
        if column >= wide:
            raise WeatherFileError(
                name, f"there is no column {column + 1}; the table has {wide}.", layout.heading_line + 1
            )
    values = [number_of(r[layout.value], layout.decimal) if layout.value < len(r) else float("nan") for _, r in rows]
    lines = [line for line, _ in rows]
    bad = [line for line, v in zip(lines, values, strict=True) if v != v]
    if len(bad) == len(rows):
        raise WeatherFileError(
            name,
            "no number in this column.",
            lines[0] if lines else 1,
            str(layout.value + 1),
            "Choose another column or decimal sign.",
        )
    if bad:
        notes.append(Note("repair", f"{len(bad)} rows without a number were taken as gaps.", bad[0]))
    if layout.stamp < 0:
        per_day = {24: 1, 168: 7, 365: 365, 366: 366, HOURS: 365, HOURS + 24: 366}
        if len(rows) not in per_day:
            raise WeatherFileError(
                name,
                f"{len(rows)} rows without stamps; a year has 365 days or 8760 hours, a week 168 hours.",
                lines[-1],
                way_out="Choose the column that holds date and time.",
            )
        start = "1992-01-01" if per_day[len(rows)] == 366 else "1990-01-01"
        stamps = pd.date_range(start, periods=len(rows), freq="D" if len(rows) in (365, 366) else "h")
        notes.append(Note("info", "There are no stamps: rows count from 1 January, a Monday."))
    else:
        texts = pd.Series([r[layout.stamp] if layout.stamp < len(r) else "" for _, r in rows])
        try:
            stamps = pd.DatetimeIndex(pd.to_datetime(texts, format=layout.stamp_format or None, errors="coerce"))
        except (ValueError, TypeError) as error:
            reason = f"“{layout.stamp_format}” is no way to write a stamp."
            raise WeatherFileError(
                name, reason, lines[0], str(layout.stamp + 1), "Write it as %d.%m.%Y %H:%M, or leave it empty."
            ) from error
        unread = np.flatnonzero(stamps.isna())
        if unread.size:
            at = int(unread[0])
            if unread.size > 0.1 * len(rows):
                raise WeatherFileError(
                    name,
                    f"the stamp “{texts[at]}” cannot be read.",
                    lines[at],
                    str(layout.stamp + 1),
                    "Choose another column or format.",
                )
            notes.append(Note("repair", f"{unread.size} rows without a readable stamp were left out.", lines[at]))
    frame = pd.DataFrame({"line": lines, "stamp": stamps, "value": values})
    return frame[frame["stamp"].notna()].sort_values("stamp", kind="stable"), notes


def _step_hours(name: str, series: pd.DataFrame) -> float:
    steps = series["stamp"].diff().dropna().dt.total_seconds().to_numpy() / 3600.0
    steps = steps[steps > 0]
    if steps.size == 0:
        raise WeatherFileError(name, "one row is not enough for a load.", way_out="Give at least a week.")
    step = float(np.median(steps))
    if step > 24.5:
        raise WeatherFileError(name, f"rows are {step / 24:.0f} days apart: hours or days are needed.")
    return step


def _day_of_year(stamps: pd.DatetimeIndex) -> NDArray[np.int64]:
    """Day of a year without 29 February, from 0."""
    late = stamps.is_leap_year & (stamps.month > 2)
    return np.asarray(stamps.day_of_year.to_numpy() - 1 - late, dtype=np.int64)


def _means(index: NDArray[np.int64], values: Array, size: int, notes: list[Note], what: str) -> Array:
    good = ~np.isnan(values)
    count = np.bincount(index[good], minlength=size)
    total = np.bincount(index[good], weights=values[good], minlength=size)
    if (count > 1).any():
        notes.append(Note("info", f"{int((count > 1).sum())} {what} were measured more than once: their mean is used."))
    return np.where(count > 0, total / np.maximum(count, 1), np.nan)


def _filled(year: Array, key: NDArray[np.int64], size: int) -> Array:
    """Gaps take the mean of their key (hour of the week, weekday), else of all."""
    known = ~np.isnan(year)
    count = np.bincount(key[known], minlength=size)
    mean = np.bincount(key[known], weights=year[known], minlength=size) / np.maximum(count, 1)
    mean = np.where(count > 0, mean, float(np.nanmean(year)))
    return np.where(known, year, mean[key])


def _from_days(
    name: str, stamps: pd.DatetimeIndex, values: Array, notes: list[Note], shape: tuple[float, ...]
) -> Array:
    day = _day_of_year(stamps)
    year = _means(day, values, 365, notes, "days")
    missing = int(np.isnan(year).sum())
    if 365 - missing < 7:
        raise WeatherFileError(name, f"{365 - missing} days are too few.", way_out="Give at least a week.")
    if missing:
        notes.append(Note("repair", f"{missing} days without a value take the mean of their weekday."))
    first = int((stamps[0].dayofweek - day[0]) % 7)
    year = _filled(year, (np.arange(365) + first) % 7, 7)
    weights = np.asarray(shape, dtype=float)
    notes.append(Note("info", "Daily values: each day is shared out by the shape of the day."))
    return np.outer(year, weights / weights.sum()).ravel()


def _from_hours(name: str, stamps: pd.DatetimeIndex, values: Array, notes: list[Note], step_h: float) -> Array:
    if step_h > 1.5:
        raise WeatherFileError(name, f"rows are {step_h:.0f} h apart: hours or days are needed.")
    if step_h < 0.99:
        summed = pd.Series(values, index=stamps.floor("h")).groupby(level=0).sum(min_count=1)
        stamps, values = pd.DatetimeIndex(summed.index), summed.to_numpy()
        notes.append(Note("info", f"{round(1.0 / step_h)} rows an hour were added up."))
    slot = 24 * _day_of_year(stamps) + stamps.hour.to_numpy()
    year = _means(slot, values, HOURS, notes, "hours")
    missing = np.isnan(year)
    known = HOURS - int(missing.sum())
    if known < 168:
        raise WeatherFileError(name, f"{known} hours are too few.", way_out="Give at least a week.")
    short = np.zeros(HOURS, dtype=bool)
    edges = np.flatnonzero(np.diff(np.concatenate(([0], missing.astype(int), [0]))))
    for start, end in zip(edges[::2], edges[1::2], strict=True):
        short[start:end] = end - start <= SHORT_GAP_H
    year = np.where(short, pd.Series(year).interpolate(limit_area="inside").to_numpy(), year)
    if short.any():
        notes.append(Note("repair", f"{int(short.sum())} hours in gaps of up to {SHORT_GAP_H} h were bridged."))
    if np.isnan(year).any():
        left = int(np.isnan(year).sum())
        notes.append(Note("repair", f"{left} hours without a value take the mean of their hour of the week."))
    first = int((stamps[0].dayofweek - slot[0] // 24) % 7)
    return _filled(year, (np.arange(HOURS) + 24 * first) % 168, 168)
