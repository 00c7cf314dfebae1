"""Firms: who is in one and as what, who is asked to come, and what was done about people."""

from django.conf import settings
from django.db import models
from django.utils import timezone

from web.accounts.models import User
from web.ui.texts import CharField


class Role(models.TextChoices):
    OWNER = "owner", "owner"
    DESIGNER = "designer", "designer"
    ASSESSOR = "assessor", "assessor"
    VIEWER = "viewer", "viewer"


ROLE_WORDS = {
    Role.OWNER: "runs the firm: people, their roles, and everything a designer may",
    Role.DESIGNER: "begins projects and changes everything in them",
    Role.ASSESSOR: "changes the demand, the site and the log of every project, looks at the rest",
    Role.VIEWER: "looks, and leaves comments",
}
"""What each may do, in words."""


class FirmQuerySet(models.QuerySet["Firm"]):
    def of(self, user: User) -> "FirmQuerySet":
        """Firms a person is in."""
        return self.filter(members__user=user)


class Firm(models.Model):
    name = CharField(max_length=80)
    head = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    """Whose price book and letterhead the firm's projects use; who gets the projects of those that leave."""
    created = models.DateTimeField(auto_now_add=True)

    objects = FirmQuerySet.as_manager()

    class Meta:
        ordering = ["name", "pk"]

    def __str__(self) -> str:
        return self.name


class Member(models.Model):
    firm = models.ForeignKey(Firm, models.CASCADE, related_name="members")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="memberships")
    role = CharField(max_length=8, choices=Role.choices)
    since = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["since", "pk"]
        constraints = [models.UniqueConstraint(fields=["firm", "user"], name="once_in_a_firm")]

    def __str__(self) -> str:
        return f"{self.user_id} {self.role} of {self.firm_id}"


class Invitation(models.Model):
    """A link that makes whoever opens it a member, once, until its day."""

    firm = models.ForeignKey(Firm, models.CASCADE, related_name="invitations")
    role = CharField(max_length=8, choices=Role.choices)
    note = CharField(max_length=80, blank=True)
    """For whom it is meant."""
    hashed = CharField(max_length=64, unique=True)
    until = models.DateTimeField()
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")
    made = models.DateTimeField(auto_now_add=True)
    taken_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")
    ended = models.DateTimeField(null=True)
    """When it was taken up or called back."""

    class Meta:
        ordering = ["-made"]

    def __str__(self) -> str:
        return f"{self.role} of {self.firm_id}"

    @property
    def is_open(self) -> bool:
        """Whether it can be taken up now."""
        return self.ended is None and self.until > timezone.now()


class RoleChange(models.Model):
    """When a person's role in a firm last changed or ended: links made before that are not theirs to take up."""

    firm = models.ForeignKey(Firm, models.CASCADE, related_name="role_changes")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="+")
    at = models.DateTimeField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["firm", "user"], name="last_change_of_a_role")]

    def __str__(self) -> str:
        return f"{self.user_id} in {self.firm_id} at {self.at}"


class Event(models.Model):
    """Something done about people: who did it, when, in words."""

    firm = models.ForeignKey(Firm, models.CASCADE, related_name="events")
    who = CharField(max_length=150)
    what = CharField(max_length=250)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-at", "-pk"]

    def __str__(self) -> str:
        return self.what
