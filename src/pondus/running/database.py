"""A studio's database: its own private cluster, or the one that DATABASE_URL names."""

import os
from collections.abc import Callable, Iterator
from contextlib import contextmanager

from pondus.running.cluster import Cluster
from pondus.running.places import home


@contextmanager
def studio_database(name: str) -> Iterator[tuple[str, Callable[[], None]]]:
    """The database's address and a way to revive it; someone else's DATABASE_URL is only used."""
    given = os.environ.get("DATABASE_URL")
    if given:
        yield given, lambda: None
        return
    cluster = Cluster(home(name))
    try:
        cluster.ensure_running()
        yield cluster.ensure_database("pondus"), cluster.ensure_running
    finally:
        cluster.leave()
