"""Learning from the log: near the truth, honest about it, deaf to slips and misprints."""

import unittest

import numpy as np

from pondus.core.hands.learned import learn_coupling, learn_peg_rate, learn_rate
from pondus.core.instruments.mechanics import Rate

PRIOR = Rate(40.0, 14.0)
TRUE = 30.0


def moves(count: int, rng: np.random.Generator) -> tuple[np.ndarray, np.ndarray]:
    meant = rng.choice([-1, 1], count) * rng.uniform(0.1, 0.5, count)
    made = meant * (1 + rng.normal(0, 0.15, count))
    return meant, TRUE * made + rng.normal(0, 1.0, count)


class TestRates(unittest.TestCase):
    def setUp(self) -> None:
        self.rng = np.random.default_rng(5)

    def test_nothing_learned_is_the_prior(self) -> None:
        learned = learn_rate([], [], prior=PRIOR, hand_error=0.15)
        self.assertEqual((learned.value, learned.plus_minus, learned.count), (40.0, 14.0, 0))

    def test_more_moves_come_nearer_and_are_surer(self) -> None:
        spreads = []
        for count in (1, 4, 16, 64):
            x, y = moves(count, self.rng)
            learned = learn_rate(x, y, prior=PRIOR, hand_error=0.15)
            spreads.append(learned.plus_minus)
            self.assertEqual(learned.count, count)
        self.assertEqual(spreads, sorted(spreads, reverse=True))
        self.assertAlmostEqual(learned.value, TRUE, delta=2.0)

    def test_the_uncertainty_is_honest(self) -> None:
        """The truth lies within two spreads in about 95 of 100 logs."""
        inside = 0
        for _ in range(300):
            x, y = moves(6, self.rng)
            learned = learn_rate(x, y, prior=PRIOR, hand_error=0.15)
            inside += abs(learned.value - TRUE) <= 2 * learned.plus_minus
        self.assertGreater(inside, 300 * 0.9)

    def test_slips_and_misprints_do_not_decide(self) -> None:
        x, y = moves(12, self.rng)
        clean = learn_rate(x, y, prior=PRIOR, hand_error=0.15).value
        y[3] -= 80.0
        y[7] += 200.0
        spoilt = learn_rate(x, y, prior=PRIOR, hand_error=0.15).value
        self.assertLess(abs(spoilt - clean), 3.0)

    def test_what_is_not_a_number_is_passed_over(self) -> None:
        learned = learn_rate([0.5, np.nan, 0.0], [15.0, 10.0, 3.0], prior=PRIOR, hand_error=0.15)
        self.assertEqual(learned.count, 1)


class TestPullAndDrift(unittest.TestCase):
    def test_pull(self) -> None:
        rng = np.random.default_rng(6)
        moved = rng.uniform(-60, 60, 40)
        learned = learn_coupling(moved, -0.05 * moved + rng.normal(0, 1, 40), prior=-0.03)
        self.assertAlmostEqual(learned.value, -0.05, delta=0.015)

    def test_no_pull_measured_is_the_usual(self) -> None:
        learned = learn_coupling([], [], prior=-0.03)
        self.assertEqual((learned.value, learned.count), (-0.03, 0))
        one = learn_coupling([40.0], [-2.0], prior=-0.03)
        self.assertEqual(one.count, 1)
        self.assertTrue(-0.05 < one.value < -0.03 and one.plus_minus < learned.plus_minus)

    def test_one_reading_is_as_exact_as_a_tuner(self) -> None:
        """Two readings of half a cent each: one move of a whole turn leaves a screw's rate within a cent."""
        learned = learn_rate([1.0] * 4, [30.0, 30.5, 29.5, 30.0], prior=Rate(28.0, 10.0), hand_error=0.0)
        self.assertAlmostEqual(learned.value, 30.0, delta=0.3)
        self.assertLess(learned.plus_minus, 1.0)


class TestPegsThatJump(unittest.TestCase):
    def test_small_nudges_do_not_spoil_the_rate_where_larger_ones_are_known(self) -> None:
        degrees, cents = [4.0, 5.0, 3.0, 1.0, 1.0, -1.0, 1.0], [48.0, 60.0, 36.0, 25.0, 25.0, -25.0, 25.0]
        self.assertAlmostEqual(learn_peg_rate(degrees, cents, prior=Rate(12.0, 6.0)).value, 12.0, delta=0.5)
