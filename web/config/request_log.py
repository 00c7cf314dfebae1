"""Every request has a reference: in its answer, in the log, on the page when something broke; slow ones are logged."""

import json
import logging
import re
import secrets
from collections.abc import Callable
from contextvars import ContextVar
from datetime import UTC, datetime
from time import perf_counter

from django.http import HttpRequest, HttpResponse

SLOW_S = 2.0
"""A request that takes longer is logged (s)."""
GIVEN = re.compile(r"[A-Za-z0-9_-]{8,40}")
reference: ContextVar[str] = ContextVar("reference", default="")
log = logging.getLogger("web.requests")
security = logging.getLogger("web.security")


def watched(answer: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """Give each request a reference, a proxy's where it sends one; log slow and broken ones."""

    def watch(request: HttpRequest) -> HttpResponse:
        given = request.headers.get("X-Request-ID", "")
        token = reference.set(given if GIVEN.fullmatch(given) else secrets.token_hex(6))
        start = perf_counter()
        try:
            response = answer(request)
            took = perf_counter() - start
            response["X-Request-ID"] = reference.get()
            user = getattr(request, "user", None)
            if response.status_code in (401, 403):
                security.info(
                    "%s %s refused with %s",
                    request.method,
                    request.path[:200],
                    response.status_code,
                    extra={
                        "method": request.method,
                        "path": request.path[:200],
                        "status": response.status_code,
                        "person": getattr(user, "pk", None),
                    },
                )
            if took > SLOW_S or response.status_code >= 500:
                log.warning(
                    "%s %s answered %s in %.2f s",
                    request.method,
                    request.path[:200],
                    response.status_code,
                    took,
                    extra={
                        "method": request.method,
                        "path": request.path[:200],
                        "status": response.status_code,
                        "seconds": round(took, 3),
                        "person": getattr(user, "pk", None),
                    },
                )
            return response
        finally:
            reference.reset(token)

    return watch


class Reference(logging.Filter):
    """Puts the request's reference on every line of the log."""

    def filter(self, record: logging.LogRecord) -> bool:
        record.reference = reference.get() or "-"
        return True


class AsJson(logging.Formatter):
    """A line of the log as one JSON object."""

    MOST_LISTED = ("method", "path", "status", "seconds", "person")

    def format(self, record: logging.LogRecord) -> str:
        entry = {
            "at": datetime.fromtimestamp(record.created, UTC).isoformat(timespec="milliseconds"),
            "level": record.levelname,
            "from": record.name,
            "reference": getattr(record, "reference", "-"),
            "message": record.getMessage(),
        }
        entry |= {name: getattr(record, name) for name in self.MOST_LISTED if hasattr(record, name)}
        if record.exc_info:
            entry["trace"] = self.formatException(record.exc_info)
        return json.dumps(entry, ensure_ascii=False, default=str)
