"""`start` and `demo`: database, migrations, server, and a clean end.

The starting process watches over both: a database or a server that died is started again, and
Ctrl-C, a closed terminal or a kill end everything that was started.
"""

import errno
import multiprocessing
import os
import signal
import socket
import sys
import threading
import time
import urllib.request
from collections.abc import Callable
from contextlib import suppress
from types import FrameType

from pondus.running.cluster import die_with_parent
from pondus.running.database import studio_database
from pondus.running.places import CannotStart
from pondus.store.database import migrate
from pondus.web.app import PAGES, WebConfig

STILL_AFTER_SECONDS = 20.0
ENDS_TOO_SOON_SECONDS, LETS_GO_WITHIN_SECONDS = 3.0, 30.0
"""A server that ends sooner than that after its start would only end again."""


def run_studio(name: str, port: int, *, fill: Callable[[str], None] | None = None) -> None:
    """Run until told to stop. ``fill`` puts data into the database before the server starts. Raises CannotStart."""
    check_port(port)
    with studio_database(name) as database:
        migrate(database.url)
        if fill is not None:
            fill(database.url)
        _serve(WebConfig(database_url=database.url, port_file=database.port_file), port, database.revive)


def check_port(port: int) -> None:
    """Refuse a port that is taken or not ours to take. Raises CannotStart."""
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OverflowError:
            raise CannotStart(f"{port} is not a port; choose one from 1024 to 65535.") from None
        except OSError as error:
            if error.errno == errno.EACCES:
                raise CannotStart(
                    f"Port {port} may not be used by this user; choose one above 1023 with --port."
                ) from None
            raise CannotStart(
                f"Port {port} is in use already, perhaps by another Pondus; open http://127.0.0.1:{port} or choose another with"
                " --port."
            ) from None


def run_server(config: WebConfig, port: int, workers: int | None = None) -> None:
    """The server process: leads its own group, ends with its starter. ``workers``: how many processes answer, else as usual."""
    die_with_parent(signal.SIGTERM)()
    os.setsid()
    from pondus.running.server import Server

    Server(config, port, workers=workers).run()


class _Stop(Exception):
    """A signal asked for the end."""


def _on_signal(number: int, frame: FrameType | None) -> None:
    raise _Stop


def _serve(config: WebConfig, port: int, revive: Callable[[], None]) -> None:
    if not (PAGES / "index.html").exists():
        raise CannotStart("The pages aren't built; start Pondus with bin/pondus, which builds them.")
    for each in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
        signal.signal(each, _on_signal)
    server = _started(config, port)
    try:
        _announce(server, port)
        began = time.monotonic()
        while True:
            server.join(1.0)
            with suppress(CannotStart):  # the pages say that the database is away; it is tried again
                revive()
            if server.is_alive():
                continue
            if time.monotonic() - began < ENDS_TOO_SOON_SECONDS:
                raise CannotStart(
                    "The server ended by itself. Start it again; if it ends again, look whether memory or disk is full."
                )
            print("pondus: the server ended by itself and is started again ...", file=sys.stderr)
            _await_free(port)
            server, began = _started(config, port), time.monotonic()
            _announce(server, port)
    except _Stop:
        print("\nPondus has stopped; everything is kept.", file=sys.stderr)
    finally:
        for each in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
            signal.signal(each, signal.SIG_IGN)
        if server.is_alive():
            server.terminate()
            server.join(8)
            if server.is_alive():
                server.kill()


def _started(config: WebConfig, port: int) -> multiprocessing.process.BaseProcess:
    server = multiprocessing.get_context("spawn").Process(target=run_server, args=(config, port), daemon=False)
    server.start()
    return server


def _await_free(port: int) -> None:
    """Wait for what a killed server leaves: its workers notice within a second or two, and let the port go."""
    until = time.monotonic() + LETS_GO_WITHIN_SECONDS
    while True:
        try:
            check_port(port)
            return
        except CannotStart:
            if time.monotonic() > until:
                raise
            threading.Event().wait(0.2)


def _announce(server: multiprocessing.process.BaseProcess, port: int) -> None:
    """Say the address once the page answers, however long a slow machine takes."""
    began, told = time.monotonic(), False
    address = f"http://127.0.0.1:{port}"
    while server.is_alive():
        if not told and time.monotonic() - began > STILL_AFTER_SECONDS:
            told = True
            print("pondus: the server is still starting; this machine is slow or busy ...", file=sys.stderr)
        try:
            with urllib.request.urlopen(f"{address}/api/kinds", timeout=2):
                print(f"Pondus is ready: {address}   (Ctrl-C stops it)", flush=True)
                return
        except OSError:
            threading.Event().wait(0.1)
