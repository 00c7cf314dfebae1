"""What can be shown for every hour of a year: words, unit, how it is read from the books, and its colours."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from heat.design import Design
from heat.ledger import accounts as acc
from heat.ledger.events import sun_w_m2
from heat.ledger.year_book import BOUGHT, SOLAR_IN, YearBook
from heat.weather.year import WeatherYear
from web.editor.design_page import DesignPage
from web.presentation.accounts import BOUGHT_OR_UNMET
from web.presentation.picture import SCALE
from web.ui.png import RED_TINTS, TINTS

Array = NDArray[np.float64]
Read = Callable[[YearBook, WeatherYear], Array]
Has = Callable[[Design], bool]


def _always(design: Design) -> bool:
    return True


def _stored(design: Design) -> bool:
    return design.system.scheme.exchange != "pool"


@dataclass(frozen=True)
class Quantity:
    """Something shown for every hour. ``low`` and ``high``: range of its colours (None: its own); ``dash``: of its
    line."""

    words: str
    unit: str
    read: Read
    low: float | None = 0.0
    high: float | None = None
    palette: tuple[str, ...] = TINTS
    width: float = 1.3
    dash: str = ""
    has: Has = _always

    @property
    def line(self) -> bool:
        """Drawn as a line among the temperatures; others are bars."""
        return self.unit == "degC"

    @property
    def red(self) -> bool:
        return self.palette is RED_TINTS

    @property
    def places(self) -> int | None:
        """Decimals it is shown with; None: those of its unit."""
        return {"kWh": 2, "degC": 1}.get(self.unit)

    def ends(self, values: Array) -> tuple[float, float]:
        """Range of its colours for these values, in its unit."""
        known = values[np.isfinite(values)]
        low = min(0.0, float(known.min(initial=0.0))) if self.low is None else self.low
        return low, max(float(known.max(initial=low)), low + 1e-9) if self.high is None else self.high


def _trace(column: int, scale: float = 1.0) -> Read:
    return lambda book, weather: book.traces[:, column] * scale


def _sum(*columns: int) -> Read:
    return lambda book, weather: book.hourly(*columns) / 1000.0


def _second(book: YearBook, weather: WeatherYear) -> Array:
    profile = book.profile if book.second_profile is None else book.second_profile
    return profile[:, -1]


def at_tap_c(book: YearBook) -> Array:
    """Temperature (°C) at which what was asked for reached the taps; NaN in hours without a draw."""
    demand, given = book.hourly(acc.DEMAND), book.hourly(acc.TO_TAP)
    share = np.divide(given, demand, out=np.full(len(demand), np.nan), where=demand > 0)
    return book.mains_c + share * (book.design.demand.tap_c - book.mains_c)


QUANTITIES = {
    "top": Quantity("Store top", "degC", lambda b, w: b.profile[:, -1], 10.0, 90.0, SCALE, 2.2, has=_stored),
    "middle": Quantity(
        "Store middle", "degC", lambda b, w: b.profile[:, b.profile.shape[1] // 2], 10.0, 90.0, SCALE, 1.6, has=_stored
    ),
    "bottom": Quantity("Store bottom", "degC", lambda b, w: b.profile[:, 0], 10.0, 90.0, SCALE, has=_stored),
    "second": Quantity(
        "Second store", "degC", _second, 10.0, 90.0, SCALE, 2.2, "9 2", lambda d: d.system.second_store.fitted
    ),
    "collector": Quantity("Collector", "degC", _trace(acc.COLLECTOR_C), 10.0, 90.0, SCALE, 1.4, "5 3"),
    "delivered": Quantity(
        "At the tap", "degC", lambda b, w: at_tap_c(b), 10.0, 90.0, SCALE, 1.2, "3 2", lambda d: d.demand.hot_water
    ),
    "pool": Quantity("Pool", "degC", _trace(acc.POOL_C), 10.0, 35.0, SCALE, 1.8, "2 2", lambda d: d.demand.pool.fitted),
    "sun": Quantity("Sun", "W/m2", lambda b, w: sun_w_m2(b), 0.0, 1000.0),
    "air": Quantity("Air", "degC", lambda b, w: w.air_c, -10.0, 35.0, SCALE, 1.0, "1 3"),
    "flow": Quantity("Flow", "kg/h", _trace(acc.FLOW_KG_H), None, has=lambda d: d.system.scheme.driven_by != "none"),
    "pump": Quantity(
        "Pump", "percent", _trace(acc.PUMP_SHARE, 100.0), 0.0, 100.0, has=lambda d: d.system.scheme.driven_by == "pump"
    ),
    "store": Quantity("Solar yield", "kWh", _sum(*SOLAR_IN)),
    "draw": Quantity("Draw", "L", _trace(acc.HOT_LITRES), has=lambda d: d.demand.hot_water),
    "tap": Quantity(
        "Tap too cold",
        "percent",
        _trace(acc.COLD_TAP_SHARE, 100.0),
        0.0,
        100.0,
        RED_TINTS,
        has=lambda d: d.demand.hot_water,
    ),
    "bought": Quantity("Bought", "kWh", _sum(*BOUGHT), palette=RED_TINTS),
    "residual": Quantity("Residual", "Wh", lambda b, w: b.residual_wh),
}
"""Every quantity beside the accounts."""
USUAL = ("top", "bottom", "collector", "pool", "air", "sun", "draw", "bought", "pump")
"""What the days show until other traces are chosen."""


def quantities(page: DesignPage) -> dict[str, Quantity]:
    """Those this design has."""
    design = page.year.book.design
    return {key: item for key, item in QUANTITIES.items() if item.has(design)}


def accounts(page: DesignPage) -> dict[str, Quantity]:
    """Each account of the books that is not empty, as a quantity."""
    book = page.year.book
    return {
        name: Quantity(
            acc.ACCOUNTS[name][:1].upper() + acc.ACCOUNTS[name][1:],
            "kWh",
            _sum(column),
            None,
            palette=RED_TINTS if column in BOUGHT_OR_UNMET else TINTS,
        )
        for column, name in enumerate(acc.NAMES)
        if np.any(book.books[:, column])
    }


def every(page: DesignPage) -> dict[str, Quantity]:
    """Quantities and accounts by their keys."""
    return {**accounts(page), **quantities(page)}


def quantity_text(page: DesignPage, item: Quantity, value: float) -> str:
    """A value in the reader's unit; bought and missing heat in parentheses; a dash where there is none."""
    if not np.isfinite(value):
        return "–"
    text = page.show(value, item.unit, item.places)
    return f"({text})" if item.red and item.unit == "kWh" else text


def names(found: dict[str, Quantity]) -> list[dict[str, object]]:
    """Keys and words, as a template lists them."""
    return [{"key": key, "words": item.words, "red": item.red} for key, item in found.items()]
