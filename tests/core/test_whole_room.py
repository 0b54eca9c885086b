"""A room that plays its A: its spread and middle against the truth; what can't be told is refused with its reason."""

import unittest
from collections.abc import Sequence

import numpy as np

from pondus.core.hearing.sound import Sound, sound_from
from pondus.core.hearing.whole_room import RoomHeard, hear_room
from pondus.core.simulated.sound import Samples, Tone, bowed, mixed, white_noise

RATE = 22_050


def room(cents: Sequence[float], *, hz: float = 440.0, seconds: float = 4.0, seed: int = 3) -> Samples:
    """Players so many cents from ``hz``, a third of them an octave lower, in noise."""
    rng = np.random.default_rng(seed)
    parts = [
        bowed(Tone((hz if place % 3 else hz / 2) * 2.0 ** (off / 1200.0), seconds, RATE), rng)
        * 10.0 ** (rng.uniform(-9.0, 0.0) / 20.0)
        for place, off in enumerate(cents)
    ]
    sound = np.sum(parts, axis=0)
    return mixed(sound / np.abs(sound).max() * 0.5, white_noise(len(sound), rng), below_db=25.0)


def heard_of(samples: Samples) -> Sound:
    return sound_from(samples.astype(np.float32), RATE)


class TestWholeRoom(unittest.TestCase):
    def test_spread_and_middle(self) -> None:
        for spread, middle in ((2.0, 0.0), (8.0, -5.0), (20.0, 4.0)):
            offs = middle + spread * np.linspace(-1.6, 1.6, 9)
            found = hear_room(heard_of(room(offs)), a4=440.0)
            assert isinstance(found, RoomHeard)
            self.assertAlmostEqual(found.spread_cents, float(np.std(offs)), delta=max(3.0, 0.3 * spread))
            self.assertAlmostEqual(found.off_cents, middle, delta=max(2.0, 0.4 * spread))
            self.assertEqual(found.far_cents, ())

    def test_whoever_stands_apart_is_said_and_left_out(self) -> None:
        found = hear_room(heard_of(room([-3.0, -1.0, 0.0, 1.0, 2.0, 3.0, -45.0])), a4=440.0)
        assert isinstance(found, RoomHeard)
        self.assertLess(found.spread_cents, 6.0)
        self.assertEqual(len(found.far_cents), 1)
        self.assertAlmostEqual(found.far_cents[0], -45.0, delta=4.0)

    def test_another_a_is_the_rooms_own(self) -> None:
        found = hear_room(heard_of(room([-2.0, 0.0, 2.0], hz=443.0)), a4=443.0)
        assert isinstance(found, RoomHeard)
        self.assertAlmostEqual(found.off_cents, 0.0, delta=2.0)

    def test_what_cant_be_told_is_refused(self) -> None:
        rng = np.random.default_rng(1)
        self.assertEqual(hear_room(heard_of(room([0.0], seconds=2.0)), a4=440.0), "too-short")
        noise = white_noise(4 * RATE, rng)
        self.assertIn(hear_room(heard_of(noise), a4=440.0), ("too-soft", "no-common-a"))
        self.assertIn(hear_room(heard_of(np.zeros(4 * RATE)), a4=440.0), ("too-soft", "no-common-a"))
        others = np.sum([room([0.0], hz=hz, seed=at) for at, hz in enumerate((293.7, 196.0, 659.3, 330.0))], axis=0)
        self.assertEqual(hear_room(heard_of(others / 4), a4=440.0), "no-common-a")


if __name__ == "__main__":
    unittest.main()
