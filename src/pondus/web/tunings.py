"""Tunings: begin one, change how it is done, and see the whole bench at a look."""

from typing import Any
from uuid import UUID

from apiflask import APIBlueprint
from sqlmodel import Session

from pondus.contracts.advice import fifth_cents_of
from pondus.contracts.bench import BenchOut, EmptyTuning, NewTuning, TodaysTuning, TuningList, TuningSettings
from pondus.core.clock import Clock
from pondus.core.entries.settings import check_settings
from pondus.core.errors import BadInput
from pondus.core.instruments import Instrument, instrument_named
from pondus.core.views.access import advised_at_most
from pondus.store import instruments as instrument_store
from pondus.store import settings as settings_store
from pondus.store import tunings as tuning_store
from pondus.store.tables import TuningRow
from pondus.web.access import device_here
from pondus.web.bench import bench_of, changed_bench, tuning_out
from pondus.web.transaction import looking, transaction

blueprint = APIBlueprint("tunings", __name__, tag="Tunings")


def checked_settings(settings: TuningSettings, instrument: Instrument | None) -> dict[str, Any]:
    """What was sent, checked and named as the table does; ``instrument`` None: of no instrument. Raises BadInput."""
    sent = settings.model_fields_set - {"id", "instrument_id"}
    changes = {key: getattr(settings, key) for key in sent if key != "target"}
    if settings.target is not None:
        changes["fifth_cents"] = fifth_cents_of(settings.target)
    emptied = next((key for key in sent if getattr(settings, key) is None), None)
    if emptied is not None:
        raise BadInput(emptied, f"{emptied} can't be emptied; give a value or leave it out.")
    return check_settings(changes, instrument=instrument)


@blueprint.post("/tunings")
@blueprint.input(NewTuning, arg_name="new")
@blueprint.output(BenchOut)
def begin_tuning(new: NewTuning) -> BenchOut:
    """Begin a tuning of an instrument; sent twice, it is begun once. Raises BadInput, NotFound or Conflict."""
    _check_who(new)
    with transaction(sorts=False) as session:
        record = instrument_store.instrument(session, new.instrument_id)
        changes = checked_settings(new, instrument_named(record.instrument.kind))
        _begin(session, record, new.id, changes)
        shown = changed_bench(session, new.id)
    return shown()


def _check_who(settings: TuningSettings) -> None:
    """A device asks for no advice that its person may not follow. Raises BadInput."""
    if settings.who is not None and advised_at_most(settings.who, device_here()) != settings.who:
        raise BadInput("who", "Only a teacher says that somebody may turn more than this device's person.")


def _begin(session: Session, record: instrument_store.InstrumentRecord, tuning_id: UUID, changes: dict[str, Any]) -> TuningRow:
    """A new tuning as this instrument usually is tuned, with ``changes`` over that."""
    row = settings_store.usual_tuning(session, record.instrument)
    row.id = tuning_id
    row.done_by = device_here().person
    for key, value in changes.items():
        setattr(row, key, value)
    return tuning_store.begin_tuning(session, row)


def todays_tuning(session: Session, instrument_id: UUID, tuning_id: UUID, *, clock: Clock) -> TuningRow:
    """Today's newest tuning of an instrument; where there is none, one is begun under that id. Raises NotFound, Conflict."""
    # Two browsers that sit down to it at once find the same tuning.
    record = instrument_store.instrument(session, instrument_id, hold=True)
    newest = next(iter(tuning_store.tunings_of(session, instrument_id, limit=1, before=clock.day_ends)), None)
    if newest is not None and clock.day_of(newest.started_at) == clock.today:
        return newest
    return _begin(session, record, tuning_id, {})


@blueprint.post("/instruments/<uuid:instrument_id>/todays-tuning")
@blueprint.input(TodaysTuning, arg_name="asked")
@blueprint.output(BenchOut)
def sit_down(instrument_id: UUID, asked: TodaysTuning) -> BenchOut:
    """The bench of today's newest tuning of an instrument; one is begun where there is none.

    Raises BadInput, NotFound or Conflict.
    """
    with transaction(sorts=False) as session:
        clock = settings_store.studio_clock(session)
        tuning_id = todays_tuning(session, instrument_id, asked.id, clock=clock).id
        shown = changed_bench(session, tuning_id)
    return shown()


@blueprint.post("/instruments/<uuid:instrument_id>/tuning-before")
@blueprint.input(EmptyTuning, arg_name="empty")
@blueprint.output(BenchOut)
def back_to_before(instrument_id: UUID, empty: EmptyTuning) -> BenchOut:
    """Take back a tuning that was begun and holds nothing; sent twice, it is taken back once.

    Raises BadInput, NotFound or Conflict.
    """
    with transaction(sorts=False) as session:
        clock = settings_store.studio_clock(session)
        tuning_store.take_back(session, instrument_id, empty.id, clock=clock)
        tuning_id = todays_tuning(session, instrument_id, empty.id, clock=clock).id
        shown = changed_bench(session, tuning_id)
    return shown()


@blueprint.get("/tunings/<uuid:tuning_id>")
@blueprint.output(BenchOut)
def bench(tuning_id: UUID) -> BenchOut:
    """The whole bench: every string, its last reading, the advice, the fifths, the history.

    Raises BadInput or NotFound.
    """
    return bench_of(tuning_id)


@blueprint.get("/instruments/<uuid:instrument_id>/tunings")
@blueprint.output(TuningList)
def list_tunings(instrument_id: UUID) -> TuningList:
    """An instrument's tunings, newest first. Raises NotFound."""
    with looking() as session:
        instrument_store.instrument(session, instrument_id)
        rows = tuning_store.tunings_of(session, instrument_id)
        return TuningList(tunings=[tuning_out(row) for row in rows])


@blueprint.patch("/tunings/<uuid:tuning_id>")
@blueprint.input(TuningSettings, arg_name="settings")
@blueprint.output(BenchOut)
def change_tuning(tuning_id: UUID, settings: TuningSettings) -> BenchOut:
    """Change how this tuning is done. Raises BadInput or NotFound."""
    _check_who(settings)
    with transaction(sorts=False) as session:
        row = tuning_store.tuning_row(session, tuning_id)
        kind = instrument_store.instrument(session, row.instrument_id).instrument.kind
        tuning_store.change_tuning(session, tuning_id, checked_settings(settings, instrument_named(kind)))
        shown = changed_bench(session, tuning_id)
    return shown()
