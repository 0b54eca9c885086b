"""Which part of a sound counts: the steady middle.

Past the attack of a pluck (it starts sharp), away from bow changes (they bend), before the dying tail.
"""

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from pondus.core.hearing.arrays import middle
from pondus.core.hearing.partials import HOP_SECONDS, SCALED_DEVIATION
from pondus.core.hearing.periodicity import Frames

PERIODIC_BELOW = 0.35
"""The difference function at the period, 0 for a wave that repeats exactly, 1 for noise."""
SAME_PITCH_CENTS = 60.0
"""Around the pitch most frames agree on: a semitone's half and a little."""
QUIET_BELOW_PEAK_DB = 32.0
"""A pluck's tail, and what rings on in the room, is no longer the string alone."""
ATTACK_SECONDS = 0.12
ONSET_DB = 9.0
"""A rise of so much in two frames is an attack, and so long after it the pitch isn't the string's yet."""

Bools = NDArray[np.bool_]
Floats = NDArray[np.float64]
Unsteady = Literal["unsteady", "swaying"]

STEADY_AT_LEAST_SECONDS = 0.25
MOVES_LESS_THAN_CENTS = 3.0
NEAR_MIDDLE_CENTS = 6.0
DRIFT_AT_MOST_CENTS = 6.0
"""The strictly steady part: less than 3 cents in 10 frames (0.2 s), within 6 of its middle, no slide of more than 6 from its
first to its last third.
"""
NOISE_ALLOWED_CENTS = 1.5
"""Jitter from frame to frame widens the bounds above, up to this much: it is noise, not movement."""
SPREAD_AT_MOST_CENTS = 3.0
"""A part that wanders more isn't strictly steady; it is read as a note that sways."""
STRICT_SHARE = 0.5
"""The strictly steady part counts alone where it is at least so much of what can be used; of a swaying note it would be
the turning points.
"""
SWAYS_AT_MOST_CENTS, SLIDES_AT_MOST_CENTS = 14.0, 10.0
"""A child's bow sways by 3 to 14 cents from the 5th to the 95th percentile and a pluck slides by 1 to 9; vibrato sways
by 9 to 44.
"""
AROUND_MIDDLE_CENTS = 35.0
"""What lies further from the middle belongs to another note, or to none."""
SWAY_OF_NOISE = 1.3
"""How far noise alone makes a track of three frames sway, in its fluctuation from frame to frame."""
NAMED_WITHIN_CENTS, NAMED_COUNTS = 350.0, 3.0
"""Half a fifth: as near to the string that is meant as to its neighbour; and how much more that counts."""


@dataclass(frozen=True)
class Main:
    """The pitch most frames agree on, and which frames those are."""

    hz: float
    frames: Bools


def periodic_frames(frames: Frames) -> Bools:
    """Frames with a clear period that are not much quieter than the loudest."""
    loud = frames.level_db > frames.level_db.max(initial=-200.0) - QUIET_BELOW_PEAK_DB
    return np.asarray(loud & np.isfinite(frames.hz) & (frames.aperiodicity < PERIODIC_BELOW))


def main_pitch(frames: Frames, periodic: Bools, *, named_hz: float | None = None) -> Main | None:
    """The pitch that most periodic frames lie near, the louder the more; None where there are none. ``named_hz``: the string
    that is meant; what lies nearer to it than to its neighbours counts more, and still may be outvoted.
    """
    if not periodic.any():
        return None
    cents = 1200.0 * np.log2(np.where(periodic, frames.hz, 1.0))
    loudness = 10.0 ** ((frames.level_db - frames.level_db[periodic].max()) / 20.0)
    weight = np.where(periodic, (1.0 - frames.aperiodicity) * loudness, 0.0)
    if named_hz is not None:
        weight *= np.where(np.abs(cents - 1200.0 * np.log2(named_hz)) < NAMED_WITHIN_CENTS, NAMED_COUNTS, 1.0)
    bins = np.arange(cents[periodic].min() - 20.0, cents[periodic].max() + 21.0, 10.0)
    if len(bins) < 2:
        return None
    counts, _ = np.histogram(cents[periodic], bins, weights=weight[periodic])
    smooth = np.convolve(counts, np.ones(5), mode="same")
    peak = bins[int(np.argmax(smooth))] + 5.0
    near = periodic & (np.abs(cents - peak) < 35.0)
    centre = middle(cents[near]) if near.any() else peak
    same = periodic & (np.abs(cents - centre) < SAME_PITCH_CENTS)
    return Main(float(2.0 ** (centre / 1200.0)), np.asarray(same))


def past_attacks(frames: Frames) -> Bools:
    """Frames at least 120 ms after each sudden rise of level."""
    level = frames.level_db
    rise = np.zeros(len(level), dtype=bool)
    step = 2
    if len(level) > step:
        rise[step:] = level[step:] - level[:-step] > ONSET_DB
    attack = int(ATTACK_SECONDS / HOP_SECONDS)
    hidden = np.convolve(rise, np.ones(attack), mode="full")[: len(level)] > 0
    return np.asarray(~hidden)


def on_grid(values: Bools, seconds: Floats, at_seconds: Floats) -> Bools:
    """Carry a frame property over to other moments: the nearest frame's."""
    if len(seconds) == 0:
        return np.zeros(len(at_seconds), dtype=bool)
    nearest = np.clip(np.round((at_seconds - seconds[0]) / HOP_SECONDS).astype(int), 0, len(seconds) - 1)
    inside = (at_seconds > seconds[0] - 0.03) & (at_seconds < seconds[-1] + 0.03)
    return np.asarray(values[nearest] & inside)


def level_stretch(track_cents: Floats, *, over: int, within_cents: float) -> Bools:
    """Where a pitch track moves less than ``within_cents`` over ``over`` frames around: shape of the track."""
    n = len(track_cents)
    if n <= over:
        return np.zeros(n, dtype=bool)
    half = over // 2
    kernel = np.ones(half) / half
    padded = np.concatenate([np.full(half, track_cents[0]), track_cents, np.full(half, track_cents[-1])])
    means = np.convolve(padded, kernel, mode="valid")
    before, after = means[:n], means[half + 1 : half + 1 + n]
    return np.asarray(np.abs(after - before) < within_cents)


def steady_part(track: Floats, usable: Bools, noise: float) -> Bools | Unsteady:
    """The part of a pitch track (cents) that counts, of what can be used: the strictly steady one where it is most of it, else
    all that sways or slides a little; or why there is none. ``noise``: its fast jitter in cents.
    """
    strict = _strictly_steady(track, usable, min(noise, NOISE_ALLOWED_CENTS))
    return _swaying_part(track, usable, noise) if strict is None else strict


def _strictly_steady(track: Floats, usable: Bools, noise: float) -> Bools | None:
    """The part that hardly moves, where it is most of what can be used; None where it isn't."""
    moves = level_stretch(track, over=10, within_cents=MOVES_LESS_THAN_CENTS + 1.5 * noise)
    steady = usable & moves
    if not steady.any():
        return None
    steady = steady & (np.abs(track - middle(track[steady])) < NEAR_MIDDLE_CENTS + 3.0 * noise)
    enough = max(STEADY_AT_LEAST_SECONDS / HOP_SECONDS, STRICT_SHARE * usable.sum())
    if steady.sum() < enough or _drift(track, steady) > DRIFT_AT_MOST_CENTS + noise:
        return None
    return None if spread_of(track[steady]) > SPREAD_AT_MOST_CENTS else np.asarray(steady)


def _swaying_part(track: Floats, usable: Bools, noise: float) -> Bools | Unsteady:
    """All that can be used, of a pitch that sways or slides a little; more than a little is refused."""
    smooth = np.convolve(np.pad(track, 1, mode="edge"), np.ones(3) / 3.0, mode="valid")
    if not usable.any():
        return "unsteady"
    part = usable & (np.abs(smooth - middle(smooth[usable])) < AROUND_MIDDLE_CENTS)
    if part.sum() * HOP_SECONDS < STEADY_AT_LEAST_SECONDS:
        return "unsteady"
    if _drift(smooth, part) > SLIDES_AT_MOST_CENTS:
        return "unsteady"
    low, high = np.percentile(smooth[part], (5, 95))
    by_noise = SWAY_OF_NOISE * noise
    if float(high - low) ** 2 - by_noise**2 > SWAYS_AT_MOST_CENTS**2:
        return "swaying"
    return np.asarray(part)


def spread_of(track: Floats) -> float:
    """How much a pitch wandered, in cents (median absolute deviation, scaled)."""
    return SCALED_DEVIATION * middle(np.abs(track - middle(track)))


def fluctuation(track: Floats, usable: Bools) -> float:
    """Fast jitter of the track in cents: noise, not movement."""
    if usable.sum() < 4:
        return 0.0
    jumps = np.diff(track)[usable[1:]]
    return SCALED_DEVIATION * middle(np.abs(jumps - middle(jumps)))


def _drift(track: Floats, steady: Bools) -> float:
    """How far the pitch slid from the first to the last third of the steady part, in cents."""
    values = track[steady]
    third = max(1, len(values) // 3)
    return abs(middle(values[-third:]) - middle(values[:third]))
