"""Whole goes at every drill, by simulated learners of known ears and hands: each comes to its end, and who knows more gets more
right.
"""

import unittest
from dataclasses import replace

import numpy as np

from pondus.core.practice.drills import DRILLS, Drill
from pondus.core.practice.learner import Learner
from pondus.core.practice.questions import setup
from pondus.core.practice.run import Go, judge, record_of

KINDS = ("violin", "viola", "cello")


def go_through(drill: Drill, learner: Learner, *, kind: str, seed: int) -> Go:
    """One go from its first question to its last, unless one isn't scored."""
    go = Go(drill, setup(kind, who="student-pegs"), seed)
    for _ in range(4 * drill.questions):
        question = go.question()
        if question is None:
            return go
        answer = learner.answer(go, question)
        judged = judge(go, question, answer)
        if judged.right is not None:
            go = replace(go, records=(*go.records, record_of(question, judged, answer)))
    return go


def share_right(drill: Drill, *, knows: float, threshold: float, misses: float, goes: int = 3) -> float:
    right = asked = 0
    for seed in range(goes):
        learner = Learner(np.random.default_rng([seed, 5]), knows, threshold, misses)
        go = go_through(drill, learner, kind=KINDS[seed % 3], seed=seed)
        right += sum(each.right for each in go.records)
        asked += len(go.records)
    return right / asked


class TestGoes(unittest.TestCase):
    def test_every_drill_comes_to_its_end(self) -> None:
        for drill in DRILLS.values():
            for kind in KINDS:
                with self.subTest(drill=drill.name, kind=kind):
                    go = go_through(drill, Learner(np.random.default_rng(3)), kind=kind, seed=1)
                    self.assertTrue(go.is_over)
                    self.assertIsNone(go.question())
                    self.assertLessEqual(len(go.records), drill.questions)
                    self.assertTrue(
                        go.summary.startswith(f"{sum(each.right for each in go.records)} of {len(go.records)} right.")
                    )

    def test_who_knows_it_gets_it_right_and_who_guesses_gets_less(self) -> None:
        for drill in (each for each in DRILLS.values() if each.way not in ("ears", "microphone")):
            with self.subTest(drill=drill.name):
                sure = share_right(drill, knows=1.0, threshold=0.5, misses=0.02)
                lost = share_right(drill, knows=0.0, threshold=60.0, misses=0.8)
                self.assertGreaterEqual(sure, 0.8)
                self.assertLess(lost, sure)

    def test_hands_that_miss_end_further_off(self) -> None:
        by_hand = [each for each in DRILLS.values() if each.way == "hands"]
        self.assertTrue(by_hand)
        for threshold, least, most in ((0.5, 0.0, 4.0), (60.0, 4.0, 200.0)):
            ended = [
                abs(record.outcome.ended_cents)
                for drill in by_hand
                for seed in range(3)
                for record in go_through(
                    drill,
                    Learner(np.random.default_rng([seed, 9]), 1.0 if threshold < 1.0 else 0.2, threshold, 0.05),
                    kind=KINDS[seed],
                    seed=seed,
                ).records
                if record.outcome is not None
            ]
            self.assertTrue(least <= float(np.quantile(ended, 0.75)) <= most, (threshold, np.quantile(ended, 0.75)))


if __name__ == "__main__":
    unittest.main()
