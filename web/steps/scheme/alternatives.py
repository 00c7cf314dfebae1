"""What else a part could be, and what could be added or left out: each with the year it would make."""

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor

from heat.catalogue import GROUPS, Entry, differs
from heat.catalogue import changes as entry_values
from heat.common.documents import Document, Values, value_at
from heat.design import Design
from heat.design.changing import kind_changes
from heat.errors import HeatError
from heat.ledger import accounts as acc
from heat.ledger.year_book import BOUGHT, points_between
from heat.sizing.hygiene import WEEKLY, plan_changes
from web.catalogue.services import in_sight
from web.editor.design_page import DesignPage
from web.presentation.kinds import KINDS
from web.projects.documents import with_values
from web.simulations.cache import simulate_uncached
from web.ui import units

GROUPS_OF = {
    "collector": ("collector",),
    "store": ("store",),
    "coil": ("coil",),
    "plate": ("plate",),
    "jacket": ("jacket",),
    "draw": ("draw_coil",),
    "pipes": ("insulation", "pipe"),
    "return": ("insulation", "pipe"),
    "loop": ("pump", "fluid"),
    "tankless": ("heater",),
    "element": ("heater",),
    "boiler": ("heater",),
}
"""Groups of the catalogue a part can be taken from."""
KINDS_OF = {"coil": ("pumped_plate", "pumped_passive"), "plate": ("pumped_coil", "pumped_plate", "pumped_passive")}
"""Ways of handing the heat on that take a part's place, where the loop is pumped and closed."""
CLOSED = ("pumped_coil", "pumped_plate", "pumped_passive")
UNMET_KWH = 1.0
"""Heat missing that is worth a word (kWh)."""
MOST = 12
"""Years calculated for one list at most (1)."""

SWITCHES: dict[str, tuple[str, str]] = {
    # name: path of the switch, words
    "tempering valve": ("system.tempering_valve", "tempering valve"),
    "check valve": ("system.loop.check_valve", "check valve"),
    "second store": ("system.second_store.fitted", "second store, kept hot"),
    "draw coil": ("system.draw_coil.fitted", "draw coil, no stored drinking water"),
    "second collectors": ("system.second_collector.fitted", "unlike collectors in series"),
    "tankless heater": ("system.backup.tankless.fitted", "tankless heater"),
    "element": ("system.backup.element.fitted", "element in the store"),
    "top element": ("system.backup.top_element.fitted", "second element, higher up"),
    "boiler": ("system.backup.boiler.fitted", "boiler on a top coil"),
    "stove": ("system.backup.stove.fitted", "wood stove's water jacket"),
    "dump": ("system.dump.fitted", "heat dump for summer"),
    "mirror": ("plane.mirror.fitted", "mirror before the collectors"),
    "pasteurisation": ("system.backup.pasteurisation.fitted", "pasteurisation once a week"),
}
"""Parts that are there or not."""


def fits(name: str, design: Design) -> bool:
    """Whether a part could be added to a system at all, or stands there to be left out."""
    system = design.system
    scheme = system.scheme
    pool, store = scheme.exchange == "pool", scheme.driven_by != "none" and scheme.exchange != "pool"
    heated = store or system.second_store.fitted
    could = {
        "tempering valve": not pool,
        "check valve": scheme.driven_by != "none",
        "second store": not pool,
        "draw coil": store and not scheme.draw_coil,
        "second collectors": scheme.driven_by != "none",
        "element": heated,
        "top element": heated,
        "boiler": heated,
        "stove": heated,
        "dump": scheme.driven_by == "pump",
        "pasteurisation": heated,
    }
    return could.get(name, True)


def switch_changes(document: Document, name: str) -> Values:
    """The changes that add a part or leave it out. KeyError for an unknown name."""
    path, _words = SWITCHES[name]
    now = bool(value_at(document, path))
    found: Values = {path: not now}
    if name == "pasteurisation" and not now:
        found |= plan_changes(document, WEEKLY)
    if name == "second collectors" and not now:
        first = document["system"]["collector"]
        found |= {
            f"system.second_collector.{key}": first[key] for key in GROUPS["collector"].fields if key in first
        } | {"system.second_collector.count": 1}
    return found


def entry_changes(document: Document, entry: Entry) -> Values:
    """The changes that take an entry; collectors in the number that comes nearest to the area there was."""
    found = entry_values(entry, document)
    if entry.group == "collector":
        was = document["system"]["collector"]
        total = was["count"] * (was["gross_area_m2"] or was["area_m2"])
        each = entry.values.get("gross_area_m2") or entry.values.get("area_m2", was["area_m2"])
        found["system.collector.count"] = min(max(round(total / each), 1), 500)
    return found


def taken_from(page: DesignPage, part: str) -> list[str]:
    """Where a part's values came from, and which of them were changed since."""
    payload = []
    for used in page.document["system"]["used"]:
        if used["group"] in GROUPS_OF.get(part, ()):
            changed = differs(used, page.document)
            prefix = GROUPS[used["group"]].prefixes[0]
            labels = ", ".join(page.label_of(prefix + name).lower() for name in changed)
            text = f"{used['name']}, {used['dated']}" if used["dated"] else used["name"]
            payload.append(f"{text}; changed since: {labels}" if changed else text)
    return payload


def _offers(page: DesignPage, part: str) -> list[tuple[str, str, Callable[[], Values]]]:
    """Names to choose by, words, and the changes each would make."""
    document, system = page.document, page.document["system"]
    scheme = page.year.book.design.system.scheme
    if part == "add":
        return [
            (f"switch {name}", words, lambda name=name: switch_changes(document, name))  # type: ignore[misc]
            for name, (path, words) in SWITCHES.items()
            if fits(name, page.year.book.design) or (path.endswith(".fitted") and value_at(document, path))
        ]
    found: list[tuple[str, str, Callable[[], Values]]] = []
    if system["kind"] in CLOSED:
        for kind in KINDS_OF.get(part, ()):
            if kind != system["kind"]:
                found.append((f"kind {kind}", KINDS[kind], lambda kind=kind: kind_changes(document, kind)))  # type: ignore[misc]
    for group in GROUPS_OF.get(part, ()):
        if group == "pump" and scheme.driven_by != "pump":
            continue
        in_store = scheme.driven_by != "none" and scheme.exchange != "pool"
        for entry in in_sight(page.user, group):
            if group == "collector" and (entry.family == "integral") != (scheme.driven_by == "none"):
                continue
            if group == "heater" and not in_store and entry.family in ("element", "boiler"):
                continue
            found.append((f"entry {group} {entry.key}", entry.name, lambda entry=entry: entry_changes(document, entry)))  # type: ignore[misc]
    return found


def alternatives(page: DesignPage, part: str) -> list[dict[str, str]]:
    """Each alternative with its year: points of solar fraction, bought heat; or why it cannot be."""
    weather = page.weather
    now, document = page.year.book, page.document

    def row_of(offer: tuple[str, str, Callable[[], Values]]) -> dict[str, str]:
        name, words, make = offer
        row = {"choose": name, "words": words, "points": "", "bought": "", "mark": ""}
        changes = make()
        if name.startswith("switch "):
            row["mark"] = "+" if value_at(document, next(iter(changes))) is False else "−"
        if all(value_at(document, path) == value for path, value in changes.items() if path != "system.used"):
            row["points"] = "as now"
            return row
        try:
            book = simulate_uncached(with_values(document, changes), weather)
        except HeatError as error:
            row["points"], row["why"] = "not possible", getattr(error, "allowed", str(error))
            return row
        points = points_between(now, book)
        row["points"] = ("+" if points > 0 else "") + units.number(points, 1)
        row["bought"] = page.show(book.total(*BOUGHT), "kWh")
        if book.total(acc.UNMET) > UNMET_KWH + now.total(acc.UNMET):
            row["why"] = f"unmet ({page.show(book.total(acc.UNMET), 'kWh')}): colder taps"
        count = changes.get("system.collector.count")
        if count:
            each = changes["system.collector.gross_area_m2"] or changes["system.collector.area_m2"]
            row["words"] += f", {count} × {units.field_text(each, 'm2', page.system)} {page.sign('m2')}".replace(
                " ", "\u00a0"
            ).replace(",\u00a0", ", ", 1)
        return row

    with ThreadPoolExecutor(2) as threads:  # a year's loop runs outside the interpreter's lock
        return list(threads.map(row_of, _offers(page, part)[:MOST]))
