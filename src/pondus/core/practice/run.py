"""One go at a drill: which question comes next, how an answer is judged, what it comes to so far.

A go is its seed and what was answered: the next question is made from those and nothing else, so that any server, or the same
one after it was restarted, asks the same.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date

import numpy as np

from pondus.core.errors import BadInput
from pondus.core.fifths.tapping import MOST_TAPS, beats_from_taps
from pondus.core.judgement import words
from pondus.core.pitch.notes import cents_between, check_heard_hz
from pondus.core.practice.drills import EAR_CHOICES, SURE_AFTER, SURE_FACTOR, Drill
from pondus.core.practice.ear_drills import counted_right
from pondus.core.practice.foretell import judge_foretold
from pondus.core.practice.hands import MOST_ACTIONS, judge_hands
from pondus.core.practice.questions import Answer, Judged, Outcome, Question, Setup, chosen
from pondus.core.practice.staircase import Asked, comes_back, level_after
from pondus.core.practice.threshold import Threshold, Trial, next_difference, threshold_of
from pondus.core.practice.whole import judge_whole

UNSTEADY_SPREAD_CENTS = 6.0
"""A reading that wanders more than this says nothing of how well an ear tuned."""
MOST_BEATS, ANOTHER_STRING_CENTS = 20.0, 400.0


@dataclass(frozen=True)
class Record:
    """One question that was answered: what it was about, whether right; the difference in cents where one was measured; what
    hands came to; the day, where it was another than this go's.
    """

    item: str
    right: bool
    cents: float | None = None
    outcome: Outcome | None = None
    day: date | None = None
    seconds: float | None = None


@dataclass(frozen=True)
class Go:
    """A go at a drill as it stands. ``returns``: items missed on other days that are asked again; ``before``: the threshold
    that was known; ``begins``: the level reached last time.
    """

    drill: Drill
    setup: Setup
    seed: int
    records: tuple[Record, ...] = ()
    returns: tuple[str, ...] = ()
    before: Threshold | None = None
    begins: int = 1
    stopped: bool = False

    @property
    def level(self) -> int:
        """The level of the next question, from 1."""
        answers = [Asked(record.item, record.right) for record in self.records]
        return level_after(answers, levels=self.drill.levels, begins=min(self.begins, self.drill.levels))

    @property
    def threshold(self) -> Threshold | None:
        """The threshold so far; None where none is measured, or nothing was answered."""
        if self.drill.way != "ears" or not self.records:
            return None
        return threshold_of(_trials(self.records), before=self.before)

    @property
    def is_over(self) -> bool:
        """Whether nothing more is asked."""
        if self.stopped or len(self.records) >= self.drill.questions:
            return True
        known = self.threshold
        return known is not None and known.trials >= SURE_AFTER and known.factor <= SURE_FACTOR

    @property
    def summary(self) -> str:
        """What it came to so far, in a sentence."""
        count, right = len(self.records), sum(record.right for record in self.records)
        if count == 0:
            return "Nothing was answered."
        sentence = f"{right} of {count} right."
        known = self.threshold
        if known is not None and not known.is_told:
            sentence += " So far no better than guessing: begin with larger differences."
        elif known is not None:
            sentence += f" You tell {words.cents(known.cents)} apart, very likely between {known.low:.1f} and {known.high:.1f}."
        ended = [
            abs(record.outcome.ended_cents)
            for record in self.records
            if record.outcome is not None and record.outcome.ended_cents is not None
        ]
        if ended:
            sentence += f" At the end {words.cents(float(np.median(ended)))} off, typically."
        return sentence

    @property
    def missed(self) -> tuple[Question, ...]:
        """What was answered wrong, as it was asked."""
        then = [replace(self, records=self.records[:place], stopped=False) for place in range(len(self.records))]
        questions = [one.question() for one, record in zip(then, self.records, strict=True) if not record.right]
        return tuple(question for question in questions if question is not None)

    def question(self) -> Question | None:
        """The next question; None where the go is over."""
        if self.is_over:
            return None
        place = len(self.records)
        rng = np.random.default_rng([self.seed, place])
        item = self._item(rng)
        if self.drill.ask_by is None:
            assert self.drill.ask is not None
            return self.drill.ask(self.setup, item, rng)
        cents = next_difference(_trials(self.records), choices=EAR_CHOICES, before=self.before)
        return self.drill.ask_by(self.setup, item, rng, cents)

    def _item(self, rng: np.random.Generator) -> str:
        """What is asked next: what comes back, what is due from other days, or another of this level."""
        known = {item for level in range(1, self.drill.levels + 1) for item in self.drill.items(self.setup, level)}
        if self.drill.way != "ears":
            missed = comes_back([Asked(record.item, record.right) for record in self.records])
            if missed in known and missed is not None:
                return missed
            due = [item for item in self.returns if item in known and all(item != one.item for one in self.records)]
            if due and len(self.records) % 2 == 1:
                return due[0]
        items = self.drill.items(self.setup, self.level)
        last = self.records[-1].item if self.records else None
        fresh = [item for item in items if item != last] or list(items)
        return fresh[int(rng.integers(len(fresh)))]


def judge(go: Go, question: Question, answer: Answer) -> Judged:
    """Judge an answer by the core's own rules. Raises BadInput for one that can't be to this question."""
    if len(answer.taps or ()) > MOST_TAPS or len(answer.actions or ()) > MOST_ACTIONS:
        raise BadInput("answer", f"That is more than an answer takes: up to {MOST_TAPS} taps, or {MOST_ACTIONS} actions.")
    if question.task is not None and question.task.aims:
        return judge_whole(go.setup, question.task, answer)
    if question.task is not None and question.task.foretells:
        return judge_foretold(go.setup, question.task, answer)
    if question.task is not None:
        return judge_hands(go.setup, question.task, answer, because=question.because)
    if question.microphone is not None:
        return _heard(go, question.microphone, answer)
    if question.beats is not None and not question.choices:
        return _counted(question, answer)
    return chosen(question, answer)


def record_of(question: Question, judged: Judged, answer: Answer) -> Record:
    """What is kept of an answer that was scored; what was seen besides tells nothing of a threshold."""
    assert judged.right is not None
    return Record(question.item, judged.right, None if answer.seen else question.cents, judged.outcome)


def _trials(records: Sequence[Record]) -> list[Trial]:
    """Answers that tell of a threshold: where there was a difference."""
    return [Trial(record.cents, record.right, EAR_CHOICES) for record in records if record.cents is not None]


def _counted(question: Question, answer: Answer) -> Judged:
    counted = answer.figure if answer.taps is None else beats_from_taps(answer.taps).beats_hz
    if counted is None or not 0.0 <= counted <= MOST_BEATS:
        raise BadInput("answer", f"How many beats in a second? A figure from 0 to {MOST_BEATS:g}.")
    assert question.beats is not None
    right = counted_right(counted, question.beats)
    return Judged(right, question.because if right else f"You counted {counted:.1f}. {question.because}")


def _heard(go: Go, string: str, answer: Answer) -> Judged:
    if answer.heard_hz is None:
        raise BadInput("answer", f"Play the {string} string until it is heard steadily.")
    cents = cents_between(check_heard_hz(answer.heard_hz, field="answer.heard_hz"), go.setup.facts(string).target_hz)
    if answer.spread_cents is not None and answer.spread_cents > UNSTEADY_SPREAD_CENTS:
        return Judged(None, "The pitch wandered too much to say; one long, even bow. This one doesn’t count.")
    if abs(cents) > ANOTHER_STRING_CENTS:
        return Judged(None, f"That isn't the {string} string; play it alone. This one doesn’t count.")
    right = abs(cents) <= (go.drill.within_cents or 0.0)
    off = words.off(cents)
    sentence = f"{off[:1].upper()}{off[1:]}: {'well done, by ear' if right else 'listen for which is higher'}."
    return Judged(right, sentence, Outcome(round(cents, 2)))
