"""Who asks by a program: a key's person, what the key is for, and refusals in the same words as on the page."""

import json
from collections.abc import Callable
from contextlib import AbstractContextManager
from functools import wraps
from hashlib import sha256
from math import isfinite
from typing import Any

from django.contrib.auth.decorators import login_not_required
from django.core.exceptions import PermissionDenied
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from ninja import NinjaAPI, Schema
from ninja.errors import AuthenticationError, HttpError, ValidationError
from ninja.security import HttpBearer

from heat.errors import HeatError, InputError
from web.accounts.models import Token
from web.accounts.tokens import token_of
from web.jobs.limits import TooMuch, metered
from web.projects.models import Design, Project
from web.projects.permissions import Need, design_for, project_for
from web.projects.services.edits import Conflict, Needed
from web.projects.services.idempotency import done_once
from web.ui.texts import cleaned

DEEPEST, MOST_VALUES, LONGEST_LIST, LONGEST_TEXT, LARGEST = 40, 60_000, 9000, 20_000, 1e15
"""What a body may hold: nesting, values in all, of a list (a year has 8,760 hours), letters of a text, and numbers."""
MOST_BODY, LONGEST_WORDS = 1_000_000, 400
"""Bytes of a JSON body, and letters of a refusal's words: what was sent is not sent back."""
TAKEN = ("application/json", "multipart/form-data")


class KeyedRequest(HttpRequest):
    """A request with the key it brought."""

    auth: Token


class Refused(Schema):
    """Why something was not done."""

    error: str
    where: str = ""


class Key(HttpBearer):
    """A key that is open and is for this: ``Authorization: Bearer rl_…``."""

    def __init__(self, scope: str) -> None:
        super().__init__()
        self.scope = scope

    def authenticate(self, request: HttpRequest, token: str) -> Token | None:
        key = token_of(token)
        if key is None:
            return None
        if self.scope and self.scope not in key.scopes:
            raise HttpError(403, f"This key is not for “{self.scope}”: make one that is.")
        length = request.META.get("CONTENT_LENGTH") or "0"
        if request.content_type != "multipart/form-data" and int(length) > MOST_BODY:  # limits() knows it is a number
            raise HttpError(413, f"A body has {MOST_BODY // 1_000_000} MB at most.")
        if request.method in ("POST", "PATCH") and request.content_type not in TAKEN:
            raise HttpError(415, "Send JSON, with the content type application/json; a file as multipart/form-data.")
        request.user = key.user
        return key


READ, WRITE, SIMULATE = Key("read"), Key("write"), Key("simulate")
ODD = dict.fromkeys((400, 401, 403, 404, 409, 413, 415, 422, 429), Refused)
"""Refusals that any address may answer with."""


def open_project(request: Any, pk: int, need: Need = "view") -> Project:
    """The project of a number, for the key's person and within what the key is for."""
    if request.auth.project not in (None, pk) or pk > 2**62:
        raise Http404
    return project_for(request.auth.user, pk, need)


def open_design(request: Any, pk: int, letter: str, need: Need = "view") -> Design:
    """The design of a letter, for the key's person and within what the key is for."""
    if request.auth.project not in (None, pk) or pk > 2**62 or "\0" in letter:
        raise Http404
    return design_for(request.auth.user, pk, letter, need)


def whole_project(request: Any) -> None:
    """Raises where the key is for one project alone."""
    if request.auth.project is not None:
        raise HttpError(403, "This key is for one project alone.")


def work_of(request: Any) -> AbstractContextManager[None]:
    """Count what a request of a program takes."""
    return metered(request.auth.user, request.auth.pk)


def idempotent(request: Any, run: Callable[[], Any], again: Callable[[str], Any], place: Callable[[Any], str]) -> Any:
    """What ``run`` makes, once under an ``Idempotency-Key`` of the request; asked again, what ``again`` finds at its
    ``place``."""
    given = request.headers.get("Idempotency-Key", "").strip()
    if not given:
        return run()
    if len(given) > 200:
        raise HttpError(422, "An Idempotency-Key has 200 letters at most.")
    key = sha256(f"{request.auth.pk} {request.method} {request.path} {given}".encode()).hexdigest()[:40]

    def made() -> tuple[Any, bool, str]:
        answer = run()
        return answer, True, place(answer)

    return done_once(author=request.auth.user, key=key, run=made, again=again)


def finite(value: Any) -> Any:
    """JSON values as they may be kept. Raises HttpError for what no database holds, or is larger than any design."""
    left = [(value, 1)]
    count = 0
    while left:
        one, depth = left.pop()
        count += 1
        if depth > DEEPEST or count > MOST_VALUES:
            raise HttpError(422, f"At most {MOST_VALUES} values, nested {DEEPEST} deep, are taken at once.")
        if isinstance(one, dict):
            left += [(name, depth) for name in one] + [(part, depth + 1) for part in one.values()]
        elif isinstance(one, list):
            if len(one) > LONGEST_LIST:
                raise HttpError(422, f"A list has {LONGEST_LIST} values at most; one has {len(one)}.")
            left += [(part, depth + 1) for part in one]
        elif isinstance(one, str):
            _written(one)
        elif isinstance(one, int | float) and not (isfinite(one) and abs(one) <= LARGEST):
            raise HttpError(422, f"Numbers must be finite and within ±{LARGEST:g}.")
    return value


def _written(text: str) -> None:
    """Raises HttpError for a text no database holds: emoji are well, half of one and zero letters are not."""
    if len(text) > LONGEST_TEXT:
        raise HttpError(422, f"A text has {LONGEST_TEXT} letters at most; one has {len(text)}.")
    if cleaned(text) != text:
        raise HttpError(422, "A text holds a zero letter or half of a letter (a lone surrogate).")


def answering(api: NinjaAPI) -> None:
    """Refusals as JSON, each with its words."""

    def refuse(request: HttpRequest, status: int, words: str, where: str = "") -> HttpResponse:
        cut = words if len(words) <= LONGEST_WORDS else f"{words[:LONGEST_WORDS]} …"
        return api.create_response(request, {"error": cleaned(cut), "where": cleaned(where[:200])}, status=status)

    def text(status: int) -> Callable[[HttpRequest, Any], HttpResponse]:
        def answer(request: HttpRequest, error: Any) -> HttpResponse:
            where = error.name if isinstance(error, InputError) else ""
            return refuse(request, status, str(error) or "Not done.", where)

        return answer

    def plainly(status: int, words: str) -> Callable[[HttpRequest, Any], HttpResponse]:
        return lambda request, error: refuse(request, status, words)

    def invalid(request: HttpRequest, error: Any) -> HttpResponse:
        first = error.errors[0] if error.errors else {}
        where = ".".join(str(part) for part in first.get("loc", ()) if part not in ("body", "told"))
        return refuse(request, 422, str(first.get("msg", "Not valid.")), where)

    def http(request: HttpRequest, error: Any) -> HttpResponse:
        return refuse(request, error.status_code, str(error))

    def conflict(request: HttpRequest, error: Any) -> HttpResponse:
        words = f"This changed meanwhile; it is now {json.dumps(error.current)[:200]}."
        return refuse(request, 409, words, error.path)

    def needed(request: HttpRequest, error: Any) -> HttpResponse:
        words = f"Designs {', '.join(error.letters)} would no longer be calculated: {error.reason}"
        return refuse(request, 409, words)

    api.add_exception_handler(HeatError, text(422))
    api.add_exception_handler(PermissionDenied, text(403))
    api.add_exception_handler(TooMuch, text(429))
    api.add_exception_handler(
        Http404, plainly(404, "There is nothing at this address, or it is not this key's to see.")
    )
    api.add_exception_handler(AuthenticationError, plainly(401, "This key opens nothing, or not any more."))
    api.add_exception_handler(ValidationError, invalid)
    api.add_exception_handler(HttpError, http)
    api.add_exception_handler(Conflict, conflict)
    api.add_exception_handler(Needed, needed)


def opened(patterns: list[Any]) -> list[Any]:
    """Addresses of the interface, each of which asks for its own key and for no signing in; its document is for whoever
    signed in or has a key."""
    for pattern in patterns:
        if pattern.name == "openapi-json":
            pattern.callback = _for_the_known(pattern.callback)
        login_not_required(pattern.callback)
    return patterns


def _for_the_known(view: Callable[..., HttpResponse]) -> Callable[..., HttpResponse]:
    @wraps(view)
    def known(request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        kind, _, key = request.headers.get("Authorization", "").partition(" ")
        if request.user.is_authenticated or (kind.lower() == "bearer" and token_of(key.strip())):
            return view(request, *args, **kwargs)
        return JsonResponse({"error": "Sign in, or send a key.", "where": ""}, status=401)

    return known
