"""How many are within."""

from threading import Lock


class Counted:
    """Counts who is within its block; ``now`` tells how many of this process are."""

    def __init__(self) -> None:
        self.now = 0
        self._lock = Lock()

    def __enter__(self) -> None:
        with self._lock:
            self.now += 1

    def __exit__(self, *error: object) -> None:
        with self._lock:
            self.now -= 1
