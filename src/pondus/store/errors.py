"""What can be wrong with what is asked of the store.

::

    StoreError
    ├── NotFound       no such record (HTTP 404)
    ├── Conflict       an id is taken by something else (HTTP 409)
    └── StoreAway      the database does not answer (HTTP 503); nothing was lost, nothing was stored
"""

from pondus.core.errors import PondusError


class StoreError(PondusError):
    """Root of the tree."""


class NotFound(StoreError):
    """No such record."""


class Conflict(StoreError):
    """An id is taken by something else."""


class StoreAway(StoreError):
    """The database does not answer."""

    def __init__(self) -> None:
        super().__init__(
            "The database doesn't answer just now. What was saved is safe; this entry was not stored. Try again in a moment."
        )
