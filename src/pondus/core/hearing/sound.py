"""A piece of sound, checked."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.fft import irfft, next_fast_len, rfft

from pondus.core.errors import BadInput, UnreadableSound

LOWEST_RATE_HZ, HIGHEST_RATE_HZ = 8000, 192_000
WORKING_RATE_HZ = 14_000
"""At least this is kept. Partials to 5 kHz are all that a tuning needs; less to compute than the rates of recordings."""

Samples = NDArray[np.floating]


@dataclass(frozen=True)
class Sound:
    """One channel of sound. ``samples``: shape (n,), floating, full scale ±1; ``rate_hz``: samples per second."""

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
    mixed: Samples = np.asarray(samples)
    if mixed.ndim == 2:
        mixed = mixed.mean(axis=1)
    if not np.isfinite(mixed.sum()):
        raise UnreadableSound("The recording holds samples that aren't numbers; record or convert it again.")
    return Sound(mixed, float(rate_hz))


def at_working_rate(sound: Sound) -> Sound:
    """The same sound at 14 to 28 kHz, without its mean, in single precision; slower sound stays as it is.

    Reduced by a whole number through the spectrum, so frequencies stay true and nothing folds.
    """
    samples = sound.samples.astype(np.float32)
    samples -= samples.mean() if len(samples) else np.float32(0.0)
    factor = int(sound.rate_hz // WORKING_RATE_HZ)
    if factor < 2 or len(samples) == 0:
        return Sound(samples, sound.rate_hz)
    length = next_fast_len(-(-len(samples) // factor), real=True)
    spectrum = rfft(samples, length * factor)[: length // 2 + 1]
    slower = irfft(spectrum, length) / np.float32(factor)
    return Sound(slower[: len(samples) // factor], sound.rate_hz / factor)
