"""What was done between two readings though nobody told: sequences as people enter them, and what the bench then says."""

import unittest
from dataclasses import replace
from typing import Any
from uuid import uuid4

from hypothesis import given
from hypothesis import strategies as st

from pondus.core.hands.interval import Interval
from pondus.core.hands.learned import move_log
from pondus.core.hands.likely import FOLLOWS, Due, likely
from pondus.core.hands.records import Reading
from pondus.core.hands.state import StringState
from pondus.core.hands.summary import placed
from pondus.core.hands.together import all_alike, another_instrument
from pondus.core.hands.understood import at_reference
from pondus.core.judgement.heard import Heard
from tests.core.writing import START, TUNING, VIOLIN, Writing, violin

STUDENT = replace(TUNING, who="student-pegs", id=uuid4())
SOUNDING = replace(TUNING, turning="while-sounding", id=uuid4())


def hear(
    written: Writing, string: str, *, source: str = "typed", at: float | None = None, sure: bool = False, **heard: Any
) -> Reading:
    reading = Reading(string=string, heard=Heard(**heard), source=source, sure_of_string=sure, **written._next(at))
    written.readings.append(reading)
    return reading


def place(state: StringState) -> float:
    tuner = state.situation.fine_tuner
    assert tuner is not None
    return tuner.turns_from_middle


def first(state: StringState) -> str:
    assert state.advice is not None
    return state.advice.steps[0].do if state.advice.steps else "leave"


def question(state: StringState) -> str | None:
    assert state.advice is not None
    return None if state.advice.question is None else state.advice.question.question


class TestGlide(unittest.TestCase):
    def glide(self, string: str, *cents: float, seconds: float = 0.5, **strings: dict[str, Any]) -> StringState:
        written = Writing(SOUNDING)
        for number, off in enumerate(cents):
            written.read(string, off, source="microphone", at=seconds * number)
        self.log = written.now(violin(**strings)).log
        self.written = written
        return written.states(violin(**strings))[string]

    def test_one_bowed_turn_is_one_move_and_teaches_nothing(self) -> None:
        state = self.glide("A", -22.0, -19.7, -15.8, -12.0, -8.2, -4.4, -0.5)
        self.assertEqual(
            [(move.taken, move.mechanism, move.direction) for move in self.log.counting_moves], [(True, "fine-tuner", "raise")]
        )
        self.assertAlmostEqual(place(state), 21.5 / state.situation.screw_rate.cents, delta=0.01)
        self.assertEqual(first(state), "leave")
        self.assertEqual(move_log([self.written.summary()]).moves.get("A", []), [])

    def test_on_the_way_no_more_is_advised_than_is_left(self) -> None:
        state = self.glide("A", -22.0, -19.7, -15.8, -12.0)
        assert state.advice is not None
        self.assertAlmostEqual(state.advice.steps[0].amount or 0.0, 12.0 / state.situation.screw_rate.cents, delta=0.01)

    def test_plucks_while_a_peg_turns_are_one_move_to_its_aim(self) -> None:
        state = self.glide("D", -240.0, -200.0, -160.0, -120.0, -80.0, -60.0, seconds=0.7)
        self.assertTrue(all(move.mechanism == "peg" for move in self.log.counting_moves))
        self.assertEqual((first(state), question(state)), ("turn-peg", None))

    def test_what_passes_is_no_line_of_the_history(self) -> None:
        self.glide("A", -22.0, -19.7, -15.8, -12.0, -0.5)
        self.assertEqual([reading.passing for reading in self.log.readings], [False, True, True, True, False])
        self.assertEqual(len(self.log.counting_readings), 2)

    def test_apart_they_are_readings_of_their_own(self) -> None:
        self.glide("A", -22.0, -12.0, -2.0, seconds=4.0)
        self.assertEqual(len(self.log.counting_readings), 3)


class TestNobodyPresses(unittest.TestCase):
    def test_nothing_moved_is_asked_about_at_the_second_reading(self) -> None:
        written = Writing(STUDENT)
        written.read("A", -300.0)
        self.assertEqual(first(written.states()["A"]), "turn-peg")
        written.read("A", -300.0)
        state = written.states()["A"]
        self.assertEqual(question(state), "no-effect")
        assert state.moved is not None
        self.assertTrue(state.moved.taken)
        self.assertEqual(state.moved.id, written.readings[-1].id, "what is said of it is kept with its reading")

    def test_it_went_the_wrong_way(self) -> None:
        written = Writing(STUDENT)
        written.read("G", -30.0)
        written.read("G", -48.0)
        self.assertEqual(question(written.states()["G"]), "wrong-way")
        self.assertLess(place(written.states()["G"]), -0.4, "its screw went the other way")
        written.read("G", -30.0)  # the hand finds the right way by itself
        self.assertEqual((question(written.states()["G"]), first(written.states()["G"])), (None, "turn-fine-tuner"))
        self.assertAlmostEqual(place(written.states()["G"]), 0.0, delta=0.05)

    def test_said_that_it_was_not_turned_nothing_was(self) -> None:
        written = Writing(STUDENT)
        written.read("A", -300.0)
        written.read("A", -300.0, turn_answer="not-turned")
        state = written.states()["A"]
        self.assertEqual((question(state), state.moved, first(state)), (None, None, "turn-peg"))

    def test_a_move_that_was_told_and_taken_back_was_none(self) -> None:
        written = Writing(STUDENT)
        written.read("A", -300.0)
        written.moves.append(replace(written.turn("A", 5.0, peg=True), voided=True))
        del written.moves[0]
        written.read("A", -300.0)
        self.assertIsNone(question(written.states()["A"]))

    def test_sides_are_halved_as_with_a_press(self) -> None:
        written, amounts = Writing(STUDENT), []
        for side in ("flat", "sharp", "flat"):
            hear(written, "A", note="A4", side=side)
            advice = written.states()["A"].advice
            assert advice is not None
            amounts.append(advice.steps[0].amount)
        self.assertEqual(amounts, [0.5, 0.25, 0.125])

    def test_two_listed_steps_done_at_once(self) -> None:
        screwed_in = violin(G={"screw_turns": 3.5})
        written = Writing(replace(TUNING, id=uuid4()))
        written.read("G", -788.0)
        written.read("G", -290.0)
        now = written.now(screwed_in)
        state = next(state for state in now.states if state.string.name == "G")
        self.assertEqual(
            [(move.mechanism, move.direction) for move in now.log.counting_moves], [("fine-tuner", "lower"), ("peg", "raise")]
        )
        self.assertEqual((place(state), question(state), first(state)), (0.0, None, "turn-peg"))

    def test_who_tells_of_each_move_is_believed(self) -> None:
        written = Writing(STUDENT)
        written.read("A", -300.0)
        written.turn("A", 5.0, peg=True, expect_cents=60.0, expect_plus_minus=30.0)
        written.read("A", -230.0)
        written.read("A", -230.0)
        self.assertIsNone(question(written.states()["A"]))

    def test_who_told_of_one_move_need_not_tell_of_the_next(self) -> None:
        written = Writing(STUDENT)
        written.read("A", -12.0)
        written.turn("A", 0.3, expect_cents=12.0, expect_plus_minus=4.0)
        written.read("A", -1.0)
        written.read("D", -25.0)
        written.read("D", -6.0)  # half a turn, and nobody pressed
        written.read("G", -300.0)
        written.read("G", -300.0)
        self.assertEqual(question(written.states()["G"]), "no-effect")

    @given(st.floats(-40.0, -12.0), st.floats(0.5, 1.6))
    def test_a_turn_that_did_about_what_was_due_is_never_asked_about(self, off: float, share: float) -> None:
        written = Writing(STUDENT)
        written.read("A", off)
        advice = written.states()["A"].advice
        assert advice is not None
        written.read("A", off + share * (advice.steps[0].expect_cents or 0.0))
        state = written.states()["A"]
        self.assertIsNone(question(state))
        self.assertGreater(place(state), 0.0)


class TestScrew(unittest.TestCase):
    """Where a screw stands goes by every turn of it, told or taken, read again or not, over all tunings."""

    def test_turns_that_nobody_heard_count_by_what_was_told(self) -> None:
        written = Writing(STUDENT)
        written.turn("A", 0.5)
        self.assertAlmostEqual(place(written.states()["A"]), 0.5)
        written.read("A", -10.0)
        self.assertAlmostEqual(place(written.states()["A"]), 0.5, msg="the first reading takes nothing away")
        written.turn("A", 0.25)
        left = placed(violin(), [written.summary()])
        string = left.fitted("A")
        assert string is not None
        self.assertAlmostEqual(string.screw_turns, 0.75, msg="nor does the end of the tuning")

    def test_tunings_one_by_one_or_all_together(self) -> None:
        past = []
        for answer in (None, "end-or-loose", None):
            written = Writing(replace(STUDENT, turning="while-sounding"))
            written.read("A", -22.0)
            written.read("A", -2.0 if answer is None else -22.0, turn_answer=answer)
            past.append(written.summary())
        one_by_one = violin()
        for one in past:
            one_by_one = placed(one_by_one, [one])
        self.assertEqual(one_by_one, placed(violin(), past))
        string = one_by_one.fitted("A")
        assert string is not None
        self.assertEqual((string.screw_turns, round(string.screw_cents)), (4.0, 20), "from its end on")


class TestJump(unittest.TestCase):
    def test_it_is_played_again_before_anything_is_turned(self) -> None:
        written = Writing(replace(TUNING, id=uuid4()))
        written.read("A", -12.0)
        written.read("A", -490.0)
        self.assertEqual(first(written.states()["A"]), "play-again")

    def test_heard_again_it_counts(self) -> None:
        written = Writing(replace(TUNING, id=uuid4()))
        for off in (-12.0, -490.0, -491.0):
            written.read("A", off)
        state = written.states()["A"]
        self.assertEqual((first(state), question(state)), ("turn-peg", None))

    def test_not_heard_again_it_was_a_wrong_note(self) -> None:
        written = Writing(replace(TUNING, id=uuid4()))
        for off in (-12.0, -490.0, -1.0):
            written.read("A", off)
        now = written.now()
        state = next(state for state in now.states if state.string.name == "A")
        self.assertEqual(first(state), "leave")
        self.assertEqual([reading.misread for reading in now.log.readings], [False, True, False])
        self.assertAlmostEqual(place(state), 11.0 / state.situation.screw_rate.cents, delta=0.02)


class TestFaults(unittest.TestCase):
    def test_a_screw_said_not_to_be_turned_thrice_is_looked_at_with_somebody(self) -> None:
        """A hand that turns a screw in vain and answers so each time went round for ever."""
        written = Writing()
        written.read("D", -40.0)
        for time in (1, 2, 3):
            written.turn("D", 0.5, answer="not-turned", expect_cents=20.0, expect_plus_minus=5.0)
            written.read("D", -40.0)
            state = written.states()["D"]
            assert state.advice is not None
            does = [step.do for step in state.advice.steps]
            self.assertEqual(does == ["check"], time == 3, (time, does))

    def test_a_peg_that_sprang_back_thrice_is_left_for_today(self) -> None:
        written, said = Writing(replace(TUNING, who="adult", id=uuid4())), []
        written.read("D", -180.0)
        for number in range(3):
            written.turn("D", 8.0, peg=True, answer="sprang-back", expect_cents=80.0, expect_plus_minus=30.0)
            written.read("D", -200.0 - number)
            advice = written.states()["D"].advice
            assert advice is not None
            said.append((advice.steps[0].do, "chalk" in advice.steps[0].say))
        self.assertEqual(said, [("turn-peg", False), ("turn-peg", True), ("luthier", False)])

    def test_a_peg_that_sticks_goes_to_another_adult_and_then_to_the_luthier(self) -> None:
        written, does = Writing(replace(TUNING, who="adult", id=uuid4())), []
        for _ in range(4):
            written.read("D", -200.0)
            does.append(first(written.states(violin(D={"peg_state": "sticks"}))["D"]))
        self.assertEqual(does, ["turn-peg", "check", "luthier", "luthier"])

    def test_two_pulls_that_did_nothing_are_enough(self) -> None:
        written, does = Writing(replace(TUNING, id=uuid4())), []
        for _ in range(3):
            written.read("D", 15.0)
            does.append(first(written.states(violin(D={"has_fine_tuner": False}))["D"]))
        self.assertEqual(does, ["tug-down", "tug-down", "turn-peg"])


class TestTogether(unittest.TestCase):
    def test_all_alike_is_said_before_any_turn(self) -> None:
        for off in (-20.0, 8.0, 25.0):
            self.assertIsNotNone(all_alike(dict.fromkeys("GDAE", off), a4=440.0, strings=4))
        self.assertIsNone(all_alike(dict.fromkeys("GDA", -20.0), a4=440.0, strings=4), "one isn't heard yet")
        self.assertIsNone(all_alike(dict.fromkeys("GDAE", -5.0), a4=440.0, strings=4))

    def test_anothers_strings_are_told(self) -> None:
        found = another_instrument(VIOLIN, dict.fromkeys("GDAE", -700.0), a4=440.0, fifth_cents=700.0)
        self.assertIn("viola", found or "")
        self.assertIsNone(another_instrument(VIOLIN, dict.fromkeys("GDAE", -12.0), a4=440.0, fifth_cents=700.0))

    def test_readings_move_with_the_reference(self) -> None:
        shown = Reading(uuid4(), "A", 1, START, heard=Heard(note="A4", cents=0.0), read_at_a4=440.0)
        self.assertEqual(at_reference(shown, 442.0).heard, Heard(note="A4", cents=-7.85))
        in_tune = replace(shown, heard=Heard(note="A4", side="in-tune"))
        self.assertEqual(at_reference(in_tune, 442.0).heard, Heard(note="A4", cents=-7.85))
        self.assertEqual(at_reference(replace(shown, heard=Heard(note="A", side="flat")), 442.0).heard, Heard(note="A"))
        self.assertEqual(at_reference(shown, 440.0), shown)
        for side, at_442, at_438 in (("same", 0, 0), ("in-tune", 0, 0), ("lower", 1, 0), ("flat", 1, 0), ("much-higher", 0, 1)):
            by_side = replace(shown, heard=Heard(side=side))  # type: ignore[arg-type]
            with self.subTest(side):
                counts = [at_reference(by_side, a4).counts for a4 in (442.0, 438.0, 440.0)]
                self.assertEqual(counts, [bool(at_442), bool(at_438), True])
        self.assertEqual(at_reference(replace(shown, heard=Heard(hz=440.0)), 442.0).heard, Heard(hz=440.0))


class TestLikely(unittest.TestCase):
    @given(st.floats(-60.0, 60.0), st.floats(5.0, 60.0))
    def test_the_shares_are_of_one_whole(self, change: float, due: float) -> None:
        found = likely(Interval(change, change), [Due(due, due / 3.0)], prior=FOLLOWS)
        self.assertAlmostEqual(sum(found.shares.values()), 1.0)
        self.assertEqual(found.happened, max(found.shares, key=lambda one: found.shares[one]))

    def test_with_nothing_shown_nothing_was_turned(self) -> None:
        found = likely(Interval(12.0, 12.0), [], prior=FOLLOWS)
        self.assertEqual((found.happened, found.turned), ("else", 0.0))
