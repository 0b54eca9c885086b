"""A whole Pondus on a database of its own, for a while: for the pictures and the tests."""

import multiprocessing
import os
import shutil
import signal
import socket
import tempfile
import threading
import urllib.request
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

from pondus.running.cluster import Cluster
from pondus.running.places import CannotStart, Home
from pondus.running.studio import run_server
from pondus.store.database import migrate
from pondus.web.app import WebConfig


@contextmanager
def scratch_cluster() -> Iterator[Cluster]:
    """A fast, empty cluster in a temporary folder, gone afterwards."""
    folder = Path(tempfile.mkdtemp(prefix="pondus-", dir="/tmp"))
    folder.chmod(0o755)
    cluster = Cluster(Home(folder / "studio"), fast=True)
    try:
        cluster.ensure_running()
        yield cluster
    finally:
        cluster.leave()
        shutil.rmtree(folder, ignore_errors=True)


class RunningServer:
    """The real server on a port of its own, which can be killed and started again. ``workers``: as in `run_server`."""

    def __init__(self, database_url: str, *, port_file: Path | None = None, workers: int | None = None) -> None:
        self.workers = workers
        self.config = WebConfig(database_url=database_url, port_file=port_file)
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = int(probe.getsockname()[1])
        self.address = f"http://127.0.0.1:{self.port}"
        self._process: multiprocessing.process.BaseProcess | None = None

    def start(self) -> None:
        """Start and wait until it answers. Raises CannotStart."""
        process = multiprocessing.get_context("spawn").Process(
            target=run_server, args=(self.config, self.port, self.workers)
        )
        process.start()
        self._process = process
        while process.is_alive():
            try:
                with urllib.request.urlopen(f"{self.address}/api/kinds", timeout=2):
                    return
            except OSError:
                threading.Event().wait(0.1)
        raise CannotStart(f"The server didn't answer at {self.address}.")

    @contextmanager
    def frozen(self) -> Iterator[None]:
        """For a while it takes connections and answers nothing."""
        process = self._process
        assert process is not None and process.pid is not None
        os.killpg(process.pid, signal.SIGSTOP)
        try:
            yield
        finally:
            os.killpg(process.pid, signal.SIGCONT)

    def stop(self, *, kill: bool = False) -> None:
        """Stop it; ``kill`` as kill -9 would, the whole group at once."""
        process = self._process
        if process is None or process.pid is None:
            return
        if kill:
            os.killpg(process.pid, signal.SIGKILL)
        else:
            process.terminate()
        process.join(10)
        self._process = None


@contextmanager
def scratch_server(*, fill: Callable[[str], None] | None = None) -> Iterator[str]:
    """The address of a running Pondus with its own database."""
    with scratch_cluster() as cluster:
        url = cluster.ensure_database("pondus")
        migrate(url)
        if fill is not None:
            fill(url)
        server = RunningServer(url, port_file=cluster.port_file)
        server.start()
        try:
            yield server.address
        finally:
            server.stop()
