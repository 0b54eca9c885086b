"""Notes as they are called elsewhere, turned into the letters and octave numbers that Pondus reckons with.

German: H is B, B is B♭, endings -is and -es (Fis, Es, As). Do-Re-Mi: syllables for letters, with the same octave numbers;
the French count calls the reference La3, one less. Helmholtz's strokes (a' is A4) are read everywhere. Sources: DIN 1317-1 for
the reference, the naming tables of general music theory.
"""

import re

from pondus.core.pitch.notes import Spelling

_GERMAN = re.compile(r"^\s*([A-Ha-h])(isis|is|eses|es|s|#|♯|b|♭)?(?=$|\d|[\s'’′+\-−–])")
_SYLLABLES = {"do": "C", "re": "D", "ré": "D", "mi": "E", "fa": "F", "sol": "G", "la": "A", "si": "B"}
_SYLLABLE = re.compile(r"^\s*(do|r[eé]|mi|fa|sol|la|si)\s*(#|♯|b|♭)?\s*(\d)?(?=$|[\s'’′+\-−–])", re.IGNORECASE)
_STROKES = re.compile(r"^(\s*[A-Ga-g][#♯b♭]?)(['’′]{1,5})")
_GERMAN_SIGNS = {"": "", "is": "#", "es": "b", "s": "b", "#": "#", "♯": "#", "b": "b", "♭": "b"}


def to_letters(text: str, *, spelling: Spelling = "sharps") -> str:
    """A reading whose note, if it begins with one, is called as ``spelling`` has it, with that note in letters.

    >>> to_letters("H3 +5", spelling="german"), to_letters("B3", spelling="german"), to_letters("fis4 -7", spelling="german")
    ('B3 +5', 'Bb3', 'F#4 -7')
    >>> to_letters("Es", spelling="german"), to_letters("As4", spelling="german"), to_letters("flat", spelling="german")
    ('Eb', 'Ab4', 'flat')
    >>> to_letters("Si♭3", spelling="do-re-mi"), to_letters("la3 -2", spelling="do-re-mi-french")
    ('B♭3', 'A4 -2')
    >>> to_letters("a' -4"), to_letters("e''"), to_letters("-12", spelling="german")
    ('a4 -4', 'e5', '-12')
    """
    if spelling == "german":
        text = _from_german(text)
    elif spelling in ("do-re-mi", "do-re-mi-french"):
        text = _from_syllables(text, octaves_less=1 if spelling == "do-re-mi-french" else 0)
    return _STROKES.sub(lambda match: f"{match[1]}{3 + len(match[2])}", text)


def _from_german(text: str) -> str:
    match = _GERMAN.match(text)
    sign = None if match is None else _GERMAN_SIGNS.get(match[2] or "")
    if match is None or sign is None:
        return text
    letter = match[1].upper()
    if letter == "B":
        letter, sign = "B", "b"
    elif letter == "H":
        letter = "B"
    elif match[2] == "s" and letter not in "AE":
        return text
    return f"{letter}{sign}{text[match.end() :]}"


def _from_syllables(text: str, *, octaves_less: int) -> str:
    match = _SYLLABLE.match(text)
    if match is None:
        return text
    octave = "" if match[3] is None else str(int(match[3]) + octaves_less)
    return f"{_SYLLABLES[match[1].lower()]}{match[2] or ''}{octave}{text[match.end() :]}"
