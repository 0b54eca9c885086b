"""What someone does again and again at the bench is counted for them alone, and becomes their next drill."""

import unittest
from datetime import date
from uuid import uuid4

from pondus.core.hands.learned import MoveLog
from pondus.core.hands.state import understand
from pondus.core.hands.understood import Understood
from pondus.core.practice.at_bench import said_of, stumbles_of
from pondus.core.practice.lesson import Learner, wanted_drills
from tests.core.writing import CLOCK, Writing, violin

WHO, OTHER = uuid4(), uuid4()


def understood_of(written: Writing) -> Understood:
    return understand(violin(), written.log, MoveLog(), clock=CLOCK)


class TestAtBench(unittest.TestCase):
    def gone(self, *stretches: tuple[float, float, float]) -> Understood:
        """Fine tuner moves by turns: cents before, turns, cents after."""
        written = Writing()
        for string, (before, turns, after) in zip("AADD", stretches, strict=False):
            written.read(string, before, entered_by=WHO)
            written.turn(string, turns, entered_by=WHO)
            written.read(string, after, entered_by=WHO)
        return understood_of(written)

    def test_past_the_note_and_the_wrong_way(self) -> None:
        past = self.gone((-20.0, 1.0, 12.0), (-30.0, 1.0, 9.0))
        self.assertEqual(stumbles_of([past], WHO), {"past-by-fine-tuner": 2})
        wrong = self.gone((-20.0, 0.5, -40.0), (-40.0, 0.5, -60.0))
        self.assertEqual(stumbles_of([wrong], WHO), {"wrong-way": 2})
        self.assertEqual(stumbles_of([self.gone((-20.0, 0.5, -1.0), (-1.0, 0.125, 2.0))], WHO), {})

    def test_once_is_nothing_and_anothers_is_not_theirs(self) -> None:
        past = self.gone((-20.0, 1.0, 12.0))
        self.assertEqual(stumbles_of([past], WHO), {})
        self.assertEqual(stumbles_of([past, past], WHO), {"past-by-fine-tuner": 2})
        self.assertEqual(stumbles_of([past, past], OTHER), {})

    def test_another_strings_peg(self) -> None:
        written = Writing()
        for _ in range(2):
            written.read("A", -60.0, entered_by=WHO)
            written.turn("A", 5.0, peg=True, entered_by=WHO, answer="other-peg")
            written.read("A", -60.0, entered_by=WHO)
        self.assertEqual(stumbles_of([understood_of(written)], WHO), {"wrong-string": 2})

    def test_it_is_the_next_drill_where_they_are_cleared_so_far(self) -> None:
        again = {"past-by-peg": 3, "past-by-fine-tuner": 2}
        self.assertEqual(said_of(again)[0], "went past the note with a peg, 3 times")
        beginner, player = (
            next(iter(wanted_drills(Learner("a", cleared, (), again), today=date(2026, 7, 4)).items()))
            for cleared in ((1,), (1, 2, 3, 4))
        )
        self.assertEqual(beginner, ("screw-plucked", "went past the note with a fine tuner 2 times lately, at the bench"))
        self.assertEqual(player[0], "peg-home")


if __name__ == "__main__":
    unittest.main()
