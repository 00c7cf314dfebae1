"""Adding collectors later: what each further collector brings on today's parts, and what being ready for more costs
now and saves then."""

from math import inf

from heat.design import Design, parse
from heat.design.changing import with_changes
from heat.economics.offer import Offered
from heat.economics.offer import offered as offered_at
from heat.errors import HeatError
from heat.ledger.year_book import BOUGHT, YearBook
from heat.sizing.circuit import pipe_sizes, recommended
from heat.studies.following import following
from web.editor.design_page import DesignPage
from web.simulations.cache import years_beside
from web.steps.money.cost import amount, offered
from web.ui import units
from web.ui.rows import Row

STEPS, READY = 4, 2
"""How many collectors more are looked at, and for how many more one makes ready."""


def more_view(page: DesignPage) -> dict[str, object]:
    """Further collectors one by one, and what it takes to be ready for two."""
    design = page.parsed
    if design.system.scheme.driven_by == "none":
        return {"rows": [], "conclusion": "Its collectors are its stores: another one is another system."}
    prices, currency = dict(offered(page).prices), page.project.currency
    rows: list[dict[str, object]] = []
    before: tuple[Offered, YearBook] | None = None
    for k, book in enumerate(_years(page, design)):
        count = design.system.collector.count + k
        if isinstance(book, str):
            rows.append({"count": count, "why": book})
            continue
        now = offered_at(parse(with_changes(page.compared, _grown(design, k))), book, prices)
        row = {
            "count": count,
            "fraction": units.number(100 * book.fractions.at_tap, 1),
            "why": "",
            "bought": page.show(book.total(*BOUGHT), "kWh", 0),
            "stagnation": f"{book.stagnation_hours():.0f}",
        }
        if before is not None:
            costs, saves = float(now.cost - before[0].cost), now.energy.saved - before[0].energy.saved
            pays = costs / saves if saves > 0 else inf
            row |= {
                "less": page.show(before[1].total(*BOUGHT) - book.total(*BOUGHT), "kWh", 0),
                "costs": amount(costs),
                "saves": amount(saves),
                "pays": f"{pays:.0f}" if pays < 200 else "never",
                "years": pays,
            }
        rows.append(row)
        before = now, book
    return {
        "rows": rows,
        "currency": currency,
        "ready": _ready(page, design, prices),
        "conclusion": _conclusion(page, rows, design),
    }


def _grown(design: Design, more: int) -> dict[str, object]:
    return {"system.collector.count": design.system.collector.count + more}


def _years(page: DesignPage, design: Design) -> list[YearBook | str]:
    """Years with so many collectors more, all else as it is; kept while they are asked for."""

    documents = [with_changes(page.document, _grown(design, more)) for more in range(STEPS + 1)]
    return years_beside("more collectors", design, page.project.weather, documents, page.weather)


def _conclusion(page: DesignPage, rows: list[Row], design: Design) -> str:
    paying = [row for row in rows if "years" in row]
    if not paying:
        return "No further collector can be calculated."
    first = paying[0]
    horizon = design.money.horizon_years
    if first["years"] == inf:
        return "Another collector on today’s parts saves nothing."
    good = [row for row in paying if row["years"] <= horizon]
    words = (
        f"One more brings {first['less']} {page.sign('kWh')} less bought and pays for itself in {first['pays']} years"
    )
    return f"{words}; within {horizon} years " + (f"up to {good[-1]['count']} do." if good else "none does.")


def _ready(page: DesignPage, design: Design, prices: dict[str, float]) -> list[dict[str, str]]:
    """What would have to be bigger for two more, what that costs today, and what it costs to change it then."""
    loop, store, count = design.system.loop, design.system.store, design.system.collector.count
    share = (count + READY) / count
    changes: dict[str, object] = {}
    pipe = recommended(pipe_sizes(design, loop.flow_kg_h * share, page.pipe_norm))
    outer, wall = pipe.outer_mm, pipe.wall_mm
    if outer > loop.supply_pipe.outer_diameter_mm:
        for name in ("supply_pipe", "return_pipe"):
            changes |= {f"system.loop.{name}.outer_diameter_mm": float(outer), f"system.loop.{name}.wall_mm": wall}
    keys = {"supply_pipe", "return_pipe", "supply_pipe_insulation", "return_pipe_insulation"} if changes else set()
    if design.system.scheme.exchange != "pool":
        changes |= following(page.document, {"system.store.volume_l": round(store.volume_l * share / 50.0) * 50.0})
        keys.add("store")
    try:
        larger = offered_at(parse(with_changes(page.compared, changes)), page.year.book, prices)
    except HeatError:
        return []
    now = offered_at(design, page.year.book, prices)
    sums = lambda offer: {line.key: float(offer.sum_of(line)) for line in offer.lines}
    small, big = sums(now), sums(larger)
    litres = larger.design.system.store.volume_l
    words = {
        "store": f"store of {page.show(litres, 'L', 0)} {page.sign('L')}",
        "supply_pipe": f"pipes of {page.pipe_text(pipe)}, wrapped",
    }
    rows = []
    for title, part in (("store", {"store"}), ("supply_pipe", keys - {"store"})):
        if not part & keys:
            continue
        today = sum(big.get(key, 0.0) - small.get(key, 0.0) for key in part)
        then = sum(big.get(key, 0.0) for key in part)
        rows.append({"words": words[title], "today": amount(today), "then": amount(then)})
    return rows
