"""Writes of the catalogue: each checks, changes and keeps, in one transaction."""

from django.db import transaction

from heat.catalogue import Entry, checked, entries
from heat.errors import HeatError, InputError
from web.accounts.models import User
from web.catalogue.models import OwnEntry

MOST_ENTRIES = 1000


@transaction.atomic
def store_entry(*, owner: User, entry: Entry, stored: OwnEntry | None = None) -> OwnEntry:
    """Keep an entry of one's own, new or changed. Raises InputError by field, HeatError for too many."""
    if not entry.name.strip():
        raise InputError("name", "", "a name to find it by")
    if stored is None and OwnEntry.objects.visible_to(owner).count() >= MOST_ENTRIES:
        raise HeatError(f"{MOST_ENTRIES} entries are kept at most: delete some first.")
    current = stored or OwnEntry(owner=owner, group=entry.group)
    clean = lambda text, longest: text.replace("\0", "").strip()[:longest]
    current.name, current.family = clean(entry.name, 80), clean(entry.family, 40)
    current.source, current.dated = clean(entry.source, 200), clean(entry.dated, 10)
    current.values = checked(entry.group, entry.values)
    current.save()
    return current


@transaction.atomic
def put_away(*, stored: OwnEntry, away: bool) -> None:
    """Take an entry out of sight, or bring it back; designs that used it keep their copy."""
    stored.away = away
    stored.save(update_fields=["away"])


def entry_of(owner: User, group: str, key: str) -> Entry:
    """A shipped entry or one's own by key. Raises KeyError."""
    if not key.startswith("own_"):
        return entries(group)[key]
    number = key.removeprefix("own_")
    found = (
        OwnEntry.objects.visible_to(owner).filter(pk=int(number), group=group).first()
        if number.isascii() and number.isdecimal() and len(number) < 15
        else None
    )
    if found is None:
        raise KeyError(key)
    return found.entry()


def in_sight(owner: User, group: str) -> list[Entry]:
    """Every entry a person can choose from: their own first, then the shipped ones."""
    own = [stored.entry() for stored in OwnEntry.objects.visible_to(owner).filter(group=group, away=False)]
    return [*own, *entries(group).values()]
