"""A tuning's bench: read from the store, said by the core, sent as the contract has it."""

from dataclasses import dataclass
from typing import Any
from uuid import UUID

from sqlmodel import Session

from pondus.contracts.bench import BenchOut, TuningOut
from pondus.core.bench_view import bench_view
from pondus.core.choices import temperament_named
from pondus.core.clock import Clock
from pondus.core.log.learned import MoveLog
from pondus.core.log.records import FittedInstrument, TuningLog
from pondus.store.instruments import InstrumentRecord, fitted, instrument
from pondus.store.settings import studio_clock
from pondus.store.summaries import measured_moves
from pondus.store.tables import TuningRow
from pondus.store.tunings import tuning_log, tuning_row
from pondus.web.instruments import instrument_out
from pondus.web.transaction import looking


@dataclass(frozen=True)
class Loaded:
    """Everything that a screen of one tuning is made of, as it was at one moment."""

    row: TuningRow
    record: InstrumentRecord
    instrument: FittedInstrument
    log: TuningLog
    measured: MoveLog
    clock: Clock

    @property
    def about(self) -> dict[str, Any]:
        """What every such screen is told: the tuning, the instrument, the state of its log."""
        return {
            "tuning": tuning_out(self.row),
            "instrument": instrument_out(self.record),
            "log_version": self.record.instrument.log_version,
        }


def load(session: Session, tuning_id: UUID) -> Loaded:
    """A tuning with its instrument. Raises NotFound."""
    row = tuning_row(session, tuning_id)
    record = instrument(session, row.instrument_id)
    return Loaded(
        row=row,
        record=record,
        instrument=fitted(session, record),
        log=tuning_log(session, tuning_id),
        measured=measured_moves(session, row.instrument_id),
        clock=studio_clock(session),
    )


def bench_of(tuning_id: UUID) -> BenchOut:
    """The bench as it stands now, read afresh. Raises NotFound."""
    with looking() as session:
        loaded = load(session, tuning_id)
    view = bench_view(loaded.instrument, loaded.log, loaded.measured, clock=loaded.clock)
    return BenchOut.model_validate({**loaded.about, **view.__dict__})


def tuning_out(row: TuningRow) -> TuningOut:
    """How a tuning is done, serialised."""
    return TuningOut.model_validate({**row.model_dump(), "temperament": temperament_named(row.fifth_cents)})
