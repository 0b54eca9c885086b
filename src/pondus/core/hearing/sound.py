"""A piece of sound, checked."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from pondus.core.errors import BadInput, UnreadableSound
from pondus.core.hearing.arrays import windows

LOWEST_RATE_HZ, HIGHEST_RATE_HZ = 8000, 192_000
WORKING_RATE_HZ = 14_000
"""At least this is kept. Partials to 5 kHz are all that a tuning needs; less to compute than the rates of recordings."""
PASS_HZ = 5_000.0
OUTPUTS_AT_ONCE = 32

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
    """Check what a file or a microphone gave: shape (n,) or (n, channels), full scale ±1; of several channels the one with
    most sound in it.

    Raises BadInput for a rate outside 8–192 kHz, UnreadableSound for samples that aren't numbers.
    """
    if not LOWEST_RATE_HZ <= rate_hz <= HIGHEST_RATE_HZ:
        raise BadInput("rate", f"A rate of {rate_hz} samples per second is outside 8000–192000; record at 44100 or 48000.")
    given: Samples = np.asarray(samples)
    if not np.isfinite(given.sum()):
        raise UnreadableSound("The recording holds samples that aren't numbers; record or convert it again.")
    one: Samples = given[:, loudest_channel(given)] if given.ndim == 2 else given
    return Sound(one, float(rate_hz))


def loudest_channel(samples: NDArray[np.floating]) -> int:
    """Which channel has most sound in it, without its mean; ``samples``: shape (n, channels). They are never added: what two
    microphones hear a millisecond apart, or wired the other way round, cancels.
    """
    return int(np.argmax(samples.var(axis=0))) if len(samples) else 0


def at_working_rate(sound: Sound) -> Sound:
    """The same sound at 14 to 28 kHz, without its mean, in single precision; slower sound stays as it is.

    Reduced by a whole number through a filter, so frequencies stay true and nothing folds onto what is heard.
    """
    samples = sound.samples.astype(np.float32)
    samples -= samples.mean() if len(samples) else np.float32(0.0)
    factor = int(sound.rate_hz // WORKING_RATE_HZ)
    if factor < 2 or len(samples) == 0:
        return Sound(samples, sound.rate_hz)
    rate_hz = int(sound.rate_hz)
    half = len(_low_pass(rate_hz, factor)) // 2
    return Sound(_reduced(np.pad(samples, half), rate_hz, factor), sound.rate_hz / factor)


class Reducer:
    """Brings sound down to the working rate as it comes in, block by block, without a seam.

    ``factor`` whole input samples make one output sample; blocks must hold a multiple of it.
    """

    def __init__(self, rate_hz: int) -> None:
        self.factor = max(1, rate_hz // WORKING_RATE_HZ)
        self.rate_hz = rate_hz / self.factor
        self._from_hz = rate_hz
        self._tail = np.zeros(len(_low_pass(rate_hz, self.factor)) - 1, dtype=np.float32)

    def reduce(self, block: NDArray[np.float32]) -> NDArray[np.float32]:
        """The block at the working rate: shape (len(block) / factor,), late by half the filter."""
        if self.factor == 1:
            return block
        whole = np.concatenate([self._tail, block])
        self._tail = whole[len(whole) - len(self._tail) :]
        return _reduced(whole, self._from_hz, self.factor)


def _reduced(samples: NDArray[np.float32], rate_hz: int, factor: int) -> NDArray[np.float32]:
    """The samples through the low pass, every ``factor``-th of what comes out, where the filter lies within them: many outputs
    at a time as one product of matrices, several times as fast as one after the other.
    """
    count = (len(samples) - len(_low_pass(rate_hz, factor))) // factor + 1
    if count < 1:
        return np.zeros(0, dtype=np.float32)
    beside = _low_pass_beside_itself(rate_hz, factor)
    step = OUTPUTS_AT_ONCE * factor
    rows = -(-count // OUTPUTS_AT_ONCE)
    missing = (rows - 1) * step + len(beside) - len(samples)
    filled = np.concatenate([samples, np.zeros(missing, dtype=np.float32)]) if missing > 0 else samples
    return np.asarray((windows(filled, len(beside), every=step, count=rows) @ beside).ravel()[:count])


@lru_cache(maxsize=16)
def _low_pass_beside_itself(rate_hz: int, factor: int) -> NDArray[np.float32]:
    """The low pass `OUTPUTS_AT_ONCE` times, each time ``factor`` samples later: shape (inputs, outputs)."""
    taps = _low_pass(rate_hz, factor)
    matrix = np.zeros(((OUTPUTS_AT_ONCE - 1) * factor + len(taps), OUTPUTS_AT_ONCE), dtype=np.float32)
    for place in range(OUTPUTS_AT_ONCE):
        matrix[place * factor : place * factor + len(taps), place] = taps
    return matrix


@lru_cache(maxsize=16)
def _low_pass(rate_hz: float, factor: int) -> NDArray[np.float32]:
    """A filter that passes 5 kHz and stops, 60 dB down, what would fold onto it."""
    if factor == 1:
        return np.ones(1, dtype=np.float32)
    from scipy.signal import firwin, kaiserord  # takes long to load; slower sound does without

    stop_hz = rate_hz / factor - PASS_HZ
    taps, beta = kaiserord(60.0, (stop_hz - PASS_HZ) / (rate_hz / 2.0))
    designed = firwin(taps | 1, (PASS_HZ + stop_hz) / 2.0, window=("kaiser", beta), fs=rate_hz)
    return np.asarray(designed, dtype=np.float32)
