"""What pages offer is what is taken."""

import unittest

from pondus.core.clock import Clock
from pondus.core.pitch.notes import check_a4
from pondus.core.views import choices
from pondus.core.views.first_time import first_time
from tests.core.writing import START


class TestChoices(unittest.TestCase):
    def test_each_is_taken_and_says_what_it_is(self) -> None:
        for each in choices.A4:
            self.assertEqual(check_a4(float(each.value)), each.value)
            self.assertLess(abs(float(each.value) - 440.0), 26.0, "strings are made for no other")
        for each in choices.TOLERANCES:
            self.assertTrue(each.said.endswith(f"±{each.value:g}"))

    def test_a_screw_stands_in_its_travel_as_it_is_said(self) -> None:
        said = {each.said: float(each.value) for each in choices.SCREW_PLACES}
        self.assertEqual(said, {"all out": -1.0, "half out": -0.5, "middle": 0.0, "half in": 0.5, "all in": 1.0})


class TestFirstTime(unittest.TestCase):
    def test_one_fine_tuner_is_the_highest_strings(self) -> None:
        for seen, fitted in (("all", "GDAE"), ("one", "E"), ("none", "")):
            told = first_time(
                kind="violin", size=None, bridge="stands", strings={}, fine_tuners=seen, adult=True, clock=Clock(START)
            )
            with self.subTest(seen=seen):
                names = "".join(name for name, string in told.instrument.strings.items() if string.has_fine_tuner)
                self.assertEqual(names, fitted)
