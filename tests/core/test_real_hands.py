"""Strings as hands sound them: bows that sway, plucks that slide, fingers that shake, two strings at once."""

import unittest

import numpy as np

from pondus.core.hearing.hear import Reading, Refusal, hear
from pondus.core.hearing.live import Listener
from pondus.core.hearing.look import Look, Settled
from pondus.core.hearing.sound import sound_from
from pondus.core.instruments import INSTRUMENTS
from pondus.core.instruments.targets import targets_hz
from pondus.core.pitch.notes import cents_between
from pondus.core.simulated.sound import Samples, Tone, bowed, mixed, plucked, white_noise

RATE = 44_100
MIDDLE_CENTS, SLIDES_CENTS = 2.0, 2.0
SPREADS = 3.0
SETTLES_WITHIN_SECONDS = 1.5


class HandsTest(unittest.TestCase):
    def setUp(self) -> None:
        self.rng = np.random.default_rng(20261126)

    def tone(self, hz: float, seconds: float = 1.6) -> Tone:
        return Tone(hz, seconds, RATE, weak_fundamental_db=-25.0 if hz < 140.0 else 0.0)

    def quiet(self, seconds: float) -> Samples:
        return self.rng.normal(0.0, 1e-4, int(seconds * RATE))

    def heard(self, kind: str, samples: Samples) -> Reading | Refusal:
        return hear(sound_from(samples.astype(np.float32), RATE), INSTRUMENTS[kind])

    def live(self, kind: str, *parts: Samples) -> tuple[list[tuple[float, Settled]], list[Look]]:
        listener = Listener(INSTRUMENTS[kind], rate_hz=RATE)
        samples = np.concatenate([self.quiet(0.4), *parts, self.quiet(0.5)]).astype(np.float32)
        settled, looks = [], []
        for start in range(0, len(samples), 2205):
            for said in listener.feed(samples[start : start + 2205]):
                if isinstance(said, Settled):
                    settled.append((start / RATE - 0.4, said))
                else:
                    looks.append(said)
        return settled, looks

    def strings(self) -> list[tuple[str, str, float]]:
        return [
            (kind, name, hz * 2.0 ** (self.rng.uniform(-30, 30) / 1200.0))
            for kind, instrument in INSTRUMENTS.items()
            for name, hz in targets_hz(instrument).items()
        ]


class TestSwaying(HandsTest):
    def test_a_childs_bow_gives_its_middle_and_an_honest_spread(self) -> None:
        for kind, name, hz in self.strings():
            for sway in (4.0, 8.0, 11.0):
                heard = self.heard(kind, bowed(self.tone(hz, 2.0), self.rng, sway_cents=sway))
                with self.subTest(kind=kind, string=name, sway=sway):
                    assert isinstance(heard, Reading), heard
                    off = abs(cents_between(heard.hz, hz))
                    self.assertLess(off, max(MIDDLE_CENTS, 0.25 * sway))
                    self.assertLess(off, SPREADS * max(heard.spread_cents, 0.1))
                    self.assertEqual(heard.string, name)

    def test_the_surer_the_steadier(self) -> None:
        sure = []
        for sway in (0.0, 6.0, 11.0):
            heard = self.heard("violin", bowed(self.tone(440.0, 2.0), self.rng, sway_cents=sway))
            assert isinstance(heard, Reading)
            sure.append(heard.confidence)
        self.assertEqual(sure, sorted(sure, reverse=True))
        self.assertGreater(sure[0], 0.8)
        self.assertLess(sure[2], 0.5)

    def test_vibrato_is_told_and_never_sure(self) -> None:
        for kind, name, hz in self.strings():
            heard = self.heard(kind, bowed(self.tone(hz, 2.0), self.rng, vibrato_cents=30.0))
            with self.subTest(kind=kind, string=name):
                self.assertEqual(heard, Refusal("swaying"))


class TestTwoAtOnce(HandsTest):
    def test_two_notes_as_loud_as_each_other_are_not_one_string(self) -> None:
        for kind, low, ratio in (
            ("violin", 293.7, 5 / 4),
            ("violin", 220.0, 5 / 3),
            ("cello", 110.0, 5 / 3),
            ("cello", 97.0, 2 ** (4 / 12)),
            ("viola", 196.0, 2 ** (6 / 12)),
            ("viola", 140.0, 4 / 3),
        ):
            for place in range(3):
                pair = mixed(bowed(self.tone(low, 1.5), self.rng), bowed(self.tone(low * ratio, 1.6), self.rng), below_db=0.0)
                with self.subTest(kind=kind, low=low, ratio=ratio, place=place):
                    self.assertIsInstance(self.heard(kind, pair), Refusal)

    def test_another_player_further_off_is_not_in_the_way(self) -> None:
        for kind, name, hz in self.strings():
            other = bowed(self.tone(hz * 2.0 ** (5 / 12), 1.8), self.rng)
            heard = self.heard(kind, mixed(bowed(self.tone(hz, 1.6), self.rng), other, below_db=15.0))
            with self.subTest(kind=kind, string=name):
                assert isinstance(heard, Reading), heard
                self.assertLess(abs(cents_between(heard.hz, hz)), MIDDLE_CENTS)


class TestPulledByTheBody(HandsTest):
    def test_another_player_does_not_move_a_pluck_whose_partials_lie_off_their_string(self) -> None:
        for kind, name, hz in self.strings() * 3:
            tone = Tone(hz, 2.0, RATE, weak_fundamental_db=-25.0 if hz < 140.0 else 0.0, stiffness=1e-4)
            pluck = plucked(tone, self.rng, slide_cents=SLIDES_CENTS, pulled_cents=2.0)
            other = bowed(Tone(hz * 2.0 ** self.rng.uniform(-1.0, 1.0), 2.1, RATE), self.rng)
            alone, beside = self.heard(kind, pluck), self.heard(kind, mixed(pluck, other, below_db=15.0))
            with self.subTest(kind=kind, string=name):
                assert isinstance(alone, Reading), alone
                if isinstance(beside, Reading):
                    by_its_beginning = beside.seconds_steady < 0.5 * alone.seconds_steady  # as sharp as it begins
                    within = MIDDLE_CENTS + (SLIDES_CENTS if by_its_beginning else 0.0)
                    self.assertLess(abs(cents_between(beside.hz, alone.hz)), within)


class TestOctaves(HandsTest):
    def test_a_pluck_that_dies_into_the_rooms_noise_keeps_its_octave(self) -> None:
        for kind, name, hz in self.strings():
            sound = plucked(self.tone(hz, 1.8), self.rng, decay_seconds=0.35)
            heard = self.heard(kind, mixed(sound, white_noise(len(sound), self.rng), below_db=14.0))
            with self.subTest(kind=kind, string=name):
                if isinstance(heard, Reading):
                    self.assertLess(abs(cents_between(heard.hz, hz)), 50.0)


class TestOneSoundingOneReading(HandsTest):
    def test_a_pluck_that_slides_as_it_dies_is_kept_once(self) -> None:
        for kind, name, hz in self.strings():
            settled, _ = self.live(kind, plucked(self.tone(hz, 2.2), self.rng, slide_cents=4.0))
            with self.subTest(kind=kind, string=name):
                self.assertEqual([each.reading.string for _, each in settled], [name])

    def test_a_short_pluck_is_heard_once_it_is_over(self) -> None:
        for kind, name, hz in self.strings():
            if hz < 190.0:
                continue
            short = plucked(self.tone(hz, 0.48), self.rng, decay_seconds=0.5)
            short[-RATE // 50 :] *= np.linspace(1.0, 0.0, RATE // 50)
            settled, _ = self.live(kind, short)
            with self.subTest(kind=kind, string=name):
                self.assertEqual([each.reading.string for _, each in settled], [name])

    def test_a_pluck_that_beats_as_it_dies_is_kept_once(self) -> None:
        for kind, name, hz in self.strings():
            apart = min(20.0, 1800.0 * 1.3 / hz)
            beating = plucked(self.tone(hz, 2.5), self.rng, decay_seconds=1.5, beats_cents=apart)
            settled, _ = self.live(kind, beating)
            with self.subTest(kind=kind, string=name):
                self.assertEqual([each.reading.string for _, each in settled], [name])

    def test_a_finger_that_stops_the_string_and_plucks_it_again_gives_a_new_reading(self) -> None:
        stopping = np.linspace(1.0, 0.05, RATE // 50)
        for kind, name, hz in self.strings():
            first, again = (plucked(self.tone(hz, 1.2), self.rng, decay_seconds=1.5) for _ in range(2))
            first[-len(stopping) :] *= stopping
            settled, _ = self.live(kind, first, 0.7 * again)
            with self.subTest(kind=kind, string=name):
                self.assertEqual([each.reading.string for _, each in settled], [name, name])

    def test_what_rings_on_an_octave_up_is_no_new_reading(self) -> None:
        both = plucked(Tone(98.0, 3.0, RATE), self.rng, decay_seconds=0.35)
        both = both + 0.1 * plucked(Tone(196.0, 3.0, RATE, sharp_start_cents=0.0), self.rng, decay_seconds=6.0)
        settled, looks = self.live("cello", both)
        self.assertEqual([each.reading.string for _, each in settled], ["G"])
        self.assertTrue(any(look.hz and abs(cents_between(look.hz, 196.0)) < 20.0 for look in looks))

    def test_a_knock_while_it_sounds_is_no_new_reading(self) -> None:
        sound = bowed(self.tone(294.0, 2.5), self.rng)
        knock = self.rng.normal(0.0, 1.0, RATE // 50) * np.exp(-np.arange(RATE // 50) / (0.004 * RATE))
        sound[int(1.4 * RATE) :][: len(knock)] += 4.0 * float(np.abs(sound).max()) * knock
        settled, _ = self.live("violin", sound)
        self.assertEqual(len(settled), 1)

    def test_a_swaying_bow_settles_soon_and_once(self) -> None:
        for kind, name, hz in self.strings():
            settled, _ = self.live(kind, bowed(self.tone(hz, 3.0), self.rng, sway_cents=8.0))
            with self.subTest(kind=kind, string=name):
                self.assertEqual([each.reading.string for _, each in settled], [name])
                self.assertLess(settled[0][0], SETTLES_WITHIN_SECONDS)

    def test_three_strokes_are_three_readings_and_two_plucks_two(self) -> None:
        stroke = [bowed(self.tone(293.0, 0.9), self.rng, sway_cents=4.0) for _ in range(3)]
        gap = self.quiet(0.12)
        settled, _ = self.live("violin", stroke[0], gap, stroke[1], gap, stroke[2])
        self.assertEqual(len(settled), 3)
        first, second = (plucked(self.tone(196.0, 0.9), self.rng) for _ in range(2))
        settled, _ = self.live("violin", first, second)
        self.assertEqual(len(settled), 2)

    def test_a_shaking_finger_is_told_why_nothing_is_kept(self) -> None:
        settled, looks = self.live("violin", bowed(self.tone(440.0, 2.5), self.rng, vibrato_cents=36.0))
        self.assertEqual(settled, [])
        self.assertIn("swaying", [look.reason for look in looks])
        self.assertIsNone(looks[10].reason)

    def test_a_short_stroke_is_read_when_it_ends(self) -> None:
        settled, _ = self.live("viola", bowed(self.tone(220.0, 0.75), self.rng, sway_cents=6.0))
        self.assertEqual(len(settled), 1)

    def test_another_listener_goes_on_where_one_left_off(self) -> None:
        sound = bowed(self.tone(440.0, 3.0), self.rng).astype(np.float32)
        first = Listener(INSTRUMENTS["violin"], rate_hz=RATE)
        settled = [said for said in first.feed(sound[:RATE]) if isinstance(said, Settled)]
        self.assertEqual(len(settled), 1)
        second = Listener(INSTRUMENTS["violin"], rate_hz=RATE, told=first.told)
        self.assertEqual([said for said in second.feed(sound[RATE:]) if isinstance(said, Settled)], [])
        again = [self.quiet(0.3), plucked(self.tone(440.0, 1.0), self.rng)]
        anew = second.feed(np.concatenate(again).astype(np.float32))
        self.assertEqual(len([said for said in anew if isinstance(said, Settled)]), 1)

    def test_what_sways_far_is_asked_about_and_not_kept_by_itself(self) -> None:
        asks = set()
        for _ in range(8):
            settled, _ = self.live("cello", bowed(self.tone(146.0, 2.5), self.rng, sway_cents=13.0))
            asks |= {each.ask for _, each in settled if each.reading.spread_cents > 5.0}
        self.assertLessEqual(asks, {"unsure"})


if __name__ == "__main__":
    unittest.main()
