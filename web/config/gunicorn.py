"""gunicorn: two workers with threads; kernels are loaded in each worker, never before the fork."""

import ctypes
import gc
import itertools
import os
import signal
import subprocess
import sys
from pathlib import Path
from threading import Event, Thread
from typing import Any

bind = f"{os.environ.get('LEDGER_BIND', '127.0.0.1')}:{os.environ.get('LEDGER_PORT', '8000')}"
workers = int(os.environ.get("LEDGER_WORKERS", "2"))
threads = 16  # waiting is cheap: edits and years take their turns in each worker
worker_class = "web.config.worker.PatientWorker"
preload_app = False
timeout = 60
graceful_timeout = 10
control_socket_disable = True
accesslog = os.path.join(os.environ["LEDGER_STATE"], "logs", "access.log") if os.environ.get("LEDGER_STATE") else None


def post_worker_init(worker: object) -> None:
    """Compile or load the kernels, the addresses and the pages before the first request."""
    from web.simulations.cache import warm
    from web.workspace.shell import ready_pages

    warm()
    ready_pages()
    gc.collect()
    gc.freeze()  # what is here now stays: it need not be gone through again


TIDY_EVERY, SETTLED_AT = 8, 64
"""Requests between two tidyings, and after how many a worker has loaded its pages, addresses and queries."""
_requests = itertools.count(1)


def post_request(worker: object, req: object, environ: object, resp: object) -> None:
    """Now and then let go of years that only circles of references still hold, and give their memory back."""
    number = next(_requests)
    if number % TIDY_EVERY == 0:
        gc.collect()
        if number == SETTLED_AT:
            gc.freeze()
        ctypes.CDLL(None).malloc_trim(0)


# ---- figures of all workers, given by the server's own process


def _metrics_folder() -> str:
    """An empty folder for what the workers count, named to them by the environment; none where no port is asked for."""
    if not os.environ.get("LEDGER_METRICS_PORT"):
        return ""
    folder = Path(os.environ.get("LEDGER_STATE", "/tmp")) / "metrics"
    folder.mkdir(exist_ok=True)
    for old in folder.glob("*.db"):
        old.unlink(missing_ok=True)
    os.environ["PROMETHEUS_MULTIPROC_DIR"] = str(folder)
    return str(folder)


METRICS = _metrics_folder()


def child_exit(server: object, worker: Any) -> None:
    """What a worker that ended was busy with is counted no more; what it had done stays."""
    if METRICS:
        from prometheus_client.multiprocess import mark_process_dead

        mark_process_dead(worker.pid)


# ---- a worker for what takes longer than a request, kept alive beside the server

ROOT = Path(__file__).parents[2]
_leaving = Event()


def _with_its_parent() -> None:
    """In a child: ended when its parent is no more, killed or not; and behind whoever waits for a page."""
    os.nice(10)
    pr_set_pdeathsig = 1
    ctypes.CDLL(None).prctl(pr_set_pdeathsig, signal.SIGTERM)


def _restart_dead_worker() -> None:
    """One worker at a time; one that died is followed by another."""
    while not _leaving.is_set():
        worker = subprocess.Popen([sys.executable, "manage.py", "work"], cwd=ROOT, preexec_fn=_with_its_parent)
        while worker.poll() is None and not _leaving.wait(0.5):
            pass
        if worker.poll() is None:
            worker.terminate()
        worker.wait(10)
        _leaving.wait(1)


def when_ready(server: Any) -> None:
    """Begin to work off runs, unless LEDGER_WORK=0 leaves that to other machines; serve figures at a port named."""
    if os.environ.get("LEDGER_HTTPS") == "1" and os.environ.get("LEDGER_PROXY") != "1":
        server.log.warning(
            "LEDGER_HTTPS is set and LEDGER_PROXY is not: if a proxy ends HTTPS here, set LEDGER_PROXY=1, or limits "
            "by address count all the world as one (docs/operating.md)."
        )
    if METRICS:  # imported only now: the library looks for its folder as it is imported
        from prometheus_client import CollectorRegistry, start_http_server
        from prometheus_client.multiprocess import MultiProcessCollector

        registry = CollectorRegistry()
        MultiProcessCollector(registry, path=METRICS)
        start_http_server(int(os.environ["LEDGER_METRICS_PORT"]), addr="127.0.0.1", registry=registry)
    if os.environ.get("LEDGER_WORK", "1") != "0":
        Thread(target=_restart_dead_worker, daemon=True).start()


def on_exit(server: object) -> None:
    """The worker goes with its server."""
    _leaving.set()
