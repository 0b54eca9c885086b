"""What is said of fifths. No rule is decided here."""

from pondus.core.fifths.beats import COUNTED_MOST_HZ, beats_per_cent, seconds_for_one_beat
from pondus.core.fifths.chain import Chain, Correction, Link, Pair
from pondus.core.instruments.targets import PURE_FIFTH_CENTS
from pondus.core.judgement import words
from pondus.core.pitch.notes import Spelling, nearest_note

STILL_BELOW_HZ = 0.05


REFERENCE = "A"
"""The string the others are tuned from; it is never the one to try a hair on."""


def width(off_cents: float, *, tolerance_cents: float) -> str:
    """How a fifth stands to the school.

    >>> width(4.2, tolerance_cents=3.0), width(-12.0, tolerance_cents=3.0), width(1.0, tolerance_cents=3.0)
    ('4.2 cents wide', '12 cents narrow', 'right')
    """
    if abs(off_cents) <= tolerance_cents + 1e-9:
        return "right"
    return f"{words.cents(off_cents)} {'wide' if off_cents > 0 else 'narrow'}"


def beats(beats_hz: float) -> str:
    """Beats per second in words.

    >>> beats(0.01), beats(0.994), beats(0.25), beats(23.0)
    ('still', '0.99 beats a second', 'one beat in 4 seconds', 'too fast to count')
    """
    if beats_hz < STILL_BELOW_HZ:
        return "still"
    if beats_hz > COUNTED_MOST_HZ:
        return "too fast to count"
    if beats_hz < 0.5:
        return f"one beat in {1.0 / beats_hz:.0f} seconds"
    return f"{beats_hz:.2f} beats a second"


def slow(lower: str, upper: str, lower_hz: float) -> str:
    """Why this fifth's beats aren't counted, and what to do instead."""
    return (
        f"{lower}–{upper} beats too slowly to count: a cent from pure is one beat in"
        f" {seconds_for_one_beat(lower_hz, 1.0):.0f} seconds. Compare its harmonics."
    )


def harmonics(lower: str, upper: str, octave_hz: float, *, a4: float, spelling: Spelling) -> str:
    """How to sound the two harmonics of a fifth, and what they should do."""
    note = nearest_note(octave_hz, a4=a4, spelling=spelling).name
    return (
        f"Touch {upper} lightly at half its length and {lower} at a third, from the nut: both sound {note}, one pitch"
        " against one pitch."
    )


def verdict(links: tuple[Link, ...], *, count: int, fifth_cents: float) -> str:
    """One sentence on the whole chain when nothing is left to do."""
    if len(links) < count:
        return "Bow two neighbours together, or read each string, to know the rest of the chain."
    if fifth_cents >= PURE_FIFTH_CENTS - 0.01:
        return "The chain is still: every fifth is pure, near enough. Leave it."
    return "Every fifth is right for this school. Leave it."


def mend(correction: Correction) -> str:
    """What to do, in a few words.

    >>> mend(Correction("D", 6.0, ("D", "A"), None, None, 6.0, 0.0))
    'Raise the D by 6 cents'
    """
    way = "Raise" if correction.change_cents > 0 else "Lower"
    return f"{way} the {correction.string} by {words.cents(correction.change_cents)}"


def mend_why(correction: Correction, chain: Chain) -> str:
    """Why that string, and what it does to the fifth that shares it."""
    if correction.string == "A":
        way = "flat" if correction.change_cents > 0 else "sharp"
        first = f"A is the reference, and it is {words.cents(correction.change_cents)} {way}: it comes first."
        return f"{first} {_shared(correction, chain)}".strip()
    if correction.right is None:
        return f"{correction.string} is {words.off(-correction.change_cents)} by itself. {_shared(correction, chain)}".strip()
    lower, upper = correction.right
    link = chain.link(lower, upper)
    off = 0.0 if link is None else link.from_temperament_cents
    fault = "flat" if correction.change_cents > 0 else "sharp"
    wide = "too wide" if off > 0 else "too narrow"
    against = upper if correction.string == lower else lower
    return (
        f"{lower}–{upper} is {words.cents(off)} {wide}: the {correction.string} is {fault} against the {against}, which is"
        f" nearer the reference and stays. {_shared(correction, chain)}"
    ).strip()


def _shared(correction: Correction, chain: Chain) -> str:
    """What happens to the other fifth of the string."""
    if correction.other is None or correction.other_after_cents is None:
        return ""
    link = chain.link(*correction.other)
    now = 0.0 if link is None else link.from_temperament_cents
    pair = "–".join(correction.other)
    after = width(correction.other_after_cents, tolerance_cents=0.5)
    before = width(now, tolerance_cents=0.5)
    return f"That takes {pair}, which shares it, from {before} to {after}."


def small_move(pair: Pair, beats_hz: float, lower_hz: float) -> str:
    """The test that tells which way tapped beats are out: on the string that isn't the reference, the upper one down, for a
    string let down a hair can't break.
    """
    lower, upper = pair
    tried = f"{upper} down" if lower == REFERENCE else f"{lower} up"
    cents_out = beats_hz / beats_per_cent(lower_hz)
    return (
        f"{beats(beats_hz).capitalize()}: {words.cents(cents_out)} from pure, but wide and narrow beat alike. Turn one string"
        f" a hair ({tried}, say), say which, and listen again: slower means the right way."
    )
