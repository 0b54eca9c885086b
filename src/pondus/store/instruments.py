"""Instruments and their strings: add, find, change fittings."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import update
from sqlmodel import Session, col, delete, select

from pondus.core.errors import BadInput
from pondus.core.hands.records import FittedInstrument
from pondus.core.hands.summary import TuningSummary, placed
from pondus.core.in_order import as_looked_for
from pondus.store.database import CHANGED
from pondus.store.errors import Conflict, NotFound
from pondus.store.records import fitted_instrument
from pondus.store.tables import InstrumentRow, StringRow, SummaryRow, now

TAUGHT_BY_FITTINGS = frozenset({"core", "has_fine_tuner", "screw_reach_turns", "peg_kind"})
"""Fittings that, changed, make what was learned of the old ones worthless."""


@dataclass(frozen=True)
class InstrumentRecord:
    """An instrument with its strings, as they are kept."""

    instrument: InstrumentRow
    strings: tuple[StringRow, ...]

    def string(self, name: str) -> StringRow:
        """What is on a string's place. Raises BadInput where it is taken off."""
        row = next((string for string in self.strings if string.name == name), None)
        if row is None:
            raise BadInput("string", f"The {name} string is taken off this instrument; put one on first.")
        return row


def add_instrument(session: Session, row: InstrumentRow, strings: Sequence[StringRow]) -> InstrumentRecord:
    """Store an instrument with its strings; the same id again is the same instrument.

    Raises Conflict when the id is taken by another instrument.
    """
    kept = session.get(InstrumentRow, row.id)
    if kept is not None:
        if (kept.label, kept.kind, kept.size) != (row.label, row.kind, row.size):
            raise Conflict(f"That id belongs to “{kept.label}” already; give the new instrument an id of its own.")
        return _with_strings(session, kept)
    session.add(row)
    session.flush()
    for string in strings:
        string.instrument_id = row.id
        session.add(string)
    session.flush()
    return InstrumentRecord(row, tuple(strings))


def instruments(session: Session, *, retired: bool = False) -> list[InstrumentRecord]:
    """All instruments in use (``retired``: and those no longer), by label; simulated ones left out."""
    asked = select(InstrumentRow).where(col(InstrumentRow.simulated_of).is_(None))
    found = session.exec(asked if retired else asked.where(col(InstrumentRow.retired_at).is_(None))).all()
    rows = sorted(found, key=lambda row: as_looked_for(row.label))
    strings = session.exec(select(StringRow)).all()
    by_instrument: dict[UUID, list[StringRow]] = {}
    for string in strings:
        by_instrument.setdefault(string.instrument_id, []).append(string)
    return [InstrumentRecord(row, tuple(by_instrument.get(row.id, ()))) for row in rows]


def instrument(session: Session, instrument_id: UUID, *, hold: bool = False) -> InstrumentRecord:
    """One instrument; ``hold``: nobody else changes it, its log, or begins a tuning meanwhile. Raises NotFound."""
    row = held_instrument(session, instrument_id) if hold else session.get(InstrumentRow, instrument_id)
    if row is None:
        raise NotFound("There is no such instrument; it may have been removed. Choose one from the list.")
    return _with_strings(session, row)


def held_instrument(session: Session, instrument_id: UUID) -> InstrumentRow | None:
    """An instrument's row, held. Whoever writes to an instrument's log, fittings or care takes this lock first, and no other
    before it; of several instruments the one of the smaller id first. So nobody waits in a circle.
    """
    return session.exec(select(InstrumentRow).where(InstrumentRow.id == instrument_id).with_for_update(key_share=True)).first()


def hold_instruments(session: Session, ids: Sequence[UUID] | set[UUID]) -> None:
    """Hold several instruments, in the order everyone takes."""
    if ids:
        session.exec(
            select(InstrumentRow.id)
            .where(col(InstrumentRow.id).in_(ids))
            .order_by(col(InstrumentRow.id))
            .with_for_update(key_share=True)
        ).all()


def next_version(session: Session, instrument_id: UUID, *, tuning_id: UUID | None = None, places: int = 1) -> int:
    """Something of an instrument changed (an entry of that tuning, or its fittings): its count goes up by ``places``, and what
    was worked out of that tuning goes. The new count is the last new entry's place in the log.
    """
    version = session.execute(
        update(InstrumentRow)
        .where(col(InstrumentRow.id) == instrument_id)
        .values(log_version=InstrumentRow.log_version + places)
        .returning(col(InstrumentRow.log_version))
        .execution_options(synchronize_session=False)
    ).scalar_one()
    if tuning_id is not None:
        session.execute(delete(SummaryRow).where(col(SummaryRow.tuning_id) == tuning_id))
    session.info.setdefault(CHANGED, {})[instrument_id] = int(version)
    return int(version)


def change_instrument(
    session: Session, instrument_id: UUID, changes: dict[str, Any], *, retired: bool | None = None
) -> InstrumentRecord:
    """Change an instrument; retire it (True) or bring it back (False). Its log stays. Raises NotFound."""
    row = instrument(session, instrument_id, hold=True).instrument
    for key, value in changes.items():
        setattr(row, key, value)
    if retired is not None:
        row.retired_at = (row.retired_at or now()) if retired else None
    session.add(row)
    session.flush()
    next_version(session, instrument_id)
    return _with_strings(session, row)


def change_string(session: Session, instrument_id: UUID, name: str, changes: dict[str, Any]) -> StringRow:
    """Change one string's fittings. Setting the screw's position starts its count anew; other fittings, the learning.

    Raises NotFound.
    """
    held_instrument(session, instrument_id)
    row = session.exec(select(StringRow).where(StringRow.instrument_id == instrument_id, StringRow.name == name)).first()
    if row is None:
        raise NotFound(f"There is no {name} string on this instrument.")
    if any(getattr(row, key) != changes[key] for key in TAUGHT_BY_FITTINGS & changes.keys()):
        row.fitted_at = now()
    for key, value in changes.items():
        setattr(row, key, value)
    version = next_version(session, instrument_id)
    if "screw_turns" in changes:
        row.screw_set_at, row.screw_set_seq, row.screw_seen = now(), version, True
    session.add(row)
    session.flush()
    return row


def begins_to_sound(session: Session, row: StringRow, *, at: datetime) -> None:
    """A string that gave no pitch was heard: it is on, and comes up from slack."""
    if row.state == "on" and row.peg_state != "out":
        return
    row.state, row.slack_since = "on", at
    if row.peg_state == "out":
        row.peg_state = "ok"
    session.add(row)
    session.flush()


def fitted(record: InstrumentRecord, past: Iterable[TuningSummary], *, before: UUID | None = None) -> FittedInstrument:
    """An instrument as the core takes it, its screws where these tunings left them; ``before``: all but that one."""
    seen = fitted_instrument(record.instrument, record.strings)
    return placed(seen, (one for one in past if one.tuning_id != before))


def _with_strings(session: Session, row: InstrumentRow) -> InstrumentRecord:
    found = session.exec(select(StringRow).where(StringRow.instrument_id == row.id)).all()
    return InstrumentRecord(row, tuple(found))
