"""A worker that lets nobody keep it waiting: who sends a request by halves is hung up on."""

import socket
import struct
from typing import Any

from gunicorn.workers.gthread import ThreadWorker

SILENCE_S, UNREAD_S = 10, 30
"""How long a connection may be silent in the middle of a request, and leave an answer unread."""


class PatientWorker(ThreadWorker):  # type: ignore[misc]
    """Threads, each with a limit to the silence it bears."""

    def handle(self, conn: Any) -> Any:
        # Kept by the system, for the server sets the socket's own timeout anew.
        conn.sock.setsockopt(socket.SOL_SOCKET, socket.SO_RCVTIMEO, struct.pack("ll", SILENCE_S, 0))
        conn.sock.setsockopt(socket.SOL_SOCKET, socket.SO_SNDTIMEO, struct.pack("ll", UNREAD_S, 0))
        return super().handle(conn)
