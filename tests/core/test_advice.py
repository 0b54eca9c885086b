"""Peg or fine tuner, in which order, how much, and what to mind."""

import unittest
from unittest.mock import patch

from pondus.contracts.advice import AdviceRequest
from pondus.core.errors import BadInput
from pondus.core.judgement.approaches import APPROACHES, Approach
from tests.core.asking import ask, does


class TestMechanism(unittest.TestCase):
    def test_thresholds_of_the_approaches(self) -> None:
        cases = [
            ("fine-tuner-first", 99, "fine-tuner"),
            ("fine-tuner-first", 101, "peg"),
            ("right-note-first", 50, "fine-tuner"),
            ("right-note-first", 51, "peg"),
            ("save-travel", 20, "fine-tuner"),
            ("save-travel", 21, "peg"),
            ("pegs-only", 21, "peg"),
        ]
        for approach, size, mechanism in cases:
            for sign in (-1, 1):
                with self.subTest(approach=approach, cents=sign * size):
                    hz = 440.0 * 2 ** (sign * size / 1200)
                    self.assertEqual(ask("violin", "A", hz, approach=approach).mechanism, mechanism)

    def test_a_screw_is_not_left_at_its_very_end_where_the_peg_can_do_it(self) -> None:
        for cents, mechanism in ((-100, "peg"), (-80, "fine-tuner"), (100, "peg"), (80, "fine-tuner")):
            with self.subTest(cents=cents):
                hz = 220.0 * 2 ** (cents / 1200)
                self.assertEqual(ask("cello", "A", hz).mechanism, mechanism, "it has 103 cents that way")
        a_little = ask("cello", "A", ("A3", -49), fine_tuner={"turns_from_middle": 2.0})
        self.assertEqual(a_little.mechanism, "fine-tuner", "for so little no peg is touched")

    def test_no_screw_no_choice(self) -> None:
        self.assertEqual(ask("violin", "D", ("D4", -8), fine_tuner=None).mechanism, "peg")

    def test_a_peg_alone_never_goes_to_and_fro(self) -> None:
        """After the smallest push from just under, what went past is pulled down, however far the peg leapt."""
        for mechanism, from_cents, now, does_now in (
            ("peg", -18, 70, "tug-down"),
            ("peg", -18, 99, "tug-down"),
            ("peg", -18, 101, "turn-peg"),
            ("peg", -54, 59, "tug-down"),
            ("peg", -54, 61, "turn-peg"),
            ("tug", 70, 64, "tug-down"),
            ("peg", None, 21, "turn-peg"),
            ("peg", None, 20, "tug-down"),
        ):
            last = {"mechanism": mechanism, "direction": "lower" if mechanism == "tug" else "raise"}
            move = None if from_cents is None else {**last, "amount": 1, "unit": "degree", "from_cents": from_cents}
            if move is not None and mechanism == "tug":
                move |= {"amount": None, "unit": None}
            with self.subTest(mechanism=mechanism, from_cents=from_cents, now=now):
                hz = 440.0 * 2 ** (now / 1200)
                advice = ask("violin", "A", hz, fine_tuner=None, recent_move=move)
                self.assertEqual((does(advice)[0], advice.pitch), (does_now, "lower"))
                self.assertEqual("by leaps" in advice.why, does_now == "tug-down" and now > 20)

    def test_a_screw_that_recentres_is_used_even_past_the_threshold(self) -> None:
        screwed_in = {"turns_from_middle": 3.5, "cents_per_turn": 40}
        hz = 220.0 * 2 ** (120 / 1200)
        for approach, mechanism in (("fine-tuner-first", "fine-tuner"), ("save-travel", "fine-tuner"), ("pegs-only", "peg")):
            with self.subTest(approach=approach):
                advice = ask("cello", "A", hz, approach=approach, fine_tuner=screwed_in)
                self.assertEqual(advice.mechanism, mechanism)

    def test_the_violin_e_keeps_to_its_fine_tuner(self) -> None:
        for approach in ("fine-tuner-first", "right-note-first", "save-travel", "pegs-only"):
            hz = 659.2551 * 2 ** (-130 / 1200)
            with self.subTest(approach=approach):
                self.assertEqual(ask("violin", "E", hz, approach=approach).mechanism, "fine-tuner")
        far = ask("violin", "E", 659.2551 * 2 ** (-151 / 1200))
        self.assertEqual(far.mechanism, "peg")
        self.assertTrue({"e-string", "break-margin"} <= set(far.cautions))


class TestApproaches(unittest.TestCase):
    def test_a_row_in_the_table_is_an_approach(self) -> None:
        row = Approach("past-thirty", "past 30 cents", peg_past_cents=30.0, uses_screw=True, why="for this test")
        with patch.dict(APPROACHES, {row.name: row}):
            for cents, mechanism in ((-40, "peg"), (-25, "fine-tuner")):
                screw = {"turns_from_middle": 2.5}
                advice = ask("violin", "A", ("A4", cents), approach="past-thirty", fine_tuner=screw)
                self.assertEqual(advice.mechanism, mechanism)
        with self.assertRaisesRegex(BadInput, "no approach “past-thirty”"):
            ask("violin", "A", ("A4", -40), approach="past-thirty")


class TestHabits(unittest.TestCase):
    """R128: what schools differ in, each chosen or left."""

    def test_the_violins_e(self) -> None:
        far = ("D5", 20)  # 180 flat
        for habits, who, mechanism, does_first in (
            ((), "adult", "peg", "turn-peg"),
            (("e-screw-only",), "adult", "peg", "fetch-teacher"),
            (("e-screw-only",), "teacher", "peg", "turn-peg"),
        ):
            with self.subTest(habits=habits, who=who):
                told = ask("violin", "E", far, habits=habits, who=who)
                self.assertEqual((told.mechanism, told.steps[0].do), (mechanism, does_first))
        near = ("D#5", 20)  # 80 flat
        for habits, mechanism in (((), "fine-tuner"), (("e-as-others",), "peg")):
            told = ask("violin", "E", near, habits=habits, approach="right-note-first")
            self.assertEqual(told.mechanism, mechanism, habits)

    def test_slack_and_broken_go_to_a_teacher(self) -> None:
        for facts in ({"string_state": "broken"}, {"string_state": "floppy"}):
            request = {"instrument": "cello", "string": "D", "who": "adult", **facts}
            for habits, does_first in (((), facts["string_state"] == "floppy"), (("slack-to-teacher",), None)):
                told = AdviceRequest.model_validate({**request, "habits": list(habits)}).advise()
                first = {True: "turn-peg", False: "put-string-on", None: "fetch-teacher"}[does_first]
                self.assertEqual(told.steps[0].do, first)
        slack = ask("cello", "D", ("F2", 0), who="adult", habits=["slack-to-teacher"])
        self.assertEqual([step.do for step in slack.steps], ["fetch-teacher"])

    def test_the_peg_back_instead_of_a_pull(self) -> None:
        for habits, first in (((), "tug-down"), (("peg-back",), "turn-peg")):
            told = ask("violin", "D", ("D4", 12), fine_tuner=None, habits=habits)
            self.assertEqual(told.steps[0].do, first)
            if habits:
                turns = [step for step in told.steps if step.do == "turn-peg"]
                self.assertEqual([step.pitch for step in turns], ["lower", "raise"], "it ends on an upward move")

    def test_a_side_alone_is_under_the_same_rules(self) -> None:
        """Whatever the tuner shows, who may turn what is one table, and so is what a house does."""
        shown = {"instrument": "violin", "heard": {"note": "E5", "side": "flat"}, "string": "E", "fine_tuner": None}
        for facts, first in (
            ({"who": "adult"}, "turn-peg"),
            ({"who": "adult", "habits": ["e-screw-only"]}, "fetch-teacher"),
            ({"who": "student-pegs", "bridge": "leans"}, "fetch-teacher"),
            ({"string": "D", "heard": {"note": "D4", "side": "sharp"}}, "tug-down"),
            ({"string": "D", "heard": {"note": "D4", "side": "sharp"}, "habits": ["peg-back"]}, "turn-peg"),
        ):
            with self.subTest(facts=facts):
                told = AdviceRequest.model_validate({**shown, **facts}).advise()
                self.assertEqual(told.steps[0].do, first)

    def test_bowing_all_along(self) -> None:
        told = ask("violin", "A", ("A4", -12), turning="while-sounding", stance="lap", habits=["bow"])
        self.assertIn("bowing all along", told.steps[0].say)

    def test_opposites_and_strangers_are_refused(self) -> None:
        for habits, says in ((["e-screw-only", "e-as-others"], "opposites"), (["by-mood"], "no habit “by-mood”")):
            with self.assertRaisesRegex(BadInput, says):
                ask("violin", "A", ("A4", -12), habits=habits)


class TestOrder(unittest.TestCase):
    def test_flat_with_the_screw_all_in(self) -> None:
        advice = ask("cello", "C", ("C2", -30), fine_tuner={"turns_from_middle": 4})
        self.assertEqual(does(advice), ["set-fine-tuner-to-middle", "turn-peg", "check", "tug", "turn-fine-tuner"])
        self.assertEqual([step.pitch for step in advice.steps], ["lower", "raise", None, None, "raise"])
        self.assertEqual(advice.steps[0].amount, 4)

    def test_sharp_with_the_screw_all_out(self) -> None:
        advice = ask("cello", "C", ("C2", 30), fine_tuner={"turns_from_middle": -4})
        self.assertEqual(does(advice), ["turn-peg", "check", "tug", *["turn-fine-tuner"] * 5])
        comes_in = 2 * 24.9
        self.assertAlmostEqual(advice.steps[0].aim_cents or 0, -10 - comes_in, delta=0.5, msg="half its travel, no more")
        self.assertAlmostEqual(sum(step.amount or 0 for step in advice.steps[3:]), (10 + comes_in) / 24.9, delta=0.02)
        nearer = ask("cello", "C", ("C#2", -40), fine_tuner={"turns_from_middle": -2.0})
        self.assertAlmostEqual(nearer.steps[0].aim_cents or 0, -10, delta=0.5, msg="it has half its travel")

    def test_a_screw_far_out_is_brought_in_before_the_peg_of_a_string_far_down(self) -> None:
        """R18: where that leaves it low enough for the peg to come up to it."""
        for cents, first in ((-150, "set-fine-tuner-to-middle"), (30, "turn-peg")):
            turns = -2 if cents < 0 else -4
            hz = 65.406 * 2 ** (cents / 1200)
            advice = ask("cello", "C", hz, fine_tuner={"turns_from_middle": turns}, approach="save-travel")
            with self.subTest(cents=cents):
                self.assertEqual(does(advice)[0], first)

    def test_a_screw_that_moves_too_little_leaves_the_finish_to_the_peg(self) -> None:
        """R50: what a friction peg leaves under must be within what it has left."""
        for rate, finish in ((3.0, ["turn-peg", "check", "turn-peg", "tug"]), (40.0, ["turn-peg", "check", "tug"])):
            screw = {"cents_per_turn": rate, "reach_turns": 2.0}
            advice = ask("violin", "D", ("C#4", 40), fine_tuner=screw, approach="save-travel")
            with self.subTest(rate=rate):
                self.assertEqual([step for step in does(advice) if step != "turn-fine-tuner"], finish)
                self.assertEqual("turn-fine-tuner" in does(advice), rate > 3.0)

    def test_a_violins_e_goes_up_by_the_smallest_pushes(self) -> None:
        for instrument, string, cents, degrees in (("violin", "E", -180, 1.0), ("violin", "A", -180, 2.1)):
            shown = 2 ** (cents / 1200) * {"E": 659.255, "A": 440.0}[string]
            advice = ask(instrument, string, shown, peg={"cents_per_degree": 37.0})
            with self.subTest(string=string):
                self.assertAlmostEqual(advice.steps[0].amount, degrees, delta=0.05)

    def test_letters_that_must_pass_are_said_and_no_cents(self) -> None:
        said = ask("violin", "A", {"note": "F#", "side": "sharp"}).steps[0].say
        self.assertIn("G, G♯, then A", said)
        self.assertNotIn("cent", said)

    def test_the_screw_that_has_the_travel_is_used(self) -> None:
        for cents, turns in ((-30, -4), (30, 4), (-30, 0), (30, 0)):
            with self.subTest(cents=cents, turns=turns):
                advice = ask("cello", "C", ("C2", cents), fine_tuner={"turns_from_middle": turns})
                self.assertEqual(advice.mechanism, "fine-tuner")
                self.assertEqual(advice.pitch, "raise" if cents < 0 else "lower")

    def test_a_slack_string_comes_up_by_way_of_three_semitones_and_one(self) -> None:
        advice = ask("cello", "G", ("B1", 0))
        pegs = [step.aim_cents for step in advice.steps if step.do == "turn-peg"]
        self.assertEqual(pegs, [-300.0, -100.0, -10.0])
        self.assertTrue({"bridge", "one-at-a-time", "face-away"} <= set(advice.cautions))

    def test_a_geared_peg_goes_straight_there(self) -> None:
        advice = ask("viola", "D", ("C4", 0), peg={"kind": "geared"})
        self.assertEqual(does(advice), ["turn-peg", "check"])
        self.assertEqual((advice.steps[0].aim_cents, advice.steps[0].amount), (0.0, 10.0))
        self.assertFalse({"push-in", "ease-down-first"} & set(advice.cautions))

    def test_without_a_screw_the_peg_creeps_up_and_never_aims_above(self) -> None:
        for cents in (-45, -15, 21, 45):
            advice = ask("violin", "D", ("D4", cents), fine_tuner=None)
            with self.subTest(cents=cents):
                self.assertTrue(all((step.aim_cents or 0) <= 0 for step in advice.steps if step.do == "turn-peg"))
                self.assertEqual([step for step in advice.steps if step.do == "turn-peg"][-1].pitch, "raise")


class TestAmounts(unittest.TestCase):
    def test_screw_moves_are_half_a_turn_at_most(self) -> None:
        advice = ask("violin", "A", ("A4", -50))
        turns = [step.amount or 0 for step in advice.steps if step.do == "turn-fine-tuner"]
        self.assertTrue(all(0 < amount <= 0.5 for amount in turns))
        self.assertAlmostEqual(sum(turns), 50 / 39.73, places=2)
        self.assertEqual(does(advice)[1], "check")

    def test_learned_rates_are_used(self) -> None:
        screw = {"cents_per_turn": 60, "cents_per_turn_plus_minus": 6}
        step = ask("violin", "A", ("A4", -12), fine_tuner=screw).steps[0]
        self.assertEqual((step.amount, step.expect_cents, step.expect_plus_minus), (0.2, 12.0, 1.2))

    def test_a_nudge_is_small(self) -> None:
        for cents, expected in ((-200, 5.0), (-60, 2.5), (-18, 1.0)):
            hz = 220.0 * 2 ** (cents / 1200)
            advice = ask("cello", "A", hz, approach="pegs-only", peg={"cents_per_degree": 10})
            with self.subTest(cents=cents):
                self.assertEqual(advice.steps[0].amount, expected)


class TestAfterAMove(unittest.TestCase):
    def test_the_wrong_way_is_only_checked(self) -> None:
        move = {"mechanism": "peg", "direction": "raise", "amount": 4, "unit": "degree", "from_cents": -80}
        advice = ask("violin", "G", ("F#3", -50), recent_move=move)
        self.assertEqual((does(advice), advice.mechanism, advice.pitch), (["ask"], "peg", "raise"))
        self.assertEqual(advice.state, "wrong-way")
        asked = [option.answer for option in advice.steps[0].options]
        self.assertEqual(asked, ["sprang-back", "other-peg", "not-turned", "wound-other-way", "none"])
        self.assertIn("wrong-peg", advice.cautions)

    def test_after_an_overshoot_the_next_move_is_half_the_last(self) -> None:
        move = {"mechanism": "fine-tuner", "direction": "raise", "amount": 0.3, "unit": "turn", "from_cents": -12}
        self.assertEqual(ask("violin", "A", ("A4", 10), recent_move=move).steps[0].amount, 0.15)

    def test_a_stuck_peg_is_tried_by_another_adult_before_it_goes_to_the_luthier(self) -> None:
        move = {"mechanism": "peg", "direction": "raise", "amount": 4, "unit": "degree", "from_cents": -200}
        once = ask("violin", "G", ("F3", 0), peg={"state": "sticks"}, recent_move=move)
        self.assertEqual((does(once), once.state), (["check"], "no-effect"))
        self.assertIn("another adult", once.steps[0].say)
        again = ask("violin", "G", ("F3", 0), peg={"state": "sticks"}, recent_move={**move, "repeats": 1})
        self.assertEqual(does(again), ["luthier"])


class TestPeople(unittest.TestCase):
    def test_a_student_with_screws_only_is_never_given_a_peg(self) -> None:
        advice = ask("violin", "G", ("F3", 0), who="student-fine-tuners")
        self.assertEqual((does(advice), advice.mechanism, advice.pitch), (["fetch-teacher"], "peg", "raise"))
        self.assertIn("adult", advice.cautions)
        self.assertIn("teacher", advice.steps[0].say)

    def test_a_student_with_screws_only_turns_screws(self) -> None:
        self.assertEqual(does(ask("violin", "G", ("G3", -12), who="student-fine-tuners"))[0], "turn-fine-tuner")


class TestCautions(unittest.TestCase):
    def test_the_screw_near_its_end(self) -> None:
        screw = {"turns_from_middle": 3.3, "cents_per_turn": 40}
        advice = ask("violin", "A", ("A4", -12), fine_tuner=screw)
        self.assertTrue({"screw-near-end", "recentre-later"} <= set(advice.cautions))
        settled = ask("violin", "A", ("A4", 0), fine_tuner={"turns_from_middle": -3.8})
        self.assertEqual((settled.state, settled.cautions), ("in-tune", ["recentre-later"]))

    def test_only_what_applies(self) -> None:
        self.assertEqual(ask("violin", "A", ("A4", -12)).cautions, [])
        self.assertIn("old-string", ask("violin", "A", ("A4", -12), string_age_days=400).cautions)
        self.assertIn("break-margin", ask("violin", "G", ("A3", 0)).cautions)
        self.assertNotIn("face-away", ask("violin", "G", ("A3", 0)).cautions)
