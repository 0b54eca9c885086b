"""What the bench says of one string in a few words: what to do, what it reads, what was done, which cautions hold now."""

from pondus.core.hands.records import Move
from pondus.core.hands.state import StringState
from pondus.core.instruments import StringData
from pondus.core.judgement import few_words, words
from pondus.core.judgement.advise import Advice
from pondus.core.judgement.cautions import CAUTION_SAID, Caution
from pondus.core.judgement.heard import BY_EAR, Heard, ShownSide
from pondus.core.judgement.recent_move import Answer
from pondus.core.pitch.notes import A4_HZ, Spelling, name_of, nearest_note, spelled

PLAY_FIRST = "Play it once more first"
SURELY_ITS_OWN_CENTS = 150.0
"""R4: a guess about the octave is said to be one further away than this, or before a peg is turned."""
_OF_PEG_MOVES: tuple[Caution, ...] = ("push-in", "face-away", "wrong-peg", "e-string", "adult")


def cautions_now(advice: Advice | None) -> list[str]:
    """The cautions that apply to the step shown and no others; easing down is in a peg step's own sentence. That an octave is a
    guess is said where another one could be meant: not of a string so near its note that a fine tuner brings it in.
    """
    if advice is None or not advice.steps:
        return [] if advice is None else [CAUTION_SAID[one] for one in advice.cautions]
    first = advice.steps[0]
    before_peg = first.do in ("set-fine-tuner-to-middle", "turn-fine-tuner", "put-string-on", "look-at-bridge")
    not_yet = _OF_PEG_MOVES if before_peg else ()
    if advice.mechanism != "peg" and abs(advice.cents_off or 0.0) <= SURELY_ITS_OWN_CENTS:
        not_yet = (*not_yet, "octave-guess")
    return [CAUTION_SAID[one] for one in advice.cautions if one not in not_yet and one != "ease-down-first"]


def to_heed(state: StringState) -> list[str]:
    """What to heed now: the cautions, and before them that the figure is older than what was done to the others.

    A string that was pulled since would be turned by too little or too much.
    """
    cautions = cautions_now(state.advice)
    first = state.advice.steps[0] if state.advice is not None and state.advice.steps else None
    turns = first is not None and first.is_move and bool(state.outdated_by)
    if not turns and not state.to_hear_again:
        return cautions
    *others, last = state.outdated_by
    names = f"{', '.join(others)} and {last}" if others else last
    why = f"{names} {'were' if others else 'was'} turned since, and that moves it too."
    return [f"{PLAY_FIRST}: {why}" if turns else why, *cautions]


def headline(state: StringState) -> str:
    """What to do now, in a few words."""
    name = state.string.name
    if state.is_outdated:
        return f"Play the {name} string again"
    if state.advice is None:
        return f"Play the {name} string"
    if not state.advice.steps:
        return "Leave it: it is in tune" if state.advice.state == "in-tune" else "Leave it for now"
    return few_words.headline(state.advice.steps[0], name)


_SIDE_SAID: dict[ShownSide, str] = {
    "flat": "shown flat",
    "in-tune": "shown in tune",
    "sharp": "shown sharp",
    "much-lower": "much lower than its tone",
    "lower": "lower than its tone",
    "same": "the same as its tone",
    "higher": "higher than its tone",
    "much-higher": "much higher than its tone",
}


def shown(heard: Heard, spelling: Spelling) -> str:
    """A reading as a tuner shows it, accidentals spelled as the studio prefers.

    >>> shown(Heard(note="Db4", cents=-12.0), "sharps"), shown(Heard(hz=440.0), "sharps")
    ('C♯4 −12', '440.00 Hz')
    >>> shown(Heard(note="A4", side="in-tune"), "sharps"), shown(Heard(note="A4"), "sharps")
    ('A4 shown in tune', 'A4')
    """
    if heard.hz is not None:
        return f"{heard.hz:.2f} Hz"
    note = "" if heard.note is None else spelled(heard.note, spelling=spelling)
    if heard.side is not None:
        return f"{note} {_SIDE_SAID[heard.side]}".strip()
    if heard.is_bare:
        return note
    return f"{note} {heard.cents:+g}".replace("-", "−") if heard.cents else f"{note} 0"


def swept(string: StringData, heard: Heard, *, a4: float = A4_HZ, spelling: Spelling = "sharps") -> str:
    """A reading of a string, as a row of readings has it: the figure alone where it shows the string's own note.

    >>> from pondus.core.instruments import instrument_named
    >>> a = instrument_named("violin").string("A")
    >>> swept(a, Heard(note="A4", cents=-12.0)), swept(a, Heard(note="G4", cents=30.0)), swept(a, Heard(hz=441.0))
    ('A −12', 'A G4 +30', 'A +4')
    """
    if heard.hz is not None:
        nearest = nearest_note(heard.hz, a4=a4, spelling=spelling)
        heard = Heard(note=nearest.name, cents=float(round(nearest.cents)))
    reading = shown(heard, spelling)
    own = f"{name_of(string.note_number, spelling=spelling)} "
    return f"{string.name} {reading.removeprefix(own)}"


def word_beside(state: StringState) -> str:
    """The word beside the weight."""
    if state.pending is not None:
        return "moved; play it"
    if state.advice is None:
        return "not heard yet"
    if state.to_hear_again:
        return "hear again"
    if state.advice.side in ("in-tune", "same"):
        return "shown in tune" if state.advice.side == "in-tune" else "one with its tone"
    if state.advice.side in BY_EAR:
        return state.advice.side.replace("-", " ")
    if not state.fitted.sounds and state.advice.state == "slack":
        return "peg out" if state.fitted.peg_state == "out" else "floppy"
    return {
        "in-tune": "in tune",
        "flat": "flat",
        "sharp": "sharp",
        "slack": "slack",
        "unsure": "unsure",
        "other-string": "another string?",
        "no-effect": "not moved",
        "wrong-way": "wrong way",
        "broken": "broken",
        "off": "missing",
    }[state.advice.state]


_TURNED_OUT: dict[Answer, str] = {
    "other-peg": "it was another string’s",
    "sprang-back": "it sprang back",
    "not-turned": "it was turned the other way",
    "wound-other-way": "the string was wound the other way",
    "end-or-loose": "it was at its end, or loose",
    "moved": "it moved, and was still far off",
    "none": "nobody knew why it did nothing",
}


def move_made(move: Move) -> str:
    """A move in a few words, with what was said of it when it did nothing, or went the wrong way."""
    taken = f"taken as turned: {move_said(move)}" if move.taken else move_said(move)
    return taken if move.answer is None or move.voided else f"{taken}; {_TURNED_OUT[move.answer]}"


def taken_said(move: Move, did: float | None) -> str:
    """What was taken for granted, in one line, with what came of it in cents.

    >>> from datetime import UTC, datetime
    >>> from uuid import uuid4
    >>> move = Move(uuid4(), "A", 1, datetime(2026, 7, 4, tzinfo=UTC), taken=True, mechanism="fine-tuner",
    ...             direction="raise", amount=0.5, unit="turn")
    >>> taken_said(move, 13.2)
    'Taken as turned: fine tuner up, about ½ turn; it went up 13'
    """
    if did is None:
        came = ""
    elif abs(did) < 1.0:
        came = "; nothing moved"
    else:
        came = f"; it went {'up' if did > 0 else 'down'} {abs(did):.0f}"
    return f"Taken as turned: {move_said(move)}{came}"


def move_said(move: Move) -> str:
    """A move in a few words."""
    if move.mechanism == "tug":
        return "pulled it down"
    what = "fine tuner" if move.mechanism == "fine-tuner" else "peg"
    way = "up" if move.direction == "raise" else "down"
    amount = words.turns(move.amount) if move.unit == "turn" else words.degrees(move.amount)
    return f"{what} {way}, {amount}"
