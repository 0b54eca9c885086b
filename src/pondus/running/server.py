"""The server: gunicorn on loopback, several processes, each with threads for requests and listening sockets."""

import errno
import gc
import importlib
import logging
from typing import Any

from gunicorn.app.base import BaseApplication

from pondus.web.app import WebConfig, create_app

WORKERS = 4
THREADS = 160
"""Threads of each process. A listening socket holds one, and so does whoever sends slowly, until they are cut off."""
GARBAGE_AFTER = 20_000
"""New objects before the collector looks: more than one large answer makes."""


def _closed_socket(record: logging.LogRecord) -> bool:
    """Drop gunicorn's complaint that a socket, which we closed ourselves or whose client went silent, is closed."""
    error = record.exc_info[1] if record.exc_info else None
    ours = isinstance(error, StopIteration) or (
        isinstance(error, OSError) and error.errno in (errno.EBADF, errno.EAGAIN)
    )
    return not ours


class Server(BaseApplication):  # type: ignore[misc]
    """Gunicorn, configured in code."""

    def __init__(self, config: WebConfig, port: int, *, workers: int | None = None) -> None:
        self.web, self.workers = config, workers or WORKERS
        self.port = port
        super().__init__()

    def load_config(self) -> None:
        """What gunicorn is told."""
        settings: dict[str, Any] = {
            "bind": f"127.0.0.1:{self.port}",
            "workers": self.workers,
            "worker_class": "pondus.running.worker.PatientWorker",
            "threads": THREADS,
            "timeout": 120,
            "graceful_timeout": 2,
            "loglevel": "warning",
            "accesslog": None,
            "preload_app": False,
        }
        logging.getLogger("gunicorn.error").addFilter(_closed_socket)
        for key, value in settings.items():
            self.cfg.set(key, value)

    def load(self) -> Any:
        """The application, built in each process. What is loaded by then stays; the collector need not look at it again."""
        app = create_app(self.web)
        app.extensions["pondus_ears"].begin()
        importlib.import_module("scipy.optimize")  # else the first plan of a morning would wait for it
        gc.collect()
        gc.freeze()
        gc.set_threshold(GARBAGE_AFTER, 20, 20)
        return app
