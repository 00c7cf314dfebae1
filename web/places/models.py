"""Towns of the world, to find a place by its name."""

from django.contrib.postgres.indexes import GinIndex
from django.db import models

from web.ui.texts import CharField, TextField


class Town(models.Model):
    name = CharField(max_length=120)
    region = CharField(max_length=120, blank=True)
    country = CharField(max_length=60)
    latitude = models.FloatField()
    longitude = models.FloatField()
    people = models.PositiveIntegerField(default=0)
    called = TextField()
    """Every name it goes by, folded, each after a bar: “|name|other name”."""
    lies = TextField(blank=True)
    """Region and country, folded, each after a bar."""

    class Meta:
        ordering = ["-people", "pk"]
        indexes = [
            GinIndex(name="towns_by_name", fields=["called"], opclasses=["gin_trgm_ops"]),
            models.Index(name="towns_by_people", fields=["-people", "id"]),
        ]

    def __str__(self) -> str:
        return ", ".join(part for part in (self.name, self.region, self.country) if part)


class Filled(models.Model):
    """Which table of towns stands in the database, by its checksum."""

    checksum = CharField(max_length=64)

    def __str__(self) -> str:
        return self.checksum
