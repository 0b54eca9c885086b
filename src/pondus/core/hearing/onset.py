"""Whether a string has just been struck again: a pluck or a bite of the bow brings the high partials back at once.

They die first, so what a pluck still holds of them falls and falls; where two ways of swinging beat, the level comes and goes
by many decibels, but slowly, and the brightness with it. So the sound's difference from sample to sample, which weighs
partials by their pitch, is compared with its own loudest of the tenth of a second before, not with its softest.
"""

import math

import numpy as np
from numpy.typing import NDArray

from pondus.core.hearing.arrays import windows
from pondus.core.hearing.sound import Sound
from pondus.core.hearing.stream import LOOK_EVERY_SECONDS

BEFORE_SECONDS, WITHIN_SECONDS = 0.125, 0.025
"""What a rise is compared with: so long, up to so long before it."""
WINDOW_SECONDS, STEP_SECONDS = 0.020, 0.005
"""Longer than a period of a cello's C."""
HEARD_SECONDS = BEFORE_SECONDS + WITHIN_SECONDS + WINDOW_SECONDS + 2.0 * LOOK_EVERY_SECONDS
"""How much sound `brightened_db` looks at."""
FLOOR = 1e-12


def brightened_db(sound: Sound) -> float:
    """By how much the sound got brighter at once in the look before the last, and stayed so through the last one, in dB: below
    0 where it got duller. A knock doesn't last so long.

    ``sound``: the last `HEARD_SECONDS`; minus infinity for less.
    """
    if sound.seconds < HEARD_SECONDS - 2.0 * STEP_SECONDS:
        return -math.inf
    power = _powers(sound)
    look = round(LOOK_EVERY_SECONDS / STEP_SECONDS)
    within, before = round(WITHIN_SECONDS / STEP_SECONDS), round(BEFORE_SECONDS / STEP_SECONDS)
    first = max(len(power) - 2 * look, within + before)
    at = power[first : len(power) - look]
    earlier = windows(power[first - within - before :], before, every=1, count=len(at)).max(axis=1)
    lasting = np.partition(power[-look:], look // 2)[look // 2]
    return 10.0 * math.log10(float((np.minimum(at, lasting) / earlier).max(initial=FLOOR)))


def _powers(sound: Sound) -> NDArray[np.float64]:
    """The power of the differences from sample to sample, every 5 ms: shape (steps,)."""
    total = np.cumsum(np.square(np.diff(sound.samples)), dtype=np.float64)
    window = int(WINDOW_SECONDS * sound.rate_hz)
    starts = np.arange(0.0, len(total) - window, STEP_SECONDS * sound.rate_hz).astype(int)
    return np.asarray((total[starts + window] - total[starts]) / window + FLOOR)
