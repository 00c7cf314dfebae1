"""Long questions measured: from the press to the page, what the queue costs, and what another worker brings."""

import os
import re
import statistics
import subprocess
import sys
from concurrent.futures import ThreadPoolExecutor, wait
from time import perf_counter, sleep

from django.conf import settings
from django.db import connection

from heat.studies.uncertainty import USUAL
from heat.weather.year import shifted
from web.accounts.models import User
from web.jobs.models import Run
from web.jobs.purposes import simulated_outcomes
from web.jobs.services import progress, request_run
from web.jobs.tasks import turn
from web.projects.archive import bring_back, project_file
from web.projects.climates import merrow_coast
from web.projects.models import Design, Project
from web.projects.services.designs import create_project
from web.projects.services.weather import add_weather
from web.simulations.weather import weather_year
from web.workspace.management.serving import Server

RUN_WAIT_S, POLL_EVERY_S = 180, 0.7
"""How long a run may take, and how often the page asks how far it is (s)."""
YEARS = 400
SPREADS = {uncertainty.key: uncertainty.spread for uncertainty in USUAL}


def run_s(
    server: Server, base: str, question: str, form: dict[str, object], view: str, wanted: str = "concluded"
) -> float:
    """A run from the press until its answer stands on the page (s)."""
    start = perf_counter()
    status, _text, _ = server.request("POST", base + question, form | {"screen": "weigh"})
    if status != 302:
        raise RuntimeError(f"{question} answered {status}.")
    _, text, _ = server.request("GET", f"{base}weigh?view={view}")
    under_way = re.search(r'hx-get="weigh/progress\?run=(\d+)"', text)
    while under_way and "weigh/progress" in text and perf_counter() - start < RUN_WAIT_S:
        sleep(POLL_EVERY_S)
        _, text, _ = server.request("GET", f"{base}weigh/progress?run={under_way[1]}")
    _, text, _ = server.request("GET", f"{base}weigh?view={view}")
    if wanted not in text:
        raise RuntimeError(f"{question} was not answered in {RUN_WAIT_S} s: does a worker run?")
    return perf_counter() - start


def drawn_s(server: Server, page: str, start: float) -> float:
    """Seconds from ``start`` until a page shows its coarse map: at once, or later where the machine is busy."""
    while 'svg class="map' not in server.request("GET", page)[1]:
        if perf_counter() - start > RUN_WAIT_S:
            raise RuntimeError("The coarse map was not drawn.")
        sleep(POLL_EVERY_S)
    return perf_counter() - start


def study_figures(server: Server, base: str) -> dict[str, float]:
    """Long questions answered by the worker beside the server, what the next step buys, a page with a finished run."""
    server.request("GET", f"{base}weigh?view=next")
    nexts = []
    for people in (3.1, 3.2, 3.3, 3.4, 3.5):
        server.request("POST", base + "edit", {"path": "demand.people", "value": people, "screen": "weigh"})
        nexts.append(server.request("GET", f"{base}weigh?view=next")[2])
    keys = ["collector", "tilt", "store", "hours", "number", "exchanger"]
    found = {
        "next_steps_ms": statistics.median(nexts),
        "doubt_200_s": run_s(server, base, "weigh/doubt", {}, "sure"),
        "choices_1000_s": run_s(server, base, "weigh/choices", {"ask": keys}, "choices"),
        "map_247_s": run_s(server, base, "weigh/map", {"about": "point"}, "maps", 'svg class="map'),
    }
    pages = [server.request("GET", f"{base}weigh?view=choices")[2] for _ in range(6)][1:]
    start = perf_counter()
    server.request("POST", base + "weigh/map", {"about": "much", "screen": "weigh"})
    found["map_coarse_s"] = drawn_s(server, f"{base}weigh?view=maps&about=much", start)
    return found | {"weighed_page_ms": statistics.median(pages)}


def money_figures(server: Server, base: str) -> dict[str, float]:
    """Edits of rates, prices and lines to the updated page, and the table of boosts and fuels after an edit moved every
    year."""
    taken = []
    for i in range(7):
        for action, values, view in (
            ("edit", {"path": "money.interest", "value": 3.1 + 0.1 * i}, "years"),
            ("money/price", {"item": "pump", "value": 200 + i}, "prices"),
            ("money/line", {"item": "permit", "field": "price", "value": 100 + i}, "cost"),
            ("edit", {"path": "money.energy_rise", "value": 2.1 + 0.1 * i}, "years"),
        ):
            status, _text, ms = server.request("POST", base + action, {**values, "screen": "money"}, view=view)
            if status != 200:
                raise RuntimeError(f"{action} answered {status}.")
            taken.append(ms)
    server.request("POST", base + "edit", {"path": "system.backup.element.fitted", "value": "1", "screen": "money"})
    tables = []
    for people in (3.1, 3.2, 3.3, 3.4, 3.5):
        values = {"path": "demand.people", "value": people, "screen": "money"}
        tables.append(server.request("POST", base + "edit", values, view="burn")[2])
    return {"money_ms": statistics.median(taken[4:]), "boost_ms": statistics.median(tables)}


def paper_figures(server: Server, base: str) -> dict[str, float]:
    """Cautions updated after an edit that moves the year; a draft of every section as PDF."""
    taken = []
    for i in range(9):
        values = {"path": "demand.people", "value": 2.55 + 0.1 * i, "screen": "cautions"}
        taken.append(server.request("POST", base + "edit", values, view="list")[2])
    drafts = [server.request("GET", base + "paper/draft.pdf")[2] for _ in range(4)][1:]
    return {"cautions_ms": statistics.median(taken), "report_s": statistics.median(drafts) / 1000.0}


def archive_figures(project: Project) -> dict[str, float]:
    """A project with five years of weather brought back from its file (s)."""
    for hours in range(1, 5):
        add_weather(project=project, author=project.owner, weather=shifted(merrow_coast(), hours))
    raw = project_file(project)
    start = perf_counter()
    made = bring_back(owner=project.owner, raw=raw)
    taken = perf_counter() - start
    made.delete()
    return {"import_5_s": taken}


def _requested(project: Project, seed: int) -> Run:
    design = Design.objects.select_related("project__weather", "project__owner").get(project=project, letter="A")
    return request_run(
        design=design, author=project.owner, purpose="doubt", question={"spreads": SPREADS, "seed": seed}, size=YEARS
    )


def _finish(run: Run) -> None:
    start = perf_counter()
    while not progress(run).finished:
        if perf_counter() - start > RUN_WAIT_S:
            raise RuntimeError(f"A run of {run.size} years was not finished in {RUN_WAIT_S} s: does a worker run?")
        sleep(0.05)


def _worker() -> "subprocess.Popen[bytes]":
    """A worker of one thread on this database, which ends when nothing is left to do."""
    environment = {**os.environ, "LEDGER_DB_NAME": str(connection.settings_dict["NAME"])}
    command = [sys.executable, "manage.py", "work", "--threads", "0", "--once"]
    return subprocess.Popen(command, cwd=settings.ROOT, env=environment, stderr=subprocess.DEVNULL)


def overhead_figures(project: Project) -> dict[str, float]:
    """What the way through the queue costs on top of the bare years, three times in turn (%)."""
    shares = []
    for seed in (11, 12, 13):
        start = perf_counter()
        run = _requested(project, seed)
        _finish(run)
        through = perf_counter() - start
        weather = weather_year(run.weather)
        start = perf_counter()
        half = run.size // 2
        with ThreadPoolExecutor(2) as pool:
            parts = [
                pool.submit(simulated_outcomes, run, weather, *part) for part in ((0, half), (half, run.size - half))
            ]
            wait(parts)
        shares.append(100.0 * (through / (perf_counter() - start) - 1.0))
    return {"job_overhead_pct": statistics.median(shares)}


def _pace(project: Project, workers: int, seed: int) -> float:
    """Years a second by so many workers of one thread, between their first chunk and their last."""
    run = _requested(project, seed)
    children = [_worker() for _ in range(workers)]
    _finish(run)
    for child in children:
        child.wait()
    done = sorted(at for at in run.chunks.values_list("done", flat=True) if at)
    counted = done[2 * workers :]  # all of them are at work by then
    return 20.0 * (len(counted) - 1) / (counted[-1] - counted[0]).total_seconds()


def crowd_figures() -> dict[str, float]:
    """What a second worker brings, how long a chunk is, and what the queue costs beside it, by workers alone."""
    User.objects.filter(username="bench crowd").delete()
    user = User.objects.create_user("bench crowd", password="bench-harbour-7")
    try:
        project = create_project(owner=user, name="crowd", place="", weather=merrow_coast())
        alone, pair = _pace(project, 1, 21), _pace(project, 2, 22)
        for _ in range(200):
            turn.defer()  # with nothing waiting: taken, looked up, ended
        start = perf_counter()
        _worker().wait()
        claims = perf_counter() - start
        start = perf_counter()
        _worker().wait()
        idle = perf_counter() - start
        return {"workers_2_x": pair / alone, "chunk_ms": 20_000.0 / alone, "claim_ms": 1000.0 * (claims - idle) / 200}
    finally:
        user.delete()
