"""What can be wrong with what is asked of the store.

::

    StoreError
    ├── NotFound       no such record (HTTP 404)
    ├── Conflict       an id is taken by something else, or the database refuses a record (HTTP 409)
    ├── TooOften       asked for more often than it can be done (HTTP 429)
    ├── StoreAway      the database does not answer (HTTP 503); nothing was lost, nothing was stored
    │   └── StoreFull  its disk is full
    └── NewerStudio    a newer Pondus has changed the studio's layout
"""

from pondus.core.errors import PondusError


class StoreError(PondusError):
    """Root of the tree."""


class NotFound(StoreError):
    """No such record."""


class Conflict(StoreError):
    """An id is taken by something else, or the database refuses a record."""


class TooOften(StoreError):
    """Asked for more often than it can be done. ``again_seconds``: when it may be tried again."""

    def __init__(self, message: str, *, again_seconds: int = 60) -> None:
        super().__init__(message)
        self.again_seconds = again_seconds


class StoreAway(StoreError):
    """The database does not answer. ``again_seconds``: when it may be tried again."""

    again_seconds = 5

    def __init__(self) -> None:
        super().__init__(
            "The database doesn't answer just now. What was saved is safe; this entry was not stored. Try again in a moment."
        )


class StoreFull(StoreAway):
    """The disk is full."""

    def __init__(self) -> None:
        PondusError.__init__(
            self,
            "The disk of the computer with Pondus is full. What was saved is safe; this was not stored. Make room there, then"
            " try again.",
        )


class NewerStudio(StoreError):
    """A newer Pondus has changed the studio's layout."""

    def __init__(self) -> None:
        super().__init__(
            "This studio was last used with a newer Pondus, which keeps it in a form that this one doesn't know. Use that"
            " newer Pondus again, or restore a backup made before it. Nothing was changed."
        )
