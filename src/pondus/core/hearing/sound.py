"""A piece of sound, checked."""

import math
from dataclasses import dataclass
from fractions import Fraction

import numpy as np
from numpy.typing import NDArray
from scipy.signal import resample_poly

from pondus.core.errors import BadInput, UnreadableSound

LOWEST_RATE_HZ, HIGHEST_RATE_HZ = 8000, 192_000
WORKING_RATE_HZ = 12_000
"""Partials to 5 kHz are all that a tuning needs; less to compute than the rates of recordings."""

Samples = NDArray[np.float64]


@dataclass(frozen=True)
class Sound:
    """One channel of sound. ``samples``: shape (n,), float64, full scale ±1; ``rate_hz``: samples per second."""

    samples: Samples
    rate_hz: float

    @property
    def seconds(self) -> float:
        """How long it lasts."""
        return len(self.samples) / self.rate_hz


def sound_from(samples: NDArray[np.floating], rate_hz: int) -> Sound:
    """Check and mix what a file or a microphone gave: shape (n,) or (n, channels), full scale ±1.

    Raises BadInput for a rate outside 8–192 kHz, UnreadableSound for samples that aren't numbers.
    """
    if not LOWEST_RATE_HZ <= rate_hz <= HIGHEST_RATE_HZ:
        raise BadInput(
            "rate",
            f"A rate of {rate_hz} samples per second is outside 8000–192000; record at 44100 or 48000.",
        )
    mixed = np.asarray(samples, dtype=np.float64)
    if mixed.ndim == 2:
        mixed = mixed.mean(axis=1)
    if not np.isfinite(mixed).all():
        raise UnreadableSound("The recording holds samples that aren't numbers; record or convert it again.")
    return Sound(mixed, float(rate_hz))


def at_working_rate(sound: Sound) -> Sound:
    """The same sound at (about) 12 kHz, without its mean; sound already slower stays as it is.

    Reduces by a whole number or by the exact ratio, so frequencies stay true.
    """
    samples = sound.samples - (sound.samples.mean() if len(sound.samples) else 0.0)
    factor = sound.rate_hz / WORKING_RATE_HZ
    if factor < 1.5 or len(samples) == 0:
        return Sound(samples, sound.rate_hz)
    ratio = Fraction(1, math.floor(factor))
    slower = resample_poly(samples, ratio.numerator, ratio.denominator)
    return Sound(np.asarray(slower, dtype=np.float64), sound.rate_hz * float(ratio))
