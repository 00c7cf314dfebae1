"""The formats of typical years: what each holds, by pvlib's readers, in pvlib's names."""

import io
import re
import tempfile
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
import pandas as pd
from pvlib.iotools import read_epw, read_pvgis_tmy, read_tmy2, read_tmy3

from heat.errors import WeatherFileError
from heat.weather.year import Note

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
KNOWN = (
    "EPW, TMY3 (CSV), TM2 and PVGIS typical years (CSV, JSON) are read, twelve means (JSON), and any other table "
    "with a column map."
)


@dataclass(frozen=True)
class Table:
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


def _epw(name: str, text: str) -> Table:
    data, place = read_epw(io.StringIO(text), coerce_year=None)
    data = data.rename(columns={"atmospheric_pressure": "pressure", "ghi_infrared": "infrared"})
    return Table(
        "EPW",
        data,
        place["latitude"],
        place["longitude"],
        place["altitude"],
        place["TZ"],
        9,
        {
            "ghi": 9999,
            "dni": 9999,
            "dhi": 9999,
            "temp_air": 99.9,
            "wind_speed": 999,
            "relative_humidity": 999,
            "pressure": 999999,
            "infrared": 9999,
        },
    )


def _tmy3(name: str, text: str) -> Table:
    data, place = read_tmy3(io.StringIO(text), coerce_year=ANY_YEAR, map_variables=True)
    data = data.assign(pressure=data["pressure"] * 100.0)
    data.index = data.index - pd.Timedelta(hours=1)  # stamped by the end of the hour
    return Table(
        "TMY3",
        data,
        place["latitude"],
        place["longitude"],
        place["altitude"],
        place["TZ"],
        3,
        dict.fromkeys(LIMITS, -9900.0) | {"pressure": -990000.0},
    )


def _pvgis(name: str, text: str) -> Table:
    found = read_pvgis_tmy(io.BytesIO(text.encode()), pvgis_format="csv", map_variables=True)
    data, place = found[0].rename(columns={"IR(h)": "infrared"}), found[1]["inputs"]
    longitude = float(place["longitude"])
    offset = round(longitude / 15.0)
    moment = float(place.get("irradiance time offset", 0.5))
    header = next(i for i, row in enumerate(text.splitlines()) if row.startswith("time(UTC)"))
    note = Note(
        "info",
        f"Stamps are UTC; moved by {offset:+d} h to local standard time. Irradiance is a snapshot "
        f"{60 * moment:.0f} min past the hour, and the sun is calculated for that moment.",
    )
    return Table(
        "PVGIS",
        data,
        float(place["latitude"]),
        longitude,
        float(place["elevation"]),
        0.0,
        header + 2,
        {},
        moment,
        (note,),
    )


def _pvgis_json(name: str, text: str) -> Table:
    with tempfile.NamedTemporaryFile("w", suffix=".json", encoding="utf-8") as copy:
        copy.write(text)
        copy.flush()
        data, about = read_pvgis_tmy(copy.name, pvgis_format="json", map_variables=True)[:2]
    data = data.rename(columns={"IR(h)": "infrared"})
    place = about["inputs"]["location"]
    table = Table(
        "PVGIS",
        data,
        float(place["latitude"]),
        float(place["longitude"]),
        float(place["elevation"]),
        0.0,
        1,
        {},
        float(place.get("irradiance_time_offset", 0.0)) or 0.5,
    )
    offset = round(table.longitude_deg / 15.0)
    note = Note("info", f"Stamps are UTC; moved by {offset:+d} h to local standard time.")
    return replace(table, notes=(note,))


def _tm2(name: str, text: str) -> Table:
    with tempfile.NamedTemporaryFile("w", suffix=".tm2", encoding="latin-1") as copy:
        copy.write(text)
        copy.flush()
        data, place = read_tmy2(copy.name)
    hours = pd.date_range(f"{ANY_YEAR}-01-01", periods=len(data), freq="h")
    columns = {
        "ghi": data["GHI"],
        "dni": data["DNI"],
        "dhi": data["DHI"],
        "temp_air": data["DryBulb"] / 10.0,
        "relative_humidity": data["RHum"],
        "pressure": data["Pressure"] * 100.0,
        "wind_speed": data["Wspd"] / 10.0,
    }
    frame = pd.DataFrame({c: np.asarray(v, dtype=float) for c, v in columns.items()}, index=hours)
    return Table(
        "TM2",
        frame,
        place["latitude"],
        place["longitude"],
        float(place["altitude"]),
        float(place["TZ"]),
        2,
        {
            "temp_air": 999.9,
            "relative_humidity": 999.0,
            "pressure": 999900.0,
            "wind_speed": 99.9,
            "ghi": 9999.0,
            "dni": 9999.0,
            "dhi": 9999.0,
        },
    )


READERS: dict[str, Callable[[str, str], Table]] = {
    "EPW": _epw,
    "TMY3": _tmy3,
    "PVGIS": _pvgis,
    "PVGIS JSON": _pvgis_json,
    "TM2": _tm2,
}


def recognise(name: str, text: str) -> str:
    """Format of a file by its first lines (a name of READERS, or ``means``; no unit).

    Parameters
    ----------
    name
        Name of the file, for messages.
    text
        The file's first lines.

    Returns
    -------
    str
        Format of a file by its first lines (a name of READERS, or ``means``; no unit).

    Raises
    ------
    WeatherFileError
        Where none fits.
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
