"""Short views: find the design the person may see, change it through a service, show the sheet."""

from typing import Any
from urllib.parse import parse_qs, urlencode, urlsplit

from django import forms
from django.conf import settings
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from heat.errors import HeatError, WeatherFileError
from web.demo.climates import merrow_coast
from web.projects import services
from web.projects.account import account, cautions, explanations, tally
from web.projects.drawing import drawing
from web.projects.edits import apply_edit
from web.projects.models import Design, Project
from web.projects.panels import PARTS, demand_page, next_step, panel, site_page
from web.projects.sheet import Sheet
from web.ui import units

SCREENS = ("demand", "site", "scheme")
DEFAULT_HOUR = 10
TITLES = {"demand": "Demand", "site": "Site", "scheme": "Scheme and year"}


def _design(request: HttpRequest, pk: int, letter: str) -> Design:
    project = get_object_or_404(Project.objects.visible_to(request.user), pk=pk)
    design = get_object_or_404(project.designs, letter=letter)
    design.project = project
    return design


def _query(request: HttpRequest) -> dict[str, str]:
    """Which part and hour the page shows: from its own address, or of the page that posts."""
    if request.method == "POST":
        address = request.htmx.current_url or request.POST.get("from", "")
        return {k: v[0] for k, v in parse_qs(urlsplit(address or "").query).items()}
    return request.GET.dict()


def _whole(text: str | None, low: int, high: int) -> int | None:
    try:
        return min(max(int(text or ""), low), high)
    except ValueError:
        return None


def _show(request: HttpRequest, sheet: Sheet, screen: str, status: int = 200, **more: Any) -> HttpResponse:
    query = _query(request)
    sheet.part = query.get("part", "store") if query.get("part", "store") in PARTS else "store"
    sheet.day = _whole(query.get("day"), 0, 364)
    hour = _whole(query.get("hour"), 0, 23)
    sheet.hour = DEFAULT_HOUR if hour is None else hour
    here = reverse("screen", args=(sheet.project.pk, sheet.design.letter, screen))
    context: dict[str, Any] = {
        "here": f"{here}?{urlencode(query)}" if query else here,
        "sheet": sheet,
        "screen": screen,
        "screens": [(s, TITLES[s]) for s in SCREENS],
        **more,
    }
    try:
        context["tally"] = tally(sheet)
        context["why"] = explanations(sheet)
        context["cautions"] = cautions(sheet)
        if screen == "scheme":
            context |= {"drawing": drawing(sheet), "account": account(sheet), "panel": panel(sheet), "parts": PARTS}
        elif screen == "demand":
            context |= demand_page(sheet)
        else:
            context |= site_page(sheet)
    except HeatError as error:
        context["problem"] = str(error)
    template = "projects/desk.html" if request.htmx else "projects/page.html"
    return render(request, template, context, status=status)


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
    return redirect("screen", project.pk, "A", "demand")


@require_safe
def screen(request: HttpRequest, pk: int, letter: str, screen: str) -> HttpResponse:
    if screen not in SCREENS:
        raise Http404
    return _show(request, Sheet(_design(request, pk, letter), request.user), screen)


def _posted_screen(request: HttpRequest) -> str:
    wanted = request.POST.get("screen", "scheme")
    return wanted if wanted in SCREENS else "scheme"


@require_POST
def edit(request: HttpRequest, pk: int, letter: str) -> HttpResponse:
    post = request.POST
    design = _design(request, pk, letter)
    known = _whole(post.get("revision"), 0, 2**31) or 0
    sheet = apply_edit(
        design, request.user, post.get("path", ""), post.get("value", ""),
        post.get("seen", ""), post.get("force") == "1",
    )  # fmt: skip
    others = design.project.edits.filter(revision__gt=known, dropped=False).exclude(path=post.get("path", ""))
    if known and others.exists():
        names = ", ".join(sorted({sheet.pen(e.path).label for e in others if e.path in _pens(sheet, others)}))
        sheet.note = f"Also changed in another tab: {names or 'something'}. Both edits stand."
    return _show(request, sheet, _posted_screen(request), 422 if sheet.refusals or not post.get("path") else 200)


def _pens(sheet: Sheet, edits: Any) -> set[str]:
    """Paths among the edits that a pen can show (the weather file cannot)."""
    return {e.path for e in edits if e.path not in (services.WEATHER_PATH, "demand.hour_shape")}


@require_POST
def undo(request: HttpRequest, pk: int, letter: str) -> HttpResponse:
    return _stepped(request, _design(request, pk, letter), services.step_back, "Nothing to undo.")


@require_POST
def redo(request: HttpRequest, pk: int, letter: str) -> HttpResponse:
    return _stepped(request, _design(request, pk, letter), services.step_forward, "Nothing to redo.")


def _stepped(request: HttpRequest, design: Design, step: Any, none: str) -> HttpResponse:
    design, edit = step(design=design)
    sheet = Sheet(_design(request, design.project_id, design.letter), request.user)
    if edit is None:
        sheet.note = none
    return _show(request, sheet, _posted_screen(request))


@require_POST
def save(request: HttpRequest, pk: int, letter: str) -> HttpResponse:
    design = _design(request, pk, letter)
    services.save_version(design=design, author=request.user)
    return _show(request, Sheet(design, request.user), _posted_screen(request))


class WeatherForm(forms.Form):
    file = forms.FileField(allow_empty_file=True)
    take_place = forms.BooleanField(required=False)

    def clean_file(self) -> Any:
        file = self.cleaned_data["file"]
        if file.size > settings.WEATHER_UPLOAD_LIMIT:
            raise forms.ValidationError(
                f"{file.name}: {file.size / 1e6:.0f} MB is too large; a year of hours needs under "
                f"{settings.WEATHER_UPLOAD_LIMIT / 1e6:.0f} MB."
            )
        return file


@require_POST
def weather(request: HttpRequest, pk: int, letter: str) -> HttpResponse:
    design = _design(request, pk, letter)
    sheet = Sheet(design, request.user)
    chosen = _whole(request.POST.get("use"), 0, 2**31)
    if chosen is not None:
        get_object_or_404(design.project.weather_files, pk=chosen)
        services.change_value(design=design, author=request.user, path=services.WEATHER_PATH, value=chosen)
        return redirect("screen", pk, letter, "site")
    form = WeatherForm(request.POST, request.FILES)
    if not form.is_valid():
        errors = form.errors.get("file", ["Choose a file first."])
        return _show(request, sheet, "site", 422, weather_problem=errors[0])
    file = form.cleaned_data["file"]
    try:
        services.upload_weather(
            design=design, author=request.user, name=file.name, raw=file.read(),
            take_place=form.cleaned_data["take_place"],
        )  # fmt: skip
    except WeatherFileError as error:
        return _show(request, sheet, "site", 422, weather_problem=str(error))
    return redirect("screen", pk, letter, "site")


@require_POST
def shift(request: HttpRequest, pk: int, letter: str) -> HttpResponse:
    design = _design(request, pk, letter)
    if design.project.weather.offered_shift_h:
        services.shift_weather(design=design, author=request.user, file=design.project.weather)
    return redirect("screen", pk, letter, "site")


@require_http_methods(["GET", "HEAD"])
def next_steps(request: HttpRequest, pk: int, letter: str) -> HttpResponse:
    """What one step down or up of the chosen part's main value would buy: two more full years."""
    sheet = Sheet(_design(request, pk, letter), request.user)
    part = request.GET.get("part", "store")
    steps = next_step(sheet, part if part in PARTS else "store")
    return render(request, "projects/steps.html", {"steps": steps, "unit": units.unit_of("kWh", sheet.system).sign})
