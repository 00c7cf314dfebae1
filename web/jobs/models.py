"""Questions that take many years to answer: what was asked, cut into chunks whose answers are kept."""

from django.conf import settings
from django.db import models

from web.projects.models import Project, WeatherFile
from web.ui.texts import CharField, JSONField


class Run(models.Model):
    """A question with everything its answer depends on: a design as it stood, a weather year, the engine."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="runs")
    letter = CharField(max_length=1)
    purpose = CharField(max_length=10)
    question = JSONField()
    document = JSONField()
    weather = models.ForeignKey(WeatherFile, models.CASCADE, related_name="+")
    engine = CharField(max_length=16)
    key = CharField(max_length=64)
    size = models.PositiveIntegerField()
    """Years it takes."""
    requested_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")
    created = models.DateTimeField(auto_now_add=True)
    token = models.PositiveBigIntegerField(null=True)
    """The key of the program that asked, where one did."""
    served = models.DateTimeField(null=True)
    """When a worker last took a piece of it."""
    stopped = models.DateTimeField(null=True, blank=True)
    best = JSONField(null=True, blank=True)
    """Of a search: the best so far, its values by path, its numbers, and whether the search came to rest."""

    class Meta:
        ordering = ["-pk"]
        constraints = [
            models.UniqueConstraint(
                fields=["project", "key"], condition=models.Q(stopped=None), name="one_run_a_question"
            )
        ]
        indexes = [models.Index(fields=["requested_by", "served"], name="run_served")]

    def __str__(self) -> str:
        return f"{self.purpose} of {self.letter}, {self.size} years"


class Chunk(models.Model):
    """Some years of a run, calculated together: nothing until they are done, then their figures, once for all."""

    run = models.ForeignKey(Run, models.CASCADE, related_name="chunks")
    index = models.PositiveIntegerField()
    first = models.PositiveIntegerField()
    count = models.PositiveIntegerField()
    figures = models.BinaryField(null=True)
    """Rows of numbers as float64, in the order of heat.studies.outcome.KEYS."""
    refused = JSONField(default=dict)
    done = models.DateTimeField(null=True)

    class Meta:
        ordering = ["index"]
        constraints = [models.UniqueConstraint(fields=["run", "index"], name="one_chunk_a_place")]
        indexes = [models.Index(fields=["run", "index"], condition=models.Q(done=None), name="chunk_undone")]

    def __str__(self) -> str:
        return f"{self.run_id}.{self.index}"


class Spent(models.Model):
    """Years that a person's program, by its key, asked for within a minute."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="+")
    token = models.PositiveBigIntegerField(default=0)
    minute = models.DateTimeField()
    years = models.PositiveIntegerField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["user", "token", "minute"], name="one_count_a_minute_a_key")]

    def __str__(self) -> str:
        return f"{self.years} at {self.minute}"
