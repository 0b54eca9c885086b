"""What the last move tells: no effect, wrong way, overshoot, a move made unseen. Rules R23 to R25, R51."""

from collections.abc import Sequence
from typing import Literal

from pondus.core.judgement.mechanism import Choice
from pondus.core.judgement.reading import ROUNDING_CENTS
from pondus.core.judgement.recent_move import RecentMove
from pondus.core.judgement.situation import Situation
from pondus.core.judgement.steps import Step
from pondus.core.mechanics import PEG_PRIOR_SPREAD, SCREW_PRIOR_SPREAD

Sign = Literal["no-effect", "wrong-way"]

WRONG_WAY_CENTS = 5.0
EFFECT_DUE_CENTS, EFFECT_SHARE = 8.0, 0.25
"""R25: when at least so many cents are due, less than this share of them is no effect."""
TWICE_AS_FAR = 2.0
NEAR_AIM_CENTS = 15.0
UNTOUCHED_WITHIN_CENTS = 2.0
"""Bow pressure alone moves a string by as much."""


def change_along(recent: RecentMove, cents_off: float) -> float | None:
    """How far the string went the way it was turned, in cents (negative: against it); None where that can't be told."""
    if not recent.effect_known or recent.from_cents is None:
        return None
    change = cents_off - recent.from_cents
    return change if recent.direction == "raise" else -change


def went_wrong_way(recent: RecentMove | None, cents_off: float) -> bool:
    """R23: whether the string went more than 5 cents against the last move.

    >>> went_wrong_way(RecentMove("peg", "raise", 4, "degree", from_cents=-80), -120)
    True
    >>> went_wrong_way(RecentMove("peg", "raise", 4, "degree", from_cents=-80), -84)
    False
    """
    along = None if recent is None else change_along(recent, cents_off)
    return along is not None and along < -WRONG_WAY_CENTS


def least_due_cents(situation: Situation, recent: RecentMove) -> float | None:
    """The least that the last move should have made, in cents: what was expected, less its ±; None for a tug, or where nothing
    is known of it.

    >>> from pondus.core.instruments import INSTRUMENTS
    >>> from pondus.core.judgement.situation import FineTuner, Peg, situation
    >>> d = situation(INSTRUMENTS["violin"], "D", fine_tuner=FineTuner(), peg=Peg())
    >>> move = RecentMove("fine-tuner", "raise", 0.5, "turn", from_cents=-20, expect_cents=20, expect_plus_minus=7)
    >>> least_due_cents(d, move)
    13.0
    """
    if recent.turned is None:
        return None
    by_peg = recent.turned == "peg"
    if recent.expect_cents is not None:
        spread = recent.expect_plus_minus
        if spread is None:
            spread = (PEG_PRIOR_SPREAD if by_peg else SCREW_PRIOR_SPREAD) * abs(recent.expect_cents)
        due = abs(recent.expect_cents) - spread
    elif recent.amount_in_own_unit is not None:
        rate = situation.peg_rate if by_peg else situation.screw_rate
        due = recent.amount_in_own_unit * (rate.cents - rate.plus_minus)
    else:
        return None
    return max(0.0, due * (1.0 if recent.arrived else TWICE_AS_FAR))


def sign_of(situation: Situation, recent: RecentMove | None, cents_off: float) -> Sign | None:
    """R23, R25: what the last move did that asks for an answer before anything is turned again."""
    along = None if recent is None else change_along(recent, cents_off)
    if recent is None or along is None or recent.turned is None:
        return None
    if along < -WRONG_WAY_CENTS:
        return "wrong-way"
    due = least_due_cents(situation, recent)
    if due is None or due < EFFECT_DUE_CENTS - ROUNDING_CENTS:
        return None
    return "no-effect" if along < EFFECT_SHARE * due - ROUNDING_CENTS else None


def limit_after_overshoot(recent: RecentMove | None, choice: Choice, cents_off: float) -> float | None:
    """R24: after an overshoot, the most the next move may be (in its own unit): half the last one. None: no limit.

    >>> down = Choice("fine-tuner", "lower", "within-reach")
    >>> limit_after_overshoot(RecentMove("fine-tuner", "raise", 0.5, "turn", from_cents=-10), down, 9)
    0.25
    """
    if recent is None or not recent.effect_known or recent.mechanism != choice.mechanism:
        return None
    before, amount = recent.from_cents, recent.amount_in_own_unit
    if before is None or amount is None:
        return None
    crossed = before < 0 < cents_off if recent.direction == "raise" else cents_off < 0 < before
    return amount / 2.0 if crossed else None


def move_made_unseen(steps: Sequence[Step], *, before_cents: float | None, now_cents: float) -> Step | None:
    """R51: with both hands on the instrument nobody presses a button; the move that was shown counts as made when the
    string has moved. None: nothing was shown that turns, or the string stands as it stood.

    >>> shown = Step("turn-fine-tuner", "Turn it.", pitch="raise", amount=0.3, unit="turn")
    >>> move_made_unseen([shown], before_cents=-12.0, now_cents=-1.0) is shown
    True
    >>> move_made_unseen([shown], before_cents=-12.0, now_cents=-11.0) is None
    True

    A turn while it sounds is made once the string is near its aim; what is heard on the way is the hand still turning.

    >>> from dataclasses import replace
    >>> from pondus.core.judgement.steps import Until
    >>> going = replace(shown, until=Until("A4", 0.0), aim_cents=0.0)
    >>> [move_made_unseen([going], before_cents=-90.0, now_cents=now) is going for now in (-60.0, -10.0, 4.0)]
    [False, True, True]
    """
    if not steps or not steps[0].is_move or before_cents is None:
        return None
    step = steps[0]
    if abs(now_cents - before_cents) <= UNTOUCHED_WITHIN_CENTS:
        return None
    if step.until is not None and step.aim_cents is not None:
        left = step.aim_cents - now_cents if step.pitch == "raise" else now_cents - step.aim_cents
        return step if left <= NEAR_AIM_CENTS else None
    return step
