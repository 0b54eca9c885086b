"""A room in which all play their A: how far its players are spread, and where the middle lies.

Nobody is heard alone here. Every player's A has partials at multiples of the studio's A (an octave below for cellos, whose
even ones fall there too); around each multiple the spectrum is as broad as the players are apart, the broader the higher the
partial. Lines of strings that are near each other melt into one; how broad a single bowed line is, is taken off. Rule R136.

What can't be known: who it is, how many play, and a player much softer than the rest.
"""

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from pondus.core.hearing.sound import Sound

LEAST_SECONDS, WINDOW_SECONDS = 3.0, 2.0
PARTIALS = (2, 3, 4, 5, 6)
"""Multiples of the A that are looked at: the first is too narrow to part players, higher ones are too soft."""
REACH_CENTS, BESIDE_CENTS, STEP_CENTS = 70.0, 110.0, 0.5
FLOOR_TIMES = 6.0
"""What stands out of the room's noise by less, in power, isn't counted."""
BLUR_CENTS = 1.5
"""How broad one bowed line is (standard deviation): its bow's jitter."""
FAR_CENTS, FAR_SPREADS, FAR_SHARE = 20.0, 2.5, 0.02
ENOUGH_PARTIALS = 3
LEAST_SHARE_OF_A = 0.6
"""Where less of what sounds, in power, is an A, others play something else."""
UNSURE_SHARE = 0.6
"""A spread known no better than this share of itself (and 4 cents) isn't told."""
SURE_CENTS = 4.0

RoomRefused = Literal["too-short", "too-soft", "no-common-a", "unsure"]
ROOM_REFUSED_SAID: dict[RoomRefused, str] = {
    "too-short": "play on a little longer, three seconds at least",
    "too-soft": "too soft to tell from the room",
    "no-common-a": "no A was heard that most of the room shares",
    "unsure": "heard, but not surely enough to say a figure",
}


@dataclass(frozen=True)
class RoomHeard:
    """``off_cents``: the middle of the room beside the A; ``spread_cents``: within so many cents of it two thirds of what
    sounds lies, give or take ``plus_minus_cents``; ``far_cents``: where somebody stands apart from the rest.
    """

    off_cents: float
    spread_cents: float
    plus_minus_cents: float
    far_cents: tuple[float, ...] = ()


def said_of(heard: RoomHeard) -> str:
    """It in words.

    >>> said_of(RoomHeard(-3.2, 6.1, 1.4, (-34.8,)))
    'Most within 6 cents (± 1) of a middle 3 cents flat. Somebody stands about 35 cents below the A.'
    """
    off = "on the A"
    if abs(heard.off_cents) >= 0.5:
        off = f"{abs(heard.off_cents):.0f} cents {'flat' if heard.off_cents < 0.0 else 'sharp'}"
    said = f"Most within {max(1.0, heard.spread_cents):.0f} cents (± {max(1.0, heard.plus_minus_cents):.0f}) of a middle {off}."
    for far in heard.far_cents:
        said += f" Somebody stands about {abs(far):.0f} cents {'below' if far < 0.0 else 'above'} the A."
    return said


def hear_room(sound: Sound, *, a4: float) -> RoomHeard | RoomRefused:
    """How far a room is spread that plays its A, ``a4`` in Hz."""
    if sound.seconds < LEAST_SECONDS:
        return "too-short"
    hz, power = _spectrum(sound)
    if _share_of_a(hz, power, a4) < LEAST_SHARE_OF_A:
        return "no-common-a"
    grid = np.arange(-REACH_CENTS, REACH_CENTS + STEP_CENTS, STEP_CENTS)
    weighed = [weights for partial in PARTIALS if (weights := _weights(hz, power, partial * a4, grid)) is not None]
    if not weighed:
        return "too-soft"
    if len(weighed) < ENOUGH_PARTIALS:
        return "no-common-a"
    whole = np.mean([weights / weights.sum() for weights in weighed], axis=0)
    middle, far = _middle_and_far(grid, whole)
    spreads = [_spread(grid, weights, middle, far) for weights in weighed]
    spread = float(np.sqrt(max(0.0, float(np.median(np.square(spreads))) - BLUR_CENTS**2)))
    plus_minus = float(np.std(spreads) / np.sqrt(len(spreads)) + 0.15 * spread + 0.5)
    if plus_minus > max(SURE_CENTS, UNSURE_SHARE * spread):
        return "unsure"
    return RoomHeard(middle, spread, plus_minus, far)


def _share_of_a(hz: NDArray[np.floating], power: NDArray[np.floating], a4: float) -> float:
    """How much of what sounds lies around the A's own partials, a cello's too; noise spreads over all."""
    heard = (hz > 0.4 * a4) & (hz < 3.0 * a4)
    nearest = np.maximum(1.0, np.round(2.0 * hz / a4)) * 0.5 * a4
    near = np.abs(1200.0 * np.log2(np.maximum(hz, 1.0) / nearest)) < REACH_CENTS
    return float(power[heard & near].sum() / max(1e-30, power[heard].sum()))


def _spectrum(sound: Sound) -> tuple[NDArray[np.floating], NDArray[np.floating]]:
    """Power over frequency, averaged over windows that overlap, so that lines which beat are caught at all phases."""
    length = int(WINDOW_SECONDS * sound.rate_hz)
    window = np.hanning(length)
    starts = range(0, len(sound.samples) - length + 1, length // 4)
    looks = [np.abs(np.fft.rfft(window * sound.samples[start : start + length], 2 * length)) ** 2 for start in starts]
    return np.fft.rfftfreq(2 * length, 1.0 / sound.rate_hz), np.mean(looks, axis=0)


def _weights(
    hz: NDArray[np.floating], power: NDArray[np.floating], middle_hz: float, grid: NDArray[np.floating]
) -> NDArray[np.floating] | None:
    """How much sounds at each place around a partial, shape of ``grid``; None: nothing out of the noise. Levels count by their
    root, so that who is near the microphone doesn't speak for all.
    """
    if middle_hz * 1.1 > hz[-1]:
        return None
    here = np.interp(middle_hz * 2.0 ** (grid / 1200.0), hz, power)
    beside = np.concatenate([np.arange(-BESIDE_CENTS, -REACH_CENTS, 2.0), np.arange(REACH_CENTS + 2.0, BESIDE_CENTS, 2.0)])
    floor = float(np.median(np.interp(middle_hz * 2.0 ** (beside / 1200.0), hz, power)))
    if here.max() < 20.0 * floor:
        return None
    least = max(FLOOR_TIMES * floor, 1e-3 * here.max())
    return np.asarray(np.sqrt(np.where(here > least, here - least, 0.0)))


def _middle_and_far(grid: NDArray[np.floating], whole: NDArray[np.floating]) -> tuple[float, tuple[float, ...]]:
    """The weighted median, and where something stands apart from the rest."""
    share = np.cumsum(whole) / whole.sum()
    low, middle, high = (float(np.interp(part, share, grid)) for part in (0.3, 0.5, 0.7))
    reach = max(FAR_CENTS, FAR_SPREADS * (high - low) / 1.05)  # of a normal spread 40 % lie within 1.05 of it
    far = []
    for side in (grid < middle - reach, grid > middle + reach):
        weight = whole[side].sum() / whole.sum()
        if weight > FAR_SHARE:
            far.append(float(np.average(grid[side], weights=whole[side])))
    return middle, tuple(far)


def _spread(grid: NDArray[np.floating], weights: NDArray[np.floating], middle: float, far: tuple[float, ...]) -> float:
    near = np.abs(grid - middle) <= (min(abs(cents - middle) for cents in far) - 5.0 if far else REACH_CENTS)
    if weights[near].sum() == 0.0:
        return 0.0
    return float(np.sqrt(np.average((grid[near] - np.average(grid[near], weights=weights[near])) ** 2, weights=weights[near])))
