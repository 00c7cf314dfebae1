"""The command line: what a typed text finds among dates, parts, views, commands and the words of the trade."""

import re
from dataclasses import dataclass
from urllib.parse import parse_qsl, urlsplit

from django.http import HttpResponse
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_safe

from heat.constants import HOURS_OF_MONTH
from web.accounts.requests import SignedIn
from web.editor.design_page import DesignPage
from web.editor.step import address_of
from web.ui.calendar import MONTHS
from web.ui.glossary import Term, terms
from web.workspace.registry import commands
from web.workspace.views import page_for

MOST, MOST_TERMS, LONGEST = 12, 4, 60
"""Rows shown, terms among them, letters read."""
DATE = re.compile(r"\s*(\d{1,2})\.?\s*([a-z]{3})[a-z]*\.?(?:[\s,]+(\d{1,2})(?::\d\d)?\s*h?)?\s*", re.IGNORECASE)
NOON = 12
PRESSED = {
    "Undo": "[data-undo]",
    "Redo": "[data-redo]",
    "Save as the base": "[data-save]",
    "Copy this design": ".copy button",
    "SI units": "button[value=si]",
    "US units": "button[value=us]",
    "Sign out": ".header-right .header-button",
}
"""Commands that press a control of the page, by the control."""


@dataclass(frozen=True)
class Found:
    """A row of the command line: its words, and what it does, one of the rest."""

    text: str
    meaning: str = ""
    href: str = ""
    look: str = ""
    """A query the page is asked again with."""
    choose: str = ""
    """A named set of values taken."""
    press: str = ""
    """A control of the page."""
    act: str = ""
    """``print`` or ``keys``."""


@require_safe
def find(request: SignedIn, pk: int, letter: str) -> HttpResponse:
    """Rows for a typed text; all commands where it is empty."""
    page = page_for(request, pk, letter)
    text = str(request.GET.get("q", ""))[:LONGEST]
    words = text.lower().split()
    screen = str(request.GET.get("screen", ""))
    known = [] if not words else [_meaning(page, term) for term in _terms(words)]
    rows = [row for row in _commands(page, screen) if all(word in row.text.lower() for word in words)]
    rows = [*_at(page, screen, text, request.htmx.current_url or ""), *rows]
    found = [*rows[: MOST - len(known)], *known]
    return render(request, "workspace/found.html", {"found": found})


def _commands(page: DesignPage, screen: str) -> list[Found]:
    found = [Found(one.text, href=one.href, choose=one.choose) for one in commands(page)]
    for other in page.project.designs.filter(archived=False).exclude(pk=page.design.pk):
        name = f"{other.letter} {other.name}"
        found.append(Found(f"Design: {name}", href=address_of(other, screen or "scheme")))
        found.append(Found(f"Compare with {name}", href=address_of(page.design, "scheme", against=other.letter)))
    found += [Found(text, press=control) for text, control in PRESSED.items()]
    return [*found, Found("Print this page", act="print"), Found("Keys", act="keys")]


def _at(page: DesignPage, screen: str, text: str, current: str) -> list[Found]:
    """Where a typed date leads: the hours of the year where the page shows them, else the drawing."""
    read = DATE.fullmatch(text)
    names = [month.lower() for month in MONTHS]
    if read is None or read[2].lower() not in names:
        return []
    month, day, hour = names.index(read[2].lower()), int(read[1]), int(read[3] or NOON)
    lengths = [hours // 24 for hours in HOURS_OF_MONTH]
    if not 1 <= day <= lengths[month] or hour > 23:
        return []
    view = dict(parse_qsl(urlsplit(current).query)).get("view", "")
    index, words = sum(lengths[:month]) + day - 1, f"{day} {MONTHS[month]}, {hour} h"
    if screen == "year" and view in ("", "hours"):
        return [Found(f"The year at {words}", look=f"?day={index}&hour={hour}&start=")]
    return [Found(f"Drawing at {words}", href=address_of(page.design, "scheme", day=str(index), hour=str(hour)))]


def _terms(words: list[str]) -> list[Term]:
    """Terms of which every word is part, by name or synonym; those whose name begins so first."""
    whole = " ".join(words)
    of = lambda term: " ".join((term.name, *term.synonyms)).lower()
    matching = [term for term in terms() if all(word in of(term) for word in words)]
    return sorted(matching, key=lambda term: not term.name.lower().startswith(whole))[:MOST_TERMS]


def _meaning(page: DesignPage, term: Term) -> Found:
    base = reverse("screen", args=(page.project.pk, page.design.letter, "x")).removesuffix("x")
    return Found(term.name, meaning=term.meaning, href=f"{base}{term.where}")
