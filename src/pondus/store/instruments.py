"""Instruments and their strings: add, find, change fittings."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any
from uuid import UUID

from sqlmodel import Session, col, select

from pondus.store.digests import touched
from pondus.store.errors import Conflict, NotFound
from pondus.store.tables import InstrumentRow, StringRow, now

TAUGHT_BY_FITTINGS = frozenset({"core", "has_fine_tuner", "screw_reach_turns", "peg_kind"})
"""Fittings that, changed, make what was learned of the old ones worthless."""


@dataclass(frozen=True)
class InstrumentRecord:
    """An instrument with its strings, thickest first."""

    instrument: InstrumentRow
    strings: tuple[StringRow, ...]


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
    for each in strings:
        each.instrument_id = row.id
        session.add(each)
    session.flush()
    return InstrumentRecord(row, tuple(strings))


def instruments(session: Session, *, retired: bool = False) -> list[InstrumentRecord]:
    """All instruments in use (``retired``: and those no longer), by label; simulated ones left out."""
    asked = select(InstrumentRow).where(col(InstrumentRow.simulated_of).is_(None)).order_by(InstrumentRow.label)
    rows = session.exec(asked if retired else asked.where(col(InstrumentRow.retired_at).is_(None))).all()
    strings = session.exec(select(StringRow)).all()
    by_instrument: dict[UUID, list[StringRow]] = {}
    for each in strings:
        by_instrument.setdefault(each.instrument_id, []).append(each)
    return [InstrumentRecord(row, tuple(by_instrument.get(row.id, ()))) for row in rows]


def instrument(session: Session, instrument_id: UUID, *, hold: bool = False) -> InstrumentRecord:
    """One instrument; ``hold``: nobody else changes it or begins a tuning meanwhile. Raises NotFound."""
    row = session.get(InstrumentRow, instrument_id, with_for_update=hold or None)
    if row is None:
        raise NotFound("There is no such instrument; it may have been removed. Choose one from the list.")
    return _with_strings(session, row)


def change_instrument(
    session: Session, instrument_id: UUID, changes: dict[str, Any], *, retired: bool | None = None
) -> InstrumentRecord:
    """Change an instrument; retire it (True) or bring it back (False). Its log stays. Raises NotFound."""
    row = instrument(session, instrument_id).instrument
    for key, value in changes.items():
        setattr(row, key, value)
    if retired is not None:
        row.retired_at = (row.retired_at or now()) if retired else None
    session.add(row)
    session.flush()
    touched(session, instrument_id)
    return _with_strings(session, row)


def change_string(session: Session, instrument_id: UUID, name: str, changes: dict[str, Any]) -> StringRow:
    """Change one string's fittings. Setting the screw's position starts its count anew; other fittings, the learning.

    Raises NotFound.
    """
    row = session.exec(
        select(StringRow).where(StringRow.instrument_id == instrument_id, StringRow.name == name)
    ).first()
    if row is None:
        raise NotFound(f"There is no {name} string on this instrument.")
    if any(getattr(row, key) != changes[key] for key in TAUGHT_BY_FITTINGS & changes.keys()):
        row.fitted_at = now()
    for key, value in changes.items():
        setattr(row, key, value)
    if "screw_turns" in changes:
        row.screw_set_at = now()
    session.add(row)
    session.flush()
    touched(session, instrument_id)
    return row


def age_days(put_on: date | None, today: date) -> float | None:
    """Days a string has been on; None when that isn't known."""
    return None if put_on is None else float(max(0, (today - put_on).days))


def _with_strings(session: Session, row: InstrumentRow) -> InstrumentRecord:
    found = session.exec(select(StringRow).where(StringRow.instrument_id == row.id)).all()
    return InstrumentRecord(row, tuple(found))
