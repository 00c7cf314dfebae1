"""Spreadsheets (Office Open XML) written and read."""

import io
import zipfile
from collections.abc import Iterable, Sequence
from datetime import datetime
from typing import Any

from heat.common.tables import cell_of, reading
from heat.errors import HeatError

MOST_UNPACKED, MOST_PARTS = 16_000_000, 500
"""What a spreadsheet may hold unpacked (bytes), and how many files: a small one may unpack to gigabytes."""


def spreadsheet(
    title: str, rows: Iterable[Iterable[Any]], *, bold_head: bool = False, widths: Sequence[int] = ()
) -> bytes:
    """Rows as a spreadsheet of one page, every text as a cell that is no formula."""
    from openpyxl import Workbook  # for the few requests that ask for one
    from openpyxl.styles import Font
    from openpyxl.utils import get_column_letter

    book = Workbook()
    del book["Sheet"]
    page = book.create_sheet(title)
    for row in rows:
        page.append([cell_of(value) for value in row])
    if bold_head:
        for cell in page[1]:
            cell.font = Font(bold=True)
        page.freeze_panes = "C2"
    for number, width in enumerate(widths, 1):
        page.column_dimensions[get_column_letter(number)].width = width
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def is_spreadsheet(raw: bytes) -> bool:
    """Whether these bytes begin like a zip, as spreadsheets do."""
    return raw[:2] == b"PK"


def spreadsheet_rows(name: str, raw: bytes, most_rows: int, most_columns: int = 60) -> list[list[str]]:
    """The cells of a spreadsheet's first page as text. Raises HeatError."""
    from openpyxl import load_workbook

    with reading(name, "this spreadsheet"):
        with zipfile.ZipFile(io.BytesIO(raw)) as packed:
            parts = packed.infolist()
        unpacked = sum(part.file_size for part in parts)
        if unpacked > MOST_UNPACKED or len(parts) > MOST_PARTS:
            raise HeatError(
                f"{name}: unpacked this spreadsheet has {unpacked / 1e6:.0f} MB; {MOST_UNPACKED // 1_000_000} MB are "
                "read. Save the table alone, as CSV."
            )
        page = load_workbook(io.BytesIO(raw), read_only=True, data_only=True).active
        assert page is not None
        found = page.iter_rows(values_only=True, max_row=most_rows, max_col=most_columns)
        return [_trimmed([_text(cell) for cell in row]) for row in found]


def _trimmed(row: list[str]) -> list[str]:
    """A row without the empty cells at its end."""
    while row and not row[-1]:
        row.pop()
    return row


def _text(cell: Any) -> str:
    if cell is None:
        return ""
    return cell.isoformat(" ") if isinstance(cell, datetime) else str(cell)
