"""The glossary: its page, and its terms for the search and the “?” beside a term."""

from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import render
from django.views.decorators.cache import cache_control
from django.views.decorators.http import require_safe

from web.accounts.requests import SignedIn
from web.ui.glossary import terms


@require_safe
def glossary(request: SignedIn) -> HttpResponse:
    """Every term with its meaning and source."""
    return render(request, "workspace/glossary.html", {"terms": terms()})


@require_safe
@cache_control(private=True, max_age=3600)
def glossary_terms(request: HttpRequest) -> JsonResponse:
    """The terms for a script of the page, asked for when somebody first looks for a word."""
    return JsonResponse({"terms": [term.as_json() for term in terms()]})
