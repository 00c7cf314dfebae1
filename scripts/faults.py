"""Kill each part while people work, fill the disk, cut connections, start twice: nothing acknowledged may be lost.

``PYTHONPATH=. .local/venv/bin/python scripts/faults.py`` as root or as whoever runs Red Ledger; it makes a place of its
own below a temporary folder (a small memory disk where it may mount one) and takes it away again. ``--quick``
leaves out the job whose worker is killed, which waits for a minute; the tests of runs have one, too.
"""

import contextlib
import os
import signal
import socket
import subprocess
import sys
import tempfile
from pathlib import Path
from threading import Thread
from time import monotonic, sleep
from typing import Any

from scripts.trial import (
    PASSWORD,
    ROOT,
    Crowd,
    Designer,
    django_of,
    environment,
    ledger,
    people,
    report,
    settled,
    until,
)
from web.workspace.management.serving import Person

PORT, PG_PORT, DESIGNERS, DISK_MB = 8790, 54790, 4, 700


class Stored:
    """``./ledger serve --keep`` of a place, as a service would run it."""

    def __init__(self, env: dict[str, str]) -> None:
        self.env = env
        self.log = open(Path(env["LEDGER_STATE"]) / "kept.log", "w")  # noqa: SIM115
        self.process = subprocess.Popen(
            ["bash", str(ROOT / "ledger"), "serve", "--keep"],
            env=env,
            stdout=self.log,
            stderr=self.log,
            start_new_session=True,
        )

    def answers(self) -> bool:
        """Whether the server and its database do."""
        return Person(PORT).request("GET", "/ready")[0] == 200

    def children(self, of: int) -> list[int]:
        """Processes of a process."""
        found = (task.joinpath("children").read_text().split() for task in Path(f"/proc/{of}/task").iterdir())
        return [int(pid) for word in found for pid in word]

    def master(self) -> int:
        """The web server's own process."""
        return next(p for p in self.children(self.process.pid) if b"gunicorn" in cmdline(p))

    def workers(self) -> list[int]:
        """Those that answer requests."""
        return [p for p in self.children(self.master()) if b"gunicorn" in cmdline(p)]

    def job_workers(self) -> list[int]:
        """Those that calculate long questions."""
        return [p for p in self.children(self.master()) if b"manage.py" in cmdline(p)]

    def postmaster(self) -> int:
        """The database's own process."""
        return int(
            subprocess.run(
                ["head", "-1", f"{self.env['LEDGER_PGDATA']}/postmaster.pid"],
                capture_output=True,
                text=True,
                check=True,
            ).stdout
        )

    def stop(self) -> None:
        """As a service is stopped."""
        self.process.terminate()
        try:
            self.process.wait(30)
        except subprocess.TimeoutExpired:
            os.killpg(self.process.pid, signal.SIGKILL)
        ledger(self.env, "stop")


def cmdline(pid: int) -> bytes:
    """What a process was started as; empty once it is gone."""
    try:
        return Path(f"/proc/{pid}/cmdline").read_bytes()
    except OSError:
        return b""


def kills(stored: Stored, crowd: Crowd) -> dict[str, float]:
    """Each part killed at once in mid-edit; seconds until everybody edits again."""
    from django.db import connection

    def backend() -> None:
        with connection.cursor() as cursor:
            cursor.execute("SELECT pid FROM pg_stat_activity WHERE usename='ledger' AND pid<>pg_backend_pid() LIMIT 1")
            os.kill(cursor.fetchone()[0], signal.SIGKILL)
        connection.close()

    parts: dict[str, Any] = {
        "web_worker": lambda: os.kill(stored.workers()[0], signal.SIGKILL),
        "web_master": lambda: os.kill(stored.master(), signal.SIGKILL),
        "database_backend": backend,
        "database": lambda: os.kill(stored.postmaster(), signal.SIGKILL),
    }
    found = {}
    for name, kill in parts.items():
        sleep(1.0)
        kill()
        found[f"{name}_killed_s"] = crowd.go_on()
    return found


def mid_job(stored: Stored, designers: list[Designer]) -> dict[str, float]:
    """A job worker killed in mid-job: the job ends all the same, each year once."""
    from web.jobs.services import progress, request_run
    from web.projects.models import Design
    from web.workspace.management.studies import SPREADS

    design = Design.objects.select_related("project__weather", "project__owner").get(
        project=int(designers[0].base.split("/")[2])
    )
    question = {"spreads": SPREADS, "seed": 3}
    run = request_run(design=design, author=design.project.owner, purpose="doubt", question=question, size=400)
    until(lambda: 0 < progress(run).done < 400, 120, "the job begins")
    os.kill(stored.job_workers()[0], signal.SIGKILL)
    start = monotonic()
    until(lambda: progress(run).finished, 240, "the job ends")
    return {"job_after_kill_s": monotonic() - start, "job_years": float(progress(run).done)}


def mid_upload(stored: Stored, designer: Designer) -> dict[str, float]:
    """A worker killed while a file comes in, and while a report is printed: nothing half of it is seen, and both work
    again."""
    from web.projects.models import Upload, WeatherFile
    from web.reports.models import Report

    pk = int(designer.base.split("/")[2])
    before = (WeatherFile.objects.filter(project=pk).count(), Upload.objects.filter(project=pk).count())
    cookies = "; ".join(f"{k}={v}" for k, v in designer.person.cookies.items())
    head = (
        f"POST {designer.base}weather HTTP/1.1\r\nHost: 127.0.0.1\r\nCookie: {cookies}\r\n"
        f"X-CSRFToken: {designer.person.cookies['csrftoken']}\r\nContent-Length: 4000000\r\n"
        "Content-Type: multipart/form-data; boundary=b\r\n\r\n--b\r\n"
        'Content-Disposition: form-data; name="file"; filename="y.csv"\r\n\r\n'
    )
    with socket.create_connection(("127.0.0.1", PORT)) as half:
        half.sendall(head.encode() + b"1,2,3\n" * 200_000)
        for pid in stored.workers():
            os.kill(pid, signal.SIGKILL)
    until(stored.answers, 60, "the server answers")
    after = (WeatherFile.objects.filter(project=pk).count(), Upload.objects.filter(project=pk).count())

    def issue() -> int:
        form = {"title": "Trial", "section": ["tank"], "screen": "paper"}
        return designer.person.request("POST", designer.base + "paper/issue", form)[0]

    def quietly() -> None:
        with contextlib.suppress(OSError):
            issue()

    designer.person.port, designer.person.host = PORT, "127.0.0.1"
    printing = Thread(target=quietly)
    printing.start()
    sleep(0.7)
    for pid in stored.workers():
        os.kill(pid, signal.SIGKILL)
    printing.join()
    until(stored.answers, 60, "the server answers")
    status = issue()
    reports = list(Report.light.filter(project=pk).values_list("number", flat=True))
    whole = all(bytes(r.pdf).startswith(b"%PDF") for r in Report.objects.filter(project=pk))
    return {
        "upload_halves": float(after != before),
        "report_status": float(status),
        "report_numbers_odd": float(sorted(reports) != list(range(1, len(reports) + 1)) or not whole),
    }


def cut_answers(designer: Designer) -> dict[str, float]:
    """A proxy that passes requests on and drops the answers: asked again under its key, an edit is done once."""
    from web.projects.models import Edit

    listener = socket.create_server(("127.0.0.1", 0))

    def cut() -> None:
        for _ in range(5):
            client, _where = listener.accept()
            with client, socket.create_connection(("127.0.0.1", PORT)) as server:
                server.sendall(client.recv(65536))
                server.recv(100)  # it was done; of the answer nothing arrives

    Thread(target=cut, daemon=True).start()
    pk = int(designer.base.split("/")[2])
    before = Edit.objects.filter(project=pk).count()
    for number in range(5):
        form = {"path": "demand.people", "value": 3 + number, "screen": "demand", "key": f"cut-{number}"}
        designer.person.host, designer.person.port = "127.0.0.1", listener.getsockname()[1]
        with contextlib.suppress(OSError):
            designer.person.request("POST", designer.base + "edit", form)
        designer.person.port = PORT
        status = designer.person.request("POST", designer.base + "edit", form)[0]
        if status != 200:
            raise RuntimeError(f"An edit asked again answered {status}.")
    return {"cut_edits": 5.0, "cut_twice": float(Edit.objects.filter(project=pk).count() - before - 5)}


def slow_clients(crowd: Crowd) -> dict[str, float]:
    """Forty connections that send a letter a second: those who work go on."""
    slow = [socket.create_connection(("127.0.0.1", PORT)) for _ in range(40)]
    for one in slow:
        one.sendall(b"POST /sign-in HTTP/1.1\r\nHost: 127.0.0.1\r\nX-")
    start = monotonic()
    while monotonic() - start < 6:
        for one in slow:
            try:
                one.sendall(b"x")
            except OSError:
                continue
        sleep(1)
    took = crowd.go_on()
    for one in slow:
        one.close()
    return {"beside_slow_clients_s": took}


def full_disk(stored: Stored, crowd: Crowd, folder: Path) -> dict[str, float]:
    """The disk full while people work: what cannot be kept is not acknowledged; with room again all goes on."""
    filler = folder / "pg" / "filler"
    with open(filler, "wb") as file:
        try:
            while True:
                file.write(b"\0" * 1_000_000)
                file.flush()
        except OSError:
            pass
    now = [len(one.acknowledged) for one in crowd.designers]
    sleep(8)
    while_full = sum(len(one.acknowledged) - n for one, n in zip(crowd.designers, now, strict=True))
    filler.unlink()
    return {"edits_while_full": float(while_full), "disk_free_again_s": crowd.go_on()}


def two_starts(env: dict[str, str]) -> dict[str, float]:
    """The same place started twice at once: in the end one serves, whichever was later."""
    both = [
        subprocess.Popen(
            ["bash", str(ROOT / "ledger"), "serve"],
            env=env,
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            text=True,
            start_new_session=True,
        )
        for _ in range(2)
    ]
    until(lambda: any(one.poll() is not None for one in both), 120, "one of two gives way")
    until(lambda: Person(PORT).request("GET", "/ready")[0] == 200, 60, "the other serves")
    serving = sum(one.poll() is None for one in both)
    for one in both:
        if one.poll() is None:
            os.killpg(one.pid, signal.SIGTERM)
            one.wait(30)
    return {"two_starts_serving": float(serving)}


def main() -> None:
    folder = Path(tempfile.mkdtemp(prefix="ledger-faults-"))
    folder.chmod(0o711)
    small = (
        os.geteuid() == 0
        and subprocess.run(
            ["mount", "-t", "tmpfs", "-o", f"size={DISK_MB}m,mode=711", "tmpfs", str(folder)], check=False
        ).returncode
        == 0
    )
    env = environment(folder, LEDGER_PORT=str(PORT), LEDGER_PG_PORT=str(PG_PORT), LEDGER_SIGN_UP="0")
    found: dict[str, float] = {}
    stored = Stored(env)
    try:
        found["first_start_s"] = until(stored.answers, 300, "the first start")
        django_of(env)
        designers = people(DESIGNERS, [("127.0.0.1", PORT)])
        with Crowd(designers[1:]) as crowd:
            crowd.go_on()
            found |= kills(stored, crowd)
            found |= slow_clients(crowd)
            if "--quick" not in sys.argv:
                found |= mid_job(stored, designers)
            found |= mid_upload(stored, designers[0])
            until(stored.answers, 60, "the server answers")
            found |= cut_answers(Designer("cut", designers[0].base, [], signed_in(designers[0].name)))
            if small:
                found |= full_disk(stored, crowd, folder)
        found |= settled(designers[1:])
        stored.stop()
        found |= two_starts(env)
    finally:
        stored.stop()
        subprocess.run(["cp", str(folder / "kept.log"), "/tmp/ledger-faults.log"], check=False)
        if small:
            sleep(1)
            subprocess.run(["umount", "-l", str(folder)], check=False)
        subprocess.run(["rm", "-rf", str(folder)], check=False)
    bad = ("lost", "twice", "unclosed", "odd_answers", "upload_halves", "report_numbers_odd", "cut_twice")
    report(found, not any(found[name] for name in bad) and found["two_starts_serving"] == 1.0)


def signed_in(name: str) -> Person:
    """Somebody at the door."""
    return Person(PORT).sign_in(name, PASSWORD)


if __name__ == "__main__":
    sys.path.insert(0, str(ROOT))
    main()
