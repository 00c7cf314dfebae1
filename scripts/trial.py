"""People for trials of a running Red Ledger: designers who edit without rest, and an account of what was kept."""

import os
import subprocess
import sys
from collections.abc import Callable
from dataclasses import dataclass, field
from http.client import HTTPException
from pathlib import Path
from threading import Event, Thread
from time import monotonic, sleep

from web.workspace.management.serving import Person

ROOT = Path(__file__).parents[1]
PASSWORD = "quiet-harbour-9"
PATIENCE_S = 90.0


def environment(folder: Path, **more: str) -> dict[str, str]:
    """Of a place of its own below a folder, with this one's Python and compiled core."""
    state = ROOT / ".local"
    folder.mkdir(parents=True, exist_ok=True)
    for name in ("venv", "uv", "env.stamp", "numba"):
        link = folder / name
        if not link.exists():
            link.symlink_to(state / name)
    return {**os.environ, "LEDGER_STATE": str(folder), "LEDGER_PGDATA": str(folder / "pg"), **more}


def ledger(env: dict[str, str], *arguments: str) -> subprocess.CompletedProcess[str]:
    """One command of the script, to its end."""
    return subprocess.run(
        ["bash", str(ROOT / "ledger"), *arguments], env=env, capture_output=True, text=True, timeout=400, check=False
    )


def until(true: Callable[[], bool], within_s: float, what: str) -> float:
    """Seconds until something holds. Raises RuntimeError where it does not in time."""
    start = monotonic()
    while monotonic() - start < within_s:
        try:
            if true():
                return monotonic() - start
        except (OSError, HTTPException):
            pass
        sleep(0.2)
    raise RuntimeError(f"{what}: not within {within_s:.0f} s")


@dataclass
class Designer:
    """Somebody who sets one value again and again, each time until it is acknowledged, wherever a server answers."""

    name: str
    base: str
    hosts: list[tuple[str, int]]
    person: Person
    value: int = 200
    acknowledged: list[int] = field(default_factory=list)
    longest_s: float = 0.0
    broken: list[str] = field(default_factory=list)

    def edit(self) -> None:
        """One edit under one key, sent again until there is an answer."""
        self.value += 1
        form = {
            "path": "system.store.volume_l",
            "value": self.value,
            "screen": "scheme",
            "key": f"{self.name}-{self.value}",
        }
        start = monotonic()
        while monotonic() - start < PATIENCE_S:
            self.person.host, self.person.port = self.hosts[0]
            try:
                status, text, _ms = self.person.request("POST", self.base + "edit", form)
            except (OSError, HTTPException):
                self.hosts = self.hosts[1:] + self.hosts[:1]  # the next one, as a proxy would
                sleep(0.3)
                continue
            if status == 200 and "data-revision" in text:
                self.acknowledged.append(self.value)
                self.longest_s = max(self.longest_s, monotonic() - start)
                return
            if status not in (500, 502, 503):
                self.broken.append(f"{status} {text[:80]!r}")
            sleep(0.3)
        self.broken.append(f"{self.value} was never acknowledged")

    def work(self, ended: Event) -> None:
        """Edit until told to end."""
        while not ended.is_set():
            self.edit()
            sleep(0.2)


class Crowd:
    """Designers at work in threads."""

    def __init__(self, designers: list[Designer]) -> None:
        self.designers, self.ended = designers, Event()
        self.threads = [Thread(target=one.work, args=(self.ended,)) for one in designers]

    def __enter__(self) -> "Crowd":
        for thread in self.threads:
            thread.start()
        return self

    def __exit__(self, *_error: object) -> None:
        self.ended.set()
        for thread in self.threads:
            thread.join(PATIENCE_S + 10)

    def go_on(self, edits: int = 2) -> float:
        """Seconds until each has made so many edits more."""
        now = [len(one.acknowledged) for one in self.designers]
        return until(
            lambda: all(len(one.acknowledged) >= n + edits for one, n in zip(self.designers, now, strict=True)),
            PATIENCE_S,
            "everybody edits again",
        )


def settled(designers: list[Designer]) -> dict[str, float]:
    """What became of what was acknowledged, by the database itself: lost, made twice, designs not calculated."""
    from web.projects.models import Edit, Project
    from web.simulations.cache import simulate

    lost = twice = unclosed = 0
    for one in designers:
        project = Project.objects.select_related("weather").get(pk=int(one.base.split("/")[2]))
        made = list(Edit.objects.filter(project=project, path="system.store.volume_l").values_list("after", flat=True))
        lost += sum(float(value) not in made for value in one.acknowledged)
        twice += len(made) - len(set(made))
        design = project.designs.get()
        lost += design.document()["system"]["store"]["volume_l"] != max(made)
        unclosed += simulate(design.document(), project.weather).book.hours_closed < 8760
    return {
        "acknowledged": sum(len(one.acknowledged) for one in designers),
        "lost": lost,
        "twice": twice,
        "unclosed": unclosed,
        "odd_answers": sum(len(one.broken) for one in designers),
        "longest_wait_s": max(one.longest_s for one in designers),
    }


def people(count: int, hosts: list[tuple[str, int]]) -> list[Designer]:
    """So many designers, each with a project, signed in at the first door."""
    from web.accounts.models import User
    from web.projects.climates import merrow_coast
    from web.projects.services.designs import create_project

    made = []
    for i in range(count):
        user = User.objects.create_user(f"trial{i}", password=PASSWORD)
        project = create_project(owner=user, name="trial", place="", weather=merrow_coast())
        turned = hosts[i % len(hosts) :] + hosts[: i % len(hosts)]
        person = Person(hosts[0][1], hosts[0][0]).sign_in(user.username, PASSWORD)
        person.patience_s = 8.0 if len(hosts) > 1 else 30.0
        made.append(Designer(user.username, f"/projects/{project.pk}/A/", turned, person))
    return made


def django_of(env: dict[str, str]) -> None:
    """This process, at the database of a place."""
    os.environ.update({name: value for name, value in env.items() if name.startswith(("LEDGER_", "HEAT_"))})
    os.environ["DJANGO_SETTINGS_MODULE"] = "web.config.settings"
    os.environ["HEAT_CACHE_DIR"] = str(ROOT / ".local" / "numba")
    import django

    django.setup()


def report(figures: dict[str, float], good: bool) -> None:
    """Print the figures; end with an error where something was lost."""
    for name, value in figures.items():
        print(f"{value:10.1f}  {name}")
    print("nothing acknowledged was lost" if good else "SOMETHING WAS LOST OR DID NOT COME BACK")
    sys.exit(0 if good else 1)
