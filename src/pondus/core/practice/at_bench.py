"""What someone does again and again at the bench: past the note, the wrong way, another string's peg; and the drill for it."""

from collections import Counter
from collections.abc import Iterable, Mapping
from typing import Literal
from uuid import UUID

from pondus.core.hands.in_hand import InHand
from pondus.core.hands.last_move import Segment
from pondus.core.hands.records import Move
from pondus.core.hands.understood import Understood

Stumble = Literal["past-by-peg", "past-by-fine-tuner", "wrong-way", "wrong-string"]
STUMBLED: Mapping[Stumble, tuple[str, str]] = {
    "wrong-string": ("turned another string's peg", "which-peg"),
    "wrong-way": ("turned the wrong way", "which-way"),
    "past-by-peg": ("went past the note with a peg", "peg-home"),
    "past-by-fine-tuner": ("went past the note with a fine tuner", "screw-plucked"),
}
"""How it is said, and the drill that is for it."""
AGAIN, LOOKED_AT_DAYS, TUNINGS_LOOKED_AT = 2, 60, 12
WRONG_WAY_CENTS, PAST_CENTS = 15.0, 5.0


def stumbles_of(tunings: Iterable[Understood], person: UUID) -> Counter[Stumble]:
    """How often what happened to this person in these tunings; what happened once isn't counted."""
    counts: Counter[Stumble] = Counter()
    for tuning in tunings:
        for hand in tuning.strings.values():
            for segment in hand.segments:
                last = segment.moves[-1] if segment.moves else None
                if last is None or last.entered_by != person:
                    continue
                what = _stumble(hand, segment, last)
                if what is not None:
                    counts[what] += 1
    return Counter({what: times for what, times in counts.items() if times >= AGAIN})


def _stumble(hand: InHand, segment: Segment, move: Move) -> Stumble | None:
    if move.answer == "other-peg":
        return "wrong-string"
    here, there = hand.where(segment.before), hand.where(segment.after)
    if here is None or there is None or not (here.is_figure and there.is_figure) or move.mechanism == "tug":
        return None
    way = 1.0 if move.direction == "raise" else -1.0
    went = way * ((segment.went_cents or 0.0) - (segment.pulled_cents or 0.0))
    if went < -WRONG_WAY_CENTS and move.answer in (None, "none"):
        return "wrong-way"
    if went > 0.0 and way * here.middle < 0.0 and way * there.middle > max(PAST_CENTS, hand.facts.tolerance_cents):
        return "past-by-peg" if move.mechanism == "peg" else "past-by-fine-tuner"
    return None


def said_of(stumbles: Mapping[Stumble, int]) -> tuple[str, ...]:
    """In sentences, what came most first.

    >>> said_of({"wrong-way": 2, "past-by-peg": 4})
    ('went past the note with a peg, 4 times', 'turned the wrong way, 2 times')
    """
    most = sorted(stumbles, key=lambda what: (-stumbles[what], list(STUMBLED).index(what)))
    return tuple(f"{STUMBLED[what][0]}, {stumbles[what]} times" for what in most)
