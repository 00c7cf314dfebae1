"""What else a part could be, and what could be added or left out: each with the year it would make."""

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from typing import Any

from heat import accounts as acc
from heat.catalogue import GROUPS, Entry, differs
from heat.catalogue import changes as entry_values
from heat.design import Design
from heat.design.changing import kind_changes
from heat.errors import HeatError
from heat.ledger import BOUGHT
from web.catalogue.services import in_sight
from web.present.kinds import KINDS
from web.projects.documents import value_at, with_values
from web.sheet.page import Sheet
from web.ui import units
from web.years.reckoned import simulate_uncached

Document = dict[str, Any]
Changes = dict[str, Any]
GROUPS_OF = {
    "collector": ("collector",), "store": ("store",), "coil": ("coil",), "plate": ("plate",), "jacket": ("jacket",),
    "draw": ("draw_coil",), "pipes": ("insulation", "pipe"), "return": ("insulation", "pipe"),
    "loop": ("pump", "fluid"),
    "tankless": ("heater",), "element": ("heater",), "boiler": ("heater",),
}  # fmt: skip
"""Groups of the catalogue a part can be taken from."""
KINDS_OF = {"coil": ("pumped_plate", "pumped_passive"), "plate": ("pumped_coil", "pumped_plate", "pumped_passive")}
"""Ways of handing the heat on that take a part's place, where the loop is pumped and closed."""
CLOSED = ("pumped_coil", "pumped_plate", "pumped_passive")
MISSING_KWH = 1.0
"""Heat missing that is worth a word (kWh)."""
MOST = 12
"""Years reckoned for one list at most (1)."""
WEEKLY = {"every_days": 7, "from_hour": 0, "hours": 7, "target_c": 65.0}
"""A usual plan against Legionella (days, h, °C). Source: common codes ask for 60 to 70 °C, daily or weekly."""

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
    pool, store = scheme.exchange == "pool", scheme.moved != "none" and scheme.exchange != "pool"
    heated = store or system.second_store.fitted
    could = {
        "tempering valve": not pool, "check valve": scheme.moved != "none", "second store": not pool,
        "draw coil": store and not scheme.draw_coil, "second collectors": scheme.moved != "none",
        "element": heated, "top element": heated, "boiler": heated, "stove": heated,
        "dump": scheme.moved == "pump", "pasteurisation": heated,
    }  # fmt: skip
    return could.get(name, True)


def switch_changes(document: Document, name: str) -> Changes:
    """The changes that add a part or leave it out. KeyError for an unknown name."""
    path, _words = SWITCHES[name]
    now = bool(value_at(document, path))
    found: Changes = {path: not now}
    if name == "pasteurisation" and not now:
        found |= {f"system.backup.pasteurisation.{key}": value for key, value in WEEKLY.items()}
    if name == "second collectors" and not now:
        first = document["system"]["collector"]
        found |= {
            f"system.second_collector.{key}": first[key] for key in GROUPS["collector"].fields if key in first
        } | {"system.second_collector.count": 1}
    return found


def entry_changes(document: Document, entry: Entry) -> Changes:
    """The changes that take an entry; collectors in the number that comes nearest to the area there was."""
    found = entry_values(entry, document)
    if entry.group == "collector":
        was = document["system"]["collector"]
        total = was["count"] * (was["gross_area_m2"] or was["area_m2"])
        each = entry.values.get("gross_area_m2") or entry.values.get("area_m2", was["area_m2"])
        found["system.collector.count"] = min(max(round(total / each), 1), 500)
    return found


def taken_from(sheet: Sheet, part: str) -> list[str]:
    """Where a part's values came from, and which of them were changed since."""
    told = []
    for used in sheet.document["system"]["used"]:
        if used["group"] in GROUPS_OF.get(part, ()):
            changed = differs(used, sheet.document)
            prefix = GROUPS[used["group"]].prefixes[0]
            labels = ", ".join(sheet.label_of(prefix + name).lower() for name in changed)
            text = f"{used['name']}, {used['dated']}" if used["dated"] else used["name"]
            told.append(f"{text}; changed since: {labels}" if changed else text)
    return told


def _offers(sheet: Sheet, part: str) -> list[tuple[str, str, Callable[[], Changes]]]:
    """Names to choose by, words, and the changes each would make."""
    document, system = sheet.document, sheet.document["system"]
    scheme = sheet.year.book.design.system.scheme
    if part == "add":
        return [
            (f"switch {name}", words, lambda name=name: switch_changes(document, name))  # type: ignore[misc]
            for name, (path, words) in SWITCHES.items()
            if fits(name, sheet.year.book.design) or (path.endswith(".fitted") and value_at(document, path))
        ]
    found: list[tuple[str, str, Callable[[], Changes]]] = []
    if system["kind"] in CLOSED:
        for kind in KINDS_OF.get(part, ()):
            if kind != system["kind"]:
                found.append((f"kind {kind}", KINDS[kind], lambda kind=kind: kind_changes(document, kind)))  # type: ignore[misc]
    for group in GROUPS_OF.get(part, ()):
        if group == "pump" and scheme.moved != "pump":
            continue
        in_store = scheme.moved != "none" and scheme.exchange != "pool"
        for entry in in_sight(sheet.user, group):
            if group == "collector" and (entry.family == "integral") != (scheme.moved == "none"):
                continue
            if group == "heater" and not in_store and entry.family in ("element", "boiler"):
                continue
            found.append((f"entry {group} {entry.key}", entry.name, lambda entry=entry: entry_changes(document, entry)))  # type: ignore[misc]
    return found


def alternatives(sheet: Sheet, part: str) -> list[dict[str, str]]:
    """Each alternative with its year: points of solar fraction, bought heat; or why it cannot be."""
    weather = sheet.weather
    now, document = sheet.year.book, sheet.document

    def row_of(offer: tuple[str, str, Callable[[], Changes]]) -> dict[str, str]:
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
        points = 100 * (book.fractions.at_tap - now.fractions.at_tap)
        row["points"] = ("+" if points > 0 else "") + units.number(points, 1)
        row["bought"] = sheet.show(book.total(*BOUGHT), "kWh")
        if book.total(acc.MISSING) > MISSING_KWH + now.total(acc.MISSING):
            row["why"] = f"missing ({sheet.show(book.total(acc.MISSING), 'kWh')}): colder taps"
        count = changes.get("system.collector.count")
        if count:
            each = changes["system.collector.gross_area_m2"] or changes["system.collector.area_m2"]
            row["words"] += f", {count} × {units.field_text(each, 'm2', sheet.system)} {sheet.sign('m2')}".replace(
                " ", "\u00a0"
            ).replace(",\u00a0", ", ", 1)
        return row

    with ThreadPoolExecutor(2) as threads:  # a year's loop runs outside the interpreter's lock
        return list(threads.map(row_of, _offers(sheet, part)[:MOST]))
