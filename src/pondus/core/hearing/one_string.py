"""Whether what sounds is one string of the instrument: neither hum nor two notes at once."""

import math
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from scipy.fft import prev_fast_len, rfft

from pondus.core.hearing.arrays import middles, windows
from pondus.core.hearing.partials import CENTS_PER_LN, Demodulated
from pondus.core.hearing.sound import Samples, Sound
from pondus.core.hearing.steadiness import Bools, Floats
from pondus.core.pitch.notes import cents_between

MAINS_HZ = (50.0, 60.0)
MAINS_WITHIN_CENTS = 1.2
MAINS_LEVEL_SPREAD_DB = 0.2
EXPLAINED_AT_LEAST = 0.75
"""How much of the sound's power one string must make up; of two as loud as each other it is half."""
OTHER_LINE_AT_MOST = 0.05
"""How much of it one line may have that isn't the string's: noise has none, another player at −15 dB less."""
LINE_BINS, LINE_CENTS, LINE_HZ = 2.5, 22.0, 6.0
"""How wide a partial's line is: by the window's length, by how far a player's pitch strays, and by how fast a bow swells and
fades, which puts lines of their own beside it.
"""
KNOCK_BLOCK_SECONDS, KNOCK_AMONG_BLOCKS, KNOCK_DB, KNOCKS_AT_MOST = 0.02, 15, 6.0, 0.3
"""What is so much louder than the 0.3 s around it came in between; more than so much of a sound is no knock any more."""
PAIR_WITHIN_CENTS, OWN_PARTIALS_SHARE, OWN_PARTIALS_LEAST = 160.0, 0.1, 0.04
"""How near two open neighbours must be for a pitch an octave below the lower one to be theirs together; how much of all
partials' levels, and of the loudest, a string has in those that are neither's.
"""
OWN_CERTAIN = 3
"""So many that are neither's, however weak, lie on one string only if there is one: noise doesn't."""
RATIOS = ((2, 3), (2, 5), (3, 4), (3, 5), (4, 5), (5, 6))
"""Of two notes that share a period."""


def is_mains(hz: float, level_spread_db: float) -> bool:
    """A pitch locked to the mains that never swells or fades (by how much, in dB) is hum, not a string."""
    if level_spread_db > MAINS_LEVEL_SPREAD_DB:
        return False
    return any(abs(cents_between(hz, order * mains)) < MAINS_WITHIN_CENTS for mains in MAINS_HZ for order in range(1, 7))


def is_two_notes(hz: float, orders: Floats, levels: Floats, certain: Bools, targets: dict[str, float]) -> bool:
    """Two notes in a simple ratio repeat together at a pitch below both, of which they have only the partials that are
    multiples of theirs. Two open neighbours are looked at more closely. ``levels``: of each partial of ``orders``, and
    ``certain``: whether it is known to lie on a string of ``hz``: shape (partials,). ``targets``: the strings in Hz.
    """
    loudest = float(levels.max(initial=0.0))
    near_neighbours = any(
        abs(cents_between(2.0 * hz, lower)) < PAIR_WITHIN_CENTS and abs(cents_between(3.0 * hz, upper)) < PAIR_WITHIN_CENTS
        for lower, upper in pairwise(targets.values())
    )
    for low, high in RATIOS:
        own = (orders % low != 0) & (orders % high != 0)
        weak = float(levels[own].max(initial=0.0)) < OWN_PARTIALS_LEAST * loudest
        if weak and (own & certain).sum() < OWN_CERTAIN:
            return True
        if near_neighbours and (low, high) == (2, 3) and levels[own].sum() < OWN_PARTIALS_SHARE * levels.sum():
            return True
    return False


@dataclass(frozen=True)
class Shares:
    """How much of a sound's power one string makes up, and how much of it the loudest line has that isn't the string's."""

    explained: float
    other_line: float

    @property
    def are_one_strings(self) -> bool:
        """Whether that is enough, and nothing else has much."""
        return self.explained >= EXPLAINED_AT_LEAST and self.other_line <= OTHER_LINE_AT_MOST


def shares(sound: Sound, hz: float, demodulated: Demodulated, steady: Bools) -> Shares:
    """Whose the power of the steady part is, up to the highest partial looked at: that at the partials of ``hz``, and the
    loudest line between them.
    """
    at = demodulated.seconds[steady]
    half = demodulated.seconds[0]
    part = sound.samples[int((at[0] - half) * sound.rate_hz) : int((at[-1] + half) * sound.rate_hz)]
    part = part[: 2 * prev_fast_len(len(part) // 2)]
    found = _shares(sound.rate_hz, part, hz, demodulated.orders)
    if found.are_one_strings:
        return found
    quieter = without_knocks(part, sound.rate_hz)
    return found if quieter is None else _shares(sound.rate_hz, quieter, hz, demodulated.orders)


def without_knocks(samples: Samples, rate_hz: float) -> Samples | None:
    """The same with nothing where something much louder came in between for a moment (a knock, a chair, a door): shape (n,);
    None where nothing did, or too often.
    """
    block = round(KNOCK_BLOCK_SECONDS * rate_hz)
    count = len(samples) // block
    if count < KNOCK_AMONG_BLOCKS:
        return None
    power = np.square(samples[: count * block]).reshape(count, block).mean(axis=1) + 1e-15
    padded = np.pad(power, KNOCK_AMONG_BLOCKS // 2, mode="reflect")
    around = middles(windows(padded, KNOCK_AMONG_BLOCKS, every=1, count=count).T)
    loud = power > 10.0 ** (KNOCK_DB / 10.0) * around
    loud = np.convolve(loud, np.ones(3), mode="same") > 0.0
    if not loud.any() or loud.mean() > KNOCKS_AT_MOST:
        return None
    keeps = np.interp(np.arange(len(samples)), (np.arange(count) + 0.5) * block, np.where(loud, 0.0, 1.0))
    return np.asarray(samples * keeps.astype(samples.dtype))


def _shares(rate_hz: float, part: Samples, hz: float, orders: Floats) -> Shares:
    power = _hann_power(part)
    bin_hz = rate_hz / (2.0 * (len(power) - 1))
    first, last = math.floor(0.5 * hz / bin_hz) + 1, math.floor((orders[-1] + 0.5) * hz / bin_hz)
    power = power[first : last + 1]
    frequency = np.arange(first, first + len(power)) * bin_hz
    wide = np.maximum(max(LINE_BINS * bin_hz, LINE_HZ), LINE_CENTS / CENTS_PER_LN * frequency)
    ours = np.abs(frequency - np.round(frequency / hz) * hz) < wide
    whole = max(float(power.sum()), 1e-30)
    width = 2 * math.ceil(LINE_BINS) + 1
    between = np.cumsum(np.where(ours, 0.0, power))
    loudest = float((between[width:] - between[:-width]).max(initial=0.0))
    return Shares(float(power[ours].sum()) / whole, loudest / whole)


def _hann_power(samples: Samples) -> Floats:
    """The power spectrum under a Hann window, which is three neighbouring bins of the one without: shape (n // 2 + 1,).
    ``samples``: an even number n of them.
    """
    spectrum = rfft(samples)
    beside = np.concatenate([spectrum[1:2].conj(), spectrum, spectrum[-2:-1].conj()])
    windowed = 0.5 * spectrum - 0.25 * (beside[:-2] + beside[2:])
    return np.asarray(np.square(windowed.real) + np.square(windowed.imag), dtype=np.float64)
