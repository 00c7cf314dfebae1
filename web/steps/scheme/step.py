"""Scheme, step 3: the open book. The drawing on the left page, the account of its year on the right."""

from django.http import HttpResponse
from django.shortcuts import render
from django.urls import reverse

from web.accounts.requests import SignedIn
from web.present.account import account
from web.present.accounts import accounts_csv
from web.present.drawing import drawing
from web.present.kinds import KINDS
from web.sheet.page import Sheet
from web.sheet.step import Action, Command, Context, Download, Piece, Step, View, address_of
from web.steps.scheme.alternatives import GROUPS_OF, alternatives
from web.steps.scheme.books import books_view
from web.steps.scheme.choices import CHOICES
from web.steps.scheme.facing import facing_view
from web.steps.scheme.panels import PARTS, chosen_part, next_step, panel, parts_of
from web.steps.scheme.start import begin, start_view
from web.steps.scheme.swaps import swaps
from web.ui import units


def open_book(sheet: Sheet) -> Context:
    """The drawing, the chosen part's sheet, the account."""
    return {
        "drawing": drawing(sheet), "account": account(sheet), "panel": panel(sheet, chosen_part(sheet)),
        "parts": parts_of(sheet),
    }  # fmt: skip


def next_steps(request: SignedIn, sheet: Sheet) -> HttpResponse:
    """What one step down or up of the chosen part's main value would buy, or what else it could be: more full years."""
    part = sheet.look.part or "store"
    if part == "kind":
        return render(request, "scheme/swaps.html", {"rows": swaps(sheet)})
    if part == "add" or sheet.look.instead:
        group = GROUPS_OF.get(part, ("",))[0]
        return render(request, "scheme/swaps.html", {"rows": alternatives(sheet, part), "group": group})
    steps = next_step(sheet, part if part in PARTS else "store")
    return render(request, "scheme/steps.html", {"steps": steps, "unit": units.unit_of("kWh", sheet.system).sign})


def commands(sheet: Sheet) -> list[Command]:
    """The parts of this kind of system, its books, other ways it could work."""
    at = lambda **query: address_of(sheet.design, "scheme", **query)
    found = [Command(text=f"Part: {part[0].lower()}", href=at(part=key)) for key, part in parts_of(sheet).items()]
    found += [
        Command(text="All accounts of the year", href=at(view="books")),
        Command(text="Begin another design, guided", href=at(view="start")),
        Command(text="Catalogue", href=reverse("catalogue")),
        Command(text="Builder’s bench: a collector from its materials", href=reverse("builder")),
        Command(text="Standing water: bags and batch tanks", href=reverse("standing")),
    ]
    kind_now = sheet.year.book.design.system.kind
    return found + [
        Command(text=f"Make it a {words}", choose=f"kind {kind}") for kind, words in KINDS.items() if kind != kind_now
    ]


def _wanted_view(sheet: Sheet) -> str:
    """Facing pages where another design is held against this one; else as the address says."""
    if sheet.against:
        return "facing"
    return "" if sheet.look.view == "facing" else sheet.look.view


STEP = Step(
    styles=("scheme/scheme.css",),
    scripts=("scheme/heights.js",),
    key="scheme", title="Scheme", commands=commands, choices=CHOICES,
    choose_view=_wanted_view,
    views=(
        View(key="book", title="The open book", template="scheme/scheme.html", build=open_book),
        View(key="facing", title="Facing pages", template="scheme/facing.html", build=facing_view, under="f",
            listed=False),
        View(key="start", title="Begin", template="scheme/start.html", build=start_view, under="st", listed=False),
        View(key="books", title="All accounts", template="scheme/books.html", build=books_view, under="b",
            listed=False),
    ),
    actions=(Action(name="begin", path="begin", run=begin),),
    pieces=(Piece(name="next-steps", path="steps", answer=next_steps, patient=True),),
    downloads=(Download(name="accounts", path="accounts.csv", file="accounts-{letter}.csv", make=accounts_csv),),
)  # fmt: skip
