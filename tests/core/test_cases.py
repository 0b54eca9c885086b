"""Worked cases of the judgement, in data: what is asked, what is advised, and the sentence a person sees."""

import json
import unittest
from pathlib import Path
from typing import Any

from pondus.contracts.advice import AdviceRequest
from tests.core.asking import told

CASES = json.loads((Path(__file__).parent / "cases.json").read_text(encoding="utf-8"))


def moved(step: Any) -> str:
    """Which way, how much, where it should end, and what one such turn should do, in cents."""
    way = " ".join([str(step.rotation), *([f"top {step.top_moves}"] if step.top_moves else [])])
    return f"{way}, {step.amount} {step.unit}, to {step.aim_cents}, by {step.expect_cents} ± {step.expect_plus_minus}"


class TestWorkedCases(unittest.TestCase):
    def test_there_are_many(self) -> None:
        self.assertGreaterEqual(len(CASES), 120)

    def test_each_is_advised_as_written(self) -> None:
        for case in CASES:
            with self.subTest(case=case["case"]):
                advice = told(AdviceRequest.model_validate(case["request"]).advise())
                found = {
                    "state": advice.state,
                    "cents_off": advice.cents_off,
                    "mechanism": advice.mechanism,
                    "pitch": advice.pitch,
                    "does": [step.do for step in advice.steps],
                    "moves": [moved(step) for step in advice.steps if step.amount is not None],
                    "cautions": advice.cautions,
                    "why": advice.why,
                    "says": advice.steps[0].say if advice.steps else advice.why,
                    "until": [f"{step.until.note} {step.until.cents}" for step in advice.steps if step.until is not None],
                    "asks": [f"{step.question}: {option.answer}" for step in advice.steps for option in step.options],
                }
                self.assertEqual(found, {"until": [], "asks": [], **case["expect"]})
