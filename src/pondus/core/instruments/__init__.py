"""Violin, viola and cello as data, one module each. A new kind, of three to six strings in fifths, is a module beside them, a
line in ``INSTRUMENTS``, its name in ``Kind`` and a migration that lets the store hold it.

Besides: targets (which Hz a string should have), mechanics (cents per turn and degree, breaking), holds, pegboxes. It may
import `pitch`. Begin with `base`.
"""

from pondus.core.errors import BadInput
from pondus.core.instruments.base import ROMANS, SYNTHETIC_STIFFNESS, Instrument, Kind, Roman, Side, StringCore, StringData
from pondus.core.instruments.cello import CELLO
from pondus.core.instruments.viola import VIOLA
from pondus.core.instruments.violin import VIOLIN

__all__ = [
    "INSTRUMENTS",
    "KINDS",
    "ROMANS",
    "SYNTHETIC_STIFFNESS",
    "Instrument",
    "Kind",
    "Roman",
    "Side",
    "StringCore",
    "StringData",
    "instrument_named",
]

INSTRUMENTS: dict[str, Instrument] = {instrument.kind: instrument for instrument in (VIOLIN, VIOLA, CELLO)}
KINDS: tuple[Kind, ...] = tuple(instrument.kind for instrument in INSTRUMENTS.values())


def instrument_named(kind: str, *, field: str = "instrument") -> Instrument:
    """The instrument of that kind.

    Raises BadInput naming the kinds there are.

    >>> instrument_named("harp")
    Traceback (most recent call last):
    ...
    pondus.core.errors.BadInput: “harp” is not an instrument Pondus tunes; it knows violin, viola and cello.
    """
    if kind not in INSTRUMENTS:
        raise BadInput(field, f"“{kind}” is not an instrument Pondus tunes; it knows {', '.join(KINDS[:-1])} and {KINDS[-1]}.")
    return INSTRUMENTS[kind]
