"""Gunicorn's worker with threads, made to bear people who send slowly or not at all."""

import socket
import struct
from typing import Any

from gunicorn.workers.gthread import ThreadWorker

SENDS_WITHIN_SECONDS = 20


class PatientWorker(ThreadWorker):  # type: ignore[misc]
    """Whoever sends nothing for a while in the middle of a request is cut off, so that no thread is held for good. A
    connection on which nothing was begun holds none.
    """

    def handle(self, conn: Any) -> Any:
        """One request of a connection. A listening socket keeps its own time once it is open (`web.listening`)."""
        within = struct.pack("ll", SENDS_WITHIN_SECONDS, 0)
        conn.sock.setsockopt(socket.SOL_SOCKET, socket.SO_RCVTIMEO, within)
        return super().handle(conn)
