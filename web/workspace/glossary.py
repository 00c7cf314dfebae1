"""The glossary: its page, and its terms for the search and the “?” beside a term."""

from django.http import Http404, HttpResponse
from django.shortcuts import render
from django.views.decorators.cache import cache_control
from django.views.decorators.http import require_safe

from web.accounts.requests import SignedIn
from web.ui.glossary import by_key, terms


@require_safe
def glossary(request: SignedIn) -> HttpResponse:
    """Every term with its meaning and source."""
    return render(request, "workspace/glossary.html", {"terms": terms()})


@require_safe
@cache_control(private=True, max_age=3600)
def term(request: SignedIn, key: str) -> HttpResponse:
    """What a term means, for the page on which somebody asked. Raises Http404 for a term there is not."""
    found = by_key().get(key)
    if found is None:
        raise Http404
    return render(request, "workspace/term.html", {"term": found})
