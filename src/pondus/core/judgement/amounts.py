"""How far to turn at once. Rules R12 to R15.

A fine tuner moves at most half a turn between two readings; a friction peg one small nudge, at most 5 degrees and half
of what is left, at least 1; a geared peg at most 10 degrees of its head. After an overshoot the next move is at most
half of the last one.
"""

from pondus.core.instruments.mechanics import is_violin_e
from pondus.core.judgement.situation import Situation

LARGEST_SCREW_MOVE_TURNS = 0.5
LARGEST_NUDGE_DEGREES, SMALLEST_NUDGE_DEGREES = 5.0, 1.0
LARGEST_GEARED_MOVE_DEGREES = 10.0
ENOUGH_CENTS, MOST_NUDGES, ROUNDING_CENTS = 10.0, 100, 1e-6
"""A friction peg's aim is 10 under the target; within 10 of it, 20 under, the screw or a last push takes over."""
SMALLEST_SCREW_MOVE_TURNS = 1.0 / 32.0
"""No hand turns a screw by less; only an overshoot's halving could ask for it."""


def screw_move_turns(needed_turns: float, *, at_most: float | None = None) -> float:
    """Turns of the next screw move: half a turn, or what is needed.

    >>> screw_move_turns(1.7), screw_move_turns(0.3), screw_move_turns(0.3, at_most=0.1)
    (0.5, 0.3, 0.1)
    """
    move = min(LARGEST_SCREW_MOVE_TURNS, needed_turns)
    if at_most is None or at_most >= move:
        return move
    return min(move, max(at_most, SMALLEST_SCREW_MOVE_TURNS))


def peg_move_degrees(situation: Situation, cents_to_aim: float, *, at_most: float | None = None) -> float:
    """Degrees of the next peg move towards an aim ``cents_to_aim`` away (either sign, as they would be at pitch). A violin's E
    goes up by the smallest pushes there are.

    >>> from pondus.core.instruments import INSTRUMENTS
    >>> from pondus.core.judgement.situation import Peg, situation
    >>> peg = Peg(cents_per_degree=10.0)
    >>> g = situation(INSTRUMENTS["violin"], "G", fine_tuner=None, peg=peg)
    >>> [peg_move_degrees(g, cents) for cents in (300.0, 40.0, -6.0)]
    [5.0, 2.0, 1.0]
    """
    left = abs(cents_to_aim) / situation.peg_rate.cents
    if situation.peg.kind == "friction" and cents_to_aim > 0.0 and is_violin_e(situation.instrument, situation.string):
        return SMALLEST_NUDGE_DEGREES
    cap = left if at_most is None else at_most
    if situation.peg.kind == "geared":
        return min(LARGEST_GEARED_MOVE_DEGREES, left, max(cap, 0.25))
    return max(SMALLEST_NUDGE_DEGREES, min(LARGEST_NUDGE_DEGREES, left / 2.0, cap))


def peg_moves_needed(situation: Situation, cents_to_aim: float) -> int:
    """How many moves of a peg it takes to within ``ENOUGH_CENTS`` of an aim that far away (at pitch): one while it sounds, else
    by nudges that halve what is left.

    >>> from pondus.core.instruments import INSTRUMENTS
    >>> from pondus.core.judgement.situation import Peg, situation
    >>> g = situation(INSTRUMENTS["violin"], "G", fine_tuner=None, peg=Peg(cents_per_degree=10.0))
    >>> [peg_moves_needed(g, cents) for cents in (300.0, 40.0, 6.0)]
    [8, 2, 1]
    """
    if situation.turning == "while-sounding":
        return 1
    rate, left, count = situation.peg_rate.cents, cents_to_aim, 0
    enough = min(ENOUGH_CENTS, 0.5 * abs(cents_to_aim))
    while abs(left) > enough + ROUNDING_CENTS and count < MOST_NUDGES:
        nudge = peg_move_degrees(situation, left) * rate
        count += 1
        if nudge >= abs(left):
            break
        left -= nudge if left > 0.0 else -nudge
    return max(1, count)
