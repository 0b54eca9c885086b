"""Drills for the hands are judged by what was done: what was turned, overshoots, ends, breakage, handing over in time."""

import unittest
from dataclasses import replace
from itertools import pairwise

import numpy as np

from pondus.core.errors import BadInput
from pondus.core.fifths.beats import fifth_between
from pondus.core.pitch.notes import cents_between
from pondus.core.practice.drills import drill_named
from pondus.core.practice.foretell import judge_foretold, told_of
from pondus.core.practice.hands import SHOWN_WITHIN_CENTS, advice_to, course_of, judge_hands, stands
from pondus.core.practice.peg_seen import peg_seen
from pondus.core.practice.questions import Action, Answer, Question, Setup, setup
from pondus.core.simulated.wood import as_plain, from_plain


class TestHands(unittest.TestCase):
    def task(self, drill: str, item: str, seed: int = 3) -> tuple[Setup, Question]:
        on = setup("violin")
        ask = drill_named(drill).ask
        assert ask is not None
        return on, ask(on, item, np.random.default_rng(seed))

    def home(self, on: Setup, question: Question, *, most: int = 60) -> list[Action]:
        """Follow the advice until it leaves the string."""
        task = question.task
        assert task is not None
        actions: list[Action] = []
        for _ in range(most):
            steps = advice_to(on, task, course_of(task, actions).now).steps
            step = next((each for each in steps if each.is_move or each.do == "tug-down"), None)
            if step is None:
                break
            if step.do == "tug-down":
                actions.append(Action(task.string, tug=True))
                continue
            assert step.amount is not None
            signed = step.amount * (1.0 if step.rotation == "clockwise" else -1.0)
            by_peg = step.do == "turn-peg"
            actions.append(Action(task.string, degrees=signed) if by_peg else Action(task.string, turns=signed))
        return actions

    def test_whoever_follows_the_advice_comes_home(self) -> None:
        for drill, item in (
            ("screw-plucked", "near:G"), ("screw-bowed", "wide:A"), ("peg-home", "peg:D"), ("peg-home", "dry:A"),
            ("to-a-tone", "E"), ("oboe", "reed:443"), ("still", "G:D"), ("still", "A:E"),
        ):  # fmt: skip
            with self.subTest(drill=drill, item=item):
                on, question = self.task(drill, item)
                assert question.task is not None
                judged = judge_hands(on, question.task, Answer(actions=tuple(self.home(on, question))))
                self.assertTrue(judged.right, judged.said)
                assert judged.outcome is not None
                self.assertTrue(judged.outcome.first_turn_right)
                self.assertLessEqual(abs(judged.outcome.ended_cents), question.task.home_within_cents + SHOWN_WITHIN_CENTS)

    def test_the_way_there_is_the_hands_own(self) -> None:
        """A peg is eased down before it goes up; beats tell no side, and a small trial turn is how it is done."""
        for drill, item, first in (
            ("peg-home", "peg:D", {"degrees": 1.0}),  # a bass string's peg goes down clockwise
            ("still", "G:D", {"turns": 0.1}),
            ("still", "G:D", {"turns": -0.1}),
        ):
            with self.subTest(drill=drill, first=first):
                on, question = self.task(drill, item)
                assert question.task is not None
                eased = Action(question.task.string, **first)
                moved = course_of(question.task, [eased]).now
                task = replace(question.task, wood=as_plain(moved))
                back = self.home(on, replace(question, task=task))
                judged = judge_hands(on, question.task, Answer(actions=(eased, *back)))
                self.assertTrue(judged.right, judged.said)

    def test_a_peg_is_seen_to_stay_to_spring_back_and_to_jump(self) -> None:
        said = set()
        for kind in ("peg", "dry", "damp", "reversed"):
            for seed in range(6):
                _, question = self.task("peg-home", f"{kind}:D", seed)
                task = question.task
                assert task is not None
                for degrees, pushed in ((2.0, True), (8.0, True), (8.0, False), (-8.0, True)):
                    actions = (Action("D", degrees=degrees, pushed=pushed),)
                    seen = peg_seen(course_of(task, actions), actions)
                    if seen is not None:
                        said.add(seen.said.split(":")[0].split(",")[0])
                        self.assertGreaterEqual(seen.stayed * seen.turned, -0.1, "never the other way")
        self.assertEqual(said, {"It stayed.", "It sprang back", "It stuck"})
        screw = (Action("D", turns=0.25),)
        self.assertIsNone(peg_seen(course_of(task, screw), screw))

    def test_a_peg_left_coming_up_is_praised(self) -> None:
        on, question = self.task("peg-home", "peg:D")
        task = question.task
        assert task is not None
        home = self.home(on, question)
        self.assertIn("Its last turn was up", judge_hands(on, task, Answer(actions=tuple(home))).said)
        down = [*home, Action("D", turns=-0.25)]
        self.assertIn("left coming down", judge_hands(on, task, Answer(actions=tuple(down))).said)

    def test_what_was_foretold_is_measured(self) -> None:
        on, question = self.task("foretell", "near:A")
        task = question.task
        assert task is not None and task.foretells
        home = self.home(on, question)
        track = [stands(task, each) or 0.0 for each in course_of(task, home).woods]
        for share, right in ((1.1, True), (3.0, False), (-1.0, False)):
            told = [
                replace(each, foretold=share * (after - before))
                for each, (before, after) in zip(home, pairwise(track), strict=True)
            ]
            judged = judge_foretold(on, task, Answer(actions=tuple(told)))
            self.assertIn(told_of(task, course_of(task, told), told) or "nothing", judged.said)
            assert judged.outcome is not None and judged.outcome.foretold_off is not None
            with self.subTest(share=share):
                self.assertEqual(judged.right, right)
                self.assertIn("Foretold", judged.said)
        self.assertFalse(judge_foretold(on, task, Answer(actions=tuple(home))).right, "nothing was foretold")

    def test_still_is_what_beats_say(self) -> None:
        for item, beats in (("G:D", 0.6), ("A:E", 0.8)):
            on, question = self.task("still", item)
            assert question.task is not None and question.task.fifth is not None
            low, high = question.task.fifth
            judged = judge_hands(on, question.task, Answer(actions=tuple(self.home(on, question))))
            self.assertTrue(judged.right)
            wood = course_of(question.task, self.home(on, question)).now
            self.assertLess(abs(fifth_between(wood.hz(low), wood.hz(high)).beats_hz), beats)
        nothing = judge_hands(on, question.task, Answer(actions=()))
        self.assertFalse(nothing.right)
        self.assertNotIn("turned", nothing.said, "nothing was")

    def test_to_and_fro_is_counted(self) -> None:
        on, question = self.task("screw-plucked", "near:A")
        assert question.task is not None
        off = stands(question.task, from_plain(question.task.wood))
        assert off is not None
        way = 1.0 if off < 0 else -1.0
        swings = (2.0, -2.5, 2.5, -2.5)
        judged = judge_hands(on, question.task, Answer(actions=tuple(Action("A", turns=way * each) for each in swings)))
        assert judged.outcome is not None and judged.outcome.turned_ratio is not None
        self.assertGreaterEqual(judged.outcome.overshoots or 0, 3)
        self.assertGreater(judged.outcome.turned_ratio, 3.0)

    def test_where_a_turn_ends_is_a_share_of_its_way(self) -> None:
        on, question = self.task("screw-plucked", "near:A")
        assert question.task is not None
        wood = from_plain(question.task.wood)
        off = stands(question.task, wood)
        assert off is not None and wood.true["A"].cents_per_turn is not None
        turns = -off / wood.true["A"].cents_per_turn
        for share in (0.5, 1.5):  # half the way, half as much again
            judged = judge_hands(on, question.task, Answer(actions=(Action("A", turns=share * turns),)))
            assert judged.outcome is not None and judged.outcome.beside_share is not None
            self.assertAlmostEqual(judged.outcome.beside_share, 0.5, delta=0.12)
        nothing = judge_hands(on, question.task, Answer(actions=(Action("A", tug=True),)))
        assert nothing.outcome is not None
        self.assertIsNone(nothing.outcome.beside_share)

    def test_the_screws_end_is_seen_in_time_or_not(self) -> None:
        on, question = self.task("screw-plucked", "end:D")
        assert question.task is not None
        self.assertTrue(judge_hands(on, question.task, Answer(actions=(), stopped=True)).right)
        way = 1.0 if from_plain(question.task.wood).now["D"].screw_turns > 0 else -1.0
        forced = judge_hands(on, question.task, Answer(actions=(Action("D", turns=2.0 * way),), stopped=True))
        self.assertFalse(forced.right)
        self.assertIn("against its end", forced.said)

    def test_handing_over_what_can_be_done_is_not_right(self) -> None:
        on, question = self.task("screw-plucked", "near:D")
        assert question.task is not None
        self.assertFalse(judge_hands(on, question.task, Answer(actions=(), stopped=True)).right)

    def test_the_wrong_peg_and_a_broken_string_are_told(self) -> None:
        on, question = self.task("peg-home", "peg:D")
        assert question.task is not None
        other = judge_hands(on, question.task, Answer(actions=(Action("A", degrees=4.0),)))
        assert other.outcome is not None
        self.assertFalse(other.outcome.first_turn_right)
        wound = tuple(Action("D", degrees=-90.0) for _ in range(6))
        broken = judge_hands(on, question.task, Answer(actions=wound))
        self.assertFalse(broken.right)
        self.assertIn("broke", broken.said)

    def test_bad_actions_are_refused(self) -> None:
        _, question = self.task("screw-plucked", "near:D")
        assert question.task is not None
        for actions in (
            (Action("D", turns=0.5, degrees=3.0),),
            (Action("D"),),
            (Action("D", turns=0.0),),
            (Action("C", turns=0.5),),
            tuple(Action("D", turns=0.1) for _ in range(201)),
        ):
            with self.assertRaises(BadInput):
                course_of(question.task, actions)

    def test_another_a4_is_home_where_that_studio_has_it(self) -> None:
        on = setup("cello", a4=442.0)
        ask = drill_named("screw-plucked").ask
        assert ask is not None
        question = ask(on, "near:C", np.random.default_rng(4))
        assert question.task is not None
        self.assertAlmostEqual(question.task.aim_cents, cents_between(442.0, 440.0), places=6)
