"""The catalogue's pages: entries by group, one's own by hand or by table, and the bench for built collectors."""

from datetime import UTC, datetime
from typing import Any

from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST, require_safe

from heat.catalogue import GROUPS, Entry, read_table, table_text
from heat.common.documents import value_at
from heat.errors import HeatError, InputError
from web.accounts.requests import SignedIn
from web.catalogue.bench import bench_page, built_entry, standing_page
from web.catalogue.models import OwnEntry
from web.catalogue.services import entry_of, in_sight, put_away, store_entry
from web.projects.models import Project
from web.ui.blanks import blank, field_of, read_blank
from web.ui.units import field_text, unit_of

TABLE_LIMIT = 200_000
ABOUT = ("name", "family", "source", "dated")


def _group(key: str) -> str:
    if key not in GROUPS:
        raise Http404
    return key


def _displayed(value: Any, part: Any, name: str, system: str) -> str:
    """A value of an entry in a narrow column."""
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, str):
        return value
    if isinstance(value, list):
        return "a row"
    return field_text(value, (field_of(part, name).json_schema_extra or {}).get("unit", "1"), system)


def _columns(group: str, rows: list[Entry], system: str) -> list[dict[str, str]]:
    """The fields worth a column: those some entry gives with a value of its own."""
    part = GROUPS[group].part
    found = []
    for name in GROUPS[group].fields:
        current = {_displayed(row.values.get(name), part, name, system) for row in rows} - {""}
        if len(current) > 1 or (current and len(rows) == 1):
            item = field_of(part, name)
            quantity = (item.json_schema_extra or {}).get("unit", "1")
            found.append({"name": name, "title": item.title or name, "sign": unit_of(quantity, system).sign})
    return found[:9]


def catalogue_page(request: SignedIn, group: str, status: int = 200, **more: Any) -> HttpResponse:
    """A group's entries, the form for one of one's own, and what was refused."""
    system, chosen = request.user.units, GROUPS[group]
    own = list(OwnEntry.objects.visible_to(request.user).filter(group=group))
    rows = in_sight(request.user, group)
    columns = _columns(group, rows, system)
    usual = chosen.part().model_dump(mode="json")
    editing = more.pop("editing", None)
    typed, refused = more.pop("typed", {}), more.pop("refused", {})
    values = editing.values if editing else {}
    blanks = []
    for name in chosen.fields:
        value = values.get(name, value_at(usual, name)) if name in values or not editing else value_at(usual, name)
        blanks.append(blank(chosen.part, name, value, system, typed.get(name), refused.get(name, "")))
    context = {
        "group": group,
        "chosen": chosen,
        "groups": {key: item.title for key, item in GROUPS.items()},
        "columns": columns,
        "rows": [
            {
                "entry": row,
                "own": row.key.removeprefix("own_") if row.key.startswith("own_") else "",
                "cells": [_displayed(row.values.get(c["name"]), chosen.part, c["name"], system) for c in columns],
            }
            for row in rows
        ],
        "away": [stored for stored in own if stored.away],
        "blanks": blanks,
        "editing": editing,
        "own_pk": editing.key.removeprefix("own_") if editing and editing.key.startswith("own_") else "",
        "about": {name: typed.get(name, getattr(editing, name, "") if editing else "") for name in ABOUT},
        "name_refusal": refused.get("name", ""),
        "fields": chosen.fields,
        "back": back_to(request),
        **more,
    }
    return render(request, "catalogue/catalogue.html", context, status=status)


def back_to(request: SignedIn) -> dict[str, str] | None:
    """The project changed last: where a person most likely came from."""
    project = Project.objects.visible_to(request.user).first()
    design = project.designs.filter(archived=False).first() if project else None
    if project is None or design is None:
        return None
    return {"name": project.name, "href": reverse("screen", args=(project.pk, design.letter, "scheme"))}


@require_safe
def catalogue(request: SignedIn) -> HttpResponse:
    group = _group(request.GET.get("group", "collector"))
    key = request.GET.get("entry", "")
    editing = None
    if key:
        try:
            editing = entry_of(request.user, group, key)
        except KeyError:
            raise Http404 from None
    return catalogue_page(request, group, editing=editing)


@require_POST
def save(request: SignedIn, group: str) -> HttpResponse:
    """Keep an entry of one's own; a refused value leaves everything as typed."""
    chosen, post, system = GROUPS[_group(group)], request.POST, request.user.units
    stored = _own(request, post.get("pk", "")) if post.get("pk") else None
    before = stored.values if stored else {}
    typed = {name: post.get(name, "")[:400] for name in (*ABOUT, *chosen.fields)}
    values: dict[str, object] = {}
    refused: dict[str, str] = {}
    for name in chosen.fields:
        current = before.get(name)
        if name not in post and blank(chosen.part, name, current, system).kind == "choice":
            continue  # a form older than the field: its default stands
        if name in before and typed[name] == blank(chosen.part, name, current, system).text:
            values[name] = current  # not touched: kept to its last digit
            continue
        try:
            value = read_blank(chosen.part, name, typed[name], system)
        except ValueError as error:
            refused[name] = str(error)
            continue
        if value is not None:
            values[name] = value
    dated = typed["dated"].strip() or datetime.now(UTC).date().isoformat()
    entry = Entry(group, "", typed["name"], typed["family"], typed["source"], dated, values)
    if not refused:
        try:
            store_entry(owner=request.user, entry=entry, stored=stored)
        except InputError as error:
            refused[error.name if error.name in chosen.fields else "name"] = _allowed(chosen.part, error, system)
        except HeatError as error:
            refused["name"] = str(error)
    if refused:
        editing = stored.entry() if stored else None
        return catalogue_page(request, group, 422, editing=editing, typed=typed, refused=refused)
    return redirect(f"{reverse('catalogue')}?group={group}")


def _allowed(part: Any, error: InputError, system: str) -> str:
    if error.name == "name":
        return "A name is needed."
    try:
        item = blank(part, error.name, None, system)
    except (KeyError, AttributeError):
        return error.allowed
    return (
        f"Allowed: {item.range_text} {item.sign}".strip() + "."
        if item.range_text and error.value is not None
        else error.allowed
    )


def _own(request: SignedIn, number: str) -> OwnEntry:
    if not (number.isascii() and number.isdecimal() and len(number) < 15):
        raise Http404
    return get_object_or_404(OwnEntry.objects.visible_to(request.user), pk=int(number))


@require_POST
def away(request: SignedIn, group: str) -> HttpResponse:
    """Put an entry away, or bring it back."""
    stored = _own(request, request.POST.get("pk", ""))
    put_away(stored=stored, away=request.POST.get("do") != "back")
    return redirect(f"{reverse('catalogue')}?group={stored.group}")


@require_POST
def table(request: SignedIn, group: str) -> HttpResponse:
    """Entries from a table, sent as a file or pasted; rows refused come back to be mended."""
    _group(group)
    sent = request.FILES.get("file")
    name, size = ((sent.name or "")[:60], sent.size or 0) if sent else ("", 0)
    if size > TABLE_LIMIT:
        problem = [f"{name}: {size / 1000:.0f} kB; at most {TABLE_LIMIT // 1000} kB can be read. Split the table."]
        return catalogue_page(request, group, 422, complaints=problem)
    raw = sent.read() if sent else b""
    text = request.POST.get("text", "")[:TABLE_LIMIT]
    if raw:
        if b"\0" in raw[:4000]:
            return catalogue_page(request, group, 422, complaints=[f"{name} is not a text table: save it as CSV."])
        try:
            text = raw.decode("utf-8-sig")
        except UnicodeDecodeError:
            text = raw.decode("cp1252", errors="replace")
    found, complaints = read_table(group, text)
    payload = [str(c) for c in complaints]
    taken = 0
    for entry in found:
        try:
            store_entry(owner=request.user, entry=entry)
            taken += 1
        except HeatError as error:
            payload.append(f"{entry.name}: {error}")
    if payload:
        lines = text.splitlines()
        wrong = {
            int(t.split()[1].rstrip(":"))
            for t in payload
            if t.startswith("Line ") and t.split()[1].rstrip(":").isdecimal()
        }
        head = next((line for line in lines if line.strip() and not line.startswith("#")), "")
        left = (
            "\n".join([head, *(line for n, line in enumerate(lines, 1) if n in wrong and line != head)])
            if found
            else text
        )
        return catalogue_page(request, group, 422, complaints=payload, left=left, taken=taken)
    return redirect(f"{reverse('catalogue')}?group={group}")


@require_safe
def download(request: SignedIn, group: str) -> HttpResponse:
    """The group's entries as a table, one's own first; the same columns are read back."""
    answer = HttpResponse(
        table_text(_group(group), in_sight(request.user, group)), content_type="text/csv; charset=utf-8"
    )
    answer["Content-Disposition"] = f'attachment; filename="{group}.csv"'
    return answer


@require_safe
def builder(request: SignedIn) -> HttpResponse:
    """The bench: a collector from its materials, its curve against others."""
    return render(
        request, "catalogue/builder.html", {**bench_page(request.GET, request.user), "back": back_to(request)}
    )


@require_POST
def save_built(request: SignedIn) -> HttpResponse:
    """Keep what the bench shows as an entry of one's own."""
    page = bench_page(request.POST, request.user)
    if page["refused"]:
        return render(request, "catalogue/builder.html", {**page, "back": back_to(request)}, status=422)
    try:
        store_entry(owner=request.user, entry=built_entry(page["build"], page["built"], request.POST.get("name", "")))
    except HeatError as error:
        page["name_refusal"] = "A name is needed." if isinstance(error, InputError) else str(error)
        return render(request, "catalogue/builder.html", {**page, "back": back_to(request)}, status=422)
    return redirect(f"{reverse('catalogue')}?group=collector")


@require_safe
def standing(request: SignedIn) -> HttpResponse:
    """Bags and batch tanks: evening and morning by depth and cover, in the climate of a project."""
    return render(
        request, "catalogue/standing.html", {**standing_page(request.GET, request.user), "back": back_to(request)}
    )
