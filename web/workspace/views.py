"""What every step shares: projects, pages, edits, undo, designs. Each finds the design the person may see, and changes
it through a service; what changes anything is done once under the key its page gave it."""

import json
from collections.abc import Callable
from functools import wraps
from itertools import accumulate
from threading import BoundedSemaphore
from typing import Any

from django.db import transaction
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.utils.text import slugify
from django.views.decorators.http import require_POST, require_safe

from heat.common.documents import Document, Values
from heat.design import current_path, current_values
from heat.errors import HeatError
from web.accounts.requests import SignedIn
from web.editor.design_page import DesignPage
from web.editor.edits import ValueEdit, apply_changes, apply_edit, of_another
from web.editor.step import Action, Download, Fragment, PageResult
from web.editor.view_state import state_of, whole
from web.projects.models import Design
from web.projects.permissions import Need, design_for
from web.projects.services import designs as services
from web.projects.services.edits import OF_PROJECT, OfAnother, as_typed_before, step_back, step_forward
from web.projects.services.idempotency import done_once
from web.workspace.concurrency import ConcurrencyLimit
from web.workspace.registry import add_row, chosen, step_of, steps, take_row
from web.workspace.shell import show, show_preview

View = Callable[..., HttpResponse]
MOST_POSTED = 20_000
"""Letters of changes a page may hand back."""
DEEPEST, KEY = 40, 40
"""Brackets within brackets of such changes, and letters of a request's key."""


AT_REST = BoundedSemaphore(1)
"""What may wait is calculated one at a time in each process, and not while an edit is at work there."""
RETRY_AFTER_S = "1"
edits = ConcurrencyLimit(places=2, patience_s=2.0)
"""Edits at work at once in this process: more would only share its core and all be late."""


def page_for(request: SignedIn, pk: int, letter: str, need: Need = "view") -> DesignPage:
    """The page of the design at an address. Raises Http404 where this person may not."""
    return DesignPage(design_for(request.user, pk, letter, need), request.user, state_of(request))


def requesting_step(request: SignedIn) -> str:
    """The step whose page asks."""
    return str(request.POST.get("screen", ""))


def once(view: View) -> View:
    """A changing view, done once: asked again under its key, the page as it now stands, or where it led, is the answer.

    A refusal does not use a key up: it may be mended and sent again.
    """

    @wraps(view)
    def requested(request: SignedIn, *args: Any, **kwargs: Any) -> HttpResponse:
        key = str(request.POST.get("key", "")).replace("\0", "")[:KEY]
        if request.POST.get("preview") == "1":
            return view(request, *args, **kwargs)
        if not key:
            with transaction.atomic():
                return view(request, *args, **kwargs)

        def run() -> tuple[HttpResponse, bool, str]:
            answer = view(request, *args, **kwargs)
            return answer, answer.status_code < 400, str(getattr(answer, "url", ""))[:200]

        def again(location: str) -> HttpResponse:
            if location:
                return redirect(location)
            if "pk" not in kwargs:
                return redirect("projects")
            return show(
                request, PageResult(page=page_for(request, kwargs["pk"], kwargs["letter"])), requesting_step(request)
            )

        with edits.mine():
            return done_once(author=request.user, key=key, run=run, again=again)

    return requested


# ---- what the steps declare


def acted(action: Action, needs: Need) -> View:
    """The address of a step's action."""

    @require_POST
    @once
    def view(request: SignedIn, pk: int, letter: str, **more: Any) -> HttpResponse:
        done = action.run(request, page_for(request, pk, letter, needs), **more)
        return show(request, done, requesting_step(request)) if isinstance(done, PageResult) else done

    return view


def answered(fragment: Fragment) -> View:
    """The address of something a page fetches."""

    @require_safe
    def view(request: SignedIn, pk: int, letter: str, **more: Any) -> HttpResponse:
        if fragment.patient and (edits.now or not AT_REST.acquire(blocking=False)):
            return HttpResponse(status=204, headers={"Retry-After": RETRY_AFTER_S})
        try:
            page = page_for(request, pk, letter, fragment.needs)
            requested = whole(request.GET.get("r"), 0, 2**31)
            if fragment.patient and requested not in (None, page.project.revision):
                return HttpResponse(status=204)
            return fragment.answer(request, page, **more)
        except HeatError as error:
            return words_for(error)
        finally:
            if fragment.patient:
                AT_REST.release()

    return view


FILE_KINDS = {
    "csv": "text/csv; charset=utf-8",
    "json": "application/json",
    "pdf": "application/pdf",
    "svg": "image/svg+xml",
    "zip": "application/zip",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
}
"""Content types of files, by their ending."""


def words_for(error: HeatError) -> HttpResponse:
    """Why there is no answer, in words alone."""
    return HttpResponse(str(error), status=422, content_type="text/plain; charset=utf-8")


def taken_away(download: Download) -> View:
    """The address of a file made of the design's year, or the words why there is none."""
    kind = FILE_KINDS[download.file.rpartition(".")[2]]

    @require_safe
    def view(request: SignedIn, pk: int, letter: str) -> HttpResponse:
        try:
            page = page_for(request, pk, letter, download.needs)
            made = download.make(page)
        except HeatError as error:
            return words_for(error)
        answer = HttpResponse(made, content_type=kind)
        name = download.file.format(letter=letter, project=slugify(page.project.name)[:60] or "project")
        answer["Content-Disposition"] = f'attachment; filename="{name}"'
        return answer

    return view


@require_safe
def screen(request: SignedIn, pk: int, letter: str, screen: str) -> HttpResponse:
    """A step of a design."""
    if step_of(screen) is None:
        raise Http404
    return show(request, PageResult(page=page_for(request, pk, letter)), screen)


# ---- edits


@require_POST
@once
def edit(request: SignedIn, pk: int, letter: str) -> HttpResponse:
    """Set one value, or show what it would do."""
    posted = ValueEdit.posted(request.POST)
    known = whole(request.POST.get("revision"), 0, 2**31) or 0
    page = apply_edit(page_for(request, pk, letter, "survey"), posted)
    refused = page.refusals or page.note
    if posted.preview and not refused:
        return show_preview(request, page, requesting_step(request))
    if known and not posted.preview:
        page = _with_others(page, known, posted.path)
    return show(request, PageResult(page=page, status=422 if refused else 200), requesting_step(request))


def _with_others(page: DesignPage, known: int, path: str) -> DesignPage:
    """The page with a word on what was changed elsewhere since the page knew revision ``known``, and by whom."""
    if page.project.revision <= known + 1:
        return page
    others = page.project.edits.filter(revision__gt=known, dropped=False).exclude(path=path).select_related("author")
    if page.note or not others:
        return page
    names = ", ".join(sorted({name for edit in others if (name := page.label_of(edit.path))}))
    who = sorted({str(edit.author) for edit in others if edit.author_id not in (None, page.user.pk)})
    where = f"by {', '.join(who)}" if who else "in another tab"
    return page.with_note(f"Also changed {where}: {names or 'something'}. Both edits stand.")


@require_POST
@once
def rows(request: SignedIn, pk: int, letter: str) -> HttpResponse:
    """Add a row to a list of the document, or take one away."""
    post = request.POST
    path, index = current_path(post.get("path", "")), whole(post.get("index"), 0, 10_000)

    def make(document: Document) -> Values:
        return add_row(document, path, post.get("preset", "")) if index is None else take_row(document, path, index)

    return _changed(request, page_for(request, pk, letter, "survey"), make)


@require_POST
@once
def choose(request: SignedIn, pk: int, letter: str) -> HttpResponse:
    """Take a named set of values, or one the page hands back."""
    post, page = request.POST, page_for(request, pk, letter, "survey")

    def make(document: Document) -> Values:
        if "changes" in post:
            return _posted_changes(post["changes"])
        return as_typed_before(page.design, chosen(document, post.get("preset", ""), request.user))

    return _changed(request, page, make)


def _changed(request: SignedIn, before: DesignPage, make: Callable[[Document], Values]) -> HttpResponse:
    force = request.POST.get("force") == "1"
    page = apply_changes(before, make, force)
    return show(
        request, PageResult(page=page, status=422 if page.note or page.refusals else 200), requesting_step(request)
    )


def _posted_changes(text: str) -> Values:
    """Values by path as the page hands them back. Raises KeyError for anything else."""
    try:
        found = json.loads(text[:MOST_POSTED])
        written = json.dumps(found, ensure_ascii=False, allow_nan=False)
        written.encode()
    except (ValueError, RecursionError) as error:
        raise KeyError("changes") from error
    if "\\u0000" in written or max(accumulate((c in "[{") - (c in "]}") for c in written), default=0) > DEEPEST:
        raise KeyError("changes")  # what no database holds
    if not isinstance(found, dict) or not found or set(found) & set(OF_PROJECT):
        raise KeyError("changes")  # weather and place have their own door
    return current_values(found)


@require_POST
@once
def undo(request: SignedIn, pk: int, letter: str) -> HttpResponse:
    """Take the last edit of the project back."""
    return _stepped(request, page_for(request, pk, letter, "survey"), step_back, "Nothing to undo.")


@require_POST
@once
def redo(request: SignedIn, pk: int, letter: str) -> HttpResponse:
    """Make the edit undone last again."""
    return _stepped(request, page_for(request, pk, letter, "survey"), step_forward, "Nothing to redo.")


def _stepped(request: SignedIn, before: DesignPage, step: Callable[..., Any], none: str) -> HttpResponse:
    try:
        design, edit = step(design=before.design, author=before.user)
    except OfAnother as other:
        return show(request, PageResult(page=of_another(before, other.edit), status=422), requesting_step(request))
    except HeatError as error:
        return show(request, PageResult(page=before.with_note(str(error)), status=422), requesting_step(request))
    page = DesignPage(design, before.user, before.state)
    return show(request, PageResult(page=page if edit else page.with_note(none)), requesting_step(request))


# ---- designs


@require_POST
@once
def save(request: SignedIn, pk: int, letter: str) -> HttpResponse:
    """Keep the design as it stands as the base of the tally."""
    page = page_for(request, pk, letter, "edit")
    services.save_version(design=page.design, author=page.user)
    return show(request, PageResult(page=page), requesting_step(request))


@require_POST
@once
def designs(request: SignedIn, pk: int, letter: str) -> HttpResponse:
    """Copy, name, move, put away or bring back a design; save a version with a note, return to one."""
    page, act = page_for(request, pk, letter, "edit"), DESIGN_ACTS.get(request.POST.get("do", ""))
    if act is None:
        raise Http404
    try:
        design = act(request, page) or page.design
    except HeatError as error:
        refused = page.with_note(f"Not done: {getattr(error, 'allowed', error)}.")
        return show(request, PageResult(page=refused, status=422), requesting_step(request))
    return redirect(
        "screen", pk, design.letter, requesting_step(request) if step_of(requesting_step(request)) else steps()[0].key
    )


def _save(request: SignedIn, page: DesignPage) -> None:
    name, note = request.POST.get("name", ""), request.POST.get("note", "")
    services.describe_design(design=page.design, author=page.user, name=name, note=note)


def _archive(request: SignedIn, page: DesignPage) -> Design:
    services.archive_design(design=page.design, author=page.user, archived=True)
    left: Design = page.project.designs.filter(archived=False)[0]
    return left


def _return(request: SignedIn, page: DesignPage) -> None:
    version = get_object_or_404(page.design.versions, pk=whole(request.POST.get("version"), 0, 2**31) or 0)
    services.return_to(design=page.design, author=page.user, version=version)


def _version(request: SignedIn, page: DesignPage) -> None:
    services.save_version(design=page.design, author=page.user, note=request.POST.get("note", ""))


DESIGN_ACTS: dict[str, Callable[[SignedIn, DesignPage], Design | None]] = {
    "copy": lambda request, page: services.copy_design(design=page.design, author=page.user),
    "version": _version,
    "left": lambda request, page: services.move_design(design=page.design, author=page.user, by=-1),
    "right": lambda request, page: services.move_design(design=page.design, author=page.user, by=1),
    "keep": _save,
    "archive": _archive,
    "return": _return,
    "restore": lambda request, page: services.archive_design(design=page.design, author=page.user, archived=False),
}
"""What can be done with a design, by the name of the button; the design to show then, if it is another."""
