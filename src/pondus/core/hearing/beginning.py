"""The loud beginning of a sounding that fades: a pluck is over its neighbours for half a second, and under them afterwards."""

from collections.abc import Iterator

import numpy as np

from pondus.core.hearing.sound import Sound

BLOCK_SECONDS, LOUD_SHARE = 0.02, 0.25
"""It begins with the first so long that has so much of the loudest one's power."""
LASTS_SECONDS = (0.65, 0.45)
REST_SECONDS, FADES_BY = 0.2, 4.0
"""At least so much comes after, with so many times less power at its middle."""


def loud_beginnings(sound: Sound) -> Iterator[Sound]:
    """The sound up to the end of its loud beginning, a long one and then a short one; nothing where it doesn't fade."""
    block = max(1, round(BLOCK_SECONDS * sound.rate_hz))
    count = len(sound.samples) // block
    if count == 0:
        return
    power = np.square(sound.samples[: count * block]).reshape(count, block).mean(axis=1)
    begins = int(np.argmax(power >= LOUD_SHARE * power.max()))
    for seconds in LASTS_SECONDS:
        ends = begins + round(seconds / BLOCK_SECONDS)
        if count - ends < REST_SECONDS / BLOCK_SECONDS:
            continue
        if np.mean(power[begins:ends]) > FADES_BY * np.median(power[ends:]):
            yield Sound(sound.samples[: ends * block], sound.rate_hz)
