"""A piece of sound, checked."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy.fft import irfft, next_fast_len, rfft

from pondus.core.errors import BadInput, UnreadableSound

LOWEST_RATE_HZ, HIGHEST_RATE_HZ = 8000, 192_000
WORKING_RATE_HZ = 14_000
"""At least this is kept. Partials to 5 kHz are all that a tuning needs; less to compute than the rates of recordings."""
PASS_HZ = 5_000.0

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


class Reducer:
    """Brings sound down to the working rate as it comes in, block by block, without a seam.

    ``factor`` whole input samples make one output sample; blocks must hold a multiple of it.
    """

    def __init__(self, rate_hz: int) -> None:
        self.factor = max(1, rate_hz // WORKING_RATE_HZ)
        self.rate_hz = rate_hz / self.factor
        self._filter = _low_pass(rate_hz, self.factor)
        self._tail = np.zeros(len(self._filter) - 1, dtype=np.float32)

    def reduce(self, block: NDArray[np.float32]) -> NDArray[np.float32]:
        """The block at the working rate: shape (len(block) / factor,), late by half the filter."""
        if self.factor == 1:
            return block
        whole = np.concatenate([self._tail, block])
        self._tail = whole[len(whole) - len(self._tail) :]
        windows = np.lib.stride_tricks.sliding_window_view(whole, len(self._filter))[:: self.factor]
        return np.asarray(windows @ self._filter)


@lru_cache(maxsize=16)
def _low_pass(rate_hz: float, factor: int) -> NDArray[np.float32]:
    """A filter that passes 5 kHz and stops, 60 dB down, what would fold onto it."""
    if factor == 1:
        return np.ones(1, dtype=np.float32)
    from scipy.signal import firwin, kaiserord  # takes long to load, and only sound that comes in live needs it

    stop_hz = rate_hz / factor - PASS_HZ
    taps, beta = kaiserord(60.0, (stop_hz - PASS_HZ) / (rate_hz / 2.0))
    designed = firwin(taps | 1, (PASS_HZ + stop_hz) / 2.0, window=("kaiser", beta), fs=rate_hz)
    return np.asarray(designed, dtype=np.float32)
