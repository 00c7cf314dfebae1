"""The interface's own page: every address with what it takes and gives, and a line to try it by."""

import json
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe

from web.api.addresses import api
from web.ui.origin import public_origin

PLACE = {"latitude_deg": 46.4, "longitude_deg": -30.0}
VOLUME = "system.store.volume_l"
ANSWERS = [{"name": f"{litres} L", "set": {VOLUME: litres}} for litres in (300, 400)]
DESIGN = "/api/projects/{pk}/designs/{letter}"
SAMPLES: dict[str, Any] = {
    "/api/reckon": {"document": {"system": {"store": {"volume_l": 400}}}, "place": PLACE},
    "/api/projects": {"name": "Tern Lane", "place": PLACE},
    DESIGN: {"set": {VOLUME: 400}, "seen": {VOLUME: 300}},
    f"{DESIGN}/sweeps": {"questions": [{"name": "store", "answers": ANSWERS}]},
    f"{DESIGN}/reports": {"title": "For the client", "units": "si"},
    "/api/logs/{pk}/readings": {"readings": [{"at": "2026-05-02T10:15:00", "collector": 54.2, "store": [31, 42]}]},
}
"""What may be sent, by address."""
HERE = {"{pk}": "4", "{letter}": "A", "{number}": "1"}


@require_safe
def docs(request: HttpRequest) -> HttpResponse:
    """Every address of the interface."""
    schema = api.get_openapi_schema()
    host = public_origin(request)
    rows = [
        _row(method.upper(), path, told, host)
        for path, methods in schema["paths"].items() for method, told in methods.items()
    ]  # fmt: skip
    return render(request, "api/docs.html", {"rows": rows, "about": schema["info"]["description"]})


def _row(method: str, path: str, told: dict[str, Any], host: str) -> dict[str, Any]:
    address = path
    for part, value in HERE.items():
        address = address.replace(part, value)
    line = f'curl -H "Authorization: Bearer $KEY" {host}{address}'
    if method in ("POST", "PATCH", "DELETE"):
        line = line.replace("curl", f"curl -X {method}", 1)
    if path.endswith("/weather") and method == "POST":
        line += " -F file=@weather.csv"
    elif path in SAMPLES and method in ("POST", "PATCH"):
        line += f" -H 'Content-Type: application/json' -d '{json.dumps(SAMPLES[path])}'"
    return {"method": method, "path": path, "summary": told.get("summary", ""), "about": told.get("description", ""),
            "line": line}  # fmt: skip
