"""A plain answer for the start script, and the pages for what is missing or broken."""

from collections.abc import Callable

from django.contrib.auth.decorators import login_not_required
from django.db import DatabaseError, connection
from django.db.migrations.executor import MigrationExecutor
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe

from web.config.watch import reference


def health_first(answer: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """From this machine itself /health and /ready are answered whatever host and scheme they are asked by."""

    def first(request: HttpRequest) -> HttpResponse:
        own = request.META.get("REMOTE_ADDR") in ("127.0.0.1", "::1")
        told = {"/health": health, "/ready": ready}.get(request.path) if own else None
        return told(request) if told else answer(request)

    return first


@login_not_required
@require_safe
def health(request: HttpRequest) -> HttpResponse:
    return HttpResponse("red-ledger", content_type="text/plain")


@login_not_required
@require_safe
def ready(request: HttpRequest) -> HttpResponse:
    """Whether work can be done here: the database answers and stands where this version wants it."""
    try:
        behind = MigrationExecutor(connection).migration_plan(MigrationExecutor(connection).loader.graph.leaf_nodes())
    except DatabaseError:
        return HttpResponse("the database does not answer", status=503, content_type="text/plain")
    if behind:
        return HttpResponse(f"{len(behind)} migrations wait", status=503, content_type="text/plain")
    return HttpResponse("ready", content_type="text/plain")


def _told(request: HttpRequest, title: str, text: str, status: int) -> HttpResponse:
    """Words on a page for a person, alone for a script of a page, as JSON for a program."""
    if request.path.startswith("/api/"):
        return JsonResponse({"error": text, "where": ""}, status=status)
    if "HX-Request" in request.headers and status == 403:
        return HttpResponse(text, status=status, content_type="text/plain; charset=utf-8")
    return render(request, "ui/problem.html", {"title": title, "text": text}, status=status)


@login_not_required
def not_found(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    return _told(request, "No such page", "There is nothing at this address, or it belongs to another account.", 404)


@login_not_required
def forbidden(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    """Why somebody may not; a script of a page keeps what was typed."""
    return _told(request, "Not yours to do", str(exception or "") or "This is not yours to do.", 403)


@login_not_required
def broken(request: HttpRequest) -> HttpResponse:
    words = (
        "The fault is ours. What you had entered before is kept; go back and try again. "
        f"If it happens again, tell whoever runs this the reference {reference.get()}."
    )
    return _told(request, "Something broke", words, 500)
