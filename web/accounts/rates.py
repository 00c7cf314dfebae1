"""How often something may be tried: counted in the database for all web processes, by what it is tried from."""

from dataclasses import dataclass
from datetime import timedelta
from hashlib import sha256

from django.db.models import F, Sum
from django.utils import timezone

from web.accounts.models import RateCount

SLICE = timedelta(minutes=5)
"""Counts are kept by slices of time; a window reaches over the last few."""
SWEEP = 500
"""Old counts are deleted once in so many new ones."""


@dataclass(frozen=True)
class RateLimit:
    """At most so many tries within a window."""

    name: str
    most: int
    window: timedelta


WRONG_PASSWORDS = RateLimit("wrong password from", 30, timedelta(minutes=15))
"""By address, whatever names are tried: 30 leaves room for an office behind one address."""
MAILS_TO = RateLimit("reset mail to", 3, timedelta(hours=1))
RESETS_FROM = RateLimit("reset from", 10, timedelta(hours=1))
JOINED_FROM = RateLimit("joined from", 20, timedelta(hours=1))
NOTICES_TO = RateLimit("notice to", 30, timedelta(hours=1))


def _key(rate: RateLimit, of: str) -> str:
    return sha256(f"{rate.name} {of.lower()}".encode()).hexdigest()[:40]


def tries(rate: RateLimit, of: str) -> int:
    """Tries within the window."""
    since = timezone.now() - rate.window
    return RateCount.objects.filter(key=_key(rate, of), since__gt=since).aggregate(n=Sum("count"))["n"] or 0


def is_over(rate: RateLimit, of: str) -> bool:
    """Whether no more may be tried now."""
    return tries(rate, of) >= rate.most


def count(rate: RateLimit, of: str) -> None:
    """Count a try."""
    now = timezone.now()
    start = now - timedelta(seconds=now.timestamp() % SLICE.total_seconds())
    row, new = RateCount.objects.get_or_create(key=_key(rate, of), since=start.replace(microsecond=0))
    RateCount.objects.filter(pk=row.pk).update(count=F("count") + 1)
    if new and row.pk % SWEEP == 0:
        RateCount.objects.filter(since__lt=now - timedelta(days=1)).delete()


def allowed(rate: RateLimit, of: str) -> bool:
    """Whether something may be tried now; it is counted then."""
    if is_over(rate, of):
        return False
    count(rate, of)
    return True
