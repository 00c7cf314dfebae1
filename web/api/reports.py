"""Readings that come in, and reports: the part of the interface that keeps things with a date."""

from typing import Any

from django.db import transaction
from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from ninja import Router
from ninja.errors import HttpError

from web.api import schemas
from web.api.addresses import Letter, Number, file_of
from web.api.permissions import ODD, READ, WRITE, finite, idempotent, open_design, open_project, work_of
from web.editor.design_page import DesignPage
from web.logs.models import Log
from web.logs.services import add_readings
from web.logs.views import readings_of
from web.reports.models import Report
from web.steps.paper.compose import issued, report_request

router = Router()

# ---- readings


@router.post("/logs/{int:pk}/readings", response={200: schemas.Taken, **ODD}, auth=WRITE, summary="Readings of a log")
def take_readings(request: Any, pk: Number, payload: schemas.Readings) -> Any:
    """Readings into a log, as a data logger posts them; a moment that is known stays as it was."""
    log = get_object_or_404(Log.objects.select_related("project", "weather"), pk=min(pk, 2**62))
    log.project = open_project(request, log.project_id, "survey")
    made, refused = readings_of(finite(payload.readings), log)
    with transaction.atomic():
        result = add_readings(log=log, author=request.auth.user, readings=made, source="logger")
    return {
        "stored": result.stored,
        "kept": result.stored,
        "known": result.known,
        "refused": [*refused, *result.refused][:20],
    }


# ---- reports


def _report(report: Report) -> dict[str, object]:
    return {
        "number": report.number,
        "title": report.title,
        "designs": report.letters,
        "issued": report.issued,
        "printed": report.printed is not None,
        "checksum": report.checksum,
    }


@router.get("/projects/{int:pk}/reports", response={200: list[schemas.ReportOut], **ODD}, auth=READ, summary="Reports")
def list_reports(request: Any, pk: Number) -> Any:
    """The reports of a project, the last first."""
    return [_report(report) for report in Report.light.filter(project=open_project(request, pk))]


@router.post(
    "/projects/{int:pk}/designs/{letter}/reports",
    response={201: schemas.ReportOut, **ODD},
    auth=WRITE,
    summary="Issue a report",
)
def issue_report(request: Any, pk: Number, letter: Letter, payload: schemas.ReportIn) -> Any:
    """Issue a report of designs: numbered, dated, frozen. Sent again under the same Idempotency-Key header, it is the
    same report."""
    design = open_design(request, pk, letter, "edit")
    finite([payload.title, payload.note, payload.designs, payload.sections])
    page = DesignPage(design, request.auth.user)
    lists = {"section": payload.sections, "design": payload.designs}
    requested = report_request(page, payload.model_dump(include={"title", "note", "units", "paper"}), lists.__getitem__)
    again = lambda place: Report.light.get(project=design.project, number=int(place))
    with work_of(request):
        report = idempotent(request, lambda: issued(page, requested), again, lambda report: str(report.number))
    return 201, _report(report)


@router.get(
    "/projects/{int:pk}/reports/{int:number}.pdf",
    response=ODD,
    auth=READ,
    summary="A report as PDF",
    openapi_extra=file_of("application/pdf"),
)
def report_pdf(request: Any, pk: Number, number: Number) -> Any:
    """A report as it was issued."""
    report = get_object_or_404(Report, project=open_project(request, pk), number=min(number, 2**31 - 1))
    if report.printed is None:
        raise HttpError(409, "The report is being printed: ask again in a minute.")
    return HttpResponse(bytes(report.pdf), content_type="application/pdf")
