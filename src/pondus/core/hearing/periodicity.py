"""A first, robust look at each frame: its period and how periodic it is.

The cumulative-mean-normalised difference function of de Cheveigné and Kawahara, "YIN, a fundamental frequency
estimator for speech and music" (J. Acoust. Soc. Am. 111, 2002): it looks at the period of the wave, not at the
strength of any partial, so that a missing or weak fundamental does not flip the octave. Computed for all frames at
once by FFT. It is good to a few cents; `partials` refines it.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.fft import irfft, next_fast_len, rfft

from pondus.core.hearing.arrays import windows
from pondus.core.hearing.sound import Samples, Sound

DIP_SURE = 0.12
"""A dip this deep is taken at once; otherwise the deepest counts, minus a preference for shorter periods."""
HOP_SECONDS = 0.020


@dataclass(frozen=True)
class Frames:
    """One row per frame.

    ``seconds`` is the frame's middle; ``hz`` its pitch (NaN where no dip was found in range); ``aperiodicity`` 0
    (a perfect period) to about 1 (noise); ``level_db`` re full scale. ``difference``: the normalised difference function at
    delays of 0 to the longest period, in samples, that ``rate_hz`` counts: shape (frames, delays).
    """

    seconds: NDArray[np.float64]
    hz: NDArray[np.float64]
    aperiodicity: NDArray[np.float64]
    level_db: NDArray[np.float64]
    difference: Samples
    rate_hz: float

    def at_multiple(self, times: int) -> Samples:
        """The aperiodicity at so many times each frame's period; 1 where that is out of range or there is no period."""
        longest = self.difference.shape[1] - 1
        later = times * self.rate_hz / np.where(np.isfinite(self.hz), self.hz, 0.1)
        centre = np.round(later).astype(int)[:, None] + np.arange(-times, times + 1)
        inside = (centre >= 1) & (centre <= longest)
        depths = np.take_along_axis(self.difference, np.where(inside, centre, 0), axis=1)
        return np.asarray(np.where(inside, depths, 1.0).min(axis=1, initial=1.0))


def frame_periods(sound: Sound, *, lowest_hz: float, highest_hz: float) -> Frames:
    """Pitch and periodicity of every 20 ms, between the given pitches.

    A sound shorter than one frame gives no rows.
    """
    rate = sound.rate_hz
    longest = int(np.ceil(rate / lowest_hz)) + 2
    shortest = max(2, int(np.floor(rate / highest_hz)))
    window = max(int(0.024 * rate), longest)
    hop = max(1, round(HOP_SECONDS * rate))
    total = window + longest
    count = 1 + (len(sound.samples) - total) // hop if len(sound.samples) >= total else 0
    if count <= 0:
        none = np.empty(0, dtype=np.float64)
        return Frames(none, none, none, none, np.empty((0, 1)), rate)
    frames = windows(sound.samples, total, every=hop, count=count)
    energy = np.concatenate([[0.0], np.cumsum(np.square(sound.samples), dtype=np.float64)])
    shifted = windows(energy[window:] - energy[:-window], longest + 1, every=hop, count=count)
    normalised = _normalised_difference(frames, shifted, window)
    period, aperiodicity = _dips(normalised, shortest, longest)
    starts = np.arange(count) * hop
    level = 10.0 * np.log10(np.maximum(energy[starts + total] - energy[starts], 0.0) / total + 1e-12)
    seconds = (starts + total / 2.0) / rate
    hz = np.asarray(rate / period, dtype=np.float64)
    return Frames(
        np.asarray(seconds, dtype=np.float64), hz, np.asarray(aperiodicity, dtype=np.float64), level, normalised, rate
    )


def _normalised_difference(frames: Samples, shifted: Samples, window: int) -> Samples:
    """d'(tau) for tau 0..longest, per frame: shape (frames, longest + 1). ``shifted``: the energy of the window that begins tau
    later, of that shape.
    """
    longest = shifted.shape[1] - 1
    size = next_fast_len(frames.shape[1], real=True)  # a window later by the longest delay still ends within the frame
    whole = rfft(frames, size, axis=1)
    head = rfft(frames[:, :window], size, axis=1)
    correlation = irfft(whole * np.conj(head), size, axis=1)[:, : longest + 1]
    shifted = shifted.astype(correlation.dtype)
    difference = np.maximum(shifted[:, :1] + shifted - 2.0 * correlation, 0.0)
    taus = np.arange(1, longest + 1)
    running = np.cumsum(difference[:, 1:], axis=1)
    normalised = np.ones_like(difference)
    normalised[:, 1:] = difference[:, 1:] * taus / np.maximum(running, 1e-20)
    silent = running[:, -1] <= 1e-14
    normalised[silent] = 1.0
    return np.asarray(normalised)


def _dips(normalised: Samples, shortest: int, longest: int) -> tuple[Samples, Samples]:
    """Refined period in samples (NaN: no dip) and the depth left there, per frame."""
    middle = normalised[:, shortest:longest]
    is_dip = (middle <= normalised[:, shortest - 1 : longest - 1]) & (middle < normalised[:, shortest + 1 : longest + 1])
    depth = np.where(is_dip, middle, np.inf)
    deepest = depth.min(axis=1)
    good_enough = np.maximum(DIP_SURE, deepest + 0.08)
    first = np.argmax(depth <= good_enough[:, None], axis=1) + shortest
    rows = np.arange(len(normalised))
    before, at, after = (normalised[rows, first + shift] for shift in (-1, 0, 1))
    bend = before - 2.0 * at + after
    shift = np.where(bend > 1e-12, 0.5 * (before - after) / np.where(bend > 1e-12, bend, 1.0), 0.0)
    dips = np.isfinite(deepest)
    period = np.where(dips, first + np.clip(shift, -1.0, 1.0), np.nan)
    return period, np.where(dips, np.minimum(at, 1.0), 1.0)
