"""The page round every step: header, tabs, designs, tally, cautions, and the step's view within."""

from django.http import HttpResponse
from django.shortcuts import render
from django.template.loader import get_template
from django.urls import reverse

from heat.errors import HeatError, InputError
from web.accounts.requests import SignedIn
from web.editor.design_page import DesignPage
from web.editor.fields import Field
from web.editor.step import Context, PageResult, Step, View, address_of
from web.editor.view_state import remember
from web.presentation.acknowledged import answered
from web.presentation.tally import explanations, tally
from web.workspace.comments import pinned
from web.workspace.registry import step_of, steps
from web.workspace.tabs import tabs


def ready_pages() -> None:
    """Load every address and every page's template, so that nobody's first edit waits for them."""
    reverse("projects")
    for name in (
        "workspace/page.html",
        "workspace/desk.html",
        "workspace/preview.html",
        "ui/field.html",
        "ui/row.html",
    ):
        get_template(name)
    for step in steps():
        for view in step.views:
            get_template(view.template)


def show(request: SignedIn, displayed: PageResult, requesting: str) -> HttpResponse:
    """The page of a step, whole or as what is updated; ``asking``: the step that asked."""
    step = step_of(displayed.step or requesting) or steps()[0]
    remember(request, displayed.page.state)
    context = template_context(request, displayed.page, step)
    template = "workspace/desk.html" if request.htmx else "workspace/page.html"
    return render(request, template, context, status=displayed.status)


def show_preview(request: SignedIn, page: DesignPage, requesting: str) -> HttpResponse:
    """What a drag shows while it lasts: the view and the tally, without what stands round them."""
    step = step_of(requesting) or steps()[0]
    context: Context = {"page": page, "step": step, "screen": step.key, **page.given}
    try:
        view = step.view_of(page)
        context |= {"view": view, "tally": tally(page), **view_context(request, page, view)}
    except HeatError as error:
        return HttpResponse(str(error), status=422, content_type="text/plain; charset=utf-8")
    return render(request, "workspace/preview.html", context)


def template_context(request: SignedIn, page: DesignPage, step: Step) -> Context:
    """Everything the page's template declares."""
    context: Context = {
        "here": f"{address_of(page.design, step.key)}{page.state.address}",
        "base": address_of(page.design, step.key).removesuffix(step.key),
        "page": page,
        "step": step,
        "screen": step.key,
        "steps": steps(),
        "closed": not page.may(step.needs),
        **page.given,
    }
    try:
        context |= {
            "designs": tabs(page),
            "tally": tally(page),
            "why": explanations(page),
            "cautions": [one.caution for one in answered(page) if one.open],
            "comments": pinned(page, step.key),
        }
        view = step.view_of(page)
        built = view_context(request, page, view)
        context |= {"view": view, "next_line": step.next_line(page), **built}
    except HeatError as error:
        context |= _problem(page, error)
    return context


def view_context(request: SignedIn, page: DesignPage, view: View) -> Context:
    """What a view's template gets, under one name where the view says so. Raises HeatError."""
    built = view.build(page)
    if view.remember:
        built = view.remember(request.session, page, built)
    return {view.under: built} if view.under else built


def _problem(page: DesignPage, error: HeatError) -> dict[str, object]:
    """Why there is no year, of which design, and the value to mend if the page can show it."""
    against = page.against
    refused = page.design.letter if not page.simulates else against.letter if against else ""
    words = f"Design {refused} is not calculated. {error}" if refused else str(error)
    return {"problem": words, "mend": _mended_at(page, error)}


def _mended_at(page: DesignPage, error: HeatError) -> Field | None:
    try:
        return page.field(error.name) if isinstance(error, InputError) and not page.simulates else None
    except (KeyError, ValueError):
        return None
