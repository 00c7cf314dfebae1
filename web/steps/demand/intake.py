"""A measured load that comes in as a table."""

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from pydantic import ValidationError

from heat.errors import InputError, WeatherFileError
from heat.weather.readers import decode
from web.accounts.requests import SignedIn
from web.projects.documents import Changes
from web.projects.models import Upload
from web.projects.services.edits import change_values
from web.projects.services.weather import keep_layout, keep_upload
from web.sheet.page import Sheet
from web.sheet.step import Shown, sent_to
from web.sheet.tables import NO_SUCH_LAYOUT, guess, layout_from, load_of
from web.sheet.uploads import posted_file


def refused(sheet: Sheet, problem: str, upload: Upload | None = None) -> Shown:
    """The uses with why a table was not taken."""
    return Shown(sheet=sheet.at("uses").handing(problem_here=problem, upload=upload), step="demand", status=422)


def load(request: SignedIn, sheet: Sheet) -> Shown | HttpResponse:
    """Take in a table of a measured load and show what it seems to hold."""
    got = posted_file(request)
    if isinstance(got, str):
        return refused(sheet, got)
    name, raw = got
    try:
        upload = Upload(project=sheet.project, purpose="load", name=name[:120], raw=raw)
        upload.layout = guess(upload, decode(name, raw), sheet)
    except WeatherFileError as error:
        return refused(sheet, str(error))
    keep_upload(upload=upload, author=sheet.user)
    return sent_to(sheet.design, "demand", view="uses", upload=upload.pk)


def table(request: SignedIn, sheet: Sheet, upload: int) -> Shown | HttpResponse:
    """Tell the columns of an uploaded table; read it; use it."""
    kept = get_object_or_404(sheet.project.uploads, pk=upload, purpose="load")
    try:
        keep_layout(upload=kept, author=sheet.user, layout=layout_from(request.POST.dict(), kept))
        if request.POST.get("do") == "use":
            change_values(design=sheet.design, author=sheet.user, changes=load_changes(kept, sheet))
            use = "water" if load_of(kept, sheet).kind == "L" else "load"
            return sent_to(sheet.design, "demand", view="uses", use=use)
    except (WeatherFileError, InputError) as error:
        return refused(sheet, str(error), kept)
    except (ValidationError, ValueError, KeyError):
        return refused(sheet, f"{kept.name}: {NO_SUCH_LAYOUT}", kept)
    return sent_to(sheet.design, "demand", view="uses", upload=kept.pk)


def load_changes(upload: Upload, sheet: Sheet) -> Changes:
    """The changes that put a measured load into the demand."""
    measured = load_of(upload, sheet)
    values = [round(float(v), 4) for v in measured.values]
    if measured.kind == "L":
        return {"demand.measured_l": values, "demand.hot_water": True}
    return {"demand.process.hourly_kw": values, "demand.process.fitted": True}
