"""Keys for programs: made, shown once, kept hashed, ended; and the person and rights that one stands for."""

import secrets
from datetime import timedelta
from hashlib import sha256

from django.db.models import QuerySet
from django.http import HttpResponse
from django.shortcuts import render
from django.utils import timezone
from django.views.decorators.http import require_http_methods

from heat.errors import HeatError
from web.accounts.models import Token, User
from web.accounts.notices import knows_password, notify
from web.accounts.requests import SignedIn

MOST, USUAL_DAYS, MOST_DAYS = 30, 365, 1825
"""Open keys of a person; days a key opens."""
MADE, FORMS = "keys_made", 10
"""Where a session remembers the last so many forms that made a key: sent again, they make no other."""
NAMED = 500
"""Own projects offered by name."""
USED_S = 60
"""Seconds between notes that a key is in use."""


def open_tokens(user: User) -> QuerySet[Token]:
    """The keys of a person that are open."""
    return user.tokens.filter(ended=None, until__gt=timezone.now())


def make_token(
    *, user: User, name: str, scopes: list[str], project: int | None = None, days: int = USUAL_DAYS
) -> tuple[Token, str]:
    """A key and its letters, which are shown once. Raises HeatError."""
    known = [scope for scope, _words in Token.SCOPES]
    if not scopes or set(scopes) - set(known):
        raise HeatError("Choose what the key is for.")
    if not 1 <= days <= MOST_DAYS:
        raise HeatError(f"A key opens for 1 to {MOST_DAYS} days.")
    if open_tokens(user).count() >= MOST:
        raise HeatError(f"{MOST} keys are open: end some first.")
    text = f"rl_{secrets.token_urlsafe(32)}"
    made = Token.objects.create(
        user=user,
        name=name.replace("\0", "").strip()[:60] or "unnamed",
        start=text[:8],
        hashed=_hashed(text),
        scopes=[scope for scope in known if scope in scopes],
        project=project,
        until=timezone.now() + timedelta(days=days),
    )
    return made, text


def _hashed(text: str) -> str:
    return sha256(text.encode()).hexdigest()


def token_of(text: str) -> Token | None:
    """The open key of these letters; that it is in use is noted."""
    found = Token.objects.select_related("user").filter(hashed=_hashed(text[:200])).first()
    if found is None or not found.is_open:
        return None
    now = timezone.now()
    if found.used is None or (now - found.used).total_seconds() > USED_S:
        Token.objects.filter(pk=found.pk).update(used=now)
    return found


@require_http_methods(["GET", "HEAD", "POST"])
def tokens(request: SignedIn) -> HttpResponse:
    """The keys one gave to programs."""
    more: dict[str, object] = {}
    if request.method == "POST":
        try:
            more = _done(request)
        except HeatError as error:
            more = {"problem": str(error), "typed": request.POST.get("name", "")[:60]}
    names = dict(request.user.projects.filter(deleted=None).order_by("-changed").values_list("pk", "name")[:NAMED])
    opened = [one for one in request.user.tokens.select_related("user") if one.is_open]
    context = {
        "open": [(one, names.get(one.project or 0, f"number {one.project}")) for one in opened],
        "scopes": Token.SCOPES,
        "days": USUAL_DAYS,
        "projects": names,
        **more,
    }
    return render(request, "accounts/tokens.html", context, status=422 if "problem" in more else 200)


def _done(request: SignedIn) -> dict[str, object]:
    post = request.POST
    if post.get("do") == "end":
        number = int(post["number"]) if post.get("number", "").isdecimal() and len(post["number"]) < 10 else 0
        request.user.tokens.filter(pk=number, ended=None).update(ended=timezone.now())
        return {}
    form, made = post.get("key", "")[:40], request.session.get(MADE, [])
    if form and form in made:
        return {"again": True}
    if not knows_password(request):
        raise HeatError("This is not your password. No key was made.")
    days = int(post["days"]) if post.get("days", "").isdecimal() and len(post["days"]) < 6 else 0
    project = int(post["project"]) if post.get("project", "").isdecimal() and len(post["project"]) < 10 else None
    _token, text = make_token(
        user=request.user, name=post.get("name", ""), scopes=post.getlist("scopes"), project=project, days=days
    )
    if form:
        request.session[MADE] = [*made, form][-FORMS:]
    notify(request.user, "A key for a program was made")
    return {"text": text}
