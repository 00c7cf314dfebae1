"""Try the running application by load: a long list of projects, and many designers at once, each editing and asking.

Bounded in number and time, on this machine alone, with people and projects made for it and taken away again.
"""

import json
import statistics
from argparse import ArgumentParser
from concurrent.futures import ThreadPoolExecutor
from time import monotonic, sleep
from typing import Any

import numpy as np
from django.core.management.base import BaseCommand

from web.accounts.models import User
from web.projects.climates import merrow_coast
from web.projects.models import Design, Project
from web.projects.services.designs import create_project
from web.workspace.management.serving import Person, Server

NAME, PASSWORD = "attack", "bench-harbour-7"
EDIT_EVERY_S, ASKS_AFTER_S, LASTS_S = 2.0, 0.5, 30.0
"""How often a designer edits, how long after an answer the page asks for its steps, how long all of it lasts."""
LISTED = 500


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


def load(server: Server, made: list[User], count: int) -> dict[str, float]:
    """So many designers at once."""
    told = []
    for user in made[:count]:
        project = Project.objects.filter(owner=user).order_by("pk")[0]
        told.append((Person(server.port).sign_in(user.username, PASSWORD), f"/projects/{project.pk}/A/"))
    with ThreadPoolExecutor(count) as pool:
        jobs = [pool.submit(designer, person, base, i) for i, (person, base) in enumerate(told)]
        taken = [ms for job in jobs for ms in job.result()]
    return {
        f"load{count}_edits": len(taken),
        f"load{count}_median_ms": statistics.median(taken),
        f"load{count}_p95_ms": float(np.percentile(taken, 95)),
    }


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
                for count in (20, 50):
                    found |= load(server, made, count)
                found["serving_after_load_mb"] = server.memory_mb()
        finally:
            User.objects.filter(username__startswith=NAME).delete()
        if options["json"]:
            self.stdout.write(json.dumps(found, indent=2))
            return
        for name, figure in found.items():
            self.stdout.write(f"{figure:10.1f}  {name}")
