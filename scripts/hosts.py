"""Two web hosts, one database host and two hosts of workers, each in a network namespace; links cut and parts killed
while people work.

As root: ``PYTHONPATH=. .local/venv/bin/python scripts/hosts.py``. The people stand behind a door that tries the other
web host where one does not answer, as a proxy does. Everything it makes is taken away again.
"""

import os
import signal
import subprocess
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path
from time import monotonic, sleep

from scripts.trial import ROOT, Crowd, django_of, environment, ledger, people, report, settled, until
from web.workspace.management.serving import Person

NET, PORT, PG_PORT, DESIGNERS, YEARS = "10.77.0", 8791, 54791, 6, 600
HOSTS = {"db": 1, "web1": 11, "web2": 12, "work1": 21, "work2": 22}


def run(*command: str, check: bool = True) -> str:
    """A command of the system."""
    return subprocess.run(command, capture_output=True, text=True, check=check).stdout


class Network:
    """Hosts on one bridge, each in a namespace of its own."""

    def __enter__(self) -> "Network":
        self.__exit__()
        run("ip", "link", "add", "rl-net", "type", "bridge")
        run("ip", "addr", "add", f"{NET}.254/24", "dev", "rl-net")
        run("ip", "link", "set", "rl-net", "up")
        for name, number in HOSTS.items():
            run("ip", "netns", "add", f"rl-{name}")
            run("ip", "link", "add", f"rl-{name}", "type", "veth", "peer", "name", "eth0", "netns", f"rl-{name}")
            run("ip", "link", "set", f"rl-{name}", "master", "rl-net", "up")
            for command in (
                ("addr", "add", f"{NET}.{number}/24", "dev", "eth0"),
                ("link", "set", "eth0", "up"),
                ("link", "set", "lo", "up"),
            ):
                run("ip", "-n", f"rl-{name}", *command)
        return self

    def __exit__(self, *_error: object) -> None:
        for name in HOSTS:
            run("ip", "netns", "del", f"rl-{name}", check=False)
            run("ip", "link", "del", f"rl-{name}", check=False)
        run("ip", "link", "del", "rl-net", check=False)

    def link(self, name: str, up: bool) -> None:
        """Cut a host's cable, or put it back."""
        run("ip", "link", "set", f"rl-{name}", "up" if up else "down")


def on(host: str, command: list[str], env: dict[str, str], log: Path, user: str = "") -> subprocess.Popen[bytes]:
    """A program on a host."""
    command_line = ["runuser", "-u", user, "--", *command] if user else command
    with open(log, "ab") as file:
        return subprocess.Popen(
            ["ip", "netns", "exec", f"rl-{host}", *command_line],
            env=env,
            stdout=file,
            stderr=file,
            cwd=ROOT,
            start_new_session=True,
        )


def end(program: subprocess.Popen[bytes], how: int = signal.SIGTERM) -> None:
    """End a program and all it started."""
    try:
        os.killpg(program.pid, how)
        program.wait(20)
    except (ProcessLookupError, subprocess.TimeoutExpired):
        pass


def again(start: Callable[[], subprocess.Popen[bytes]]) -> subprocess.Popen[bytes]:
    """A program started as a service is: anew where it ends at once (a database waits for what it left behind)."""
    for _ in range(10):
        program = start()
        sleep(2)
        if program.poll() is None:
            return program
    raise RuntimeError("a program does not start again")


def made(folder: Path) -> tuple[dict[str, str], dict[str, str]]:
    """A place made as a new user would, then stopped: the environment on the database host, and elsewhere."""
    env = environment(folder, LEDGER_PORT=str(PORT), LEDGER_PG_PORT=str(PG_PORT))
    done = ledger(env, "manage", "prepare")
    if done.returncode:
        raise RuntimeError(done.stdout[-400:] + done.stderr[-400:])
    with open(folder / "pg" / "pg_hba.conf", "a") as rules:
        rules.write(f"host all all {NET}.0/24 scram-sha-256\n")
    ledger(env, "stop")
    away = {
        **env,
        "LEDGER_DB_HOST": f"{NET}.{HOSTS['db']}",
        "LEDGER_DB_PORT": str(PG_PORT),
        "LEDGER_BIND": "0.0.0.0",
        "LEDGER_HOSTS": ",".join(f"{NET}.{number}" for number in HOSTS.values()),
        "LEDGER_WORK": "0",
        "PYTHONPATH": str(ROOT),
        "HEAT_CACHE_DIR": str(ROOT / ".local" / "numba"),
    }
    return env, away


def main() -> None:
    folder = Path(tempfile.mkdtemp(prefix="ledger-hosts-"))
    folder.chmod(0o711)
    env, away = made(folder)
    binaries = sorted(Path("/usr/lib/postgresql").glob("*/bin"))[-1]
    python, gunicorn = str(folder / "venv/bin/python"), str(folder / "venv/bin/gunicorn")
    serve = [gunicorn, "-c", "web/config/gunicorn.py", "web.config.wsgi"]
    work = [python, "manage.py", "work", "--threads", "1"]
    programs: dict[str, subprocess.Popen[bytes]] = {}
    commands: dict[str, Callable[[], subprocess.Popen[bytes]]] = {
        "db": lambda: on(
            "db",
            [
                str(binaries / "postgres"),
                "-D",
                env["LEDGER_PGDATA"],
                "-p",
                str(PG_PORT),
                "-c",
                "listen_addresses=*",
                "-c",
                "unix_socket_directories=",
            ],
            env,
            folder / "db.log",
            "postgres",
        ),
        **{name: (lambda name=name: on(name, serve, away, folder / f"{name}.log")) for name in ("web1", "web2")},
        **{name: (lambda name=name: on(name, work, away, folder / f"{name}.log")) for name in ("work1", "work2")},
    }
    found: dict[str, float] = {}
    hosts = [(f"{NET}.{HOSTS[name]}", PORT) for name in ("web1", "web2")]
    answers = lambda listener: Person(listener[1], listener[0]).request("GET", "/sign-in")[0] == 200
    with Network() as network:
        try:
            for name, start in commands.items():
                programs[name] = start()
                sleep(1.5 if name == "db" else 0.2)
            found["all_up_s"] = max(until(lambda host=host: answers(host), 120, "a web host") for host in hosts)
            django_of({**away, "LEDGER_STATE": str(folder)})
            found |= trial(network, programs, commands, hosts)
        finally:
            for program in programs.values():
                end(program)
    subprocess.run(["rm", "-rf", str(folder)], check=False)
    bad = ("lost", "twice", "unclosed", "odd_answers", "jobs_unfinished")
    report(found, not any(found[name] for name in bad))


def trial(
    network: Network,
    programs: dict[str, subprocess.Popen[bytes]],
    commands: dict[str, Callable[[], subprocess.Popen[bytes]]],
    hosts: list[tuple[str, int]],
) -> dict[str, float]:
    """Links cut and parts killed, one after the other, while people work and a long question is calculated."""
    from django.db import connection

    from web.jobs.services import progress, request_run
    from web.projects.models import Design
    from web.workspace.management.studies import SPREADS

    found: dict[str, float] = {}
    designers = people(DESIGNERS, hosts)
    design = Design.objects.select_related("project__weather", "project__owner").filter(project__name="trial")[0]
    question = {"spreads": SPREADS, "seed": 4}
    with Crowd(designers) as crowd:
        crowd.go_on()
        job = request_run(design=design, author=design.project.owner, purpose="doubt", question=question, size=YEARS)
        until(lambda: progress(job).done > 0, 120, "the job begins")
        for name in ("web1", "work1", "db"):
            network.link(name, up=False)
            if name == "db":
                sleep(4)
            else:
                found[f"{name}_cut_s"] = crowd.go_on()
            network.link(name, up=True)
            found[f"{name}_back_s"] = crowd.go_on()
            print(f"{name} cut and back", flush=True)
        for name in ("web2", "work2", "db"):
            end(programs[name], signal.SIGKILL)
            if name != "db":
                found[f"{name}_killed_s"] = crowd.go_on()
            programs[name] = again(commands[name])
            found[f"{name}_again_s"] = crowd.go_on()
            print(f"{name} killed and again", flush=True)
        connection.close()  # this program's own, which went with the database
        start = monotonic()
        until(lambda: progress(job).finished, 300, "the job ends")
        found["job_left_s"] = monotonic() - start
        found["jobs_unfinished"] = float(progress(job).done != YEARS)
    return found | settled(designers)


if __name__ == "__main__":
    sys.path.insert(0, str(ROOT))
    main()
