"""Two neighbouring strings sought in one sound, and each followed in it.

Near a fifth every third partial of the lower string lies on every second of the upper; the others stand alone, half the lower
pitch apart. So each string is sought and followed on its unshared partials only: first as the pitch whose unshared partials
stand out most from the floor of the spectrum around them, then, over frames long enough to part them, by the phases of those
partials (`partials`).
"""

from dataclasses import dataclass
from itertools import pairwise
from typing import Literal

import numpy as np
from scipy.fft import next_fast_len, rfft

from pondus.core.fifths.beats import fifth_between
from pondus.core.hearing.arrays import middle, windows
from pondus.core.hearing.partials import HOP_SECONDS, Demodulated, Fit, demodulate, fit, pitch_track_cents
from pondus.core.hearing.sound import Sound
from pondus.core.hearing.steadiness import Bools, Floats, level_stretch

Side = Literal["lower", "upper"]

LEAVE_OUT: dict[Side, int] = {"lower": 3, "upper": 2}
"""The lower string's third, sixth, ... partials are the upper's second, fourth, ...: shared, so left out."""
SEARCHED_CENTS, SEARCH_STEP_CENTS = 120.0, 2.0
"""How far from its target a string is sought, and in which steps."""
SEARCHED_ORDERS: dict[Side, tuple[int, ...]] = {"lower": (1, 2, 4, 5, 7), "upper": (1, 3, 5)}
BELOW_ORDERS: dict[Side, tuple[tuple[float, ...], ...]] = {
    "lower": ((0.5, 2.5, 3.5), (1 / 3, 2 / 3, 4 / 3, 5 / 3)),
    "upper": ((0.5, 1.5, 2.5), (1 / 3, 5 / 3, 7 / 3)),
}
"""Where a string an octave or a twelfth below would have partials and a pure fifth has none: if most of those sound, what was
found is that string's overtones. At least three each: a room rumbles and hums at the lowest.
"""
FURTHEST_FROM_PURE_CENTS = 100.0
"""A semitone: beyond it the shared partials lie nearer to others than to each other."""
SPECTRUM_PERIODS, SPECTRUM_SECONDS = 20.0, 0.3
"""Frames of so many periods of the lower string part partials that lie half its pitch from each other: a Hann window's line is
four bins wide, there are ten between them.
"""
FLOOR_PERCENTILE = 30
STANDS_OUT_DB = 11.0
"""The floor is the 30th percentile of the level around; a partial that sounds stands out from it by more than noise does."""
MISSING_PARTIALS = 1
"""One of those sought may be missing: a weak fundamental, or the one that lies still where the string was plucked."""
OVERTONES_WITHIN_DB = 12.0
"""A string's overtones are about as loud as those between them; hum and talk there are weaker."""
TYPICAL_STANDS_OUT_DB = 9.0
"""The middle one of several bins of noise stands out by less."""
PERIODS_IN_WINDOW, SHORTEST_WINDOW_SECONDS = 14.0, 0.1
"""Twice a single string's: the neighbours of a partial are half as far away here."""
TOGETHER_AT_LEAST_SECONDS = 0.24
"""Twelve frames in which both sound."""
QUIET_BELOW_TYPICAL_DB = 18.0
"""Under a string's louder frames (80th percentile): it has stopped, or not begun."""
ATTACK_SECONDS, ONSET_DB = 0.12, 9.0
"""A rise of so much in two frames is an attack, and so long after it the pitch isn't the string's yet."""
STEADY_WITHIN_CENTS, NEAR_MIDDLE_CENTS = 3.0, 6.0
"""As with one string, in `hear`."""
JITTER_ALLOWED_CENTS = 2.0
"""From frame to frame, that widens these bounds: noise, not movement."""
WEAKEST_DB = 30.0
"""A partial this far under the loudest may be the other string's shadow."""
MOST_PARTIALS = 8
"""Further up, the stretched partials of one stiff string may come to lie on the other's."""


@dataclass(frozen=True)
class Found:
    """A string sought in the spectrum: the best pitch, and whether a string of that pitch sounds there."""

    hz: float
    sounds: bool


@dataclass(frozen=True)
class Sought:
    """Two neighbours sought in a sound."""

    strings: tuple[str, str]
    lower: Found
    upper: Found

    @property
    def is_there(self) -> bool:
        """Whether both sound, near enough to a fifth to be told from other strings' overtones."""
        return self.lower.sounds and self.upper.sounds and not self.is_far

    @property
    def is_far(self) -> bool:
        """Whether they lie too far from a fifth for their partials to be told apart."""
        return abs(fifth_between(self.lower.hz, self.upper.hz).from_pure_cents) > FURTHEST_FROM_PURE_CENTS


def seek(sound: Sound, targets: dict[str, float], strings: tuple[str, str]) -> Sought | None:
    """Both strings of a pair in the spectrum; None where the sound is too short for one."""
    spectrum = Spectrum.of(sound, targets[strings[0]])
    if spectrum is None:
        return None
    lower, upper = strings
    return Sought(strings, _sought(spectrum, targets[lower], "lower"), _sought(spectrum, targets[upper], "upper"))


@dataclass(frozen=True)
class Spectrum:
    """Average power of a sound in dB over its local floor: shape (bins,), ``step_hz`` apart."""

    above_floor_db: Floats
    step_hz: float

    @classmethod
    def of(cls, sound: Sound, lower_hz: float) -> "Spectrum | None":
        """Of frames long enough to part partials half of ``lower_hz`` from each other; None if the sound is too short."""
        length = int(max(SPECTRUM_PERIODS / lower_hz, SPECTRUM_SECONDS) * sound.rate_hz)
        if len(sound.samples) < length:
            return None
        frames = windows(sound.samples, length, every=length // 2, count=len(sound.samples))
        from scipy.ndimage import percentile_filter  # takes long to load; one string alone does without

        size = next_fast_len(2 * length, real=True)
        power = np.square(np.abs(rfft(frames * np.hanning(length).astype(np.float32), size, axis=1))).mean(axis=0)
        level: Floats = 10.0 * np.log10(power.astype(np.float64) + 1e-14)
        step = sound.rate_hz / size
        floor = percentile_filter(level, FLOOR_PERCENTILE, size=max(3, int(1.5 * lower_hz / step)))
        return cls(np.asarray(level - floor), step)

    def at(self, hz: Floats) -> Floats:
        """How far the spectrum stands out at these frequencies, in dB; nothing past its end."""
        bins = np.arange(len(self.above_floor_db))
        return np.asarray(np.interp(hz / self.step_hz, bins, self.above_floor_db, right=0.0))


def _sought(spectrum: Spectrum, target: float, side: Side) -> Found:
    """The pitch near a target whose unshared partials stand out most, taken together."""
    cents = np.arange(-SEARCHED_CENTS, SEARCHED_CENTS + 1.0, SEARCH_STEP_CENTS)
    hz = target * 2.0 ** (cents / 1200.0)
    stands_out = np.maximum(spectrum.at(np.outer(hz, SEARCHED_ORDERS[side])), 0.0)
    best = int(np.argmax(stands_out.sum(axis=1)))
    return Found(float(hz[best]), _sounds(spectrum, float(hz[best]), stands_out[best], side))


def _sounds(spectrum: Spectrum, hz: float, stands_out_db: Floats, side: Side) -> bool:
    """Whether enough partials stand out, and they aren't the overtones of a string further down."""
    if (stands_out_db < STANDS_OUT_DB).sum() > MISSING_PARTIALS:
        return False
    loudest_below_db = max(TYPICAL_STANDS_OUT_DB, middle(stands_out_db) - OVERTONES_WITHIN_DB)
    return all(middle(spectrum.at(hz * np.array(orders))) < loudest_below_db for orders in BELOW_ORDERS[side])


@dataclass(frozen=True)
class Strand:
    """One string followed through the sound on its unshared partials. ``level_db``: shape (frames,)."""

    demodulated: Demodulated
    fitted: Fit
    level_db: Floats

    @classmethod
    def near(cls, sound: Sound, hz: float, leave_out: int, window: float) -> "Strand | None":
        """Follow a string near ``hz`` without each ``leave_out``-th partial, in windows of so many seconds; None: too short."""
        rough = demodulate(sound, hz, most=MOST_PARTIALS, window_seconds=window, leave_out_every=leave_out)
        if len(rough.seconds) == 0:
            return None
        first = fit(rough, _loud(_level_db(rough)), longest_lag=6, weakest_db=WEAKEST_DB)
        if first is None:
            return None
        finer = demodulate(
            sound, first.hz, stiffness=first.stiffness, most=MOST_PARTIALS, window_seconds=window, leave_out_every=leave_out
        )
        level = _level_db(finer)
        fitted = fit(finer, _loud(level), longest_lag=6, weakest_db=WEAKEST_DB)
        return None if fitted is None else cls(finer, fitted, level)

    @property
    def sounding(self) -> Bools:
        """The frames in which it sounds: shape (frames,)."""
        return _loud(self.level_db)

    @property
    def past_attack(self) -> Bools:
        """The frames past each sudden rise of its level: shape (frames,)."""
        rise = np.zeros(len(self.level_db), dtype=bool)
        rise[2:] = self.level_db[2:] - self.level_db[:-2] > ONSET_DB
        hidden = np.convolve(rise, np.ones(int(ATTACK_SECONDS / HOP_SECONDS)), mode="full")[: len(rise)] > 0
        return np.asarray(~hidden)

    def steady(self, usable: Bools) -> Bools:
        """Frames in which this string's pitch stands still, near where it mostly is."""
        track = pitch_track_cents(self.demodulated, self.fitted)
        if len(track) == 0:
            return np.zeros(len(usable), dtype=bool)
        track = np.concatenate([track, track[-1:]])
        jumps = np.abs(np.diff(track))[usable[1:]]
        jitter = min(1.5 * middle(jumps), JITTER_ALLOWED_CENTS)
        still = usable & level_stretch(track, over=10, within_cents=STEADY_WITHIN_CENTS + 1.5 * jitter)
        if not still.any():
            return still
        return np.asarray(still & (np.abs(track - middle(track[still])) < NEAR_MIDDLE_CENTS + 3.0 * jitter))


def _level_db(demodulated: Demodulated) -> Floats:
    return np.asarray(10.0 * np.log10(np.square(np.abs(demodulated.phasors)).sum(axis=1) + 1e-14))


def _loud(level_db: Floats) -> Bools:
    """Frames not much quieter than the louder ones are."""
    return np.asarray(level_db > np.percentile(level_db, 80) - QUIET_BELOW_TYPICAL_DB)


def strands(sound: Sound, sought: Sought) -> tuple[Strand, Strand] | None:
    """Both strings followed through the sound, the lower first; None where it is too short for that."""
    window = max(PERIODS_IN_WINDOW / sought.lower.hz, SHORTEST_WINDOW_SECONDS)
    lower = Strand.near(sound, sought.lower.hz, LEAVE_OUT["lower"], window)
    upper = Strand.near(sound, sought.upper.hz, LEAVE_OUT["upper"], window)
    return None if lower is None or upper is None else (lower, upper)


def upper_louder_db(lower: Strand, upper: Strand) -> float | None:
    """By how much the upper string is louder while both sound, in dB; None where they hardly sound together."""
    together = lower.sounding & upper.sounding
    if together.sum() * HOP_SECONDS < TOGETHER_AT_LEAST_SECONDS:
        return None
    return middle(upper.level_db[together]) - middle(lower.level_db[together])


def sounds_with_a_neighbour(sound: Sound, targets: dict[str, float], name: str, *, within_db: float) -> bool:
    """Whether a neighbour of this string sounds with it, no more than ``within_db`` louder or softer. ``targets``: in Hz by
    string, thickest first.
    """
    for pair in pairwise(targets):
        sought = seek(sound, targets, pair) if name in pair else None
        if sought is None or not sought.is_there:
            continue
        both = strands(sound, sought)
        louder = None if both is None else upper_louder_db(*both)
        if louder is not None and abs(louder) < within_db:
            return True
    return False
