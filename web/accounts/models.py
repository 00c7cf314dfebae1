"""The person who signs in, where they are signed in, and the keys they gave to programs."""

from django.conf import settings
from django.contrib.auth.models import AbstractUser
from django.db import models
from django.utils import timezone

from web.ui.texts import CharField, JSONField
from web.ui.units import DECIMALS


class User(AbstractUser):
    class Units(models.TextChoices):
        SI = "si", "SI"
        US = "us", "US"

    leaving = models.DateTimeField(null=True, blank=True)
    """Since when the account is to be deleted; it can be kept until the grace is over."""
    units = CharField(max_length=2, choices=Units.choices, default=Units.SI)
    decimals = CharField(max_length=5, choices=list(DECIMALS.items()), default="ask")
    """How this person writes numbers: settles what “1,500” is."""


class SignIn(models.Model):
    """Where a person is signed in: a session, what it was begun from, and when it was last heard of."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="sign_ins")
    session = CharField(max_length=40, unique=True)
    agent = CharField(max_length=200, blank=True)
    address = CharField(max_length=45, blank=True)
    began = models.DateTimeField(auto_now_add=True)
    seen = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["-seen"]

    def __str__(self) -> str:
        return f"{self.user_id} since {self.began}"


class RecoveryCode(models.Model):
    """A code that stands for the second factor, once; kept as a keyed hash."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="recovery_codes")
    hashed = CharField(max_length=64)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["user", "hashed"], name="one_code_once")]

    def __str__(self) -> str:
        return f"a code of {self.user_id}"


class Token(models.Model):
    """A key given to a program: what it may, of which projects, until when; kept hashed."""

    SCOPES = (
        ("read", "read projects, designs, years, reports"),
        ("write", "change designs, bring weather, issue reports"),
        ("simulate", "simulate documents, run sweeps"),
    )

    user = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="tokens")
    name = CharField(max_length=60)
    start = CharField(max_length=12)
    """Its first letters, to know it by."""
    hashed = CharField(max_length=64, unique=True)
    scopes = JSONField(default=list)
    project = models.PositiveBigIntegerField(null=True)
    """The one project it is for; none: all that the person may open."""
    made = models.DateTimeField(auto_now_add=True)
    until = models.DateTimeField()
    used = models.DateTimeField(null=True)
    ended = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-made"]

    def __str__(self) -> str:
        return self.name

    @property
    def is_open(self) -> bool:
        """Whether it opens anything now."""
        return self.ended is None and self.until > timezone.now() and self.user.is_active


class RateCount(models.Model):
    """How often something was tried within a slice of time; ``key`` is a hash of what it was tried from."""

    key = CharField(max_length=40)
    since = models.DateTimeField()
    count = models.PositiveIntegerField(default=0)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["key", "since"], name="one_count_a_slice")]

    def __str__(self) -> str:
        return f"{self.count} since {self.since}"
