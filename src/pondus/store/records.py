"""Rows to the core's records, and back. No rule here."""

from collections.abc import Sequence
from datetime import datetime
from typing import TypedDict
from uuid import UUID

from pondus.core.hands.records import FifthCheck, FittedInstrument, FittedString, Move, Reading, Tuning
from pondus.core.instruments import instrument_named
from pondus.core.judgement.habits import check_habits
from pondus.core.judgement.heard import Heard
from pondus.store.tables import FifthCheckRow, InstrumentRow, MoveRow, ReadingRow, StringRow, TuningRow


class _Line(TypedDict):
    id: UUID
    string: str
    seq: int
    at: datetime
    voided: bool
    void_reason: str | None
    late: bool
    entered_by: UUID | None


def _line(row: ReadingRow | MoveRow | FifthCheckRow, string: str) -> _Line:
    """What every line of a log has."""
    return {
        "id": row.id,
        "string": string,
        "seq": row.seq,
        "at": row.at,
        "voided": row.struck_at is not None,
        "void_reason": row.struck_reason,
        "late": row.late,
        "entered_by": row.entered_by,
    }


def reading_of(row: ReadingRow) -> Reading:
    """A kept reading."""
    return Reading(
        **_line(row, row.string),
        heard=Heard(note=row.note, cents=row.cents, hz=row.hz, side=row.side),
        spread_cents=row.spread_cents,
        source=row.source,
        sure_of_string=row.sure_of_string,
        turn_answer=row.turn_answer,
        read_at_a4=row.a4,
    )


def move_of(row: MoveRow) -> Move:
    """A kept move."""
    return Move(
        **_line(row, row.string),
        mechanism=row.mechanism,
        direction=row.direction,
        amount=row.amount,
        unit=row.unit,
        expect_cents=row.expect_cents,
        expect_plus_minus=row.expect_plus_minus,
        answer=row.answer,
        exact=row.amount_known,
    )


def check_of(row: FifthCheckRow) -> FifthCheck:
    """A kept check of a fifth."""
    return FifthCheck(
        **_line(row, row.lower),
        upper=row.upper,
        way=row.way,
        source=row.source,
        beats_hz=row.beats_hz,
        lower_hz=row.lower_hz,
        upper_hz=row.upper_hz,
        from_pure_cents=row.from_pure_cents,
        plus_minus_cents=row.plus_minus_cents,
    )


def tuning_of(row: TuningRow) -> Tuning:
    """A kept tuning."""
    return Tuning(
        id=row.id,
        instrument_id=row.instrument_id,
        started_at=row.started_at,
        stance=row.stance,
        a4=row.a4,
        fifth_cents=row.fifth_cents,
        approach=row.approach,
        tolerance_cents=row.tolerance_cents,
        who=row.who,
        spelling=row.spelling,
        order=row.order,
        turning=row.turning,
        habits=check_habits(row.habits),
        done_by=row.done_by,
    )


def fitted_instrument(row: InstrumentRow, strings: Sequence[StringRow]) -> FittedInstrument:
    """An instrument with what is on it, thickest string first, its screws where somebody last saw them."""
    fitted = {string.name: _fitted(string) for string in strings}
    in_order = tuple(fitted[name] for name in instrument_named(row.kind).string_names if name in fitted)
    return FittedInstrument(row.id, row.label, row.kind, row.size, in_order, row.hours_per_week, row.bridge)


def _fitted(row: StringRow) -> FittedString:
    return FittedString(
        name=row.name,
        core=row.core,
        put_on=row.put_on,
        has_fine_tuner=row.has_fine_tuner,
        screw_turns=row.screw_turns,
        screw_set_seq=row.screw_set_seq,
        screw_seen=row.screw_seen,
        screw_reach_turns=row.screw_reach_turns,
        fitted_at=row.fitted_at,
        peg_kind=row.peg_kind,
        peg_state=row.peg_state,
        winding=row.winding,
        state=row.state,
        slack_since=row.slack_since,
    )
