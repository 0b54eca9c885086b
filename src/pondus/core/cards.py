"""What stands on an instrument's card: each string's note and frequency, and what a tuner's display still means there.

Nothing is decided here: each reading a tuner may show is put to the advice, at the instrument's reference, school and
approach, and runs of the same answer become bands. The screw is taken to stand at its middle, the octave to be known.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import groupby
from typing import Literal

from pondus.core.judgement.advise import advise
from pondus.core.judgement.direction import Turn, peg_turn, screw_turn
from pondus.core.judgement.heard import Heard
from pondus.core.judgement.reading import IMPOSSIBLE_CENTS, SLACK_CENTS
from pondus.core.judgement.situation import Situation
from pondus.core.pitch import NearestNote, name_of, nearest_note, shift_hz
from pondus.core.targets import offset_cents

Meaning = Literal["leave", "fine-tuner", "peg", "stop"]
MEANING_SAID: dict[Meaning, str] = {
    "leave": "leave it",
    "fine-tuner": "fine tuner",
    "peg": "peg",
    "stop": "stop and ask",
}
STOP_ABOVE_CENTS = 100.0
"""So far sharp something else is the matter: another string, another octave, or a string near breaking."""
STEP_CENTS = 1.0


@dataclass(frozen=True)
class Band:
    """A run of readings that mean the same, in cents from the string's target and as a tuner shows both ends."""

    meaning: Meaning
    from_cents: float
    to_cents: float
    from_note: NearestNote
    to_note: NearestNote


@dataclass(frozen=True)
class StringCard:
    """One string: its name, note and frequency, what the tuner shows when it is right, the bands, and which way to turn to
    raise (``screw`` None: no fine tuner).
    """

    name: str
    note: str
    hz: float
    tuner_shows_cents: float
    bands: tuple[Band, ...]
    screw: Turn | None
    peg: Turn


def string_card(facts: Situation) -> StringCard:
    """The card of one string.

    >>> from pondus.core.instruments import INSTRUMENTS
    >>> from pondus.core.judgement.situation import FineTuner, Peg, situation
    >>> card = string_card(situation(INSTRUMENTS["violin"], "A", fine_tuner=FineTuner(), peg=Peg()))
    >>> [(band.meaning, band.from_cents, band.to_cents) for band in card.bands]
    ... # doctest: +NORMALIZE_WHITESPACE
    [('peg', -700.0, -101.0), ('fine-tuner', -100.0, -4.0), ('leave', -3.0, 3.0), ('fine-tuner', 4.0, 100.0),
     ('stop', 101.0, 800.0)]
    """
    tuner = facts.fine_tuner
    return StringCard(
        name=facts.string.name,
        note=name_of(facts.string.note_number, spelling=facts.spelling),
        hz=facts.target_hz,
        tuner_shows_cents=offset_cents(facts.string, fifth_cents=facts.fifth_cents),
        bands=tuple(_bands(facts)),
        screw=None if tuner is None else screw_turn("raise", stance=facts.stance),
        peg=peg_turn("raise", side=facts.string.side, stance=facts.stance, winding=facts.peg.winding),
    )


def _bands(facts: Situation) -> list[Band]:
    """Runs of readings of the same meaning, from slack to impossibly sharp."""
    count = int((SLACK_CENTS + IMPOSSIBLE_CENTS) / STEP_CENTS) + 1
    shown = [-SLACK_CENTS + STEP_CENTS * step for step in range(count)]
    return [_band(meaning, list(run), facts) for meaning, run in groupby(shown, key=lambda off: _meaning(facts, off))]


def _band(meaning: Meaning, run: Sequence[float], facts: Situation) -> Band:
    first, last = run[0], run[-1]
    return Band(meaning, first, last, _note(facts, first), _note(facts, last))


def _note(facts: Situation, off: float) -> NearestNote:
    return nearest_note(shift_hz(facts.target_hz, off), a4=facts.a4, spelling=facts.spelling)


def _meaning(facts: Situation, off: float) -> Meaning:
    """What the advice on such a reading comes to, for whoever holds the card."""
    if off > STOP_ABOVE_CENTS:
        return "stop"
    advice = advise(facts, Heard(hz=shift_hz(facts.target_hz, off)), sure_of_string=True)
    if advice.state == "in-tune":
        return "leave"
    if advice.state in ("unsure", "other-string") or advice.mechanism == "none":
        return "stop"
    return advice.mechanism
