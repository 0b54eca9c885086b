"""The group's morning: every instrument sorted by its newest readings; readings of a whole instrument at once."""

from dataclasses import dataclass
from uuid import UUID, uuid5

from apiflask import APIBlueprint
from flask import Response
from sqlmodel import Session

from pondus.contracts.morning import InstrumentHeard, MorningOut, SweptOut, SweptReading, TriagedOut
from pondus.core.clock import Clock
from pondus.core.entries.log import ReadingEntry, reading_entry
from pondus.core.entries.typed import parse_sweep_line
from pondus.core.errors import BadInput
from pondus.core.group.triage import GROUPS
from pondus.core.in_order import as_looked_for
from pondus.core.instruments import Instrument, instrument_named
from pondus.core.pitch.notes import Spelling
from pondus.core.views.bench_words import swept
from pondus.store import instruments as instrument_store
from pondus.store import morning as morning_store
from pondus.store.settings import studio_clock, usual_tuning
from pondus.store.tunings import add_entry
from pondus.web.access import device_here, shown_name
from pondus.web.entries import reading_row
from pondus.web.remembered import Lag, remembered
from pondus.web.stations import call_who_waits
from pondus.web.transaction import looking, looking_later, transaction
from pondus.web.tunings import todays_tuning

SAME_FOR_SECONDS = 60.0
blueprint = APIBlueprint("morning", __name__, tag="Morning")


@dataclass(frozen=True)
class _Reading:
    id: UUID
    entry: ReadingEntry


def triaged_out(triaged: morning_store.Triaged) -> TriagedOut:
    """One instrument, serialised."""
    return TriagedOut.filled(
        triaged,
        triaged.sorted,
        player=None if triaged.player is None else shown_name(triaged.player),
        strings=list(instrument_named(triaged.kind).string_names),
        moves=triaged.sorted.screw_moves + triaged.sorted.peg_moves,
        minutes=round(triaged.minutes, 2),
    )


def _order(triaged: morning_store.Triaged) -> tuple[int, float, object]:
    return GROUPS.index(triaged.sorted.group), -triaged.minutes, as_looked_for(triaged.label)


@blueprint.get("/morning")
@blueprint.input(Lag, location="query", arg_name="lag")
@blueprint.output(MorningOut)
def sweep(lag: Lag) -> Response:
    """Every instrument sorted by what its newest readings of today call for. Raises BadInput or NotFound."""
    with looking_later() as look:
        return remembered().answer(
            f"morning for {device_here().role}",
            lambda: morning_store.morning_version(look().session, look().clock.today),
            lambda: _morning(look().session, look().clock),
            for_seconds=SAME_FOR_SECONDS,
            may_lag=lag.may_lag,
        )


def _morning(session: Session, clock: Clock) -> MorningOut:
    found = sorted(morning_store.triaged(session, clock=clock), key=_order)
    counts = {group: sum(row.sorted.group == group for row in found) for group in GROUPS}
    return MorningOut(instruments=[triaged_out(row) for row in found], counts=counts)


@blueprint.post("/morning/heard")
@blueprint.input(InstrumentHeard, arg_name="asked")
@blueprint.output(SweptOut)
def hear_instrument(asked: InstrumentHeard) -> SweptOut:
    """Keep the readings of an instrument's strings, and say how it is sorted now; sent twice, they are kept once.

    Raises BadInput, NotFound or Conflict.
    """
    with transaction() as session:
        clock = studio_clock(session)
        record = instrument_store.instrument(session, asked.instrument_id, hold=True)
        instrument = instrument_named(record.instrument.kind)
        how = usual_tuning(session, record.instrument)
        readings = _typed(asked, instrument, how.spelling) if asked.line is not None else _heard(asked, instrument)
        if not readings:
            raise BadInput("line", "Nothing was read; type what the tuner shows of each string, as in -12 3 0 -5.")
        for entered in readings:
            record.string(entered.entry.string)
        tuning = todays_tuning(session, asked.instrument_id, asked.id, clock=clock)
        for entered in readings:
            add_entry(session, reading_row(tuning.id, entered.id, entered.entry, a4=tuning.a4))
    call_who_waits()
    said = [
        SweptReading(
            id=reading.id,
            string=reading.entry.string,
            said=swept(instrument.string(reading.entry.string), reading.entry.heard, a4=tuning.a4, spelling=tuning.spelling),
        )
        for reading in readings
    ]
    with looking() as session:
        sorted_now = triaged_out(morning_store.triaged(session, clock=clock, only=asked.instrument_id)[0])
    return SweptOut(**sorted_now.model_dump(), readings=said)


def _typed(asked: InstrumentHeard, instrument: Instrument, spelling: Spelling) -> list[_Reading]:
    assert asked.line is not None
    found = parse_sweep_line(asked.line, instrument.strings, spelling=spelling)
    return [
        _Reading(uuid5(asked.id, name), reading_entry(instrument.string(name), heard, source=asked.source))
        for name, heard in found.items()
    ]


def _heard(asked: InstrumentHeard, instrument: Instrument) -> list[_Reading]:
    return [
        _Reading(
            string_heard.id,
            reading_entry(
                instrument.string(string_heard.string, field="string"),
                string_heard.heard,
                source=asked.source,
                spread_cents=string_heard.spread_cents,
            ),
        )
        for string_heard in asked.heard
    ]
