"""The figures of a year that are held beside those of others, kept while they are asked for."""

from collections.abc import Callable

from heat.design import Design as DesignDocument
from heat.design import parse
from heat.errors import HeatError
from heat.ledger import YearBook
from heat.results import figures
from heat.weighing.outcome import KEYS, row_of
from web.projects.models import Design
from web.years.reckoned import remembered, simulate_uncached
from web.years.weather import weather_year

Figures = dict[str, float]


def figures_of(
    design: Design, more: Callable[[DesignDocument, YearBook], Figures] = lambda document, book: {}, key: str = ""
) -> Figures | str:
    """Every figure of a design's year, each name ending in its unit, and ``more`` of it (the same for the same
    ``key``); the words why where there is no year."""
    file = design.project.weather
    assert file is not None
    try:
        document = parse(design.document())

        def make() -> Figures:
            weather = weather_year(file)
            book = simulate_uncached(document, weather)
            return figures(book, weather) | dict(zip(KEYS, row_of(book), strict=True)) | more(document, book)

        found: Figures = remembered(f"sheet {key}", document, file, make)
    except HeatError as error:
        return str(error)
    return found
