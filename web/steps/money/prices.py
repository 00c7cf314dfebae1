"""The price book on the page: prices changed in place, taken along as a table and brought back."""

from typing import Any

from django.http import HttpResponse

from heat.errors import HeatError
from heat.money.prices import ITEMS
from web.accounts.requests import SignedIn
from web.prices import books
from web.projects.permissions import ask_books
from web.sheet.page import Sheet
from web.sheet.step import Shown
from web.ui.money import currencies


def prices_view(sheet: Sheet) -> dict[str, Any]:
    """Every item in its group with its price, and which are the person's own; for whoever prices designs with them."""
    if not sheet.may("edit"):
        return {"hidden": f"The price book of this project is {sheet.project.books}’s. What its parts cost stands "
                "under What it costs."}  # fmt: skip
    prices, own = books.prices_of(sheet.project.books), books.own_prices(sheet.project.books)
    wrong, typed = sheet.given.get("wrong", {}), sheet.given.get("typed", {})
    groups: dict[str, list[dict[str, Any]]] = {}
    for key, item in ITEMS.items():
        groups.setdefault(item.group, []).append({
            "key": key, "words": item.words, "unit": {"m2": "m²", "piece": "pc"}.get(item.unit, item.unit),
            "price": typed.get(key, f"{prices[key]:.2f}"), "own": key in own, "wrong": wrong.get(key, ""),
        })  # fmt: skip
    code = books.currency_of(sheet.project.books)
    return {"groups": groups.items(), "currency": code, "own": len(own), "of": len(ITEMS), "currencies": currencies(),
            "other": code != sheet.project.currency_code, "rate": sheet.pen("money.book_rate"),
            "problem": sheet.given.get("problem_here", "")}  # fmt: skip


def change_price(request: SignedIn, sheet: Sheet) -> Shown:
    """One price of the book."""
    ask_books(sheet.user, sheet.project)
    key, text = request.POST.get("item", ""), request.POST.get("value", "")[:40]
    if key == "currency" and text in dict(currencies()):
        books.set_currency(owner=sheet.project.books, code=text)
        return Shown(sheet=sheet.at("prices"), step="money")
    if key not in ITEMS:
        return Shown(sheet=sheet.at("prices").noting("There is no such item."), step="money", status=422)
    try:
        books.set_prices(owner=sheet.project.books, changes={key: books.price_typed(text)})
    except ValueError as error:
        here = sheet.at("prices").handing(typed={key: text}, wrong={key: str(error)})
        return Shown(sheet=here, step="money", status=422)
    return Shown(sheet=sheet.at("prices"), step="money")


def undo_prices(request: SignedIn, sheet: Sheet) -> Shown:
    """The book as it stood before its last change."""
    ask_books(sheet.user, sheet.project)
    books.take_back(owner=sheet.project.books)
    return Shown(sheet=sheet.at("prices"), step="money")


def read_prices(request: SignedIn, sheet: Sheet) -> Shown | HttpResponse:
    """A table brought back; nothing of it is taken where a row is broken."""
    ask_books(sheet.user, sheet.project)
    file = request.FILES.get("file")
    here = sheet.at("prices")
    if file is None:
        return Shown(sheet=here.handing(problem_here="Choose a table first."), step="money", status=422)
    try:
        found = books.read_book(file.read(books.MOST_BYTES + 1), books.currency_of(sheet.project.books))
    except HeatError as error:
        return Shown(sheet=here.handing(problem_here=str(error)), step="money", status=422)
    books.set_prices(owner=sheet.project.books, changes=found)
    return Shown(sheet=here.noting(f"{len(found)} prices taken."), step="money")


def book_csv(sheet: Sheet) -> str:
    """The book as CSV."""
    return books.csv_of(books.prices_of(sheet.project.books), books.currency_of(sheet.project.books))


def book_sheet(sheet: Sheet) -> bytes:
    """The book as a spreadsheet."""
    return books.sheet_of(books.prices_of(sheet.project.books), books.currency_of(sheet.project.books))
