"""What the fifths' screen says: the chain, each fifth, the move that mends most, what to listen to."""

import unittest
from dataclasses import replace

from pondus.core.instruments.targets import PURE_FIFTH_CENTS, TEMPERED_FIFTH_CENTS
from pondus.core.pitch.notes import cents_between
from pondus.core.views.fifths import FifthsView, LinkView, fifths_view
from tests.core.writing import TUNING, Writing, violin

WIDER_THAN_TEMPERED = PURE_FIFTH_CENTS - TEMPERED_FIFTH_CENTS


def seen(written: Writing, **strings: dict[str, object]) -> FifthsView:
    return fifths_view(violin(**strings), written.now(violin(**strings)))


def read(fifth_cents: float = TEMPERED_FIFTH_CENTS, **cents: float) -> Writing:
    written = Writing(replace(TUNING, fifth_cents=fifth_cents))
    for name, off in cents.items():
        written.read(name, off)
    return written


def links(view: FifthsView) -> dict[str, LinkView]:
    return {each.lower + each.upper: each for each in view.links}


class TestKnown(unittest.TestCase):
    def test_two_readings_make_a_fifth_and_one_makes_none(self) -> None:
        found = links(seen(read(D=-6.0, A=0.0)))
        self.assertAlmostEqual(found["DA"].from_temperament_cents or 0.0, 6.0, delta=1e-6)
        self.assertAlmostEqual(found["DA"].from_pure_cents or 0.0, 6.0 - WIDER_THAN_TEMPERED, delta=1e-6)
        self.assertEqual((found["DA"].verdict, found["DA"].way, found["DA"].said), ("wide", "two-readings", "6 cents wide"))
        self.assertEqual((found["GD"].verdict, found["GD"].way, found["GD"].said), (None, None, "not known yet"))
        self.assertEqual((found["GD"].beats_hz, found["GD"].beats_said), (None, ""))

    def test_a_fifth_heard_together_counts_and_says_how_it_was_heard(self) -> None:
        written = read(D=-6.0, A=0.0)
        written.check("D", "A", -6.0, way="harmonics", plus_minus_cents=0.3)
        link = links(seen(written))["DA"]
        self.assertAlmostEqual(link.from_pure_cents or 0.0, -6.0, delta=1e-6)
        self.assertEqual((link.way, link.plus_minus_cents, link.verdict), ("harmonics", 0.3, "narrow"))

    def test_a_check_holds_until_one_of_its_strings_is_turned(self) -> None:
        written = read(D=-6.0, A=0.0)
        written.check("D", "A", -4.0)
        written.turn("D", 0.1)
        view = seen(written)
        self.assertIsNone(links(view)["DA"].plus_minus_cents)
        self.assertEqual((view.said, view.to_play), ("The D was turned: bow D and A together again.", ["D", "A"]))
        self.assertEqual({each.name: each.pending for each in view.strings}["D"], True)
        self.assertIsNone(view.mend)

    def test_tapped_beats_alone_ask_for_the_small_move(self) -> None:
        written = read(A=0.0)
        written.check("D", "A", None, way="tapped", beats_hz=2.0)
        link = links(seen(written))["DA"]
        self.assertIsNone(link.verdict)
        self.assertIn("2.00 beats a second: 3.9 cents from pure", link.ask_small_move or "")
        self.assertIn("(D up, say)", link.ask_small_move or "")

    def test_each_string_tells_where_it_is_and_what_a_tuner_shows_of_it(self) -> None:
        tempered = {each.name: each for each in seen(read(G=-5.0)).strings}
        self.assertAlmostEqual(tempered["G"].cents_off or 0.0, -5.0, delta=1e-6)
        self.assertEqual([tempered[name].cents_off for name in "DAE"], [None] * 3)
        self.assertEqual((tempered["G"].note, tempered["G"].tuner_line), ("G3", None))
        pure = {each.name: each for each in seen(read(PURE_FIFTH_CENTS, G=0.0)).strings}
        self.assertIn("shows G at −3.9 when it is right", pure["G"].tuner_line or "")
        self.assertAlmostEqual(pure["G"].cents_off or 0.0, 2.0 * WIDER_THAN_TEMPERED, delta=1e-6)


class TestMend(unittest.TestCase):
    def test_the_lower_string_of_a_wide_fifth_is_raised(self) -> None:
        mend = seen(read(G=0.0, D=-8.0, A=0.0, E=0.0)).mend
        assert mend is not None and mend.step is not None
        self.assertEqual((mend.string, mend.said, mend.play), ("D", "Raise the D by 8 cents", ["D", "A"]))
        self.assertEqual((mend.step.do, mend.step.pitch), ("turn-fine-tuner", "raise"))
        self.assertAlmostEqual(mend.step.expect_cents or 0.0, 8.0, delta=0.01)
        self.assertIn("D–A is 8 cents too wide: the D is flat against the A", mend.why)
        self.assertIn("That takes G–D, which shares it, from 8 cents narrow to right.", mend.why)

    def test_who_turns_while_it_sounds_turns_until_the_fifth_is_right(self) -> None:
        for turning, until in (("while-sounding", True), ("step-by-step", False)):
            written = Writing(replace(TUNING, turning=turning))
            for name, off in {"G": 0.0, "D": -30.0, "A": 0.0, "E": 0.0}.items():
                written.read(name, off)
            mend = seen(written).mend
            assert mend is not None and mend.step is not None
            self.assertEqual("D and A bowed together, until the fifth is as it should be" in mend.step.say, until)
            self.assertEqual((mend.step.expect_cents or 0.0) > 25.0, until, "all of it in one, or half a turn")
            self.assertIsNone(mend.step.until, "no tuner is watched")
        written = Writing(replace(TUNING, turning="while-sounding"))
        for name, off in {"G": 0.0, "D": 0.0, "A": -9.0, "E": 0.0}.items():
            written.read(name, off)
        mend = seen(written).mend
        assert mend is not None and mend.step is not None
        self.assertIn("until it shows A4", mend.step.say, "the reference goes by the tuner")

    def test_the_upper_string_above_a_is_lowered(self) -> None:
        mend = seen(read(G=0.0, D=0.0, A=0.0, E=7.0)).mend
        assert mend is not None and mend.step is not None
        self.assertEqual((mend.string, mend.step.pitch, mend.play), ("E", "lower", ["A", "E"]))
        self.assertIn("the E is sharp against the A", mend.why)

    def test_the_reference_comes_first_and_says_so(self) -> None:
        view = seen(read(G=0.0, D=0.0, A=-9.0, E=0.0))
        assert view.mend is not None
        self.assertEqual((view.mend.string, view.mend.play, view.said), ("A", ["D", "A"], "Raise the A by 9 cents"))
        self.assertIn("A is the reference, and it is 9 cents flat: it comes first.", view.mend.why)

    def test_what_is_right_is_left(self) -> None:
        for fifth, said in (
            (TEMPERED_FIFTH_CENTS, "Every fifth is right for this school. Leave it."),
            (PURE_FIFTH_CENTS, "The chain is still: every fifth is pure, near enough. Leave it."),
        ):
            wider = fifth - TEMPERED_FIFTH_CENTS
            view = seen(read(fifth, G=-2.0 * wider, D=-wider, A=0.0, E=wider))
            self.assertEqual((view.mend, view.said, view.to_play), (None, said, []))
        for known in ({"A": 0.0}, {"D": 0.0, "A": 0.0, "E": 0.0}):
            self.assertIn("Bow two neighbours together", seen(read(**known)).said, "not all of the chain is known")

    def test_a_question_about_a_move_comes_before_the_next(self) -> None:
        written = read(G=0.0, D=-40.0, A=0.0, E=0.0)
        written.turn("D", 0.75)
        written.read("D", -40.0)
        mend = seen(written).mend
        assert mend is not None and mend.step is not None
        self.assertEqual((mend.string, mend.step.do, mend.change_cents, mend.later), ("D", "ask", 0.0, 0))

    def test_a_string_that_only_a_peg_turns_is_not_tried_by_a_hair(self) -> None:
        written = read(G=0.0, D=-2.9, A=0.9, E=0.0)
        self.assertEqual(seen(written).said, "Raise the D by 2.9 cents")
        self.assertIsNone(seen(written, D={"has_fine_tuner": False}).mend)

    def test_but_a_pull_lets_it_down_where_its_fifth_wants_that(self) -> None:
        """Both strings are as well as a peg can bring them, and the fifth between them isn't."""
        bare: dict[str, object] = {"has_fine_tuner": False}
        mend = seen(read(G=-4.5, D=4.0, A=0.0, E=0.0), G=bare, D=bare).mend
        assert mend is not None and mend.step is not None
        self.assertEqual((mend.string, mend.step.do, mend.step.pitch), ("D", "tug-down", "lower"))
        self.assertEqual(mend.said, "Lower the D by 4 cents")
        pulled = read(G=-4.5, D=4.0, A=0.0, E=0.0)
        pulled.pull("D")
        after = seen(pulled, G=bare, D=bare)
        self.assertEqual((after.said, after.to_play), ("The D was pulled: bow D and A together again.", ["D", "A"]))
        up = seen(read(G=-4.5, D=0.0, A=0.0, E=0.0), G=bare, D=bare).mend
        self.assertIsNone(up)
        no_pulls = Writing(replace(TUNING, habits=("peg-back",)))
        for name, off in {"G": -4.5, "D": 4.0, "A": 0.0, "E": 0.0}.items():
            no_pulls.read(name, off)
        mend = seen(no_pulls, G=bare, D=bare).mend
        self.assertTrue(mend is None or mend.step is not None, "no move is named that there is no way to make")


class TestHeard(unittest.TestCase):
    def test_the_string_nearer_the_reference_stays_in_what_is_listened_to(self) -> None:
        found = links(seen(read(D=-8.0, A=0.0, E=5.0)))
        for pair, stays in (("DA", "upper_hz"), ("AE", "lower_hz")):
            self.assertEqual({round(getattr(sound, stays), 6) for sound in found[pair].sounds}, {440.0}, pair)
        self.assertEqual([each.name for each in found["DA"].sounds], ["as it is", "tempered, as it should be", "pure"])
        widths = [cents_between(each.upper_hz, each.lower_hz) for each in found["DA"].sounds]
        for width, right in zip(widths, (708.0, TEMPERED_FIFTH_CENTS, PURE_FIFTH_CENTS), strict=True):
            self.assertAlmostEqual(width, right, delta=1e-6)
        self.assertEqual(len(found["GD"].sounds), 2)

    def test_a_width_between_is_heard_as_such(self) -> None:
        names = [each.name for each in links(seen(read(701.0, A=0.0)))["DA"].sounds]
        self.assertEqual(names, ["as it should be", "pure", "tempered"])
        pure = [each.name for each in links(seen(read(PURE_FIFTH_CENTS, A=0.0)))["DA"].sounds]
        self.assertEqual(pure, ["pure, as it should be", "tempered"])

    def test_pure_is_still_and_tempered_beats_once_a_second(self) -> None:
        sounds = {each.name: each for each in links(seen(read(A=0.0)))["DA"].sounds}
        self.assertAlmostEqual(sounds["pure"].beats_hz, 0.0, delta=1e-6)
        self.assertAlmostEqual(sounds["tempered, as it should be"].beats_hz, 0.994, delta=0.001)
        self.assertEqual(sounds["pure"].upper_partials[:2], [1.0, 0.5])

    def test_harmonics_say_how_and_how_far_apart_they_are(self) -> None:
        found = links(seen(read(D=-8.0, A=0.0)))
        harmonics = found["DA"].harmonics
        self.assertIn("Touch A lightly at half its length and D at a third, from the nut: both sound A5", harmonics.how)
        self.assertAlmostEqual(harmonics.octave_hz, 880.0, delta=1e-6)
        self.assertAlmostEqual(harmonics.should_be_cents, WIDER_THAN_TEMPERED, delta=1e-6)
        self.assertAlmostEqual(harmonics.twelfth_above_octave_cents or 0.0, WIDER_THAN_TEMPERED - 8.0, delta=1e-6)
        self.assertIsNone(found["GD"].harmonics.twelfth_above_octave_cents)

    def test_what_beats_when_it_is_right_is_told(self) -> None:
        found = links(seen(read(A=0.0)))
        told = [round(found[pair].temperament_beats_hz, 3) for pair in ("GD", "DA", "AE")]
        self.assertEqual(told, [0.664, 0.994, 1.49])
        self.assertEqual(found["DA"].temperament_beats_said, "0.99 beats a second")


class TestChecksMade(unittest.TestCase):
    def test_they_are_listed_newest_first_in_words(self) -> None:
        written = read(A=0.0)
        written.check("D", "A", 2.25)
        written.check("G", "D", None, way="tapped", beats_hz=0.25)
        written.check("A", "E", -1.0, way="harmonics", beats_hz=0.01)
        told = [(each.lower + each.upper, each.text) for each in seen(written).checks]
        self.assertEqual(
            told,
            [
                ("AE", "harmonics: 1.0 cents narrower than pure, still"),
                ("GD", "tapped: one beat in 4 seconds, direction not known"),
                ("DA", "double stop: 2.2 cents wider than pure, 0.50 beats a second"),
            ],
        )


if __name__ == "__main__":
    unittest.main()
