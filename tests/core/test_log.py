"""The log: its counter decides, voided and late entries do not count, moves are held to account, checks of fifths end."""

import unittest
from dataclasses import replace
from uuid import uuid4

from pondus.core.hands.fifth_checks import holding_checks, last_before, reading_id
from pondus.core.hands.records import Reading
from pondus.core.judgement.heard import Heard
from pondus.core.views.bench_history import history_of
from pondus.core.views.bench_words import headline, to_heed
from tests.core.writing import START, TUNING, VIOLIN, Writing, violin


class TestHz(unittest.TestCase):
    def test_a_reading_without_an_octave_has_none(self) -> None:
        for heard, hz in (
            (Heard(hz=439.0), 439.0),
            (Heard(note="A4", cents=1200.0), 884.0),
            (Heard(note="A", cents=3.0), None),
            (Heard(), None),
        ):
            found = Reading(uuid4(), "A", 1, START, heard=heard).hz(442.0)
            self.assertEqual(found is None, hz is None, heard)
            self.assertAlmostEqual(found or 0.0, hz or 0.0, places=6)


class TestOrder(unittest.TestCase):
    def test_the_counter_decides_though_the_clock_was_set_back(self) -> None:
        written = Writing()
        written.read("A", -20.0, at=600)
        newer = written.read("A", -3.5, at=0)
        state = written.states()["A"]
        assert state.reading is not None and state.advice is not None
        self.assertEqual((state.reading.id, state.advice.cents_off), (newer.id, -3.5))

    def test_a_move_after_the_reading_waits_though_its_clock_says_before(self) -> None:
        written = Writing()
        written.read("A", -20.0, at=600)
        move = written.turn("A", 0.5, at=0)
        state = written.states()["A"]
        self.assertEqual(state.pending, move)
        self.assertEqual(headline(state), "Play the A string again")

    def test_voided_and_late_entries_stay_and_do_not_count(self) -> None:
        written = Writing()
        good = written.read("A", -12.0)
        written.read("A", 40.0, voided=True, void_reason="misread")
        written.read("A", 30.0, late=True)
        written.turn("A", 0.5, late=True)
        state = written.states()["A"]
        self.assertEqual((state.reading, state.pending), (good, None))
        lines = history_of(written.log)
        self.assertEqual([line.late for line in lines], [True, True, False, False])
        self.assertEqual([line.struck for line in lines], [False, False, True, False])
        self.assertEqual(lines[2].struck_reason, "misread")


class TestAccount(unittest.TestCase):
    def test_one_move_between_two_readings_is_held_to_account(self) -> None:
        written = Writing()
        written.read("A", -20.0)
        moved = written.turn("A", 0.5)
        written.read("A", -40.0)
        state = written.states()["A"]
        self.assertEqual((state.moved, state.did_cents), (moved, -20.0))
        assert state.recent is not None and state.advice is not None
        self.assertEqual((state.recent.from_cents, state.recent.effect_known), (-20.0, True))
        self.assertEqual([step.question for step in state.advice.steps], ["wrong-way"])

    def test_of_several_none_is(self) -> None:
        written = Writing()
        written.read("A", -20.0)
        written.turn("A", 0.5)
        last = written.turn("A", 0.25)
        written.read("A", -40.0)
        state = written.states()["A"]
        self.assertEqual((state.recent, state.moved), (None, last))

    def test_read_twice_since_it_tells_what_was_turned_and_not_what_that_did(self) -> None:
        written = Writing()
        written.read("A", 20.0, note="G#4")
        written.turn("A", 2.0, peg=True)
        written.read("A", 40.0, note="G#4")
        written.read("A", 39.0, note="G#4", source="microphone")
        recent = written.states()["A"].recent
        assert recent is not None
        self.assertEqual((recent.mechanism, recent.effect_known), ("peg", False))

    def test_a_string_not_heard_with_a_move_waits(self) -> None:
        written = Writing()
        move = written.turn("A", 0.5)
        state = written.states()["A"]
        self.assertEqual((state.reading, state.pending, state.hz, state.did_cents), (None, move, None, None))

    def test_another_string_is_no_pitch_of_this_one(self) -> None:
        written = Writing()
        written.read("A", 0.0, note="D4")
        state = written.states()["A"]
        assert state.advice is not None
        self.assertEqual((state.advice.state, state.hz), ("other-string", None))

    def test_the_screw_stands_within_its_reach(self) -> None:
        strings = {"A": {"screw_turns": 9.0, "screw_reach_turns": 4.0}, "D": {"has_fine_tuner": False}}
        facts = Writing().states(violin(**strings))
        tuner = facts["A"].situation.fine_tuner
        assert tuner is not None
        self.assertEqual(tuner.turns_from_middle, 4.0)
        self.assertIsNone(facts["D"].situation.fine_tuner)

    def test_a_string_taken_off_is_no_state(self) -> None:
        without = replace(violin(), strings=violin().strings[1:])
        self.assertEqual(list(Writing().states(without)), ["D", "A", "E"])
        self.assertIsNone(without.fitted("G"))


class TestPulledByOthers(unittest.TestCase):
    """A reading is as old as the last time the string was played: what others pulled since is not what its own turn did."""

    def written(self, *, again: bool = False) -> Writing:
        """G comes up by 380 cents, which lets D down by 11; D, read before that, is turned up half a turn, by 18."""
        written = Writing()
        written.read("G", 20.0, note="D♯3")
        written.read("D", -6.0)
        written.turn("G", 30.0, peg=True)
        written.read("G", 0.0)
        if again:
            written.read("D", -17.4)
        written.turn("D", 0.5)
        written.read("D", 0.6)
        return written

    def test_what_a_turn_did_is_told_without_it(self) -> None:
        for again in (False, True):
            state = self.written(again=again).states()["D"]
            assert state.did_cents is not None and state.recent is not None
            with self.subTest(again=again):
                self.assertAlmostEqual(state.did_cents, 18.0, delta=0.3)
                self.assertAlmostEqual(state.recent.from_cents or 0.0, -17.4, delta=0.3)

    def test_it_is_to_be_played_again_before_it_is_turned(self) -> None:
        written = Writing()
        written.read("G", 20.0, note="D♯3")
        written.read("D", -6.0)
        written.read("E", 0.0)
        written.turn("G", 30.0, peg=True)
        written.read("G", 0.0)
        states = written.states()
        self.assertEqual(states["D"].outdated_by, ("G",))
        self.assertEqual(to_heed(states["D"])[0], "Play it once more first: G was turned since, and that moves it too.")
        self.assertEqual(to_heed(states["E"]), ["G was turned since, and that moves it too."])  # 5.7 flat by now
        self.assertTrue(states["E"].to_hear_again and not states["D"].to_hear_again)
        written.read("D", -17.4)
        self.assertEqual(to_heed(written.states()["D"]), [])

    def test_it_teaches_only_where_the_pull_was_little(self) -> None:
        taught = [move.change_cents for move in self.written(again=True).summary().measured if move.string == "D"]
        self.assertEqual(len(taught), 1)
        self.assertAlmostEqual(taught[0], 18.0, delta=0.3)
        self.assertEqual([move.string for move in self.written().summary().measured], ["G"])

    def test_no_question_is_asked_of_what_others_undid(self) -> None:
        written = Writing(replace(TUNING, turning="step-by-step"))
        written.read("G", 20.0, note="D♯3")
        written.read("D", -16.0)
        written.turn("G", 30.0, peg=True)
        written.read("G", 0.0)
        written.turn("D", 0.25)
        written.read("D", -18.0)
        advice = written.states()["D"].advice
        assert advice is not None
        self.assertEqual((advice.state, advice.question), ("flat", None))

    def test_while_another_waits_to_be_read_nobody_knows(self) -> None:
        written = Writing()
        written.read("G", 20.0, note="D♯3")
        written.read("D", -6.0)
        written.turn("G", 30.0, peg=True)
        written.turn("D", 0.5)
        written.read("D", 0.6)
        self.assertIsNone(written.states()["D"].did_cents)
        self.assertEqual(written.summary().measured, ())


class TestFifthChecks(unittest.TestCase):
    def test_a_check_holds_until_one_of_its_strings_is_turned_or_read(self) -> None:
        written = Writing()
        first = written.check("D", "A", 4.0)
        check = written.check("D", "A", 2.0)
        self.assertEqual(holding_checks(written.log, VIOLIN), {("D", "A"): check})
        written.read("E", 0.0)
        written.turn("G", 0.5)
        self.assertEqual(holding_checks(written.log, VIOLIN), {("D", "A"): check})
        written.turn("D", 0.5, late=True)
        self.assertEqual(holding_checks(written.log, VIOLIN), {("D", "A"): check})
        written.turn("D", 0.1)
        self.assertEqual(holding_checks(written.log, VIOLIN), {})
        self.assertEqual(last_before(written.log, ("D", "A"), check.id), first)
        self.assertEqual(last_before(written.log, ("D", "A"), uuid4()), check)
        self.assertIsNone(last_before(written.log, ("G", "D"), check.id))

    def test_its_own_readings_do_not_end_it(self) -> None:
        written = Writing()
        key = uuid4()
        check = written.check("D", "A", 2.0, id=key)
        own = written.read("A", 1.0)
        written.readings[-1] = replace(own, id=reading_id(key, "upper"))
        self.assertEqual(holding_checks(written.log, VIOLIN), {("D", "A"): check})
        written.read("A", 1.0)
        self.assertEqual(holding_checks(written.log, VIOLIN), {})

    def test_a_voided_check_lets_the_one_before_hold(self) -> None:
        written = Writing()
        first = written.check("D", "A", 4.0)
        written.check("D", "A", 2.0, voided=True)
        self.assertEqual(holding_checks(written.log, VIOLIN), {("D", "A"): first})


if __name__ == "__main__":
    unittest.main()
