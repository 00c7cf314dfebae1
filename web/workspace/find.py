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
_HOUR = r"(?:[\s,]+(?P<hour>\d{1,2})(?::\d\d)?\s*h?)?\s*"
DATES = tuple(
    re.compile(rf"\s*{pattern}{_HOUR}", re.IGNORECASE)
    for pattern in (
        r"(?P<day>\d{1,2})\.?\s*(?P<name>[a-z]{3})[a-z]*\.?(?:,?\s+\d{4})?",  # 21 Jun
        r"(?P<name>[a-z]{3})[a-z]*\.?\s+(?P<day>\d{1,2})(?:st|nd|rd|th)?(?:,?\s+\d{4})?",  # Jun 21
        r"\d{4}-(?P<month>\d{1,2})-(?P<day>\d{1,2})",  # 2026-06-21
        r"(?P<day>\d{1,2})\.\s?(?P<month>\d{1,2})\.?(?:\s?\d{4})?",  # 21.6.
        r"(?P<first>\d{1,2})/(?P<second>\d{1,2})(?:/\d{4})?",  # 21/6, or 6/21 as US pages have it
    )
)
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
    read = _date(text, page.system == "us")
    if read is None:
        return []
    month, day, hour = read
    lengths = [hours // 24 for hours in HOURS_OF_MONTH]
    view = dict(parse_qsl(urlsplit(current).query)).get("view", "")
    index, words = sum(lengths[:month]) + day - 1, f"{day} {MONTHS[month]}, {hour} h"
    if screen == "year" and view in ("", "hours"):
        return [Found(f"The year at {words}", look=f"?day={index}&hour={hour}&start=")]
    return [Found(f"Drawing at {words}", href=address_of(page.design, "scheme", day=str(index), hour=str(hour)))]


def _date(text: str, us: bool) -> tuple[int, int, int] | None:
    """Month (0 to 11), day and hour of a date however it is written; None for what is no day of the year."""
    names = [month.lower() for month in MONTHS]
    lengths = [hours // 24 for hours in HOURS_OF_MONTH]
    for pattern in DATES:
        read = pattern.fullmatch(text)
        if read is None:
            continue
        parts = read.groupdict()
        if "first" in parts:
            first, second = int(parts["first"]), int(parts["second"])
            day, month = (second, first) if (us and first <= 12) or second > 12 else (first, second)
        elif "name" in parts:
            name = parts["name"].lower()
            day, month = int(parts["day"]), names.index(name) + 1 if name in names else 0
        else:
            day, month = int(parts["day"]), int(parts["month"])
        hour = NOON if parts["hour"] is None else int(parts["hour"])
        if 1 <= month <= 12 and 1 <= day <= lengths[month - 1] and hour <= 23:
            return month - 1, day, hour
    return None


def _terms(words: list[str]) -> list[Term]:
    """Terms of which every word is part, by name or synonym; those whose name begins so first."""
    whole = " ".join(words)
    of = lambda term: " ".join((term.name, *term.synonyms)).lower()
    matching = [term for term in terms() if all(word in of(term) for word in words)]
    return sorted(matching, key=lambda term: not term.name.lower().startswith(whole))[:MOST_TERMS]


def _meaning(page: DesignPage, term: Term) -> Found:
    base = reverse("screen", args=(page.project.pk, page.design.letter, "x")).removesuffix("x")
    return Found(term.name, meaning=term.meaning, href=f"{base}{term.where}")
