"""A project: its survey (demand and site), its designs, its weather, every edit, saved versions."""

from typing import Any

from django.conf import settings
from django.db import models

from heat.design import completed, upgraded
from web.accounts.models import User
from web.firms.models import Firm, Member, Role
from web.projects.documents import joined, scheme_of, survey_of
from web.ui.money import sign_of
from web.ui.rows import Row
from web.ui.texts import CharField, JSONField, TextField


def visible_to_person(user: User) -> models.Q:
    """What a person may open, deleted or not: their own, their firms', and what is shared with them."""
    firms = Member.objects.filter(user=user).values("firm")
    shared = Share.objects.filter(user=user, ended=None).values("project")
    return models.Q(owner=user, firm=None) | models.Q(firm__in=firms) | models.Q(pk__in=shared)


def owned_by(user: User) -> models.Q:
    """What a person may delete: their own, those of firms they run, and of their firms those they have in hand."""
    runs = Member.objects.filter(user=user, role=Role.OWNER).values("firm")
    designs = Member.objects.filter(user=user, role=Role.DESIGNER).values("firm")
    return models.Q(owner=user, firm=None) | models.Q(firm__in=runs) | models.Q(firm__in=designs, owner=user)


class ProjectQuerySet(models.QuerySet["Project"]):
    def visible_to(self, user: User) -> "ProjectQuerySet":
        """Projects a person may open, but for those that are deleted."""
        return self.filter(visible_to_person(user), deleted=None)

    def deleted_by(self, user: User) -> "ProjectQuerySet":
        """What a person may still bring back."""
        return self.filter(owned_by(user)).exclude(deleted=None)

    def with_weather(self) -> "ProjectQuerySet":
        """Each project beside its weather file, whose upload and arrays stay in the database, whose it is, and whether
        there are shares, comments and runs to ask for."""
        light = self.select_related("weather", "firm").defer("weather__raw", "weather__data")
        current = Share.objects.filter(project=models.OuterRef("pk"), ended=None).exclude(user=None)
        message = Comment.objects.filter(project=models.OuterRef("pk"))
        in_use = Project.objects.filter(pk=models.OuterRef("pk"), runs__isnull=False)
        return light.annotate(
            shared_out=models.Exists(current), commented=models.Exists(message), has_runs=models.Exists(in_use)
        )

    def with_right_of(self, user: User) -> "ProjectQuerySet":
        """Each project beside the person's role in its firm, and what is shared with them."""
        role = Member.objects.filter(firm=models.OuterRef("firm"), user=user).values("role")[:1]
        shared = Share.objects.filter(project=models.OuterRef("pk"), user=user, ended=None)
        first = shared.order_by("need").values("need")[:1]  # edit before view
        annotations = {"their_role": models.Subquery(role), "their_share": models.Subquery(first)}
        return self.annotate(asked_for=models.Value(user.pk), **annotations)


class Project(models.Model):
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="projects")
    """Whose it is; of a firm's project, who has it in hand."""
    firm = models.ForeignKey(Firm, models.CASCADE, null=True, related_name="projects")
    name = CharField(max_length=80)
    place = CharField(max_length=80, blank=True)
    survey = JSONField()
    weather = models.ForeignKey("WeatherFile", models.SET_NULL, null=True, related_name="+")
    drafts = JSONField(default=dict, blank=True)
    revision = models.PositiveIntegerField(default=0)
    cursor = models.PositiveIntegerField(default=0)
    """Place of the last edit that stands; 0 for none."""
    undone = models.PositiveIntegerField(default=0)
    """Edits after it that can be made again."""
    created = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)
    deleted = models.DateTimeField(null=True, blank=True)

    locked = False
    """Whether this is the project as it stands, locked until the transaction ends."""

    objects = ProjectQuerySet.as_manager()

    class Meta:
        ordering = ["-changed"]

    def __str__(self) -> str:
        return self.name

    @property
    def is_shared(self) -> bool:
        """Whether others may have it open: a firm's, or shared."""
        return bool(self.firm_id or getattr(self, "shared_out", False))

    @property
    def books(self) -> Any:
        """The person whose price book and letterhead it uses."""
        return self.firm.head if self.firm else self.owner

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
    name = CharField(max_length=120)
    kind = CharField(max_length=12)
    made_up = models.BooleanField(default=False)
    raw = models.BinaryField(blank=True)
    data = models.BinaryField()
    about = JSONField()
    checksum = CharField(max_length=64)
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
    """A table on its way in: kept until its columns are named, then as the source of what was read."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="uploads")
    purpose = CharField(max_length=8, choices=[("weather", "weather"), ("load", "load"), ("log", "log")])
    name = CharField(max_length=120)
    raw = models.BinaryField()
    layout = JSONField(default=dict)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["created"]

    def __str__(self) -> str:
        return self.name


class Design(models.Model):
    project = models.ForeignKey(Project, models.CASCADE, related_name="designs")
    letter = CharField(max_length=1)
    name = CharField(max_length=60)
    note = TextField(max_length=2000, blank=True)
    archived = models.BooleanField(default=False)
    place = models.PositiveSmallIntegerField(default=0)
    scheme = JSONField()
    figures = JSONField(default=dict, blank=True)
    """Small figures of its year, and of its last version's, each under the key of what they were calculated from; any
    worker may find or mend them."""
    answers = JSONField(default=dict, blank=True)
    """Words on its cautions by key, each as it was said: nothing is changed, only added."""

    class Meta:
        ordering = ["place", "letter"]
        constraints = [models.UniqueConstraint(fields=["project", "letter"], name="one_letter_a_design")]

    def __str__(self) -> str:
        return f"{self.letter} {self.name}"

    def document(self) -> Row:
        """The whole design document, as the core reads it: made once for what is kept now, to be read and not written.

        Raises HeatError where it was kept by a later version.
        """
        made = getattr(self, "_made", None)
        if made is None or made[0] is not self.project.survey or made[1] is not self.scheme:
            made = self._made = (self.project.survey, self.scheme, joined(self.project.survey, self.scheme))
        return made[2]

    def take(self, document: dict[str, object]) -> None:
        """Be what a whole, placed document of this version says, unsaved."""
        self.project.survey, self.scheme = survey_of(document), scheme_of(document)
        self._made = (self.project.survey, self.scheme, document)


class Edit(models.Model):
    """One change: kept for undo and redo, and as the log of who changed what."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="edits")
    design = models.ForeignKey(Design, models.CASCADE, null=True)
    place = models.PositiveIntegerField()
    revision = models.PositiveIntegerField()
    path = CharField(max_length=120)
    before = JSONField(null=True)
    after = JSONField(null=True)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True)
    at = models.DateTimeField(auto_now_add=True)
    dropped = models.BooleanField(default=False)

    class Meta:
        ordering = ["place"]
        constraints = [
            models.UniqueConstraint(
                fields=["project", "place"], condition=models.Q(dropped=False), name="one_edit_a_place"
            )
        ]


class Version(models.Model):
    """A design as it stood when someone saved it, weather and all."""

    design = models.ForeignKey(Design, models.CASCADE, related_name="versions")
    document = JSONField()
    weather = models.ForeignKey(WeatherFile, models.RESTRICT, related_name="+")
    revision = models.PositiveIntegerField()
    note = CharField(max_length=200, blank=True)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["at"]
        get_latest_by = "at"

    def whole(self) -> Row:
        """The document as this version of the engine writes it."""
        return completed(upgraded(self.document))


class Done(models.Model):
    """A request that was done, by the key its page gave it: asked again, it is answered and not done again."""

    author = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="+")
    key = CharField(max_length=40)
    location = CharField(max_length=200, blank=True)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["author", "key"], name="one_answer_a_key")]

    def __str__(self) -> str:
        return self.key


class Share(models.Model):
    """A project shared with one person from outside: a link that is taken up once, then the right until it ends."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="shares")
    need = CharField(max_length=4, choices=[("view", "look at it"), ("edit", "change it")])
    note = CharField(max_length=80, blank=True)
    """For whom it is meant."""
    hashed = CharField(max_length=64, unique=True)
    until = models.DateTimeField()
    """When the link closes; the right stays."""
    user = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, null=True, related_name="shares")
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")
    made = models.DateTimeField(auto_now_add=True)
    ended = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-made"]

    def __str__(self) -> str:
        return f"{self.project_id} {self.need}"


class Presence(models.Model):
    """Somebody whose page of a project is open: what they look at, and when their page was last heard of."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="presences")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="+")
    letter = CharField(max_length=1)
    step = CharField(max_length=20)
    at = models.DateTimeField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["project", "user"], name="one_presence_a_person")]

    def __str__(self) -> str:
        return f"{self.user_id} at {self.project_id}"


class Comment(models.Model):
    """Something said about a part, a value, a day or a page; answered below it, and closed."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="comments")
    design = models.ForeignKey(Design, models.CASCADE, null=True, related_name="comments")
    pin = CharField(max_length=140)
    """What it is about: ``path:…``, ``part:…``, ``day:…`` or ``step:…``."""
    where = CharField(max_length=300, blank=True)
    """The page it was said on: its step and query."""
    text = CharField(max_length=1000)
    under = models.ForeignKey("self", models.CASCADE, null=True, related_name="answers")
    author = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    closed = models.DateTimeField(null=True)
    closed_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")

    class Meta:
        ordering = ["at", "pk"]

    def __str__(self) -> str:
        return self.text[:40]


class AuditEvent(models.Model):
    """What was done with a project beside its values: shared, handed over, deleted, brought back."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="events")
    who = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")
    what = CharField(max_length=250)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-at", "-pk"]

    def __str__(self) -> str:
        return self.what
