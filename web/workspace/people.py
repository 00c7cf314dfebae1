"""The people of a project: who sees it and by what right; shared by a link, given to a firm, handed over."""

from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_http_methods

from web.accounts.requests import SignedIn
from web.editor.view_state import whole
from web.firms.models import Firm, Member, Role
from web.projects.models import Project
from web.projects.permissions import project_for, right_of
from web.projects.services import sharing
from web.ui.origin import public_origin
from web.workspace.actions import Acts, acted

RIGHT_WORDS = {
    "view": "you may look at it",
    "survey": "you may change its demand, site and log",
    "edit": "you may change everything in it",
    "own": "it is yours to share and hand over",
}


@require_http_methods(["GET", "HEAD", "POST"])
def people(request: SignedIn, pk: int) -> HttpResponse:
    """Who sees a project; what its owner does about that."""
    project = project_for(request.user, pk)
    context: dict[str, object] = {}
    if request.method == "POST":
        context = acted(request, ACTS, project)
        if not context:
            stays = Project.objects.visible_to(request.user).filter(pk=pk).exists()
            return redirect("people", pk) if stays else redirect("projects")
    return render(
        request, "workspace/people.html", _page(request, project) | context, status=422 if "problem" in context else 200
    )


def _page(request: SignedIn, project: Project) -> dict[str, object]:
    right = right_of(request.user, project)
    members = list(project.firm.members.select_related("user")) if project.firm else []
    mine = request.user.memberships.filter(role__in=sharing.DESIGNS).select_related("firm")
    runs = any(m.user_id == request.user.pk and m.role == Role.OWNER for m in members)
    return {
        "project": project,
        "owns": right == "own",
        "right": RIGHT_WORDS.get(right, ""),
        "members": members,
        "runs": runs,
        "letter": project.designs.order_by("archived", "place").values_list("letter", flat=True)[0],
        "designers": [m for m in members if m.role in sharing.DESIGNS and m.user_id != project.owner_id],
        "shares": project.shares.filter(ended=None).select_related("user"),
        "firms": mine if project.firm_id is None else (),
        "days": sharing.USUAL_DAYS,
    }


def _share(request: SignedIn, project: Project) -> dict[str, object]:
    days = whole(request.POST.get("days"), 0, 10_000) or 0
    need, note = request.POST.get("need", ""), request.POST.get("note", "")
    _made, token = sharing.share(project=project, author=request.user, need=need, note=note, days=days)
    return {"link": public_origin(request) + reverse("shared", args=(token,))}


def _end(request: SignedIn, project: Project) -> None:
    wanted = whole(request.POST.get("share"), 0, 2**31) or 0
    sharing.end_share(share=get_object_or_404(project.shares, pk=wanted), author=request.user)


def _give(request: SignedIn, project: Project) -> None:
    firm = get_object_or_404(Firm.objects.of(request.user), pk=whole(request.POST.get("firm"), 0, 2**31) or 0)
    sharing.give_to_firm(project=project, author=request.user, firm=firm)


def _hand_over(request: SignedIn, project: Project) -> None:
    wanted = whole(request.POST.get("member"), 0, 2**31) or 0
    member = get_object_or_404(Member.objects.filter(firm=project.firm_id).select_related("user"), pk=wanted)
    sharing.hand_over(project=project, author=request.user, member=member)


ACTS: Acts = {
    "share": _share,
    "end": _end,
    "give": _give,
    "hand-over": _hand_over,
    "take-out": lambda request, project: sharing.take_out(project=project, author=request.user),
}
"""What can be done about a project's people, by the name of the button."""
