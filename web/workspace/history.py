"""Who did what when: every edit that is kept, versions, words on cautions, reports, and what was done about people."""

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.http import HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe

from heat.design import field_at
from web.accounts.models import User
from web.accounts.requests import SignedIn
from web.editor.fields import CHOICE_WORDS
from web.editor.typed import quantity_of
from web.projects.models import Edit, Project, Version
from web.projects.permissions import project_for
from web.projects.services.acknowledgements import ticks_of
from web.reports.models import Report
from web.ui import units

LISTED = 100
NAMES = {"weather": "Weather", "place": "Place"}
NAMED = 4
"""Values named of an edit of many."""


@dataclass(frozen=True)
class HistoryLine:
    """Something done: when, by whom, in which design, what, and whether it stands."""

    at: datetime
    who: str
    letter: str
    what: str
    change: str = ""
    gone: str = ""


@require_safe
def history(request: SignedIn, pk: int) -> HttpResponse:
    """A project's history, the last first."""
    project = project_for(request.user, pk)
    before = _moment(request.GET.get("before", ""))
    lines = sorted(_lines(project, request.user.units, before), key=lambda line: line.at, reverse=True)
    displayed = lines[:LISTED]
    context = {
        "project": project,
        "lines": displayed,
        "older": displayed[-1].at.isoformat() if len(lines) > LISTED else "",
        "begun": project.created,
        "letter": project.designs.order_by("archived", "place").values_list("letter", flat=True)[0],
        "early": before is None,
    }
    return render(request, "workspace/history.html", context)


def _moment(text: str) -> datetime | None:
    try:
        payload = datetime.fromisoformat(text)
    except ValueError:
        return None
    return payload if payload.tzinfo else None


def _lines(project: Project, system: str, before: datetime | None) -> list[HistoryLine]:
    letters = {design.pk: design.letter for design in project.designs.all()}

    def of(rows: Any, moment: str = "at") -> Any:
        found = rows.filter(**{f"{moment}__lt": before}) if before else rows
        return found.order_by(f"-{moment}")[: LISTED + 1]

    lines = [_edit(edit, project, letters, system) for edit in of(project.edits.select_related("author"))]
    versions = of(Version.objects.filter(design__project=project).select_related("author").defer("document"))
    lines += [
        HistoryLine(v.at, _name(v.author), letters.get(v.design_id, ""), "saved it as the base", v.note)
        for v in versions
    ]
    reports = of(Report.light.filter(project=project).select_related("author"), "issued")
    lines += [HistoryLine(r.issued, _name(r.author), r.letters, f"issued report {r.number}", r.title) for r in reports]
    lines += [HistoryLine(h.at, _name(h.who), "", h.what) for h in of(project.events.select_related("who"))]
    for design in project.designs.all():
        for key, ticks in ticks_of(design).items():
            words = {True: f"answered for the caution {key}", False: f"took back the answer for the caution {key}"}
            early = [t for t in ticks if before is None or t.when < before]
            lines += [HistoryLine(t.when, t.name, design.letter, words[t.stands], t.remark) for t in early]
    return lines


def _name(user: User | None) -> str:
    return user.get_username() if user else "somebody who left"


def _edit(edit: Edit, project: Project, letters: dict[int, str], system: str) -> HistoryLine:
    """An edit in words: the value's name, before and after in the reader's units."""
    gone = "left behind" if edit.dropped else "undone" if edit.place > project.cursor else ""
    letter = letters.get(edit.design_id or 0, "")
    if edit.path:
        change = f"{value_text(edit.path, edit.before, system)} → {value_text(edit.path, edit.after, system)}"
        return HistoryLine(edit.at, _name(edit.author), letter, name_of(edit.path), change, gone)
    names = [name_of(path) for path in edit.after or {}]
    more = f" and {len(names) - NAMED} more" if len(names) > NAMED else ""
    return HistoryLine(edit.at, _name(edit.author), letter, ", ".join(names[:NAMED]) + more, "", gone)


def name_of(path: str) -> str:
    """What the value at a path is called."""
    if path in NAMES:
        return NAMES[path]
    try:
        return field_at(path).title or path
    except (KeyError, ValueError):
        return path.rpartition(".")[2].replace("_", " ").capitalize()


def value_text(path: str, value: Any, system: str) -> str:
    """A kept value in the reader's units; what is no single value by its size."""
    if value is None:
        return "none"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, list):
        return f"{len(value)} rows" if len(value) != 1 else "1 row"
    if isinstance(value, dict):
        return "a part"
    if isinstance(value, str):
        return CHOICE_WORDS.get(value, value)[:60] or "empty"
    quantity = quantity_of(path)
    return f"{units.field_text(value, quantity, system)} {units.unit_of(quantity, system).sign}".strip()
