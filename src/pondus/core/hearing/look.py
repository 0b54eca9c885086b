"""One look at a sound that comes in, and a reading that has settled in it."""

from dataclasses import dataclass
from typing import Literal

from pondus.core.hearing.hear import Reading, Reason
from pondus.core.pitch.notes import cents_between

Hears = Literal["quiet", "noise", "wavering", "steady"]
Ask = Literal["between-strings", "octave", "unsure", "softer"]

SURE_WITHIN_CENTS = 300.0
OCTAVE_WITHIN_CENTS, PLAUSIBLE_CENTS = 60.0, 100.0
HARMONICS_CENTS = (-1200.0, 1200.0, 1902.0, 2400.0)


@dataclass(frozen=True)
class Look:
    """One look: level in dB re full scale; pitch figures are None where no pitch was found.

    ``string`` is the asked string or the nearest one, ``string_cents`` the distance to its target.
    """

    hears: Hears
    level_db: float
    clipping: bool
    hz: float | None = None
    note: str | None = None
    cents: float | None = None
    string: str | None = None
    string_cents: float | None = None
    reason: Reason | None = None
    """Why this sounding has given no reading yet, though it has gone on for a while, or gave none though it is over."""
    is_softer: bool = False
    """Whether this sounding is so much softer than the instrument's own strings that it is taken for another's."""
    is_again: bool = False
    """Whether what was read already has just been heard again, and is the same."""
    room_db: float | None = None
    """How loud the room is around it, in dB re full scale; None: not known yet."""
    is_among_others: bool = False
    """Whether something has sounded for a while without a reading, and hardly stands out of the room."""
    is_beside_tone: bool = False
    """Whether the string's reference tone sounds with it."""


@dataclass(frozen=True)
class Settled:
    """A reading that has held. ``ask`` says why a person should confirm it before it is kept, or play again; None: keep it."""

    reading: Reading
    ask: Ask | None


def ask_about(reading: Reading, targets: dict[str, float]) -> Ask | None:
    """Why a reading of an unnamed string should be confirmed before it is kept, if it should.

    >>> from pondus.core.instruments import INSTRUMENTS
    >>> from pondus.core.instruments.targets import targets_hz
    >>> from pondus.core.pitch.notes import nearest_note
    >>> violin = targets_hz(INSTRUMENTS["violin"])
    >>> def at(hz: float, string: str) -> Reading:
    ...     off = cents_between(hz, violin[string])
    ...     return Reading(hz, nearest_note(hz), string, off, 0.1, 0.5, 0.9)
    >>> ask_about(at(441.0, "A"), violin), ask_about(at(392.0, "A"), violin), ask_about(at(358.0, "A"), violin)
    (None, 'octave', 'between-strings')
    """
    if abs(reading.string_cents) > PLAUSIBLE_CENTS:
        away = [cents_between(reading.hz, hz) for hz in targets.values()]
        if any(abs(cents - harmonic) <= OCTAVE_WITHIN_CENTS for cents in away for harmonic in HARMONICS_CENTS):
            return "octave"
    return "between-strings" if abs(reading.string_cents) > SURE_WITHIN_CENTS else None
