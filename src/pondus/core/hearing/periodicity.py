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

from pondus.core.hearing.sound import Samples, Sound

DIP_SURE = 0.12
"""A dip this deep is taken at once; otherwise the deepest counts, minus a preference for shorter periods."""
HOP_SECONDS = 0.020


@dataclass(frozen=True)
class Frames:
    """One row per frame.

    ``seconds`` is the frame's middle; ``hz`` its pitch (NaN where no dip was found in range); ``aperiodicity`` 0
    (a perfect period) to about 1 (noise), ``doubled`` the same for twice the period (1 where that is out of range);
    ``level_db`` re full scale.
    """

    seconds: NDArray[np.float64]
    hz: NDArray[np.float64]
    aperiodicity: NDArray[np.float64]
    doubled: NDArray[np.float64]
    level_db: NDArray[np.float64]


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
        return Frames(none, none, none, none, none)
    frames = np.lib.stride_tricks.sliding_window_view(sound.samples, total)[::hop][:count]
    normalised = _normalised_difference(frames, window, longest)
    period, aperiodicity = _dips(normalised, shortest, longest)
    doubled = _at_double(normalised, period)
    level = np.asarray(10.0 * np.log10(np.mean(np.square(frames), axis=1) + 1e-12), dtype=np.float64)
    seconds = (np.arange(count) * hop + total / 2.0) / rate
    hz = np.asarray(rate / period, dtype=np.float64)
    return Frames(
        np.asarray(seconds, dtype=np.float64),
        hz,
        np.asarray(aperiodicity, dtype=np.float64),
        np.asarray(doubled, dtype=np.float64),
        level,
    )


def _normalised_difference(frames: Samples, window: int, longest: int) -> Samples:
    """d'(tau) for tau 0..longest, per frame: shape (frames, longest + 1)."""
    size = next_fast_len(frames.shape[1] + longest, real=True)
    whole = rfft(frames, size, axis=1)
    head = rfft(frames[:, :window], size, axis=1)
    correlation = irfft(whole * np.conj(head), size, axis=1)[:, : longest + 1]
    power = np.concatenate([np.zeros((len(frames), 1)), np.cumsum(np.square(frames), axis=1, dtype=np.float64)], axis=1)
    shifted = (power[:, window : window + longest + 1] - power[:, : longest + 1]).astype(correlation.dtype)
    difference = np.maximum(shifted[:, :1] + shifted - 2.0 * correlation, 0.0)
    taus = np.arange(1, longest + 1)
    running = np.cumsum(difference[:, 1:], axis=1)
    normalised = np.ones_like(difference)
    normalised[:, 1:] = difference[:, 1:] * taus / np.maximum(running, 1e-20)
    silent = running[:, -1] <= 1e-14
    normalised[silent] = 1.0
    return np.asarray(normalised)


def _at_double(normalised: Samples, period: Samples) -> Samples:
    """The depth near twice each frame's period; 1 where that is out of range or there is no period."""
    longest = normalised.shape[1] - 1
    centre = np.where(np.isfinite(period), np.round(2.0 * np.nan_to_num(period)), longest + 10).astype(int)
    rows = np.arange(len(normalised))
    near = [
        np.where((centre + by >= 1) & (centre + by <= longest), normalised[rows, np.clip(centre + by, 0, longest)], 1.0)
        for by in (-2, -1, 0, 1, 2)
    ]
    return np.asarray(np.minimum(np.min(near, axis=0), 1.0))


def _dips(normalised: Samples, shortest: int, longest: int) -> tuple[Samples, Samples]:
    """Refined period in samples (NaN: no dip) and the depth left there, per frame."""
    middle = normalised[:, shortest:longest]
    is_dip = (middle <= normalised[:, shortest - 1 : longest - 1]) & (
        middle < normalised[:, shortest + 1 : longest + 1]
    )
    depth = np.where(is_dip, middle, np.inf)
    deepest = depth.min(axis=1)
    good_enough = np.maximum(DIP_SURE, deepest + 0.08)
    first = np.argmax(depth <= good_enough[:, None], axis=1) + shortest
    rows = np.arange(len(normalised))
    before, at, after = (normalised[rows, first + shift] for shift in (-1, 0, 1))
    bend = before - 2.0 * at + after
    shift = np.where(bend > 1e-12, 0.5 * (before - after) / np.where(bend > 1e-12, bend, 1.0), 0.0)
    found = np.isfinite(deepest)
    period = np.where(found, first + np.clip(shift, -1.0, 1.0), np.nan)
    return period, np.where(found, np.minimum(at, 1.0), 1.0)
