"""Read EPW, TMY3, TM2 and PVGIS typical years, any table by a column map, and twelve means.

Anything else is refused with its place in the file.
"""

import json
import re
from dataclasses import replace
from typing import Any

import numpy as np
import pandas as pd
from numpy.typing import NDArray
from pydantic import ValidationError

from heat.common.tables import within_limits
from heat.constants import HOURS
from heat.errors import InputError, WeatherFileError
from heat.weather.columns import ColumnMap, mapped_table
from heat.weather.formats import ANY_YEAR, KNOWN, LIMITS, READERS, Table, recognise
from heat.weather.split import split_global
from heat.weather.synthetic import read_means
from heat.weather.year import Note, WeatherYear, sun_year

MAX_GAP_H = 3
NEEDED = ("ghi", "temp_air")
SPLIT = ("dni", "dhi")
FALLBACK = {"wind_speed": 2.0, "relative_humidity": 70.0, "pressure": 101_325.0}


def decode(name: str, raw: bytes) -> str:
    """Text of an uploaded file, UTF-8 or Latin-1.

    Parameters
    ----------
    name
        Name of the file, for messages.
    raw
        The bytes of the file.

    Returns
    -------
    str
        Text.

    Raises
    ------
    WeatherFileError
        For binary files and endless tables.
    """
    if b"\x00" in raw:
        line = raw[: raw.index(b"\x00")].count(b"\n") + 1
        raise WeatherFileError(name, "this is a binary file, not a weather table.", line, way_out=KNOWN)
    try:
        text = raw.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = raw.decode("latin-1")
    if not text.lstrip().startswith("{"):
        within_limits(name, text)
    return text


def read_weather(name: str, raw: bytes, columns: ColumnMap | None = None) -> WeatherYear:
    """Read one typical year from the bytes of a file.

    Irradiance in W/m², temperatures in °C, pressure in Pa, hours by their start in local standard time. Gaps of up
    to 3 h are repaired and noted; 29 February is dropped and noted. Where beam and diffuse are missing the global
    sun is split (Erbs, Klein & Duffie 1982). Formats: EPW (EnergyPlus weather), TMY3 (NREL/TP-581-43156), TM2
    (NREL/TP-463-7668), PVGIS typical year (EU JRC).

    Parameters
    ----------
    name
        Name of the file, for messages.
    raw
        The bytes of the file.
    columns
        What the columns of the table are.

    Returns
    -------
    WeatherYear
        The year.

    Raises
    ------
    WeatherFileError
        (file, line, column, reason) for anything else.
    """
    text = decode(name, raw)
    if columns is not None:
        data, first_line = mapped_table(name, text, columns)
        missing = dict.fromkeys(LIMITS, columns.missing) if columns.missing is not None else {}
        return _assembled(
            name,
            Table(
                "table",
                data,
                columns.latitude_deg,
                columns.longitude_deg,
                columns.elevation_m,
                columns.utc_offset_h,
                first_line,
                missing,
            ),
        )
    kind = recognise(name, text)
    if kind == "means":
        return _means(name, text)
    try:
        table = READERS[kind](name, text)
    except WeatherFileError:
        raise
    except Exception as error:
        raise _unreadable(name, kind, text, error) from error
    return _assembled(name, table)


def _means(name: str, text: str) -> WeatherYear:
    try:
        year = read_means(name, json.loads(text))
        _check_place(name, year)
        return year
    except WeatherFileError:
        raise
    except json.JSONDecodeError as error:
        raise WeatherFileError(name, f"this is not valid JSON: {error.msg}.", error.lineno) from error
    except (ValidationError, InputError, ValueError, TypeError, KeyError, ArithmeticError, RecursionError) as error:
        raise WeatherFileError(
            name,
            f"the twelve means cannot be used: {str(error).splitlines()[0]}.",
            way_out="Give twelve values each of ghi_kwh_m2_day and air_c, and the place.",
        ) from error


def _unreadable(name: str, kind: str, text: str, error: Exception) -> WeatherFileError:
    """Point at the first line whose number of fields differs from its neighbours'."""
    rows = text.splitlines()
    first = {"EPW": 8, "TMY3": 2, "PVGIS": 18}.get(kind, 1)
    widths = [row.count(",") for row in rows[first:]]
    usual = max(set(widths), key=widths.count) if widths else 0
    for i, width in enumerate(widths):
        if width != usual and i < HOURS:
            return WeatherFileError(
                name,
                f"{width + 1} fields where the other lines have {usual + 1}.",
                first + i + 1,
                way_out="Restore the missing fields or export the file again.",
            )
    column = re.search(r"['\"]([\w ()°/]+)['\"]", str(error))
    return WeatherFileError(
        name,
        f"it looks like {kind}, but it could not be read ({type(error).__name__}).",
        first + 1,
        column.group(1) if column else None,
        "Check that no column or heading was changed, or export the file again.",
    )


PLACE = {
    "latitude_deg": ("latitude", -90.0, 90.0, "°"),
    "longitude_deg": ("longitude", -180.0, 180.0, "°"),
    "elevation_m": ("height", -450.0, 9000.0, "m"),
    "utc_offset_h": ("clock", -14.0, 14.0, "h from UTC"),
    "sun_moment_h": ("moment of the sun", 0.0, 1.0, "h"),
}
"""What a heading says of the place: in words, lowest and highest, with the unit."""


def _check_place(name: str, table: Table | WeatherYear) -> None:
    """Raises WeatherFileError for a place that is nowhere."""
    for field, (words, low, high, unit) in PLACE.items():
        value = getattr(table, field)
        if not (isinstance(value, int | float | np.number) and low <= value <= high):
            raise WeatherFileError(
                name,
                f"the {words} in its heading is {str(value)[:20]}; possible is {low:g} to {high:g} {unit}.",
                1,
                way_out="Mend the heading, or export the file again.",
            )


def _assembled(name: str, table: Table) -> WeatherYear:
    """The year of a table, or what was being read when it could not be."""
    _check_place(name, table)
    try:
        return _assemble(name, table)
    except WeatherFileError:
        raise
    except Exception as error:
        raise WeatherFileError(
            name,
            f"its hours could not be put together ({type(error).__name__}).",
            table.first_line,
            way_out="Export the file again; every hour needs a date and numbers.",
        ) from error


def _assemble(name: str, table: Table) -> WeatherYear:
    notes = list(table.notes)
    order, lines = _hours_of_year(name, table, notes)
    values: dict[str, NDArray[np.float64]] = {}
    for column, (low, high, unit) in LIMITS.items():
        if column == "infrared" and not _has_numbers(table, column):
            continue
        if column in SPLIT and not _has_numbers(table, column):
            continue
        values[column] = _column(name, table, column, (low, high, unit), order, lines, notes)
    offset = table.utc_offset_h
    if table.kind == "PVGIS":
        offset = float(round(table.longitude_deg / 15.0))
        values = {c: np.roll(v, int(offset)) for c, v in values.items()}
    for column in ("ghi", *SPLIT):
        if column in values:
            values[column] = np.maximum(values[column], 0.0)
    absent = [c for c in SPLIT if c not in values]
    if absent:
        values |= {c: np.zeros(HOURS) for c in absent}
        words = "Beam and diffuse" if len(absent) == 2 else {"dni": "Beam", "dhi": "Diffuse"}[absent[0]]
        notes.append(Note("repair", f"{words} sun calculated from the global sun (Erbs split)."))
    year = WeatherYear(
        name=name,
        kind=table.kind,
        latitude_deg=table.latitude_deg,
        longitude_deg=table.longitude_deg,
        elevation_m=table.elevation_m,
        utc_offset_h=offset,
        sun_moment_h=table.sun_moment_h,
        ghi_w_m2=values["ghi"],
        dni_w_m2=values["dni"],
        dhi_w_m2=values["dhi"],
        air_c=values["temp_air"],
        wind_m_s=values["wind_speed"],
        humidity_pct=values["relative_humidity"],
        pressure_pa=values["pressure"],
        infrared_w_m2=values.get("infrared"),
        notes=tuple(notes),
    )
    if absent:
        dni, dhi = split_global(year, sun_year(year), known=tuple(c for c in SPLIT if c not in absent))
        year = replace(year, dni_w_m2=dni, dhi_w_m2=dhi)
    return year


def _has_numbers(table: Table, column: str) -> bool:
    if column not in table.data:
        return False
    raw = pd.to_numeric(table.data[column], errors="coerce").to_numpy(float)
    marker = table.missing.get(column)
    bad = np.isnan(raw) if marker is None else np.isnan(raw) | np.isclose(raw, marker)
    return bool((~bad).mean() > 0.95)


def _hours_of_year(name: str, table: Table, notes: list[Note]) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """For each of 8,760 hours the row that holds it (-1: none), and each row's line number."""
    index: Any = table.data.index
    bad = np.flatnonzero(pd.isna(index))
    if bad.size or not isinstance(index, pd.DatetimeIndex):
        raise WeatherFileError(
            name,
            "this hour carries no readable date; the file may have been cut off.",
            table.first_line + (int(bad[0]) if bad.size else 0),
            way_out="Download or export the file again.",
        )
    lines = np.arange(len(index)) + table.first_line
    leap = (index.month == 2) & (index.day == 29)
    if leap.any():
        notes.append(Note("info", f"29 February dropped ({int(leap.sum())} hours)."))
    days_before = np.array([0, 31, 59, 90, 120, 151, 181, 212, 243, 273, 304, 334])
    hour = (days_before[index.month - 1] + index.day - 1) * 24 + index.hour
    order = np.full(HOURS, -1)
    for row, (h, skip) in enumerate(zip(hour, leap, strict=True)):
        if skip:
            continue
        if order[h] >= 0:
            raise WeatherFileError(
                name,
                f"{index[row]:%d %B, %H:00} stands here a second time (first in line {lines[order[h]]}).",
                int(lines[row]),
                way_out="Remove the repeated hours; a year has 8,760.",
            )
        order[h] = row
    gaps = _runs(order < 0)
    for start, stop in gaps:
        after = int(lines[order[start - 1]]) if start and order[start - 1] >= 0 else table.first_line
        stamp = pd.Timestamp(ANY_YEAR, 1, 1) + pd.Timedelta(hours=int(start))
        if stop - start > MAX_GAP_H:
            raise WeatherFileError(
                name,
                f"{stop - start} hours are missing from {stamp:%d %B, %H:00} "
                f"(at most {MAX_GAP_H} in a row can be repaired).",
                after,
                way_out="Use a complete year of 8,760 hours.",
            )
        notes.append(Note("repair", f"{stop - start} h from {stamp:%d %B, %H:00} filled in.", after))
    return order, lines


def _runs(mask: NDArray[np.bool_]) -> list[tuple[int, int]]:
    """Start and stop of each run of True."""
    edges = np.flatnonzero(np.diff(np.concatenate(([0], mask.astype(int), [0]))))
    return list(zip(edges[::2].tolist(), edges[1::2].tolist(), strict=True))


def _column(
    name: str,
    table: Table,
    column: str,
    limits: tuple[float, float, str],
    order: NDArray[np.int64],
    lines: NDArray[np.int64],
    notes: list[Note],
) -> NDArray[np.float64]:
    """One checked column of 8,760 values; short gaps bridged in a straight line."""
    if column not in table.data:
        if column in NEEDED:
            raise WeatherFileError(
                name,
                "this column is missing.",
                table.first_line - 1,
                column,
                "Global irradiance and air temperature are needed.",
            )
        notes.append(Note("repair", f"No {column}; {FALLBACK[column]:g} taken throughout."))
        return np.full(HOURS, FALLBACK[column])
    raw = pd.to_numeric(table.data[column], errors="coerce").to_numpy(float).copy()
    marker = table.missing.get(column)
    if marker is not None:
        raw[np.isclose(raw, marker)] = np.nan
    values = np.where(order >= 0, raw[np.maximum(order, 0)], np.nan)
    low, high, unit = limits
    outside = np.flatnonzero((values < low) | (values > high))
    if outside.size:
        first = int(outside[0])
        raise WeatherFileError(
            name,
            f"{values[first]:g} {unit} is outside {low:g} to {high:g} {unit} ({outside.size} such hours).",
            int(lines[order[first]]),
            column,
            "Check the unit of the column and the marker of missing values.",
        )
    bad = np.isnan(values)
    if bad.all() and column in FALLBACK:
        notes.append(Note("repair", f"No {column}; {FALLBACK[column]:g} {unit} taken throughout."))
        return np.full(HOURS, FALLBACK[column])
    for start, stop in _runs(bad):
        line = int(lines[order[start]]) if order[start] >= 0 else table.first_line + start
        if stop - start > MAX_GAP_H and column in (*NEEDED, *SPLIT):
            raise WeatherFileError(
                name,
                f"{stop - start} hours in a row hold no number (at most {MAX_GAP_H} can be repaired).",
                line,
                column,
                "Fill the gap or use another year.",
            )
        if order[start] >= 0:
            text = f"{column}: {stop - start} h without a number bridged in a straight line."
            notes.append(Note("repair", text, line))
    if bad.any():
        hours = np.arange(HOURS)
        values[bad] = np.interp(hours[bad], hours[~bad], values[~bad], period=HOURS)
    return values
