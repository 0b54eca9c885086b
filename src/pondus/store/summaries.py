"""What each tuning came to, kept so that years of entries need not be read again.

Whoever looks works out what isn't kept and keeps nothing; whoever changes something keeps what came before it.
"""

from collections import defaultdict
from collections.abc import Iterable, Sequence
from datetime import datetime
from functools import lru_cache
from typing import Any
from uuid import UUID

from pydantic import TypeAdapter
from sqlalchemy import Text, bindparam, cast, func, text, true
from sqlalchemy.dialects.postgresql import insert
from sqlmodel import Session, col, select

from pondus.core.hands.records import FittedInstrument, Move, Reading, TuningLog
from pondus.core.hands.summary import TuningSummary, placed, summarise
from pondus.store.errors import NotFound
from pondus.store.records import fitted_instrument, move_of, reading_of, tuning_of
from pondus.store.tables import InstrumentRow, MoveRow, ReadingRow, StringRow, SummaryRow, TuningRow

_ONE = TypeAdapter(TuningSummary)
_CONTENT = cast(col(SummaryRow.content), Text)
"""As text: what was parsed once is known again."""
NOT_AHEAD = TuningRow.started_at < func.now() + text("interval '1 day'")
"""What was begun while a clock was ahead (by more than a day's grace) is left aside."""
_TUNINGS: Any = (
    select(TuningRow.id, _CONTENT)
    .outerjoin(SummaryRow, col(SummaryRow.tuning_id) == col(TuningRow.id))
    .where(col(TuningRow.instrument_id) == bindparam("instrument"), NOT_AHEAD)
    .order_by(col(TuningRow.started_at).desc())
)
"""An instrument's tunings, newest first, with what is kept of them. Asked for at every entry, and so made once."""
REMEMBERED = 50_000
TOGETHER = 400
"""Tunings worked out at a time."""


def summaries(
    session: Session, instrument_id: UUID, *, newest: int | None = None, but: UUID | None = None
) -> list[TuningSummary]:
    """An instrument's tunings, oldest first; ``newest``: only so many of the last; ``but``: without that one."""
    found = session.exec(_TUNINGS if newest is None else _TUNINGS.limit(newest), params={"instrument": instrument_id}).all()
    kept = [_parsed(content) for tuning, content in found if content is not None and tuning != but]
    missing = [tuning for tuning, content in found if content is None and tuning != but]
    return sorted([*kept, *_worked_out(session, instrument_id, missing, kept=kept)], key=in_order)


@lru_cache(maxsize=REMEMBERED)
def _parsed(content: str) -> TuningSummary:
    return _ONE.validate_json(content)


def in_order(summary: TuningSummary) -> tuple[datetime, UUID]:
    """The order that tunings were begun in."""
    return summary.started_at, summary.tuning_id


def newest_of_all(session: Session, count: int) -> dict[UUID, list[TuningSummary]]:
    """The last ``count`` tunings of every instrument in use, oldest first."""
    last = (
        select(TuningRow.id)
        .where(TuningRow.instrument_id == InstrumentRow.id, NOT_AHEAD)
        .order_by(col(TuningRow.started_at).desc())
        .limit(count)
        .lateral()
    )
    found = session.exec(
        select(InstrumentRow.id, last.c.id, _CONTENT)
        .select_from(InstrumentRow)
        .join(last, true())
        .outerjoin(SummaryRow, col(SummaryRow.tuning_id) == last.c.id)
        .where(col(InstrumentRow.retired_at).is_(None), col(InstrumentRow.simulated_of).is_(None))
    ).all()
    ready: dict[UUID, list[TuningSummary]] = defaultdict(list)
    missing: dict[UUID, list[UUID]] = defaultdict(list)
    for instrument, tuning, content in found:
        if content is None:
            missing[instrument].append(tuning)
        else:
            ready[instrument].append(_parsed(content))
    for instrument, tunings in missing.items():
        ready[instrument] += _worked_out(session, instrument, tunings)
    for one in ready.values():
        one.sort(key=in_order)
    return ready


def keep_summaries(session: Session, instrument_id: UUID) -> None:
    """Keep what is missing. Whoever calls holds the instrument, so that no entry slips in between reading and keeping."""
    found = session.exec(_TUNINGS, params={"instrument": instrument_id}).all()
    kept = [_parsed(content) for _, content in found if content is not None]
    missing = [tuning for tuning, content in found if content is None]
    rows = [
        {
            "tuning_id": one.tuning_id,
            "instrument_id": instrument_id,
            "started_at": one.started_at,
            "content": _ONE.dump_python(one, mode="json"),
        }
        for one in _worked_out(session, instrument_id, missing, kept=kept)
    ]
    for start in range(0, len(rows), TOGETHER):
        session.execute(insert(SummaryRow).on_conflict_do_nothing(), rows[start : start + TOGETHER])


def _worked_out(
    session: Session, instrument_id: UUID, missing: Sequence[UUID], *, kept: Sequence[TuningSummary] = ()
) -> list[TuningSummary]:
    """What these tunings came to. Gone through in their order with those that are kept: a screw stands where it was left."""
    if not missing:
        return []
    left, found = _as_seen(session, instrument_id), []
    logs = [log for start in range(0, len(missing), TOGETHER) for log in _logs(session, missing[start : start + TOGETHER])]
    every: list[TuningSummary | TuningLog] = [*kept, *logs]
    for one in sorted(every, key=lambda one: in_order(one) if isinstance(one, TuningSummary) else _begun(one)):
        if isinstance(one, TuningLog):
            found.append(summarise(left, one))
            left = placed(left, found[-1:])
        else:
            left = placed(left, [one])
    return found


def _begun(log: TuningLog) -> tuple[datetime, UUID]:
    return log.tuning.started_at, log.tuning.id


def _as_seen(session: Session, instrument_id: UUID) -> FittedInstrument:
    row = session.get(InstrumentRow, instrument_id)
    if row is None:
        raise NotFound("There is no such instrument; it may have been removed. Choose one from the list.")
    strings = session.exec(select(StringRow).where(StringRow.instrument_id == instrument_id)).all()
    return fitted_instrument(row, strings)


def _logs(session: Session, tuning_ids: Sequence[UUID]) -> Iterable[TuningLog]:
    """These tunings with their readings and moves."""
    tunings = session.exec(select(TuningRow).where(col(TuningRow.id).in_(tuning_ids))).all()
    readings: dict[UUID, list[Reading]] = defaultdict(list)
    moves: dict[UUID, list[Move]] = defaultdict(list)
    for reading in session.exec(
        select(ReadingRow).where(col(ReadingRow.tuning_id).in_(tuning_ids), col(ReadingRow.struck_at).is_(None))
    ):
        readings[reading.tuning_id].append(reading_of(reading))
    for move in session.exec(select(MoveRow).where(col(MoveRow.tuning_id).in_(tuning_ids), col(MoveRow.struck_at).is_(None))):
        moves[move.tuning_id].append(move_of(move))
    for row in tunings:
        yield TuningLog(tuning_of(row), tuple(readings[row.id]), tuple(moves[row.id]))
