"""The advice on a string as its log stands: its last reading, what the moves before it tell together, what was answered."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from pondus.core.hands.records import Move, Reading
from pondus.core.judgement.advise import Advice, advise_of, jumped
from pondus.core.judgement.after_move import (
    EFFECT_SHARE,
    WRONG_WAY_CENTS,
    Sign,
    change_along,
    due_cents,
    least_due_cents,
    sign_of,
)
from pondus.core.judgement.reading import Judged, judge
from pondus.core.judgement.recent_move import Answer, RecentMove
from pondus.core.judgement.situation import Situation


@dataclass(frozen=True)
class Segment:
    """Two readings in a row, and what was done between them. ``went_cents``: how far the string went, ``pulled_cents``: how far
    of that the others' turns moved it; None where nobody knows.
    """

    before: Reading
    moves: tuple[Move, ...]
    after: Reading
    pulled_cents: float | None = 0.0
    went_cents: float | None = None


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
    turned = next((segment for segment in reversed(segments) if segment.moves), None)
    if turned is not None and turned.after is not last and recent is None:
        turned = None  # it was read more than once since, and nothing is open about it
    answer = None if turned is None or recent is None else turned.moves[-1].answer
    if answer == "wound-other-way":  # that is kept of the string; the move tells nothing more
        recent = answer = None
    if turned is None and moves:
        recent = _earlier(readings, moves[-1], facts)
    return Advised(answered(facts, last, recent, answer), recent, turned, answer)


def advice_on(
    facts: Situation, reading: Reading, recent: RecentMove | None = None, answer: Answer | None = None, pulls: float = 0.0
) -> Advice:
    """The advice on one reading."""
    return advise_of(
        facts, reading.heard, sure_of_string=reading.sure_of_string, recent_move=recent, answer=answer, pulls_to_come=pulls
    )


def answered(
    facts: Situation, reading: Reading, recent: RecentMove | None, answer: Answer | None, pulls: float = 0.0
) -> Advice:
    """With the answer, where it still answers something."""
    advice = advice_on(facts, reading, recent, pulls=pulls)
    options = () if answer is None or advice.question is None else advice.question.options
    if advice.state not in ("no-effect", "wrong-way") or answer not in [option.answer for option in options]:
        return advice
    return advice_on(facts, reading, recent, answer, pulls)


def _earlier(readings: Sequence[Reading], move: Move, facts: Situation) -> RecentMove | None:
    """The last move, where the string was read more than once since: it tells what was turned, not what it did."""
    before = next((reading for reading in reversed(readings) if reading.seq < move.seq), None)
    was = None if before is None or move.seq > readings[-1].seq else _as_advised(facts, move, before)
    return None if was is None else replace(was, effect_known=False)


def recent_move(facts: Situation, segments: Sequence[Segment]) -> RecentMove | None:
    """The move before the last reading, with those before it the same way that had no effect either; where several were made
    between two readings, none can be held to account.

    Where a move had no effect or went the wrong way and nobody has said why, it stays the last one however often the string is
    read again, until a reading shows that it did what it should.
    """
    last = next((at for at in reversed(range(len(segments))) if segments[at].moves), None)
    if last is None:
        return None
    recent, read_again = _with_those_before(facts, segments[: last + 1]), segments[last:-1]
    if recent is None or not read_again:
        return recent
    is_open = segments[last].moves[-1].answer is None
    return recent if is_open and all(_sign_at(facts, recent, segment.after) for segment in read_again) else None


def _with_those_before(facts: Situation, segments: Sequence[Segment]) -> RecentMove | None:
    last = _move_of(facts, segments[-1])
    if last is None or last.turned is None:
        return last
    repeats = _repeats(facts, segments[:-1])
    by_kind = _as_by_kind(facts)
    due = due_cents(by_kind, last)
    if due is None or not _showed_nothing(by_kind, last, segments[-1].after):
        return last if last.from_cents is None else replace(last, repeats=repeats)
    first, (cents, spread) = last, due
    for segment in reversed(segments[:-1]):
        if not segment.moves:  # it was read again
            continue
        earlier = _move_of(facts, segment)
        alike = earlier is not None and (earlier.mechanism, earlier.direction) == (last.mechanism, last.direction)
        due = due_cents(by_kind, earlier) if earlier is not None and alike else None
        if earlier is None or due is None or segment.moves[-1].answer is not None:
            break
        if not _showed_nothing(by_kind, earlier, segment.after):
            break
        first, cents, spread = earlier, cents + due[0], spread + due[1]
    return replace(
        last,
        from_cents=first.from_cents,
        from_give_or_take=first.from_give_or_take,
        expect_cents=cents,
        expect_plus_minus=spread,
        repeats=repeats,
    )


def _showed_nothing(facts: Situation, move: RecentMove, after: Reading) -> bool:
    """Whether nothing could be seen of a move: the side stayed, or the figure did."""
    judged = _judged(facts, after)
    if move.from_side is not None:
        return judged.cents_off is None and judged.side == move.from_side
    along = None if judged.cents_off is None else change_along(move, judged.cents_off)
    least = least_due_cents(facts, move)
    return along is not None and least is not None and along < EFFECT_SHARE * least


def _as_by_kind(facts: Situation) -> Situation:
    """The situation without what the log taught: small turns that did nothing would teach to expect nothing."""
    tuner = facts.fine_tuner
    bare = None if tuner is None else replace(tuner, cents_per_turn=None, cents_per_turn_plus_minus=None)
    return replace(facts, fine_tuner=bare, peg=replace(facts.peg, cents_per_degree=None))


def _repeats(facts: Situation, earlier: Sequence[Segment]) -> int:
    """How often in a row before this a move had no effect, and that was answered with something done about it."""
    count = 0
    for segment in reversed(earlier):
        move = _move_of(facts, segment)
        if move is None:
            continue
        unanswered = segment.moves[-1].answer in (None, "not-turned") and facts.peg.state != "sticks"
        if unanswered or move.from_cents is None or _sign_at(facts, move, segment.after) != "no-effect":
            break
        count += 1
    return count


def _move_of(facts: Situation, segment: Segment) -> RecentMove | None:
    """The one move between two readings, from where the string stood by then. Where that is too uncertain to tell what the move
    did, it isn't held to account.
    """
    move = _as_advised(facts, segment.moves[0], segment.before) if len(segment.moves) == 1 else None
    pulled = segment.pulled_cents
    if move is None or pulled == 0.0:
        return move
    if pulled is None or move.from_cents is None:
        return replace(move, effect_known=False)
    due = due_cents(facts, move) or (0.0, 0.0)
    by_pulls = abs(pulled) <= max(WRONG_WAY_CENTS, EFFECT_SHARE * due[0])
    return replace(move, from_cents=move.from_cents + pulled, effect_known=move.effect_known and by_pulls)


def _as_advised(facts: Situation, move: Move, before: Reading) -> RecentMove | None:
    """A move as the advice takes it; None where nobody knows where the string stood before it."""
    judged = _judged(facts, before)
    if judged.state == "other-string" or (judged.cents_off is None and judged.side is None):
        return None
    return RecentMove(
        move.mechanism,
        move.direction,
        move.amount,
        move.unit,
        judged.cents_off,
        from_give_or_take=judged.give_or_take,
        from_side=judged.side if judged.cents_off is None else None,
        expect_cents=move.expect_cents,
        expect_plus_minus=move.expect_plus_minus,
        shown=move.shown,
    )


def _judged(facts: Situation, reading: Reading) -> Judged:
    return judge(facts, reading.heard, sure=reading.sure_of_string, recent=None)


def _sign_at(facts: Situation, move: RecentMove, reading: Reading) -> Sign | None:
    return sign_of(facts, move, _judged(facts, reading))
