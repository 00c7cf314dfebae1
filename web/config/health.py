"""A plain answer for the start script, and the pages for what is missing or broken."""

from collections.abc import Callable

from django.contrib.auth.decorators import login_not_required
from django.db import DatabaseError, connection
from django.db.migrations.executor import MigrationExecutor
from django.http import HttpRequest, HttpResponse
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


@login_not_required
def not_found(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    return render(request, "ui/problem.html", {"title": "No such page", "text": (
        "There is nothing at this address, or it belongs to another account."
    )}, status=404)  # fmt: skip


@login_not_required
def forbidden(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    """Why somebody may not: the words alone for a script, which keeps what was typed; a page for a person."""
    words = str(exception or "") or "This is not yours to do."
    if "HX-Request" in request.headers:
        return HttpResponse(words, status=403, content_type="text/plain; charset=utf-8")
    return render(request, "ui/problem.html", {"title": "Not yours to do", "text": words}, status=403)


@login_not_required
def broken(request: HttpRequest) -> HttpResponse:
    return render(request, "ui/problem.html", {"title": "Something broke", "text": (
        "The fault is ours. What you had entered before is kept; go back and try again. "
        f"If it happens again, tell whoever runs this the reference {reference.get()}."
    )}, status=500)  # fmt: skip
