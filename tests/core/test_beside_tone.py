"""A string beside its reference tone: followed on partials that the tone leaves free, and what is said where ears differ."""

import unittest

import numpy as np

from pondus.core.errors import BadInput
from pondus.core.hearing.live_beside import BesideToneListener
from pondus.core.hearing.look import Look, Settled
from pondus.core.instruments import INSTRUMENTS
from pondus.core.instruments.targets import targets_hz
from pondus.core.judgement.followed import answers_beside, differs_said
from pondus.core.pitch.notes import shift_hz
from pondus.core.pitch.tones import partial_levels
from pondus.core.simulated.sound import Samples, Tone, bowed, plucked

RATE = 48_000


def from_loudspeaker(hz: float, seconds: float, rng: np.random.Generator) -> Samples:
    """A tone that is followed, with the distortion of a small loudspeaker: shape (n,), peak about 0.2."""
    time = np.arange(int(seconds * RATE)) / RATE
    levels = partial_levels(hz, followed=True)
    turns = [order * hz * time + rng.random() for order in range(1, len(levels) + 1)]
    clean = sum(level * np.sin(2.0 * np.pi * turn) for level, turn in zip(levels, turns, strict=True))
    out = np.asarray(clean) / np.abs(clean).max()
    return np.asarray(0.2 * (out + 0.03 * out**2 + 0.02 * out**3))


class TestBesideTone(unittest.TestCase):
    def setUp(self) -> None:
        self.rng = np.random.default_rng(3)

    def listened(self, kind: str, string: str, sound: Samples, octaves_up: int = 0) -> list[Look | Settled]:
        listener = BesideToneListener(INSTRUMENTS[kind], rate_hz=RATE, string=string, octaves_up=octaves_up)
        return [said for start in range(0, len(sound), 2048) for said in listener.feed(sound[start : start + 2048])]

    def test_strings_of_every_instrument_are_read_beside_their_tone(self) -> None:
        for kind, instrument in INSTRUMENTS.items():
            for name, target in targets_hz(instrument).items():
                for off in (-120.0, -12.0, -2.0, 30.0):
                    with self.subTest(kind=kind, string=name, off=off):
                        octaves = 1 if target < 100.0 else 0
                        weak = -25.0 if target < 140.0 else 0.0
                        string = bowed(Tone(shift_hz(target, off), 2.0, RATE, weak_fundamental_db=weak), self.rng)
                        tone = from_loudspeaker(target * 2.0**octaves, 2.0, self.rng)
                        said = self.listened(kind, name, string[: len(tone)] + tone, octaves)
                        settled = [each for each in said if isinstance(each, Settled)]
                        self.assertEqual(len(settled), 1)
                        self.assertAlmostEqual(settled[0].reading.string_cents, off, delta=2.5)

    def test_a_pluck_too(self) -> None:
        tone = from_loudspeaker(440.0, 1.6, self.rng)
        string = plucked(Tone(shift_hz(440.0, -35.0), 1.6, RATE, stiffness=1e-4), self.rng)
        said = self.listened("violin", "A", tone + string[: len(tone)])
        figures = [each.reading.string_cents for each in said if isinstance(each, Settled)]
        self.assertTrue(figures)
        self.assertAlmostEqual(figures[0], -35.0, delta=3.0)

    def test_the_tone_alone_is_no_string(self) -> None:
        for kind, instrument in INSTRUMENTS.items():
            for name, target in targets_hz(instrument).items():
                with self.subTest(kind=kind, string=name):
                    said = self.listened(kind, name, from_loudspeaker(target, 1.5, self.rng))
                    self.assertEqual({each.hears for each in said if isinstance(each, Look)}, {"noise"})
                    self.assertFalse([each for each in said if isinstance(each, Settled)])

    def test_turned_while_it_sounds_it_is_read_again(self) -> None:
        off = np.concatenate([np.full(2 * RATE, -30.0), np.linspace(-30.0, -1.0, RATE), np.full(2 * RATE, -1.0)])
        turns = np.cumsum(shift_hz(440.0, 1.0) / shift_hz(1.0, 1.0) * 2.0 ** (off / 1200.0)) / RATE
        string = sum(0.3 / order * np.sin(2.0 * np.pi * order * turns) for order in range(1, 10))
        said = self.listened("violin", "A", np.asarray(string) + from_loudspeaker(440.0, 5.0, self.rng))
        figures = [each.reading.string_cents for each in said if isinstance(each, Settled)]
        self.assertAlmostEqual(figures[0], -30.0, delta=1.0)
        self.assertAlmostEqual(figures[-1], -1.0, delta=1.0)

    def test_an_octave_that_isnt_sounded_is_refused(self) -> None:
        with self.assertRaises(BadInput):
            BesideToneListener(INSTRUMENTS["cello"], rate_hz=RATE, string="C", octaves_up=5)


class TestEarsDiffer(unittest.TestCase):
    def test_nothing_is_said_within_fifteen_cents(self) -> None:
        for cents in (-14.9, 0.0, 14.9):
            self.assertIn("same", answers_beside(cents))
        for cents, not_said in ((-15.1, "same"), (-15.1, "higher"), (15.1, "lower"), (10.0, "much-lower")):
            self.assertNotIn(not_said, answers_beside(cents))

    def test_it_says_where_it_hears_the_string(self) -> None:
        self.assertIn("a little lower", differs_said("D", -20.0))
        self.assertIn("the D higher", differs_said("D", 80.0))
        self.assertIn("nearly at its tone", differs_said("D", 3.0))
