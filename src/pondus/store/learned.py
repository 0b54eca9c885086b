"""What this instrument's own log teaches: pairs of readings around single moves, handed to `core.learning`."""

from collections import defaultdict
from dataclasses import dataclass
from datetime import UTC, datetime, time
from uuid import UUID

from sqlmodel import Session, col, select

from pondus.core.judgement.situation import Situation
from pondus.core.learning import PEG_HAND_ERROR, SCREW_HAND_ERROR, Learned, learn_rate
from pondus.core.pitch import cents_between, parse_note, shift_hz
from pondus.store.tables import MoveRow, ReadingRow, StringRow, TuningRow


@dataclass(frozen=True)
class LearnedRates:
    """Cents per turn of the screw and per degree of the peg's head, as this string's log has it."""

    screw: Learned
    peg: Learned


@dataclass(frozen=True)
class _Measured:
    mechanism: str
    amount: float
    change_cents: float


def measured_moves(session: Session, instrument_id: UUID) -> dict[str, list[tuple[datetime, _Measured]]]:
    """Per string: every single move between two sure readings, with the change it made. Struck entries don't count."""
    readings = session.exec(
        select(ReadingRow)
        .join(TuningRow, col(TuningRow.id) == col(ReadingRow.tuning_id))
        .where(TuningRow.instrument_id == instrument_id, col(ReadingRow.struck_at).is_(None))
    ).all()
    moves = session.exec(
        select(MoveRow)
        .join(TuningRow, col(TuningRow.id) == col(MoveRow.tuning_id))
        .where(TuningRow.instrument_id == instrument_id, col(MoveRow.struck_at).is_(None))
    ).all()
    entries: dict[tuple[UUID, str], list[ReadingRow | MoveRow]] = defaultdict(list)
    both: list[ReadingRow | MoveRow] = [*readings, *moves]
    for entry in both:
        entries[entry.tuning_id, entry.string].append(entry)
    found: dict[str, list[tuple[datetime, _Measured]]] = defaultdict(list)
    for (_, string), log in entries.items():
        log.sort(key=lambda entry: entry.at)
        for before, move, after in zip(log, log[1:], log[2:], strict=False):
            if isinstance(before, ReadingRow) and isinstance(move, MoveRow) and isinstance(after, ReadingRow):
                change = _change_cents(before, after)
                if change is not None:
                    sign = 1.0 if move.direction == "raise" else -1.0
                    found[string].append((move.at, _Measured(move.mechanism, sign * move.amount, change)))
    return found


def learned_rates(row: StringRow, facts: Situation, measured: list[tuple[datetime, _Measured]]) -> LearnedRates:
    """What the moves since this string was put on say, with the physics as the prior."""
    since = datetime.min.replace(tzinfo=UTC) if row.put_on is None else datetime.combine(row.put_on, time(), tzinfo=UTC)
    fresh = [each for at, each in measured if at >= since]
    return LearnedRates(
        screw=_learn(fresh, "fine-tuner", facts, SCREW_HAND_ERROR),
        peg=_learn(fresh, "peg", facts, PEG_HAND_ERROR),
    )


def _learn(measured: list[_Measured], mechanism: str, facts: Situation, hand_error: float) -> Learned:
    ours = [each for each in measured if each.mechanism == mechanism]
    prior = facts.screw_rate if mechanism == "fine-tuner" else facts.peg_rate
    return learn_rate(
        [each.amount for each in ours], [each.change_cents for each in ours], prior=prior, hand_error=hand_error
    )


def _change_cents(before: ReadingRow, after: ReadingRow) -> float | None:
    """How far the string went between two readings; None where an octave isn't known."""
    first, second = _hz(before), _hz(after)
    return None if first is None or second is None else cents_between(second, first)


def _hz(row: ReadingRow) -> float | None:
    if row.hz is not None:
        return row.hz
    note = parse_note(row.note or "")
    return None if note.number is None else shift_hz(note.hz(), row.cents or 0.0)
