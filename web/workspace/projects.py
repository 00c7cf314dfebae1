"""A person's projects: listed, begun, brought back from a file, taken out of sight."""

from time import monotonic

from django import forms
from django.conf import settings
from django.db import transaction
from django.db.models import OuterRef, Subquery
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe

from heat.common.tables import reading
from heat.errors import HeatError
from web.accounts.models import User
from web.accounts.requests import SignedIn
from web.editor.design_page import DesignPage
from web.editor.view_state import whole
from web.firms.models import Firm, Role
from web.logs.archive import bring_logs
from web.logs.models import Log
from web.places.where import Unclear, place_of
from web.prices.books import currency_of, take_over
from web.projects.archive import MOST_BYTES, bring_back, read_members
from web.projects.models import Design, Project
from web.projects.permissions import counted, first_designs
from web.projects.services import deletion, sharing
from web.projects.services import designs as services
from web.simulations.tallies import known, small
from web.ui import units
from web.workspace.registry import steps
from web.workspace.views import once

LISTED, LIST_S = 50, 1.0
"""Projects on a page of the list, and seconds it may spend on years that are not kept."""


class ProjectForm(forms.Form):
    name = forms.CharField(max_length=80, required=False)
    place = forms.CharField(max_length=80, required=False)
    town = forms.CharField(max_length=14, required=False)


def _list(request: SignedIn, form: ProjectForm, unclear: Unclear | None = None, brought: str = "") -> HttpResponse:
    requested = request.GET.get("q", "").replace("\0", "")[:80].strip()
    page = whole(request.GET.get("page"), 1, 10_000) or 1
    latest = Log.objects.filter(project=OuterRef("project")).order_by("-began", "-pk")
    found = first_designs(request.user, requested).annotate(
        due=Subquery(latest.values("due")[:1]), due_words=Subquery(latest.values("due_words")[:1])
    )
    counts = counted(request.user, requested)
    count, until = counts["displayed"], monotonic() + LIST_S
    memberships = list(request.user.memberships.select_related("firm"))
    roles = {m.firm_id: m.role for m in memberships}
    rows = [
        project_row(design, request.user, may_simulate=monotonic() < until)
        | _whose(design.project, request.user, roles)
        for design in found[(page - 1) * LISTED : page * LISTED]
    ]
    context = {
        "rows": rows,
        "form": form,
        "requested": requested,
        "count": count,
        "page": page,
        "before": page - 1 if page > 1 else None,
        "after": page + 1 if page * LISTED < count else None,
        "deleted": Project.objects.deleted_by(request.user) if counts["deleted"] else (),
        "grace": settings.GRACE_DAYS,
        "unclear": unclear,
        "brought": brought,
        "memberships": memberships,
        "designs_in": [m for m in memberships if m.role in sharing.DESIGNS],
        "first": (page - 1) * LISTED + 1,
        "last": (page - 1) * LISTED + len(rows),
    }
    status = 422 if unclear or brought or form.errors else 200
    return render(request, "workspace/projects.html", context, status=status)


def _whose(project: Project, user: User, roles: dict[int, str]) -> dict[str, object]:
    """Whose a project is where it is not the reader's own, and whether they may delete it."""
    mine = project.owner_id == user.pk
    if project.firm is None:
        return {"whose": "" if mine else f"shared by {project.owner}", "owns": mine}
    role = roles.get(project.firm_id or 0, "")
    owns = role == Role.OWNER or (role == Role.DESIGNER and mine)
    return {"whose": f"{project.firm.name}{'' if role else ', shared'}", "owns": owns}


def project_row(design: Design, user: User, may_simulate: bool) -> dict[str, object]:
    """A line of the list; figures that are not kept are calculated if there is time."""
    figures = small(design) if may_simulate else known(design)
    on = getattr(design, "due", None)
    due = {
        "due": on,
        "due_words": getattr(design, "due_words", ""),
        "late": on is not None and on < timezone.localdate(),
    }
    row: dict[str, object] = due | {
        "project": design.project,
        "design": design,
        "fraction": "open it to calculate",
        "bought": "",
    }
    if figures is None:
        return row
    if not figures.simulated:
        return row | {"fraction": "not calculated"}
    unit = units.unit_of("kWh", user.units)
    bought = units.number(units.to_display(figures.bought_kwh, "kWh", user.units), unit.decimals)
    return row | {"fraction": units.number(100 * figures.fraction, 1), "bought": bought, "sign": unit.sign}


@require_safe
def projects(request: SignedIn) -> HttpResponse:
    """A person's projects."""
    return _list(request, ProjectForm())


@require_POST
@once
def new_project(request: SignedIn) -> HttpResponse:
    """Begin a project, guided or with its need."""
    form = ProjectForm(request.POST)
    if not form.is_valid():
        return _list(request, form)
    typed = form.cleaned_data
    try:
        place = (
            place_of(typed["place"], request.POST.get("chosen") or typed["town"]) if typed["place"].strip() else None
        )
    except Unclear as unclear:
        return _list(request, form, unclear)
    with transaction.atomic():
        project = services.begin_project(
            owner=request.user, name=typed["name"], place=place, book=currency_of(request.user)
        )
        if request.POST.get("firm"):
            wanted = whole(request.POST["firm"], 0, 2**31) or 0
            firm = get_object_or_404(Firm.objects.of(request.user), pk=wanted)
            sharing.give_to_firm(project=project, author=request.user, firm=firm)
    if request.POST.get("begin") == "guided":
        return redirect(f"{reverse('screen', args=(project.pk, 'A', 'scheme'))}?view=start")
    return redirect("screen", project.pk, "A", steps()[0].key)


@require_POST
@once
def bring_project(request: SignedIn) -> HttpResponse:
    """A project from a file that was taken away."""
    file = request.FILES.get("file")
    try:
        if file is None:
            raise HeatError("Choose a file first.")
        raw = file.read(MOST_BYTES + 1)
        with transaction.atomic():
            project = bring_back(owner=request.user, raw=raw)
            members = read_members(raw)
            bring_logs(project=project, owner=request.user, raw=members.get("logs.json", b""))
            with reading("", "Something in it", HeatError):
                open_once(project, request.user)
            prices = members.get("prices.csv", b"") if request.POST.get("prices") == "1" else b""
            if prices:
                take_over(owner=request.user, raw=prices)
    except HeatError as error:
        return _list(request, ProjectForm(), brought=f"Not brought back. {error}")
    return redirect("screen", project.pk, project.designs.all()[0].letter, steps()[0].key)


def open_once(project: Project, user: User) -> None:
    """Open every page of a project that comes in, before it is stored: what raises here would break it for good."""
    designs = list(project.designs.all())
    for design in designs:
        design.project = project
        DesignPage(design, user).year  # noqa: B018 - simulated, or refused
    page = DesignPage(designs[0], user)
    for step in steps():
        for view in filter(lambda view: view.listed, step.views):
            view.build(page.at(view.key))


@require_POST
def delete_project(request: SignedIn, pk: int) -> HttpResponse:
    """Take a project out of sight, or bring it back."""
    deleted = request.POST.get("do") != "restore"
    mine = Project.objects.visible_to(request.user) if deleted else Project.objects.deleted_by(request.user)
    deletion.delete_project(project=get_object_or_404(mine, pk=pk), author=request.user, deleted=deleted)
    return redirect("projects")
