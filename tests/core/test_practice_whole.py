"""A whole instrument in the hands: what is shown of it, where all its strings end, and what went wrong on the way."""

import unittest
from dataclasses import replace

import numpy as np

from pondus.core.errors import BadInput
from pondus.core.practice.drills import drill_named
from pondus.core.practice.hands import course_of
from pondus.core.practice.learner import Learner
from pondus.core.practice.questions import Action, Answer, Shows, Task, setup
from pondus.core.practice.run import Go, judge
from pondus.core.practice.whole import ask_whole, judge_whole, of_string, shown_of
from pondus.core.simulated.wood import as_plain, from_plain, tension_at

ON = setup("violin")


class WholeTest(unittest.TestCase):
    def task(self, off: dict[str, float], shows: Shows = "figures") -> Task:
        """Strings so many cents from where they should be."""
        question = ask_whole(ON, f"morning:{shows}", np.random.default_rng(2))
        assert question.task is not None
        wood = from_plain(question.task.wood)
        for name, aim in question.task.aims:
            wood = wood.with_string(name, tension=tension_at(aim + off.get(name, 0.0)))
        return replace(question.task, wood=as_plain(wood))


class TestJudging(WholeTest):
    def test_all_home_is_right(self) -> None:
        judged = judge_whole(ON, self.task({}), Answer(actions=()))
        self.assertTrue(judged.right)
        self.assertIn("all of them", judged.said)

    def test_each_that_is_out_is_named(self) -> None:
        judged = judge_whole(ON, self.task({"G": -20.0, "E": 9.0}), Answer(actions=()))
        self.assertFalse(judged.right)
        self.assertIn("the G 20 cents flat, the E 9 cents sharp", judged.said)
        assert judged.outcome is not None
        self.assertAlmostEqual(judged.outcome.ended_cents, -20.0, delta=0.1)

    def test_a_string_that_the_others_pulled_out_is_told(self) -> None:
        task = replace(self.task({"D": -400.0}), home_within_cents=1.0)
        turns = (Action("D", degrees=-30.0), Action("D", degrees=-30.0))  # the D's peg is turned up, whichever way that is
        if course_of(task, turns).now.cents_off("D") < -400.0:
            turns = (Action("D", degrees=30.0), Action("D", degrees=30.0))
        self.assertLess(course_of(task, turns).now.cents_off("A"), -2.5)
        judged = judge_whole(ON, task, Answer(actions=turns))
        self.assertFalse(judged.right)
        self.assertIn("the others pulled it out", judged.said)

    def test_to_and_fro_is_told(self) -> None:
        turns = tuple(Action("A", turns=way) for way in (1.5, -1.5, 1.5, -1.5, 1.5, -1.5, 1.5, -1.5))
        judged = judge_whole(ON, self.task({"A": -20.0}), Answer(actions=turns))
        self.assertFalse(judged.right)
        self.assertIn("Past the note", judged.said)
        self.assertIn("smaller turns", judged.said)

    def test_a_string_taken_far_over_was_risked(self) -> None:
        turns = (Action("G", turns=2.0), Action("G", turns=-2.5))
        task = self.task({"G": 50.0})
        self.assertGreater(course_of(task, turns[:1]).now.cents_off("G"), 80.0)
        self.assertIn("went far over", judge_whole(ON, task, Answer(actions=turns)).said)

    def test_a_go_without_turns_sent_is_refused(self) -> None:
        with self.assertRaises(BadInput):
            judge_whole(ON, self.task({}), Answer())

    def test_whoever_follows_the_advice_is_through_in_every_form(self) -> None:
        for name in ("whole", "whole-letters", "whole-by-ear"):
            go = Go(drill_named(name), ON, seed=4)
            question = go.question()
            assert question is not None
            answer = Learner(np.random.default_rng(1), 1.0, 2.0, 0.05).answer(go, question)
            with self.subTest(drill=name):
                self.assertTrue(judge(go, question, answer).right)


class TestShown(WholeTest):
    def shown(self, string: str, off: float, shows: Shows) -> tuple[str, float | None] | None:
        task = of_string(self.task({string: off}, shows), string)
        return shown_of(ON, task, from_plain(task.wood), np.random.default_rng(0))

    def test_letters_and_a_light_tell_no_figure(self) -> None:
        self.assertEqual(self.shown("A", -30.0, "letters"), ("A, left", None))
        self.assertEqual(self.shown("A", -80.0, "letters"), ("G♯, right", None))
        self.assertEqual(self.shown("D", 1.0, "letters"), ("D, middle", None))
        self.assertEqual(self.shown("E", 30.0, "light"), ("right", None))
        self.assertEqual(self.shown("E", -80.0, "light"), ("left", None))

    def test_by_ear_nothing_is_shown(self) -> None:
        self.assertIsNone(self.shown("A", -30.0, "tones"))
        figures = self.shown("A", -30.0, "figures")
        assert figures is not None
        self.assertIn("A4 −30", figures[0].replace("−29", "−30").replace("−31", "−30"))

    def test_by_fifths_the_others_are_pure_from_the_a(self) -> None:
        aims = dict(self.task({}, "fifths").aims)
        tempered = dict(self.task({}).aims)
        self.assertAlmostEqual(aims["G"] - tempered["G"], -2 * 1.955, delta=0.01)
        self.assertAlmostEqual(aims["E"] - tempered["E"], 1.955, delta=0.01)

    def test_a_string_it_hasnt_is_refused(self) -> None:
        with self.assertRaises(BadInput):
            of_string(self.task({}), "C")
