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
from web.editor.design_page import DesignPage
from web.editor.step import PageResult, sent_to
from web.logs.archive import logs_file
from web.presentation.certificates import missing_text
from web.presentation.drawing import drawing
from web.prices.books import csv_of, currency_of, prices_of
from web.projects.archive import project_file
from web.projects.documents import SURVEY, joined
from web.projects.services.designs import begin_design
from web.reports.pdf import DRAWN, render_pdf
from web.reports.services import date_text, letterhead_of, next_number
from web.steps.paper.sections import BY_KEY, parts
from web.ui import units
from web.ui.spreadsheets import spreadsheet

MOST_JSON = 2_000_000
"""Largest design taken (bytes)."""
FORMULA = ("=", "+", "-", "@", "\t", "\r")


def single_pages_view(page: DesignPage) -> dict[str, object]:
    """What can be taken singly."""
    return {
        "conclusion": "One sheet at a time: for the wall of the plant room, the order, the day of commissioning.",
        "problem": page.given.get("problem_here", ""),
        "whole": page.may("edit"),
        "certificates": [
            {
                "index": i,
                "fields": [
                    page.field(f"safety.certificates.{i}.{name}")
                    for name in ("of", "number", "standard", "dated", "document")
                ],
            }
            for i in range(len(page.parsed.safety.certificates))
        ],
        "missing": missing_text(page.parsed),
    }


def _alone(page: DesignPage, key: str, paper: str, landscape: bool = False) -> bytes:
    section, today = BY_KEY[key], timezone.localdate()
    common = {
        "project": page.project,
        "number": next_number(page.project),
        "date": date_text(today),
        "page": page,
        "title": section.title,
        "head": letterhead_of(page.project.books),
        "engine": ENGINE_VERSION,
        "author": page.user.get_username(),
        "stamp": today.isoformat(),
    }
    part = render_to_string(section.template, {**common, "c": section.build(page)})
    return render_pdf(render_to_string("paper/report.html", {**common, "parts": [part]}), paper, landscape)


def _paper(page: DesignPage, usual: str = "") -> str:
    requested = page.state.query.get("paper", "")
    return (
        requested if requested in ("A4", "A3", "Letter") else usual or ("A4" if page.user.units == "si" else "Letter")
    )


def scheme_pdf(page: DesignPage) -> bytes:
    """The drawing with its numbers, on a sheet of its own."""
    return _alone(page, "drawing", _paper(page))


def scheme_svg(page: DesignPage) -> str:
    """The drawing as a picture that any program opens."""
    values = {"d": drawing(page), "page": page, "read_only": True, "labelled": True}
    context = render_to_string("presentation/drawing.html", values)
    picture = context[context.index("<svg") : context.rindex("</svg>") + 6]
    return picture.replace("<svg ", '<svg xmlns="http://www.w3.org/2000/svg" ', 1).replace(">", f">{DRAWN}", 1)


def horizon_pdf(page: DesignPage) -> bytes:
    """The sky over the design's plane, with what stands before it, on a sheet of its own."""
    return _alone(page, "sun", _paper(page))


def valves_pdf(page: DesignPage) -> bytes:
    """The card of valves by season."""
    return _alone(page, "valves", _paper(page))


def feasible_pdf(page: DesignPage) -> bytes:
    """Whether it can be built, on a page."""
    return _alone(page, "feasible", _paper(page))


def commissioning_pdf(page: DesignPage) -> bytes:
    """The sheet to fill in by hand."""
    return _alone(page, "commissioning", _paper(page))


def project_zip(page: DesignPage) -> bytes:
    """The whole project as one file."""
    owner = page.project.books
    return project_file(page.project, csv_of(prices_of(owner), currency_of(owner)), logs_file(page.project))


def design_json(page: DesignPage) -> str:
    """The design's document as JSON."""
    return json.dumps(page.document, indent=1) + "\n"


def bring_design(request: SignedIn, page: DesignPage) -> PageResult | HttpResponse:
    """A document that was taken away, as a design of its own; what it asks of the survey is one edit."""
    file = request.FILES.get("file")
    here = page.at("files")
    if file is None:
        return PageResult(page=here.with_given(problem_here="Choose a file first."), step="paper", status=422)
    try:
        payload = json.loads(file.read(MOST_JSON + 1))
        if not isinstance(payload, dict):
            raise HeatError("This is no design: one JSON object is needed.")
        document = parse(joined(payload, payload) if "demand" in payload else {**page.document, **payload}).model_dump(
            mode="json"
        )
        fresh = begin_design(
            design=page.design,
            author=page.user,
            name=(file.name or "").rpartition(".")[0][:60] or "brought back",
            document={**document, **{part: page.document[part] for part in SURVEY}},
            wanted={},
            note="Brought from a file.",
        )
    except (HeatError, ValueError, RecursionError, KeyError, TypeError) as error:
        words = str(error) if isinstance(error, HeatError) else "This is no design: its JSON cannot be read."
        return PageResult(page=here.with_given(problem_here=words), step="paper", status=422)
    return sent_to(fresh, "scheme")


def parts_spreadsheet(page: DesignPage) -> bytes:
    """The parts list as a spreadsheet (Office Open XML)."""
    listed = parts(page)
    rows: list[list[Any]] = [
        [
            "group",
            "part",
            "certificate",
            "quantity",
            f"price of one, {listed['currency']}",
            f"sum, {listed['currency']}",
        ]
    ]
    for group in listed["groups"]:
        rows += [
            [
                group["title"],
                row["words"],
                row["certificate"],
                row["quantity"],
                *map(units.parse_number, (row["price"], row["sum"])),
            ]
            for row in group["rows"]
        ]
    return spreadsheet("Parts", [*rows, ["", "total", "", "", "", units.parse_number(listed["total"])]])
