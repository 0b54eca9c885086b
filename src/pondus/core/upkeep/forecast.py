"""How far a string will be off next morning, from how it was left and found again before.

A string that is left alone changes by ``a·√days + b·ΔT + c·ΔH + d·fresh``: it creeps (more in the first night than in the
tenth), steel goes flat as it warms, wood gives in damp, and a new string stretches for days. The four are learned from the
string's own nights by robust Bayesian regression, with what is usual as the prior; what is left over is the spread.
Cents; positive is sharp. A night runs from the last reading of one tuning to the first of the next.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from pondus.core.regression import Floats, robust_fit

CREEP_PRIOR, CREEP_SPREAD = -2.0, 2.5
PER_CELSIUS_PRIOR, PER_CELSIUS_SPREAD = -2.0, 1.5
PER_HUMIDITY_PRIOR, PER_HUMIDITY_SPREAD = -0.2, 0.3
FRESH_PRIOR, FRESH_SPREAD = -30.0, 25.0
STRETCH_DAYS = 2.0
NIGHT_SPREAD_CENTS, NIGHTS_BEHIND_IT = 5.0, 3.0
"""What a night's leftover spread is taken to be before anything is known, and how many nights that counts for."""
READING_ERROR_CENTS = 1.0
NIGHTS_LOOKED_AT = 120
SETTLED = 0.05
"""What is left of a string's freshness once it is settled: after six days."""
FAR_OFF = 6.0
"""Times the usual variance that one night counts for at most."""
USUAL_AIR = (PER_CELSIUS_PRIOR, PER_HUMIDITY_PRIOR)
UNKNOWN_CELSIUS, UNKNOWN_HUMIDITY = 2.0, 6.0
"""How far a room goes from one morning to the next, where nobody measured."""
GAVE_WAY_CENTS = 50.0
"""Lower than this overnight: no drift, the peg gave way."""


Word = Literal["flat", "in tune", "sharp"]


@dataclass(frozen=True)
class Night:
    """From one tuning to the next: how long, as left and as found (cents from the target), how the room changed (None: not
    known), and how long the string had been on when it was left (None: old).
    """

    days: float
    left_cents: float
    found_cents: float
    celsius_change: float | None = None
    humidity_change: float | None = None
    string_age_days: float | None = None

    @property
    def gave_way(self) -> bool:
        """Whether this was no drift: the peg slipped, or someone turned something."""
        return gave_way(self.found_cents - self.left_cents, string_age_days=self.string_age_days)


@dataclass(frozen=True)
class Forecast:
    """Where the string will stand, with one standard deviation, and the nights behind it. ``creep_cents``: what the first night
    alone makes, with its own.
    """

    cents: float
    plus_minus: float
    nights: int
    creep_cents: float
    creep_plus_minus: float

    def word(self, *, tolerance_cents: float) -> Word:
        """``flat``, ``sharp``, or ``in tune`` within the tolerance."""
        return standing_word(self.cents, tolerance_cents=tolerance_cents)


def standing_word(cents: float, *, tolerance_cents: float) -> Word:
    """Where so many cents are.

    >>> standing_word(-4.0, tolerance_cents=3.0), standing_word(2.0, tolerance_cents=3.0)
    ('flat', 'in tune')
    """
    return "in tune" if abs(cents) <= tolerance_cents else "flat" if cents < 0.0 else "sharp"


def gave_way(change_cents: float, *, string_age_days: float | None) -> bool:
    """Whether a night that changed a string so much was no drift. A new string stretches as much by itself.

    >>> gave_way(-80.0, string_age_days=None), gave_way(-80.0, string_age_days=1.0), gave_way(-8.0, string_age_days=None)
    (True, False, False)
    """
    return abs(change_cents) > GAVE_WAY_CENTS and _fresh(string_age_days) < SETTLED


def forecast(nights: Sequence[Night], ahead: Night) -> Forecast:
    """Where a string will be found after the night ``ahead`` (its ``found_cents`` is not looked at), by ``nights`` before it.

    >>> quiet = [Night(1.0, 0.0, -4.0)] * 20
    >>> told = forecast(quiet, Night(1.0, 1.0, math.nan))
    >>> round(told.cents), told.plus_minus < 5.0, told.nights
    (-3, True, 20)
    """
    last = nights[-NIGHTS_LOOKED_AT:]
    known = [night for night in last if math.isfinite(night.found_cents - night.left_cents) and not night.gave_way]
    design = np.array([_features(night) for night in known], dtype=np.float64).reshape(len(known), 4)
    changes = np.array([night.found_cents - night.left_cents for night in known], dtype=np.float64)
    expected = np.array([math.sqrt(_unexplained(night) + _unmeasured(night, *USUAL_AIR)) for night in known])
    fit = robust_fit(design, changes, prior=_PRIOR, prior_spread=_PRIOR_SPREAD, noise=lambda _: expected)
    share = _left_over(changes - design @ fit.coefficients, expected)
    row = np.array(_features(ahead))
    air = float(fit.coefficients[1]), float(fit.coefficients[2])
    unsure = float(row @ fit.covariance @ row) + share * _unexplained(ahead) + _unmeasured(ahead, *air)
    return Forecast(
        cents=ahead.left_cents + float(row @ fit.coefficients),
        plus_minus=math.sqrt(unsure),
        nights=len(known),
        creep_cents=float(fit.coefficients[0]),
        creep_plus_minus=float(math.sqrt(fit.covariance[0, 0])),
    )


_PRIOR = np.array([CREEP_PRIOR, PER_CELSIUS_PRIOR, PER_HUMIDITY_PRIOR, FRESH_PRIOR])
_PRIOR_SPREAD = np.array([CREEP_SPREAD, PER_CELSIUS_SPREAD, PER_HUMIDITY_SPREAD, FRESH_SPREAD])


def _features(night: Night) -> list[float]:
    fresh = _fresh(night.string_age_days) * (1.0 - math.exp(-night.days / STRETCH_DAYS))
    return [math.sqrt(max(0.0, night.days)), night.celsius_change or 0.0, night.humidity_change or 0.0, fresh]


def _fresh(string_age_days: float | None) -> float:
    """1 for a string just put on, falling as it stretches out."""
    return 0.0 if string_age_days is None else math.exp(-max(0.0, string_age_days) / STRETCH_DAYS)


def _unexplained(night: Night) -> float:
    """Variance of a night's change that nothing explains, as it usually is."""
    return 2.0 * READING_ERROR_CENTS**2 + NIGHT_SPREAD_CENTS**2 * max(0.1, night.days)


def _unmeasured(night: Night, per_celsius: float, per_humidity: float) -> float:
    """Variance that comes of air that nobody measured."""
    warmth = (per_celsius * UNKNOWN_CELSIUS) ** 2 if night.celsius_change is None else 0.0
    return warmth + ((per_humidity * UNKNOWN_HUMIDITY) ** 2 if night.humidity_change is None else 0.0)


def _left_over(off: Floats, expected: Floats) -> float:
    """The unexplained variance as a share of the usual, drawn towards that where few nights are known; single far-off nights
    weigh little.
    """
    clipped = np.minimum((off / expected) ** 2, FAR_OFF)
    return float((NIGHTS_BEHIND_IT + clipped.sum()) / (NIGHTS_BEHIND_IT + len(off)))
