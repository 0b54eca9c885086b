"""What stands on an instrument's card: each string's note and frequency, and what a tuner's display still means there.

Nothing is decided here: each reading a tuner may show is put to the advice, at the instrument's reference, school and
approach, and runs of the same answer become bands. The screw is taken to stand at its middle, the octave to be known.
"""

from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Literal

from pondus.core.instruments.targets import offset_cents
from pondus.core.judgement.advise import advise
from pondus.core.judgement.direction import Turn, peg_turn, screw_turn
from pondus.core.judgement.heard import Heard
from pondus.core.judgement.reading import IMPOSSIBLE_CENTS, SLACK_CENTS
from pondus.core.judgement.situation import Situation
from pondus.core.pitch.notes import NearestNote, name_of, nearest_note, shift_hz

Meaning = Literal["leave", "fine-tuner", "pull", "peg", "fetch", "stop"]
STEP_CENTS, FINE_CENTS, COARSE_CENTS, FINE_WITHIN_CENTS = 1.0, 2.0, 25.0, 24.0
"""Meanings change to and fro near the target only; further out they are looked for in larger steps."""


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
     ('peg', 101.0, 800.0)]
    """
    tuner = facts.fine_tuner
    return StringCard(
        name=facts.string.name,
        note=name_of(facts.string.note_number, spelling=facts.spelling),
        hz=facts.target_hz,
        tuner_shows_cents=offset_cents(facts.string, fifth_cents=facts.fifth_cents),
        bands=_bands(facts),
        screw=None if tuner is None else screw_turn("raise", stance=facts.stance),
        peg=peg_turn("raise", side=facts.string.side, stance=facts.stance, winding=facts.peg.winding),
    )


def _bands(facts: Situation) -> tuple[Band, ...]:
    """Runs of readings of the same meaning. Instruments of a studio are fitted alike: each sort is worked out once; how old
    a string is changes its cautions, not its mechanism.
    """
    return _bands_of_sort(replace(facts, string_age_days=None))


@lru_cache(maxsize=4096)
def _bands_of_sort(facts: Situation) -> tuple[Band, ...]:
    """From slack to impossibly sharp; ends to the cent."""
    bands: list[Band] = []
    begins, meaning = -SLACK_CENTS, meaning_of(facts, -SLACK_CENTS)
    at = begins
    while at < IMPOSSIBLE_CENTS:
        ahead = min(at + (FINE_CENTS if abs(at) <= FINE_WITHIN_CENTS else COARSE_CENTS), IMPOSSIBLE_CENTS)
        if meaning_of(facts, ahead) != meaning:
            last = _last_of(facts, meaning, at, ahead)
            bands.append(_band(facts, meaning, begins, last))
            begins = last + STEP_CENTS
            meaning, ahead = meaning_of(facts, begins), begins
        at = ahead
    return (*bands, _band(facts, meaning, begins, IMPOSSIBLE_CENTS))


def _last_of(facts: Situation, meaning: Meaning, inside: float, outside: float) -> float:
    """The last whole cent that means the same, between one that does and one that doesn't."""
    while outside - inside > STEP_CENTS:
        middle = inside + float(int((outside - inside) / 2.0))
        inside, outside = (middle, outside) if meaning_of(facts, middle) == meaning else (inside, middle)
    return inside


def _band(facts: Situation, meaning: Meaning, first: float, last: float) -> Band:
    return Band(meaning, first, last, _note(facts, first), _note(facts, last))


def _note(facts: Situation, off: float) -> NearestNote:
    return nearest_note(shift_hz(facts.target_hz, off), a4=facts.a4, spelling=facts.spelling)


def meaning_of(facts: Situation, off: float) -> Meaning:
    """What the advice on such a reading comes to, for whoever holds the card."""
    advice = advise(facts, Heard(hz=shift_hz(facts.target_hz, off)), sure_of_string=True)
    if advice.state == "in-tune":
        return "leave"
    first = advice.steps[0].do if advice.steps else None
    if first == "tug-down":
        return "pull"
    if first == "fetch-teacher":
        return "fetch"
    return "stop" if advice.mechanism == "none" else advice.mechanism
