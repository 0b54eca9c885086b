"""Violin, viola and cello: their strings, sizes and pegs.

Sources: vibrating lengths are typical workshop figures per size; tensions (N), axial stiffness EA (N), extra length
(afterlength and pegbox part, mm), peg radius (mm) and string stretch per fine-tuner turn (mm) are typical of
steel-core student strings, collected 2026. Synthetic cores keep the tension and have 0.45 of the stiffness.
Strings are listed from the thickest (IV) to the thinnest (I), as seen with the scroll up.
"""

from dataclasses import dataclass
from functools import cached_property
from typing import Literal

from pondus.core.errors import BadInput
from pondus.core.pitch import parse_note

Kind = Literal["violin", "viola", "cello"]
Side = Literal["bass", "treble"]
Core = Literal["steel", "synthetic"]
Roman = Literal["IV", "III", "II", "I"]

KINDS: tuple[Kind, ...] = ("violin", "viola", "cello")
SYNTHETIC_STIFFNESS = 0.45


@dataclass(frozen=True)
class StringData:
    """One string of one kind of instrument, full size, steel core.

    ``note_number`` is the open string's semitone number (A4 = 69); ``fifths_above_a`` counts perfect fifths from the
    A string (negative below it); tension and stiffness in newtons.
    """

    name: str
    roman: Roman
    note_number: int
    fifths_above_a: int
    tension_n: float
    stiffness_n: float

    @property
    def side(self) -> Side:
        """Which side of the pegbox its peg sits on: strings I and II treble, III and IV bass."""
        return "treble" if self.roman in ("I", "II") else "bass"


@dataclass(frozen=True)
class Instrument:
    """One kind of instrument. Lengths in mm; ``lengths_mm`` maps a size to its vibrating length."""

    kind: Kind
    strings: tuple[StringData, ...]
    lengths_mm: dict[str, float]
    full_size: str
    extra_length_mm: float
    peg_radius_mm: float
    stretch_per_turn_mm: float

    @cached_property
    def string_names(self) -> tuple[str, ...]:
        """Names from the thickest to the thinnest."""
        return tuple(each.name for each in self.strings)

    def string(self, name: str, *, field: str = "string") -> StringData:
        """The string of that name.

        Raises BadInput naming the strings there are.

        >>> INSTRUMENTS["viola"].string("E")
        Traceback (most recent call last):
        ...
        pondus.core.errors.BadInput: A viola has no “E” string; its strings are C, G, D, A.
        """
        for each in self.strings:
            if each.name == name:
                return each
        raise BadInput(field, f"A {self.kind} has no “{name}” string; its strings are {', '.join(self.string_names)}.")

    def size(self, size: str | None) -> str:
        """The size as listed; None means the full size.

        Raises BadInput naming the sizes there are.
        """
        if size is None:
            return self.full_size
        if self.kind == "viola" and size == "4/4":
            return "16"
        if size not in self.lengths_mm:
            raise BadInput("size", f"A {self.kind} has no size “{size}”; sizes are {', '.join(self.lengths_mm)}.")
        return size


def _strings(*rows: tuple[str, float, float]) -> tuple[StringData, ...]:
    """Build IV to I from (note with octave, tension N, stiffness N) rows."""
    romans: tuple[Roman, ...] = ("IV", "III", "II", "I")
    names = [note[0] for note, _, _ in rows]
    built = []
    for position, (note, tension, stiffness) in enumerate(rows):
        number = parse_note(note).number
        assert number is not None
        built.append(StringData(note[0], romans[position], number, position - names.index("A"), tension, stiffness))
    return tuple(built)


INSTRUMENTS: dict[str, Instrument] = {
    "violin": Instrument(
        kind="violin",
        strings=_strings(("G3", 47, 3200), ("D4", 43, 3600), ("A4", 56, 5500), ("E5", 78, 10500)),
        lengths_mm={
            "4/4": 328,
            "3/4": 310,
            "1/2": 287,
            "1/4": 259,
            "1/8": 235,
            "1/10": 218,
            "1/16": 200,
        },
        full_size="4/4",
        extra_length_mm=100,
        peg_radius_mm=3.9,
        stretch_per_turn_mm=0.20,
    ),
    "viola": Instrument(
        kind="viola",
        strings=_strings(("C3", 52, 3600), ("G3", 50, 4000), ("D4", 54, 5000), ("A4", 76, 7500)),
        lengths_mm={
            "16.5": 385,
            "16": 375,
            "15.5": 365,
            "15": 355,
            "14": 335,
            "13": 313,
            "12": 290,
        },
        full_size="16",
        extra_length_mm=115,
        peg_radius_mm=4.2,
        stretch_per_turn_mm=0.22,
    ),
    "cello": Instrument(
        kind="cello",
        strings=_strings(("C2", 132, 12000), ("G2", 134, 13000), ("D3", 140, 14000), ("A3", 165, 15500)),
        lengths_mm={"4/4": 690, "3/4": 640, "1/2": 585, "1/4": 515, "1/8": 445},
        full_size="4/4",
        extra_length_mm=195,
        peg_radius_mm=6.3,
        stretch_per_turn_mm=0.28,
    ),
}


def instrument_named(kind: str, *, field: str = "instrument") -> Instrument:
    """The instrument of that kind.

    Raises BadInput naming the kinds there are.

    >>> instrument_named("harp")
    Traceback (most recent call last):
    ...
    pondus.core.errors.BadInput: “harp” is not an instrument Pondus tunes; it knows violin, viola and cello.
    """
    if kind not in INSTRUMENTS:
        raise BadInput(field, f"“{kind}” is not an instrument Pondus tunes; it knows violin, viola and cello.")
    return INSTRUMENTS[kind]
