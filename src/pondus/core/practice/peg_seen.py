"""A peg from the side, as it was turned: whether it stayed, sprang back, or stuck and jumped."""

from collections.abc import Sequence
from dataclasses import dataclass

from pondus.core.practice.hands import Course
from pondus.core.practice.questions import Action
from pondus.core.simulated.turning import head_raises_clockwise
from pondus.core.simulated.wood import PER_CENT

JUMPS_SHARE, SPRINGS_SHARE, JUMPS_DEGREES = 1.6, 0.6, 2.0
"""Of what a peg's head was turned: more, by so many degrees too, is a jump; less that stays is springing back."""


@dataclass(frozen=True)
class PegSeen:
    """A peg that was turned just now, from the side: how far its head was turned and how much of that stayed, in degrees
    clockwise as seen from its end; and what that was, in words.
    """

    string: str
    turned: float
    stayed: float
    said: str


def peg_seen(course: Course, actions: Sequence[Action]) -> PegSeen | None:
    """What the last action did to a peg; None: it was something else, or the string is broken."""
    if not actions or actions[-1].degrees is None or not course.now.sounds(actions[-1].string):
        return None
    name, turned = actions[-1].string, actions[-1].degrees
    before, after = (wood.now[name] for wood in course.woods[-2:])
    true = course.now.true[name]
    wound = (after.tension + after.held - before.tension - before.held) / (true.cents_per_degree * PER_CENT)
    way = 1.0 if head_raises_clockwise(course.now, name) == (true.winding == "normal") else -1.0
    stayed = way * wound
    share = stayed / turned
    if share > JUMPS_SHARE and abs(stayed - turned) > JUMPS_DEGREES:
        seen = "It stuck, then jumped: ease it down a hair first, and push less."
    elif share < SPRINGS_SHARE:
        seen = "It sprang back: push it into its hole while you turn."
    else:
        seen = "It stayed."
    return PegSeen(name, round(turned, 1), round(stayed, 1), seen)
