"""What this instrument's own log teaches: pairs of readings around single moves, handed to `core.learning`."""

from collections import defaultdict
from dataclasses import dataclass
from datetime import UTC, datetime, time
from itertools import pairwise
from uuid import UUID

from sqlmodel import Session, col, select

from pondus.core.instruments import Instrument, instrument_named
from pondus.core.judgement.plan import default_pull
from pondus.core.judgement.situation import Situation
from pondus.core.learning import SCREW_HAND_ERROR, Learned, learn_least, learn_peg_rate, learn_pull, learn_rate
from pondus.core.mechanics import change_at_pitch
from pondus.core.pitch import cents_between, parse_note, shift_hz
from pondus.core.targets import targets_hz
from pondus.store.tables import InstrumentRow, MoveRow, ReadingRow, StringRow, TuningRow


@dataclass(frozen=True)
class LearnedRates:
    """Cents per turn of the screw and per degree of the peg's head, as this string's log has it; and what the peg makes at the
    least, where small nudges have shown it.
    """

    screw: Learned
    peg: Learned
    peg_least_cents: float | None = None


@dataclass(frozen=True)
class _Measured:
    """A move that was measured: signed amount, and the change it made, as it would be at pitch."""

    mechanism: str
    amount: float
    change_cents: float


@dataclass(frozen=True)
class MoveLog:
    """What an instrument's log measured: per string its single moves, and per pair of strings the pull between them."""

    moves: dict[str, list[tuple[datetime, _Measured]]]
    pulls: dict[tuple[str, str], list[tuple[float, float]]]


def measured_moves(session: Session, instrument_id: UUID) -> MoveLog:
    """Every single move between two readings, and what it did to the others. Struck entries and unknown octaves don't
    count; what can't be believed the core leaves out.
    """
    entries: dict[UUID, list[ReadingRow | MoveRow]] = defaultdict(list)
    a4 = dict(session.exec(select(TuningRow.id, TuningRow.a4).where(TuningRow.instrument_id == instrument_id)).all())
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
    both: list[ReadingRow | MoveRow] = [*readings, *moves]
    for entry in both:
        entries[entry.tuning_id].append(entry)
    log = MoveLog(defaultdict(list), defaultdict(list))
    row = session.get(InstrumentRow, instrument_id)
    kind = None if row is None else instrument_named(row.kind)
    for tuning_id, tuning in entries.items():
        tuning.sort(key=lambda entry: entry.at)
        targets = {} if kind is None else targets_hz(kind, a4=a4[tuning_id])
        changes = _moves_of(tuning, log, a4[tuning_id], targets)
        _pulls_of(tuning, changes, log, a4[tuning_id])
    return log


def _moves_of(
    tuning: list[ReadingRow | MoveRow], log: MoveLog, a4: float, targets: dict[str, float]
) -> dict[UUID, float]:
    """Measure the moves of one tuning; the change of each measured move in cents, by its id."""
    changes: dict[UUID, float] = {}
    for string in {entry.string for entry in tuning}:
        own = [entry for entry in tuning if entry.string == string]
        for before, move, after in zip(own, own[1:], own[2:], strict=False):
            if isinstance(before, ReadingRow) and isinstance(move, MoveRow) and isinstance(after, ReadingRow):
                change = _change_cents(before, after, a4)
                if change is not None:
                    sign = 1.0 if move.direction == "raise" else -1.0
                    at_pitch = _at_pitch(before, change, a4, targets.get(string))
                    log.moves[string].append((move.at, _Measured(move.mechanism, sign * move.amount, at_pitch)))
                    changes[move.id] = change
    return changes


def _pulls_of(tuning: list[ReadingRow | MoveRow], changes: dict[UUID, float], log: MoveLog, a4: float) -> None:
    """Between two readings of a string that nobody turned, one other string moved: that is its pull."""
    for string in {entry.string for entry in tuning}:
        own = [entry for entry in tuning if entry.string == string]
        for before, after in pairwise(own):
            if not (isinstance(before, ReadingRow) and isinstance(after, ReadingRow)):
                continue
            between = [each for each in tuning if isinstance(each, MoveRow) and before.at < each.at < after.at]
            movers = {each.string for each in between}
            change = _change_cents(before, after, a4)
            if len(movers) == 1 and change is not None and all(each.id in changes for each in between):
                log.pulls[movers.pop(), string].append((sum(changes[each.id] for each in between), change))


def learned_pull(instrument: Instrument, log: MoveLog) -> dict[str, dict[str, float]]:
    """Cents of each other string per cent of the moved one, as the log has it over the usual."""
    pull = default_pull(instrument)
    for (moved, other), samples in log.pulls.items():
        if other in pull.get(moved, {}):
            went, gave = zip(*samples, strict=True)
            pull[moved][other] = learn_pull(went, gave, prior=pull[moved][other]).value
    return pull


def learned_rates(row: StringRow, facts: Situation, measured: list[tuple[datetime, _Measured]]) -> LearnedRates:
    """What the moves since this string and its fittings were put on say, with the physics as the prior."""
    never = datetime.min.replace(tzinfo=UTC)
    put_on = never if row.put_on is None else datetime.combine(row.put_on, time(), tzinfo=UTC)
    since = max(put_on, row.fitted_at or never)
    fresh = [each for at, each in measured if at >= since]
    turns, by_screw = _amounts(fresh, "fine-tuner")
    degrees, by_peg = _amounts(fresh, "peg")
    jumps = facts.peg.kind == "friction"
    return LearnedRates(
        screw=learn_rate(turns, by_screw, prior=facts.screw_rate, hand_error=SCREW_HAND_ERROR),
        peg=learn_peg_rate(degrees, by_peg, prior=facts.peg_rate),
        peg_least_cents=learn_least(degrees, by_peg) if jumps else None,
    )


def _amounts(measured: list[_Measured], mechanism: str) -> tuple[list[float], list[float]]:
    ours = [each for each in measured if each.mechanism == mechanism]
    return [each.amount for each in ours], [each.change_cents for each in ours]


def _at_pitch(before: ReadingRow, change: float, a4: float, target: float | None) -> float:
    """What a change would be at the target: far under it the same turn makes many more cents."""
    hz = _hz(before, a4)
    if hz is None or target is None:
        return change
    off = cents_between(hz, target)
    return change_at_pitch(off, off + change)


def _change_cents(before: ReadingRow, after: ReadingRow, a4: float) -> float | None:
    """How far the string went between two readings; None where an octave isn't known."""
    first, second = _hz(before, a4), _hz(after, a4)
    return None if first is None or second is None else cents_between(second, first)


def _hz(row: ReadingRow, a4: float) -> float | None:
    if row.hz is not None:
        return row.hz
    note = parse_note(row.note or "")
    return None if note.number is None else shift_hz(note.hz(a4=a4), row.cents or 0.0)
