"""As measured: values fitted to the days looked at, beside the design, and opened as a design of their own."""

from typing import Any

from heat.errors import HeatError
from heat.ledger.year_book import BOUGHT
from heat.monitoring.fit import Fit, fit, values_of
from web.accounts.requests import SignedIn
from web.editor.design_page import DesignPage
from web.editor.step import sent_to
from web.projects.documents import SURVEY
from web.projects.services.designs import begin_design
from web.simulations.cache import LONG_WORK, simulate, simulate_uncached
from web.simulations.weather import weather_year
from web.steps.log.current import DAYS_CACHED, Here, frame, here, log_here
from web.steps.log.day import refused
from web.ui import units

USUAL = ("eta0", "a1", "ua")
LEAST_H = 24.0
"""Hours of readings a fit needs (h)."""


def measured_view(page: DesignPage) -> dict[str, object]:
    """Which values, what they come to, and the promise held against them."""
    log = log_here(page)
    context: dict[str, object] = frame(page, log)
    found = here(page, log)
    context["found"] = found
    if found is None or log is None:
        return context
    requested = [key for key in page.state.all("fit") if key in values_of(log.document)]
    context["values"] = [
        {"key": v.key, "words": v.words, "chosen": v.key in (requested or USUAL)}
        for v in values_of(log.document).values()
    ]
    if not requested:
        return context
    try:
        made = _fit(found, tuple(requested))
    except HeatError as error:
        return context | {"problem": str(error)}
    return context | _describe(page, found, made) | {"requested": requested}


def _fit(found: Here, keys: tuple[str, ...]) -> Fit:
    if found.rows.hour[-1] - found.rows.hour[0] < LEAST_H:
        raise HeatError("A day of readings at least is needed: choose more days above.")

    def make() -> Fit:
        with LONG_WORK:
            return fit(found.rows, found.log.document, found.weather, keys, sensor_k=found.log.sensor_k)

    made: Fit = DAYS_CACHED.get(f"fit {found.key} {keys}", make)
    return made


def _describe(page: DesignPage, found: Here, made: Fit) -> dict[str, object]:
    base = simulate(found.log.document, found.log.weather).book
    book = simulate_uncached(made.document, weather_year(found.log.weather))
    words = {v.value.key: v.value.words for v in made.values}
    show = lambda v, unit: units.number(
        units.to_display(v, unit, page.system), max(units.unit_of(unit, page.system).decimals, 2)
    )
    return {
        "rows": [
            {
                "words": v.value.words,
                "sign": page.sign(v.value.unit),
                "designed": show(v.value.start, v.value.unit),
                "best": show(v.best, v.value.unit),
                "low": show(v.low, v.value.unit),
                "high": show(v.high, v.value.unit),
                "boot": f"{show(v.boot_low, v.value.unit)} to {show(v.boot_high, v.value.unit)}",
                "moved": not v.low <= v.value.start <= v.high,
            }
            for v in made.values
        ],
        "alike": [f"{words[a]} and {words[b]}" for a, b in made.alike],
        "before": units.number(made.before, 2),
        "after": units.number(made.after, 2),
        "promised": units.number(100 * base.fractions.at_tap, 1),
        "now": units.number(100 * book.fractions.at_tap, 1),
        "bought": f"({page.show(base.total(*BOUGHT), 'kWh', 0)})",
        "bought_now": f"({page.show(book.total(*BOUGHT), 'kWh', 0)})",
    }


def open_measured(request: SignedIn, page: DesignPage) -> Any:
    """The fitted values as a design beside the others; the project's survey stays."""
    log = log_here(page)
    found = here(page, log)
    keys = tuple(key for key in request.POST.getlist("fit") if log and key in values_of(log.document))
    if log is None or found is None or not keys:
        return refused(page, "measured", "Nothing is fitted yet.")
    try:
        made = _fit(found, keys)
        document = {**made.document, **{part: page.document[part] for part in SURVEY}}
        fresh = begin_design(
            design=page.design,
            author=page.user,
            name=f"{log.letter} as measured",
            document=document,
            wanted={},
            note=f"Fitted to readings of {found.window.first:%Y-%m-%d} and on.",
        )
    except HeatError as error:
        return refused(page, "measured", str(error))
    return sent_to(fresh, "scheme")
