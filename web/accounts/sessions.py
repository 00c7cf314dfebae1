"""Where a person is signed in: noted as they sign in and go on, listed, and ended."""

import logging
from collections.abc import Callable
from typing import Any

from cachetools import TTLCache
from django.conf import settings
from django.contrib.auth.signals import user_logged_in, user_login_failed
from django.contrib.sessions.models import Session
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods

from web.accounts import rates
from web.accounts.models import SignIn
from web.accounts.requests import SignedIn
from web.ui.rows import Row

log = logging.getLogger("web.security")
OBSERVED_S = 300
"""Seconds between notes that a session is still in use."""
_expected: TTLCache[str, bool] = TTLCache(8192, OBSERVED_S)
BROWSERS = ("Firefox", "Edg", "OPR", "Chrome", "Safari")
SYSTEMS = ("Android", "iPhone", "iPad", "Windows", "Mac OS", "Linux")


def noted(sender: Any, request: HttpRequest, user: Any, **_more: Any) -> None:
    """A session has begun."""
    if not request.session.session_key:
        request.session.save()
    log.info("Person %s signed in", user.pk, extra={"person": user.pk})
    SignIn.objects.update_or_create(
        session=request.session.session_key,
        defaults={
            "user": user,
            "agent": request.headers.get("User-Agent", "").replace("\0", "")[:200],
            "address": request.META.get("REMOTE_ADDR", "")[:45],
            "seen": timezone.now(),
        },
    )


def refused(sender: Any, credentials: Row, request: HttpRequest | None = None, **_more: Any) -> None:
    """Somebody gave a wrong password, or one too many: counted by address."""
    if request is not None:
        rates.count(rates.WRONG_PASSWORDS, request.META.get("REMOTE_ADDR", ""))
    path = request.path[:100] if request else ""
    log.info("A wrong password for %r at %s", str(credentials.get("username", ""))[:60], path)


user_logged_in.connect(noted)
user_login_failed.connect(refused)


def still_here(answer: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """Note now and then that a session goes on, under the key it now has."""

    def middleware(request: HttpRequest) -> HttpResponse:
        key = request.session.session_key
        if key and key not in _expected and request.user.is_authenticated:
            _expected[key] = True
            if not SignIn.objects.filter(session=key, user=request.user).update(seen=timezone.now()):
                noted(None, request, request.user)
        return answer(request)

    return middleware


def agent_name(agent: str) -> str:
    """A browser and a system, as far as what it says of itself goes."""
    browser = next((name for name in BROWSERS if name in agent), "some program")
    system = next((name for name in SYSTEMS if name in agent), "")
    return f"{ {'Edg': 'Edge', 'OPR': 'Opera'}.get(browser, browser) } on {system}" if system else browser


@require_http_methods(["GET", "HEAD", "POST"])
def sessions(request: SignedIn) -> HttpResponse:
    """Where one is signed in; any of it can be ended."""
    if request.method == "POST":
        mine = SignIn.objects.filter(user=request.user).exclude(session=request.session.session_key)
        if request.POST.get("do") != "others":
            mine = mine.filter(pk=_number(request.POST.get("number", "")))
        Session.objects.filter(session_key__in=list(mine.values_list("session", flat=True))).delete()
        mine.delete()
        return redirect("sessions")
    live = Session.objects.filter(expire_date__gt=timezone.now()).values("session_key")
    SignIn.objects.filter(user=request.user).exclude(session__in=live).delete()
    rows = [
        {
            "number": one.pk,
            "agent": agent_name(one.agent),
            "address": one.address,
            "began": one.began,
            "seen": one.seen,
            "here": one.session == request.session.session_key,
        }
        for one in SignIn.objects.filter(user=request.user)
    ]
    return render(request, "accounts/sessions.html", {"rows": rows, "days": settings.SESSION_COOKIE_AGE // 86_400})


def _number(text: str) -> int:
    return int(text) if text.isdecimal() and len(text) < 10 else 0
