"""What a request may be before it is read, and that no page of a person is kept by anything between."""

import logging
from collections.abc import Callable
from threading import Lock
from time import monotonic

from cachetools import TTLCache
from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils.cache import add_never_cache_headers, patch_vary_headers

NOW_A_SECOND, NOW_BURST = 8.0, 24.0
"""How often the open pages of a person may ask how a project stands, in each process: a dozen pages do so every second
and a half."""
log = logging.getLogger("web.requests")
UNREADABLE = "This was sent in an encoding the page does not use. Send it in UTF-8."
TOO_LARGE = "This is larger than {limit} MB, the most that is taken at once. Send a smaller file."


def real_address(answer: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """Behind a proxy of ours the address is the one it took the request from: the last it added, never one before.

    A server that listens on loopback alone is reached by programs of its own machine only: what one of them passes on
    comes through a proxy, named by LEDGER_PROXY or not. Without this, all the world would share one address, and eight
    wrong passwords would close a name for everybody.
    """
    warned = False

    def addressed(request: HttpRequest) -> HttpResponse:
        nonlocal warned
        peer, passed_on = request.META.get("REMOTE_ADDR", ""), request.headers.get("X-Forwarded-For", "")
        unnamed = bool(passed_on) and not settings.BEHIND_PROXY
        if unnamed and not warned:
            warned = True
            log.warning("Requests come through a proxy that is not named: set LEDGER_PROXY=1 (docs/operating.md)")
        if passed_on and (settings.BEHIND_PROXY or (settings.ON_LOOPBACK and peer in ("127.0.0.1", "::1"))):
            request.META["REMOTE_ADDR"] = passed_on.rpartition(",")[2].strip()[:45] or peer
        return answer(request)

    return addressed


def limits(answer: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """Refuses bodies that are too large or not in UTF-8, in words and before anything is read of them."""

    def limited(request: HttpRequest) -> HttpResponse:
        charset = (request.content_params or {}).get("charset", "utf-8").lower()
        if charset not in ("utf-8", "utf8", "us-ascii"):
            return _refusal(request, UNREADABLE, 415)
        length = request.META.get("CONTENT_LENGTH") or "0"
        if not length.isdecimal() or int(length) > settings.BODY_LIMIT:
            return _refusal(request, TOO_LARGE.format(limit=settings.BODY_LIMIT // 2**20), 413)
        return answer(request)

    return limited


def seldom(answer: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """All open pages of a person together may ask so often how a project stands; beyond that they are asked to wait,
    before anything is looked up for them."""
    left: TTLCache[str, tuple[float, float]] = TTLCache(8192, 60.0)
    counting = Lock()

    def rested(request: HttpRequest) -> HttpResponse:
        if not request.path.endswith("/now"):
            return answer(request)
        who = request.COOKIES.get(settings.SESSION_COOKIE_NAME) or request.META.get("REMOTE_ADDR", "")
        now = monotonic()
        with counting:
            tokens, since = left.get(who, (NOW_BURST, now))
            tokens = min(tokens + (now - since) * NOW_A_SECOND, NOW_BURST)
            left[who] = (max(tokens - 1.0, 0.0), now)
        if tokens < 1.0:
            return HttpResponse(status=429, headers={"Retry-After": "2"})
        return answer(request)

    return rested


def never_cached(answer: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """Nothing between keeps what only a signed-in person may see; pages and pieces of one address are told apart."""

    def private(request: HttpRequest) -> HttpResponse:
        response = answer(request)
        if request.user.is_authenticated:
            add_never_cache_headers(response)
            patch_vary_headers(response, ["Cookie", "HX-Request"])
        return response

    return private


def _refusal(request: HttpRequest, words: str, status: int) -> HttpResponse:
    """The words alone for a script, as a page for a person."""
    if "HX-Request" in request.headers:
        return HttpResponse(words, status=status, content_type="text/plain; charset=utf-8")
    return render(request, "ui/problem.html", {"title": "Not taken", "text": words}, status=status)
