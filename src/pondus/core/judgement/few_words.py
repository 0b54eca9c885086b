"""A step in a few words: to be read across a room, and as a line of what is still to come."""

from collections.abc import Sequence

from pondus.core.judgement.situation import Pitch
from pondus.core.judgement.steps import Do, Goal, Step
from pondus.core.judgement.words import (
    MOST_DEGREES_AT_ONCE,
    STOP_HERE,
    UP_DOWN,
    as_read,
    degrees,
    edge_goes,
    off,
    reference,
    turns,
)


def headline(step: Step, string_name: str) -> str:
    """The step in a few words, to be read across a room; its ``say`` tells the rest.

    >>> headline(Step("check", say="Read again."), "A")
    'Play the A again: did it go as expected?'
    """
    if step.do in ("turn-fine-tuner", "turn-peg", "set-fine-tuner-to-middle") and step.pitch is not None:
        return _turn_headline(step, step.pitch, string_name)
    if step.do == "ask":
        return _question_headline(step, string_name)
    if step.say == STOP_HERE:
        return "Stop: turn nothing, get a second pair of eyes"
    fixed: dict[Do, str] = {
        "check": f"Play the {string_name} again: did it go as expected?",
        "play-again": f"Play the {string_name} again",
        "play-reference": f"Lower or higher than {reference(string_name, step.tone_octaves or 0)}?",
        "tug": f"Pull the {string_name} gently sideways, play it again",
        "tug-down": f"Pull the {string_name} gently away from the board, once",
        "look-at-bridge": "Look at the bridge",
        "put-string-on": f"Put a new {string_name} string on",
        "fetch-teacher": "Take it to your teacher",
        "luthier": "Stop: this goes to the luthier",
    }
    return fixed[step.do]


def _question_headline(step: Step, name: str) -> str:
    return {
        "no-effect": f"The {name} hardly moved: what was it?",
        "wrong-way": f"The {name} went the wrong way: what was it?",
        "which-octave": f"Lower or higher than {reference(name, step.tone_octaves or 0)}?",
        "which-string": f"Is it really the {name} string?",
        "which-side": "Left of it, in the middle, or right?",
    }[step.question or "which-string"]


_ENDS_AT: dict[Goal | None, str] = {
    "middle": "until the light is in the middle",
    "tone": "to the tone",
    "just-under-tone": "to just under the tone",
    "tone-from-below": "below the tone, then up to it",
}


def _turn_headline(step: Step, pitch: Pitch, name: str) -> str:
    amount = step.amount or 0.0
    top = "" if step.top_moves is None else f", {edge_goes(step.top_moves)}"
    if step.amount is None:
        return f"{name} peg {UP_DOWN[pitch]} till it sounds{top}"
    if step.ends in _ENDS_AT:
        part = "peg" if step.do == "turn-peg" else "fine tuner"
        return f"{name} {part} {UP_DOWN[pitch]} {_ENDS_AT[step.ends]}{top or f', {step.rotation}'}"
    if step.until is not None and step.do != "set-fine-tuner-to-middle":
        if step.do == "turn-peg":
            about = "" if amount > MOST_DEGREES_AT_ONCE else f", {degrees(amount)}"
            pushes = " in small pushes" if pitch == "raise" else ""
            return f"{name} peg {UP_DOWN[pitch]}{pushes} to {as_read(step.until)}{about}{top}"
        return f"{name} fine tuner {UP_DOWN[pitch]} to {as_read(step.until)}, {turns(amount)} {step.rotation}"
    if step.do == "turn-peg":
        return f"{name} peg {UP_DOWN[pitch]}, {degrees(amount)}{top}"
    if step.do == "set-fine-tuner-to-middle":
        return f"{name} fine tuner {'out' if pitch == 'lower' else 'in'} {turns(amount)} {step.rotation}, to its middle"
    return f"{name} fine tuner {UP_DOWN[pitch]}, {turns(amount)} {step.rotation}"


AFTER_EACH = ", a reading after each"


def later(steps: Sequence[Step]) -> list[str]:
    """The steps to come, a short line each; a move that is made again and again is one line."""
    lines: list[str] = []
    repeats = 1
    previous = ""
    for step in steps:
        line = _short(step)
        if line == previous:
            repeats += 1
            lines[-1] = f"{line.removesuffix(AFTER_EACH)}, {repeats} times{AFTER_EACH}"
        else:
            lines.append(line)
            repeats, previous = 1, line
    return lines


def _short(step: Step) -> str:
    if step.do in ("turn-fine-tuner", "turn-peg") and step.amount is not None and step.pitch is not None:
        way_word = UP_DOWN[step.pitch]
        if step.ends in _ENDS_AT:
            return f"{'Peg' if step.do == 'turn-peg' else 'Fine tuner'} {way_word} {_ENDS_AT[step.ends]}"
        if step.do == "turn-fine-tuner":
            to = "" if step.until is None else f" to {as_read(step.until)}:"
            return f"Fine tuner {way_word}{to} {turns(step.amount)}"
        if step.until is not None:
            return f"Peg {way_word} to {as_read(step.until)}"
        if step.aim_cents is None:
            return f"Peg {way_word} {degrees(step.amount)}{AFTER_EACH}"
        return f"Peg {way_word} by nudges of {degrees(step.amount)}, to {off(step.aim_cents)}"
    fixed: dict[Do, str] = {
        "set-fine-tuner-to-middle": "Fine tuner to the middle of its travel",
        "check": "Read again; look that it went as expected",
        "tug": "Pull the string gently sideways, play, read again",
        "tug-down": "Pull it gently away from the board, read again",
        "look-at-bridge": "Look at the bridge",
    }
    return fixed.get(step.do, step.say)
