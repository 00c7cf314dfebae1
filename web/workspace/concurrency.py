"""Turns: so many at work at once in this process."""

from collections.abc import Iterator
from contextlib import contextmanager
from threading import BoundedSemaphore, Lock


class ConcurrencyLimit:
    """At most so many at once; but nobody waits longer than that many seconds, so that one who is held up, by a
    database that does not answer, say, does not hold up all. ``now`` says how many wait or are at work."""

    def __init__(self, places: int, patience_s: float) -> None:
        self.now = 0
        self._patience_s = patience_s
        self._places = BoundedSemaphore(places)
        self._lock = Lock()

    def _count(self, step: int) -> None:
        with self._lock:
            self.now += step

    @contextmanager
    def mine(self) -> Iterator[None]:
        """One's turn."""
        self._count(1)
        current = self._places.acquire(timeout=self._patience_s)
        try:
            yield
        finally:
            if current:
                self._places.release()
            self._count(-1)
