"""Where every instrument stands this morning: by the newest readings of its newest tuning, if that is of today.

How an instrument is sorted is kept with the count of its changes, and worked out anew only when that has gone on.
"""

from dataclasses import asdict, dataclass, replace
from datetime import UTC, date, datetime, time
from typing import Any
from uuid import UUID

from sqlalchemy.dialects.postgresql import insert
from sqlmodel import Session, col, select

from pondus.core.instruments import instrument_named
from pondus.core.judgement.plan import StringAsked
from pondus.core.stations import expected_minutes
from pondus.core.sweep import Sorted, at_luthier, sort_instrument, unheard
from pondus.store.care import out_at_luthier
from pondus.store.digests import digests
from pondus.store.instruments import instrument
from pondus.store.learned import learned_pull, move_log
from pondus.store.people import done
from pondus.store.standing import Standing, heard_of, standings
from pondus.store.tables import InstrumentRow, PersonRow, SweptRow, TuningRow
from pondus.store.tunings import tuning

HISTORY_TUNINGS = 12
"""Tunings that say how long an instrument takes."""


@dataclass(frozen=True)
class Swept:
    """One instrument of the morning: how it is sorted, how long it will take, who plays it."""

    id: UUID
    label: str
    kind: str
    size: str
    player: str | None
    player_id: UUID | None
    sorted: Sorted
    minutes: float
    heard: int


def day_begins(today: date) -> datetime:
    """The moment a day begins, UTC."""
    return datetime.combine(today, time(), tzinfo=UTC)


def swept(session: Session, *, today: date, only: UUID | None = None) -> list[Swept]:
    """Every instrument of the studio (or ``only`` one), sorted."""
    asked = (
        select(InstrumentRow, PersonRow.name)
        .outerjoin(PersonRow, col(PersonRow.id) == col(InstrumentRow.player_id))
        .where(col(InstrumentRow.retired_at).is_(None), col(InstrumentRow.simulated_of).is_(None))
    )
    rows = session.exec(asked if only is None else asked.where(InstrumentRow.id == only)).all()
    tunings = tunings_of_today(session, today)
    kept = {
        row.instrument_id: row
        for row in session.exec(select(SweptRow).where(SweptRow.day == today).order_by(SweptRow.instrument_id)).all()  # type: ignore[arg-type]
    }
    away = out_at_luthier(session)
    found = []
    for row, player in rows:
        newest = tunings.get(row.id)
        if row.id in away:
            plain: dict[str, Any] = {"sorted": asdict(at_luthier(away[row.id])), "minutes": 0.0, "heard": 0}
        elif newest is None:
            nothing = unheard(instrument_named(row.kind).string_names)
            plain = {"sorted": asdict(nothing), "minutes": 0.0, "heard": 0}
        else:
            held = kept.get(row.id)
            fresh = held is not None and held.log_version == row.log_version
            plain = held.sorted if held is not None and fresh else _sort_anew(session, row, newest, today)
        found.append(
            Swept(
                id=row.id,
                label=row.label,
                kind=row.kind,
                size=row.size,
                player=player,
                player_id=row.player_id,
                sorted=Sorted(**plain["sorted"]),
                minutes=plain["minutes"],
                heard=plain["heard"],
            )
        )
    return found


def tunings_of_today(session: Session, today: date) -> dict[UUID, UUID]:
    """The newest tuning of today, of each instrument that has one."""
    found = session.exec(
        select(TuningRow.instrument_id, TuningRow.id)
        .where(TuningRow.started_at >= day_begins(today))
        .order_by(col(TuningRow.started_at))
    ).all()
    return dict(found)


def _sort_anew(session: Session, row: InstrumentRow, tuning_id: UUID, today: date) -> dict[str, Any]:
    """Sort one instrument by its log, and keep that."""
    record = instrument(session, row.id)
    log = tuning(session, tuning_id)
    kind = instrument_named(row.kind)
    past = digests(session, row.id)
    measured = move_log(past)
    strings = standings(session, record, log, today=today, measured=measured)
    asked = {each.string.name: _asked(each) for each in strings}
    verdict = sort_instrument(
        asked,
        instrument=kind,
        order=log.tuning.order,  # type: ignore[arg-type]
        pull=learned_pull(kind, measured),
    )
    moves = verdict.screw_moves + verdict.peg_moves
    earlier = [done(each) for each in past[-HISTORY_TUNINGS - 1 :] if each.tuning_id != tuning_id]
    minutes = (
        expected_minutes(
            earlier,
            screw_moves=verdict.screw_moves,
            peg_moves=verdict.peg_moves,
            rounds=max(1, verdict.rounds),
        )
        if moves
        else 0.0
    )
    heard = sum(each.heard is not None for each in asked.values())
    plain = {"sorted": asdict(verdict), "minutes": round(minutes, 2), "heard": heard}
    values = {"instrument_id": row.id, "day": today, "log_version": row.log_version, "sorted": plain}
    put = insert(SweptRow).values(values)
    session.execute(put.on_conflict_do_update(index_elements=["instrument_id"], set_=values))
    return plain


def _asked(each: Standing) -> StringAsked:
    """One string for someone who may turn pegs, and what was heard of it today, if anything holds."""
    facts = replace(each.situation, who="teacher")
    if each.reading is None or each.pending is not None:
        return StringAsked(facts, None, False, None)
    return StringAsked(facts, heard_of(each.reading), each.reading.sure_of_string, each.recent)
