"""A studio's database: its own private cluster, or the one that DATABASE_URL names."""

import os
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

from pondus.running.cluster import Cluster
from pondus.running.places import home


@dataclass(frozen=True)
class StudioDatabase:
    """Where a studio's database is: its address, the file that names its port once it was moved (None: it isn't), and how it is
    revived.
    """

    url: str
    port_file: Path | None
    revive: Callable[[], None]


def _nothing() -> None:
    """Someone else's database is only used."""


@contextmanager
def studio_database(name: str) -> Iterator[StudioDatabase]:
    """A studio's database, for as long as it is used. Raises CannotStart."""
    given = os.environ.get("DATABASE_URL")
    if given:
        yield StudioDatabase(given, None, _nothing)
        return
    cluster = Cluster(home(name))
    try:
        cluster.ensure_running()
        yield StudioDatabase(cluster.ensure_database("pondus"), cluster.port_file, cluster.ensure_running)
    finally:
        cluster.leave()
