"""A tuning's log as it is understood: with the moves that nobody told of, and where each screw stands after them.

The log is gone through once, in its order. Between two readings of a string nobody may have pressed anything: what the bench
showed then is known (advice is a function of the log), and `likely` says whether the figure that follows stands for it. What is
heard while the hand still turns passes; what rests counts. A figure that nothing explains is played again before it counts.
"""

import math
from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from pondus.core.hands.fifth_checks import reading_id
from pondus.core.hands.in_hand import InHand, goes_on, knows_octave
from pondus.core.hands.last_move import Segment
from pondus.core.hands.pulls import Turned, pull_cents
from pondus.core.hands.records import FittedString, Move, Reading, TuningLog
from pondus.core.hands.taken import SAME_AGAIN_CENTS, screw_turned, taken_moves
from pondus.core.judgement.coupling import Coupling
from pondus.core.judgement.heard import WAYS, Heard
from pondus.core.judgement.round import FAR_DOWN_CENTS
from pondus.core.judgement.situation import Situation
from pondus.core.pitch.notes import cents_between, name_of, parse_note

MIDDLE_OCTAVE, SAME_OCTAVE_CENTS, IN_DOUBT_CENTS, SHARP_GUESS_CENTS = 60, 350.0, 200.0, 60.0


@dataclass(frozen=True)
class Understood:
    """A tuning as it is understood: each string's log, and the whole with all moves, told or taken as made."""

    strings: Mapping[str, InHand]
    log: TuningLog
    coupling: Coupling

    @cached_property
    def turns(self) -> list[Turned]:
        """All that was turned."""
        return [turned for hand in self.strings.values() for turned in hand.turns]

    def pulled(self, string: str, *, since: float, until: float = math.inf) -> float | None:
        """How far the others' turns pulled a string between two places of the log, in cents; None where nobody knows."""
        return pull_cents(self.turns, self.coupling, string, since=since, until=until)


def understood(log: TuningLog, fitted: Mapping[str, tuple[FittedString, Situation]], coupling: Coupling) -> Understood:
    """Go through a tuning's log. ``fitted``: each string that is on, with its facts before the first entry."""
    hands = {name: InHand(string, facts) for name, (string, facts) in fitted.items()}
    log = replace(log, readings=resting([at_reference(reading, log.tuning.a4) for reading in log.readings]))
    together = frozenset(reading_id(check.id, side) for check in log.checks for side in ("lower", "upper"))
    for string, own in hands.items():
        own.heard_together = together
        own.taken_back = tuple(move.seq for move in log.moves if move.voided and move.string == string)
    _go_through(log, hands, coupling)
    for name, hand in hands.items():
        hand.others_far_down, hand.seq = _far_down(hands, name), math.inf
    known = {move.id: move for hand in hands.values() for move in hand.moves}
    taken = [move for move in known.values() if move.taken]
    moves = sorted([*log.moves, *taken], key=lambda move: move.seq)
    misread = {one.id for hand in hands.values() for one in hand.misread}
    readings = tuple(replace(reading, misread=True) if reading.id in misread else reading for reading in log.readings)
    log = replace(log, moves=tuple(known.get(move.id, move) for move in moves), readings=readings)
    return Understood(hands, log, coupling)


def _go_through(log: TuningLog, hands: Mapping[str, InHand], coupling: Coupling) -> None:
    """Each entry that counts, in its order, taken in by its string."""
    last: Reading | Move | None = None
    counting: list[Reading | Move] = [*log.counting_readings, *log.counting_moves]
    for entry in sorted(counting, key=lambda entry: entry.seq):
        hand = hands.get(entry.string)
        if hand is None:
            continue
        hand.seq = entry.seq
        if isinstance(entry, Move):
            hand.waiting.append(entry)
            _tell(hands, True)
        else:
            hand.others_far_down = _far_down(hands, entry.string)
            while _answers(hand, entry):
                hand.take_back()
            reading = _with_octave(hand, entry)
            pulled: float | None = 0.0
            if hand.readings:
                turns = (turned for other in hands.values() for turned in other.turns)
                since = hand.readings[-1].seq
                pulled = pull_cents(turns, coupling, entry.string, since=since, until=reading.seq)
            if _read(hand, reading, pulled, _was_followed(hand, hands, last)):
                _tell(hands, False)  # whoever told of a move once need not tell of each
        last = entry


def _tell(hands: Mapping[str, InHand], tells: bool) -> None:
    for hand in hands.values():
        hand.tells = tells


def at_reference(reading: Reading, a4: float) -> Reading:
    """A reading as a tuner shows it that is set to ``a4`` (Hz), where another reference was set when it was read. A side is no
    more than a note then: nobody knows what it would show now. Without a note, or by ear beside a tone, it holds where the
    reference went away from the string.

    >>> from datetime import UTC, datetime
    >>> from uuid import uuid4
    >>> heard = Heard(note="A4", cents=0.0)
    >>> shown = Reading(uuid4(), "A", 1, datetime(2026, 7, 4, tzinfo=UTC), heard=heard, read_at_a4=440.0)
    >>> at_reference(shown, 442.0).heard
    Heard(note='A4', cents=-7.85, hz=None, side=None)
    """
    heard, was = reading.heard, reading.read_at_a4
    if was is None or was == a4 or heard.hz is not None or heard.is_bare:
        return reading
    if heard.note is None:
        still = heard.side is not None and WAYS[heard.side] == ("flat" if a4 > was else "sharp")
        return reading if still else replace(reading, retuned=True)
    if heard.side in ("flat", "sharp"):
        return replace(reading, heard=Heard(note=heard.note))
    note, cents = parse_note(heard.note), (heard.cents or 0.0) + cents_between(was, a4)
    away = round(cents / 100.0)
    name = name_of((MIDDLE_OCTAVE + note.pitch_class if note.number is None else note.number) + away)
    shown = name if note.number is not None else name.rstrip("0123456789")
    return replace(reading, heard=Heard(note=shown, cents=round(cents - 100.0 * away, 2)))


def resting(readings: Sequence[Reading]) -> tuple[Reading, ...]:
    """R121: the readings, those that a microphone took while the string was played on marked as passing: all but the first and
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
        if goes_on(before, here) and goes_on(here, after)
    }
    return tuple(replace(reading, passing=True) if reading.id in passing else reading for reading in readings)


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
    """Whether another string was far down when its octave was first known, or would be far sharp too by a guess about its
    octave: then this one will hardly be sharp.
    """
    for name, hand in hands.items():
        if name != string and any(
            first.asks_octave or (first.octave_guess and (first.cents or 0.0) > SHARP_GUESS_CENTS) for first in hand.heights[:1]
        ):
            return True
        known = (height.cents for height in hand.heights if height.cents is not None and not height.octave_guess)
        if name != string and next(known, 0.0) < -FAR_DOWN_CENTS:
            return True
    return False


def _answers(hand: InHand, reading: Reading) -> bool:
    """Whether it tells the octave that was asked about: it stands in the place of the reading that left it open."""
    if not hand.segments or not hand.heights[-1].asks_octave or not knows_octave(reading):
        return False
    before, now = hand.readings[-1].heard.note, reading.heard.note
    return before is not None and now is not None and parse_note(before).pitch_class == parse_note(now).pitch_class


def _with_octave(hand: InHand, reading: Reading) -> Reading:
    """A letter without its octave, where the string's last octave is known: it stands between where it stood and where the last
    moves should have brought it, or near that; where two octaves are about as near, it is asked.
    """
    heard = reading.heard
    if knows_octave(reading) or heard.note is None or not hand.heights:
        return reading
    before = hand.heights[-1]
    if hand.readings[-1].id in hand.octaves_in_doubt:
        hand.octaves_in_doubt.add(reading.id)
    if before.cents is None or before.octave_guess:
        return reading
    aims = [step.aim_cents for step in hand.advised().advice.steps if step.aim_cents is not None]
    low, high = min([before.cents, *aims]), max([before.cents, *aims])
    pitch_class = parse_note(heard.note).pitch_class
    base = hand.facts.string.note_number
    away = (pitch_class - base) % 12
    (least, nearest), (next_least, _) = sorted(
        (_outside(100.0 * (number - base) + (heard.cents or 0.0), low, high), number)
        for number in (base + away + 12 * octave for octave in (-3, -2, -1, 0, 1))
    )[:2]
    if next_least - least < IN_DOUBT_CENTS:
        hand.octaves_in_doubt.add(reading.id)
    if least > SAME_OCTAVE_CENTS or reading.id in hand.octaves_in_doubt:
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
        hand.screw += hand.unread_turns
        hand.hear(reading)
        hand.moves += hand.waiting
        hand.waiting = []
        return []
    before, last = hand.readings[-1], hand.waiting
    hand.waiting = []
    confirmed = False
    if hand.jumped_from is not None and not last:
        confirmed = _agree(hand, before, reading)
        if not confirmed:  # the jump was a wrong note: what is heard now is held to what was before
            hand.forget()
            before = hand.readings[-1]
    hand.jumped_from = None
    taken: list[Move] = []
    if not last and not confirmed:
        taken = taken_moves(hand, before, reading, pulled, followed=followed)
    moves = tuple(last) or tuple(taken)
    hand.screw += screw_turned(hand, before, reading, moves, pulled)
    hand.moves += moves
    hand.segments.append(Segment(before, moves, reading, pulled, hand.went(before, reading)))
    hand.hear(reading)
    return taken


def _agree(hand: InHand, one: Reading, other: Reading) -> bool:
    here, there = hand.where(one), hand.where(other)
    return here is not None and there is not None and abs(here.middle - there.middle) <= SAME_AGAIN_CENTS
