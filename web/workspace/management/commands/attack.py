"""Try the running application in large: people, floods, what nobody foresaw, many designers at once.

Bounded in number and time, on this machine alone, with people and projects made for it and taken away again.
"""

import json
import statistics
from argparse import ArgumentParser
from collections.abc import Callable
from functools import partial
from time import monotonic
from typing import Any

from django.core.management.base import BaseCommand

from web.accounts.models import User
from web.workspace.management.attacks import core, floods, hour, load, wild
from web.workspace.management.attacks.lines import lines
from web.workspace.management.attacks.people import NAME, PASSWORD, long_list, people
from web.workspace.management.serving import Person, Server

Weakness = dict[str, float]


def listed(server: Server, made: list[User]) -> Weakness:
    """The list of a person with five hundred projects (ms)."""
    long_list(made[0])
    person = Person(server.port).sign_in(made[0].username, PASSWORD)
    pages = [person.request("GET", "/")[2] for _ in range(12)]
    return {"list500_first_ms": pages[0], "list500_ms": statistics.median(pages[4:])}


def loads(server: Server, made: list[User]) -> Weakness:
    """Twenty and fifty designers, twenty beside a job, ten in one project."""
    found = load.mix(server, made, 20) | load.mix(server, made, 50)
    for count in (20, 50):
        found |= load.load(server, made, count)
    found |= load.beside_a_job(server, made) | load.jointly(server, made)
    return found | {"serving_after_50_mb": server.whole_mb()}


SERVED: dict[str, tuple[Callable[[Server, list[User]], Weakness], ...]] = {
    "lines": (lines,),
    "load": (loads,),
    "list": (listed,),
    "growth": (load.growth,),
    "floods": (floods.halves, floods.tabs, floods.spray, floods.pictures, floods.bodies, floods.fair),
    "wild": (wild.matrix, wild.wild, wild.killed),
    "forms": (wild.forms,),
    "uploads": (wild.uploads,),
}
"""What is tried on a server that runs, each part in its order."""
ALONE: dict[str, tuple[Callable[[], Weakness], ...]] = {
    "documents": (core.documents, core.spoilt),
    "files": (core.files,),
}
"""What is tried of the core alone."""
PARTS = (*SERVED, *ALONE)
HOUR = "hour"
"""Five designers at work for a while, by itself: it takes as long as ``--minutes`` says."""


class Command(BaseCommand):
    help = "Try the application in large; --json prints the figures as JSON."

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("--json", action="store_true")
        parser.add_argument("--only", nargs="*", choices=(*PARTS, HOUR), default=PARTS, help="some of it")
        parser.add_argument("--minutes", type=float, default=60.0, help="of the part “hour”")

    def handle(self, *_args: Any, **options: Any) -> None:
        only, found = options["only"], Weakness()
        made = people(50)
        try:
            if set(only) & set(SERVED):
                with Server() as server:
                    found["serving_mb"] = server.whole_mb()
                    for part in filter(only.__contains__, SERVED):
                        for trial in SERVED[part]:
                            found |= self.timed(part, partial(trial, server, made))
            if HOUR in only:
                with Server() as server:
                    found |= self.timed(HOUR, partial(hour.stretch, server, made, options["minutes"]))
            for part in filter(only.__contains__, ALONE):
                for alone in ALONE[part]:
                    found |= self.timed(part, alone)
        finally:
            User.objects.filter(username__startswith=NAME).delete()
        if options["json"]:
            self.stdout.write(json.dumps(found, indent=2))
            return
        for name, figure in found.items():
            self.stdout.write(f"{figure:10.1f}  {name}")

    def timed(self, part: str, trial: Callable[[], Weakness]) -> Weakness:
        """What a trial found; how long it took is said as it ends."""
        start = monotonic()
        found = trial()
        self.stderr.write(f"{part}: {monotonic() - start:.0f} s, {found}")
        return found
