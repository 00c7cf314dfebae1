"""Weather that comes in: files, tables, twelve means; and weather going out."""

from typing import Any

from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, render
from pydantic import ValidationError

from heat.errors import HeatError, InputError, WeatherFileError
from heat.weather.formats import recognise
from heat.weather.readers import decode
from heat.weather.synthetic import spread_of_years
from heat.weather.writers import csv_text, epw_text
from web.accounts.requests import SignedIn
from web.places.where import Place, Unclear, degrees, place_of, reachable
from web.projects.climates import climate, rough_there
from web.projects.models import Upload, WeatherFile
from web.projects.services import weather as services
from web.projects.services.leaving import delete_weather
from web.sheet.edits import apply_changes
from web.sheet.page import Sheet
from web.sheet.step import Shown, sent_to
from web.sheet.tables import NO_SUCH_LAYOUT, column_map, guess, layout_from, text_of
from web.sheet.uploads import posted_file
from web.steps.site.means import keep, means_year
from web.ui import units
from web.years.reckoned import simulate_uncached
from web.years.weather import weather_year

SEEDS = 6
A_WEEK = 168
WRITERS = {"epw": epw_text, "csv": csv_text}


def refused(sheet: Sheet, problem: str, **more: Any) -> Shown:
    """The weather with why something was not taken."""
    return Shown(sheet=sheet.at("weather").handing(problem_here=problem, **more), step="site", status=422)


def upload(request: SignedIn, sheet: Sheet) -> Shown | HttpResponse:
    """Read an uploaded year and show it beside the one in use; a table of unknown layout goes on to its columns."""
    got = posted_file(request)
    if isinstance(got, str):
        return refused(sheet, got)
    name, raw = got
    try:
        text = decode(name, raw)
        try:
            recognise(name, text)
        except WeatherFileError as unknown:
            kept = _unknown_table(sheet, name, raw, text)
            if kept is None:
                raise unknown from None
            return sent_to(sheet.design, "site", view="weather", upload=kept.pk)
        file = services.read_upload(design=sheet.design, author=sheet.user, name=name, raw=raw)
    except WeatherFileError as error:
        return refused(sheet, str(error))
    return sent_to(sheet.design, "site", view="weather", look=file.pk)


def _unknown_table(sheet: Sheet, name: str, raw: bytes, text: str) -> Upload | None:
    """A table whose columns must be told, kept; None where it looks like no table of hours."""
    kept = Upload(project=sheet.project, purpose="weather", name=name[:120], raw=raw)
    try:
        kept.layout = guess(kept, text, sheet)
    except WeatherFileError:
        return None
    if text.count("\n") < A_WEEK:
        return None
    services.keep_upload(upload=kept, author=sheet.user)
    return kept


def use(request: SignedIn, sheet: Sheet) -> Shown | HttpResponse:
    """Reckon with a kept year, the rough climate of the place or a made-up climate."""
    if request.POST.get("rough") == "1":
        site = sheet.document["site"]
        words = sheet.project.place or degrees(site["latitude_deg"], site["longitude_deg"])
        try:
            made = rough_there(site, words)
        except HeatError as error:
            return refused(sheet, f"There is no rough climate of this place: {error}")
        file = services.add_weather(project=sheet.project, author=sheet.user, weather=made)
    elif "climate" in request.POST:
        try:
            made = climate(request.POST["climate"])
        except KeyError:
            raise Http404 from None
        file = services.add_weather(project=sheet.project, author=sheet.user, weather=made)
    else:
        file = _own_file(sheet, request.POST.get("use"))
    take_place = request.POST.get("take_place") == "1"
    try:
        services.use_weather(design=sheet.design, author=sheet.user, file=file, take_place=take_place)
    except InputError as error:
        return refused(sheet, f"The place of this year cannot be taken: {error}")
    return sent_to(sheet.design, "site", view="weather")


def _own_file(sheet: Sheet, text: str | None, deleted: bool = False) -> WeatherFile:
    number = int(text) if text and text.isdecimal() and len(text) < 15 else 0
    found: WeatherFile = get_object_or_404(sheet.project.weather_files, pk=number, deleted__isnull=not deleted)
    return found


def delete(request: SignedIn, sheet: Sheet) -> Shown | HttpResponse:
    """Take a kept year out of sight, or bring it back."""
    deleted = request.POST.get("do") != "restore"
    file = _own_file(sheet, request.POST.get("file"), deleted=not deleted)
    try:
        delete_weather(file=file, author=sheet.user, deleted=deleted)
    except HeatError as error:
        return refused(sheet, str(error))
    return sent_to(sheet.design, "site", view="weather")


def shift(request: SignedIn, sheet: Sheet) -> HttpResponse:
    """Move the clock of a year as offered."""
    file = _own_file(sheet, request.POST.get("file"))
    if not file.offered_shift_h:
        return sent_to(sheet.design, "site", view="weather")
    moved = services.shift_weather(design=sheet.design, author=sheet.user, file=file)
    if sheet.project.weather_id == file.pk:
        return sent_to(sheet.design, "site", view="weather")
    return sent_to(sheet.design, "site", view="weather", look=moved.pk)


def draft(request: SignedIn, sheet: Sheet) -> HttpResponse:
    """Keep what is half typed."""
    keep(sheet, request.POST.dict())
    return HttpResponse(status=204)


def means(request: SignedIn, sheet: Sheet) -> Shown | HttpResponse:
    """Make a synthetic year of twelve means and show it."""
    keep(sheet, request.POST.dict())
    try:
        file = services.add_weather(project=sheet.project, author=sheet.user, weather=means_year(sheet))
    except WeatherFileError as error:
        return refused(sheet, str(error), means_open=True)
    return sent_to(sheet.design, "site", view="weather", look=file.pk)


def spread(request: SignedIn, sheet: Sheet) -> HttpResponse:
    """How far the solar fraction moves between several years drawn from the same twelve means."""
    try:
        shares = [
            100 * simulate_uncached(sheet.year.book.design, means_year(sheet, seed)).fractions.at_tap
            for seed in range(1, SEEDS + 1)
        ]
    except HeatError as error:
        return render(request, "site/spread.html", {"problem": str(error)})
    mean, deviation = spread_of_years(shares)
    figures = {"mean": units.number(mean, 1), "deviation": units.number(deviation, 1), "seeds": SEEDS,
               "low": units.number(min(shares), 1), "high": units.number(max(shares), 1)}  # fmt: skip
    return render(request, "site/spread.html", figures)


def download(request: SignedIn, sheet: Sheet, file: int, kind: str) -> HttpResponse:
    """A kept year as EPW or CSV."""
    kept = get_object_or_404(sheet.project.weather_files, pk=file)
    if kind not in WRITERS:
        raise Http404
    answer = HttpResponse(WRITERS[kind](weather_year(kept)), content_type="text/csv; charset=utf-8")
    name = "".join(c if c.isalnum() else "-" for c in kept.name.lower())[:60].strip("-")
    answer["Content-Disposition"] = f'attachment; filename="{name}.{kind}"'
    return answer


def table(request: SignedIn, sheet: Sheet, upload: int) -> Shown | HttpResponse:
    """Tell the columns of an uploaded table of weather; read it."""
    kept = get_object_or_404(sheet.project.uploads, pk=upload, purpose="weather")
    try:
        services.keep_layout(upload=kept, author=sheet.user, layout=layout_from(request.POST.dict(), kept))
        if request.POST.get("do") == "use":
            file = services.read_upload(
                design=sheet.design, author=sheet.user, name=kept.name, raw=text_of(kept).encode(),
                columns=column_map(kept, sheet),
            )  # fmt: skip
            return sent_to(sheet.design, "site", view="weather", look=file.pk)
    except (WeatherFileError, InputError) as error:
        return refused(sheet, str(error), upload=kept)
    except (ValidationError, ValueError, KeyError):
        return refused(sheet, f"{kept.name}: {NO_SUCH_LAYOUT}", upload=kept)
    return sent_to(sheet.design, "site", view="weather", upload=kept.pk)


def move(request: SignedIn, sheet: Sheet) -> Shown:
    """Move the site to a town, to coordinates, or to a point of the outline (deg); height comes from the coarse map."""
    post = request.POST
    try:
        place = _pointed(post) if "latitude" in post else place_of(post.get("place", ""), post.get("town", ""))
        changes = services.move_site(design=sheet.design, author=sheet.user, place=place)
    except Unclear as unclear:
        here = {"unclear": unclear, "typed_place": post.get("place", "")[:80]}
        return Shown(sheet=sheet.at("place").handing(**here), step="site", status=422)
    except HeatError as error:
        return Shown(sheet=sheet.noting(f"Not moved: {error}"), step="site", status=422)
    moved = apply_changes(sheet.design, sheet.user, lambda document: changes, sheet.look)
    return Shown(sheet=moved, step="site", status=422 if moved.note else 200)


def _pointed(post: Any) -> Place:
    """A point of the outline. Raises Http404 for what is none, Unclear beyond a site's latitudes."""
    try:
        latitude, longitude = (round(units.parse_number(post.get(n, "")), 2) for n in ("latitude", "longitude"))
    except ValueError:
        raise Http404 from None
    return reachable(Place(degrees(latitude, longitude), latitude, longitude))
