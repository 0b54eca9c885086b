"""Asking for advice in tests as the JSON contract does."""

import json
from typing import Any

from pondus.contracts.advice import AdviceRequest, AdviceResult


def ask(instrument: str, string: str, heard: Any, **facts: Any) -> AdviceResult:
    """``heard`` is ("A4", -12) or a frequency in Hz."""
    reading = {"hz": heard} if isinstance(heard, int | float) else {"note": heard[0], "cents": heard[1]}
    request = {"instrument": instrument, "string": string, "heard": reading, **facts}
    return AdviceRequest.model_validate_json(json.dumps(request)).advise()


def does(advice: AdviceResult) -> list[str]:
    return [step.do for step in advice.steps]
