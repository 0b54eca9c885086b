"""One string fitted to its partials: what each of them says counts by how far it can be trusted."""

import unittest

import numpy as np

from pondus.core.hearing.partials import CENTS_PER_LN, one_string

ORDERS = np.arange(1.0, 9.0)
LEVELS = 10.0 ** (-6.0 * (ORDERS - 1.0) / 20.0)


class TestOneString(unittest.TestCase):
    def setUp(self) -> None:
        self.rng = np.random.default_rng(5)

    def test_partials_that_a_body_pulls_outvote_the_one_known_best(self) -> None:
        for _ in range(20):
            offsets = self.rng.normal(0.0, 1.5, len(ORDERS))
            errors = np.full(len(ORDERS), 0.2)
            offsets[5], errors[5] = 3.5, 0.01  # another player's steady bow sits there
            cents, _, error, weights = one_string(offsets, ORDERS, LEVELS, errors)
            with self.subTest(offsets=offsets.round(1)):
                self.assertLess(abs(cents), 2.0)
                self.assertGreater(error, 0.15)
                self.assertLess(weights[5] / weights.sum(), 0.3)

    def test_loud_ones_are_trusted_further_than_weak_ones(self) -> None:
        offsets = np.where(ORDERS < 4.0, 0.0, 3.0) + self.rng.normal(0.0, 0.3, len(ORDERS))
        cents = one_string(offsets, ORDERS, LEVELS, np.full(len(ORDERS), 0.1))[0]
        evenly = one_string(offsets, ORDERS, np.ones(len(ORDERS)), np.full(len(ORDERS), 0.1))[0]
        self.assertLess(cents, evenly - 0.3)

    def test_of_a_string_that_nothing_pulls_the_best_known_counts_most(self) -> None:
        errors = np.array([1.0, 0.02, 1.0, 0.5, 1.0, 1.0, 0.5, 1.0])
        for _ in range(20):
            offsets = self.rng.normal(0.0, errors)
            cents, _, error, _ = one_string(offsets, ORDERS, LEVELS, errors)
            with self.subTest(offsets=offsets.round(1)):
                self.assertLess(abs(cents - offsets[1]), 0.15)
                self.assertLess(error, 0.4)

    def test_a_stiff_string_is_no_pulled_one(self) -> None:
        stretch = 0.5 * CENTS_PER_LN * 2e-4 * (ORDERS**2 - 1.0)
        cents, stiffness, error, _ = one_string(stretch, ORDERS, LEVELS, np.full(len(ORDERS), 0.1))
        self.assertAlmostEqual(cents, 0.0, delta=0.05)
        self.assertAlmostEqual(stiffness, 2e-4, delta=2e-5)
        self.assertLess(error, 0.4)


if __name__ == "__main__":
    unittest.main()
