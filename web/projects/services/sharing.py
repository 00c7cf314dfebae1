"""Projects shared with one person from outside, given to a firm, handed over; what was done is written down."""

import secrets
from datetime import timedelta

from django.core.exceptions import PermissionDenied
from django.db import transaction
from django.db.models import Q, QuerySet
from django.utils import timezone

from heat.errors import HeatError
from web.accounts.models import User
from web.firms.models import Firm, Member, Role
from web.firms.services import drop, hashed, log_role_change, role_changed_since, role_in, set_role
from web.projects.models import AuditEvent, Project, Share
from web.projects.permissions import GIVES, ORDER, locked, may, require, right_of

MOST_SHARES, USUAL_DAYS, MOST_DAYS = 20, 14, 90
"""Shares of a project that are open or held; days a link is open."""
DESIGNS = (Role.OWNER, Role.DESIGNER)


def happened(project: Project, who: User | None, what: str) -> None:
    """Write down what was done with a project beside its values."""
    AuditEvent.objects.create(project=project, who=who, what=what[:250])


@transaction.atomic
def share(*, project: Project, author: User, need: str, note: str = "", days: int = USUAL_DAYS) -> tuple[Share, str]:
    """A link that shares the project with whoever takes it up first; its key is shown once. Raises HeatError."""
    project = locked(project, author, "own")
    if need not in ("view", "edit"):
        raise HeatError("Choose whether the person may look or change.")
    if not 1 <= days <= MOST_DAYS:
        raise HeatError(f"A link is open for 1 to {MOST_DAYS} days.")
    current = ~Q(user=None) | Q(until__gt=timezone.now())
    if project.shares.filter(current, ended=None).count() >= MOST_SHARES:
        raise HeatError(f"{MOST_SHARES} shares stand: end some first.")
    token = secrets.token_urlsafe(24)
    made = Share.objects.create(
        project=project,
        need=need,
        note=note.replace("\0", "").strip()[:80],
        hashed=hashed(token),
        made_by=author,
        until=timezone.now() + timedelta(days=days),
    )
    happened(project, author, f"made a link for {made.note or 'somebody'} to {made.get_need_display()}")
    return made, token


def share_of(token: str) -> Share | None:
    """The share of a key that can still be taken up: one lives only while whoever made it may still share."""
    found = _links().select_related("project", "made_by").filter(hashed=hashed(token)).first()
    return found if found is not None and _maker_may(found) else None


def _links() -> QuerySet[Share]:
    """Links that nobody has taken up yet, within their time."""
    return Share.objects.filter(user=None, ended=None, until__gt=timezone.now(), project__deleted=None)


def _maker_may(share: Share) -> bool:
    return share.made_by is not None and may(share.made_by, "own", Project.objects.get(pk=share.project_id))


def end_links_without_maker(projects: QuerySet[Project]) -> None:
    """End the links of projects whose makers may not share them any more."""
    for link in _links().filter(project__in=projects).select_related("made_by", "project"):
        if not _maker_may(link):
            Share.objects.filter(pk=link.pk).update(ended=timezone.now())


@transaction.atomic
def take_up(*, token: str, user: User) -> Project:
    """Take a share up: once, whoever comes first. Raises HeatError."""
    found = _links().select_for_update(of=("self",)).select_related("project__firm").filter(hashed=hashed(token))
    link = found.first()
    if link is None or not _maker_may(link):
        raise HeatError("This link is not open, or not any more. Ask for another.")
    project = link.project
    if ORDER[right_of(user, project)] >= ORDER[link.need]:
        raise HeatError("You may do this already.")
    if project.firm and role_changed_since(project.firm, user, link.made):
        raise HeatError(f"This link is older than the change of your role in {project.firm}. Ask for another.")
    link.user = user
    link.save(update_fields=["user"])
    happened(project, user, f"took the link up: may {link.get_need_display()}")
    return project


@transaction.atomic
def end_share(*, share: Share, author: User) -> None:
    """End a share: by who may share, or by the one it is shared with."""
    if share.user_id != author.pk:
        require(author, "own", share.project)
    if Share.objects.filter(pk=share.pk, ended=None).update(ended=timezone.now()):
        name = share.user.get_username() if share.user else share.note or "somebody"
        happened(share.project, author, f"ended the share with {name}")


@transaction.atomic
def give_to_firm(*, project: Project, author: User, firm: Firm) -> None:
    """Make a project a firm's: its members see it, each by their role. Out of another firm only an owner of that one
    gives it. Raises HeatError."""
    project = locked(project, author, "own")
    if role_in(author, firm) not in DESIGNS:
        raise HeatError(f"A designer or owner of {firm.name} may take projects in.")
    before = project.firm
    if before is not None and before.pk == firm.pk:
        raise HeatError(f"It is a project of {firm.name} already.")
    if before is not None:
        _require_owner_of(before, author)
        log_role_change(before, author, f"gave the project {project.name} to {firm.name}")
    _move(project, firm, author)
    happened(project, author, f"made it a project of {firm.name}")
    log_role_change(firm, author, f"brought in the project {project.name}")


def _require_owner_of(firm: Firm, author: User) -> None:
    if role_in(author, firm) != Role.OWNER:
        raise PermissionDenied(f"This is a project of {firm.name}: only an owner of {firm.name} takes it out.")


def _move(project: Project, firm: Firm | None, owner: User) -> None:
    """Put a project where it belongs now; links whose makers may not share it there end."""
    Project.objects.filter(pk=project.pk).update(firm=firm, owner=owner)
    end_links_without_maker(Project.objects.filter(pk=project.pk))


@transaction.atomic
def take_out(*, project: Project, author: User) -> None:
    """Make a firm's project one's own: by an owner of the firm. Raises HeatError."""
    project = locked(project, author, "own")
    if project.firm is None:
        raise HeatError("It is in no firm.")
    firm = project.firm
    _require_owner_of(firm, author)
    _move(project, None, author)
    happened(project, author, f"took it out of {firm.name}")
    log_role_change(firm, author, f"took the project {project.name} out")


@transaction.atomic
def hand_over(*, project: Project, author: User, member: Member) -> None:
    """Give a firm's project into another's hands. Raises HeatError."""
    project = locked(project, author, "own")
    if project.firm_id is None or member.firm_id != project.firm_id or member.role not in DESIGNS:
        raise HeatError("A designer or owner of the firm can have a project in hand.")
    _move(project, project.firm, member.user)
    happened(project, author, f"handed it over to {member.user.get_username()}")


@transaction.atomic
def change_role(*, member: Member, author: User, role: str) -> None:
    """Give a member another role. Links they made and may make no more end; so do, with a lower role, the shares of
    the firm's projects they took up. Raises HeatError."""
    before = member.role
    set_role(member=member, author=author, role=role)
    if role == before:
        return
    if ORDER[GIVES[role]] < ORDER[GIVES[before]]:
        _end_shares_with(member)
    end_links_without_maker(Project.objects.filter(firm=member.firm))


def _end_shares_with(member: Member) -> None:
    current = Share.objects.filter(project__firm=member.firm, user=member.user, ended=None)
    current.update(ended=timezone.now())


@transaction.atomic
def let_go(*, member: Member, author: User) -> None:
    """Let a member go; the firm's projects they had in hand pass to its head, links they made and shares they took up
    end. Shares they made for others stay and are named in the firm's record. Raises HeatError."""
    firm, user = member.firm, member.user
    left = Project.objects.filter(firm=firm, owner=user)
    drop(member=member, author=author)
    for project in left:
        happened(project, author, f"passed to {firm.head.get_username()}: {user.get_username()} left {firm.name}")
    left.update(owner=firm.head)
    _end_shares_with(member)
    end_links_without_maker(Project.objects.filter(firm=firm))
    made = Share.objects.filter(project__firm=firm, made_by=user, ended=None).exclude(user=None)
    for share_ in made.select_related("project", "user"):
        log_role_change(
            firm, author, f"a share {user.get_username()} made still stands: {share_.project.name} with {share_.user}"
        )


@transaction.atomic
def close_firm(*, firm: Firm, author: User) -> None:
    """Close a firm of one: its projects become that one's own. Raises HeatError while others are in it."""
    if role_in(author, firm) != Role.OWNER or firm.members.exclude(user=author).exists():
        raise HeatError("A firm is closed by its owner once nobody else is in it.")
    for project in Project.objects.filter(firm=firm):
        happened(project, author, f"{firm.name} was closed: it is {author.get_username()}’s own")
    Project.objects.filter(firm=firm).update(firm=None, owner=author)
    firm.delete()
