"""A worker that lets nobody keep it waiting: who sends a request by halves, or by drops, is hung up on."""

import socket
import struct
from contextlib import suppress
from threading import Lock, local
from time import monotonic, sleep
from typing import Any

from gunicorn.http.errors import NoMoreData
from gunicorn.http.unreader import SocketUnreader
from gunicorn.workers.gthread import ThreadWorker

SILENCE_S, UNREAD_S = 10, 30
"""How long a connection may be silent in the middle of a request, and leave an answer unread."""
GRACE_S, SLOWEST_BYTES_S = 6.0, 8000.0
"""How long a request may take to come in, and how much longer for what it brings."""
GIVES_WAY_S, LONGEST_WAY_S = 0.002, 0.02
"""How much slower a worker takes a connection for each request it has at hand, and at most. Source: our own choice,
well below what an edit takes."""
_coming = local()


class TooSlow(NoMoreData):  # type: ignore[misc]
    """The rest of a request did not come in time; to whatever reads it the connection is gone."""


class PatientUnreader(SocketUnreader):  # type: ignore[misc]
    """Reads a request as long as it comes in at a bearable pace."""

    def chunk(self, size_hint: int | None = None) -> bytes:
        try:
            got: bytes = super().chunk(size_hint)
        except BlockingIOError as error:  # the system's own limit to silence
            raise self._given_up() from error
        _coming.bytes = getattr(_coming, "bytes", 0) + len(got)
        now = monotonic()
        if now - getattr(_coming, "since", now) > GRACE_S + _coming.bytes / SLOWEST_BYTES_S:
            raise self._given_up()
        return got

    def _given_up(self) -> TooSlow:
        """Both ways are shut: closing it then waits for nothing, which it would do where all others wait, too."""
        with suppress(OSError):
            self.sock.shutdown(socket.SHUT_RDWR)
        return TooSlow()


class PatientWorker(ThreadWorker):  # type: ignore[misc]
    """Threads, each with a limit to the silence and the slowness it bears. Who has more at hand is slower to reach for
    the next, so that it goes to whichever worker has less."""

    at_hand = 0
    """Requests being read or answered."""

    def accept(self, listener: Any) -> None:
        sleep(min(GIVES_WAY_S * self.at_hand, LONGEST_WAY_S))
        super().accept(listener)  # another may have taken it

    def handle(self, conn: Any) -> Any:
        with self._counting:
            self.at_hand += 1
        try:
            return self._handled(conn)
        finally:
            with self._counting:
                self.at_hand -= 1

    def _handled(self, conn: Any) -> Any:
        _coming.since, _coming.bytes = monotonic(), 0
        # Kept by the system, for the server sets the socket's own timeout anew.
        conn.sock.setsockopt(socket.SOL_SOCKET, socket.SO_RCVTIMEO, struct.pack("ll", SILENCE_S, 0))
        conn.sock.setsockopt(socket.SOL_SOCKET, socket.SO_SNDTIMEO, struct.pack("ll", UNREAD_S, 0))
        return super().handle(conn)

    def init_process(self) -> None:
        import gunicorn.http.parser

        gunicorn.http.parser.SocketUnreader = PatientUnreader
        self._counting = Lock()
        super().init_process()
