"""Where every instrument stands this morning: by the newest readings of its newest tuning, if that is of today."""

from dataclasses import dataclass, replace
from datetime import date
from uuid import UUID

from sqlmodel import Session

from pondus.core.judgement.plan import OrderSchool
from pondus.core.judgement.situation import Heard, RecentMove, Situation
from pondus.store.instruments import InstrumentRecord, instruments
from pondus.store.standing import Standing, heard_of, standings
from pondus.store.tunings import tuning, tunings_of


@dataclass(frozen=True)
class StringNewest:
    """One string: its facts for someone who may turn pegs, and what was heard of it today (None: nothing)."""

    situation: Situation
    heard: Heard | None
    sure: bool
    recent: RecentMove | None


@dataclass(frozen=True)
class NewestStanding:
    """One instrument and its strings; no strings where there is no tuning of today."""

    id: UUID
    label: str
    kind: str
    size: str
    order: OrderSchool
    strings: dict[str, StringNewest]


def newest_standings(session: Session, *, today: date) -> list[NewestStanding]:
    """Every instrument of the studio."""
    return [_newest(session, record, today) for record in instruments(session)]


def _newest(session: Session, record: InstrumentRecord, today: date) -> NewestStanding:
    row = record.instrument
    newest = next(iter(tunings_of(session, row.id, limit=1)), None)
    if newest is None or newest.started_at.date() != today:
        return NewestStanding(row.id, row.label, row.kind, row.size, "A-outward", {})
    log = tuning(session, newest.id)
    strings = {each.string.name: _string(each) for each in standings(session, record, log, today=today)}
    return NewestStanding(row.id, row.label, row.kind, row.size, newest.order, strings)  # type: ignore[arg-type]


def _string(each: Standing) -> StringNewest:
    facts = replace(each.situation, who="teacher")
    if each.reading is None or each.pending is not None:
        return StringNewest(facts, None, False, None)
    return StringNewest(facts, heard_of(each.reading), each.reading.sure_of_string, each.recent)
