"""Where each string's peg is, as someone sees the pegbox from where they are."""

from typing import Literal

from pondus.core.instruments.base import StringData
from pondus.core.instruments.holds import HOLDS, Stance

PegPlace = Literal["lower left", "upper left", "upper right", "lower right"]
_PLACES: dict[str, PegPlace] = {"IV": "lower left", "III": "upper left", "II": "upper right", "I": "lower right"}
"""Looking at the strings with the scroll up."""
_FROM_BEHIND: dict[PegPlace, PegPlace] = {
    "lower left": "lower right",
    "upper left": "upper right",
    "upper right": "upper left",
    "lower right": "lower left",
}
_FROM_SCROLL: dict[PegPlace, PegPlace] = {
    "lower left": "upper right",
    "upper left": "lower right",
    "upper right": "lower left",
    "lower right": "upper left",
}


def peg_place(string: StringData, stance: Stance) -> PegPlace:
    """Where a string's peg is, as this person sees the pegbox.

    >>> from pondus.core.instruments import INSTRUMENTS
    >>> g = INSTRUMENTS["violin"].string("G")
    >>> peg_place(g, "lap"), peg_place(g, "helper")
    ('lower left', 'upper right')
    """
    place = _PLACES[string.roman]
    seen = HOLDS[stance].seen_from
    if seen == "behind":
        return _FROM_BEHIND[place]
    return _FROM_SCROLL[place] if seen == "scroll" else place
