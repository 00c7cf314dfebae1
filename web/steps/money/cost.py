"""What it costs: the parts list as the drawing makes it, changed by hand where wished, and its sums."""

from typing import Any

from django.utils import timezone

from heat.common.tables import csv_table
from heat.design.money import MOST
from heat.economics.offer import Offered
from heat.economics.offer import offered as offered_at
from heat.economics.parts_list import GROUPS, Line
from heat.economics.prices import ITEMS
from web.accounts.requests import SignedIn
from web.editor.design_page import DesignPage
from web.editor.edits import apply_changes
from web.editor.step import PageResult
from web.prices.books import currency_of, prices_for
from web.ui import units
from web.ui.money import places
from web.ui.rows import Row

UNIT_WORDS = {"piece": "pc", "h": "h", "kg": "kg", "m": "m", "L": "L", "m2": "m²"}
CONVERTED = ("m", "L", "kg", "m2")
FIELDS = ("quantity", "price", "left_out", "words")


def offered(page: DesignPage) -> Offered:
    """The design's money at its person's prices, or at those it was offered with."""
    design = page.parsed
    return offered_at(design, page.year.book, prices_for(page.project.books, page.document))


def amount(value: Any, decimals: int = 0) -> str:
    """An amount of money on paper."""
    return units.number(float(value), decimals)


def cost_view(page: DesignPage) -> dict[str, object]:
    """The list in its groups, each line with its origin, and what it comes to."""
    found = offered(page)
    wrong = page.given.get("wrong", {})
    typed = page.given.get("typed", {})
    groups = []
    for title in GROUPS:
        rows = [_row(page, found, line, typed, wrong) for line in found.lines if line.group == title]
        if rows:
            groups.append({"title": title, "rows": rows})
    granted = sum(g.amount for g in found.grants)
    currency, book = page.project.currency, currency_of(page.project.books)
    return {
        "groups": groups,
        "currency": currency,
        "grants": [{"name": g.name, "amount": amount(g.amount), "cut": g.cut, "years": g.years} for g in found.grants],
        "sums": [
            {"words": words, "amount": amount(value)}
            for words, value in (
                ("parts", found.parts),
                (f"margin on parts, {found.design.money.margin:g} %", found.margin),
                ("work and papers", found.work),
                (f"tax, {found.design.money.tax:g} %", found.tax),
            )
            if value
        ],
        "total": amount(found.cost),
        "net": amount(float(found.cost) - granted),
        "granted": granted > 0,
        "mixed": "" if book == page.project.currency_code else book,
        "rate": f"{found.design.money.book_rate:g}",
        "dated": found.design.offer.dated,
        "moved": _changed_prices(page),
        "added": typed,
        "added_wrong": wrong.get("added", ""),
        "conclusion": _conclusion(page, found, granted),
    }


def named(page: DesignPage, line: Line) -> str:
    """A line's words, its sizes in the reader's units."""
    return line.named(lambda size, unit: f"{units.field_text(size, unit, page.system)} {page.sign(unit)}".strip())


def _conclusion(page: DesignPage, found: Offered, granted: float) -> str:
    dearest = max(found.lines, key=found.sum_of)
    share = 100.0 * float(found.sum_of(dearest)) / max(float(found.parts + found.work), 1e-9)
    words = f"It costs {page.money(float(found.cost))}"
    if granted:
        words += f", {page.money(float(found.cost) - granted)} after grants"
    return f"{words}; most of it, {share:.0f} % of parts and work, is the {named(page, dearest)}."


def _row(page: DesignPage, found: Offered, line: Line, typed: Any, wrong: Any) -> Row:
    quantity, sign, price = line.quantity, UNIT_WORDS.get(line.unit, line.unit), line.price_of_one(found.prices)
    if line.unit in CONVERTED:
        sign = page.sign(line.unit)
        step = units.to_display(1.0, line.unit, page.system)
        quantity, price = quantity * step, price / step
    field_text = lambda field, now: typed[field] if typed.get("key") == line.key and field in typed else now
    return {
        "key": line.key,
        "words": named(page, line),
        "why": line.why,
        "sign": sign,
        "left_out": line.left_out,
        "quantity": field_text("quantity", units.plain(quantity, 2)),
        "price": field_text("price", units.number(price, 2).replace(units.THIN, "")),
        "sum": amount(found.sum_of(line), places(page.project.currency_code)),
        "by_hand": ", ".join(line.by_hand),
        "own": line.group == "Added",
        "wrong": wrong.get(line.key, ""),
    }


def _hands(page: DesignPage) -> dict[str, Row]:
    return {line["key"]: dict(line) for line in page.document["offer"]["lines"]}


def change_line(request: SignedIn, page: DesignPage) -> PageResult:
    """One thing of a line changed by hand; emptied, it is the drawing's again."""
    key, field = request.POST.get("item", "")[:40], request.POST.get("field", "")
    text = request.POST.get("value", "")[:80]
    line = next((line for line in offered(page).lines if line.key == key), None)
    if line is None or field not in FIELDS:
        return PageResult(
            page=page.at("cost").with_note("That line is not on the list any more."), step="money", status=422
        )
    hands = _hands(page)
    hand = hands.get(key, {"key": key, "words": "", "unit": "", "quantity": None, "price": None, "left_out": False})
    try:
        hand[field] = _typed(page, line, field, text)
    except ValueError as error:
        here = page.at("cost").with_given(typed={"key": key, field: text}, wrong={key: str(error)})
        return PageResult(page=here, step="money", status=422)
    if line.group == "Added" and field == "left_out" and hand["left_out"]:
        hands.pop(key, None)  # a line of one's own is simply gone; undo brings it back
    elif line.group != "Added" and hand["quantity"] is None and hand["price"] is None and not hand["left_out"]:
        hands.pop(key, None)
    else:
        hands[key] = hand
    return _stored(page, hands)


def _typed(page: DesignPage, line: Line, field: str, text: str) -> Any:
    """What was typed, in the list's own units. Raises ValueError with the words for the page."""
    if field == "left_out":
        return text == "1"
    if field == "words":
        return text.replace("\0", "").strip()
    if not text.strip():
        return None
    try:
        value = units.parse_number(text)
    except ValueError as error:
        raise ValueError(units.no_number(text, error)) from error
    most = MOST if field == "price" else 1_000_000
    if not 0 <= value <= most:
        raise ValueError(f"Allowed: 0 to {units.number(most, 0)}.")
    step = units.to_display(1.0, line.unit, page.system) if line.unit in CONVERTED else 1.0
    return round(value / step if field == "quantity" else value * step, 6)


def add_line(request: SignedIn, page: DesignPage) -> PageResult:
    """A line of one's own."""
    typed = {name: request.POST.get(name, "")[:80].replace("\0", "") for name in ("words", "quantity", "unit", "price")}
    wrong = ""
    numbers: dict[str, float] = {}
    for name, usual in (("quantity", "1"), ("price", "")):
        try:
            numbers[name] = units.parse_number(typed[name] or usual)
            if not 0 <= numbers[name] <= MOST:
                wrong = f"The {name} lies between 0 and {units.number(MOST, 0)}."
        except ValueError as error:
            wrong = units.no_number(typed[name], error) if typed[name] else f"A {name} is needed."
    if not typed["words"].strip():
        wrong = "Name the line."
    if wrong:
        return PageResult(
            page=page.at("cost").with_given(typed=typed, wrong={"added": wrong}), step="money", status=422
        )
    hands = _hands(page)
    number = next(n for n in range(1, 200) if f"own{n}" not in hands)
    hands[f"own{number}"] = {
        "key": f"own{number}",
        "words": typed["words"].strip(),
        "unit": typed["unit"][:12] or "pc",
        "left_out": False,
        **numbers,
    }
    return _stored(page, hands)


def _stored(page: DesignPage, hands: dict[str, Row]) -> PageResult:
    changes = {"offer.lines": list(hands.values())}
    return PageResult(page=apply_changes(page.at("cost"), lambda document: changes), step="money")


def freeze_prices(request: SignedIn, page: DesignPage) -> PageResult:
    """Keep the prices the design is offered with, so that the book may move; or let go of them."""
    frozen = request.POST.get("keep") == "1"
    prices = (
        {key: round(price, 4) for key, price in prices_for(page.project.books, page.document).items()} if frozen else {}
    )
    changes = {"offer.prices": prices, "offer.dated": timezone.localdate().isoformat() if frozen else ""}
    made = apply_changes(page.at("cost"), lambda document: changes)
    return PageResult(page=made, step="money")


def _changed_prices(page: DesignPage) -> list[str]:
    """Items whose price moved in the book since the design was offered."""
    book, stored = prices_for(page.project.books, page.document), page.document["offer"]["prices"]
    return [ITEMS[key].words for key, price in stored.items() if key in ITEMS and abs(book[key] - price) > 1e-4]


def cost_csv(page: DesignPage) -> str:
    """The list as CSV: what an installer orders by."""
    found = offered(page)
    head = ["group", "item", "quantity", "unit", f"price, {page.project.currency}", "sum", "from", "by hand"]
    lines = [
        [
            line.group,
            named(page, line),
            line.quantity,
            line.unit,
            round(line.price_of_one(found.prices), 4),
            found.sum_of(line),
            line.why,
            ", ".join(line.by_hand),
        ]
        for line in found.lines
        if not line.left_out
    ]
    sums = (("margin", found.margin), ("tax", found.tax), ("total", found.cost))
    return csv_table([head, *lines, *(["", words, "", "", "", value, "", ""] for words, value in sums)])
