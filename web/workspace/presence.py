"""Several people in one project: who is here, what others changed, and comments pinned to what they are about."""

import json
from datetime import timedelta

from cachetools import TTLCache
from django.http import Http404, HttpResponse
from django.shortcuts import render
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe

from heat.errors import HeatError
from web.accounts.requests import SignedIn
from web.editor.step import PageResult
from web.editor.view_state import whole
from web.projects.models import Edit, Presence, Project
from web.projects.services import comments as services
from web.ui.rows import Row
from web.workspace.history import name_of
from web.workspace.registry import step_of
from web.workspace.shell import show
from web.workspace.views import once, page_for, requesting_step

HERE_S, WRITTEN_S = 12, 5
"""Seconds after a page was last heard of that its reader still counts as here; seconds between notes of that."""
MOST_LISTED = 12
"""Edits of others named at once."""
_written: TTLCache[tuple[int, int, str, str], bool] = TTLCache(4096, WRITTEN_S)


@require_safe
def now(request: SignedIn, pk: int, letter: str) -> HttpResponse:
    """How a project stands, for a page that shows revision ``r``: who else is here, and what others changed since."""
    found = Project.objects.visible_to(request.user).filter(pk=pk).values("revision", "name").first()
    if found is None:
        raise Http404
    step = request.GET.get("step", "")[:20]
    _here(pk, request.user.pk, letter[:1], step if step_of(step) else "")
    since = timezone.now() - timedelta(seconds=HERE_S)
    others = Presence.objects.filter(project=pk, at__gt=since).exclude(user=request.user).select_related("user")
    payload: dict[str, object] = {
        "revision": found["revision"],
        "people": [_person(one) for one in others.order_by("user")[:30]],
    }
    known = whole(request.GET.get("r"), 0, 2**31)
    if known is not None and known != found["revision"]:
        edits = Edit.objects.filter(project=pk, revision__gt=known).exclude(author=request.user)
        payload["edits"] = [
            _edited(edit) for edit in edits.select_related("author", "design").order_by("-revision")[:MOST_LISTED]
        ]
    answer = render(request, "workspace/here.html", {"people": payload["people"]})
    answer["HX-Trigger"] = json.dumps({"stands": payload})
    return answer


def _here(project: int, user: int, letter: str, step: str) -> None:
    """Note that somebody's page is open, not oftener than is needed."""
    key = (project, user, letter, step)
    if key in _written:
        return
    _written[key] = True
    Presence.objects.bulk_create(
        [Presence(project_id=project, user_id=user, letter=letter, step=step, at=timezone.now())],
        update_conflicts=True,
        unique_fields=["project", "user"],
        update_fields=["letter", "step", "at"],
    )


def _person(one: Presence) -> dict[str, str]:
    step = step_of(one.step)
    return {"name": one.user.get_username(), "at": f"{one.letter} {step.title}" if step else one.letter}


def _edited(edit: Edit) -> Row:
    paths = [edit.path] if edit.path else list(edit.after or {})
    return {
        "who": edit.author.get_username() if edit.author else "somebody",
        "paths": paths,
        "what": name_of(edit.path) if edit.path else "several values",
        "letter": edit.design.letter if edit.design else "",
    }


@require_POST
@once
def comments(request: SignedIn, pk: int, letter: str) -> HttpResponse:
    """Say something about what the page shows, answer, close or open again."""
    page = page_for(request, pk, letter)
    post = request.POST
    number = whole(post.get("comment"), 0, 2**31)
    try:
        if post.get("do") == "say":
            where = f"{requesting_step(request)}{page.state.address}" if step_of(requesting_step(request)) else ""
            pin, text = post.get("pin", ""), post.get("text", "")
            services.add_comment(design=page.design, author=page.user, pin=pin, text=text, where=where)
        elif post.get("do") == "answer" and number is not None:
            services.answer(project=page.project, author=page.user, number=number, text=post.get("text", ""))
        elif post.get("do") in ("close", "open") and number is not None:
            services.close(project=page.project, author=page.user, number=number, closed=post["do"] == "close")
        else:
            raise Http404
    except HeatError as error:
        typed = {"comment_typed": post.get("text", ""), "comment_problem": str(error)}
        return show(request, PageResult(page=page.with_given(**typed), status=422), requesting_step(request))
    page.project.commented = True
    return show(request, PageResult(page=page), requesting_step(request))
