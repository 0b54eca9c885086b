"""Sounds of known pitch: bowed and plucked strings, and the room around them.

Additive synthesis: partial k at ``k f sqrt((1 + B k^2)/(1 + B))``; bowed partials are exact multiples (the bow locks
them), fall off as a sawtooth's and are coloured by a body; plucked ones are stretched, start a little sharp and die
away, the higher the faster. All randomness comes from the generator handed in. Levels in dB, full scale ±1.
"""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Samples = NDArray[np.float64]


@dataclass(frozen=True)
class Tone:
    """How a string sounds. ``weak_fundamental_db`` lowers the first partial; ``sharp_start_cents`` a pluck's attack."""

    hz: float
    seconds: float = 1.5
    rate_hz: int = 44_100
    partials: int = 20
    stiffness: float = 0.0
    weak_fundamental_db: float = 0.0
    sharp_start_cents: float = 12.0


def _body_gain(partial_hz: Samples, rng: np.random.Generator) -> Samples:
    """A made-up body: a handful of broad resonances, each partial some dB up or down."""
    centres = rng.uniform(150.0, 4000.0, 6)
    boost = np.sum(
        [rng.uniform(0.2, 1.2) * np.exp(-(((partial_hz - centre) / (0.3 * centre)) ** 2)) for centre in centres], axis=0
    )
    return np.asarray(0.4 + boost, dtype=np.float64)


def _sum_partials(
    tone: Tone, phase_turns: Samples, envelopes: Samples, rng: np.random.Generator, *, pulled_cents: float = 0.0
) -> Samples:
    """Add partials. ``phase_turns``: shape (n,), the first partial's phase; ``envelopes``: shape (partials, n)."""
    orders = np.arange(1.0, len(envelopes) + 1.0)
    stretch = orders * np.sqrt((1.0 + tone.stiffness * orders**2) / (1.0 + tone.stiffness))
    if pulled_cents != 0.0:
        stretch = stretch * 2.0 ** (rng.normal(0.0, pulled_cents, len(orders)) / 1200.0)
    gains = _body_gain(stretch * tone.hz, rng) / orders
    gains[0] *= 10.0 ** (tone.weak_fundamental_db / 20.0)
    starts = rng.uniform(0.0, 1.0, len(orders))
    out = np.zeros(len(phase_turns))
    for order in range(len(orders)):
        out += gains[order] * envelopes[order] * np.sin(2 * np.pi * (stretch[order] * phase_turns + starts[order]))
    return np.asarray(out / (np.abs(out).max() + 1e-12) * 0.5)


def _audible(tone: Tone) -> int:
    return int(max(1, min(tone.partials, 0.45 * tone.rate_hz // tone.hz)))


def bowed(
    tone: Tone,
    rng: np.random.Generator,
    *,
    bow_changes_at: tuple[float, ...] = (),
    flutter_cents: float = 0.3,
    sway_cents: float = 0.0,
    vibrato_cents: float = 0.0,
) -> Samples:
    """A bowed string: shape (n,). At each bow change the level dips and the pitch bends for about a tenth of a second.

    ``sway_cents``: how far the pitch strays from the 5th to the 95th percentile as a hand's pressure changes, slowly and
    without a beat; ``vibrato_cents``: from lowest to highest, about 5.5 times a second. ``tone.hz`` is the middle (the
    median) of both.
    """
    n = int(tone.seconds * tone.rate_hz)
    time = np.arange(n) / tone.rate_hz
    bend = np.zeros(n)
    level = np.minimum(1.0, time / 0.06) * np.minimum(1.0, (tone.seconds - time) / 0.05)
    for moment in bow_changes_at:
        near = np.exp(-(((time - moment) / 0.035) ** 2))
        bend += rng.choice([-1.0, 1.0]) * rng.uniform(8.0, 18.0) * near
        level = level * (1.0 - 0.85 * near)
    steps = rng.normal(0.0, 1.0, n // 400 + 2)
    flutter = np.interp(np.arange(n), np.arange(len(steps)) * 400, steps) * flutter_cents
    flutter -= flutter.mean()
    bend = bend + _swaying(n, tone.rate_hz, rng, cents=sway_cents)
    bend += 0.5 * vibrato_cents * np.sin(2 * np.pi * (rng.uniform(5.0, 6.0) * time + rng.uniform()))
    hz = tone.hz * 2.0 ** ((bend + flutter) / 1200.0)
    phase = np.cumsum(hz) / tone.rate_hz
    count = _audible(tone)
    wobble = 1.0 + 0.05 * np.sin(2 * np.pi * rng.uniform(0.7, 2.0) * time + rng.uniform(0, 6.28))
    return _sum_partials(tone, phase, np.tile(np.maximum(level, 0.0) * wobble, (count, 1)), rng)


def _swaying(n: int, rate_hz: int, rng: np.random.Generator, *, cents: float) -> Samples:
    """A slow stray of the pitch, most of it below three times a second: shape (n,), median 0."""
    if cents == 0.0:
        return np.zeros(n)
    from scipy.interpolate import CubicSpline  # takes long to load; whoever makes no sound doesn't wait for it

    knots = rng.normal(0.0, 1.0, max(4, int(6.0 * n / rate_hz) + 4))
    stray = CubicSpline(np.arange(len(knots)), knots)(np.linspace(1.0, len(knots) - 2.0, n))
    low, high = np.percentile(stray, (5, 95))
    return np.asarray((stray - np.median(stray)) * cents / (high - low))


def plucked(
    tone: Tone,
    rng: np.random.Generator,
    *,
    decay_seconds: float = 0.8,
    slide_cents: float = 0.0,
    beats_cents: float = 0.0,
    pulled_cents: float = 0.0,
) -> Samples:
    """A plucked string: shape (n,). ``tone.hz`` is the first partial's pitch once the attack has settled;
    ``slide_cents``: how much it goes flat as it dies away over a second; ``beats_cents``: how far its two ways of swinging,
    towards the bridge and along it, lie apart: what beats then comes and goes by many decibels; ``pulled_cents``: how far its
    body pulls each partial off the string, one standard deviation (real plucks: 1 to 3, the first by up to 12).
    """
    n = int(tone.seconds * tone.rate_hz)
    time = np.arange(n) / tone.rate_hz
    sharp = tone.sharp_start_cents * np.exp(-time / 0.06) - slide_cents * time
    phase = np.cumsum(tone.hz * 2.0 ** (sharp / 1200.0)) / tone.rate_hz
    count = _audible(tone)
    orders = np.arange(1.0, count + 1.0)[:, None]
    decays = decay_seconds / (1.0 + 0.15 * (orders - 1.0))
    point = rng.uniform(0.12, 0.3)
    comb = np.abs(np.sin(np.pi * orders * point)) + 0.05
    attack = np.minimum(1.0, time / 0.003)[None, :]
    envelopes = comb * np.exp(-time[None, :] / decays) * attack
    if beats_cents != 0.0:
        apart_hz = orders * tone.hz * (2.0 ** (beats_cents / 1200.0) - 1.0)
        envelopes = envelopes * np.cos(np.pi * apart_hz * time[None, :])
    return _sum_partials(tone, phase, envelopes, rng, pulled_cents=pulled_cents)


def glide(tone: Tone, rng: np.random.Generator, *, by_cents: float) -> Samples:
    """A string whose pitch slides all the while: shape (n,)."""
    n = int(tone.seconds * tone.rate_hz)
    cents = np.linspace(0.0, by_cents, n)
    phase = np.cumsum(tone.hz * 2.0 ** (cents / 1200.0)) / tone.rate_hz
    return _sum_partials(tone, phase, np.ones((_audible(tone), n)), rng)


def rms(samples: Samples) -> float:
    """Root mean square."""
    return math.sqrt(float(np.mean(np.square(samples))) + 1e-20)


def mixed(sound: Samples, other: Samples, *, below_db: float) -> Samples:
    """``sound`` with ``other`` set ``below_db`` dB under it."""
    gain = rms(sound) / rms(other) * 10.0 ** (-below_db / 20.0)
    return np.asarray(sound + gain * other[: len(sound)])


def white_noise(n: int, rng: np.random.Generator) -> Samples:
    """Room noise without colour: shape (n,), root mean square 0.1."""
    return rng.normal(0.0, 0.1, n)


def hum(n: int, rate_hz: int, rng: np.random.Generator, *, mains_hz: float = 50.0) -> Samples:
    """Mains hum with its harmonics: shape (n,)."""
    time = np.arange(n) / rate_hz
    out = np.zeros(n)
    for order in range(1, 8):
        out += rng.uniform(0.1, 1.0) / order * np.sin(2 * np.pi * (order * mains_hz * time + rng.uniform()))
    return out


def talk(n: int, rate_hz: int, rng: np.random.Generator) -> Samples:
    """Something like children talking: voiced syllables of sliding pitch between hisses and pauses, shape (n,)."""
    out = np.zeros(n)
    at = 0
    while at < n:
        length = int(rng.uniform(0.08, 0.25) * rate_hz)
        kind = rng.uniform()
        time = np.arange(length) / rate_hz
        shape = np.hanning(length)
        if kind < 0.6:
            hz = rng.uniform(180.0, 380.0) * 2.0 ** (np.linspace(0, rng.uniform(-5, 5), length) / 12.0)
            phase = np.cumsum(hz) / rate_hz
            centre = rng.uniform(500.0, 2500.0)
            syllable = sum(
                np.exp(-(((order * hz.mean() - centre) / 700.0) ** 2)) * np.sin(2 * np.pi * order * phase)
                + 0.3 / order * np.sin(2 * np.pi * order * phase)
                for order in range(1, 12)
            )
            piece = shape * syllable
        elif kind < 0.85:
            piece = shape * rng.normal(0.0, 0.4, length)
        else:
            piece = 0.0 * time
        end = min(n, at + length)
        out[at:end] += np.asarray(piece)[: end - at]
        at = end
    return out
