"""A project: its survey (demand and site), its designs, its weather, every edit, saved versions."""

from typing import Any

from django.conf import settings
from django.db import models

from heat.design import completed, upgraded
from web.projects.documents import joined
from web.ui.money import sign_of


class ProjectQuerySet(models.QuerySet["Project"]):
    def visible_to(self, user: Any) -> "ProjectQuerySet":
        """Projects a person may open: their own, but for those that are deleted."""
        return self.filter(owner=user, deleted=None)

    def deleted_by(self, user: Any) -> "ProjectQuerySet":
        """What a person may still bring back."""
        return self.filter(owner=user).exclude(deleted=None)

    def with_weather(self) -> "ProjectQuerySet":
        """Each project beside its weather file, whose upload and arrays stay in the database."""
        return self.select_related("weather").defer("weather__raw", "weather__data")


class Project(models.Model):
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="projects")
    name = models.CharField(max_length=80)
    place = models.CharField(max_length=80, blank=True)
    survey = models.JSONField()
    weather = models.ForeignKey("WeatherFile", models.SET_NULL, null=True, related_name="+")
    drafts = models.JSONField(default=dict, blank=True)
    revision = models.PositiveIntegerField(default=0)
    cursor = models.PositiveIntegerField(default=0)
    """Place of the last edit that stands; 0 for none."""
    undone = models.PositiveIntegerField(default=0)
    """Edits after it that can be made again."""
    created = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)
    deleted = models.DateTimeField(null=True, blank=True)

    held = False
    """Whether this is the project as it stands, locked until the transaction ends."""

    objects = ProjectQuerySet.as_manager()

    class Meta:
        ordering = ["-changed"]

    def __str__(self) -> str:
        return self.name

    @property
    def currency_code(self) -> str:
        """Its currency by code, such as EUR."""
        return str(self.survey.get("money", {}).get("currency", "EUR"))

    @property
    def currency(self) -> str:
        """The sign of its currency."""
        return sign_of(self.currency_code)


class LightManager(models.Manager["WeatherFile"]):
    """Leaves the upload and the arrays in the database until they are asked for."""

    def get_queryset(self) -> models.QuerySet["WeatherFile"]:
        return super().get_queryset().defer("raw", "data")


class WeatherFile(models.Model):
    """One checked year as uploaded or made up; ``data`` holds the arrays, ``raw`` the upload."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="weather_files")
    name = models.CharField(max_length=120)
    kind = models.CharField(max_length=12)
    made_up = models.BooleanField(default=False)
    raw = models.BinaryField(blank=True)
    data = models.BinaryField()
    about = models.JSONField()
    checksum = models.CharField(max_length=64)
    offered_shift_h = models.SmallIntegerField(default=0)
    created = models.DateTimeField(auto_now_add=True)
    deleted = models.DateTimeField(null=True, blank=True)

    objects = LightManager()

    class Meta:
        ordering = ["created"]
        base_manager_name = "objects"

    def __str__(self) -> str:
        return self.name


class Upload(models.Model):
    """A table on its way in: kept until its columns are told, then as the source of what was read."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="uploads")
    purpose = models.CharField(max_length=8, choices=[("weather", "weather"), ("load", "load"), ("log", "log")])
    name = models.CharField(max_length=120)
    raw = models.BinaryField()
    layout = models.JSONField(default=dict)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["created"]

    def __str__(self) -> str:
        return self.name


class Design(models.Model):
    project = models.ForeignKey(Project, models.CASCADE, related_name="designs")
    letter = models.CharField(max_length=1)
    name = models.CharField(max_length=60)
    note = models.TextField(max_length=2000, blank=True)
    archived = models.BooleanField(default=False)
    place = models.PositiveSmallIntegerField(default=0)
    scheme = models.JSONField()
    figures = models.JSONField(default=dict, blank=True)
    """Small figures of its year under the key of what they were reckoned from; any worker may find or mend them."""
    answers = models.JSONField(default=dict, blank=True)
    """Words on its cautions by key, each as it was said: nothing is changed, only added."""

    class Meta:
        ordering = ["place", "letter"]
        constraints = [models.UniqueConstraint(fields=["project", "letter"], name="one_letter_a_design")]

    def __str__(self) -> str:
        return f"{self.letter} {self.name}"

    def document(self) -> dict[str, Any]:
        """The whole design document, as the core reads it. Raises HeatError where it was kept by a later version."""
        return joined(self.project.survey, self.scheme)


class Edit(models.Model):
    """One change: kept for undo and redo, and as the log of who changed what."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="edits")
    design = models.ForeignKey(Design, models.CASCADE, null=True)
    place = models.PositiveIntegerField()
    revision = models.PositiveIntegerField()
    path = models.CharField(max_length=120)
    before = models.JSONField(null=True)
    after = models.JSONField(null=True)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True)
    at = models.DateTimeField(auto_now_add=True)
    dropped = models.BooleanField(default=False)

    class Meta:
        ordering = ["place"]
        constraints = [
            models.UniqueConstraint(
                fields=["project", "place"],
                condition=models.Q(dropped=False),
                name="one_edit_a_place",
            )
        ]


class Version(models.Model):
    """A design as it stood when someone saved it, weather and all."""

    design = models.ForeignKey(Design, models.CASCADE, related_name="versions")
    document = models.JSONField()
    weather = models.ForeignKey(WeatherFile, models.RESTRICT, related_name="+")
    revision = models.PositiveIntegerField()
    note = models.CharField(max_length=200, blank=True)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["at"]
        get_latest_by = "at"

    def whole(self) -> dict[str, Any]:
        """The document as this version of the engine writes it."""
        return completed(upgraded(self.document))


class Done(models.Model):
    """A request that was done, by the key its page gave it: asked again, it is answered and not done again."""

    author = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="+")
    key = models.CharField(max_length=40)
    location = models.CharField(max_length=200, blank=True)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["author", "key"], name="one_answer_a_key")]

    def __str__(self) -> str:
        return self.key
