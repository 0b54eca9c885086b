"""Where every instrument stands this morning: by the newest readings of its newest tuning, if that is of today.

How an instrument is sorted is kept with the count of its changes. Whoever changes something keeps it; whoever only looks works
out what isn't kept, and keeps nothing.
"""

import json
from collections.abc import Collection
from dataclasses import asdict, dataclass
from datetime import date
from typing import Any
from uuid import UUID

from sqlalchemy import text
from sqlmodel import Session, col, select

from pondus.core.clock import Clock
from pondus.core.group.triage import Sorted, TriagedInstrument, at_luthier, triaged_instrument, unheard
from pondus.core.hands.records import Tuning
from pondus.core.instruments import instrument_named
from pondus.store.care import out_at_luthier
from pondus.store.instruments import fitted, instrument
from pondus.store.records import tuning_of
from pondus.store.summaries import summaries
from pondus.store.tables import InstrumentRow, PersonRow, TriagedRow, TuningRow
from pondus.store.tunings import tuning_log, tuning_row


@dataclass(frozen=True)
class Triaged:
    """One instrument of the morning: how it is sorted, how many minutes it will take, who plays it."""

    id: UUID
    label: str
    kind: str
    size: str
    player: str | None
    player_id: UUID | None
    sorted: Sorted
    minutes: float
    heard: int


def triaged(session: Session, *, clock: Clock, only: UUID | None = None) -> list[Triaged]:
    """Every instrument of the studio (or ``only`` one), sorted. Writes nothing."""
    asked = (
        select(InstrumentRow, PersonRow.name)
        .outerjoin(PersonRow, col(PersonRow.id) == col(InstrumentRow.player_id))
        .where(col(InstrumentRow.retired_at).is_(None), col(InstrumentRow.simulated_of).is_(None))
    )
    rows = session.exec(asked if only is None else asked.where(InstrumentRow.id == only)).all()
    tunings = tunings_of_today(session, clock, only=only)
    kept = {row.instrument_id: row for row in session.exec(select(TriagedRow).where(TriagedRow.day == clock.today)).all()}
    away = out_at_luthier(session)
    found = []
    for row, player in rows:
        if row.id in away:
            state = TriagedInstrument(at_luthier(away[row.id]), 0.0, 0)
        elif row.id not in tunings:
            state = TriagedInstrument(unheard(instrument_named(row.kind).string_names), 0.0, 0)
        else:
            held = kept.get(row.id)
            fresh = held is not None and held.log_version == row.log_version
            state = _read(held.sorted) if held is not None and fresh else _triage(session, row.id, tunings[row.id], clock)
        found.append(
            Triaged(
                id=row.id,
                label=row.label,
                kind=row.kind,
                size=row.size,
                player=player,
                player_id=row.player_id,
                sorted=state.sorted,
                minutes=state.minutes,
                heard=state.heard,
            )
        )
    return found


def tunings_of_today(session: Session, clock: Clock, *, only: UUID | None = None) -> dict[UUID, UUID]:
    """The newest tuning of today, of each instrument that has one."""
    asked = select(TuningRow.instrument_id, TuningRow.id).where(
        TuningRow.started_at >= clock.begins(clock.today), TuningRow.started_at < clock.day_ends
    )
    if only is not None:
        asked = asked.where(TuningRow.instrument_id == only)
    return dict(session.exec(asked.order_by(col(TuningRow.started_at), col(TuningRow.id))).all())


def keep_triaged(session: Session, instrument_id: UUID, *, clock: Clock) -> None:
    """Sort one instrument by its log as it is now, and keep that."""
    row = session.get(InstrumentRow, instrument_id)
    tuning = tunings_of_today(session, clock, only=instrument_id).get(instrument_id)
    if row is not None and tuning is not None:
        version = row.log_version
        how = tuning_of(tuning_row(session, tuning))
        keep(session, how, _triage(session, instrument_id, tuning, clock), version=version, clock=clock)


_KEEP = text(
    """
    insert into triaged (instrument_id, day, log_version, sorted)
    select cast(:instrument as uuid), cast(:day as date), cast(:version as bigint), cast(:sorted as jsonb)
    where cast(:tuning as uuid) = (
        select id from tuning where instrument_id = :instrument and started_at < :ends
        order by started_at desc, id desc limit 1
    )
    on conflict (instrument_id) do update
    set day = excluded.day, log_version = excluded.log_version, sorted = excluded.sorted
    where triaged.log_version < excluded.log_version or triaged.day <> excluded.day
    """
)


def keep(session: Session, tuning: Tuning, state: TriagedInstrument, *, version: int, clock: Clock) -> None:
    """Keep how an instrument is sorted by a tuning at a count of its changes, unless it is known at a newer one, or the tuning
    isn't its newest.
    """
    told = {"instrument": tuning.instrument_id, "tuning": tuning.id, "version": version}
    told |= {"day": clock.today, "ends": clock.day_ends}
    session.execute(_KEEP, {**told, "sorted": json.dumps(_plain(state))})


def _triage(session: Session, instrument_id: UUID, tuning_id: UUID, clock: Clock) -> TriagedInstrument:
    """Sort one instrument by its log."""
    log = tuning_log(session, tuning_id)
    past = summaries(session, instrument_id)
    as_fitted = fitted(instrument(session, instrument_id), past, before=tuning_id)
    return triaged_instrument(as_fitted, log, past, clock=clock)


def _plain(state: TriagedInstrument) -> dict[str, Any]:
    return {"sorted": asdict(state.sorted), "minutes": round(state.minutes, 2), "heard": state.heard}


def _read(plain: dict[str, Any]) -> TriagedInstrument:
    return TriagedInstrument(Sorted(**plain["sorted"]), plain["minutes"], plain["heard"])


_VERSION = text(
    """
    select
        (select md5(string_agg(concat_ws('/', id, log_version), ',' order by id)) from instrument where retired_at is null),
        (select md5(string_agg(concat_ws('/', id, player_id, label), ',' order by id)) from instrument
            where retired_at is null),
        (select md5(string_agg(concat_ws('/', id, role, pace, name), ',' order by id)) from person),
        (select md5(string_agg(
            concat_ws('/', id, may, own_only, comes_at, coalesce(pace, 0), instrument_id, name, planned), ','
            order by id))
            from station where day = :day),
        (select max(changed_at) from settings)
    """
)


@dataclass(frozen=True)
class MorningVersion:
    """What changes whenever the morning looks different: ``logs`` when something is read or turned, ``rest`` when
    people, places, instruments or settings change.
    """

    logs: str | None
    rest: tuple[Any, ...]


def morning_version(session: Session, day: date) -> MorningVersion:
    """The morning's version; cheap to ask."""
    logs, *rest = session.execute(_VERSION, {"day": day}).one()
    return MorningVersion(logs, (day, *rest))


def waiting(found: Collection[Triaged]) -> set[UUID]:
    """Instruments that still want someone's hands."""
    return {one.id for one in found if one.sorted.waits}
