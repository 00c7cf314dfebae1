"""Limits on long work, per person and per firm, so that one sweep does not keep others waiting."""

from collections.abc import Iterator
from contextlib import contextmanager
from datetime import timedelta
from time import thread_time

from django.db.models import F, OuterRef, Q, Subquery, Sum
from django.db.models.functions import Coalesce
from django.utils import timezone

from heat.errors import HeatError
from web.accounts.models import User
from web.jobs.models import Chunk, Run, Spent
from web.projects.models import Project

RUNNING, KEY_RUNNING, FIRM_RUNNING = 6, 3, 30
"""Long questions under way at once: of a person, of one key for a program, of a firm."""
WAITING, KEY_WAITING, FIRM_WAITING = 20_000, 8_000, 60_000
"""Years still to be simulated of them, at most."""
A_MINUTE, KEY_A_MINUTE = 240, 120
"""Years that a person's programs, and one key among them, may ask for within a minute."""
YEAR_S = 0.03
"""What counts as a year: so much time of a core (s), that of a plain year with what is around it."""


ONE_REQUEST = 60
"""What one request counts at most (years): a report printed on a slow machine leaves its key half of the minute."""


class TooMuch(HeatError):
    """More than may be asked for at once, in words."""


def require_capacity(user: User, project: Project, size: int, token: int | None = None) -> None:
    """Raises TooMuch where so many years more would be beyond what a person, a key or a firm may have under way."""
    done = Chunk.objects.filter(run=OuterRef("pk")).exclude(done=None).values("run")
    simulated = Coalesce(Subquery(done.annotate(years=Sum("count")).values("years")), 0)
    lately = timezone.now() - timedelta(days=2)
    under_way = Run.objects.filter(stopped=None, created__gt=lately).annotate(left=F("size") - simulated)
    whose = Q(requested_by=user)
    if project.firm_id:
        whose |= Q(project__firm=project.firm_id)
    found = list(under_way.filter(whose, left__gt=0).values_list("requested_by", "token", "project__firm", "left"))
    mine = [left for by, _key, _firm, left in found if by == user.pk]
    keys = [left for _by, key, _firm, left in found if token is not None and key == token]
    firms = [left for _by, _key, firm, left in found if firm is not None and firm == project.firm_id]
    for text, most, years, who in (
        (keys, KEY_RUNNING, KEY_WAITING, "this key"),
        (mine, RUNNING, WAITING, "you"),
        (firms, FIRM_RUNNING, FIRM_WAITING, "your firm"),
    ):
        if len(text) >= most:
            raise TooMuch(
                f"{len(text)} long questions of {who} are still being answered. Wait for one to end, or stop one."
            )
        if text and sum(text) + size > years:
            raise TooMuch(
                f"{sum(text)} years of {who} are still to be simulated; {size} more would be beyond {years}. Wait a "
                "little, or stop one."
            )


@contextmanager
def metered(user: User, token: int) -> Iterator[None]:
    """Count the work of a program's request: one year when it begins, and what it took of a core once it is done.
    Raises TooMuch beyond what a minute holds."""
    _count(user, token, 1)
    start = thread_time()
    try:
        yield
    finally:
        _count(user, token, min(round((thread_time() - start) / YEAR_S), ONE_REQUEST), refuse=False)


def _count(user: User, token: int, years: int, *, refuse: bool = True) -> None:
    minute = timezone.now().replace(second=0, microsecond=0)
    row, new = Spent.objects.get_or_create(user=user, token=token, minute=minute, defaults={"years": 0})
    spent = dict(Spent.objects.filter(user=user, minute=minute).values_list("token", "years"))
    for most, of, who in (
        (KEY_A_MINUTE, spent[token], "a key"),
        (A_MINUTE, sum(spent.values()), "a person’s programs"),
    ):
        if refuse and of + years > most:
            raise TooMuch(
                f"{most} years a minute are what {who} may ask for; heavy designs count as several. Wait for the next "
                "minute, or ask a sweep."
            )
    if years:
        Spent.objects.filter(pk=row.pk).update(years=F("years") + years)
    if new:
        Spent.objects.filter(minute__lt=minute - timedelta(hours=1)).delete()
