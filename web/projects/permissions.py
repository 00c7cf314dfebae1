"""The door: who may do what with a project. Every service asks here before it writes, every address before it
answers."""

from functools import cache
from typing import Any, Literal

from django.core.exceptions import PermissionDenied
from django.db import connection
from django.db.models import Count, OuterRef, Q, QuerySet, Subquery, prefetch_related_objects
from django.http import Http404

from web.accounts.models import User
from web.firms.models import Member, Role
from web.projects.models import Design, Project, owned_by, visible_to_person

Need = Literal["view", "survey", "edit", "own"]
"""To look; to change demand, site and log; to change everything; to delete, share and hand over."""
ORDER: dict[str, int] = {"": 0, "view": 1, "survey": 2, "edit": 3, "own": 4}
GIVES: dict[str, Need] = {Role.OWNER: "own", Role.DESIGNER: "edit", Role.ASSESSOR: "survey", Role.VIEWER: "view"}
"""The most each role of a firm may with its projects."""
SURVEYED = ("demand", "site", "exposure", "weather", "place")
"""Where a document's path begins that an assessor may change."""


def right_of(user: User, project: Project) -> str:
    """The most a person may with a project; empty for nothing. Asked of the database once for each project held."""
    if not user.is_authenticated or not user.is_active:
        return ""
    if project.firm_id is None and project.owner_id == user.pk:
        return "own"
    known: dict[int, str] = project.__dict__.setdefault("rights_known", {})
    if user.pk not in known:
        known[user.pk] = _right_of(user, project)
    return known[user.pk]


def _right_of(user: User, project: Project) -> str:
    counted: Project | None = project
    if getattr(project, "asked_for", None) != user.pk:
        counted = Project.objects.filter(pk=project.pk).with_right_of(user).only("pk").first()
    role, shared = getattr(counted, "their_role", ""), getattr(counted, "their_share", "")
    if role == Role.DESIGNER and project.owner_id == user.pk:  # who has it in hand
        return "own"
    return max(GIVES[role] if role else "", shared or "", key=ORDER.__getitem__)


def may(user: User, need: Need, project: Project) -> bool:
    """Whether a person may do so much with a project."""
    return ORDER[right_of(user, project)] >= ORDER[need]


def require(user: User, need: Need, project: Project) -> None:
    """Raises PermissionDenied, in words, unless the person may."""
    if not may(user, need, project):
        raise PermissionDenied(words_for(right_of(user, project)))


def words_for(right: str) -> str:
    """Why somebody with this right may not do more."""
    return {
        "": "This is not yours to change.",
        "view": "You may look at this project and leave comments; its people change it.",
        "survey": "You may change the demand, the site and the log here; the rest is its designers’.",
        "edit": "Only its owner, or who has it in hand, may do this.",
    }.get(right, "")


def need_of(paths: Any) -> Need:
    """What changing the values at these paths needs."""
    return "survey" if all(path.partition(".")[0] in SURVEYED for path in paths) else "edit"


@cache
def _beside_weather() -> QuerySet[Project]:
    """Projects with what a page wants of them: put together once, each filter of it asks anew."""
    return Project.objects.with_weather().order_by()


def locked(project: Project, user: User, need: Need = "edit") -> Project:
    """The project as it stands now, locked until the transaction ends, for one who may."""
    if not project.locked:
        project = _beside_weather().select_for_update(of=("self",)).get(pk=project.pk)
        project.locked = True
        prefetch_related_objects([project], "designs")
    require(user, need, project)
    return project


def locked_design(design: Design, user: User, need: Need = "edit") -> Design:
    """The design as it stands now, its project locked, for one who may."""
    if design.project.locked:
        require(user, need, design.project)
        return design
    return design_in(locked(design.project, user, need), design.pk)


def design_in(project: Project, pk: int) -> Design:
    """A design among those fetched with its project."""
    found = next(d for d in project.designs.all() if d.pk == pk)
    found.project = project
    return found


def project_for(user: User, pk: int, need: Need = "view") -> Project:
    """The project at an address. Raises Http404 where there is none for this person, PermissionDenied where they may
    look and no more."""
    project = _beside_weather().filter(pk=pk, deleted=None).first()
    if project is None or not may(user, "view", project):
        raise Http404
    require(user, need, project)
    return project


def design_for(user: User, pk: int, letter: str, need: Need = "view") -> Design:
    """The design at an address; to change it within a transaction, its project is locked. Raises Http404 where there
    is none for this person, PermissionDenied where they may look and no more."""
    found = _beside_weather().filter(pk=pk, deleted=None)
    lock = need != "view" and connection.in_atomic_block
    project = (found.select_for_update(of=("self",)) if lock else found).first()
    if project is None or not may(user, "view", project):
        raise Http404
    project.locked = lock
    prefetch_related_objects([project], "designs")
    design = next((d for d in project.designs.all() if d.letter == letter), None)
    if design is None:
        raise Http404
    require(user, need, project)
    if project.owner_id == user.pk:
        project.owner = user  # fetched already
    design.project = project
    return design


def counted(user: User, named: str = "") -> dict[str, int]:
    """How many projects a person may view, whose name or place holds these letters, and how many deleted ones they may
    bring back."""
    matching = Q(name__icontains=named) | Q(place__icontains=named)
    return Project.objects.filter(visible_to_person(user)).aggregate(
        displayed=Count("pk", filter=Q(deleted=None) & matching),
        deleted=Count("pk", filter=~Q(deleted=None) & owned_by(user)),
    )


def first_designs(user: User, named: str = "") -> QuerySet[Design]:
    """The first design in sight of every project a person may view, last changed first, with project and weather.

    ``named``: only projects whose name or place holds these letters.
    """
    first = Design.objects.filter(project=OuterRef("project"), archived=False).order_by("place", "letter")
    found = Design.objects.filter(project__in=Project.objects.visible_to(user), pk=Subquery(first.values("pk")[:1]))
    if named:
        found = found.filter(Q(project__name__icontains=named) | Q(project__place__icontains=named))
    light = found.select_related("project__weather", "project__firm", "project__owner")
    light = light.defer("project__weather__raw", "project__weather__data")
    return light.order_by("-project__changed", "-project__pk")


def require_price_book(user: User, project: Project) -> None:
    """Raises PermissionDenied, in words, unless the price book and letterhead of a project are the person's to change:
    their own, or those of a firm they design in."""
    if project.books.pk == user.pk:
        return
    designs = (Role.OWNER, Role.DESIGNER)
    if project.firm_id and Member.objects.filter(firm=project.firm_id, user=user, role__in=designs).exists():
        return
    raise PermissionDenied(f"The price book and the letterhead of this project are {project.books}’s.")
