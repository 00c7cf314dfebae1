"""Firms on the page: founded, their people, invitations, and what was done about them."""

from typing import Any

from django.conf import settings
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_http_methods, require_POST

from heat.errors import HeatError
from web.accounts.requests import SignedIn
from web.editor.view_state import whole
from web.firms import services
from web.firms.models import ROLE_WORDS, Firm, Role
from web.projects.models import Project
from web.projects.services.sharing import change_role, close_firm, let_go
from web.projects.services.weather import stored_bytes
from web.ui.origin import public_origin
from web.workspace.actions import Acts, acted

EVENTS = 60


@require_POST
def new_firm(request: SignedIn) -> HttpResponse:
    """Found a firm."""
    try:
        made = services.create_firm(owner=request.user, name=request.POST.get("name", ""))
    except HeatError as error:
        return render(request, "ui/problem.html", {"title": "Not founded", "text": str(error)}, status=422)
    return redirect("firm", made.pk)


@require_http_methods(["GET", "HEAD", "POST"])
def firm(request: SignedIn, pk: int) -> HttpResponse:
    """A firm's people; what its owners do with them."""
    found = get_object_or_404(Firm.objects.of(request.user), pk=pk)
    context: dict[str, object] = {}
    if request.method == "POST":
        context = acted(request, ACTS, found)
        if context.get("gone"):
            return redirect("projects")
        if not context:
            return redirect("firm", pk)
        found.refresh_from_db()
    return render(
        request, "workspace/firm.html", _page(request, found) | context, status=422 if "problem" in context else 200
    )


def _page(request: SignedIn, found: Firm) -> dict[str, object]:
    role = services.role_in(request.user, found)
    runs = role == Role.OWNER
    return {
        "firm": found,
        "role": role,
        "runs": runs,
        "members": found.members.select_related("user"),
        "roles": Role.values,
        "count": Project.objects.filter(firm=found, deleted=None).count(),
        "words": [(role.value, words) for role, words in ROLE_WORDS.items()],
        "days": services.USUAL_DAYS,
        "invitations": [one for one in found.invitations.filter(ended=None) if one.is_open] if runs else (),
        "events": found.events.all()[:EVENTS] if runs else (),
        "stored_mb": stored_bytes(firm=found.pk) / 1e6,
        "quota_mb": settings.FIRM_QUOTA / 1e6,
    }


def _member(request: SignedIn, found: Firm) -> Any:
    return get_object_or_404(
        found.members.select_related("user", "firm__head"), pk=whole(request.POST.get("member"), 0, 2**31) or 0
    )


def _invite(request: SignedIn, found: Firm) -> dict[str, object]:
    days = whole(request.POST.get("days"), 0, 10_000) or 0
    _made, token = services.invite(
        firm=found, author=request.user, role=request.POST.get("role", ""), note=request.POST.get("note", ""), days=days
    )
    return {"link": public_origin(request) + reverse("invited", args=(token,))}


def _call_back(request: SignedIn, found: Firm) -> None:
    wanted = whole(request.POST.get("invitation"), 0, 2**31) or 0
    services.call_back(invitation=get_object_or_404(found.invitations, pk=wanted), author=request.user)


def _role(request: SignedIn, found: Firm) -> None:
    change_role(member=_member(request, found), author=request.user, role=request.POST.get("role", ""))


def _let_go(request: SignedIn, found: Firm) -> dict[str, object]:
    member = _member(request, found)
    let_go(member=member, author=request.user)
    return {"gone": True} if member.user_id == request.user.pk else {}


def _close(request: SignedIn, found: Firm) -> dict[str, object]:
    close_firm(firm=found, author=request.user)
    return {"gone": True}


ACTS: Acts = {
    "invite": _invite,
    "call-back": _call_back,
    "role": _role,
    "let-go": _let_go,
    "close": _close,
    "head": lambda request, firm: services.set_head(firm=firm, author=request.user, member=_member(request, firm)),
    "name": lambda request, firm: services.rename(firm=firm, author=request.user, name=request.POST.get("name", "")),
}
"""What can be done with a firm, by the name of the button."""
