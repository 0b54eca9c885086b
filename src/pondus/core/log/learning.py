"""What the log of moves teaches: cents per turn, cents per degree, pull between strings.

Each move with a reading before and after it is a measurement. The physics of `mechanics` is the prior; Bayesian linear
regression through the origin combines the two (`regression`), so that a slipped peg or a mistyped reading doesn't decide.
A new string or new fittings start anew: hand over only the moves made since. Amounts are signed, positive raises; changes in
cents.
"""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from pondus.core.mechanics import Rate
from pondus.core.regression import Floats, robust_fit

READING_ERROR_CENTS = 1.0
"""Spread of one reading; a change has two of them."""
SCREW_HAND_ERROR, PEG_HAND_ERROR = 0.15, 0.40
ONE_SIDED_SHARE = 0.2
"""Of a hand's error, however many moves there are: hands miss in one direction too, nut and bridge hold some of a turn back."""
COUPLING_PRIOR_SPREAD = 0.02
LARGEST_CHANGE_CENTS = 400.0
"""One move between two readings makes less; more is another string, an octave, or a misprint."""
SMALL_NUDGE_DEGREES, FEWEST_NUDGES = 1.25, 2
PEG_GAVE_WAY_CENTS = 5.0
"""A peg raise after which the string stands lower by more than this: the peg slipped back."""


@dataclass(frozen=True)
class Learned:
    """A value with its uncertainty (one standard deviation) and the number of moves behind it."""

    value: float
    plus_minus: float
    count: int


def learn_rate(amounts: ArrayLike, changes_cents: ArrayLike, *, prior: Rate, hand_error: float) -> Learned:
    """Cents made by one unit of movement.

    ``amounts`` (turns or degrees, signed) and ``changes_cents``: shape (moves,). ``hand_error`` is how far a hand misses
    the amount it means, as a share. No moves give the prior back with count 0.

    >>> learned = learn_rate([0.5, -0.5, 0.25], [21.0, -20.0, 10.5], prior=Rate(30.0, 10.5), hand_error=0.15)
    >>> round(learned.value), learned.count
    (40, 3)
    """
    x, y = _finite(amounts, changes_cents)
    believable = np.abs(y) <= LARGEST_CHANGE_CENTS
    x, y = x[believable], y[believable]
    if len(x) == 0:
        return Learned(prior.cents, prior.plus_minus, 0)
    value, spread = _robust_slope(x, y, prior=prior, hand_error=hand_error)
    return Learned(max(value, 0.05 * prior.cents), math.hypot(spread, ONE_SIDED_SHARE * hand_error * value), len(x))


def learn_peg_rate(degrees: ArrayLike, changes_cents: ArrayLike, *, prior: Rate) -> Learned:
    """As `learn_rate`, for a peg: the smallest nudges may only show how far it jumps, so they count where nothing else does."""
    x, y = _finite(degrees, changes_cents)
    larger = np.abs(x) > SMALL_NUDGE_DEGREES
    if larger.sum() >= FEWEST_NUDGES:
        x, y = x[larger], y[larger]
    return learn_rate(x, y, prior=prior, hand_error=PEG_HAND_ERROR)


def learn_coupling(moved_cents: ArrayLike, others_cents: ArrayLike, *, prior: float) -> Learned:
    """Cents of another string per cent of the moved one (negative: it gives way).

    Both shape (moves,): how far the moved string went, and the other between its readings around that move.
    """
    x, y = _finite(moved_cents, others_cents)
    if len(x) == 0:
        return Learned(prior, COUPLING_PRIOR_SPREAD, 0)
    value, spread = _robust_slope(x, y, prior=Rate(prior, COUPLING_PRIOR_SPREAD), hand_error=0.0)
    return Learned(value, spread, len(x))


def _finite(first: ArrayLike, second: ArrayLike) -> tuple[Floats, Floats]:
    x, y = np.asarray(first, dtype=np.float64), np.asarray(second, dtype=np.float64)
    usable = np.isfinite(x) & np.isfinite(y) & (x != 0.0)
    return x[usable], y[usable]


def _robust_slope(x: Floats, y: Floats, *, prior: Rate, hand_error: float) -> tuple[float, float]:
    """Slope of y = slope * x with a normal prior, and its spread; far-off points weigh little."""
    fit = robust_fit(
        x[:, None],
        y,
        prior=np.array([prior.cents]),
        prior_spread=np.array([prior.plus_minus]),
        noise=lambda slope: np.sqrt(2.0 * READING_ERROR_CENTS**2 + (hand_error * slope[0] * x) ** 2),
    )
    return float(fit.coefficients[0]), float(np.sqrt(max(fit.agreement, 1.0) * fit.covariance[0, 0]))
