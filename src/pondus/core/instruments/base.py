"""What every instrument is made of: strings, sizes, holds. One module beside this one per kind holds the figures.

Vibrating lengths are typical workshop figures per size; tensions (N), axial stiffness EA (N), extra length (afterlength and
pegbox part, mm), peg radius (mm) and string stretch per fine-tuner turn (mm) are typical of steel-core student strings,
collected 2026. Synthetic cores keep the tension and have 0.45 of the stiffness. Strings are listed from the thickest
(IV) to the thinnest (I), as seen with the scroll up.
"""

from dataclasses import dataclass
from functools import cached_property
from typing import Literal

from pondus.core.errors import BadInput
from pondus.core.instruments.holds import Stance
from pondus.core.pitch.notes import parse_note

Kind = Literal["violin", "viola", "cello"]
Side = Literal["bass", "treble"]
StringCore = Literal["steel", "synthetic"]
Roman = Literal["VI", "V", "IV", "III", "II", "I"]
PegRow = Literal["lower", "middle", "upper"]
PEG_ROWS: tuple[PegRow, ...] = ("lower", "middle", "upper")
ROMANS: tuple[Roman, ...] = ("I", "II", "III", "IV", "V", "VI")
FEWEST_STRINGS, MOST_STRINGS = 3, 6

SYNTHETIC_STIFFNESS = 0.45
"""Share of a steel core's stiffness that a synthetic core has (typical, collected 2026)."""


@dataclass(frozen=True)
class StringData:
    """One string of one kind of instrument, full size, steel core.

    ``note_number`` is the open string's semitone number (A4 = 69); ``fifths_above_a`` counts perfect fifths from the
    A string (negative below it); tension and stiffness in newtons. ``side`` and ``row`` of its peg in the pegbox, looking at
    the strings with the scroll up: the thinner half on the treble side, from below; the others on the bass side, the thickest
    lowest. ``thickness`` beside the instrument's other strings, 1 the thickest.
    """

    name: str
    roman: Roman
    note_number: int
    fifths_above_a: int
    tension_n: float
    stiffness_n: float
    side: Side
    row: PegRow
    thickness: float


@dataclass(frozen=True)
class Instrument:
    """One kind of instrument. Lengths in mm; ``lengths_mm`` maps a size to its vibrating length, ``size_aliases``
    another name of
    a size to that size. ``stances``: how it may be held, the usual one among them. ``delicate_string``: the thinnest of all and
    the first to snap, where there is one.
    """

    kind: Kind
    strings: tuple[StringData, ...]
    lengths_mm: dict[str, float]
    full_size: str
    size_aliases: dict[str, str]
    extra_length_mm: float
    peg_radius_mm: float
    stretch_per_turn_mm: float
    stances: tuple[Stance, ...]
    usual_stance: Stance
    delicate_string: str | None = None

    def __hash__(self) -> int:
        """By its kind: sizes are kept in dicts."""
        return hash(self.kind)

    @cached_property
    def string_names(self) -> tuple[str, ...]:
        """Names from the thickest to the thinnest."""
        return tuple(string.name for string in self.strings)

    def string(self, name: str, *, field: str = "string") -> StringData:
        """The string of that name.

        Raises BadInput naming the strings there are.

        >>> from pondus.core.instruments import INSTRUMENTS
        >>> INSTRUMENTS["viola"].string("E")
        Traceback (most recent call last):
        ...
        pondus.core.errors.BadInput: A viola has no “E” string; its strings are C, G, D, A.
        """
        for string in self.strings:
            if string.name == name:
                return string
        raise BadInput(field, f"A {self.kind} has no “{name}” string; its strings are {', '.join(self.string_names)}.")

    def size(self, size: str | None) -> str:
        """The size as listed; None means the full size.

        Raises BadInput naming the sizes there are.
        """
        if size is None:
            return self.full_size
        size = self.size_aliases.get(size, size)
        if size not in self.lengths_mm:
            raise BadInput("size", f"A {self.kind} has no size “{size}”; sizes are {', '.join(self.lengths_mm)}.")
        return size


def strings_of(*rows: tuple[str, float, float]) -> tuple[StringData, ...]:
    """Build the thickest to the thinnest from (note with octave, tension N, stiffness N) rows: three to six strings in fifths,
    an A among them.
    """
    count = len(rows)
    assert FEWEST_STRINGS <= count <= MOST_STRINGS
    names = [note[0] for note, _, _ in rows]
    built = []
    for position, (note, tension, stiffness) in enumerate(rows):
        number = parse_note(note).number
        assert number is not None
        from_thin = count - 1 - position
        treble = from_thin < count // 2
        on_side, place = (count // 2, from_thin) if treble else (count - count // 2, position)
        rows_there: tuple[PegRow, ...] = ("lower", "upper") if on_side < len(PEG_ROWS) else PEG_ROWS
        built.append(
            StringData(
                name=note[0],
                roman=ROMANS[from_thin],
                note_number=number,
                fifths_above_a=position - names.index("A"),
                tension_n=tension,
                stiffness_n=stiffness,
                side="treble" if treble else "bass",
                row=rows_there[place],
                thickness=1.0 - 0.8 * position / (count - 1),
            )
        )
    return tuple(built)
