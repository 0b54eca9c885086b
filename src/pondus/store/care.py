"""Care of the studio's instruments: what was done and noticed, who is at the luthier's, what is due."""

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any
from uuid import UUID

from sqlmodel import Session, col, select

from pondus.core.care import (
    USUAL_LIFE_MONTHS,
    Referral,
    Seen,
    StringDue,
    StringInUse,
    Watched,
    referrals,
    still_open,
    string_due,
    watched,
)
from pondus.core.errors import BadInput
from pondus.core.forecast import gave_way
from pondus.core.pitch import cents_between
from pondus.store.digests import Digest, newest_of_all, touched
from pondus.store.errors import Conflict, NotFound
from pondus.store.instruments import InstrumentRecord, instruments
from pondus.store.settings import settings_of
from pondus.store.tables import CareRow, InstrumentRow, StringRow, now

TUNINGS_LOOKED_AT = 4
"""Tunings that say whether a peg slips again and again."""


def add_care(session: Session, row: CareRow) -> CareRow:
    """Store something done or noticed; sent twice, it is stored once. A changed string is new from that day.

    Raises Conflict, NotFound, BadInput (to the luthier while there, back while here).
    """
    kept = session.get(CareRow, row.id)
    if kept is not None:
        if (kept.instrument_id, kept.kind, kept.string) != (row.instrument_id, row.kind, row.string):
            raise Conflict("That id holds another entry already; send this one with an id of its own.")
        return kept
    if session.get(InstrumentRow, row.instrument_id, with_for_update=True) is None:
        raise NotFound("There is no such instrument; it may have been removed. Choose one from the list.")
    away = row.instrument_id in out_at_luthier(session)
    if row.kind == "luthier-out" and away:
        raise BadInput("kind", "It is at the luthier’s already; enter it back in first.")
    if row.kind == "luthier-in" and not away:
        raise BadInput("kind", "It isn’t at the luthier’s; enter it out first.")
    if row.kind == "string-changed":
        _put_on(session, row)
    session.add(row)
    session.flush()
    touched(session, row.instrument_id)
    return row


def _put_on(session: Session, row: CareRow) -> None:
    """A new string: its age starts, what was learned of the old one no longer counts."""
    string = _string(session, row)
    row.was = {
        "put_on": None if string.put_on is None else string.put_on.isoformat(),
        "core": string.core,
        "fitted_at": None if string.fitted_at is None else string.fitted_at.isoformat(),
    }
    string.put_on = row.at.date()
    string.core = row.core or string.core
    string.fitted_at = row.at
    session.add(string)


def strike_care(session: Session, care_id: UUID, *, reason: str | None) -> CareRow:
    """Strike an entry out; None brings it back. A string that wasn't changed after all is the old one again.

    Raises NotFound.
    """
    row = session.get(CareRow, care_id, with_for_update=True)
    if row is None:
        raise NotFound("There is no such entry; look at the instrument's care.")
    if row.kind == "string-changed" and (row.struck_at is None) != (reason is None):
        if reason is None:
            _put_on(session, row)
        else:
            _take_back(session, row)
    row.struck_at = None if reason is None else (row.struck_at or now())
    row.struck_reason = reason
    session.add(row)
    session.flush()
    touched(session, row.instrument_id)
    return row


def _take_back(session: Session, row: CareRow) -> None:
    """The string as it was before, unless it was changed again since."""
    string = _string(session, row)
    if string.put_on != row.at.date() or not row.was:
        return
    was = row.was
    string.put_on = None if was["put_on"] is None else date.fromisoformat(was["put_on"])
    string.core = was["core"]
    string.fitted_at = None if was["fitted_at"] is None else datetime.fromisoformat(was["fitted_at"])
    session.add(string)


def take_back_care(session: Session, import_id: UUID) -> None:
    """Remove what a list entered, newest first, so that strings are again what they were."""
    rows = session.exec(select(CareRow).where(CareRow.import_id == import_id).order_by(col(CareRow.at).desc())).all()
    for row in rows:
        if row.kind == "string-changed" and row.struck_at is None:
            _take_back(session, row)
        session.delete(row)
        session.flush()
        touched(session, row.instrument_id)


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


@dataclass(frozen=True)
class CaredFor:
    """One instrument: when each string is due, faults that are referred and faults to watch, its entries newest first."""

    record: InstrumentRecord
    due: dict[str, StringDue]
    referrals: tuple[Referral, ...]
    watched: tuple[Watched, ...]
    entries: tuple[CareRow, ...]

    @property
    def out(self) -> CareRow | None:
        """Its way to the luthier's, while it is there."""
        last = next((each for each in self.entries if each.kind.startswith("luthier") and each.struck_at is None), None)
        return last if last is not None and last.kind == "luthier-out" else None

    def in_use(self) -> list[StringInUse]:
        """Its strings, as far as buying goes. A string worn early is due, whenever it was put on."""
        row = self.record.instrument
        return [
            StringInUse(row.label, row.kind, row.size, each.name, each.core, self.due[each.name])
            for each in self.record.strings
        ]


def studio_care(session: Session) -> list[CaredFor]:
    """Care of every instrument in use, by label."""
    months = life_setting(session)
    entries: dict[UUID, list[CareRow]] = defaultdict(list)
    for row in care_of(session):
        entries[row.instrument_id].append(row)
    last = newest_of_all(session, TUNINGS_LOOKED_AT)
    return [
        cared_for(
            record,
            entries[record.instrument.id],
            months,
            slips_of(last.get(record.instrument.id, []), put_on_days(record)),
        )
        for record in instruments(session)
    ]


def cared_for(
    record: InstrumentRecord, entries: list[CareRow], months: float, slipped: list[frozenset[str]]
) -> CaredFor:
    """One instrument's care from its entries (newest first) and its slips."""
    standing = [each for each in entries if each.struck_at is None]
    changed = {row.name: row.put_on for row in record.strings if row.put_on is not None}
    mended = next((each.at.date() for each in standing if each.kind == "luthier-in"), None)
    seen = [Seen(each.sign, each.string, each.at.date()) for each in reversed(standing) if each.kind == "fault"]  # type: ignore[arg-type]
    referred = referrals(seen, slipped=slipped, changed=changed, mended=mended)
    still = still_open(seen, changed=changed, mended=mended)
    worn = {each.string: each.on for each in reversed(still) if each.sign == "string-false"}
    due = {
        row.name: string_due(
            row.put_on,
            hours_per_week=record.instrument.hours_per_week,
            usual_months=months,
            worn_on=worn.get(row.name),
        )
        for row in record.strings
    }
    return CaredFor(record, due, tuple(referred), tuple(watched(still, referred)), tuple(entries))


def slips_of(tunings: list[Digest], put_on: Mapping[str, date | None]) -> list[frozenset[str]]:
    """Of each tuning that turned or heard anything, the strings whose peg gave way in it or the night before. ``put_on``: since
    when each string is on.
    """
    slipped, before = [], None
    for each in tunings:
        if not each.strings:
            continue
        names = {name for name, string in each.strings.items() if string.slips > 0}
        if before is not None:
            names |= {name for name in each.strings if _slipped(before, each, name, put_on.get(name))}
        slipped.append(frozenset(names))
        before = each
    return slipped


def _slipped(before: Digest, after: Digest, name: str, put_on: date | None) -> bool:
    left = before.strings[name].left_hz if name in before.strings else None
    found = after.strings[name].found_hz
    if left is None or found is None:
        return False
    age = string_age(before.started_at.date(), put_on)
    another = put_on is not None and before.started_at.date() < put_on <= after.started_at.date()
    change = cents_between(found, left)
    return change < 0.0 and not another and gave_way(change, string_age_days=age)


def string_age(on: date, put_on: date | None) -> float | None:
    """Days a string had been on then; None where that isn't known, or it was another string."""
    if put_on is None or on < put_on:
        return None
    return float((on - put_on).days)


def put_on_days(record: InstrumentRecord) -> dict[str, date | None]:
    """Since when each string of an instrument is on."""
    return {row.name: row.put_on for row in record.strings}


def life_setting(session: Session) -> float:
    """How many months strings last in this studio, where playing hours aren't known."""
    found: Any = settings_of(session, None).get("string_life_months")
    return USUAL_LIFE_MONTHS if found is None else float(found)
