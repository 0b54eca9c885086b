"""What hearing is made of, each by itself: a stroke told by its brightness, a knock left out, whose the power is."""

import math
import unittest

import numpy as np

from pondus.core.hearing.arrays import windows
from pondus.core.hearing.one_string import shares, without_knocks
from pondus.core.hearing.onset import brightened_db
from pondus.core.hearing.partials import demodulate
from pondus.core.hearing.sound import Samples, Sound

RATE = 20_000
HZ = 220.0


def tone(seconds: float, *, hz: float = HZ, partials: int = 6, level: float = 0.1) -> Samples:
    time = np.arange(int(seconds * RATE)) / RATE
    return np.asarray(sum(level / k * np.sin(2.0 * np.pi * k * hz * time) for k in range(1, partials + 1)))


class TestStroke(unittest.TestCase):
    def test_high_partials_that_come_back_at_once_are_a_stroke(self) -> None:
        sound = tone(0.40, partials=2)
        begins = int(0.32 * RATE)
        bright = sound.copy()
        bright[begins:] += tone(0.40 - 0.32, hz=2000.0, partials=2)
        self.assertGreater(brightened_db(Sound(bright, RATE)), 6.5)
        self.assertLess(abs(brightened_db(Sound(sound, RATE))), 1.0)

    def test_what_comes_back_for_a_moment_is_a_knock(self) -> None:
        sound = tone(0.40, partials=2)
        at = int(0.31 * RATE)
        sound[at : at + int(0.01 * RATE)] += tone(0.01, hz=2000.0, partials=2)
        self.assertLess(brightened_db(Sound(sound, RATE)), 2.0)

    def test_it_takes_a_little_over_a_quarter_second(self) -> None:
        for seconds, is_enough in ((0.28, True), (0.25, False)):
            self.assertEqual(math.isfinite(brightened_db(Sound(tone(seconds), RATE))), is_enough)


class TestKnock(unittest.TestCase):
    def test_what_is_much_louder_for_a_moment_is_left_out_and_nothing_else(self) -> None:
        sound = np.ones(RATE) * 0.01
        sound[int(0.50 * RATE) : int(0.52 * RATE)] = 1.0
        left = without_knocks(sound, RATE)
        assert left is not None
        gone, whole = np.flatnonzero(left == 0.0) / RATE, np.flatnonzero(left == sound) / RATE
        self.assertTrue(gone.min() <= 0.50 and gone.max() >= 0.519)
        before, after = whole[whole < 0.5].max(), whole[whole > 0.52].min()
        self.assertAlmostEqual(0.51 - before, after - 0.51, delta=0.005)
        self.assertLess(after - before, 0.12)

    def test_without_one_or_with_too_many_nothing_is_left_out(self) -> None:
        self.assertIsNone(without_knocks(np.ones(RATE) * 0.01, RATE))
        self.assertIsNone(without_knocks(np.ones(RATE // 10), RATE), "too short to say what is around it")


class TestWhosePower(unittest.TestCase):
    def shares_with(self, line_hz: float, level: float) -> tuple[float, float]:
        sound = Sound(tone(2.0) + tone(2.0, hz=line_hz, partials=1, level=level), RATE)
        demodulated = demodulate(sound, HZ)
        found = shares(sound, HZ, demodulated, np.ones(len(demodulated.seconds), dtype=bool))
        return found.explained, found.other_line

    def test_a_line_between_the_partials_is_anothers_and_one_beside_them_is_not(self) -> None:
        for line_hz, is_anothers in ((HZ * 2.5, True), (HZ + 9.0, True), (HZ + 4.0, False), (HZ * 2, False)):
            explained, other = self.shares_with(line_hz, 0.04)
            with self.subTest(line_hz=line_hz):
                self.assertEqual(other > 0.05, is_anothers)
                self.assertEqual(explained < 0.95, is_anothers)

    def test_alone_all_of_it_is_the_strings(self) -> None:
        explained, other = self.shares_with(HZ, 0.0)
        self.assertGreater(explained, 0.99)
        self.assertLess(other, 0.01)

    def test_of_a_short_sound_too_though_its_lines_are_wide(self) -> None:
        sound = Sound(tone(0.25), RATE)
        demodulated = demodulate(sound, HZ)
        found = shares(sound, HZ, demodulated, np.ones(len(demodulated.seconds), dtype=bool))
        self.assertGreater(found.explained, 0.998)


class TestWindows(unittest.TestCase):
    def test_as_many_as_there_is_room_for(self) -> None:
        samples = np.arange(10.0)
        np.testing.assert_array_equal(windows(samples, 4, every=3, count=2), [[0, 1, 2, 3], [3, 4, 5, 6]])
        np.testing.assert_array_equal(windows(samples[::2], 2, every=2, count=2), [[0, 2], [4, 6]])
        self.assertEqual([windows(samples, n, every=3, count=9).shape[0] for n in (4, 10, 11)], [3, 1, 0])


if __name__ == "__main__":
    unittest.main()
