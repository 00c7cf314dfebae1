"""What a data logger posts, and the calendar of a project's upkeep: each by a key of its own, nothing else."""

import json
from datetime import datetime
from typing import Any

from django.contrib.auth.decorators import login_not_required
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.views.decorators.csrf import csrf_exempt
from django.views.decorators.http import require_POST, require_safe

from heat.errors import HeatError
from web.logs.models import Log, moment_of
from web.logs.services import MOST_SENSORS, IncomingReading, add_readings, log_of_token
from web.logs.upkeep import calendar_at, calendar_of
from web.ui.rows import Row
from web.ui.texts import cleaned

MOST_BYTES, MOST_AT_ONCE = 2_000_000, 5_000
"""Largest post of a logger (bytes), and readings in it."""
MOST_REFUSED, LONGEST_NAME = 20, 20


@csrf_exempt
@login_not_required
@require_POST
def take_readings(request: HttpRequest, pk: int) -> JsonResponse:
    """Readings of a logger: ``{"readings": [{"at": "2026-05-02T10:15:00", "collector": 54.2, "store": [31, 42]}]}``.

    Moments in local standard time, or with an offset; values in °C, kg/h, W/m², L, pump 0 to 1. A moment that is known
    stays as it was, so that a post may be sent again.
    """
    kind, _, token = request.headers.get("Authorization", "").partition(" ")
    log = log_of_token(pk, token.strip()) if kind.lower() == "bearer" and token else None
    if log is None:
        return JsonResponse({"error": "This key opens no such log."}, status=401)
    if int(request.META.get("CONTENT_LENGTH") or 0) > MOST_BYTES:
        return JsonResponse({"error": f"A post holds {MOST_BYTES // 1_000_000} MB at most."}, status=413)
    try:
        payload = json.loads(request.body)
        rows = payload["readings"]
        if not isinstance(rows, list) or len(rows) > MOST_AT_ONCE:
            raise HeatError(f"“readings” is a list of {MOST_AT_ONCE} at most.")
    except HeatError as error:
        return JsonResponse({"error": str(error)}, status=422)
    except (ValueError, KeyError, TypeError, RecursionError):
        return JsonResponse({"error": "One JSON object with a list “readings” is needed."}, status=422)
    made, refused = readings_of(rows, log)
    try:
        result = add_readings(log=log, author=None, readings=made, source="logger")
    except HeatError as error:
        return JsonResponse({"error": str(error)}, status=409)
    return JsonResponse(
        {
            "stored": result.stored,
            "kept": result.stored,  # the earlier name, for loggers set up before
            "known": result.known,
            "refused": [*refused, *result.refused][:MOST_REFUSED],
            "refused_count": len(refused) + len(result.refused),
        }
    )


def readings_of(rows: list[Any], log: Log) -> tuple[list[IncomingReading], list[str]]:
    """Readings as they came, and words on those that are none."""
    made, refused = [], []
    for number, row in enumerate(rows):
        try:
            made.append(_describe(row, log))
        except (ValueError, KeyError, TypeError, OverflowError, AttributeError, RecursionError):
            refused.append(f"reading {number + 1}: “at” and numbers by name are needed")
    return made, refused


def _describe(row: Row, log: Log) -> IncomingReading:
    at = datetime.fromisoformat(row["at"])
    if at.tzinfo is None:
        at = moment_of(at, log.offset_h)
    store = row.get("store", [])
    values = {
        cleaned(name, LONGEST_NAME): float(value)
        for name, value in row.items()
        if name not in ("at", "store", "remark") and value is not None
    }
    values |= {f"s{i}": float(value) for i, value in enumerate(store[: MOST_SENSORS + 1]) if value is not None}
    return IncomingReading(at, values, cleaned(str(row.get("remark", "")), 300))


@login_not_required
@require_safe
def calendar(request: HttpRequest, token: str) -> HttpResponse:
    """A project's upkeep as a calendar (iCalendar, RFC 5545)."""
    found = calendar_at(token)
    if found is None:
        raise Http404("There is no calendar here.")
    answer = HttpResponse(calendar_of(found.project), content_type="text/calendar; charset=utf-8")
    answer["X-Robots-Tag"] = "noindex, nofollow"
    answer["Referrer-Policy"] = "no-referrer"
    return answer
