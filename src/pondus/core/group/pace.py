"""How long a tuning takes, of an instrument and in someone's hands: the usual, drawn towards what it took."""

from collections.abc import Sequence
from dataclasses import dataclass

from pondus.core.group.jobs import Clearance
from pondus.core.judgement.plan import PEG_SECONDS, SCREW_SECONDS, SWEEP_SECONDS

USUAL_PACE: dict[Clearance, float] = {"fine-tuners": 1.5, "pegs": 1.0, "teacher": 1.0}
"""How many times as long as a practised hand, where nothing else is known of a person."""
HISTORY_COUNTS_FROM = 2.0
LEFT_LYING = 8.0
"""Times the usual: past that a tuning was interrupted, and says nothing of its pace."""


@dataclass(frozen=True)
class Done:
    """One tuning of an instrument as it went: moves made, and minutes from its first to its last entry."""

    screw_moves: int
    peg_moves: int
    minutes: float


def expected_minutes(history: Sequence[Done], *, screw_moves: int, peg_moves: int, rounds: int = 1) -> float:
    """How long a tuning will take: the usual seconds a move, drawn towards what this instrument's own tunings took.

    >>> round(expected_minutes([], screw_moves=4, peg_moves=1), 2)
    2.58
    >>> slow = [Done(4, 1, 6.0)] * 6
    >>> expected_minutes(slow, screw_moves=4, peg_moves=1) > 4.5
    True
    """
    usual = _usual_minutes(screw_moves, peg_moves, rounds)
    return usual * learned_pace(history, usual=1.0)


def _ratios(history: Sequence[Done]) -> list[float]:
    """Minutes taken over usual minutes, of tunings that turned something; what lasted absurdly long was left lying."""
    ratios = [
        done.minutes / _usual_minutes(done.screw_moves, done.peg_moves, 1)
        for done in history
        if done.minutes > 0.0 and done.screw_moves + done.peg_moves > 0
    ]
    return [ratio for ratio in ratios if ratio <= LEFT_LYING]


def _usual_minutes(screw_moves: int, peg_moves: int, rounds: int) -> float:
    return (SCREW_SECONDS * screw_moves + PEG_SECONDS * peg_moves + SWEEP_SECONDS * (rounds + 1)) / 60.0


def pace_of(may: Clearance, *, here: float | None = None, own: float | None = None, history: Sequence[Done] = ()) -> float:
    """R68: how many times as long as a practised hand someone takes this morning: as it was set for it (``here``), else as the
    roll has it (``own``), else as their own tunings went.

    >>> pace_of("pegs", here=1.5, own=2.0), pace_of("pegs", own=2.0), pace_of("fine-tuners")
    (1.5, 2.0, 1.5)
    """
    if here is not None:
        return here
    return own if own is not None else learned_pace(history, usual=USUAL_PACE[may])


def learned_pace(history: Sequence[Done], *, usual: float) -> float:
    """How many times as long as a practised hand someone takes: the usual for what they may do, drawn towards what they took.

    >>> learned_pace([], usual=1.5), learned_pace([Done(4, 0, 2.8)] * 8, usual=1.0) > 1.2
    (1.5, True)
    """
    ratios = _ratios(history)
    return (HISTORY_COUNTS_FROM * usual + sum(ratios)) / (HISTORY_COUNTS_FROM + len(ratios))
