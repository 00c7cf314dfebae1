"""A plain answer for the start script, and the pages for what is missing or broken."""

import sys
from collections.abc import Callable
from functools import lru_cache
from time import monotonic

from django.contrib.auth.decorators import login_not_required
from django.db import DatabaseError, InterfaceError, OperationalError, connection
from django.db.migrations.executor import MigrationExecutor
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import render
from django.template.loader import render_to_string
from django.views.decorators.http import require_safe
from psycopg.errors import DiskFull

from web.config.request_log import reference
from web.ui.exclusive import Busy

LOOPBACK = ("127.0.0.1", "::1")
AWAY: tuple[tuple[tuple[type[BaseException], ...], str], ...] = (
    ((DiskFull,), "The server has no room left on its disk. Nothing that was acknowledged is lost."),
    ((Busy,), "The server is busy with others’ work of this kind. Nothing was done."),
    (
        (OperationalError, InterfaceError),
        "The database does not answer just now. Nothing that was acknowledged is lost.",
    ),
)
"""What may be away for a while, by the errors it shows as, and the words for it."""
READY_S = 2.0
"""Seconds for which an answer of /ready stands."""
_stood = False


def health_first(answer: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """From this machine itself /health and /ready are answered whatever host and scheme they are asked by; what a
    proxy passes on is not from this machine."""

    def first(request: HttpRequest) -> HttpResponse:
        own = request.META.get("REMOTE_ADDR") in LOOPBACK and "X-Forwarded-For" not in request.headers
        view = {"/health": health, "/ready": ready}.get(request.path) if own else None
        return view(request) if view else answer(request)

    return first


@login_not_required
@require_safe
def health(request: HttpRequest) -> HttpResponse:
    return HttpResponse("red-ledger", content_type="text/plain")


@login_not_required
@require_safe
def ready(request: HttpRequest) -> HttpResponse:
    """Whether work can be done here: the database answers and stands where this version wants it. Looked up every few
    seconds at most, however often it is asked."""
    why = _not_ready(monotonic() // READY_S)
    return HttpResponse(why or "ready", status=503 if why else 200, content_type="text/plain")


@lru_cache(1)
def _not_ready(moment: float) -> str:
    """Why no work can be done, at a moment (in steps of some seconds); empty where it can."""
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT 1")
        return "" if _migrated() else "migrations wait"
    except DatabaseError:
        return "the database does not answer"


def _migrated() -> bool:
    """Whether the database has every migration of this version; once it has, it is not looked up again."""
    global _stood
    if not _stood:
        executor = MigrationExecutor(connection)
        _stood = not executor.migration_plan(executor.loader.graph.leaf_nodes())
    return _stood


def _describe(request: HttpRequest, title: str, text: str, status: int) -> HttpResponse:
    """Words on a page for a person, alone for a script of a page, as JSON for a program."""
    if request.path.startswith("/api/"):
        return JsonResponse({"error": text, "where": ""}, status=status)
    if "HX-Request" in request.headers and status == 403:
        return HttpResponse(text, status=status, content_type="text/plain; charset=utf-8")
    return render(request, "ui/problem.html", {"title": title, "text": text}, status=status)


@login_not_required
def not_found(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    return _describe(
        request, "No such page", "There is nothing at this address, or it belongs to another account.", 404
    )


@login_not_required
def forbidden(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    """Why somebody may not; a script of a page keeps what was typed."""
    return _describe(request, "Not yours to do", str(exception or "") or "This is not yours to do.", 403)


@login_not_required
def broken(request: HttpRequest) -> HttpResponse:
    """Something broke: a part that is away for now, or a fault of ours."""
    words = unavailable(sys.exc_info()[1])
    if words:
        return _without_database(request, words)
    words = (
        "The fault is ours. What you had entered before is kept; go back and try again. "
        f"If it happens again, tell whoever runs this the reference {reference.get()}."
    )
    return _describe(request, "Something broke", words, 500)


def unavailable(error: BaseException | None) -> str:
    """What is away for now, in words, where an error comes of that: the database, room on its disk, or a turn."""
    chain: list[BaseException] = []
    while error is not None and error not in chain:
        chain.append(error)
        error = error.__cause__ or error.__context__
    for kinds, words in AWAY:
        if any(isinstance(one, kinds) for one in chain):
            return words
    return ""


def _without_database(request: HttpRequest, words: str) -> HttpResponse:
    """503 in words, made of nothing that asks the database: who asks is not looked up."""
    words = f"{words} Try again in a moment."
    if request.path.startswith("/api/"):
        answer: HttpResponse = JsonResponse({"error": words, "where": ""}, status=503)
    elif "HX-Request" in request.headers or "text/html" not in request.headers.get("Accept", "text/html"):
        answer = HttpResponse(words, status=503, content_type="text/plain; charset=utf-8")
    else:
        page = render_to_string("ui/problem.html", {"title": "Away for a moment", "text": words})
        answer = HttpResponse(page, status=503)
    answer["Retry-After"] = "5"
    return answer
