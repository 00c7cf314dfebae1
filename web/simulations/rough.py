"""What the uncertainty of a rough climate makes of a design's fraction."""

from heat.errors import HeatError
from heat.ledger.year_book import YearBook
from heat.weather.known_sun import months_band, sun_band
from heat.weather.world import KIND, with_sun
from web.projects.models import WeatherFile
from web.simulations.cache import remembered, simulate_uncached
from web.simulations.weather import weather_year


def is_rough(file: WeatherFile) -> bool:
    """Whether a kept year is a rough climate."""
    return bool(file.kind == KIND)


def sun_uncertainty(file: WeatherFile) -> float:
    """How far the sun of a rough climate may be off at its place (share, no unit): nine of ten lie within."""
    weather = weather_year(file)
    return sun_band(weather.latitude_deg, weather.longitude_deg)


def months_uncertainty(file: WeatherFile) -> float:
    """The same of its twelve means, as a fraction feels them (share, no unit)."""
    weather = weather_year(file)
    return months_band(weather.latitude_deg, weather.longitude_deg)


def sun_uncertainty_text(file: WeatherFile) -> str:
    """The same in words (%)."""
    return f"±{100 * sun_uncertainty(file):.0f} %"


def fraction_band(book: YearBook, file: WeatherFile) -> tuple[float, float] | None:
    """The fraction (no unit) with as much less and more sun as a rough climate may be off; None for any other year."""
    if not is_rough(file):
        return None
    weather, design, off = weather_year(file), book.design, months_uncertainty(file)

    def make() -> tuple[float, float] | None:
        try:
            low, high = (simulate_uncached(design, with_sun(weather, share)).fractions.at_tap for share in (-off, off))
        except HeatError:  # the year itself stands: only its band is left out
            return None
        return low, high

    found: tuple[float, float] | None = remembered("sun uncertainty", design, file, make)
    return found
