"""Readings and moves of a tuning: add, strike out, bring back. Each answers with the whole bench."""

from typing import Annotated, Literal
from uuid import UUID

from apiflask import APIBlueprint
from pydantic import Field
from sqlmodel import Session

from pondus.contracts.advice import HeardContract
from pondus.contracts.base import ClientId, Contract
from pondus.core.errors import BadInput
from pondus.core.instruments import StringData, instrument_named
from pondus.core.judgement.situation import (
    FineTuner,
    Heard,
    Mechanism,
    Pitch,
    RecentMove,
    Unit,
    check_heard,
    check_recent_move,
)
from pondus.core.typed import parse_typed
from pondus.store import instruments as kept_instruments
from pondus.store import tunings as kept
from pondus.store.standing import unseen_move
from pondus.store.tables import MoveRow, ReadingRow, StringRow, now
from pondus.web.bench import BenchOut
from pondus.web.tunings import bench_of, today
from pondus.web.unit import work

blueprint = APIBlueprint("entries", __name__, tag="Readings and moves")
Source = Literal["typed", "microphone", "recording", "simulated"]
Reason = Annotated[str, Field(min_length=1, max_length=200)]


class NewReading(Contract):
    """One reading: as typed off a tuner (``typed``), or as ``heard``.

    ``hands_free``: nobody could press a button since the last reading, so the move that was shown counts as made if the
    string has moved; it is stored with the reading, under an id made from the reading's.
    """

    id: ClientId
    string: str
    typed: str | None = None
    heard: HeardContract | None = None
    spread_cents: float | None = None
    source: Source = "typed"
    sure_of_string: bool = False
    hands_free: bool = False


class NewMove(Contract):
    """One move as it was made, and what was expected of it."""

    id: ClientId
    string: str
    mechanism: Mechanism
    direction: Pitch
    amount: float
    unit: Unit
    expect_cents: float | None = None
    expect_plus_minus: float | None = None


class Strike(Contract):
    """Why an entry is struck out."""

    reason: Reason = "entered by mistake"


def _string_of(session: Session, tuning_id: UUID, name: str) -> tuple[StringRow, StringData]:
    """The string a tuning's entry speaks of. Raises NotFound, BadInput."""
    tuning = kept.tuning(session, tuning_id).tuning
    record = kept_instruments.instrument(session, tuning.instrument_id)
    string = instrument_named(record.instrument.kind).string(name)
    row = next((each for each in record.strings if each.name == name), None)
    if row is None:
        raise BadInput("string", f"The {name} string is taken off this instrument; put one on first.")
    return row, string


def _heard(new: NewReading, string: StringData) -> Heard:
    """What a new reading says, checked. Raises BadInput."""
    if (new.typed is None) == (new.heard is None):
        raise BadInput("heard", "Give the reading either as typed or as heard: one of them, not both.")
    if new.typed is not None:
        return parse_typed(new.typed, string)
    assert new.heard is not None
    return check_heard(new.heard.heard())


@blueprint.post("/tunings/<uuid:tuning_id>/readings")
@blueprint.input(NewReading, arg_name="new")
@blueprint.output(BenchOut)
def add_reading(tuning_id: UUID, new: NewReading) -> BenchOut:
    """Keep a reading; sent twice, it is kept once."""
    with work() as session:
        _, string = _string_of(session, tuning_id, new.string)
        heard = _heard(new, string)
        row = ReadingRow(
            id=new.id,
            tuning_id=tuning_id,
            string=new.string,
            note=heard.note,
            cents=heard.cents,
            hz=heard.hz,
            spread_cents=new.spread_cents,
            source=new.source,
            sure_of_string=new.sure_of_string,
            at=now(),
        )
        if new.hands_free and not kept.is_kept(session, row):
            move = unseen_move(session, tuning_id, row, today=today())
            if move is not None:
                kept.add_entry(session, move)
                row.at = now()
        kept.add_entry(session, row)
    return bench_of(tuning_id)


@blueprint.post("/tunings/<uuid:tuning_id>/moves")
@blueprint.input(NewMove, arg_name="new")
@blueprint.output(BenchOut)
def add_move(tuning_id: UUID, new: NewMove) -> BenchOut:
    """Keep a move; sent twice, it is kept once."""
    with work() as session:
        row, _ = _string_of(session, tuning_id, new.string)
        move = RecentMove(new.mechanism, new.direction, new.amount, new.unit, from_cents=0.0)
        check_recent_move(move, FineTuner() if row.has_fine_tuner else None)
        kept.add_entry(session, MoveRow(tuning_id=tuning_id, at=now(), **new.model_dump()))
    return bench_of(tuning_id)


@blueprint.post("/readings/<uuid:entry_id>/strike")
@blueprint.input(Strike, arg_name="strike")
@blueprint.output(BenchOut)
def strike_reading(entry_id: UUID, strike: Strike) -> BenchOut:
    """Strike a reading out, with a reason; it stays in the history."""
    with work() as session:
        row = kept.strike(session, ReadingRow, entry_id, reason=strike.reason)
    return bench_of(row.tuning_id)


@blueprint.delete("/readings/<uuid:entry_id>/strike")
@blueprint.output(BenchOut, status_code=200)
def restore_reading(entry_id: UUID) -> BenchOut:
    """Bring a struck reading back."""
    with work() as session:
        row = kept.strike(session, ReadingRow, entry_id, reason=None)
    return bench_of(row.tuning_id)


@blueprint.post("/moves/<uuid:entry_id>/strike")
@blueprint.input(Strike, arg_name="strike")
@blueprint.output(BenchOut)
def strike_move(entry_id: UUID, strike: Strike) -> BenchOut:
    """Strike a move out, with a reason; it stays in the history."""
    with work() as session:
        row = kept.strike(session, MoveRow, entry_id, reason=strike.reason)
    return bench_of(row.tuning_id)


@blueprint.delete("/moves/<uuid:entry_id>/strike")
@blueprint.output(BenchOut, status_code=200)
def restore_move(entry_id: UUID) -> BenchOut:
    """Bring a struck move back."""
    with work() as session:
        row = kept.strike(session, MoveRow, entry_id, reason=None)
    return bench_of(row.tuning_id)
