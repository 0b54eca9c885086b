"""An instrument's ledger: its tunings in the room's air, its care, what its log taught."""

from dataclasses import dataclass
from datetime import date, timedelta
from uuid import UUID

from sqlmodel import Session, select

from pondus.core.clock import Clock
from pondus.core.hands.records import FittedInstrument
from pondus.core.upkeep.ledger import LedgerString, TuningInAir, ledger_strings, slip_rates_of
from pondus.core.upkeep.slips import SlipRate
from pondus.store.care import care_of
from pondus.store.climate import Air, room_log
from pondus.store.instruments import InstrumentRecord, fitted, instrument
from pondus.store.settings import usual
from pondus.store.summaries import summaries
from pondus.store.tables import CareRow, PersonRow


@dataclass(frozen=True)
class Ledger:
    """One instrument's. Tunings oldest first, those without an entry left out."""

    record: InstrumentRecord
    instrument: FittedInstrument
    tunings: tuple[TuningInAir, ...]
    strings: tuple[LedgerString, ...]
    care: tuple[CareRow, ...]
    slips: tuple[SlipRate, ...]
    forecast_for: date


def ledger(session: Session, instrument_id: UUID, *, clock: Clock) -> Ledger:
    """The ledger of one instrument. Raises NotFound."""
    record = instrument(session, instrument_id)
    past = [summary for summary in summaries(session, instrument_id) if summary.strings]
    as_fitted = fitted(record, past)
    air = Air(room_log(session, since=past[0].started_at - timedelta(days=1)) if past else [])
    names = dict(session.exec(select(PersonRow.id, PersonRow.name)).all())
    tunings = []
    for summary in past:
        measured = air.at(summary.started_at)
        by = names.get(summary.done_by) if summary.done_by is not None else None
        if measured is None:
            tunings.append(TuningInAir(summary, by))
        else:
            tunings.append(TuningInAir(summary, by, measured.humidity, measured.celsius))
    return Ledger(
        record=record,
        instrument=as_fitted,
        tunings=tuple(tunings),
        strings=tuple(ledger_strings(as_fitted, usual(session, record.instrument), tunings, clock=clock)),
        care=tuple(care_of(session, instrument_id)),
        slips=tuple(slip_rates_of(tunings, as_fitted.put_on, clock=clock)),
        forecast_for=clock.today + timedelta(days=1),
    )
