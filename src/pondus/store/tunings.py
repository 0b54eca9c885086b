"""Tunings with their readings and moves: begin, add, strike out, look up."""

from dataclasses import dataclass
from datetime import datetime
from typing import Any, TypeVar
from uuid import UUID

from sqlalchemy import bindparam, union_all, update
from sqlalchemy.dialects.postgresql import insert
from sqlmodel import Session, col, delete, desc, select

from pondus.core.clock import Clock
from pondus.core.errors import BadInput
from pondus.core.hands.records import TuningLog
from pondus.core.instruments import StringData, instrument_named
from pondus.core.judgement.recent_move import Answer
from pondus.core.judgement.situation import Turning, usual_turning
from pondus.core.pitch.notes import A4_HZ, Spelling
from pondus.store.database import CHANGED
from pondus.store.errors import Conflict, NotFound
from pondus.store.instruments import held_instrument, next_version
from pondus.store.records import check_of, move_of, reading_of, tuning_of
from pondus.store.settings import in_force
from pondus.store.summaries import keep_summaries
from pondus.store.tables import FifthCheckRow, InstrumentRow, MoveRow, ReadingRow, StringRow, SummaryRow, TuningRow, now

Entry = TypeVar("Entry", bound=ReadingRow | MoveRow | FifthCheckRow)
NO_TUNING = "There is no such tuning; choose an instrument and begin one."
_PLACED = {
    "at", "seq", "late", "made_on", "device", "entered_by", "struck_at", "struck_reason", "turn_answer", "a4",
    "amount_known",
}  # fmt: skip
"""What an entry gets when it is kept, or later; the rest is what it says."""


# Asked for at every entry, and so made once.
_ENTERED: dict[Any, Any] = {
    table: select(table).where(table.tuning_id == bindparam("tuning")).order_by(col(table.seq))
    for table in (ReadingRow, MoveRow, FifthCheckRow)
}


def begin_tuning(session: Session, row: TuningRow) -> TuningRow:
    """Store a new tuning; the same id again is the same tuning. Raises Conflict when the id is another instrument's."""
    held_instrument(session, row.instrument_id)
    kept = session.get(TuningRow, row.id)
    if kept is not None:
        if kept.instrument_id != row.instrument_id:
            raise Conflict("That tuning's id belongs to another instrument; begin a new tuning.")
        return kept
    keep_summaries(session, row.instrument_id)
    session.add(row)
    session.flush()
    next_version(session, row.instrument_id)
    return row


def take_back(session: Session, instrument_id: UUID, tuning_id: UUID, *, clock: Clock) -> None:
    """Remove a tuning of an instrument that holds nothing, where another was begun today; one that is gone already stays so.
    Raises Conflict for one that holds something or is the only one.
    """
    held_instrument(session, instrument_id)
    row = session.get(TuningRow, tuning_id)
    if row is None:
        return
    if row.instrument_id != instrument_id:
        raise Conflict("That tuning is another instrument's; look at the one that is open.")
    for table in (ReadingRow, MoveRow, FifthCheckRow):
        if session.exec(select(table.id).where(table.tuning_id == tuning_id).limit(1)).first() is not None:
            raise Conflict("Something was entered in this tuning meanwhile, so it stays. Strike out what is wrong in it.")
    todays = [
        tuning_row for tuning_row in tunings_of(session, instrument_id) if clock.day_of(tuning_row.started_at) == clock.today
    ]
    if not [today for today in todays if today.id != tuning_id]:
        raise Conflict("There is no earlier tuning of today to go back to.")
    session.execute(delete(SummaryRow).where(col(SummaryRow.tuning_id) == tuning_id))
    session.delete(row)
    session.flush()
    next_version(session, instrument_id)


def tuning_row(session: Session, tuning_id: UUID) -> TuningRow:
    """One tuning. Raises NotFound."""
    row = session.get(TuningRow, tuning_id)
    if row is None:
        raise NotFound(NO_TUNING)
    return row


def tuning_log(session: Session, tuning_id: UUID) -> TuningLog:
    """One tuning with all that was entered, in the log's order. Raises NotFound."""
    row = tuning_row(session, tuning_id)
    readings = session.exec(_ENTERED[ReadingRow], params={"tuning": tuning_id}).all()
    moves = session.exec(_ENTERED[MoveRow], params={"tuning": tuning_id}).all()
    checks = session.exec(_ENTERED[FifthCheckRow], params={"tuning": tuning_id}).all()
    return TuningLog(
        tuning_of(row),
        tuple(reading_of(reading) for reading in readings),
        tuple(move_of(move) for move in moves),
        tuple(check_of(check) for check in checks),
    )


def change_tuning(session: Session, tuning_id: UUID, changes: dict[str, Any]) -> TuningRow:
    """Change how this tuning is done (temperament, approach, stance and so on). Raises NotFound."""
    row = tuning_row(session, tuning_id)
    held_instrument(session, row.instrument_id)
    for key, value in changes.items():
        setattr(row, key, value)
    session.add(row)
    session.flush()
    next_version(session, row.instrument_id, tuning_id=row.id)
    return row


def tunings_by(session: Session, person_id: UUID, *, since: datetime, most: int) -> list[UUID]:
    """The newest tunings in which this person entered a reading or a move."""
    rows: list[UUID] = []
    for table in (ReadingRow, MoveRow):
        entered = select(table.tuning_id).where(table.entered_by == person_id, table.at >= since)
        rows += session.exec(entered.distinct()).all()
    newest = select(TuningRow.id).where(col(TuningRow.id).in_(set(rows))).order_by(desc(TuningRow.started_at))
    return list(session.exec(newest.limit(most)).all())


def take_reference(session: Session, clock: Clock) -> None:
    """Whatever was begun today takes the A that is in force now, as what is begun from now on does."""
    begun = select(TuningRow.id, TuningRow.a4, InstrumentRow).join(InstrumentRow)
    today = begun.where(TuningRow.started_at >= clock.begins(clock.today)).order_by(col(TuningRow.instrument_id))
    for tuning_id, a4, instrument in session.exec(today).all():
        wanted = in_force(session, instrument).get("a4", A4_HZ)
        if wanted != a4:
            change_tuning(session, tuning_id, {"a4": wanted})


def tunings_of(session: Session, instrument_id: UUID, *, limit: int = 20, before: datetime | None = None) -> list[TuningRow]:
    """An instrument's tunings, newest first; ``before``: only those begun before then."""
    asked = select(TuningRow).where(TuningRow.instrument_id == instrument_id)
    if before is not None:
        asked = asked.where(TuningRow.started_at < before)
    found = session.exec(asked.order_by(desc(col(TuningRow.started_at)), desc(col(TuningRow.id))).limit(limit)).all()
    return list(found)


@dataclass(frozen=True)
class StringOfTuning:
    """The string that an entry of a tuning speaks of, as fitted and as data, how the tuning spells notes and when it began."""

    row: StringRow
    string: StringData
    spelling: Spelling
    a4: float
    turns: Turning
    began: datetime


_STRING_OF: Any = (
    select(InstrumentRow.kind, TuningRow, StringRow)
    .join(TuningRow, col(TuningRow.instrument_id) == col(InstrumentRow.id))
    .outerjoin(StringRow, (col(StringRow.instrument_id) == col(InstrumentRow.id)) & (col(StringRow.name) == bindparam("name")))
    .where(col(TuningRow.id) == bindparam("tuning"))
)


def string_of(session: Session, tuning_id: UUID, name: str) -> StringOfTuning:
    """The string that an entry of a tuning speaks of. Raises NotFound, BadInput."""
    found = session.exec(_STRING_OF, params={"name": name, "tuning": tuning_id}).first()
    if found is None:
        raise NotFound(NO_TUNING)
    kind, tuning, row = found
    string = instrument_named(kind).string(name)
    if row is None:
        raise BadInput("string", f"The {name} string is taken off this instrument; put one on first.")
    turns = tuning.turning or usual_turning(tuning.who)
    return StringOfTuning(row, string, tuning.spelling, tuning.a4, turns, tuning.started_at)


def add_entry(session: Session, row: Entry, *, late: bool | None = None) -> Entry:
    """Store an entry at the end of its instrument's log; the same id with the same content again is stored once.

    One made on an older state of its string (``made_on``) than there is now is kept as late. What the same device entered
    since doesn't make it so: it queued them in their order. ``late``: whether it is, where that was found out already.

    A move that another device told of since the same state, as the newest of its string, is the same move: two people pressed
    for one turn. That one is answered.

    Raises Conflict when the id holds something else, NotFound when its tuning doesn't exist.
    """
    table = type(row)
    instrument_id, version = hold_log(session, row.tuning_id)
    row.late = is_late(session, instrument_id, row) if late is None else late
    if row.late and isinstance(row, MoveRow):
        twin = _same_move(session, row)
        if twin is not None:
            return twin  # type: ignore[return-value]
    row.seq = version
    put = insert(table).values(row.model_dump()).on_conflict_do_nothing(index_elements=["id"])
    stored = session.execute(put.returning(table.__table__.c.id)).first()  # type: ignore[attr-defined]
    if stored is None:
        kept = session.get(table, row.id)
        if kept is None or _content(kept) != _content(row):
            raise Conflict("That id holds another entry already; send this one with an id of its own.")
        return kept
    session.execute(delete(SummaryRow).where(col(SummaryRow.tuning_id) == row.tuning_id))
    return row


def hold_log(session: Session, tuning_id: UUID) -> tuple[UUID, int]:
    """Hold a tuning's instrument and count its log up; the instrument, and the new count. Raises NotFound."""
    of = select(TuningRow.instrument_id).where(TuningRow.id == tuning_id).scalar_subquery()
    found = session.execute(
        update(InstrumentRow)
        .where(col(InstrumentRow.id) == of)
        .values(log_version=InstrumentRow.log_version + 1)
        .returning(col(InstrumentRow.id), col(InstrumentRow.log_version))
        .execution_options(synchronize_session=False)
    ).first()
    if found is None:
        raise NotFound(NO_TUNING)
    session.info.setdefault(CHANGED, {})[found[0]] = int(found[1])
    return found[0], int(found[1])


def _since(table: type[ReadingRow] | type[MoveRow], *, by_others: bool) -> Any:
    since = (
        select(table.id)
        .join(TuningRow, col(TuningRow.id) == col(table.tuning_id))
        .where(
            col(TuningRow.instrument_id) == bindparam("instrument"),
            col(table.string).in_(bindparam("strings", expanding=True)),
            col(table.seq) > bindparam("made_on"),
            col(table.struck_at).is_(None),
            col(table.late).is_(False),
        )
    )
    return since.where(col(table.device).is_distinct_from(bindparam("device"))) if by_others else since


_SINCE = {
    by_others: union_all(*(_since(table, by_others=by_others) for table in (ReadingRow, MoveRow))).limit(1)
    for by_others in (False, True)
}
"""Entries of some strings of an instrument since a state of its log; by others than a device, or by anyone."""


def is_late(session: Session, instrument_id: UUID, row: ReadingRow | MoveRow | FifthCheckRow) -> bool:
    """Whether a string of this entry was read or turned since the state it was made on, by anyone else."""
    if row.made_on is None:
        return False
    strings = (row.lower, row.upper) if isinstance(row, FifthCheckRow) else (row.string,)
    asked = {"instrument": instrument_id, "strings": strings, "made_on": row.made_on}
    if row.device is not None:
        asked["device"] = row.device
    return session.execute(_SINCE[row.device is not None], asked).first() is not None


def _same_move(session: Session, row: MoveRow) -> MoveRow | None:
    """The newest entry of the string, where it is this very move, told of by another device since the same state."""

    def newest(table: type[Entry]) -> Entry | None:
        return session.exec(
            select(table)
            .where(
                table.tuning_id == row.tuning_id,
                table.string == row.string,  # type: ignore[attr-defined]
                table.seq > (row.made_on or 0),
                col(table.struck_at).is_(None),
            )
            .order_by(desc(col(table.seq)))
            .limit(1)
        ).first()

    reading, last = newest(ReadingRow), newest(MoveRow)
    if last is None or last.device == row.device or (reading is not None and reading.seq > last.seq):
        return None
    alike = ("mechanism", "direction", "amount", "unit")
    return last if all(getattr(last, name) == getattr(row, name) for name in alike) else None


def strike(session: Session, table: type[Entry], entry_id: UUID, *, reason: str | None) -> Entry:
    """Strike an entry out with a reason; None brings it back. Raises NotFound."""
    row = session.get(table, entry_id)
    if row is None:
        raise NotFound("There is no such entry; it may never have been stored. Look at the history.")
    instrument_id = tuning_row(session, row.tuning_id).instrument_id
    held_instrument(session, instrument_id)
    void(row, reason)
    session.add(row)
    session.flush()
    next_version(session, instrument_id, tuning_id=row.tuning_id)
    return row


def entry_held(session: Session, table: type[Entry], entry_id: UUID) -> Entry:
    """An entry, its instrument held. Raises NotFound."""
    row = session.get(table, entry_id)
    if row is None:
        raise NotFound("There is no such entry; it may never have been stored. Look at the history.")
    held_instrument(session, tuning_row(session, row.tuning_id).instrument_id)
    return row


def told_move(session: Session, entry_id: UUID) -> MoveRow | ReadingRow:
    """A move, or the reading that was taken to stand for one, its instrument held. Raises NotFound."""
    if session.get(MoveRow, entry_id) is None and session.get(ReadingRow, entry_id) is not None:
        return entry_held(session, ReadingRow, entry_id)
    return entry_held(session, MoveRow, entry_id)


def answer_move(session: Session, row: MoveRow | ReadingRow, answer: Answer) -> None:
    """Keep what was said of a move that had no effect or went the wrong way, or of the one that a reading was taken to stand
    for; its instrument is held.
    """
    if isinstance(row, MoveRow):
        row.answer = answer
    else:
        row.turn_answer = answer
    session.add(row)
    session.flush()
    next_version(session, tuning_row(session, row.tuning_id).instrument_id, tuning_id=row.tuning_id)


def void(row: ReadingRow | MoveRow | FifthCheckRow, reason: str | None) -> None:
    """Mark an entry as struck out; None takes that back."""
    row.struck_at = None if reason is None else (row.struck_at or now())
    row.struck_reason = reason


def is_kept(session: Session, row: Entry) -> bool:
    """Whether an entry of that id is stored already."""
    return session.get(type(row), row.id) is not None


def _content(row: ReadingRow | MoveRow | FifthCheckRow) -> dict[str, Any]:
    return row.model_dump(exclude=_PLACED)
