"""Double stops: two synthesised strings of known pitch in, the fifth between them out; refusals with their reasons."""

import unittest
from dataclasses import replace
from itertools import pairwise
from unittest.mock import patch

import numpy as np

from pondus.core.errors import BadInput
from pondus.core.fifths.beats import fifth_between
from pondus.core.hearing import double_stop
from pondus.core.hearing.double_stop import DoubleStop, FifthRefusal, hear_any_fifth, hear_fifth
from pondus.core.hearing.hear import Refusal, hear, hear_tone
from pondus.core.hearing.live_fifth import FifthListener, FifthLook, FifthSettled
from pondus.core.hearing.partials import fit
from pondus.core.hearing.sound import Sound, sound_from
from pondus.core.instruments import INSTRUMENTS
from pondus.core.instruments.targets import PURE_FIFTH_CENTS, targets_hz
from pondus.core.pitch.notes import cents_between, shift_hz
from pondus.core.simulated.sound import Samples, Tone, bowed, hum, mixed, plucked, talk, white_noise

CLEAN_CENTS, ROOM_CENTS, BEATS_HZ = 0.25, 0.6, 0.06
RATE = 44_100


class DoubleStopTest(unittest.TestCase):
    def setUp(self) -> None:
        self.rng = np.random.default_rng(11)

    def one(self, hz: float, how: str, seconds: float = 1.5) -> Samples:
        weak = -30.0 if hz < 140.0 else 0.0
        if how == "plucked":
            return plucked(Tone(hz, seconds, RATE, stiffness=2e-4, weak_fundamental_db=weak), self.rng)
        changes = (0.6, 1.1) if how == "changing bow" else ()
        return bowed(Tone(hz, seconds, RATE, weak_fundamental_db=weak), self.rng, bow_changes_at=changes)

    def pair(
        self, kind: str, lower: str, upper: str, off: float, *, how: str = "bowed", apart_db: float = 0.0
    ) -> tuple[Samples, float, float]:
        low = shift_hz(targets_hz(INSTRUMENTS[kind])[lower], -7.0)
        high = shift_hz(low, PURE_FIFTH_CENTS + off)
        return mixed(self.one(low, how), self.one(high, how), below_db=apart_db), low, high

    def noisy(self, samples: Samples, below_db: float = 25.0) -> Sound:
        return sound_from(mixed(samples, white_noise(len(samples), self.rng), below_db=below_db), RATE)

    def assert_fifth(self, heard: DoubleStop | FifthRefusal, low: float, high: float, within: float) -> DoubleStop:
        self.assertIsInstance(heard, DoubleStop, heard)
        assert isinstance(heard, DoubleStop)
        true = fifth_between(low, high)
        self.assertLess(abs(heard.fifth.from_pure_cents - true.from_pure_cents), within)
        return heard


class TestAccuracy(DoubleStopTest):
    def test_every_pair_bowed_and_plucked_wide_and_narrow(self) -> None:
        for kind, instrument in INSTRUMENTS.items():
            for lower, upper in pairwise(instrument.string_names):
                for how, off in (("bowed", 22.0), ("plucked", -3.0), ("changing bow", 1.5), ("bowed", 0.0)):
                    with self.subTest(kind=kind, pair=lower + upper, how=how, off=off):
                        samples, low, high = self.pair(kind, lower, upper, off, how=how)
                        heard = hear_fifth(self.noisy(samples), instrument, strings=(lower, upper))
                        found = self.assert_fifth(heard, low, high, CLEAN_CENTS)
                        self.assertLess(abs(found.fifth.beats_hz - fifth_between(low, high).beats_hz), 3 * BEATS_HZ)
                        self.assertLess(found.plus_minus_cents, 0.5)

    def test_a_fifth_known_worse_than_pure_from_tempered_is_not_told(self) -> None:
        sound, _, _ = self.pair("violin", "D", "A", 0.0)
        for cents, told in ((1.2, DoubleStop), (1.6, FifthRefusal)):
            with patch.object(double_stop, "fit", lambda *of, by=cents, **more: replace(fit(*of, **more), error_cents=by)):
                heard = hear_fifth(self.noisy(sound), INSTRUMENTS["violin"], strings=("D", "A"))
            with self.subTest(cents=cents):
                self.assertIsInstance(heard, told)

    def test_the_longer_and_the_better_known_the_surer(self) -> None:
        sound, _, _ = self.pair("violin", "D", "A", 0.0)
        surely = []
        for cents in (0.0, 0.35):
            with patch.object(double_stop, "fit", lambda *of, by=cents, **more: replace(fit(*of, **more), error_cents=by)):
                heard = hear_fifth(self.noisy(sound), INSTRUMENTS["violin"], strings=("D", "A"))
            assert isinstance(heard, DoubleStop)
            surely.append(heard.confidence)
        self.assertAlmostEqual(surely[0], 1.0, delta=0.02)
        self.assertAlmostEqual(surely[1], 0.5, delta=0.02)
        short = hear_fifth(self.noisy(sound[: int(0.7 * RATE)]), INSTRUMENTS["violin"], strings=("D", "A"))
        assert isinstance(short, DoubleStop)
        self.assertTrue(0.3 < short.confidence < 0.9)

    def test_one_string_eight_decibels_louder(self) -> None:
        for apart in (-8.0, 8.0):
            samples, low, high = self.pair("cello", "C", "G", -9.0, apart_db=apart)
            heard = hear_fifth(self.noisy(samples), INSTRUMENTS["cello"], strings=("C", "G"))
            self.assert_fifth(heard, low, high, CLEAN_CENTS)

    def test_what_rumbles_an_octave_below_is_no_string(self) -> None:
        for kind, lower, upper in (("cello", "C", "G"), ("cello", "G", "D"), ("cello", "D", "A"), ("viola", "C", "G")):
            samples, low, high = self.pair(kind, lower, upper, -3.0)
            time = np.arange(len(samples)) / RATE
            rumble = np.sin(2.0 * np.pi * (0.5 * low + 0.4) * time) + np.sin(2.0 * np.pi * high / 3.0 * 1.01 * time)
            sound = self.noisy(mixed(samples, rumble, below_db=-6.0), below_db=30.0)
            heard = hear_fifth(sound, INSTRUMENTS[kind], strings=(lower, upper))
            with self.subTest(kind=kind, pair=lower + upper):
                self.assert_fifth(heard, low, high, ROOM_CENTS)

    def test_another_player_on_the_neighbours_pitch_makes_no_double_stop(self) -> None:
        for kind, instrument in INSTRUMENTS.items():
            for lower, upper in pairwise(instrument.string_names):
                for apart_db, louder in ((24.0, lower), (-24.0, upper)):
                    samples, _, _ = self.pair(kind, lower, upper, -3.0, apart_db=apart_db)
                    heard = hear_fifth(self.noisy(samples), instrument, strings=(lower, upper))
                    with self.subTest(kind=kind, pair=lower + upper, louder=louder):
                        self.assertEqual(heard, FifthRefusal("one-string", (louder,)))

    def test_among_talk_hum_and_another_player(self) -> None:
        rooms = {
            "talk": (talk, 15.0),
            "hum": (hum, 20.0),
            "player": (lambda n, rate, rng: bowed(Tone(347.0, n / rate + 0.1, rate), rng), 20.0),
        }
        for name, (room, below) in rooms.items():
            with self.subTest(room=name):
                samples, low, high = self.pair("violin", "D", "A", 6.0)
                around = mixed(samples, room(len(samples), RATE, self.rng), below_db=below)
                heard = hear_fifth(sound_from(around, RATE), INSTRUMENTS["violin"], strings=("D", "A"))
                self.assert_fifth(heard, low, high, ROOM_CENTS)

    def test_the_pair_is_found_when_nobody_names_it(self) -> None:
        for kind, instrument in INSTRUMENTS.items():
            for pair in pairwise(instrument.string_names):
                samples, low, high = self.pair(kind, *pair, off=4.0)
                found = hear_any_fifth(self.noisy(samples), instrument)
                self.assertNotIsInstance(found, FifthRefusal, (kind, pair, found))
                assert not isinstance(found, FifthRefusal)
                self.assertEqual(found[0], pair)
                self.assert_fifth(found[1], low, high, CLEAN_CENTS)


class TestRefusals(DoubleStopTest):
    def reason(self, sound: Sound, kind: str = "violin", strings: tuple[str, str] = ("D", "A")) -> str | None:
        heard = hear_fifth(sound, INSTRUMENTS[kind], strings=strings)
        return heard.reason if isinstance(heard, FifthRefusal) else None

    def test_another_pair_is_named(self) -> None:
        for kind, instrument in INSTRUMENTS.items():
            pairs = list(pairwise(instrument.string_names))
            for played in pairs:
                samples, _, _ = self.pair(kind, *played, off=self.rng.uniform(-30, 30))
                for asked in (each for each in pairs if each != played):
                    heard = hear_fifth(self.noisy(samples), instrument, strings=asked)
                    with self.subTest(kind=kind, played=played, asked=asked):
                        self.assertIsInstance(heard, FifthRefusal)
                        assert isinstance(heard, FifthRefusal)
                        self.assertEqual((heard.reason, heard.heard), ("other-strings", played))

    def test_one_string_alone(self) -> None:
        for name, hz in targets_hz(INSTRUMENTS["violin"]).items():
            with self.subTest(string=name):
                self.assertEqual(self.reason(self.noisy(self.one(hz, "bowed"))), "one-string")

    def test_one_string_after_the_other(self) -> None:
        quiet = np.zeros(4000)
        both = np.concatenate([self.one(293.0, "bowed", 0.9), quiet, self.one(440.0, "bowed", 0.9)])
        self.assertEqual(self.reason(self.noisy(both, 40.0)), "not-together")

    def test_strings_too_far_from_a_fifth(self) -> None:
        both = mixed(self.one(shift_hz(293.665, -70.0), "bowed"), self.one(shift_hz(440.0, 70.0), "bowed"), below_db=0.0)
        self.assertEqual(self.reason(self.noisy(both)), "too-far")

    def test_silence_noise_and_scraps(self) -> None:
        self.assertEqual(self.reason(sound_from(np.zeros(RATE), RATE)), "silent")
        self.assertEqual(self.reason(sound_from(np.zeros(0), RATE)), "silent")
        self.assertEqual(self.reason(sound_from(white_noise(RATE, self.rng), RATE)), "noisy")
        samples, _, _ = self.pair("violin", "D", "A", 2.0)
        self.assertEqual(self.reason(sound_from(samples[9000:15000], RATE)), "too-short")

    def test_strings_that_make_no_fifth(self) -> None:
        for strings in (("A", "D"), ("G", "A"), ("D", "D")):
            with self.assertRaisesRegex(BadInput, "make no fifth"):
                hear_fifth(sound_from(np.zeros(RATE), RATE), INSTRUMENTS["violin"], strings=strings)
        with self.assertRaisesRegex(BadInput, "no “C” string"):
            hear_fifth(sound_from(np.zeros(RATE), RATE), INSTRUMENTS["violin"], strings=("C", "G"))

    def test_a_double_stop_is_never_taken_for_a_low_string(self) -> None:
        """Two strings a fifth apart repeat at half the lower one's pitch; on a cello that lies near its C."""
        samples, _, _ = self.pair("cello", "D", "A", 0.0)
        heard = hear(sound_from(samples, RATE), INSTRUMENTS["cello"])
        if isinstance(heard, Refusal):
            self.assertIn(heard.reason, ("not-a-string", "noisy", "unsteady"))
        else:
            self.assertIn(heard.string, ("D", "A"))


class TestHarmonics(DoubleStopTest):
    def test_a_harmonic_is_heard_where_it_should_be(self) -> None:
        for hz in (130.8 * 2, 440.0 * 2, 659.26 * 3):
            tone = hear_tone(self.noisy(bowed(Tone(shift_hz(hz, -4.0), 1.2, RATE, partials=4), self.rng)), near_hz=hz)
            self.assertNotIsInstance(tone, Refusal)
            assert not isinstance(tone, Refusal)
            self.assertLess(abs(cents_between(tone.hz, hz) + 4.0), 0.3)

    def test_another_pitch_is_refused(self) -> None:
        tone = hear_tone(self.noisy(self.one(500.0, "bowed")), near_hz=440.0, within_cents=100.0)
        self.assertEqual(tone, Refusal("not-a-string"))


class TestLive(DoubleStopTest):
    def feed(self, listener: FifthListener, samples: Samples) -> list[FifthLook | FifthSettled]:
        return [said for start in range(0, len(samples), 1024) for said in listener.feed(samples[start : start + 1024])]

    def test_a_double_stop_settles_once_within_a_second(self) -> None:
        samples, low, high = self.pair("viola", "G", "D", -5.0)
        listener = FifthListener(INSTRUMENTS["viola"], rate_hz=RATE)
        said = self.feed(listener, np.concatenate([np.zeros(RATE // 2), samples]))
        settled = [each for each in said if isinstance(each, FifthSettled)]
        self.assertEqual([each.strings for each in settled], [("G", "D")])
        self.assert_fifth(settled[0].heard, low, high, ROOM_CENTS)
        looks_before = said.index(settled[0])
        self.assertLess(looks_before * 0.05, 0.5 + 1.0)
        self.assertEqual(said[0].hears if isinstance(said[0], FifthLook) else "", "quiet")

    def test_after_a_pause_the_same_fifth_settles_again(self) -> None:
        samples, _, _ = self.pair("violin", "A", "E", 3.0)
        listener = FifthListener(INSTRUMENTS["violin"], rate_hz=RATE, strings=("A", "E"))
        said = self.feed(listener, np.concatenate([samples, np.zeros(RATE // 2), samples]))
        self.assertEqual(sum(isinstance(each, FifthSettled) for each in said), 2)

    def test_one_string_says_why_there_is_no_fifth(self) -> None:
        listener = FifthListener(INSTRUMENTS["violin"], rate_hz=RATE, strings=("A", "E"))
        said = self.feed(listener, self.one(440.0, "bowed"))
        last = [each for each in said if isinstance(each, FifthLook)][-1]
        self.assertEqual((last.hears, last.reason), ("listening", "one-string"))
