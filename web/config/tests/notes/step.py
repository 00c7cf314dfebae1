"""A made-up step for the tests: notes kept while a person is signed in. One folder, one name, no line of JavaScript."""

from django.http import HttpRequest, HttpResponse

from web.editor.design_page import DesignPage
from web.editor.step import (
    Action,
    Context,
    Download,
    Fragment,
    Memory,
    PageResult,
    PaletteCommand,
    Step,
    View,
    address_of,
)

STORED: dict[int, str] = {}


def _view(page: DesignPage) -> Context:
    return {"text": STORED.get(page.design.pk, ""), "trees": range(len(page.document["site"]["trees"]))}


def _count(memory: Memory, page: DesignPage, built: Context) -> Context:
    memory["notes-seen"] = memory.get("notes-seen", 0) + 1
    return built | {"expected": memory["notes-seen"]}


def _note(request: HttpRequest, page: DesignPage) -> PageResult:
    STORED[page.design.pk] = request.POST["text"]
    return PageResult(page=page, step="notes")


def _later(request: HttpRequest, page: DesignPage) -> HttpResponse:
    return HttpResponse(f"{page.document['demand']['people']:g} people are known by now")


STEP = Step(
    key="notes",
    title="Notes",
    views=(View(key="all", title="All notes", template="notes/notes.html", build=_view, remember=_count),),
    actions=(Action(name="note", path="note", run=_note),),
    fragments=(Fragment(name="notes-later", path="notes/later", answer=_later),),
    downloads=(
        Download(
            name="notes", path="notes.csv", file="notes-{letter}.csv", make=lambda page: STORED.get(page.design.pk, "")
        ),
    ),
    commands=lambda page: [PaletteCommand(text="Notes of this design", href=address_of(page.design, "notes"))],
)
