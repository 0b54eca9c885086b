"""A class tunes together to a sounding tone that steps through the strings; what everyone does at each step.

All instruments of the room tune the same note at once, each its own string of that name; whoever has none yet rests,
and once its own are done checks its outermost string against the next.
"""

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from typing import Literal

from pondus.core.errors import BadInput
from pondus.core.instruments import INSTRUMENTS, KINDS, Instrument, Kind
from pondus.core.instruments.targets import TEMPERED_FIFTH_CENTS, target_hz
from pondus.core.judgement.string_order import StringOrder, order_of
from pondus.core.pitch.notes import A4_HZ, Spelling, name_of

LEAST_SECONDS, MOST_SECONDS, USUAL_SECONDS = 10.0, 180.0, 30.0
LENGTHS_S = (20.0, 30.0, 45.0, 60.0)
"""To choose from, in seconds."""
PLURAL: dict[Kind, str] = {"violin": "Violins", "viola": "Violas", "cello": "Cellos"}
Does = Literal["tune", "check", "rest"]


@dataclass(frozen=True)
class Part:
    """What one kind of instrument does at a step: its string to tune, the string to check, or rest; said in a few words."""

    kind: Kind
    who: str
    does: Does
    string: str | None
    note: str | None
    said: str


@dataclass(frozen=True)
class Step:
    """One note of the routine: its letter, the pitches that sound (Hz, lowest first), for how long, and what each does."""

    letter: str
    hz: tuple[float, ...]
    seconds: float
    parts: tuple[Part, ...]


def class_steps(
    kinds: Collection[Kind],
    *,
    order: StringOrder = "A-outward",
    seconds: float = USUAL_SECONDS,
    a4: float = A4_HZ,
    fifth_cents: float = TEMPERED_FIFTH_CENTS,
    spelling: Spelling = "sharps",
) -> tuple[Step, ...]:
    """The steps for the kinds that are in the room.

    Raises BadInput for an empty room, a kind there isn't, or a length that can't be.

    >>> [step.letter for step in class_steps(["violin", "cello"])]
    ['A', 'D', 'G', 'E', 'C']
    >>> [(part.who, part.said) for part in class_steps(["violin", "cello"])[3].parts]
    [('Violins', 'tune your E'), ('Cellos', 'rest: your C comes later')]
    """
    present = [kind for kind in KINDS if kind in kinds]
    if not present or len(present) != len(set(kinds)):
        raise BadInput("kinds", f"Which instruments are in the room? Name {', '.join(KINDS[:-1])} or {KINDS[-1]}, or several.")
    if not LEAST_SECONDS <= seconds <= MOST_SECONDS:
        raise BadInput("seconds", f"{seconds:g} seconds a string can't be right; choose {LEAST_SECONDS:g} to {MOST_SECONDS:g}.")
    instruments = [INSTRUMENTS[kind] for kind in present]
    steps: list[Step] = []
    for letter in _letters(instruments, order):
        hz = {
            target_hz(instrument.string(letter), a4=a4, fifth_cents=fifth_cents)
            for instrument in instruments
            if letter in instrument.string_names
        }
        done = [step.letter for step in steps]
        parts = tuple(_part(instrument, letter, done, spelling) for instrument in instruments)
        steps.append(Step(letter, tuple(sorted(hz)), seconds, parts))
    return tuple(steps)


def _letters(instruments: Sequence[Instrument], order: StringOrder) -> list[str]:
    """Every string's letter, each once, in the order asked for: those of most instruments keep their places."""
    letters: list[str] = []
    orders = [order_of(instrument, order) for instrument in instruments]
    for place in range(max(len(order) for order in orders)):
        for names in orders:
            if place < len(names) and names[place] not in letters:
                letters.append(names[place])
    if order == "low-up":
        return sorted(letters, key="CGDAE".index)
    return sorted(letters, key="EADGC".index) if order == "top-down" else letters


def _part(instrument: Instrument, letter: str, done: Sequence[str], spelling: Spelling) -> Part:
    who = PLURAL[instrument.kind]
    names = instrument.string_names
    if letter in names:
        note = name_of(instrument.string(letter).note_number, spelling=spelling)
        return Part(instrument.kind, who, "tune", letter, note, f"tune your {letter}")
    ahead = [name for name in names if name not in done and name != letter]
    if ahead:
        return Part(instrument.kind, who, "rest", None, None, f"rest: your {ahead[0]} comes later")
    beside = names[-1] if letter in "CG" else names[0]
    against = names[-2] if letter in "CG" else names[1]
    check = f"check your {beside} against your {against}, softly"
    return Part(instrument.kind, who, "check", beside, None, check)
