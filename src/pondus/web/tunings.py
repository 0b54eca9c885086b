"""Tunings: begin one, change how it is done, and see the whole bench at a look."""

from datetime import UTC, date, datetime
from typing import Any
from uuid import UUID

from apiflask import APIBlueprint
from sqlmodel import Session

from pondus.contracts.advice import Target, fifth_cents_of
from pondus.contracts.base import ClientId, Contract
from pondus.core.errors import BadInput
from pondus.core.instruments import instrument_named
from pondus.core.judgement.plan import OrderSchool
from pondus.core.judgement.situation import Approach, Stance, Who, check_stance, check_tolerance
from pondus.core.pitch import Spelling, check_a4
from pondus.store import instruments as kept_instruments
from pondus.store import settings as kept_settings
from pondus.store import tunings as kept
from pondus.web.bench import BenchOut, TuningList, TuningOut, bench_out
from pondus.web.unit import work

blueprint = APIBlueprint("tunings", __name__, tag="Tunings")


class TuningSettings(Contract):
    """How a tuning is done; what is left out stays as it is."""

    a4: float | None = None
    target: Target | None = None
    approach: Approach | None = None
    tolerance_cents: float | None = None
    stance: Stance | None = None
    who: Who | None = None
    spelling: Spelling | None = None
    order: OrderSchool | None = None


class NewTuning(TuningSettings):
    """A tuning to begin; its id is made by the client."""

    id: ClientId
    instrument_id: ClientId


def today() -> date:
    """The day it is, UTC."""
    return datetime.now(UTC).date()


def bench_of(tuning_id: UUID) -> BenchOut:
    """The bench as it stands now, read afresh."""
    with work() as session:
        log = kept.tuning(session, tuning_id)
        record = kept_instruments.instrument(session, log.tuning.instrument_id)
        return bench_out(session, record, log, today=today())


def checked(settings: TuningSettings, kind: str | None) -> dict[str, Any]:
    """Check what was sent and name it as the table does; ``kind`` None: of no instrument. Raises BadInput."""
    sent = settings.model_fields_set - {"id", "instrument_id"}
    changes = {key: getattr(settings, key) for key in sent if key != "target"}
    for key, value in changes.items():
        if value is None:
            raise BadInput(key, f"{key} can't be emptied; give a value or leave it out.")
    if settings.a4 is not None:
        check_a4(settings.a4)
    if settings.tolerance_cents is not None:
        check_tolerance(settings.tolerance_cents)
    if settings.stance is not None and kind is not None:
        check_stance(instrument_named(kind), settings.stance)
    if settings.target is not None:
        changes["fifth_cents"] = fifth_cents_of(settings.target)
    return changes


@blueprint.post("/tunings")
@blueprint.input(NewTuning, arg_name="new")
@blueprint.output(BenchOut)
def begin_tuning(new: NewTuning) -> BenchOut:
    """Begin a tuning of an instrument; sent twice, it is begun once."""
    with work() as session:
        record = kept_instruments.instrument(session, new.instrument_id)
        log = _begin(session, record, new.id, checked(new, record.instrument.kind))
        return bench_out(session, record, log, today=today())


def _begin(
    session: Session, record: kept_instruments.InstrumentRecord, tuning_id: UUID, changes: dict[str, Any]
) -> kept.TuningRecord:
    """A new tuning as this instrument usually is tuned, with ``changes`` over that."""
    row = kept_settings.usual_tuning(session, record.instrument)
    row.id = tuning_id
    for key, value in changes.items():
        setattr(row, key, value)
    return kept.begin_tuning(session, row)


def sitting(session: Session, instrument_id: UUID, tuning_id: UUID) -> kept.TuningRecord:
    """Today's newest tuning of an instrument; where there is none, one is begun under that id. Raises NotFound, Conflict."""
    # Two browsers that sit down to it at once find the same tuning.
    record = kept_instruments.instrument(session, instrument_id, hold=True)
    newest = next(iter(kept.tunings_of(session, instrument_id, limit=1)), None)
    if newest is not None and newest.started_at.date() >= today():
        return kept.tuning(session, newest.id)
    return _begin(session, record, tuning_id, {})


class Sitting(Contract):
    """To sit down to an instrument: the id of a new tuning, if none was begun today."""

    id: ClientId


@blueprint.post("/instruments/<uuid:instrument_id>/sitting")
@blueprint.input(Sitting, arg_name="asked")
@blueprint.output(BenchOut)
def sit_down(instrument_id: UUID, asked: Sitting) -> BenchOut:
    """The bench of today's newest tuning of an instrument; one is begun where there is none."""
    with work() as session:
        record = kept_instruments.instrument(session, instrument_id)
        log = sitting(session, instrument_id, asked.id)
        return bench_out(session, record, log, today=today())


@blueprint.get("/tunings/<uuid:tuning_id>")
@blueprint.output(BenchOut)
def bench(tuning_id: UUID) -> BenchOut:
    """The whole bench: every string, its last reading, the advice, the fifths, the history."""
    return bench_of(tuning_id)


@blueprint.get("/instruments/<uuid:instrument_id>/tunings")
@blueprint.output(TuningList)
def list_tunings(instrument_id: UUID) -> TuningList:
    """An instrument's tunings, newest first."""
    with work() as session:
        rows = kept.tunings_of(session, instrument_id)
        return TuningList(tunings=[TuningOut.model_validate(row) for row in rows])


@blueprint.patch("/tunings/<uuid:tuning_id>")
@blueprint.input(TuningSettings, arg_name="settings")
@blueprint.output(BenchOut)
def change_tuning(tuning_id: UUID, settings: TuningSettings) -> BenchOut:
    """Change how this tuning is done."""
    with work() as session:
        log = kept.tuning(session, tuning_id)
        record = kept_instruments.instrument(session, log.tuning.instrument_id)
        kept.change_tuning(session, tuning_id, checked(settings, record.instrument.kind))
    return bench_of(tuning_id)
