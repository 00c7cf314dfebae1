"""What a step is: a folder that declares its views, actions, pieces, files and words; the workspace does the rest.

A new step is one folder with a ``step.py`` that holds ``STEP``, and its name among ``settings.STEPS``.
"""

from collections.abc import Callable, Iterable, Mapping, MutableMapping
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Any
from urllib.parse import urlencode

from django.http import HttpResponse, JsonResponse
from django.shortcuts import redirect
from django.urls import reverse

from heat.common.documents import Document, Values
from heat.errors import HeatError
from web.accounts.models import User
from web.editor.design_page import DesignPage
from web.projects.models import Design
from web.projects.permissions import Need

Context = dict[str, object]
Memory = MutableMapping[str, Any]
"""What is kept while a person is signed in."""


@dataclass(frozen=True, kw_only=True)
class View:
    """One page of a step. ``build`` gives what its template declares; unlisted views are reached by links only.

    ``under``: the one name the template gets it by. ``remember`` may keep something while the person is signed in, and
    adds to what was built.
    """

    key: str
    title: str
    template: str
    build: Callable[[DesignPage], Context]
    under: str = ""
    earlier: tuple[str, ...] = ()
    """Keys it had before: addresses that somebody saved still lead to it."""
    listed: bool = True
    remember: Callable[[Memory, DesignPage, Context], Context] | None = None


@dataclass(frozen=True, kw_only=True)
class PageResult:
    """The page an action ends with: a page of a step, by default the step that asked."""

    page: DesignPage
    step: str = ""
    status: int = 200


@dataclass(frozen=True, kw_only=True)
class Action:
    """Something posted to ``path`` below a design; its name is that of its address."""

    name: str
    path: str
    run: Callable[..., PageResult | HttpResponse]
    needs: Need | None = None
    """What it needs where that is not its step's."""


@dataclass(frozen=True, kw_only=True)
class Fragment:
    """Something a page fetches from ``path`` below a design: a part of it, or values for a script.

    ``patient``: it costs years and may wait: while others edit, its page asks again later; asked for a revision
    (``r``) that is no longer the project's, it is dropped.
    """

    name: str
    path: str
    answer: Callable[..., HttpResponse]
    needs: Need = "view"
    patient: bool = False


@dataclass(frozen=True, kw_only=True)
class Download:
    """A file made of a design's year; ``file`` names it, with the design's letter where ``{letter}``
    stands and the project's name where ``{project}`` does."""

    name: str
    path: str
    file: str
    make: Callable[[DesignPage], str | bytes]
    needs: Need = "view"


@dataclass(frozen=True, kw_only=True)
class PaletteCommand:
    """What the command line finds by ``text``: an address, or a set of values to choose."""

    text: str
    href: str = ""
    choose: str = ""


def value_commands(page: DesignPage, paths: Iterable[str], href: str, where: str = "") -> list[PaletteCommand]:
    """Values by name, as they stand, each leading to where it is typed."""
    found = []
    for path in paths:
        try:
            field = page.field(path)
        except (KeyError, ValueError):  # not of this kind of design
            continue
        if field.kind in ("pairs", "text"):
            continue
        names = dict(field.choices)
        text = names.get(field.text, field.text) if field.kind == "choice" else field.text
        stands = (
            {"1": "yes", "": "no"}[text] if field.kind == "switch" else f"{text or field.none} {field.sign}".strip()
        )
        label = f"{field.label}, {where}" if where else field.label
        found.append(PaletteCommand(text=f"Value: {label}: {stands}", href=href))
    return found


@dataclass(frozen=True, kw_only=True)
class RowList:
    """A list of the document that a person adds to and takes from; both give the changes of a whole edit."""

    new: Callable[[Document, str], Document]
    added: Callable[[Document, Document], Values] = lambda document, row: {}
    emptied: Callable[[Document], Values] = lambda document: {}


Choice = Callable[[Document, str, User], Values]
"""The changes of a set of values chosen at one touch: from the document, what follows the set's name, and who
chooses."""


@dataclass(frozen=True, kw_only=True)
class Step:
    """A step of the work: its tab, its views, and what they need.

    ``rows`` by path of the list; ``choices`` by name, one that ends with a space stands for all that begin so;
    ``choose_view`` where the address alone does not give the view. ``styles``, ``scripts``: static files its pages
    load. ``needs``: what changing something in it needs, where its actions do not say otherwise.
    """

    key: str
    title: str
    views: tuple[View, ...]
    actions: tuple[Action, ...] = ()
    fragments: tuple[Fragment, ...] = ()
    downloads: tuple[Download, ...] = ()
    rows: Mapping[str, RowList] = field(default_factory=dict)
    choices: Mapping[str, Choice] = field(default_factory=dict)
    commands: Callable[[DesignPage], list[PaletteCommand]] = lambda page: []
    next_line: Callable[[DesignPage], str] = lambda page: ""
    choose_view: Callable[[DesignPage], str] = lambda page: page.state.view
    styles: tuple[str, ...] = ()
    scripts: tuple[str, ...] = ()
    needs: Need = "edit"

    def view_of(self, page: DesignPage) -> View:
        """The view an address asks for, else the first."""
        wanted = self.choose_view(page)
        return next((view for view in self.views if wanted in (view.key, *view.earlier)), self.views[0])

    @property
    def listed(self) -> tuple[View, ...]:
        """Views to choose from; none where there is but one."""
        found = tuple(view for view in self.views if view.listed)
        return found if len(found) > 1 else ()


@lru_cache(4096)
def _screen(pk: int, letter: str, step: str) -> str:
    return reverse("screen", args=(pk, letter, step))


def address_of(design: Design, step: str, **query: object) -> str:
    """Where a step of a design stands, with a query."""
    here = _screen(design.project_id, design.letter, step)
    return f"{here}?{urlencode(query)}" if query else here


def sent_to(design: Design, step: str, **query: object) -> HttpResponse:
    """On to a page."""
    return redirect(address_of(design, step, **query))


def json_or_reason(make: Callable[[], Context]) -> HttpResponse:
    """Values for a script, or the words why there are none."""
    try:
        return JsonResponse(make())
    except HeatError as error:
        return JsonResponse({"problem": str(error)}, status=422)
