"""What changed, told to every server process: PostgreSQL's LISTEN and NOTIFY.

A transaction tells what it changed as its last act; the database passes that on when it is committed, and not otherwise.
"""

import json
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from typing import Any, Literal
from uuid import UUID

from psycopg import Connection
from sqlalchemy import text
from sqlalchemy.engine import Engine
from sqlalchemy.exc import SQLAlchemyError
from sqlmodel import Session

from pondus.store.database import CHANGED
from pondus.store.errors import StoreAway

CHANNEL = "pondus_changes"
MOST_NAMED = 100
"""Instruments named one by one; of more, only that much changed (a notification holds 8000 bytes)."""

Reach = Literal["log", "studio"]
"""How far a change reaches: what was read and turned, or also who and what there is."""


@dataclass(frozen=True)
class Change:
    """What one transaction changed: instruments with their new ``log_version``."""

    reach: Reach
    instruments: dict[str, int] = field(default_factory=dict)

    def to_json(self) -> str:
        """As it is sent."""
        return json.dumps({"reach": self.reach, "instruments": self.instruments})


def tell(session: Session, reach: Reach) -> None:
    """Tell, once this transaction is committed, what it changed."""
    changed: dict[UUID, int] = session.info.get(CHANGED, {})
    named = {str(key): version for key, version in changed.items()} if len(changed) <= MOST_NAMED else {}
    change = Change("studio" if len(changed) > MOST_NAMED else reach, named)
    session.execute(text("select pg_notify(:channel, :told)"), {"channel": CHANNEL, "told": change.to_json()})


@contextmanager
def hearing(engine: Engine) -> Iterator[Connection[Any]]:
    """A connection of its own that hears of changes from now on. Raises StoreAway, also where the database can't tell."""
    try:
        raw = engine.raw_connection()
    except SQLAlchemyError as error:
        raise StoreAway from error
    connection: Connection[Any] = raw.driver_connection  # type: ignore[assignment]
    raw.detach()
    try:
        connection.rollback()
        connection.autocommit = True
        connection.execute(f"listen {CHANNEL}")
        yield connection
    finally:
        connection.close()
