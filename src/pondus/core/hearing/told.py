"""What one sounding has told already, live: whether what is heard now is still that, turned, the rest of it, or new.

Levels are those of looks (50 ms) in dB re full scale, pitches in Hz, distances in cents.
"""

import math
from dataclasses import dataclass

from pondus.core.pitch.notes import cents_between

TURNED_CENTS = 2.0
TURNED_WHILE_DYING_CENTS, DYING_DB = 12.0, 3.0
"""A plucked string slides by itself, by up to 9 cents, as it dies away; one that is bowed on doesn't."""
TURNED_SPREADS = 3.0
"""A swaying pitch has been turned once it is so many of its own spreads away."""
DEAD_DB = 15.0
"""So much fainter than it was when it was read, what is left is another string's, or another way of swinging."""
RINGS_ON_DB, RINGS_ON_CENTS = 0.5, 2.5
"""What seems to be struck while it rings, but is no louder afterwards and lies no further away, was not: a knock, or another's
bow, came between.
"""
OWN_PARTIALS, OWN_PARTIAL_WITHIN_CENTS = (2, 3, 4), 40.0
"""Where the first partial dies sooner than the others, a pluck seems to leap by an octave or more: no hand turns it there."""


@dataclass(frozen=True)
class Told:
    """The reading that this sounding gave, and how loud it was then."""

    hz: float
    spread_cents: float
    level_db: float

    def turned_beyond(self, level_db: float) -> float:
        """How far from here, in cents, a pitch must be for the string to have been turned."""
        if level_db < self.level_db - DEAD_DB:
            return math.inf
        by_itself = TURNED_WHILE_DYING_CENTS if level_db < self.level_db - DYING_DB else TURNED_CENTS
        return max(by_itself, TURNED_SPREADS * self.spread_cents)

    def is_still(self, now: "Told") -> bool:
        """Whether what is heard now is the same, and not turned."""
        return abs(cents_between(now.hz, self.hz)) <= self.turned_beyond(now.level_db)

    def is_left_of(self, hz: float) -> bool:
        """Whether that pitch is one of this string's own partials, which go on when its first has died."""
        return any(abs(cents_between(hz, order * self.hz)) < OWN_PARTIAL_WITHIN_CENTS for order in OWN_PARTIALS)


@dataclass(frozen=True)
class Rang:
    """What had been told before something seemed to be struck, and the softest it had become by then."""

    told: Told
    level_db: float

    def goes_on_as(self, now: Told, *, loudest_db: float) -> bool:
        """Whether what is heard now may be only the rest of it: it never was louder than before, and is at the same pitch."""
        near = max(RINGS_ON_CENTS, self.told.spread_cents)
        return loudest_db < self.level_db + RINGS_ON_DB and abs(cents_between(now.hz, self.told.hz)) <= near
