"""The figures of a year that are held beside those of others, kept while they are asked for."""

from heat.design import parse
from heat.errors import HeatError
from heat.results import figures
from heat.weighing.outcome import KEYS, row_of
from web.projects.models import Design
from web.years.reckoned import remembered, simulate_uncached
from web.years.weather import weather_year

Figures = dict[str, float]


def figures_of(design: Design) -> Figures | str:
    """Every figure of a design's year, each name ending in its unit; the words why where there is no year."""
    file = design.project.weather
    assert file is not None
    try:
        document = parse(design.document())

        def make() -> Figures:
            weather = weather_year(file)
            book = simulate_uncached(document, weather)
            return figures(book, weather) | dict(zip(KEYS, row_of(book), strict=True))

        found: Figures = remembered("sheet", document, file, make)
    except HeatError as error:
        return str(error)
    return found
