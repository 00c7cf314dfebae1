"""Reading what a person types: numbers with units, coordinates, pitches, dates, points. Raises ValueError with the
words
for the page."""

import re
from datetime import UTC, datetime
from math import atan, cos, degrees, radians
from typing import Any

from heat.design import bounds, field_at
from heat.design.place import Site
from heat.sun.magnetic import declination_deg, true_bearing_deg
from web.places.coordinates import SIDES, angle
from web.ui import units
from web.ui.calendar import day_number
from web.ui.rows import Row

PAIRS = {
    "site.skyline": ("bearing_deg", "altitude_deg"),
    "system.loop.drive.curve": ("flow_kg_h", "head_m"),
    "money.tariff": ("from_hour", "price_kwh"),
    "money.summer_tariff": ("from_hour", "price_kwh"),
}
"""Paths typed as pairs of numbers, and the fields of each pair."""
PAIR_UNITS = {
    "site.skyline": ("1", "1"),
    "system.loop.drive.curve": ("kg/h", "m"),
    "money.tariff": ("h", "1/kWh"),
    "money.summer_tariff": ("h", "1/kWh"),
}
"""The units of each pair as the document keeps it."""
PAIR_WORDS = {
    "site.skyline": "a bearing and an altitude",
    "system.loop.drive.curve": "a flow and a head",
    "money.tariff": "an hour and a price",
    "money.summer_tariff": "an hour and a price",
}
PAIR_SAMPLES = {
    "site.skyline": ("90 12, 135 20, 200 8",) * 2,
    "money.tariff": ("6 0.32, 22 0.18",) * 2,
    "money.summer_tariff": ("6 0.30, 22 0.16",) * 2,
    "system.loop.drive.curve": ("0 4, 600 3, 1200 1", "0 13, 2.5 10, 5 3"),
}
"""What a pair is called, and points to show how they are typed, in SI and US units."""
ROW_WORDS = {
    "money.co2_by_month": (12, "Twelve numbers are needed, one for each month."),
    "money.co2_by_hour": (24, "Twenty-four numbers are needed, one for each hour."),
}
"""Paths typed as a row of numbers with spaces between, how many, and the message where they are not; empty: none."""
DATES = ("demand.holidays", "site.snow")
"""Paths typed as spans of dates."""
SHAPES = ("_shape", "hourly_kw")
"""Endings of paths typed as 24 numbers, one for each hour."""
ITEM_UNITS = {"monthly_c": "degC", "set_by_month": "degC"}
"""Unit of each value of a row, where it is not a plain number."""
COMPASS = "@compass"
"""A bearing shown as the needle reads it; what is typed is turned to true north."""


def quantity_of(path: str) -> str:
    """The unit a path is kept in, such as W/K."""
    parts = path.split(".")
    if parts[-1].isdigit() and parts[-2] in ITEM_UNITS:
        return ITEM_UNITS[parts[-2]]
    return (field_at(path).json_schema_extra or {}).get("unit", "1")


def declination(site: Row) -> float:
    """Magnetic declination (deg, east positive) at a site's place today."""
    now = datetime.now(UTC)
    year = now.year + (now.timetuple().tm_yday - 1) / 365.0
    return declination_deg(site["latitude_deg"], site["longitude_deg"], site["elevation_m"], round(year, 2))


def typed_value(path: str, text: str, current: Any, system: str, site: Row) -> Any:
    """The document's value for a typed text. Raises ValueError with the words for the page."""
    if path.endswith(f"_deg{COMPASS}"):
        bare = path.removesuffix(COMPASS)
        return round(true_bearing_deg(typed_value(bare, text, current, system, site), declination(site)), 2)
    item = field_at(path)
    if path in ROW_WORDS and not text.strip():
        return None
    if path.endswith(SHAPES) or path in ROW_WORDS:
        parts = [p for p in text.replace(";", " ").split() if p]
        count, words = ROW_WORDS.get(path, (0, ROW_WORDS["money.co2_by_hour"][1]))
        if count and len(parts) != count:
            raise ValueError(f"{words} There are {len(parts)}.")
        try:
            return [units.to_core(units.parse_number(p), quantity_of(path), system) for p in parts]
        except ValueError as error:
            raise ValueError(words) from error
    if path in PAIRS:
        return typed_pairs(text, path, system)
    if path in DATES:
        return typed_spans(text)
    if isinstance(current, bool):
        return text == "1"
    if isinstance(current, str):
        return text.replace("\0", "").strip()
    if not text.strip():
        if current is None or "None" in str(item.annotation):
            return None
        raise ValueError("A number is needed here; the old value still stands.")
    name = path.rsplit(".", 1)[-1]
    special = angle(text, SIDES[name]) if name in SIDES else pitch(text) if name == "tilt_deg" else None
    if special is not None:
        return special
    quantity, number = quantity_of(path), _number_of(path, text, system)
    if isinstance(current, int) and item.annotation is int and quantity in ("1", "min"):
        if number != int(number):
            raise ValueError("A whole number is needed here.")
        return int(number)
    return units.to_core(number, quantity, system)


def _number_of(path: str, text: str, system: str) -> float:
    """The number a text is in a field, in the reader's unit. Raises ValueError with words, or Ambiguous."""
    readings = _allowed_readings(path, text, system)
    if len(readings) > 1:
        raise units.Ambiguous(text.strip()[:20], (readings[0], readings[1]))
    try:
        return readings[0] if readings else units.parse_number(text)
    except ValueError as error:
        if isinstance(error, units.Ambiguous):
            raise
        raise ValueError(units.no_number(text, error)) from error


def _allowed_readings(path: str, text: str, system: str) -> list[float]:
    """What a number that can be read in two ways may be in this field; nothing for a number with one reading, both
    where the field takes neither."""
    both = units.two_readings(text)
    if both is None:
        return []
    low, high = bounds(path)
    core = lambda value: units.to_core(value, quantity_of(path), system)
    fits = lambda value: (low is None or core(value) >= low) and (high is None or core(value) <= high)
    return [value for value in both if fits(value)] or list(both)


def pitch(text: str) -> float | None:
    """A roof pitch, rise to run such as “6:12” or “7 in 12”, as degrees; None for anything else."""
    found = re.fullmatch(r"\s*(\d+(?:[.,]\d+)?)\s*(?::|/|in)\s*(\d+(?:[.,]\d+)?)\s*", text)
    if not found:
        return None
    rise, run = (float(part.replace(",", ".")) for part in found.groups())
    return round(degrees(atan(rise / run)), 2) if run > 0 else 90.0


def typed_pairs(text: str, path: str, system: str = "si") -> list[dict[str, float]]:
    """Points of two numbers each in the reader's units: parted by commas in one line, or a table of one point a line;
    headings are passed over."""
    lines = [line.strip() for line in text.strip().splitlines() if line.strip()]
    if len(lines) == 1:
        parts = [part.split() for part in re.split(r"[,;]", lines[0]) if part.strip()]
        if all(len(part) == 1 for part in parts) and len(parts) > 2:
            lines = [" ".join((*a, *b)) for a, b in zip(parts[::2], parts[1::2], strict=False)]
        elif not all(len(part) == 1 for part in parts):
            lines = [" ".join(part) for part in parts]
    points = []
    for number, line in enumerate(lines, start=1):
        values = re.split(r"[;\t]+|\s+", line.strip(" ;\t"))
        if len(values) == 1:
            values = line.split(",")
        elif all(v.endswith(",") for v in values[:-1]):
            values = [v.rstrip(",") for v in values]
        values = [v for v in values if v]
        if not values or (number == 1 and not any(re.search(r"\d", v) for v in values)):
            continue
        try:
            first, second = (units.parse_number(v.rstrip("°")) for v in values)
        except ValueError as error:
            words = PAIR_WORDS[path]
            raise ValueError(f"Point {number}, “{line.strip()[:30]}”: {words} are needed.") from error
        if path == "site.skyline" and not 0 <= first <= 360:
            first %= 360.0
        pair = (units.to_core(v, q, system) for v, q in zip((first, second), PAIR_UNITS[path], strict=True))
        points.append(dict(zip(PAIRS[path], pair, strict=True)))
    return points


def typed_spans(text: str) -> list[list[int]]:
    """Spans of days of the year from dates such as “24 Dec - 2 Jan, 1 Aug - 14 Aug”."""
    spans = []
    for part in re.split(r"[,;\n]+", text):
        if not part.strip():
            continue
        ends = re.split(r"\s*(?:–|—|-|\bto\b|\.\.)\s*", part.strip())
        if len(ends) > 2:
            raise ValueError(f"“{part.strip()[:30]}”: give a first and a last day, such as 24 Dec - 2 Jan.")
        spans.append([day_number(ends[0]), day_number(ends[-1])])
    return spans


def obstacle_beside(site: Site, plane_azimuth_deg: float) -> list[str]:
    """Obstacles (by name) that stand behind a plane facing plane_azimuth_deg (deg): no sun comes from there to its
    front."""
    return [o.name for o in site.obstacles if cos(radians(o.bearing_deg - plane_azimuth_deg)) < 0.0]
