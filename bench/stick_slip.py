"""A bowed or plucked string by finite differences: a stiff, lossy string, and a bow that sticks to it and slips.

Nothing of it is shared with the sounds that the hearing was made with: no partials are added up. The scheme is the explicit one
of Bilbao, Numerical Sound Synthesis (2009), 7.2 (stiffness, two losses) and 7.4 (a bow of a smooth friction curve, solved by
Newton's method at each sample). Where the string is, its own motion under the bow says: it is read there, before body, room and
noise.
"""

from dataclasses import dataclass

import numba
import numpy as np
from scipy.signal import resample_poly

from pondus.core.simulated.sound import Samples

RATE, OVERSAMPLED = 44_100, 2
CURVE = 100.0
"""How sharply friction falls off with the slip's speed, in s²/m² (Bilbao's a)."""
BOW_METRES_A_SECOND = 0.2
TOUCHED_SECONDS, TOUCH_LOSS = 0.25, 6e3
REPEATS, REPEATS_IN_PARTS = 0.95, 0.9


@dataclass(frozen=True)
class Made:
    """What reaches the bridge, at most 1, and the string's motion where it is bowed or plucked."""

    bridge: Samples
    string: Samples


@numba.njit(cache=False)
def _run(
    hz: float, bow: np.ndarray, force: np.ndarray, start: np.ndarray, stiff: float, loss: float, loss_high: float,
    at: int, touched: int, touch: np.ndarray, k: float, curve: float = CURVE,
) -> tuple[np.ndarray, np.ndarray]:  # fmt: skip
    """The string's displacement beside the bridge and under the bow; ``hz``: what an ideal one of this tension would sound."""
    n = len(start)
    h = 1.0 / (n - 1)
    old, now, new = start.copy(), start.copy(), np.zeros(n)
    bridge, under = np.zeros(len(bow)), np.zeros(len(bow))
    c2, slip = (2.0 * hz) ** 2, 0.0
    for t in range(len(bow)):
        for i in range(1, n - 1):
            bend = now[i - 1] - 2.0 * now[i] + now[i + 1]
            left = now[i - 2] if i > 1 else -now[i]
            right = now[i + 2] if i < n - 2 else -now[i]
            twice = left - 4.0 * now[i - 1] + 6.0 * now[i] - 4.0 * now[i + 1] + right
            was = old[i - 1] - 2.0 * old[i] + old[i + 1]
            damp = loss + (touch[t] if i == touched else 0.0)
            new[i] = (
                2.0 * now[i] - (1.0 - damp * k) * old[i] + c2 * k * k / (h * h) * bend - stiff * k * k / h**4 * twice
                + 2.0 * loss_high * k / (h * h) * (bend - was)
            ) / (1.0 + damp * k)  # fmt: skip
        if force[t] > 0.0:
            free = (new[at] - old[at]) / (2.0 * k) - bow[t]
            give = k * force[t] / (2.0 * h * (1.0 + loss * k))
            for _ in range(30):
                push = np.exp(-curve * slip * slip + 0.5) * np.sqrt(2.0 * curve)
                wrong = slip - free + give * push * slip
                slope = 1.0 + give * push * (1.0 - 2.0 * curve * slip * slip)
                step = wrong / slope if abs(slope) > 1e-9 else wrong
                slip -= min(0.05, max(-0.05, step))
                if abs(step) < 1e-9:
                    break
            rubs = np.sqrt(2.0 * curve) * slip * np.exp(-curve * slip * slip + 0.5)
            new[at] -= k * k * force[t] / h * rubs / (1.0 + loss * k)
        bridge[t], under[t] = now[1], now[at]
        old, now, new = now, new, old
    return bridge, under


def plucked(hz: float, seconds: float, rng: np.random.Generator, *, touched_at: int = 0) -> Made:
    """A pluck, left alone; ``touched_at``: touched for a quarter second at this share of its length (2: its octave)."""
    rate = RATE * OVERSAMPLED
    count, k = int(seconds * rate), 1.0 / rate
    string = _String.of(hz, rng, dies=(1.5, 5.0), dulls=(2e-4, 2e-3))
    n = string.points(hz, k)
    along, peak = np.arange(n) / (n - 1), rng.uniform(0.1, 0.35)
    start = 2e-3 * np.where(along < peak, along / peak, (1.0 - along) / (1.0 - peak))
    wide = 2 * max(1, n // 40) + 1
    start[1:-1] = np.convolve(start, np.ones(wide) / wide, "same")[1:-1]
    touch = np.where(np.arange(count) < TOUCHED_SECONDS * rate, TOUCH_LOSS, 0.0) if touched_at else np.zeros(count)
    place = round((n - 1) / touched_at) if touched_at else -1
    nothing, at = np.zeros(count), round(peak * (n - 1))
    return _made(*_run(hz, nothing, nothing, start, string.stiff, string.loss, string.dull, at, place, touch, k))


def bowed(hz: float, seconds: float, rng: np.random.Generator, *, change_seconds: float = 0.0) -> Made | None:
    """A bowed note; None where the bow doesn't make the string swing as a whole (it squeaks, or scratches). ``change_seconds``:
    how often the bow changes (0: never).
    """
    rate = RATE * OVERSAMPLED
    count, k = int(seconds * rate), 1.0 / rate
    time = np.arange(count) / rate
    string = _String.of(hz, rng, dies=(1.0, 3.0), dulls=(0.015, 0.05))
    n = string.points(hz, k)
    at = max(2, round(rng.uniform(0.09, 0.15) * (n - 1)))
    speed = BOW_METRES_A_SECOND * rng.uniform(0.8, 1.25)
    ways = np.where((time // change_seconds) % 2, -1.0, 1.0) if change_seconds else np.ones(count)
    wide = int(0.03 * rate)
    bow = np.convolve(speed * ways, np.ones(wide) / wide, "same") * np.minimum(1.0, time / 0.04)
    most = 4.0 * hz * speed / (at / (n - 1))
    sways = 1.0 + 0.15 * np.sin(2.0 * np.pi * (rng.uniform(0.3, 1.5) * time + rng.uniform()))
    ends = np.minimum(1.0, time / 0.02) * np.minimum(1.0, (seconds - time) / 0.1)
    force = most * rng.uniform(0.03, 0.09) * sways * ends
    still = np.zeros(n), string.stiff, string.loss, string.dull
    made = _made(*_run(hz, bow, force, *still, at, -1, np.zeros(count), k))
    return made if change_seconds or swings(made.bridge, made.string, hz) else None


@dataclass(frozen=True)
class _String:
    """Stiffness (m⁴/s², a length of one), loss (1/s), loss by frequency (m²/s)."""

    stiff: float
    loss: float
    dull: float

    @classmethod
    def of(cls, hz: float, rng: np.random.Generator, *, dies: tuple[float, float], dulls: tuple[float, float]) -> "_String":
        stiff = (2.0 * hz) ** 2 * rng.uniform(2e-5, 2e-4) / np.pi**2
        return cls(stiff, 3.0 * np.log(10.0) / rng.uniform(*dies), rng.uniform(*dulls) * hz / 196.0)

    def points(self, hz: float, k: float) -> int:
        """How many points the scheme is stable with (Bilbao 7.2.3)."""
        square = (2.0 * hz * k) ** 2 + 4.0 * self.dull * k
        h = np.sqrt(0.5 * (square + np.sqrt(square * square + 16.0 * self.stiff * k * k)))
        return max(12, int(1.0 / h)) + 1


def _made(bridge: Samples, under: Samples) -> Made:
    force = resample_poly(np.diff(bridge, append=bridge[-1]), 1, OVERSAMPLED)
    return Made(force / (np.abs(force).max() + 1e-30), resample_poly(under, 1, OVERSAMPLED))


def swings(sounded: Samples, string: Samples, hz: float) -> bool:
    """Whether it repeats after one period of the string's, and not after a half, a third, a quarter or a fifth."""
    half = sounded[len(sounded) // 2 :]
    period = RATE / first_partial(string[len(half) :], hz, within_cents=200.0)
    lag, length = np.arange(len(half)), int(0.15 * RATE)

    def again(after: float) -> float:
        return float(np.corrcoef(half[:length], np.interp(lag[:length] + after, lag, half))[0, 1])

    return again(period) > REPEATS and max(again(period / parts) for parts in (2, 3, 4, 5)) < REPEATS_IN_PARTS


def first_partial(samples: Samples, near_hz: float, *, within_cents: float = 90.0) -> float:
    """Where the peak about ``near_hz`` lies, in Hz: of a long window's spectrum, between its bins by a parabola."""
    part = samples - np.mean(samples)
    size = 8 << int(np.ceil(np.log2(len(part))))
    spectrum = np.abs(np.fft.rfft(part * np.blackman(len(part)), size)) + 1e-30
    step = RATE / size
    low, high = (round(near_hz * 2.0 ** (cents / 1200.0) / step) for cents in (-within_cents, within_cents))
    top = low + int(np.argmax(spectrum[low:high]))
    before, here, after = np.log(spectrum[top - 1 : top + 2])
    return float((top + 0.5 * (before - after) / (before - 2.0 * here + after)) * step)


def locked(samples: Samples, near_hz: float) -> float:
    """How often a bowed note repeats, in Hz: the middle of its first six partials, which the bow locks to each other. The first
    alone may still ring on by itself from how the note began.
    """
    first = first_partial(samples, near_hz)
    return float(np.median([first_partial(samples, first * order, within_cents=25.0) / order for order in range(1, 7)]))
