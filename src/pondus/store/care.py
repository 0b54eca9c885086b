"""Care of the studio's instruments: what was done and noticed, who is at the luthier's, what is due."""

from collections import defaultdict
from collections.abc import Iterable
from datetime import date, datetime
from typing import Any
from uuid import UUID

from sqlmodel import Session, col, select

from pondus.core.clock import Clock
from pondus.core.errors import BadInput
from pondus.core.upkeep.care import USUAL_LIFE_MONTHS, Wanted, shopping_list
from pondus.core.upkeep.ledger import slips_of
from pondus.core.upkeep.studio import CaredFor, CareKept, cared_for
from pondus.store.errors import Conflict, NotFound
from pondus.store.instruments import InstrumentRecord, held_instrument, instruments, next_version
from pondus.store.records import entry_of, fitted_instrument
from pondus.store.settings import settings_of
from pondus.store.summaries import newest_of_all
from pondus.store.tables import CareRow, StringRow, now

TUNINGS_LOOKED_AT = 4
"""Tunings that say whether a peg slips again and again."""


def add_care(session: Session, row: CareRow, *, clock: Clock) -> CareRow:
    """Store something done or noticed; sent twice, it is stored once. A changed string is new from that day.

    Raises Conflict, NotFound, BadInput (to the luthier while there, back while here).
    """
    kept = session.get(CareRow, row.id)
    if kept is not None:
        if (kept.instrument_id, kept.kind, kept.string) != (row.instrument_id, row.kind, row.string):
            raise Conflict("That id holds another entry already; send this one with an id of its own.")
        return kept
    if held_instrument(session, row.instrument_id) is None:
        raise NotFound("There is no such instrument; it may have been removed. Choose one from the list.")
    away = row.instrument_id in out_at_luthier(session)
    if row.kind == "luthier-out" and away:
        raise BadInput("kind", "It is at the luthier’s already; enter it back in first.")
    if row.kind == "luthier-in" and not away:
        raise BadInput("kind", "It isn’t at the luthier’s; enter it out first.")
    if row.kind == "string-changed":
        _put_on(session, row, clock)
    session.add(row)
    session.flush()
    next_version(session, row.instrument_id)
    return row


def _put_on(session: Session, row: CareRow, clock: Clock) -> None:
    """A new string: its age starts, what was learned of the old one no longer counts."""
    string = _string(session, row)
    row.was = {
        "state": string.state,
        "put_on": None if string.put_on is None else string.put_on.isoformat(),
        "core": string.core,
        "fitted_at": None if string.fitted_at is None else string.fitted_at.isoformat(),
    }
    string.put_on = clock.day_of(row.at)
    if string.state in ("broken", "off"):
        string.state = "floppy"  # it is on, and gives no pitch yet
    string.core = row.core or string.core
    string.fitted_at = row.at
    session.add(string)


def strike_care(session: Session, care_id: UUID, *, reason: str | None, clock: Clock) -> CareRow:
    """Strike an entry out; None brings it back. A string that wasn't changed after all is the old one again.

    Raises NotFound.
    """
    row = session.get(CareRow, care_id)
    if row is None:
        raise NotFound("There is no such entry; look at the instrument's care.")
    held_instrument(session, row.instrument_id)
    session.refresh(row)
    if row.kind == "string-changed" and (row.struck_at is None) != (reason is None):
        if reason is None:
            _put_on(session, row, clock)
        else:
            _take_back(session, row, clock)
    row.struck_at = None if reason is None else (row.struck_at or now())
    row.struck_reason = reason
    session.add(row)
    session.flush()
    next_version(session, row.instrument_id)
    return row


def _take_back(session: Session, row: CareRow, clock: Clock) -> None:
    """The string as it was before, unless it was changed again since."""
    string = _string(session, row)
    if string.put_on != clock.day_of(row.at) or not row.was:
        return
    was = row.was
    string.put_on = None if was["put_on"] is None else date.fromisoformat(was["put_on"])
    string.core = was["core"]
    string.state = was.get("state", string.state)
    string.fitted_at = None if was["fitted_at"] is None else datetime.fromisoformat(was["fitted_at"])
    session.add(string)


def take_back_care(session: Session, import_id: UUID, *, clock: Clock) -> None:
    """Remove what a list entered, newest first, so that strings are again what they were."""
    rows = session.exec(select(CareRow).where(CareRow.import_id == import_id).order_by(col(CareRow.at).desc())).all()
    for row in rows:
        if row.kind == "string-changed" and row.struck_at is None:
            _take_back(session, row, clock)
        session.delete(row)
        session.flush()
        next_version(session, row.instrument_id)


def _string(session: Session, row: CareRow) -> StringRow:
    found = session.exec(
        select(StringRow).where(StringRow.instrument_id == row.instrument_id, StringRow.name == row.string)
    ).first()
    if found is None:
        raise BadInput("string", f"Which string? This instrument has no “{row.string or ''}”.")
    return found


def care_of(session: Session, instrument_id: UUID | None = None) -> list[CareRow]:
    """What was done and noticed, newest first; of one instrument, or of all. Struck entries too."""
    asked = select(CareRow).order_by(col(CareRow.at).desc())
    return list(session.exec(asked if instrument_id is None else asked.where(CareRow.instrument_id == instrument_id)))


def out_at_luthier(session: Session) -> dict[UUID, str]:
    """The instruments at the luthier's now, and why."""
    rows = session.exec(
        select(CareRow)
        .where(col(CareRow.kind).in_(("luthier-out", "luthier-in")), col(CareRow.struck_at).is_(None))
        .order_by(col(CareRow.at))
    ).all()
    last = {row.instrument_id: row for row in rows}
    return {key: row.said for key, row in last.items() if row.kind == "luthier-out"}


def care_record(row: CareRow) -> CareKept:
    """An entry as the core takes it."""
    return entry_of(CareKept, row, symptom=row.sign)


def wanted_strings(cared: Iterable[CaredFor], clock: Clock) -> list[Wanted]:
    """The strings to buy by today for these instruments."""
    return shopping_list((string for instrument in cared for string in instrument.strings_in_use()), today=clock.today)


def studio_care(session: Session, *, clock: Clock, only: InstrumentRecord | None = None) -> list[CaredFor]:
    """Care of every instrument in use, by label; ``only``: of this one, in use or not."""
    months = life_setting(session)
    entries: dict[UUID, list[CareKept]] = defaultdict(list)
    for entry in care_of(session):
        entries[entry.instrument_id].append(care_record(entry))
    last = newest_of_all(session, TUNINGS_LOOKED_AT)
    found = []
    for record in instruments(session) if only is None else [only]:
        row = record.instrument
        put_on = {string.name: string.put_on for string in record.strings}
        slipped = slips_of(last.get(row.id, []), put_on, clock=clock)
        found.append(cared_for(fitted_instrument(row, record.strings), entries[row.id], months, slipped, clock=clock))
    return found


def life_setting(session: Session) -> float:
    """How many months strings last in this studio, where playing hours aren't known."""
    found: Any = settings_of(session, None).get("string_life_months")
    return USUAL_LIFE_MONTHS if found is None else float(found)
