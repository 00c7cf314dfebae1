"""The comparison as a table to take along: CSV, and a spreadsheet."""

import csv
import io

import numpy as np

from web.sheet.page import Sheet
from web.steps.weigh.rows import GROUPS
from web.steps.weigh.side import columns_of
from web.ui import units

Cell = str | float
FORMULA = ("=", "+", "-", "@", "\t", "\r")
"""Beginnings a spreadsheet would take for a formula."""


def side_rows(sheet: Sheet) -> list[list[Cell]]:
    """A heading and every line, in the reader's units at full precision; an empty cell where there is no figure."""
    columns = columns_of(sheet)
    head: list[Cell] = ["account", "unit", *(_plain(f"{c.design.letter} {c.design.name}") for c in columns)]
    rows = [head]
    for _title, lines in GROUPS:
        for line in lines:
            sign = sheet.project.currency if line.sign == "money" else sheet.sign(line.quantity)
            cells: list[Cell] = []
            for column in columns:
                value = line.times * column.figures.get(line.figure, np.nan)
                cells.append(units.shown(value, line.quantity, sheet.system) if np.isfinite(value) else "")
            rows.append([line.words, sign, *cells])
    return rows


def _plain(text: str) -> str:
    """A text that no spreadsheet takes for a formula."""
    return f"'{text}" if text.startswith(FORMULA) else text


def side_csv(sheet: Sheet) -> str:
    """The table as CSV."""
    out = io.StringIO()
    csv.writer(out, lineterminator="\n").writerows(side_rows(sheet))
    return out.getvalue()


def side_sheet(sheet: Sheet) -> bytes:
    """The table as a spreadsheet (Office Open XML)."""
    from openpyxl import Workbook  # for the few requests that ask for one
    from openpyxl.styles import Font

    book = Workbook()
    del book["Sheet"]
    page = book.create_sheet("Designs")
    for row in side_rows(sheet):
        page.append(row)
    for cell in page[1]:
        cell.font = Font(bold=True)
    page.freeze_panes = "C2"
    page.column_dimensions["A"].width = 32
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()
