"""The interface's own page: every address with what it takes and gives, and a line to try it by."""

import json

from django.http import HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe

from heat.common.documents import Values
from web.accounts.models import User
from web.accounts.requests import SignedIn
from web.api.endpoints import api
from web.jobs.models import Run
from web.logs.models import Log
from web.projects.models import Project
from web.reports.models import Report
from web.ui.origin import public_origin
from web.ui.rows import Row

PLACE = {"latitude_deg": 46.4, "longitude_deg": -30.0}
VOLUME = "system.store.volume_l"
ANSWERS = [{"name": f"{litres} L", "set": {VOLUME: litres}} for litres in (300, 400)]
DESIGN = "/api/projects/{pk}/designs/{letter}"
SAMPLES: dict[str, object] = {
    "/api/simulate": {"document": {"system": {"store": {"volume_l": 400}}}, "place": PLACE},
    "/api/projects": {"name": "Tern Lane", "place": PLACE},
    DESIGN: {"set": {VOLUME: 400}, "expected": {VOLUME: 300}},
    f"{DESIGN}/sweeps": {"questions": [{"name": "store", "answers": ANSWERS}]},
    f"{DESIGN}/reports": {"title": "For the client", "units": "si"},
    "/api/logs/{pk}/readings": {"readings": [{"at": "2026-05-02T10:15:00", "collector": 54.2, "store": [31, 42]}]},
}
"""What may be sent, by address."""


def _examples(user: User) -> dict[str, dict[str, str]]:
    """What stands for the parts of an address in its line, by the beginning of the address: things of the reader's own
    where there are any, so that a line that is copied answers."""
    projects = Project.objects.visible_to(user)
    project = projects.first()
    letter = project.designs.values_list("letter", flat=True)[0] if project else "A"
    report = Report.light.filter(project__in=projects).order_by("-issued").first()
    run = Run.objects.filter(project__in=projects, purpose="choices").first()
    log = Log.objects.filter(project__in=projects).first()
    usual = {"{pk}": str(project.pk if project else 1), "{letter}": letter, "{number}": "1"}
    return {
        "/api/projects/{pk}/reports/": usual
        | ({"{pk}": str(report.project_id), "{number}": str(report.number)} if report else {}),
        "/api/runs/": {"{number}": str(run.pk)} if run else usual,
        "/api/logs/": {"{pk}": str(log.pk)} if log else usual,
        "": usual,
    }


@require_safe
def docs(request: SignedIn) -> HttpResponse:
    """Every address of the interface."""
    examples = _examples(request.user)
    schema = api.get_openapi_schema()
    host = public_origin(request)
    rows = [
        _row(method.upper(), path, text, host, examples)
        for path, methods in schema["paths"].items()
        for method, text in methods.items()
    ]
    return render(request, "api/docs.html", {"rows": rows, "about": schema["info"]["description"]})


def _row(method: str, path: str, payload: Values, host: str, examples: dict[str, dict[str, str]]) -> Row:
    address = path
    for part, value in next(here for begins, here in examples.items() if path.startswith(begins)).items():
        address = address.replace(part, value)
    line = f'curl -H "Authorization: Bearer $KEY" {host}{address}'
    if method in ("POST", "PATCH", "DELETE"):
        line = line.replace("curl", f"curl -X {method}", 1)
    if path.endswith("/weather") and method == "POST":
        line += " -F file=@weather.csv"
    elif path in SAMPLES and method in ("POST", "PATCH"):
        line += f" -H 'Content-Type: application/json' -d '{json.dumps(SAMPLES[path])}'"
    return {
        "method": method,
        "path": path,
        "summary": payload.get("summary", ""),
        "about": payload.get("description", ""),
        "line": line,
    }
