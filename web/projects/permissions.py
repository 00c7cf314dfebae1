"""Who may do what with a project. Every service asks here before it writes, every address before it answers."""

from typing import Any, Literal

from django.core.exceptions import PermissionDenied
from django.db import connection
from django.db.models import Count, OuterRef, Q, QuerySet, Subquery, prefetch_related_objects
from django.http import Http404

from web.projects.models import Design, Project

Need = Literal["view", "edit"]


def may(user: Any, need: Need, project: Project) -> bool:
    """Whether a person may view or edit a project: its owner both, all others neither."""
    return bool(user.is_authenticated and project.owner_id == user.pk)


def ask(user: Any, need: Need, project: Project) -> None:
    """Raises PermissionDenied unless the person may."""
    if not may(user, need, project):
        raise PermissionDenied(f"{user} may not {need} project {project.pk}.")


def locked(project: Project, user: Any) -> Project:
    """The project as it stands now, locked until the transaction ends, for one who may edit it."""
    if not project.held:
        project = Project.objects.with_weather().select_for_update(of=("self",)).get(pk=project.pk)
        project.held = True
        prefetch_related_objects([project], "designs")
    ask(user, "edit", project)
    return project


def locked_design(design: Design, user: Any) -> Design:
    """The design as it stands now, its project locked, for one who may edit it."""
    if design.project.held:
        ask(user, "edit", design.project)
        return design
    return design_in(locked(design.project, user), design.pk)


def design_in(project: Project, pk: int) -> Design:
    """A design among those fetched with its project."""
    found = next(d for d in project.designs.all() if d.pk == pk)
    found.project = project
    return found


def design_for(user: Any, pk: int, letter: str, need: Need = "view") -> Design:
    """The design at an address; to edit within a transaction, its project is locked. Raises Http404 where there is
    none, or none for this person."""
    found = Project.objects.visible_to(user).with_weather().filter(pk=pk)
    hold = need == "edit" and connection.in_atomic_block
    project = (found.select_for_update(of=("self",)) if hold else found).first()
    if project is None or not may(user, need, project):
        raise Http404
    project.held = hold
    prefetch_related_objects([project], "designs")
    design = next((d for d in project.designs.all() if d.letter == letter), None)
    if design is None:
        raise Http404
    design.project = project
    return design


def counted(user: Any, named: str = "") -> dict[str, int]:
    """How many projects a person may view, whose name or place holds these letters, and how many are deleted."""
    asked = Q(name__icontains=named) | Q(place__icontains=named)
    return Project.objects.filter(owner=user).aggregate(
        shown=Count("pk", filter=Q(deleted=None) & asked), deleted=Count("pk", filter=~Q(deleted=None))
    )


def first_designs(user: Any, named: str = "") -> QuerySet[Design]:
    """The first design in sight of every project a person may view, last changed first, with project and weather.

    ``named``: only projects whose name or place holds these letters.
    """
    first = Design.objects.filter(project=OuterRef("project"), archived=False).order_by("place", "letter")
    found = Design.objects.filter(project__in=Project.objects.visible_to(user), pk=Subquery(first.values("pk")[:1]))
    if named:
        found = found.filter(Q(project__name__icontains=named) | Q(project__place__icontains=named))
    light = found.select_related("project__weather").defer("project__weather__raw", "project__weather__data")
    return light.order_by("-project__changed", "-project__pk")
