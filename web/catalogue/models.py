"""A person's own entries of the catalogue; the shipped ones lie with the core."""

from django.conf import settings
from django.db import models

from heat.catalogue import GROUPS, Entry
from web.accounts.models import User
from web.ui.texts import CharField, JSONField


class OwnEntryQuerySet(models.QuerySet["OwnEntry"]):
    def visible_to(self, user: User) -> "OwnEntryQuerySet":
        """Entries a person may see: their own."""
        return self.filter(owner=user)


class OwnEntry(models.Model):
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="entries")
    group = CharField(max_length=20, choices=[(key, group.title) for key, group in GROUPS.items()])
    name = CharField(max_length=80)
    family = CharField(max_length=40, blank=True)
    source = CharField(max_length=200, blank=True)
    dated = CharField(max_length=10, blank=True)
    values = JSONField()
    away = models.BooleanField(default=False)
    changed = models.DateTimeField(auto_now=True)

    objects = OwnEntryQuerySet.as_manager()

    class Meta:
        ordering = ["name", "pk"]

    def __str__(self) -> str:
        return self.name

    def entry(self) -> Entry:
        """The entry as the core knows it."""
        return Entry(self.group, f"own_{self.pk}", self.name, self.family, self.source, self.dated, self.values)
