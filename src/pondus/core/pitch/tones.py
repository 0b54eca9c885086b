"""Reference tones to tune by ear: steady, rich in partials, at a moderate level.

A sine is hard to tune to: the ear hears beats between partials. Partials fall off as 1/k, as a bowed string's do, so that
the first dozen are there to beat against. The page sounds the same partials without end.
"""

import math

import numpy as np
from numpy.typing import NDArray

PARTIALS = 16
LEVEL = 0.2
"""Peak re full scale: moderate, so that tones stay easy on ears."""
FOLLOWED_ORDERS = (1, 2, 3, 5)
"""Of these partials a tone is made while a microphone follows the string beside it, which is sought on its others."""
HIGHEST_PARTIAL_HZ = 6_000.0
FADE_SECONDS = 0.05


def partial_levels(hz: float, *, followed: bool = False) -> list[float]:
    """Level of each partial relative to the first, from the first upwards. ``followed``: with gaps, for a microphone.

    >>> [round(each, 3) for each in partial_levels(440.0)[:4]]
    [1.0, 0.5, 0.333, 0.25]
    >>> [round(each, 3) for each in partial_levels(440.0, followed=True)]
    [1.0, 0.5, 0.333, 0.0, 0.2]
    """
    most = FOLLOWED_ORDERS[-1] if followed else PARTIALS
    count = max(1, min(most, int(HIGHEST_PARTIAL_HZ // hz)))
    return [1.0 / order if not followed or order in FOLLOWED_ORDERS else 0.0 for order in range(1, count + 1)]


def tone(hz: float, *, seconds: float, rate_hz: int = 44_100) -> NDArray[np.float64]:
    """A reference tone with soft ends: shape (n,), full scale ±1, peak 0.2."""
    time = np.arange(round(seconds * rate_hz)) / rate_hz
    sound = np.zeros(len(time))
    for order, level in enumerate(partial_levels(hz), start=1):
        # Phases after Schroeder (1970) keep the peak low for the loudness.
        phase = -math.pi * order * (order - 1) / PARTIALS
        sound += level * np.sin(2 * np.pi * order * hz * time + phase)
    fade = np.minimum(1.0, np.minimum(time, time[-1] - time) / FADE_SECONDS) if len(time) else time
    peak = float(np.abs(sound).max()) if len(sound) else 1.0
    return np.asarray(sound * fade * LEVEL / max(peak, 1e-12))
