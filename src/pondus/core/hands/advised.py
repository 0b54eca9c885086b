"""The advice on a string as its log stands: its last reading, the move before it, what was answered."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from pondus.core.judgement.advise import Advice, advise_of, jumped
from pondus.core.judgement.recent_move import Answer, RecentMove
from pondus.core.judgement.situation import Situation
from pondus.core.log.moves import Segment, one_move, recent_move
from pondus.core.log.records import Move, Reading


@dataclass(frozen=True)
class Advised:
    """The advice on the last reading. ``recent``: what it was told of the last move; ``turned``: the readings about that move,
    where anything is to be said of it; ``answer``: what was answered about it.
    """

    advice: Advice
    recent: RecentMove | None = None
    turned: Segment | None = None
    answer: Answer | None = None


def advised(
    facts: Situation,
    readings: Sequence[Reading],
    moves: Sequence[Move],
    segments: Sequence[Segment],
    *,
    from_cents: float | None = None,
) -> Advised:
    """What to do about a string. ``from_cents``: where it stood before a jump that nothing explains (R122)."""
    last = readings[-1]
    if from_cents is not None:
        return Advised(jumped(facts, last.heard, sure=last.sure_of_string, from_cents=from_cents))
    recent = recent_move(facts, segments)
    turned = next((each for each in reversed(segments) if each.moves), None)
    if turned is not None and turned.after is not last and recent is None:
        turned = None  # it was read more than once since, and nothing is open about it
    answer = None if turned is None or recent is None else turned.moves[-1].answer
    if answer == "wound-other-way":  # that is kept of the string; the move tells nothing more
        recent = answer = None
    if turned is None and moves:
        recent = _earlier(readings, moves[-1], facts)
    return Advised(answered(facts, last, recent, answer), recent, turned, answer)


def advice_on(
    facts: Situation,
    reading: Reading,
    recent: RecentMove | None = None,
    answer: Answer | None = None,
    pulls: float = 0.0,
) -> Advice:
    """The advice on one reading."""
    return advise_of(
        facts,
        reading.heard,
        sure_of_string=reading.sure_of_string,
        recent_move=recent,
        answer=answer,
        pulls_to_come=pulls,
    )


def answered(
    facts: Situation, reading: Reading, recent: RecentMove | None, answer: Answer | None, pulls: float = 0.0
) -> Advice:
    """With the answer, where it still answers something."""
    asked = advice_on(facts, reading, recent, pulls=pulls)
    if answer is None or asked.state not in ("no-effect", "wrong-way"):
        return asked
    options = () if asked.question is None else asked.question.options
    if answer not in [option.answer for option in options]:
        return asked
    return advice_on(facts, reading, recent, answer, pulls)


def _earlier(readings: Sequence[Reading], move: Move, facts: Situation) -> RecentMove | None:
    """The last move, where the string was read more than once since: it tells what was turned, not what it did."""
    before = next((reading for reading in reversed(readings) if reading.seq < move.seq), None)
    if before is None or move.seq > readings[-1].seq:
        return None
    was = one_move(move, advice_on(facts, before))
    return None if was is None else replace(was, effect_known=False)
