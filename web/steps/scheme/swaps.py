"""What each other kind of system would bring with the parts as they are."""

from concurrent.futures import ThreadPoolExecutor

from heat.common.documents import Document, value_at
from heat.design.changing import kind_changes
from heat.errors import HeatError
from heat.ledger.year_book import BOUGHT, points_between
from heat.sizing.fitting import frost_reason
from heat.weather.cold import cold_of
from web.editor.design_page import DesignPage
from web.presentation.kinds import KINDS
from web.projects.documents import with_values
from web.simulations.cache import simulate_uncached
from web.ui import units


def swaps(page: DesignPage) -> list[dict[str, str]]:
    """What each other kind would bring with the parts as they are: points of solar fraction, bought heat."""
    weather = page.weather
    now, coldest = page.year.book, cold_of(weather).safe_from_c

    def row_of(kind: str) -> dict[str, str]:
        row = {"choose": f"kind {kind}", "words": KINDS[kind], "points": "", "bought": ""}
        try:
            changes = kind_changes(page.document, kind)
            book = simulate_uncached(with_values(page.document, changes), weather)
            points = points_between(now, book)
            alike = not any(
                path.startswith("demand.") for path, value in changes.items() if not _same(page.document, path, value)
            )
            row["points"] = (("+" if points > 0 else "") + units.number(points, 1)) if alike else "uses differ"
            row["bought"] = page.show(book.total(*BOUGHT), "kWh")
            if frost := frost_reason(kind, coldest):
                row["why"] = frost
        except HeatError as error:
            row["points"] = "not possible"
            row["why"] = str(error)
        return row

    with ThreadPoolExecutor(2) as threads:  # a year's loop runs outside the interpreter's lock
        return list(threads.map(row_of, [kind for kind in KINDS if kind != now.design.system.kind]))


def _same(document: Document, path: str, value: object) -> bool:
    return bool(value_at(document, path) == value)
