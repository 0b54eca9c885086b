"""Bayesian linear regression that a few far-off points don't decide.

Normal prior, Student-t weights (Lange, Little and Taylor, J. Am. Stat. Assoc. 84, 1989), by iterated reweighting.
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

TAIL = 3.0
ROUNDS = 12

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Fit:
    """Coefficients (features,), their covariance (features, features), and how the points lie against the noise that was
    expected: 1 as expected, 2 twice the variance.
    """

    coefficients: Floats
    covariance: Floats
    agreement: float


def robust_fit(design: Floats, y: Floats, *, prior: Floats, prior_spread: Floats, noise: Callable[[Floats], Floats]) -> Fit:
    """Fit y = design @ coefficients.

    ``design``: (points, features), ``y``: (points,), ``prior`` and ``prior_spread``: (features,). ``noise`` gives each point's
    expected error (points,) for the coefficients at hand. No points give the prior back.
    """
    prior_precision = np.diag(1.0 / prior_spread**2)
    estimate: Floats = prior.astype(np.float64)
    expected = noise(estimate)
    weights, information = np.ones(len(y)), prior_precision
    for _ in range(ROUNDS):
        expected = noise(estimate)
        weights = (TAIL + 1.0) / (TAIL + ((y - design @ estimate) / expected) ** 2)
        precision = weights / expected**2
        information = design.T @ (precision[:, None] * design) + prior_precision
        estimate = _float64(np.linalg.solve(information, design.T @ (precision * y) + prior_precision @ prior))
    off = (y - design @ estimate) / expected
    agreement = float((weights @ off**2 + TAIL) / (weights.sum() + TAIL))
    return Fit(estimate, _float64(np.linalg.inv(information)), agreement)


def _float64(values: NDArray[np.floating[Any]]) -> Floats:
    return np.asarray(values, dtype=np.float64)
