"""Projects shared with one person from outside, given to a firm, handed over; what was done is written down."""

import secrets
from datetime import timedelta

from django.db import transaction
from django.utils import timezone

from heat.errors import HeatError
from web.accounts.models import User
from web.firms.models import Firm, Member, Role
from web.firms.services import drop, hashed, role_in, tell
from web.projects.models import Happening, Project, Share
from web.projects.permissions import ORDER, ask, right_of

MOST_SHARES, USUAL_DAYS, MOST_DAYS = 20, 14, 90
"""Shares of a project that are open or held; days a link is open."""
DESIGNS = (Role.OWNER, Role.DESIGNER)


def happened(project: Project, who: User | None, what: str) -> None:
    """Write down what was done with a project beside its values."""
    Happening.objects.create(project=project, who=who, what=what[:250])


@transaction.atomic
def share(*, project: Project, author: User, need: str, note: str = "", days: int = USUAL_DAYS) -> tuple[Share, str]:
    """A link that shares the project with whoever takes it up first; its key is shown once. Raises HeatError."""
    ask(author, "own", project)
    if need not in ("view", "edit"):
        raise HeatError("Choose whether the person may look or change.")
    if not 1 <= days <= MOST_DAYS:
        raise HeatError(f"A link is open for 1 to {MOST_DAYS} days.")
    if project.shares.filter(ended=None).count() >= MOST_SHARES:
        raise HeatError(f"{MOST_SHARES} shares stand: end some first.")
    token = secrets.token_urlsafe(24)
    made = Share.objects.create(
        project=project, need=need, note=note.replace("\0", "").strip()[:80], hashed=hashed(token), made_by=author,
        until=timezone.now() + timedelta(days=days),
    )  # fmt: skip
    happened(project, author, f"made a link for {made.note or 'somebody'} to {made.get_need_display()}")
    return made, token


def share_of(token: str) -> Share | None:
    """The share of a key that can still be taken up."""
    found = Share.objects.select_related("project", "made_by").filter(hashed=hashed(token), user=None, ended=None)
    return found.filter(until__gt=timezone.now(), project__deleted=None).first()


@transaction.atomic
def take_up(*, token: str, user: User) -> Project:
    """Take a share up: once, whoever comes first. Raises HeatError."""
    found = Share.objects.select_for_update(of=("self",)).select_related("project").filter(hashed=hashed(token))
    told = found.filter(user=None, ended=None, until__gt=timezone.now(), project__deleted=None).first()
    if told is None:
        raise HeatError("This link is not open, or not any more. Ask for another.")
    if ORDER[right_of(user, told.project)] >= ORDER[told.need]:
        raise HeatError("You may do this already.")
    told.user = user
    told.save(update_fields=["user"])
    happened(told.project, user, f"took the link up: may {told.get_need_display()}")
    return told.project


@transaction.atomic
def end_share(*, share: Share, author: User) -> None:
    """End a share: by who may share, or by the one it is shared with."""
    if share.user_id != author.pk:
        ask(author, "own", share.project)
    if Share.objects.filter(pk=share.pk, ended=None).update(ended=timezone.now()):
        name = share.user.get_username() if share.user else share.note or "somebody"
        happened(share.project, author, f"ended the share with {name}")


@transaction.atomic
def give_to_firm(*, project: Project, author: User, firm: Firm) -> None:
    """Make a project a firm's: its members see it, each by their role. Raises HeatError."""
    ask(author, "own", project)
    if role_in(author, firm) not in DESIGNS:
        raise HeatError(f"A designer or owner of {firm.name} may take projects in.")
    Project.objects.filter(pk=project.pk).update(firm=firm, owner=author)
    happened(project, author, f"made it a project of {firm.name}")
    tell(firm, author, f"brought in the project {project.name}")


@transaction.atomic
def take_out(*, project: Project, author: User) -> None:
    """Make a firm's project one's own: by an owner of the firm. Raises HeatError."""
    ask(author, "own", project)
    firm = project.firm
    if firm is None or role_in(author, firm) != Role.OWNER:
        raise HeatError("An owner of the firm may take a project out of it.")
    Project.objects.filter(pk=project.pk).update(firm=None, owner=author)
    happened(project, author, f"took it out of {firm.name}")
    tell(firm, author, f"took the project {project.name} out")


@transaction.atomic
def hand_over(*, project: Project, author: User, member: Member) -> None:
    """Give a firm's project into another's hands. Raises HeatError."""
    ask(author, "own", project)
    if member.firm_id != project.firm_id or member.role not in DESIGNS:
        raise HeatError("A designer or owner of the firm can have a project in hand.")
    Project.objects.filter(pk=project.pk).update(owner=member.user)
    happened(project, author, f"handed it over to {member.user.get_username()}")


@transaction.atomic
def let_go(*, member: Member, author: User) -> None:
    """Let a member go; the firm's projects they had in hand pass to its head. Raises HeatError."""
    firm, user = member.firm, member.user
    left = Project.objects.filter(firm=firm, owner=user)
    drop(member=member, author=author)
    for project in left:
        happened(project, author, f"passed to {firm.head.get_username()}: {user.get_username()} left {firm.name}")
    left.update(owner=firm.head)


@transaction.atomic
def close_firm(*, firm: Firm, author: User) -> None:
    """Close a firm of one: its projects become that one's own. Raises HeatError while others are in it."""
    if role_in(author, firm) != Role.OWNER or firm.members.exclude(user=author).exists():
        raise HeatError("A firm is closed by its owner once nobody else is in it.")
    for project in Project.objects.filter(firm=firm):
        happened(project, author, f"{firm.name} was closed: it is {author.get_username()}’s own")
    Project.objects.filter(firm=firm).update(firm=None, owner=author)
    firm.delete()
