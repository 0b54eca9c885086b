"""Whoever goes by an ear beside a tone, by letters or by a light: what is understood of it, and what is said."""

import unittest
from dataclasses import replace
from itertools import product
from typing import Any
from uuid import uuid4

from pondus.core.errors import BadInput
from pondus.core.hands.in_hand import wound_in_a_row
from pondus.core.hands.interval import Interval, interval_of
from pondus.core.hands.records import Move
from pondus.core.hands.state import StringState, check_answer, denials
from pondus.core.judgement.heard import Heard, check_heard
from pondus.core.judgement.reading import Judged
from pondus.core.views.bench_words import word_beside
from tests.core.test_hands import SOUNDING, STUDENT, first, hear, place, question
from tests.core.test_one_voice import bench
from tests.core.writing import START, TUNING, Writing, violin


class TestByEar(unittest.TestCase):
    def after(self, *said: str, tuning: Any = STUDENT) -> StringState:
        self.written = Writing(tuning)
        for each in said:
            hear(self.written, "A", side=each)
        return self.written.states()["A"]

    def test_what_sounds_far_off_is_the_pegs_and_what_is_near_the_screws(self) -> None:
        parts = {}
        for said in ("much-lower", "lower", "higher", "much-higher"):
            advice = self.after(said).advice
            assert advice is not None
            parts[said] = (advice.mechanism, advice.pitch, advice.state)
        self.assertEqual(
            parts,
            {
                "much-lower": ("peg", "raise", "flat"),
                "lower": ("fine-tuner", "raise", "flat"),
                "higher": ("fine-tuner", "lower", "sharp"),
                "much-higher": ("peg", "lower", "sharp"),
            },
        )

    def test_from_much_lower_to_the_same_nothing_is_asked_and_turns_are_halved(self) -> None:
        amounts = []
        for count in range(1, 5):
            state = self.after(*("much-lower", "lower", "higher", "lower")[:count])
            self.assertIsNone(question(state))
            assert state.advice is not None
            amounts.append((state.advice.mechanism, state.advice.steps[0].amount))
        self.assertEqual(amounts[1:], [("fine-tuner", 0.5), ("fine-tuner", 0.25), ("fine-tuner", 0.125)])
        state = self.after("much-lower", "lower", "same")
        self.assertEqual((first(state), word_beside(state)), ("leave", "one with its tone"))

    def test_turned_to_the_tone_and_still_far_is_asked_about(self) -> None:
        asked = [question(self.after(*["much-lower"] * count, tuning=SOUNDING)) for count in range(1, 5)]
        self.assertEqual(asked, [None, None, "no-effect", "no-effect"])

    def test_who_says_that_it_moved_and_is_far_is_asked_later_and_later_but_not_for_ever(self) -> None:
        written, pushes = Writing(SOUNDING), []
        hear(written, "D", side="much-lower")
        for _ in range(3):
            last, count = hear(written, "D", side="much-lower"), 1
            while question(written.states()["D"]) is None:
                last, count = hear(written, "D", side="much-lower"), count + 1
            pushes.append(count)
            written.readings[-1] = replace(last, turn_answer="moved")
        self.assertLess(pushes[0], pushes[1])
        self.assertEqual(pushes[1], pushes[2], "the next turn may be another peg's")

    def test_read_again_before_the_answer_the_winding_is_found_all_the_same(self) -> None:
        wound = Move(
            uuid4(),
            "G",
            1,
            START,
            mechanism="peg",
            direction="raise",
            amount=10.0,
            unit="degree",
            taken=True,
            exact=False,
            answer="wound-other-way",
            expect_cents=200.0,
        )
        unseen = replace(wound, id=uuid4(), answer=None)
        told, seen = replace(unseen, taken=False), replace(unseen, expect_cents=None)
        self.assertEqual(wound_in_a_row([wound, unseen, wound]), 2)
        for between in (told, seen, replace(unseen, exact=True)):
            self.assertEqual(wound_in_a_row([wound, between, wound]), 1)

    def test_who_hears_it_go_the_other_way_says_so_unasked_and_by_the_second_time_the_winding_is_known(self) -> None:
        written = Writing(replace(TUNING, id=uuid4()))
        hear(written, "D", side="much-lower")
        last = hear(written, "D", side="much-lower")
        moved = next(string for string in bench(written.log).strings if string.name == "D").moved
        assert moved is not None
        self.assertEqual([each.say for each in moved.denials], ["No, it wasn’t", "It went down instead"])
        check_answer(written.states()["D"], moved.id, "wound-other-way")
        with self.assertRaises(BadInput):
            check_answer(written.states()["D"], moved.id, "sprang-back")
        written.readings[-1] = replace(last, turn_answer="wound-other-way")
        state = written.states()["D"]
        assert state.advice is not None and state.moved is not None
        self.assertIn("wound the other way", state.advice.why)
        self.assertEqual(state.advice.steps[0].amount, 1.0, "the smallest push tells as much")
        self.assertEqual(denials(state.moved), ())
        self.assertEqual(wound_in_a_row(written.now().log.counting_moves), 1)

    def test_an_ear_is_believed_within_its_own_error(self) -> None:
        here, there = (self.written_interval(said) for said in ("same", "in-tune"))
        self.assertGreater(here.high, there.high)

    def written_interval(self, said: str) -> Interval:
        found = interval_of(Judged("in-tune", None, (), True, side=said), Heard(side=said))  # type: ignore[arg-type]
        assert found is not None
        return found

    def test_a_note_beside_what_an_ear_hears_is_refused(self) -> None:
        with self.assertRaisesRegex(BadInput, "leave the note out"):
            check_heard(Heard(note="A4", side="much-lower"))

    def test_where_the_tone_has_moved_it_is_played_again_and_the_history_says_why(self) -> None:
        written = Writing(replace(TUNING, a4=442.0, id=uuid4()))
        last = hear(written, "A", side="same")
        written.readings[-1] = replace(last, read_at_a4=440.0)
        shown = bench(written.log)
        self.assertEqual(next(string.words for string in shown.strings if string.name == "A"), "not heard yet")
        self.assertEqual([line.text for line in shown.history], ["the same as its tone; at another A, so it doesn’t count"])


class TestLettersAndLights(unittest.TestCase):
    def test_a_letter_cant_show_what_is_less_than_its_width(self) -> None:
        written = Writing(STUDENT)
        for _ in range(3):
            hear(written, "A", note="G#4")
            self.assertIsNone(question(written.states()["A"]))
        self.assertAlmostEqual(place(written.states()["A"]), 1.0)

    def test_letters_that_pass_downwards_are_the_wrong_way(self) -> None:
        written = Writing(STUDENT)
        for note in ("F#4", "F4", "E4"):
            hear(written, "A", note=note)
        self.assertEqual(question(written.states()["A"]), "wrong-way")

    def test_a_light_that_stays_must_have_crossed_by_the_second_turn(self) -> None:
        written, asked = Writing(STUDENT), []
        for _ in range(6):
            hear(written, "A", side="flat")
            asked.append(question(written.states()["A"]))
        self.assertEqual(asked.index("no-effect"), 4)
        self.assertLessEqual(place(written.states()["A"]), 2.0)

    def test_a_push_that_is_to_tell_the_winding_is_asked_about_at_once_where_a_light_tells_nothing(self) -> None:
        wound = {"G": {"has_fine_tuner": False}}
        written = Writing(SOUNDING)
        for _ in range(4):
            last = hear(written, "G", side="flat")
        self.assertEqual(question(written.states(violin(**wound))["G"]), "no-effect")
        written.readings[-1] = replace(last, turn_answer="wound-other-way")
        doubted = written.states(violin(**wound))["G"]
        assert doubted.advice is not None
        self.assertEqual((doubted.advice.steps[0].amount, doubted.advice.steps[0].until), (1.0, None))
        hear(written, "G", side="flat")
        self.assertEqual(question(written.states(violin(**wound))["G"]), "no-effect")

    def test_a_string_that_moved_and_is_still_flat_is_far_and_asked_about_later(self) -> None:
        written = Writing(STUDENT)
        for _ in range(5):
            last = hear(written, "A", side="flat")
        state = written.states()["A"]
        assert state.advice is not None and state.advice.question is not None and state.moved is not None
        said = {option.answer: option.say for option in state.advice.question.options}
        self.assertEqual(said["moved"], "It did go up, and is still far off")
        written.readings[-1] = replace(last, turn_answer="moved")
        self.assertEqual((question(written.states()["A"]), first(written.states()["A"])), (None, "turn-fine-tuner"))
        for _ in range(6):
            hear(written, "A", side="flat")
            self.assertIsNone(question(written.states()["A"]))
        hear(written, "A", side="sharp")
        hear(written, "A", side="flat")
        self.assertEqual(written.states()["A"].situation.far_by_side, 0)

    def test_a_peg_that_goes_past_with_every_push_comes_no_nearer_and_is_left(self) -> None:
        pegs = {"A": {"has_fine_tuner": False}}
        for low, high, tuning in (("flat", "sharp", SOUNDING), ("lower", "higher", replace(TUNING, id=uuid4()))):
            written, done = Writing(tuning), []
            for said, push in ((low, 1.0), (high, 0.0), (high, -1.0), (low, 1.0), (high, 0.0), (low, 0.0)):
                hear(written, "A", side=said)
                done.append(first(written.states(violin(**pegs))["A"]))
                if push:
                    written.turn("A", push, peg=True)
            self.assertEqual(done[:3], ["turn-peg", "tug-down", "tug-down"], "pulls, not the peg that went past")
            self.assertEqual(done[-2:], ["tug-down", "leave"], "from above pulls bring it nearer yet, from below nothing does")
            for name in "DGE":
                hear(written, name, side="in-tune")
            shown = bench(written.log, **pegs)
            self.assertEqual((shown.next_string, shown.plan.lines), (None, []))
            self.assertNotIn("Leave it: all its strings are in tune", [each.headline for each in shown.strings])
            written.turn("D", 20.0, peg=True)
            hear(written, "D", side="in-tune")
            hear(written, "A", side=high)
            self.assertEqual(first(written.states(violin(**pegs))["A"]), "tug-down", "the D's peg pulled it across")
            hear(written, "A", side="same" if low == "lower" else "in-tune")
            self.assertEqual(written.states(violin(**pegs))["A"].situation.went_past, 0)

    def test_sides_of_other_letters_are_not_sides_of_the_string(self) -> None:
        written = Writing(SOUNDING)
        for note, side in (("G4", "sharp"), ("G#4", "flat"), ("G#4", "sharp"), ("A4", "flat")):
            hear(written, "A", note=note, side=side)
            written.turn("A", 2.0, peg=True)
        state = written.states(violin(A={"has_fine_tuner": False}))["A"]
        self.assertEqual(state.situation.went_past, 0)

    def test_while_it_sounds_one_turns_on_till_the_middle(self) -> None:
        written = Writing(SOUNDING)
        hear(written, "A", side="flat")
        advice = written.states()["A"].advice
        assert advice is not None and advice.steps[0].until is not None
        self.assertIn("until the tuner shows the middle", advice.steps[0].say)

    def test_a_screw_twice_as_touchy_comes_home_though_nobody_tells_anything(self) -> None:
        """Whoever turns by the amount and reads afterwards, whether the tuner was to say where to stop or not."""
        for turning, rate in product(("while-sounding", "step-by-step"), (60.0, 80.0)):
            written, cents, furthest = Writing(replace(TUNING, turning=turning)), -13.0, 0.0
            for _ in range(12):
                written.read("D", float(round(cents)))
                steps = written.states()["D"].advice.steps
                if not steps or steps[0].amount is None:
                    break
                cents += rate * steps[0].amount * (1.0 if steps[0].pitch == "raise" else -1.0)
                furthest = max(furthest, abs(cents))
            with self.subTest(turning=turning, rate=rate):
                self.assertLess(abs(cents), 3.5)
                self.assertLess(furthest, 30.0)

    def test_an_octave_once_known_is_carried_along(self) -> None:
        written = Writing(SOUNDING)
        hear(written, "A", note="C4", side="flat")
        hear(written, "A", note="F#", side="sharp")
        state = written.states()["A"]
        assert state.advice is not None and state.reading is not None
        self.assertEqual((state.advice.cents_off, question(state)), (-300.0, None))
        self.assertEqual(state.reading.as_shown, Heard(note="F#", side="sharp"), "shown as the tuner has it")

    def test_an_octave_is_asked_about_where_either_may_be_so(self) -> None:
        for shown in ({"note": "D#", "side": "flat"}, {"note": "D", "side": "flat"}, {"note": "D", "cents": -20.0}):
            written = Writing(SOUNDING)
            hear(written, "D", note="D#3", side="sharp")
            hear(written, "D", **shown)  # slack, and pulled further down by the others, or up at last
            self.assertEqual(question(written.states()["D"]), "which-octave", shown)
            hear(written, "D", **shown)
            self.assertEqual(question(written.states()["D"]), "which-octave", "until it is told")
            hear(written, "D", sure=True, **{**shown, "note": f"{shown['note']}3"})
            advice = written.states()["D"].advice
            assert advice is not None and advice.cents_off is not None
            self.assertLess(advice.cents_off, -1000.0, shown)

    def test_an_octave_that_is_told_at_last_stands_where_it_was_asked(self) -> None:
        written = Writing(SOUNDING)
        hear(written, "D", note="D#3", side="sharp")
        hear(written, "D", note="D", side="flat")
        hear(written, "D", note="D3", side="flat", sure=True)
        state = written.states()["D"]
        self.assertEqual(question(state), "wrong-way", "it went down while the peg was turned up")

    def test_an_octave_is_compared_with_a_tone_that_lies_between(self) -> None:
        written = Writing(SOUNDING)
        hear(written, "D", note="D3", side="flat", sure=True)
        hear(written, "D", note="C#", side="flat")
        state = written.states()["D"]
        assert state.advice is not None
        asked = state.advice.steps[-1]
        self.assertEqual(asked.say, "Listen to the reference D an octave lower: is your string lower or higher than this?")
        self.assertEqual([each.say for each in asked.options], ["Lower: C♯3, 1300 cents flat", "Higher: C♯4, 100 cents flat"])

    def test_a_string_let_down_on_a_guess_is_asked_about_before_it_counts(self) -> None:
        written = Writing(replace(TUNING, id=uuid4()))
        for note in ("A", "G#", "G"):
            hear(written, "G", note=note, cents=0.0, sure=True)  # sure of the string, which says nothing of the octave
        self.assertEqual(question(written.states()["G"]), "which-octave")
        hear(written, "G", note="G3", cents=0.0)
        self.assertEqual(first(written.states()["G"]), "leave")

    def test_two_strings_far_sharp_by_a_guess_are_asked_about(self) -> None:
        written = Writing(replace(TUNING, id=uuid4()))
        hear(written, "G", note="A", side="sharp")
        hear(written, "D", note="E", side="flat")
        self.assertEqual([question(state) for state in written.states().values() if state.reading], ["which-octave"] * 2)
