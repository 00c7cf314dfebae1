"""The one cleaner of texts on their way to the database, and the fields that put each through it."""

import re
from typing import Any

from django.db import models
from django.db.models.lookups import Contains, EndsWith, IContains, IEndsWith, IStartsWith, PatternLookup, StartsWith

UNWRITABLE = re.compile("[\x00\ud800-\udfff]")
"""What PostgreSQL holds in no text: zero letters, and halves of letters (lone surrogates)."""


def cleaned(text: str, most: int | None = None) -> str:
    """A text as a database holds it, so many letters at most."""
    return UNWRITABLE.sub("", text)[:most]


def cleaned_json(value: Any) -> Any:
    """JSON values with every text in them cleaned, names too; numbers no JSON holds become null."""
    if isinstance(value, str):
        return cleaned(value)
    if isinstance(value, dict):
        return {cleaned_json(name): cleaned_json(part) for name, part in value.items()}
    if isinstance(value, list | tuple):
        return [cleaned_json(part) for part in value]
    if isinstance(value, float) and not (-1.8e308 < value < 1.8e308):  # nan and infinity are no JSON
        return None
    return value


class _AsDjango:
    """Migrations know these fields by Django's own names: nothing of the table differs."""

    def deconstruct(self) -> Any:
        name, _path, args, kwargs = super().deconstruct()  # type: ignore[misc]
        return name, f"django.db.models.{type(self).__name__}", args, kwargs


class CharField(_AsDjango, models.CharField):  # type: ignore[type-arg]
    """Text of some length: cleaned and cut to it, whatever wrote it."""

    def get_prep_value(self, value: Any) -> Any:
        ready = super().get_prep_value(value)
        return cleaned(ready, self.max_length) if isinstance(ready, str) else ready


class TextField(_AsDjango, models.TextField):  # type: ignore[type-arg]
    """Text, cleaned."""

    def get_prep_value(self, value: Any) -> Any:
        ready = super().get_prep_value(value)
        return cleaned(ready, self.max_length) if isinstance(ready, str) else ready


def _cleaned_lookup(lookup: type[PatternLookup]) -> type[PatternLookup]:
    """The same lookup of a part of a text, its text cleaned: Django hands that on as it came."""

    def get_prep_lookup(self: Any) -> Any:
        ready = lookup.get_prep_lookup(self)
        return cleaned(ready) if isinstance(ready, str) else ready

    return type(lookup.__name__, (lookup,), {"get_prep_lookup": get_prep_lookup})


for _lookup in (Contains, IContains, StartsWith, IStartsWith, EndsWith, IEndsWith):
    for _field in (CharField, TextField):
        _field.register_lookup(_cleaned_lookup(_lookup))


class JSONField(_AsDjango, models.JSONField):
    """JSON whose texts are cleaned."""

    def get_db_prep_save(self, value: Any, connection: Any) -> Any:
        return super().get_db_prep_save(cleaned_json(value), connection)
