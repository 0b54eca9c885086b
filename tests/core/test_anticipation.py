"""What the bench says of a string that turns still to be made on the others will pull (R46), and of figures they outdated."""

import random
import unittest
from dataclasses import replace
from itertools import pairwise

from pondus.core.group.triage import instrument_pace
from pondus.core.hands.learned import MoveLog
from pondus.core.judgement.advise import advise
from pondus.core.judgement.heard import Heard
from pondus.core.judgement.plan import plan
from pondus.core.judgement.procedure import MOST_OVER_CENTS, aim_for
from pondus.core.judgement.situation import FineTuner, Peg, situation
from pondus.core.views.bench import StringView, bench_view, planned_round, view_of
from tests.core.writing import CLOCK, TUNING, VIOLIN, Writing, violin


def shown(written: Writing) -> dict[str, StringView]:
    return {each.name: each for each in bench_view(violin(), written.log, MoveLog(), clock=CLOCK).strings}


def read(**cents: float) -> Writing:
    written = Writing()
    for name, off in cents.items():
        written.read(name, off)
    return written


class TestAims(unittest.TestCase):
    def test_a_screw_leaves_a_string_over_by_what_the_others_will_take_back(self) -> None:
        written = read(G=-40.0, D=-40.0, A=-10.0, E=0.0)
        a = shown(written)["A"]
        assert a.advice is not None
        self.assertAlmostEqual(a.advice.steps[0].aim_cents or 0.0, 0.03 * 40.0 + 0.015 * 40.0, delta=0.06)
        self.assertEqual(a.ghost_cents, a.advice.steps[0].aim_cents)
        self.assertIn("Left 1.8 cents sharp: what is still to be turned on the others brings it down", a.advice.why)
        planned = planned_round(VIOLIN, written.now(), MoveLog())
        self.assertEqual(planned.moves[0].string, "A")
        self.assertAlmostEqual(planned.moves[0].step.aim_cents or 0.0, a.ghost_cents or 0.0, delta=0.06)

    def test_by_five_cents_at_most_and_under_where_the_others_come_down(self) -> None:
        self.assertEqual([aim_for(pull) for pull in (-12.0, 12.0, 1.5)], [MOST_OVER_CENTS, -MOST_OVER_CENTS, -1.5])
        sharp = shown(read(G=60.0, D=60.0, A=10.0, E=0.0))["A"]
        assert sharp.advice is not None
        self.assertLess(sharp.advice.steps[0].aim_cents or 0.0, -2.0)
        self.assertEqual(sharp.advice.steps[0].pitch, "lower")

    def test_a_peg_never_aims_over_its_target(self) -> None:
        for screw in (None, FineTuner()):
            facts = situation(VIOLIN, "D", fine_tuner=screw, peg=Peg(), turning="while-sounding")
            told = advise(facts, Heard(note="C4", cents=0.0), pulls_to_come=-9.0)
            aims = [step.aim_cents for step in told.steps if step.do == "turn-peg"]
            self.assertTrue(aims and all(aim is not None and aim <= 0.0 for aim in aims), aims)

    def test_once_the_others_are_well_it_is_brought_to_its_place(self) -> None:
        done = shown(read(G=0.0, D=0.0, A=4.0, E=0.0))["A"]
        assert done.advice is not None
        self.assertEqual((done.advice.steps[0].aim_cents, done.is_left), (0.0, False))

    def test_a_question_is_asked_whatever_is_to_come(self) -> None:
        written = read(G=-60.0, D=-60.0, A=-30.0, E=0.0)
        written.turn("A", 0.75)
        written.read("A", -30.0)
        a = shown(written)["A"]
        assert a.advice is not None
        self.assertEqual(([step.do for step in a.advice.steps], a.is_left), (["ask"], False))


class TestLeft(unittest.TestCase):
    def test_a_string_the_others_will_bring_in_is_left_for_now(self) -> None:
        written = read(G=-80.0, D=-80.0, A=4.5, E=0.0)
        view = bench_view(violin(), written.log, MoveLog(), clock=CLOCK)
        a = {each.name: each for each in view.strings}["A"]
        assert a.advice is not None
        self.assertEqual((a.advice.state, a.advice.steps, a.advice.mechanism), ("sharp", (), "none"))
        self.assertEqual((a.headline, a.is_left, a.ghost_cents), ("Leave it for now", True, None))
        self.assertIn("on the others will bring it down", a.advice.why)
        self.assertEqual(view.next_string, "D")

    def test_nothing_is_turned_away_from_its_target(self) -> None:
        """A string that is flat isn't let down, nor a sharp one raised, to make room for pulls."""
        for cents, pulls in ((-3.5, 9.0), (3.5, -9.0), (-1.5, 4.0)):
            facts = situation(VIOLIN, "A", fine_tuner=FineTuner(), peg=Peg(), tolerance_cents=1.0)
            told = advise(facts, Heard(note="A4", cents=cents), pulls_to_come=pulls)
            self.assertEqual(told.steps, (), (cents, pulls))

    def test_what_is_in_tune_is_left_and_said_so(self) -> None:
        for down, said in ((-8.0, "Leave it: it is in tune"), (-80.0, "Leave it for now")):
            a = shown(read(G=down, D=down, A=0.0, E=0.0))["A"]
            self.assertEqual((a.headline, a.is_left), (said, True))

    def test_what_nobody_turns_pulls_on_nothing(self) -> None:
        written = Writing(replace(TUNING, who="student-fine-tuners"))
        for name, off in (("G", -95.0), ("D", -450.0), ("A", -10.0), ("E", 0.0)):
            written.read(name, off)
        a = shown(written)["A"]
        assert a.advice is not None
        self.assertAlmostEqual(a.advice.steps[0].aim_cents or 0.0, 0.015 * 95.0, delta=0.06)


class TestPlanAndBenchAgree(unittest.TestCase):
    def test_what_the_plan_turns_first_is_what_the_bench_goes_to_and_not_left(self) -> None:
        rng = random.Random(7)
        for _ in range(150):
            cents = {name: rng.choice((-1.0, 1.0)) * rng.choice((0.5, 2.0, 4.5, 8.0, 30.0, 150.0)) for name in "GDAE"}
            if abs(cents["E"]) > 100.0:
                cents["E"] /= 10.0
            view = bench_view(violin(), read(**cents).log, MoveLog(), clock=CLOCK)
            by_name = {each.name: each for each in view.strings}
            begins = next((line.string for line in view.plan.lines), None)
            self.assertEqual(view.next_string, begins, cents)
            for name in () if begins is None else (begins,):
                self.assertFalse(by_name[name].is_left, cents)
                first = by_name[name].advice.steps[0]  # type: ignore[union-attr]
                self.assertEqual(first.pitch, "raise" if cents[name] < 0.0 else "lower", cents)

    def test_a_string_in_tune_is_not_turned_for_pulls_to_come(self) -> None:
        for a in (-2.5, 0.0, 2.5):
            view = bench_view(violin(), read(G=-90.0, D=-90.0, A=a, E=0.0).log, MoveLog(), clock=CLOCK)
            self.assertEqual(view.plan.lines[0].string, "D", a)


class TestOutdated(unittest.TestCase):
    def test_the_plan_begins_where_the_others_have_pulled_the_string_since(self) -> None:
        written = read(G=-10.0, D=-300.0)
        written.turn("D", 20.0, peg=True)
        written.read("D", -10.0)
        states = written.states()
        self.assertAlmostEqual(states["G"].pulled_since, -0.03 * 290.0, delta=0.01)
        self.assertEqual(states["G"].outdated_by, ("D",))
        asked = {name: state.asked() for name, state in states.items()}
        before = plan(asked, instrument=VIOLIN).moves[0].before
        self.assertAlmostEqual(before["G"], -18.7, delta=0.01)
        self.assertAlmostEqual(before["D"], -10.0, delta=0.01)

    def test_a_string_read_since_stands_where_it_reads(self) -> None:
        written = read(G=-10.0, D=-300.0)
        written.turn("D", 20.0, peg=True)
        written.read("D", -10.0)
        written.read("G", -19.0)
        self.assertEqual((written.states()["G"].pulled_since, written.states()["G"].outdated_by), (0.0, ()))

    def test_what_was_in_tune_and_was_pulled_out_is_heard_again(self) -> None:
        written = read(G=0.0, D=0.0, A=0.0, E=-150.0)
        written.turn("E", 5.0, peg=True)
        written.read("E", 0.0)
        view = bench_view(violin(), written.log, MoveLog(), clock=CLOCK)
        a = {each.name: each for each in view.strings}["A"]
        self.assertEqual(
            (view.next_string, a.headline, a.words, a.is_left), ("A", "Play the A string again", "hear again", False)
        )
        self.assertEqual(a.cautions_said, ["E was turned since, and that moves it too."])
        self.assertEqual([line.string for line in view.plan.lines], ["A"])
        written.read("A", -1.0)
        after = bench_view(violin(), written.log, MoveLog(), clock=CLOCK)
        self.assertEqual((after.next_string, after.plan.lines), (None, []))

    def test_what_was_never_heard_comes_before_what_is_to_be_heard_again(self) -> None:
        written = read(D=2.0, A=0.0, G=200.0)
        written.turn("G", -20.0, peg=True)
        written.read("G", 0.0)
        self.assertTrue(written.states()["D"].to_hear_again)
        self.assertEqual(bench_view(violin(), written.log, MoveLog(), clock=CLOCK).next_string, "E")
        written.read("E", 0.0)
        self.assertEqual(bench_view(violin(), written.log, MoveLog(), clock=CLOCK).next_string, "D")

    def test_what_is_still_in_tune_after_a_pull_is_left(self) -> None:
        written = read(G=0.0, D=0.0, A=1.0, E=-100.0)
        written.turn("E", 4.0, peg=True)
        written.read("E", 0.0)
        self.assertEqual(written.states()["A"].outdated_by, ("E",))
        self.assertFalse(written.states()["A"].to_hear_again)
        self.assertIsNone(bench_view(violin(), written.log, MoveLog(), clock=CLOCK).next_string)


class TestMinutes(unittest.TestCase):
    def test_they_are_the_nearest_and_follow_what_this_instrument_takes(self) -> None:
        written = read(G=0.0, D=0.0, A=-12.0, E=0.0)
        now = written.now()
        planned = planned_round(VIOLIN, now, MoveLog())
        minutes = [view_of(violin(), now, planned, pace=pace).plan.minutes for pace in (0.2, 1.0, 2.0, 4.0)]
        self.assertEqual(planned.seconds, 65)
        self.assertEqual(minutes, [1, 1, 2, 4])
        self.assertTrue(all(early <= late for early, late in pairwise(minutes)))

    def test_an_instrument_that_has_taken_long_is_said_to_take_long(self) -> None:
        slow = Writing()
        slow.read("A", -12.0, at=0.0)
        slow.turn("A", 0.3, at=30.0)
        slow.read("A", 0.0, at=180.0)
        past = [replace(slow.summary(), tuning_id=TUNING.instrument_id)] * 6
        self.assertEqual(instrument_pace(read(A=0.0).log, []), 1.0)
        self.assertGreater(instrument_pace(read(A=0.0).log, past), 1.5)


if __name__ == "__main__":
    unittest.main()
