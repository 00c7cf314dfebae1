"""Single sheets: the drawing, the commissioning sheet, the parts list as a spreadsheet."""

import json
from typing import Any

from django.http import HttpResponse
from django.template.loader import render_to_string
from django.utils import timezone

from heat import ENGINE_VERSION
from heat.design import parse
from heat.errors import HeatError
from web.accounts.requests import SignedIn
from web.logs.archive import logs_file
from web.present.drawing import drawing
from web.prices.books import csv_of, currency_of, prices_of
from web.projects.archive import project_file
from web.projects.documents import SURVEY, joined
from web.projects.services.designs import begin_design
from web.reports.pdf import DRAWN, render_pdf
from web.reports.services import letterhead_of, next_number, told_date
from web.sheet.page import Sheet
from web.sheet.step import Shown, sent_to
from web.steps.paper.sections import BY_KEY, parts
from web.ui.spreadsheets import spreadsheet

MOST_JSON = 2_000_000
"""Largest design taken (bytes)."""
FORMULA = ("=", "+", "-", "@", "\t", "\r")


def sheets_view(sheet: Sheet) -> dict[str, Any]:
    """What can be taken singly."""
    return {
        "conclusion": "One sheet at a time: for the wall of the plant room, the order, the day of commissioning.",
        "problem": sheet.given.get("problem_here", ""), "whole": sheet.may("edit"),
    }  # fmt: skip


def _alone(sheet: Sheet, key: str, paper: str, landscape: bool = False) -> bytes:
    section, today = BY_KEY[key], timezone.localdate()
    common = {
        "project": sheet.project, "number": next_number(sheet.project), "date": told_date(today), "sheet": sheet,
        "title": section.title, "head": letterhead_of(sheet.project.books), "engine": ENGINE_VERSION,
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


def scheme_svg(sheet: Sheet) -> str:
    """The drawing as a picture that any program opens."""
    page = render_to_string("present/drawing.html", {"d": drawing(sheet), "sheet": sheet, "read_only": True})
    picture = page[page.index("<svg") : page.rindex("</svg>") + 6]
    return picture.replace("<svg ", '<svg xmlns="http://www.w3.org/2000/svg" ', 1).replace(">", f">{DRAWN}", 1)


def horizon_pdf(sheet: Sheet) -> bytes:
    """The sky over the design's plane, with what stands before it, on a sheet of its own."""
    return _alone(sheet, "sun", _paper(sheet))


def valves_pdf(sheet: Sheet) -> bytes:
    """The card of valves by season."""
    return _alone(sheet, "valves", _paper(sheet))


def feasible_pdf(sheet: Sheet) -> bytes:
    """Whether it can be built, on a page."""
    return _alone(sheet, "feasible", _paper(sheet))


def commissioning_pdf(sheet: Sheet) -> bytes:
    """The sheet to fill in by hand."""
    return _alone(sheet, "commissioning", _paper(sheet))


def project_zip(sheet: Sheet) -> bytes:
    """The whole project as one file."""
    owner = sheet.project.books
    return project_file(sheet.project, csv_of(prices_of(owner), currency_of(owner)), logs_file(sheet.project))


def design_json(sheet: Sheet) -> str:
    """The design's document as JSON."""
    return json.dumps(sheet.document, indent=1) + "\n"


def bring_design(request: SignedIn, sheet: Sheet) -> Shown | HttpResponse:
    """A document that was taken away, as a design of its own; what it asks of the survey is one edit."""
    file = request.FILES.get("file")
    here = sheet.at("sheets")
    if file is None:
        return Shown(sheet=here.handing(problem_here="Choose a file first."), step="paper", status=422)
    try:
        told = json.loads(file.read(MOST_JSON + 1))
        if not isinstance(told, dict):
            raise HeatError("This is no design: one JSON object is needed.")
        document = parse(joined(told, told) if "demand" in told else {**sheet.document, **told}).model_dump(mode="json")
        fresh = begin_design(
            design=sheet.design, author=sheet.user, name=(file.name or "").rpartition(".")[0][:60] or "brought back",
            document={**document, **{part: sheet.document[part] for part in SURVEY}}, wanted={},
            note="Brought from a file.",
        )  # fmt: skip
    except (HeatError, ValueError, RecursionError, KeyError, TypeError) as error:
        words = str(error) if isinstance(error, HeatError) else "This is no design: its JSON cannot be read."
        return Shown(sheet=here.handing(problem_here=words), step="paper", status=422)
    return sent_to(fresh, "scheme")


def parts_sheet(sheet: Sheet) -> bytes:
    """The parts list as a spreadsheet (Office Open XML)."""
    told = parts(sheet)
    rows: list[list[Any]] = [
        ["group", "part", "quantity", f"price of one, {told['currency']}", f"sum, {told['currency']}"]
    ]
    number = lambda text: float(text.replace("\u2009", "").replace("\u202f", "").replace("−", "-"))
    for group in told["groups"]:
        rows += [
            [group["title"], row["words"], row["quantity"], number(row["price"]), number(row["sum"])]
            for row in group["rows"]
        ]
    return spreadsheet("Parts", [*rows, ["", "total", "", "", number(told["total"])]])
