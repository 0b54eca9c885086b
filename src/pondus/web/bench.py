"""A tuning's bench: read from the store, said by the core, sent as the contract has it."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import partial
from typing import Any
from uuid import UUID

from sqlmodel import Session

from pondus.contracts.bench import BenchOut, TuningOut
from pondus.core.clock import Clock
from pondus.core.group.triage import instrument_pace, triaged_states
from pondus.core.hands.learned import MoveLog, move_log
from pondus.core.hands.records import FittedInstrument, TuningLog
from pondus.core.hands.state import TuningNow, tuning_now, understand
from pondus.core.hands.summary import TuningSummary, summarise
from pondus.core.hands.understood import Understood
from pondus.core.judgement.plan import Plan
from pondus.core.judgement.situation import Who, usual_turning
from pondus.core.views.access import advised_at_most, author_shown
from pondus.core.views.bench import planned_round, view_of
from pondus.core.views.choices import temperament_named
from pondus.store.instruments import InstrumentRecord, fitted, instrument
from pondus.store.morning import keep
from pondus.store.people import people_named
from pondus.store.settings import studio_clock
from pondus.store.summaries import in_order, summaries
from pondus.store.tables import TuningRow
from pondus.store.tunings import tuning_log, tuning_row
from pondus.web.access import device_here
from pondus.web.instruments import instrument_out
from pondus.web.transaction import looking


@dataclass(frozen=True)
class Loaded:
    """Everything that a screen of one tuning is made of, as it was at one moment. ``past``: what the instrument's
    tunings came to; ``found``: the log as it is understood.
    """

    row: TuningRow
    record: InstrumentRecord
    instrument: FittedInstrument
    log: TuningLog
    past: Sequence[TuningSummary]
    clock: Clock
    found: Understood

    @property
    def about(self) -> dict[str, Any]:
        """What every such screen is told: the tuning, the instrument, the state of its log."""
        return {
            "tuning": tuning_out(self.row, who=self.log.tuning.who),
            "instrument": instrument_out(self.record),
            "log_version": self.record.instrument.log_version,
        }

    @property
    def measured(self) -> MoveLog:
        """What the instrument's whole log measured."""
        return move_log(self.past)

    def now(self) -> TuningNow:
        """How the tuning stands."""
        return tuning_now(self.instrument, self.log, self.measured, clock=self.clock, as_understood=self.found)

    @property
    def can_go_back(self) -> bool:
        """Whether this tuning holds nothing yet, and another was done today."""
        return not self.log.entries and any(
            one.tuning_id != self.row.id and self.clock.day_of(one.started_at) == self.clock.today for one in self.past
        )

    @property
    def is_todays(self) -> bool:
        """Whether the tuning is of today."""
        return self.clock.day_of(self.row.started_at) == self.clock.today


def load(session: Session, tuning_id: UUID) -> Loaded:
    """A tuning with its instrument. Raises NotFound."""
    row = tuning_row(session, tuning_id)
    record = instrument(session, row.instrument_id)
    log = tuning_log(session, tuning_id)
    clock = studio_clock(session)
    others = summaries(session, row.instrument_id, but=tuning_id)
    as_fitted = fitted(record, others)
    found = understand(as_fitted, log, move_log(others), clock=clock)
    past = sorted([*others, summarise(as_fitted, log, as_understood=found)], key=in_order)
    who = advised_at_most(row.who, device_here())
    log = replace(log, tuning=replace(log.tuning, who=who))
    return Loaded(row=row, record=record, instrument=as_fitted, log=log, past=past, clock=clock, found=found)


def bench_of(tuning_id: UUID) -> BenchOut:
    """The bench as it stands now, read afresh. Raises NotFound."""
    with looking() as session:
        loaded = load(session, tuning_id)
        names = _names(session, loaded)
    now = loaded.now()
    planned = planned_round(loaded.instrument.facts, now, loaded.measured)
    return _out(loaded, names, now, planned)


def changed_bench(session: Session, tuning_id: UUID) -> Callable[[], BenchOut]:
    """The bench right after it was changed, as the last act of the transaction that changed it; what comes of it is called
    when that is committed. How the instrument is sorted now is kept for the morning. Raises NotFound.
    """
    session.flush()
    session.expire_all()
    loaded = load(session, tuning_id)
    names = _names(session, loaded)
    now = loaded.now()
    planned = planned_round(loaded.instrument.facts, now, loaded.measured)
    row = loaded.record.instrument
    if loaded.is_todays and row.simulated_of is None:
        is_for_all = all(state.asked() == state.asked(for_teacher=True) for state in now.states)
        sorted_now = triaged_states(loaded.instrument, now, loaded.past, planned=planned if is_for_all else None)
        keep(session, loaded.log.tuning, sorted_now, version=row.log_version, clock=loaded.clock)
    return partial(_out, loaded, names, now, planned)


def _names(session: Session, loaded: Loaded) -> dict[UUID, str]:
    """Who entered what, as the device that asks may see it."""
    people = {entry.entered_by for entry in loaded.log.entries if entry.entered_by is not None}
    shown = {row.id: author_shown(row.id, row.name, device_here()) for row in people_named(session, people)}
    return {key: name for key, name in shown.items() if name is not None}


def _out(loaded: Loaded, names: Mapping[UUID, str], now: TuningNow, planned: Plan) -> BenchOut:
    pace = instrument_pace(loaded.log, loaded.past)
    view = view_of(loaded.instrument, now, planned, pace=pace)
    history = [
        {**line.__dict__, "by": None if line.entered_by is None else names.get(line.entered_by)} for line in view.history
    ]
    return BenchOut.model_validate({**loaded.about, "can_go_back": loaded.can_go_back, **view.__dict__, "history": history})


def tuning_out(row: TuningRow, *, who: Who | None = None) -> TuningOut:
    """How a tuning is done, serialised. ``who``: whom the advice speaks to on the device that asks."""
    whom = who or row.who
    said = {"who": whom, "turns": row.turning or usual_turning(whom), "temperament": temperament_named(row.fifth_cents)}
    return TuningOut.model_validate({**row.model_dump(), **said})
