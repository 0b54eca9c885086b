"""An invented five-string instrument goes through everything that works on strings: nothing knows there to be four."""

import unittest
from dataclasses import replace

import numpy as np

from pondus.core.fifths.chain import chain
from pondus.core.hearing.hear import Reading, hear
from pondus.core.hearing.sound import sound_from
from pondus.core.instruments import INSTRUMENTS, Instrument
from pondus.core.instruments.base import strings_of
from pondus.core.instruments.pegbox import peg_place
from pondus.core.instruments.targets import targets_hz
from pondus.core.judgement.advise import advise
from pondus.core.judgement.heard import Heard
from pondus.core.judgement.plan import StringAsked, plan
from pondus.core.judgement.situation import FineTuner, Peg, situation
from pondus.core.simulated.sound import Tone, plucked
from pondus.core.views.bench import hold_view
from pondus.core.views.cards import string_card
from pondus.core.views.paper import chart_strings
from pondus.paper import cards, home_card, wall_chart
from pondus.paper.sheet import svg_of

ROWS = (("C3", 52, 3600), ("G3", 50, 4000), ("D4", 54, 5000), ("A4", 62, 7500), ("E5", 70, 8000))
FIVE: Instrument = replace(INSTRUMENTS["viola"], strings=strings_of(*ROWS))


class TestFiveStrings(unittest.TestCase):
    def test_pegs_from_every_hold(self) -> None:
        self.assertEqual(
            [(each.roman, each.side, each.row) for each in FIVE.strings],
            [("V", "bass", "lower"), ("IV", "bass", "middle"), ("III", "bass", "upper"), ("II", "treble", "upper"),
             ("I", "treble", "lower")],
        )  # fmt: skip
        for stance in FIVE.stances:
            self.assertEqual(len({peg_place(each, stance) for each in FIVE.strings}), 5)
        self.assertEqual([len(strings_of(*ROWS[at:])) for at in (0, 1, 2)], [5, 4, 3])
        self.assertEqual([each.side for each in strings_of(*ROWS[2:])], ["bass", "bass", "treble"], "three strings, D A E")

    def test_each_string_is_advised_on_and_the_round_planned(self) -> None:
        asked = {}
        for name, cents in zip(FIVE.string_names, (-20.0, 12.0, -150.0, 0.0, 8.0), strict=True):
            facts = situation(FIVE, name, fine_tuner=FineTuner(), peg=Peg())
            note = facts.string.note_number
            heard = Heard(hz=440.0 * 2.0 ** ((note - 69) / 12.0 + cents / 1200.0))
            advice = advise(facts, heard)
            self.assertEqual(advice.state, "in-tune" if cents == 0.0 else "flat" if cents < 0.0 else "sharp")
            asked[name] = StringAsked(facts, heard)
        planned = plan(asked, instrument=FIVE)
        self.assertLessEqual({"C", "G", "D", "E"}, {move.string for move in planned.moves})

    def test_its_fifths_and_its_paper(self) -> None:
        found = chain(FIVE, targets_hz(FIVE))
        self.assertEqual(len(found.links), 4)
        strings = tuple(string_card(situation(FIVE, name, fine_tuner=FineTuner(), peg=Peg())) for name in FIVE.string_names)
        card = cards.Card("Five", "viola", FIVE, hold_view(FIVE.usual_stance, FIVE), "", strings)
        for sheet in (cards.card_sheet(card), home_card.home_sheet(card, who="teacher", paper="a4")):
            self.assertEqual([name for name in FIVE.string_names if f">{name}<" not in svg_of(sheet)], [])
        chart = wall_chart.chart(FIVE, chart_strings(FIVE), a4=440.0)
        self.assertTrue(all(note in svg_of(chart) for note in ("C3", "G3", "D4", "A4", "E5")))

    def test_its_strings_are_heard(self) -> None:
        for string in FIVE.strings:
            hz = 440.0 * 2.0 ** ((string.note_number - 69) / 12.0)
            sound = plucked(Tone(hz, 1.3, 44_100), np.random.default_rng(2))
            found = hear(sound_from(sound.astype(np.float32), 44_100), FIVE)
            assert isinstance(found, Reading)
            self.assertEqual(found.string, string.name)
