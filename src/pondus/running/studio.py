"""`start`, `demo` and `serve`: database, migrations, servers, and a clean end.

The starting process watches over all of it: a database or a server that died is started again, and Ctrl-C, a closed terminal or
a kill end everything that was started. Shared with the room, a second server speaks HTTPS on every address, beside the one on
loopback; which of the two a request came in at decides whether someone has to sign in.
"""

import errno
import multiprocessing
import os
import signal
import socket
import sys
import threading
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Sequence
from contextlib import suppress
from dataclasses import dataclass, field, replace
from types import FrameType

from pondus.running.cluster import die_with_parent
from pondus.running.database import studio_database
from pondus.running.places import CannotStart, home
from pondus.running.server import WORKERS, Bind
from pondus.running.sharing import ShareOptions, Sharing
from pondus.running.welcome import ensure_teacher, show_addresses
from pondus.store.database import migrate
from pondus.web.access import Door
from pondus.web.app import PAGES, WebConfig

STILL_AFTER_SECONDS = 20.0
ENDS_TOO_SOON_SECONDS, LETS_GO_WITHIN_SECONDS = 3.0, 30.0
"""A server that ends sooner than that after its start would only end again."""
LOOKS_EVERY_SECONDS = 20.0
"""How often addresses and certificate are looked at."""


def run_studio(
    name: str, port: int, *, fill: Callable[[str], None] | None = None, share: ShareOptions | None = None
) -> None:
    """Run until told to stop. ``fill`` puts data into the database before the server starts. Raises CannotStart."""
    check_port(port)
    sharing = None if share is None else Sharing(home(name), share)
    if share is not None:
        share.check()
        check_port(share.port, host=share.on or "", option="--share-port")
    with studio_database(name) as database:
        migrate(database.url)
        if fill is not None:
            fill(database.url)
        config = WebConfig(database_url=database.url, port_file=database.port_file)
        if sharing is None:
            _watch([Watched(config, Bind(port))], revive=database.revive)
            return
        try:
            sharing.begin()
            ensure_teacher(database.url)
            _watch(
                [Watched(_at(config, sharing, "loopback"), Bind(port), _fewer()), shared_server(config, sharing)],
                revive=database.revive,
                sharing=sharing,
            )
        finally:
            sharing.end()


def _at(config: WebConfig, sharing: Sharing, door: Door) -> WebConfig:
    return replace(config, door=door, share_file=sharing.share_file)


def _fewer() -> int:
    """Processes of the loopback server while the other one serves the room."""
    return max(1, WORKERS // 2)


def shared_server(config: WebConfig, sharing: Sharing, workers: int | None = None) -> "Watched":
    """The HTTPS server of a sharing that has begun."""
    host = sharing.options.on or ("::" if socket.has_dualstack_ipv6() else "0.0.0.0")
    bind = Bind(sharing.options.port, host, sharing.certificate, sharing.key)
    return Watched(_at(config, sharing, "shared"), bind, workers)


def serve(bind: Bind, *, names: Sequence[str], proxies: Sequence[str]) -> None:
    """One server of several, on the database that DATABASE_URL names, behind a proxy that speaks HTTPS. Raises CannotStart."""
    if not os.environ.get("DATABASE_URL"):
        raise CannotStart("serve is for a database of your own: set DATABASE_URL, or use start.")
    if not names:
        raise CannotStart("Say with --name under which name people open it, as in --name tuning.example.org.")
    check_port(bind.port, host=bind.host)
    with studio_database("studio") as database:
        migrate(database.url)
        config = WebConfig(
            database_url=database.url,
            hosts=frozenset(each.lower() for each in names),
            door="proxied",
            proxies=frozenset(proxies),
        )
        _watch([Watched(config, bind)], revive=database.revive)


def check_port(port: int, *, host: str = "127.0.0.1", option: str = "--port") -> None:
    """Refuse a port that is taken or not ours to take. Raises CannotStart."""
    family = socket.AF_INET6 if ":" in host or not host else socket.AF_INET
    with socket.socket(family) as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except OverflowError:
            raise CannotStart(f"{port} is not a port; choose one from 1024 to 65535.") from None
        except OSError as error:
            if error.errno == errno.EACCES:
                raise CannotStart(
                    f"Port {port} may not be used by this user; choose one above 1023 with {option}."
                ) from None
            if error.errno == errno.EADDRNOTAVAIL:
                raise CannotStart(f"{host} is no address of this computer.") from None
            raise CannotStart(
                f"Port {port} is in use already, perhaps by another Pondus; open http://127.0.0.1:{port} or choose another with"
                f" {option}."
            ) from None


def run_server(config: WebConfig, bind: Bind, workers: int | None = None) -> None:
    """The server process: leads its own group, ends with its starter. ``workers``: how many processes answer, else as usual."""
    die_with_parent(signal.SIGTERM)()
    os.setsid()
    from pondus.running.server import Server

    Server(config, bind, workers=workers).run()


class _Stop(Exception):
    """A signal asked for the end."""


def _on_signal(number: int, frame: FrameType | None) -> None:
    raise _Stop


@dataclass
class Watched:
    """One server, and its process while it runs."""

    config: WebConfig
    bind: Bind
    workers: int | None = None
    process: multiprocessing.process.BaseProcess | None = None
    began: float = field(default=0.0, repr=False)

    def start(self) -> None:
        """Begin, without waiting."""
        context = multiprocessing.get_context("spawn")
        self.process = context.Process(target=run_server, args=(self.config, self.bind, self.workers), daemon=False)
        self.process.start()
        self.began = time.monotonic()

    @property
    def is_alive(self) -> bool:
        """Whether its process runs."""
        return self.process is not None and self.process.is_alive()

    def revive(self) -> bool:
        """Start it again if it ended; whether it did. Raises CannotStart where it ends as soon as it has begun."""
        if self.is_alive:
            return False
        if time.monotonic() - self.began < ENDS_TOO_SOON_SECONDS:
            raise CannotStart(
                "The server ended by itself. Start it again; if it ends again, look whether memory or disk is full."
            )
        print("pondus: the server ended by itself and is started again ...", file=sys.stderr)
        _await_free(self.bind)
        self.start()
        return True

    def stop(self) -> None:
        """End it."""
        if self.process is None or not self.process.is_alive():
            return
        self.process.terminate()
        self.process.join(8)
        if self.process.is_alive():
            self.process.kill()


def _watch(servers: list[Watched], *, revive: Callable[[], None], sharing: Sharing | None = None) -> None:
    if not (PAGES / "index.html").exists():
        raise CannotStart("The pages aren't built; start Pondus with bin/pondus, which builds them.")
    for each in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
        signal.signal(each, _on_signal)
    try:
        for server in servers:
            server.start()
        _announce(servers[0])
        if sharing is not None:
            show_addresses(sharing.urls)
        looked_at = time.monotonic()
        while True:
            assert servers[0].process is not None
            servers[0].process.join(1.0)
            with suppress(CannotStart):  # the pages say that the database is away; it is tried again
                revive()
            for server in servers:
                if server.revive() and server is servers[0]:
                    _announce(server)
            if sharing is not None and time.monotonic() - looked_at > LOOKS_EVERY_SECONDS:
                looked_at = time.monotonic()
                _follow(sharing)
    except _Stop:
        print("\nPondus has stopped; everything is kept.", file=sys.stderr)
    finally:
        for each in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
            signal.signal(each, signal.SIG_IGN)
        for server in reversed(servers):
            server.stop()


def _follow(sharing: Sharing) -> None:
    """This computer may have moved to another network; who comes by the name notices nothing."""
    before = sharing.urls
    try:
        sharing.refresh()
    except CannotStart as error:
        print(f"pondus: {error.message}", file=sys.stderr)
        return
    if sharing.urls != before:
        print("pondus: this computer has other addresses now.", file=sys.stderr)
        show_addresses(sharing.urls)


def _await_free(bind: Bind) -> None:
    """Wait for what a killed server leaves: its workers notice within a second or two, and let the port go."""
    until = time.monotonic() + LETS_GO_WITHIN_SECONDS
    while True:
        try:
            check_port(bind.port, host=bind.host)
            return
        except CannotStart:
            if time.monotonic() > until:
                raise
            threading.Event().wait(0.2)


def _announce(server: Watched) -> None:
    """Say the address once the page answers, however long a slow machine takes."""
    began, told = time.monotonic(), False
    address = f"http://127.0.0.1:{server.bind.port}"
    while server.is_alive:
        if not told and time.monotonic() - began > STILL_AFTER_SECONDS:
            told = True
            print("pondus: the server is still starting; this machine is slow or busy ...", file=sys.stderr)
        try:
            with urllib.request.urlopen(f"{address}/", timeout=2):
                print(f"Pondus is ready: {address}   (Ctrl-C stops it)", flush=True)
                return
        except urllib.error.HTTPError:  # it answers, if only to say that it isn't known under this name
            print(f"Pondus is ready on port {server.bind.port}.   (Ctrl-C stops it)", flush=True)
            return
        except OSError:
            threading.Event().wait(0.1)
