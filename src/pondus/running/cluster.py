"""A private PostgreSQL cluster on loopback, apart from any that the machine runs of its own.

PostgreSQL refuses to run as root, so as root its programs run as the ``postgres`` user, to whom the data belongs.
Several Pondus processes may share one cluster: each holds a shared lock on ``users``, the last to leave stops it, and
whoever finds it gone starts it again.
"""

import ctypes
import fcntl
import os
import pwd
import shutil
import signal
import socket
import subprocess
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import IO

import psycopg

from pondus.running.places import CannotStart, Home

PROGRAMS = Path("/usr/lib/postgresql/15/bin")
ROLE = "pondus"
ANSWERS_WITHIN_SECONDS = 30.0
_PR_SET_PDEATHSIG = 1


def die_with_parent(sign: signal.Signals) -> Callable[[], None]:
    """For a child: get this signal when its starter dies, even by kill -9 (Linux)."""

    def arrange() -> None:
        ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, int(sign))

    return arrange


def _owner() -> str | None:
    """The user to run PostgreSQL's programs as: ``postgres`` for root, None for anyone else."""
    if os.geteuid() != 0:
        return None
    try:
        return pwd.getpwnam("postgres").pw_name
    except KeyError:
        raise CannotStart("There is no user “postgres”; install Debian's postgresql-15 package.") from None


class Cluster:
    """The cluster at a home. ``fast`` trades safety for speed, for tests."""

    def __init__(self, home: Home, *, fast: bool = False) -> None:
        self.home = home
        self.fast = fast
        self.process: subprocess.Popen[bytes] | None = None
        self._use: IO[bytes] | None = None

    def url(self, database: str) -> str:
        """Address of a database in the running cluster."""
        return f"postgresql://{ROLE}@127.0.0.1:{self._port()}/{database}"

    def ensure_running(self) -> None:
        """Start the cluster unless it answers; make it first where there is none. Raises CannotStart."""
        self._prepare_folder()
        if self._use is None:
            self._use = self.home.users.open("ab")
            fcntl.flock(self._use, fcntl.LOCK_SH)
        with self._locked():
            if not (self.home.cluster / "PG_VERSION").exists():
                self._initialise()
            if not self._answers():
                self._start()

    def ensure_database(self, name: str) -> str:
        """Its address, made if it doesn't exist."""
        with psycopg.connect(self.url("postgres"), autocommit=True) as connection:
            found = connection.execute("select 1 from pg_database where datname = %s", (name,)).fetchone()
            if found is None:
                connection.execute(f'create database "{name}"'.encode())
        return self.url(name)

    def leave(self) -> None:
        """Stop using the cluster; the last one out stops it."""
        if self._use is None:
            return
        with self._locked():
            fcntl.flock(self._use, fcntl.LOCK_UN)
            try:
                fcntl.flock(self._use, fcntl.LOCK_EX | fcntl.LOCK_NB)
            except BlockingIOError:
                pass
            else:
                self._stop()
            self._use.close()
            self._use = None

    def _prepare_folder(self) -> None:
        folder = self.home.folder
        try:
            folder.mkdir(parents=True, exist_ok=True)
            free = shutil.disk_usage(folder).free
        except OSError as error:
            raise CannotStart(
                f"Pondus can't keep its data in {folder} ({error.strerror}); set PONDUS_HOME to a folder it may use."
            ) from error
        if free < 150 * 1024 * 1024:
            raise CannotStart(
                f"The disk with {folder} has only {free / 1e6:.0f} MB free; make room (150 MB at least) and start again."
            )
        owner = _owner()
        if owner is not None:
            shutil.chown(folder, owner)
            folder.chmod(0o755)
            self._check_reachable(folder)

    @staticmethod
    def _check_reachable(folder: Path) -> None:
        for parent in folder.parents:
            if not parent.stat().st_mode & 0o001:
                raise CannotStart(
                    f"The database's user can't reach {folder}, because {parent} is closed to others; set PONDUS_HOME to a"
                    " folder outside it."
                )

    @contextmanager
    def _locked(self) -> Iterator[None]:
        try:
            handle = self.home.lock.open("ab")
        except OSError as error:
            raise CannotStart(f"Pondus can't write to {self.home.folder} ({error.strerror}).") from error
        with handle:
            fcntl.flock(handle, fcntl.LOCK_EX)
            yield

    def _run(self, *command: str) -> None:
        done = subprocess.run(
            command,
            check=False,
            cwd="/",
            user=_owner(),
            extra_groups=[] if _owner() else None,
            capture_output=True,
            text=True,
        )
        if done.returncode != 0:
            reason = (done.stderr.strip().splitlines() or ["no reason given"])[-1]
            raise CannotStart(f"The database could not be made: {reason}")

    def _initialise(self) -> None:
        if not (PROGRAMS / "initdb").exists():
            raise CannotStart("PostgreSQL 15 is missing; run: sudo apt-get install -y postgresql-15")
        unfinished = self.home.folder / "cluster.new"
        if unfinished.exists():
            shutil.rmtree(unfinished)
        durable = ("--no-sync",) if self.fast else ()
        self._run(
            str(PROGRAMS / "initdb"),
            "-D",
            str(unfinished),
            "-U",
            ROLE,
            "-A",
            "trust",
            "-E",
            "UTF8",
            "--locale=C",
            *durable,
        )
        unfinished.rename(self.home.cluster)

    def _start(self) -> None:
        self._clear_stale_lock()
        port = _free_port(preferred=self._port())
        (self.home.folder / "port").write_text(str(port))
        options = {
            "listen_addresses": "127.0.0.1",
            "unix_socket_directories": "",
            "port": str(port),
            "max_connections": "200",
        }
        if self.fast:
            options |= {"fsync": "off", "full_page_writes": "off"}  # commits still outlive a kill of the database
        settings = [part for key, value in options.items() for part in ("-c", f"{key}={value}")]
        with (self.home.folder / "database.log").open("ab") as log:
            self.process = subprocess.Popen(
                [str(PROGRAMS / "postgres"), "-D", str(self.home.cluster), *settings],
                cwd="/",
                user=_owner(),
                extra_groups=[] if _owner() else None,
                stdin=subprocess.DEVNULL,
                stdout=log,
                stderr=log,
                start_new_session=True,
                preexec_fn=die_with_parent(signal.SIGINT),  # noqa: PLW1509 (no threads yet when it starts)
            )
        self._wait_until_answering()

    def _wait_until_answering(self) -> None:
        assert self.process is not None
        until = time.monotonic() + ANSWERS_WITHIN_SECONDS
        while not self._answers():
            if self.process.poll() is not None or time.monotonic() > until:
                raise CannotStart(f"The database didn't start: {self._last_words()}")
            time.sleep(0.05)

    def _last_words(self) -> str:
        log = self.home.folder / "database.log"
        lines = [line for line in log.read_text(errors="replace").splitlines() if "FATAL" in line or "PANIC" in line]
        return lines[-1].split(":", 3)[-1].strip() if lines else f"see {log}"

    def _clear_stale_lock(self) -> None:
        """A lock left by a kill, whose process number now belongs to some other program, would keep PostgreSQL out."""
        left = self.home.cluster / "postmaster.pid"
        try:
            number = int(left.read_text().split("\n", 1)[0])
            command = Path(f"/proc/{number}/comm").read_text().strip()
        except (OSError, ValueError):
            return
        if command != "postgres":
            left.unlink(missing_ok=True)

    def _stop(self) -> None:
        try:
            number = int((self.home.cluster / "postmaster.pid").read_text().split("\n", 1)[0])
            os.kill(number, signal.SIGINT)
        except (OSError, ValueError):
            return
        until = time.monotonic() + ANSWERS_WITHIN_SECONDS
        while time.monotonic() < until:
            if self.process is not None:
                self.process.poll()
            if not (self.home.cluster / "postmaster.pid").exists():
                return
            time.sleep(0.05)

    def _port(self) -> int:
        try:
            return int((self.home.folder / "port").read_text())
        except (OSError, ValueError):
            return 0

    def _answers(self) -> bool:
        if self.process is not None:
            self.process.poll()
        port = self._port()
        if port == 0:
            return False
        try:
            with psycopg.connect(self.url("postgres"), connect_timeout=2) as connection:
                row = connection.execute("show data_directory").fetchone()
        except psycopg.Error:
            return False
        return row is not None and Path(row[0]).resolve() == self.home.cluster.resolve()


def _free_port(*, preferred: int) -> int:
    """The port used before, so that servers find a revived database again, if it is free; else any free one."""
    for port in (preferred, 0):
        with socket.socket() as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind(("127.0.0.1", port))
            except OSError:
                continue
            return int(probe.getsockname()[1])
    raise CannotStart("There is no free port for the database on 127.0.0.1.")
