"""Which way to turn: a fine tuner, a peg, from every stance.

Fine tuner: clockwise, facing the screw's head, raises; always. Peg: it follows from geometry. With normal winding the
string runs over the front (string side) of the peg, so raising moves the front of the peg towards the scroll; seen
from the end of the peg's head that is clockwise on the treble side (strings I, II) and counter-clockwise on the bass
side (III, IV). ``top_moves`` is what the person at that stance sees of the uppermost edge.
"""

from dataclasses import dataclass
from typing import Literal

from pondus.core.instruments import Side
from pondus.core.instruments.holds import HOLDS, Stance, TopMoves
from pondus.core.judgement.situation import Pitch, Winding

Rotation = Literal["clockwise", "counter-clockwise"]

_OPPOSITE: dict[TopMoves, TopMoves] = {
    "away": "towards",
    "towards": "away",
    "left": "right",
    "right": "left",
    "far-left": "far-right",
    "far-right": "far-left",
}


@dataclass(frozen=True)
class Turn:
    """A direction of turn: as seen facing the head, and as the top edge moves for this person (None: not said)."""

    rotation: Rotation
    top_moves: TopMoves | None


def screw_turn(pitch: Pitch, *, stance: Stance) -> Turn:
    """Which way to turn a fine tuner.

    >>> screw_turn("raise", stance="seated")
    Turn(rotation='clockwise', top_moves='left')
    >>> screw_turn("lower", stance="playing")
    Turn(rotation='counter-clockwise', top_moves=None)
    """
    top = HOLDS[stance].screw_top
    if pitch == "raise":
        return Turn("clockwise", top)
    return Turn("counter-clockwise", None if top is None else _OPPOSITE[top])


def peg_turn(pitch: Pitch, *, side: Side, stance: Stance, winding: Winding) -> Turn:
    """Which way to turn a peg. Reversed winding swaps both columns.

    >>> peg_turn("raise", side="bass", stance="lap", winding="normal")
    Turn(rotation='counter-clockwise', top_moves='away')
    >>> peg_turn("raise", side="bass", stance="helper", winding="reversed")
    Turn(rotation='clockwise', top_moves='away')
    """
    as_if_raising = (pitch == "raise") == (winding == "normal")
    clockwise = as_if_raising == (side == "treble")
    top = HOLDS[stance].peg_top
    return Turn("clockwise" if clockwise else "counter-clockwise", top if as_if_raising else _OPPOSITE[top])
