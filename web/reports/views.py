"""A client's page: read by whoever has its address, while it is open; nothing else of the account is reached by it."""

from django.contrib.auth.decorators import login_not_required
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe

from web.reports.models import Report
from web.reports.services import opened


def _at(token: str) -> Report:
    found = opened(token)
    if found is None:
        raise Http404("This address is not open, or not any more.")
    return found


@login_not_required
@require_safe
def client_page(request: HttpRequest, token: str) -> HttpResponse:
    """The page in plain words, and the report to take along."""
    report = _at(token)
    answer = render(request, "reports/client.html", {"report": report, "page": report.client, "hours": report.hours})
    answer["X-Robots-Tag"] = "noindex, nofollow"
    answer["Referrer-Policy"] = "no-referrer"
    return answer


@login_not_required
@require_safe
def client_pdf(request: HttpRequest, token: str) -> HttpResponse:
    """The report as it was issued."""
    report = _at(token)
    if report.printed is None:
        return HttpResponse(
            "The report is being printed: try again in a minute.", status=503, content_type="text/plain"
        )
    answer = HttpResponse(bytes(report.pdf), content_type="application/pdf")
    answer["Content-Disposition"] = f'attachment; filename="report-{report.number}.pdf"'
    answer["X-Robots-Tag"] = "noindex, nofollow"
    return answer
