"""How far to turn at once. Rules R12 to R15.

A fine tuner moves at most half a turn between two readings; a friction peg one small nudge, at most 5 degrees and half
of what is left, at least 1; a geared peg at most 10 degrees of its head. After an overshoot the next move is at most
half of the last one.
"""

from dataclasses import dataclass

import numpy as np

from pondus.core.judgement.situation import Pitch, Situation

LARGEST_SCREW_MOVE_TURNS = 0.5
LARGEST_NUDGE_DEGREES, SMALLEST_NUDGE_DEGREES = 5.0, 1.0
LARGEST_GEARED_MOVE_DEGREES = 10.0
PEG_HAND_MISSES, NEXT_NUDGE_WORTH = 0.4, 0.75
WELL_DOWN_DEGREES, SMALL_REPEATS = 2.5, 0.5
"""Coming down by less would only lead back to the same places; a nudge that may be held up repeats the least one often."""
JUMPS_BEFORE_KNOWN = 0.6
"""Share of a degree's cents that the smallest nudge makes at least, before the log knows better."""
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


@dataclass(frozen=True)
class Nudge:
    """A nudge of a peg: which way, and by how many degrees."""

    pitch: Pitch
    degrees: float


def likeliest_nudge(off: float, *, cents_per_degree: float, least_cents: float, tolerance_cents: float) -> Nudge:
    """R60: for a friction peg without a screw: the nudge that most likely brings the string in, at once or by one or two
    small nudges more. A hand misses a peg by up to 40 %, and the peg never makes less than ``least_cents``; between two
    places that such nudges lead to and fro, nothing lies. So now and then it must come well down and come up anew.
    Upwards it still is at most half of what is left, or the smallest nudge.

    >>> likeliest_nudge(-23.0, cents_per_degree=13.6, least_cents=23.0, tolerance_cents=2.5)
    Nudge(pitch='raise', degrees=1.0)
    >>> likeliest_nudge(-10.0, cents_per_degree=13.6, least_cents=23.0, tolerance_cents=2.5).pitch
    'lower'
    """
    most_up = min(LARGEST_NUDGE_DEGREES, max(SMALLEST_NUDGE_DEGREES, -off / 2.0 / cents_per_degree))
    up = np.unique(np.minimum(np.linspace(SMALLEST_NUDGE_DEGREES, LARGEST_NUDGE_DEGREES, 17), most_up))
    down = np.append(np.linspace(WELL_DOWN_DEGREES, LARGEST_NUDGE_DEGREES, 11), SMALLEST_NUDGE_DEGREES)
    best, best_worth = Nudge("raise" if off < 0 else "lower", SMALLEST_NUDGE_DEGREES), -1.0
    pitches: tuple[Pitch, ...] = ("raise", "lower") if off < 0 else ("lower",)
    for pitch in pitches:
        for degrees in up if pitch == "raise" else down:
            worth = _worth(off, pitch, float(degrees) * cents_per_degree, least_cents, tolerance_cents)
            if worth > best_worth + 1e-9:
                best, best_worth = Nudge(pitch, float(degrees)), worth
    return best


def _worth(off: float, pitch: Pitch, nominal: float, least: float, tolerance: float) -> float:
    """How likely a nudge of so many cents ends within the tolerance of the target, or one or two least nudges under it."""
    sign = 1.0 if pitch == "raise" else -1.0
    return sum(
        worth * _lands(nominal, least, sign * (place - off) - tolerance, sign * (place - off) + tolerance)
        for place, worth in ((0.0, 1.0), (-least, NEXT_NUDGE_WORTH), (-2.0 * least, NEXT_NUDGE_WORTH**2))
    )


def _lands(nominal: float, least: float, low: float, high: float) -> float:
    """Chance that a nudge makes between ``low`` and ``high`` cents: even over ±40 %; what is under the least makes that."""
    first, last = (1.0 - PEG_HAND_MISSES) * nominal, (1.0 + PEG_HAND_MISSES) * nominal
    width = last - first
    over = max(0.0, min(high, last) - max(low, first, least)) / width
    held = max(0.0, min(least, last) - first) / width
    spread = over + (held if low <= least <= high else 0.0)
    small = first < least
    return (1.0 - SMALL_REPEATS) * spread + SMALL_REPEATS * (low <= least <= high) if small else spread


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
