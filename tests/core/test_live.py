"""Listening live: when a string is named, when a reading settles, and that one sounding is kept once."""

import unittest

import numpy as np

from pondus.core.hearing.live import Listener
from pondus.core.hearing.look import Look, Settled
from pondus.core.hearing.said import AMONG_OTHERS, said_of
from pondus.core.instruments import INSTRUMENTS
from pondus.core.instruments.targets import targets_hz
from pondus.core.pitch.notes import cents_between
from pondus.core.simulated.sound import Samples, Tone, bowed, glide, plucked, white_noise

RATE = 48_000
SETTLED_CENTS = 0.5
NAMED_WITHIN_SECONDS, SETTLED_WITHIN_SECONDS = 0.4, 0.9


def silence(seconds: float, rng: np.random.Generator) -> Samples:
    return rng.normal(0.0, 1e-4, int(seconds * RATE))


class LiveTest(unittest.TestCase):
    def setUp(self) -> None:
        self.rng = np.random.default_rng(11)

    def listen(self, listener: Listener, samples: Samples, block: int = 1024) -> list[tuple[float, Look | Settled]]:
        said = []
        for start in range(0, len(samples), block):
            part = samples[start : start + block]
            said += [((start + len(part)) / RATE, each) for each in listener.feed(part)]
        return said

    def settled(self, said: list[tuple[float, Look | Settled]]) -> list[Settled]:
        return [each for _, each in said if isinstance(each, Settled)]

    def pluck(self, hz: float, seconds: float = 1.5) -> Samples:
        weak = -25.0 if hz < 140 else 0.0
        return plucked(Tone(hz, seconds, RATE, stiffness=1e-4, weak_fundamental_db=weak), self.rng)


class TestSweep(LiveTest):
    def test_every_string_is_named_and_settles_in_time(self) -> None:
        for kind, instrument in INSTRUMENTS.items():
            listener = Listener(instrument, rate_hz=RATE)
            for name, target in targets_hz(instrument).items():
                hz = target * 2 ** (-20 / 1200)
                said = self.listen(listener, np.concatenate([self.pluck(hz), silence(0.4, self.rng)]))
                with self.subTest(kind=kind, string=name):
                    named = next(at for at, each in said if isinstance(each, Look) and each.string == name)
                    self.assertLess(named, NAMED_WITHIN_SECONDS)
                    [(at, reading)] = [(at, each.reading) for at, each in said if isinstance(each, Settled)]
                    self.assertLess(at, SETTLED_WITHIN_SECONDS)
                    self.assertEqual(reading.string, name)
                    self.assertLess(abs(cents_between(reading.hz, hz)), SETTLED_CENTS)

    def test_the_same_string_plucked_again_is_read_or_said_to_be_the_same(self) -> None:
        for place, hz in enumerate((195.0, 292.0, 437.5, 655.0) * 3):
            gap = (0.5, 0.8, 1.2)[place // 4]
            sound = silence(3.4, self.rng)
            for begins in (0.0, gap):
                at = int(begins * RATE)
                pluck = self.pluck(hz, 2.0)
                sound[at : at + len(pluck)] += pluck
            said = self.listen(Listener(INSTRUMENTS["violin"], rate_hz=RATE), sound)
            again = any(isinstance(each, Look) and each.is_again for _, each in said)
            with self.subTest(hz=hz, gap=gap):
                self.assertTrue(again or len(self.settled(said)) == 2)

    def test_a_bow_that_goes_on_is_never_said_to_be_played_again(self) -> None:
        for hz in (195.0, 437.5):
            sound = bowed(Tone(hz, 3.0, RATE), self.rng, bow_changes_at=(1.2, 2.1))
            said = self.listen(Listener(INSTRUMENTS["violin"], rate_hz=RATE), sound)
            self.assertFalse(any(isinstance(each, Look) and each.is_again for _, each in said))

    def test_a_string_turned_while_it_sounds_is_read_anew(self) -> None:
        """Bowing on, a screw is turned: the pitch glides for half a second and stands still somewhere else."""
        rise = np.concatenate([np.full(RATE * 2, -12.0), np.linspace(-12.0, 0.5, RATE // 2), np.full(RATE * 2, 0.5)])
        phase = np.cumsum(440.0 * 2.0 ** (rise / 1200.0)) / RATE
        sound = sum(0.2 / k * np.sin(2 * np.pi * k * phase) for k in range(1, 9)) + self.rng.normal(0, 1e-4, len(phase))
        settled = self.settled(self.listen(Listener(INSTRUMENTS["violin"], rate_hz=RATE), np.asarray(sound)))
        self.assertEqual([round(each.reading.string_cents) for each in settled], [-12, 0])

    def test_one_sounding_is_kept_once_through_bow_changes(self) -> None:
        listener = Listener(INSTRUMENTS["violin"], rate_hz=RATE)
        long = bowed(Tone(440.0, 5.0, RATE), self.rng, bow_changes_at=(1.2, 2.4, 3.6))
        self.assertEqual(len(self.settled(self.listen(listener, long))), 1)

    def test_the_same_string_again_after_silence_is_a_new_reading(self) -> None:
        listener = Listener(INSTRUMENTS["violin"], rate_hz=RATE)
        twice = np.concatenate([self.pluck(430.0), silence(0.5, self.rng), self.pluck(439.0)])
        heard = [each.reading.hz for each in self.settled(self.listen(listener, twice))]
        self.assertEqual(len(heard), 2)
        self.assertAlmostEqual(heard[1], 439.0, delta=0.2)

    def test_blocks_of_any_size_say_the_same(self) -> None:
        samples = self.pluck(196.0)
        by_block = []
        for block in (1, 333, 4096, len(samples)):
            part = samples[: RATE // 2] if block == 1 else samples
            said = self.listen(Listener(INSTRUMENTS["violin"], rate_hz=RATE), part, block)
            by_block.append([each.hears for _, each in said if isinstance(each, Look)][:9])
        self.assertEqual(by_block[1:], [by_block[1]] * 3)
        self.assertEqual(by_block[0], by_block[1])


class TestAsking(LiveTest):
    def asks(self, kind: str, hz: float) -> list[str | None]:
        listener = Listener(INSTRUMENTS[kind], rate_hz=RATE)
        return [each.ask for each in self.settled(self.listen(listener, self.pluck(hz)))]

    def test_a_plain_string_is_not_asked_about(self) -> None:
        self.assertEqual(self.asks("violin", 430.0), [None])

    def test_an_octave_and_an_in_between_are(self) -> None:
        self.assertEqual(self.asks("violin", 392.0), ["octave"])
        self.assertEqual(self.asks("violin", 358.0), ["between-strings"])
        self.assertEqual(self.asks("cello", 130.8), ["octave"])


class TestAmongOthers(LiveTest):
    """Others of a class tune beside it, further from the microphone; things are knocked against."""

    def at_db(self, sound: Samples, level_db: float) -> Samples:
        """So loud while it is loudest, over 50 ms."""
        looks = sound[: len(sound) // 2400 * 2400].reshape(-1, 2400)
        return sound * 10.0 ** (level_db / 20.0) / np.sqrt(np.square(looks).mean(axis=1).max())

    def heard(self, *parts: Samples) -> list[tuple[str, int, str | None]]:
        said = self.listen(Listener(INSTRUMENTS["violin"], rate_hz=RATE), np.concatenate(parts))
        return [(each.reading.string, round(each.reading.hz), each.ask) for each in self.settled(said)]

    def test_what_is_much_softer_than_its_own_strings_is_asked_about(self) -> None:
        pause = silence(0.7, self.rng)
        own, softer, another = (self.at_db(self.pluck(hz), db) for hz, db in ((440.0, -18.0), (294.0, -26.0), (651.0, -36.0)))
        expected = [("A", 440, None), ("E", 651, "softer"), ("D", 294, None)]
        self.assertEqual(self.heard(own, pause, another, pause, softer, pause), expected)
        # What comes first has nothing to be compared with.
        self.assertEqual(self.heard(another, pause, own, pause), [("E", 651, None), ("A", 440, None)])

    def test_its_looks_are_told_apart_while_it_sounds(self) -> None:
        """They must not move the figure that a turning hand is watching; a pluck that dies away is still one's own."""
        pause = silence(0.7, self.rng)
        own, another = self.at_db(self.pluck(440.0, 2.5), -18.0), self.at_db(self.pluck(651.0), -36.0)
        said = self.listen(Listener(INSTRUMENTS["violin"], rate_hz=RATE), np.concatenate([own, pause, another, pause]))
        looks = [each for _, each in said if isinstance(each, Look) and each.hz is not None]
        own_looks = [each for each in looks if each.string == "A"]
        self.assertLess(min(each.level_db for each in own_looks), -36.0)
        self.assertEqual({each.is_softer for each in own_looks}, {False})
        self.assertEqual({each.is_softer for each in looks if each.string == "E"}, {True})

    def test_a_bow_that_goes_on_beside_it_takes_no_pluck_away(self) -> None:
        """The neighbour's bow fills every pause and outlasts each pluck; it is asked about, and the plucks are read."""
        bow = self.at_db(bowed(Tone(207.0, 6.0, RATE), self.rng), -38.0)
        plucks = np.zeros(len(bow))
        for at, hz in ((0.6, 440.0), (2.4, 294.0), (4.2, 651.0)):
            pluck = self.at_db(plucked(Tone(hz, 1.2, RATE), self.rng, decay_seconds=0.35), -17.0)
            plucks[int(at * RATE) : int(at * RATE) + len(pluck)] += pluck
        heard = self.heard(bow + plucks, silence(0.5, self.rng))
        own = [each for each in heard if each[0] != "G"]
        self.assertEqual(own, [("A", 440, None), ("D", 294, None), ("E", 651, None)])
        self.assertEqual([ask for string, _, ask in heard[1:] if string == "G" and ask is None], [])

    def test_who_plays_among_others_nearly_as_loud_is_told_to_hold_it_closer(self) -> None:
        pause, others = silence(0.6, self.rng), np.zeros(9 * RATE)
        for place, hz in enumerate((196.0, 333.0, 147.0, 98.0, 415.0, 262.0)):
            at = int((0.1 + 1.4 * place) * RATE)
            bow = self.at_db(bowed(Tone(hz, 2.4, RATE), self.rng), -26.0)[: len(others) - at]
            others[at : at + len(bow)] += bow
        own = np.concatenate([pause, *(part for hz in (440.0, 294.0, 651.0, 196.0) for part in (self.pluck(hz), pause))])
        own = self.at_db(own[: len(others)], -24.0)
        for others_db, is_told in ((0.0, True), (-40.0, False)):
            beside = others * 10.0 ** (others_db / 20.0)
            said = self.listen(Listener(INSTRUMENTS["violin"], rate_hz=RATE), own + beside[: len(own)])
            told = {said_of(each) for _, each in said if isinstance(each, Look)}
            with self.subTest(others_db=others_db):
                self.assertEqual(AMONG_OTHERS in told, is_told)

    def test_a_knock_is_no_new_pluck(self) -> None:
        for hz, loud, at in ((80.0, 0.25, 1.0), (130.0, 0.25, 2.0), (220.0, 0.5, 2.0)):
            time = np.arange(RATE // 4) / RATE
            knock = np.sin(2.0 * np.pi * hz * time) * np.exp(-time / 0.06)
            knock += 0.5 * self.rng.normal(0.0, 1.0, len(time)) * np.exp(-time / 0.008)
            sound = self.at_db(self.pluck(293.0, 2.6), -17.0)
            sound[int(at * RATE) : int(at * RATE) + len(knock)] += loud * knock
            with self.subTest(hz=hz):
                self.assertEqual(self.heard(sound, silence(0.6, self.rng)), [("D", 293, None)])


class TestNothingKept(LiveTest):
    def test_silence_noise_slides_and_scraps(self) -> None:
        for name, samples in {
            "silence": silence(2.0, self.rng),
            "noise": white_noise(2 * RATE, self.rng),
            "slide": glide(Tone(300.0, 2.0, RATE), self.rng, by_cents=500.0),
            "scrap": np.concatenate([bowed(Tone(440.0, 0.15, RATE), self.rng), silence(1.0, self.rng)]),
        }.items():
            with self.subTest(sound=name):
                said = self.listen(Listener(INSTRUMENTS["violin"], rate_hz=RATE), samples)
                self.assertEqual(self.settled(said), [])

    def test_level_and_clipping_are_told(self) -> None:
        loud = np.clip(8.0 * bowed(Tone(440.0, 0.5, RATE), self.rng), -1.0, 1.0)
        looks = [each for _, each in self.listen(Listener(INSTRUMENTS["violin"], rate_hz=RATE), loud) if isinstance(each, Look)]
        self.assertTrue(any(each.clipping for each in looks))
        self.assertGreaterEqual(len(looks), 15 * 0.5)
        quiet = [each for _, each in self.listen(Listener(INSTRUMENTS["violin"], rate_hz=RATE), silence(0.5, self.rng))]
        self.assertTrue(all(isinstance(each, Look) and each.hears == "quiet" for each in quiet))
