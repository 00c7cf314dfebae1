"""What each mistake would cost over the year, and which one a game hides.

Nothing here is kept in the design: mistakes are tried on a copy.
"""

from concurrent.futures import ThreadPoolExecutor
from hashlib import sha256
from typing import Any

import numpy as np
from django.conf import settings
from numpy.typing import NDArray

from heat import accounts as acc
from heat.errors import HeatError
from heat.field.mistakes import FAULTS, Fault, Sizes, faulty_document, sized, suffers
from heat.ledger import BOUGHT, SOLAR_IN, YearBook, difference
from heat.readings import sensors_c
from heat.weather.year import WeatherYear
from web.sheet.page import Sheet
from web.years.reckoned import remembered, simulate_uncached

Array = NDArray[np.float64]


TELLING_K_H = 40.0
"""What the readings of a mistake must differ by on some day (K h) for it to be hidden in the game: less is not to be
seen."""


def possible(sheet: Sheet) -> dict[str, Fault]:
    """The mistakes this design can suffer."""
    return {key: item for key, item in FAULTS.items() if suffers(sheet.year.book.design, key)}


def costs(sheet: Sheet, from_day: int, sizes: Sizes | None = None) -> list[dict[str, Any]]:
    """What each mistake alone costs: a full year each, remembered while the design stays as it is."""
    weather, base = sheet.weather, sheet.year.book

    def one(key: str, size: float) -> dict[str, Any]:
        try:
            book = simulate_uncached(faulty_document(sheet.document, {key: size}, from_day), weather)
        except HeatError as error:
            return {"key": key, "why": str(error)}
        lines = [line for line in difference(base, book) if line.words not in ("rounding", "left missing")]
        decisive = max(lines, key=lambda line: abs(line.kwh))
        return {
            "key": key, "kwh": book.total(*BOUGHT) - base.total(*BOUGHT),
            "missing": book.total(acc.MISSING) - base.total(acc.MISSING),
            "money": book.cost() - base.cost(), "points": 100 * (book.fractions.at_tap - base.fractions.at_tap),
            "moves": decisive.words,
            "gain": book.total(*SOLAR_IN) - base.total(*SOLAR_IN),
            "telling": float(apart(base, book, weather).reshape(365, 24).sum(axis=1).max()),
        }  # fmt: skip

    def known(item: tuple[str, float]) -> dict[str, Any]:
        key, size = item
        found: dict[str, Any] = remembered(
            f"fault {key} {size} {from_day}", base.design, sheet.project.weather, lambda: one(key, size)
        )
        return found

    with ThreadPoolExecutor(2) as threads:
        return list(threads.map(known, sized(possible(sheet), sizes).items()))


def apart(base: YearBook, book: YearBook, weather: WeatherYear) -> Array:
    """How far the readings of two years lie apart in 8,760 hours (K, a pump at work counted as 20 K)."""
    sensors = sum(np.abs(a - b) for a, b in zip(sensors_c(base, weather), sensors_c(book, weather), strict=True))
    pump = np.abs(book.traces[:, acc.PUMP_SHARE] - base.traces[:, acc.PUMP_SHARE])
    gap: Array = sensors + np.abs(book.profile - base.profile).mean(axis=1) + 20.0 * pump
    return gap


def secret_fault(sheet: Sheet, number: int) -> str:
    """The mistake hidden behind a number of the game: not to be read from the address."""
    has = [cost["key"] for cost in costs(sheet, 1) if cost.get("telling", 0.0) >= TELLING_K_H] or list(possible(sheet))
    digest = sha256(f"{settings.SECRET_KEY} {sheet.project.pk} {number}".encode()).digest()
    return has[int.from_bytes(digest[:4], "big") % len(has)]
