"""What the last move tells: no effect, wrong way, overshoot. Rules R23 to R25."""

from typing import Literal

from pondus.core.instruments.mechanics import PEG_PRIOR_SPREAD, SCREW_PRIOR_SPREAD
from pondus.core.judgement.heard import FAR, WAYS, ShownSide
from pondus.core.judgement.mechanism import Choice
from pondus.core.judgement.reading import ROUNDING_CENTS, Judged
from pondus.core.judgement.recent_move import RecentMove
from pondus.core.judgement.situation import Situation

Sign = Literal["no-effect", "wrong-way"]

WRONG_WAY_CENTS = 5.0
EFFECT_DUE_CENTS, EFFECT_SHARE = 8.0, 0.25
"""R25: when at least so many cents are due, less than this share of them is no effect."""
TWICE_AS_FAR = 2.0
CROSSED_CENTS = (50.0, 150.0, 450.0)
"""By so much a string must have crossed a note's half: one that isn't far, one that is, and one said to have moved and be far
still. No more: the next turn may be another peg's.
"""


def change_along(recent: RecentMove, cents_off: float) -> float | None:
    """How far the string went the way it was turned, in cents (negative: against it); None where that can't be told."""
    if not recent.effect_known or recent.from_cents is None:
        return None
    change = cents_off - recent.from_cents
    return change if recent.direction == "raise" else -change


def due_cents(situation: Situation, recent: RecentMove) -> tuple[float, float] | None:
    """How far the last move should have brought the string, give or take how much, in cents (both positive); None where nothing
    is known of it.
    """
    rate = situation.screw_rate if recent.mechanism == "fine-tuner" else situation.peg_rate
    if recent.expect_cents is not None:
        due, spread = abs(recent.expect_cents), recent.expect_plus_minus
        prior = SCREW_PRIOR_SPREAD if recent.mechanism == "fine-tuner" else PEG_PRIOR_SPREAD
        return due, prior * due if spread is None else spread
    amount = recent.amount_in_own_unit
    return None if amount is None else (amount * rate.cents, amount * rate.plus_minus)


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
    due = None if recent.turned is None else due_cents(situation, recent)
    return None if due is None else max(0.0, (due[0] - due[1]) * (1.0 if recent.arrived else TWICE_AS_FAR))


def sign_of(situation: Situation, recent: RecentMove | None, judged: Judged) -> Sign | None:
    """R23, R25: what the last move did that asks for an answer before anything is turned again. A letter can't show what is
    less than its width.
    """
    if recent is None or recent.turned is None:
        return None
    if judged.cents_off is None:
        return None if judged.side is None else _sign_of_side(situation, recent, judged.side)
    seen = change_along(recent, judged.cents_off)
    if seen is None:
        return None
    along = seen + recent.from_give_or_take + judged.give_or_take
    if along < -WRONG_WAY_CENTS:
        return "wrong-way"
    due = least_due_cents(situation, recent)
    if due is None or due < EFFECT_DUE_CENTS - ROUNDING_CENTS:
        return None
    if along >= EFFECT_SHARE * due - ROUNDING_CENTS:
        return None
    return "wrong-way" if seen < -WRONG_WAY_CENTS else "no-effect"


def _sign_of_side(situation: Situation, recent: RecentMove, side: ShownSide) -> Sign | None:
    """R25, R80: turns the same way that must by now have crossed a note's half without a change of side had no effect. The push
    that is to tell how a string is wound tells nothing by itself: it is asked about.
    """
    if recent.from_side != side or not recent.effect_known:
        return None
    due = least_due_cents(situation, recent)
    towards = recent.direction == ("raise" if WAYS[side] == "flat" else "lower")
    far = min(situation.far_by_side + (side in FAR), len(CROSSED_CENTS) - 1)
    doubted = situation.winding_doubted and recent.turned == "peg"
    return "no-effect" if towards and due is not None and (doubted or due > CROSSED_CENTS[far]) else None


def limit_after_overshoot(recent: RecentMove | None, choice: Choice, cents_off: float) -> float | None:
    """R24: after an overshoot, the most the next move may be (in its own unit): half the last one, or half of what was shown
    for it: a screw that does more than is thought seems to have been turned further. None: no limit.

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
    return min(amount, recent.shown or amount) / 2.0 if crossed else None
