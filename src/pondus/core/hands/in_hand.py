"""One string's log, gone through so far: its readings and moves, where its screw stands, what is known of its height."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta
from itertools import takewhile
from uuid import UUID

from pondus.core.hands.interval import Interval, interval_of
from pondus.core.hands.last_move import Advised, Segment, advised
from pondus.core.hands.pulls import Turned
from pondus.core.hands.records import FittedString, Move, Reading, with_screw_at
from pondus.core.judgement.heard import WAYS
from pondus.core.judgement.mechanism import PULL_DID_CENTS
from pondus.core.judgement.reading import CAME_DOWN_FROM_CENTS, SLACK_CENTS, SLACK_UNTIL_CENTS, Judged, judge
from pondus.core.judgement.situation import FineTuner, Situation
from pondus.core.pitch.notes import shift_hz

PASSING_SECONDS = 1.5
"""R121: a string heard again by a microphone within so long is being played on: only where it rests counts."""


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
    since; ``octave_guess``: its octave is one; ``asks_octave``: and so far off that it is asked about.
    """

    cents: float | None
    slack: bool
    guessed: bool
    octave_guess: bool
    asks_octave: bool
    at: datetime


def _height(hand: "InHand", reading: Reading, off: float | None, before: Height | None) -> Height:
    """R6: slack begins more than 700 cents under, or as a string begins to sound, and lasts until it is within 100 cents."""
    since = hand.fitted.slack_since
    slack = before is not None and before.slack
    if since is not None and reading.at >= since and (before is None or before.at < since):
        slack = True
    if off is not None and (slack or reading.hz(hand.facts.a4) is not None):
        slack = off < -SLACK_CENTS or (slack and off < -SLACK_UNTIL_CENTS)
    guessed = before is not None and before.guessed
    if knows_octave(reading):
        guessed = False
    elif before is not None and before.cents is not None and off is not None and not guessed:
        guessed = before.octave_guess and before.cents >= CAME_DOWN_FROM_CENTS and off < before.cents
    asks = hand.judged(reading).doubt == "octave-unknown"
    return Height(off, slack, guessed, not knows_octave(reading), asks, reading.at)


@dataclass
class InHand:
    """One string's log, gone through so far. ``tells``: whoever tunes tells of moves; ``taken_back``: where a told move was
    struck out; ``heard_together``: readings that were heard with a neighbour's, as a fifth; ``octaves_in_doubt``:
    readings whose octave may be either of two, from where the string stood.
    """

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
    heard_together: frozenset[UUID] = frozenset()
    octaves_in_doubt: set[UUID] = field(default_factory=set)
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
            octave_in_doubt=bool(self.readings) and self.readings[-1].id in self.octaves_in_doubt,
            others_far_down=self.others_far_down,
            sprang_back=answers.count("sprang-back"),
            not_turned=next((at for at, given in enumerate(reversed(answers)) if given != "not-turned"), len(answers)),
            pulled_in_vain=self._pulls_in_vain(),
            winding_doubted=wound_in_a_row(self.moves) % 2 == 1,
            far_by_side=self._far_by_side(),
            went_past=self._went_past(),
            pulled=self._pulled(),
        )

    def _went_past(self) -> int:
        """R133: how often in a row a push of its peg led from flat to sharp or back, where only the side is shown. Pulls
        stand between. Where the others have moved it across since, it stands elsewhere, and is tried again.
        """
        count = 0
        for segment in reversed(self.segments):
            before, after = (self.judged(reading).side for reading in (segment.before, segment.after))
            if before is None or after is None or "in-tune" in (WAYS[before], WAYS[after]):
                break  # a figure, another note's side, or it was there
            crossed = WAYS[before] != WAYS[after]
            if crossed and not segment.moves and segment.pulled_cents != 0.0:
                break
            count += crossed and any(move.mechanism == "peg" for move in segment.moves)
        return count

    def _pulled(self) -> int:
        """How many of its last moves were pulls."""
        return sum(1 for _ in takewhile(lambda move: move.mechanism == "tug", reversed(self.moves)))

    def _far_by_side(self) -> int:
        """R80: how often it is said to have moved though its side stayed, and has shown no other side since."""
        denied = [move.seq for move in self.moves if move.answer == "moved"]
        return sum(1 for since in denied if len(self._ways_since(since)) <= 1)

    def _ways_since(self, seq: float) -> set[str]:
        return {WAYS[one.heard.side] for one in self.readings if one.seq >= seq and one.heard.side is not None}

    def _screw_place(self, facts: Situation, tuner: FineTuner) -> float:
        """Where its screw stands, in turns from the middle. Before somebody looked, in this tuning, it was taken to be there.

        A screw at its end goes no further, and comes back from there.
        """
        seen = self.fitted.screw_set_seq <= self.seq
        place, reach, rate = tuner.turns_from_middle if seen else 0.0, tuner.reach_turns, facts.screw_rate.cents
        for turn in self.screw_turns:
            if seen and turn.seq <= self.fitted.screw_set_seq:
                continue
            place = max(-reach, min(reach, place + turn.turns + turn.cents / rate))
            if turn.at_end:
                place = reach if turn.at_end > 0 else -reach
        return place

    @property
    def unread_turns(self) -> list[ScrewTurned]:
        """Turns of its screw that were told of and not heard since: by the amounts that were shown."""
        return [ScrewTurned(move.seq, move.signed_amount) for move in self.waiting if move.mechanism == "fine-tuner"]

    @property
    def screw_turns(self) -> tuple[ScrewTurned, ...]:
        """All turns of its screw."""
        return (*self.screw, *self.unread_turns)

    @property
    def turns(self) -> list[Turned]:
        """What its turns did, between the readings before and after them."""
        heard_from = self.readings[0].seq if self.readings else math.inf
        first = tuple(move.seq for move in self.moves if move.seq < heard_from)
        waits = tuple(move.seq for move in self.waiting)
        turned = [Turned(self.fitted.name, seqs, None) for seqs in (first, waits) if seqs]
        for segment in self.segments:
            if segment.moves:
                seqs = tuple(move.seq for move in segment.moves)
                turned.append(Turned(self.fitted.name, seqs, segment.went_cents))
        return turned

    def went(self, before: Reading, after: Reading) -> float | None:
        """How far the string went from one reading to the next, in cents; None where nobody knows."""
        here, there = self.where(before), self.where(after)
        if here is None or there is None or not (here.is_figure and there.is_figure):
            return None
        return there.middle - here.middle

    def hz(self, reading: Reading) -> float | None:
        """Where a reading says that the string sounds, in Hz, by its own octave or the likely one; None: no figure tells."""
        if self.judged(reading).state == "other-string":
            return None
        reading_is, where = reading.hz(self.facts.a4), self.where(reading)
        if reading_is is not None or where is None or not where.is_figure:
            return reading_is
        return shift_hz(self.facts.target_hz, where.middle)

    def where(self, reading: Reading) -> Interval | None:
        """Where a reading says that the string stands, as far as it can tell."""
        return interval_of(self.judged(reading), reading.heard)

    def judged(self, reading: Reading) -> Judged:
        """Where a reading says that the string stands."""
        judged = self.judgements.get(reading.id)
        if judged is None:
            in_doubt = reading.id in self.octaves_in_doubt
            facts = replace(self.facts, others_far_down=self.others_far_down, octave_in_doubt=in_doubt)
            judged = judge(facts, reading.heard, sure=reading.sure_of_string, recent=None)
            self.judgements[reading.id] = judged
        return judged

    def hear(self, reading: Reading) -> None:
        """One reading more; whether the string is slack by now, and whether it came down on a guess about its octave."""
        before, judged = self.heights[-1] if self.heights else None, self.judged(reading)
        where = interval_of(judged, reading.heard)
        off = judged.cents_off if where is None or reading.heard.note is None else where.middle
        self.heights.append(_height(self, reading, off, before))
        self.readings.append(reading)

    def forget(self) -> None:
        """The last reading was a wrong note."""
        self.misread.append(self.readings.pop())
        self.heights.pop()
        self.segments.pop()

    def take_back(self) -> None:
        """The last reading told nothing yet: as if it were still to come, after the moves that were told before it."""
        self.readings.pop()
        self.heights.pop()
        self.waiting = [*self.segments.pop().moves, *self.waiting]
        waits = {move.seq for move in self.waiting}
        self.moves = [move for move in self.moves if move.seq not in waits]
        self.screw = [turned for turned in self.screw if turned.seq not in waits]

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


def knows_octave(reading: Reading) -> bool:
    """Whether a reading tells its octave, or needs none."""
    note = reading.heard.note
    return note is None or note[-1].isdigit()


def goes_on(before: Reading, after: Reading) -> bool:
    """R121: whether the string was played on from one reading to the next."""
    played_on = before.is_live and after.is_live
    return played_on and timedelta(0) <= after.at - before.at <= timedelta(seconds=PASSING_SECONDS)


def wound_in_a_row(moves: Sequence[Move]) -> int:
    """R23: how many of the last moves, one after the other, are said to have gone wrong because the string is wound the other
    way. One may be a hand that turned the wrong way: a second, by the smallest push, says so too, and then it is kept. A turn
    that was taken for one where no figure shows what it did, and of which nothing was said, breaks no row: a string read again
    before the question was answered stands for none.
    """
    showing = [move for move in moves if not _shows_nothing(move)]
    return next((at for at, move in enumerate(reversed(showing)) if move.answer != "wound-other-way"), len(showing))


def _shows_nothing(move: Move) -> bool:
    return move.taken and move.answer is None and not move.exact and move.expect_cents is not None
