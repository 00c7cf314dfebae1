"""Weather that comes in: files, tables, twelve means; and weather going out."""

from collections.abc import Mapping
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
from web.editor.design_page import DesignPage
from web.editor.edits import apply_changes
from web.editor.step import PageResult, sent_to
from web.editor.tables import NO_SUCH_LAYOUT, column_map, guess, layout_from, text_of
from web.editor.uploads import posted_file
from web.places.where import Place, Unclear, degrees, place_of, reachable
from web.projects.climates import climate, rough_there
from web.projects.models import Upload, WeatherFile
from web.projects.services import weather as services
from web.projects.services.deletion import delete_weather
from web.simulations.cache import simulate_uncached
from web.simulations.weather import weather_year
from web.steps.site.means import means_year, store_means
from web.ui import units

SEEDS = 6
A_WEEK = 168
WRITERS = {"epw": epw_text, "csv": csv_text}


def refused(page: DesignPage, problem: str, **more: Any) -> PageResult:
    """The weather with why something was not taken."""
    return PageResult(page=page.at("weather").with_given(problem_here=problem, **more), step="site", status=422)


def upload(request: SignedIn, page: DesignPage) -> PageResult | HttpResponse:
    """Read an uploaded year and show it beside the one in use; a table of unknown layout goes on to its columns."""
    got = posted_file(request)
    if isinstance(got, str):
        return refused(page, got)
    name, raw = got
    try:
        text = decode(name, raw)
        try:
            recognise(name, text)
        except WeatherFileError as unknown:
            stored = _unknown_table(page, name, raw, text)
            if stored is None:
                raise unknown from None
            return sent_to(page.design, "site", view="weather", upload=stored.pk)
        file = services.read_upload(design=page.design, author=page.user, name=name, raw=raw)
    except WeatherFileError as error:
        return refused(page, str(error))
    return sent_to(page.design, "site", view="weather", look=file.pk)


def _unknown_table(page: DesignPage, name: str, raw: bytes, text: str) -> Upload | None:
    """A table whose columns must be named, stored; None where it looks like no table of hours."""
    stored = Upload(project=page.project, purpose="weather", name=name[:120], raw=raw)
    try:
        stored.layout = guess(stored, text, page)
    except WeatherFileError:
        return None
    if text.count("\n") < A_WEEK:
        return None
    services.store_upload(upload=stored, author=page.user)
    return stored


def use(request: SignedIn, page: DesignPage) -> PageResult | HttpResponse:
    """Calculate with a kept year, the rough climate of the place or a made-up climate."""
    if request.POST.get("rough") == "1":
        site = page.document["site"]
        words = page.project.place or degrees(site["latitude_deg"], site["longitude_deg"])
        try:
            made = rough_there(site, words)
        except HeatError as error:
            return refused(page, f"There is no rough climate of this place: {error}")
        file = services.add_weather(project=page.project, author=page.user, weather=made)
    elif "climate" in request.POST:
        try:
            made = climate(request.POST["climate"])
        except KeyError:
            raise Http404 from None
        file = services.add_weather(project=page.project, author=page.user, weather=made)
    else:
        file = _own_file(page, request.POST.get("use"))
    take_place = request.POST.get("take_place") == "1"
    try:
        services.use_weather(design=page.design, author=page.user, file=file, take_place=take_place)
    except InputError as error:
        return refused(page, f"The place of this year cannot be taken: {error}")
    return sent_to(page.design, "site", view="weather")


def _own_file(page: DesignPage, text: str | None, deleted: bool = False) -> WeatherFile:
    number = int(text) if text and text.isdecimal() and len(text) < 15 else 0
    found: WeatherFile = get_object_or_404(page.project.weather_files, pk=number, deleted__isnull=not deleted)
    return found


def delete(request: SignedIn, page: DesignPage) -> PageResult | HttpResponse:
    """Take a kept year out of sight, or bring it back."""
    deleted = request.POST.get("do") != "restore"
    file = _own_file(page, request.POST.get("file"), deleted=not deleted)
    try:
        delete_weather(file=file, author=page.user, deleted=deleted)
    except HeatError as error:
        return refused(page, str(error))
    return sent_to(page.design, "site", view="weather")


def shift(request: SignedIn, page: DesignPage) -> HttpResponse:
    """Move the clock of a year as offered."""
    file = _own_file(page, request.POST.get("file"))
    if not file.offered_shift_h:
        return sent_to(page.design, "site", view="weather")
    moved = services.shift_weather(design=page.design, author=page.user, file=file)
    if page.project.weather_id == file.pk:
        return sent_to(page.design, "site", view="weather")
    return sent_to(page.design, "site", view="weather", look=moved.pk)


def draft(request: SignedIn, page: DesignPage) -> HttpResponse:
    """Keep what is half typed."""
    store_means(page, request.POST.dict())
    return HttpResponse(status=204)


def means(request: SignedIn, page: DesignPage) -> PageResult | HttpResponse:
    """Make a synthetic year of twelve means and show it."""
    store_means(page, request.POST.dict())
    try:
        file = services.add_weather(project=page.project, author=page.user, weather=means_year(page))
    except WeatherFileError as error:
        return refused(page, str(error), means_open=True)
    return sent_to(page.design, "site", view="weather", look=file.pk)


def spread(request: SignedIn, page: DesignPage) -> HttpResponse:
    """How far the solar fraction moves between several years drawn from the same twelve means."""
    try:
        shares = [
            100 * simulate_uncached(page.year.book.design, means_year(page, seed)).fractions.at_tap
            for seed in range(1, SEEDS + 1)
        ]
    except HeatError as error:
        return render(request, "site/spread.html", {"problem": str(error)})
    mean, deviation = spread_of_years(shares)
    figures = {
        "mean": units.number(mean, 1),
        "deviation": units.number(deviation, 1),
        "seeds": SEEDS,
        "low": units.number(min(shares), 1),
        "high": units.number(max(shares), 1),
    }
    return render(request, "site/spread.html", figures)


def download(request: SignedIn, page: DesignPage, file: int, kind: str) -> HttpResponse:
    """A kept year as EPW or CSV."""
    stored = get_object_or_404(page.project.weather_files, pk=file)
    if kind not in WRITERS:
        raise Http404
    answer = HttpResponse(WRITERS[kind](weather_year(stored)), content_type="text/csv; charset=utf-8")
    name = "".join(c if c.isalnum() else "-" for c in stored.name.lower())[:60].strip("-")
    answer["Content-Disposition"] = f'attachment; filename="{name}.{kind}"'
    return answer


def table(request: SignedIn, page: DesignPage, upload: int) -> PageResult | HttpResponse:
    """Name the columns of an uploaded table of weather; read it."""
    stored = get_object_or_404(page.project.uploads, pk=upload, purpose="weather")
    try:
        services.store_layout(upload=stored, author=page.user, layout=layout_from(request.POST.dict(), stored))
        if request.POST.get("do") == "use":
            file = services.read_upload(
                design=page.design,
                author=page.user,
                name=stored.name,
                raw=text_of(stored).encode(),
                columns=column_map(stored, page),
            )
            return sent_to(page.design, "site", view="weather", look=file.pk)
    except (WeatherFileError, InputError) as error:
        return refused(page, str(error), upload=stored)
    except (ValidationError, ValueError, KeyError):
        return refused(page, f"{stored.name}: {NO_SUCH_LAYOUT}", upload=stored)
    return sent_to(page.design, "site", view="weather", upload=stored.pk)


def move(request: SignedIn, page: DesignPage) -> PageResult:
    """Move the site to a town, to coordinates, or to a point of the outline (deg); height comes from the coarse map."""
    post = request.POST
    try:
        place = _pointed(post) if "latitude" in post else place_of(post.get("place", ""), post.get("town", ""))
        changes = services.move_site(design=page.design, author=page.user, place=place)
    except Unclear as unclear:
        here = {"unclear": unclear, "typed_place": post.get("place", "")[:80]}
        return PageResult(page=page.at("place").with_given(**here), step="site", status=422)
    except HeatError as error:
        return PageResult(page=page.with_note(f"Not moved: {error}"), step="site", status=422)
    moved = apply_changes(page, lambda document: changes)
    return PageResult(page=moved, step="site", status=422 if moved.note else 200)


def _pointed(post: Mapping[str, str]) -> Place:
    """A point of the outline. Raises Http404 for what is none, Unclear beyond a site's latitudes."""
    try:
        latitude, longitude = (round(units.parse_number(post.get(n, "")), 2) for n in ("latitude", "longitude"))
    except ValueError:
        raise Http404 from None
    return reachable(Place(degrees(latitude, longitude), latitude, longitude))
