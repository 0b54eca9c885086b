"""Who is there this morning, and which instrument each has in hand. The same for every browser that looks."""

from collections.abc import Callable, Mapping, Sequence
from datetime import date
from typing import Any
from uuid import UUID

from sqlalchemy import func
from sqlmodel import Session, col, select

from pondus.core.errors import BadInput
from pondus.store.errors import Conflict, NotFound
from pondus.store.tables import InstrumentRow, StationRow, now

MOST_STATIONS = 40
STATIONS_LOCK = 7_206_002
"""An advisory lock of the database; its second half is the day."""


def hold_day(session: Session, day: date) -> None:
    """Nobody else changes who is there on a day, or what they have in hand, until this work is done."""
    session.execute(select(func.pg_advisory_xact_lock(STATIONS_LOCK, day.toordinal())))


def stations_of(session: Session, day: date) -> list[StationRow]:
    """The stations of a day, as they came."""
    asked = select(StationRow).where(StationRow.day == day).order_by(col(StationRow.comes_at), col(StationRow.name))
    return list(session.exec(asked).all())


def add_station(session: Session, row: StationRow) -> StationRow:
    """Someone is there. Sent twice, they are there once. Raises BadInput for a name that is there already, or too many."""
    kept = session.get(StationRow, row.id)
    if kept is not None:
        return kept
    hold_day(session, row.day)
    there = stations_of(session, row.day)
    if len(there) >= MOST_STATIONS:
        raise BadInput("name", f"{MOST_STATIONS} people are there already; take one off first.")
    if any(station.name.casefold() == row.name.casefold() for station in there):
        raise BadInput("name", f"“{row.name}” is there twice; give each a name of its own.")
    session.add(row)
    session.flush()
    return row


def change_station(session: Session, station_id: UUID, changes: dict[str, Any]) -> StationRow:
    """Change what someone may turn, when they come, their pace, their name. Raises NotFound, BadInput."""
    row = station(session, station_id)
    hold_day(session, row.day)
    name = changes.get("name", row.name)
    if any(station.id != row.id and station.name.casefold() == name.casefold() for station in stations_of(session, row.day)):
        raise BadInput("name", f"“{name}” is there twice; give each a name of its own.")
    for key, value in changes.items():
        setattr(row, key, value)
    session.add(row)
    session.flush()
    return row


def remove_station(session: Session, station_id: UUID) -> None:
    """Someone is not there (any more). Gone already is fine."""
    row = session.get(StationRow, station_id)
    if row is not None:
        hold_day(session, row.day)
        session.delete(row)
        session.flush()


def station(session: Session, station_id: UUID) -> StationRow:
    """One station. Raises NotFound."""
    row = session.get(StationRow, station_id)
    if row is None:
        raise NotFound("That person isn't there any more; look who is.")
    return row


def take(
    session: Session,
    station_id: UUID,
    instrument_id: UUID | None,
    *,
    still_held: set[UUID],
    take_over: bool = False,
    known_as: Callable[[str], str] = str,
) -> StationRow:
    """Someone takes an instrument in hand, or (None) lays theirs down. ``still_held``: instruments not done yet; another's hold
    of anything else is over. ``known_as``: how another's name is told.

    Raises NotFound, and Conflict when someone else has it in hand and it isn't taken over.
    """
    row = station(session, station_id)
    hold_day(session, row.day)
    session.refresh(row)
    if instrument_id is not None and session.get(InstrumentRow, instrument_id) is None:
        raise NotFound("There is no such instrument; it may have been removed. Choose one from the list.")
    for other in stations_of(session, row.day):
        if other.id != row.id and instrument_id is not None and other.instrument_id == instrument_id:
            if instrument_id in still_held and not take_over:
                raise Conflict(f"{known_as(other.name)} has it in hand; ask them, or take it over.")
            other.instrument_id, other.since = None, None
            session.add(other)
    if row.instrument_id != instrument_id:
        row.instrument_id, row.since = instrument_id, None if instrument_id is None else now()
    session.add(row)
    session.flush()
    return row


def keep_told(session: Session, told: Mapping[UUID, tuple[Sequence[UUID], dict[str, Any] | None]]) -> None:
    """Keep what each was told to do, in order, and why the next is another than before. Whoever calls holds the day."""
    for key, (instruments, recalled) in told.items():
        row = session.get(StationRow, key)
        if row is not None:
            row.planned, row.recalled = [str(instrument) for instrument in instruments], recalled
            session.add(row)
    session.flush()


def last_day(session: Session, before: date) -> date | None:
    """The last day before this one on which someone was there."""
    return session.exec(select(func.max(StationRow.day)).where(StationRow.day < before)).one()
