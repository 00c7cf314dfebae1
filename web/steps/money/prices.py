"""The price book on the page: prices changed in place, taken along as a table and brought back."""

from django.http import HttpResponse

from heat.economics.prices import ITEMS
from heat.errors import HeatError
from web.accounts.requests import SignedIn
from web.editor.design_page import DesignPage
from web.editor.step import PageResult
from web.prices import books
from web.projects.permissions import require_price_book
from web.ui import units
from web.ui.money import currencies


def prices_view(page: DesignPage) -> dict[str, object]:
    """Every item in its group with its price, and which are the person's own; for whoever prices designs with them."""
    if not page.may("edit"):
        return {
            "hidden": f"The price book of this project is {page.project.books}’s. What its parts cost stands "
            "under What it costs."
        }
    prices, own = books.prices_of(page.project.books), books.own_prices(page.project.books)
    wrong, typed = page.given.get("wrong", {}), page.given.get("typed", {})
    groups: dict[str, list[dict[str, object]]] = {}
    for key, item in ITEMS.items():
        groups.setdefault(item.group, []).append(
            {
                "key": key,
                "words": item.words,
                "unit": {"m2": "m²", "piece": "pc"}.get(item.unit, item.unit),
                "price": typed.get(key, units.number(prices[key], 2).replace(units.THIN, "")),
                "own": key in own,
                "wrong": wrong.get(key, ""),
            }
        )
    code = books.currency_of(page.project.books)
    return {
        "groups": groups.items(),
        "currency": code,
        "own": len(own),
        "of": len(ITEMS),
        "currencies": currencies(),
        "other": code != page.project.currency_code,
        "rate": page.field("money.book_rate"),
        "problem": page.given.get("problem_here", ""),
    }


def change_price(request: SignedIn, page: DesignPage) -> PageResult:
    """One price of the book."""
    require_price_book(page.user, page.project)
    key, text = request.POST.get("item", ""), request.POST.get("value", "")[:40]
    if key == "currency" and text in dict(currencies()):
        books.set_currency(owner=page.project.books, code=text)
        return PageResult(page=page.at("prices"), step="money")
    if key not in ITEMS:
        return PageResult(page=page.at("prices").with_note("There is no such item."), step="money", status=422)
    try:
        books.set_prices(owner=page.project.books, changes={key: books.price_typed(text)})
    except ValueError as error:
        here = page.at("prices").with_given(typed={key: text}, wrong={key: str(error)})
        return PageResult(page=here, step="money", status=422)
    return PageResult(page=page.at("prices"), step="money")


def undo_prices(request: SignedIn, page: DesignPage) -> PageResult:
    """The book as it stood before its last change."""
    require_price_book(page.user, page.project)
    books.take_back(owner=page.project.books)
    return PageResult(page=page.at("prices"), step="money")


def read_prices(request: SignedIn, page: DesignPage) -> PageResult | HttpResponse:
    """A table brought back; nothing of it is taken where a row is broken."""
    require_price_book(page.user, page.project)
    file = request.FILES.get("file")
    here = page.at("prices")
    if file is None:
        return PageResult(page=here.with_given(problem_here="Choose a table first."), step="money", status=422)
    try:
        found = books.read_book(file.read(books.MOST_BYTES + 1), books.currency_of(page.project.books))
    except HeatError as error:
        return PageResult(page=here.with_given(problem_here=str(error)), step="money", status=422)
    books.set_prices(owner=page.project.books, changes=found)
    return PageResult(page=here.with_note(f"{len(found)} prices taken."), step="money")


def book_csv(page: DesignPage) -> str:
    """The book as CSV."""
    return books.csv_of(books.prices_of(page.project.books), books.currency_of(page.project.books))


def book_spreadsheet(page: DesignPage) -> bytes:
    """The book as a spreadsheet."""
    return books.price_spreadsheet(books.prices_of(page.project.books), books.currency_of(page.project.books))
