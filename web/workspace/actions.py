"""What a page's buttons do, each by its name: once under a form's key, with refusals in words."""

from collections.abc import Callable, Mapping
from typing import Any

from django.db import transaction
from django.http import Http404

from heat.errors import HeatError
from web.accounts.requests import SignedIn
from web.projects.services.idempotency import done_once

KEY = 40
Acts = Mapping[str, Callable[[SignedIn, Any], dict[str, object] | None]]


def acted(request: SignedIn, acts: Acts, subject: Any) -> dict[str, object]:
    """What the button pressed has to say: a link, a problem with what was typed, or nothing. Raises Http404."""
    act = acts.get(request.POST.get("do", ""))
    if act is None:
        raise Http404
    key = request.POST.get("key", "").replace("\0", "")[:KEY]
    run = lambda: act(request, subject) or {}
    try:
        with transaction.atomic():
            if not key:
                return run()
            return done_once(author=request.user, key=key, run=lambda: (run(), True, ""), again=lambda _location: {})
    except HeatError as error:
        return {"problem": str(error), "typed": request.POST.get("note", "")[:80]}
