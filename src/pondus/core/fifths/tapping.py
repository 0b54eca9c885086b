"""Beats counted by tapping along, and the small move that tells which way a fifth is out.

Taps come unevenly: one is missed, one doubled. The rate is a straight line through tap times against beat numbers, the
numbers found from the usual gap between taps. Beats alone don't tell the direction: a wide fifth and a narrow one beat
alike. Turn one string a hair: faster means the fifth went further from pure.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Literal

import numpy as np

from pondus.core.errors import BadInput
from pondus.core.fifths.beats import from_pure_of_beats
from pondus.core.judgement.situation import Pitch

Moved = Literal["lower", "upper"]
FEWEST_TAPS, MOST_TAPS = 4, 200
DOUBLED_SHARE = 0.35
UNEVEN_SHARE = 0.30
TELLS_SHARE = 0.10


@dataclass(frozen=True)
class Tapped:
    """Beats per second with their standard error, from how many taps."""

    beats_hz: float
    plus_minus_hz: float
    taps: int


def beats_from_taps(seconds: Sequence[float]) -> Tapped:
    """Beats per second from the moments of taps, in seconds, in order.

    Raises BadInput for fewer than four taps or far too many, taps out of order, or taps too uneven to mean one rate.

    >>> tapped = beats_from_taps([0.0, 0.98, 2.03, 4.0, 5.01])  # one missed
    >>> round(tapped.beats_hz, 2), tapped.taps
    (1.0, 5)
    """
    if len(seconds) < FEWEST_TAPS:
        raise BadInput("taps", f"{len(seconds)} taps are too few to tell a rate; tap at least {FEWEST_TAPS} beats.")
    if len(seconds) > MOST_TAPS:
        raise BadInput("taps", f"{len(seconds)} taps are more than it takes; tap up to {MOST_TAPS}.")
    if any(after <= before for before, after in pairwise(seconds)):
        raise BadInput("taps", "Taps must come one after the other; tap again.")
    times = _without_doubles(np.asarray(seconds, dtype=np.float64))
    if len(times) < FEWEST_TAPS:
        raise BadInput("taps", "Too few of these taps are beats of their own; tap once on each beat, at least four times.")
    gap = float(np.median(np.diff(times)))
    numbers = np.concatenate([[0.0], np.cumsum(np.maximum(np.round(np.diff(times) / gap), 1.0))])
    slope, start = np.polyfit(numbers, times, 1)
    misses = times - (start + slope * numbers)
    spread = float(np.sqrt((misses @ misses) / max(1, len(times) - 2)))
    if spread > UNEVEN_SHARE * slope:
        raise BadInput("taps", "These taps are too uneven to mean one rate; listen through a few beats, then tap again.")
    error = spread / float(np.sqrt(np.sum((numbers - numbers.mean()) ** 2)))
    return Tapped(1.0 / float(slope), max(error, 0.005) / float(slope) ** 2, len(seconds))


def _without_doubles(times: np.ndarray) -> np.ndarray:
    """Leave out taps that follow another within a third of the usual gap."""
    gaps = np.diff(times)
    kept = np.concatenate([[True], gaps > DOUBLED_SHARE * float(np.median(gaps))])
    return np.asarray(times[kept])


def wide_by_small_move(*, before_hz: float, after_hz: float, moved: Moved, pitch: Pitch) -> bool:
    """Whether the fifth was too wide before a small move of one of its strings; beats before and after it.

    Raises BadInput where the beats hardly changed.

    >>> wide_by_small_move(before_hz=1.2, after_hz=0.8, moved="lower", pitch="raise")
    True
    >>> wide_by_small_move(before_hz=1.2, after_hz=1.7, moved="lower", pitch="raise")
    False
    """
    if abs(after_hz - before_hz) < max(0.03, TELLS_SHARE * before_hz):
        raise BadInput(
            "beats_hz",
            f"The beats hardly changed ({before_hz:.2f} and {after_hz:.2f} a second), so they don't tell which way; move"
            " the string a little further and tap again.",
        )
    narrows = (moved == "lower") == (pitch == "raise")
    return narrows == (after_hz < before_hz)


@dataclass(frozen=True)
class SmallMove:
    """A string turned a hair between two tappings, and how fast it beat before."""

    moved: Moved
    pitch: Pitch
    before_hz: float


@dataclass(frozen=True)
class TappedFifth:
    """What taps tell of a fifth. ``from_pure_cents`` None: which way it is out isn't known yet."""

    beats_hz: float
    plus_minus_cents: float
    from_pure_cents: float | None


def fifth_from_taps(seconds: Sequence[float], *, lower_hz: float, small_move: SmallMove | None) -> TappedFifth:
    """The fifth over a lower string that was tapped along to. A small move doesn't lead through pure, so that the fifth is out
    the same way after it as before.

    Raises BadInput.

    >>> fifth_from_taps([0.0, 1.0, 2.0, 3.0], lower_hz=146.8, small_move=None).from_pure_cents is None
    True
    >>> slower = SmallMove("lower", "raise", before_hz=1.5)
    >>> round(fifth_from_taps([0.0, 1.0, 2.0, 3.0], lower_hz=146.8, small_move=slower).from_pure_cents, 1)
    3.9
    """
    tapped = beats_from_taps(seconds)
    size = from_pure_of_beats(lower_hz, tapped.beats_hz)
    spread = size * tapped.plus_minus_hz / tapped.beats_hz
    if small_move is None:
        return TappedFifth(tapped.beats_hz, spread, None)
    wide = wide_by_small_move(
        before_hz=small_move.before_hz, after_hz=tapped.beats_hz, moved=small_move.moved, pitch=small_move.pitch
    )
    return TappedFifth(tapped.beats_hz, spread, size if wide else -size)
