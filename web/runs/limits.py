"""Limits on long work, per person and per firm, so that one sweep does not keep others waiting."""

from datetime import timedelta

from django.db.models import F, OuterRef, Q, Subquery, Sum
from django.db.models.functions import Coalesce
from django.utils import timezone

from heat.errors import HeatError
from web.accounts.models import User
from web.projects.models import Project
from web.runs.models import Chunk, Run, Spent

RUNNING, FIRM_RUNNING = 6, 30
"""Long questions under way at once, of a person and of a firm."""
WAITING, FIRM_WAITING = 20_000, 60_000
"""Years still to be reckoned of them, at most."""
A_MINUTE = 240
"""Years a person's programs may ask for within a minute."""


class TooMuch(HeatError):
    """More than may be asked for at once, in words."""


def ask_for_turn(user: User, project: Project, size: int) -> None:
    """Raises TooMuch where so many years more would be beyond what a person, or a firm, may have under way."""
    done = Chunk.objects.filter(run=OuterRef("pk")).exclude(done=None).values("run")
    reckoned = Coalesce(Subquery(done.annotate(years=Sum("count")).values("years")), 0)
    lately = timezone.now() - timedelta(days=2)
    under_way = Run.objects.filter(stopped=None, created__gt=lately).annotate(left=F("size") - reckoned)
    whose = Q(asked_by=user)
    if project.firm_id:
        whose |= Q(project__firm=project.firm_id)
    found = list(under_way.filter(whose, left__gt=0).values_list("asked_by", "project__firm", "left"))
    mine = [left for by, _firm, left in found if by == user.pk]
    firms = [left for _by, firm, left in found if firm is not None and firm == project.firm_id]
    for told, most, years, who in (
        (mine, RUNNING, WAITING, "you"), (firms, FIRM_RUNNING, FIRM_WAITING, "your firm"),
    ):  # fmt: skip
        if len(told) >= most:
            raise TooMuch(
                f"{len(told)} long questions of {who} are still being reckoned. Wait for one to end, or stop one."
            )
        if told and sum(told) + size > years:
            raise TooMuch(
                f"{sum(told)} years of {who} are still to be reckoned; {size} more would be beyond {years}. Wait a "
                "little, or stop one."
            )


def spend(user: User, years: int) -> None:
    """Count years that a person's program asks for. Raises TooMuch beyond what a minute holds."""
    minute = timezone.now().replace(second=0, microsecond=0)
    row, new = Spent.objects.get_or_create(user=user, minute=minute, defaults={"years": years})
    if not new:
        row.years = F("years") + years
        row.save(update_fields=["years"])
        row.refresh_from_db(fields=["years"])
    if row.years > A_MINUTE:
        raise TooMuch(
            f"{A_MINUTE} years a minute are what a program may ask for. Wait for the next minute, or ask a sweep."
        )
    if new:
        Spent.objects.filter(minute__lt=minute - timedelta(hours=1)).delete()
