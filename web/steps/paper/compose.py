"""A report put together: which sections of which designs, in whose units, on what paper; drafts, issues, addresses."""

from base64 import b64encode
from dataclasses import dataclass, replace
from typing import Any

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from django.template.loader import render_to_string
from django.utils import timezone

from heat import ENGINE_VERSION
from heat.errors import HeatError
from web.accounts.requests import SignedIn
from web.prices.books import prices_for
from web.projects.models import Design
from web.projects.permissions import ask_books
from web.reports.models import Report
from web.reports.pdf import render_pdf
from web.reports.services import (
    MOST_DAYS,
    USUAL_DAYS,
    close_to_client,
    issue,
    keep_letterhead,
    letterhead_of,
    next_number,
    open_to_client,
    told_date,
)  # fmt: skip
from web.sheet.page import Sheet
from web.sheet.step import Shown
from web.steps.paper.played import played
from web.steps.paper.sections import BY_KEY, SECTIONS
from web.years.reckoned import ENGINE

MOST_DESIGNS, MOST_NOTE = 26, 2000
"""Designs in one report, and letters of its note."""
PAPERS = ("A4", "Letter")


@dataclass(frozen=True)
class Asked:
    """What a report is to hold."""

    sections: tuple[str, ...]
    designs: tuple[str, ...]
    units: str
    paper: str
    title: str
    note: str

    def kept(self) -> dict[str, Any]:
        """As it is kept with the report."""
        return {"sections": list(self.sections), "designs": list(self.designs), "units": self.units,
                "paper": self.paper, "title": self.title, "note": self.note}  # fmt: skip


def asked_of(sheet: Sheet, told: Any, lists: Any) -> Asked:
    """What was asked, by a form or an address; the usual where nothing was. ``lists``: values of a name."""
    keys = tuple(key for key in BY_KEY if key in lists("section")) or tuple(s.key for s in SECTIONS if s.usual)
    letters = [design.letter for design in sheet.project.designs.filter(archived=False)]
    chosen = tuple(letter for letter in letters if letter in lists("design")) or (sheet.design.letter,)
    if len(chosen) > MOST_DESIGNS:
        raise HeatError(f"A report holds {MOST_DESIGNS} designs at most: leave some out.")
    usual = "A4" if sheet.user.units == "si" else "Letter"
    return Asked(
        keys, chosen, told.get("units") if told.get("units") in ("si", "us") else sheet.user.units,
        told.get("paper") if told.get("paper") in PAPERS else usual,
        (told.get("title") or "").replace("\0", "").strip()[:120] or f"Solar heating for {sheet.project.name}",
        (told.get("note") or "").replace("\0", "").strip()[:MOST_NOTE],
    )  # fmt: skip


def sheets_of(sheet: Sheet, asked: Asked) -> list[Sheet]:
    """Each design asked for, in the units asked for. Raises HeatError where one cannot be reckoned."""
    found = []
    for design in sheet.project.designs.filter(letter__in=asked.designs):
        design.project = sheet.project
        one = replace(sheet, design=design, units=asked.units, shown_paths=set())
        try:
            one.year  # noqa: B018 - reckoned now, so that it is told here
        except HeatError as error:
            raise HeatError(f"Design {design.letter} cannot be reckoned: {error}") from error
        found.append(one)
    return found


@dataclass(frozen=True)
class Composed:
    """A report as HTML, the client's page alone, and how many parts it has."""

    html: str
    client: str
    parts: int


def composed(sheet: Sheet, asked: Asked, sheets: list[Sheet], number: int, *, draft: bool) -> Composed:
    """A report of designs. Raises HeatError."""
    head = letterhead_of(sheet.project.books)
    logo = b64encode(bytes(head.logo)).decode() if head.logo else ""
    sections = [BY_KEY[key] for key in asked.sections]
    now = timezone.localtime()
    common = {
        "project": sheet.project, "number": number, "date": told_date(now.date()), "title": asked.title, "head": head,
        "logo": logo, "draft": draft, "note": asked.note, "contents": [s.title for s in sections[1:]],
        "engine": ENGINE_VERSION, "author": sheet.user.get_username(), "stamp": now.date().isoformat(),
    }  # fmt: skip
    write = lambda section, one: render_to_string(section.template, {**common, "sheet": one, "c": section.build(one)})
    parts = [write(section, one) for section in sections for one in (sheets if section.own else sheets[:1])]
    page = render_to_string("paper/report.html", {**common, "parts": parts})
    return Composed(page, write(BY_KEY["client"], sheets[0]), len(parts))


def inputs_of(sheet: Sheet, asked: Asked) -> dict[str, Any]:
    """Everything a report rests on."""
    file = sheet.project.weather
    designs = sheet.project.designs.filter(letter__in=asked.designs)
    return {
        "designs": {design.letter: _document(sheet, design) for design in designs},
        "weather": {"name": file.name, "checksum": file.checksum} if file else None,
        "prices": prices_for(sheet.project.books, sheet.document), "engine": ENGINE,
    }  # fmt: skip


def _document(sheet: Sheet, design: Design) -> dict[str, Any]:
    design.project = sheet.project
    return design.document()


def report_view(sheet: Sheet) -> dict[str, Any]:
    """What to choose, whose paper it is, and the reports that were issued."""
    told = sheet.given.get("typed", {})
    try:
        asked = sheet.given.get("asked") or asked_of(sheet, sheet.look.query, sheet.look.all)
    except HeatError:
        asked = asked_of(sheet, {}, lambda name: [])
    reports = list(Report.light.filter(project=sheet.project))
    return {
        "sections": [{"key": s.key, "title": s.title, "chosen": s.key in asked.sections} for s in SECTIONS],
        "designs": [{"letter": d.letter, "name": d.name, "chosen": d.letter in asked.designs}
                    for d in sheet.project.designs.filter(archived=False)],
        "asked": asked, "papers": PAPERS, "number": next_number(sheet.project),
        "head": letterhead_of(sheet.project.books),
        "wrong": sheet.given.get("wrong", ""), "told": told, "days": USUAL_DAYS, "most_days": MOST_DAYS,
        "reports": [{"report": report, "moved": moved(sheet, report)} for report in reports],
        "shares": sheet.may("edit"), "conclusion": _conclusion(reports), "printing": printing_view(sheet),
    }  # fmt: skip


def _conclusion(reports: list[Report]) -> str:
    if not reports:
        return "Nothing is issued yet. A draft shows what the paper would say; issuing freezes it with all it rests on."
    last = reports[0]
    return f"Report {last.number} was issued on {told_date(timezone.localtime(last.issued).date())}."


def moved(sheet: Sheet, report: Report) -> list[str]:
    """What has changed since a report was issued, in words."""
    found = []
    kept = report.inputs
    for letter, document in kept["designs"].items():
        design = sheet.project.designs.filter(letter=letter).first()
        if design is None:
            found.append(f"design {letter} is gone")
        elif _document(sheet, design) != document:
            found.append(f"design {letter}")
    file = sheet.project.weather
    if kept["weather"] and (file is None or file.checksum != kept["weather"]["checksum"]):
        found.append("the weather")
    if kept["engine"] != ENGINE:
        found.append("the engine")
    if kept["prices"] != prices_for(sheet.project.books, sheet.document):
        found.append("prices")
    return found


def draft_pdf(sheet: Sheet) -> bytes:
    """The report as it would be issued now. Raises HeatError."""
    asked = asked_of(sheet, sheet.look.query, sheet.look.all)
    made = composed(sheet, asked, sheets_of(sheet, asked), next_number(sheet.project), draft=True)
    return render_pdf(made.html, asked.paper)


def _refused(sheet: Sheet, words: str, status: int = 422, **handed: Any) -> Shown:
    return Shown(sheet=sheet.at("report").handing(wrong=words, **handed), step="paper", status=status)


def issued(sheet: Sheet, asked: Asked) -> Report:
    """A report as it is asked for, issued. Raises HeatError."""
    number = next_number(sheet.project)
    sheets = sheets_of(sheet, asked)
    made = composed(sheet, asked, sheets, number, draft=False)
    return issue(project=sheet.project, author=sheet.user, title=asked.title, asked=asked.kept(),
                 inputs=inputs_of(sheet, asked), number=number, html=made.html, client=made.client,
                 hours=played(sheets[0]), parts=made.parts)  # fmt: skip


def issue_report(request: SignedIn, sheet: Sheet) -> Shown:
    """Issue what is asked for: numbered, dated, frozen."""
    try:
        asked = asked_of(sheet, request.POST, request.POST.getlist)
        issued(sheet, asked)
    except HeatError as error:
        return _refused(sheet, f"Not issued: {error}")
    return Shown(sheet=sheet.at("report").handing(asked=asked), step="paper")


def _report(sheet: Sheet, told: Any) -> Report:
    number = told.get("report", "")
    return get_object_or_404(Report.light, project=sheet.project,
                             number=int(number) if number.isdecimal() and len(number) < 9 else 0)  # fmt: skip


def share(request: SignedIn, sheet: Sheet) -> Shown:
    """Open a report to its client, or close it again."""
    report = _report(sheet, request.POST)
    report.project = sheet.project
    if request.POST.get("open") != "1":
        close_to_client(report=report, author=sheet.user)
        return Shown(sheet=sheet.at("report"), step="paper")
    days = request.POST.get("days", "")
    try:
        open_to_client(report=report, author=sheet.user, days=int(days) if days.isdecimal() and len(days) < 6 else 0)
    except HeatError as error:
        return _refused(sheet, str(error))
    return Shown(sheet=sheet.at("report"), step="paper")


def set_letterhead(request: SignedIn, sheet: Sheet) -> Shown:
    """Name, address and logo of whose paper it is."""
    ask_books(sheet.user, sheet.project)
    file = request.FILES.get("logo")
    try:
        keep_letterhead(
            owner=sheet.project.books, name=request.POST.get("name", "").replace("\0", ""),
            address=request.POST.get("address", "").replace("\0", ""), logo=file.read() if file else None,
            without_logo=request.POST.get("without") == "1",
        )  # fmt: skip
    except HeatError as error:
        return _refused(sheet, str(error), typed={"name": request.POST.get("name", "")[:80],
                                                  "address": request.POST.get("address", "")[:400]})  # fmt: skip
    return Shown(sheet=sheet.at("report"), step="paper")


def issued_pdf(sheet: Sheet) -> bytes:
    """A report as it was issued, the last where none is named; before the first, a draft. Raises HeatError."""
    told = sheet.look.query.get("report", "")
    found = Report.objects.filter(project=sheet.project)
    if told:
        found = found.filter(number=int(told) if told.isdecimal() and len(told) < 9 else 0)
        if not found.exists():
            raise HeatError("There is no report of that number.")
    report = found.first()
    if report is not None and report.printed is None:
        raise HeatError(f"Report {report.number} is being printed: take it in a moment.")
    return draft_pdf(sheet) if report is None else bytes(report.pdf)


def printing(request: SignedIn, sheet: Sheet) -> HttpResponse:
    """Whether reports of this project are still being printed, for a page that waits."""
    return HttpResponse(render_to_string("paper/printing.html", printing_view(sheet) | {"sheet": sheet}))


def printing_view(sheet: Sheet) -> dict[str, Any]:
    """Reports that are being printed, and for how long."""
    waiting = list(Report.light.filter(project=sheet.project, printed=None))
    since = max(((timezone.now() - report.issued).total_seconds() for report in waiting), default=0.0)
    return {"waiting": waiting, "since": f"{since:.0f}"}
