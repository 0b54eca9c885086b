"""The fine measurement: every partial's frequency from its phase, then one string fitted to them all.

Each partial is brought down to near 0 Hz through a Hann window (short-time Fourier analysis at the partial's own
frequency) every 20 ms; its true frequency is how fast its phase turns over a known time, as in phase-difference
estimation (Kay, "A fast and accurate single frequency estimator", IEEE Trans. ASSP 37, 1989), over ever longer times.
The partials of a stiff string lie at ``f_k = k f_1 sqrt((1 + B k^2) / (1 + B))`` (Fletcher, 1964); for the small B of
strings that is linear in cents, so f_1 and B come from weighted least squares over all partials, each weighted by how
evenly its phase turns (its local signal-to-noise), with outliers, on which hum or another player sits, weighed down.
"""

import math
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

from pondus.core.hearing.arrays import middle, middles, windows
from pondus.core.hearing.sound import Sound

HOP_SECONDS = 0.020
PERIODS_IN_WINDOW = 7.0
SHORTEST_WINDOW_SECONDS = 0.08
MOST_PARTIALS = 14
HIGHEST_PARTIAL_HZ = 5000.0
STIFFNESS_PRIOR = 3e-4
"""Spread of B expected before hearing: bowed strings 0, plucked ones up to about 1e-3 on small, thick strings."""
TRIED_STIFFNESSES = np.array([0.0, 0.5, 1.0, 1.5, 2.0, 3.0, 4.0, 5.0, 6.0]) * 1e-4
AGREE_CENTS, AGREE_CENTS_PER_ORDER2 = 4.0, 0.04
CENTS_FOLLOWED = 40.0
"""A slide of this much from frame to frame must not turn a partial's phase past half a turn, where it would seem still."""
FLOOR_CENTS = 0.05
FITTED_TIMES = 4
SCALED_DEVIATION = 1.4826
"""A median absolute deviation times this is a normal distribution's standard deviation."""
FAINTEST = 1e-6
"""Of the loudest partial's level: what is weaker counts as that."""
CENTS_PER_LN = 1200.0 / math.log(2.0)
LAGS = (1, 2, 6, 12, 24)
QUICK_STEPS_AN_OCTAVE = 1200
"""A live look seeks its partials at the nearest of so many pitches, whose bases are kept."""

Complex = NDArray[np.complex128]
Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]


@dataclass(frozen=True)
class Demodulated:
    """Partials brought down to 0 Hz: ``phasors`` shape (frames, partials); ``around_hz`` where each was sought.

    ``seconds`` is the middle of each frame's window; ``orders`` the partials' numbers, 1 is the first.
    """

    phasors: Complex
    around_hz: Floats
    orders: Floats
    seconds: Floats

    @cached_property
    def sizes(self) -> Floats:
        """How loud each partial is in each frame: shape (frames, partials)."""
        return np.abs(self.phasors)


@dataclass(frozen=True)
class Fit:
    """One string fitted to its partials.

    ``hz`` first partial; ``stiffness`` B; ``error_cents`` the fit's own standard error; ``weights`` per partial, summing
    to 1; ``partial_hz`` as measured, ``off_by_cents`` how surely (inf: not at all); ``strength`` each partial's typical level.
    """

    hz: float
    stiffness: float
    error_cents: float
    weights: Floats
    partial_hz: Floats
    off_by_cents: Floats
    strength: Floats


def partial_hz(hz: float, stiffness: float, orders: Floats) -> Floats:
    """Where a stiff string's partials lie.

    >>> [float(round(f, 2)) for f in partial_hz(100.0, 0.0, np.array([1.0, 2.0, 3.0]))]
    [100.0, 200.0, 300.0]
    """
    return orders * hz * np.sqrt((1.0 + stiffness * orders**2) / (1.0 + stiffness))


def partial_count(hz: float, rate_hz: float) -> int:
    """How many partials are worth measuring at this pitch."""
    ceiling = min(HIGHEST_PARTIAL_HZ, 0.45 * rate_hz)
    return int(max(1, min(MOST_PARTIALS, ceiling // hz)))


def demodulate(
    sound: Sound,
    hz: float,
    *,
    stiffness: float = 0.0,
    most: int = MOST_PARTIALS,
    window_seconds: float | None = None,
    leave_out_every: int | None = None,
) -> Demodulated:
    """Follow the partials of a string near ``hz`` through the whole sound, every 20 ms.

    ``window_seconds`` None: seven periods, at least 80 ms. ``leave_out_every``: skip each n-th partial, which another
    string shares. A sound shorter than one window gives no frames.
    """
    rate = sound.rate_hz
    length = int((window_seconds or max(PERIODS_IN_WINDOW / hz, SHORTEST_WINDOW_SECONDS)) * rate)
    hop = max(1, round(HOP_SECONDS * rate))
    count = 1 + (len(sound.samples) - length) // hop if len(sound.samples) >= length else 0
    orders = np.arange(1.0, min(partial_count(hz, rate), most) + 1.0)
    if leave_out_every is not None:
        orders = orders[orders % leave_out_every != 0]
    around = partial_hz(hz, stiffness, orders)
    if count <= 0:
        return Demodulated(np.empty((0, len(orders)), complex), around, orders, np.empty(0))
    frames = windows(sound.samples, length, every=hop, count=count)
    basis = _turning(around / rate, length) * (_window(length) * (2.0 / length))[:, None]
    columns = np.concatenate([basis.real, -basis.imag], axis=1).astype(frames.dtype)
    parts = (np.ascontiguousarray(frames) @ columns).astype(np.float64)
    phasors = parts[:, : len(orders)] + 1j * parts[:, len(orders) :]
    starts = np.arange(count) * hop / rate
    phasors *= np.exp(-2j * np.pi * np.outer(starts, around))
    return Demodulated(phasors, around, orders, starts + length / (2.0 * rate))


@lru_cache(maxsize=32)
def _window(length: int) -> Floats:
    return np.hanning(length)


def _turning(turns_per_sample: Floats, length: int) -> Complex:
    """exp(2 pi i f n) for n = 0..length-1: shape (length, len(f)), built from steps of 32 samples and samples within."""
    within = np.exp(2j * np.pi * np.outer(np.arange(32), turns_per_sample))
    steps = np.exp(2j * np.pi * np.outer(np.arange(0, length, 32), turns_per_sample))
    return np.asarray((steps[:, None, :] * within[None, :, :]).reshape(-1, len(turns_per_sample))[:length])


def fit(demodulated: Demodulated, steady: Bools, *, longest_lag: int = LAGS[-1], weakest_db: float = math.inf) -> Fit | None:
    """Fit one string to the frames marked steady: shape (frames,). None where no partial can be followed.

    ``longest_lag`` in frames: the further apart two looks at a phase, the finer; 6 are enough for a first look.
    Partials more than ``weakest_db`` under the strongest don't count: beside another string they may be its shadow.
    """
    strength = _typical_size(demodulated, steady)
    measured, errors = _frequencies(demodulated, steady, strength, longest_lag)
    usable = np.isfinite(errors) & (measured > 0.5 * demodulated.around_hz)
    usable &= strength >= strength.max(initial=0.0) * 10.0 ** (-weakest_db / 20.0)
    if not usable.any():
        return None
    orders = demodulated.orders
    offsets = CENTS_PER_LN * np.log(np.where(usable, measured, demodulated.around_hz) / orders)
    cents, stiffness, error, robust = one_string(offsets, orders, np.where(usable, strength, 0.0), errors)
    hz = math.exp(cents / CENTS_PER_LN)
    total = robust.sum()
    shares = robust / total if total > 0 else robust
    return Fit(hz, stiffness, error, shares, measured, errors, strength)


def one_string(offsets: Floats, orders: Floats, strength: Floats, errors: Floats) -> tuple[float, float, float, Floats]:
    """The string that the strongest party of partials agrees on: its first partial (cents), B, standard error (cents) and the
    weights as outliers left them. ``offsets``: where each partial puts the first one, in cents; those of ``strength`` 0 don't
    count; all of shape (partials,).
    """
    usable = strength > 0.0
    base, agreeing = _anchor(offsets, orders, strength)
    party = usable & agreeing
    variances = np.where(usable, errors, 1.0) ** 2 + FLOOR_CENTS**2
    cents, stiffness, error, robust = _weighted_fit(offsets - base, orders, party, variances, strength)
    return base + cents, stiffness, error, robust


def _anchor(offsets: Floats, orders: Floats, strength: Floats) -> tuple[float, Bools]:
    """The pitch (cents) that the strongest party of partials agrees on, and who belongs to it.

    Each possible stiffness is tried; every partial votes, by its strength, for the pitches it lies near once the stretch
    is taken off. Hum or another player on a few partials, however steady, is outvoted by the string's own.
    """
    allowed = AGREE_CENTS + AGREE_CENTS_PER_ORDER2 * orders**2
    stretch = 0.5 * CENTS_PER_LN * TRIED_STIFFNESSES[:, None] * (orders**2 - 1.0)
    unstretched = offsets - stretch
    apart = np.abs(unstretched[:, None, :] - unstretched[:, :, None])
    agree = apart < np.minimum(allowed[:, None], allowed[None, :])
    votes = (agree * strength).sum(axis=2) * (strength > 0.0)
    which, chosen = np.unravel_index(int(np.argmax(votes)), votes.shape)
    return float(unstretched[which, chosen]), np.asarray(apart[which, chosen] < allowed)


def _typical_size(demodulated: Demodulated, steady: Bools) -> Floats:
    """Each partial's median level over the steady frames."""
    if not steady.any():
        return np.zeros(len(demodulated.orders))
    return middles(demodulated.sizes[steady])


def _frequencies(demodulated: Demodulated, steady: Bools, typical: Floats, longest_lag: int) -> tuple[Floats, Floats]:
    """Each partial's frequency in Hz and its error in cents (inf: can't be followed)."""
    around = demodulated.around_hz
    phasors = demodulated.phasors
    size = demodulated.sizes
    at_least = np.maximum(size, 0.25 * typical + 1e-15)
    unit, size = phasors / at_least, size / at_least
    back = np.conj(unit)
    shift: Floats = np.zeros(len(around))
    errors: Floats = np.full(len(around), np.inf)
    for lag in (lag for lag in LAGS if lag <= longest_lag):
        starts = np.flatnonzero(_steady_pairs(steady, lag))
        if len(starts) < max(3, lag // 2):
            break
        span = lag * HOP_SECONDS
        turned = np.exp(-2j * np.pi * shift * span)
        now, later = _rows(starts), _rows(starts + lag)
        mean = np.einsum("ij,ij->j", unit[later], back[now]) * turned / len(starts)
        whole = np.einsum("ij,ij->j", size[later], size[now]) / len(starts)
        evenness = np.clip(np.abs(mean) / np.maximum(whole, 1e-12), 1e-6, 1.0 - 1e-9)
        spread = np.sqrt(-2.0 * np.log(evenness))
        independent = max(1.0, len(starts) / 4.0)
        refined = shift + np.angle(mean) / (2.0 * np.pi * span)
        error_hz = spread / (2.0 * np.pi * span) / math.sqrt(independent)
        error = CENTS_PER_LN * error_hz / around
        safe = (evenness > 0.3) & (error < errors)
        shift = np.where(safe, refined, shift)
        errors = np.where(safe, error, errors)
    return around + shift, errors


def _rows(places: NDArray[np.intp]) -> slice | NDArray[np.intp]:
    """The same rows as a slice, where they follow each other: nothing is copied then."""
    return slice(places[0], places[-1] + 1) if places[-1] - places[0] + 1 == len(places) else places


def _steady_pairs(steady: Bools, lag: int) -> Bools:
    """Which frames start a run of ``lag`` steady steps: shape (frames - lag,)."""
    if len(steady) <= lag:
        return np.zeros(0, dtype=bool)
    gaps = np.concatenate([[0], np.cumsum(~steady)])
    return np.asarray(gaps[lag + 1 :] - gaps[: -lag - 1] == 0)


def _weighted_fit(
    offsets: Floats, orders: Floats, party: Bools, variances: Floats, strength: Floats
) -> tuple[float, float, float, Floats]:
    """First partial (cents), B, standard error (cents) and the weights as outliers left them.

    How surely a partial is known (``variances``, cents²) doesn't say how far it lies off its string: a body pulls it, another
    player's steady bow sits on it. That scatter is found from all of them (as between studies in a random-effects
    analysis: DerSimonian and Laird, 1986) and added, to a weak partial's variance more than to a loud one's.
    """
    level = np.maximum(strength[party] / max(float(strength.max(initial=0.0)), 1e-30), FAINTEST)
    offsets, stretch, variances = offsets[party], 0.5 * CENTS_PER_LN * (orders[party] ** 2 - 1.0), variances[party]
    root, known = np.sqrt(level), middle(variances * level)
    robust = 1.0 / variances
    cents = stiffness = error = 0.0
    for _ in range(FITTED_TIMES):
        total, leans = float(robust.sum()) + 1e-12, float(robust @ stretch)
        bends = float(robust @ stretch**2) + 1.0 / STIFFNESS_PRIOR**2
        lies, tilts = float(robust @ offsets), float((robust * stretch) @ offsets)
        whole = total * bends - leans**2
        cents, stiffness = (bends * lies - leans * tilts) / whole, (total * tilts - leans * lies) / whole
        error = math.sqrt(bends / whole)
        if stiffness < 0.0:
            cents, stiffness = lies / total, 0.0
        off = np.abs(offsets - cents - stiffness * stretch)
        scatter = max(0.0, (SCALED_DEVIATION * middle(off * root)) ** 2 - known) if len(off) > 2 else 0.0
        weights = 1.0 / (variances + scatter / level)
        robust = weights * np.minimum(1.0, 2.0 / np.maximum(off * np.sqrt(weights), 1e-9))
    of_all: Floats = np.zeros(len(orders))
    of_all[party] = robust
    return cents, stiffness, error, of_all


def pitch_track_cents(demodulated: Demodulated, fitted: Fit, *, lag: int = 1) -> Floats:
    """Pitch around the fit, in cents, from frame to frame ``lag`` apart: shape (frames - lag,).

    Entry i belongs to the time halfway between frames i and i + lag.
    """
    phasors = demodulated.phasors
    if len(phasors) <= lag:
        return np.empty(0)
    shift = fitted.partial_hz - demodulated.around_hz
    span = lag * HOP_SECONDS
    turning = phasors[lag:] * np.conj(phasors[:-lag]) * np.exp(-2j * np.pi * shift * span)
    cents = np.angle(turning) / (2.0 * np.pi * span) / fitted.partial_hz * CENTS_PER_LN
    follows = fitted.partial_hz < 0.5 / span / CENTS_FOLLOWED * CENTS_PER_LN
    trusted = follows & (fitted.weights > 0.01)
    size = np.abs(turning) * (demodulated.orders**2) * (trusted if trusted.any() else follows)
    total = np.maximum(size.sum(axis=1), 1e-30)
    return np.asarray((cents * size).sum(axis=1) / total)


def quick_hz(sound: Sound, hz: float, *, partials: int = 4) -> float:
    """The pitch near ``hz`` at the end of a sound, from how far a few partials turn in 40 ms: a live look.

    Good to a fraction of a cent on a clear tone; a sound too short for two windows gives ``hz`` back.
    """
    rate = sound.rate_hz
    basis = _quick_basis(round(QUICK_STEPS_AN_OCTAVE * math.log2(hz)), rate, partials)
    length, apart = len(basis), int(0.04 * rate)
    if len(sound.samples) < length + apart:
        return hz
    orders = np.arange(1.0, basis.shape[1] + 1.0)
    looks = windows(sound.samples[-length - apart :], length, every=apart, count=2) @ basis
    turned = np.angle(looks[1] * np.conj(looks[0]) * np.exp(-2j * np.pi * orders * hz * apart / rate))
    estimates = hz + turned * rate / (2.0 * np.pi * apart) / orders
    weight = np.abs(looks).min(axis=0) * orders
    order = np.argsort(estimates)
    half = np.searchsorted(np.cumsum(weight[order]), 0.5 * weight.sum())
    return float(estimates[order][min(half, len(estimates) - 1)])


@lru_cache(maxsize=64)
def _quick_basis(step: int, rate_hz: float, partials: int) -> NDArray[np.complex64]:
    """What brings down the first partials of a string near so many steps over 1 Hz: shape (window, partials). How far a phase
    turns from one window to the next doesn't depend on where exactly they were sought.
    """
    hz = 2.0 ** (step / QUICK_STEPS_AN_OCTAVE)
    length = int(max(PERIODS_IN_WINDOW / hz, SHORTEST_WINDOW_SECONDS) * rate_hz)
    orders = np.arange(1.0, min(partial_count(hz, rate_hz), partials) + 1.0)
    return np.asarray(_turning(-orders * hz / rate_hz, length) * _window(length)[:, None], dtype=np.complex64)
