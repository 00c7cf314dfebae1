"""A year to take away: its hours in two open formats, what each column holds, the design and where the weather came
from."""

import io
import json
import tempfile
import zipfile
from pathlib import Path

from heat import ENGINE_VERSION
from heat.cli import write_hours
from heat.library import hours_table
from heat.studies.figures import figures
from web.editor.design_page import DesignPage
from web.presentation.accounts import accounts_csv

UNITS = {
    "_wh": "Wh",
    "_c": "degC",
    "_share": "1",
    "_kg_h": "kg/h",
    "_kg": "kg",
    "_litres": "L",
    "_starts": "1",
    "hour": "1",
}
"""Units by the end of a column's name."""


FIGURE_UNITS = (
    ("kwh_m2", "kWh/m2"),
    ("_kwh", "kWh"),
    ("_wh", "Wh"),
    ("_kw", "kW"),
    ("_kg", "kg"),
    ("_pa", "Pa"),
    ("usable_l", "L"),
    ("contents_l", "L"),
    ("_days", "d"),
    ("days_", "d"),
    ("_h", "h"),
    ("hours_", "h"),
    ("_c", "degC"),
)
"""Units of the year's figures: the first whose part ends the name, or stands anywhere in it if it has no leading
underscore."""


def _figure_unit(name: str) -> str:
    if "fraction" in name or name == "efficiency":
        return "1"
    return next((unit for part, unit in FIGURE_UNITS if name.endswith(part) or (part[0] != "_" and part in name)), "1")


def figures_csv(page: DesignPage) -> str:
    """The year's figures for a report, full precision: name, value, unit; shares as 1."""
    found = figures(page.year.book, page.weather)
    lines = [f"{name},{float(value)!r},{_figure_unit(name)}" for name, value in found.items()]
    return "\n".join(["figure,value,unit", *lines]) + "\n"


def column_units(names: list[str]) -> str:
    """A table of the columns and their units."""
    lines = ["column,unit"]
    for name in names:
        lines.append(f"{name},{next((unit for end, unit in UNITS.items() if name.endswith(end)), '1')}")
    return "\n".join(lines) + "\n"


def year_bundle(page: DesignPage) -> bytes:
    """The bundle as a zip archive. Raises HeatError."""
    book, weather = page.year.book, page.weather
    about = {
        "project": page.project.name,
        "design": f"{page.design.letter} {page.design.name}",
        "engine": ENGINE_VERSION,
        "weather": {"name": weather.name, "made_up": weather.made_up, "checksum_sha256": weather.checksum()},
        "hours": "named by their start, local standard time; accounts in Wh in the hour",
        "residual_kwh": book.balance_kwh,
    }
    packed = io.BytesIO()
    with tempfile.TemporaryDirectory() as folder, zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as archive:
        parquet = Path(folder) / "hours.parquet"
        write_hours(book, parquet)
        table = hours_table(book)
        archive.writestr("hours.csv", table.to_csv(index=False))
        archive.write(parquet, "hours.parquet")
        archive.writestr("figures.csv", figures_csv(page))
        archive.writestr("accounts.csv", accounts_csv(page))
        archive.writestr("columns.csv", column_units(list(table.columns)))
        archive.writestr("design.json", json.dumps(page.document, indent=1, ensure_ascii=False))
        archive.writestr("about.json", json.dumps(about, indent=1, ensure_ascii=False))
    return packed.getvalue()
