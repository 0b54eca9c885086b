"""Sound as it comes in, cut into looks, with the last of it kept at the working rate."""

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from pondus.core.hearing.sound import Reducer, Samples, Sound

LOOK_EVERY_SECONDS = 0.05
QUIET_BELOW_DB = -58.0
CLIPPING_FROM, CLIPPING_SAMPLES = 0.999, 3


class Stream:
    """Takes in blocks of any size at ``rate_hz`` and gives one look's worth after the other; keeps the last seconds."""

    def __init__(self, rate_hz: int, *, kept_seconds: float) -> None:
        self._reducer = Reducer(rate_hz)
        self._step = self._reducer.factor * round(LOOK_EVERY_SECONDS * rate_hz / self._reducer.factor)
        self._most = int(kept_seconds * self._reducer.rate_hz)
        self._pending = np.zeros(0, dtype=np.float32)
        self._kept = np.zeros(0, dtype=np.float32)

    def count(self, samples: Samples) -> int:
        """How many looks these samples complete."""
        return (len(self._pending) + len(samples)) // self._step

    def looks(self, samples: Samples) -> Iterator[NDArray[np.float32]]:
        """The newest 50 ms, as many as these samples complete; each is kept before it is given."""
        waiting = np.concatenate([self._pending, samples.astype(np.float32)])
        whole = len(waiting) // self._step * self._step
        self._pending = waiting[whole:]
        for start in range(0, whole, self._step):
            newest = waiting[start : start + self._step]
            self._kept = np.concatenate([self._kept, self._reducer.reduce(newest)])[-self._most :]
            yield newest

    def last(self, seconds: float) -> Sound:
        """The last so many seconds, at the working rate."""
        return Sound(self._kept[-int(seconds * self._reducer.rate_hz) :], self._reducer.rate_hz)


def level_db(newest: NDArray[np.float32]) -> float:
    """Level of a look in dB re full scale."""
    return 10.0 * float(np.log10(np.mean(np.square(newest)) + 1e-12))


def is_clipping(newest: NDArray[np.float32]) -> bool:
    """Whether a look runs against full scale."""
    return bool((np.abs(newest) >= CLIPPING_FROM).sum() >= CLIPPING_SAMPLES)
