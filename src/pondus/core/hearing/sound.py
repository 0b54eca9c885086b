"""A piece of sound, checked."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy.signal import firwin, kaiserord, upfirdn

from pondus.core.errors import BadInput, UnreadableSound

LOWEST_RATE_HZ, HIGHEST_RATE_HZ = 8000, 192_000
WORKING_RATE_HZ = 14_000
"""At least this is kept. Partials to 5 kHz are all that a tuning needs; less to compute than the rates of recordings."""
PASS_HZ = 5_000.0
ALIASES_DOWN_DB = 70.0

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

    Reduced by a whole number, so frequencies stay true; what would fold below 5 kHz is 70 dB down.
    """
    samples = (sound.samples - (sound.samples.mean() if len(sound.samples) else 0.0)).astype(np.float32)
    factor = int(sound.rate_hz // WORKING_RATE_HZ)
    if factor < 2 or len(samples) == 0:
        return Sound(samples, sound.rate_hz)
    slower = upfirdn(_low_pass(sound.rate_hz, factor), samples, down=factor)
    return Sound(slower, sound.rate_hz / factor)


@lru_cache(maxsize=16)
def _low_pass(rate_hz: float, factor: int) -> NDArray[np.float32]:
    """A filter that passes 5 kHz and stops what would fold onto it."""
    stop_hz = rate_hz / factor - PASS_HZ
    taps, beta = kaiserord(ALIASES_DOWN_DB, (stop_hz - PASS_HZ) / (rate_hz / 2.0))
    filtered = firwin(taps | 1, (PASS_HZ + stop_hz) / 2.0, window=("kaiser", beta), fs=rate_hz)
    return np.asarray(filtered, dtype=np.float32)
