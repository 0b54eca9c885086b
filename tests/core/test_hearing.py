"""Hearing: synthesised sound of known pitch in, cents out; refusals with their reasons."""

import unittest
from unittest import mock

import numpy as np

from pondus.core.errors import BadInput, UnreadableSound
from pondus.core.hearing.beginning import loud_beginnings
from pondus.core.hearing.hear import Reading, Refusal, hear
from pondus.core.hearing.look import ask_about
from pondus.core.hearing.octave import sounding_multiple
from pondus.core.hearing.partials import demodulate, fit
from pondus.core.hearing.sound import at_working_rate, sound_from
from pondus.core.instruments import INSTRUMENTS
from pondus.core.instruments.targets import targets_hz
from pondus.core.pitch.notes import cents_between, shift_hz
from pondus.core.simulated.sound import Samples, Tone, bowed, glide, hum, mixed, plucked, talk, white_noise

BOWED_CENTS, PLUCKED_CENTS, ROOM_CENTS, KNOCKED_CENTS, SAME_OCTAVE_CENTS = 0.15, 0.4, 0.6, 1.5, 10.0
RATE = 44_100


def heard(samples: Samples, kind: str = "violin", *, rate: int = RATE, string: str | None = None) -> Reading | Refusal:
    return hear(sound_from(samples, rate), INSTRUMENTS[kind], string=string)


def fading(hz: float, levels_db: tuple[float, ...]) -> Samples:
    """A pluck with partials of these levels, the higher ones fading sooner."""
    time = np.arange(int(1.5 * RATE)) / RATE
    partials = [
        10.0 ** (db / 20.0) * np.sin(2.0 * np.pi * order * hz * time + order) * np.exp(-time * (0.5 + 0.1 * order))
        for order, db in enumerate(levels_db, 1)
    ]
    return np.asarray(sum(partials))


class HearingTest(unittest.TestCase):
    def setUp(self) -> None:
        self.rng = np.random.default_rng(7)

    def assert_heard(self, result: Reading | Refusal, hz: float, within_cents: float) -> Reading:
        self.assertIsInstance(result, Reading, result)
        assert isinstance(result, Reading)
        self.assertLess(abs(cents_between(result.hz, hz)), within_cents)
        return result

    def assert_refused(self, result: Reading | Refusal, *reasons: str) -> None:
        self.assertIsInstance(result, Refusal, result)
        assert isinstance(result, Refusal)
        self.assertIn(result.reason, reasons)


class TestWhichStringIsMeant(HearingTest):
    def strokes(self, first: float, second: float, *, seconds: float) -> Samples:
        """A stroke of a string, and then one of another, as loud."""
        return np.concatenate([bowed(Tone(hz, long), self.rng) for hz, long in ((first, 0.7), (second, seconds))])

    def test_its_name_decides_between_two_after_each_other(self) -> None:
        both = self.strokes(440.0, 660.0, seconds=1.2)
        self.assert_heard(heard(both), 660.0, BOWED_CENTS)
        self.assert_heard(heard(both, string="A"), 440.0, BOWED_CENTS)
        self.assert_heard(heard(both, string="E"), 660.0, BOWED_CENTS)

    def test_it_only_guides(self) -> None:
        self.assert_heard(heard(bowed(Tone(294.0), self.rng), string="A"), 294.0, BOWED_CENTS)
        self.assert_heard(heard(self.strokes(440.0, 660.0, seconds=6.0), string="A"), 660.0, BOWED_CENTS)


class TestAnotherPlayer(HearingTest):
    def test_one_whose_partial_happens_to_fit_is_no_octave_below(self) -> None:
        for hz, other in ((297.3, 545.2), (440.0, 806.9), (660.2, 1210.4)):  # three of theirs are five and a half of ours
            both = mixed(bowed(Tone(hz), self.rng), bowed(Tone(other), self.rng), below_db=15.0)
            self.assert_heard(heard(both), hz, ROOM_CENTS)

    def test_others_who_tune_an_octave_or_a_twelfth_below_are_not_the_string(self) -> None:
        dull = (0.0, -21.0, -24.0, -26.0, -42.0)
        for below_cents in (-1200.0, -1902.0, -2400.0):
            for kind, instrument in INSTRUMENTS.items():
                for name, hz in targets_hz(instrument).items():
                    theirs = bowed(Tone(shift_hz(hz, below_cents + self.rng.uniform(-6.0, 6.0)), 1.7), self.rng)
                    both = mixed(fading(hz, dull), theirs, below_db=15.0)
                    result = heard(both, kind)
                    with self.subTest(kind=kind, string=name, below=below_cents):
                        if not isinstance(result, Refusal):
                            self.assert_heard(result, hz, SAME_OCTAVE_CENTS)

    def test_a_pluck_is_heard_by_its_loud_beginning_where_anothers_bow_takes_its_place(self) -> None:
        for seed in (25, 28, 35):
            rng = np.random.default_rng(seed)
            hz = shift_hz(220.0, rng.uniform(-40.0, 40.0))
            own = plucked(Tone(hz, 2.0, RATE), rng)
            other = bowed(Tone(shift_hz(293.66, rng.uniform(-600.0, 600.0)), 2.3, RATE), rng)
            sound = sound_from(mixed(own, other, below_db=12.0), RATE)
            with self.subTest(seed), mock.patch("pondus.core.hearing.hear.TAKEN_PLACE_OF", ()):
                self.assertIsInstance(hear(sound, INSTRUMENTS["cello"]), Refusal, "the whole is another's too")
            with self.subTest(seed):
                heard = hear(sound, INSTRUMENTS["cello"])
                assert isinstance(heard, Reading)
                self.assertLess(abs(cents_between(heard.hz, hz)), 1.0)
                self.assertLess(heard.confidence, 0.9)
            with self.subTest(seed, fades=False):
                self.assertEqual(list(loud_beginnings(sound_from(other, RATE))), [])

    def test_a_string_that_really_is_an_octave_down_is_heard_there(self) -> None:
        for kind, name in (("violin", "A"), ("viola", "D"), ("cello", "A")):
            hz = targets_hz(INSTRUMENTS[kind])[name] / 2.0
            for sound in (bowed(Tone(hz), self.rng), plucked(Tone(hz), self.rng)):
                with self.subTest(kind=kind, string=name):
                    self.assert_heard(heard(sound, kind), hz, PLUCKED_CENTS)


class TestWeakOddPartials(HearingTest):
    """Plucked where the odd partials hardly swing, beside another player: it seems to sound an octave up."""

    def test_where_a_string_is_due_its_own_octave_is_heard(self) -> None:
        levels = (-18.0, 0.0, -20.0, -8.0, -40.0, -30.0, -49.0, -50.0)
        for kind, name in (("viola", "C"), ("cello", "D"), ("cello", "G")):
            hz = targets_hz(INSTRUMENTS[kind])[name] * 2.0 ** (-16.0 / 1200.0)
            other = bowed(Tone(2.9 * hz, 1.6), self.rng)
            with self.subTest(kind=kind, string=name):
                self.assert_heard(heard(mixed(fading(hz, levels), other, below_db=15.0), kind), hz, SAME_OCTAVE_CENTS)

    def test_the_highest_strings_own_is_heard_though_nothing_above_is_sought(self) -> None:
        hz = shift_hz(659.26, -6.0)
        levels = (-16.0, 0.0, -16.0, -1.0, -16.0, -15.0, -19.0)
        self.assert_heard(heard(fading(hz, levels)), hz, PLUCKED_CENTS)

    def test_a_harmonic_is_never_surely_the_open_string(self) -> None:
        levels = (-62.0, -8.0, -43.0, 0.0, -50.0, -28.0, -56.0, -17.0)
        for kind, hz in (("viola", 440.0), ("cello", 220.0), ("violin", 659.26)):
            for off in (-20.0, 0.0, 20.0):
                of = heard(fading(shift_hz(hz, off), levels), kind)
                with self.subTest(kind=kind, off=off):
                    self.assertFalse(isinstance(of, Reading) and of.confidence > 0.3, of)

    def test_what_fades_together_is_one_slack_string_and_no_other_an_octave_up(self) -> None:
        hz = 220.0 * shift_hz(1.0, 30.0)
        slack = fading(hz, (-18.0, 0.0, -20.0, -8.0, -40.0, -30.0, -49.0, -50.0))
        theirs = bowed(Tone(hz, 1.5), self.rng)
        beside = mixed(fading(2.0 * hz, (0.0, -21.0, -24.0, -26.0, -42.0)), theirs, below_db=15.0)
        for sound, sounds in ((slack, 1.0), (beside, 2.0)):
            followed = demodulate(at_working_rate(sound_from(sound, RATE)), hz / 2.0, most=12)
            all_of_it = np.ones(len(followed.seconds), dtype=bool)
            fitted = fit(followed, all_of_it, longest_lag=6)
            assert fitted is not None
            multiple = sounding_multiple(fitted, followed, all_of_it, repeats=1.0, highest_hz=5.0 * hz, likely_hz=[2.0 * hz])
            self.assertEqual(multiple / 2.0, sounds)


class TestTwoNotes(HearingTest):
    def test_own_partials_however_faint_make_it_one_string(self) -> None:
        hz = 99.0
        faint = fading(hz, (-37.0, 0.0, -9.0, -19.0, -37.0, -30.0, -47.0, -29.0, -32.0, -38.0, -54.0, -40.0, -37.0))
        both = mixed(fading(2.0 * hz, (0.0, -10.0, -15.0)), fading(3.0 * hz, (0.0, -10.0, -15.0)), below_db=0.0)
        room = white_noise(len(faint), self.rng)
        self.assert_heard(heard(mixed(faint, room, below_db=55.0), "cello"), hz, BOWED_CENTS)
        self.assert_refused(heard(mixed(both, room, below_db=55.0), "cello"), "not-a-string")

    def test_a_loud_line_close_to_a_partial_is_another_string(self) -> None:
        hz = targets_hz(INSTRUMENTS["cello"])["C"]
        alone = fading(hz, (-3.0, 0.0, -20.0, -8.0, -10.0, -12.0, -14.0))
        beside = fading(3.0 * hz * shift_hz(1.0, 36.0), (0.0, -40.0))
        self.assert_heard(heard(mixed(alone, beside, below_db=25.0), "cello"), hz, 1.0)
        self.assert_refused(heard(mixed(alone, beside, below_db=0.0), "cello"), "not-a-string")

    def test_an_open_neighbour_touched_too_is_told_where_it_hides_in_the_partials_they_share(self) -> None:
        targets = targets_hz(INSTRUMENTS["cello"])
        for lower, upper, weak in (("C", "G", -10.0), ("G", "D", -13.0)):
            one = fading(targets[lower], (weak + 2.0, weak, 0.0, weak, weak - 2.0, -8.0, weak - 4.0))
            other = fading(targets[upper] * shift_hz(1.0, 5.0), (weak, 0.0, weak - 1.0, -10.0, weak - 3.0, -12.0))
            room = white_noise(len(one), self.rng)
            with self.subTest(strings=(lower, upper)):
                together = mixed(mixed(one, other, below_db=0.0), room, below_db=40.0)
                self.assert_refused(heard(together, "cello"), "not-a-string")
                aside = mixed(mixed(one, other, below_db=15.0), room, below_db=40.0)
                self.assert_heard(heard(aside, "cello"), targets[lower], 2.0)


class TestSpread(HearingTest):
    def test_a_pluck_that_slides_is_told_to_be_less_certain(self) -> None:
        spreads = [
            self.assert_heard(heard(plucked(Tone(440.0, 1.5, sharp_start_cents=0.0), self.rng, slide_cents=by)), 440.0, 10.0)
            for by in (0.0, 4.0, 8.0)
        ]
        told = [each.spread_cents for each in spreads]
        self.assertEqual(told, sorted(told))
        self.assertGreater(told[2], 4.0 * told[0])

    def test_partials_that_disagree_widen_it(self) -> None:
        def of_partials(pulled_cents: float) -> Reading:
            time = np.arange(int(1.2 * RATE)) / RATE
            hz = [220.0 * shift_hz(1.0, pulled_cents), *(220.0 * order for order in range(2, 12))]
            sound = sum(np.sin(2.0 * np.pi * each * time) * 0.7**place for place, each in enumerate(hz))
            return self.assert_heard(heard(0.05 * np.asarray(sound), "cello"), 220.0, 6.0)

        self.assertLess(of_partials(0.0).spread_cents, 0.1)
        pulled = of_partials(5.0)
        self.assertLess(abs(cents_between(pulled.hz, 220.0 * shift_hz(1.0, 5.0))), 3.0 * pulled.spread_cents)

    def test_three_spreads_hold_what_the_first_partial_alone_would_say(self) -> None:
        time = np.arange(int(1.5 * RATE)) / RATE
        for pulled_cents in (-9.0, 4.0, 9.0):
            first = 0.03 * np.sin(2.0 * np.pi * 98.0 * shift_hz(1.0, pulled_cents) * time)
            rest = sum(0.8**order * np.sin(2.0 * np.pi * 98.0 * order * time + order) for order in range(2, 10))
            reading = self.assert_heard(heard(0.05 * (first + np.asarray(rest)), "cello"), 98.0, 3.0)
            with self.subTest(pulled=pulled_cents):
                off = cents_between(98.0 * shift_hz(1.0, pulled_cents), reading.hz)
                self.assertGreater(3.0 * reading.spread_cents, abs(off))
                self.assertGreater(reading.confidence, 0.8)


class TestEveryString(HearingTest):
    def test_bowed_and_plucked_on_every_string(self) -> None:
        for kind, instrument in INSTRUMENTS.items():
            for name, target in targets_hz(instrument).items():
                hz = shift_hz(target, float(self.rng.uniform(-90, 90)))
                weak = -30.0 if target < 140 else 0.0
                tone = Tone(hz, 1.2, RATE, weak_fundamental_db=weak)
                with self.subTest(kind=kind, string=name, how="bowed"):
                    result = self.assert_heard(heard(bowed(tone, self.rng), kind), hz, BOWED_CENTS)
                    self.assertEqual(result.string, name)
                    self.assertAlmostEqual(result.string_cents, cents_between(hz, target), delta=BOWED_CENTS)
                tone = Tone(hz, 1.2, RATE, weak_fundamental_db=weak, stiffness=2e-4)
                with self.subTest(kind=kind, string=name, how="plucked"):
                    self.assert_heard(heard(plucked(tone, self.rng), kind), hz, PLUCKED_CENTS)

    def test_rates_of_recordings(self) -> None:
        for rate in (8000, 16_000, 22_050, 48_000, 96_000, 192_000):
            with self.subTest(rate=rate):
                samples = bowed(Tone(293.0, 1.0, rate), self.rng)
                self.assert_heard(heard(samples, rate=rate), 293.0, BOWED_CENTS)

    def test_what_lies_above_is_not_folded_onto_it(self) -> None:
        for rate in (44_100, 48_000, 96_000):
            time = np.arange(rate) / rate
            for hz in (rate / 3.0 + 441.0, 14_300.0, 18_700.0):
                slower = at_working_rate(sound_from(np.sin(2.0 * np.pi * hz * time), rate))
                inside = np.abs(np.fft.rfft(slower.samples * np.hanning(len(slower.samples))))
                inside = inside[: int(5000.0 / slower.rate_hz * len(slower.samples))]
                with self.subTest(rate=rate, hz=hz):
                    self.assertLess(float(inside.max()), 0.002 * len(slower.samples) / 4.0)

    def test_a_scrap_is_as_long_as_it_was(self) -> None:
        for length in (1, 30, 441):
            slower = at_working_rate(sound_from(np.full(length, 0.5), RATE))
            self.assertEqual(len(slower.samples), -(-length // 3))
        self.assert_refused(heard(0.5 * self.rng.normal(0.0, 1.0, 30)), "too-short")

    def test_stereo_and_clipping(self) -> None:
        samples = bowed(Tone(195.0, 1.0, RATE), self.rng)
        self.assert_heard(heard(np.stack([samples, 0.4 * samples], axis=1)), 195.0, BOWED_CENTS)
        self.assert_heard(heard(np.clip(6.0 * samples, -1, 1)), 195.0, BOWED_CENTS)

    def test_two_channels_that_cancel(self) -> None:
        """A plug that fits one channel the wrong way round; two microphones half a period apart; one with nothing in it."""
        samples = bowed(Tone(441.0, 1.5, RATE), self.rng)
        for name, other in {
            "the wrong way round": -samples,
            "a millisecond later": np.roll(samples, 50),
            "empty but for its mean": np.full(len(samples), 0.6),
        }.items():
            for channels in ([samples, other], [other, samples]):
                with self.subTest(name):
                    self.assert_heard(heard(np.stack(channels, axis=1)), 441.0, BOWED_CENTS)

    def test_named_string_is_kept_and_measured_against(self) -> None:
        result = self.assert_heard(heard(bowed(Tone(660.0), self.rng), string="A"), 660.0, BOWED_CENTS)
        self.assertEqual(result.string, "A")
        self.assertAlmostEqual(result.string_cents, 701.96, delta=0.2)


class TestRoom(HearingTest):
    def test_bow_changes_hum_talk_and_another_player(self) -> None:
        for kind, hz in (("violin", 442.0), ("viola", 130.0), ("cello", 66.0)):
            tone = Tone(hz, 2.0, RATE, weak_fundamental_db=-25.0 if hz < 140 else 0.0)
            clean = bowed(tone, self.rng)
            n = len(clean)
            rooms = {
                "bow changes": bowed(tone, self.rng, bow_changes_at=(0.7, 1.3)),
                "hum": mixed(clean, hum(n, RATE, self.rng), below_db=18),
                "talk": mixed(clean, talk(n, RATE, self.rng), below_db=10),
                "noise": mixed(clean, white_noise(n, self.rng), below_db=12),
                "another": mixed(clean, bowed(Tone(hz * 1.26, 2.0, RATE), self.rng), below_db=15),
            }
            for room, samples in rooms.items():
                with self.subTest(kind=kind, room=room):
                    self.assert_heard(heard(samples, kind), hz, ROOM_CENTS)


class TestKnocks(HearingTest):
    """A stand, a chair, a bow put down, louder than the string for a twentieth of a second."""

    def with_knocks(self, samples: Samples) -> Samples:
        time = np.arange(RATE // 5) / RATE
        for at, hz in ((0.5, 70.0), (0.9, 160.0), (1.5, 115.0)):
            knock = np.sin(2.0 * np.pi * hz * time) * np.exp(-time / 0.05)
            knock += 0.6 * self.rng.normal(0.0, 1.0, len(time)) * np.exp(-time / 0.008)
            samples[int(at * RATE) : int(at * RATE) + len(time)] += knock
        return samples

    def test_a_string_is_heard_between_them(self) -> None:
        for kind, hz in (("violin", 441.0), ("viola", 131.5), ("cello", 98.4)):
            tone = Tone(hz, 2.2, RATE, sharp_start_cents=0.0)
            for sound in (bowed(tone, self.rng), plucked(tone, self.rng)):
                with self.subTest(kind=kind):
                    self.assert_heard(heard(self.with_knocks(sound), kind), hz, KNOCKED_CENTS)

    def test_two_strings_are_still_two(self) -> None:
        both = bowed(Tone(294.0, 2.2, RATE), self.rng) + bowed(Tone(440.0, 2.2, RATE), self.rng)
        self.assert_refused(heard(self.with_knocks(both), "violin"), "not-a-string")


class TestRefusals(HearingTest):
    def test_nothing_to_hear(self) -> None:
        self.assert_refused(heard(np.zeros(RATE)), "silent")
        self.assert_refused(heard(np.zeros(0)), "silent")
        self.assert_refused(heard(white_noise(RATE, self.rng)), "noisy")
        self.assert_refused(heard(talk(2 * RATE, RATE, self.rng)), "noisy", "unsteady", "too-short")

    def test_scraps_and_slides(self) -> None:
        self.assert_refused(heard(bowed(Tone(440.0, 0.1), self.rng)), "too-short")
        for by in (-300.0, 120.0, 500.0):
            self.assert_refused(heard(glide(Tone(440.0, 1.5), self.rng, by_cents=by)), "unsteady")

    def test_not_a_string(self) -> None:
        self.assert_refused(heard(bowed(Tone(1400.0, 1.0), self.rng)), "not-a-string", "noisy")
        self.assert_refused(heard(hum(2 * RATE, RATE, self.rng), "violin"), "not-a-string", "noisy", "unsteady")

    def test_what_is_not_sound(self) -> None:
        with self.assertRaises(UnreadableSound):
            sound_from(np.array([0.0, np.nan]), RATE)
        for rate in (0, 4000, 500_000):
            with self.assertRaises(BadInput):
                sound_from(np.zeros(10), rate)
        with self.assertRaises(BadInput):
            heard(np.zeros(100), "viola", string="E")


class TestSmallMicrophones(HearingTest):
    """What such a one lets through of a low string: its partials' levels in dB, hardly anything of the first."""

    SOUNDED = (
        ("violin", "G", -13.0, True, (-63, -44, 0, -41, -20, -42, -30, -46, -39, -63, -42, -59, -69, -51)),
        ("cello", "C", 34.0, True, (-75, -36, 0, -26, -30, -14, -33, -26, -18, -37, -72, -49, -64, -50)),
        ("cello", "C", -373.0, True, (-54, -19, -16, 0, -28, -27, -36, -27, -30, -29, -28, -29, -50, -46)),
        ("viola", "C", -594.0, False, (-49, -10, -31, -49, -15, 0, -50, -26, -44, -34, -43, -22, -39, -36)),
    )

    def sounded(self, hz: float, levels_db: tuple[int, ...], is_plucked: bool) -> Samples:
        rng = np.random.default_rng(4)
        time = np.arange(int(1.6 * RATE)) / RATE
        out = rng.normal(0.0, 2e-4, len(time))
        for order, level in enumerate(levels_db, start=1):
            dying = np.exp(-(0.4 + 0.1 * order) * time) if is_plucked else np.minimum(1.0, time / 0.06)
            out += 0.2 * 10.0 ** (level / 20.0) * dying * np.sin(2.0 * np.pi * (order * hz * time + rng.uniform()))
        return out

    def test_a_low_string_is_heard_where_it_is_or_hardly_surely(self) -> None:
        right = 0
        for kind, string, off, is_plucked, levels in self.SOUNDED:
            hz = shift_hz(targets_hz(INSTRUMENTS[kind])[string], off)
            for named in (None, string):
                found = heard(self.sounded(hz, levels, is_plucked), kind, string=named)
                if isinstance(found, Reading) and found.confidence > 0.3:
                    self.assertLess(abs(cents_between(found.hz, hz)), 2.0, (kind, string, named))
                    right += 1
        self.assertGreaterEqual(right, 4)

    def test_where_nothing_tells_it_is_hardly_sure(self) -> None:
        violin = targets_hz(INSTRUMENTS["violin"])
        third = tuple(0 if order % 3 == 0 else -90 for order in range(1, 15))
        found = heard(self.sounded(shift_hz(violin["G"], -13.0), third, True))
        assert isinstance(found, Reading), found
        self.assertLessEqual(found.confidence, 0.3)
        self.assertEqual(ask_about(found, violin), "octave")
