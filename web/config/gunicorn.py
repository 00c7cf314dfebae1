"""gunicorn: two workers with threads; kernels are loaded in each worker, never before the fork."""

import ctypes
import gc
import itertools
import os

bind = f"127.0.0.1:{os.environ.get('LEDGER_PORT', '8000')}"
workers = int(os.environ.get("LEDGER_WORKERS", "2"))
threads = 16  # waiting is cheap: years are reckoned one at a time in each worker
worker_class = "web.config.worker.PatientWorker"
preload_app = False
timeout = 60
graceful_timeout = 10
control_socket_disable = True
accesslog = os.path.join(os.environ["LEDGER_STATE"], "logs", "access.log") if os.environ.get("LEDGER_STATE") else None


def post_worker_init(worker: object) -> None:
    """Compile or load the kernels before the first request."""
    from web.years.reckoned import warm

    warm()
    gc.collect()
    gc.freeze()  # what is here now stays: it need not be gone through again


TIDY_EVERY = 8
_requests = itertools.count(1)


def post_request(worker: object, req: object, environ: object, resp: object) -> None:
    """Now and then let go of years that only circles of references still hold, and give their memory back."""
    if next(_requests) % TIDY_EVERY == 0:
        gc.collect()
        ctypes.CDLL(None).malloc_trim(0)
