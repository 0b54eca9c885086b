"""Tunings with their readings and moves: begin, add, strike out, look up."""

from dataclasses import dataclass
from typing import Any, TypeVar
from uuid import UUID

from sqlalchemy import case, func
from sqlmodel import Session, col, desc, select

from pondus.store.digests import touched
from pondus.store.errors import Conflict, NotFound
from pondus.store.tables import MoveRow, ReadingRow, StringRow, TuningRow, now

Entry = TypeVar("Entry", ReadingRow, MoveRow)


@dataclass(frozen=True)
class TuningRecord:
    """A tuning with all that was entered, oldest first, struck entries included."""

    tuning: TuningRow
    readings: tuple[ReadingRow, ...]
    moves: tuple[MoveRow, ...]


def begin_tuning(session: Session, row: TuningRow) -> TuningRecord:
    """Store a new tuning; the same id again is the same tuning. Raises Conflict when the id is another instrument's."""
    kept = session.get(TuningRow, row.id)
    if kept is not None:
        if kept.instrument_id != row.instrument_id:
            raise Conflict("That tuning's id belongs to another instrument; begin a new tuning.")
        return tuning(session, row.id)
    session.add(row)
    session.flush()
    touched(session, row.instrument_id)
    return TuningRecord(row, (), ())


def tuning(session: Session, tuning_id: UUID) -> TuningRecord:
    """One tuning. Raises NotFound."""
    row = session.get(TuningRow, tuning_id)
    if row is None:
        raise NotFound("There is no such tuning; choose an instrument and begin one.")
    readings = session.exec(
        select(ReadingRow).where(ReadingRow.tuning_id == tuning_id).order_by(col(ReadingRow.at))
    ).all()
    moves = session.exec(select(MoveRow).where(MoveRow.tuning_id == tuning_id).order_by(col(MoveRow.at))).all()
    return TuningRecord(row, tuple(readings), tuple(moves))


def change_tuning(session: Session, tuning_id: UUID, changes: dict[str, Any]) -> TuningRow:
    """Change how this tuning is done (school, approach, stance and so on). Raises NotFound."""
    row = session.get(TuningRow, tuning_id)
    if row is None:
        raise NotFound("There is no such tuning; choose an instrument and begin one.")
    for key, value in changes.items():
        setattr(row, key, value)
    session.add(row)
    session.flush()
    touched(session, row.instrument_id, row.id)
    return row


def tunings_of(session: Session, instrument_id: UUID, *, limit: int = 20) -> list[TuningRow]:
    """An instrument's tunings, newest first."""
    found = session.exec(
        select(TuningRow)
        .where(TuningRow.instrument_id == instrument_id)
        .order_by(desc(col(TuningRow.started_at)))
        .limit(limit)
    ).all()
    return list(found)


def add_entry(session: Session, row: Entry) -> Entry:
    """Store a reading or a move; the same id with the same content again is stored once.

    Raises Conflict when the id holds something else, NotFound when its tuning doesn't exist.
    """
    table = type(row)
    tuning = session.get(TuningRow, row.tuning_id, with_for_update=True)
    if tuning is None:
        raise NotFound("There is no such tuning; choose an instrument and begin one.")
    kept = session.get(table, row.id)
    if kept is None:
        session.add(row)
        session.flush()
        touched(session, tuning.instrument_id, tuning.id)
        return row
    if _content(kept) != _content(row):
        raise Conflict("That id holds another entry already; send this one with an id of its own.")
    return kept


def is_kept(session: Session, row: Entry) -> bool:
    """Whether an entry of that id is stored already."""
    return session.get(type(row), row.id) is not None


def strike(session: Session, table: type[Entry], entry_id: UUID, *, reason: str | None) -> Entry:
    """Strike an entry out with a reason; None brings it back. Raises NotFound."""
    row = session.get(table, entry_id)
    if row is None:
        raise NotFound("There is no such entry; it may never have been stored. Look at the history.")
    tuning = session.get(TuningRow, row.tuning_id, with_for_update=True)
    assert tuning is not None
    row.struck_at = None if reason is None else (row.struck_at or now())
    row.struck_reason = reason
    session.add(row)
    session.flush()
    touched(session, tuning.instrument_id, tuning.id)
    return row


def screw_moves_since(session: Session, string: StringRow) -> float:
    """Turns the screw was moved since its position was last set, over all tunings; struck moves don't count."""
    signed = case((col(MoveRow.direction) == "raise", MoveRow.amount), else_=-col(MoveRow.amount))
    total = session.exec(
        select(func.coalesce(func.sum(signed), 0.0))
        .join(TuningRow, col(TuningRow.id) == col(MoveRow.tuning_id))
        .where(
            TuningRow.instrument_id == string.instrument_id,
            MoveRow.string == string.name,
            MoveRow.mechanism == "fine-tuner",
            MoveRow.at >= string.screw_set_at,
            col(MoveRow.struck_at).is_(None),
        )
    ).one()
    return float(total)


def _content(row: ReadingRow | MoveRow) -> dict[str, Any]:
    return row.model_dump(exclude={"at", "struck_at", "struck_reason"})
