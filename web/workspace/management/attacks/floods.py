"""One person, program or address that asks for more than its share: what becomes of the others meanwhile."""

import json
import socket
import zlib
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from contextlib import ExitStack
from threading import Thread
from time import monotonic, sleep

import numpy as np

from web.accounts.models import RateCount, User
from web.accounts.tokens import make_token
from web.jobs.models import Run
from web.jobs.services import progress, request_run
from web.logs.services import begin_log
from web.projects.models import Project
from web.workspace.management.attacks.people import at_work
from web.workspace.management.serving import Person, Server
from web.workspace.management.studies import SPREADS

HALVES, SPRAYED, TABS, SWEEP, SMALL, SWEEPS = 150, 60, 40, 2000, 100, 6
"""Half-sent requests, names tried from one address, tabs that ask without rest, years of a large and a small question,
and large questions at once."""
GIVEN_UP_S = 120.0


def edits_beside(server: Server, made: list[User], flood: Callable[[], None], seconds: float = 8.0) -> float:
    """p95 of one designer's edits (ms) while a flood goes on."""
    ((person, base),) = at_work(server, made[5:6], 1)
    thread = Thread(target=flood, daemon=True)
    thread.start()
    sleep(0.5)
    taken: list[float] = []
    until = monotonic() + seconds
    while monotonic() < until:
        form = {"path": "system.store.volume_l", "value": 200 + len(taken) % 300, "screen": "scheme"}
        status, _text, ms = person.request("POST", base + "edit", form)
        if status != 200:
            raise RuntimeError(f"An edit answered {status}.")
        taken.append(ms)
        sleep(0.2)
    thread.join(60)
    return float(np.percentile(taken, 95))


def halves(server: Server, made: list[User]) -> dict[str, float]:
    """Requests sent by half, and large ones that stop coming."""

    def flood(half: bytes, count: int) -> Callable[[], None]:
        def run() -> None:
            with ExitStack() as open_:
                for _ in range(count):
                    one = open_.enter_context(socket.create_connection(("127.0.0.1", server.port)))
                    one.sendall(half)
                sleep(7)

        return run

    stalled = b"POST /projects/bring HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 9000000\r\n\r\n" + b"x" * 40_000
    return {
        "edit_beside_halves_p95_ms": edits_beside(server, made, flood(b"POST / HTTP/1.1\r\nContent-Le", HALVES)),
        "edit_beside_stalled_p95_ms": edits_beside(server, made, flood(stalled, 60)),
    }


def tabs(server: Server, made: list[User]) -> dict[str, float]:
    """Forty tabs of one person that ask without rest how a project stands."""
    ((asker, base),) = at_work(server, made[6:7], 1)

    def tab(_number: int) -> None:
        mine = Person(server.port)
        mine.cookies = dict(asker.cookies)
        until = monotonic() + 8
        while monotonic() < until:
            mine.request("GET", base + "now?r=0&step=scheme")

    def flood() -> None:
        with ThreadPoolExecutor(TABS) as pool:
            list(pool.map(tab, range(TABS)))

    return {"edit_beside_tabs_p95_ms": edits_beside(server, made, flood)}


def spray(server: Server, made: list[User]) -> dict[str, float]:
    """Many names tried from one address at once: how many were checked, and others' edits meanwhile."""
    RateCount.objects.all().delete()
    statuses: list[int] = []

    def one(number: int) -> None:
        guesser = Person(server.port)
        guesser.request("GET", "/sign-in")
        form = {"username": f"attack{number % 50}", "password": "quiet-harbour-8"}
        statuses.append(guesser.request("POST", "/sign-in", form)[0])

    def flood() -> None:
        with ThreadPoolExecutor(8) as pool:
            list(pool.map(one, range(SPRAYED)))

    beside = edits_beside(server, made, flood)
    RateCount.objects.all().delete()
    return {
        "sprayed_names_checked": sum(status == 200 for status in statuses),
        "sprayed_names_stopped": sum(status in (429, 503) for status in statuses),
        "edit_beside_spray_p95_ms": beside,
    }


def _png(side: int) -> bytes:
    """A PNG of so many points a side, small as a file."""
    part = lambda kind, body: len(body).to_bytes(4, "big") + kind + body + zlib.crc32(kind + body).to_bytes(4, "big")
    packer = zlib.compressobj(9)
    rows = b"".join(packer.compress(bytes(1 + 3 * side)) for _ in range(side)) + packer.flush()
    size = side.to_bytes(4, "big") * 2 + b"\x08\x02\x00\x00\x00"
    return b"\x89PNG\r\n\x1a\n" + part(b"IHDR", size) + part(b"IDAT", rows) + part(b"IEND", b"")


def pictures(server: Server, made: list[User]) -> dict[str, float]:
    """Pictures that are small as files and huge unpacked, and the largest that are taken, four at once (MB)."""
    user = made[7]
    log = begin_log(design=Project.objects.filter(owner=user)[0].designs.get(), author=user)
    ((person, base),) = at_work(server, [user], 1)
    form = {"log": log.pk, "remark": "gauge", "screen": "log"}
    send = lambda raw: person.send(base + "log/photo", form, "photo", "gauge.png", raw)[0]
    huge, large = _png(12_000), _png(6_300)
    with ThreadPoolExecutor(4) as pool:
        refused = [job.result() for job in [pool.submit(send, huge) for _ in range(4)]]
        taken = [job.result() for job in [pool.submit(send, large) for _ in range(4)]]
    return {
        "huge_pictures_refused": sum(status == 422 for status in refused),
        "large_pictures_taken": sum(status == 200 for status in taken),
        "pictures_peak_mb": server.peak_mb(),
    }


def bodies(server: Server, made: list[User]) -> dict[str, float]:
    """Bodies of programs: three megabytes with a million numbers, and the worst of one megabyte (s, MB)."""
    _token, key = make_token(user=made[8], name="attack", scopes=["read", "write", "simulate"])
    person = Person(server.port)
    headers = {"Authorization": f"Bearer {key}", "Content-Type": "application/json"}
    found: dict[str, float] = {}
    slowest = largest = 0.0
    for document in (
        {"demand": {"measured_l": [1] * 1_000_000}},
        {"demand": {"measured_l": ["x"] * 200_000}},
        {"demand": {"measured_l": ["x"] * 9000}},
        {"site": {"skyline": [{"bearing_deg": "x"}] * 8000}},
        {"system": {"kind": "x" * 19_000}},
        {"system": {f"n{i}": i for i in range(40_000)}},
    ):
        status, text, ms = person.requested(
            "POST", "/api/simulate", json.dumps({"document": document}).encode(), headers
        )
        found["bodies_not_refused"] = found.get("bodies_not_refused", 0.0) + (status not in (413, 422))
        slowest, largest = max(slowest, ms / 1000), max(largest, len(text) / 1000)
    return found | {"body_slowest_s": slowest, "refusal_largest_kb": largest, "bodies_peak_mb": server.peak_mb()}


def fair(server: Server, made: list[User]) -> dict[str, float]:
    """A small question of one person behind six large ones of another (s, years)."""
    designs = [
        Project.objects.select_related("weather", "owner", "firm").filter(owner=u)[0].designs.get() for u in made[9:11]
    ]
    many = [
        request_run(
            design=designs[0], author=made[9], purpose="doubt", question={"spreads": SPREADS, "seed": i}, size=SWEEP
        )
        for i in range(SWEEPS)
    ]
    sleep(3)
    start = monotonic()
    question = {"spreads": SPREADS, "seed": 99}
    small = request_run(design=designs[1], author=made[10], purpose="doubt", question=question, size=SMALL)
    while not progress(small).finished and monotonic() - start < GIVEN_UP_S:
        sleep(0.1)
    took, others = monotonic() - start, sum(progress(run).done for run in many)
    Run.objects.filter(project__owner__in=made[9:11]).delete()
    return {"small_question_behind_large_s": took, "years_of_the_large_ones": others}
