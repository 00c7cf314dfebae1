"""The page round every step: cloth, tabs, designs, tally, cautions, and the step's view within."""

from functools import lru_cache
from typing import Any

from django.http import HttpResponse
from django.shortcuts import render
from django.template.loader import get_template
from django.urls import reverse
from django.utils.html import format_html, format_html_join
from django.utils.safestring import SafeString

from heat.errors import HeatError, InputError
from web.accounts.requests import SignedIn
from web.present.tally import explanations, tally
from web.present.ticked import answered
from web.sheet.fields import Pen
from web.sheet.look import remember
from web.sheet.page import Sheet
from web.sheet.step import Command, Context, Shown, Step, View, address_of
from web.workspace.pinned import pinned
from web.workspace.registry import commands, step_of, steps
from web.workspace.tabs import tabs

LISTS_KEPT = 200
"""Lists of commands kept as drawn: they change with the kind of system, not with its values."""


def ready_pages() -> None:
    """Load every address and every page's template, so that nobody's first edit waits for them."""
    reverse("projects")
    for name in ("workspace/page.html", "workspace/desk.html", "workspace/preview.html", "ui/pen.html", "ui/row.html"):
        get_template(name)
    for step in steps():
        for view in step.views:
            get_template(view.template)


def show(request: SignedIn, shown: Shown, asking: str) -> HttpResponse:
    """The page of a sheet in a step, whole or as what is inked anew; ``asking``: the step that asked."""
    step = step_of(shown.step or asking) or steps()[0]
    remember(request, shown.sheet.look)
    context = page_context(request, shown.sheet, step)
    template = "workspace/desk.html" if request.htmx else "workspace/page.html"
    return render(request, template, context, status=shown.status)


def show_preview(request: SignedIn, sheet: Sheet, asking: str) -> HttpResponse:
    """What a drag shows while it lasts: the view and the tally, without what stands round them."""
    step = step_of(asking) or steps()[0]
    context: Context = {"sheet": sheet, "step": step, "screen": step.key, **sheet.given}
    try:
        view = step.view_of(sheet)
        context |= {"view": view, "tally": tally(sheet), **view_context(request, sheet, view)}
    except HeatError as error:
        return HttpResponse(str(error), status=422, content_type="text/plain; charset=utf-8")
    return render(request, "workspace/preview.html", context)


def page_context(request: SignedIn, sheet: Sheet, step: Step) -> Context:
    """Everything the page's template declares."""
    context: Context = {
        "here": f"{address_of(sheet.design, step.key)}{sheet.look.address}",
        "sheet": sheet, "step": step, "screen": step.key, "steps": steps(), "closed": not sheet.may(step.needs),
        **sheet.given,
    }  # fmt: skip
    try:
        context |= {
            "designs": tabs(sheet), "commands": _listed(tuple(commands(sheet))), "tally": tally(sheet),
            "why": explanations(sheet),
            "cautions": [one.caution for one in answered(sheet) if one.open], "remarks": pinned(sheet, step.key),
        }  # fmt: skip
        view = step.view_of(sheet)
        built = view_context(request, sheet, view)
        context |= {"view": view, "next_line": step.next_line(sheet), **built}
    except HeatError as error:
        context |= _problem(sheet, error)
    return context


@lru_cache(LISTS_KEPT)
def _listed(found: tuple[Command, ...]) -> SafeString:
    """What the command line finds, drawn."""
    return format_html_join("", "{}", ((_command(one),) for one in found))


def _command(one: Command) -> SafeString:
    if one.href:
        return format_html('<a href="{}">{}</a>', one.href, one.text)
    return format_html('<button type="button" data-choose="{}">{}</button>', one.choose, one.text)


def view_context(request: SignedIn, sheet: Sheet, view: View) -> Context:
    """What a view's template gets, under one name where the view says so. Raises HeatError."""
    built = view.build(sheet)
    if view.remember:
        built = view.remember(request.session, sheet, built)
    return {view.under: built} if view.under else built


def _problem(sheet: Sheet, error: HeatError) -> dict[str, Any]:
    """Why there is no year, of which design, and the value to mend if the page can show it."""
    against = sheet.against
    refused = sheet.design.letter if not sheet.reckons else against.letter if against else ""
    words = f"Design {refused} is not reckoned. {error}" if refused else str(error)
    return {"problem": words, "mend": _mended_at(sheet, error)}


def _mended_at(sheet: Sheet, error: HeatError) -> Pen | None:
    try:
        return sheet.pen(error.name) if isinstance(error, InputError) and not sheet.reckons else None
    except (KeyError, ValueError):
        return None
