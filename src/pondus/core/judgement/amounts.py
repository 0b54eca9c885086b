"""How far to turn at once. Rules R12 to R15.

A fine tuner moves at most half a turn between two readings; a friction peg one small nudge, at most 5 degrees and half
of what is left, at least 1; a geared peg at most 10 degrees of its head. After an overshoot the next move is at most
half of the last one.
"""

from pondus.core.judgement.situation import Situation

LARGEST_SCREW_MOVE_TURNS = 0.5
LARGEST_NUDGE_DEGREES, SMALLEST_NUDGE_DEGREES = 5.0, 1.0
LARGEST_GEARED_MOVE_DEGREES = 10.0
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
    """Degrees of the next peg move towards an aim ``cents_to_aim`` away (either sign).

    >>> from pondus.core.instruments import INSTRUMENTS
    >>> from pondus.core.judgement.situation import Peg, situation
    >>> peg = Peg(cents_per_degree=10.0)
    >>> g = situation(INSTRUMENTS["violin"], "G", fine_tuner=None, peg=peg)
    >>> [peg_move_degrees(g, cents) for cents in (300.0, 40.0, -6.0)]
    [5.0, 2.0, 1.0]
    """
    left = abs(cents_to_aim) / situation.peg_rate.cents
    cap = left if at_most is None else at_most
    if situation.peg.kind == "geared":
        return min(LARGEST_GEARED_MOVE_DEGREES, left, max(cap, 0.25))
    return max(SMALLEST_NUDGE_DEGREES, min(LARGEST_NUDGE_DEGREES, left / 2.0, cap))
