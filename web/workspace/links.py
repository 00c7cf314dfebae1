"""Links that are taken up once: an invitation to a firm, a project that is shared. Read by whoever has the address."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from django.contrib.auth.decorators import login_not_required
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods

from heat.errors import HeatError
from web.accounts.models import User
from web.firms import services
from web.firms.models import ROLE_WORDS, Invitation, Role
from web.projects.models import Share
from web.projects.services import sharing


@dataclass(frozen=True)
class Link:
    """One kind: what its key opens, what that is called, where it leads whoever takes it up."""

    found: Callable[[str], Any]
    words: Callable[[Any], dict[str, str]]
    taken: Callable[[str, User], HttpResponseRedirect]


def page(kind: Link) -> Callable[..., HttpResponse]:
    """The page of such a link; its ``opens`` says whether a key can still be taken up, its ``taken`` takes it up."""

    @login_not_required
    @require_http_methods(["GET", "HEAD", "POST"])
    def view(request: HttpRequest, token: str) -> HttpResponse:
        found = kind.found(token)
        if found is None:
            return _closed(request, "This link is not open, or not any more. Ask for another.")
        if request.method == "POST" and isinstance(request.user, User):
            try:
                led = kind.taken(token, request.user)
                request.session.pop("invited", None)
                return led
            except HeatError as error:
                return _closed(request, str(error))
        if not request.user.is_authenticated:
            request.session["invited"] = request.path  # an account may be opened with it
        more = {"until": found.until, "here": request.path}
        answer = render(request, "workspace/offer.html", {**kind.words(found), **more})
        answer["X-Robots-Tag"] = "noindex, nofollow"
        answer["Referrer-Policy"] = "same-origin"
        return answer

    view.opens = lambda token: kind.found(token) is not None  # type: ignore[attr-defined]
    view.taken = kind.taken  # type: ignore[attr-defined]
    return view


def _closed(request: HttpRequest, words: str) -> HttpResponse:
    """A link that cannot be taken up."""
    return render(request, "ui/problem.html", {"title": "Not open", "text": words}, status=404)


def _come(token: str, user: User) -> HttpResponseRedirect:
    return redirect("firm", services.come(token=token, user=user).pk)


def _open(token: str, user: User) -> HttpResponseRedirect:
    project = sharing.take_up(token=token, user=user)
    return redirect("screen", project.pk, project.designs.all()[0].letter, "scheme")


def _firm_words(payload: Invitation) -> dict[str, str]:
    return {
        "title": payload.firm.name,
        "text": f"{payload.made_by or 'Somebody'} asks you to come to {payload.firm.name} as {payload.role}: "
        f"{ROLE_WORDS[Role(payload.role)]}.",
        "button": f"Come to {payload.firm.name}",
    }


def _project_words(payload: Share) -> dict[str, str]:
    return {
        "title": payload.project.name,
        "text": f"{payload.made_by or 'Somebody'} shares the project {payload.project.name} with you: "
        f"to {payload.get_need_display()}.",
        "button": "Open it",
    }


invited = page(Link(services.invitation_of, _firm_words, _come))
shared = page(Link(sharing.share_of, _project_words, _open))
