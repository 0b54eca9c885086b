"""What a tuning came to, and what its moves taught."""

import unittest
from datetime import date, timedelta

from pondus.core.hands.learned import MoveLog, learned_coupling, learned_rates, move_log
from pondus.core.hands.records import FittedString, situation_of
from pondus.core.hands.summary import MeasuredMove
from tests.core.writing import CLOCK, START, TUNING, VIOLIN, Writing, violin


class TestSummary(unittest.TestCase):
    def test_found_left_moves_minutes_and_what_they_measured(self) -> None:
        written = Writing()
        written.read("A", -20.0)
        written.turn("A", 0.5)
        written.read("A", -2.0)
        written.turn("G", 3.0, peg=True)
        summary = written.summary()
        a = summary.strings["A"]
        self.assertEqual((a.readings, a.screw_moves, a.peg_moves, a.slips), (2, 1, 0, 0))
        self.assertAlmostEqual(a.found_cents or 0.0, -20.0, places=6)
        self.assertAlmostEqual(a.left_cents or 0.0, -2.0, places=6)
        self.assertEqual((summary.minutes, summary.screw_moves, summary.peg_moves), (0.5, 1, 1))
        self.assertEqual([move.amount for move in summary.measured], [0.5])
        self.assertAlmostEqual(summary.measured[0].change_cents, 17.8, delta=0.2)
        self.assertEqual(summary.strings["G"].found_hz, None)

    def test_a_tuner_without_octaves_teaches_as_another(self) -> None:
        written = Writing()
        written.read("A", -20.0, note="A")
        written.turn("A", 0.5)
        written.read("A", -2.0, note="A")
        summary = written.summary()
        self.assertEqual([move.amount for move in summary.measured], [0.5])
        self.assertAlmostEqual(summary.strings["A"].found_cents or 0.0, -20.0, places=6)
        self.assertAlmostEqual(summary.strings["A"].left_cents or 0.0, -2.0, places=6)

    def test_an_octave_that_is_asked_about_measures_nothing(self) -> None:
        written = Writing()
        written.read("A", 0.0, note="D#")
        written.turn("A", 0.5)
        written.read("A", -2.0)
        summary = written.summary()
        self.assertEqual(summary.measured, ())
        self.assertAlmostEqual(summary.strings["A"].found_cents or 0.0, -2.0, places=6)

    def test_another_strings_pitch_is_not_where_it_was_found(self) -> None:
        written = Writing()
        written.read("A", 700.0)
        written.read("A", -12.0)
        self.assertAlmostEqual(written.summary().strings["A"].found_cents or 0.0, -12.0, places=6)

    def test_a_peg_that_gave_way_under_a_raise(self) -> None:
        for after, slips in ((-45.0, 1), (-24.0, 0), (-10.0, 0)):
            written = Writing()
            written.read("A", -20.0)
            written.turn("A", 3.0, peg=True)
            written.read("A", after)
            self.assertEqual(written.summary().strings["A"].slips, slips, after)
        lowered = Writing()
        lowered.read("A", 30.0)
        lowered.turn("A", -3.0, peg=True)
        lowered.read("A", -20.0)
        self.assertEqual(lowered.summary().strings["A"].slips, 0)

    def test_one_string_turned_between_two_readings_of_another_is_its_coupling(self) -> None:
        written = Writing()
        written.read("D", 0.0)
        written.read("A", -40.0)
        written.turn("A", 0.5)
        written.read("A", -20.0)
        written.read("D", -0.8)
        couplings = written.summary().couplings
        self.assertEqual([(one.moved, one.other) for one in couplings], [("A", "D")])
        self.assertAlmostEqual(couplings[0].went_cents, 20.0, places=2)
        self.assertAlmostEqual(couplings[0].gave_cents, -0.8, places=2)
        # Two strings turned in between: neither can be held to account.
        written = Writing()
        written.read("D", 0.0)
        for string in ("A", "G"):
            written.read(string, -40.0)
            written.turn(string, 0.5)
            written.read(string, -20.0)
        written.read("D", -0.8)
        self.assertEqual([one.other for one in written.summary().couplings if one.other == "D"], [])

    def test_voided_and_late_entries_measure_nothing(self) -> None:
        written = Writing()
        written.read("A", -20.0)
        written.turn("A", 0.5, voided=True)
        written.read("A", -2.0)
        written.read("A", 44.0, late=True)
        summary = written.summary()
        self.assertEqual((summary.measured, summary.strings["A"].readings), ((), 2))


class TestLearned(unittest.TestCase):
    def measured(self, string: str, amount: float, change: float, *, days: float = 0.0, peg: bool = False) -> MeasuredMove:
        return MeasuredMove(string, START + timedelta(days=days), "peg" if peg else "fine-tuner", amount, change)

    def test_only_moves_since_the_string_and_its_fittings_count(self) -> None:
        moves = [self.measured("A", 0.5, 10.0, days=day) for day in (-3, -2, -1)]
        for fitted, expected in (
            (FittedString("A"), 3),
            (FittedString("A", put_on=date(2026, 7, 2)), 2),
            (FittedString("A", fitted_at=START - timedelta(days=1, hours=1)), 1),
        ):
            facts = situation_of(violin(), TUNING, fitted, today=CLOCK.today)
            learned = learned_rates(fitted, facts, moves, clock=CLOCK)
            self.assertEqual((learned.screw.count, learned.peg.count), (expected, 0))
            self.assertLess(learned.screw.value, facts.screw_rate.cents)

    def test_the_advice_takes_what_was_learned(self) -> None:
        log = MoveLog({"A": [self.measured("A", 0.5, 10.0) for _ in range(20)]})
        written = Writing()
        written.read("A", -10.0)
        state = written.states(measured=log)["A"]
        self.assertAlmostEqual(state.situation.screw_rate.cents, 20.0, delta=1.5)
        assert state.advice is not None and state.advice.steps[0].amount is not None
        self.assertAlmostEqual(state.advice.steps[0].amount, 0.5, delta=0.05)

    def test_coupling_is_learned_over_the_usual(self) -> None:
        usual = learned_coupling(VIOLIN, MoveLog())
        strong = learned_coupling(VIOLIN, MoveLog(couplings={("A", "D"): [(50.0, -5.0)] * 12, ("A", "C"): [(1.0, 1.0)]}))
        self.assertLess(strong["A"]["D"], usual["A"]["D"])
        self.assertEqual(strong["A"]["E"], usual["A"]["E"])
        self.assertNotIn("C", strong["A"])

    def test_summaries_add_up(self) -> None:
        written = Writing()
        written.read("A", -20.0)
        written.turn("A", 0.5)
        written.read("A", -2.0)
        log = move_log([written.summary(), written.summary()])
        self.assertEqual(len(log.moves["A"]), 2)


if __name__ == "__main__":
    unittest.main()
