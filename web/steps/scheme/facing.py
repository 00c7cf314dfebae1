"""Two designs as facing pages: what differs, and which account of the ledger it moved."""

from typing import Any

from heat.design import field_at
from heat.ledger import BOUGHT, difference
from web.present.account import account, signed
from web.present.kinds import KINDS
from web.projects.documents import SCHEME
from web.sheet.page import Sheet
from web.ui import units

PART_WORDS = {
    "collector": "collectors", "second_collector": "second collectors", "supply_pipe": "pipe to the store",
    "return_pipe": "pipe to the collectors", "second_store": "second store", "tankless": "tankless heater",
    "top_element": "top element", "draw_coil": "draw coil", "pasteurisation": "pasteurisation",
}  # fmt: skip
SMALLEST_KWH = 0.5


def leaves(value: Any, path: str = "") -> dict[str, Any]:
    """Every value of a document by its dotted path; rows of values stay whole."""
    if not isinstance(value, dict):
        return {path: value}
    found: dict[str, Any] = {}
    for name, inner in value.items():
        found |= leaves(inner, f"{path}.{name}" if path else name)
    return found


def changes(one: Sheet, other: Sheet) -> list[dict[str, str]]:
    """What differs between two designs' schemes: part, value, and both as the reader would type them."""
    first, second = (leaves({part: s.document[part] for part in SCHEME}) for s in (one, other))
    rows = []
    for path, value in first.items():
        if second.get(path) == value or path == "plane.on":
            continue
        part = path.split(".")[-2]
        where = PART_WORDS.get(part, part.replace("_", " "))
        if isinstance(value, list) or isinstance(second.get(path), list):
            rows.append(
                {"part": where, "label": field_at(path).title or path, "one": "a row of values", "other": "another"}
            )
            continue
        pens = [s.pen(path) for s in (one, other)]
        rows.append({"part": where, "label": pens[0].label, "one": _said(pens[0]), "other": _said(pens[1])})
    return rows


def _said(pen: Any) -> str:
    if pen.kind == "switch":
        return "yes" if pen.text else "no"
    if pen.kind == "choice":
        return KINDS.get(pen.text) or str(dict(pen.choices).get(pen.text, pen.text))
    return f"{pen.text or 'reckoned'} {pen.sign}".strip()


def facing_view(sheet: Sheet) -> dict[str, Any]:
    """Two designs as facing pages: both accounts, what differs, and the change in bought heat account by account."""
    other = sheet.against
    assert other is not None
    other.project = sheet.project
    against = Sheet(other, sheet.user)
    mine, theirs = sheet.year.book, against.year.book
    lines = [line for line in difference(mine, theirs) if abs(line.kwh) >= SMALLEST_KWH]
    largest = max((abs(line.kwh) for line in lines), default=1.0)
    change = theirs.total(*BOUGHT) - mine.total(*BOUGHT)
    points = 100 * (theirs.fractions.at_tap - mine.fractions.at_tap)
    decisive = max(lines, key=lambda line: abs(line.kwh), default=None)
    return {
        "against": against,
        "accounts": [account(sheet), account(against)],
        "bought": [sheet.bought_text, against.bought_text],
        "lines": [
            {"name": line.words, "text": signed(sheet, line.kwh), "more": line.kwh > 0,
             "x": round(150 - 140 * max(-line.kwh, 0) / largest, 1), "w": round(140 * abs(line.kwh) / largest, 1)}
            for line in lines
        ],
        "change": signed(sheet, change), "points": units.number(abs(points), 1),
        "better": points > 0, "same": abs(points) < 0.05,
        "decisive": decisive.words if decisive else "",
        "decisive_text": signed(sheet, decisive.kwh) if decisive else "",
        "changes": changes(sheet, against),
    }  # fmt: skip
