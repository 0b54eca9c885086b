"""Readings and moves of a tuning: add, strike out, bring back. Each answers with the whole bench."""

from datetime import datetime, timedelta
from uuid import UUID

from apiflask import APIBlueprint

from pondus.contracts.bench import BenchOut, MadeOn, MoveAnswer, NewMove, NewReading, Strike
from pondus.core.entries.log import ReadingEntry, move_entry, reading_entry
from pondus.core.entries.texts import REASON_LETTERS, check_text
from pondus.core.entries.typed import parse_typed
from pondus.core.errors import BadInput
from pondus.core.hands.in_hand import wound_in_a_row
from pondus.core.hands.state import check_answer
from pondus.core.instruments import StringData
from pondus.core.judgement.heard import Heard
from pondus.core.judgement.questions import other_winding
from pondus.core.pitch.notes import Spelling
from pondus.store import instruments as instrument_store
from pondus.store import tunings as tuning_store
from pondus.store.tables import MoveRow, ReadingRow, now
from pondus.web.access import device_here
from pondus.web.bench import changed_bench, load
from pondus.web.transaction import transaction

LONGEST_WAIT_SECONDS = 90 * 86_400.0
blueprint = APIBlueprint("entries", __name__, tag="Readings and moves")


def _heard(new: NewReading, string: StringData, spelling: Spelling) -> Heard:
    """What a new reading says. Raises BadInput."""
    if (new.typed is None) == (new.heard is None):
        raise BadInput("heard", "Give the reading either as typed or as heard: one of them, not both.")
    if new.typed is not None:
        return parse_typed(new.typed, string, spelling=spelling)
    assert new.heard is not None
    return new.heard


def made_at(new: MadeOn, began: datetime) -> datetime:
    """When an entry was made: one that waited to be sent, not before its tuning was begun."""
    ago = timedelta(seconds=min(new.seconds_ago, LONGEST_WAIT_SECONDS))
    return max(now() - ago, began) if ago else now()


def reading_row(tuning_id: UUID, reading_id: UUID, entry: ReadingEntry, *, a4: float) -> ReadingRow:
    """A reading as it is kept, heard now. ``a4``: the tuning's reference, in Hz."""
    return ReadingRow(
        id=reading_id,
        tuning_id=tuning_id,
        string=entry.string,
        note=entry.heard.note,
        cents=entry.heard.cents,
        hz=entry.heard.hz,
        side=entry.heard.side,
        spread_cents=entry.spread_cents,
        source=entry.source,
        sure_of_string=entry.sure_of_string,
        a4=a4,
        at=now(),
        entered_by=device_here().person,
    )


@blueprint.post("/tunings/<uuid:tuning_id>/readings")
@blueprint.input(NewReading, arg_name="new")
@blueprint.output(BenchOut)
def add_reading(tuning_id: UUID, new: NewReading) -> BenchOut:
    """Keep a reading; sent twice, it is kept once. Raises BadInput, NotFound or Conflict."""
    with transaction(sorts=False) as session:
        on = tuning_store.string_of(session, tuning_id, new.string)
        entry = reading_entry(
            on.string,
            _heard(new, on.string, on.spelling),
            source=new.source,
            spread_cents=new.spread_cents,
            sure_of_string=new.sure_of_string,
        )
        row = reading_row(tuning_id, new.id, entry, a4=on.a4)
        row.made_on, row.device, row.at = new.made_on, new.device, made_at(new, on.began)
        instrument_store.begins_to_sound(session, on.row, at=row.at)
        tuning_store.add_entry(session, row)
        shown = changed_bench(session, tuning_id)
    return shown()


@blueprint.post("/tunings/<uuid:tuning_id>/moves")
@blueprint.input(NewMove, arg_name="new")
@blueprint.output(BenchOut)
def add_move(tuning_id: UUID, new: NewMove) -> BenchOut:
    """Keep a move; sent twice, it is kept once. Raises BadInput, NotFound or Conflict."""
    with transaction(sorts=False) as session:
        on = tuning_store.string_of(session, tuning_id, new.string)
        entry = move_entry(
            on.string,
            mechanism=new.mechanism,
            direction=new.direction,
            amount=new.amount,
            unit=new.unit,
            has_fine_tuner=on.row.has_fine_tuner,
            peg_kind=on.row.peg_kind,
            expect_cents=new.expect_cents,
            expect_plus_minus=new.expect_plus_minus,
            turning=on.turns,
        )
        row = MoveRow(
            id=new.id,
            tuning_id=tuning_id,
            at=made_at(new, on.began),
            made_on=new.made_on,
            device=new.device,
            entered_by=device_here().person,
            **entry.__dict__,
        )
        tuning_store.add_entry(session, row)
        shown = changed_bench(session, tuning_id)
    return shown()


@blueprint.post("/moves/<uuid:entry_id>/answer")
@blueprint.input(MoveAnswer, arg_name="told")
@blueprint.output(BenchOut)
def answer(entry_id: UUID, told: MoveAnswer) -> BenchOut:
    """What it was that had no effect, or went the wrong way; a string of which two moves say so is kept as wound the other way.

    Raises BadInput or NotFound.
    """
    with transaction(sorts=False) as session:
        row = tuning_store.told_move(session, entry_id)
        loaded = load(session, row.tuning_id)
        state = next((state for state in loaded.now().states if state.string.name == row.string), None)
        check_answer(state, row.id, told.answer)
        asked = None if state is None or state.advice is None else state.advice.state
        if told.answer == "not-turned" and asked == "no-effect" and isinstance(row, MoveRow):
            tuning_store.strike(session, MoveRow, entry_id, reason="not turned")
        else:
            tuning_store.answer_move(session, row, told.answer)
        before = [move for move in loaded.now().log.counting_moves if move.string == row.string and move.id != row.id]
        if told.answer == "wound-other-way" and state is not None and wound_in_a_row(before) % 2 == 1:
            winding = other_winding(state.situation.peg).winding
            instrument_store.change_string(session, loaded.instrument.id, row.string, {"winding": winding})
        shown = changed_bench(session, row.tuning_id)
    return shown()


def struck_reason(strike: Strike) -> str:
    """Why something is struck out, checked. Raises BadInput."""
    return check_text(strike.reason, field="reason", most=REASON_LETTERS, needed=True)


def _strike(table: type[ReadingRow] | type[MoveRow], entry_id: UUID, reason: str | None) -> BenchOut:
    with transaction(sorts=False) as session:
        tuning_id = tuning_store.strike(session, table, entry_id, reason=reason).tuning_id
        shown = changed_bench(session, tuning_id)
    return shown()


@blueprint.post("/readings/<uuid:entry_id>/strike")
@blueprint.input(Strike, arg_name="strike")
@blueprint.output(BenchOut)
def strike_reading(entry_id: UUID, strike: Strike) -> BenchOut:
    """Strike a reading out, with a reason; it stays in the history. Raises BadInput or NotFound."""
    return _strike(ReadingRow, entry_id, struck_reason(strike))


@blueprint.delete("/readings/<uuid:entry_id>/strike")
@blueprint.output(BenchOut, status_code=200)
def restore_reading(entry_id: UUID) -> BenchOut:
    """Bring a struck reading back. Raises BadInput or NotFound."""
    return _strike(ReadingRow, entry_id, None)


@blueprint.post("/moves/<uuid:entry_id>/strike")
@blueprint.input(Strike, arg_name="strike")
@blueprint.output(BenchOut)
def strike_move(entry_id: UUID, strike: Strike) -> BenchOut:
    """Strike a move out, with a reason; it stays in the history. Raises BadInput or NotFound."""
    return _strike(MoveRow, entry_id, struck_reason(strike))


@blueprint.delete("/moves/<uuid:entry_id>/strike")
@blueprint.output(BenchOut, status_code=200)
def restore_move(entry_id: UUID) -> BenchOut:
    """Bring a struck move back. Raises BadInput or NotFound."""
    return _strike(MoveRow, entry_id, None)
