"""Who asks by a program: a key's person, what the key is for, and refusals in the same words as on the page."""

import json
from collections.abc import Callable
from typing import Any

from django.contrib.auth.decorators import login_not_required
from django.core.exceptions import PermissionDenied
from django.http import Http404, HttpRequest, HttpResponse
from ninja import NinjaAPI, Schema
from ninja.errors import AuthenticationError, HttpError, ValidationError
from ninja.security import HttpBearer

from heat.errors import HeatError, InputError
from web.accounts.models import Token
from web.accounts.tokens import token_of
from web.projects.models import Design, Project
from web.projects.permissions import Need, design_for, project_for
from web.projects.services.edits import Conflict, Needed
from web.runs.limits import TooMuch

DEEPEST = 40
TAKEN = ("application/json", "multipart/form-data")


class Asking(HttpRequest):
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
        if request.method in ("POST", "PATCH") and request.content_type not in TAKEN:
            raise HttpError(415, "Send JSON, with the content type application/json; a file as multipart/form-data.")
        request.user = key.user
        return key


READ, WRITE, RECKON = Key("read"), Key("write"), Key("reckon")
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


def finite(value: Any) -> Any:
    """JSON values as they may be kept. Raises HttpError for what no database holds."""
    try:
        written = json.dumps(value, allow_nan=False)
        written.encode()
    except (ValueError, RecursionError) as error:
        raise HttpError(422, "Numbers must be finite, texts without odd letters.") from error
    depth = deepest = 0
    for letter in written:
        depth += (letter in "[{") - (letter in "]}")
        deepest = max(deepest, depth)
    if "\\u0000" in written or "\\ud8" in written or deepest > DEEPEST:
        raise HttpError(422, "Texts hold no zero letters, lists and objects are not nested so deep.")
    return value


def answering(api: NinjaAPI) -> None:
    """Refusals as JSON, each with its words."""

    def told(status: int) -> Callable[[HttpRequest, Any], HttpResponse]:
        def answer(request: HttpRequest, error: Any) -> HttpResponse:
            where = error.name if isinstance(error, InputError) else ""
            return api.create_response(request, {"error": str(error) or "Not done.", "where": where}, status=status)

        return answer

    def plainly(status: int, words: str) -> Callable[[HttpRequest, Any], HttpResponse]:
        return lambda request, error: api.create_response(request, {"error": words, "where": ""}, status=status)

    def invalid(request: HttpRequest, error: Any) -> HttpResponse:
        first = error.errors[0] if error.errors else {}
        where = ".".join(str(part) for part in first.get("loc", ()) if part not in ("body", "told"))
        return api.create_response(request, {"error": str(first.get("msg", "Not valid.")), "where": where}, status=422)

    def http(request: HttpRequest, error: Any) -> HttpResponse:
        return api.create_response(request, {"error": str(error), "where": ""}, status=error.status_code)

    def conflict(request: HttpRequest, error: Any) -> HttpResponse:
        words = f"This changed meanwhile; it is now {json.dumps(error.current)[:200]}."
        return api.create_response(request, {"error": words, "where": error.path}, status=409)

    def needed(request: HttpRequest, error: Any) -> HttpResponse:
        words = f"Designs {', '.join(error.letters)} would no longer be reckoned: {error.reason}"
        return api.create_response(request, {"error": words, "where": ""}, status=409)

    api.add_exception_handler(HeatError, told(422))
    api.add_exception_handler(PermissionDenied, told(403))
    api.add_exception_handler(TooMuch, told(429))
    api.add_exception_handler(
        Http404, plainly(404, "There is nothing at this address, or it is not this key's to see.")
    )
    api.add_exception_handler(AuthenticationError, plainly(401, "This key opens nothing, or not any more."))
    api.add_exception_handler(ValidationError, invalid)
    api.add_exception_handler(HttpError, http)
    api.add_exception_handler(Conflict, conflict)
    api.add_exception_handler(Needed, needed)


def opened(patterns: list[Any]) -> list[Any]:
    """Addresses of the interface, each of which asks for its own key and for no signing in."""
    for pattern in patterns:
        login_not_required(pattern.callback)
    return patterns
