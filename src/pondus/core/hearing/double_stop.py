"""Two neighbouring strings sounding together: both pitches and the fifth between them.

Near a fifth every third partial of the lower string lies on every second of the upper, and there they beat; the others
stand alone, half the lower pitch apart. So each string is sought and measured on its unshared partials only: first as
the pitch whose unshared partials stand out most from the floor of the spectrum around them, then, over frames long
enough to part them, by the phases of those partials (`partials`), all in the frames in which both strings are steady.
A pair that isn't the asked one leaves no partials where ours should be, and is refused.
"""

import math
from dataclasses import dataclass
from itertools import pairwise
from typing import Literal

import numpy as np
from scipy.fft import next_fast_len, rfft
from scipy.ndimage import percentile_filter

from pondus.core.errors import BadInput
from pondus.core.fifths import Fifth, fifth_between
from pondus.core.hearing.hear import SILENT_BELOW_DB, Refusal, hear, peak_db
from pondus.core.hearing.partials import HOP_SECONDS, Demodulated, Fit, demodulate, fit, pitch_track_cents
from pondus.core.hearing.sound import Sound, at_working_rate
from pondus.core.hearing.steadiness import Bools, Floats, level_stretch
from pondus.core.instruments import Instrument
from pondus.core.pitch import A4_HZ
from pondus.core.targets import TEMPERED_FIFTH_CENTS, targets_hz

FifthReason = Literal[
    "silent", "noisy", "too-short", "unsteady", "one-string", "other-strings", "too-far", "not-together"
]
FIFTH_REFUSED_SAID: dict[FifthReason, str] = {
    "silent": "silent; record it closer",
    "noisy": "no string to be heard, only noise; play on",
    "too-short": "too short; let both strings sound for a second",
    "unsteady": "the pitch wanders; play one soft, long, even double stop",
    "one-string": "only one string sounds; bow both together",
    "other-strings": "other strings than these two",
    "too-far": "more than a semitone from a fifth; tune each string alone first",
    "not-together": "the strings sound one after the other; bow both together, or read each alone",
}
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
BALANCED_WITHIN_DB = 14.0
"""One so far under the other, both on their unshared partials, is another player's, or only rings along."""
QUIET_BELOW_TYPICAL_DB = 18.0
"""Under a string's louder frames (80th percentile): it has stopped, or not begun."""
ATTACK_SECONDS, ONSET_DB = 0.12, 9.0
"""A rise of so much in two frames is an attack, and so long after it the pitch isn't the string's yet."""
STEADY_WITHIN_CENTS, NEAR_MIDDLE_CENTS = 3.0, 6.0
"""As with one string, in `hear`."""
JITTER_ALLOWED_CENTS = 2.0
"""From frame to frame, that widens these bounds: noise, not movement."""
ERROR_AT_MOST_CENTS = 2.0
"""A fifth known worse than this can't tell pure from tempered (1.955 cents apart)."""
WEAKEST_DB = 30.0
"""A partial this far under the loudest may be the other string's shadow."""
MOST_PARTIALS = 8
"""Further up, the stretched partials of one stiff string may come to lie on the other's."""
FLOOR_ERROR_CENTS = 0.05
"""What bow and hand leave uncertain however long one listens."""


@dataclass(frozen=True)
class DoubleStop:
    """Both strings of a double stop: first partials in Hz, the fifth between them, its standard error in cents, for how
    long both were steady together, and a confidence from 0 to 1.
    """

    lower_hz: float
    upper_hz: float
    fifth: Fifth
    plus_minus_cents: float
    seconds_steady: float
    confidence: float


@dataclass(frozen=True)
class FifthRefusal:
    """Why a sound gives no fifth; ``heard`` names the strings that do sound in it, thickest first."""

    reason: FifthReason
    heard: tuple[str, ...] = ()


@dataclass(frozen=True)
class _Found:
    """A string sought in the spectrum: the best pitch, and whether a string of that pitch sounds there."""

    hz: float
    sounds: bool


def check_neighbours(instrument: Instrument, strings: tuple[str, str], *, field: str = "strings") -> tuple[str, str]:
    """The pair, if they are two neighbouring strings, lower first. Raises BadInput.

    >>> from pondus.core.instruments import INSTRUMENTS
    >>> check_neighbours(INSTRUMENTS["cello"], ("A", "D"))
    Traceback (most recent call last):
    ...
    pondus.core.errors.BadInput: A and D make no fifth on a cello; give two neighbours, lower first: C,G; G,D or D,A.
    """
    lower, upper = strings
    for each in strings:
        instrument.string(each, field=field)
    names = instrument.string_names
    if names.index(upper) - names.index(lower) != 1:
        pairs = [f"{a},{b}" for a, b in pairwise(names)]
        raise BadInput(
            field,
            f"{lower} and {upper} make no fifth on a {instrument.kind}; give two neighbours, lower first:"
            f" {'; '.join(pairs[:-1])} or {pairs[-1]}.",
        )
    return lower, upper


def hear_fifth(
    sound: Sound,
    instrument: Instrument,
    *,
    strings: tuple[str, str],
    a4: float = A4_HZ,
    fifth_cents: float = TEMPERED_FIFTH_CENTS,
) -> DoubleStop | FifthRefusal:
    """Hear two neighbouring strings (lower first) sounding together, each up to 120 cents from its target.

    Silence gives ``FifthRefusal("silent")``. Raises BadInput for strings that are no neighbours.
    """
    check_neighbours(instrument, strings)
    slower = at_working_rate(sound)
    if len(slower.samples) == 0 or peak_db(slower) < SILENT_BELOW_DB:
        return FifthRefusal("silent")
    targets = targets_hz(instrument, a4=a4, fifth_cents=fifth_cents)
    sought = _seek(slower, targets, strings)
    if sought is None:
        return FifthRefusal("too-short")
    return _measured(slower, sought) if sought.is_there else _refused(slower, instrument, sought, targets)


def hear_any_fifth(
    sound: Sound, instrument: Instrument, *, a4: float = A4_HZ, fifth_cents: float = TEMPERED_FIFTH_CENTS
) -> tuple[tuple[str, str], DoubleStop] | FifthRefusal:
    """Hear whichever two neighbours sound together: their names, lower first, and what was heard."""
    slower = at_working_rate(sound)
    if len(slower.samples) == 0 or peak_db(slower) < SILENT_BELOW_DB:
        return FifthRefusal("silent")
    targets = targets_hz(instrument, a4=a4, fifth_cents=fifth_cents)
    sought = [each for pair in pairwise(instrument.string_names) if (each := _seek(slower, targets, pair)) is not None]
    refusal = FifthRefusal("too-short") if not sought else None
    for each in (pair for pair in sought if pair.is_there):
        heard = _measured(slower, each)
        if isinstance(heard, DoubleStop):
            return each.strings, heard
        refusal = refusal or heard
    return refusal or _refused(slower, instrument, sought[0], targets)


@dataclass(frozen=True)
class _Sought:
    """Two neighbours sought in a sound."""

    strings: tuple[str, str]
    lower: _Found
    upper: _Found

    @property
    def is_there(self) -> bool:
        """Whether both sound, near enough to a fifth to be told from other strings' overtones."""
        return self.lower.sounds and self.upper.sounds and not self.is_far

    @property
    def is_far(self) -> bool:
        return abs(fifth_between(self.lower.hz, self.upper.hz).from_pure_cents) > FURTHEST_FROM_PURE_CENTS


def _seek(sound: Sound, targets: dict[str, float], strings: tuple[str, str]) -> _Sought | None:
    """Both strings of a pair in the spectrum; None where the sound is too short for one."""
    spectrum = _Spectrum.of(sound, targets[strings[0]])
    if spectrum is None:
        return None
    lower, upper = strings
    return _Sought(strings, _sought(spectrum, targets[lower], "lower"), _sought(spectrum, targets[upper], "upper"))


@dataclass(frozen=True)
class _Spectrum:
    """Average power of a sound in dB over its local floor: shape (bins,), ``step_hz`` apart."""

    above_floor_db: Floats
    step_hz: float

    @classmethod
    def of(cls, sound: Sound, lower_hz: float) -> "_Spectrum | None":
        """Of frames long enough to part partials half of ``lower_hz`` from each other; None if the sound is too short."""
        length = int(max(SPECTRUM_PERIODS / lower_hz, SPECTRUM_SECONDS) * sound.rate_hz)
        if len(sound.samples) < length:
            return None
        frames = np.lib.stride_tricks.sliding_window_view(sound.samples, length)[:: length // 2]
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


def _sought(spectrum: _Spectrum, target: float, side: Side) -> _Found:
    """The pitch near a target whose unshared partials stand out most, taken together."""
    cents = np.arange(-SEARCHED_CENTS, SEARCHED_CENTS + 1.0, SEARCH_STEP_CENTS)
    hz = target * 2.0 ** (cents / 1200.0)
    stands_out = np.maximum(spectrum.at(np.outer(hz, SEARCHED_ORDERS[side])), 0.0)
    best = int(np.argmax(stands_out.sum(axis=1)))
    return _Found(float(hz[best]), _sounds(spectrum, float(hz[best]), stands_out[best], side))


def _sounds(spectrum: _Spectrum, hz: float, stands_out_db: Floats, side: Side) -> bool:
    """Whether enough partials stand out, and they aren't the overtones of a string further down."""
    if (stands_out_db < STANDS_OUT_DB).sum() > MISSING_PARTIALS:
        return False
    loudest_below_db = max(TYPICAL_STANDS_OUT_DB, float(np.median(stands_out_db)) - OVERTONES_WITHIN_DB)
    return all(np.median(spectrum.at(hz * np.array(orders))) < loudest_below_db for orders in BELOW_ORDERS[side])


def _refused(sound: Sound, instrument: Instrument, asked: _Sought, targets: dict[str, float]) -> FifthRefusal:
    """Another pair, too far from a fifth, one string alone, or nothing that is a string."""
    for pair in pairwise(instrument.string_names):
        other = _seek(sound, targets, pair) if pair != asked.strings else None
        if other is not None and other.is_there:
            return FifthRefusal("other-strings", pair)
    both = (asked.lower, asked.upper)
    sounding = tuple(name for name, each in zip(asked.strings, both, strict=True) if each.sounds)
    if len(sounding) == 2:
        return FifthRefusal("too-far", sounding)
    if sounding:
        return FifthRefusal("one-string", sounding)
    alone = hear(sound, instrument)
    return FifthRefusal("noisy") if isinstance(alone, Refusal) else FifthRefusal("one-string", (alone.string,))


def _measured(sound: Sound, sought: _Sought) -> DoubleStop | FifthRefusal:
    """From a few cents to a fraction of one, over the frames in which both strings are steady."""
    window = max(PERIODS_IN_WINDOW / sought.lower.hz, SHORTEST_WINDOW_SECONDS)
    strands = [
        _Strand.near(sound, hz, side, window)
        for hz, side in ((sought.lower.hz, LEAVE_OUT["lower"]), (sought.upper.hz, LEAVE_OUT["upper"]))
    ]
    if any(each is None for each in strands):
        return FifthRefusal("too-short")
    lower, upper = (each for each in strands if each is not None)
    together = lower.sounding & upper.sounding
    if together.sum() * HOP_SECONDS < TOGETHER_AT_LEAST_SECONDS:
        return FifthRefusal("not-together")
    louder_db = float(np.median(upper.level_db[together]) - np.median(lower.level_db[together]))
    if abs(louder_db) > BALANCED_WITHIN_DB:
        return FifthRefusal("one-string", (sought.strings[1] if louder_db > 0.0 else sought.strings[0],))
    calm = together & lower.past_attack & upper.past_attack
    usable = calm if calm.sum() * HOP_SECONDS >= TOGETHER_AT_LEAST_SECONDS else together
    steady = usable & lower.steady(usable) & upper.steady(usable)
    if steady.sum() * HOP_SECONDS < TOGETHER_AT_LEAST_SECONDS:
        return FifthRefusal("unsteady")
    fits = (
        fit(lower.demodulated, steady, weakest_db=WEAKEST_DB),
        fit(upper.demodulated, steady, weakest_db=WEAKEST_DB),
    )
    if fits[0] is None or fits[1] is None:
        return FifthRefusal("noisy")
    return _result(fits[0], fits[1], float(steady.sum() * HOP_SECONDS))


def _result(lower: Fit, upper: Fit, seconds: float) -> DoubleStop | FifthRefusal:
    error = math.sqrt(lower.error_cents**2 + upper.error_cents**2 + FLOOR_ERROR_CENTS**2)
    if error > ERROR_AT_MOST_CENTS:
        return FifthRefusal("unsteady")
    sure = min(1.0, seconds / 0.8) / (1.0 + (error / 0.5) ** 2)
    return DoubleStop(lower.hz, upper.hz, fifth_between(lower.hz, upper.hz), error, seconds, sure)


@dataclass(frozen=True)
class _Strand:
    """One string followed through the sound on its unshared partials. ``level_db``: shape (frames,)."""

    demodulated: Demodulated
    fitted: Fit
    level_db: Floats

    @classmethod
    def near(cls, sound: Sound, hz: float, leave_out: int, window: float) -> "_Strand | None":
        rough = demodulate(sound, hz, most=MOST_PARTIALS, window_seconds=window, leave_out_every=leave_out)
        if len(rough.seconds) == 0:
            return None
        first = fit(rough, _loud(_level_db(rough)), longest_lag=6, weakest_db=WEAKEST_DB)
        if first is None:
            return None
        finer = demodulate(
            sound,
            first.hz,
            stiffness=first.stiffness,
            most=MOST_PARTIALS,
            window_seconds=window,
            leave_out_every=leave_out,
        )
        level = _level_db(finer)
        fitted = fit(finer, _loud(level), longest_lag=6, weakest_db=WEAKEST_DB)
        return None if fitted is None else cls(finer, fitted, level)

    @property
    def sounding(self) -> Bools:
        return _loud(self.level_db)

    @property
    def past_attack(self) -> Bools:
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
        jitter = min(1.5 * float(np.median(jumps)) if len(jumps) else 0.0, JITTER_ALLOWED_CENTS)
        still = usable & level_stretch(track, over=10, within_cents=STEADY_WITHIN_CENTS + 1.5 * jitter)
        if not still.any():
            return still
        return np.asarray(still & (np.abs(track - np.median(track[still])) < NEAR_MIDDLE_CENTS + 3.0 * jitter))


def _level_db(demodulated: Demodulated) -> Floats:
    return np.asarray(10.0 * np.log10(np.square(np.abs(demodulated.phasors)).sum(axis=1) + 1e-14))


def _loud(level_db: Floats) -> Bools:
    """Frames not much quieter than the louder ones are."""
    return np.asarray(level_db > np.percentile(level_db, 80) - QUIET_BELOW_TYPICAL_DB)
