"""How small a difference someone can tell: a threshold in cents with its ±, from right and wrong answers.

A Bayesian estimate on a grid, and the next difference where an answer is expected to tell most: Watson, A. B. (2017). QUEST+: A
general multidimensional Bayesian adaptive psychometric method. Journal of Vision 17(3):10; the expected information is
Kontsevich and Tyler's (1999), Vision Research 39:2729. The psychometric function is Weibull's, from chance up to a slip now
and then, with the slope and how often someone slips unknown too. *Threshold*: the difference told apart three times
out of four, chance taken off: where the function is half way between chance and certainty.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from pondus.core.figures import Tenth

Grid = NDArray[np.float64]

LEAST_CENTS, MOST_CENTS = 0.2, 80.0
THRESHOLDS = np.geomspace(LEAST_CENTS, MOST_CENTS, 121)
SLOPES = np.array([0.9, 1.3, 1.8, 2.8])
SLIPS = np.array([0.01, 0.04, 0.10])
"""How often someone answers wrongly what they could tell."""
DIFFERENCES = np.geomspace(0.3, 100.0, 36)
HELD = 0.90
"""What the ± is to hold."""
WIDER = 1.3
"""How much wider the ± is told than the estimate believes (in log units): ears aren't quite as any model takes them."""
TOLD_BELOW = 0.9
USUAL_CENTS, USUAL_SPREAD = 8.0, 1.1
"""Where a threshold is taken to lie before anything was answered: cents, and natural log units around it."""
FORGETS = 0.35
"""How much a threshold is taken to change from one day to another, in natural log units."""


@dataclass(frozen=True)
class Threshold:
    """A threshold in cents. ``low`` to ``high`` holds it nine times in ten; ``trials`` is what it stands on."""

    cents: Tenth
    low: Tenth
    high: Tenth
    trials: int

    @property
    def is_told(self) -> bool:
        """Whether anything is told apart better than by guessing: its own interval ends before what can be asked does."""
        return self.high < TOLD_BELOW * MOST_CENTS

    @property
    def factor(self) -> float:
        """The ± as a factor: the threshold lies within so many times, either way."""
        return float(np.sqrt(self.high / self.low))


@dataclass(frozen=True)
class Trial:
    """One answer: how large the difference was, in cents, whether it was right, and of how many choices."""

    cents: float
    right: bool
    choices: int = 2


def next_difference(trials: Sequence[Trial], *, choices: int, before: Threshold | None = None) -> float:
    """The difference in cents whose answer is expected to tell most. ``before``: what was known from other days."""
    posterior = _posterior(trials, before)
    chances = _chances(choices)
    right = np.tensordot(chances, posterior, axes=3)
    gained = _entropy(right) - np.tensordot(_entropy(chances), posterior, axes=3)
    return float(DIFFERENCES[int(np.argmax(gained))])


def threshold_of(trials: Sequence[Trial], *, before: Threshold | None = None) -> Threshold:
    """The threshold by all answers so far: the median of what is believed, and the nine tenths around it."""
    share = _posterior(trials, before).sum(axis=(1, 2))
    below = np.concatenate([[0.0], np.cumsum(share)])
    edges = np.concatenate([[THRESHOLDS[0]], np.sqrt(THRESHOLDS[1:] * THRESHOLDS[:-1]), [THRESHOLDS[-1]]])
    middle, low, high = np.interp([0.5, 0.5 - HELD / 2.0, 0.5 + HELD / 2.0], below, np.log(edges))
    low, high = middle - WIDER * (middle - low), middle + WIDER * (high - middle)
    return Threshold(float(np.exp(middle)), float(np.exp(low)), float(np.exp(high)), len(trials))


def chance_right(cents: float, *, threshold: float, choices: int = 2, slope: float = 1.4, slips: float = 0.02) -> float:
    """How likely a right answer is, 0 to 1.

    >>> round(chance_right(5.0, threshold=5.0, choices=2, slips=0.0), 3), round(chance_right(50.0, threshold=5.0), 3)
    (0.75, 0.99)
    """
    right = 1.0 - 2.0 ** -((cents / threshold) ** slope)
    return float((1.0 - slips) * (1.0 / choices + (1.0 - 1.0 / choices) * right) + slips / choices)


def _entropy(right: Grid) -> Grid:
    safe = np.clip(right, 1e-9, 1.0 - 1e-9)
    return np.asarray(-(safe * np.log(safe) + (1.0 - safe) * np.log(1.0 - safe)))


@lru_cache(maxsize=8)
def _chances(choices: int) -> Grid:
    """Chances of a right answer: shape (differences, thresholds, slopes, slips)."""
    return _chances_at(DIFFERENCES, choices)


@lru_cache(maxsize=512)
def _chance_of(cents: float, choices: int) -> Grid:
    """Chances at one difference: shape (thresholds, slopes, slips)."""
    return np.asarray(_chances_at(np.array([cents]), choices)[0])


def _chances_at(differences: Grid, choices: int) -> Grid:
    ratio = differences[:, None, None] / THRESHOLDS[None, :, None]
    right = (1.0 - 2.0 ** -(ratio ** SLOPES[None, None, :]))[..., None]
    return np.asarray((1.0 - SLIPS) * (1.0 / choices + (1.0 - 1.0 / choices) * right) + SLIPS / choices)


def _posterior(trials: Sequence[Trial], before: Threshold | None) -> Grid:
    """What is believed of threshold, slope and slips: shape (thresholds, slopes, slips), sums to 1."""
    believed = np.log(_prior(before))
    for trial in trials:
        chance = _chance_of(trial.cents, trial.choices)
        believed = believed + np.log(chance if trial.right else 1.0 - chance)
    whole = np.exp(believed - believed.max())
    return np.asarray(whole / whole.sum())


def _prior(before: Threshold | None) -> Grid:
    middle, spread = USUAL_CENTS, USUAL_SPREAD
    if before is not None:
        known = np.log(before.high / before.low) / (2.0 * 1.645)
        middle, spread = before.cents, float(np.hypot(known, FORGETS))
    share = np.exp(-0.5 * (np.log(THRESHOLDS / middle) / spread) ** 2)
    return np.asarray(np.broadcast_to(share[:, None, None] + 1e-9, (len(THRESHOLDS), len(SLOPES), len(SLIPS))))
