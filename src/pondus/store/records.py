"""Rows to the core's records, and back. No rule here."""

from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import TypedDict
from uuid import UUID

from sqlalchemy import text
from sqlmodel import Session

from pondus.core.instruments import instrument_named
from pondus.core.judgement.heard import Heard
from pondus.core.log.records import SCREW_TURNED, FifthCheck, FittedInstrument, FittedString, Move, Reading, Tuning
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
        done_by=row.done_by,
    )


def fitted_instrument(row: InstrumentRow, strings: Sequence[StringRow], moved: Mapping[str, float]) -> FittedInstrument:
    """An instrument with what is on it, thickest string first. ``moved``: turns of each screw since it was last set."""
    fitted = {each.name: _fitted(each, moved.get(each.name, 0.0)) for each in strings}
    in_order = tuple(fitted[name] for name in instrument_named(row.kind).string_names if name in fitted)
    return FittedInstrument(row.id, row.label, row.kind, row.size, in_order, row.hours_per_week, row.bridge)


def _fitted(row: StringRow, moved: float) -> FittedString:
    reach = row.screw_reach_turns
    return FittedString(
        name=row.name,
        core=row.core,
        put_on=row.put_on,
        has_fine_tuner=row.has_fine_tuner,
        screw_turns=max(-reach, min(reach, row.screw_turns + moved)),
        screw_reach_turns=reach,
        fitted_at=row.fitted_at,
        peg_kind=row.peg_kind,
        peg_state=row.peg_state,
        winding=row.winding,
        state=row.state,
        slack_since=row.slack_since,
    )


_AS_ANSWERED = " ".join(f"when '{answer}' then {share}" for answer, share in SCREW_TURNED.items())
_SCREWS_MOVED = text(
    f"""
    select m.string,
        sum(case m.answer {_AS_ANSWERED} else 1 end * case when m.direction = 'raise' then m.amount else -m.amount end)
    from string s
    join tuning t on t.instrument_id = s.instrument_id
    join move m on m.tuning_id = t.id and m.string = s.name
    where s.instrument_id = :instrument and m.mechanism = 'fine-tuner' and m.seq > s.screw_set_seq
        and m.struck_at is null and not m.late
    group by m.string
    """
)


def screws_moved(session: Session, instrument_id: UUID) -> dict[str, float]:
    """Turns that each screw was moved since its position was last set, over all tunings, as far as answers tell; voided and
    late moves don't count.
    """
    found = session.execute(_SCREWS_MOVED, {"instrument": instrument_id}).all()
    return {name: float(turns) for name, turns in found}
