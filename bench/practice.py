"""Practice: how well a threshold is measured, and how soon the next question comes.

Learners whose threshold is known (0.5 to 20 cents) answer up to 40 questions of a drill for ears. ``error``: how far the
median is from the truth, as a share of it; ``held``: how often the truth lies within the ± that is told, which is meant to
hold nine times in ten. Three kinds of learners: as the estimate takes them (Weibull); whose hearing wavers as a bell curve
(normal); and ones who fall off steeply (logistic). The estimate's slopes were chosen with these three in sight; *steep*,
*shallow* and *slips 10 %* came after, and widened it, and the ± that is told. *Learns* (the threshold falls by a half
over the go; measured against its middle), *dreams* (five answers in a row are guesses) and *two minds* (half or twice the
threshold, by question) came last: nothing was set with them in sight. *Questions*: how many were asked before the ± was
small enough.

Run: ``bin/pondus bench practice [--learners 200]``.
"""

import argparse
import math
import time
from collections.abc import Callable, Sequence
from dataclasses import replace

import numpy as np
from scipy.stats import spearmanr

from pondus.core.practice.drills import DRILLS, EAR_CHOICES
from pondus.core.practice.learner import Learner
from pondus.core.practice.questions import setup
from pondus.core.practice.run import Go, Record, judge, record_of
from pondus.core.practice.threshold import chance_right

Chance = Callable[[float, float], float]
Mood = Callable[[int, np.random.Generator], float]
"""By how much a threshold is other than usual at a question; infinity: nothing is told apart."""
RANGE_CENTS = (0.5, 20.0)


def _told(share: float) -> float:
    return 1.0 / EAR_CHOICES + (1.0 - 1.0 / EAR_CHOICES) * share


LEARNERS: dict[str, Chance] = {
    "Weibull": lambda cents, threshold: chance_right(cents, threshold=threshold, choices=EAR_CHOICES),
    "normal": lambda cents, threshold: _told(math.erf(0.6745 * cents / threshold / math.sqrt(2.0))),
    "steep": lambda cents, threshold: _told(1.0 - 2.0 ** -((cents / threshold) ** 3.5)),
    "shallow": lambda cents, threshold: _told(1.0 - 2.0 ** -((cents / threshold) ** 0.9)),
    "slips 10 %": lambda cents, threshold: 0.9 * _told(1.0 - 2.0 ** -((cents / threshold) ** 1.6)) + 0.1 / EAR_CHOICES,
    "logistic": lambda cents, threshold: _told(1.0 / (1.0 + (threshold / cents) ** 3)),
}
MOODS: dict[str, Mood] = {
    "learns": lambda number, _: 1.5 ** (1.0 - number / 20.0) / 1.22,
    "dreams": lambda number, rng: math.inf if (number // 5) % 10 == 3 else 1.0,
    "two minds": lambda _, rng: float(rng.choice([0.5, 2.0])),
}


def _steady(_number: int, _rng: np.random.Generator) -> float:
    return 1.0


def main() -> None:
    """Print the figures."""
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--learners", type=int, default=200)
    options.add_argument("--seed", type=int, default=1)
    given = options.parse_args()
    print(f"{'learner':10s}{'drill':12s}{'error, median':>14s}{'90 %':>8s}{'held':>8s}{'questions':>11s}")
    for name, chance in LEARNERS.items():
        for drill in ("higher", "fifths"):
            print(f"{name:10s}{drill:12s}{_measured(drill, chance, _steady, given.learners, given.seed)}")
    for name, mood in MOODS.items():
        for drill in ("higher", "fifths"):
            print(f"{name:10s}{drill:12s}{_measured(drill, LEARNERS['Weibull'], mood, given.learners, given.seed)}")
    _pupils(given.seed)
    _next_question()


PUPILS, PUPIL_QUESTIONS = 30, 20


def _pupils(seed: int) -> None:
    """Pupils of known skill, told apart within 20 questions: rank correlations with the truth, and a guesser's goes."""
    skills = np.linspace(0.0, 1.0, PUPILS)
    ears = 4.0 * 15.0**skills
    heard = [
        _twenty("higher", Learner(np.random.default_rng([seed, n]), threshold_cents=float(each)), seed + n)
        for n, each in enumerate(ears)
    ]
    told = [0.0 if go.threshold is None else go.threshold.cents for go in heard]
    whole = [
        _near(Learner(np.random.default_rng([seed, n]), threshold_cents=float(each)), seed + n, each)
        for n, each in enumerate(ears)
    ]
    print(f"\npupils, {PUPIL_QUESTIONS} questions: ears of 4 to 60 cents {_rank(ears, told):.2f}")
    print(f"  within a third of the true threshold after a whole go: {np.mean(whole):.0%}")
    for drill, what in (("screw-plucked", "hands that miss by 2 to 80 %"), ("whole", "the same, a whole instrument")):
        misses = 0.02 + 0.78 * skills
        goes = [
            _twenty(drill, Learner(np.random.default_rng([seed, n]), 1.0, 6.0, float(each)), seed + n)
            for n, each in enumerate(misses)
        ]
        print(f"  {what}: {_rank(misses, [_missed(go) for go in goes]):.2f}")
    for drill in ("flat-or-sharp", "which-way", "foretell"):
        goes = [
            _twenty(drill, Learner(np.random.default_rng([seed, n]), float(each)), seed + n) for n, each in enumerate(skills)
        ]
        print(
            f"  who mixes up sides, {drill}: {_rank(skills, [np.mean([each.right for each in go.records]) for go in goes]):.2f}"
        )


def _near(learner: Learner, seed: int, cents: float) -> bool:
    """Whether a whole go tells an ear to within a third."""
    go = Go(DRILLS["higher"], setup("violin"), seed=seed)
    while (question := go.question()) is not None:
        answer = learner.answer(go, question)
        go = replace(go, records=(*go.records, record_of(question, judge(go, question, answer), answer)))
    assert go.threshold is not None
    return abs(go.threshold.cents / cents - 1.0) <= 1.0 / 3.0


def _missed(go: Go) -> float:
    """How far a hand missed, as a drill tells: by a single string's turns, or by all of a whole instrument."""
    outcomes = [each.outcome for each in go.records if each.outcome is not None]
    beside = [each.beside_share for each in outcomes if each.beside_share is not None]
    if beside:
        return float(np.mean(beside))
    moved = np.mean([(each.turned_ratio or 1.0) + (each.overshoots or 0) for each in outcomes])
    return float(moved + np.mean([not each.right for each in go.records]))


def _twenty(drill: str, learner: Learner, seed: int) -> Go:
    """A pupil's first twenty questions of a drill, over as many goes as that takes."""
    records: tuple[Record, ...] = ()
    go = Go(DRILLS[drill], setup("violin"), seed=seed)
    while len(records) < PUPIL_QUESTIONS:
        question = go.question()
        if question is None:
            go = replace(go, records=(), seed=go.seed + 1000, begins=go.level)
            continue
        answer = learner.answer(go, question)
        go = replace(go, records=(*go.records, record_of(question, judge(go, question, answer), answer)))
        records = (*records, go.records[-1])
    return replace(go, records=records)


def _rank(true: Sequence[float] | np.ndarray, told: Sequence[float] | np.ndarray) -> float:
    return float(spearmanr(true, told).statistic)


def _measured(drill: str, chance: Chance, mood: Mood, learners: int, seed: int) -> str:
    rng = np.random.default_rng(seed)
    errors, held, asked = [], 0, []
    for number in range(learners):
        true = float(np.exp(rng.uniform(*np.log(RANGE_CENTS))))
        go = Go(DRILLS[drill], setup("violin"), seed=number)
        learner = Learner(rng, threshold_cents=true)
        while (question := go.question()) is not None:
            answer = learner.answer(go, question)
            if question.cents is not None:
                right = rng.uniform() < chance(question.cents, true * mood(len(go.records), rng))
                fitting = [each.answer for each in question.choices if (each.answer in question.right) == right]
                answer = replace(answer, choice=str(rng.choice(fitting)))
            go = replace(go, records=(*go.records, record_of(question, judge(go, question, answer), answer)))
        found = go.threshold
        assert found is not None
        errors.append(abs(found.cents / true - 1.0))
        held += found.low <= true <= found.high
        asked.append(len(go.records))
    middle, most = 100 * float(np.median(errors)), 100 * float(np.percentile(errors, 90))
    return f"{middle:12.0f} %{most:6.0f} %{100 * held / learners:6.0f} %{np.median(asked):11.0f}"


def _next_question() -> None:
    """How long the next question of each drill takes to make, at its last."""
    slowest: tuple[float, str] = (0.0, "")
    for drill in DRILLS.values():
        go = Go(drill, setup("violin", who="adult" if drill.staff else "student-pegs"), seed=3)
        learner = Learner(np.random.default_rng(2))
        while (question := go.question()) is not None and len(go.records) < drill.questions - 1:
            judged = judge(go, question, answer := learner.answer(go, question))
            if judged.right is None:
                break
            go = replace(go, records=(*go.records, record_of(question, judged, answer)))
        began = time.perf_counter()
        go.question()
        slowest = max(slowest, ((time.perf_counter() - began) * 1000.0, drill.name))
    print(f"\nthe slowest next question to make: {slowest[0]:.0f} ms ({slowest[1]})")


if __name__ == "__main__":
    main()
