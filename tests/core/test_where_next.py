"""Where to go on at the bench, and what is said at once whichever string is looked at."""

import unittest

from pondus.core.hands.state import anticipating
from pondus.core.views.where_next import before_any_turn, next_string, notice_of, string_after
from tests.core.writing import VIOLIN, Writing

IN_ORDER = ("A", "D", "G", "E")


def next_of(written: Writing, *plan: str) -> str | None:
    return next_string(list(written.states().values()), IN_ORDER, plan)


class TestNext(unittest.TestCase):
    def written(self, **cents: float) -> Writing:
        written = Writing()
        for name, off in cents.items():
            written.read(name, off)
        return written

    def test_all_are_heard_before_the_plan_says_where_to_begin(self) -> None:
        self.assertEqual(next_of(Writing()), "A")
        self.assertEqual(next_of(self.written(A=-30.0, D=-5.0), "D"), "A")
        self.assertEqual(next_of(self.written(A=-30.0, D=-5.0, G=0.0, E=0.0), "D", "A"), "D")

    def test_what_is_in_tune_is_passed_over_though_the_plan_names_it(self) -> None:
        self.assertEqual(next_of(self.written(A=0.0, D=-5.0, G=-9.0, E=0.0), "A", "G", "D"), "G")

    def test_what_is_left_for_now_comes_last_whatever_the_plan_says(self) -> None:
        states = self.written(A=4.5, D=-5.0, G=0.0, E=0.0).states()
        states["A"] = anticipating(states["A"], -4.0)
        self.assertEqual(next_string(list(states.values()), IN_ORDER, ["A", "D"]), "D")
        self.assertEqual(next_string(list(states.values()), IN_ORDER, []), "D")
        alone = self.written(A=4.5, D=0.0, G=0.0, E=0.0).states()
        alone["A"] = anticipating(alone["A"], -4.0)
        self.assertEqual(next_string(list(alone.values()), IN_ORDER, []), "A")

    def test_nothing_is_next_where_all_is_in_tune(self) -> None:
        self.assertIsNone(next_of(self.written(A=0.0, D=1.0, G=-2.0, E=2.0)))

    def test_what_was_turned_is_heard_first_then_what_is_asked(self) -> None:
        written = self.written(A=-30.0, D=-30.0, G=-30.0, E=0.0)
        written.turn("G", 0.6)
        written.read("G", -30.0)
        self.assertEqual(next_of(written, "A", "D"), "G")
        written.turn("D", 0.6)
        self.assertEqual(next_of(written, "A"), "D")

    def test_the_one_after_is_what_comes_when_this_one_is_well(self) -> None:
        states = self.written(A=-30.0, D=-5.0, G=0.0, E=0.0).states()
        self.assertEqual(string_after(states["A"], list(states.values()), IN_ORDER, ["A", "D"]), "D")
        self.assertEqual(string_after(states["D"], list(states.values()), IN_ORDER, ["A", "D"]), "A")


class TestBeforeAnyTurn(unittest.TestCase):
    def said(self, *, turned: bool = False, strings: str = "GDAE", off: float = -20.0) -> str | None:
        written = Writing()
        for name in strings:
            written.read(name, off)
        if turned:
            written.turn("A", 0.3)
        return before_any_turn(list(written.states().values()), written.log, VIOLIN)

    def test_all_alike_or_anothers_strings_are_said_while_nothing_is_turned(self) -> None:
        self.assertIn("cents", self.said() or "")
        self.assertIsNone(self.said(turned=True))
        self.assertIsNone(self.said(strings="GDA"))
        self.assertIn("viola", self.said(off=-700.0) or "")


class TestNotice(unittest.TestCase):
    def told(self, moved: str, by: float, *, peg: bool = True, turned_too: bool = False) -> str | None:
        written = Writing()
        written.read("A", -60.0)
        written.read(moved, -20.0)
        if turned_too:
            written.turn(moved, 2.0)
        written.turn("A", 4.0 if peg else 0.5, peg=peg)
        written.read("A", -60.0)
        written.read(moved, -20.0 + by)
        return notice_of(list(written.states().values()), written.log)

    def test_another_string_that_moved_far_is_named_with_what_was_in_hand(self) -> None:
        self.assertEqual(
            self.told("D", 45.0),
            "The D string went up by 45 cents when the A was turned: most likely it was the D peg that was in hand.",
        )
        self.assertEqual(
            self.told("E", -31.0, peg=False),
            "The E string went down by 31 cents when the A was turned: most likely it was the E fine tuner that was in hand.",
        )

    def test_what_the_body_gives_is_no_other_peg(self) -> None:
        for by in (-29.0, 29.0, 0.0):
            self.assertIsNone(self.told("D", by), by)

    def test_a_string_that_was_turned_itself_says_nothing(self) -> None:
        self.assertIsNone(self.told("D", 60.0, turned_too=True))

    def test_nothing_was_turned_or_nothing_known_before(self) -> None:
        written = Writing()
        written.read("A", -60.0)
        self.assertIsNone(notice_of(list(written.states().values()), written.log))
        written.turn("A", 4.0, peg=True)
        written.read("A", -60.0)
        written.read("D", 45.0)
        self.assertIsNone(notice_of(list(written.states().values()), written.log))


if __name__ == "__main__":
    unittest.main()
