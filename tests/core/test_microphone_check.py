"""What a microphone is said to manage: by how much strings stand out of the room that was recorded with them."""

import unittest

import numpy as np

from pondus.core.errors import BadInput
from pondus.core.hearing.microphone_check import MicrophoneCheck, check_microphone
from pondus.core.hearing.sound import Sound
from pondus.core.instruments import INSTRUMENTS
from pondus.core.simulated.sound import Samples, Tone, plucked

RATE = 48_000


class TestMicrophoneCheck(unittest.TestCase):
    def setUp(self) -> None:
        self.rng = np.random.default_rng(7)

    def checked(self, room: float, strings: float = 1.0, *, second: bool = True) -> MicrophoneCheck:
        """``room``: its noise; ``strings``: how loud they are played."""
        sound = self.rng.normal(0.0, room, 10 * RATE)
        for at, hz in ((4.2, 440.0), (7.5, 293.7)):
            if second or hz > 400.0:
                pluck = strings * plucked(Tone(hz, 1.5, RATE), self.rng)
                sound[int(at * RATE) : int(at * RATE) + len(pluck)] += pluck
        return self.judged(sound)

    def judged(self, sound: Samples) -> MicrophoneCheck:
        return check_microphone(Sound(sound, RATE), INSTRUMENTS["violin"], first_at=3.5, second_at=6.75)

    def test_the_more_they_stand_out_the_better(self) -> None:
        self.assertEqual(self.checked(1e-3).verdict, "good")
        self.assertEqual(self.checked(0.012).verdict, "close")
        self.assertEqual(self.checked(0.05).verdict, "poor")

    def test_it_says_which_strings_it_heard(self) -> None:
        said = " ".join(self.checked(1e-3).said)
        self.assertIn("the A string", said)
        self.assertIn("the D string", said)

    def test_one_that_wasnt_played_is_told(self) -> None:
        check = self.checked(1e-3, second=False)
        self.assertEqual(check.verdict, "poor")
        self.assertIn("Nothing was read of the second string.", check.said[-1])

    def test_nothing_and_too_much(self) -> None:
        self.assertEqual(self.judged(np.zeros(10 * RATE)).verdict, "silent")
        loud = self.judged(np.clip(8.0 * np.sin(np.arange(10 * RATE) / 20.0), -1.0, 1.0))
        self.assertTrue(any("too loud" in each for each in loud.said))

    def test_a_recording_without_room_for_all_three_is_refused(self) -> None:
        with self.assertRaisesRegex(BadInput, "leave less"):
            check_microphone(Sound(np.zeros(5 * RATE), RATE), INSTRUMENTS["violin"], first_at=3.5, second_at=4.0)
