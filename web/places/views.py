"""Towns for what is being typed: a list to choose from."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe

from web.places.towns import search


@require_safe
def towns(request: HttpRequest) -> HttpResponse:
    """Towns that fit what was typed so far (``place``), as options of a list."""
    query = request.GET.get("place", request.GET.get("q", "")).replace("\0", "")
    return render(request, "places/options.html", {"towns": search(query)})
