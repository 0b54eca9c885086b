"""Intervals between neighbouring strings, and how they beat.

A pure fifth is 3:2, 701.955 cents. Beats come from the shared partial, the third of the lower string against the second
of the upper: ``|3 f_low - 2 f_up|`` per second. Positive ``from_pure_cents`` is too wide. A bowed string's partials are
whole multiples of its first; a plucked stiff string's lie a little higher, so that it may beat a hair off this figure.
"""

import math
from dataclasses import dataclass

from pondus.core.errors import BadInput
from pondus.core.instruments.targets import PURE_FIFTH_CENTS
from pondus.core.pitch.notes import cents_between

SLOWEST_COUNTED_HZ = 0.2
"""A beat that takes longer than five seconds is waited for, not counted."""
COUNTED_MOST_HZ, FURTHEST_CHECKED_CENTS = 8.0, 200.0
"""Faster than this it is a roughness, not beats."""


@dataclass(frozen=True)
class Fifth:
    """One fifth: its width, its distance from pure, and how fast it beats."""

    interval_cents: float
    from_pure_cents: float
    beats_hz: float


def fifth_between(lower_hz: float, upper_hz: float) -> Fifth:
    """The interval between two strings, lower first.

    >>> round(fifth_between(293.665, 440.0).beats_hz, 3)
    0.995
    >>> fifth_between(200.0, 300.0).beats_hz
    0.0
    """
    interval = cents_between(upper_hz, lower_hz)
    return Fifth(interval, interval - PURE_FIFTH_CENTS, abs(3.0 * lower_hz - 2.0 * upper_hz))


def fifth_from_pure(lower_hz: float, from_pure_cents: float) -> Fifth:
    """The fifth over a lower string that is so wide, with the beats it makes.

    >>> fifth_from_pure(200.0, 0.0).beats_hz
    0.0
    """
    beats = 3.0 * lower_hz * abs(2.0 ** (from_pure_cents / 1200.0) - 1.0)
    return Fifth(PURE_FIFTH_CENTS + from_pure_cents, from_pure_cents, beats)


def beats_per_cent(lower_hz: float) -> float:
    """Beats per second that one cent makes near pure: ``3 f_low ln 2 / 1200``.

    >>> [round(beats_per_cent(hz), 2) for hz in (195.998, 293.665, 440.0, 65.406, 97.999, 146.832)]
    [0.34, 0.51, 0.76, 0.11, 0.17, 0.25]
    """
    return 3.0 * lower_hz * math.log(2.0) / 1200.0


def from_pure_of_beats(lower_hz: float, beats_hz: float) -> float:
    """How far from pure, in cents and without direction, a fifth is that beats so fast.

    Raises BadInput for a rate that can't have been counted.

    >>> round(from_pure_of_beats(293.665, 0.9946), 2)
    1.95
    """
    if not 0.0 <= beats_hz <= COUNTED_MOST_HZ:
        raise BadInput(
            "beats_hz",
            f"{beats_hz:g} beats a second can't be counted; up to {COUNTED_MOST_HZ:g} can. Bring the fifth nearer by its"
            " two readings first.",
        )
    return 1200.0 * math.log2(1.0 + beats_hz / (3.0 * lower_hz))


def seconds_for_one_beat(lower_hz: float, cents: float) -> float:
    """How long one beat takes that many cents from pure.

    >>> round(seconds_for_one_beat(65.406, 0.5))
    18
    """
    return 1.0 / (beats_per_cent(lower_hz) * abs(cents))


def too_slow_to_count(lower_hz: float, *, tolerance_cents: float) -> bool:
    """Whether an error that matters would beat slower than anyone counts: then compare harmonics.

    >>> too_slow_to_count(65.406, tolerance_cents=1.0), too_slow_to_count(440.0, tolerance_cents=1.0)
    (True, False)
    """
    return beats_per_cent(lower_hz) * tolerance_cents < SLOWEST_COUNTED_HZ


@dataclass(frozen=True)
class HarmonicsPair:
    """The two harmonics that cellists compare: the upper string's octave (half its length) and the lower's twelfth (a
    third of its length). ``twelfth_above_octave_cents`` is 0 when the fifth is pure; a wide fifth leaves the twelfth below.
    """

    octave_hz: float
    twelfth_hz: float
    twelfth_above_octave_cents: float


def harmonics_of(lower_hz: float, upper_hz: float) -> HarmonicsPair:
    """The pair of harmonics of two strings.

    >>> pair = harmonics_of(97.9989, 146.8324)
    >>> round(pair.twelfth_above_octave_cents, 2)
    1.96
    """
    octave, twelfth = 2.0 * upper_hz, 3.0 * lower_hz
    return HarmonicsPair(octave, twelfth, cents_between(twelfth, octave))


def strings_of_harmonics(*, octave_hz: float, twelfth_hz: float) -> tuple[float, float]:
    """Where the lower and the upper string stand, in Hz, by the harmonics they sound.

    >>> strings_of_harmonics(octave_hz=440.0, twelfth_hz=441.0)
    (147.0, 220.0)
    """
    return twelfth_hz / 3.0, octave_hz / 2.0


def checked_fifth(lower_hz: float, upper_hz: float) -> Fifth:
    """The fifth between two strings as somebody heard them. Raises BadInput where they are nowhere near one."""
    fifth = fifth_between(lower_hz, upper_hz)
    if abs(fifth.from_pure_cents) > FURTHEST_CHECKED_CENTS:
        raise BadInput("check", f"{lower_hz:.1f} and {upper_hz:.1f} Hz aren't a fifth; hear the two strings again.")
    return fifth
