"""A made-up step for the tests: notes kept while a person is signed in. One folder, one name."""

from django.http import HttpRequest

from web.sheet.page import Sheet
from web.sheet.step import Action, Command, Context, Download, Memory, Shown, Step, View, address_of

KEPT: dict[int, str] = {}


def _view(sheet: Sheet) -> Context:
    return {"text": KEPT.get(sheet.design.pk, "")}


def _count(memory: Memory, sheet: Sheet, built: Context) -> Context:
    memory["notes-seen"] = memory.get("notes-seen", 0) + 1
    return built | {"seen": memory["notes-seen"]}


def _note(request: HttpRequest, sheet: Sheet) -> Shown:
    KEPT[sheet.design.pk] = request.POST["text"]
    return Shown(sheet=sheet, step="notes")


STEP = Step(
    key="notes", title="Notes",
    views=(View(key="all", title="All notes", template="notes/notes.html", build=_view, remember=_count),),
    actions=(Action(name="note", path="note", run=_note),),
    downloads=(Download(name="notes", path="notes.csv", file="notes-{letter}.csv",
                        make=lambda sheet: KEPT.get(sheet.design.pk, "")),),
    commands=lambda sheet: [Command(text="Notes of this design", href=address_of(sheet.design, "notes"))],
)  # fmt: skip
