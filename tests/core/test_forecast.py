"""The forecast: learns each string's creep and what the air does, isn't fooled by a slipped peg, and knows how sure it is."""

import math
import unittest
from dataclasses import replace

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from pondus.core.upkeep.forecast import GAVE_WAY_CENTS, NIGHT_SPREAD_CENTS, Night, forecast

AHEAD = Night(1.0, 0.0, math.nan, 0.0, 0.0)


def nights(count: int, *, creep: float = -3.0, warm: float = -2.5, spread: float = 2.0, seed: int = 1) -> list[Night]:
    rng = np.random.default_rng(seed)
    found = []
    for _ in range(count):
        days, celsius, left = (float(rng.choice([1.0, 1.0, 3.0])), float(rng.normal(0.0, 2.0)), float(rng.normal(0.0, 1.0)))
        change = creep * math.sqrt(days) + warm * celsius + float(rng.normal(0.0, spread)) * math.sqrt(days)
        found.append(Night(days, left, left + change, celsius, 0.0))
    return found


class TestForecast(unittest.TestCase):
    def test_learns_creep_and_warmth(self) -> None:
        known = nights(60)
        self.assertAlmostEqual(forecast(known, AHEAD).cents, -3.0, delta=0.8)
        warmer = forecast(known, replace(AHEAD, celsius_change=4.0))
        self.assertAlmostEqual(warmer.cents, -13.0, delta=1.8)
        self.assertAlmostEqual(forecast(known, replace(AHEAD, left_cents=10.0)).cents, 7.0, delta=0.8)

    def test_a_longer_night_makes_more_but_not_in_proportion(self) -> None:
        known = nights(60)
        one, nine = forecast(known, AHEAD), forecast(known, replace(AHEAD, days=9.0))
        self.assertAlmostEqual(nine.cents / one.cents, 3.0, delta=0.05)
        self.assertGreater(nine.plus_minus, one.plus_minus)

    def test_without_a_night_it_says_what_is_usual_and_how_unsure_that_is(self) -> None:
        told = forecast([], AHEAD)
        self.assertEqual(told.nights, 0)
        self.assertGreater(told.plus_minus, NIGHT_SPREAD_CENTS)
        self.assertLess(forecast(nights(40), AHEAD).plus_minus, told.plus_minus)

    def test_a_slipped_peg_neither_counts_nor_decides(self) -> None:
        known = nights(30)
        slipped = Night(1.0, 0.0, -180.0, 0.0, 0.0)
        self.assertTrue(slipped.gave_way)
        told = forecast([*known, slipped], AHEAD)
        self.assertEqual(told.nights, 30)
        self.assertAlmostEqual(told.cents, forecast(known, AHEAD).cents, delta=0.01)
        odd = Night(1.0, 0.0, -0.9 * GAVE_WAY_CENTS, 0.0, 0.0)
        self.assertAlmostEqual(forecast([*known, odd], AHEAD).cents, forecast(known, AHEAD).cents, delta=0.6)

    def test_a_new_string_is_told_to_go_flat_and_an_old_one_not(self) -> None:
        known = nights(20)
        fresh = forecast(known, replace(AHEAD, string_age_days=0.0))
        self.assertLess(fresh.cents, forecast(known, AHEAD).cents - 8.0)
        old = forecast(known, replace(AHEAD, string_age_days=60.0))
        self.assertAlmostEqual(old.cents, forecast(known, AHEAD).cents, delta=0.01)

    def test_a_new_strings_big_nights_are_no_slips(self) -> None:
        self.assertFalse(Night(1.0, 0.0, -70.0, string_age_days=0.5).gave_way)

    def test_unknown_air_widens_it(self) -> None:
        known = nights(60)
        blind = forecast(known, Night(1.0, 0.0, math.nan))
        self.assertGreater(blind.plus_minus, forecast(known, AHEAD).plus_minus + 1.0)

    def test_two_of_three_mornings_lie_within_it(self) -> None:
        within, count = 0, 0
        for seed in range(12):
            known = nights(45, seed=seed, spread=NIGHT_SPREAD_CENTS)
            for place in range(10, 45):
                told = forecast(known[:place], replace(known[place], found_cents=math.nan))
                within += abs(told.cents - known[place].found_cents) <= told.plus_minus
                count += 1
        self.assertTrue(0.60 <= within / count <= 0.78, within / count)

    @given(st.lists(st.tuples(st.floats(0.1, 40), st.floats(-60, 60), st.floats(-400, 400)), max_size=8))
    def test_whatever_the_log_holds_it_stays_a_figure(self, log: list[tuple[float, float, float]]) -> None:
        told = forecast([Night(*each) for each in log] + [Night(1.0, math.nan, 0.0)], AHEAD)
        self.assertTrue(math.isfinite(told.cents) and told.plus_minus > 0.0)
