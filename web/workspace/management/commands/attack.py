"""Try the running application by load: a long list of projects, and many designers at once, each editing and asking.

Bounded in number and time, on this machine alone, with people and projects made for it and taken away again.
"""

import json
import random
import re
import statistics
import sys
import warnings
from argparse import ArgumentParser
from collections.abc import Collection
from concurrent.futures import ThreadPoolExecutor
from http.client import HTTPException
from time import monotonic, sleep
from typing import Any
from uuid import uuid4

import numpy as np
from django.core.management.base import BaseCommand

from heat.constants import HOURS
from heat.design import parse
from heat.design.schemes import SCHEMES
from heat.errors import HeatError, WeatherFileError
from heat.results import figures
from heat.tests.mangled import mangled
from heat.tests.random_designs import random_design
from heat.tests.samples import weather_for
from heat.weather.checks import checked
from heat.weather.readers import read_weather
from heat.year import simulate
from web.accounts.models import User
from web.firms.models import Firm, Member
from web.firms.services import found as found_firm
from web.projects.climates import merrow_coast
from web.projects.models import Design, Project
from web.projects.services.designs import create_project
from web.projects.services.sharing import give_to_firm
from web.runs.services import ask_run, progress, stop_run
from web.workspace.addresses import SHARED
from web.workspace.management.serving import Person, Server
from web.workspace.management.weighing import SPREADS
from web.workspace.registry import steps

NAME, PASSWORD = "attack", "bench-harbour-7"
EDIT_EVERY_S, ASKS_AFTER_S, LASTS_S = 2.0, 0.5, 30.0
"""How often a designer edits, how long after an answer the page asks for its steps, how long all of it lasts."""
LISTED = 500
BUSY, EDITS_EACH = 5, 240
"""People who edit without rest, and how often each."""
FILES, DOCUMENTS, WILD, KILLED = 1000, 10_000, 3000, 60
"""How many of each are tried."""
JOB, GROWN = 1000, 5000
"""Years of the job that runs beside, and edits over which a process's growth is looked at."""
PARTS = ("list", "load", "growth", "wild", "documents", "files")


def people(count: int) -> list[User]:
    """So many people, each with a project of their own."""
    Firm.objects.filter(head__username__startswith=NAME).delete()
    User.objects.filter(username__startswith=NAME).delete()
    made = [User.objects.create_user(f"{NAME}{i}", password=PASSWORD) for i in range(count)]
    for user in made:
        create_project(owner=user, name="load", place="", weather=merrow_coast())
    return made


def long_list(user: User) -> None:
    """Many projects of one person, each another year."""
    first = Project.objects.get(owner=user)
    design = first.designs.get()
    projects = [
        Project(owner=user, name=f"project {i}", survey=first.survey, weather=first.weather) for i in range(LISTED - 1)
    ]
    for project in Project.objects.bulk_create(projects):
        scheme = {**design.scheme, "plane": {**design.scheme["plane"], "tilt_deg": 20 + project.pk % 500 / 10}}
        Design.objects.create(project=project, letter="A", name="one of many", scheme=scheme)


def busy(person: Person, base: str, number: int) -> None:
    """One edit after the other, without rest."""
    for k in range(EDITS_EACH):
        form = {"path": "system.store.volume_l", "value": 200 + (7 * k + 13 * number) % 300, "screen": "scheme"}
        if person.request("POST", base + "edit", form)[0] != 200:
            raise RuntimeError("An edit was not taken.")


def designer(person: Person, base: str, number: int) -> list[float]:
    """Milliseconds of each edit of someone who edits, waits for the ink, and whose page then asks for its steps."""
    taken: list[float] = []
    until = monotonic() + LASTS_S
    sleep(EDIT_EVERY_S * (number % 10) / 10)
    while monotonic() < until:
        start = monotonic()
        value = 200 + (7 * len(taken) + 13 * number) % 300
        form = {"path": "system.store.volume_l", "value": value, "screen": "scheme", "key": uuid4().hex}
        status, text, ms = person.request("POST", base + "edit", form)
        if status != 200 or "Account of the year" not in text:
            raise RuntimeError(f"An edit answered {status}.")
        taken.append(ms)
        sleep(ASKS_AFTER_S)
        revision = text.partition('data-revision="')[2].partition('"')[0]
        person.request("GET", f"{base}steps?part=store&r={revision}")
        sleep(max(EDIT_EVERY_S - (monotonic() - start), 0.0))
    return taken


def at_work(server: Server, made: list[User], count: int) -> list[tuple[Person, str]]:
    """So many people, signed in, and the address of the design of each."""
    told = []
    for user in made[:count]:
        project = Project.objects.filter(owner=user).order_by("pk")[0]
        person, base = Person(server.port).sign_in(user.username, PASSWORD), f"/projects/{project.pk}/A/"
        person.request("GET", base + "scheme")  # an edit comes from a page that was opened
        told.append((person, base))
    return told


def load(server: Server, made: list[User], count: int) -> dict[str, float]:
    """So many designers at once."""
    told = at_work(server, made, count)
    with ThreadPoolExecutor(count) as pool:
        jobs = [pool.submit(designer, person, base, i) for i, (person, base) in enumerate(told)]
        taken = [ms for job in jobs for ms in job.result()]
    return {
        f"load{count}_edits": len(taken),
        f"load{count}_median_ms": statistics.median(taken),
        f"load{count}_p95_ms": float(np.percentile(taken, 95)),
    }


def beside_a_job(server: Server, made: list[User]) -> dict[str, float]:
    """Twenty designers while the server's own worker reckons a long question: their edits, and how far it came."""
    design = Design.objects.select_related("project__weather", "project__owner").get(project__owner=made[49])
    question = {"spreads": SPREADS, "seed": 5}
    run = ask_run(design=design, author=made[49], purpose="doubt", question=question, size=JOB)
    found = load(server, made, 20)
    far = progress(run)
    stop_run(run=run, author=made[49])
    return {"load20_with_job_p95_ms": found["load20_p95_ms"], "job_years_beside": far.done}


def together(server: Server, made: list[User]) -> dict[str, float]:
    """Ten people in one project of a firm: each page asks every second and a half how it stands, two edit (ms)."""
    firm = found_firm(owner=made[0], name="attack")
    for user in made[1:10]:
        Member.objects.create(firm=firm, user=user, role="designer")
    project = Project.objects.filter(owner=made[0]).order_by("pk")[0]
    give_to_firm(project=project, author=made[0], firm=firm)
    base = f"/projects/{project.pk}/A/"
    persons = [Person(server.port).sign_in(user.username, PASSWORD) for user in made[:10]]

    def looks(person: Person, number: int) -> tuple[list[float], list[float]]:
        asked: list[float] = []
        edits: list[float] = []
        until = monotonic() + LASTS_S
        sleep(0.15 * number)
        while monotonic() < until:
            if number < 2:
                form = {"path": "system.store.volume_l", "value": 200 + len(edits) * 7 % 300, "screen": "scheme"}
                status, _text, ms = person.request("POST", base + "edit", form)
                edits.append(ms)
                if status != 200:
                    raise RuntimeError(f"An edit answered {status}.")
            status, _text, ms = person.request("GET", base + "now?r=0&step=scheme")
            asked.append(ms)
            if status != 200:
                raise RuntimeError(f"How it stands answered {status}.")
            sleep(1.5)
        return asked, edits

    with ThreadPoolExecutor(10) as pool:
        told = list(pool.map(looks, persons, range(10)))
    Firm.objects.filter(pk=firm.pk).delete()
    asked = [ms for one, _edits in told for ms in one]
    edits = [ms for _asked, many in told for ms in many]
    return {"now_p95_ms": float(np.percentile(asked, 95)), "together_edit_p95_ms": float(np.percentile(edits, 95))}


def growth(server: Server, made: list[User]) -> dict[str, float]:
    """By how much the largest worker grows in so many edits, once each has done some hundred (MB)."""
    told = at_work(server, made, BUSY)

    def all_busy() -> None:
        with ThreadPoolExecutor(BUSY) as pool:
            for job in [pool.submit(busy, person, base, i) for i, (person, base) in enumerate(told)]:
                job.result()

    all_busy()
    before = server.memory_mb()
    for _ in range(GROWN // (BUSY * EDITS_EACH) + 1):
        all_busy()
    return {"growth_mb": server.memory_mb() - before}


def matrix(server: Server, made: list[User]) -> dict[str, float]:
    """Every address of one person's design, asked for by another and by nobody: how many, and how many let them in."""
    owner, stranger = made[0], Person(server.port).sign_in(made[1].username, PASSWORD)
    project = Project.objects.filter(owner=owner).order_by("pk")[0]
    base = f"/projects/{project.pk}/A/"
    parts = [(piece.path, "GET") for step in steps() for piece in step.pieces]
    parts += [(file.path, "GET") for step in steps() for file in step.downloads]
    parts += [(step.key, "GET") for step in steps()]
    parts += [(action.path, "POST") for step in steps() for action in step.actions] + [
        (name, "POST") for name in SHARED
    ]
    asked = let_in = 0
    for path, method in parts:
        address = base + re.sub(r"<int:\w+>", "1", re.sub(r"<(str|slug):\w+>", "csv", path))
        for person in (stranger, Person(server.port)):
            status = person.request(method, address, {} if method == "POST" else None)[0]
            asked, let_in = asked + 1, let_in + (status < 300)
    return {"addresses_asked": asked, "addresses_let_in": let_in}


ODD = ("", "x", "-1", "1e400", "9" * 4500, "\u00b2", "NaN", "[1]", "\U0001f31e", "1,5", "0")
PATHS = (
    "system.store.volume_l", "demand.people", "plane.tilt_deg", "site.latitude_deg", "site.skyline",
    "demand.hour_shape",
    "site.trees.0.altitude_deg", "site.planes.0.tilt_deg", "system.used", "nowhere", "demand.showers.1.minutes",
)  # fmt: skip
LISTS = ("site.trees", "site.planes", "site.obstacles", "demand.showers")


def wild(server: Server, made: list[User]) -> dict[str, float]:
    """Wild edits of one project in two tabs that know nothing of each other: how many, and how many failed."""
    (one, base), (two, _base) = at_work(server, made[:1] * 2, 2)
    dice, failed, known, slowest = random.Random(14), 0, 0, 0.0
    for number in range(WILD):
        tab, act = dice.choice((one, two)), dice.random()
        form: dict[str, Any] = {"screen": dice.choice(("site", "scheme", "demand", "year")), "revision": known}
        if act < 0.6:
            value = dice.choice((*ODD, str(dice.randrange(1, 90))))
            address = "edit"
            form |= {"path": dice.choice(PATHS), "value": value, "seen": dice.choice(("", "3"))}
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
            kept = Design.objects.get(project__owner=made[2]).scheme["system"]["store"]["volume_l"]
            lost += kept != value
    return {"killed_edits": acknowledged, "killed_lost": lost}


def documents() -> dict[str, float]:
    """Random valid documents of every kind, each by its seed: years reckoned, with an hour that is open, failed."""
    found = {"documents": 0.0, "documents_open": 0.0, "documents_not_finite": 0.0, "documents_failed": 0.0}
    for seed in range(DOCUMENTS):
        try:
            design = random_design(seed)
            weather = weather_for(design)
            book = simulate(design, weather)
            found["documents"] += 1
            if book.hours_closed < HOURS:
                found["documents_open"] += 1
                print(f"document {seed}: {HOURS - book.hours_closed} hours are open", file=sys.stderr)
            told = [*figures(book, weather).values(), book.books.sum(), book.traces.sum()]
            found["documents_not_finite"] += not np.isfinite(told).all()
        except Exception as error:
            found["documents_failed"] += 1
            print(f"document {seed}: {type(error).__name__}: {error}", file=sys.stderr)
    return found


SPOILT: tuple[Any, ...] = (
    None, "", "x", "1e400", float("nan"), float("inf"), -1e300, 1e300, 10**400, -1, True, [], {}, [[]], [None] * 9000,
    "\ud800",
)  # fmt: skip


def spoilt() -> dict[str, float]:
    """Documents with one value anywhere made odd: refused in words, read and reckoned, or (a fault of ours) neither."""
    found = {"spoilt_refused": 0.0, "spoilt_read": 0.0, "spoilt_failed": 0.0}
    for seed in range(DOCUMENTS):
        dice = random.Random(seed)
        design = random_design(seed)
        whole = design.model_dump(mode="json")
        part: Any = whole
        while True:
            key = dice.choice(list(part) if isinstance(part, dict) else range(len(part)))
            if not isinstance(part[key], dict | list) or not part[key] or dice.random() < 0.1:
                break
            part = part[key]
        part[key] = dice.choice(SPOILT)
        try:
            made = parse(whole)
            if simulate(made, weather_for(made)).hours_closed != HOURS:
                raise ValueError("an hour is open")
            found["spoilt_read"] += 1
        except HeatError:
            found["spoilt_refused"] += 1
        except Exception as error:
            found["spoilt_failed"] += 1
            print(f"spoilt document {seed}: {type(error).__name__}: {str(error)[:200]}", file=sys.stderr)
    return found


def files() -> dict[str, float]:
    """Weather files mangled at random: read, refused in words, or (a fault of ours) neither."""
    counted = {"files_read": 0.0, "files_refused": 0.0, "files_failed": 0.0}
    slowest = 0.0
    warnings.simplefilter("ignore")  # the readers' own remarks on what they are given
    for number in range(FILES):
        name, content = mangled(number)
        start = monotonic()
        try:
            checked(read_weather(name, content))
            counted["files_read"] += 1
        except WeatherFileError:
            counted["files_refused"] += 1
        except Exception as error:
            counted["files_failed"] += 1
            print(f"file {number}, {name}: {type(error).__name__}: {error}", file=sys.stderr)
        slowest = max(slowest, monotonic() - start)
    return counted | {"files_slowest_s": slowest}


def served(made: list[User], only: Collection[str]) -> dict[str, float]:
    """What is tried on a server that runs, in its order."""
    found: dict[str, float] = {}
    with Server() as server:
        found["serving_mb"] = server.memory_mb()
        if "list" in only:
            long_list(made[0])
            person = Person(server.port).sign_in(made[0].username, PASSWORD)
            pages = [person.request("GET", "/")[2] for _ in range(12)]
            found |= {"list500_first_ms": pages[0], "list500_ms": statistics.median(pages[4:])}
        if "growth" in only:
            found |= growth(server, made)
        if "load" in only:
            for count in (20, 50):
                found |= load(server, made, count)
            found |= beside_a_job(server, made) | together(server, made)
            found["serving_after_50_mb"] = server.memory_mb()
        if "wild" in only:
            found |= matrix(server, made) | wild(server, made) | killed(server, made)
    return found


class Command(BaseCommand):
    help = "Try the application by load; --json prints the figures as JSON."

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("--json", action="store_true")
        parser.add_argument("--only", nargs="*", choices=PARTS, default=PARTS, help="some of it")

    def handle(self, *_args: Any, **options: Any) -> None:
        made = people(50)
        found: dict[str, float] = {}
        try:
            if set(options["only"]) - {"documents", "files"}:
                found |= served(made, options["only"])
            found |= documents() | spoilt() if "documents" in options["only"] else {}
            found |= files() if "files" in options["only"] else {}
        finally:
            User.objects.filter(username__startswith=NAME).delete()
        if options["json"]:
            self.stdout.write(json.dumps(found, indent=2))
            return
        for name, figure in found.items():
            self.stdout.write(f"{figure:10.1f}  {name}")
