"""gunicorn: two workers with threads; kernels are loaded in each worker, never before the fork."""

import os

bind = f"127.0.0.1:{os.environ.get('LEDGER_PORT', '8000')}"
workers = int(os.environ.get("LEDGER_WORKERS", "2"))
threads = 4
worker_class = "gthread"
preload_app = False
timeout = 60
graceful_timeout = 10
control_socket_disable = True
accesslog = None


def post_worker_init(worker: object) -> None:
    """Compile or load the kernels before the first request."""
    from web.years.reckoned import warm

    warm()
