"""The hour the drawing shows."""

from dataclasses import dataclass

from heat.ledger.year_book import SUN
from web.editor.design_page import DesignPage


@dataclass(frozen=True)
class Moment:
    """The hour the drawing shows."""

    day: int
    hour: int

    @property
    def index(self) -> int:
        return 24 * self.day + self.hour

    def shifted(self, hours: int) -> "Moment":
        index = (self.index + hours) % 8760
        return Moment(index // 24, index % 24)


def default_day(page: DesignPage) -> int:
    """A middling sunny day: the one whose sun is nearest the 70th percentile in the spring half."""
    daily = page.year.book.hourly(*SUN).reshape(365, 24).sum(axis=1)
    wanted = sorted(daily)[255]
    return int(min(range(59, 151), key=lambda d: abs(daily[d] - wanted)))


def moment(page: DesignPage) -> Moment:
    day = default_day(page) if page.state.day is None else min(max(page.state.day, 0), 364)
    return Moment(day, min(max(page.state.hour, 0), 23))
