"""From readings kept in the database to the core's log, and the years and days it is held against."""

from dataclasses import dataclass
from datetime import date, datetime, timedelta

import numpy as np

from heat.design import Design, parse
from heat.monitoring.log import QUANTITIES
from heat.monitoring.log import Log as Rows
from heat.weather.year import WeatherYear
from web.logs.models import Log, hour_of, local_of, moment_of
from web.simulations.weather import weather_year
from web.ui.calendar import date_typed

MOST_DAYS = 14
"""Days looked at together."""
YEARS = (1990, 2100)
"""Years a day of a log may lie in."""


@dataclass(frozen=True)
class ReadingWindow:
    """Days of a log that are looked at: from a day's 0 h, so many days."""

    first: date
    days: int

    @property
    def begins(self) -> datetime:
        """Its first moment, local standard time."""
        return datetime(self.first.year, self.first.month, self.first.day)

    @property
    def ends(self) -> datetime:
        """Its last moment, within the same year."""
        return min(self.begins + timedelta(days=self.days), datetime(self.first.year + 1, 1, 1))


def window_of(log: Log, day: str = "", days: str = "") -> ReadingWindow | None:
    """The days asked for, else the last ones that were read; none where nothing was read."""
    last = log.readings.order_by("-at").values_list("at", flat=True).first()
    count = min(max(int(days), 1), MOST_DAYS) if days.isdecimal() and len(days) < 4 else 3
    try:
        requested = date_typed(day)
    except ValueError:
        requested = None
    if requested is not None and YEARS[0] <= requested.year <= YEARS[1]:
        return ReadingWindow(requested, count)
    if last is None:
        return None
    end = local_of(last, log.offset_h).date()
    first = end - timedelta(days=count - 1)
    return ReadingWindow(max(first, date(end.year, 1, 1)), count)


def rows_of(log: Log, window: ReadingWindow) -> Rows | None:
    """What was read in these days and not struck out, as the core has it; none where nothing was."""
    begins, ends = (moment_of(t, log.offset_h) for t in (window.begins, window.ends))
    found = list(
        log.readings.filter(struck=None, at__gte=begins, at__lt=ends).order_by("at").values_list("at", "values")
    )
    if not found:
        return None
    hour = np.array([hour_of(at, log.offset_h) for at, _values in found])
    names = {name for _at, values in found for name in values}
    row = lambda name: np.array([values.get(name, np.nan) for _at, values in found], dtype=np.float64)
    store = np.array([row(f"s{i}") for i in range(len(log.heights))]) if log.heights else None
    return Rows(hour, {name: row(name) for name in QUANTITIES if name in names}, tuple(log.heights), store)


def built(log: Log) -> tuple[Design, WeatherYear]:
    """The design of its day and the weather of its place."""
    return parse(log.document), weather_year(log.weather)


def changed_since(log: Log, document: dict[str, object]) -> bool:
    """Whether the design has changed since its log began, in what its days depend on."""
    parts = ("demand", "site", "plane", "system", "numerics")
    return any(log.document.get(part) != document.get(part) for part in parts)
