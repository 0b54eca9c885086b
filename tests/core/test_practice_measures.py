"""Thresholds and their bounds, what comes back, what was shown, and a lesson's five minutes."""

import json
import unittest
from dataclasses import replace
from datetime import date, timedelta

import numpy as np

from pondus.core.practice.drills import drill_named, drills_of_stage
from pondus.core.practice.lesson import LESSON_MINUTES, Learner, Lesson, lesson_for, wanted_drills
from pondus.core.practice.questions import setup
from pondus.core.practice.run import Go, Record, judge, record_of
from pondus.core.practice.shown import Gone, known_of, next_stage, shown_by, stages_shown
from pondus.core.practice.staircase import BACK_AFTER_QUESTIONS, Asked, comes_back, due_again
from pondus.core.practice.threshold import Trial, chance_right, next_difference, threshold_of
from tests.core.practice_answers import right_answer

DAY = date(2026, 7, 6)


class TestThreshold(unittest.TestCase):
    def test_known_thresholds_are_found_within_their_bounds(self) -> None:
        rng = np.random.default_rng(8)
        held, errors = 0, []
        for true in np.geomspace(0.5, 20.0, 12):
            trials: list[Trial] = []
            for _ in range(40):
                cents = next_difference(trials, choices=3)
                trials.append(Trial(cents, bool(rng.uniform() < chance_right(cents, threshold=true, choices=3)), 3))
            found = threshold_of(trials)
            held += found.low <= true <= found.high
            errors.append(abs(np.log(found.cents / true)))
            self.assertLess(found.low, found.cents)
            self.assertLess(found.cents, found.high)
        self.assertGreaterEqual(held, 9)
        self.assertLess(float(np.median(errors)), 0.35)

    def test_all_right_and_all_wrong_go_to_the_ends(self) -> None:
        right = threshold_of([Trial(1.0, True, 3)] * 30)
        wrong = threshold_of([Trial(20.0, False, 3)] * 30)
        self.assertLess(right.cents, 1.5)
        self.assertGreater(wrong.cents, 25.0)

    def test_differences_become_smaller_after_right_answers(self) -> None:
        first = next_difference([], choices=3)
        later = next_difference([Trial(first, True, 3)] * 6, choices=3)
        self.assertLess(later, first)

    def test_what_was_known_narrows_the_next_day(self) -> None:
        known = threshold_of([Trial(3.0, True, 3), Trial(1.5, False, 3)] * 15)
        fresh = threshold_of([Trial(3.0, True, 3)])
        with_known = threshold_of([Trial(3.0, True, 3)], before=known)
        self.assertLess(with_known.high / with_known.low, fresh.high / fresh.low)

    def test_what_was_seen_tells_nothing_of_ears(self) -> None:
        go = Go(drill_named("fifths"), setup("violin"), 6)
        question = go.question()
        assert question is not None
        answer = replace(right_answer(question), seen=True)
        record = record_of(question, judge(go, question, answer), answer)
        self.assertIsNone(record.cents)


class TestReturns(unittest.TestCase):
    def test_what_was_missed_comes_back_in_the_same_go(self) -> None:
        go = Go(drill_named("which-peg"), setup("violin"), 2)
        first = go.question()
        assert first is not None
        go = replace(go, records=(Record(first.item, False),))
        seen = []
        for _ in range(BACK_AFTER_QUESTIONS + 1):
            question = go.question()
            assert question is not None
            seen.append(question.item)
            go = replace(go, records=(*go.records, Record(question.item, True)))
        self.assertIn(first.item, seen)

    def test_and_is_done_with_once_it_is_right(self) -> None:
        self.assertEqual(comes_back([Asked("x", False), *[Asked("y", True)] * 3]), "x")
        self.assertIsNone(comes_back([Asked("x", False), *[Asked("y", True)] * 3, Asked("x", True)]))

    def test_and_on_later_days_at_widening_distances(self) -> None:
        asked_on = [Asked("x", False, DAY)]
        for right, waits in ((0, 0), (1, 1), (2, 3), (3, 7)):
            history = [*asked_on, *[Asked("x", True, DAY)] * right]
            self.assertEqual(due_again(history, DAY + timedelta(days=waits)), ("x",), right)
            if waits:
                self.assertEqual(due_again(history, DAY + timedelta(days=waits - 1)), (), right)
        self.assertEqual(due_again([*asked_on, *[Asked("x", True, DAY)] * 5], DAY + timedelta(days=99)), ())

    def test_a_new_go_asks_them_and_begins_at_the_level_reached(self) -> None:
        drill = drill_named("flat-or-sharp")
        missed = Gone(drill.name, DAY, (Record("own:G", False), *[Record("own:D", True)] * 9), level=3)
        known = known_of(drill, [missed], today=DAY + timedelta(days=1))
        self.assertEqual(known.returns, ("own:G",))
        self.assertGreater(known.begins, 1)
        go = Go(drill, setup("violin"), 9, returns=known.returns, begins=known.begins)
        items = []
        for _ in range(4):
            question = go.question()
            assert question is not None
            items.append(question.item)
            go = replace(go, records=(*go.records, Record(question.item, True)))
        self.assertIn("own:G", items)


class TestShown(unittest.TestCase):
    def managed(self, stage: int) -> list[Gone]:
        """Goes that show all that is wanted of a stage."""
        goes = []
        for drill in drills_of_stage(stage):
            records = tuple(Record(item, True) for item in ["a", "b"] * 6)
            threshold = threshold_of([Trial(2.0, True, 3)] * 30) if drill.way == "ears" else None
            days = (DAY, DAY + timedelta(days=1))
            goes += [Gone(drill.name, day, records, threshold, level=drill.levels) for day in days]
        return goes

    def test_a_stage_is_ready_when_all_of_it_was_shown(self) -> None:
        goes = self.managed(1)
        stages = stages_shown(shown_by(goes))
        self.assertTrue(stages[0].ready)
        self.assertFalse(stages[1].ready)
        self.assertFalse(stages_shown(shown_by(goes[:-1]))[0].ready)
        found = next_stage(stages, [1])
        assert found is not None
        self.assertEqual(found.stage, 2)

    def test_what_was_shown_a_fortnight_before_is_told_beside_it(self) -> None:
        drill = drill_named("flat-or-sharp")
        weak = Gone(drill.name, DAY, tuple(Record("a", place % 2 == 0) for place in range(10)), level=1)
        well = Gone(drill.name, DAY + timedelta(days=14), tuple([Record("a", True)] * 10), level=2)
        shown = shown_by([weak, well])[drill.name]
        self.assertIn("10 of the last 10", shown.said)
        self.assertIn("5 of the last 10", shown.before)
        self.assertEqual(shown_by([well])[drill.name].before, "")

    def test_what_was_missed_is_said_as_it_was_asked(self) -> None:
        go = Go(drill_named("flat-or-sharp"), setup("violin"), seed=5)
        first = go.question()
        assert first is not None
        go = replace(go, records=(Record(first.item, False), Record("x", True)))
        self.assertEqual([each.say for each in go.missed], [first.say])

    def test_two_wrong_of_ten_or_an_easy_level_are_not_enough(self) -> None:
        drill = drill_named("flat-or-sharp")
        wrong = Gone(drill.name, DAY, (*[Record("a", True)] * 8, Record("a", False), Record("a", False)), level=3)
        easy = Gone(drill.name, DAY, tuple([Record("a", True)] * 12), level=2)
        well = Gone(drill.name, DAY, tuple([Record("a", True)] * 12), level=3)
        after = {"day": DAY + timedelta(days=1)}
        for goes, want in (
            ([wrong] * 2, False),
            ([easy, replace(easy, **after)], False),
            ([well, well], False),  # on one day
            ([replace(well, level=2), replace(well, **after)], False),
            ([well, replace(wrong, **after)], False),
            ([well, replace(well, **after)], True),
        ):
            self.assertEqual(shown_by(goes)[drill.name].managed, want)

    def test_guessing_is_no_threshold(self) -> None:
        drill = drill_named("higher")
        guessed = threshold_of([Trial(cents, False, 2) for cents in np.geomspace(5.0, 80.0, 17)])
        self.assertFalse(guessed.is_told)
        go = Gone(drill.name, DAY, (Record("a", False),) * 17, guessed)
        self.assertIn("better than by guessing", shown_by([go])[drill.name].said)
        self.assertTrue(threshold_of([Trial(2.0, True, 3)] * 30).is_told)

    def test_nobody_is_called_best(self) -> None:
        said = json.dumps([each.said for each in shown_by(self.managed(1)).values()]).lower()
        for word in ("best", "score", "points", "streak", "rank"):
            self.assertNotIn(word, said)

    def test_a_lesson_has_five_minutes_a_device_and_puts_people_together(self) -> None:
        present = [Learner("a", ()), Learner("b", ()), Learner("c", (1, 2, 3)), Learner("d", (1, 2, 3, 4, 5))]
        for devices in range(6):
            lesson = lesson_for(present, today=DAY, devices=devices)
            self.assertLessEqual(sum(each.minutes for each in lesson.drills), LESSON_MINUTES * devices)
            served = {who for each in lesson.drills for who in each.who}
            self.assertEqual(served | set(lesson.not_today), set("abcd"))
            self.assertFalse(served & set(lesson.not_today))
        self.assertEqual(lesson.not_today, ())
        self.assertEqual(set(lesson_for(present, today=DAY).drills[0].who), {"a", "b"}, "as many as can")
        self.assertEqual(lesson_for([], today=DAY), Lesson())

    def test_without_quiet_everyone_still_has_something(self) -> None:
        present = [Learner(str(at), tuple(range(1, at + 1))) for at in range(8)]
        lesson = lesson_for(present, today=DAY, quiet=False, devices=8)
        self.assertEqual(lesson.not_today, ())
        self.assertTrue(all(each.drill.way in ("choice", "hands") and not each.drill.by_ear for each in lesson.drills))
        self.assertIn("screw-bowed", wanted_drills(present[2], today=DAY, quiet=False), "its display is seen")
