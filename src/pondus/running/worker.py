"""Gunicorn's worker with threads, made to bear people who send slowly, not at all, or too much.

A thread is taken once the head of a request has come whole, and given back when its answer is sent: handshakes, heads and
connections that are being closed wait in the one loop of the process, which waits for all of them at once and never for one.
Everything that is waited for has an end of its own, counted from its beginning and not from the last byte. What one
address may hold is bounded, so that one device is never all of them. A view that answers without end (`web.streams`)
takes its connection out of its thread.

Why not gevent: an answer is mostly arithmetic, which would hold up everyone else of its process there; why not a proxy in
front: the studio's own computer would need one more server. ``bench crowd --attack`` tries it.
"""

import errno
import selectors
import socket
import ssl
import struct
import threading
import time
from collections import Counter, deque
from collections.abc import Callable, Iterable
from concurrent.futures import Future
from contextlib import suppress
from functools import partial
from typing import Any

from gunicorn import http
from gunicorn.http import wsgi
from gunicorn.sock import ssl_wrap_socket
from gunicorn.workers.gthread import TConn, ThreadWorker

from pondus.web.addresses import counted_address
from pondus.web.changes import DETACH

HEAD_WITHIN_SECONDS = 15.0
"""From a connection's first moment, or a request's first byte, to the end of the request's head; handshake included."""
BODY_WITHIN_SECONDS, LEAST_BYTES_A_SECOND = 20.0, 20_000
"""A request's body: within so long, and longer by what came at that pace."""
ANSWER_TAKEN_WITHIN_SECONDS = 20
"""So long an answer waits for a client that takes nothing."""
CLOSES_WITHIN_SECONDS = 2.0
LARGEST_HEAD_BYTES = 64 * 1024
"""What is longer is left to gunicorn, which refuses it."""
CONNECTIONS_OF_ONE_ADDRESS, REQUESTS_OF_ONE_ADDRESS = 100, 64
"""In one process of a server for the room. On loopback, and behind a proxy, all come from one address."""


class _NamelessResponse(wsgi.Response):  # type: ignore[misc]
    """An answer that doesn't say by which program it was made."""

    def default_headers(self) -> list[str]:
        return [line for line in super().default_headers() if not line.startswith("Server:")]


wsgi.Response = _NamelessResponse


class Detached(OSError):
    """Leads a connection out of its thread, past what gunicorn would still write (errno: as if the client were gone)."""

    def __init__(self) -> None:
        super().__init__(errno.EPIPE, "the connection is kept elsewhere")


Keeper = Callable[[socket.socket, Callable[[], None]], None]
"""Takes a connection's socket over, and calls what it is handed once it is done with it."""


class Connection(TConn):  # type: ignore[misc]
    """One client's connection. ``until``: when it is given up, while it is waited for."""

    sock: socket.socket
    parser: Any

    def __init__(self, *arguments: Any) -> None:
        super().__init__(*arguments)
        self.address = counted_address(self.client[0] if self.client else None)
        self.head = bytearray()
        self.until = time.monotonic() + HEAD_WITHIN_SECONDS
        self.is_wrapped = not self.cfg.is_ssl
        self.keeper: Keeper | None = None

    def take_in(self) -> bool:
        """Take in what has come; whether the head is whole. Raises BlockingIOError or ssl.SSLWant… for more, OSError for
        a client that is gone or speaks otherwise.
        """
        if not self.is_wrapped:
            self.sock = ssl_wrap_socket(self.sock, self.cfg)
            self.is_wrapped = True
        if isinstance(self.sock, ssl.SSLSocket) and self.sock.version() is None:
            self.sock.do_handshake()
        while b"\r\n\r\n" not in self.head and len(self.head) <= LARGEST_HEAD_BYTES:
            came = self.sock.recv(16_384)
            if not came:
                raise OSError(errno.ENOTCONN, "the client is gone")
            self.head += came
        return True

    def begin_request(self) -> None:
        """Hand the head to the parser, and bound how long the body may take."""
        if self.parser is None:
            self.parser = http.get_parser(self.cfg, self.sock, self.client)
            self.initialized = True
        unreader = self.parser.unreader
        unreader.unread(bytes(self.head))
        self.head.clear()
        unreader.chunk = partial(_chunk_in_time, self.sock, type(unreader).chunk.__get__(unreader), _Pace())


class _Pace:
    """How long a body may still take."""

    def __init__(self) -> None:
        self.until = time.monotonic() + BODY_WITHIN_SECONDS

    def left(self) -> float:
        return self.until - time.monotonic()

    def came(self, count: int) -> None:
        self.until += count / LEAST_BYTES_A_SECOND


def _chunk_in_time(sock: socket.socket, chunk: Callable[[Any], bytes], pace: _Pace, size_hint: Any = None) -> bytes:
    """A piece of the body. Raises TimeoutError when the whole takes too long."""
    left = pace.left()
    if left <= 0:
        raise TimeoutError("the body came too slowly")
    _bound_waiting(sock, socket.SO_RCVTIMEO, left)
    try:
        came = chunk(size_hint)
    except (BlockingIOError, ssl.SSLWantReadError):
        raise TimeoutError("the body came too slowly") from None
    pace.came(len(came))
    return came


def _bound_waiting(sock: socket.socket, option: int, seconds: float) -> None:
    whole, parts = divmod(max(seconds, 0.001), 1.0)
    sock.setsockopt(socket.SOL_SOCKET, option, struct.pack("ll", int(whole), int(parts * 1e6)))


class PatientWorker(ThreadWorker):  # type: ignore[misc]
    """See the module's own words."""

    wsgi: Any

    def __init__(self, *arguments: Any, **named: Any) -> None:
        super().__init__(*arguments, **named)
        bounded = self.cfg.is_ssl  # the room's; elsewhere one address is everyone
        self._most_connections = CONNECTIONS_OF_ONE_ADDRESS if bounded else self.cfg.worker_connections
        self._most_requests = REQUESTS_OF_ONE_ADDRESS if bounded else self.cfg.threads
        self._connections, self._requests = Counter[str](), Counter[str]()
        self._waiting_turn: dict[str, deque[Connection]] = {}
        self._arriving: dict[Connection, None] = {}
        self._closing: dict[Connection, None] = {}
        self._here = threading.local()

    def load_wsgi(self) -> None:
        """The application, told how to take a connection out of its thread."""
        super().load_wsgi()
        plain: Any = self.wsgi

        def told(environ: dict[str, Any], start_response: Any) -> Iterable[bytes]:
            environ[DETACH] = self._detach
            answer: Iterable[bytes] = plain(environ, start_response)
            return answer

        self.wsgi = told

    def _detach(self, keeper: Keeper) -> None:
        self._here.connection.keeper = keeper
        raise Detached

    # --- coming ---------------------------------------------------------------------------------------------------------

    def accept(self, listener: socket.socket) -> None:
        """Take a new connection, unless its address has too many."""
        try:
            client_sock, client = listener.accept()
        except OSError as error:
            if error.errno not in (errno.EAGAIN, errno.ECONNABORTED, errno.EWOULDBLOCK, errno.EMFILE):
                raise
            return
        connection = Connection(self.cfg, client_sock, client, listener.getsockname())
        if self._connections[connection.address] >= self._most_connections:
            client_sock.close()
            return
        self.nr_conns += 1
        self._connections[connection.address] += 1
        _bound_waiting(client_sock, socket.SO_SNDTIMEO, ANSWER_TAKEN_WITHIN_SECONDS)
        self._await(connection)

    def on_client_socket_readable(self, conn: Connection, client: socket.socket) -> None:
        """The next request begins on a connection that was kept."""
        self._forget(client)
        self.keepalived_conns.remove(conn)
        self._await(conn)

    def _await(self, connection: Connection) -> None:
        """Wait for a request's head, from now."""
        connection.until = time.monotonic() + HEAD_WITHIN_SECONDS
        self._arriving[connection] = None
        self._step(connection)

    def _step(self, connection: Connection, registered: socket.socket | None = None) -> None:
        if registered is not None:
            self._forget(registered)
        try:
            connection.take_in()
        except (BlockingIOError, ssl.SSLWantReadError):
            self._register(connection, selectors.EVENT_READ, self._step)
            return
        except ssl.SSLWantWriteError:
            self._register(connection, selectors.EVENT_WRITE, self._step)
            return
        except (OSError, ValueError):  # gone, or not speaking TLS where it is spoken
            del self._arriving[connection]
            self._drop(connection)
            return
        del self._arriving[connection]
        connection.sock.setblocking(True)
        connection.begin_request()
        self._begin(connection)

    def _register(self, connection: Connection, event: int, then: Callable[..., None]) -> None:
        told = partial(then, connection)
        try:
            self.poller.register(connection.sock, event, told)
        except KeyError:  # whoever had this number before closed its socket by itself, as a listening one may
            self._forget(connection.sock)
            self.poller.register(connection.sock, event, told)

    def _forget(self, sock: socket.socket) -> None:
        """Wait for a socket no more; one that was closed elsewhere is forgotten already."""
        with suppress(KeyError, ValueError, OSError):
            self.poller.unregister(sock)

    # --- being answered -------------------------------------------------------------------------------------------------

    def _begin(self, connection: Connection) -> None:
        """A thread for a request, or its address's turn is waited for."""
        if self._requests[connection.address] >= self._most_requests:
            self._waiting_turn.setdefault(connection.address, deque()).append(connection)
            return
        self._requests[connection.address] += 1
        self.enqueue_req(connection)

    def handle(self, conn: Connection) -> Any:
        """One request of a connection, in a thread."""
        self._here.connection = conn
        return super().handle(conn)

    def finish_request(self, conn: Connection, fs: "Future[Any]") -> None:
        """An answer is sent: keep the connection for the next, hand it on, or close it. In the loop."""
        _count_down(self._requests, conn.address)
        turn = self._waiting_turn.get(conn.address)
        if turn:
            self._begin(turn.popleft())
            if not turn:
                del self._waiting_turn[conn.address]
        try:
            again = bool(fs.result()) if not fs.cancelled() else False
        except Exception:
            again = False
        if conn.keeper is not None:
            conn.keeper(conn.sock, partial(self.method_queue.defer, self._close, conn))
        elif again and self.alive and conn.sock.fileno() >= 0:
            self._keep(conn)
        else:
            self._close(conn)

    def _keep(self, connection: Connection) -> None:
        ahead = connection.parser.unreader.take_buffered()
        connection.sock.setblocking(False)
        connection.head += ahead
        held = connection.sock.pending() if isinstance(connection.sock, ssl.SSLSocket) else 0
        if ahead or held:
            self._await(connection)
            return
        connection.set_timeout()
        self.keepalived_conns.append(connection)
        self._register(connection, selectors.EVENT_READ, self.on_client_socket_readable)

    # --- going ----------------------------------------------------------------------------------------------------------

    def _close(self, connection: Connection) -> None:
        """Say that nothing more comes, and let the client take what is on its way; without waiting for it."""
        try:
            connection.sock.setblocking(False)
            connection.sock.shutdown(socket.SHUT_WR)
            connection.until = time.monotonic() + CLOSES_WITHIN_SECONDS
            self._register(connection, selectors.EVENT_READ, self._drain)
        except (OSError, ValueError, KeyError):
            self._drop(connection)
            return
        self._closing[connection] = None

    def _drain(self, connection: Connection, registered: socket.socket) -> None:
        try:
            if socket.socket.recv(registered, 65_536):
                return
        except BlockingIOError:
            return
        except (OSError, ValueError):
            pass
        self._forget(registered)
        self._closing.pop(connection, None)
        self._drop(connection)

    def _drop(self, connection: Connection) -> None:
        self.nr_conns -= 1
        _count_down(self._connections, connection.address)
        connection.close()

    def murder_pending(self) -> None:
        """Give up those whose time is over. All wait equally long, so the first are the oldest."""
        moment = time.monotonic()
        for waiting in (self._arriving, self._closing):
            for connection in list(waiting):
                if connection.until > moment:
                    break
                del waiting[connection]
                self._forget(connection.sock)
                self._drop(connection)

    def murder_keepalived(self, force: bool = False) -> None:
        """Close those on which no further request has come."""
        moment = time.monotonic()
        while self.keepalived_conns and (force or self.keepalived_conns[0].timeout <= moment):
            connection = self.keepalived_conns.popleft()
            self._forget(connection.sock)
            self._drop(connection)


def _count_down(counts: Counter[str], key: str) -> None:
    counts[key] -= 1
    if counts[key] <= 0:
        del counts[key]
