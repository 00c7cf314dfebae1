"""What was read at a system after it was commissioned. Readings are facts: added, struck out, never changed."""

from datetime import UTC, datetime

from django.conf import settings
from django.db import models
from django.utils import timezone

from web.projects.models import Project, WeatherFile
from web.ui.texts import CharField, JSONField


class Log(models.Model):
    """The log of a commissioned design: the design of its day, its sensors, its tables' columns, its logger's key."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="logs")
    letter = CharField(max_length=1)
    document = JSONField()
    """The design as it was built; what changes in the project later does not reach it."""
    weather = models.ForeignKey(WeatherFile, models.RESTRICT, related_name="logs")
    began = models.DateTimeField(default=timezone.now)
    heights = JSONField(default=list)
    """Heights of the store's sensors from the floor up (share)."""
    litres = JSONField(default=list)
    """Water that each sensor stands for (L), from the floor up."""
    sensor_k = models.FloatField(default=0.5)
    columns = JSONField(default=dict)
    """What the columns of its tables hold, as named last."""
    token = CharField(max_length=64, null=True, unique=True)
    """SHA-256 of the key a logger sends; the key itself is shown once."""
    token_made = models.DateTimeField(null=True)
    due = models.DateField(null=True)
    """When the next task of upkeep is due, and what it is: kept for the list of projects."""
    due_words = CharField(max_length=120, blank=True)
    secret = JSONField(null=True)
    """A fault a stand-in logger hides for training, sizes by key; nothing where none is hidden."""
    tries = models.PositiveIntegerField(default=0)
    named = models.DateTimeField(null=True)
    """When the hidden fault was named."""
    heard = models.DateTimeField(null=True)
    """When its logger was heard last."""

    class Meta:
        ordering = ["-began", "-pk"]

    def __str__(self) -> str:
        return f"log {self.pk} of {self.letter}"

    @property
    def offset_h(self) -> float:
        """Local standard time against universal time (h)."""
        return float(self.weather.about["utc_offset_h"])


class Reading(models.Model):
    """A moment and what was read then, in the core's units by name; ``s0``, ``s1`` … are the store's sensors."""

    log = models.ForeignKey(Log, models.CASCADE, related_name="readings")
    at = models.DateTimeField()
    values = JSONField()
    source = CharField(max_length=8, choices=[(s, s) for s in ("typed", "table", "logger")])
    remark = CharField(max_length=300, blank=True)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")
    struck = models.DateTimeField(null=True)
    why = CharField(max_length=200, blank=True)
    struck_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")

    class Meta:
        ordering = ["at", "pk"]
        constraints = [
            models.UniqueConstraint(
                fields=["log", "at", "source"],
                condition=~models.Q(source="typed") | models.Q(struck=None),  # a typed line may be corrected
                name="one_reading_a_moment",
            )
        ]

    def __str__(self) -> str:
        return f"{self.at:%Y-%m-%d %H:%M} {self.source}"


class LightPhotos(models.Manager["Photo"]):
    """Leaves the pictures in the database until they are asked for."""

    def get_queryset(self) -> models.QuerySet["Photo"]:
        return super().get_queryset().defer("picture")


class Photo(models.Model):
    """A photograph and a dated comment: drawn anew, without what its camera wrote into it."""

    log = models.ForeignKey(Log, models.CASCADE, related_name="photos")
    at = models.DateTimeField(default=timezone.now)
    picture = models.BinaryField(null=True)
    remark = CharField(max_length=300, blank=True)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")

    objects = models.Manager()
    light = LightPhotos()

    class Meta:
        ordering = ["-at"]

    def __str__(self) -> str:
        return f"{self.at:%Y-%m-%d} {self.remark[:20]}"


class Meter(models.Model):
    """What meters read in a month: the later word stands, the earlier stays."""

    log = models.ForeignKey(Log, models.CASCADE, related_name="meters")
    month = models.DateField()
    values = JSONField()
    at = models.DateTimeField(default=timezone.now)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")

    class Meta:
        ordering = ["month", "at"]

    def __str__(self) -> str:
        return f"{self.month:%Y-%m}"


class MaintenanceDone(models.Model):
    """A task of upkeep that was done."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="upkeep")
    key = CharField(max_length=40)
    on = models.DateField()
    name = CharField(max_length=80)
    remark = CharField(max_length=300, blank=True)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")
    at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["-on", "-at"]

    def __str__(self) -> str:
        return f"{self.key} {self.on}"


class Calendar(models.Model):
    """A person's address at which a project's upkeep is read by a calendar, while that person may see the project."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="calendars")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="+")
    token = CharField(max_length=48, unique=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["project", "user"], name="one_calendar_a_person")]

    def __str__(self) -> str:
        return f"calendar of {self.project_id}"


YEAR_H = 8760


def hour_of(moment: datetime, offset_h: float) -> float:
    """Hour of the year (0 to 8760, 29 February as the 28th) of a moment in local standard time (offset in h)."""
    local = datetime.fromtimestamp(moment.timestamp() + 3600.0 * offset_h, UTC)
    day = local.timetuple().tm_yday - 1
    if local.year % 4 == 0 and (local.year % 100 or local.year % 400 == 0) and day > 58:
        day -= 1
    return 24.0 * day + local.hour + local.minute / 60.0 + local.second / 3600.0


def local_of(moment: datetime, offset_h: float) -> datetime:
    """A moment as local standard time gives it, without a zone."""
    return datetime.fromtimestamp(moment.timestamp() + 3600.0 * offset_h, UTC).replace(tzinfo=None)


def moment_of(local: datetime, offset_h: float) -> datetime:
    """The moment of a local standard time."""
    return datetime.fromtimestamp(local.replace(tzinfo=UTC).timestamp() - 3600.0 * offset_h, UTC)


Values = dict[str, float]
