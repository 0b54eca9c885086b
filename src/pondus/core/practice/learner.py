"""A simulated learner: someone of known ears and hands, who answers drills.

Stands in for people where there are none: to measure how well a threshold is found, and to fill the demo studio. Not
written with the drills' judging in mind: it hears a difference or not, knows a thing or guesses, and turns about as
far as it means to.
"""

from dataclasses import dataclass, replace

import numpy as np

from pondus.core.judgement.advise import advise
from pondus.core.judgement.heard import Heard
from pondus.core.judgement.situation import Situation
from pondus.core.pitch.notes import shift_hz
from pondus.core.practice.hands import course_of, facts_of, stands
from pondus.core.practice.questions import Action, Answer, Question, Setup, Task
from pondus.core.practice.run import Go
from pondus.core.practice.threshold import chance_right
from pondus.core.practice.whole import of_string

MOST_TURNS, ROUNDS = 14, 3
WRONG_FIRST = 0.5
"""How often someone who doesn't know which way turns the wrong way first."""
FELT_CENTS, FELT = 6.0, 0.1
"""From which change on a hand knows how much a screw does, and how well it does, as a share."""
MOST_SAID_CENTS = 600.0
EAR_SHARE = 0.6
"""Of their threshold: how far a string they call right may be off."""


@dataclass
class Learner:
    """``knows``: 0 to 1, how surely they know what a drill asks at its easiest; ``threshold_cents``: what they tell apart three
    times of four; ``misses``: how far their hand turns otherwise than meant, as a share.
    """

    rng: np.random.Generator
    knows: float = 0.7
    threshold_cents: float = 8.0
    misses: float = 0.2

    def answer(self, go: Go, question: Question) -> Answer:
        """What they answer."""
        if question.task is not None:
            return self._by_hand(go.setup, question.task)
        if question.microphone is not None:
            off = float(self.rng.normal(0.0, EAR_SHARE * self.threshold_cents))
            return Answer(heard_hz=shift_hz(go.setup.facts(question.microphone).target_hz, off), spread_cents=0.5)
        if question.beats is not None and not question.choices:
            return Answer(figure=question.beats * float(np.exp(self.rng.normal(0.0, 0.25 * (1.1 - self.knows)))))
        right = self.rng.uniform() < self._chance(go, question)
        fitting = [choice.answer for choice in question.choices if (choice.answer in question.right) == right]
        return Answer(choice=str(self.rng.choice(fitting)))

    def _chance(self, go: Go, question: Question) -> float:
        choices = len(question.choices)
        if go.drill.way == "ears":
            if question.cents is None:
                return 0.7
            return float(chance_right(question.cents, threshold=self.threshold_cents, choices=choices))
        known = float(self.knows ** (0.5 + 0.5 * go.level))
        return known + (1.0 - known) / choices

    def _by_hand(self, on: Setup, task: Task) -> Answer:
        """A string, or all of them in rounds from the A on."""
        names = on.instrument.string_names if task.aims else (task.string,)
        actions: tuple[Action, ...] = ()
        for name in sorted(names, key=lambda string: string != "A") * (ROUNDS if task.aims else 1):
            done = self._one_string(on, of_string(task, name) if task.aims else task, actions)
            actions = done.actions or ()
            if done.stopped:
                return done
        return Answer(actions=actions)

    def _foretold(self, off: float) -> float:
        """About what is wanted, by who knows; anything, by who doesn't."""
        unsure = 1.0 - self.knows
        way = -1.0 if self.rng.uniform() < 0.5 * unsure else 1.0
        foretold = -off * way * float(np.exp(self.rng.normal(0.0, 1.5 * unsure)))
        return float(np.clip(foretold, -MOST_SAID_CENTS, MOST_SAID_CENTS))

    def _one_string(self, on: Setup, task: Task, before: tuple[Action, ...]) -> Answer:
        """Turn as the advice would, as far as they see or hear it, and about so far."""
        actions = list(before)
        for _ in range(MOST_TURNS):
            wood = course_of(task, actions).now
            off = stands(task, wood)
            if off is None:
                break
            if not task.display:
                off += float(self.rng.normal(0.0, EAR_SHARE * self.threshold_cents))
            facts = _as_felt(facts_of(on, task, wood), task, before, tuple(actions))
            steps = advise(facts, Heard(hz=shift_hz(facts.target_hz, off)), sure_of_string=True).steps
            step = next((step for step in steps if step.is_move or step.do in ("tug-down", "fetch-teacher")), None)
            if step is None:
                break
            if step.do == "fetch-teacher":
                if self.rng.uniform() < self.knows:
                    return Answer(actions=tuple(actions), stopped=True)
                break
            if step.do == "tug-down":
                actions.append(Action(task.string, tug=True))
                continue
            assert step.amount is not None
            way = 1.0 if step.rotation == "clockwise" else -1.0
            if len(actions) == len(before) and self.rng.uniform() < WRONG_FIRST * (1.0 - self.knows):
                way = -way
            amount = way * step.amount * max(0.2, 1.0 + float(self.rng.normal(0.0, self.misses)))
            by_peg = step.do == "turn-peg"
            foretold = self._foretold(off) if task.foretells else None
            turn = Action(task.string, degrees=amount) if by_peg else Action(task.string, turns=amount)
            actions.append(replace(turn, foretold=foretold))
        return Answer(actions=tuple(actions))


def _as_felt(facts: Situation, task: Task, before: tuple[Action, ...], actions: tuple[Action, ...]) -> Situation:
    """The same string, its screw as the last turn of it went: whoever turned it once knows it."""
    turned = [place for place in range(len(before), len(actions)) if actions[place].turns is not None]
    if not turned or facts.fine_tuner is None:
        return facts
    course, place = course_of(task, actions), turned[-1]
    was, became = stands(task, course.woods[place]), stands(task, course.woods[place + 1])
    if was is None or became is None or abs(became - was) < FELT_CENTS:
        return facts
    rate = abs((became - was) / (actions[place].turns or 1.0))
    return replace(facts, fine_tuner=replace(facts.fine_tuner, cents_per_turn=rate, cents_per_turn_plus_minus=FELT * rate))
