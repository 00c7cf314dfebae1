"""The interface for programs: what a page can do, by a key instead of signing in."""

from typing import Any

import numpy as np
from django.db import transaction
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404
from ninja import File, NinjaAPI, Query, Router, UploadedFile
from ninja.errors import HttpError

from heat.design import current_values, parse
from heat.errors import HeatError, InputError
from heat.ledger import accounts as acc
from heat.ledger.year_book import BOUGHT, DELIVERED, SUN
from heat.studies.figures import figures
from heat.studies.outcome import KEYS, with_earlier_names
from heat.studies.plans import plan
from heat.studies.question import question_of
from heat.weather.world import KIND
from heat.weather.year import WeatherYear
from web.api import schemas
from web.api.addresses import Letter, Number, file_of
from web.api.permissions import (
    ODD,
    READ,
    SIMULATE,
    WRITE,
    answering,
    finite,
    idempotent,
    open_design,
    open_project,
    opened,
    whole_project,
    work_of,
)
from web.api.reports import router as reports
from web.editor.design_page import DesignPage
from web.firms.models import Firm
from web.jobs.models import Run
from web.jobs.services import answer, progress, request_run, stop_run
from web.places.where import Place
from web.prices.books import currency_of
from web.projects.climates import merrow_coast, rough_there
from web.projects.documents import served
from web.projects.models import Design, Project
from web.projects.permissions import counted, right_of
from web.projects.services import designs as design_services
from web.projects.services import sharing
from web.projects.services.edits import OF_PROJECT, change_values
from web.projects.services.weather import file_place, read_upload, use_weather
from web.simulations.cache import ENGINE, simulate, simulate_uncached
from web.simulations.weather import weather_year
from web.steps.year.step import hours_csv
from web.ui.rows import Row

PAGE = 50
ACCOUNTS = {
    "sun": SUN,
    "into_store": (acc.INTO_STORE, acc.INTO_POOL),
    "delivered": DELIVERED,
    "bought": BOUGHT,
    "unmet": (acc.UNMET,),
    "missing": (acc.UNMET,),  # the earlier name of unmet, for programs that read it
}
router = Router()


# ---- simulation


@router.post("/simulate", response={200: schemas.YearFigures, **ODD}, auth=SIMULATE, summary="The year of a document")
def simulate_document(request: Any, payload: schemas.SimulationRequest) -> Any:
    """The year of a design document with a project's weather, else the rough climate of a place; nothing is kept."""
    with work_of(request):  # a place's climate and a refusal are work, too
        weather = _weather(request, payload)
        design = served(parse(finite(payload.document)))
        return _simulated(simulate_uncached(design, weather), weather, payload.months)


@router.post(
    "/reckon",
    response={200: schemas.YearFigures, **ODD},
    auth=SIMULATE,
    summary="The year of a document, by its earlier address",
    deprecated=True,
)
def simulate_document_by_its_earlier_address(request: Any, payload: schemas.SimulationRequest) -> Any:
    """As ``/simulate``; programs written before it was called so still ask here."""
    return simulate_document(request, payload)


def _weather(request: Any, payload: schemas.SimulationRequest) -> WeatherYear:
    if payload.project is not None:
        project = open_project(request, payload.project)
        if project.weather is None:
            raise HeatError("This project has no weather yet.")
        return weather_year(project.weather)
    if payload.place is not None:
        return rough_there(payload.place.model_dump(), "a place")
    return merrow_coast()


def _simulated(book: Any, weather: WeatherYear, months: bool) -> dict[str, object]:
    numbers = {name: float(value) for name, value in figures(book, weather).items() if np.isfinite(value)}
    accounts = ACCOUNTS | {"lost": book.lost_columns}
    by_month = {f"{name}_kwh": [float(v) for v in book.by_month(*columns)] for name, columns in accounts.items()}
    rough = weather.made_up or weather.kind == KIND
    return {
        "weather": weather.name,
        "rough": rough,
        "engine": ENGINE,
        "figures": with_earlier_names(numbers),
        "months": by_month if months else None,
    }


# ---- projects and designs


def _project(request: Any, project: Project) -> dict[str, object]:
    return {
        "number": project.pk,
        "name": project.name,
        "place": project.place,
        "revision": project.revision,
        "firm": project.firm.name if project.firm else "",
        "right": right_of(request.auth.user, project),
        "changed": project.changed,
        "designs": [design.letter for design in project.designs.all()],
    }


@router.get("/projects", response={200: schemas.Projects, **ODD}, auth=READ, summary="Projects")
def list_projects(request: Any, page: int = Query(1, ge=1, le=100_000)) -> Any:  # type: ignore[type-arg]
    """The projects the key's person may open, fifty a page, last changed first."""
    user, only = request.auth.user, request.auth.project
    found = Project.objects.visible_to(user).with_weather().with_right_of(user).prefetch_related("designs")
    if only is not None:
        found = found.filter(pk=only)
    rows = found[(page - 1) * PAGE : page * PAGE]
    count = counted(user)["displayed"] if only is None else len(rows)
    return {"projects": [_project(request, project) for project in rows], "count": count}


@router.post("/projects", response={201: schemas.ProjectOut, **ODD}, auth=WRITE, summary="Begin a project")
def begin_project(request: Any, payload: schemas.NewProject) -> Any:
    """A project in the rough climate of its place, complete and simulated from the first moment. Sent again under the
    same Idempotency-Key header, it is the same project."""
    whole_project(request)
    finite([payload.name, payload.words])
    place = None
    if payload.place is not None:
        words = payload.words.strip() or f"{payload.place.latitude_deg:.2f}, {payload.place.longitude_deg:.2f}"
        place = Place(words, payload.place.latitude_deg, payload.place.longitude_deg)

    def begun() -> Project:
        with transaction.atomic():
            user = request.auth.user
            project = design_services.begin_project(
                owner=user, name=payload.name.strip(), place=place, book=currency_of(user)
            )
            if payload.firm is not None:
                firm = get_object_or_404(Firm.objects.of(request.auth.user), pk=payload.firm)
                sharing.give_to_firm(project=project, author=request.auth.user, firm=firm)
        return Project.objects.with_weather().get(pk=project.pk)

    again = lambda place: open_project(request, int(place))
    return 201, _project(request, idempotent(request, begun, again, lambda project: str(project.pk)))


@router.get("/projects/{int:pk}", response={200: schemas.ProjectOut, **ODD}, auth=READ, summary="One project")
def one_project(request: Any, pk: Number) -> Any:
    """A project by its number."""
    return _project(request, open_project(request, pk))


def _design(design: Design) -> dict[str, object]:
    return {
        "letter": design.letter,
        "name": design.name,
        "note": design.note,
        "document": design.document(),
        "revision": design.project.revision,
    }


@router.get(
    "/projects/{int:pk}/designs/{letter}", response={200: schemas.DesignOut, **ODD}, auth=READ, summary="A design"
)
def one_design(request: Any, pk: Number, letter: Letter) -> Any:
    """A design with its whole document."""
    return _design(open_design(request, pk, letter))


@router.patch(
    "/projects/{int:pk}/designs/{letter}", response={200: schemas.DesignOut, **ODD}, auth=WRITE, summary="Change values"
)
def change_design(request: Any, pk: Number, letter: Letter, payload: schemas.ValueChanges) -> Any:
    """Values by dotted path, as one edit that can be undone on the page."""
    if set(payload.set) & set(OF_PROJECT):
        raise InputError("set", None, "weather and place have their own addresses")
    with transaction.atomic():
        design = open_design(request, pk, letter, "survey")
        try:
            made = change_values(
                design=design,
                author=request.auth.user,
                changes=current_values(finite(payload.set)),
                expected=current_values(finite(payload.expected | payload.seen)),
                force=payload.force,
            )
        except KeyError as error:
            raise HttpError(422, f"There is no value at {str(error)[:120]}.") from error
    return _design(made)


@router.get(
    "/projects/{int:pk}/designs/{letter}/year",
    response={200: schemas.YearFigures, **ODD},
    auth=READ,
    summary="A design's year",
)
def design_year(request: Any, pk: Number, letter: Letter, months: bool = False) -> Any:
    """The year of a design as it now stands."""
    design = open_design(request, pk, letter)
    if design.project.weather is None:
        raise HeatError("This project has no weather yet.")
    with work_of(request):
        year = simulate(design.document(), design.project.weather)
        return _simulated(year.book, weather_year(design.project.weather), months)


@router.get(
    "/projects/{int:pk}/designs/{letter}/hours.csv",
    response=ODD,
    auth=READ,
    summary="Every hour of a year",
    openapi_extra=file_of("text/csv; charset=utf-8"),
)
def design_hours(request: Any, pk: Number, letter: Letter) -> Any:
    """Every hour of a design's year as a table."""
    design = open_design(request, pk, letter)
    with work_of(request):
        return HttpResponse(hours_csv(DesignPage(design, request.auth.user)), content_type="text/csv; charset=utf-8")


# ---- weather


def _file(file: Any, project: Project) -> dict[str, object]:
    return {
        "number": file.pk,
        "name": file.name,
        "kind": file.kind,
        "made_up": file.made_up,
        "in_use": file.pk == project.weather_id,
        "checksum": file.checksum,
    }


@router.get(
    "/projects/{int:pk}/weather", response={200: list[schemas.WeatherOut], **ODD}, auth=READ, summary="Weather years"
)
def list_weather(request: Any, pk: Number) -> Any:
    """The weather years kept with a project."""
    project = open_project(request, pk)
    return [_file(file, project) for file in project.weather_files.filter(deleted=None)]


@router.post(
    "/projects/{int:pk}/weather", response={201: schemas.WeatherIn, **ODD}, auth=WRITE, summary="Bring weather"
)
def bring_weather(
    request: Any,
    pk: Number,
    file: UploadedFile = File(...),  # type: ignore[type-arg] # noqa: B008
    use: bool = False,
    take_place: bool = False,
) -> Any:
    """A weather file, read and checked as on the page. With “use” the project is simulated with it from now on, with
    “take_place” its site moves to where the file is from; the answer says what changed. Both can be undone there."""
    if take_place and not use:
        raise InputError("take_place", take_place, "true together with use")
    project = open_project(request, pk, "survey")
    design = project.designs.order_by("archived", "place")[0]
    design.project = project
    with work_of(request):
        stored = read_upload(design=design, author=request.auth.user, name=file.name or "weather", raw=file.read())
    where = lambda one: {f"site.{name}": one.survey["site"][name] for name in file_place(stored)}
    before = where(project)
    if use:
        use_weather(design=design, author=request.auth.user, file=stored, take_place=take_place)
    project = Project.objects.get(pk=pk)
    now = where(project)
    changed = {path: {"before": was, "now": now[path]} for path, was in before.items() if now[path] != was}
    return 201, _file(stored, project) | {"changed": changed, "moved": changed}


# ---- sweeps


@router.post(
    "/projects/{int:pk}/designs/{letter}/sweeps",
    response={202: schemas.RunOut, **ODD},
    auth=SIMULATE,
    summary="Ask a sweep",
)
def request_sweep(request: Any, pk: Number, letter: Letter, payload: schemas.Sweep) -> Any:
    """Every combination of answers as a year, or a sample of them; asked before, it is the same sweep."""
    design = open_design(request, pk, letter, "edit")
    questions = finite([one.model_dump() for one in payload.questions])
    requested = {"questions": questions, "most": payload.most, "seed": 1}
    question = question_of(requested)
    size = len(plan(question.counts, question.most, question.seed))
    run_question = {"asked": requested, "keys": [], "own": []}
    run = request_run(
        design=design,
        author=request.auth.user,
        purpose="choices",
        question=run_question,
        size=size,
        token=request.auth.pk,
    )
    return 202, _run(run)


def _run(run: Run) -> Row:
    far = progress(run)
    return {
        "number": run.pk,
        "purpose": run.purpose,
        "size": far.size,
        "done": far.done,
        "finished": far.finished,
        "stopped": far.stopped,
        "left_s": None if far.finished else far.left_s,
    }


def _open_run(request: Any, number: int) -> Run:
    found = Run.objects.select_related("project").filter(pk=min(number, 2**62)).first()
    if found is None:
        raise Http404
    found.project = open_project(request, found.project_id)
    return found


@router.get("/runs/{int:number}", response={200: schemas.RunOut, **ODD}, auth=READ, summary="How far a sweep is")
def run_progress(request: Any, number: Number) -> Any:
    """How many of its years are done."""
    return _run(_open_run(request, number))


@router.get(
    "/runs/{int:number}/results", response={200: schemas.Results, **ODD}, auth=READ, summary="What came of a sweep"
)
def run_results(request: Any, number: Number) -> Any:
    """Its rows, as far as they are done."""
    run = _open_run(request, number)
    if run.purpose != "choices":
        raise HeatError("Only sweeps have rows: this run answers another kind of question.")
    question = question_of(run.question["asked"])
    levels = plan(question.counts, question.most, question.seed)
    found = answer(run)
    return {
        "questions": [one.name for one in question.questions],
        "rows": [
            {one.name: one.answers[int(level)].name for one, level in zip(question.questions, row, strict=True)}
            | with_earlier_names(
                {key: float(v) if np.isfinite(v) else None for key, v in zip(KEYS, found.figures[i], strict=True)}
            )
            | ({"refused": found.refused[i]} if i in found.refused else {})
            for i, row in enumerate(levels)
        ],
    }


@router.delete("/runs/{int:number}", response={200: schemas.RunOut, **ODD}, auth=SIMULATE, summary="Stop a sweep")
def end_run(request: Any, number: Number) -> Any:
    """Stop it: what is calculated stays."""
    run = _open_run(request, number)
    stop_run(run=run, author=request.auth.user)
    return _run(Run.objects.get(pk=run.pk))


api = NinjaAPI(
    title="Red Ledger",
    version="1",
    docs_url=None,
    urls_namespace="api",
    description="Solar heating, calculated by the hour. Every number's name ends in its unit. " + schemas.LIMITS,
)
answering(api)
api.add_router("", router)
api.add_router("", reports)


def patterns() -> list[Any]:
    """Every address of the interface."""
    return opened(api.urls[0])
