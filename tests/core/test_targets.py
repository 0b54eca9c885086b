"""Where open strings stand, tempered, pure and between; exact figures."""

import unittest
from itertools import pairwise

from pondus.core.errors import BadInput
from pondus.core.fifths.beats import fifth_between
from pondus.core.instruments import INSTRUMENTS
from pondus.core.instruments.targets import PURE_FIFTH_CENTS, check_fifth_cents, offset_cents, targets_hz

TEMPERED_HZ = {
    "violin": {"G": 195.998, "D": 293.665, "A": 440.0, "E": 659.255},
    "viola": {"C": 130.813, "G": 195.998, "D": 293.665, "A": 440.0},
    "cello": {"C": 65.406, "G": 97.999, "D": 146.832, "A": 220.0},
}
PURE_OFFSETS = {"E": 1.955, "A": 0.0, "D": -1.955, "G": -3.910, "C": -5.865}
TEMPERED_BEATS = {
    ("violin", "G", "D"): 0.664,
    ("violin", "D", "A"): 0.994,
    ("violin", "A", "E"): 1.490,
    ("viola", "C", "G"): 0.443,
    ("cello", "C", "G"): 0.221,
    ("cello", "G", "D"): 0.332,
    ("cello", "D", "A"): 0.497,
}


class TestTargets(unittest.TestCase):
    def test_tempered_strings(self) -> None:
        for kind, expected in TEMPERED_HZ.items():
            for name, hz in targets_hz(INSTRUMENTS[kind]).items():
                with self.subTest(kind=kind, string=name):
                    self.assertAlmostEqual(hz, expected[name], delta=0.0006)

    def test_pure_strings_as_a_tempered_tuner_shows_them(self) -> None:
        for instrument in INSTRUMENTS.values():
            for string in instrument.strings:
                with self.subTest(kind=instrument.kind, string=string.name):
                    offset = offset_cents(string, fifth_cents=PURE_FIFTH_CENTS)
                    self.assertAlmostEqual(offset, PURE_OFFSETS[string.name], places=3)

    def test_pure_fifths_do_not_beat(self) -> None:
        for instrument in INSTRUMENTS.values():
            hz = list(targets_hz(instrument, fifth_cents=PURE_FIFTH_CENTS).values())
            for low, high in pairwise(hz):
                self.assertAlmostEqual(fifth_between(low, high).beats_hz, 0.0, places=9)

    def test_tempered_fifths_beat_as_the_arithmetic_says(self) -> None:
        for (kind, low, high), beats in TEMPERED_BEATS.items():
            hz = targets_hz(INSTRUMENTS[kind])
            with self.subTest(kind=kind, lower=low):
                self.assertAlmostEqual(fifth_between(hz[low], hz[high]).beats_hz, beats, delta=0.0006)

    def test_reference_moves_every_string(self) -> None:
        at_440, at_442 = targets_hz(INSTRUMENTS["violin"]), targets_hz(INSTRUMENTS["violin"], a4=442.0)
        for name, hz in at_440.items():
            self.assertAlmostEqual(at_442[name] / hz, 442.0 / 440.0, places=12)

    def test_widths_outside_tempered_to_pure_are_refused(self) -> None:
        for width in (699.9, 702.0, float("nan")):
            with self.subTest(width=width), self.assertRaises(BadInput) as caught:
                check_fifth_cents(width)
            self.assertIn("700", caught.exception.message)
        self.assertEqual(check_fifth_cents(701.955), PURE_FIFTH_CENTS)


class TestInstruments(unittest.TestCase):
    def test_sizes(self) -> None:
        self.assertEqual(INSTRUMENTS["viola"].size("4/4"), "16")
        self.assertEqual(INSTRUMENTS["violin"].size(None), "4/4")
        with self.assertRaises(BadInput) as caught:
            INSTRUMENTS["cello"].size("1/16")
        self.assertIn("1/16", caught.exception.message)

    def test_pegs_sit_thickest_two_on_the_bass_side(self) -> None:
        sides = [string.side for string in INSTRUMENTS["cello"].strings]
        self.assertEqual(sides, ["bass", "bass", "treble", "treble"])
