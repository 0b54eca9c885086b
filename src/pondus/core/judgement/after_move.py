"""What the last move tells: wrong way, overshoot, a peg that can't be moved. Rules R23 to R25."""

from pondus.core.judgement.mechanism import Choice
from pondus.core.judgement.situation import RecentMove, Situation

WRONG_WAY_CENTS = 5.0
STUCK_WITHIN_CENTS = 2.0


def went_wrong_way(recent: RecentMove | None, cents_off: float) -> bool:
    """R23: whether the string went more than 5 cents against the last move.

    >>> went_wrong_way(RecentMove("peg", "raise", 4, "degree", from_cents=-80), -120)
    True
    >>> went_wrong_way(RecentMove("peg", "raise", 4, "degree", from_cents=-80), -84)
    False
    """
    if recent is None:
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
    if recent is None or recent.mechanism != choice.mechanism:
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
        and abs(cents_off - recent.from_cents) <= STUCK_WITHIN_CENTS
    )
