"""Note names, octaves, and the way between Hz and cents.

Conventions: scientific pitch (A4 is the reference, 440 Hz unless a studio sets another; C4 is middle C), equal
temperament of twelve, a cent is 1/100 of an equal-tempered semitone: ``cents(f, ref) = 1200 * log2(f / ref)``.
Positive cents are sharp. A MIDI-style number counts semitones with A4 = 69.
"""

import math
import re
from dataclasses import dataclass
from typing import Literal

from pondus.core.errors import BadInput, BadNote

Spelling = Literal["sharps", "flats", "german", "do-re-mi", "do-re-mi-french"]
"""What notes are called where they are shown. Pondus itself reckons with letters (`note_names` turns others into them)."""

A4_HZ = 440.0
A4_LOWEST_HZ, A4_HIGHEST_HZ = 415.0, 446.0
HEARD_LOWEST_HZ, HEARD_HIGHEST_HZ = 20.0, 5000.0
DISPLAY_LIMIT_CENTS = 50.0
"""A tuner's display reaches half a semitone either way; past it the next note's name shows."""

_A4_NUMBER = 69
_SEMITONES = {"C": 0, "D": 2, "E": 4, "F": 5, "G": 7, "A": 9, "B": 11}
_ACCIDENTALS = {"": 0, "#": 1, "♯": 1, "b": -1, "♭": -1}
_SHARP_NAMES = ("C", "C♯", "D", "D♯", "E", "F", "F♯", "G", "G♯", "A", "A♯", "B")
_FLAT_NAMES = ("C", "D♭", "D", "E♭", "E", "F", "G♭", "G", "A♭", "A", "B♭", "B")
_GERMAN_NAMES = ("C", "Cis", "D", "Es", "E", "F", "Fis", "G", "Gis", "A", "B", "H")
_SYLLABLE_NAMES = ("Do", "Do♯", "Ré", "Mi♭", "Mi", "Fa", "Fa♯", "Sol", "Sol♯", "La", "Si♭", "Si")
_NAMES: dict[Spelling, tuple[str, ...]] = {
    "sharps": _SHARP_NAMES,
    "flats": _FLAT_NAMES,
    "german": _GERMAN_NAMES,
    "do-re-mi": _SYLLABLE_NAMES,
    "do-re-mi-french": _SYLLABLE_NAMES,
}
_OCTAVES_LESS: dict[Spelling, int] = {"do-re-mi-french": 1}
"""How much lower octaves are counted than scientific pitch does."""
_NOTE = re.compile(r"^\s*([A-Ga-g])\s*(#|♯|b|♭)?\s*([0-9])?\s*$")


@dataclass(frozen=True)
class Note:
    """A written note. ``number`` is semitones with A4 = 69; None when the octave wasn't given.

    ``pitch_class`` runs 0 (C) to 11 (B).
    """

    pitch_class: int
    number: int | None

    def hz(self, *, a4: float = A4_HZ) -> float:
        """Frequency in Hz; the octave must be known."""
        if self.number is None:
            raise BadNote("heard.note", "this note has no octave number, so it has no single frequency")
        return number_to_hz(self.number, a4=a4)


def parse_note(text: str, *, field: str = "heard.note") -> Note:
    """Read a note as people write it: ``A4``, ``Bb3``, ``F♯``, ``d#``.

    Raises BadNote naming the text when it isn't a note.

    >>> parse_note("A4").number, parse_note("D#3") == parse_note("E♭3"), parse_note("A").number
    (69, True, None)
    >>> parse_note("Cb4").number == parse_note("B3").number
    True
    >>> parse_note("H")
    Traceback (most recent call last):
    ...
    pondus.core.errors.BadNote: “H” is not a note; write a letter A to G, then ♯ or ♭ if any, then the octave, as in A4 or B♭3.
    """
    match = _NOTE.match(text)
    if match is None:
        raise BadNote(
            field, f"“{text}” is not a note; write a letter A to G, then ♯ or ♭ if any, then the octave, as in A4 or B♭3."
        )
    letter, accidental, octave = match.groups()
    within = _SEMITONES[letter.upper()] + _ACCIDENTALS[accidental or ""]
    number = None if octave is None else 12 * (int(octave) + 1) + within
    return Note(within % 12, number)


def number_to_hz(number: float, *, a4: float = A4_HZ) -> float:
    """Equal-tempered frequency of a (possibly fractional) semitone number.

    >>> number_to_hz(69)
    440.0
    """
    return a4 * float(2.0 ** ((number - _A4_NUMBER) / 12.0))


def hz_to_number(hz: float, *, a4: float = A4_HZ) -> float:
    """Fractional semitone number of a frequency in Hz, A4 = 69."""
    return _A4_NUMBER + 12.0 * math.log2(hz / a4)


def cents_between(hz: float, reference_hz: float) -> float:
    """How far ``hz`` lies above ``reference_hz``, in cents; negative below.

    >>> round(cents_between(660.0, 440.0), 3)
    701.955
    """
    return 1200.0 * math.log2(hz / reference_hz)


def shift_hz(hz: float, cents: float) -> float:
    """The frequency ``cents`` above ``hz``.

    >>> round(shift_hz(440.0, 1200.0), 9)
    880.0
    """
    return hz * float(2.0 ** (cents / 1200.0))


def name_of(number: int, *, spelling: Spelling = "sharps") -> str:
    """Name with octave of a whole semitone number.

    >>> name_of(69), name_of(70), name_of(70, spelling="flats"), name_of(59)
    ('A4', 'A♯4', 'B♭4', 'B3')
    >>> name_of(71, spelling="german"), name_of(70, spelling="german"), name_of(69, spelling="do-re-mi-french")
    ('H4', 'B4', 'La3')
    """
    return f"{_NAMES[spelling][number % 12]}{number // 12 - 1 - _OCTAVES_LESS.get(spelling, 0)}"


def spelled(text: str, *, spelling: Spelling) -> str:
    """A note as it was written, in the preferred spelling; without its octave if it had none.

    >>> spelled("F#2", spelling="flats"), spelled("Bb", spelling="sharps"), spelled("Cb4", spelling="sharps")
    ('G♭2', 'A♯', 'B3')
    """
    note = parse_note(text)
    if note.number is not None:
        return name_of(note.number, spelling=spelling)
    return name_of(note.pitch_class, spelling=spelling).rstrip("-0123456789")


def spelling_of(written: str | None, usual: Spelling) -> Spelling:
    """How notes are called beside that one: with flats where it has one and nothing else was chosen.

    >>> spelling_of("Ab3", "sharps"), spelling_of("F#4", "flats"), spelling_of("B3", "sharps"), spelling_of("Bb", "german")
    ('flats', 'flats', 'sharps', 'german')
    """
    match = None if written is None else _NOTE.match(written)
    return "flats" if usual == "sharps" and match is not None and _ACCIDENTALS[match[2] or ""] < 0 else usual


@dataclass(frozen=True)
class NearestNote:
    """The equal-tempered note a tuner would show: its name with octave, and cents within ±50."""

    name: str
    number: int
    cents: float


def nearest_note(hz: float, *, a4: float = A4_HZ, spelling: Spelling = "sharps") -> NearestNote:
    """What an electronic tuner shows for a frequency.

    >>> shown = nearest_note(215.3)
    >>> shown.name, round(shown.cents, 1)
    ('A3', -37.4)
    """
    position = hz_to_number(hz, a4=a4)
    number = math.floor(position + 0.5)
    return NearestNote(name_of(number, spelling=spelling), number, 100.0 * (position - number))


def check_a4(a4: float) -> float:
    """Return the reference if it is one orchestras use (415–446 Hz).

    Raises BadInput otherwise.
    """
    if not (A4_LOWEST_HZ <= a4 <= A4_HIGHEST_HZ):
        raise BadInput("a4", f"A4 = {a4:g} Hz is outside {A4_LOWEST_HZ:g}–{A4_HIGHEST_HZ:g} Hz; 440 is the usual reference.")
    return a4


def check_heard_hz(hz: float, *, field: str = "heard.hz") -> float:
    """Return a heard frequency if a bowed string can sound it (20–5000 Hz).

    Raises BadInput otherwise, for NaN too.
    """
    if not (HEARD_LOWEST_HZ <= hz <= HEARD_HIGHEST_HZ):
        raise BadInput(
            field,
            f"{hz:g} Hz is outside {HEARD_LOWEST_HZ:g}–{HEARD_HIGHEST_HZ:g} Hz, where strings sound; read the tuner again.",
        )
    return hz
