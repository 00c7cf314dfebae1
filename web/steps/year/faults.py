"""What each fault would cost over the year, and which one a game hides.

Nothing here is kept in the design: faults are tried on a copy.
"""

from concurrent.futures import ThreadPoolExecutor
from hashlib import sha256

import numpy as np
from django.conf import settings
from numpy.typing import NDArray

from heat.errors import HeatError
from heat.ledger import accounts as acc
from heat.ledger.year_book import BOUGHT, SOLAR_IN, YearBook, difference, points_between
from heat.monitoring.faults import FAULTS, Fault, Sizes, faulty_document, sized, suffers
from heat.simulation.sensors import sensors_c
from heat.weather.year import WeatherYear
from web.editor.design_page import DesignPage
from web.simulations.cache import remembered, simulate_uncached
from web.ui.rows import Row

Array = NDArray[np.float64]


SHOWING_K_H = 40.0
"""What the readings of a fault must differ by on some day (K h) for it to be hidden in the game: less is not to be
seen."""


def possible(page: DesignPage) -> dict[str, Fault]:
    """The faults this design can suffer."""
    return {key: item for key, item in FAULTS.items() if suffers(page.year.book.design, key)}


def costs(page: DesignPage, from_day: int, sizes: Sizes | None = None) -> list[Row]:
    """What each fault alone costs: a full year each, remembered while the design stays as it is."""
    weather, base = page.weather, page.year.book

    def one(key: str, size: float) -> Row:
        try:
            book = simulate_uncached(faulty_document(page.document, {key: size}, from_day), weather)
        except HeatError as error:
            return {"key": key, "why": str(error)}
        lines = [line for line in difference(base, book) if line.words not in ("rounding", "left unmet")]
        decisive = max(lines, key=lambda line: abs(line.kwh))
        return {
            "key": key,
            "kwh": book.total(*BOUGHT) - base.total(*BOUGHT),
            "missing": book.total(acc.UNMET) - base.total(acc.UNMET),
            "money": book.cost() - base.cost(),
            "points": points_between(base, book),
            "moves": decisive.words,
            "gain": book.total(*SOLAR_IN) - base.total(*SOLAR_IN),
            "night": _given_back(book) - _given_back(base),
            "telling": float(apart(base, book, weather).reshape(365, 24).sum(axis=1).max()),
        }

    def known(item: tuple[str, float]) -> Row:
        key, size = item
        found: dict[str, object] = remembered(
            f"fault {key} {size} {from_day}", base.design, page.project.weather, lambda: one(key, size)
        )
        return found

    with ThreadPoolExecutor(2) as threads:
        return list(threads.map(known, sized(possible(page), sizes).items()))


def _given_back(book: YearBook) -> float:
    """What the loop carried out of the store and the pool in a year (kWh), hour by hour: the net of a day hides it."""
    return float(-np.minimum(book.hourly(*SOLAR_IN), 0.0).sum()) / 1000.0


def apart(base: YearBook, book: YearBook, weather: WeatherYear) -> Array:
    """How far the readings of two years lie apart in 8,760 hours (K, a pump at work counted as 20 K)."""
    sensors = sum(np.abs(a - b) for a, b in zip(sensors_c(base, weather), sensors_c(book, weather), strict=True))
    pump = np.abs(book.traces[:, acc.PUMP_SHARE] - base.traces[:, acc.PUMP_SHARE])
    gap: Array = sensors + np.abs(book.profile - base.profile).mean(axis=1) + 20.0 * pump
    return gap


def secret_fault(page: DesignPage, number: int) -> str:
    """The fault hidden behind a number of the game: not to be read from the address."""
    has = [cost["key"] for cost in costs(page, 1) if cost.get("telling", 0.0) >= SHOWING_K_H] or list(possible(page))
    digest = sha256(f"{settings.SECRET_KEY} {page.project.pk} {number}".encode()).digest()
    return has[int.from_bytes(digest[:4], "big") % len(has)]
