"""What a question sounds like: bowed strings with their true partials, an oboe's reed, one after the other."""

import numpy as np

from pondus.core.practice.questions import Heard
from pondus.core.simulated.sound import Samples, Tone, bowed, plucked

RATE_HZ = 44_100
PAUSE_SECONDS = 0.25
PEAK = 0.5
REED_PARTIALS = (0.35, 0.8, 1.0, 0.6, 0.45, 0.4, 0.25, 0.15, 0.1, 0.06)
"""An oboe is strongest in its second to fourth partials."""


def rendered(heard: tuple[Heard, ...], *, seed: int, rate_hz: int = RATE_HZ) -> Samples:
    """All of it, one after the other: shape (n,), full scale ±1, at a moderate level throughout.

    Each bow has a body of its own by the seed, so that a difference is heard in pitch and beats, not in colour: both strings of
    one question share it.
    """
    parts: list[Samples] = []
    for place, one_heard in enumerate(heard):
        if place:
            parts.append(np.zeros(round(PAUSE_SECONDS * rate_hz)))
        together = np.sum([_one(one_heard, hz, seed, rate_hz) for hz in one_heard.hz], axis=0)
        parts.append(PEAK * together / (np.abs(together).max() + 1e-9))
    return np.concatenate(parts) if parts else np.zeros(0)


def _one(heard: Heard, hz: float, seed: int, rate_hz: int) -> Samples:
    rng = np.random.default_rng([seed, 0x50D])
    if heard.of == "pluck":
        return plucked(Tone(hz, heard.seconds, rate_hz), rng)
    if heard.of == "reed":
        return _reed(hz, heard.seconds, rate_hz)
    return bowed(Tone(hz, heard.seconds, rate_hz), rng, flutter_cents=0.0)


def _reed(hz: float, seconds: float, rate_hz: int) -> Samples:
    time = np.arange(round(seconds * rate_hz)) / rate_hz
    level = np.minimum(1.0, time / 0.08) * np.minimum(1.0, (seconds - time) / 0.08)
    waves = [gain * np.sin(2.0 * np.pi * order * hz * time) for order, gain in enumerate(REED_PARTIALS, start=1)]
    return np.asarray(level * np.sum(waves, axis=0))
