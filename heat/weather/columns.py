"""Any hourly table, read by a map of its columns that can be kept and used again."""

import io
from typing import Annotated, Literal

import numpy as np
import pandas as pd
from pydantic import BaseModel, ConfigDict, Field

from heat.constants import HOURS
from heat.errors import WeatherFileError

ANY_YEAR = 1990
UNITS = {"W/m2": (1.0, 0.0), "kWh/m2": (1000.0, 0.0), "degC": (1.0, 0.0), "degF": (5 / 9, -160 / 9), "m/s": (1.0, 0.0),
         "km/h": (1 / 3.6, 0.0), "mph": (0.44704, 0.0), "percent": (1.0, 0.0), "share": (100.0, 0.0), "Pa": (1.0, 0.0),
         "hPa": (100.0, 0.0)}  # fmt: skip
QUANTITIES = ("ghi", "dni", "dhi", "temp_air", "wind_speed", "relative_humidity", "pressure", "infrared")


class Column(BaseModel):
    """One column: its heading or its number from 1, and its unit."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    column: str | int
    unit: Literal["W/m2", "kWh/m2", "degC", "degF", "m/s", "km/h", "mph", "percent", "share", "Pa", "hPa"]


class ColumnMap(BaseModel):
    """How a table is laid out: separators, heading, clock and columns; reusable for the next file."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    separator: Literal[",", ";", "tab", "space"] = ","
    decimal: Literal[".", ","] = "."
    heading_line: Annotated[int, Field(ge=0, le=500)] = 1
    stamp: str | int | None = None
    stamp_format: str | None = None
    stamped_at: Literal["start", "end"] = "start"
    columns: dict[str, Column]
    missing: float | None = None
    latitude_deg: Annotated[float, Field(ge=-66, le=66)]
    longitude_deg: Annotated[float, Field(ge=-180, le=180)]
    elevation_m: Annotated[float, Field(ge=-430, le=5500)] = 0.0
    utc_offset_h: Annotated[float, Field(ge=-12, le=14)] = 0.0


def mapped_table(name: str, text: str, columns: ColumnMap) -> tuple[pd.DataFrame, int]:
    """The table in house names and units (W/m², °C, m/s, %, Pa), hours by their start; its first line.

    Parameters
    ----------
    name
        Name of the file, for messages.
    text
        The table.
    columns
        What the columns of the table are.

    Returns
    -------
    tuple[pd.DataFrame, int]
        The table in house names and units (W/m², °C, m/s, %, Pa), hours by their start; its first line.

    Raises
    ------
    WeatherFileError
        With line and column.
    """
    unknown = [q for q in columns.columns if q not in QUANTITIES]
    if unknown:
        raise WeatherFileError(name, f"the map names “{unknown[0]}”; known are {', '.join(QUANTITIES)}.")
    separator = {"tab": "\t", "space": r"\s+"}.get(columns.separator, columns.separator)
    try:
        raw = pd.read_csv(
            io.StringIO(text),
            sep=separator,
            decimal=columns.decimal,
            skip_blank_lines=False,
            header=None if columns.heading_line == 0 else 0,
            skiprows=max(columns.heading_line - 1, 0),
        )
    except (pd.errors.ParserError, pd.errors.EmptyDataError) as error:
        raise WeatherFileError(name, f"the table cannot be parted into columns: {error}.") from error
    first_line = columns.heading_line + 1
    picked = {q: _picked(name, raw, c.column, columns.heading_line) for q, c in columns.columns.items()}
    data = pd.DataFrame(
        {
            q: pd.to_numeric(series, errors="coerce") * UNITS[columns.columns[q].unit][0]
            + UNITS[columns.columns[q].unit][1]
            for q, series in picked.items()
        }
    )
    if columns.stamp is None:
        if len(data) not in (HOURS, HOURS + 24):
            raise WeatherFileError(
                name,
                f"{len(data)} rows; without a column of stamps a year needs 8760 (or 8784).",
                first_line + len(data) - 1,
                way_out="Name the column of stamps, or complete the year.",
            )
        start = f"{1992 if len(data) > HOURS else ANY_YEAR}-01-01"
        data.index = pd.date_range(start, periods=len(data), freq="h")
    else:
        stamps = pd.to_datetime(
            _picked(name, raw, columns.stamp, columns.heading_line).astype(str),
            errors="coerce",
            format=columns.stamp_format,
        )
        bad = np.flatnonzero(stamps.isna().to_numpy())
        if bad.size:
            raise WeatherFileError(
                name,
                "this stamp cannot be read.",
                first_line + int(bad[0]),
                str(columns.stamp),
                "Give its format in the column map.",
            )
        data.index = pd.DatetimeIndex(stamps)
    if columns.stamped_at == "end":
        data.index = data.index - pd.Timedelta(hours=1)
    return data, first_line


def _picked(name: str, raw: pd.DataFrame, column: str | int, heading_line: int) -> pd.Series:
    if isinstance(column, int):
        if not 1 <= column <= raw.shape[1]:
            raise WeatherFileError(
                name, f"there is no column {column}; the table has {raw.shape[1]}.", heading_line + 1
            )
        return raw.iloc[:, column - 1]
    names = [str(c).strip() for c in raw.columns]
    if column not in names:
        raise WeatherFileError(
            name, f"there is no column “{column}”; there are {', '.join(names[:12])}.", max(heading_line, 1), column
        )
    return raw.iloc[:, names.index(column)]
