"""A whole Pondus on a database of its own, for a while: for the pictures and the tests."""

import multiprocessing
import os
import shutil
import signal
import socket
import ssl
import tempfile
import threading
import urllib.request
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from urllib.error import HTTPError

from pondus.running.cluster import Cluster
from pondus.running.ending import end_with
from pondus.running.places import CannotStart, Home
from pondus.running.server import Bind
from pondus.running.serving import Serving
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


def free_port() -> int:
    """A port of loopback that nobody uses just now."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def _whoever() -> ssl.SSLContext:
    """To ask a server of one's own whether it answers; what it shows is looked at by whoever tests that."""
    context = ssl.create_default_context()
    context.check_hostname, context.verify_mode = False, ssl.CERT_NONE
    return context


def _serve(served: Serving) -> None:
    """As a server's own process, forked where all is loaded."""
    end_with(None)
    served.run()


class RunningServer:
    """The real server on a port of its own, which can be killed and started again. ``workers``: as in `Serving`;
    ``config`` and ``bind`` where it is more than a plain one on loopback.
    """

    def __init__(
        self,
        database_url: str,
        *,
        port_file: Path | None = None,
        workers: int | None = None,
        config: WebConfig | None = None,
        bind: Bind | None = None,
    ) -> None:
        self.workers = workers
        self.config = config or WebConfig(database_url=database_url, port_file=port_file, ears_at_once=False)
        self.bind = bind or Bind(free_port())
        self.port = self.bind.port
        self.address = f"{'http' if self.bind.certificate is None else 'https'}://127.0.0.1:{self.port}"
        self._process: multiprocessing.process.BaseProcess | None = None

    def start(self) -> None:
        """Start and wait until it answers. Raises CannotStart."""
        starter = multiprocessing.get_context("forkserver")
        starter.set_forkserver_preload(["pondus.running.loaded"])
        process = starter.Process(target=_serve, args=(Serving(self.config, self.bind, self.workers),))
        process.start()
        self._process = process
        while process.is_alive():
            try:
                with urllib.request.urlopen(f"{self.address}/api/me", timeout=2, context=_whoever()):
                    return
            except HTTPError:  # it answers, if only to say that it isn't known under this name
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
