"""Checks of fifths: kept and struck out, with the readings that they hold."""

from uuid import UUID

from sqlmodel import Session

from pondus.core.hands.fifth_checks import SIDES, reading_id
from pondus.store.errors import NotFound
from pondus.store.instruments import held_instrument, next_version
from pondus.store.tables import FifthCheckRow, ReadingRow
from pondus.store.tunings import add_entry, is_kept, is_late, tuning_row, void


def add_check(session: Session, row: FifthCheckRow) -> FifthCheckRow:
    """Store a check, and the two readings it holds where both pitches were heard; sent twice, it is stored once.

    Raises Conflict when the id holds something else, NotFound when its tuning doesn't exist.
    """
    instrument_id = tuning_row(session, row.tuning_id).instrument_id
    held_instrument(session, instrument_id)
    late = is_late(session, instrument_id, row)
    if not is_kept(session, row):
        for reading in _readings_of(row):
            add_entry(session, reading, late=late)
    return add_entry(session, row, late=late)


def _readings_of(row: FifthCheckRow) -> list[ReadingRow]:
    """Both strings as this check heard them."""
    sides = zip(SIDES, (row.lower, row.upper), (row.lower_hz, row.upper_hz), strict=True)
    return [
        ReadingRow(
            id=reading_id(row.id, side),
            tuning_id=row.tuning_id,
            string=string,
            at=row.at,
            hz=hz,
            source="typed" if row.source == "tapped" else row.source,
            sure_of_string=True,
            made_on=row.made_on,
            device=row.device,
            entered_by=row.entered_by,
        )
        for side, string, hz in sides
        if hz is not None
    ]


def strike_check(session: Session, check_id: UUID, *, reason: str | None) -> FifthCheckRow:
    """Strike a check and its readings out with a reason; None brings them back. Raises NotFound."""
    row = session.get(FifthCheckRow, check_id)
    if row is None:
        raise NotFound("There is no such check of a fifth; look at the history.")
    instrument_id = tuning_row(session, row.tuning_id).instrument_id
    held_instrument(session, instrument_id)
    for entry in (row, *(session.get(ReadingRow, reading_id(row.id, side)) for side in SIDES)):
        if entry is not None:
            void(entry, reason)
            session.add(entry)
    session.flush()
    next_version(session, instrument_id, tuning_id=row.tuning_id)
    return row
