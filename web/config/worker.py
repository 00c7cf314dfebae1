"""A worker that lets nobody keep it waiting: who sends a request by halves, or by drops, holds no thread and is hung up
on."""

import errno
import re
import selectors
import socket
import struct
from collections import deque
from contextlib import suppress
from functools import partial
from threading import Lock, local
from time import monotonic, sleep
from typing import Any

from gunicorn.http.errors import NoMoreData
from gunicorn.http.unreader import SocketUnreader
from gunicorn.workers.gthread import TConn, ThreadWorker

SILENCE_S, UNREAD_S = 10, 30
"""How long a connection may be silent in the middle of a request, and leave an answer unread."""
GRACE_S, SLOWEST_BYTES_S = 6.0, 8000.0
"""How long a request may take to come in, and how much longer for what it brings."""
GIVES_WAY_S, LONGEST_WAY_S = 0.002, 0.02
"""How much slower a worker takes a connection for each request it has at hand, and at most. Source: our own choice,
well below what an edit takes."""
LOOKED_AT, LARGE_AT_ONCE = 32_768, 6
"""How much of a request is looked at before a thread takes it (bytes), and how many requests with more than that are
read at once in a worker: each of them holds a thread as long as it comes in."""
LENGTH = re.compile(rb"\r\ncontent-length:[ \t]*(\d{1,15})[ \t]*\r\n", re.IGNORECASE)
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


def wanted(got: bytes) -> int | None:
    """How many bytes a request has, by the first that came of it; None while its heading has not ended."""
    end = got.find(b"\r\n\r\n")
    if end < 0:
        return None if len(got) < LOOKED_AT else len(got)  # a heading too long is the parser's to refuse
    length = LENGTH.search(got[: end + 4])
    return end + 4 + (int(length[1]) if length else 0)


class PatientWorker(ThreadWorker):  # type: ignore[misc]
    """Threads for requests that have come, or whose rest is on its way at a bearable pace; until then a connection
    waits where it costs nothing. Who has more at hand is slower to reach for the next, so that it goes to whichever
    worker has less."""

    at_hand = 0
    """Requests being read or answered."""

    def accept(self, listener: Any) -> None:
        """Take a connection and wait for its request without a thread."""
        sleep(min(GIVES_WAY_S * self.at_hand, LONGEST_WAY_S))
        try:
            client, address = listener.accept()
        except OSError as error:
            if error.errno not in (errno.EAGAIN, errno.ECONNABORTED, errno.EWOULDBLOCK):
                raise
            return  # another worker has taken it
        self.nr_conns += 1
        self.await_request(TConn(self.cfg, client, address, listener.getsockname()))

    def await_request(self, conn: Any) -> None:
        """Wait until enough of a request is there; what does not come within its time is hung up on."""
        conn.expected, conn.timeout = 0, monotonic() + GRACE_S
        conn.sock.setblocking(False)
        self.pending_conns.append(conn)
        self.poller.register(conn.sock, selectors.EVENT_READ, partial(self.on_arriving, conn))

    def on_client_socket_readable(self, conn: Any, client: Any) -> None:
        """The next request on a connection that was kept."""
        self.poller.unregister(client)
        self.keepalived_conns.remove(conn)
        self.await_request(conn)
        self.on_arriving(conn, client)

    def on_arriving(self, conn: Any, client: Any) -> None:
        """More of a request has come: to a thread with it, or wait on until still more is there."""
        try:
            got = client.recv(LOOKED_AT, socket.MSG_PEEK | socket.MSG_DONTWAIT)
        except BlockingIOError:
            return
        except OSError:
            got = b""
        need = wanted(got)
        whole = need is not None and len(got) >= min(need, LOOKED_AT)
        if not whole and len(got) > conn.expected:
            conn.expected = len(got)
            client.setsockopt(socket.SOL_SOCKET, socket.SO_RCVLOWAT, len(got) + 1)  # not readable before that
            return
        self.poller.unregister(client)
        self.pending_conns.remove(conn)
        if not whole:  # readable without more: the other side has gone
            self.nr_conns -= 1
            conn.close()
            return
        client.setsockopt(socket.SOL_SOCKET, socket.SO_RCVLOWAT, 1)
        conn.data_ready, conn.large = True, need is not None and need > LOOKED_AT
        if conn.large and self.large >= LARGE_AT_ONCE:
            self.large_waiting.append(conn)
            return
        self.take(conn)

    def take(self, conn: Any) -> None:
        """Give a request to a thread."""
        self.large += conn.large
        self.enqueue_req(conn)

    def finish_request(self, conn: Any, fs: Any) -> None:
        """A request is answered; a large one makes room for the next."""
        if getattr(conn, "large", False):
            self.large -= 1
            conn.large = False
            if self.large_waiting:
                self.take(self.large_waiting.popleft())
        super().finish_request(conn, fs)

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
        self.large, self.large_waiting = 0, deque[Any]()
        super().init_process()
