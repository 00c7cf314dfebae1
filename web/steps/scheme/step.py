"""Scheme, step 3: the open book. The drawing on the left page, the account of its year on the right."""

from django.http import HttpResponse
from django.shortcuts import render
from django.urls import reverse

from web.accounts.requests import SignedIn
from web.editor.design_page import DesignPage
from web.editor.step import Action, Context, Download, Fragment, PaletteCommand, Step, View, address_of, value_commands
from web.presentation.account import account
from web.presentation.accounts import accounts_csv
from web.presentation.drawing import drawing
from web.presentation.kinds import KINDS
from web.steps.scheme.accounts_table import accounts_view
from web.steps.scheme.alternatives import GROUPS_OF, alternatives
from web.steps.scheme.choices import CHOICES
from web.steps.scheme.facing import facing_view
from web.steps.scheme.panels import chosen_part, next_step, panel, parts_of
from web.steps.scheme.parts import PARTS
from web.steps.scheme.start import begin, start_view
from web.steps.scheme.swaps import swaps
from web.ui import units


def scheme_view(page: DesignPage) -> Context:
    """The drawing, the chosen part's panel, the account."""
    return {
        "drawing": drawing(page),
        "account": account(page),
        "panel": panel(page, chosen_part(page)),
        "parts": parts_of(page),
    }


def next_steps(request: SignedIn, page: DesignPage) -> HttpResponse:
    """What one step down or up of the chosen part's main value would buy, or what else it could be: more full years."""
    part = page.state.part or "store"
    if part == "kind":
        return render(request, "scheme/swaps.html", {"rows": swaps(page)})
    if part == "add" or page.state.instead:
        group = GROUPS_OF.get(part, ("",))[0]
        return render(request, "scheme/swaps.html", {"rows": alternatives(page, part), "group": group})
    steps = next_step(page, part if part in PARTS else "store")
    return render(request, "scheme/steps.html", {"steps": steps, "unit": units.unit_of("kWh", page.system).sign})


def commands(page: DesignPage) -> list[PaletteCommand]:
    """The parts of this kind of system, its books, other ways it could work."""
    at = lambda **query: address_of(page.design, "scheme", **query)
    found = [PaletteCommand(text=f"Part: {part[0].lower()}", href=at(part=key)) for key, part in parts_of(page).items()]
    found += [
        PaletteCommand(text="All accounts of the year", href=at(view="accounts")),
        PaletteCommand(text="Begin another design, guided", href=at(view="start")),
        PaletteCommand(text="Catalogue", href=reverse("catalogue")),
        PaletteCommand(text="Builder’s bench: a collector from its materials", href=reverse("builder")),
        PaletteCommand(text="Standing water: bags and batch tanks", href=reverse("standing")),
    ]
    for key, part in parts_of(page).items():
        found += value_commands(page, part[1], at(part=key), part[0].lower())
    kind_now = page.year.book.design.system.kind
    return found + [
        PaletteCommand(text=f"Make it a {words}", choose=f"kind {kind}")
        for kind, words in KINDS.items()
        if kind != kind_now
    ]


def _wanted_view(page: DesignPage) -> str:
    """Facing pages where another design is held against this one; else as the address says."""
    if page.against:
        return "facing"
    return "" if page.state.view == "facing" else page.state.view


STEP = Step(
    styles=("scheme/scheme.css",),
    scripts=("scheme/heights.js",),
    key="scheme",
    title="Scheme",
    commands=commands,
    choices=CHOICES,
    choose_view=_wanted_view,
    views=(
        View(key="book", title="The open book", template="scheme/scheme.html", build=scheme_view),
        View(
            key="facing",
            title="Facing pages",
            template="scheme/facing.html",
            build=facing_view,
            under="f",
            listed=False,
        ),
        View(key="start", title="Begin", template="scheme/start.html", build=start_view, under="st", listed=False),
        View(
            key="accounts",
            earlier=("books",),
            title="All accounts",
            template="scheme/books.html",
            build=accounts_view,
            under="b",
            listed=False,
        ),
    ),
    actions=(Action(name="begin", path="begin", run=begin),),
    fragments=(Fragment(name="next-steps", path="steps", answer=next_steps, patient=True),),
    downloads=(Download(name="accounts", path="accounts.csv", file="accounts-{letter}.csv", make=accounts_csv),),
)
