"""The plan of a round: order, pull, slack instruments, who is referred to whom."""

import unittest
from typing import Any

from pondus.contracts.plan import PlanRequest, PlanResult
from pondus.core.errors import BadInput


def planned(instrument: str, heard: dict[str, Any], **facts: Any) -> PlanResult:
    strings = {}
    for name, given in heard.items():
        extra = dict(given) if isinstance(given, dict) else {"reading": given}
        reading = extra.pop("reading")
        shown = {"hz": reading} if isinstance(reading, int | float) else {"note": reading[0], "cents": reading[1]}
        strings[name] = {"heard": shown, **extra}
    return PlanRequest.model_validate({"instrument": instrument, "strings": strings, **facts}).plan()


class TestOrder(unittest.TestCase):
    def test_schools(self) -> None:
        flat = {"G": ("G3", -10), "D": ("D4", -10), "A": ("A4", -10), "E": ("E5", -10)}
        for school, order in (("A-outward", "ADGE"), ("top-down", "EADG"), ("low-up", "GDAE")):
            with self.subTest(school=school):
                self.assertEqual("".join(planned("violin", flat, order=school).order), order)

    def test_strings_that_need_a_peg_come_first(self) -> None:
        plan = planned("violin", {"G": ("F3", 0), "D": ("D4", 0), "A": ("A4", -12), "E": ("E5", 0)})
        self.assertEqual(plan.order[0], "G")

    def test_all_in_tune_is_left_alone(self) -> None:
        plan = planned("cello", {"C": ("C2", 1), "G": ("G2", -2), "D": ("D3", 0), "A": ("A3", 0)})
        self.assertEqual((plan.order, plan.moves, plan.total_moves, plan.ask), ([], [], 0, []))

    def test_what_three_rounds_dont_bring_in_is_said(self) -> None:
        names = "GDAE"
        pulls = {one: {other: -0.3 for other in names if other != one} for one in names}
        flat = {"G": ("G3", -40), "D": ("D4", -40), "A": ("A4", -40), "E": ("E5", -40)}
        said = "cents flat: stop then and look what is wrong."
        self.assertIn(said, planned("violin", flat, pull=pulls).why)
        self.assertNotIn(said, planned("violin", flat).why)

    def test_unheard_and_unsure_strings_are_asked_about(self) -> None:
        plan = planned("violin", {"G": ("D4", 0), "D": ("D", 0), "A": ("A4", -12)})
        self.assertEqual(plan.ask, ["G", "E"])
        self.assertEqual(plan.order, ["A"])


class TestPull(unittest.TestCase):
    def test_the_pull_to_come_is_anticipated(self) -> None:
        plan = planned("violin", {"G": ("G3", 0), "D": ("D4", -40), "A": ("A4", -40), "E": ("E5", 0)})
        end = plan.moves[-1].predicted
        self.assertEqual(plan.rounds, 1)
        self.assertTrue(all(abs(cents) <= 3.0 for cents in end.values()), end)
        after_a = [move for move in plan.moves if move.string == "A"][-1].predicted["A"]
        self.assertGreater(after_a, 0.5)

    def test_a_learned_pull_is_used(self) -> None:
        strong = {"A": {"D": -0.2, "E": -0.2, "G": -0.1}}
        heard = {"G": ("G3", 0), "D": ("D4", 0), "A": ("A4", -40), "E": ("E5", 0)}
        plan = planned("violin", heard, pull=strong)
        first = plan.moves[0]
        self.assertAlmostEqual(first.predicted["D"] - first.before["D"], -0.2 * (first.step.expect_cents or 0), delta=0.05)
        with self.assertRaises(BadInput):
            planned("violin", heard, pull={"A": {"C": -0.1}})
        with self.assertRaises(BadInput):
            planned("violin", heard, pull={"A": {"D": -3.0}})

    def test_a_string_that_others_will_pull_right_is_left(self) -> None:
        plan = planned("cello", {"C": ("C2", 0), "G": ("G2", 0), "D": ("D3", 4), "A": ("G♯3", 20)})
        self.assertNotIn("D", plan.order)


class TestSlack(unittest.TestCase):
    def test_all_slack_come_up_together_with_looks_at_the_bridge(self) -> None:
        plan = planned("cello", {"C": 35.0, "G": 55.0, "D": 80.0, "A": 120.0})
        aims = [move.step.aim_cents for move in plan.moves if move.step.do == "turn-peg"]
        self.assertEqual(aims, [-300.0] * 4 + [-100.0] * 4 + [-10.0] * 4)
        self.assertGreater(plan.total_moves, 4 * 12)
        self.assertEqual(sum(move.step.do == "look-at-bridge" for move in plan.moves), 8)
        self.assertEqual(plan.rounds, 3)
        self.assertTrue({"bridge", "one-at-a-time"} <= set(plan.cautions))

    def test_the_breaking_of_a_slack_string_is_not_warned_of(self) -> None:
        plan = planned("violin", {"G": 95.0, "D": ("D4", 0), "A": ("A4", 0), "E": ("E5", 0)})
        self.assertNotIn("break-margin", plan.cautions)

    def test_a_screw_set_to_its_middle_is_one_move_though_nudges_of_a_peg_count_each(self) -> None:
        screw = {"fine_tuner": {"turns_from_middle": 3.5, "reach_turns": 4.0}}
        plan = planned("violin", {"G": {"reading": ("G3", -30), **screw}, "D": ("D4", 0), "A": ("A4", 0), "E": ("E5", 0)})
        by_peg = [move for move in plan.moves if move.step.do == "turn-peg"]
        self.assertEqual(plan.moves[0].step.do, "set-fine-tuner-to-middle")
        self.assertGreater(plan.total_moves, len(by_peg) + 1)


class TestPureChain(unittest.TestCase):
    def chain(self, a: float, **facts: Any) -> PlanResult:
        steps = {"G": ("G3", a - 4), "D": ("D4", a - 2), "A": ("A4", a), "E": ("E5", a + 2)}
        return planned("violin", steps, **facts)

    def test_it_is_left_and_tuning_pure_is_offered(self) -> None:
        plan = self.chain(0.0)
        self.assertEqual((plan.moves, plan.total_moves), ([], 0))
        assert plan.offer is not None
        self.assertEqual(plan.offer.target, "pure")

    def test_from_an_a_that_is_off_it_is_tuned(self) -> None:
        for a in (-8.0, 8.0):
            plan = self.chain(a)
            self.assertIsNone(plan.offer)
            self.assertIn("A", plan.order)

    def test_where_pure_is_asked_for_nothing_is_offered(self) -> None:
        self.assertIsNone(self.chain(0.0, target="pure").offer)


class TestReferring(unittest.TestCase):
    def test_a_students_pegs_go_to_the_teacher(self) -> None:
        plan = planned("viola", {"C": ("A2", 0), "G": ("G3", -8)}, who="student-fine-tuners")
        self.assertEqual((plan.refer, plan.order), ("teacher", ["G"]))

    def test_a_stuck_peg_goes_to_the_luthier(self) -> None:
        move = {"mechanism": "peg", "direction": "raise", "amount": 4, "unit": "degree", "from_cents": -200, "repeats": 1}
        stuck = {"reading": ("F3", 0), "peg": {"state": "sticks"}, "recent_move": move}
        self.assertEqual(planned("violin", {"G": stuck}).refer, "luthier")

    def test_time_left(self) -> None:
        plan = planned("violin", {"G": ("G3", 0), "D": ("D4", 0), "A": ("A4", -12), "E": ("E5", 0)})
        self.assertEqual((plan.total_moves, plan.seconds), (1, 15 + 2 * 25))

    def test_refusals_name_the_string(self) -> None:
        with self.assertRaises(BadInput) as caught:
            planned("violin", {"G": {"reading": ("G3", 0), "fine_tuner": {"turns_from_middle": 9}}})
        self.assertEqual(caught.exception.field, "strings.G.fine_tuner.turns_from_middle")
        with self.assertRaises(BadInput) as caught:
            planned("violin", {"C": ("C3", 0)})
        self.assertIn("“C”", caught.exception.message)


class TestPegsInTheRound(unittest.TestCase):
    def test_a_peg_already_turning_goes_on_while_it_does_more_than_the_screw(self) -> None:
        """R61."""
        nudge = {"mechanism": "peg", "direction": "raise", "amount": 5, "unit": "degree", "from_cents": -160}
        for off, mechanism in ((-90, "turn-peg"), (-30, "turn-fine-tuner")):
            hz = 440.0 * 2 ** (off / 1200)
            plan = planned("violin", {"A": {"reading": hz, "recent_move": nudge}})
            self.assertEqual(plan.moves[0].step.do, mechanism, off)
        untouched = planned("violin", {"A": 440.0 * 2 ** (-90 / 1200)})
        self.assertEqual(untouched.moves[0].step.do, "turn-fine-tuner")

    def test_a_peg_without_a_screw_waits_where_others_would_undo_it(self) -> None:
        """R62."""
        heard = {
            "D": {"reading": 293.665 * 2 ** (-8 / 1200), "fine_tuner": None},
            "A": {"reading": 440.0 * 2 ** (-80 / 1200)},
            "G": {"reading": 195.998 * 2 ** (-300 / 1200)},
        }
        self.assertEqual(planned("violin", heard).order[:3], ["G", "A", "D"])

    def test_it_does_not_wait_for_what_moves_it_little(self) -> None:
        """Half a cent is well within what counts as right."""
        heard = {"D": {"reading": 293.665 * 2 ** (-8 / 1200), "fine_tuner": None}, "A": {"reading": 440.0 * 2 ** (-17 / 1200)}}
        self.assertEqual(planned("violin", heard, order="top-down").order[0], "D")

    def test_near_pegs_follow_far_ones(self) -> None:
        heard = {
            "A": {"reading": 440.0 * 2 ** (-40 / 1200), "fine_tuner": None},
            "G": {"reading": 195.998 * 2 ** (-500 / 1200)},
        }
        self.assertEqual(planned("violin", heard).order[0], "G")
