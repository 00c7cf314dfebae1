"""Many designers at once, each as designers work; a long list; ten in one project; growth of a process."""

import random
import re
import statistics
from collections import defaultdict
from concurrent.futures import ThreadPoolExecutor
from time import monotonic, sleep
from uuid import uuid4

import numpy as np

from web.accounts.models import User
from web.firms.models import Firm, Member
from web.firms.services import create_firm as create_demo_firm
from web.jobs.services import progress, request_run, stop_run
from web.projects.models import Design, Project
from web.projects.services.sharing import give_to_firm
from web.workspace.management.attacks.people import PASSWORD, at_work
from web.workspace.management.serving import Person, Server
from web.workspace.management.studies import SPREADS

EDIT_EVERY_S, POLLS_AFTER_S, LASTS_S = 2.0, 0.5, 30.0
"""How often a designer acts, how long after an answer the page asks for its steps, how long all of it lasts."""
BUSY, EDITS_EACH = 5, 240
"""People who edit without rest, and how often each."""
JOB, GROWN = 1000, 2400
"""Years of the job that runs beside, and edits over which a process's growth is looked at."""


def busy(person: Person, base: str, number: int) -> None:
    """One edit after the other, without rest."""
    for k in range(EDITS_EACH):
        form = {"path": "system.store.volume_l", "value": 200 + (7 * k + 13 * number) % 300, "screen": "scheme"}
        if person.request("POST", base + "edit", form)[0] != 200:
            raise RuntimeError("An edit was not taken.")


def designer(person: Person, base: str, number: int) -> list[float]:
    """Milliseconds of each edit of someone who edits, waits for the update, and whose page then asks for its steps."""
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
        sleep(POLLS_AFTER_S)
        revision = text.partition('data-revision="')[2].partition('"')[0]
        person.request("GET", f"{base}steps?part=store&r={revision}")
        sleep(max(EDIT_EVERY_S - (monotonic() - start), 0.0))
    return taken


def load(server: Server, made: list[User], count: int) -> dict[str, float]:
    """So many designers at once who change one volume over and over."""
    result = at_work(server, made, count)
    with ThreadPoolExecutor(count) as pool:
        jobs = [pool.submit(designer, person, base, i) for i, (person, base) in enumerate(result)]
        taken = [ms for job in jobs for ms in job.result()]
    return {
        f"load{count}_edits": len(taken),
        f"load{count}_median_ms": statistics.median(taken),
        f"load{count}_p95_ms": float(np.percentile(taken, 95)),
    }


EDITS = (
    ("system.store.volume_l", (200, 600)), ("plane.tilt_deg", (20, 60)), ("demand.people", (2, 7)),
    ("system.collector.count", (1, 5)), ("system.collector.eta0", (0.6, 0.8)), ("system.store.loss_w_k", (1, 4)),
    ("system.loop.supply.length_m", (5, 30)), ("site.wind_share", (0.3, 1.0)), ("demand.tap_c", (40, 50)),
)  # fmt: skip
"""Values designers change, and between what."""
KINDS = ("pumped_plate", "drainback", "pumped_coil", "thermosiphon_sealed", "combi")
PAGES = (
    "demand?view=uses",
    "site?view=weather",
    "site?view=horizon",
    "scheme",
    "year?view=hours",
    "year?view=days",
    "year?view=shape",
    "weigh?view=side",
    "weigh?view=next",
    "money?view=cost",
    "money?view=years",
    "cautions",
    "paper",
)
AXES = {"x": "plane.tilt_deg", "y": "system.collector.count", "what": "fraction"}


def act(person: Person, base: str, dice: random.Random) -> tuple[str, int, str, float]:
    """One thing a designer does: its kind, and status, page and milliseconds of its answer."""
    form: dict[str, object] = {"screen": "scheme", "key": uuid4().hex}
    act = dice.random()
    if act < 0.45:
        path, (low, high) = dice.choice(EDITS)
        value = round(dice.uniform(low, high), 2 if high <= 1 else 0)
        return "edit", *person.request("POST", base + "edit", form | {"path": path, "value": value})
    if act < 0.52:
        form |= {"preset": f"kind {dice.choice(KINDS)}", "force": "1"}
        return "kind", *person.request("POST", base + "choose", form)
    if act < 0.60:
        return "undo", *person.request("POST", base + "undo", form)
    if act < 0.62:
        return "map", *person.request("POST", base + "weigh/map", form | AXES)
    if act < 0.64:
        raw = f"x;y\n{dice.random()};1\n".encode() * 4000
        return "upload", *person.send(f"{base}weather", {"screen": "site"}, "file", "table.csv", raw)
    return "page", *person.request("GET", base + dice.choice(PAGES))


def works(person: Person, base: str, number: int, taken: dict[str, list[float]]) -> None:
    """What a designer does in a while: edits of many kinds, pages, undo, a table of weather, a map now and then; the
    milliseconds of each by kind."""
    dice, until = random.Random(number), monotonic() + LASTS_S
    sleep(EDIT_EVERY_S * (number % 10) / 10)
    while monotonic() < until:
        start = monotonic()
        name, status, text, ms = act(person, base, dice)
        taken[name].append(ms)
        if status >= 500:
            raise RuntimeError(f"{name} answered {status}.")
        later = re.search(r'hx-get="(steps\?[^"]+)"', text) if name == "page" else None
        if later:  # what a page asks for once it stands; it may be asked to wait
            person.request("GET", base + later.group(1).replace("&amp;", "&"))
        sleep(max(EDIT_EVERY_S - (monotonic() - start), 0.0))


def mix(server: Server, made: list[User], count: int) -> dict[str, float]:
    """So many designers at once, each as designers work."""
    result = at_work(server, made, count)
    taken: dict[str, list[float]] = defaultdict(list)
    start = monotonic()
    with ThreadPoolExecutor(count) as pool:
        for job in [pool.submit(works, person, base, i, taken) for i, (person, base) in enumerate(result)]:
            job.result()
    every = [ms for one in taken.values() for ms in one]
    name = f"mix{count}"
    return {
        f"{name}_requests_a_second": len(every) / (monotonic() - start),
        f"{name}_median_ms": statistics.median(every),
        f"{name}_p95_ms": float(np.percentile(every, 95)),
        f"{name}_slowest_ms": max(every),
        **{f"{name}_{kind}_p95_ms": float(np.percentile(one, 95)) for kind, one in sorted(taken.items())},
    }


def beside_a_job(server: Server, made: list[User]) -> dict[str, float]:
    """Twenty designers while the server's own worker calculates a long question: their edits, and how far it came."""
    design = Design.objects.select_related("project__weather", "project__owner").get(project__owner=made[49])
    question = {"spreads": SPREADS, "seed": 5}
    run = request_run(design=design, author=made[49], purpose="doubt", question=question, size=JOB)
    found = load(server, made, 20)
    far = progress(run)
    stop_run(run=run, author=made[49])
    return {"load20_with_job_p95_ms": found["load20_p95_ms"], "job_years_beside": far.done}


def jointly(server: Server, made: list[User]) -> dict[str, float]:
    """Ten people in one project of a firm: each page asks every second and a half how it stands, two edit (ms)."""
    firm = create_demo_firm(owner=made[0], name="attack")
    for user in made[1:10]:
        Member.objects.create(firm=firm, user=user, role="designer")
    project = Project.objects.filter(owner=made[0]).order_by("pk")[0]
    give_to_firm(project=project, author=made[0], firm=firm)
    base = f"/projects/{project.pk}/A/"
    persons = [Person(server.port).sign_in(user.username, PASSWORD) for user in made[:10]]

    def observe(person: Person, number: int) -> tuple[list[float], list[float]]:
        requested: list[float] = []
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
            requested.append(ms)
            if status != 200:
                raise RuntimeError(f"How it stands answered {status}.")
            sleep(1.5)
        return requested, edits

    with ThreadPoolExecutor(10) as pool:
        observed = list(pool.map(observe, persons, range(10)))
    Project.objects.filter(firm=firm).update(firm=None)
    Firm.objects.filter(pk=firm.pk).delete()
    requested = [ms for one, _edits in observed for ms in one]
    edits = [ms for _requested, many in observed for ms in many]
    return {"now_p95_ms": float(np.percentile(requested, 95)), "together_edit_p95_ms": float(np.percentile(edits, 95))}


def growth(server: Server, made: list[User]) -> dict[str, float]:
    """By how much the largest worker grows in so many edits, once each has done some hundred (MB)."""
    result = at_work(server, made, BUSY)

    def all_busy() -> None:
        with ThreadPoolExecutor(BUSY) as pool:
            for job in [pool.submit(busy, person, base, i) for i, (person, base) in enumerate(result)]:
                job.result()

    all_busy()
    before = server.memory_mb()
    for _ in range(GROWN // (BUSY * EDITS_EACH) + 1):
        all_busy()
    return {"growth_mb": server.memory_mb() - before}
