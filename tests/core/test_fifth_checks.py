"""Checks of a fifth as they are entered: heard together, by harmonics, by beats tapped."""

import unittest
from datetime import UTC, datetime
from typing import Any
from uuid import uuid4

from pondus.core.entries.fifth_checks import FifthCheckEntry, check_figures, double_stop_entry, harmonics_entry, tapped_entry
from pondus.core.errors import BadInput
from pondus.core.hands.records import FifthCheck
from pondus.core.instruments import INSTRUMENTS
from pondus.core.instruments.targets import targets_hz

D4_HZ, A4_HZ = 293.6648, 440.0
OF_D_A: dict[str, Any] = {"pair": ("D", "A"), "targets": targets_hz(INSTRUMENTS["violin"])}
EACH_SECOND = [0.0, 1.0, 2.0, 3.0, 4.0]


def beats_before(beats_hz: float, *, way: str = "tapped") -> FifthCheck:
    return FifthCheck(
        id=uuid4(),
        seq=1,
        at=datetime(2026, 7, 4, tzinfo=UTC),
        string="D",
        upper="A",
        way=way,  # type: ignore[arg-type]
        beats_hz=beats_hz,
    )


class TestDoubleStop(unittest.TestCase):
    def test_both_pitches_make_the_fifth(self) -> None:
        for lower, wide in ((D4_HZ, -1.955), (440.0 / 1.5, 0.0), (292.0, 7.885)):
            entry = double_stop_entry(lower, A4_HZ, **OF_D_A, source="microphone", plus_minus_cents=0.4)
            self.assertAlmostEqual(entry.from_pure_cents or 0.0, wide, delta=0.01)
            self.assertAlmostEqual(entry.beats_hz, abs(3.0 * lower - 880.0), delta=1e-9)
            self.assertEqual((entry.way, entry.source, entry.plus_minus_cents), ("double-stop", "microphone", 0.4))
            self.assertEqual((entry.lower_hz, entry.upper_hz), (lower, A4_HZ))

    def test_what_no_string_sounds_is_refused_by_its_own_name(self) -> None:
        for lower, upper, field in ((5.0, A4_HZ, "check.lower_hz"), (D4_HZ, 9000.0, "check.upper_hz")):
            with self.assertRaises(BadInput) as refused:
                double_stop_entry(lower, upper, **OF_D_A, source="typed")
            self.assertEqual(refused.exception.field, field)

    def test_what_is_no_fifth_is_refused_to_either_side(self) -> None:
        for lower in (D4_HZ * 2 ** (250 / 1200), D4_HZ * 2 ** (-250 / 1200), A4_HZ):
            with self.assertRaisesRegex(BadInput, "aren't a fifth; hear the two strings again"):
                double_stop_entry(lower, A4_HZ, **OF_D_A, source="recording")
        for by in (-195.0, 195.0):
            lower = A4_HZ / 1.5 * 2 ** (by / 1200)
            self.assertAlmostEqual(
                double_stop_entry(lower, A4_HZ, **OF_D_A, source="typed").from_pure_cents or 0.0, -by, delta=1e-6
            )


class TestWhosePairItIs(unittest.TestCase):
    def test_another_pairs_pitches_are_told_by_their_name(self) -> None:
        with self.assertRaisesRegex(BadInput, "440 and 659 Hz are A–E, not D–A"):
            double_stop_entry(440.0, 659.0, **OF_D_A, source="typed")

    def test_a_pair_that_is_far_out_is_still_its_own(self) -> None:
        for away in (-240.0, 180.0):
            lower, upper = D4_HZ * 2 ** (away / 1200), A4_HZ * 2 ** (away / 1200)
            self.assertEqual(double_stop_entry(lower, upper, **OF_D_A, source="typed").lower_hz, lower)


class TestHarmonics(unittest.TestCase):
    def entered(self, octave: str, twelfth: str) -> FifthCheckEntry:
        return harmonics_entry(octave, twelfth, lower_target_hz=D4_HZ, upper_target_hz=A4_HZ, a4=440.0, source="typed")

    def test_one_pitch_against_one_pitch(self) -> None:
        """The twelfth flat of the octave: the lower string is flat, and the fifth wide."""
        for octave, twelfth, wide in (("0", "0", 0.0), ("0", "-2", 2.0), ("A5 -1", "A5 +3", -4.0), ("880 Hz", "0", 0.0)):
            entry = self.entered(octave, twelfth)
            self.assertAlmostEqual(entry.from_pure_cents or 0.0, wide, delta=1e-6, msg=f"{octave} {twelfth}")
            self.assertEqual((entry.way, entry.plus_minus_cents), ("harmonics", None))

    def test_the_strings_are_told_as_they_sound_open(self) -> None:
        entry = self.entered("880 Hz", "882 Hz")
        self.assertAlmostEqual(entry.upper_hz or 0.0, 440.0, delta=1e-9)
        self.assertAlmostEqual(entry.lower_hz or 0.0, 294.0, delta=1e-9)

    def test_what_was_mistyped_is_refused_by_its_own_name(self) -> None:
        for octave, twelfth, field in (("x", "0", "octave"), ("0", "A4 0", "twelfth"), ("E6 0", "0", "octave")):
            with self.assertRaises(BadInput) as refused:
                self.entered(octave, twelfth)
            self.assertEqual(refused.exception.field, field)


class TestTapped(unittest.TestCase):
    def test_beats_alone_tell_no_direction(self) -> None:
        entry = tapped_entry(EACH_SECOND, lower_target_hz=D4_HZ)
        self.assertAlmostEqual(entry.beats_hz, 1.0, delta=1e-6)
        self.assertEqual((entry.from_pure_cents, entry.way, entry.source), (None, "tapped", "tapped"))
        self.assertGreater(entry.plus_minus_cents or 0.0, 0.0)

    def test_slower_after_the_lower_went_up_was_wide(self) -> None:
        for moved, pitch, before, wide in (
            ("lower", "raise", 1.5, 1),
            ("lower", "raise", 0.6, -1),
            ("upper", "lower", 1.5, 1),
            ("upper", "raise", 1.5, -1),
            ("lower", "lower", 0.6, 1),
        ):
            entry = tapped_entry(
                EACH_SECOND,
                lower_target_hz=D4_HZ,
                small_move=(moved, pitch),  # type: ignore[arg-type]
                earlier=beats_before(before),
            )
            self.assertAlmostEqual(entry.from_pure_cents or 0.0, 1.964 * wide, delta=0.01, msg=f"{moved} {pitch} {before}")

    def test_a_small_move_needs_taps_before_it(self) -> None:
        for earlier in (None, beats_before(1.5, way="double-stop")):
            with self.assertRaisesRegex(BadInput, "Listen to the beats before the small move first"):
                tapped_entry(EACH_SECOND, lower_target_hz=D4_HZ, small_move=("lower", "raise"), earlier=earlier)


class TestKeptElsewhere(unittest.TestCase):
    def test_figures_within_what_can_be_pass_unchanged(self) -> None:
        for entry in (
            FifthCheckEntry("tapped", "tapped", 0.0),
            FifthCheckEntry("double-stop", "recording", 5000.0, 20.0, 5000.0, -200.0, 2400.0),
            FifthCheckEntry("harmonics", "typed", 1.0, 293.0, 440.0, 200.0, 0.0),
        ):
            self.assertIs(check_figures(entry), entry)

    def test_each_figure_that_cannot_be_is_named(self) -> None:
        for field, figures in (
            ("lower_hz", {"lower_hz": 5.0}),
            ("upper_hz", {"upper_hz": 1e5}),
            ("beats_hz", {"beats_hz": -0.1}),
            ("beats_hz", {"beats_hz": 5000.5}),
            ("beats_hz", {"beats_hz": float("nan")}),
            ("from_pure_cents", {"from_pure_cents": 200.5}),
            ("from_pure_cents", {"from_pure_cents": -200.5}),
            ("plus_minus_cents", {"plus_minus_cents": -1.0}),
            ("plus_minus_cents", {"plus_minus_cents": float("inf")}),
        ):
            with self.subTest(field=field, figures=figures), self.assertRaises(BadInput) as refused:
                check_figures(FifthCheckEntry(**{"way": "double-stop", "source": "typed", "beats_hz": 1.0, **figures}))
            self.assertEqual(refused.exception.field, field)


if __name__ == "__main__":
    unittest.main()
