"""What comes in from outside: weather files, twelve means, measured loads; and weather going out."""

from typing import Any

from django import forms
from django.conf import settings
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST, require_safe
from pydantic import ValidationError

from heat.errors import HeatError, InputError, WeatherFileError
from heat.weather.readers import decode, recognise
from heat.weather.synthetic import spread_of_years
from heat.weather.writers import csv_text, epw_text
from web.demo.climates import climate
from web.projects import services
from web.projects.drafts import keep, means_year
from web.projects.models import Design, Upload
from web.projects.reckon import passing_year, weather_year
from web.projects.sheet import Sheet
from web.projects.tables import column_map, guess, layout_from, load_of, text_of
from web.projects.views import own_design, show_sheet
from web.ui import units

SEEDS = 6
A_WEEK = 168


class UploadForm(forms.Form):
    file = forms.FileField(allow_empty_file=True)

    def clean_file(self) -> Any:
        file = self.cleaned_data["file"]
        if file.size > settings.WEATHER_UPLOAD_LIMIT:
            raise forms.ValidationError(
                f"{file.name}: {file.size / 1e6:.0f} MB is too large; a year of hours needs under "
                f"{settings.WEATHER_UPLOAD_LIMIT / 1e6:.0f} MB."
            )
        return file


def _to(design: Design, screen: str, **query: Any) -> HttpResponse:
    address = reverse("screen", args=(design.project_id, design.letter, screen))
    return redirect(f"{address}?{'&'.join(f'{k}={v}' for k, v in query.items())}")


def _file(request: HttpRequest) -> tuple[str, bytes] | str:
    """Name and bytes of the posted file, or why there is none."""
    form = UploadForm(request.POST, request.FILES)
    if not form.is_valid():
        return str(form.errors.get("file", ["Choose a file first."])[0])
    file = form.cleaned_data["file"]
    return file.name, file.read()


def _refused(request: HttpRequest, design: Design, problem: str, screen: str = "site", **more: Any) -> HttpResponse:
    view = "weather" if screen == "site" else "uses"
    return show_sheet(request, Sheet(design, request.user), screen, 422, problem_here=problem, view=view, **more)


@require_POST
def weather(request: HttpRequest, pk: int, letter: str) -> HttpResponse:
    """Read an uploaded year and show it beside the one in use; a table of unknown layout goes on to its columns."""
    design = own_design(request, pk, letter)
    got = _file(request)
    if isinstance(got, str):
        return _refused(request, design, got)
    name, raw = got
    try:
        text = decode(name, raw)
        try:
            recognise(name, text)
        except WeatherFileError as unknown:
            upload = Upload(project=design.project, purpose="weather", name=name[:120], raw=raw)
            try:
                upload.layout = guess(upload, text, Sheet(design, request.user))
            except WeatherFileError:
                raise unknown from None
            if text.count("\n") < A_WEEK:
                raise
            services.keep_upload(upload)
            return _to(design, "site", view="weather", upload=upload.pk)
        file = services.read_upload(design=design, name=name, raw=raw)
    except WeatherFileError as error:
        return _refused(request, design, str(error))
    return _to(design, "site", view="weather", look=file.pk)


@require_POST
def use_weather(request: HttpRequest, pk: int, letter: str) -> HttpResponse:
    """Reckon with a kept year or a made-up climate."""
    design = own_design(request, pk, letter)
    if "climate" in request.POST:
        try:
            file = services.add_weather(project=design.project, weather=climate(request.POST["climate"]))
        except KeyError:
            raise Http404 from None
    else:
        file = get_object_or_404(design.project.weather_files, pk=_number(request.POST.get("use")))
    take_place = request.POST.get("take_place") == "1"
    try:
        services.use_weather(design=design, author=request.user, file=file, take_place=take_place)
    except InputError as error:
        return _refused(request, design, f"The place of this year cannot be taken: {error}")
    return _to(design, "site", view="weather")


def _number(text: str | None) -> int:
    return int(text) if text and text.isdecimal() else 0


@require_POST
def shift(request: HttpRequest, pk: int, letter: str) -> HttpResponse:
    """Move the clock of a year as offered."""
    design = own_design(request, pk, letter)
    file = get_object_or_404(design.project.weather_files, pk=_number(request.POST.get("file")))
    if not file.offered_shift_h:
        return _to(design, "site", view="weather")
    moved = services.shift_weather(design=design, author=request.user, file=file)
    return (
        _to(design, "site", view="weather", look=moved.pk)
        if design.project.weather_id != file.pk
        else _to(design, "site", view="weather")
    )


@require_POST
def draft(request: HttpRequest, pk: int, letter: str) -> HttpResponse:
    """Keep what is half typed."""
    design = own_design(request, pk, letter)
    keep(Sheet(design, request.user), "means", request.POST.dict())
    return HttpResponse(status=204)


@require_POST
def means(request: HttpRequest, pk: int, letter: str) -> HttpResponse:
    """Make a synthetic year of twelve means and show it."""
    design = own_design(request, pk, letter)
    sheet = Sheet(design, request.user)
    keep(sheet, "means", request.POST.dict())
    try:
        file = services.add_weather(project=design.project, weather=means_year(sheet))
    except WeatherFileError as error:
        return _refused(request, design, str(error), means_open=True)
    return _to(design, "site", view="weather", look=file.pk)


@require_safe
def spread(request: HttpRequest, pk: int, letter: str) -> HttpResponse:
    """How far the solar fraction moves between several years drawn from the same twelve means."""
    design = own_design(request, pk, letter)
    sheet = Sheet(design, request.user)
    try:
        shares = [
            100 * passing_year(sheet.year.book.design, means_year(sheet, seed)).fractions.at_tap
            for seed in range(1, SEEDS + 1)
        ]
    except HeatError as error:
        return render(request, "projects/spread.html", {"problem": str(error)})
    mean, deviation = spread_of_years(shares)
    figures = {"mean": units.number(mean, 1), "deviation": units.number(deviation, 1), "seeds": SEEDS,
               "low": units.number(min(shares), 1), "high": units.number(max(shares), 1)}  # fmt: skip
    return render(request, "projects/spread.html", figures)


@require_safe
def download(request: HttpRequest, pk: int, letter: str, file: int, kind: str) -> HttpResponse:
    """A kept year as EPW or CSV."""
    design = own_design(request, pk, letter)
    kept = get_object_or_404(design.project.weather_files, pk=file)
    writers = {"epw": epw_text, "csv": csv_text}
    if kind not in writers:
        raise Http404
    answer = HttpResponse(writers[kind](weather_year(kept)), content_type="text/csv; charset=utf-8")
    name = "".join(c if c.isalnum() else "-" for c in kept.name.lower())[:60].strip("-")
    answer["Content-Disposition"] = f'attachment; filename="{name}.{kind}"'
    return answer


@require_POST
def load(request: HttpRequest, pk: int, letter: str) -> HttpResponse:
    """Take in a table of a measured load and show what it seems to hold."""
    design = own_design(request, pk, letter)
    got = _file(request)
    if isinstance(got, str):
        return _refused(request, design, got, "demand")
    name, raw = got
    try:
        upload = Upload(project=design.project, purpose="load", name=name[:120], raw=raw)
        upload.layout = guess(upload, decode(name, raw), Sheet(design, request.user))
    except WeatherFileError as error:
        return _refused(request, design, str(error), "demand")
    services.keep_upload(upload)
    return _to(design, "demand", view="uses", upload=upload.pk)


@require_POST
def table(request: HttpRequest, pk: int, letter: str, upload: int) -> HttpResponse:
    """Tell the columns of an uploaded table; read it; use a load."""
    design = own_design(request, pk, letter)
    kept = get_object_or_404(design.project.uploads, pk=upload)
    screen, view = ("demand", "uses") if kept.purpose == "load" else ("site", "weather")
    sheet = Sheet(design, request.user)
    try:
        kept.layout = layout_from(request.POST.dict(), kept)
        kept.save(update_fields=["layout"])
        if kept.purpose == "load" and request.POST.get("do") == "use":
            services.change_values(design=design, author=request.user, changes=_load_changes(kept, sheet))
            return _to(design, screen, view=view, use="water" if load_of(kept, sheet).kind == "L" else "load")
        if kept.purpose == "weather" and request.POST.get("do") == "use":
            file = services.read_upload(
                design=design, name=kept.name, raw=text_of(kept).encode(), columns=column_map(kept, sheet)
            )
            return _to(design, "site", view="weather", look=file.pk)
    except (WeatherFileError, InputError) as error:
        return _refused(request, design, str(error), screen, upload=kept)
    except (ValidationError, ValueError, KeyError):
        return _refused(request, design, f"{kept.name}: this layout does not fit the table; check separator, lines and clock.", screen, upload=kept)  # fmt: skip
    return _to(design, screen, view=view, upload=kept.pk)


def _load_changes(upload: Upload, sheet: Sheet) -> dict[str, Any]:
    measured = load_of(upload, sheet)
    values = [round(float(v), 4) for v in measured.values]
    if measured.kind == "L":
        return {"demand.measured_l": values, "demand.hot_water": True}
    return {"demand.process.hourly_kw": values, "demand.process.fitted": True}
