"""Checks of fifths: kept, struck out, and which of them still hold."""

from dataclasses import dataclass
from datetime import datetime
from itertools import pairwise
from typing import Any
from uuid import UUID, uuid5

from sqlmodel import Session, col, select

from pondus.core.chain import Pair
from pondus.core.instruments import Instrument
from pondus.store.digests import touched
from pondus.store.errors import Conflict, NotFound
from pondus.store.tables import FifthCheckRow, ReadingRow, TuningRow, now
from pondus.store.tunings import TuningRecord, add_entry


@dataclass(frozen=True)
class FifthLog:
    """A tuning's checks in order, ``every`` one and those not struck out; and per pair the last one that still holds."""

    every: tuple[FifthCheckRow, ...]
    checks: tuple[FifthCheckRow, ...]
    holding: dict[Pair, FifthCheckRow]


def add_check(session: Session, row: FifthCheckRow) -> FifthCheckRow:
    """Store a check, and the two readings it holds where both pitches were heard; sent twice, it is stored once.

    Raises Conflict when the id holds something else, NotFound when its tuning doesn't exist.
    """
    if session.get(TuningRow, row.tuning_id, with_for_update=True) is None:
        raise NotFound("There is no such tuning; choose an instrument and begin one.")
    kept = session.get(FifthCheckRow, row.id)
    if kept is not None:
        if _content(kept) != _content(row):
            raise Conflict("That id holds another check already; send this one with an id of its own.")
        return kept
    for reading in _readings_of(row):
        add_entry(session, reading)
    session.add(row)
    session.flush()
    return row


def _readings_of(row: FifthCheckRow) -> list[ReadingRow]:
    """Both strings as this check heard them."""
    return [
        ReadingRow(
            id=uuid5(row.id, side),
            tuning_id=row.tuning_id,
            string=string,
            at=row.at,
            hz=hz,
            source=row.source,
            sure_of_string=True,
        )
        for side, string, hz in (("lower", row.lower, row.lower_hz), ("upper", row.upper, row.upper_hz))
        if hz is not None
    ]


def strike_check(session: Session, check_id: UUID, *, reason: str | None) -> FifthCheckRow:
    """Strike a check and its readings out with a reason; None brings them back. Raises NotFound."""
    row = session.get(FifthCheckRow, check_id)
    if row is None:
        raise NotFound("There is no such check of a fifth; look at the history.")
    readings = [session.get(ReadingRow, uuid5(row.id, side)) for side in ("lower", "upper")]
    both: list[FifthCheckRow | ReadingRow] = [row, *(reading for reading in readings if reading is not None)]
    tuning = session.get(TuningRow, row.tuning_id, with_for_update=True)
    assert tuning is not None
    for each in both:
        each.struck_at = None if reason is None else (each.struck_at or now())
        each.struck_reason = reason
        session.add(each)
    session.flush()
    touched(session, tuning.instrument_id, tuning.id)
    return row


def fifth_log(session: Session, log: TuningRecord, instrument: Instrument) -> FifthLog:
    """The checks of a tuning. One holds until either of its strings is turned, or read alone, after it."""
    every = session.exec(
        select(FifthCheckRow).where(FifthCheckRow.tuning_id == log.tuning.id).order_by(col(FifthCheckRow.at))
    ).all()
    rows = [each for each in every if each.struck_at is None]
    holding = {}
    for pair in pairwise(instrument.string_names):
        last = next((each for each in reversed(rows) if (each.lower, each.upper) == pair), None)
        if last is not None and not _changed_since(log, pair, last):
            holding[pair] = last
    return FifthLog(tuple(every), tuple(rows), holding)


def _changed_since(log: TuningRecord, pair: Pair, check: FifthCheckRow) -> bool:
    """Whether a string of the pair was turned after a check, or read in another way."""
    own = {uuid5(check.id, side) for side in ("lower", "upper")}
    later: list[tuple[str, datetime]] = [(each.string, each.at) for each in log.moves if each.struck_at is None]
    later += [(each.string, each.at) for each in log.readings if each.struck_at is None and each.id not in own]
    return any(string in pair and at > check.at for string, at in later)


def last_before(log: FifthLog, pair: Pair, check_id: UUID) -> FifthCheckRow | None:
    """The last check of a pair before the one of that id (which may not be stored yet), whether it still holds or not."""
    last = None
    for each in log.checks:
        if each.id == check_id:
            return last
        last = each if (each.lower, each.upper) == pair else last
    return last


def _content(row: FifthCheckRow) -> dict[str, Any]:
    return row.model_dump(exclude={"at", "struck_at", "struck_reason"})
