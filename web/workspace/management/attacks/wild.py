"""Edits, forms and uploads that nobody foresaw, through HTTP, and workers killed meanwhile."""

import random
import re
import sys
from http.client import HTTPException
from urllib.parse import urljoin

from heat.design.schemes import SCHEMES
from web.accounts.models import User
from web.logs.archive import logs_file
from web.logs.services import begin_log
from web.prices.books import csv_of, prices_of
from web.projects.archive import project_file
from web.projects.models import Design, Project
from web.workspace.management.attacks.people import PASSWORD, at_work
from web.workspace.management.forms import ODD as ODD_VALUES
from web.workspace.management.forms import Forms, spoilt
from web.workspace.management.serving import Person, Server
from web.workspace.management.uploads import Sound, upload
from web.workspace.registry import steps
from web.workspace.routes import SHARED

WILD, KILLED, FORMS, UPLOADS = 1500, 60, 1500, 1000
"""How many of each are tried."""


def matrix(server: Server, made: list[User]) -> dict[str, float]:
    """Every address of one person's design, asked for by another and by nobody: how many, and how many let them in."""
    owner, stranger = made[0], Person(server.port).sign_in(made[1].username, PASSWORD)
    project = Project.objects.filter(owner=owner).order_by("pk")[0]
    base = f"/projects/{project.pk}/A/"
    parts = [(fragment.path, "GET") for step in steps() for fragment in step.fragments]
    parts += [(file.path, "GET") for step in steps() for file in step.downloads]
    parts += [(step.key, "GET") for step in steps()]
    parts += [(action.path, "POST") for step in steps() for action in step.actions] + [
        (name, "POST") for name in SHARED
    ]
    requested = let_in = 0
    for path, method in parts:
        address = base + re.sub(r"<int:\w+>", "1", re.sub(r"<(str|slug):\w+>", "csv", path))
        for person in (stranger, Person(server.port)):
            status = person.request(method, address, {} if method == "POST" else None)[0]
            requested, let_in = requested + 1, let_in + (status < 300)
    return {"addresses_asked": requested, "addresses_let_in": let_in}


ODD = ("", "x", "-1", "1e400", "9" * 4500, "\u00b2", "NaN", "[1]", "\U0001f31e", "1,5", "0")
PATHS = (
    "system.store.volume_l",
    "demand.people",
    "plane.tilt_deg",
    "site.latitude_deg",
    "site.skyline",
    "demand.hour_shape",
    "site.trees.0.altitude_deg",
    "site.planes.0.tilt_deg",
    "system.used",
    "nowhere",
    "demand.showers.1.minutes",
)
LISTS = ("site.trees", "site.planes", "site.obstacles", "demand.showers")


def wild(server: Server, made: list[User]) -> dict[str, float]:
    """Wild edits of one project in two tabs that know nothing of each other: how many, and how many failed."""
    (one, base), (two, _base) = at_work(server, made[:1] * 2, 2)
    dice, failed, known, slowest = random.Random(14), 0, 0, 0.0
    for number in range(WILD):
        tab, act = dice.choice((one, two)), dice.random()
        form: dict[str, object] = {"screen": dice.choice(("site", "scheme", "demand", "year")), "revision": known}
        if act < 0.6:
            value = dice.choice((*ODD, str(dice.randrange(1, 90))))
            address = "edit"
            form |= {"path": dice.choice(PATHS), "value": value, "expected": dice.choice(("", "3"))}
        elif act < 0.8:
            address = "rows"
            form |= {"path": dice.choice(LISTS)} | ({"index": dice.randrange(3)} if dice.random() < 0.6 else {})
        elif act < 0.9:
            address = dice.choice(("undo", "redo"))
        else:
            address, kind = "choose", dice.choice(tuple(SCHEMES))
            form |= {"preset": f"kind {kind}", "force": dice.choice(("", "1"))}
        status, text, ms = tab.request("POST", base + address, form | {"key": f"wild-{number}"})
        failed, slowest = failed + (status >= 500), max(slowest, ms)
        known = int(text.partition('data-revision="')[2].partition('"')[0] or known) if dice.random() < 0.5 else known
    return {"wild_edits": WILD, "wild_failed": failed, "wild_slowest_ms": slowest}


def killed(server: Server, made: list[User]) -> dict[str, float]:
    """Workers killed while someone edits: edits acknowledged, and acknowledged edits that are not kept."""
    ((person, base),) = at_work(server, made[2:3], 1)
    acknowledged = lost = 0
    for number in range(KILLED):
        if number % 10 == 5:
            server.kill_worker()
        value = 200 + number
        try:
            form = {"path": "system.store.volume_l", "value": value, "screen": "scheme", "key": f"killed-{number}"}
            status = person.request("POST", base + "edit", form)[0]
        except (OSError, HTTPException):
            continue
        if status == 200:
            acknowledged += 1
            stored = Design.objects.get(project__owner=made[2]).scheme["system"]["store"]["volume_l"]
            lost += stored != value
    return {"killed_edits": acknowledged, "killed_lost": lost}


def forms(server: Server, made: list[User]) -> dict[str, float]:
    """Every form and value of every page with odd values: how many, how many failed, the slowest (ms)."""
    ((person, base),) = at_work(server, made[3:4], 1)
    pages = [f"{base}{step.key}?view={view.key}" for step in steps() for view in step.views if view.listed]
    dice, failed, slowest = random.Random(31), 0, 0.0
    for number in range(FORMS):
        here = pages[number % len(pages)]
        found = Forms(person.request("GET", here)[1])
        if found.paths and (dice.random() < 0.4 or not found.forms):
            address, method = f"{base}edit", "POST"
            posted: dict[str, object] = {"path": dice.choice(found.paths), "value": dice.choice(ODD_VALUES)}
        else:
            form = dice.choice([f for f in found.forms if f.action.startswith("/projects/")] or found.forms)
            address, method, posted = urljoin(here, form.action or here), form.method.upper(), spoilt(form, dice)
        status, _text, ms = person.request(method, address, posted if method == "POST" else None)
        if status >= 500 and status != 503:
            failed += 1
            print(f"form {number}: {status} {address} {str(posted)[:200]}", file=sys.stderr)
        slowest = max(slowest, ms)
    return {"forms": FORMS, "forms_failed": failed, "forms_slowest_ms": slowest}


def uploads(server: Server, made: list[User]) -> dict[str, float]:
    """Mangled uploads of every kind: how many, how many failed, the slowest (ms), how many were stored and broken."""
    user = made[4]
    project = Project.objects.select_related("weather", "owner", "firm").filter(owner=user).order_by("pk")[0]
    design = project.designs.get()
    log = begin_log(design=design, author=user)
    raw = project_file(project, csv_of(prices_of(user), "EUR"), logs_file(project))
    ((person, base),) = at_work(server, [user], 1)
    sound, failed, broken, slowest = Sound(base, log.pk, raw), 0, 0, 0.0
    for number in range(UPLOADS):
        one = upload(number, sound)
        address = one.at if one.at.startswith("/") else base + one.at
        status, _text, ms = person.send(address, one.form | {"screen": "scheme"}, one.input, one.name, one.raw)
        slowest = max(slowest, ms)
        if status >= 500 and status != 503:
            failed += 1
            print(f"upload {number}, {one.kind}: {status}", file=sys.stderr)
        if one.kind == "project" and person.location.startswith("/projects/"):
            folder = re.sub(r"[^/]*$", "", person.location)
            if any(person.request("GET", folder + step.key)[0] >= 500 for step in steps()):
                broken += 1
                print(f"upload {number} was stored and does not open", file=sys.stderr)
            Project.objects.filter(owner=user).exclude(pk=project.pk).delete()
    return {"uploads": UPLOADS, "uploads_failed": failed, "uploads_broken": broken, "uploads_slowest_ms": slowest}
