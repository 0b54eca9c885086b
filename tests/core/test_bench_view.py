"""What the bench says of a tuning."""

import unittest
from dataclasses import replace

from pondus.core.hands.learned import MoveLog
from pondus.core.instruments import INSTRUMENTS
from pondus.core.judgement.cautions import CAUTION_SAID
from pondus.core.judgement.heard import Heard
from pondus.core.views.bench import bench_view, expected_cents, hold_view
from tests.core.writing import CLOCK, TUNING, VIOLIN, Writing, violin


class TestBenchView(unittest.TestCase):
    def test_it_says_what_to_do_where_it_will_stand_and_where_to_go_on(self) -> None:
        written = Writing()
        written.read("A", 0.0)
        written.read("D", -12.0)
        view = bench_view(violin(), written.log, MoveLog(), clock=CLOCK)
        by_name = {string.name: string for string in view.strings}
        self.assertEqual(view.next_string, "D")
        self.assertEqual((by_name["A"].words, by_name["A"].headline), ("in tune", "Leave it: it is in tune"))
        self.assertTrue(by_name["D"].headline.startswith("D fine tuner up"))
        self.assertAlmostEqual(by_name["D"].ghost_cents or 0.0, 0.0, delta=0.5)
        self.assertEqual((by_name["G"].words, by_name["G"].advice), ("not heard yet", None))
        self.assertEqual(view.plan.ask, ["G", "E"])
        self.assertAlmostEqual(view.fifths[1].from_temperament_cents or 0.0, 12.0, delta=0.01)
        self.assertIsNone(view.fifths[0].beats_hz)
        self.assertEqual(view.fifths[1].beats_said, "5.09 beats a second")

    def test_what_was_entered_last_by_hand_says_what_is_gone_by(self) -> None:
        for heard, by in (
            (Heard(note="A4", cents=-3.0), "tuner"),
            (Heard(hz=441.0), "tuner"),
            (Heard(note="A", side="flat"), "letters"),
            (Heard(note="G#"), "letters"),
            (Heard(side="sharp"), "light"),
            (Heard(side="much-lower"), "ear"),
        ):
            written = Writing()
            written.read("D", 1.0)
            last = written.read("A", 0.0)
            written.readings[-1] = replace(last, heard=heard)
            written.read("E", 2.0, source="microphone")
            with self.subTest(by):
                self.assertEqual(bench_view(violin(), written.log, MoveLog(), clock=CLOCK).goes_by, by)
        self.assertIsNone(bench_view(violin(), Writing().log, MoveLog(), clock=CLOCK).goes_by)

    def test_where_every_string_is_in_tune_that_is_said_whichever_is_looked_at(self) -> None:
        written = Writing()
        for name in "GDAE":
            written.read(name, 1.0)
        view = bench_view(violin(), written.log, MoveLog(), clock=CLOCK)
        self.assertEqual({string.headline for string in view.strings}, {"Leave it: all its strings are in tune"})
        self.assertIsNone(view.next_string)

    def test_a_screw_that_nobody_has_looked_at_is_asked_about_once_it_is_turned(self) -> None:
        for is_seen, cents, asked in ((False, -12.0, ["D"]), (True, -12.0, []), (False, 0.0, [])):
            written = Writing()
            written.read("D", cents)
            view = bench_view(violin(D={"screw_seen": is_seen}), written.log, MoveLog(), clock=CLOCK)
            with self.subTest(is_seen=is_seen, cents=cents):
                self.assertEqual(view.look_at_screws, asked)

    def test_that_an_octave_is_a_guess_is_said_where_another_could_be_meant(self) -> None:
        for note, said in (("G#", False), ("F", True)):
            written = Writing()
            written.read("A", 0.0, note=note)
            a = bench_view(violin(), written.log, MoveLog(), clock=CLOCK).strings[2]
            assert a.advice is not None
            self.assertIn("octave-guess", a.advice.cautions)
            self.assertEqual(CAUTION_SAID["octave-guess"] in a.cautions_said, said, note)

    def test_a_letter_is_shown_for_what_no_figure_says(self) -> None:
        for heard, letter in (({"note": "G#", "side": "flat"}, "G♯"), ({"note": "B", "side": None}, "B")):
            written = Writing()
            reading = written.read("A", 0.0)
            written.readings[0] = replace(reading, heard=Heard(**heard))
            self.assertEqual(bench_view(violin(), written.log, MoveLog(), clock=CLOCK).strings[2].letter, letter)
        written = Writing()
        written.read("A", -12.0)
        self.assertIsNone(bench_view(violin(), written.log, MoveLog(), clock=CLOCK).strings[2].letter)

    def test_a_round_begins_with_a_string_that_can_be_heard(self) -> None:
        written = Writing()
        written.read("D", -12.0)
        for fitted, begins in ((violin(), True), (violin(A={"state": "broken"}), False)):
            view = bench_view(fitted, written.log, MoveLog(), clock=CLOCK)
            said = " ".join(view.strings[1].cautions_said)
            self.assertEqual("A round begins with the A" in said, begins)

    def test_beside_a_slack_string_there_is_no_fifth_to_speak_of(self) -> None:
        written = Writing()
        written.read("A", 0.0)
        for off, heard in ((-150.0, True), (-260.0, False)):
            written.read("D", off)
            fifth = bench_view(violin(), written.log, MoveLog(), clock=CLOCK).fifths[1]
            figures = (fifth.interval_cents, fifth.from_temperament_cents, fifth.beats_hz, fifth.beats_said)
            self.assertEqual([each is not None for each in figures], [heard] * 4, off)

    def test_a_string_that_waits_is_next_and_its_weight_will_stand_where_the_move_was_to_bring_it(self) -> None:
        written = Writing()
        written.read("A", -20.0)
        written.turn("A", 0.5, expect_cents=18.0)
        states = written.states()
        self.assertEqual(expected_cents(states["A"]), -2.0)
        view = bench_view(violin(), written.log, MoveLog(), clock=CLOCK)
        self.assertEqual({string.name: string.words for string in view.strings}["A"], "moved; play it")
        self.assertEqual(view.next_string, "A")
        self.assertIn("A", view.plan.ask)

    def test_a_question_about_a_move_comes_before_the_rest_of_the_round(self) -> None:
        written = Writing()
        for name, cents in (("A", -30.0), ("D", -30.0), ("G", -40.0), ("E", -20.0)):
            written.read(name, cents)
        written.turn("G", 0.5)
        written.read("G", -49.0)
        view = bench_view(violin(), written.log, MoveLog(), clock=CLOCK)
        self.assertEqual(view.next_string, "G")
        written.turn("A", 0.5)
        self.assertEqual(bench_view(violin(), written.log, MoveLog(), clock=CLOCK).next_string, "A")

    def test_it_tells_beforehand_where_a_string_is_well_and_which_comes_then(self) -> None:
        written = Writing()
        written.read("A", -12.0)
        view = bench_view(violin(), written.log, MoveLog(), clock=CLOCK)
        told = {string.name: string for string in view.strings}
        self.assertEqual((told["A"].settles_from_cents, told["A"].settles_to_cents, told["A"].then), (-3.0, 3.0, "D"))
        written.read("A", 3.0)
        after = bench_view(violin(), written.log, MoveLog(), clock=CLOCK)
        self.assertEqual(after.next_string, told["A"].then)

    def test_a_hand_that_turns_while_it_sounds_is_told_to_stop_a_cent_before_the_aim(self) -> None:
        for cents, way in ((-12.0, -1.0), (12.0, 1.0)):
            written = Writing(replace(TUNING, who="teacher", turning="while-sounding"))
            written.read("A", cents)
            string = {each.name: each for each in bench_view(violin(), written.log, MoveLog(), clock=CLOCK).strings}["A"]
            assert string.advice is not None and string.advice.steps[0].aim_cents is not None
            self.assertEqual(string.stop_at_cents, string.advice.steps[0].aim_cents + way)
        written.turn("A", 0.5)
        view = bench_view(violin(), written.log, MoveLog(), clock=CLOCK)
        self.assertEqual([each.stop_at_cents for each in view.strings], [None] * 4)

    def test_a_doubt_brings_its_answers(self) -> None:
        for note, cents, answers in (("D4", 0.0, ["other", "yes"]), ("A3", 0.0, ["yes"]), ("A5", -20.0, []), ("A4", 0.0, [])):
            written = Writing()
            written.read("A", cents, note=note)
            view = bench_view(violin(), written.log, MoveLog(), clock=CLOCK)
            advice = {string.name: string.advice for string in view.strings}["A"]
            assert advice is not None
            found = [] if advice.question is None else [option.answer for option in advice.question.options]
            self.assertEqual(found, answers, note)

    def test_who_sits_behind_a_cello_sees_it_mirrored(self) -> None:
        cello = INSTRUMENTS["cello"]
        self.assertEqual(hold_view("turned", cello).strings, ("C", "G", "D", "A"))
        seated = hold_view("seated", cello)
        self.assertEqual((seated.strings, seated.mirrored, seated.seen_from), (("A", "D", "G", "C"), True, "behind"))
        self.assertEqual(hold_view("helper", VIOLIN).seen_from, "scroll")

    def test_a_voided_reading_brings_back_the_one_before(self) -> None:
        written = Writing()
        written.read("A", -12.0)
        last = written.read("A", 0.0)
        self.assertEqual(bench_view(violin(), written.log, MoveLog(), clock=CLOCK).strings[2].words, "in tune")
        written.readings[-1] = replace(last, voided=True)
        view = bench_view(violin(), written.log, MoveLog(), clock=CLOCK)
        self.assertEqual(view.strings[2].words, "flat")
        self.assertEqual(view.last_heard["A"].cents, -12.0)


if __name__ == "__main__":
    unittest.main()
