"""Reference tones: the right pitch, a moderate level, soft ends, and partials enough to beat against."""

import unittest

import numpy as np

from pondus.core.pitch.tones import HIGHEST_PARTIAL_HZ, LEVEL, PARTIALS, partial_levels, tone

RATE_HZ = 44_100
STRINGS_HZ = (65.406, 97.999, 130.813, 195.998, 293.665, 440.0, 659.255)


def level_at(sound: np.ndarray, hz: float, rate_hz: int = RATE_HZ) -> float:
    """Amplitude of the sound at a frequency, over its steady middle."""
    middle = sound[len(sound) // 4 : -len(sound) // 4]
    time = np.arange(len(middle)) / rate_hz
    window = np.hanning(len(middle))
    return float(2.0 * abs(np.sum(middle * window * np.exp(-2j * np.pi * hz * time))) / window.sum())


class TestTone(unittest.TestCase):
    def test_partials_fall_off_as_a_bowed_strings_do(self) -> None:
        for hz in STRINGS_HZ:
            sound = tone(hz, seconds=2.0)
            first = level_at(sound, hz)
            for order, level in enumerate(partial_levels(hz), start=1):
                self.assertAlmostEqual(level_at(sound, order * hz) / first, level, delta=0.005, msg=f"{hz} {order}")
                self.assertAlmostEqual(level, 1.0 / order, delta=1e-12)
            for between in (1.5 * hz, 2.5 * hz):
                self.assertLess(level_at(sound, between), 1e-3 * first)

    def test_it_is_moderate_and_begins_and_ends_softly(self) -> None:
        for hz in STRINGS_HZ:
            sound = tone(hz, seconds=1.0)
            self.assertEqual(len(sound), RATE_HZ)
            self.assertLessEqual(float(np.abs(sound).max()), LEVEL + 1e-9)
            self.assertGreater(float(np.abs(sound).max()), 0.9 * LEVEL)
            self.assertEqual((sound[0], sound[-1]), (0.0, 0.0))
            self.assertLess(float(np.abs(sound[:441]).max()), 0.25 * LEVEL)

    def test_no_partial_is_past_the_highest_and_there_is_always_one(self) -> None:
        for hz in (*STRINGS_HZ, 2_900.0, 5_999.0, 6_001.0, 9_000.0):
            count = len(partial_levels(hz))
            self.assertTrue(count == 1 or count * hz <= HIGHEST_PARTIAL_HZ, hz)
            self.assertLessEqual(count, PARTIALS)
            self.assertTrue(count == PARTIALS or (count + 1) * hz > HIGHEST_PARTIAL_HZ, hz)

    def test_other_rates_sound_the_same_pitch(self) -> None:
        sound = tone(440.0, seconds=1.0, rate_hz=16_000)
        self.assertEqual(len(sound), 16_000)
        self.assertGreater(level_at(sound, 440.0, 16_000), 10.0 * level_at(sound, 466.0, 16_000))

    def test_no_time_is_no_sound(self) -> None:
        self.assertEqual(len(tone(440.0, seconds=0.0)), 0)


if __name__ == "__main__":
    unittest.main()
