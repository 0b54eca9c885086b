"""In which order the strings are gone over (a studio's or a teacher's choice)."""

from typing import Literal

from pondus.core.instruments import Instrument

StringOrder = Literal["A-outward", "top-down", "low-up"]


def order_of(instrument: Instrument, order: StringOrder) -> tuple[str, ...]:
    """The order in which a school goes over the strings.

    >>> from pondus.core.instruments import INSTRUMENTS
    >>> [" ".join(order_of(INSTRUMENTS["violin"], each)) for each in ("A-outward", "top-down", "low-up")]
    ['A D G E', 'E A D G', 'G D A E']
    >>> order_of(INSTRUMENTS["cello"], "A-outward")
    ('A', 'D', 'G', 'C')
    """
    low_up = instrument.string_names
    if order == "low-up":
        return low_up
    if order == "top-down":
        return low_up[::-1]
    a = low_up.index("A")
    return (*low_up[a::-1], *low_up[a + 1 :])
