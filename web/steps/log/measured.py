"""As measured: values fitted to the days looked at, beside the design, and opened as a design of their own."""

from typing import Any

from heat.errors import HeatError
from heat.field.fit import Fit, fit, values_of
from heat.ledger import BOUGHT
from web.accounts.requests import SignedIn
from web.projects.documents import SURVEY
from web.projects.services.designs import begin_design
from web.sheet.page import Sheet
from web.sheet.step import sent_to
from web.steps.log.day import refused
from web.steps.log.here import DAYS_KEPT, Here, frame, here, log_here
from web.ui import units
from web.years.reckoned import LONG_WORK, reckon, simulate_uncached
from web.years.weather import weather_year

USUAL = ("eta0", "a1", "ua")
LEAST_H = 24.0
"""Hours of readings a fit needs (h)."""


def measured_view(sheet: Sheet) -> dict[str, Any]:
    """Which values, what they come to, and the promise held against them."""
    log = log_here(sheet)
    page: dict[str, Any] = frame(sheet, log)
    found = here(sheet, log)
    page["found"] = found
    if found is None or log is None:
        return page
    asked = [key for key in sheet.look.all("fit") if key in values_of(log.document)]
    page["values"] = [
        {"key": v.key, "words": v.words, "chosen": v.key in (asked or USUAL)} for v in values_of(log.document).values()
    ]
    if not asked:
        return page
    try:
        made = _fit(found, tuple(asked))
    except HeatError as error:
        return page | {"problem": str(error)}
    return page | _told(sheet, found, made) | {"asked": asked}


def _fit(found: Here, keys: tuple[str, ...]) -> Fit:
    if found.rows.hour[-1] - found.rows.hour[0] < LEAST_H:
        raise HeatError("A day of readings at least is needed: choose more days above.")

    def make() -> Fit:
        with LONG_WORK:
            return fit(found.rows, found.log.document, found.weather, keys, sensor_k=found.log.sensor_k)

    made: Fit = DAYS_KEPT.get(f"fit {found.key} {keys}", make)
    return made


def _told(sheet: Sheet, found: Here, made: Fit) -> dict[str, Any]:
    base = reckon(found.log.document, found.log.weather).book
    book = simulate_uncached(made.document, weather_year(found.log.weather))
    words = {v.value.key: v.value.words for v in made.values}
    show = lambda v, unit: units.number(
        units.shown(v, unit, sheet.system), max(units.unit_of(unit, sheet.system).decimals, 2)
    )
    return {
        "rows": [
            {
                "words": v.value.words,
                "sign": sheet.sign(v.value.unit),
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
        "before": f"{made.before:.2f}",
        "after": f"{made.after:.2f}",
        "promised": f"{100 * base.fractions.at_tap:.1f}",
        "now": f"{100 * book.fractions.at_tap:.1f}",
        "bought": f"({sheet.show(base.total(*BOUGHT), 'kWh', 0)})",
        "bought_now": f"({sheet.show(book.total(*BOUGHT), 'kWh', 0)})",
    }


def open_measured(request: SignedIn, sheet: Sheet) -> Any:
    """The fitted values as a design beside the others; the project's survey stays."""
    log = log_here(sheet)
    found = here(sheet, log)
    keys = tuple(key for key in request.POST.getlist("fit") if log and key in values_of(log.document))
    if log is None or found is None or not keys:
        return refused(sheet, "measured", "Nothing is fitted yet.")
    try:
        made = _fit(found, keys)
        document = {**made.document, **{part: sheet.document[part] for part in SURVEY}}
        fresh = begin_design(
            design=sheet.design,
            author=sheet.user,
            name=f"{log.letter} as measured",
            document=document,
            wanted={},
            note=f"Fitted to readings of {found.window.first:%Y-%m-%d} and on.",
        )
    except HeatError as error:
        return refused(sheet, "measured", str(error))
    return sent_to(fresh, "scheme")
