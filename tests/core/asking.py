"""Asking for advice in tests as the JSON contract does."""

import json
from typing import Any

from pondus.contracts.advice import AdviceRequest
from pondus.contracts.base import ResultOf
from pondus.core.judgement.advise import Advice


class Answer(dict[str, Any]):
    """A JSON object whose fields are read as an object's."""

    __getattr__ = dict.__getitem__


def told(advice: Advice) -> Any:
    """Advice as JSON tells it."""
    return json.loads(ResultOf[Advice](advice).model_dump_json(), object_hook=Answer)


def ask(instrument: str, string: str, heard: Any, **facts: Any) -> Any:
    """``heard`` is ("A4", -12), a frequency in Hz, or as the contract has it."""
    if isinstance(heard, dict):
        reading = heard
    else:
        reading = {"hz": heard} if isinstance(heard, int | float) else {"note": heard[0], "cents": heard[1]}
    request = {"instrument": instrument, "string": string, "heard": reading, **facts}
    return told(AdviceRequest.model_validate_json(json.dumps(request)).advise())


def does(advice: Any) -> list[str]:
    return [step.do for step in advice.steps]
