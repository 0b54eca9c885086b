"""The moves that a reading stands for and nobody told of; how far told ones turned a screw. Rules R51, R122."""

from collections.abc import Iterable
from dataclasses import replace
from uuid import uuid5

from pondus.core.hands.in_hand import InHand, ScrewTurned, goes_on
from pondus.core.hands.interval import Interval
from pondus.core.hands.likely import FOLLOWS, LISTENS, PASSES_BY, PLAYS_FIRST, SEATS, Due, Likely, likely
from pondus.core.hands.records import SCREW_TURNED, Move, Reading
from pondus.core.instruments.mechanics import change_at_pitch
from pondus.core.judgement.reading import SLACK_CENTS
from pondus.core.judgement.steps import Step

JUMP_CENTS, SAME_AGAIN_CENTS = 15.0, 15.0
"""R122: a change of more than this that nothing explains is played again; heard again this near, it counts."""
NEARER_CENTS, UNTOUCHED_CENTS = 5.0, 2.0
OUTDATED_CENTS = 1.5
"""R114: when the others have pulled a string by more than that since it was read, it is played again before it is turned."""
ASKED_PAST = 0.1
"""A turn that did nothing is asked about where that is more likely than this."""
SURE_SHARE = 0.8
"""A move that nobody told of teaches where it is this sure that just what was shown was made."""
STOPS_WITHIN_CENTS = 8.0
"""How near its aim a hand stops that turns while the string sounds (one standard deviation)."""
HAND_ERROR = {"fine-tuner": 0.15, "peg": 0.40, "tug": 0.40}
PULLS_KNOWN_BY = 0.5
"""How far the others pull is known by half at best."""


def taken_moves(hand: InHand, before: Reading, after: Reading, pulled: float | None, *, followed: bool) -> list[Move]:
    """The moves that this reading stands for. Where nothing explains it, the string has jumped."""
    here, there = hand.where(before), hand.where(after)
    if here is None or there is None:
        return []
    if any(before.seq < seq < after.seq for seq in hand.taken_back):  # what was told, and then that it wasn't so
        return []
    begun_anew = hand.fitted.slack_since is not None and before.at < hand.fitted.slack_since <= after.at
    if begun_anew:
        return []
    change = there.minus(here.moved(pulled or 0.0, give_or_take=PULLS_KNOWN_BY * abs(pulled or 0.0)))
    shown = hand.advised().advice
    if shown.state in ("no-effect", "wrong-way"):
        return _turned_again(hand, after, here, there, change)
    steps = _listed(shown.steps)
    due = [_due(step, here if at == 0 else None, earlier) for at, (step, earlier) in enumerate(steps)]
    likeliest = likely(change, due, prior=_prior(hand, after, pulled, followed=followed))
    happened = likeliest.happened
    if happened == "part" and change.is_figure and abs(change.middle) < UNTOUCHED_CENTS:
        happened = "no-effect"
    if happened == "nothing" and likeliest.shares.get("no-effect", 0.0) > ASKED_PAST:
        happened = "no-effect"
    if happened == "else":
        slack = here.middle < -SLACK_CENTS or hand.now.slack
        plays_on = goes_on(before, after)
        if change.is_figure and abs(change.middle) > JUMP_CENTS and not (slack or plays_on or after.turn_answer):
            hand.jumped_from = here.middle
        return []
    if happened == "nothing" or (after.turn_answer == "not-turned" and happened != "wrong-way"):
        return []
    made = likeliest.listed if happened == "next-ones" else 1
    return [
        _made(hand, step, after, replace(likeliest, happened=happened), here, change, place=at - made)
        for at, (step, _) in enumerate(steps[:made])
    ]


def _prior(hand: InHand, after: Reading, pulled: float | None, *, followed: bool) -> float:
    """How likely what was shown was done though nobody told of it."""
    if after.id in hand.heard_together:
        return PLAYS_FIRST
    if hand.tells or pulled is None or abs(pulled) > OUTDATED_CENTS:
        return PLAYS_FIRST
    if not followed or after.source == "recording":
        return PASSES_BY
    if after.is_live:
        return 1.0 - (1.0 - LISTENS) ** (1 + hand.heard_again)
    last = hand.segments[-1].moves if hand.segments else ()
    by_peg = bool(last) and last[-1].mechanism == "peg" and hand.facts.peg.kind == "friction"
    return SEATS if by_peg and after.heard.has_figure else FOLLOWS


def _turned_again(hand: InHand, after: Reading, here: Interval, there: Interval, change: Interval) -> list[Move]:
    """While it is asked what a move was, nothing is shown to be turned. A string that comes nearer all the same was turned:
    what was in hand before, the other way or at last; a peg that sticks was tried again.
    """
    last = next((move for move in reversed(hand.moves) if move.mechanism != "tug"), None)
    if last is None or after.turn_answer == "not-turned":
        return []
    nearer = abs(here.middle) - abs(there.middle) > NEARER_CENTS
    again = hand.facts.peg.state == "sticks" and last.mechanism == "peg" and not after.is_live
    if not (nearer and change.is_figure) and not again:
        return []
    facts = hand.facts
    rate = facts.peg_rate if last.mechanism == "peg" else facts.screw_rate
    amount = abs(change_at_pitch(here.middle, there.middle)) / rate.cents if nearer else last.amount
    direction = ("raise" if change.middle > 0.0 else "lower") if nearer else last.direction
    return [
        replace(
            last,
            id=after.id,
            seq=after.seq - 1.0 / 16.0,
            at=after.at,
            direction=direction,
            amount=amount,
            expect_cents=None if nearer else last.expect_cents,
            expect_plus_minus=None if nearer else last.expect_plus_minus,
            answer=after.turn_answer,
            taken=True,
            exact=False,
        )
    ]


def _listed(steps: Iterable[Step]) -> list[tuple[Step, Step | None]]:
    """What was shown to be turned, in its order, each with the one before; nothing where no step turned anything first."""
    listed: list[tuple[Step, Step | None]] = []
    for step in steps:
        if step.do in ("check", "tug", "look-at-bridge"):
            continue
        if not step.is_counted or step.pitch is None or (step.amount is None and step.do != "tug-down"):
            break
        listed.append((step, listed[-1][0] if listed else None))
    return listed


def _due(step: Step, here: Interval | None, earlier: Step | None) -> Due:
    """What a listed move should do; ``here``: where the string stood before the first of them."""
    mechanism = _mechanism(step)
    if here is None:
        was = 0.0 if earlier is None or earlier.aim_cents is None else earlier.aim_cents
        cents = (step.aim_cents or 0.0) - was
        return Due(cents, STOPS_WITHIN_CENTS + HAND_ERROR[mechanism] * abs(cents), step.until is not None)
    if step.until is not None and step.aim_cents is not None:
        return Due(step.aim_cents - here.middle, STOPS_WITHIN_CENTS, aim_only=True)
    cents = step.expect_cents or 0.0
    spread = step.expect_plus_minus or 0.0
    return Due(cents, (spread**2 + (HAND_ERROR[mechanism] * cents) ** 2) ** 0.5)


def _mechanism(step: Step) -> str:
    if step.do == "tug-down":
        return "tug"
    return "peg" if step.do == "turn-peg" else "fine-tuner"


def _made(
    hand: InHand, step: Step, reading: Reading, likeliest: Likely, here: Interval, change: Interval, *, place: int
) -> Move:
    """A shown move as it was made, by what the string did. ``place``: so many before the last one made."""
    mechanism = _mechanism(step)
    amount = 1.0 if step.amount is None else step.amount
    as_shown = likeliest.happened in ("as-shown", "no-effect", "wrong-way", "gave-way") and mechanism != "tug"
    went = change.is_figure and likeliest.happened in ("as-shown", "part", "more") and mechanism != "tug"
    reckoned = went and (likeliest.happened != "as-shown" or step.until is not None)
    if reckoned:
        rate = hand.facts.peg_rate if mechanism == "peg" else hand.facts.screw_rate
        amount = max(1e-3, abs(change_at_pitch(here.middle, here.middle + change.middle)) / rate.cents)
    expects = as_shown and not reckoned
    return Move(
        id=reading.id if place == -1 else uuid5(reading.id, f"taken {-place}"),
        string=reading.string,
        seq=reading.seq + place / 16.0,
        at=reading.at,
        entered_by=reading.entered_by,
        mechanism=mechanism,  # type: ignore[arg-type]
        direction=step.pitch or "lower",
        amount=amount,
        unit="degree" if mechanism == "peg" else "turn",
        expect_cents=step.expect_cents if expects else None,
        expect_plus_minus=step.expect_plus_minus if expects else None,
        answer=reading.turn_answer,
        taken=True,
        shown=step.amount,
        exact=step.until is None and likeliest.shares.get("as-shown", 0.0) > SURE_SHARE,
    )


def screw_turned(
    hand: InHand, before: Reading, after: Reading, moves: Iterable[Move], pulled: float | None
) -> list[ScrewTurned]:
    """How far these moves turned the screw: by what was told, or where only the end was known, by what the string did."""
    made = list(moves)
    own = [move for move in made if move.mechanism == "fine-tuner"]
    if len(own) == len(made) == 1 and not own[0].exact and own[0].answer in (None, "not-turned"):
        here, there = hand.where(before), hand.where(after)
        if here is not None and there is not None and here.is_figure and there.is_figure:
            from_cents = here.middle + (pulled or 0.0)
            return [ScrewTurned(own[0].seq, 0.0, change_at_pitch(from_cents, there.middle))]
    if own and own[-1].answer == "end-or-loose":
        return [ScrewTurned(own[-1].seq, 0.0, at_end=1 if own[-1].direction == "raise" else -1)]
    shares = [1 if move.answer is None else SCREW_TURNED.get(move.answer, 1) for move in own]
    return [ScrewTurned(move.seq, share * move.signed_amount) for move, share in zip(own, shares, strict=True)]
