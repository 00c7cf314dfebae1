"""A measured load that comes in as a table."""

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from pydantic import ValidationError

from heat.common.documents import Values
from heat.errors import InputError, WeatherFileError
from heat.weather.readers import decode
from web.accounts.requests import SignedIn
from web.editor.design_page import DesignPage
from web.editor.step import PageResult, sent_to
from web.editor.tables import NO_SUCH_LAYOUT, guess, layout_from, load_of
from web.editor.uploads import posted_file
from web.projects.models import Upload
from web.projects.services.edits import change_values
from web.projects.services.weather import store_layout, store_upload


def refused(page: DesignPage, problem: str, upload: Upload | None = None) -> PageResult:
    """The uses with why a table was not taken."""
    return PageResult(page=page.at("uses").with_given(problem_here=problem, upload=upload), step="demand", status=422)


def load(request: SignedIn, page: DesignPage) -> PageResult | HttpResponse:
    """Take in a table of a measured load and show what it seems to hold."""
    got = posted_file(request)
    if isinstance(got, str):
        return refused(page, got)
    name, raw = got
    try:
        upload = Upload(project=page.project, purpose="load", name=name[:120], raw=raw)
        upload.layout = guess(upload, decode(name, raw), page)
    except WeatherFileError as error:
        return refused(page, str(error))
    store_upload(upload=upload, author=page.user)
    return sent_to(page.design, "demand", view="uses", upload=upload.pk)


def table(request: SignedIn, page: DesignPage, upload: int) -> PageResult | HttpResponse:
    """Name the columns of an uploaded table; read it; use it."""
    stored = get_object_or_404(page.project.uploads, pk=upload, purpose="load")
    try:
        store_layout(upload=stored, author=page.user, layout=layout_from(request.POST.dict(), stored))
        if request.POST.get("do") == "use":
            change_values(design=page.design, author=page.user, changes=load_changes(stored, page))
            use = "water" if load_of(stored, page).kind == "L" else "load"
            return sent_to(page.design, "demand", view="uses", use=use)
    except (WeatherFileError, InputError) as error:
        return refused(page, str(error), stored)
    except (ValidationError, ValueError, KeyError):
        return refused(page, f"{stored.name}: {NO_SUCH_LAYOUT}", stored)
    return sent_to(page.design, "demand", view="uses", upload=stored.pk)


def load_changes(upload: Upload, page: DesignPage) -> Values:
    """The changes that put a measured load into the demand."""
    measured = load_of(upload, page)
    values = [round(float(v), 4) for v in measured.values]
    if measured.kind == "L":
        return {"demand.measured_l": values, "demand.hot_water": True}
    return {"demand.process.hourly_kw": values, "demand.process.fitted": True}
