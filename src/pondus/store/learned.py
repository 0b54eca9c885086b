"""What this instrument's own log teaches: pairs of readings around single moves, handed to `core.learning`."""

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, datetime, time
from uuid import UUID

from sqlmodel import Session

from pondus.core.instruments import Instrument
from pondus.core.judgement.plan import default_pull
from pondus.core.judgement.situation import Situation
from pondus.core.learning import SCREW_HAND_ERROR, Learned, learn_least, learn_peg_rate, learn_pull, learn_rate
from pondus.store.digests import Digest, Measured, digests
from pondus.store.tables import StringRow


@dataclass(frozen=True)
class LearnedRates:
    """Cents per turn of the screw and per degree of the peg's head, as this string's log has it; and what the peg makes at the
    least, where small nudges have shown it.
    """

    screw: Learned
    peg: Learned
    peg_least_cents: float | None = None


@dataclass(frozen=True)
class MoveLog:
    """What an instrument's log measured: its single moves per string, and the pull between two strings."""

    moves: dict[str, list[Measured]]
    pulls: dict[tuple[str, str], list[tuple[float, float]]]


def measured_moves(session: Session, instrument_id: UUID) -> MoveLog:
    """Every single move between two readings, and what it did to the others. Struck entries and unknown octaves don't
    count; what can't be believed the core leaves out.
    """
    return move_log(digests(session, instrument_id))


def move_log(tunings: Iterable[Digest]) -> MoveLog:
    """What these tunings measured."""
    log = MoveLog(defaultdict(list), defaultdict(list))
    for tuning in tunings:
        for move in tuning.measured:
            log.moves[move.string].append(move)
        for pull in tuning.pulled:
            log.pulls[pull.moved, pull.other].append((pull.went_cents, pull.gave_cents))
    return log


def learned_pull(instrument: Instrument, log: MoveLog) -> dict[str, dict[str, float]]:
    """Cents of each other string per cent of the moved one, as the log has it over the usual."""
    pull = default_pull(instrument)
    for (moved, other), samples in log.pulls.items():
        if other in pull.get(moved, {}):
            went, gave = zip(*samples, strict=True)
            pull[moved][other] = learn_pull(went, gave, prior=pull[moved][other]).value
    return pull


def learned_rates(row: StringRow, facts: Situation, measured: list[Measured]) -> LearnedRates:
    """What the moves since this string and its fittings were put on say, with the physics as the prior."""
    never = datetime.min.replace(tzinfo=UTC)
    put_on = never if row.put_on is None else datetime.combine(row.put_on, time(), tzinfo=UTC)
    since = max(put_on, row.fitted_at or never)
    fresh = [each for each in measured if each.at >= since]
    turns, by_screw = _amounts(fresh, "fine-tuner")
    degrees, by_peg = _amounts(fresh, "peg")
    jumps = facts.peg.kind == "friction"
    return LearnedRates(
        screw=learn_rate(turns, by_screw, prior=facts.screw_rate, hand_error=SCREW_HAND_ERROR),
        peg=learn_peg_rate(degrees, by_peg, prior=facts.peg_rate),
        peg_least_cents=learn_least(degrees, by_peg) if jumps else None,
    )


def _amounts(measured: list[Measured], mechanism: str) -> tuple[list[float], list[float]]:
    ours = [each for each in measured if each.mechanism == mechanism]
    return [each.amount for each in ours], [each.change_cents for each in ours]
