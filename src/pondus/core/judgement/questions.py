"""Questions, each with its answers: what is asked before anything is turned, and what each answer changes. Rule R81.

An option's ``set`` holds the fields of the request as they are after that answer; whoever asks sends the request again with
them. Answers to what a move did are told as ``answer``.
"""

from typing import Any, Literal

from pondus.core.judgement import words
from pondus.core.judgement.after_move import Sign
from pondus.core.judgement.heard import Heard
from pondus.core.judgement.reading import (
    OCTAVE_SLIP_CENTS,
    OWN_NOTE_CENTS,
    ROUNDING_CENTS,
    Candidate,
    Judged,
    breaking_cents,
    highest_cents,
)
from pondus.core.judgement.recent_move import Answer, RecentMove
from pondus.core.judgement.situation import Peg, Situation
from pondus.core.judgement.steps import Option, Question, Step
from pondus.core.pitch.note_names import to_letters
from pondus.core.pitch.notes import spelled

ANSWER_SAID: dict[Answer, str] = {
    "other-peg": "It was another string's",
    "sprang-back": "It sprang back",
    "not-turned": "I haven't turned it",
    "wound-other-way": "The string is wound the other way",
    "end-or-loose": "It is at its end, or turns loosely",
    "moved": "It did go that way, and is still far off",
    "none": "None of these",
}


PULL_FIRST = "If it was that one, pull the string gently"


def answers_to(sign: Sign, recent: RecentMove) -> tuple[Answer, ...]:
    """What can be the matter after such a move, the likeliest first.

    >>> answers_to("wrong-way", RecentMove("peg", "lower", 3, "degree", from_cents=40))
    ('other-peg', 'not-turned', 'wound-other-way', 'none')
    """
    if recent.turned == "fine-tuner":
        if sign == "wrong-way":
            return ("other-peg", "not-turned", "none")
        if recent.from_side is not None:
            return ("moved", "other-peg", "end-or-loose", "not-turned", "none")
        return ("other-peg", "end-or-loose", "not-turned", "none")
    if sign == "no-effect":
        if recent.from_side is not None:  # a side that stays doesn't tell how far it went, nor which way
            return ("moved", "other-peg", "sprang-back", "not-turned", "wound-other-way", "none")
        return ("other-peg", "sprang-back", "not-turned", "none")
    if recent.direction == "raise":
        return ("sprang-back", "other-peg", "not-turned", "wound-other-way", "none")
    return ("other-peg", "not-turned", "wound-other-way", "none")


def about_move(situation: Situation, sign: Sign, recent: RecentMove) -> Step:
    """R23, R25: what was it that didn't do what it should?"""
    options = tuple(_move_option(situation, answer, sign, recent) for answer in answers_to(sign, recent))
    name, part = situation.string.name, "fine tuner" if recent.turned == "fine-tuner" else "peg"
    if sign == "wrong-way":
        went = "down" if recent.direction == "raise" else "up"
        say = f"It went {went}. Turn nothing until you know why."
        return Step("ask", say, question="wrong-way", options=options)
    again = "That is twice in a row: stop, and get a second pair of eyes. " if recent.repeats else ""
    look = f"follow the {name} string with your eye to its {part}"
    # Where nut or bridge holds it back, the right one was turned, and a pull lets it go.
    pull = "" if recent.repeats else f" {PULL_FIRST} and play it again."
    say = f"{again}The {name} hardly moved. Turn nothing yet: {look}.{pull}"
    if recent.from_side is not None:
        say = f"{again}By now the {name} should be there or past it. Did it move at all? If not, {look}.{pull}"
    return Step("ask", say, question="no-effect", options=options)


def _move_option(situation: Situation, answer: Answer, sign: Sign, recent: RecentMove) -> Option:
    words_of = ANSWER_SAID[answer]
    if answer == "not-turned" and sign == "wrong-way":
        words_of = "I turned it the other way"
    if answer == "moved":
        words_of = f"It did go {'up' if recent.direction == 'raise' else 'down'}, and is still far off"
    if answer == "wound-other-way":
        return Option(answer, words_of, {"peg": _peg_fields(other_winding(situation.peg)), "recent_move": None})
    return Option(answer, words_of, {"answer": answer})


def other_winding(peg: Peg) -> Peg:
    """The same peg with its string wound the other way round."""
    winding = "reversed" if peg.winding == "normal" else "normal"
    return Peg(peg.kind, peg.state, winding, peg.cents_per_degree)  # type: ignore[arg-type]


def _peg_fields(peg: Peg) -> dict[str, Any]:
    fields = {"kind": peg.kind, "state": peg.state, "winding": peg.winding}
    return fields if peg.cents_per_degree is None else {**fields, "cents_per_degree": peg.cents_per_degree}


def about_reading(situation: Situation, judged: Judged, heard: Heard) -> Step | None:
    """R1 to R4, R80: which string, which octave, which side; None where only another reading helps."""
    if judged.doubt == "which-side":
        return _which_side(situation, judged, heard)
    if judged.other is not None:
        return _which_string(situation, judged, heard)
    if judged.doubt in ("octave-unknown", "against-last-move"):
        return _which_octave(situation, judged, heard)
    if judged.doubt == "octave-slip":
        note = judged.candidates[0].note
        options = (Option("yes", f"Yes, it is really {note}", {"sure_of_string": True}),)
        say = f"Is it really {note}, an octave from the {situation.string.name}? If not, play it again."
        return Step("ask", say, question="which-octave", options=options)
    return None


def _which_side(situation: Situation, judged: Judged, heard: Heard) -> Step:
    written = None if heard.note is None else spelled(heard.note, spelling=situation.spelling)
    note = written or judged.candidates[0].note
    options = tuple(
        Option(side, said, {"heard": {"note": heard.note, "side": side}})
        for side, said in (("flat", "Left of it: flat"), ("in-tune", "In the middle"), ("sharp", "Right of it: sharp"))
    )
    say = f"The tuner shows {note}: left of it, in the middle, or right?"
    return Step("ask", say, question="which-side", options=options)


def _which_string(situation: Situation, judged: Judged, heard: Heard) -> Step:
    own, other = situation.string.name, judged.other
    options = [Option("other", f"It was the {other} string", {"string": other})]
    highest = highest_cents(situation) if judged.octave_known else breaking_cents(situation)
    can_be = [candidate for candidate in judged.candidates if candidate.cents_off <= highest]
    far = [candidate for candidate in can_be if judged.cents_off is None or candidate.cents_off == judged.cents_off]
    options += [
        Option(
            "yes",
            f"It is the {own}: {words.off(candidate.cents_off)}",
            {"sure_of_string": True, **_with_octave(situation, candidate.note, heard)},
        )
        for candidate in far
    ]
    say = f"That sounds like the {other} string. Is it really the {own}?"
    return Step("ask", say, question="which-string", options=tuple(options))


def _which_octave(situation: Situation, judged: Judged, heard: Heard) -> Step:
    octaves = tone_octaves(judged)
    options = tuple(
        Option(
            beside,
            f"{beside.capitalize()}: {candidate.note}, {words.off(candidate.cents_off)}",
            {**_sure_an_octave_off(candidate), **_with_octave(situation, candidate.note, heard)},
        )
        for candidate in sorted(judged.candidates, key=lambda candidate: candidate.cents_off)
        for beside in [_beside_tone(candidate, octaves)]
    )
    compared = "the same, or an octave lower" if options[-1].answer == "same" else "lower or higher than this"
    say = f"Listen to {words.reference(situation.string.name, octaves)}: is your string {compared}?"
    if judged.doubt == "against-last-move":
        say = f"{judged.candidates[0].note} doesn't fit the last turn. {say}"
    question: Question = "which-octave"
    return Step("ask", say, question=question, options=options, tone_octaves=octaves)


def tone_octaves(judged: Judged) -> int:
    """In which octave the string's own tone lies between what it may be: its own, or one lower where all of that is lower."""
    return -1 if max(candidate.cents_off for candidate in judged.candidates) < -OWN_NOTE_CENTS - ROUNDING_CENTS else 0


def _beside_tone(candidate: Candidate, octaves: int) -> Literal["lower", "same", "higher"]:
    away = candidate.cents_off - 1200.0 * octaves
    if abs(away) <= OWN_NOTE_CENTS + ROUNDING_CENTS:
        return "same"
    return "lower" if away < 0.0 else "higher"


def _sure_an_octave_off(candidate: Candidate) -> dict[str, Any]:
    """Whoever compared it need not be asked once more whether it is really an octave off."""
    return {"sure_of_string": True} if abs(abs(candidate.cents_off) - 1200.0) <= OCTAVE_SLIP_CENTS else {}


def _with_octave(situation: Situation, note: str, heard: Heard) -> dict[str, Any]:
    """The reading with its octave; nothing where it had one."""
    if heard.note is None or heard.note[-1].isdigit():
        return {}
    heard_again: dict[str, Any] = {"note": to_letters(note, spelling=situation.spelling)}
    if heard.cents is not None:
        heard_again["cents"] = heard.cents
    if heard.side is not None:
        heard_again["side"] = heard.side
    return {"heard": heard_again}
