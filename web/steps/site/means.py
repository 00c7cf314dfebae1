"""Things half typed: kept as typed until they are used. Twelve means become a synthetic year."""

from heat.constants import HOURS_OF_MONTH
from heat.errors import InputError, WeatherFileError
from heat.weather.cold import with_cold_days
from heat.weather.place import standard_offset_h
from heat.weather.synthetic import MonthlyMeans, synthetic_year
from heat.weather.year import WeatherYear
from web.editor.design_page import DesignPage
from web.projects.services.weather import store_draft
from web.ui import units
from web.ui.calendar import MONTHS

COLUMNS = {
    "sun": ("Sun on level ground", "", 0.05, 12.0, True),
    "air": ("Air", "degC", -50.0, 45.0, True),
    "range": ("Daily range", "delta_degC", 1.0, 30.0, False),
    "humidity": ("Humidity", "percent", 5.0, 100.0, False),
    "wind": ("Wind", "m/s", 0.0, 25.0, False),
}
"""Columns of the form: title, unit, range in the core's unit, whether every month is needed."""
SUN_UNITS = {
    "day": ("kWh/m² a day", 1.0),
    "month": ("kWh/m² a month", 0.0),
    "mj": ("MJ/m² a day", 1 / 3.6),
    "btu": ("Btu/ft² a day", 0.0031546),
}
"""Units of the sun column and their factor to kWh/m² a day (a month's sum is divided by its days)."""
SIZE = 4000


def store_means(page: DesignPage, values: dict[str, str]) -> None:
    """Keep the half-typed form with the project."""
    if sum(len(k) + len(v) for k, v in values.items()) > SIZE:
        return
    known = {"unit", "title", *(f"{column}.{m}" for column in COLUMNS for m in range(12))}
    means = {k: v for k, v in values.items() if k in known}
    store_draft(project=page.project, author=page.user, name="means", values=means)


def means_form(page: DesignPage) -> dict[str, object]:
    """The form of twelve means as it was last typed."""
    draft = page.project.drafts.get("means", {})
    unit = draft.get("unit", "btu" if page.system == "us" else "day")
    return {
        "title": draft.get("title", ""),
        "units": [{"key": k, "words": words, "chosen": k == unit} for k, (words, _) in SUN_UNITS.items()],
        "heads": [
            {"key": key, "title": title, "sign": page.sign(unit_) if unit_ else "", "needed": needed}
            for key, (title, unit_, _, _, needed) in COLUMNS.items()
        ],
        "rows": [
            {
                "name": MONTHS[m],
                "cells": [
                    {"key": f"{c}.{m}", "value": draft.get(f"{c}.{m}", ""), "label": f"{COLUMNS[c][0]}, {MONTHS[m]}"}
                    for c in COLUMNS
                ],
            }
            for m in range(12)
        ],
        "begun": any(v for k, v in draft.items() if "." in k),
    }


def _column(page: DesignPage, draft: dict[str, str], name: str) -> tuple[float, ...] | None:
    title, unit, low, high, needed = COLUMNS[name]
    texts = [draft.get(f"{name}.{m}", "").strip() for m in range(12)]
    if not any(texts) and not needed:
        return None
    values = []
    for m, text in enumerate(texts):
        if not text:
            raise WeatherFileError("Twelve means", f"{MONTHS[m]} has no value.", None, title, "Every month needs one.")
        try:
            number = units.parse_number(text)
        except ValueError as error:
            raise WeatherFileError(
                "Twelve means", f"{units.no_number(text, error).removesuffix('.')} ({MONTHS[m]}).", None, title
            ) from error
        if name == "sun":
            kind = draft.get("unit", "day")
            number *= 1 / (HOURS_OF_MONTH[m] / 24) if kind == "month" else SUN_UNITS.get(kind, SUN_UNITS["day"])[1]
            range_text = f"{low:g} to {high:g} kWh/m² a day"
        else:
            number = units.to_core(number, unit, page.system)
            ends = [units.field_text(end, unit, page.system) for end in (low, high)]
            range_text = f"{' to '.join(ends)} {page.sign(unit)}"
        if not low <= number <= high:
            raise WeatherFileError(
                "Twelve means", f"{text} in {MONTHS[m]} is outside {range_text}.", None, title, "Check value and unit."
            )
        values.append(number)
    return tuple(values)


def means_year(page: DesignPage, seed: int = 1) -> WeatherYear:
    """The synthetic year of the means as typed, at the site's place. Raises WeatherFileError naming month and
    column."""
    draft = page.project.drafts.get("means", {})
    columns = {name: _column(page, draft, name) for name in COLUMNS}
    sun, air = columns["sun"], columns["air"]
    assert sun is not None
    assert air is not None
    more = {"daily_range_k": columns["range"], "humidity_pct": columns["humidity"], "wind_m_s": columns["wind"]}
    means = MonthlyMeans(ghi_kwh_m2_day=sun, air_c=air, **{k: v for k, v in more.items() if v is not None})
    site = page.document["site"]
    offset = standard_offset_h(site["latitude_deg"], site["longitude_deg"])
    try:
        made = synthetic_year(
            means,
            name=draft.get("title", "").strip()[:60] or "Twelve means, typed",
            latitude_deg=site["latitude_deg"],
            longitude_deg=site["longitude_deg"],
            elevation_m=site["elevation_m"],
            utc_offset_h=offset,
            seed=seed,
        )
        return with_cold_days(made) if columns["range"] is None else made
    except InputError as error:
        month = MONTHS[int(error.name.rsplit(".", 1)[1])]
        raise WeatherFileError(
            "Twelve means",
            f"the sun of {month} is more or less than this latitude can have: {error.allowed}.",
            None,
            COLUMNS["sun"][0],
            "Check the unit, the month and the hemisphere.",
        ) from error
