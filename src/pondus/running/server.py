"""The server: gunicorn, several processes, each with threads for requests and listening sockets.

On loopback it speaks plain HTTP; with the room HTTPS, from a server of its own.
"""

import errno
import gc
import importlib
import logging
import signal
import ssl
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from gunicorn.app.base import BaseApplication

from pondus.running.ending import end_with
from pondus.web.app import WebConfig, create_app

WORKERS = 4
THREADS = 160
"""Threads of each process. A request holds one while it is answered, and a listening socket as long as it lasts."""
GARBAGE_AFTER = 20_000
"""New objects before the collector looks: more than one large answer makes."""


def _worth_telling(record: logging.LogRecord) -> bool:
    """Drop gunicorn's complaint that a socket, which we closed ourselves or whose client went silent, is closed; and
    that of every device which doesn't trust the certificate yet.
    """
    if "[SSL:" in record.getMessage():
        return False
    error = record.exc_info[1] if record.exc_info else None
    ours = isinstance(error, StopIteration) or (isinstance(error, OSError) and error.errno in (errno.EBADF, errno.EAGAIN))
    return not ours


def _ends_with_master(master: Any, worker: object) -> None:
    """Gunicorn's hook: a process that answers ends with the one that leads it, while it is still loading, too."""
    end_with(master.pid, signal.SIGTERM)


@dataclass(frozen=True)
class Bind:
    """Where a server listens. With ``certificate`` and ``key`` it speaks HTTPS, else plain HTTP."""

    port: int
    host: str = "127.0.0.1"
    certificate: Path | None = None
    key: Path | None = None

    def __str__(self) -> str:
        return f"[{self.host}]:{self.port}" if ":" in self.host else f"{self.host}:{self.port}"


def load_code() -> None:
    """Load all that a process of the server needs, so that it is loaded once and not by each."""
    importlib.import_module("pondus.web.views")
    importlib.import_module("scipy.optimize")  # else the first plan of a morning would wait for it


class FreshContext:
    """The TLS context of a process: made anew when the certificate was, so that nothing has to be started again for it."""

    def __init__(self, certificate: Path) -> None:
        self._certificate = certificate
        self._made: ssl.SSLContext | None = None
        self._of = 0

    def __call__(self, conf: object, make: Callable[[], ssl.SSLContext]) -> ssl.SSLContext:
        """Gunicorn's hook, asked at every connection."""
        written = self._certificate.stat().st_mtime_ns
        if self._made is None or written != self._of:
            context = make()
            context.minimum_version = ssl.TLSVersion.TLSv1_2
            self._made, self._of = context, written
        return self._made


class Server(BaseApplication):  # type: ignore[misc]
    """Gunicorn, configured in code."""

    def __init__(self, config: WebConfig, bind: Bind, *, workers: int | None = None) -> None:
        load_code()
        self.web, self.workers = config, workers or WORKERS
        self.bind = bind
        super().__init__()

    def load_config(self) -> None:
        """What gunicorn is told."""
        settings: dict[str, Any] = {
            "bind": [str(self.bind)],
            "workers": self.workers,
            "worker_class": "pondus.running.worker.PatientWorker",
            "threads": THREADS,
            "timeout": 120,
            "graceful_timeout": 2,
            "loglevel": "warning",
            "accesslog": None,
            "preload_app": False,
            "control_socket_disable": True,
            "post_fork": _ends_with_master,
        }
        if self.bind.certificate is not None and self.bind.key is not None:
            settings |= {
                "certfile": str(self.bind.certificate),
                "keyfile": str(self.bind.key),
                "ssl_context": FreshContext(self.bind.certificate),
                "do_handshake_on_connect": False,
            }
        logging.getLogger("gunicorn.error").addFilter(_worth_telling)
        for key, value in settings.items():
            self.cfg.set(key, value)

    def load(self) -> Any:
        """The application, built in each process. What is loaded by then stays; the collector need not look at it again."""
        app = create_app(self.web)
        app.extensions["pondus_changes"].begin()
        if self.web.ears_at_once:
            app.extensions["pondus_ears"].begin()
        gc.collect()
        gc.freeze()
        gc.set_threshold(GARBAGE_AFTER, 20, 20)
        return app
