"""Telling what the columns of an uploaded table hold: a guess to start from, a form to correct it, a preview."""

import json
import re
from collections.abc import Mapping
from typing import get_args

import numpy as np

from heat.common.tables import Layout, guess_layout
from heat.demand.measured import LOAD_UNITS, LoadMap, MeasuredLoad, read_load
from heat.errors import WeatherFileError
from heat.weather.columns import Column, ColumnMap
from heat.weather.place import standard_offset_h
from heat.weather.readers import decode
from heat.weather.year import monthly_sums
from web.editor.design_page import DesignPage
from web.projects.models import Upload
from web.simulations.cache import ContentCache
from web.ui.calendar import MONTHS
from web.ui.rows import Row
from web.ui.units import parse_number

MEANINGS: dict[str, tuple[str, str, str]] = {
    "ghi W/m2": ("sun, level ground, W/m²", "ghi", "W/m2"),
    "ghi kWh/m2": ("sun, level ground, kWh/m²", "ghi", "kWh/m2"),
    "dni W/m2": ("beam, W/m²", "dni", "W/m2"),
    "dhi W/m2": ("sky light, W/m²", "dhi", "W/m2"),
    "air degC": ("air, °C", "temp_air", "degC"),
    "air degF": ("air, °F", "temp_air", "degF"),
    "wind m/s": ("wind, m/s", "wind_speed", "m/s"),
    "wind km/h": ("wind, km/h", "wind_speed", "km/h"),
    "wind mph": ("wind, mph", "wind_speed", "mph"),
    "humidity %": ("humidity, %", "relative_humidity", "percent"),
    "humidity share": ("humidity, 0 to 1", "relative_humidity", "share"),
    "pressure Pa": ("pressure, Pa", "pressure", "Pa"),
    "pressure hPa": ("pressure, hPa", "pressure", "hPa"),
}
"""What a weather column may hold: words, quantity and unit of the column map."""
HINTS = (
    (r"ghi|global|glob", "ghi W/m2"),
    (r"dni|beam|direct.*normal", "dni W/m2"),
    (r"dhi|diffus", "dhi W/m2"),
    (r"temp|air|t2m|dry.?bulb|°c|degc", "air degC"),
    (r"wind", "wind m/s"),
    (r"humid|rh\b|feucht", "humidity %"),
    (r"press|druck", "pressure hPa"),
)
NO_SUCH_LAYOUT = "this layout does not fit the table; check separator, lines and clock."
FORM = ("separator", "decimal", "heading_line", "stamp", "stamp_format", "stamped_at", "value", "unit")


LAYOUTS, LOADS = ContentCache(8), ContentCache(4)
"""What was seen of the last tables, and the loads read from them: a page shown again reads nothing anew."""


def guess(upload: Upload, text: str, page: DesignPage) -> Row:
    """The layout to start from, as the form holds it. Raises WeatherFileError."""
    found = guess_layout(upload.name, text)
    form: Row = {
        "separator": found.separator,
        "decimal": found.decimal,
        "heading_line": found.heading_line,
        "stamp": found.stamp,
        "stamp_format": found.stamp_format,
        "stamped_at": "start",
    }
    if upload.purpose == "load":
        name = found.names[found.numeric[0]].lower()
        unit = next((u for u in ("kWh", "MJ", "m³", "gal", "kBtu", "Wh", "kW") if u.lower() in name), "L")
        return {**form, "value": found.numeric[0], "unit": unit}
    site = page.document["site"]
    columns: dict[str, str] = {}
    for k in found.numeric:
        meaning = next((m for pattern, m in HINTS if re.search(pattern, found.names[k].lower())), "")
        if meaning and meaning not in columns.values():
            columns[str(k)] = meaning
    return {**form, "columns": columns, "utc_offset_h": standard_offset_h(site["latitude_deg"], site["longitude_deg"])}


def text_of(upload: Upload) -> str:
    return decode(upload.name, bytes(upload.raw))


def layout_from(form: Mapping[str, str], upload: Upload) -> dict[str, object]:
    """The layout as posted. ValueError for what no table can have."""
    stored = dict(upload.layout)
    for name in FORM:
        if name in form:
            stored[name] = str(form[name]).replace("\0", "")[:60]
    for name in ("heading_line", "stamp", "value"):
        if name in stored:
            stored[name] = int(stored[name])
    if upload.purpose == "load":
        LoadMap(**{name: stored[name] for name in FORM})
    else:
        stored["columns"] = {
            k.removeprefix("column-"): v for k, v in form.items() if k.startswith("column-") and v in MEANINGS
        }
        LoadMap(separator=stored["separator"], decimal=stored["decimal"], heading_line=stored["heading_line"])
        stored["utc_offset_h"] = parse_number(str(form.get("utc_offset_h", stored["utc_offset_h"])))
    return stored


def load_of(upload: Upload, page: DesignPage) -> MeasuredLoad:
    """The measured load as the layout reads it. Raises WeatherFileError."""
    form = {name: upload.layout[name] for name in FORM}
    shape = tuple(page.document["demand"]["hour_shape"])
    key = json.dumps([upload.pk, form, shape])
    read: MeasuredLoad = LOADS.get(key, lambda: read_load(upload.name, text_of(upload), LoadMap(**form), shape))
    return read


def column_map(upload: Upload, page: DesignPage) -> ColumnMap:
    """The column map of a weather table at the site's place. Raises WeatherFileError where no sun or air is named."""
    layout, site = upload.layout, page.document["site"]
    columns = {}
    for index, meaning in layout["columns"].items():
        _, quantity, unit = MEANINGS[meaning]
        columns[quantity] = Column(column=int(index) + 1, unit=unit)
    for quantity, words in (("ghi", "sun on level ground"), ("temp_air", "air temperature")):
        if quantity not in columns:
            raise WeatherFileError(upload.name, f"no column holds the {words}.", way_out="Choose it below.")
    return ColumnMap(
        separator=layout["separator"],
        decimal=layout["decimal"],
        heading_line=layout["heading_line"],
        stamp=layout["stamp"] + 1 if layout["stamp"] >= 0 else None,
        stamp_format=layout["stamp_format"] or None,
        stamped_at=layout["stamped_at"],
        columns=columns,
        latitude_deg=site["latitude_deg"],
        longitude_deg=site["longitude_deg"],
        elevation_m=site["elevation_m"],
        utc_offset_h=layout["utc_offset_h"],
    )


def mapping(page: DesignPage, upload: Upload) -> dict[str, object]:
    """The form of an upload's layout with its first rows, and for a load what it amounts to."""
    layout = upload.layout
    try:
        observed: Layout = LAYOUTS.get(str(upload.pk), lambda: guess_layout(upload.name, text_of(upload)))
    except WeatherFileError as error:
        return {"upload": upload, "address": f"{upload.purpose}-table", "problem": str(error)}
    columns = [
        {
            "index": k,
            "name": name,
            "cells": [row[k] for row in observed.rows],
            "numeric": k in observed.numeric,
            "meaning": layout.get("columns", {}).get(str(k), ""),
            "stamp": k == layout["stamp"],
            "value": k == layout.get("value"),
        }
        for k, name in enumerate(observed.names)
    ]
    context: dict[str, object] = {
        "upload": upload,
        "address": f"{upload.purpose}-table",
        "layout": layout,
        "columns": columns,
        "meanings": [(key, words) for key, (words, _, _) in MEANINGS.items()],
        "units": list(LOAD_UNITS),
        "separators": get_args(LoadMap.model_fields["separator"].annotation),
    }
    return context | (load_preview(page, upload, observed) if upload.purpose == "load" else {})


def load_preview(page: DesignPage, upload: Upload, expected: Layout) -> dict[str, object]:
    """Months and notes of a measured load, or why it cannot be read."""
    try:
        load = load_of(upload, page)
    except WeatherFileError as error:
        return {"problem": str(error)}
    quantity = "L" if load.kind == "L" else "kWh"
    months = monthly_sums(load.values)
    top = max(float(months.max()), 1e-9)
    return {
        "kind": load.kind,
        "days": load.days,
        "notes": load.notes,
        "sign": page.sign(quantity),
        "total": page.show(float(load.values.sum()), quantity, 0),
        "per_day": page.show(float(load.values.sum()) / 365, quantity, 1),
        "months": [
            {
                "name": MONTHS[m],
                "text": page.show(float(months[m]), quantity, 0),
                "x": 40 + 44 * m,
                "y": round(80 - 70 * float(months[m]) / top, 1),
                "h": round(70 * float(months[m]) / top, 1),
            }
            for m in range(12)
        ],
        "peak": page.show(float(np.max(load.values)), quantity, 1),
    }
