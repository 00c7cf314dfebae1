"""A report put together: which sections of which designs, in whose units, on what paper; drafts, issues, addresses."""

from base64 import b64encode
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Any

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from django.template.loader import render_to_string
from django.utils import timezone

from heat import ENGINE_VERSION
from heat.errors import HeatError
from web.accounts.requests import SignedIn
from web.editor.design_page import DesignPage
from web.editor.step import PageResult
from web.prices.books import prices_for
from web.projects.models import Design
from web.projects.permissions import require_price_book
from web.reports.models import Report
from web.reports.pdf import render_pdf
from web.reports.services import (
    MOST_DAYS,
    USUAL_DAYS,
    close_to_client,
    date_text,
    issue,
    letterhead_of,
    next_number,
    open_to_client,
    store_letterhead,
)
from web.simulations.cache import ENGINE
from web.steps.paper.played import played
from web.steps.paper.sections import BY_KEY, SECTIONS

MOST_DESIGNS, MOST_NOTE = 26, 2000
"""Designs in one report, and letters of its note."""
PAPERS = ("A4", "Letter")


@dataclass(frozen=True)
class ReportRequest:
    """What a report is to hold."""

    sections: tuple[str, ...]
    designs: tuple[str, ...]
    units: str
    paper: str
    title: str
    note: str

    def stored(self) -> dict[str, object]:
        """As it is kept with the report."""
        return {
            "sections": list(self.sections),
            "designs": list(self.designs),
            "units": self.units,
            "paper": self.paper,
            "title": self.title,
            "note": self.note,
        }


def report_request(page: DesignPage, form: Mapping[str, str], lists: Callable[[str], list[str]]) -> ReportRequest:
    """What was asked, by a form or an address; the usual where nothing was. ``lists``: values of a name."""
    keys = tuple(key for key in BY_KEY if key in lists("section")) or tuple(s.key for s in SECTIONS if s.usual)
    letters = [design.letter for design in page.project.designs.filter(archived=False)]
    chosen = tuple(letter for letter in letters if letter in lists("design")) or (page.design.letter,)
    if len(chosen) > MOST_DESIGNS:
        raise HeatError(f"A report holds {MOST_DESIGNS} designs at most: leave some out.")
    usual = "A4" if page.user.units == "si" else "Letter"
    units, paper = form.get("units", ""), form.get("paper", "")
    return ReportRequest(
        keys,
        chosen,
        units if units in ("si", "us") else page.user.units,
        paper if paper in PAPERS else usual,
        (form.get("title") or "").replace("\0", "").strip()[:120] or f"Solar heating for {page.project.name}",
        (form.get("note") or "").replace("\0", "").strip()[:MOST_NOTE],
    )


def design_pages(page: DesignPage, requested: ReportRequest) -> list[DesignPage]:
    """Each design asked for, in the units asked for. Raises HeatError where one cannot be calculated."""
    found = []
    for design in page.project.designs.filter(letter__in=requested.designs):
        design.project = page.project
        one = replace(page, design=design, units=requested.units, displayed_paths=set())
        try:
            one.year  # noqa: B018 - simulated now, so that a refusal is shown here
        except HeatError as error:
            raise HeatError(f"Design {design.letter} cannot be calculated: {error}") from error
        found.append(one)
    return found


@dataclass(frozen=True)
class Composed:
    """A report as HTML, the client's page alone, and how many parts it has."""

    html: str
    client: str
    parts: int


def composed(
    page: DesignPage, requested: ReportRequest, pages: list[DesignPage], number: int, *, draft: bool
) -> Composed:
    """A report of designs. Raises HeatError."""
    head = letterhead_of(page.project.books)
    logo = b64encode(bytes(head.logo)).decode() if head.logo else ""
    sections = [BY_KEY[key] for key in requested.sections]
    now = timezone.localtime()
    common = {
        "project": page.project,
        "number": number,
        "date": date_text(now.date()),
        "title": requested.title,
        "head": head,
        "logo": logo,
        "draft": draft,
        "note": requested.note,
        "contents": [s.title for s in sections[1:]],
        "engine": ENGINE_VERSION,
        "author": page.user.get_username(),
        "stamp": now.date().isoformat(),
    }
    write = lambda section, one: render_to_string(section.template, {**common, "page": one, "c": section.build(one)})
    parts = [write(section, one) for section in sections for one in (pages if section.own else pages[:1])]
    context = render_to_string("paper/report.html", {**common, "parts": parts})
    return Composed(context, write(BY_KEY["client"], pages[0]), len(parts))


def inputs_of(page: DesignPage, requested: ReportRequest) -> dict[str, object]:
    """Everything a report rests on."""
    file = page.project.weather
    designs = page.project.designs.filter(letter__in=requested.designs)
    return {
        "designs": {design.letter: _document(page, design) for design in designs},
        "weather": {"name": file.name, "checksum": file.checksum} if file else None,
        "prices": prices_for(page.project.books, page.document),
        "engine": ENGINE,
    }


def _document(page: DesignPage, design: Design) -> dict[str, object]:
    design.project = page.project
    return design.document()


def report_view(page: DesignPage) -> dict[str, object]:
    """What to choose, whose paper it is, and the reports that were issued."""
    typed = page.given.get("typed", {})
    try:
        requested = page.given.get("requested") or report_request(page, page.state.query, page.state.all)
    except HeatError:
        requested = report_request(page, {}, lambda name: [])
    reports = list(Report.light.filter(project=page.project))
    return {
        "sections": [{"key": s.key, "title": s.title, "chosen": s.key in requested.sections} for s in SECTIONS],
        "designs": [
            {"letter": d.letter, "name": d.name, "chosen": d.letter in requested.designs}
            for d in page.project.designs.filter(archived=False)
        ],
        "requested": requested,
        "papers": PAPERS,
        "number": next_number(page.project),
        "head": letterhead_of(page.project.books),
        "wrong": page.given.get("wrong", ""),
        "given": typed,
        "days": USUAL_DAYS,
        "most_days": MOST_DAYS,
        "reports": [{"report": report, "moved": changes_since(page, report)} for report in reports],
        "shares": page.may("edit"),
        "conclusion": _conclusion(reports),
        "printing": printing_view(page),
    }


def _conclusion(reports: list[Report]) -> str:
    if not reports:
        return "Nothing is issued yet. A draft shows what the paper would say; issuing freezes it with all it rests on."
    last = reports[0]
    return f"Report {last.number} was issued on {date_text(timezone.localtime(last.issued).date())}."


def changes_since(page: DesignPage, report: Report) -> list[str]:
    """What has changed since a report was issued, in words."""
    found = []
    stored = report.inputs
    for letter, document in stored["designs"].items():
        design = page.project.designs.filter(letter=letter).first()
        if design is None:
            found.append(f"design {letter} is gone")
        elif _document(page, design) != document:
            found.append(f"design {letter}")
    file = page.project.weather
    if stored["weather"] and (file is None or file.checksum != stored["weather"]["checksum"]):
        found.append("the weather")
    if stored["engine"] != ENGINE:
        found.append("the engine")
    if stored["prices"] != prices_for(page.project.books, page.document):
        found.append("prices")
    return found


def draft_pdf(page: DesignPage) -> bytes:
    """The report as it would be issued now. Raises HeatError."""
    requested = report_request(page, page.state.query, page.state.all)
    made = composed(page, requested, design_pages(page, requested), next_number(page.project), draft=True)
    return render_pdf(made.html, requested.paper)


def _refused(page: DesignPage, words: str, status: int = 422, **handed: Any) -> PageResult:
    return PageResult(page=page.at("report").with_given(wrong=words, **handed), step="paper", status=status)


def issued(page: DesignPage, requested: ReportRequest) -> Report:
    """A report as it is asked for, issued. Raises HeatError."""
    number = next_number(page.project)
    pages = design_pages(page, requested)
    made = composed(page, requested, pages, number, draft=False)
    return issue(
        project=page.project,
        author=page.user,
        title=requested.title,
        requested=requested.stored(),
        inputs=inputs_of(page, requested),
        number=number,
        html=made.html,
        client=made.client,
        hours=played(pages[0]),
        parts=made.parts,
    )


def issue_report(request: SignedIn, page: DesignPage) -> PageResult:
    """Issue what is asked for: numbered, dated, frozen."""
    try:
        requested = report_request(page, request.POST, request.POST.getlist)
        issued(page, requested)
    except HeatError as error:
        return _refused(page, f"Not issued: {error}")
    return PageResult(page=page.at("report").with_given(requested=requested), step="paper")


def _report(page: DesignPage, form: Any) -> Report:
    number = form.get("report", "")
    return get_object_or_404(
        Report.light, project=page.project, number=int(number) if number.isdecimal() and len(number) < 9 else 0
    )


def share(request: SignedIn, page: DesignPage) -> PageResult:
    """Open a report to its client, or close it again."""
    report = _report(page, request.POST)
    report.project = page.project
    if request.POST.get("open") != "1":
        close_to_client(report=report, author=page.user)
        return PageResult(page=page.at("report"), step="paper")
    days = request.POST.get("days", "")
    try:
        open_to_client(report=report, author=page.user, days=int(days) if days.isdecimal() and len(days) < 6 else 0)
    except HeatError as error:
        return _refused(page, str(error))
    return PageResult(page=page.at("report"), step="paper")


def set_letterhead(request: SignedIn, page: DesignPage) -> PageResult:
    """Name, address and logo of whose paper it is."""
    require_price_book(page.user, page.project)
    file = request.FILES.get("logo")
    try:
        store_letterhead(
            owner=page.project.books,
            name=request.POST.get("name", "").replace("\0", ""),
            address=request.POST.get("address", "").replace("\0", ""),
            logo=file.read() if file else None,
            without_logo=request.POST.get("without") == "1",
        )
    except HeatError as error:
        return _refused(
            page,
            str(error),
            typed={"name": request.POST.get("name", "")[:80], "address": request.POST.get("address", "")[:400]},
        )
    return PageResult(page=page.at("report"), step="paper")


def issued_pdf(page: DesignPage) -> bytes:
    """A report as it was issued, the last where none is named; before the first, a draft. Raises HeatError."""
    text = page.state.query.get("report", "")
    found = Report.objects.filter(project=page.project)
    if text:
        found = found.filter(number=int(text) if text.isdecimal() and len(text) < 9 else 0)
        if not found.exists():
            raise HeatError("There is no report of that number.")
    report = found.first()
    if report is not None and report.printed is None:
        raise HeatError(f"Report {report.number} is being printed: take it in a moment.")
    return draft_pdf(page) if report is None else bytes(report.pdf)


def printing(request: SignedIn, page: DesignPage) -> HttpResponse:
    """Whether reports of this project are still being printed, for a page that waits."""
    return HttpResponse(render_to_string("paper/printing.html", printing_view(page) | {"page": page, "asked": True}))


def printing_view(page: DesignPage) -> dict[str, object]:
    """Reports that are being printed, and for how long."""
    waiting = list(Report.light.filter(project=page.project, printed=None))
    since = max(((timezone.now() - report.issued).total_seconds() for report in waiting), default=0.0)
    return {"waiting": waiting, "since": f"{since:.0f}"}
