"""Moments and days as a project's file may hold them: of this era, with a zone."""

from datetime import UTC, date, datetime
from typing import Annotated

from pydantic import AfterValidator

FIRST, LAST = 1970, 2199
"""Years a log, an edit or a report may be of."""


def _of_this_era(moment: datetime) -> datetime:
    aware = moment if moment.tzinfo else moment.replace(tzinfo=UTC)
    _year(aware.year)
    return aware.astimezone(UTC)


def _day(day: date) -> date:
    _year(day.year)
    return day


def _year(year: int) -> None:
    if not FIRST <= year <= LAST:
        raise ValueError(f"the year must lie between {FIRST} and {LAST}")


Moment = Annotated[datetime, AfterValidator(_of_this_era)]
"""A moment; one without a zone is universal time."""
Day = Annotated[date, AfterValidator(_day)]
