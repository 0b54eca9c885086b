"""Note names, octaves, Hz and cents."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from pondus.core.errors import BadInput, BadNote
from pondus.core.pitch.notes import (
    cents_between,
    check_a4,
    check_heard_hz,
    name_of,
    nearest_note,
    number_to_hz,
    parse_note,
    shift_hz,
)


class TestNotes(unittest.TestCase):
    def test_enharmonic_spellings_are_one_pitch(self) -> None:
        for one, other in (("D#4", "Eb4"), ("D♯4", "E♭4"), ("A#3", "Bb3"), ("B#3", "C4"), ("E#4", "F4"), ("Cb5", "B4")):
            with self.subTest(one=one, other=other):
                self.assertEqual(parse_note(one), parse_note(other))

    def test_middle_c_and_the_octave_turns_at_c(self) -> None:
        self.assertAlmostEqual(number_to_hz(parse_note("C4").number or 0), 261.6256, places=4)
        self.assertEqual((parse_note("C4").number or 0) - (parse_note("B3").number or 0), 1)

    def test_what_is_not_a_note_is_refused_by_name(self) -> None:
        for text in ("H4", "", "A44", "4A", "A-1", "Ax", "♯", "A##", "hello"):
            with self.subTest(text=text), self.assertRaises(BadNote) as caught:
                parse_note(text)
            self.assertIn(text, caught.exception.message)

    def test_preferred_spelling_is_used(self) -> None:
        self.assertEqual(name_of(70), "A♯4")
        self.assertEqual(name_of(70, spelling="flats"), "B♭4")


class TestFrequencies(unittest.TestCase):
    @given(st.integers(20, 100), st.floats(-50, 50), st.floats(415, 446))
    def test_a_tuner_shows_what_was_sounded(self, number: int, cents: float, a4: float) -> None:
        hz = shift_hz(number_to_hz(number, a4=a4), cents)
        shown = nearest_note(hz, a4=a4)
        self.assertAlmostEqual(100 * shown.number + shown.cents, 100 * number + cents, places=6)
        self.assertLessEqual(abs(shown.cents), 50.0)

    @given(st.floats(20, 5000), st.floats(-2400, 2400))
    def test_cents_there_and_back(self, hz: float, cents: float) -> None:
        self.assertAlmostEqual(cents_between(shift_hz(hz, cents), hz), cents, places=6)

    def test_reference_and_heard_limits(self) -> None:
        for a4 in (415.0, 440.0, 446.0):
            self.assertEqual(check_a4(a4), a4)
        for bad in (414.9, 446.1, float("nan"), 0.0, -440.0):
            with self.subTest(a4=bad), self.assertRaises(BadInput) as caught:
                check_a4(bad)
            self.assertEqual(caught.exception.field, "a4")
        for hz in (19.9, 5000.1, -1.0, 0.0, float("nan"), float("inf")):
            with self.subTest(hz=hz), self.assertRaises(BadInput):
                check_heard_hz(hz)
