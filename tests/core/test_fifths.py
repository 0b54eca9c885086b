"""Fifths, beats, taps, the chain and the ensemble: the field's own figures, to three places."""

import unittest
from itertools import pairwise

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from pondus.core.errors import BadInput
from pondus.core.fifths import chain_words
from pondus.core.fifths.beats import (
    beats_per_cent,
    fifth_between,
    fifth_from_pure,
    from_pure_of_beats,
    harmonics_of,
    seconds_for_one_beat,
    strings_of_harmonics,
    too_slow_to_count,
)
from pondus.core.fifths.chain import Chain, Link, chain, change_to_mend, moved, next_correction, pure_reads_off, towards_a
from pondus.core.fifths.chain_words import small_move
from pondus.core.fifths.ensemble import Member, clash_in_words, clashes, temperament_effect
from pondus.core.fifths.tapping import beats_from_taps, wide_by_small_move
from pondus.core.instruments import INSTRUMENTS
from pondus.core.instruments.targets import PURE_FIFTH_CENTS, TEMPERED_FIFTH_CENTS, targets_hz
from pondus.core.pitch.notes import shift_hz

TEMPERED_BEATS = {
    "violin": {"G": 0.664, "D": 0.994, "A": 1.490},
    "viola": {"C": 0.443, "G": 0.664, "D": 0.994},
    "cello": {"C": 0.221, "G": 0.332, "D": 0.497},
}
BEATS_PER_CENT = {
    "violin": {"G": 0.34, "D": 0.51, "A": 0.76},
    "viola": {"C": 0.23, "G": 0.34, "D": 0.51},
    "cello": {"C": 0.11, "G": 0.17, "D": 0.25},
}


class TestBeats(unittest.TestCase):
    def test_tempered_fifths_beat_as_the_field_has_it(self) -> None:
        for kind, beats in TEMPERED_BEATS.items():
            hz = targets_hz(INSTRUMENTS[kind])
            for lower, upper in pairwise(hz):
                with self.subTest(kind=kind, lower=lower):
                    fifth = fifth_between(hz[lower], hz[upper])
                    self.assertAlmostEqual(fifth.beats_hz, beats[lower], delta=0.0006)
                    self.assertAlmostEqual(fifth.from_pure_cents, -1.955, places=3)

    def test_one_cent_near_pure(self) -> None:
        for kind, beats in BEATS_PER_CENT.items():
            hz = targets_hz(INSTRUMENTS[kind])
            for lower, per_cent in beats.items():
                with self.subTest(kind=kind, lower=lower):
                    self.assertEqual(round(beats_per_cent(hz[lower]), 2), per_cent)
                    self.assertAlmostEqual(fifth_from_pure(hz[lower], 1.0).beats_hz, per_cent, delta=0.006)

    def test_pure_fifths_are_still(self) -> None:
        for instrument in INSTRUMENTS.values():
            hz = targets_hz(instrument, fifth_cents=PURE_FIFTH_CENTS)
            for lower, upper in pairwise(hz.values()):
                self.assertAlmostEqual(fifth_between(lower, upper).beats_hz, 0.0, places=9)

    def test_half_a_cent_on_the_lowest_takes_eighteen_seconds(self) -> None:
        self.assertEqual(round(seconds_for_one_beat(65.406, 0.5)), 18)
        self.assertTrue(too_slow_to_count(65.406, tolerance_cents=1.0))
        self.assertFalse(too_slow_to_count(65.406, tolerance_cents=5.0))

    def test_harmonics_are_one_pitch_when_pure_and_two_cents_apart_when_tempered(self) -> None:
        hz = targets_hz(INSTRUMENTS["cello"])
        self.assertAlmostEqual(harmonics_of(hz["C"], hz["G"]).twelfth_above_octave_cents, 1.955, places=3)
        self.assertAlmostEqual(harmonics_of(100.0, 150.0).twelfth_above_octave_cents, 0.0, places=9)
        fifth = fifth_between(*strings_of_harmonics(octave_hz=440.0, twelfth_hz=shift_hz(440.0, 1.955)))
        self.assertAlmostEqual(fifth.from_pure_cents, -1.955, places=6)

    @given(lower=st.floats(60, 700), off=st.floats(-40, 40))
    def test_beats_and_cents_agree_both_ways(self, lower: float, off: float) -> None:
        fifth = fifth_from_pure(lower, off)
        self.assertAlmostEqual(fifth_between(lower, shift_hz(lower, PURE_FIFTH_CENTS + off)).beats_hz, fifth.beats_hz, 6)
        if fifth.beats_hz < 8.0 and off > 0:
            self.assertAlmostEqual(from_pure_of_beats(lower, fifth.beats_hz), off, places=5)

    def test_beats_too_fast_to_count_are_refused(self) -> None:
        with self.assertRaisesRegex(BadInput, "23 beats a second can't be counted"):
            from_pure_of_beats(196.0, 23.0)


class TestTapping(unittest.TestCase):
    def taps(self, hz: float, count: int, *, seed: int = 1, jitter: float = 0.03) -> list[float]:
        rng = np.random.default_rng(seed)
        return list(3.0 + np.arange(count) / hz + rng.normal(0, jitter, count))

    def test_even_taps_give_their_rate(self) -> None:
        for hz in (0.3, 0.994, 2.5):
            tapped = beats_from_taps(self.taps(hz, 9, jitter=0.03 / hz))
            self.assertAlmostEqual(tapped.beats_hz, hz, delta=3 * tapped.plus_minus_hz + 1e-9)

    def test_missed_and_doubled_taps_do_not_spoil_it(self) -> None:
        taps = self.taps(1.0, 10)
        del taps[4]
        self.assertAlmostEqual(beats_from_taps(taps).beats_hz, 1.0, delta=0.03)
        self.assertAlmostEqual(beats_from_taps(sorted([*taps, taps[2] + 0.1])).beats_hz, 1.0, delta=0.03)

    def test_what_can_mean_no_rate_is_refused(self) -> None:
        for taps, says in (
            ([0.0, 1.0, 2.0], "too few"),
            ([0.0, 1.0, 1.0, 2.0], "one after the other"),
            ([0.0, 1.0, 2.6, 3.1, 5.2, 5.9, 7.7], "uneven"),
        ):
            with self.subTest(taps=taps), self.assertRaisesRegex(BadInput, says):
                beats_from_taps(taps)

    def test_the_small_move_tells_the_direction(self) -> None:
        lower = 146.8
        for off in (3.0, -3.0):
            for which, pitch in (("lower", "raise"), ("lower", "lower"), ("upper", "raise"), ("upper", "lower")):
                wider = 0.8 if (which == "upper") == (pitch == "raise") else -0.8
                before, after = (fifth_from_pure(lower, each).beats_hz for each in (off, off + wider))
                wide = wide_by_small_move(before_hz=before, after_hz=after, moved=which, pitch=pitch)  # type: ignore[arg-type]
                self.assertEqual(wide, off > 0, (off, which, pitch))

    def test_a_move_too_small_tells_nothing(self) -> None:
        with self.assertRaisesRegex(BadInput, "hardly changed"):
            wide_by_small_move(before_hz=1.0, after_hz=1.02, moved="lower", pitch="raise")


class TestChain(unittest.TestCase):
    def setUp(self) -> None:
        self.violin, self.cello = INSTRUMENTS["violin"], INSTRUMENTS["cello"]

    def known(self, kind: str, *, width: float = TEMPERED_FIFTH_CENTS, **off: float) -> Chain:
        targets = targets_hz(INSTRUMENTS[kind], fifth_cents=width)
        hz = {name: shift_hz(targets[name], cents) for name, cents in off.items()}
        return chain(INSTRUMENTS[kind], hz, fifth_cents=width, tolerance_cents=3.0)

    def link(self, found: Chain, lower: str, upper: str) -> Link:
        link = found.link(lower, upper)
        assert link is not None
        return link

    def test_errors_add_up_from_a(self) -> None:
        found = self.known("cello", C=-9.0, G=-6.0, D=-3.0, A=0.0)
        self.assertEqual([round(each.from_temperament_cents, 6) for each in found.links], [3.0, 3.0, 3.0])
        self.assertEqual({name: round(off, 6) for name, off in found.strings.items()}["C"], -9.0)

    def test_too_wide_raises_the_lower_and_lowers_the_e(self) -> None:
        found = self.known("violin", G=0.0, D=-6.0, A=0.0, E=7.0)
        self.assertGreater(change_to_mend("D", self.link(found, "D", "A")), 0)
        self.assertLess(change_to_mend("E", self.link(found, "A", "E")), 0)
        self.assertEqual(towards_a(self.violin, "A"), None)

    def test_the_reference_comes_first(self) -> None:
        mend = next_correction(self.violin, self.known("violin", G=-20.0, D=0.0, A=-8.0, E=0.0), tolerance_cents=3.0)
        assert mend is not None
        self.assertEqual((mend.string, round(mend.change_cents, 6), mend.right), ("A", 8.0, None))

    def test_the_one_move_that_mends_most(self) -> None:
        """A string between two wrong fifths mends both."""
        mend = next_correction(self.cello, self.known("cello", C=0.0, G=0.0, D=-8.0, A=0.0), tolerance_cents=3.0)
        assert mend is not None
        self.assertEqual((mend.string, mend.right, mend.other), ("D", ("D", "A"), ("G", "D")))
        self.assertAlmostEqual(mend.change_cents, 8.0)
        self.assertAlmostEqual(mend.other_after_cents or 0.0, 0.0)
        self.assertAlmostEqual(mend.total_after_cents, 0.0)

    def test_a_right_chain_is_left_alone(self) -> None:
        for width in (TEMPERED_FIFTH_CENTS, 701.0, PURE_FIFTH_CENTS):
            found = self.known("viola", width=width, C=1.0, G=0.5, D=0.0, A=-1.0)
            self.assertIsNone(next_correction(INSTRUMENTS["viola"], found, tolerance_cents=3.0))

    def test_a_fifth_heard_together_counts_more_than_two_readings(self) -> None:
        hz = targets_hz(self.violin)
        found = chain(self.violin, hz, heard_from_pure={("D", "A"): 5.0})
        self.assertEqual(self.link(found, "D", "A").verdict, "wide")
        self.assertEqual(self.link(found, "G", "D").verdict, "right")

    def test_tapped_beats_alone_are_enough_for_a_move(self) -> None:
        found = chain(self.cello, {}, heard_from_pure={("D", "A"): 6.0}, fifth_cents=PURE_FIFTH_CENTS)
        mend = next_correction(self.cello, found, tolerance_cents=3.0)
        assert mend is not None
        self.assertEqual((mend.string, round(mend.change_cents, 6)), ("D", 6.0))

    @given(st.lists(st.floats(-30, 30), min_size=4, max_size=4), st.sampled_from(["violin", "viola", "cello"]))
    def test_following_the_moves_always_ends_in_tune(self, off: list[float], kind: str) -> None:
        """Each move mends, none goes round in circles, and the end is right everywhere."""
        instrument = INSTRUMENTS[kind]
        found = self.known(kind, **dict(zip(instrument.string_names, off, strict=True)))
        for _ in range(12):
            mend = next_correction(instrument, found, tolerance_cents=3.0)
            if mend is None:
                break
            self.assertLess(mend.total_after_cents, mend.total_before_cents + 40.0 * (mend.string == "A"))
            strings = moved(found, mend.string, mend.change_cents).strings
            found = self.known(kind, **strings)
        self.assertIsNone(next_correction(instrument, found, tolerance_cents=3.0))
        self.assertEqual({each.verdict for each in found.links}, {"right"})

    def test_what_is_said(self) -> None:
        found = self.known("cello", C=0.0, G=0.0, D=-8.0, A=0.0)
        mend = next_correction(self.cello, found, tolerance_cents=3.0)
        assert mend is not None
        self.assertEqual(chain_words.mend(mend), "Raise the D by 8 cents")
        self.assertEqual(
            chain_words.mend_why(mend, found),
            "D–A is 8 cents too wide: the D is flat against the A, which is nearer the reference and stays."
            " That takes G–D, which shares it, from 8 cents narrow to right.",
        )

    def test_pure_strings_are_not_corrected_to_the_tuner(self) -> None:
        self.assertIn("−5.9", pure_reads_off(self.cello, "C", PURE_FIFTH_CENTS) or "")
        self.assertIn("Leave it", pure_reads_off(self.violin, "G", PURE_FIFTH_CENTS) or "")
        self.assertIsNone(pure_reads_off(self.violin, "A", PURE_FIFTH_CENTS))
        self.assertIsNone(pure_reads_off(self.violin, "G", TEMPERED_FIFTH_CENTS))


class TestEnsemble(unittest.TestCase):
    def test_what_the_schools_do_to_the_outer_strings(self) -> None:
        pure, tempered, between = (temperament_effect(width) for width in (PURE_FIFTH_CENTS, 700.0, 701.0))
        self.assertEqual((round(pure.lowest_c_cents, 3), round(pure.violin_e_cents, 3)), (-5.865, 1.955))
        self.assertEqual((tempered.lowest_c_cents, tempered.violin_e_cents), (0.0, 0.0))
        self.assertEqual((between.lowest_c_cents, between.violin_e_cents), (-3.0, 1.0))

    def test_a_pure_cello_among_tempered_players(self) -> None:
        viola, cello = INSTRUMENTS["viola"], INSTRUMENTS["cello"]
        table = clashes([Member("viola", viola), Member("cello", cello, fifth_cents=PURE_FIFTH_CENTS)])
        by_letter = {each.letter: each for each in table}
        self.assertEqual(round(by_letter["C"].apart_cents, 3), 5.865)
        self.assertEqual(round(by_letter["A"].apart_cents, 3), 0.0)
        self.assertNotIn("E", by_letter)
        self.assertIn("viola and cello have their C 5.9 cents apart", clash_in_words(table))

    def test_two_references_clash_on_every_string(self) -> None:
        violin = INSTRUMENTS["violin"]
        table = clashes([Member("first", violin), Member("second", violin, a4=442.0)])
        self.assertEqual({round(each.apart_cents, 1) for each in table}, {7.9})
        self.assertAlmostEqual(next(each for each in table if each.letter == "A").beats_hz, 2.0, places=1)

    def test_agreement_and_too_few(self) -> None:
        violin = INSTRUMENTS["violin"]
        self.assertIn("They agree", clash_in_words(clashes([Member("a", violin), Member("b", violin)])))
        self.assertIn("two or more", clash_in_words(clashes([Member("a", violin)])))
        with self.assertRaisesRegex(BadInput, "Two members"):
            clashes([Member("a", violin), Member("a", violin)])


class TestTryingAHair(unittest.TestCase):
    def test_the_reference_is_never_tried(self) -> None:
        self.assertIn("(E down, say)", small_move(("A", "E"), 1.5, 440.0))
        self.assertIn("(D up, say)", small_move(("D", "A"), 1.5, 293.7))
