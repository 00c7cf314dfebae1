"""Single sheets: the drawing, the commissioning sheet, the parts list as a spreadsheet."""

import io
from typing import Any

from django.template.loader import render_to_string
from django.utils import timezone

from heat import ENGINE_VERSION
from web.reports.pdf import render_pdf
from web.reports.services import letterhead_of, next_number, told_date
from web.sheet.page import Sheet
from web.steps.paper.sections import BY_KEY, parts

FORMULA = ("=", "+", "-", "@", "\t", "\r")


def sheets_view(sheet: Sheet) -> dict[str, Any]:
    """What can be taken singly."""
    return {"conclusion": "One sheet at a time: for the wall of the plant room, the order, the day of commissioning."}


def _alone(sheet: Sheet, key: str, paper: str, landscape: bool = False) -> bytes:
    section, today = BY_KEY[key], timezone.localdate()
    common = {
        "project": sheet.project, "number": next_number(sheet.project), "date": told_date(today), "sheet": sheet,
        "title": section.title, "head": letterhead_of(sheet.project.owner), "engine": ENGINE_VERSION,
        "author": sheet.user.get_username(), "stamp": today.isoformat(),
    }  # fmt: skip
    part = render_to_string(section.template, {**common, "c": section.build(sheet)})
    return render_pdf(render_to_string("paper/report.html", {**common, "parts": [part]}), paper, landscape)


def _paper(sheet: Sheet, usual: str = "") -> str:
    asked = sheet.look.query.get("paper", "")
    return asked if asked in ("A4", "A3", "Letter") else usual or ("A4" if sheet.user.units == "si" else "Letter")


def scheme_pdf(sheet: Sheet) -> bytes:
    """The drawing with its numbers, on a sheet of its own."""
    return _alone(sheet, "drawing", _paper(sheet))


def commissioning_pdf(sheet: Sheet) -> bytes:
    """The sheet to fill in by hand."""
    return _alone(sheet, "commissioning", _paper(sheet))


def parts_sheet(sheet: Sheet) -> bytes:
    """The parts list as a spreadsheet (Office Open XML)."""
    from openpyxl import Workbook  # for the few requests that ask for one

    told = parts(sheet)
    book = Workbook()
    page = book.active
    assert page is not None
    page.title = "Parts"
    page.append(["group", "part", "quantity", f"price of one, {told['currency']}", f"sum, {told['currency']}"])
    number = lambda text: float(text.replace("\u2009", "").replace("\u202f", "").replace("−", "-"))
    for group in told["groups"]:
        for row in group["rows"]:
            words = f"'{row['words']}" if row["words"].startswith(FORMULA) else row["words"]
            page.append([group["title"], words, row["quantity"], number(row["price"]), number(row["sum"])])
    page.append(["", "total", "", "", number(told["total"])])
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()
