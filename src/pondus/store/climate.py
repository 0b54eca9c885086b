"""The air of the room: kept, looked up, struck out."""

from bisect import bisect_left
from collections.abc import Sequence
from datetime import datetime, timedelta
from uuid import UUID

from sqlmodel import Session, col, select

from pondus.store.errors import Conflict, NotFound
from pondus.store.tables import RoomRow, now

HOLDS_FOR = timedelta(hours=12)
"""How long a measurement says something of the room."""


def add_room(session: Session, row: RoomRow) -> RoomRow:
    """Store a measurement; sent twice, it is stored once. Raises Conflict."""
    kept = session.get(RoomRow, row.id)
    if kept is not None:
        if (kept.humidity, kept.celsius) != (row.humidity, row.celsius):
            raise Conflict("That id holds another measurement already; send this one with an id of its own.")
        return kept
    session.add(row)
    session.flush()
    return row


def strike_room(session: Session, room_id: UUID, *, reason: str | None) -> RoomRow:
    """Strike a measurement out; None brings it back. Raises NotFound."""
    row = session.get(RoomRow, room_id)
    if row is None:
        raise NotFound("There is no such measurement; look at the room's log.")
    row.struck_at = None if reason is None else (row.struck_at or now())
    row.struck_reason = reason
    session.add(row)
    session.flush()
    return row


def room_log(session: Session, *, since: datetime | None = None) -> list[RoomRow]:
    """Measurements that count, oldest first."""
    asked = select(RoomRow).where(col(RoomRow.struck_at).is_(None)).order_by(col(RoomRow.at))
    return list(session.exec(asked if since is None else asked.where(RoomRow.at >= since)).all())


class Air:
    """The room's air at any moment, from the measurements nearest to it."""

    def __init__(self, rows: Sequence[RoomRow]) -> None:
        self.rows = rows
        self.times = [row.at for row in rows]

    def at(self, moment: datetime) -> RoomRow | None:
        """The measurement nearest to a moment; None where there is none within half a day."""
        place = bisect_left(self.times, moment)
        near = [row for row in self.rows[max(0, place - 1) : place + 1] if abs(row.at - moment) <= HOLDS_FOR]
        return min(near, key=lambda row: abs(row.at - moment), default=None)
