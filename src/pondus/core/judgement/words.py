"""The sentences a person reads. No rule is decided here; figures are rounded for the eye."""

from pondus.core.instruments.holds import HOLDS, TopMoves
from pondus.core.judgement.direction import Turn
from pondus.core.judgement.situation import Pitch, Situation
from pondus.core.judgement.steps import Goal, Until
from pondus.core.pitch.notes import name_of, nearest_note, shift_hz, spelled

JUST_UNDER_CENTS = (-20.0, -5.0)
BRIDGE_LEANS = (
    "The bridge leans: ease its top back with both hands, strings on, if you have been shown how; its back edge square to the"
    " top. Else have someone do it who has."
)
LOOK_AT_BRIDGE = (
    "Look at the bridge: its back edge square to the top, feet flat. If it leans a little, ease its top back with both hands,"
    " if you have been shown how. If it has moved, stop."
)
_EIGHTHS = ("", "⅛", "¼", "⅜", "½", "⅝", "¾", "⅞")
TOP_WORDS: dict[TopMoves, str] = {
    "away": "away from you",
    "towards": "towards you",
    "left": "to your left",
    "right": "to your right",
    "far-left": "to your left",
    "far-right": "to your right",
}


def edge_goes(top: TopMoves) -> str:
    """Which edge goes where, as this person sees it.

    >>> edge_goes("away"), edge_goes("far-left")
    ('top edge away from you', 'far edge to your left')
    """
    return f"{'far' if top.startswith('far') else 'top'} edge {TOP_WORDS[top]}"


UP_DOWN: dict[Pitch, str] = {"raise": "up", "lower": "down"}


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


def reference(name: str, octaves: int) -> str:
    """The string's own tone, or the one an octave under it.

    >>> reference("D", 0), reference("D", -1)
    ('the reference D', 'the reference D an octave lower')
    """
    return f"the reference {name}" + (" an octave lower" if octaves else "")


def until(situation: Situation, aim: float) -> Until:
    """What an equal-tempered tuner shows where the string stands ``aim`` cents from its target; of one that shows letters only,
    the letter.
    """
    if situation.by_letters:
        return Until(letter_at(situation, aim), 0.0)
    shown = nearest_note(shift_hz(situation.target_hz, aim), a4=situation.a4, spelling=situation.spelling)
    return Until(shown.name, round(shown.cents, 2) + 0.0)


def letter_at(situation: Situation, cents_off: float) -> str:
    """The letter that a tuner shows so many cents from the target, without its octave."""
    note = situation.string.note_number + round(cents_off / 100.0)
    return spelled(name_of(note), spelling=situation.spelling).rstrip("0123456789")


def letters_on_the_way(situation: Situation, start: float, aim: float) -> str:
    """R130: the letters that must pass between two places (cents off the target), the last one where to stop.

    >>> from pondus.core.instruments import INSTRUMENTS
    >>> from pondus.core.judgement.situation import FineTuner, Peg, situation
    >>> e = situation(INSTRUMENTS["violin"], "E", fine_tuner=FineTuner(), peg=Peg(), spelling="flats")
    >>> letters_on_the_way(e, -200.0, -10.0), letters_on_the_way(e, 100.0, 0.0), letters_on_the_way(e, -20.0, 0.0)
    ('E♭, then E', 'E', 'E')
    """
    first, last = round(start / 100.0), round(aim / 100.0)
    step = 1 if last > first else -1
    passed = [letter_at(situation, 100.0 * semitone) for semitone in range(first + step, last + step, step)] or [
        letter_at(situation, aim)
    ]
    *before, end = passed
    return f"{', '.join(before)}, then {end}" if before else end


def as_shown(situation: Situation, start: float, aim: float) -> str:
    """Where a string should come to from where it stands, as a tuner shows it: "E♭4", "E♭4 +20", "just under E4"; by letters,
    those that pass.
    """
    if situation.by_letters:
        return letters_on_the_way(situation, start, aim)
    if JUST_UNDER_CENTS[0] <= aim <= JUST_UNDER_CENTS[1]:
        return f"just under {until(situation, 0.0).note}"
    return as_read(until(situation, aim))


def as_read(aim: Until) -> str:
    """What a tuner shows, in words.

    >>> as_read(Until("E♭4", 0.0)), as_read(Until("A4", -10.0))
    ('E♭4', 'A4 −10')
    """
    figure = round(aim.cents)
    return aim.note if figure == 0 else f"{aim.note} {figure:+d}".replace("-", "−")


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
    return f"{edge_goes(turn.top_moves)} ({turn.rotation}, facing {facing})"


def peg_way(situation: Situation, turn: Turn, pitch: Pitch) -> str:
    """A peg's direction: as this person sees it, and as it is in every hold, by the side of the peg that the string lies on."""
    to_scroll = (pitch == "raise") == (situation.peg.winding == "normal")
    string_side = f"the string's side of the peg goes {'towards' if to_scroll else 'away from'} the scroll"
    seen = way(turn, facing="the peg's end")
    return f"{seen.removesuffix(')')}; {string_side})"


STOP_HERE = "Stop here and turn nothing. Ask someone to look with you: a second pair of eyes sees more."
STOP_IF_STILL = "If it hasn't moved after the first pushes, stop: another peg may be in your hand."
SPRANG_BACK_TWICE = 2
MOST_DEGREES_AT_ONCE, LEAST_SHARE = 20.0, 0.7


def pushed(amount: float) -> str:
    """How far a peg goes in one move while it sounds: never much at once.

    Of many degrees the least is said: a peg that turns more per degree than expected is there before.

    >>> pushed(12.0), pushed(50.0)
    ('about 12°', 'from about 35° on it may be there, never more than 20° at once')
    """
    if amount <= MOST_DEGREES_AT_ONCE:
        return degrees(amount)
    least = degrees(LEAST_SHARE * amount)
    return f"from {least} on it may be there, never more than {MOST_DEGREES_AT_ONCE:.0f}° at once"


def turn_screw(
    situation: Situation, turn: Turn, amount: float, expect: float, spread: float, *, start: float, aim: float
) -> str:
    """One screw move: ``amount`` in turns; in cents what it should do (``expect``, give or take ``spread``), and where the
    string stands before (``start``) and then (``aim``).
    """
    name, way_said = situation.string.name, f"{turn.rotation}{_screw_top(situation, turn)}"
    if situation.while_sounding:
        return f"Turn the {name} fine tuner {way_said}, {_until_there(situation, start, aim)}: {turns(amount)}."
    if situation.by_letters:
        return f"Turn the {name} fine tuner {turns(amount)} {way_said}, then look at the letter again."
    return (
        f"Turn the {name} fine tuner {turns(amount)} {way_said}: it should go {UP_DOWN['raise' if expect > 0 else 'lower']}"
        f" {cents(expect)}, give or take {max(1.0, spread):.0f}."
    )


def _screw_top(situation: Situation, turn: Turn) -> str:
    """How the screw's top goes, as people say it for this hold."""
    if turn.top_moves is not None:
        return f", {edge_goes(turn.top_moves)}"
    if situation.stance == "playing":
        return f", {'away from' if turn.rotation == 'clockwise' else 'towards'} your face"
    return ""


def _until_there(situation: Situation, start: float, aim: float) -> str:
    """What is sounded while it turns, and what ends the turn: the tuner's figure, or the fifth that is listened to."""
    if situation.fifth_with is not None:
        there = "the fifth is as it should be" if abs(aim) < 1.0 else "it stands just under its fifth"
        return f"{situation.string.name} and {situation.fifth_with} bowed together, until {there}"
    return f"{_sounding(situation)}, until it shows {as_shown(situation, start, aim)}"


def _sounding(situation: Situation) -> str:
    """How the string is kept sounding, and by whom: whoever has both hands on a peg at the scroll can't."""
    sounds = HOLDS[situation.stance].sounds
    return sounds.replace("plucking", "bowing") if "bow" in situation.habits else sounds


def set_middle(situation: Situation, turn: Turn, amount: float, *, start: float, aim: float, by_halves: bool) -> str:
    """The screw back to the middle of its travel: ``amount`` in turns, ``start`` and ``aim`` in cents from the target."""
    name, to = situation.string.name, as_shown(situation, start, aim)
    how_far = f"{turns(amount)} ({turn.rotation}{_screw_top(situation, turn)})"
    if turn.rotation == "counter-clockwise":
        return (
            f"Back the {name} fine tuner out {how_far} to the middle of its travel: the string drops to {to};"
            " that is safe and meant."
        )
    how = ", half a turn and a reading at a time" if by_halves else ""
    return f"Screw the {name} fine tuner in {how_far} to the middle of its travel{how}: the string rises to {to}."


def turn_peg(
    situation: Situation, turn: Turn, pitch: Pitch, amount: float, *, start: float, aim: float, least: bool = False
) -> str:
    """One peg move, with the technique that belongs to it: ``amount`` in degrees, from ``start`` to ``aim`` in cents off the
    target. ``least``: by the smallest pushes there are.
    """
    name, peg = situation.string.name, situation.peg
    direction, to = peg_way(situation, turn, pitch), as_shown(situation, start, aim)
    if peg.kind == "geared":
        if situation.while_sounding:
            return f"Turn the {name} peg, {direction}, {_until_there(situation, start, aim)}: {degrees(amount)}."
        return f"Turn the {name} peg {degrees(amount)}, {direction}, reading after each; stop at {to}."
    if situation.while_sounding:
        verb = "turn it up in small pushes" if pitch == "raise" else "let it down slowly"
        if least:
            verb = "give it the smallest pushes"
        return (
            f"{_freeing(situation, pitch)} {verb}, {direction}, {_until_there(situation, start, aim)}, then stop:"
            f" {pushed(amount)}{' at a time' if least else ''}. {STOP_IF_STILL}"
        )
    if pitch == "raise":
        nudge = f"push it up by the least you can, {degrees(amount)}" if least else f"nudge it up {degrees(amount)}"
        return f"{_freeing(situation, pitch)} {nudge}, {direction}, {_sounding(situation)}; read, repeat, stop at {to}."
    return f"{_freeing(situation, pitch)} let it down {degrees(amount)}, {direction}; read, repeat, stop at {to}."


_WHILE_IT_SOUNDS: dict[Goal, str] = {
    "middle": "until the tuner shows the middle, then stop",
    "tone": "until it is one with the tone, then stop",
    "just-under-tone": "until it is just under the tone, then stop: the fine tuner does the rest",
    "tone-from-below": "until it is clearly lower than the tone, then slowly up until the two are one",
}


def by_side(situation: Situation, turn: Turn, pitch: Pitch, amount: str, *, goal: Goal) -> str:
    """A move by a side alone; ``amount`` as it is said. ``goal``: what ends it; by ear from below."""
    name, direction = situation.string.name, way(turn, facing="its end")
    again = "look again" if goal == "middle" else "listen to both again"
    if situation.while_sounding:
        sounding, until_there = _sounding(situation), _WHILE_IT_SOUNDS[goal]
        if amount.endswith("°"):
            freed = _freeing(situation, pitch)
            pushes = f"{freed} move it {UP_DOWN[pitch]} by the least pushes you can"
            return f"{pushes}, {direction}, {sounding}, {until_there}. {STOP_IF_STILL}"
        return f"Turn the {name} fine tuner slowly {turn.rotation}{_screw_top(situation, turn)}, {sounding}, {until_there}."
    if amount.endswith("°"):
        least = f"move it {UP_DOWN[pitch]} by the least you can, {amount}"
        return f"{_freeing(situation, pitch)} {least}, {direction}; {again}."
    return f"Turn the {name} fine tuner {amount} {turn.rotation}{_screw_top(situation, turn)}; {again}."


def cant_tell(situation: Situation, turn: Turn) -> str:
    """R129: what to do for an ear that hears no difference; ``turn``: its fine tuner's, down."""
    name = situation.string.name
    if situation.fine_tuner is None:
        return (
            "Hum the tone, then the string: which hum is higher? If you still can’t tell, ask somebody who plays to listen with"
            " you before anything is turned."
        )
    return (
        f"Turn the {name} fine tuner down a little ({turn.rotation}{_screw_top(situation, turn)}), until it is clearly lower"
        " than the tone: lower is easier to hear than the same. Then say so, and come up slowly; stop as soon as the two are"
        " one. If it gets no lower, turn nothing else: ask somebody who plays."
    )


def _freeing(situation: Situation, pitch: Pitch) -> str:
    """How a friction peg is freed before it turns."""
    name, peg = situation.string.name, situation.peg
    if peg.state == "sticks":
        return f"Ease the {name} peg out with a wiggle, never by force, then push it in and"
    if pitch == "lower":
        return f"Push the {name} peg in and"
    if peg.state == "slips":
        chalk = "Put a little chalk or peg compound on the peg. " if situation.sprang_back >= SPRANG_BACK_TWICE else ""
        return f"{chalk}Ease the {name} peg a hair down, then push it firmly in all the while and"
    return f"Ease the {name} peg a hair down, then push it in and"


def wind_up(situation: Situation, turn: Turn) -> str:
    """Taking up slack: the string doesn't sound yet."""
    name, direction = situation.string.name, peg_way(situation, turn, "raise")
    if situation.peg.state == "out":
        return (
            f"Hold the bridge with one hand. Push the {name} peg back in and turn it in one motion, {direction}, until the"
            " string sounds; chalk or peg compound on the peg helps it hold."
        )
    return f"Take up the slack of the {name}: push its peg in and turn it, {direction}, till the string sounds."


def tug_down(situation: Situation) -> str:
    """Letting a string down by a pull."""
    return (
        f"Take the {situation.string.name} string at half its length and pull it gently away from the board, once or twice: it"
        " gives 2 to 10 cents. Then read again."
    )


def put_on(situation: Situation) -> str:
    """A new string in the place of one that broke or is missing."""
    string, kind = situation.string, situation.instrument.kind
    side = "right" if string.side == "treble" else "left"
    return (
        f"Put a new {string.name} on, a {kind} {situation.size} {string.name} from the case: its end through the peg's hole,"
        f" two or three turns over the front of the peg towards its {side} side, the strings facing you. The other three"
        " keep the bridge up: leave them tight."
    )


def check(pitch: Pitch) -> str:
    """What to see after a first move."""
    return f"Sound it and read again: did it go {UP_DOWN[pitch]}, as you expected?"


def tug(situation: Situation) -> str:
    """Seating the string after a friction peg."""
    return (
        f"Pull the {situation.string.name} string gently sideways, play it hard once and read again: it seats over nut"
        " and bridge."
    )


def fetch_teacher(situation: Situation, value: float | None, *, needs: str = "needs its peg") -> str:
    """What a student says on handing over; ``value`` cents from the target, None: not known."""
    kind, name = situation.instrument.kind, situation.string.name
    stands = "" if value is None else f"is {off(value)} and "
    if value is not None and situation.by_letters:
        stands = f"shows {letter_at(situation, value)} and "
    return f"Take the {kind} to your teacher and say: “The {name} string {stands}{needs}.”"
