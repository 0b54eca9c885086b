"""The ledger: nights, tomorrow, pegs that gave way."""

import unittest
from datetime import date, timedelta
from uuid import uuid4

from pondus.core.hands.records import FittedString, age_when
from pondus.core.hands.summary import StringSummary, TuningSummary
from pondus.core.upkeep.ledger import TuningInAir, ledger_strings, next_morning, nights, slip_rates_of, slips_of, time_spent
from tests.core.writing import CLOCK, START, TUNING, violin


class TestLedger(unittest.TestCase):
    def tuned(self, day: float, found: float, left: float, *, slips: int = 0, humidity: float | None = None) -> TuningInAir:
        target = 440.0
        string = StringSummary(
            target * 2 ** (found / 1200), target * 2 ** (left / 1200), target, readings=2, screw_moves=1, slips=slips
        )
        summary = TuningSummary(uuid4(), START + timedelta(days=day), minutes=2.0, strings={"A": string})
        return TuningInAir(summary, humidity=humidity, celsius=20.0 if humidity else None)

    def test_a_night_runs_from_left_to_found(self) -> None:
        tunings = [self.tuned(0, -20.0, -1.0, humidity=50.0), self.tuned(1, -6.0, 0.0, humidity=44.0), self.tuned(3, -9.0, 0.0)]
        found = nights(tunings, FittedString("A"), clock=CLOCK)
        self.assertEqual([(round(night.days), round(night.left_cents), round(night.found_cents)) for night in found],
                         [(1, -1, -6), (2, 0, -9)])  # fmt: skip
        self.assertEqual([night.humidity_change for night in found], [-6.0, None])
        fresh = nights(tunings, FittedString("A", put_on=date(2026, 7, 5)), clock=CLOCK)
        self.assertEqual([(len(fresh), fresh[0].string_age_days)], [(1, 0.0)])
        self.assertEqual(nights(tunings, FittedString("G"), clock=CLOCK), [])

    def test_tomorrow_is_told_from_how_it_was_left(self) -> None:
        tunings = [self.tuned(day, -5.0, 0.0) for day in range(-12, 0)]
        told = next_morning(tunings, FittedString("A"), clock=CLOCK)
        assert told is not None
        self.assertLess(told.cents, -2.0)
        self.assertEqual(told.nights, 11)
        self.assertIsNone(next_morning(tunings, FittedString("G"), clock=CLOCK))

    def test_strings_as_found(self) -> None:
        tunings = [self.tuned(0, -20.0, 0.0), self.tuned(1, 4.0, 0.0), self.tuned(2, -1.0, 0.0)]
        a = {one.fitted.name: one for one in ledger_strings(violin(), TUNING, tunings, clock=CLOCK)}["A"]
        self.assertEqual((len(a.found_cents), a.flat_times, round(a.furthest_cents or 0.0)), (3, 1, -20))
        spent = time_spent(tunings)
        self.assertEqual((spent.tunings, spent.minutes, spent.minutes_each, spent.moves_each), (3, 6.0, 2.0, 1.0))
        self.assertEqual(time_spent([]).minutes_each, 0.0)

    def test_pegs_that_gave_way_in_a_tuning_or_the_night_before(self) -> None:
        log = [self.tuned(0, 0.0, 0.0).summary, self.tuned(1, -80.0, 0.0).summary, self.tuned(2, -4.0, 0.0, slips=1).summary]
        self.assertEqual(slips_of(log, {}, clock=CLOCK), [frozenset(), frozenset("A"), frozenset("A")])
        another = slips_of(log, {"A": date(2026, 7, 5)}, clock=CLOCK)
        self.assertEqual(another, [frozenset(), frozenset(), frozenset("A")])
        rising = [self.tuned(0, 0.0, 0.0).summary, self.tuned(1, 80.0, 0.0).summary]
        self.assertEqual(slips_of(rising, {}, clock=CLOCK)[1], frozenset())

    def test_rates_by_the_air(self) -> None:
        dry = [self.tuned(day, -80.0 if day else 0.0, 0.0, humidity=28.0) for day in range(4)]
        rates = {rate.band: rate for rate in slip_rates_of(dry, {}, clock=CLOCK)}
        self.assertEqual((rates["dry"].slipped, rates["dry"].strings), (3, 4))

    def test_ages(self) -> None:
        self.assertEqual(age_when(date(2026, 7, 4), date(2026, 7, 1)), 3.0)
        self.assertIsNone(age_when(date(2026, 7, 1), date(2026, 7, 4)))
        self.assertIsNone(age_when(date(2026, 7, 1), None))


if __name__ == "__main__":
    unittest.main()
