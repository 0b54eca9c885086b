"""Where each string's peg is, as someone sees the pegbox from where they are."""

from typing import Literal

from pondus.core.instruments.base import PegRow, StringData
from pondus.core.instruments.holds import HOLDS, Stance

PegPlace = Literal[
    "lower left", "middle left", "upper left", "upper right", "middle right", "lower right", "upper middle", "lower middle"
]
_OTHER_SIDE = {"left": "right", "right": "left"}
_OTHER_END: dict[PegRow, PegRow] = {"lower": "upper", "middle": "middle", "upper": "lower"}


def peg_place(string: StringData, stance: Stance) -> PegPlace:
    """Where a string's peg is, as this person sees the pegbox.

    >>> from pondus.core.instruments import INSTRUMENTS
    >>> g = INSTRUMENTS["violin"].string("G")
    >>> peg_place(g, "lap"), peg_place(g, "helper")
    ('lower left', 'upper right')
    >>> peg_place(g, "guitar")
    'upper right'
    """
    row, side = string.row, "left" if string.side == "bass" else "right"
    seen = HOLDS[stance].seen_from
    if seen == "guitar":  # the scroll to the left, the thicker strings' pegs up
        along = {"upper": "left", "middle": "middle", "lower": "right"}[row]
        return f"{'upper' if side == 'left' else 'lower'} {along}"  # type: ignore[return-value]
    if seen == "behind":
        side = _OTHER_SIDE[side]
    if seen == "scroll":
        row, side = _OTHER_END[row], _OTHER_SIDE[side]
    return f"{row} {side}"  # type: ignore[return-value]
