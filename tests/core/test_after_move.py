"""What the last move says of the next, and how moves are said in a few words."""

import unittest

from pondus.core.errors import BadInput
from pondus.core.instruments import INSTRUMENTS
from pondus.core.judgement.after_move import limit_after_overshoot
from pondus.core.judgement.coupling import default_coupling
from pondus.core.judgement.few_words import later
from pondus.core.judgement.mechanism import Choice
from pondus.core.judgement.recent_move import RecentMove
from pondus.core.judgement.situation import FineTuner, Peg, situation
from pondus.core.judgement.steps import Step
from tests.core.asking import ask


class TestAfterMove(unittest.TestCase):
    def test_only_crossing_the_target_with_the_same_mechanism_halves(self) -> None:
        down, up = Choice("fine-tuner", "lower", "within-reach"), Choice("fine-tuner", "raise", "within-reach")
        for recent, choice, off, limit in (
            (RecentMove("fine-tuner", "raise", 0.5, "turn", from_cents=-10.0), down, 9.0, 0.25),
            (RecentMove("fine-tuner", "raise", 180.0, "degree", from_cents=-10.0), down, 9.0, 0.25),
            (RecentMove("fine-tuner", "lower", 0.5, "turn", from_cents=10.0), up, -9.0, 0.25),
            (RecentMove("fine-tuner", "raise", 0.5, "turn", from_cents=0.5), down, 9.0, None),
            (RecentMove("fine-tuner", "lower", 0.5, "turn", from_cents=-0.5), up, -9.0, None),
            (RecentMove("fine-tuner", "raise", 0.5, "turn", from_cents=-10.0), up, -4.0, None),
            (RecentMove("peg", "raise", 2.0, "degree", from_cents=-10.0), down, 9.0, None),
            (RecentMove("fine-tuner", "raise", 0.5, "turn", from_cents=-10.0, effect_known=False), down, 9.0, None),
            (None, down, 9.0, None),
        ):
            with self.subTest(recent=recent, off=off):
                self.assertEqual(limit_after_overshoot(recent, choice, off), limit)

    def test_cautions_of_a_peg_gone_wrong_stand_once_and_first(self) -> None:
        move = {"mechanism": "peg", "direction": "raise", "amount": 4, "unit": "degree", "from_cents": -80}
        advice = ask("violin", "G", ("F#3", -50), recent_move=move)
        self.assertEqual(advice.cautions[:2], ["push-in", "wrong-peg"])
        self.assertEqual(len(set(advice.cautions)), len(advice.cautions))


class TestFacts(unittest.TestCase):
    def test_bounds(self) -> None:
        violin = INSTRUMENTS["violin"]
        for tuner in (FineTuner(reach_turns=21.0), FineTuner(cents_per_turn=30.0, cents_per_turn_plus_minus=1500.0)):
            with self.assertRaises(BadInput):
                situation(violin, "A", fine_tuner=tuner, peg=Peg())
        with self.assertRaises(BadInput):
            situation(violin, "A", fine_tuner=FineTuner(), peg=Peg(), tolerance_cents=21.0)
        most = FineTuner(reach_turns=19.0, cents_per_turn=30.0, cents_per_turn_plus_minus=900.0)
        facts = situation(violin, "A", fine_tuner=most, peg=Peg(), tolerance_cents=19.0)
        self.assertEqual((facts.tolerance_cents, facts.screw_rate.plus_minus), (19.0, 900.0))

    def test_a_learned_peg_is_as_unsure_as_a_hand(self) -> None:
        rate = situation(INSTRUMENTS["violin"], "A", fine_tuner=None, peg=Peg(cents_per_degree=10.0)).peg_rate
        self.assertEqual((rate.cents, rate.plus_minus), (10.0, 5.0))

    def test_neighbours_pull_most(self) -> None:
        coupling = default_coupling(INSTRUMENTS["violin"])
        self.assertEqual(coupling["G"], {"D": -0.03, "A": -0.015, "E": -0.015})
        self.assertEqual(coupling["D"], {"G": -0.03, "A": -0.03, "E": -0.015})


class TestShortWords(unittest.TestCase):
    def test_repeats_are_one_line(self) -> None:
        screw = Step("turn-fine-tuner", "Turn.", pitch="raise", amount=0.5, unit="turn", aim_cents=-1.0)
        peg = Step("turn-peg", "Turn.", pitch="lower", amount=3.0, unit="degree", aim_cents=-10.0)
        self.assertEqual(
            later([screw, screw, Step("tug", "Tug."), peg, Step("luthier", "Stop.")]),
            [
                "Fine tuner up about ½ turn, 2 times, a reading after each",
                "Pull the string gently sideways, play, read again",
                "Peg down by nudges of about 3°, to 10 cents flat",
                "Stop.",
            ],
        )


if __name__ == "__main__":
    unittest.main()
