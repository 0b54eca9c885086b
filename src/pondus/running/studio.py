"""`start`, `demo` and `serve`: database, migrations, servers, and a clean end.

The starting process watches over all of it: a database or a server that died is started again, and Ctrl-C, a closed terminal or
a kill end everything that was started. Shared with the room, a second server speaks HTTPS on every address, beside the one on
loopback; which of the two a request came in at decides whether someone has to sign in.
"""

import errno
import json
import os
import pickle
import secrets
import signal
import socket
import ssl
import subprocess
import sys
import threading
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Sequence
from contextlib import suppress
from dataclasses import dataclass, field, replace
from types import FrameType

from pondus.core.errors import PondusError
from pondus.running.database import studio_database
from pondus.running.ending import end_orphans, run_of, told_to_child
from pondus.running.places import CannotStart, Home, home, make_folder
from pondus.running.server import WORKERS, Bind
from pondus.running.serving import Serving
from pondus.running.sharing import ShareOptions, Sharing
from pondus.running.welcome import ensure_teacher, show_addresses
from pondus.store import devices as device_store
from pondus.store.database import engine_for, migrate, session_on
from pondus.web.access import Door
from pondus.web.app import PAGES, WebConfig
from pondus.web.clock_watch import ClockWatch, jump_said

STILL_AFTER_SECONDS = 20.0
ENDS_TOO_SOON_SECONDS, LETS_GO_WITHIN_SECONDS = 3.0, 30.0
"""A server that ends sooner than that after its start would only end again."""
BINDS_WITHIN_SECONDS = 12.0
"""So long gunicorn tries to have a port that another holds, and loads before."""
LOOKS_EVERY_SECONDS = 20.0
"""How often addresses and certificate are looked at."""


def run_studio(name: str, port: int, *, fill: Callable[[str], None] | None = None, share: ShareOptions | None = None) -> None:
    """Run until told to stop. ``fill`` puts data into the database before the server starts. Raises CannotStart."""
    place = home(name)
    _end_what_outlived(place)
    check_port(port)
    sharing = None if share is None else Sharing(place, share)
    if share is not None:
        share.check()
        check_port(share.port, host=share.on or "", option="--share-port")
    with studio_database(name) as database:
        migrate(database.url)
        if fill is not None:
            fill(database.url)
        run = run_of(place.folder, os.getpid())
        config = WebConfig(database_url=database.url, port_file=database.port_file, run=run)
        told = told_to_child(place.folder)
        if sharing is None:
            _watch([Watched(config, Bind(port), environment=told)], revive=database.revive)
            return
        try:
            sharing.begin()
            ensure_teacher(database.url)
            plain = Watched(_at(config, sharing, "loopback"), Bind(port), _fewer(), told)
            room = shared_server(config, sharing)
            room.environment = told
            _watch([plain, room], revive=database.revive, sharing=sharing)
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
            hosts=frozenset(name.lower() for name in names),
            door="proxied",
            proxies=frozenset(proxies),
            run=secrets.token_hex(12),
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
                raise CannotStart(f"Port {port} may not be used by this user; choose one above 1023 with {option}.") from None
            if error.errno == errno.EADDRNOTAVAIL:
                raise CannotStart(f"{host} isn't an address of this computer.") from None
            raise CannotStart(
                f"Port {port} is in use already, perhaps by another Pondus; open http://127.0.0.1:{port} or choose another with"
                f" {option}."
            ) from None


def _end_what_outlived(place: Home) -> None:
    """A server whose starter was killed may be there still, and hold the port."""
    try:
        make_folder(place.folder)
        ended = end_orphans(place.folder)
    except OSError as error:
        raise CannotStart(
            f"Pondus can't keep its data in {place.folder} ({error.strerror}); set PONDUS_HOME to a folder it may use."
        ) from None
    if ended:
        print("pondus: a server left of a start that was killed was ended first.", file=sys.stderr)


class _Stop(Exception):
    """A signal asked for the end."""


def _on_signal(number: int, frame: FrameType | None) -> None:
    raise _Stop


@dataclass
class Watched:
    """One server, and its process while it runs. ``environment``: what that is told, None: as this one."""

    config: WebConfig
    bind: Bind
    workers: int | None = None
    environment: dict[str, str] | None = None
    process: subprocess.Popen[bytes] | None = None
    began: float = field(default=0.0, repr=False)
    has_answered: bool = False

    def start(self) -> None:
        """Begin, without waiting."""
        command = [sys.executable, "-m", "pondus.running.serving", str(os.getpid())]
        self.process = subprocess.Popen(command, stdin=subprocess.PIPE, env=self.environment)
        self.began, self.has_answered = time.monotonic(), False
        assert self.process.stdin is not None
        with suppress(BrokenPipeError), self.process.stdin as told:
            told.write(pickle.dumps(Serving(self.config, self.bind, self.workers)))

    @property
    def is_alive(self) -> bool:
        """Whether its process runs."""
        return self.process is not None and self.process.poll() is None

    def wait(self, seconds: float) -> None:
        """Wait that long, or until it has ended."""
        assert self.process is not None
        with suppress(subprocess.TimeoutExpired):
            self.process.wait(seconds)

    def revive(self) -> bool:
        """Start it again if it ended; whether it did. Raises CannotStart where it ends as soon as it has begun."""
        if self.is_alive:
            return False
        # What has answered had the port: its workers may hold it for a moment yet, and are waited for.
        if not self.has_answered and time.monotonic() - self.began < ENDS_TOO_SOON_SECONDS + BINDS_WITHIN_SECONDS:
            check_port(self.bind.port, host=self.bind.host)  # another may have been first
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
        if self.process is None or not self.is_alive:
            return
        self.process.terminate()
        self.wait(8)
        if self.is_alive:
            self.process.kill()


def _watch(servers: list[Watched], *, revive: Callable[[], None], sharing: Sharing | None = None) -> None:
    if not (PAGES / "index.html").exists():
        raise CannotStart("The pages aren't built; start Pondus with bin/pondus, which builds them.")
    for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
        signal.signal(number, _on_signal)
    try:
        for server in servers:
            server.start()
        _await_answers(servers)
        if sharing is not None:
            show_addresses(sharing.urls)
        looked_at, clock = time.monotonic(), ClockWatch()
        while True:
            servers[0].wait(1.0)
            with suppress(CannotStart):  # the pages say that the database is away; it is tried again
                revive()
            _await_answers([server for server in servers if server.revive()])
            if time.monotonic() - looked_at > LOOKS_EVERY_SECONDS:
                looked_at = time.monotonic()
                _look_after(servers[0].config, clock, sharing)
    except _Stop:
        print("\nPondus has stopped; everything is kept.", file=sys.stderr)
    finally:
        for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
            signal.signal(number, signal.SIG_IGN)
        for server in reversed(servers):
            server.stop()


def _look_after(config: WebConfig, clock: ClockWatch, sharing: Sharing | None) -> None:
    """What is looked at now and then."""
    jump = clock.jump()
    if jump:
        print(f"pondus: {jump_said(jump)}", file=sys.stderr)
    end_what_is_over(config)
    if sharing is not None:
        _follow(sharing)


def end_what_is_over(config: WebConfig) -> None:
    """Codes and sessions that are over stay over, whatever the clock is set to later."""
    engine = engine_for(config.database_url, port_file=config.port_file)
    try:
        with suppress(PondusError), session_on(engine) as session:
            device_store.end_expired(session)
    finally:
        engine.dispose()


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


def _await_answers(servers: Sequence[Watched]) -> None:
    """Wait until these answer; the plain address is told then. Raises CannotStart where another answers in their place."""
    for server in servers:
        _await_answer(server)
    for server in servers:
        if server.bind.certificate is None:
            print(f"Pondus is ready: http://{server.bind}   (Ctrl-C stops it)", flush=True)


def _await_answer(server: Watched) -> None:
    """Wait until this very server answers, however long a slow machine takes. Raises CannotStart where another does."""
    began, told = time.monotonic(), False
    while server.is_alive:
        if not told and time.monotonic() - began > STILL_AFTER_SECONDS:
            told = True
            print("pondus: the server is still starting; this machine is slow or busy ...", file=sys.stderr)
        found = answering(server.bind, min(server.config.hosts))
        if found is None:
            threading.Event().wait(0.1)
        elif found == server.config.run:
            server.has_answered = True
            return
        else:
            option = "--port" if server.bind.certificate is None else "--share-port"
            raise CannotStart(
                f"Port {server.bind.port} was taken by another program just now; choose another port with {option}."
            )


def answering(bind: Bind, name: str = "127.0.0.1") -> str | None:
    """Which start's server answers where ``bind`` says, known as ``name``: what it says of itself (`WebConfig.run`), empty
    where it is no Pondus that is known so; None where nothing answers yet.
    """
    host = bind.host if bind.host not in ("0.0.0.0", "::") else "127.0.0.1"
    scheme, context = "http", None
    if bind.certificate is not None:
        # Whose it is tells the run that it names; the certificate is for the room's names, not for this address.
        scheme, context = "https", ssl.create_default_context()
        context.check_hostname, context.verify_mode = False, ssl.CERT_NONE
    asked = urllib.request.Request(f"{scheme}://{replace(bind, host=host)}/api/alive", headers={"Host": name})
    try:
        with urllib.request.urlopen(asked, timeout=2, context=context) as answer:
            return str(json.load(answer)["run"])
    except (urllib.error.HTTPError, ValueError, KeyError, TypeError):
        return ""
    except OSError:
        return None
