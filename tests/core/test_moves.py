"""What the last moves of a string tell together: sums, repeats, answers, sides, slack."""

import unittest
from dataclasses import replace
from datetime import timedelta
from typing import Any
from uuid import uuid4

from pondus.core.errors import BadInput
from pondus.core.hands.learned import move_log
from pondus.core.hands.state import StringState, check_answer
from tests.core.writing import START, TUNING, Writing, violin

STEP_BY_STEP = replace(TUNING, turning="step-by-step")


def questions(state: StringState) -> list[Any]:
    assert state.advice is not None
    return [step.question for step in state.advice.steps if step.do == "ask"]


class TestSums(unittest.TestCase):
    def after(self, *turns: float, moved: float = 0.0) -> StringState:
        written, off = Writing(STEP_BY_STEP), -40.0
        written.read("D", off)
        for amount in turns:
            written.turn("D", amount)
            off += moved
            written.read("D", off)
        return written.states()["D"]

    def test_small_turns_without_effect_are_due_together(self) -> None:
        self.assertEqual(questions(self.after(0.2)), [])
        self.assertEqual(questions(self.after(0.2, 0.2)), ["no-effect"])

    def test_an_effect_on_the_way_begins_the_sum_anew(self) -> None:
        self.assertEqual(questions(self.after(0.2, 0.2, moved=3.0)), [])

    def test_what_was_due_is_told_as_one_move(self) -> None:
        recent = self.after(0.2, 0.2).recent
        assert recent is not None and recent.expect_cents is not None
        self.assertEqual(recent.from_cents, -40.0)
        self.assertAlmostEqual(recent.expect_cents, 0.4 * 33.9, delta=0.2)

    def test_a_turn_the_other_way_is_not_added(self) -> None:
        written = Writing(STEP_BY_STEP)
        written.read("D", -40.0)
        written.turn("D", -0.2)
        written.read("D", -40.0)
        written.turn("D", 0.2)
        written.read("D", -40.0)
        self.assertEqual(questions(written.states()["D"]), [])


class TestReadAgain(unittest.TestCase):
    """A question about a move stays until it is answered, or a reading shows that the move did what it should."""

    def read_after(self, *cents: float, answer: str | None = None) -> Writing:
        """A D a semitone flat, its peg turned up, and what the tuner then shows of C♯4."""
        written = Writing(STEP_BY_STEP)
        written.read("D", -10.0, note="C♯4")
        written.turn("D", 4.0, peg=True, answer=answer)
        for each in cents:
            written.read("D", each, note="C♯4")
        return written

    def test_reading_it_again_as_it_was_answers_nothing(self) -> None:
        for said, cents in (("no-effect", -10.0), ("wrong-way", -40.0)):
            with self.subTest(said=said):
                for times in (1, 2, 4):
                    state = self.read_after(*[cents] * times).states()["D"]
                    self.assertEqual(questions(state), [said])
                    assert state.advice is not None and state.moved is not None
                    self.assertFalse(any(step.is_move for step in state.advice.steps))

    def test_a_reading_that_shows_what_was_expected_answers_it(self) -> None:
        state = self.read_after(-40.0, 30.0).states()["D"]
        assert state.advice is not None
        self.assertEqual((questions(state), state.advice.steps[0].do), ([], "turn-peg"))

    def test_what_moved_and_then_slipped_is_not_asked_about(self) -> None:
        self.assertEqual(questions(self.read_after(30.0, -40.0).states()["D"]), [])

    def test_once_answered_it_may_be_read_again(self) -> None:
        written = self.read_after(-40.0, answer="sprang-back")
        written.read("D", -40.0, note="C♯4", source="microphone")
        self.assertEqual(questions(written.states()["D"]), [])

    def test_a_move_that_was_made_another_way_than_told_is_said_as_such(self) -> None:
        for after, said in ((-30.0, "I turned it the other way"), (-10.0, "I haven't turned it")):
            written = Writing(STEP_BY_STEP)
            written.read("D", -10.0)
            written.turn("D", 0.4)
            written.read("D", after)
            advice = written.states()["D"].advice
            assert advice is not None and advice.question is not None
            told = {option.answer: option.say for option in advice.question.options}
            with self.subTest(after=after):
                self.assertEqual(told.get("not-turned"), said)

    def test_only_what_is_offered_of_that_move_answers_it(self) -> None:
        written = self.read_after(-10.0)
        state, move = written.states()["D"], written.moves[-1]
        check_answer(state, move.id, "other-peg")
        for asked, about, answer in ((state, uuid4(), "other-peg"), (None, move.id, "other-peg")):
            with self.assertRaises(BadInput):
                check_answer(asked, about, answer)
        settled = self.read_after(40.0)
        with self.assertRaises(BadInput):
            check_answer(settled.states()["D"], settled.moves[-1].id, "other-peg")

    def test_from_a_turn_the_wrong_way_nothing_is_learned(self) -> None:
        for cents, counts in ((-40.0, 0), (-10.0, 0), (30.0, 1)):
            written = self.read_after(cents)
            learned = written.states(measured=move_log([written.summary()]))["D"].learned
            self.assertEqual(learned.peg.count, counts)


class TestAnswers(unittest.TestCase):
    def twice(self, answer: str) -> StringState:
        written = Writing(STEP_BY_STEP)
        written.read("D", -20.0, note="C4")
        written.turn("D", 5.0, peg=True, answer=answer)
        written.read("D", -20.0, note="C4")
        written.turn("D", 5.0, peg=True)
        written.read("D", -20.0, note="C4")
        return written.states()["D"]

    def test_twice_in_a_row_wants_a_second_pair_of_eyes(self) -> None:
        state = self.twice("sprang-back")
        assert state.advice is not None and state.recent is not None
        self.assertEqual((questions(state), state.recent.repeats), (["no-effect"], 1))
        self.assertIn("second pair of eyes", state.advice.steps[0].say)

    def test_one_that_was_not_turned_is_no_repeat(self) -> None:
        recent = self.twice("not-turned").recent
        assert recent is not None
        self.assertEqual(recent.repeats, 0)

    def test_an_answer_is_followed_and_the_plan_with_it(self) -> None:
        written = Writing(STEP_BY_STEP)
        written.read("D", -20.0, note="C4")
        written.turn("D", 5.0, peg=True, answer="sprang-back")
        written.read("D", -20.0, note="C4")
        state = written.states()["D"]
        assert state.advice is not None
        self.assertEqual(state.advice.steps[0].do, "turn-peg")
        self.assertIn("push it firmly in", state.advice.steps[0].say)
        self.assertIsNone(state.asked().recent_move)

    def test_an_answer_that_no_longer_fits_is_left_alone(self) -> None:
        written = Writing(STEP_BY_STEP)
        written.read("D", -20.0, note="C4")
        written.turn("D", 5.0, peg=True, answer="none")
        written.read("D", -40.0)
        state = written.states()["D"]
        assert state.advice is not None
        self.assertEqual(state.advice.state, "flat")


class TestSlack(unittest.TestCase):
    def state(self, *cents: float, note: str = "D4", since: float | None = None) -> str:
        written = Writing(STEP_BY_STEP)
        for off in cents:
            whole = round(off / 100.0)
            names = {0: "D4", -1: "C#4", -2: "C4", -3: "B3", -5: "A3", -8: "F#3"}
            written.read("D", off - 100.0 * whole, note=names[whole], sure_of_string=True)
        more = {} if since is None else {"slack_since": START + timedelta(seconds=since)}
        advice = written.states(violin(D=more))["D"].advice
        assert advice is not None
        return advice.state

    def test_slack_lasts_until_within_a_hundred(self) -> None:
        self.assertEqual(self.state(-820.0, -480.0), "slack")
        self.assertEqual(self.state(-820.0, -480.0, -90.0, -200.0, -200.0), "flat")
        self.assertEqual(self.state(-480.0), "flat")

    def test_a_string_that_began_to_sound_is_slack_once(self) -> None:
        self.assertEqual(self.state(-300.0, since=0.0), "slack")
        self.assertEqual(self.state(-300.0, -20.0, -200.0, -200.0, since=0.0), "flat")
