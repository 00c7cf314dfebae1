"""What the uncertainty of a rough climate makes of a design's fraction."""

from heat.errors import HeatError
from heat.ledger.year_book import YearBook
from heat.weather.world import KIND, UNCERTAINTY, brighter
from web.projects.models import WeatherFile
from web.simulations.cache import remembered, simulate_uncached
from web.simulations.weather import weather_year


def is_rough(file: WeatherFile) -> bool:
    """Whether a kept year is a rough climate."""
    return bool(file.kind == KIND)


def fraction_band(book: YearBook, file: WeatherFile) -> tuple[float, float] | None:
    """The fraction (no unit) with as much less and more sun as a rough climate may be off; None for any other year."""
    if not is_rough(file):
        return None
    weather, design = weather_year(file), book.design

    def make() -> tuple[float, float] | None:
        try:
            low, high = (
                simulate_uncached(design, brighter(weather, s)).fractions.at_tap for s in (-UNCERTAINTY, UNCERTAINTY)
            )
        except HeatError:  # the year itself stands: only its band is left out
            return None
        return low, high

    found: tuple[float, float] | None = remembered("sun uncertainty", design, file, make)
    return found
