"""What all strings say together, before anything is turned: another reference, cold wood, another instrument."""

from collections.abc import Mapping

from pondus.core.instruments import INSTRUMENTS, Instrument
from pondus.core.instruments.targets import targets_hz
from pondus.core.pitch.notes import cents_between, shift_hz

ALIKE_WITHIN_CENTS, ALIKE_FROM_CENTS = 3.0, 8.0
"""R123: strings that are all off by the same, this nearly, and by at least so much."""
ANOTHERS_WITHIN_CENTS = 60.0


def all_alike(off: Mapping[str, float], *, a4: float, strings: int) -> str | None:
    """R123: all strings off by the same are rarely as many pegs. ``off``: cents by string; ``a4``: the reference in Hz.

    >>> all_alike({"G": -20.0, "D": -21.0, "A": -19.0, "E": -20.0}, a4=440.0, strings=4)[:59]
    'All four are flat by about 20 cents. Look before anything i'
    >>> all_alike({"G": -20.0, "D": -21.0, "A": -2.0, "E": -20.0}, a4=440.0, strings=4) is None
    True
    """
    if len(off) < strings or max(off.values()) - min(off.values()) > ALIKE_WITHIN_CENTS:
        return None
    middle = sum(off.values()) / len(off)
    if abs(middle) < ALIKE_FROM_CENTS:
        return None
    where, other = "flat" if middle < 0 else "sharp", shift_hz(a4, middle)
    return (
        f"All {_NUMBERS.get(strings, strings)} are {where} by about {abs(middle):.0f} cents. Look before anything is turned: is"
        f" the tuner set to {a4:g} Hz (they would be right at {other:.0f}), or has the instrument come in from the"
        f" {'warm' if middle < 0 else 'cold'}?"
    )


_NUMBERS = {3: "three", 4: "four", 5: "five", 6: "six"}


def another_instrument(instrument: Instrument, off: Mapping[str, float], *, a4: float, fifth_cents: float) -> str | None:
    """R123: readings that fit another kind's open strings, place by place. ``off``: cents by string, on this instrument.

    >>> violin = INSTRUMENTS["violin"]
    >>> c_g_d_a = {"G": -700.0, "D": -702.0, "A": -699.0, "E": -690.0}
    >>> another_instrument(violin, c_g_d_a, a4=440.0, fifth_cents=700.0)
    'These read C G D A: a viola’s strings, or this is a viola. See which before anything is turned.'
    """
    if len(off) < len(instrument.strings):
        return None
    own = targets_hz(instrument, a4=a4, fifth_cents=fifth_cents)
    heard = [shift_hz(own[name], off[name]) for name in instrument.string_names]
    if max(abs(cents) for cents in off.values()) <= ANOTHERS_WITHIN_CENTS:
        return None
    for other in INSTRUMENTS.values():
        targets = list(targets_hz(other, a4=a4, fifth_cents=fifth_cents).values())
        if other.kind == instrument.kind or len(targets) != len(heard):
            continue
        apart = (abs(cents_between(one, target)) for one, target in zip(heard, targets, strict=True))
        if all(cents <= ANOTHERS_WITHIN_CENTS for cents in apart):
            names = " ".join(other.string_names)
            return (
                f"These read {names}: a {other.kind}’s strings, or this is a {other.kind}. See which before anything is turned."
            )
    return None
