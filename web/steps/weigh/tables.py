"""The comparison as a table to take along: CSV, and a spreadsheet."""

import numpy as np

from heat.common.tables import csv_table
from web.editor.design_page import DesignPage
from web.steps.weigh.rows import GROUPS
from web.steps.weigh.side_by_side import columns_of
from web.ui import units
from web.ui.spreadsheets import spreadsheet

Cell = str | float


def side_rows(page: DesignPage) -> list[list[Cell]]:
    """A heading and every line, in the reader's units at full precision; an empty cell where there is no figure."""
    columns = columns_of(page)
    head: list[Cell] = ["account", "unit", *(f"{c.design.letter} {c.design.name}" for c in columns)]
    rows = [head]
    for _title, lines in GROUPS:
        for line in lines:
            sign = page.project.currency if line.sign == "money" else page.sign(line.quantity)
            cells: list[Cell] = []
            for column in columns:
                value = line.times * column.figures.get(line.figure, np.nan)
                cells.append(units.to_display(value, line.quantity, page.system) if np.isfinite(value) else "")
            rows.append([line.words, sign, *cells])
    return rows


def side_csv(page: DesignPage) -> str:
    """The table as CSV."""
    return csv_table(side_rows(page))


def comparison_spreadsheet(page: DesignPage) -> bytes:
    """The table as a spreadsheet (Office Open XML)."""
    return spreadsheet("Designs", side_rows(page), bold_head=True, widths=(32,))
