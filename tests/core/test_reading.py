"""Can the reading be trusted: other strings, octaves, impossible heights, tolerance."""

import unittest

from pondus.core.errors import BadInput
from tests.core.asking import ask, does


class TestStates(unittest.TestCase):
    def test_within_tolerance_is_left_alone(self) -> None:
        for cents, tolerance, state in (
            (3, 3, "in-tune"),
            (-3, 3, "in-tune"),
            (3.1, 3, "sharp"),
            (-4, 5, "in-tune"),
            (-2, 1, "flat"),
        ):
            with self.subTest(cents=cents, tolerance=tolerance):
                advice = ask("violin", "A", ("A4", cents), tolerance_cents=tolerance)
                self.assertEqual(advice.state, state)
                self.assertEqual(advice.steps == [], state == "in-tune")

    def test_a_pure_fifths_string_is_not_flat(self) -> None:
        self.assertEqual(ask("cello", "C", ("C2", -6), target="pure").state, "in-tune")
        self.assertEqual(ask("cello", "C", ("C2", -6)).state, "flat")
        self.assertAlmostEqual(ask("violin", "E", ("E5", 0), target="pure").cents_off or 0, -1.96, places=2)

    def test_slack_needs_a_known_octave(self) -> None:
        self.assertEqual(ask("violin", "G", ("B2", 0)).state, "slack")
        self.assertEqual(ask("violin", "G", ("C3", 0)).state, "flat")
        self.assertNotEqual(ask("violin", "G", ("B", 0)).state, "slack")


class TestOtherString(unittest.TestCase):
    def test_a_neighbours_pitch_is_asked_about(self) -> None:
        advice = ask("violin", "G", ("D4", 5))
        self.assertEqual(advice.state, "other-string")
        self.assertAlmostEqual(advice.cents_off or 0, 705.0)
        self.assertEqual((advice.mechanism, advice.pitch, does(advice)), ("none", None, ["play-again", "ask"]))

    def test_the_limit_is_sixty_cents(self) -> None:
        self.assertEqual(ask("violin", "E", 440.0 * 2 ** (60 / 1200)).state, "other-string")
        self.assertNotEqual(ask("violin", "E", 440.0 * 2 ** (61 / 1200)).state, "other-string")

    def test_once_sure_it_is_not_asked_again(self) -> None:
        advice = ask("violin", "A", ("D4", 0), sure_of_string=True)
        self.assertEqual((advice.state, advice.pitch), ("flat", "raise"))


class TestOctaves(unittest.TestCase):
    def test_the_smaller_distance_is_taken_and_said(self) -> None:
        advice = ask("violin", "G", ("A", 0))
        self.assertEqual([(each.note, each.cents_off) for each in advice.candidates], [("A3", 200.0), ("A2", -1000.0)])
        self.assertEqual((advice.state, advice.pitch), ("sharp", "lower"))
        self.assertIn("octave-guess", advice.cautions)

    def test_a_known_octave_leaves_one_candidate(self) -> None:
        self.assertEqual(len(ask("violin", "G", ("A3", 0)).candidates), 1)
        self.assertEqual(len(ask("violin", "G", 220.0).candidates), 1)

    def test_between_450_and_750_nothing_is_chosen(self) -> None:
        for note, cents in (("C", -50), ("D", 0), ("C#", 0), ("D", 50), ("C", 0)):
            with self.subTest(note=note, cents=cents):
                advice = ask("violin", "G", (note, cents))
                self.assertEqual((advice.state, advice.cents_off, does(advice)), ("unsure", None, ["play-reference", "ask"]))
                self.assertEqual(len(advice.candidates), 2)

    def test_a_letter_far_sharp_is_asked_about_the_lower_first(self) -> None:
        self.assertEqual(ask("violin", "G", ("A", 49)).state, "sharp")
        far = ask("violin", "G", ("A#", -49))
        self.assertEqual((far.state, [each.note for each in far.candidates]), ("unsure", ["A♯3", "A♯2"]))
        self.assertEqual([option.answer for option in far.steps[-1].options], ["lower", "higher"])

    def test_a_string_that_came_down_on_a_guess_is_asked_about_once(self) -> None:
        came_down = {"mechanism": "peg", "direction": "lower", "amount": 8, "unit": "degree", "from_cents": 150}
        for heard, state in ((("G", 0), "unsure"), (("G3", 0), "in-tune")):
            found = ask("violin", "G", heard, recent_move=came_down)
            self.assertEqual(found.state, state, heard)

    def test_an_octave_from_the_target_is_unsure_until_confirmed(self) -> None:
        self.assertEqual(ask("cello", "C", ("C3", 0)).state, "unsure")
        self.assertEqual(ask("violin", "A", ("A3", 30)).state, "unsure")
        self.assertEqual(ask("violin", "A", ("A3", 30), sure_of_string=True).state, "slack")

    def test_what_would_have_snapped_is_not_believed(self) -> None:
        self.assertEqual(ask("cello", "C", ("A2", 0)).state, "unsure")
        self.assertEqual(ask("violin", "G", ("D♯4", 50)).state, "unsure")
        self.assertEqual(ask("violin", "E", ("A5", 10)).state, "unsure")
        self.assertEqual(ask("violin", "E", ("A5", 0)).state, "sharp")
        self.assertEqual(ask("violin", "E", ("A5", 10), sure_of_string=True).state, "unsure")

    def test_a_guess_against_the_last_move_is_asked_about(self) -> None:
        move = {"mechanism": "peg", "direction": "lower", "amount": 4, "unit": "degree", "from_cents": -20}
        self.assertEqual(ask("violin", "G", ("A", 0), recent_move=move).state, "unsure")


class TestRefusals(unittest.TestCase):
    def test_what_cannot_be_meant_names_its_field(self) -> None:
        cases = [
            ({"string": "C"}, "string"),
            ({"heard": ("A4", 51)}, "heard.cents"),
            ({"heard": 5001.0}, "heard.hz"),
            ({"heard": 19.0}, "heard.hz"),
            ({"heard": ("J4", 0)}, "heard.note"),
            ({"a4": 450}, "a4"),
            ({"target": {"fifth_cents": 702}}, "target.fifth_cents"),
            ({"stance": "turned"}, "stance"),
            ({"size": "5/4"}, "size"),
            ({"tolerance_cents": 0}, "tolerance_cents"),
            ({"fine_tuner": {"turns_from_middle": 4.1}}, "fine_tuner.turns_from_middle"),
            ({"fine_tuner": {"reach_turns": -1}}, "fine_tuner.reach_turns"),
            ({"fine_tuner": {"cents_per_turn": 0}}, "fine_tuner.cents_per_turn"),
            ({"peg": {"cents_per_degree": -2}}, "peg.cents_per_degree"),
            ({"string_age_days": -1}, "string_age_days"),
            ({"colour": "red"}, "colour"),
            ({"peg": {"colour": "red"}}, "peg.colour"),
            ({"a4": True}, "a4"),
            ({"who": "parent"}, "who"),
        ]
        for change, field in cases:
            facts = {"instrument": "violin", "string": "A", "heard": ("A4", 0), **change}
            with self.subTest(change=change), self.assertRaises(BadInput) as caught:
                ask(facts.pop("instrument"), facts.pop("string"), facts.pop("heard"), **facts)
            self.assertEqual(caught.exception.field, field)

    def test_a_screw_move_without_a_screw(self) -> None:
        move = {"mechanism": "fine-tuner", "direction": "raise", "amount": 0.5, "unit": "turn", "from_cents": -20}
        with self.assertRaises(BadInput) as caught:
            ask("violin", "A", ("A4", -10), fine_tuner=None, recent_move=move)
        self.assertEqual(caught.exception.field, "recent_move.mechanism")
