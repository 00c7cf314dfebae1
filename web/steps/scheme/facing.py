"""Two designs as facing pages: what differs, and which account of the ledger it moved."""

from typing import Any

from heat.design import field_at
from heat.ledger.year_book import BOUGHT, difference, points_between
from web.editor.design_page import DesignPage
from web.presentation.account import account, signed
from web.presentation.kinds import KINDS
from web.projects.documents import SCHEME
from web.ui import units

PART_WORDS = {
    "collector": "collectors",
    "second_collector": "second collectors",
    "supply_pipe": "pipe to the store",
    "return_pipe": "pipe to the collectors",
    "second_store": "second store",
    "tankless": "tankless heater",
    "top_element": "top element",
    "draw_coil": "draw coil",
    "pasteurisation": "pasteurisation",
}
SMALLEST_KWH = 0.5


def leaves(value: Any, path: str = "") -> dict[str, object]:
    """Every value of a document by its dotted path; rows of values stay whole."""
    if not isinstance(value, dict):
        return {path: value}
    found: dict[str, object] = {}
    for name, inner in value.items():
        found |= leaves(inner, f"{path}.{name}" if path else name)
    return found


def changes(one: DesignPage, other: DesignPage) -> list[dict[str, str]]:
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
        fields = [s.field(path) for s in (one, other)]
        rows.append(
            {"part": where, "label": fields[0].label, "one": _describe(fields[0]), "other": _describe(fields[1])}
        )
    return rows


def _describe(field: Any) -> str:
    if field.kind == "switch":
        return "yes" if field.text else "no"
    if field.kind == "choice":
        return KINDS.get(field.text) or str(dict(field.choices).get(field.text, field.text))
    return f"{field.text or 'calculated'} {field.sign}".strip()


def facing_view(page: DesignPage) -> dict[str, object]:
    """Two designs as facing pages: both accounts, what differs, and the change in bought heat account by account."""
    other = page.against
    assert other is not None
    other.project = page.project
    against = DesignPage(other, page.user)
    mine, theirs = page.year.book, against.year.book
    lines = [line for line in difference(mine, theirs) if abs(line.kwh) >= SMALLEST_KWH]
    largest = max((abs(line.kwh) for line in lines), default=1.0)
    change = theirs.total(*BOUGHT) - mine.total(*BOUGHT)
    points = points_between(mine, theirs)
    decisive = max(lines, key=lambda line: abs(line.kwh), default=None)
    return {
        "against": against,
        "accounts": [account(page), account(against)],
        "bought": [page.bought_text, against.bought_text],
        "lines": [
            {
                "name": line.words,
                "text": signed(page, line.kwh),
                "more": line.kwh > 0,
                "x": round(150 - 140 * max(-line.kwh, 0) / largest, 1),
                "w": round(140 * abs(line.kwh) / largest, 1),
            }
            for line in lines
        ],
        "change": signed(page, change),
        "points": units.number(abs(points), 1),
        "better": points > 0,
        "same": abs(points) < 0.05,
        "decisive": decisive.words if decisive else "",
        "decisive_text": signed(page, decisive.kwh) if decisive else "",
        "changes": changes(page, against),
    }
