"""Where each open string should stand: tempered, pure, or a width between.

Tempered: each string at its equal-tempered pitch, a fifth is 700 cents, as an electronic tuner shows it.
Pure: A from the reference, then beatless 3:2 fifths of 701.955 cents (``1200*log2(3/2)``).
Between: any width from 700 to 701.955 cents. An offset is what the tempered tuner reads on a right string, in cents.
"""

import math

from pondus.core.errors import BadInput
from pondus.core.instruments import Instrument, StringData
from pondus.core.pitch.notes import A4_HZ, number_to_hz, shift_hz

TEMPERED_FIFTH_CENTS = 700.0
PURE_FIFTH_CENTS = 1200.0 * math.log2(1.5)
WIDEST_ACCEPTED_CENTS = 701.955
"""The pure fifth as people write it, to three places."""


def check_fifth_cents(width: float, *, field: str = "target.fifth_cents") -> float:
    """Return a fifth's width in cents if it lies between tempered and pure.

    Raises BadInput otherwise. 701.955 is taken as exactly pure.
    """
    if not (TEMPERED_FIFTH_CENTS <= width <= PURE_FIFTH_CENTS + 1e-4):
        raise BadInput(
            field,
            f"A fifth of {width:g} cents is outside 700 (tempered) to {WIDEST_ACCEPTED_CENTS} (pure); choose a width"
            " between them.",
        )
    return PURE_FIFTH_CENTS if width >= WIDEST_ACCEPTED_CENTS else width


def offset_cents(string: StringData, *, fifth_cents: float) -> float:
    """What a tempered tuner shows on this string when it is right, in cents.

    >>> from pondus.core.instruments import INSTRUMENTS
    >>> violin, cello = INSTRUMENTS["violin"], INSTRUMENTS["cello"]
    >>> [round(offset_cents(violin.string(s), fifth_cents=PURE_FIFTH_CENTS), 3) for s in "GDAE"]
    [-3.91, -1.955, 0.0, 1.955]
    >>> round(offset_cents(cello.string("C"), fifth_cents=PURE_FIFTH_CENTS), 3)
    -5.865
    """
    return (fifth_cents - TEMPERED_FIFTH_CENTS) * string.fifths_above_a


def target_hz(string: StringData, *, a4: float = A4_HZ, fifth_cents: float = TEMPERED_FIFTH_CENTS) -> float:
    """The frequency in Hz a string should sound.

    >>> from pondus.core.instruments import INSTRUMENTS
    >>> round(target_hz(INSTRUMENTS["cello"].string("C")), 3)
    65.406
    """
    tempered = number_to_hz(string.note_number, a4=a4)
    return shift_hz(tempered, offset_cents(string, fifth_cents=fifth_cents))


def targets_hz(instrument: Instrument, *, a4: float = A4_HZ, fifth_cents: float = TEMPERED_FIFTH_CENTS) -> dict[str, float]:
    """Every string's target in Hz, thickest first."""
    return {string.name: target_hz(string, a4=a4, fifth_cents=fifth_cents) for string in instrument.strings}
