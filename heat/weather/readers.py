"""Read EPW, TMY3, TM2 and PVGIS typical years, any table by a column map, and twelve means.

Anything else is refused with its place in the file.
"""

import io
import json
import re
import tempfile
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
import pandas as pd
from numpy.typing import NDArray
from pvlib.iotools import read_epw, read_pvgis_tmy, read_tmy2, read_tmy3
from pydantic import ValidationError

from heat.constants import HOURS
from heat.errors import InputError, WeatherFileError
from heat.tables import within_limits
from heat.weather.columns import ColumnMap, mapped_table
from heat.weather.split import split_global
from heat.weather.synthetic import read_means
from heat.weather.year import Note, WeatherYear, sun_year

MAX_GAP_H = 3
ANY_YEAR = 1990  # a year without 29 February, to lay the typical months on
LIMITS = {
    "ghi": (-5.0, 1500.0, "W/m²"),
    "dni": (-5.0, 1400.0, "W/m²"),
    "dhi": (-5.0, 900.0, "W/m²"),
    "temp_air": (-70.0, 60.0, "°C"),
    "wind_speed": (0.0, 80.0, "m/s"),
    "relative_humidity": (0.0, 110.0, "%"),
    "pressure": (45_000.0, 110_000.0, "Pa"),
    "infrared": (50.0, 700.0, "W/m²"),
}
NEEDED = ("ghi", "temp_air")
SPLIT = ("dni", "dhi")
FALLBACK = {"wind_speed": 2.0, "relative_humidity": 70.0, "pressure": 101_325.0}
KNOWN = (
    "EPW, TMY3 (CSV), TM2 and PVGIS typical years (CSV, JSON) are read, twelve means (JSON), and any other table "
    "with a column map."
)


@dataclass(frozen=True)
class _Table:
    """What a reader found: hourly columns in pvlib's names, the place, and where line 1 of data is."""

    kind: str
    data: pd.DataFrame
    latitude_deg: float
    longitude_deg: float
    elevation_m: float
    utc_offset_h: float
    first_line: int
    missing: dict[str, float]
    sun_moment_h: float = 0.5
    notes: tuple[Note, ...] = ()


def _epw(name: str, text: str) -> _Table:
    data, place = read_epw(io.StringIO(text), coerce_year=None)
    data = data.rename(columns={"atmospheric_pressure": "pressure", "ghi_infrared": "infrared"})
    return _Table(
        "EPW", data, place["latitude"], place["longitude"], place["altitude"], place["TZ"], 9,
        {"ghi": 9999, "dni": 9999, "dhi": 9999, "temp_air": 99.9, "wind_speed": 999,
         "relative_humidity": 999, "pressure": 999999, "infrared": 9999},
    )  # fmt: skip


def _tmy3(name: str, text: str) -> _Table:
    data, place = read_tmy3(io.StringIO(text), coerce_year=ANY_YEAR, map_variables=True)
    data = data.assign(pressure=data["pressure"] * 100.0)
    data.index = data.index - pd.Timedelta(hours=1)  # stamped by the end of the hour
    return _Table(
        "TMY3", data, place["latitude"], place["longitude"], place["altitude"], place["TZ"], 3,
        dict.fromkeys(LIMITS, -9900.0) | {"pressure": -990000.0},
    )  # fmt: skip


def _pvgis(name: str, text: str) -> _Table:
    found = read_pvgis_tmy(io.BytesIO(text.encode()), pvgis_format="csv", map_variables=True)
    data, place = found[0].rename(columns={"IR(h)": "infrared"}), found[1]["inputs"]
    longitude = float(place["longitude"])
    offset = round(longitude / 15.0)
    moment = float(place.get("irradiance time offset", 0.5))
    header = next(i for i, row in enumerate(text.splitlines()) if row.startswith("time(UTC)"))
    note = Note(
        "info",
        f"Stamps are UTC; moved by {offset:+d} h to local standard time. Irradiance is a snapshot "
        f"{60 * moment:.0f} min past the hour, and the sun is reckoned for that moment.",
    )
    return _Table(
        "PVGIS", data, float(place["latitude"]), longitude, float(place["elevation"]), 0.0,
        header + 2, {}, moment, (note,),
    )  # fmt: skip


def _pvgis_json(name: str, text: str) -> _Table:
    with tempfile.NamedTemporaryFile("w", suffix=".json", encoding="utf-8") as copy:
        copy.write(text)
        copy.flush()
        data, about = read_pvgis_tmy(copy.name, pvgis_format="json", map_variables=True)[:2]
    data = data.rename(columns={"IR(h)": "infrared"})
    place = about["inputs"]["location"]
    table = _Table(
        "PVGIS", data, float(place["latitude"]), float(place["longitude"]), float(place["elevation"]), 0.0, 1, {},
        float(place.get("irradiance_time_offset", 0.0)) or 0.5,
    )  # fmt: skip
    offset = round(table.longitude_deg / 15.0)
    note = Note("info", f"Stamps are UTC; moved by {offset:+d} h to local standard time.")
    return replace(table, notes=(note,))


def _tm2(name: str, text: str) -> _Table:
    with tempfile.NamedTemporaryFile("w", suffix=".tm2", encoding="latin-1") as copy:
        copy.write(text)
        copy.flush()
        data, place = read_tmy2(copy.name)
    hours = pd.date_range(f"{ANY_YEAR}-01-01", periods=len(data), freq="h")
    columns = {
        "ghi": data["GHI"], "dni": data["DNI"], "dhi": data["DHI"], "temp_air": data["DryBulb"] / 10.0,
        "relative_humidity": data["RHum"], "pressure": data["Pressure"] * 100.0, "wind_speed": data["Wspd"] / 10.0,
    }  # fmt: skip
    frame = pd.DataFrame({c: np.asarray(v, dtype=float) for c, v in columns.items()}, index=hours)
    return _Table(
        "TM2", frame, place["latitude"], place["longitude"], float(place["altitude"]), float(place["TZ"]), 2,
        {"temp_air": 999.9, "relative_humidity": 999.0, "pressure": 999900.0, "wind_speed": 99.9, "ghi": 9999.0,
         "dni": 9999.0, "dhi": 9999.0},
    )  # fmt: skip


READERS: dict[str, Callable[[str, str], _Table]] = {
    "EPW": _epw, "TMY3": _tmy3, "PVGIS": _pvgis, "PVGIS JSON": _pvgis_json, "TM2": _tm2,
}  # fmt: skip


def recognise(name: str, text: str) -> str:
    """Format of a file by its first lines (a name of READERS, or ``means``; no unit).

    Raises WeatherFileError where none fits.
    """
    head = text[:4000].splitlines()
    if not head:
        raise WeatherFileError(name, "the file is empty.", 1, way_out=KNOWN)
    if head[0].startswith("LOCATION,"):
        return "EPW"
    if any(row.startswith("time(UTC)") for row in head):
        return "PVGIS"
    if len(head) > 1 and head[1].startswith("Date (MM/DD/YYYY)"):
        return "TMY3"
    if text.lstrip().startswith("{"):
        return "means" if '"monthly means"' in text[:4000] else "PVGIS JSON"
    if len(head) > 1 and re.match(r"^ \d{5} .{22} [A-Z]{2} ", head[0]) and len(head[1]) > 135:
        return "TM2"
    raise WeatherFileError(name, f"this is not a weather file we know; it begins “{head[0][:40]}”.", 1, way_out=KNOWN)


def decode(name: str, raw: bytes) -> str:
    """Text (no unit) of an uploaded file, UTF-8 or Latin-1. Raises WeatherFileError for binary files and endless
    tables."""
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
    """Read one typical year from the bytes of a file; ``columns`` describes any other table.

    Irradiance in W/m², temperatures in °C, pressure in Pa, hours by their start in local standard
    time. Gaps of up to 3 h are repaired and noted; 29 February is dropped and noted.
    Where beam and diffuse are missing the global sun is split (Erbs, Klein & Duffie 1982).
    Raises WeatherFileError (file, line, column, reason) for anything else. Formats: EPW (EnergyPlus
    weather), TMY3 (NREL/TP-581-43156), TM2 (NREL/TP-463-7668), PVGIS typical year (EU JRC).
    """
    text = decode(name, raw)
    if columns is not None:
        data, first_line = mapped_table(name, text, columns)
        missing = dict.fromkeys(LIMITS, columns.missing) if columns.missing is not None else {}
        return _assembled(name, _Table(
            "table", data, columns.latitude_deg, columns.longitude_deg, columns.elevation_m, columns.utc_offset_h,
            first_line, missing,
        ))  # fmt: skip
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
        return read_means(name, json.loads(text))
    except json.JSONDecodeError as error:
        raise WeatherFileError(name, f"this is not valid JSON: {error.msg}.", error.lineno) from error
    except (ValidationError, InputError, ValueError, TypeError, KeyError, ArithmeticError, RecursionError) as error:
        raise WeatherFileError(
            name, f"the twelve means cannot be used: {str(error).splitlines()[0]}.",
            way_out="Give twelve values each of ghi_kwh_m2_day and air_c, and the place.",
        ) from error  # fmt: skip


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
    "latitude_deg": ("latitude", -90.0, 90.0, "°"), "longitude_deg": ("longitude", -180.0, 180.0, "°"),
    "elevation_m": ("height", -450.0, 9000.0, "m"), "utc_offset_h": ("clock", -14.0, 14.0, "h from UTC"),
    "sun_moment_h": ("moment of the sun", 0.0, 1.0, "h"),
}  # fmt: skip
"""What a heading tells of the place: in words, lowest and highest, with the unit."""


def _assembled(name: str, table: _Table) -> WeatherYear:
    """The year of a table, or what was being read when it could not be."""
    for field, (words, low, high, unit) in PLACE.items():
        value = getattr(table, field)
        if not (isinstance(value, int | float | np.number) and low <= value <= high):
            raise WeatherFileError(
                name, f"the {words} in its heading is {str(value)[:20]}; possible is {low:g} to {high:g} {unit}.", 1,
                way_out="Mend the heading, or export the file again.",
            )  # fmt: skip
    try:
        return _assemble(name, table)
    except WeatherFileError:
        raise
    except Exception as error:
        raise WeatherFileError(
            name, f"its hours could not be put together ({type(error).__name__}).", table.first_line,
            way_out="Export the file again; every hour needs a date and numbers.",
        ) from error  # fmt: skip


def _assemble(name: str, table: _Table) -> WeatherYear:
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
        notes.append(Note("repair", f"{words} sun reckoned from the global sun (Erbs split)."))
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


def _has_numbers(table: _Table, column: str) -> bool:
    if column not in table.data:
        return False
    raw = pd.to_numeric(table.data[column], errors="coerce").to_numpy(float)
    marker = table.missing.get(column)
    bad = np.isnan(raw) if marker is None else np.isnan(raw) | np.isclose(raw, marker)
    return bool((~bad).mean() > 0.95)


def _hours_of_year(name: str, table: _Table, notes: list[Note]) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """For each of 8,760 hours the row that holds it (-1: none), and each row's line number."""
    index: Any = table.data.index
    bad = np.flatnonzero(pd.isna(index))
    if bad.size or not isinstance(index, pd.DatetimeIndex):
        raise WeatherFileError(
            name, "this hour carries no readable date; the file may have been cut off.",
            table.first_line + (int(bad[0]) if bad.size else 0),
            way_out="Download or export the file again.",
        )  # fmt: skip
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
    table: _Table,
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
                name, "this column is missing.", table.first_line - 1, column,
                "Global irradiance and air temperature are needed.",
            )  # fmt: skip
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
