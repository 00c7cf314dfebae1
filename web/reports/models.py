"""Letterheads, and reports as they were issued: frozen with everything they rest on."""

from django.conf import settings
from django.db import models
from django.utils import timezone

from web.projects.models import Project
from web.ui.texts import CharField, JSONField, TextField


class Letterhead(models.Model):
    """Whose paper it is: a name, an address, a picture that was checked and drawn anew."""

    owner = models.OneToOneField(settings.AUTH_USER_MODEL, models.CASCADE, related_name="letterhead")
    name = CharField(max_length=80, blank=True)
    address = TextField(max_length=400, blank=True)
    logo = models.BinaryField(null=True)
    """A PNG of our own making."""

    def __str__(self) -> str:
        return self.name


class LightReports(models.Manager["Report"]):
    """Leaves the pages in the database until they are asked for."""

    def get_queryset(self) -> models.QuerySet["Report"]:
        return super().get_queryset().defer("pdf", "html", "client", "hours", "inputs")


class Report(models.Model):
    """A report as it was issued: its pages, what they were made of, and the address a client may read it at."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="reports")
    number = models.PositiveIntegerField()
    title = CharField(max_length=120)
    letters = CharField(max_length=30)
    requested = JSONField()
    """What was chosen: sections, designs, units, paper."""
    inputs = JSONField()
    """Documents by letter, weather by name and checksum, prices, engine."""
    html = TextField()
    client = TextField()
    """The client's page alone."""
    hours = JSONField(null=True)
    """The drawing played through its hours, for the client’s page."""
    pdf = models.BinaryField(default=b"")
    checksum = CharField(max_length=64, blank=True)
    printed = models.DateTimeField(null=True, default=timezone.now)
    """When its pages were printed; nothing while that is under way."""
    author = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True)
    issued = models.DateTimeField(default=timezone.now)
    token = CharField(max_length=48, null=True, unique=True)
    until = models.DateField(null=True)
    revoked = models.DateTimeField(null=True)

    objects = models.Manager()
    light = LightReports()

    class Meta:
        ordering = ["-number"]
        constraints = [models.UniqueConstraint(fields=["project", "number"], name="one_report_a_number")]

    def __str__(self) -> str:
        return f"{self.number} {self.title}"

    @property
    def is_open(self) -> bool:
        """Whether its address can be read now."""
        ended = self.until is not None and self.until < timezone.localdate()
        return self.token is not None and self.revoked is None and not ended
