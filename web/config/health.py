"""A plain answer for the start script, and the pages for what is missing or broken."""

from collections.abc import Callable

from django.contrib.auth.decorators import login_not_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe


def health_first(answer: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """From this machine itself /health is answered whatever host and scheme it is asked by."""

    def first(request: HttpRequest) -> HttpResponse:
        own = request.META.get("REMOTE_ADDR") in ("127.0.0.1", "::1")
        return health(request) if own and request.path == "/health" else answer(request)

    return first


@login_not_required
@require_safe
def health(request: HttpRequest) -> HttpResponse:
    return HttpResponse("red-ledger", content_type="text/plain")


@login_not_required
def not_found(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    return render(request, "ui/problem.html", {"title": "No such page", "text": (
        "There is nothing at this address, or it belongs to another account."
    )}, status=404)  # fmt: skip


@login_not_required
def broken(request: HttpRequest) -> HttpResponse:
    return render(request, "ui/problem.html", {"title": "Something broke", "text": (
        "The fault is ours. What you had entered before is kept; go back and try again."
    )}, status=500)  # fmt: skip
