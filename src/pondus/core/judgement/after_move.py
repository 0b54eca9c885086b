"""What the last move tells: wrong way, overshoot, a peg that can't be moved, a move made unseen. Rules R23 to R25, R51."""

from collections.abc import Sequence

from pondus.core.judgement.mechanism import Choice
from pondus.core.judgement.situation import RecentMove, Situation
from pondus.core.judgement.steps import Step

WRONG_WAY_CENTS = 5.0
STUCK_WITHIN_CENTS = 2.0
UNTOUCHED_WITHIN_CENTS = 2.0
"""Bow pressure alone moves a string by as much."""


def went_wrong_way(recent: RecentMove | None, cents_off: float) -> bool:
    """R23: whether the string went more than 5 cents against the last move.

    >>> went_wrong_way(RecentMove("peg", "raise", 4, "degree", from_cents=-80), -120)
    True
    >>> went_wrong_way(RecentMove("peg", "raise", 4, "degree", from_cents=-80), -84)
    False
    """
    if recent is None or not recent.effect_known:
        return False
    change = cents_off - recent.from_cents
    against = -change if recent.direction == "raise" else change
    return against > WRONG_WAY_CENTS


def limit_after_overshoot(recent: RecentMove | None, choice: Choice, cents_off: float) -> float | None:
    """R24: after an overshoot, the most the next move may be (in its own unit): half the last one. None: no limit.

    >>> down = Choice("fine-tuner", "lower", "within-reach")
    >>> limit_after_overshoot(RecentMove("fine-tuner", "raise", 0.5, "turn", from_cents=-10), down, 9)
    0.25
    """
    if recent is None or not recent.effect_known or recent.mechanism != choice.mechanism:
        return None
    crossed = recent.from_cents < 0 < cents_off if recent.direction == "raise" else cents_off < 0 < recent.from_cents
    return recent.amount_in_own_unit / 2.0 if crossed else None


def peg_is_stuck(situation: Situation, recent: RecentMove | None, cents_off: float) -> bool:
    """R25: a peg said to stick was turned by an adult and the pitch did not follow."""
    return (
        situation.peg.state == "sticks"
        and situation.who in ("teacher", "adult")
        and recent is not None
        and recent.mechanism == "peg"
        and recent.effect_known
        and abs(cents_off - recent.from_cents) <= STUCK_WITHIN_CENTS
    )


def move_made_unseen(steps: Sequence[Step], *, before_cents: float | None, now_cents: float) -> Step | None:
    """R51: with both hands on the instrument nobody presses a button; the move that was shown counts as made when the
    string has moved. None: nothing was shown that turns, or the string stands as it stood.

    >>> shown = Step("turn-fine-tuner", "Turn it.", pitch="raise", amount=0.3, unit="turn")
    >>> move_made_unseen([shown], before_cents=-12.0, now_cents=-1.0) is shown
    True
    >>> move_made_unseen([shown], before_cents=-12.0, now_cents=-11.0) is None
    True
    """
    if not steps or not steps[0].is_move or before_cents is None:
        return None
    return steps[0] if abs(now_cents - before_cents) > UNTOUCHED_WITHIN_CENTS else None
