"""A tuning's log as it is understood: with the moves that nobody told of, and where each screw stands after them.

The log is gone through once, in its order. Between two readings of a string nobody may have pressed anything: what the bench
showed then is known (advice is a function of the log), and `likely` says whether the figure that follows stands for it. What is
heard while the hand still turns passes; what rests counts. A figure that nothing explains is played again before it counts.
"""

import math
from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta
from uuid import UUID, uuid5

from pondus.core.hands.advised import Advised, advised
from pondus.core.hands.interval import Interval, interval_of
from pondus.core.hands.likely import FOLLOWS, LISTENS, PASSES_BY, PLAYS_FIRST, SEATS, Due, Likely, likely
from pondus.core.judgement.coupling import Coupling
from pondus.core.judgement.heard import Heard
from pondus.core.judgement.mechanism import PULL_DID_CENTS
from pondus.core.judgement.reading import CAME_DOWN_FROM_CENTS, SLACK_CENTS, SLACK_UNTIL_CENTS, Judged, judge
from pondus.core.judgement.round import FAR_DOWN_CENTS
from pondus.core.judgement.situation import FineTuner, Situation
from pondus.core.judgement.steps import Step
from pondus.core.log.moves import Segment
from pondus.core.log.pulls import Entry, pull_cents, turned_strings
from pondus.core.log.records import (
    SCREW_TURNED,
    FittedString,
    Move,
    Reading,
    TuningLog,
    with_screw_at,
)
from pondus.core.mechanics import change_at_pitch
from pondus.core.pitch import cents_between, name_of, parse_note

PASSING_SECONDS = 1.5
"""R120: a string heard again by a microphone within so long is being played on: only where it rests counts."""
JUMP_CENTS, SAME_AGAIN_CENTS = 15.0, 15.0
"""R121: a change of more than this that nothing explains is played again; heard again this near, it counts."""
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
MIDDLE_OCTAVE, SAME_OCTAVE_CENTS = 60, 350.0
PULLS_KNOWN_BY = 0.5
"""How far the others pull is known by half at best."""


@dataclass(frozen=True)
class ScrewTurned:
    """How far a string's screw was turned at a place of the log: by ``turns`` where the amount is known, else by as much as
    makes ``cents`` at pitch. ``at_end``: +1 or -1 where it is said to have met its end, all in or all out.
    """

    seq: float
    turns: float
    cents: float = 0.0
    at_end: int = 0


@dataclass(frozen=True)
class Height:
    """What a reading tells together with those before it. ``cents``: off the target, None where nobody knows; ``slack``: the
    string comes up from slack; ``guessed``: it was let down from far above while nobody knew its octave, and nobody has said it
    since.
    """

    cents: float | None
    slack: bool
    guessed: bool
    octave_guess: bool
    at: datetime


def _height(
    fitted: FittedString, facts: Situation, reading: Reading, off: float | None, before: Height | None
) -> Height:
    """R6: slack begins more than 700 cents under, or as a string begins to sound, and lasts until it is within 100 cents."""
    began = fitted.slack_since is not None and reading.at >= fitted.slack_since
    slack = before is not None and before.slack
    if began and (before is None or fitted.slack_since is None or before.at < fitted.slack_since):
        slack = True
    hz = reading.hz(facts.a4)
    if off is not None and (slack or hz is not None):
        slack = off < -SLACK_CENTS or (slack and off < -SLACK_UNTIL_CENTS)
    guessed = before is not None and before.guessed
    if _knows_octave(reading) or reading.sure_of_string:
        guessed = False
    elif before is not None and before.cents is not None and off is not None and not guessed:
        guessed = before.octave_guess and before.cents >= CAME_DOWN_FROM_CENTS and off < before.cents
    return Height(off, slack, guessed, not _knows_octave(reading), reading.at)


@dataclass
class InHand:
    """One string's log, gone through so far."""

    fitted: FittedString
    facts: Situation
    readings: list[Reading] = field(default_factory=list)
    heights: list[Height] = field(default_factory=list)
    judgements: dict[UUID, Judged] = field(default_factory=dict)
    moves: list[Move] = field(default_factory=list)
    segments: list[Segment] = field(default_factory=list)
    screw: list[ScrewTurned] = field(default_factory=list)
    waiting: list[Move] = field(default_factory=list)
    taken_back: tuple[float, ...] = ()
    misread: list[Reading] = field(default_factory=list)
    jumped_from: float | None = None
    was_read: int = 0
    tells: bool = False
    seq: float = 0.0
    others_far_down: bool = False

    @property
    def heard_again(self) -> int:
        """How often in a row it was heard again with nothing turned, as far as is known."""
        return next((at for at, one in enumerate(reversed(self.segments)) if one.moves), len(self.segments))

    @property
    def now(self) -> Situation:
        """The string as it is known by now: where its screw stands, whether it comes up from slack."""
        facts = self.facts
        if facts.fine_tuner is not None:
            facts = with_screw_at(facts, self._screw_place(facts, facts.fine_tuner))
        height = self.heights[-1] if self.heights else None
        answers = [move.answer for move in self.moves]
        return replace(
            facts,
            slack=height is not None and height.slack,
            octave_guessed=height is not None and height.guessed,
            others_far_down=self.others_far_down,
            sprang_back=answers.count("sprang-back"),
            pulled_in_vain=self._pulls_in_vain(),
        )

    def _screw_place(self, facts: Situation, tuner: FineTuner) -> float:
        """Where its screw stands, in turns from the middle. Before somebody looked, in this tuning, it was taken to be there.

        A screw at its end goes no further, and comes back from there.
        """
        seen = self.fitted.screw_set_seq <= self.seq
        place, reach, rate = tuner.turns_from_middle if seen else 0.0, tuner.reach_turns, facts.screw_rate.cents
        told = [ScrewTurned(move.seq, move.signed_amount) for move in self.waiting if move.mechanism == "fine-tuner"]
        for each in (*self.screw, *told):
            if seen and each.seq <= self.fitted.screw_set_seq:
                continue
            place = max(-reach, min(reach, place + each.turns + each.cents / rate))
            if each.at_end:
                place = reach if each.at_end > 0 else -reach
        return place

    def judged(self, reading: Reading) -> Judged:
        """Where a reading says that the string stands."""
        found = self.judgements.get(reading.id)
        if found is None:
            facts = replace(self.facts, others_far_down=self.others_far_down)
            found = judge(facts, reading.heard, sure=reading.sure_of_string, recent=None)
            self.judgements[reading.id] = found
        return found

    def hear(self, reading: Reading) -> None:
        """One reading more; whether the string is slack by now, and whether it came down on a guess about its octave."""
        before, judged = self.heights[-1] if self.heights else None, self.judged(reading)
        where = interval_of(judged, reading.heard)
        off = judged.cents_off if where is None or reading.heard.note is None else where.middle
        self.heights.append(_height(self.fitted, self.facts, reading, off, before))
        self.readings.append(reading)

    def forget(self) -> None:
        """The last reading was a wrong note."""
        self.misread.append(self.readings.pop())
        self.heights.pop()
        self.segments.pop()

    def _pulls_in_vain(self) -> int:
        """How many of its last stretches were pulls that did nothing."""
        count = 0
        for segment in reversed(self.segments):
            if not segment.moves or any(move.mechanism != "tug" for move in segment.moves):
                break
            here, there = self.judged(segment.before).cents_off, self.judged(segment.after).cents_off
            if here is None or there is None or here - there > PULL_DID_CENTS:
                break
            count += 1
        return count

    def advised(self) -> Advised:
        """The advice on the last reading."""
        return advised(self.now, self.readings, self.moves, self.segments, from_cents=self.jumped_from)


@dataclass(frozen=True)
class Understood:
    """A tuning as it is understood: each string's log, and the whole with all moves, told or taken as made."""

    strings: Mapping[str, InHand]
    log: TuningLog


def _knows_octave(reading: Reading) -> bool:
    note = reading.heard.note
    return note is None or note[-1].isdigit()


def understood(log: TuningLog, fitted: Mapping[str, tuple[FittedString, Situation]], coupling: Coupling) -> Understood:
    """Go through a tuning's log. ``fitted``: each string that is on, with its facts before the first entry."""
    hands = {name: InHand(string, facts) for name, (string, facts) in fitted.items()}
    log = replace(log, readings=resting([at_reference(reading, log.tuning.a4) for reading in log.readings]))
    for string, own in hands.items():
        own.taken_back = tuple(move.seq for move in log.moves if move.voided and move.string == string)
    lines: list[Entry] = []
    last: Reading | Move | None = None
    counting: list[Reading | Move] = [*log.counting_readings, *log.counting_moves]
    for entry in sorted(counting, key=lambda entry: entry.seq):
        hand = hands.get(entry.string)
        if hand is None:
            continue
        hand.seq = entry.seq
        if isinstance(entry, Move):
            hand.waiting.append(entry)
            for each in hands.values():
                each.tells = True
            lines.append(Entry(entry.seq, entry.string, turned=True))
        else:
            hand.others_far_down = _far_down(hands, entry.string)
            reading = _with_octave(hand, entry)
            lines.append(Entry(reading.seq, reading.string, reading.hz(log.tuning.a4)))
            taken = _read(hand, reading, _pulled(hand, reading, lines, coupling), _was_followed(hand, hands, last))
            lines += [Entry(move.seq, move.string, turned=True) for move in taken]
            wrong = {one.seq for one in hand.misread}
            lines = [line for line in lines if line.seq not in wrong] if wrong else lines
        last = entry
    for name, hand in hands.items():
        hand.others_far_down, hand.seq = _far_down(hands, name), math.inf
    moves = sorted(
        [*log.moves, *(move for hand in hands.values() for move in hand.moves if move.taken)], key=lambda move: move.seq
    )
    known = {move.id: move for hand in hands.values() for move in hand.moves}
    misread = {one.id for hand in hands.values() for one in hand.misread}
    return Understood(
        hands,
        replace(
            log,
            moves=tuple(known.get(move.id, move) for move in moves),
            readings=tuple(replace(each, misread=True) if each.id in misread else each for each in log.readings),
        ),
    )


def at_reference(reading: Reading, a4: float) -> Reading:
    """A reading as a tuner shows it that is set to ``a4`` (Hz), where another reference was set when it was read. A side is no
    more than a note then: nobody knows what it would show now.

    >>> from datetime import UTC, datetime
    >>> from uuid import uuid4
    >>> heard = Heard(note="A4", cents=0.0)
    >>> shown = Reading(uuid4(), "A", 1, datetime(2026, 7, 4, tzinfo=UTC), heard=heard, read_at_a4=440.0)
    >>> at_reference(shown, 442.0).heard
    Heard(note='A4', cents=-7.85, hz=None, side=None)
    """
    heard, was = reading.heard, reading.read_at_a4
    if was is None or was == a4 or heard.note is None or heard.is_bare:
        return reading
    if heard.side in ("flat", "sharp"):
        return replace(reading, heard=Heard(note=heard.note))
    note, cents = parse_note(heard.note), (heard.cents or 0.0) + cents_between(was, a4)
    away = round(cents / 100.0)
    name = name_of((MIDDLE_OCTAVE + note.pitch_class if note.number is None else note.number) + away)
    shown = name if note.number is not None else name.rstrip("0123456789")
    return replace(reading, heard=Heard(note=shown, cents=round(cents - 100.0 * away, 2)))


def resting(readings: Sequence[Reading]) -> tuple[Reading, ...]:
    """R120: the readings, those that a microphone took while the string was played on marked as passing: all but the first and
    the last.
    """
    own: dict[str, list[Reading]] = defaultdict(list)
    for reading in readings:
        if reading.counts:
            own[reading.string].append(reading)
    passing = {
        here.id
        for line in own.values()
        for before, here, after in zip(line, line[1:], line[2:], strict=False)
        if _goes_on(before, here) and _goes_on(here, after)
    }
    return tuple(replace(each, passing=True) if each.id in passing else each for each in readings)


def _goes_on(before: Reading, after: Reading) -> bool:
    played_on = before.is_live and after.is_live
    return played_on and timedelta(0) <= after.at - before.at <= timedelta(seconds=PASSING_SECONDS)


def _pulled(hand: InHand, reading: Reading, lines: Sequence[Entry], coupling: Coupling) -> float | None:
    """How far the others pulled a string since its last reading, in cents; None where nobody knows."""
    if not hand.readings:
        return 0.0
    since, string = hand.readings[-1].seq, reading.string
    if not any(line.turned and line.seq > since and line.string != string for line in lines):
        return 0.0
    return pull_cents(turned_strings(lines), coupling, string, since=since, until=reading.seq)


def _was_followed(hand: InHand, hands: Mapping[str, InHand], last: Reading | Move | None) -> bool:
    """Whether this string was the one to turn: it was read just before, or another was just brought in or heard for the first
    time.
    """
    if last is None or not hand.readings:
        return False
    if last.string == hand.fitted.name:
        return True
    other = hands[last.string]
    return other.was_read == 1 or bool(other.segments and other.segments[-1].moves)


def _far_down(hands: Mapping[str, InHand], string: str) -> bool:
    """Whether another string was far down when its octave was first known: then this one will hardly have been sharp."""
    for name, hand in hands.items():
        known = (each.cents for each in hand.heights if each.cents is not None and not each.octave_guess)
        if name != string and next(known, 0.0) < -FAR_DOWN_CENTS:
            return True
    return False


def _with_octave(hand: InHand, reading: Reading) -> Reading:
    """A letter without its octave, where the string's last octave is known: it stands between where it stood and where the last
    moves should have brought it, or near that.
    """
    heard = reading.heard
    if _knows_octave(reading) or heard.note is None or not hand.heights:
        return reading
    before = hand.heights[-1]
    if before.cents is None or before.octave_guess:
        return reading
    aims = [step.aim_cents for step in hand.advised().advice.steps if step.aim_cents is not None]
    low, high = min([before.cents, *aims]), max([before.cents, *aims])
    pitch_class = parse_note(heard.note).pitch_class
    base = hand.facts.string.note_number
    away = (pitch_class - base) % 12
    nearest = min(
        (base + away + 12 * octave for octave in (-3, -2, -1, 0, 1)),
        key=lambda number: _outside(100.0 * (number - base) + (heard.cents or 0.0), low, high),
    )
    if _outside(100.0 * (nearest - base) + (heard.cents or 0.0), low, high) > SAME_OCTAVE_CENTS:
        return reading
    known = replace(heard, note=name_of(nearest, spelling=hand.facts.spelling))
    return replace(reading, heard=known, as_shown=heard)


def _outside(cents: float, low: float, high: float) -> float:
    """How far outside an interval."""
    return max(low - cents, cents - high, 0.0)


def _read(hand: InHand, reading: Reading, pulled: float | None, followed: bool) -> list[Move]:
    """Take a reading in; the moves that it stands for and nobody told of."""
    hand.was_read += 1
    if not hand.readings:
        hand.hear(reading)
        hand.moves += hand.waiting
        hand.waiting = []
        return []
    before, told = hand.readings[-1], hand.waiting
    hand.waiting = []
    confirmed = False
    if hand.jumped_from is not None and not told:
        confirmed = _agree(hand, before, reading)
        if not confirmed:  # the jump was a wrong note: what is heard now is held to what was before
            hand.forget()
            before = hand.readings[-1]
    hand.jumped_from = None
    taken: list[Move] = []
    if not told and not confirmed:
        taken = _taken(hand, before, reading, pulled, followed=followed)
    moves = tuple(_exact(move, hand.facts) for move in told) or tuple(taken)
    hand.screw += _screw_turned(hand, before, reading, moves, pulled)
    hand.moves += moves
    hand.segments.append(Segment(before, moves, reading, pulled))
    hand.hear(reading)
    return taken


def _where(hand: InHand, reading: Reading) -> Interval | None:
    return interval_of(hand.judged(reading), reading.heard)


def _agree(hand: InHand, one: Reading, other: Reading) -> bool:
    here, there = _where(hand, one), _where(hand, other)
    return here is not None and there is not None and abs(here.middle - there.middle) <= SAME_AGAIN_CENTS


def _exact(move: Move, facts: Situation) -> Move:
    """A turn while the string sounds ends at an aim: its amount as shown was no more than an orientation. Whoever told an
    amount of their own (nothing was expected of it) knows it.
    """
    known = not facts.while_sounding or move.expect_cents is None or move.mechanism == "tug"
    return move if known else replace(move, exact=False)


def _taken(hand: InHand, before: Reading, after: Reading, pulled: float | None, *, followed: bool) -> list[Move]:
    """The moves that this reading stands for. Where nothing explains it, the string has jumped."""
    here, there = _where(hand, before), _where(hand, after)
    if here is None or there is None:
        return []
    if any(
        before.seq < seq < after.seq for seq in hand.taken_back
    ):  # somebody said what was turned, and that it wasn't
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
    found = likely(change, due, prior=_prior(hand, after, pulled, followed=followed))
    happened = found.happened
    if happened == "part" and change.is_figure and abs(change.middle) < UNTOUCHED_CENTS:
        happened = "no-effect"
    if happened == "nothing" and found.shares.get("no-effect", 0.0) > ASKED_PAST:
        happened = "no-effect"
    if happened == "else":
        slack = here.middle < -SLACK_CENTS or hand.now.slack
        plays_on = _goes_on(before, after)
        if change.is_figure and abs(change.middle) > JUMP_CENTS and not (slack or plays_on or after.turn_answer):
            hand.jumped_from = here.middle
        return []
    if happened == "nothing" or (after.turn_answer == "not-turned" and happened != "wrong-way"):
        return []
    made = found.listed if happened == "next-ones" else 1
    return [
        _made(hand, step, after, replace(found, happened=happened), here, change, place=at - made)
        for at, (step, _) in enumerate(steps[:made])
    ]


def _prior(hand: InHand, after: Reading, pulled: float | None, *, followed: bool) -> float:
    """How likely what was shown was done though nobody told of it."""
    if hand.tells or pulled is None or abs(pulled) > OUTDATED_CENTS:
        return PLAYS_FIRST
    if not followed:
        return PASSES_BY
    if after.is_live:
        return 1.0 - (1.0 - LISTENS) ** (1 + hand.heard_again)
    seats = (
        after.heard.has_figure
        and hand.facts.peg.kind == "friction"
        and bool(hand.segments)
        and bool(hand.segments[-1].moves)
    )
    return SEATS if seats and hand.segments[-1].moves[-1].mechanism == "peg" else FOLLOWS


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
    hand: InHand, step: Step, reading: Reading, found: Likely, here: Interval, change: Interval, *, place: int
) -> Move:
    """A shown move as it was made, by what the string did. ``place``: so many before the last one made."""
    mechanism = _mechanism(step)
    amount = 1.0 if step.amount is None else step.amount
    as_shown = found.happened in ("as-shown", "no-effect", "wrong-way", "gave-way") and mechanism != "tug"
    went = change.is_figure and found.happened in ("as-shown", "part", "more") and mechanism != "tug"
    reckoned = went and (found.happened != "as-shown" or step.until is not None)
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
        exact=step.until is None and found.shares.get("as-shown", 0.0) > SURE_SHARE,
    )


def _screw_turned(
    hand: InHand, before: Reading, after: Reading, moves: Iterable[Move], pulled: float | None
) -> list[ScrewTurned]:
    """How far these moves turned the screw: by what was told, or where only the end was known, by what the string did."""
    made = list(moves)
    own = [move for move in made if move.mechanism == "fine-tuner"]
    if len(own) == len(made) == 1 and not own[0].exact and own[0].answer in (None, "not-turned"):
        here, there = _where(hand, before), _where(hand, after)
        if here is not None and there is not None and here.is_figure and there.is_figure:
            from_cents = here.middle + (pulled or 0.0)
            return [ScrewTurned(own[0].seq, 0.0, change_at_pitch(from_cents, there.middle))]
    if own and own[-1].answer == "end-or-loose":
        return [ScrewTurned(own[-1].seq, 0.0, at_end=1 if own[-1].direction == "raise" else -1)]
    shares = [1 if move.answer is None else SCREW_TURNED.get(move.answer, 1) for move in own]
    return [ScrewTurned(move.seq, share * move.signed_amount) for move, share in zip(own, shares, strict=True)]
