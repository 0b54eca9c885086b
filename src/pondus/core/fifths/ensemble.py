"""What a school does to the outer strings, and where players with different references or schools clash.

Every open string of a letter (all C, all G, ...) is compared across octaves, in cents against the tempered pitch of one
reference. A clash is how far apart the members' strings of one letter lie.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations

from pondus.core.errors import BadInput
from pondus.core.instruments import INSTRUMENTS, Instrument
from pondus.core.instruments.targets import PURE_FIFTH_CENTS, TEMPERED_FIFTH_CENTS, offset_cents, target_hz
from pondus.core.pitch.notes import A4_HZ, cents_between, number_to_hz

LETTERS = ("C", "G", "D", "A", "E")
PURE_THIRD_CENTS = 386.3137
FEW_NOTICE_CENTS = 3.0


@dataclass(frozen=True)
class TemperamentEffect:
    """What one width of fifths does: the lowest C and the violin's E against the tempered tuner, and the third between them
    (C to E, octaves taken out) against the pure 5:4. All in cents.
    """

    fifth_cents: float
    lowest_c_cents: float
    violin_e_cents: float
    third_from_pure_cents: float


@dataclass(frozen=True)
class Member:
    """One player: a name to know them by, the instrument, its reference and its width of fifths."""

    name: str
    instrument: Instrument
    a4: float = A4_HZ
    fifth_cents: float = TEMPERED_FIFTH_CENTS


@dataclass(frozen=True)
class LetterClash:
    """One letter across the ensemble. ``cents`` per member name that has such a string; ``apart_cents`` the most any two
    differ; ``beats_hz`` what those two make where both sound at the higher one's octave; ``between`` their names.
    """

    letter: str
    cents: dict[str, float]
    apart_cents: float
    beats_hz: float
    between: tuple[str, str] | None


def temperament_effect(fifth_cents: float) -> TemperamentEffect:
    """What a width of fifths does to the outermost strings.

    >>> pure = temperament_effect(PURE_FIFTH_CENTS)
    >>> [round(each, 3) for each in (pure.lowest_c_cents, pure.violin_e_cents, pure.third_from_pure_cents)]
    [-5.865, 1.955, 21.506]
    """
    low = offset_cents(INSTRUMENTS["cello"].string("C"), fifth_cents=fifth_cents) + 0.0
    high = offset_cents(INSTRUMENTS["violin"].string("E"), fifth_cents=fifth_cents)
    return TemperamentEffect(fifth_cents, low, high, 400.0 + high - low - PURE_THIRD_CENTS)


def clashes(members: Sequence[Member], *, a4: float = A4_HZ) -> list[LetterClash]:
    """Each letter's strings against the tempered pitch at ``a4``, lowest letter of the chain first.

    Raises BadInput for two members of one name.
    """
    names = [member.name for member in members]
    for name in names:
        if names.count(name) > 1:
            raise BadInput("members", f"Two members are called “{name}”; give each a name of its own.")
    table = []
    for letter in LETTERS:
        strings = {member.name: _string_hz(member, letter) for member in members if letter in member.instrument.string_names}
        if strings:
            table.append(_clash(letter, strings, members, a4))
    return table


def _string_hz(member: Member, letter: str) -> float:
    return target_hz(member.instrument.string(letter), a4=member.a4, fifth_cents=member.fifth_cents)


def _clash(letter: str, strings: dict[str, float], members: Sequence[Member], a4: float) -> LetterClash:
    by_name = {member.name: member for member in members}
    cents = {}
    for name, hz in strings.items():
        number = by_name[name].instrument.string(letter).note_number
        cents[name] = cents_between(hz, number_to_hz(number, a4=a4))
    widest = max(combinations(cents, 2), key=lambda two: abs(cents[two[0]] - cents[two[1]]), default=None)
    if widest is None:
        return LetterClash(letter, cents, 0.0, 0.0, None)
    apart = abs(cents[widest[0]] - cents[widest[1]])
    meet_hz = max(strings[name] for name in widest)
    return LetterClash(letter, cents, apart, meet_hz * (2.0 ** (apart / 1200.0) - 1.0), widest)


def clash_in_words(table: Sequence[LetterClash]) -> str:
    """One sentence on the worst of it."""
    worst = max(table, key=lambda clash: clash.apart_cents, default=None)
    if worst is None or worst.between is None:
        return "Choose two or more instruments that play together."
    first, second = worst.between
    if worst.apart_cents < 0.05:
        return "They agree: one reference, one school."
    far = f"{first} and {second} have their {worst.letter} {worst.apart_cents:.1f} cents apart"
    if worst.apart_cents < FEW_NOTICE_CENTS:
        return f"{far}; few people hear that."
    return f"{far}: {worst.beats_hz:.1f} beats a second in unison. Agree on one reference and one school."


WIDTHS = (TEMPERED_FIFTH_CENTS, 700.5, 701.0, 701.5, PURE_FIFTH_CENTS)
