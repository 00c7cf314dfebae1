"""Short views: find the design the person may see, change it through a service, show the sheet."""

import json
from collections.abc import Callable
from typing import Any
from urllib.parse import parse_qs, urlencode, urlsplit

from django import forms
from django.db.models import prefetch_related_objects
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from heat.cli import hours_table
from heat.errors import HeatError, InputError
from heat.weather.place import ground_m
from web.demo.climates import merrow_coast
from web.projects import services
from web.projects.account import account, explanations, tally
from web.projects.alternatives import GROUPS_OF, alternatives, chosen_changes
from web.projects.books import accounts_csv, books_page
from web.projects.bundle import figures_csv, year_bundle
from web.projects.cautions import cautions
from web.projects.commands import commands
from web.projects.days import LONGEST, SHORTEST, shown_csv
from web.projects.days import play as played
from web.projects.demand_page import demand_page
from web.projects.drawing import drawing
from web.projects.edits import apply_changes, apply_edit
from web.projects.kinds import swaps
from web.projects.lists import add_row, preset, take_row
from web.projects.mistakes_page import mistakes_page
from web.projects.models import Design, Project
from web.projects.panels import PARTS, first_part, next_step, panel, parts_of
from web.projects.shapes import shapes_page
from web.projects.sheet import Pen, Sheet
from web.projects.site_page import site_page
from web.projects.start import blank_scheme, open_proposal, start_page
from web.projects.typed import day_number
from web.projects.variants import facing, tabs
from web.projects.year_page import carpet_values, year_page
from web.ui import units
from web.ui.units import parse_number

SCREENS = ("demand", "site", "scheme", "year")
YEAR_VIEWS = {"hours": "Hour by hour", "shape": "Its shape", "mistakes": "Mistakes"}
DEFAULT_HOUR = 10
TITLES = {"demand": "Demand", "site": "Site", "scheme": "Scheme", "year": "Year"}


def own_design(request: HttpRequest, pk: int, letter: str) -> Design:
    project = get_object_or_404(Project.objects.visible_to(request.user), pk=pk)
    prefetch_related_objects([project], "designs")
    design = next((d for d in project.designs.all() if d.letter == letter), None)
    if design is None:
        raise Http404
    design.project = project
    return design


def _query(request: HttpRequest) -> dict[str, str]:
    """Which part and hour the page shows: from its own address, or of the page that posts."""
    if request.method == "POST":
        address = request.htmx.current_url or request.POST.get("from", "")
        return {k: v[0] for k, v in parse_qs(urlsplit(address or "").query).items()}
    return request.GET.dict()


def _many(request: HttpRequest, name: str) -> list[str]:
    """Every value of a name in the page's address."""
    if request.method == "POST":
        return parse_qs(urlsplit(request.htmx.current_url or "").query).get(name, [])
    return request.GET.getlist(name)


def _whole(text: str | None, low: int, high: int) -> int | None:
    try:
        return min(max(int(text or ""), low), high)
    except ValueError:
        return None


def show_sheet(request: HttpRequest, sheet: Sheet, screen: str, status: int = 200, **more: Any) -> HttpResponse:
    query = _query(request)
    if "view" in more:
        query["view"] = more.pop("view")
    _look(sheet, query)
    here = reverse("screen", args=(sheet.project.pk, sheet.design.letter, screen))
    for name, kept in (("look", sheet.project.weather_files), ("upload", sheet.project.uploads)):
        if screen in ("demand", "site") and name not in more and query.get(name, "").isdecimal():
            more[name] = kept.filter(pk=int(query[name])).first()
    context: dict[str, Any] = {
        "here": f"{here}?{urlencode(query)}" if query else here,
        "sheet": sheet,
        "screen": screen,
        "screens": [(s, TITLES[s]) for s in SCREENS],
        **more,
    }
    against = None
    if query.get("against") in tuple(services.LETTERS):
        against = sheet.project.designs.filter(letter=query["against"]).exclude(pk=sheet.design.pk).first()
    try:
        context["designs"] = tabs(sheet)
        context["commands"] = commands(sheet)
        context["tally"] = tally(sheet)
        context["why"] = explanations(sheet)
        context["cautions"] = cautions(sheet)
        if screen == "scheme" and against:
            context["facing"] = facing(sheet, against)
        elif screen == "scheme" and sheet.view == "start":
            context["start"] = start_page(sheet, query)
        elif screen == "scheme" and sheet.view == "books":
            context["books"] = books_page(sheet)
        elif screen == "scheme":
            sheet.part = sheet.part if "part" in query else first_part(sheet)
            context |= {
                "drawing": drawing(sheet),
                "account": account(sheet),
                "panel": panel(sheet),
                "parts": parts_of(sheet),
            }
        elif screen == "year":
            context["views"] = YEAR_VIEWS
            sheet.view = sheet.view if sheet.view in YEAR_VIEWS else "hours"
            if sheet.view == "mistakes":
                page = mistakes_page(sheet, query, _many(request, "m"))
                context["mistakes"] = _keep_score(request, sheet, page)
            elif sheet.view == "shape":
                context["year_shape"] = shapes_page(sheet)
            else:
                _remember_traces(request, sheet)
                context["inside"] = year_page(sheet)
        elif screen == "demand":
            context |= demand_page(sheet, **more)
        else:
            context |= site_page(sheet, **more)
    except HeatError as error:
        refused = sheet.design.letter if not sheet.reckons else against.letter if against else ""
        context["problem"] = f"Design {refused} is not reckoned. {error}" if refused else str(error)
        context["mend"] = _mended_at(sheet, error)
    template = "projects/desk.html" if request.htmx else "projects/page.html"
    return render(request, template, context, status=status)


def _look(sheet: Sheet, query: dict[str, str]) -> None:
    """Which part, hours, traces and question a page shows; a date that is none is told."""
    sheet.part = query.get("part", "store") if query.get("part", "store") in PARTS else "store"
    sheet.instead, sheet.folded = query.get("instead") == "1", query.get("fold") == "1"
    sheet.view = query.get("view", "")[:12]
    sheet.chosen = query.get("plane", query.get("use", query.get("q", "")))
    sheet.day = _whole(query.get("day"), 0, 364)
    hour = _whole(query.get("hour"), 0, 23)
    sheet.hour = DEFAULT_HOUR if hour is None else hour
    sheet.span = _whole(query.get("span"), SHORTEST, LONGEST) or 24
    sheet.start = _whole(query.get("start"), 0, 8759)
    sheet.ask = query.get("ask", "")
    sheet.as_table = query.get("table") == "1"
    typed = query.get("date", "")[:30]
    if typed:
        try:
            sheet.day = day_number(typed) - 1
        except ValueError as error:
            sheet.typed_date, sheet.wrong_date = typed, str(error)


def _mended_at(sheet: Sheet, error: HeatError) -> Pen | None:
    """The value to mend where the core refuses a design, if it is one the page can show."""
    try:
        return sheet.pen(error.name) if isinstance(error, InputError) and not sheet.reckons else None
    except (KeyError, ValueError):
        return None


def _remember_traces(request: HttpRequest, sheet: Sheet) -> None:
    """The traces chosen on this page, or those chosen before."""
    asked = _query(request).get("t", "")[:400]
    if asked and asked != request.session.get("traces"):
        request.session["traces"] = asked
    sheet.traces = tuple((asked or request.session.get("traces", "")).split(","))


def _keep_score(request: HttpRequest, sheet: Sheet, page: dict[str, Any]) -> dict[str, Any]:
    """First answers of the finding game, kept while the person is signed in."""
    scores = request.session.get("found", {})
    mine: dict[str, bool] = scores.get(str(sheet.project.pk), {})
    number = page["number"]
    if "told" in page and str(number) not in mine and len(mine) < 1000:
        mine[str(number)] = page["told"]["right"]
        request.session["found"] = {**scores, str(sheet.project.pk): mine}
    fresh = next(n for n in range(1, len(mine) + 2) if str(n) not in mine)
    right = sum(mine.values())
    return page | {"next": fresh, "score": f"{right} of {len(mine)} named at the first answer" if mine else ""}


@require_safe
def projects(request: HttpRequest) -> HttpResponse:
    rows = []
    for project in Project.objects.visible_to(request.user):
        design = project.designs.first()
        design.project = project
        rows.append(Sheet(design, request.user))
    return render(request, "projects/projects.html", {"rows": rows, "form": ProjectForm()})


class ProjectForm(forms.Form):
    name = forms.CharField(max_length=80, label="Name", widget=forms.TextInput({"autocomplete": "off"}))
    place = forms.CharField(
        max_length=80, label="Place", required=False, widget=forms.TextInput({"autocomplete": "off"})
    )


@require_POST
def new_project(request: HttpRequest) -> HttpResponse:
    form = ProjectForm(request.POST)
    if not form.is_valid():
        rows = [Sheet(d, request.user) for p in Project.objects.visible_to(request.user) for d in p.designs.all()[:1]]
        return render(request, "projects/projects.html", {"rows": rows, "form": form}, status=422)
    project = services.create_project(owner=request.user, weather=merrow_coast(), **form.cleaned_data)
    if request.POST.get("begin") == "guided":
        return redirect(f"{reverse('screen', args=(project.pk, 'A', 'scheme'))}?view=start")
    return redirect("screen", project.pk, "A", "demand")


@require_safe
def screen(request: HttpRequest, pk: int, letter: str, screen: str) -> HttpResponse:
    if screen not in SCREENS:
        raise Http404
    return show_sheet(request, Sheet(own_design(request, pk, letter), request.user), screen)


def _posted_screen(request: HttpRequest) -> str:
    wanted = request.POST.get("screen", "scheme")
    return wanted if wanted in SCREENS else "scheme"


@require_POST
def edit(request: HttpRequest, pk: int, letter: str) -> HttpResponse:
    post = request.POST
    design = own_design(request, pk, letter)
    known = _whole(post.get("revision"), 0, 2**31) or 0
    sheet = apply_edit(
        design, request.user, post.get("path", ""), post.get("value", ""),
        post.get("seen", ""), post.get("force") == "1", post.get("preview") == "1",
    )  # fmt: skip
    if post.get("preview") == "1":
        return show_sheet(request, sheet, _posted_screen(request), 422 if sheet.refusals else 200)
    others = design.project.edits.filter(revision__gt=known, dropped=False).exclude(path=post.get("path", ""))
    if known and others.exists():
        names = ", ".join(sorted({sheet.pen(e.path).label for e in others if e.path in _pens(sheet, others)}))
        sheet.note = f"Also changed in another tab: {names or 'something'}. Both edits stand."
    return show_sheet(request, sheet, _posted_screen(request), 422 if sheet.refusals or not post.get("path") else 200)


def _pens(sheet: Sheet, edits: Any) -> set[str]:
    """Paths among the edits that a pen can show (the weather file cannot)."""
    return {e.path for e in edits if e.path not in ("", services.WEATHER_PATH) and not e.path.endswith("_shape")}


@require_POST
def rows(request: HttpRequest, pk: int, letter: str) -> HttpResponse:
    """Add a row to a list of the survey, or take one away."""
    post = request.POST
    path, index = post.get("path", ""), _whole(post.get("index"), 0, 10_000)

    def make(document: dict[str, Any]) -> dict[str, Any]:
        return add_row(document, path, post.get("preset", "")) if index is None else take_row(document, path, index)

    sheet = apply_changes(own_design(request, pk, letter), request.user, make)
    return show_sheet(request, sheet, _posted_screen(request), 422 if sheet.note else 200)


@require_POST
def choose(request: HttpRequest, pk: int, letter: str) -> HttpResponse:
    """Take a named set of values."""
    name = request.POST.get("preset", "")

    def make(document: dict[str, Any]) -> dict[str, Any]:
        if "changes" in request.POST:
            return _told_changes(request.POST["changes"])
        if name.startswith(("entry ", "switch ")):
            return chosen_changes(document, name, request.user)
        return preset(document, name)

    sheet = apply_changes(own_design(request, pk, letter), request.user, make)
    return show_sheet(request, sheet, _posted_screen(request), 422 if sheet.note else 200)


def _told_changes(text: str) -> dict[str, Any]:
    """Values by path as the page hands them back. Raises KeyError for anything else."""
    if "\\u0000" in text or "\0" in text:
        raise KeyError("changes")  # what no database holds
    try:
        found = json.loads(text[:20_000])
    except ValueError as error:
        raise KeyError("changes") from error
    if not isinstance(found, dict) or not found or services.WEATHER_PATH in found:
        raise KeyError("changes")  # weather has its own door
    return found


@require_POST
def move_place(request: HttpRequest, pk: int, letter: str) -> HttpResponse:
    """Move the site to a point of the outline (deg); its height comes from the shipped map."""
    try:
        latitude, longitude = (round(parse_number(request.POST.get(n, "")), 2) for n in ("latitude", "longitude"))
    except ValueError:
        raise Http404 from None

    def make(document: dict[str, Any]) -> dict[str, Any]:
        elevation = ground_m(min(max(latitude, -89.0), 89.0), min(max(longitude, -179.9), 179.9))
        place = {"latitude_deg": latitude, "longitude_deg": longitude, "elevation_m": max(elevation, -430.0)}
        return services.place_changes(document, place)

    sheet = apply_changes(own_design(request, pk, letter), request.user, make)
    return show_sheet(request, sheet, "site", 422 if sheet.note else 200)


@require_POST
def undo(request: HttpRequest, pk: int, letter: str) -> HttpResponse:
    return _stepped(request, own_design(request, pk, letter), services.step_back, "Nothing to undo.")


@require_POST
def redo(request: HttpRequest, pk: int, letter: str) -> HttpResponse:
    return _stepped(request, own_design(request, pk, letter), services.step_forward, "Nothing to redo.")


def _stepped(request: HttpRequest, design: Design, step: Any, none: str) -> HttpResponse:
    design, edit = step(design=design)
    sheet = Sheet(own_design(request, design.project_id, design.letter), request.user)
    if edit is None:
        sheet.note = none
    return show_sheet(request, sheet, _posted_screen(request))


@require_POST
def save(request: HttpRequest, pk: int, letter: str) -> HttpResponse:
    design = own_design(request, pk, letter)
    services.save_version(design=design, author=request.user)
    return show_sheet(request, Sheet(design, request.user), _posted_screen(request))


@require_POST
def designs(request: HttpRequest, pk: int, letter: str) -> HttpResponse:
    """Copy, name, put away or bring back a design."""
    design = own_design(request, pk, letter)
    do = request.POST.get("do", "")
    try:
        if do == "copy":
            design = services.copy_design(design=design, author=request.user)
        elif do == "blank":
            design = services.begin_design(
                design=design, author=request.user, name="blank scheme", note="",
                scheme={**blank_scheme(), "plane": design.scheme["plane"]}, wanted={},
            )  # fmt: skip
        elif do == "open":
            design = open_proposal(design, request.user, request.POST)
        elif do == "version":
            services.save_version(design=design, author=request.user, note=request.POST.get("note", ""))
        elif do in ("left", "right"):
            services.move_design(design=design, by=-1 if do == "left" else 1)
        elif do == "keep":
            services.describe_design(
                design=design, name=request.POST.get("name", ""), note=request.POST.get("note", "")
            )
        elif do == "archive":
            services.archive_design(design=design, archived=True)
            design = design.project.designs.filter(archived=False)[0]
        elif do == "return":
            version = get_object_or_404(design.versions, pk=_whole(request.POST.get("version"), 0, 2**31) or 0)
            services.return_to(design=design, author=request.user, version=version)
        elif do == "restore":
            services.archive_design(design=design, archived=False)
        else:
            raise Http404
    except HeatError as error:
        sheet = Sheet(design, request.user)
        sheet.note = f"Not done: {getattr(error, 'allowed', error)}."
        return show_sheet(request, sheet, _posted_screen(request), 422)
    return redirect("screen", pk, design.letter, _posted_screen(request))


def _taken_away(
    request: HttpRequest, pk: int, letter: str, name: str, make: Callable[[Sheet], str | bytes]
) -> HttpResponse:
    """A file made of the design's year, or the words why there is none."""
    sheet = Sheet(own_design(request, pk, letter), request.user)
    _look(sheet, request.GET.dict())
    try:
        made = make(sheet)
    except HeatError as error:
        return HttpResponse(str(error), status=422, content_type="text/plain; charset=utf-8")
    kind = "application/zip" if name.endswith(".zip") else "text/csv; charset=utf-8"
    answer = HttpResponse(made, content_type=kind)
    answer["Content-Disposition"] = f'attachment; filename="{name}"'
    return answer


def _told(make: Callable[[], dict[str, Any]]) -> HttpResponse:
    """What a script of the page asks for, or the words why there is none."""
    try:
        return JsonResponse(make())
    except HeatError as error:
        return JsonResponse({"problem": str(error)}, status=422)


@require_safe
def accounts(request: HttpRequest, pk: int, letter: str) -> HttpResponse:
    """Every account by month as a table of full precision."""
    return _taken_away(request, pk, letter, f"accounts-{letter}.csv", accounts_csv)


@require_safe
def hours(request: HttpRequest, pk: int, letter: str) -> HttpResponse:
    """Every hour of the year as a table: accounts in Wh, traces, layers, residual."""
    table = lambda sheet: hours_table(sheet.year.book).to_csv(index=False)
    return _taken_away(request, pk, letter, f"hours-{letter}.csv", table)


@require_safe
def report_figures(request: HttpRequest, pk: int, letter: str) -> HttpResponse:
    """The year's figures for a report, with their units."""
    return _taken_away(request, pk, letter, f"figures-{letter}.csv", figures_csv)


@require_safe
def shown_hours(request: HttpRequest, pk: int, letter: str) -> HttpResponse:
    """The hours and traces the days show, as a table."""

    def table(sheet: Sheet) -> str:
        _remember_traces(request, sheet)
        return shown_csv(sheet)

    return _taken_away(request, pk, letter, f"days-{letter}.csv", table)


@require_safe
def values(request: HttpRequest, pk: int, letter: str) -> HttpResponse:
    """The carpet's values in words."""
    sheet = Sheet(own_design(request, pk, letter), request.user)
    _look(sheet, request.GET.dict())
    return _told(lambda: carpet_values(sheet))


@require_safe
def bundle(request: HttpRequest, pk: int, letter: str) -> HttpResponse:
    """The year to take away: hours as CSV and Parquet, the columns' units, the design, the weather's checksum."""
    return _taken_away(request, pk, letter, f"year-{letter}.zip", year_bundle)


@require_safe
def play(request: HttpRequest, pk: int, letter: str) -> HttpResponse:
    """A fortnight of hours for the drawing to be played."""
    sheet = Sheet(own_design(request, pk, letter), request.user)
    return _told(lambda: played(sheet, _whole(request.GET.get("day"), 0, 364) or 0))


@require_http_methods(["GET", "HEAD"])
def next_steps(request: HttpRequest, pk: int, letter: str) -> HttpResponse:
    """What one step down or up of the chosen part's main value would buy: two more full years."""
    sheet = Sheet(own_design(request, pk, letter), request.user)
    part = request.GET.get("part", "store")
    if part == "kind":
        return render(request, "projects/swaps.html", {"rows": swaps(sheet)})
    if part == "add" or request.GET.get("instead") == "1":
        return render(
            request, "projects/swaps.html", {"rows": alternatives(sheet, part), "group": GROUPS_OF.get(part, ("",))[0]}
        )
    steps = next_step(sheet, part if part in PARTS else "store")
    return render(request, "projects/steps.html", {"steps": steps, "unit": units.unit_of("kWh", sheet.system).sign})
