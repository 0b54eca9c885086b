"""What a reading tells of where a string stands: an interval of cents off its target, and the error at its ends.

A figure is good to about a cent, a letter to the note's whole width, a side to half of it: what a display hides can't be held
against the hand that turned.
"""

import math
from dataclasses import dataclass

from pondus.core.judgement.heard import Heard, ShownSide
from pondus.core.judgement.reading import OWN_NOTE_CENTS, Judged

FIGURE_ERROR_CENTS = 1.5
"""One standard deviation of a figure that was read off and typed: the display's rounding, the bow, a look too soon."""
SHOWN_IN_TUNE_CENTS = 4.0
"""R80: a display without figures calls in tune what is this near."""
HEARD_SAME_CENTS, HEARD_FAR_CENTS, HEARD_FURTHEST_CENTS = 8.0, 60.0, 600.0
"""R129: an untrained ear calls the same what is this near a tone that sounds beside it or just before (difference limens of
5 to 10 cents for tones one after the other, Moore, Introduction to the Psychology of Hearing; beats tell more); *much* is from
about half a semitone on.
"""


@dataclass(frozen=True)
class Interval:
    """Somewhere from ``low`` to ``high`` (cents), all as likely, with a normal ``error`` at either end.

    >>> Interval(-12.0, -12.0).minus(Interval(-50.0, 50.0))
    Interval(low=-62.0, high=38.0, error=2.1213203435596424)
    """

    low: float
    high: float
    error: float = FIGURE_ERROR_CENTS

    @property
    def middle(self) -> float:
        """Its middle, in cents."""
        return 0.5 * (self.low + self.high)

    @property
    def is_figure(self) -> bool:
        """Whether it is one figure."""
        return self.low == self.high

    def minus(self, other: "Interval") -> "Interval":
        """The change from another to this one."""
        return Interval(self.low - other.high, self.high - other.low, math.hypot(self.error, other.error))

    def moved(self, cents: float, *, give_or_take: float = 0.0) -> "Interval":
        """The same, so many cents higher, known that well."""
        return Interval(self.low + cents, self.high + cents, math.hypot(self.error, give_or_take))


_SIDES: dict[ShownSide, tuple[float, float]] = {
    "flat": (-OWN_NOTE_CENTS, -SHOWN_IN_TUNE_CENTS),
    "in-tune": (-SHOWN_IN_TUNE_CENTS, SHOWN_IN_TUNE_CENTS),
    "sharp": (SHOWN_IN_TUNE_CENTS, OWN_NOTE_CENTS),
    "much-lower": (-HEARD_FURTHEST_CENTS, -0.5 * HEARD_FAR_CENTS),
    "lower": (-1.5 * HEARD_FAR_CENTS, -0.5 * HEARD_SAME_CENTS),
    "same": (-HEARD_SAME_CENTS, HEARD_SAME_CENTS),
    "higher": (0.5 * HEARD_SAME_CENTS, 1.5 * HEARD_FAR_CENTS),
    "much-higher": (0.5 * HEARD_FAR_CENTS, HEARD_FURTHEST_CENTS),
}


def interval_of(judged: Judged, heard: Heard) -> Interval | None:
    """Where a judged reading says that the string stands; None where it says nothing, or of another string.

    A side without a note may be any distance away: it tells a direction, and is taken for the note's own half.
    """
    if judged.state in ("unsure", "other-string"):
        return None
    if judged.cents_off is not None:
        wide = judged.give_or_take
        if heard.side is not None and wide:
            low, high = _SIDES[heard.side]
            return Interval(judged.cents_off + low, judged.cents_off + high)
        return Interval(judged.cents_off - wide, judged.cents_off + wide)
    return None if judged.side is None else Interval(*_SIDES[judged.side])
