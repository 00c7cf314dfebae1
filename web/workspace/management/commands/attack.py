"""Try the running application by load: a long list of projects, and many designers at once, each editing and asking.

Bounded in number and time, on this machine alone, with people and projects made for it and taken away again.
"""

import json
import statistics
import warnings
from argparse import ArgumentParser
from concurrent.futures import ThreadPoolExecutor
from time import monotonic, sleep
from typing import Any

import numpy as np
from django.core.management.base import BaseCommand

from heat.errors import WeatherFileError
from heat.tests.mangled import mangled
from heat.weather.checks import checked
from heat.weather.readers import read_weather
from web.accounts.models import User
from web.projects.climates import merrow_coast
from web.projects.models import Design, Project
from web.projects.services.designs import create_project
from web.workspace.management.serving import Person, Server

NAME, PASSWORD = "attack", "bench-harbour-7"
EDIT_EVERY_S, ASKS_AFTER_S, LASTS_S = 2.0, 0.5, 30.0
"""How often a designer edits, how long after an answer the page asks for its steps, how long all of it lasts."""
LISTED = 500
BUSY, EDITS_EACH = 5, 240
"""People who edit without rest, and how often each."""
FILES = 1000


def people(count: int) -> list[User]:
    """So many people, each with a project of their own."""
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
        form = {"path": "system.store.volume_l", "value": value, "screen": "scheme", "key": f"{number}-{len(taken)}"}
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
        told.append((Person(server.port).sign_in(user.username, PASSWORD), f"/projects/{project.pk}/A/"))
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
        except Exception:
            counted["files_failed"] += 1
        slowest = max(slowest, monotonic() - start)
    return counted | {"files_slowest_s": slowest}


class Command(BaseCommand):
    help = "Try the application by load; --json prints the figures as JSON."

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("--json", action="store_true")

    def handle(self, *_args: Any, **options: Any) -> None:
        made = people(50)
        found: dict[str, float] = {}
        try:
            with Server() as server:
                found["serving_mb"] = server.memory_mb()
                long_list(made[0])
                person = Person(server.port).sign_in(made[0].username, PASSWORD)
                pages = [person.request("GET", "/")[2] for _ in range(12)]
                found |= {"list500_first_ms": pages[0], "list500_ms": statistics.median(pages[4:])}
                with ThreadPoolExecutor(BUSY) as pool:
                    told = enumerate(at_work(server, made, BUSY))
                    jobs = [pool.submit(busy, person, base, i) for i, (person, base) in told]
                    for job in jobs:
                        job.result()
                found["serving_after_load_mb"] = server.memory_mb()
                for count in (20, 50):
                    found |= load(server, made, count)
                found["serving_after_50_mb"] = server.memory_mb()
                found |= files()
        finally:
            User.objects.filter(username__startswith=NAME).delete()
        if options["json"]:
            self.stdout.write(json.dumps(found, indent=2))
            return
        for name, figure in found.items():
            self.stdout.write(f"{figure:10.1f}  {name}")
