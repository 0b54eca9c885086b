"""Cards: the bands are what the advice says, without gap or overlap, at each school and approach."""

import unittest
from itertools import pairwise

from pondus.core.instruments import INSTRUMENTS
from pondus.core.instruments.targets import PURE_FIFTH_CENTS
from pondus.core.judgement.situation import FineTuner, Peg, situation
from pondus.core.views.cards import StringCard, string_card


def card(kind: str, string: str, **facts: object) -> StringCard:
    given = {"fine_tuner": FineTuner(), "peg": Peg(), **facts}
    return string_card(situation(INSTRUMENTS[kind], string, **given))  # type: ignore[arg-type]


class TestCards(unittest.TestCase):
    def test_bands_follow_each_other_without_gap(self) -> None:
        for kind, instrument in INSTRUMENTS.items():
            for name in instrument.string_names:
                bands = card(kind, name).bands
                self.assertEqual((bands[0].from_cents, bands[-1].to_cents), (-700.0, 800.0))
                for one, next_one in pairwise(bands):
                    self.assertEqual(one.to_cents + 1.0, next_one.from_cents)
                    self.assertNotEqual(one.meaning, next_one.meaning)

    def test_a_little_sharp_without_a_screw_is_a_pull_and_more_is_the_peg(self) -> None:
        found = card("violin", "D", fine_tuner=None)
        bands = {band.meaning: (band.from_cents, band.to_cents) for band in found.bands if band.from_cents > 0.0}
        self.assertEqual(bands, {"pull": (6.0, 20.0), "peg": (21.0, 800.0)})
        self.assertIsNone(found.screw)

    def test_whoever_may_turn_no_peg_is_sent_to_the_teacher(self) -> None:
        found = card("violin", "A", who="student-fine-tuners")
        self.assertEqual((found.bands[0].meaning, found.bands[0].to_cents), ("fetch", -101.0))

    def test_the_approach_moves_the_border(self) -> None:
        for approach, border in (("fine-tuner-first", -101.0), ("right-note-first", -51.0), ("save-travel", -21.0)):
            pegs = [band for band in card("violin", "A", approach=approach).bands if band.meaning == "peg"]
            self.assertEqual(pegs[0].to_cents, border, approach)

    def test_notes_are_as_the_tuner_shows_them_at_that_school(self) -> None:
        found = card("violin", "G", fifth_cents=PURE_FIFTH_CENTS)
        leave = next(band for band in found.bands if band.meaning == "leave")
        self.assertEqual((leave.from_note.name, round(leave.from_note.cents)), ("G3", -7))
        self.assertAlmostEqual(found.tuner_shows_cents, -3.91, places=2)

    def test_ways_to_turn_follow_the_stance_and_the_winding(self) -> None:
        self.assertEqual(card("cello", "A", stance="seated").peg.top_moves, "towards")
        self.assertEqual(card("cello", "A", stance="turned").peg.top_moves, "away")
        self.assertEqual(card("cello", "A", stance="turned", peg=Peg(winding="reversed")).peg.top_moves, "towards")
