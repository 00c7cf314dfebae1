"""Price books kept, changed, taken back, and as tables to take along and bring back."""

import csv
import io
from collections.abc import Mapping
from typing import Any

from django.db import transaction

from heat.common.tables import csv_table, reading, within_limits
from heat.economics.prices import ITEMS, PRICES
from heat.errors import HeatError
from web.accounts.models import User
from web.prices.models import PriceBook
from web.ui import units
from web.ui.money import currencies
from web.ui.spreadsheets import is_spreadsheet, spreadsheet, spreadsheet_rows

COLUMNS = ("key", "item", "unit", "price", "currency")
MOST, MOST_BYTES, MOST_ROWS = 1_000_000.0, 200_000, 500


class BrokenRow(HeatError):
    """A row of a price table that cannot be taken, in words."""


def prices_of(user: User) -> dict[str, float]:
    """Every item's price: the person's own, else the starting price."""
    book = PriceBook.objects.filter(owner=user).first()
    return PRICES | {key: price for key, price in (book.prices if book else {}).items() if key in ITEMS}


def currency_of(user: User) -> str:
    """The currency the person's book is in, by code."""
    book = PriceBook.objects.filter(owner=user).first()
    return book.currency if book else "EUR"


def set_currency(*, owner: User, code: str) -> None:
    """Say what the book's prices are in; they stay as they are."""
    PriceBook.objects.update_or_create(owner=owner, defaults={"currency": code})


def prices_for(user: User, document: Mapping[str, Any]) -> dict[str, float]:
    """Every item's price in a project's currency, by the rate that was typed where the book is in another."""
    money, prices = document["money"], prices_of(user)
    if money["currency"] == currency_of(user):
        return prices
    return {key: price * money["book_rate"] for key, price in prices.items()}


def own_prices(user: User) -> dict[str, float]:
    """The prices that a person set."""
    book = PriceBook.objects.filter(owner=user).first()
    return dict(book.prices) if book else {}


@transaction.atomic
def set_prices(*, owner: User, changes: dict[str, float]) -> None:
    """Set prices; what stood before can be taken back."""
    book, _new = PriceBook.objects.select_for_update().get_or_create(owner=owner)
    book.before = book.prices
    book.prices = {**book.prices, **changes}
    book.save()


@transaction.atomic
def take_back(*, owner: User) -> None:
    """Put the book as it stood before its last change; once more, and it is as it was."""
    book, _new = PriceBook.objects.select_for_update().get_or_create(owner=owner)
    book.prices, book.before = book.before, book.prices
    book.save()


def take_over(*, owner: User, raw: bytes) -> int:
    """Put the prices of a table into a person's book, in the table's currency where the book is still empty; how many.

    What stood before can be taken back. Raises BrokenRow, and nothing is taken then.
    """
    rows = _text(raw)
    at = rows[0].index("currency") if rows and "currency" in rows[0] else None
    text = rows[1][at] if at is not None and len(rows) > 1 and len(rows[1]) > at else ""
    fresh = not own_prices(owner) and text in dict(currencies())
    changes = read_book(raw, text if fresh else currency_of(owner))
    now = prices_of(owner)
    with transaction.atomic():
        if fresh:
            set_currency(owner=owner, code=text)
        set_prices(owner=owner, changes={key: price for key, price in changes.items() if price != now[key]})
    return len(changes)


def price_typed(text: str) -> float:
    """A price as typed. Raises ValueError with the words for the page."""
    try:
        value = units.parse_number(text)
    except ValueError as error:
        raise ValueError(units.no_number(text, error)) from error
    if not 0 <= value <= MOST:
        raise ValueError(f"A price lies between 0 and {units.number(MOST, 0)}.")
    return round(value, 4)


def rows_of(prices: dict[str, float], currency: str) -> list[list[str | float]]:
    """The book as rows, a heading first."""
    rows: list[list[str | float]] = [[key, item.words, item.unit, prices[key], currency] for key, item in ITEMS.items()]
    return [list(COLUMNS), *rows]


def csv_of(prices: dict[str, float], currency: str) -> str:
    """The book as CSV."""
    return csv_table(rows_of(prices, currency))


def price_spreadsheet(prices: dict[str, float], currency: str) -> bytes:
    """The book as a spreadsheet (Office Open XML)."""
    return spreadsheet("Prices", rows_of(prices, currency))


def read_book(raw: bytes, currency: str) -> dict[str, float]:
    """Prices by item of a table that was brought back: CSV with comma or semicolon, or a spreadsheet;
    in the book's currency, where the table names one.

    Raises BrokenRow, which names the first row that cannot be taken; nothing is taken then.
    """
    if len(raw) > MOST_BYTES:
        raise BrokenRow("This table is too large for a price book.")
    rows = spreadsheet_rows("Price table", raw, MOST_ROWS) if is_spreadsheet(raw) else _text(raw)
    if not rows:
        raise BrokenRow("This table is empty.")
    heading = [cell.strip().lower() for cell in rows[0]]
    if "key" not in heading or "price" not in heading:
        raise BrokenRow("The first row must name the columns “key” and “price”, as the exported table does.")
    at, cost = heading.index("key"), heading.index("price")
    other = heading.index("currency") if "currency" in heading else None
    found: dict[str, float] = {}
    for number, row in enumerate(rows[1:], start=2):
        cells = [cell.strip() for cell in row]
        if not any(cells):
            continue
        key = cells[at] if at < len(cells) else ""
        if key not in ITEMS:
            raise BrokenRow(f"Row {number}: there is no item “{key[:40]}”.")
        if key in found:
            raise BrokenRow(f"Row {number}: “{key}” stands twice.")
        text = cells[other].upper() if other is not None and other < len(cells) else ""
        if text and text != currency:
            raise BrokenRow(f"Row {number}: {text[:8]} in a book of {currency}: bring one currency, or set the book’s.")
        try:
            found[key] = price_typed(cells[cost] if cost < len(cells) else "")
        except ValueError as error:
            raise BrokenRow(f"Row {number}, {ITEMS[key].words}: {error}") from error
    return found


def _text(raw: bytes) -> list[list[str]]:
    """The cells of a table of text. Raises HeatError."""
    try:
        text = raw.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = raw.decode("latin-1")
    first = text.split("\n", 1)[0]
    with reading("Price table"):
        within_limits("Price table", text)
        return list(csv.reader(io.StringIO(text), delimiter=";" if first.count(";") > first.count(",") else ","))
