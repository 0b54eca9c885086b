"""Intervals between neighbouring strings.

A pure fifth is 3:2, 701.955 cents. Beats come from the shared partial, the third of the lower string against the second
of the upper: ``|3 f_low - 2 f_up|`` per second. Positive ``from_pure_cents`` is too wide.
"""

from dataclasses import dataclass

from pondus.core.pitch import cents_between
from pondus.core.targets import PURE_FIFTH_CENTS


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
