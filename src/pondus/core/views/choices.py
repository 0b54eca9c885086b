"""What a person can choose from, and how each choice is said. Names are the rules' own; nothing is decided here."""

from dataclasses import dataclass
from typing import Literal

from pondus.core.group.jobs import Clearance
from pondus.core.group.people import Role
from pondus.core.instruments import StringCore
from pondus.core.instruments.holds import HOLDS
from pondus.core.instruments.targets import PURE_FIFTH_CENTS, TEMPERED_FIFTH_CENTS
from pondus.core.judgement.approaches import APPROACHES
from pondus.core.judgement.situation import BridgeState, PegKind, PegState, StringPlace, Turning, Who, Winding
from pondus.core.judgement.string_order import StringOrder
from pondus.core.pitch.notes import Spelling

TemperamentName = Literal["tempered", "between", "pure"]
BETWEEN_CENTS = 701.0


@dataclass(frozen=True)
class Choice:
    """A value and how it is said; ``why`` where there is a reason to know, ``fifth_cents`` of a temperament."""

    value: str | float
    said: str
    why: str = ""
    fifth_cents: float = 0.0


STANCES = [Choice(hold.stance, hold.said) for hold in HOLDS.values()]
APPROACH_CHOICES = [Choice(one.name, one.said, one.why) for one in APPROACHES.values()]
TOLERANCES = [Choice(5.0, "close, ±5"), Choice(3.0, "good, ±3"), Choice(1.0, "exact, ±1")]
A4 = [Choice(hz, f"{hz:g} Hz") for hz in (415.0, 438.0, 440.0, 441.0, 442.0, 443.0)]
TEMPERAMENTS = [
    Choice("tempered", "tempered, as tuners show", fifth_cents=TEMPERED_FIFTH_CENTS),
    Choice("between", f"between ({BETWEEN_CENTS:g})", fifth_cents=BETWEEN_CENTS),
    Choice("pure", "pure", fifth_cents=PURE_FIFTH_CENTS),
]
_WHO: dict[Who, str] = {
    "teacher": "teacher",
    "adult": "another adult",
    "student-pegs": "student, pegs too",
    "student-fine-tuners": "student, fine tuners only",
}
_ORDERS: dict[StringOrder, str] = {
    "A-outward": "A, then outwards",
    "top-down": "from the top down",
    "low-up": "from the lowest up",
}
_SPELLINGS: dict[Spelling, str] = {
    "sharps": "C D E, F♯",
    "flats": "C D E, G♭",
    "german": "German, H and B",
    "do-re-mi": "Do Ré Mi",
    "do-re-mi-french": "Do Ré Mi, reference La3",
}
_ROLES: dict[Role, str] = {"teacher": "teacher", "helper": "helper", "player": "player"}
_CLEARANCES: dict[Clearance, str] = {"teacher": "everything", "pegs": "pegs too", "fine-tuners": "fine tuners only"}
_CORES: dict[StringCore, str] = {"steel": "steel", "synthetic": "synthetic"}
_PEG_KINDS: dict[PegKind, str] = {"friction": "wooden, friction", "geared": "geared inside"}
_PEG_STATES: dict[PegState, str] = {"ok": "turns well", "slips": "slips back", "sticks": "sticks", "out": "has popped out"}
_WINDINGS: dict[Winding, str] = {"normal": "over the front, as usual", "reversed": "the other way round"}
CORES = [Choice(name, said) for name, said in _CORES.items()]
PEG_KINDS = [Choice(name, said) for name, said in _PEG_KINDS.items()]
PEG_STATES = [Choice(name, said) for name, said in _PEG_STATES.items()]
WINDINGS = [Choice(name, said) for name, said in _WINDINGS.items()]
SCREW_PLACES = [
    Choice(-1.0, "all out"),
    Choice(-0.5, "half out"),
    Choice(0.0, "middle"),
    Choice(0.5, "half in"),
    Choice(1.0, "all in"),
]
"""Where a screw stands, as a share of its reach, + screwed in."""
_STRING_STATES: dict[StringPlace, str] = {
    "on": "on, and sounds",
    "floppy": "floppy, no pitch",
    "broken": "broken",
    "off": "missing",
}
_BRIDGE_STATES: dict[BridgeState, str] = {
    "stands": "stands",
    "leans": "leans a little",
    "moved": "has moved, or is warped",
    "fallen": "has fallen",
}
_TURNINGS: dict[Turning, str] = {"while-sounding": "while it sounds", "step-by-step": "turn, then read"}
STRING_STATES = [Choice(name, said) for name, said in _STRING_STATES.items()]
BRIDGE_STATES = [Choice(name, said) for name, said in _BRIDGE_STATES.items()]
TURNINGS = [Choice(name, said) for name, said in _TURNINGS.items()]
WHO = [Choice(name, said) for name, said in _WHO.items()]
ORDERS = [Choice(name, said) for name, said in _ORDERS.items()]
SPELLINGS = [Choice(name, said) for name, said in _SPELLINGS.items()]
ROLES = [Choice(name, said) for name, said in _ROLES.items()]
CLEARANCES = [Choice(name, said) for name, said in _CLEARANCES.items()]


def temperament_named(fifth_cents: float) -> TemperamentName:
    """Which of the three a width of fifths is, in cents.

    >>> [temperament_named(width) for width in (700.0, 701.0, 701.955)]
    ['tempered', 'between', 'pure']
    """
    if fifth_cents < TEMPERED_FIFTH_CENTS + 0.01:
        return "tempered"
    return "pure" if fifth_cents > PURE_FIFTH_CENTS - 0.005 else "between"
