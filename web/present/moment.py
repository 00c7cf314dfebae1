"""The hour the drawing shows."""

from dataclasses import dataclass

from heat.ledger import SUN
from web.sheet.page import Sheet


@dataclass(frozen=True)
class Moment:
    """The hour the drawing shows."""

    day: int
    hour: int

    @property
    def index(self) -> int:
        return 24 * self.day + self.hour

    def moved(self, hours: int) -> "Moment":
        index = (self.index + hours) % 8760
        return Moment(index // 24, index % 24)


def default_day(sheet: Sheet) -> int:
    """A middling sunny day: the one whose sun is nearest the 70th percentile in the spring half."""
    daily = sheet.year.book.hourly(*SUN).reshape(365, 24).sum(axis=1)
    wanted = sorted(daily)[255]
    return int(min(range(59, 151), key=lambda d: abs(daily[d] - wanted)))


def moment(sheet: Sheet) -> Moment:
    day = default_day(sheet) if sheet.look.day is None else min(max(sheet.look.day, 0), 364)
    return Moment(day, min(max(sheet.look.hour, 0), 23))
