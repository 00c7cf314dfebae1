"""The steps of the work in their order, from ``settings.STEPS``; everything that lists them reads them here."""

from functools import cache
from importlib import import_module
from typing import Any

from django.conf import settings
from django.core.exceptions import ImproperlyConfigured
from django.core.signals import setting_changed

from heat.common.documents import Document, Values, value_at
from web.accounts.models import User
from web.editor.design_page import DesignPage
from web.editor.step import PaletteCommand, RowList, Step


@cache
def steps() -> tuple[Step, ...]:
    """Every step, in order. Raises ImproperlyConfigured where two share a key or an address."""
    found = tuple(import_module(f"{name}.step").STEP for name in settings.STEPS)
    names = [step.key for step in found]
    names += [part.path for step in found for part in (*step.actions, *step.fragments, *step.downloads)]
    doubled = sorted({name for name in names if names.count(name) > 1})
    if doubled:
        raise ImproperlyConfigured(f"Two steps share {', '.join(doubled)}: every key and address stands once.")
    return found


def _forget(*, setting: str, **_more: Any) -> None:
    if setting == "STEPS":
        steps.cache_clear()


setting_changed.connect(_forget)


def step_of(key: str) -> Step | None:
    """The step of a key."""
    return next((step for step in steps() if step.key == key), None)


def commands(page: DesignPage) -> list[PaletteCommand]:
    """What the command line finds, step by step."""
    return [command for step in steps() for command in step.commands(page)]


def _rows(path: str) -> RowList:
    for step in steps():
        if path in step.rows:
            return step.rows[path]
    raise KeyError(path)


def add_row(document: Document, path: str, name: str) -> Values:
    """The changes that add a row to a list. KeyError for a path that is no list."""
    stored, row = _rows(path), _rows(path).new(document, name)
    return {path: [*value_at(document, path), row], **stored.added(document, row)}


def take_row(document: Document, path: str, index: int) -> Values:
    """The changes that take a row from a list. KeyError for a path that is no list or has no such row."""
    stored, rows = _rows(path), value_at(document, path)
    if not 0 <= index < len(rows):
        raise KeyError(path)
    left = [row for i, row in enumerate(rows) if i != index]
    return {path: left, **({} if left else stored.emptied(document))}


def chosen(document: Document, name: str, user: User) -> Values:
    """The changes of a named set of values. KeyError for an unknown name."""
    for step in steps():
        for key, choice in step.choices.items():
            if name == key or (key.endswith(" ") and name.startswith(key)):
                return choice(document, name.removeprefix(key), user)
    raise KeyError(name)
