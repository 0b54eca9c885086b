"""What the advice comes down to, as an answer that can be given: the one place where right answers are taken from it."""

from typing import Literal

from pondus.core.judgement.advise import Advice
from pondus.core.practice.questions import Choice

Side = Literal["raise", "lower", "leave", "again", "other-string"]
Act = Literal["leave", "screw", "middle", "peg", "tug", "again", "stop", "bridge", "string", "fetch", "luthier"]

SIDES: dict[Side, Choice] = {
    "raise": Choice("raise", "flat: bring it up"),
    "leave": Choice("leave", "in tune: leave it"),
    "lower": Choice("lower", "sharp: let it down"),
    "again": Choice("again", "can’t be trusted: play it again"),
    "other-string": Choice("other-string", "that may be another string: ask"),
}
ACTS: dict[Act, Choice] = {
    "leave": Choice("leave", "leave it"),
    "screw": Choice("screw", "turn its fine tuner"),
    "middle": Choice("middle", "first its fine tuner back to the middle"),
    "peg": Choice("peg", "turn its peg"),
    "tug": Choice("tug", "pull it gently, no peg"),
    "again": Choice("again", "play it again first"),
    "stop": Choice("stop", "stop: find out what happened"),
    "bridge": Choice("bridge", "look at the bridge first"),
    "string": Choice("string", "put a new string on"),
    "fetch": Choice("fetch", "fetch a teacher"),
    "luthier": Choice("luthier", "nothing: to the luthier"),
}
_ACT_OF_STEP: dict[str, Act] = {
    "turn-fine-tuner": "screw",
    "set-fine-tuner-to-middle": "middle",
    "turn-peg": "peg",
    "tug-down": "tug",
    "play-again": "again",
    "play-reference": "again",
    "ask": "stop",
    "check": "stop",
    "look-at-bridge": "bridge",
    "put-string-on": "string",
    "fetch-teacher": "fetch",
    "luthier": "luthier",
}


def side_of(advice: Advice) -> Side:
    """Which way the string is to go, by the advice; or why that can't be said."""
    if advice.state == "other-string":
        return "other-string"
    if advice.state == "unsure":
        return "again"
    if advice.state == "in-tune":
        return "leave"
    assert advice.pitch is not None
    return advice.pitch


def first_act(advice: Advice) -> Act:
    """What is done first, by the advice."""
    if not advice.steps:
        return "leave"
    return _ACT_OF_STEP[advice.steps[0].do]


def said_of(advice: Advice) -> str:
    """Why, and the first step, in the advice's own words."""
    first = advice.steps[0].say if advice.steps else ""
    return advice.why if first == advice.why else f"{advice.why} {first}".strip()
