"""The band of a solar fraction as it is shown: that of the inputs, and as far as a second model disagrees."""

from heat.ledger.year_book import YearBook
from heat.sizing.monthly_correlation import second_opinion
from heat.studies.uncertainty import with_second_opinion
from heat.weather.year import WeatherYear


def widened(book: YearBook, weather: WeatherYear, low: float, high: float) -> tuple[float, float]:
    """A band of the year's solar fraction (1) that reaches to the monthly correlation, where that lies outside it."""
    opinion = second_opinion(book, weather)
    return with_second_opinion(low, high, opinion.yearly if opinion else None)
