"""The sentences a person reads. No rule is decided here; figures are rounded for the eye."""

from collections.abc import Sequence

from pondus.core.instruments.holds import TopMoves
from pondus.core.judgement.direction import Turn
from pondus.core.judgement.situation import Pitch, Situation
from pondus.core.judgement.steps import Do, Step

_EIGHTHS = ("", "⅛", "¼", "⅜", "½", "⅝", "¾", "⅞")
TOP_WORDS: dict[TopMoves, str] = {
    "away": "away from you",
    "towards": "towards you",
    "left": "to your left",
    "right": "to your right",
}
_UP_DOWN: dict[Pitch, str] = {"raise": "up", "lower": "down"}


def cents(value: float) -> str:
    """An unsigned figure in cents.

    >>> cents(-12.4), cents(0.94), cents(1.0)
    ('12 cents', '0.9 cents', '1 cent')
    """
    size = abs(value)
    figure = f"{size:.0f}" if size >= 9.5 else f"{size:.1f}".removesuffix(".0")
    return f"{figure} cent" if figure == "1" else f"{figure} cents"


def off(value: float) -> str:
    """A distance from the target in words.

    >>> off(-12.0), off(30.2), off(0.0)
    ('12 cents flat', '30 cents sharp', 'right on')
    """
    if abs(value) < 0.05:
        return "right on"
    return f"{cents(value)} {'flat' if value < 0 else 'sharp'}"


def turns(amount: float) -> str:
    """Turns of a screw, to the eighth a hand can feel.

    >>> turns(0.3), turns(0.03), turns(3.5), turns(1.0), turns(2.02)
    ('about ¼ turn', 'just a hair', '3½ turns', '1 turn', '2 turns')
    """
    eighths = round(amount * 8)
    if eighths == 0:
        return "just a hair"
    whole, rest = divmod(eighths, 8)
    figure = f"{whole or ''}{_EIGHTHS[rest]}"
    if whole == 0:
        return f"about {figure} turn"
    return f"{figure} turn" if eighths == 8 else f"{figure} turns"


def degrees(amount: float) -> str:
    """Degrees of a peg's head. Ten degrees are about the width of the head's rim.

    >>> degrees(2.0), degrees(1.3)
    ('about 2°', 'about 1°')
    """
    return f"about {max(amount, 1.0):.0f}°"


def way(turn: Turn, *, facing: str) -> str:
    """A direction, first as this person sees it.

    >>> way(Turn("clockwise", "away"), facing="the peg's end")
    "top edge away from you (clockwise, facing the peg's end)"
    """
    if turn.top_moves is None:
        return f"{turn.rotation} (facing {facing})"
    return f"top edge {TOP_WORDS[turn.top_moves]} ({turn.rotation}, facing {facing})"


def turn_screw(situation: Situation, turn: Turn, amount: float, expect: float, spread: float) -> str:
    """One screw move: ``amount`` in turns, what it should do (``expect``, give or take ``spread``) in cents."""
    return (
        f"Turn the {situation.string.name} fine tuner {turns(amount)} {turn.rotation}"
        f"{_top_short(turn)}: it should go {_UP_DOWN['raise' if expect > 0 else 'lower']}"
        f" {cents(expect)}, give or take {max(1.0, spread):.0f}."
    )


def _top_short(turn: Turn) -> str:
    return "" if turn.top_moves is None else f", top edge {TOP_WORDS[turn.top_moves]}"


def set_middle(situation: Situation, turn: Turn, amount: float, aim: float, *, by_halves: bool) -> str:
    """The screw back to the middle of its travel: ``amount`` in turns, ``aim`` in cents from the target."""
    name = situation.string.name
    if turn.rotation == "counter-clockwise":
        return (
            f"Back the {name} fine tuner out {turns(amount)} ({turn.rotation}{_top_short(turn)}) to the middle of its"
            f" travel: the string drops to about {off(aim)}; that is safe and meant."
        )
    how = ", half a turn and a reading at a time" if by_halves else ""
    return (
        f"Screw the {name} fine tuner in {turns(amount)} ({turn.rotation}{_top_short(turn)}) to the middle of its"
        f" travel{how}: the string rises to about {off(aim)}."
    )


def turn_peg(situation: Situation, turn: Turn, pitch: Pitch, amount: float, aim: float) -> str:
    """One peg move, with the technique that belongs to it: ``amount`` in degrees, ``aim`` in cents from the target."""
    name, peg = situation.string.name, situation.peg
    direction = way(turn, facing="the peg's end")
    stop = "at the target" if abs(aim) < 0.05 else f"at {off(aim)}"
    if peg.kind == "geared":
        return f"Turn the {name} peg {degrees(amount)}, {direction}, reading after each; stop {stop}."
    if pitch == "raise":
        free = (
            "Ease the {} peg out with a wiggle, never by force, then push it in and"
            if peg.state == "sticks"
            else "Ease the {} peg a hair down, then push it in and"
        ).format(name)
        if peg.state == "slips":
            free = f"Ease the {name} peg a hair down, then push it firmly in all the while and"
        return f"{free} nudge it up {degrees(amount)}, {direction}, plucking all along; read, repeat, stop {stop}."
    free = (
        f"Ease the {name} peg out with a wiggle, never by force; then push it in and"
        if peg.state == "sticks"
        else f"Push the {name} peg in and"
    )
    return f"{free} let it down {degrees(amount)}, {direction}; read, repeat, stop {stop}."


def check(pitch: Pitch, *, wrong_way: bool, mechanism_is_peg: bool) -> str:
    """The question after a first or a wrong-way move; causes in the order to ask them."""
    if not wrong_way:
        return f"Sound it and read again: did it go {_UP_DOWN[pitch]}, as you expected?"
    went = "down" if pitch == "raise" else "up"
    if not mechanism_is_peg:
        return f"It went {went}: is this the right string's screw, and did you turn it the way you meant? Turn nothing yet."
    if pitch == "raise":
        return (
            "It went down: did the peg spring back (push it in)? Is it the right peg (follow the string with your eye)?"
            " Is the string wound the other way round? Turn nothing until you know."
        )
    return (
        "It went up: is it the right peg (follow the string with your eye)? Is the string wound the other way round?"
        " Turn nothing until you know."
    )


def tug(situation: Situation) -> str:
    """Seating the string after a friction peg."""
    return (
        f"Pull the {situation.string.name} string gently sideways, play it hard once and read again: it seats over nut"
        " and bridge."
    )


def fetch_teacher(situation: Situation, value: float) -> str:
    """What a student says on handing over."""
    kind, name = situation.instrument.kind, situation.string.name
    return f"Take the {kind} to your teacher and say: “The {name} string is {off(value)} and needs its peg.”"


def headline(step: Step, string_name: str) -> str:
    """The step in a few words, to be read across a room; its ``say`` tells the rest.

    >>> headline(Step("check", say="Read again."), "A")
    'Play the A again: did it go as expected?'
    """
    if step.do in ("turn-fine-tuner", "turn-peg", "set-fine-tuner-to-middle") and step.pitch is not None:
        return _turn_headline(step, step.pitch, string_name)
    fixed: dict[Do, str] = {
        "check": f"Play the {string_name} again: did it go as expected?",
        "play-again": f"Play the {string_name} again",
        "play-reference": f"Higher or lower than the reference {string_name}?",
        "tug": f"Pull the {string_name} gently sideways, play it again",
        "fetch-teacher": "Take it to your teacher",
        "luthier": "Stop: this goes to the luthier",
    }
    return fixed[step.do]


def _turn_headline(step: Step, pitch: Pitch, name: str) -> str:
    amount = step.amount or 0.0
    top = "" if step.top_moves is None else f", top edge {TOP_WORDS[step.top_moves]}"
    if step.do == "turn-peg":
        return f"{name} peg {_UP_DOWN[pitch]}, {degrees(amount)}{top}"
    if step.do == "set-fine-tuner-to-middle":
        return f"{name} screw {'out' if pitch == 'lower' else 'in'} {turns(amount)} {step.rotation}, to its middle"
    return f"{name} fine tuner {_UP_DOWN[pitch]}, {turns(amount)} {step.rotation}"


def later(steps: Sequence[Step]) -> list[str]:
    """The steps to come, a short line each; a move that is made again and again is one line."""
    lines: list[str] = []
    repeats = 1
    previous = ""
    for step in steps:
        line = _short(step)
        if line == previous:
            repeats += 1
            lines[-1] = f"{line}, {repeats} times, a reading after each"
        else:
            lines.append(line)
            repeats, previous = 1, line
    return lines


def _short(step: Step) -> str:
    if step.do in ("turn-fine-tuner", "turn-peg") and step.amount is not None and step.pitch is not None:
        way_word = _UP_DOWN[step.pitch]
        if step.do == "turn-fine-tuner":
            return f"Fine tuner {way_word} {turns(step.amount)}"
        return f"Peg {way_word} by nudges of {degrees(step.amount)}, to {off(step.aim_cents or 0.0)}"
    fixed: dict[Do, str] = {
        "set-fine-tuner-to-middle": "Screw to the middle of its travel",
        "check": "Read again; look that it went as expected",
        "tug": "Pull the string gently sideways, play, read again",
    }
    return fixed.get(step.do, step.say)
