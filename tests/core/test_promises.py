"""What the advice never does, over the whole input space."""

import unittest
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from pondus.contracts.advice import AdviceRequest
from pondus.contracts.plan import PlanRequest
from pondus.core.judgement.advise import advise
from tests.core.asking import told
from tests.core.situations import plan_requests, requests

MANY = settings(max_examples=400, derandomize=True)
ROUNDING_TURNS, ROUNDING_CENTS = 0.01, 0.02
OPPOSITE_TOPS = {
    "away": "towards", "towards": "away", "left": "right", "right": "left", "far-left": "far-right", "far-right": "far-left",
    None: None,
}  # fmt: skip
WORTH_CENTS = 1.0
COUNTED = ("turn-peg", "turn-fine-tuner", "set-fine-tuner-to-middle", "tug-down")
TURNS = ("turn-peg", "turn-fine-tuner", "set-fine-tuner-to-middle")


def advised(request: dict[str, Any]) -> Any:
    return told(AdviceRequest.model_validate(request).advise())


class TestAdvice(unittest.TestCase):
    @MANY
    @given(requests())
    def test_a_string_over_100_cents_sharp_is_never_raised(self, request: dict[str, Any]) -> None:
        advice = advised(request)
        if advice.cents_off is not None and advice.cents_off > 100.0:
            self.assertNotEqual(advice.pitch, "raise")
            first = next((step for step in advice.steps if step.do in TURNS), None)
            if first is not None:
                self.assertEqual(first.pitch, "lower")

    @MANY
    @given(requests())
    def test_after_a_question_nothing_is_turned_and_each_can_be_answered(self, request: dict[str, Any]) -> None:
        advice = advised(request)
        asks = [step for step in advice.steps if step.do == "ask"]
        for step in asks:
            self.assertTrue(step.question and step.options and step.say)
            self.assertFalse([one for one in advice.steps if one.do in COUNTED])
        if asks and asks[0].question in ("no-effect", "wrong-way"):
            for option in asks[0].options:
                after = advised({**request, **option.set})
                self.assertNotEqual(([step.do for step in after.steps], after.state), (["ask"], advice.state))
                if option.answer in ("other-peg", "none"):
                    self.assertFalse([one for one in after.steps if one.do in COUNTED])

    @MANY
    @given(requests())
    def test_nothing_is_raised_past_its_margin_or_under_a_bridge_that_does_not_stand(self, request: dict[str, Any]) -> None:
        advice = advised(request)
        for step in advice.steps:
            if step.do in TURNS and step.pitch == "raise" and step.aim_cents is not None:
                self.assertLessEqual(step.aim_cents, max(5.0, advice.cents_off or 0.0) + ROUNDING_CENTS)
            if request["bridge"] in ("moved", "fallen"):
                self.assertNotIn(step.do, COUNTED)

    @MANY
    @given(requests())
    def test_while_sounding_every_turn_says_where_to_stop(self, request: dict[str, Any]) -> None:
        for step in advised(request).steps:
            if step.do in TURNS and step.aim_cents is not None:
                self.assertEqual(step.until is not None, request["turning"] == "while-sounding")
                self.assertTrue(step.until is None or abs(step.until.cents) <= 50.0)
                self.assertNotIn("cents flat", step.say)

    @MANY
    @given(requests())
    def test_only_an_adult_brings_up_a_slack_string(self, request: dict[str, Any]) -> None:
        advice = advised({**request, "who": "student-pegs"})
        if advice.state == "slack":
            self.assertFalse([step for step in advice.steps if step.do in COUNTED])

    @MANY
    @given(requests())
    def test_a_screw_stays_in_its_travel_and_moves_half_a_turn_at_most(self, request: dict[str, Any]) -> None:
        screw = request["fine_tuner"]
        if screw is None:
            self.assertFalse([step for step in advised(request).steps if "fine-tuner" in step.do])
            return
        turns = screw["turns_from_middle"]
        for step in advised(request).steps:
            if step.do == "set-fine-tuner-to-middle":
                if step.pitch == "lower":
                    self.assertGreater(turns, 0.0)
                turns = 0.0
            if step.do == "turn-fine-tuner":
                if request["turning"] == "step-by-step":
                    self.assertLessEqual(step.amount or 0.0, 0.5)
                turns += (step.amount or 0.0) * (1 if step.pitch == "raise" else -1)
                self.assertLessEqual(abs(turns), screw["reach_turns"] + ROUNDING_TURNS)

    @MANY
    @given(requests())
    def test_a_peg_never_aims_above_the_target(self, request: dict[str, Any]) -> None:
        for step in advised(request).steps:
            if step.do == "turn-peg":
                self.assertLessEqual(step.aim_cents or 0.0, ROUNDING_CENTS)
                if request["turning"] == "step-by-step":
                    self.assertTrue((step.amount or 0.0) <= (10.0 if request["peg"]["kind"] == "geared" else 5.0))

    @MANY
    @given(requests())
    def test_reversed_winding_flips_every_peg_and_no_screw(self, request: dict[str, Any]) -> None:
        other = {"normal": "reversed", "reversed": "normal"}[request["peg"]["winding"]]
        here, there = advised(request), advised({**request, "peg": {**request["peg"], "winding": other}})
        for one, two in zip(here.steps, there.steps, strict=True):
            if one.do == "turn-peg":
                self.assertNotEqual(one.rotation, two.rotation)
                self.assertEqual(one.top_moves, OPPOSITE_TOPS[two.top_moves])
            elif one.do in TURNS:
                self.assertEqual((one.rotation, one.top_moves), (two.rotation, two.top_moves))

    @MANY
    @given(requests())
    def test_mirrored_stances_give_mirrored_arrows(self, request: dict[str, Any]) -> None:
        pair = ("seated", "turned") if request["instrument"] == "cello" else ("helper", "lap")
        here, there = (advised({**request, "stance": stance}) for stance in pair)
        for one, two in zip(here.steps, there.steps, strict=True):
            self.assertEqual(one.rotation, two.rotation)
            if one.do == "turn-peg":
                self.assertEqual(one.top_moves, OPPOSITE_TOPS[two.top_moves])

    @MANY
    @given(requests())
    def test_every_state_has_a_step_or_a_reason_to_stop(self, request: dict[str, Any]) -> None:
        advice = advised(request)
        self.assertTrue(advice.why)
        self.assertTrue(advice.steps or advice.state == "in-tune")
        self.assertTrue(all(step.say for step in advice.steps))
        by_side = request["heard"].get("side") is not None and advice.state in ("flat", "in-tune", "sharp")
        self.assertTrue(advice.cents_off is not None or advice.state == "unsure" or by_side)

    @MANY
    @given(requests())
    def test_in_doubt_nothing_is_turned(self, request: dict[str, Any]) -> None:
        advice = advised(request)
        if advice.state in ("unsure", "other-string", "in-tune"):
            self.assertEqual((advice.mechanism, advice.pitch), ("none", None))
            self.assertFalse([step for step in advice.steps if step.do in TURNS])

    @MANY
    @given(requests())
    def test_a_student_with_screws_only_never_turns_a_peg(self, request: dict[str, Any]) -> None:
        advice = advised({**request, "who": "student-fine-tuners"})
        self.assertNotIn("turn-peg", [step.do for step in advice.steps])

    @MANY
    @given(requests())
    def test_mirror_images_differ_only_where_the_rules_say(self, request: dict[str, Any]) -> None:
        """A small error either way, the screw at its middle, takes the same screw the same amount the other way."""
        screw = {"turns_from_middle": 0.0, "reach_turns": 4.0, "cents_per_turn": 40.0}
        plain = {**request, "fine_tuner": screw, "recent_move": None, "approach": "fine-tuner-first"}
        target = AdviceRequest.model_validate(plain).situation().target_hz
        flat, sharp = (advised({**plain, "heard": {"hz": target * 2 ** (cents / 1200)}}) for cents in (-37.0, 37.0))
        self.assertEqual([step.do for step in flat.steps], [step.do for step in sharp.steps])
        for one, two in zip(flat.steps, sharp.steps, strict=True):
            self.assertEqual(one.amount, two.amount)
            if one.pitch is not None:
                self.assertEqual({one.pitch, two.pitch}, {"raise", "lower"})


class TestPullsToCome(unittest.TestCase):
    """What is still to be turned on the others changes where a screw leaves a string, and nothing else."""

    def both(self, request: dict[str, Any], pulls: float) -> tuple[Any, Any]:
        asked = AdviceRequest.model_validate(request)
        given_move = asked.recent_move
        heard = asked.heard
        alone, among = (
            advise(asked.situation(), heard, sure_of_string=asked.sure_of_string, recent_move=given_move, pulls_to_come=coming)
            for coming in (0.0, pulls)
        )
        return alone, among

    @MANY
    @given(requests(), st.floats(-60.0, 60.0))
    def test_state_questions_and_pegs_stay_as_they_are(self, request: dict[str, Any], pulls: float) -> None:
        alone, among = self.both({**request, "answer": None}, pulls)
        self.assertEqual((alone.state, alone.cents_off, alone.question), (among.state, among.cents_off, among.question))
        pegs = [[step for step in advice.steps if step.do == "turn-peg"] for advice in (alone, among)]
        self.assertTrue(pegs[1] == pegs[0] or not among.steps)
        if alone.state in ("slack", "unsure", "other-string", "in-tune", "no-effect", "wrong-way"):
            self.assertEqual(alone, among)

    @MANY
    @given(requests(), st.floats(-60.0, 60.0))
    def test_it_is_left_within_five_cents_and_never_turned_away(self, request: dict[str, Any], pulls: float) -> None:
        _, among = self.both({**request, "answer": None}, pulls)
        turns = [step for step in among.steps if step.do in TURNS]
        if turns and all(step.do == "turn-fine-tuner" for step in turns) and among.cents_off is not None:
            self.assertEqual(turns[0].pitch, "raise" if among.cents_off < 0.0 else "lower")
        if among.steps == () and among.state in ("flat", "sharp"):
            self.assertIn("what is still to be turned on the others will bring it", among.why)
            self.assertLess(pulls * (among.cents_off or 0.0), 0.0)
        raised = [step for step in turns if step.pitch == "raise" and step.aim_cents is not None]
        for step in raised:
            self.assertLessEqual(step.aim_cents or 0.0, max(5.0, among.cents_off or 0.0) + ROUNDING_CENTS)


class TestPlan(unittest.TestCase):
    @MANY
    @given(plan_requests())
    def test_a_plan_keeps_the_same_promises(self, request: dict[str, Any]) -> None:
        planned = PlanRequest.model_validate(request).plan()
        self.assertLessEqual(planned.rounds, 3)
        self.assertGreaterEqual(planned.total_moves, sum(move.step.do in COUNTED for move in planned.moves))
        others = [move for move in planned.moves if move.step.do not in ("turn-peg", "set-fine-tuner-to-middle")]
        pegs = sum(move.step.do == "turn-peg" for move in planned.moves)
        if not pegs and len(others) == len(planned.moves):
            self.assertEqual(planned.total_moves, sum(move.step.do in COUNTED for move in others))
        for move in planned.moves:
            self.assertNotIn(move.string, planned.ask)
            if move.step.do == "turn-peg":
                self.assertLessEqual(move.step.aim_cents or 0.0, ROUNDING_CENTS)
                self.assertNotEqual(request["who"], "student-fine-tuners")
            if move.step.do in TURNS and move.before.get(move.string, 0.0) > 100.0:
                self.assertEqual(move.step.pitch, "lower")
            if move.step.do == "turn-fine-tuner" and move.string in move.predicted:
                if request["turning"] == "step-by-step":
                    self.assertLessEqual(move.step.amount or 0.0, 0.5)
                self.assertLessEqual(move.predicted[move.string], max(5.0, move.before[move.string]) + ROUNDING_CENTS)

    @MANY
    @given(plan_requests())
    def test_no_string_is_turned_for_nothing(self, request: dict[str, Any]) -> None:
        planned = PlanRequest.model_validate(request).plan()
        gains: dict[str, float] = {}
        for move in planned.moves:
            if move.step.do in COUNTED and move.before != move.predicted:
                gains[move.string] = gains.get(move.string, 0.0) + move.gains_cents
        for name, gained in gains.items():
            self.assertGreater(gained, WORTH_CENTS, (name, gained))

    @MANY
    @given(plan_requests())
    def test_what_is_known_ends_in_tune_or_is_said(self, request: dict[str, Any]) -> None:
        planned = PlanRequest.model_validate({**request, "who": "teacher"}).plan()
        if planned.refer is None and planned.moves and "After three rounds" not in planned.why:
            for name, cents in planned.moves[-1].predicted.items():
                asked = request["strings"][name]
                alone = asked["peg"]["kind"] == "friction" and (
                    asked["fine_tuner"] is None or (request["approach"] == "pegs-only" and name != "E")
                )
                within = max(5.0, request["tolerance_cents"]) if alone else request["tolerance_cents"]
                self.assertLessEqual(abs(cents), within + ROUNDING_CENTS, name)
