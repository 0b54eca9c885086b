"""Two neighbouring strings sounding together: both pitches and the fifth between them.

Each is sought and followed on its own partials (`two_strings`), and measured in the frames in which both are steady. A pair
that isn't the asked one leaves no partials where ours should be, and is refused.
"""

import math
from dataclasses import dataclass
from itertools import pairwise
from typing import Literal

from pondus.core.errors import BadInput
from pondus.core.fifths.beats import Fifth, fifth_between
from pondus.core.hearing.hear import SILENT_BELOW_DB, Refusal, hear, peak_db
from pondus.core.hearing.partials import HOP_SECONDS, Fit, fit
from pondus.core.hearing.sound import Sound, at_working_rate
from pondus.core.hearing.two_strings import TOGETHER_AT_LEAST_SECONDS, WEAKEST_DB, Sought, seek, strands, upper_louder_db
from pondus.core.instruments import Instrument
from pondus.core.instruments.targets import TEMPERED_FIFTH_CENTS, targets_hz
from pondus.core.pitch.notes import A4_HZ

FifthReason = Literal["silent", "noisy", "too-short", "unsteady", "one-string", "other-strings", "too-far", "not-together"]
FIFTH_REFUSED_SAID: dict[FifthReason, str] = {
    "silent": "silent; record it closer",
    "noisy": "no string to be heard, only noise; play on",
    "too-short": "too short; let both strings sound for a second",
    "unsteady": "the pitch wanders; play one soft, long, even double stop",
    "one-string": "only one string sounds; bow both together",
    "other-strings": "other strings than these two",
    "too-far": "more than a semitone from a fifth; tune each string alone first",
    "not-together": "the strings sound one after the other; bow both together, or read each alone",
}
BALANCED_WITHIN_DB = 14.0
"""One so far under the other, both on their unshared partials, is another player's, or only rings along."""
ERROR_AT_MOST_CENTS = 2.0
"""A fifth known worse than this can't tell pure from tempered (1.955 cents apart)."""
FLOOR_ERROR_CENTS = 0.05
"""What bow and hand leave uncertain however long one listens."""


@dataclass(frozen=True)
class DoubleStop:
    """Both strings of a double stop: first partials in Hz, the fifth between them, its standard error in cents, for how
    long both were steady together, and a confidence from 0 to 1.
    """

    lower_hz: float
    upper_hz: float
    fifth: Fifth
    plus_minus_cents: float
    seconds_steady: float
    confidence: float


@dataclass(frozen=True)
class FifthRefusal:
    """Why a sound gives no fifth; ``heard`` names the strings that do sound in it, thickest first."""

    reason: FifthReason
    heard: tuple[str, ...] = ()


def check_neighbours(instrument: Instrument, strings: tuple[str, str], *, field: str = "strings") -> tuple[str, str]:
    """The pair, if they are two neighbouring strings, lower first. Raises BadInput.

    >>> from pondus.core.instruments import INSTRUMENTS
    >>> check_neighbours(INSTRUMENTS["cello"], ("A", "D"))
    Traceback (most recent call last):
    ...
    pondus.core.errors.BadInput: A and D make no fifth on a cello; give two neighbours, lower first: C,G; G,D or D,A.
    """
    lower, upper = strings
    for string in strings:
        instrument.string(string, field=field)
    names = instrument.string_names
    if names.index(upper) - names.index(lower) != 1:
        pairs = [f"{a},{b}" for a, b in pairwise(names)]
        raise BadInput(
            field,
            f"{lower} and {upper} make no fifth on a {instrument.kind}; give two neighbours, lower first:"
            f" {'; '.join(pairs[:-1])} or {pairs[-1]}.",
        )
    return lower, upper


def hear_fifth(
    sound: Sound,
    instrument: Instrument,
    *,
    strings: tuple[str, str],
    a4: float = A4_HZ,
    fifth_cents: float = TEMPERED_FIFTH_CENTS,
) -> DoubleStop | FifthRefusal:
    """Hear two neighbouring strings (lower first) sounding together, each up to 120 cents from its target.

    Silence gives ``FifthRefusal("silent")``. Raises BadInput for strings that are no neighbours.
    """
    check_neighbours(instrument, strings)
    slower = at_working_rate(sound)
    if len(slower.samples) == 0 or peak_db(slower) < SILENT_BELOW_DB:
        return FifthRefusal("silent")
    targets = targets_hz(instrument, a4=a4, fifth_cents=fifth_cents)
    sought = seek(slower, targets, strings)
    if sought is None:
        return FifthRefusal("too-short")
    return _measured(slower, sought) if sought.is_there else _refused(slower, instrument, sought, targets)


def hear_any_fifth(
    sound: Sound, instrument: Instrument, *, a4: float = A4_HZ, fifth_cents: float = TEMPERED_FIFTH_CENTS
) -> tuple[tuple[str, str], DoubleStop] | FifthRefusal:
    """Hear whichever two neighbours sound together: their names, lower first, and what was heard."""
    slower = at_working_rate(sound)
    if len(slower.samples) == 0 or peak_db(slower) < SILENT_BELOW_DB:
        return FifthRefusal("silent")
    targets = targets_hz(instrument, a4=a4, fifth_cents=fifth_cents)
    sought = [asked for pair in pairwise(instrument.string_names) if (asked := seek(slower, targets, pair)) is not None]
    refusal = FifthRefusal("too-short") if not sought else None
    for pair_sought in (pair for pair in sought if pair.is_there):
        heard = _measured(slower, pair_sought)
        if isinstance(heard, DoubleStop):
            return pair_sought.strings, heard
        refusal = refusal or heard
    return refusal or _refused(slower, instrument, sought[0], targets)


def _refused(sound: Sound, instrument: Instrument, sought: Sought, targets: dict[str, float]) -> FifthRefusal:
    """Another pair, too far from a fifth, one string alone, or nothing that is a string."""
    for pair in pairwise(instrument.string_names):
        other = seek(sound, targets, pair) if pair != sought.strings else None
        if other is not None and other.is_there:
            return FifthRefusal("other-strings", pair)
    both = (sought.lower, sought.upper)
    sounding = tuple(name for name, found in zip(sought.strings, both, strict=True) if found.sounds)
    if len(sounding) == 2:
        return FifthRefusal("too-far", sounding)
    if sounding:
        return FifthRefusal("one-string", sounding)
    alone = hear(sound, instrument)
    return FifthRefusal("noisy") if isinstance(alone, Refusal) else FifthRefusal("one-string", (alone.string,))


def _measured(sound: Sound, sought: Sought) -> DoubleStop | FifthRefusal:
    """From a few cents to a fraction of one, over the frames in which both strings are steady."""
    both = strands(sound, sought)
    if both is None:
        return FifthRefusal("too-short")
    lower, upper = both
    louder_db = upper_louder_db(lower, upper)
    if louder_db is None:
        return FifthRefusal("not-together")
    if abs(louder_db) > BALANCED_WITHIN_DB:
        return FifthRefusal("one-string", (sought.strings[1] if louder_db > 0.0 else sought.strings[0],))
    together = lower.sounding & upper.sounding
    calm = together & lower.past_attack & upper.past_attack
    usable = calm if calm.sum() * HOP_SECONDS >= TOGETHER_AT_LEAST_SECONDS else together
    steady = usable & lower.steady(usable) & upper.steady(usable)
    if steady.sum() * HOP_SECONDS < TOGETHER_AT_LEAST_SECONDS:
        return FifthRefusal("unsteady")
    fits = (fit(lower.demodulated, steady, weakest_db=WEAKEST_DB), fit(upper.demodulated, steady, weakest_db=WEAKEST_DB))
    if fits[0] is None or fits[1] is None:
        return FifthRefusal("noisy")
    return _result(fits[0], fits[1], float(steady.sum() * HOP_SECONDS))


def _result(lower: Fit, upper: Fit, seconds: float) -> DoubleStop | FifthRefusal:
    error = math.sqrt(lower.error_cents**2 + upper.error_cents**2 + FLOOR_ERROR_CENTS**2)
    if error > ERROR_AT_MOST_CENTS:
        return FifthRefusal("unsteady")
    sure = min(1.0, seconds / 0.8) / (1.0 + (error / 0.5) ** 2)
    return DoubleStop(lower.hz, upper.hz, fifth_between(lower.hz, upper.hz), error, seconds, sure)
