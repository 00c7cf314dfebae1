"""Firms founded; people asked to come, given a role, and let go. Each asks who may."""

import secrets
from datetime import datetime, timedelta
from hashlib import sha256

from django.core.exceptions import PermissionDenied
from django.db import transaction
from django.utils import timezone

from heat.errors import HeatError
from web.accounts.models import User
from web.firms.models import Event, Firm, Invitation, Member, Role, RoleChange

MOST_FIRMS, MOST_MEMBERS, MOST_OPEN = 10, 200, 50
"""Firms one person may be in; members and open invitations of a firm."""
USUAL_DAYS, MOST_DAYS = 14, 90
"""Days an invitation is open."""


def hashed(token: str) -> str:
    """What is kept of a key that is shown once."""
    return sha256(token.encode()).hexdigest()


def role_in(user: User | None, firm: Firm) -> str:
    """A person's role in a firm; empty for none."""
    if user is None or not user.is_active:
        return ""
    return firm.members.filter(user=user).values_list("role", flat=True).first() or ""


def require_owner(user: User, firm: Firm) -> None:
    """Raises PermissionDenied unless the person runs the firm."""
    if role_in(user, firm) != Role.OWNER:
        raise PermissionDenied(f"Only an owner of {firm.name} may do this.")


def log_role_change(firm: Firm, who: User | None, what: str) -> None:
    """Write down what was done about people."""
    Event.objects.create(firm=firm, who=who.get_username() if who else "", what=what[:250])


@transaction.atomic
def create_firm(*, owner: User, name: str) -> Firm:
    """A new firm with its first owner. Raises HeatError."""
    name = name.replace("\0", "").strip()[:80]
    if not name:
        raise HeatError("A firm needs a name.")
    _room_for(owner)
    firm = Firm.objects.create(name=name, head=owner)
    Member.objects.create(firm=firm, user=owner, role=Role.OWNER)
    log_role_change(firm, owner, "founded the firm")
    return firm


def _room_for(user: User) -> None:
    if user.memberships.count() >= MOST_FIRMS:
        raise HeatError(f"One person may be in {MOST_FIRMS} firms.")


@transaction.atomic
def rename(*, firm: Firm, author: User, name: str) -> None:
    """Give the firm another name; an empty one leaves the old."""
    require_owner(author, firm)
    name = name.replace("\0", "").strip()[:80]
    if name and name != firm.name:
        log_role_change(firm, author, f"named the firm {name}, before {firm.name}")
        firm.name = name
        firm.save(update_fields=["name"])


@transaction.atomic
def invite(*, firm: Firm, author: User, role: str, note: str = "", days: int = USUAL_DAYS) -> tuple[Invitation, str]:
    """An invitation and its key, which is shown once and kept hashed. Raises HeatError."""
    require_owner(author, firm)
    if role not in Role.values:
        raise HeatError("Choose what the person is to be.")
    if not 1 <= days <= MOST_DAYS:
        raise HeatError(f"An invitation is open for 1 to {MOST_DAYS} days.")
    if firm.invitations.filter(ended=None, until__gt=timezone.now()).count() >= MOST_OPEN:
        raise HeatError(f"{MOST_OPEN} invitations are open: call some back first.")
    token = secrets.token_urlsafe(24)
    made = Invitation.objects.create(
        firm=firm,
        role=role,
        note=note.replace("\0", "").strip()[:80],
        hashed=hashed(token),
        made_by=author,
        until=timezone.now() + timedelta(days=days),
    )
    log_role_change(firm, author, f"invited {made.note or 'somebody'} as {role}, for {days} days")
    return made, token


def invitation_of(token: str) -> Invitation | None:
    """The open invitation of a key: one lives only while whoever made it still runs the firm."""
    found = Invitation.objects.select_related("firm", "made_by").filter(hashed=hashed(token)).first()
    return found if found is not None and found.is_open and role_in(found.made_by, found.firm) == Role.OWNER else None


def role_changed_since(firm: Firm, user: User, moment: datetime) -> bool:
    """Whether a person's role in a firm changed or ended after a moment."""
    return RoleChange.objects.filter(firm=firm, user=user, at__gte=moment).exists()


def note_role_change(firm: Firm, user: User) -> None:
    """Write down that a role changed now, and end the invitations its holder made and may make no more."""
    RoleChange.objects.update_or_create(firm=firm, user=user, defaults={"at": timezone.now()})
    if role_in(user, firm) != Role.OWNER:
        firm.invitations.filter(made_by=user, ended=None).update(ended=timezone.now())


@transaction.atomic
def call_back(*, invitation: Invitation, author: User) -> None:
    """End an invitation that was not taken up."""
    require_owner(author, invitation.firm)
    if Invitation.objects.filter(pk=invitation.pk, ended=None).update(ended=timezone.now()):
        log_role_change(invitation.firm, author, f"called back the invitation of {invitation.note or 'somebody'}")


@transaction.atomic
def come(*, token: str, user: User) -> Firm:
    """Take an invitation up: once, whoever comes first. Raises HeatError for one that is not open."""
    invitation = (
        Invitation.objects.select_for_update(of=("self",)).select_related("firm").filter(hashed=hashed(token)).first()
    )
    if invitation is None or not invitation.is_open:
        raise HeatError("This invitation is not open, or not any more. Ask for another.")
    firm = Firm.objects.select_for_update().get(pk=invitation.firm_id)
    if role_in(invitation.made_by, firm) != Role.OWNER:
        raise HeatError(f"Whoever made this invitation does not run {firm.name} any more. Ask for another.")
    if firm.members.filter(user=user).exists():
        raise HeatError(f"You are in {firm.name} already.")
    if role_changed_since(firm, user, invitation.made):
        raise HeatError(f"This invitation is older than your leaving {firm.name}. Ask an owner of it for another.")
    if firm.members.count() >= MOST_MEMBERS:
        raise HeatError(f"{firm.name} has {MOST_MEMBERS} members, the most a firm may have.")
    _room_for(user)
    Member.objects.create(firm=firm, user=user, role=invitation.role)
    invitation.taken_by, invitation.ended = user, timezone.now()
    invitation.save(update_fields=["taken_by", "ended"])
    log_role_change(firm, user, f"came as {invitation.role}")
    return firm


def _last_owner(firm: Firm, member: Member) -> bool:
    return member.role == Role.OWNER and not firm.members.filter(role=Role.OWNER).exclude(pk=member.pk).exists()


@transaction.atomic
def set_role(*, member: Member, author: User, role: str) -> None:
    """Give a member another role. Raises HeatError for the last owner, and for the head."""
    firm = Firm.objects.select_for_update().get(pk=member.firm_id)
    require_owner(author, firm)
    if role not in Role.values:
        raise HeatError("Choose what the person is to be.")
    if role != Role.OWNER and _last_owner(firm, member):
        raise HeatError("A firm needs an owner: make somebody else one first.")
    if role != Role.OWNER and firm.head_id == member.user_id:
        raise HeatError("The head of the firm is an owner: name another head first.")
    if role != member.role:
        log_role_change(firm, author, f"made {member.user.get_username()} {role}, before {member.role}")
        Member.objects.filter(pk=member.pk).update(role=role)
        note_role_change(firm, member.user)


@transaction.atomic
def set_head(*, firm: Firm, author: User, member: Member) -> None:
    """Name the owner whose prices and letterhead the firm's projects use. Raises HeatError for another."""
    require_owner(author, firm)
    if member.role != Role.OWNER or member.firm_id != firm.pk:
        raise HeatError("The head of a firm is one of its owners.")
    firm = Firm.objects.select_for_update().get(pk=firm.pk)
    if role_in(member.user, firm) != Role.OWNER:
        raise HeatError("The head of a firm is one of its owners.")
    Firm.objects.filter(pk=firm.pk).update(head=member.user)
    log_role_change(firm, author, f"named {member.user.get_username()} head of the firm")


@transaction.atomic
def drop(*, member: Member, author: User) -> None:
    """Let a member go: by an owner, or by the one who goes. Raises HeatError for the last owner, and for the head."""
    firm = Firm.objects.select_for_update().get(pk=member.firm_id)
    if author.pk != member.user_id:
        require_owner(author, firm)
    if _last_owner(firm, member):
        raise HeatError("A firm needs an owner: make somebody else one first, or close the firm.")
    if firm.head_id == member.user_id:
        raise HeatError("The head of the firm stays: name another head first.")
    name = member.user.get_username()
    log_role_change(firm, author, "left the firm" if author.pk == member.user_id else f"let {name} go")
    member.delete()
    note_role_change(firm, member.user)
