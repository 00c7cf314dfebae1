"""What it costs: the parts list as the drawing makes it, changed by hand where wished, and its sums."""

from typing import Any

from django.utils import timezone

from heat.design.money import MOST
from heat.money.offered import Offered
from heat.money.offered import offered as offered_at
from heat.money.parts_list import GROUPS, Line
from heat.money.prices import ITEMS
from heat.tables import csv_table
from web.accounts.requests import SignedIn
from web.prices.books import currency_of, prices_for
from web.sheet.edits import apply_changes
from web.sheet.page import Sheet
from web.sheet.step import Shown
from web.ui import units
from web.ui.money import places

UNIT_WORDS = {"piece": "pc", "h": "h", "kg": "kg", "m": "m", "L": "L", "m2": "m²"}
CONVERTED = ("m", "L", "kg", "m2")
FIELDS = ("quantity", "price", "left_out", "words")


def offered(sheet: Sheet) -> Offered:
    """The design's money at its person's prices, or at those it was offered with."""
    design = sheet.parsed
    return offered_at(design, sheet.year.book, prices_for(sheet.project.books, sheet.document))


def amount(value: Any, decimals: int = 0) -> str:
    """An amount of money on paper."""
    return units.number(float(value), decimals)


def cost_view(sheet: Sheet) -> dict[str, Any]:
    """The list in its groups, each line with its origin, and what it comes to."""
    found = offered(sheet)
    wrong = sheet.given.get("wrong", {})
    typed = sheet.given.get("typed", {})
    groups = []
    for title in GROUPS:
        rows = [_row(sheet, found, line, typed, wrong) for line in found.lines if line.group == title]
        if rows:
            groups.append({"title": title, "rows": rows})
    granted = sum(g.amount for g in found.grants)
    currency, book = sheet.project.currency, currency_of(sheet.project.books)
    return {
        "groups": groups, "currency": currency, "grants": [
            {"name": g.name, "amount": amount(g.amount), "cut": g.cut, "years": g.years} for g in found.grants
        ],
        "sums": [
            {"words": words, "amount": amount(value)} for words, value in (
                ("parts", found.parts), (f"margin on parts, {found.design.money.margin:g} %", found.margin),
                ("work and papers", found.work), (f"tax, {found.design.money.tax:g} %", found.tax),
            ) if value
        ],
        "total": amount(found.cost), "net": amount(float(found.cost) - granted), "granted": granted > 0,
        "mixed": "" if book == sheet.project.currency_code else book, "rate": f"{found.design.money.book_rate:g}",
        "dated": found.design.offer.dated, "moved": _moved(sheet), "added": typed,
        "added_wrong": wrong.get("added", ""),
        "conclusion": _conclusion(sheet, found, granted),
    }  # fmt: skip


def named(sheet: Sheet, line: Line) -> str:
    """A line's words, its sizes in the reader's units."""
    return line.named(lambda size, unit: f"{units.field_text(size, unit, sheet.system)} {sheet.sign(unit)}".strip())


def _conclusion(sheet: Sheet, found: Offered, granted: float) -> str:
    dearest = max(found.lines, key=found.sum_of)
    share = 100.0 * float(found.sum_of(dearest)) / max(float(found.parts + found.work), 1e-9)
    words = f"It costs {sheet.money(float(found.cost))}"
    if granted:
        words += f", {sheet.money(float(found.cost) - granted)} after grants"
    return f"{words}; most of it, {share:.0f} % of parts and work, is the {named(sheet, dearest)}."


def _row(sheet: Sheet, found: Offered, line: Line, typed: Any, wrong: Any) -> dict[str, Any]:
    quantity, sign, price = line.quantity, UNIT_WORDS.get(line.unit, line.unit), line.price_of_one(found.prices)
    if line.unit in CONVERTED:
        sign = sheet.sign(line.unit)
        step = units.shown(1.0, line.unit, sheet.system)
        quantity, price = quantity * step, price / step
    number = lambda v: f"{v:.2f}".rstrip("0").rstrip(".")
    text = lambda field, now: typed[field] if typed.get("key") == line.key and field in typed else now
    return {
        "key": line.key, "words": named(sheet, line), "why": line.why, "sign": sign, "left_out": line.left_out,
        "quantity": text("quantity", number(quantity)), "price": text("price", f"{price:.2f}"),
        "sum": amount(found.sum_of(line), places(sheet.project.currency_code)), "by_hand": ", ".join(line.by_hand),
        "own": line.group == "Added", "wrong": wrong.get(line.key, ""),
    }  # fmt: skip


def _hands(sheet: Sheet) -> dict[str, dict[str, Any]]:
    return {line["key"]: dict(line) for line in sheet.document["offer"]["lines"]}


def change_line(request: SignedIn, sheet: Sheet) -> Shown:
    """One thing of a line changed by hand; emptied, it is the drawing's again."""
    key, field = request.POST.get("item", "")[:40], request.POST.get("field", "")
    text = request.POST.get("value", "")[:80]
    line = next((line for line in offered(sheet).lines if line.key == key), None)
    if line is None or field not in FIELDS:
        return Shown(sheet=sheet.at("cost").noting("That line is not on the list any more."), step="money", status=422)
    hands = _hands(sheet)
    hand = hands.get(key, {"key": key, "words": "", "unit": "", "quantity": None, "price": None, "left_out": False})
    try:
        hand[field] = _typed(sheet, line, field, text)
    except ValueError as error:
        here = sheet.at("cost").handing(typed={"key": key, field: text}, wrong={key: str(error)})
        return Shown(sheet=here, step="money", status=422)
    if line.group == "Added" and field == "left_out" and hand["left_out"]:
        hands.pop(key, None)  # a line of one's own is simply gone; undo brings it back
    elif line.group != "Added" and hand["quantity"] is None and hand["price"] is None and not hand["left_out"]:
        hands.pop(key, None)
    else:
        hands[key] = hand
    return _kept(sheet, hands)


def _typed(sheet: Sheet, line: Line, field: str, text: str) -> Any:
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
    step = units.shown(1.0, line.unit, sheet.system) if line.unit in CONVERTED else 1.0
    return round(value / step if field == "quantity" else value * step, 6)


def add_line(request: SignedIn, sheet: Sheet) -> Shown:
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
        return Shown(sheet=sheet.at("cost").handing(typed=typed, wrong={"added": wrong}), step="money", status=422)
    hands = _hands(sheet)
    number = next(n for n in range(1, 200) if f"own{n}" not in hands)
    hands[f"own{number}"] = {"key": f"own{number}", "words": typed["words"].strip(), "unit": typed["unit"][:12] or "pc",
                             "left_out": False, **numbers}  # fmt: skip
    return _kept(sheet, hands)


def _kept(sheet: Sheet, hands: dict[str, dict[str, Any]]) -> Shown:
    changes = {"offer.lines": list(hands.values())}
    return Shown(
        sheet=apply_changes(sheet.design, sheet.user, lambda document: changes, sheet.at("cost").look), step="money"
    )


def keep_prices(request: SignedIn, sheet: Sheet) -> Shown:
    """Keep the prices the design is offered with, so that the book may move; or let go of them."""
    kept = request.POST.get("keep") == "1"
    prices = (
        {key: round(price, 4) for key, price in prices_for(sheet.project.books, sheet.document).items()} if kept else {}
    )
    changes = {"offer.prices": prices, "offer.dated": timezone.localdate().isoformat() if kept else ""}
    made = apply_changes(sheet.design, sheet.user, lambda document: changes, sheet.at("cost").look)
    return Shown(sheet=made, step="money")


def _moved(sheet: Sheet) -> list[str]:
    """Items whose price moved in the book since the design was offered."""
    book, kept = prices_for(sheet.project.books, sheet.document), sheet.document["offer"]["prices"]
    return [ITEMS[key].words for key, price in kept.items() if key in ITEMS and abs(book[key] - price) > 1e-4]


def cost_csv(sheet: Sheet) -> str:
    """The list as CSV: what an installer orders by."""
    found = offered(sheet)
    head = ["group", "item", "quantity", "unit", f"price, {sheet.project.currency}", "sum", "from", "by hand"]
    lines = [
        [line.group, named(sheet, line), line.quantity, line.unit, round(line.price_of_one(found.prices), 4),
         found.sum_of(line), line.why, ", ".join(line.by_hand)] for line in found.lines if not line.left_out
    ]  # fmt: skip
    sums = (("margin", found.margin), ("tax", found.tax), ("total", found.cost))
    return csv_table([head, *lines, *(["", words, "", "", "", value, "", ""] for words, value in sums)])
