"""The figures of a year that are held beside those of others, kept while they are asked for."""

import json
from collections.abc import Mapping
from hashlib import sha256

from heat.design import Design as DesignDocument
from heat.design import parse
from heat.economics.prices import PRICES
from heat.economics.tariff import with_old_heaters
from heat.errors import HeatError
from heat.studies.figures import figures
from heat.studies.outcome import KEYS, row_of
from web.projects.models import Design
from web.projects.old_heaters import old_heaters_of
from web.simulations.cache import remembered, simulate_uncached
from web.simulations.weather import weather_year

Figures = dict[str, float]


def money_key(document: DesignDocument, prices: Mapping[str, float]) -> str:
    """What a design's money depends on beside its year."""
    stated = [document.money.model_dump(), document.offer.model_dump(), dict(prices)]
    return sha256(json.dumps(stated, sort_keys=True).encode()).hexdigest()


def figures_of(design: Design, prices: Mapping[str, float] = PRICES) -> Figures | str:
    """Every figure of a design's year, each name ending in its unit, its money at prices by item; the words why where
    there is no year."""
    file = design.project.weather
    assert file is not None
    try:
        document = parse(with_old_heaters(design.document(), old_heaters_of(design)))

        def make() -> Figures:
            weather = weather_year(file)
            book = simulate_uncached(document, weather)
            return figures(book, weather) | dict(zip(KEYS, row_of(book, document, prices), strict=True))

        found: Figures = remembered(f"figures {money_key(document, prices)}", document, file, make)
    except HeatError as error:
        return str(error)
    return found
