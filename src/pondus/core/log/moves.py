"""What the last moves of a string tell by its log: what was due of them together, and how often in a row nothing came."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from pondus.core.judgement.advise import Advice
from pondus.core.judgement.after_move import (
    EFFECT_SHARE,
    WRONG_WAY_CENTS,
    change_along,
    least_due_cents,
    sign_of,
    sign_of_side,
)
from pondus.core.judgement.reading import Judged, judge
from pondus.core.judgement.recent_move import RecentMove
from pondus.core.judgement.situation import Situation
from pondus.core.log.records import Move, Reading


@dataclass(frozen=True)
class Segment:
    """Two readings in a row, and what was done between them. ``pulled_cents``: how far turns of the others moved the string
    meanwhile; None where nobody knows.
    """

    before: Reading
    moves: tuple[Move, ...]
    after: Reading
    pulled_cents: float | None = 0.0


def one_move(move: Move, before: Advice | Judged) -> RecentMove | None:
    """A move as the advice takes it; None where nobody knows where the string stood before it."""
    if before.state == "other-string" or (before.cents_off is None and before.side is None):
        return None
    return RecentMove(
        move.mechanism,
        move.direction,
        move.amount,
        move.unit,
        before.cents_off,
        from_give_or_take=before.give_or_take if isinstance(before, Judged) else 0.0,
        from_side=before.side if before.cents_off is None else None,
        expect_cents=move.expect_cents,
        expect_plus_minus=move.expect_plus_minus,
    )


def recent_move(facts: Situation, segments: Sequence[Segment]) -> RecentMove | None:
    """The move before the last reading, with those before it the same way that had no effect either; where several were made
    between two readings, none can be held to account.

    Where a move had no effect or went the wrong way and nobody has said why, it stays the last one however often the string is
    read again, until a reading shows that it did what it should.
    """
    last = next((at for at in reversed(range(len(segments))) if segments[at].moves), None)
    if last is None:
        return None
    recent = _with_those_before(facts, segments[: last + 1])
    read_again = segments[last:-1]
    if recent is None or not read_again:
        return recent
    is_open = segments[last].moves[-1].answer is None
    return recent if is_open and all(_is_asked_at(facts, recent, each.after) for each in read_again) else None


def _is_asked_at(facts: Situation, recent: RecentMove, reading: Reading) -> bool:
    judged = judge(facts, reading.heard, sure=reading.sure_of_string, recent=None)
    if judged.cents_off is None:
        return judged.side is not None and sign_of_side(facts, recent, judged.side) is not None
    return sign_of(facts, recent, judged.cents_off, give_or_take=judged.give_or_take) is not None


def _with_those_before(facts: Situation, segments: Sequence[Segment]) -> RecentMove | None:
    plain = _as_by_kind(facts)
    last = _move_of(facts, segments[-1])
    if last is None:
        return None
    repeats = _repeats(facts, segments[:-1])
    if not _showed_nothing(facts, plain, last, segments[-1].after):
        return replace(last, repeats=repeats) if last.turned is not None and last.from_cents is not None else last
    first, due, spread = last, _expected(plain, last), _spread(plain, last)
    for segment in reversed(segments[:-1]):
        if not segment.moves:  # it was read again
            continue
        earlier = _move_of(facts, segment)
        if earlier is None or segment.moves[-1].answer is not None or not _alike(earlier, last):
            break
        if not _showed_nothing(facts, plain, earlier, segment.after):
            break
        first, due, spread = earlier, due + _expected(plain, earlier), spread + _spread(plain, earlier)
    if last.turned is None:
        return last
    return RecentMove(
        **{
            **last.__dict__,
            "from_cents": first.from_cents,
            "from_give_or_take": first.from_give_or_take,
            "expect_cents": due,
            "expect_plus_minus": spread,
            "repeats": repeats,
        }
    )


def _showed_nothing(facts: Situation, plain: Situation, move: RecentMove, after: Reading) -> bool:
    """Whether nothing could be seen of a move: the side stayed, or the figure did."""
    judged = judge(facts, after.heard, sure=after.sure_of_string, recent=None)
    if move.from_side is not None:
        return judged.cents_off is None and judged.side == move.from_side
    along = None if judged.cents_off is None else change_along(move, judged.cents_off)
    least = least_due_cents(plain, move)
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
        off = _off(facts, segment.after)
        if move is None:
            continue
        unanswered = segment.moves[-1].answer in (None, "not-turned") and facts.peg.state != "sticks"
        if off is None or sign_of(facts, move, off) != "no-effect" or unanswered:
            break
        count += 1
    return count


def _move_of(facts: Situation, segment: Segment) -> RecentMove | None:
    if len(segment.moves) != 1:
        return None
    before = segment.before
    move = one_move(segment.moves[0], judge(facts, before.heard, sure=before.sure_of_string, recent=None))
    return None if move is None else _from_where_it_stood(facts, move, segment.pulled_cents)


def _from_where_it_stood(facts: Situation, move: RecentMove, pulled_cents: float | None) -> RecentMove:
    """The move from where the string stood by then. Where that is too uncertain to tell what the move did, it isn't held to
    account.
    """
    if pulled_cents == 0.0:
        return move
    if pulled_cents is None or move.from_cents is None:
        return replace(move, effect_known=False)
    told = abs(pulled_cents) <= max(WRONG_WAY_CENTS, EFFECT_SHARE * _expected(facts, move))
    return replace(move, from_cents=move.from_cents + pulled_cents, effect_known=move.effect_known and told)


def _off(facts: Situation, reading: Reading) -> float | None:
    return judge(facts, reading.heard, sure=reading.sure_of_string, recent=None).cents_off


def _alike(one: RecentMove, other: RecentMove) -> bool:
    return (one.mechanism, one.direction) == (other.mechanism, other.direction)


def _rate(facts: Situation, move: RecentMove) -> tuple[float, float]:
    rate = facts.screw_rate if move.mechanism == "fine-tuner" else facts.peg_rate
    return rate.cents, rate.plus_minus


def _expected(facts: Situation, move: RecentMove) -> float:
    if move.expect_cents is not None:
        return abs(move.expect_cents)
    return (move.amount_in_own_unit or 0.0) * _rate(facts, move)[0]


def _spread(facts: Situation, move: RecentMove) -> float:
    if move.expect_plus_minus is not None:
        return move.expect_plus_minus
    cents, plus_minus = _rate(facts, move)
    return _expected(facts, move) * plus_minus / cents
