"""One real PostgreSQL for the whole run, a fresh database per test class."""

import atexit
from contextlib import ExitStack
from uuid import uuid4

from pondus.running.cluster import Cluster
from pondus.running.scratch_studio import scratch_cluster
from pondus.store.database import migrate

_open = ExitStack()
_found: list[Cluster] = []


def cluster() -> Cluster:
    """The run's cluster, started on first use and gone at the end."""
    if not _found:
        _found.append(_open.enter_context(scratch_cluster()))
        atexit.register(_open.close)
    return _found[0]


def fresh_database() -> str:
    """Address of a new database with the newest layout."""
    url = cluster().ensure_database(f"test_{uuid4().hex[:12]}")
    migrate(url)
    return url
