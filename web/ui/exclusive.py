"""Heavy work done one at a time on this machine, across processes and threads."""

import fcntl
import os
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from time import monotonic, sleep

from django.conf import settings

POLL_S = 0.02


class Busy(Exception):
    """The turn did not come in time: answered with 503, and nothing was done."""


def _lock_file(name: str) -> Path:
    folder = Path(settings.STATE if os.access(settings.STATE, os.W_OK) else tempfile.gettempdir()) / "locks"
    folder.mkdir(exist_ok=True)
    return folder / f"{name}.lock"


@contextmanager
def exclusive(name: str, patience_s: float) -> Iterator[None]:
    """Hold the machine's only turn of this name; raises Busy where it did not come within so many seconds.

    A file lock (flock): the system lets go of it when its holder dies.
    """
    with _lock_file(name).open("w") as file:
        until = monotonic() + patience_s
        while True:
            try:
                fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
                break
            except BlockingIOError:
                if monotonic() > until:
                    raise Busy(name) from None
                sleep(POLL_S)
        yield
