"""A recording to a reading: the whole way of hearing one string.

First a difference function per frame finds the period (no octave flips on a weak fundamental), then the frames agree
on one pitch, then the partials' phases give it to a fraction of a cent over the steady part (`partials`), and last the
string is named. Where there is no steady pitch the answer is a refusal with its reason.
"""

import math
from collections.abc import Collection
from dataclasses import dataclass
from typing import Literal

import numpy as np

from pondus.core.hearing.arrays import middle, middles
from pondus.core.hearing.beginning import loud_beginnings
from pondus.core.hearing.octave import (
    OCTAVES_TRIED_BELOW,
    REPEATS_SURELY,
    is_likely,
    is_tuned,
    sounding_multiple,
    sounds_between,
)
from pondus.core.hearing.one_string import Shares, is_mains, is_two_notes, shares
from pondus.core.hearing.partials import (
    CENTS_PER_LN,
    HOP_SECONDS,
    Demodulated,
    Fit,
    demodulate,
    fit,
    partial_hz,
    pitch_track_cents,
)
from pondus.core.hearing.periodicity import Frames, frame_periods
from pondus.core.hearing.sound import Sound, at_working_rate
from pondus.core.hearing.steadiness import (
    AROUND_MIDDLE_CENTS,
    STEADY_AT_LEAST_SECONDS,
    Bools,
    Floats,
    Main,
    fluctuation,
    main_pitch,
    on_grid,
    past_attacks,
    periodic_frames,
    spread_of,
    steady_part,
)
from pondus.core.hearing.two_strings import sounds_with_a_neighbour
from pondus.core.instruments import Instrument
from pondus.core.instruments.targets import TEMPERED_FIFTH_CENTS, targets_hz
from pondus.core.pitch.notes import A4_HZ, NearestNote, Spelling, cents_between, nearest_note, shift_hz

Reason = Literal["silent", "noisy", "too-short", "unsteady", "swaying", "not-a-string"]

PERHAPS_LOWER, PERHAPS_LOWER_FROM_CENTS = 0.3, 900.0
"""So sure at most is what stands so high over its string, or where a string below it is due and none here."""
UNSURE_BELOW = 0.15
"""A reading this little sure is not kept by itself: the string is to be played again, slower."""
TAKEN_PLACE_OF: tuple[Reason, ...] = ("not-a-string", "unsteady")
"""What is said of a sounding whose place another's takes as it fades: its loud beginning may be one string's."""
SILENT_BELOW_DB = -66.0
"""Re full scale, the loudest 20 ms: less is a microphone's own noise."""
PERIODIC_AT_LEAST_SECONDS = 0.30
"""How much must have a period, and how much of that be steady (`STEADY_AT_LEAST_SECONDS`): a short pluck of a small instrument
still has it.
"""
BELOW_LOWEST_CENTS, ABOVE_HIGHEST_CENTS = 720.0, 420.0
SEARCH_BELOW_CENTS, SEARCH_ABOVE_CENTS = 100.0, 600.0
"""What may be a string: a fifth and a little under the lowest, a third over the highest. Periods are sought further out, so
that what lies outside is seen where it is and not as an octave inside.
"""
LEVEL_OVER_SECONDS = 0.2
"""Over so long a level is averaged, before its swelling and fading is looked at."""
MEANT_OTHERWISE = 2.0
"""How much of what the loud beginning would say lies in one spread; three of them hold it. Of how far the partials lie from
their string all does: a body may pull the first one by three times what it pulls them all. It makes a reading no less steady,
so that half of it counts for `_confidence`.
"""
SPREADS_HOLD, FIRST_HEARD_DB, FIRST_KNOWN_TO_CENTS = 2.5, -45.0, 3.0
"""So many spreads hold what is read by the first partial alone, however weak beside the others: down to so far under the
loudest, and known to so many cents. Not three: whoever reads it so may have read it at another moment.
"""
DISAGREE_AT_MOST_CENTS = 10.0
"""Partials that lie further from the one string fitted to them, the loud ones more, are two strings'."""
ELSEWHERE_CENTS, ELSEWHERE_AT_MOST = 16.0, 0.3
"""So they are where so much of their power lies that far off; a body's air pulls a string's first one by up to 12 cents."""
NEIGHBOUR_WITHIN_DB = ((0.035, 9.0), (0.008, 4.0))
"""Where a line between the partials has so much of the power, it may be the open neighbour's that was touched too; no more than
so far under the string, it spoils the reading.
"""
CERTAIN_CENTS, CERTAIN_TO_CENTS = 2.5, 1.0
"""A partial that lies this near to the string and is known so well is the string's own, however weak."""
TRIED_FURTHER_DOWN = (3, 4)
"""Of so many of the period that was found a lower string is looked for, beside its octave."""
BASE_PARTIALS = 12
FIRST_LOOK_LAG = 6
"""A first look needs fewer partials than the final one (14), and phases 6 frames apart (0.12 s)."""


@dataclass(frozen=True)
class Reading:
    """What was heard of one string.

    ``hz`` is the first partial. ``note`` the nearest equal-tempered note; ``string`` the string it must be (or the one
    asked for) and ``string_cents`` the distance to its target. ``spread_cents``: three of them hold what another honest way of
    reading would say (how the pitch wandered, how the louder beginning and the partials lie from it); ``seconds_steady`` how
    long the part that counts was, ``confidence`` 0 to 1.
    """

    hz: float
    note: NearestNote
    string: str
    string_cents: float
    spread_cents: float
    seconds_steady: float
    confidence: float


@dataclass(frozen=True)
class Refusal:
    """Why a sound gives no reading."""

    reason: Reason


@dataclass(frozen=True)
class _Pitch:
    """``levels``: of each partial of ``orders``, while it was heard, and ``certain``: whether it is known to lie on the string:
    shape (partials,). ``unsteady_cents``: as much of the spread as makes a reading less sure.
    """

    hz: float
    orders: Floats
    levels: Floats
    certain: Bools
    whose: Shares
    spread_cents: float
    unsteady_cents: float
    seconds_steady: float
    aperiodicity: float
    level_spread_db: float


def hear(
    sound: Sound,
    instrument: Instrument,
    *,
    string: str | None = None,
    a4: float = A4_HZ,
    fifth_cents: float = TEMPERED_FIFTH_CENTS,
    spelling: Spelling = "sharps",
) -> Reading | Refusal:
    """Hear one string of ``instrument`` in a sound; ``string`` names it, None finds it.

    Silence gives ``Refusal("silent")``; nothing is guessed. Raises BadInput for a string the instrument hasn't.
    """
    if string is not None:
        instrument.string(string)
    tuned = _Tuned(targets_hz(instrument, a4=a4, fifth_cents=fifth_cents), string, a4, spelling)
    slower = at_working_rate(sound)
    whole = _read(slower, tuned)
    if isinstance(whole, Refusal) and whole.reason in TAKEN_PLACE_OF:
        for part in loud_beginnings(slower):
            first = _read(part, tuned)
            if isinstance(first, Reading) and first.confidence >= UNSURE_BELOW:
                return first
    return whole


@dataclass(frozen=True)
class _Tuned:
    """Where each string is due, in Hz, which one is asked for, and how notes are named."""

    targets: dict[str, float]
    string: str | None
    a4: float
    spelling: Spelling


def _read(slower: Sound, tuned: _Tuned) -> Reading | Refusal:
    """Hear one string in a sound at its working rate."""
    targets, string = tuned.targets, tuned.string
    lowest, highest = min(targets.values()), max(targets.values())
    pitch = _find_pitch(
        slower,
        lowest_hz=shift_hz(lowest, -BELOW_LOWEST_CENTS - SEARCH_BELOW_CENTS),
        highest_hz=shift_hz(highest, ABOVE_HIGHEST_CENTS + SEARCH_ABOVE_CENTS),
        likely_hz=targets.values() if string is None else [targets[string]],
        named_hz=None if string is None else targets[string],
    )
    if isinstance(pitch, Refusal):
        return pitch
    below, above = cents_between(pitch.hz, lowest), cents_between(pitch.hz, highest)
    if (
        below < -BELOW_LOWEST_CENTS
        or above > ABOVE_HIGHEST_CENTS
        or is_mains(pitch.hz, pitch.level_spread_db)
        or is_two_notes(pitch.hz, pitch.orders, pitch.levels, pitch.certain, targets)
    ):
        return Refusal("not-a-string")
    name = string or min(targets, key=lambda name: abs(cents_between(pitch.hz, targets[name])))
    within_db = next((db for line, db in NEIGHBOUR_WITHIN_DB if pitch.whose.other_line > line), None)
    if within_db is not None and sounds_with_a_neighbour(slower, targets, name, within_db=within_db):
        return Refusal("not-a-string")
    string_cents = cents_between(pitch.hz, targets[name])
    confidence = _confidence(pitch)
    likely = targets.values() if string is None else [targets[string]]
    if string_cents > PERHAPS_LOWER_FROM_CENTS or _may_be_lower(pitch.hz, likely):
        confidence = min(confidence, PERHAPS_LOWER)
    return Reading(
        hz=pitch.hz,
        note=nearest_note(pitch.hz, a4=tuned.a4, spelling=tuned.spelling),
        string=name,
        string_cents=string_cents,
        spread_cents=pitch.spread_cents,
        seconds_steady=pitch.seconds_steady,
        confidence=confidence,
    )


def _may_be_lower(hz: float, likely_hz: Collection[float]) -> bool:
    """Whether no string is due there, but one an octave, a twelfth or two octaves below: of a low string heard through a small
    microphone, and of a harmonic, there may be nothing that tells.
    """
    if is_likely(hz, likely_hz):
        return False
    return any(is_likely(hz / times, likely_hz) for times in (OCTAVES_TRIED_BELOW, *TRIED_FURTHER_DOWN))


@dataclass(frozen=True)
class Tone:
    """A steady tone: its pitch in Hz, how much it wandered (cents), for how long it was steady, and how sure that is."""

    hz: float
    spread_cents: float
    seconds_steady: float
    confidence: float


def hear_tone(sound: Sound, *, near_hz: float, within_cents: float = 250.0) -> Tone | Refusal:
    """Hear one tone near a known pitch, as a harmonic is. Another pitch gives ``Refusal("not-a-string")``."""
    pitch = _find_pitch(
        at_working_rate(sound),
        lowest_hz=shift_hz(near_hz, -2.0 * ABOVE_HIGHEST_CENTS),
        highest_hz=shift_hz(near_hz, 2.0 * ABOVE_HIGHEST_CENTS),
        likely_hz=[near_hz],
    )
    if isinstance(pitch, Refusal):
        return pitch
    if abs(cents_between(pitch.hz, near_hz)) > within_cents:
        return Refusal("not-a-string")
    return Tone(pitch.hz, pitch.spread_cents, pitch.seconds_steady, _confidence(pitch))


def _confidence(pitch: _Pitch) -> float:
    """0 to 1: long, steady and clearly periodic counts."""
    longish = min(1.0, pitch.seconds_steady / 0.6)
    steady = 1.0 / (1.0 + (pitch.unsteady_cents / 2.0) ** 2)
    return float(np.clip(longish * steady * (1.0 - pitch.aperiodicity), 0.0, 1.0))


def _find_pitch(
    sound: Sound, *, lowest_hz: float, highest_hz: float, likely_hz: Collection[float], named_hz: float | None = None
) -> _Pitch | Refusal:
    if len(sound.samples) == 0 or peak_db(sound) < SILENT_BELOW_DB:
        return Refusal("silent")
    frames = frame_periods(sound, lowest_hz=lowest_hz, highest_hz=highest_hz)
    periodic = periodic_frames(frames)
    seconds_periodic = periodic.sum() * HOP_SECONDS
    if seconds_periodic < 0.05:
        return Refusal("too-short" if sound.seconds < PERIODIC_AT_LEAST_SECONDS else "noisy")
    main = main_pitch(frames, periodic, named_hz=named_hz)
    if main is None:
        return Refusal("noisy")
    if seconds_periodic < PERIODIC_AT_LEAST_SECONDS:
        return Refusal("too-short")
    if main.frames.sum() * HOP_SECONDS < STEADY_AT_LEAST_SECONDS:
        return Refusal("unsteady")
    return _refine(sound, frames, main, highest_hz=highest_hz, likely_hz=likely_hz)


def peak_db(sound: Sound) -> float:
    """Level of the loudest 20 ms."""
    block = max(1, int(0.02 * sound.rate_hz))
    whole = len(sound.samples) // block * block
    if whole == 0:
        return 10.0 * float(np.log10(np.mean(np.square(sound.samples)) + 1e-12))
    powers = np.square(sound.samples[:whole]).reshape(-1, block).mean(axis=1)
    return 10.0 * float(np.log10(powers.max() + 1e-12))


def _refine(sound: Sound, frames: Frames, main: Main, *, highest_hz: float, likely_hz: Collection[float]) -> _Pitch | Refusal:
    """From a few cents to a fraction of one, over the steady part only; and the octave for certain."""
    same = main.frames
    further = _further_down(sound, frames, main, likely_hz)
    if further is None:
        base = demodulate(sound, main.hz / OCTAVES_TRIED_BELOW, most=BASE_PARTIALS)
        if len(base.seconds) == 0:
            return Refusal("too-short")
        calm = _settled(frames, base, on_grid(same, frames.seconds, base.seconds))
        fitted = fit(base, calm, longest_lag=FIRST_LOOK_LAG)
        if fitted is None:
            return Refusal("noisy")
        repeats = _repeats_later(frames, same, OCTAVES_TRIED_BELOW)
        multiple = sounding_multiple(fitted, base, calm, repeats=repeats, highest_hz=highest_hz, likely_hz=likely_hz)
        further = fitted, multiple
    fitted, multiple = further
    demodulated = demodulate(sound, fitted.hz * multiple, stiffness=fitted.stiffness * multiple**2)
    usable = on_grid(same, frames.seconds, demodulated.seconds)
    refined = fit(demodulated, _settled(frames, demodulated, usable), longest_lag=FIRST_LOOK_LAG)
    if refined is None:
        return Refusal("noisy")
    return _steady_pitch(sound, frames, demodulated, refined, usable)


def _further_down(sound: Sound, frames: Frames, main: Main, likely_hz: Collection[float]) -> tuple[Fit, int] | None:
    """A string whose period is three or four times the one that was found, fitted to its partials; None where there is none.
    Of a low string a small microphone lets through so little below its third partial that the wave all but repeats with it.
    """
    if is_tuned(main.hz, likely_hz):
        return None
    for times in TRIED_FURTHER_DOWN:
        if _repeats_later(frames, main.frames, times) > REPEATS_SURELY:
            continue
        base = demodulate(sound, main.hz / times, most=times * BASE_PARTIALS // OCTAVES_TRIED_BELOW)
        if len(base.seconds) == 0:
            return None
        calm = _settled(frames, base, on_grid(main.frames, frames.seconds, base.seconds))
        fitted = fit(base, calm, longest_lag=FIRST_LOOK_LAG)
        if fitted is not None and sounds_between(fitted, base.orders, times):
            return fitted, 1
    return None


def _repeats_later(frames: Frames, same: Bools, times: int) -> float:
    """How much better the wave repeats after so many of the period that was found: below 1 where a lower string may sound.
    Noise and other players between its partials look like that string's own, but don't make the wave repeat.
    """
    once, later = middle(frames.aperiodicity[same]), middle(frames.at_multiple(times)[same])
    return later / max(once, 1e-9)


def _settled(frames: Frames, demodulated: Demodulated, usable: Bools) -> Bools:
    """Usable frames past the attack, where enough are left; else all usable ones."""
    calm = usable & on_grid(past_attacks(frames), frames.seconds, demodulated.seconds)
    return calm if calm.sum() * HOP_SECONDS >= STEADY_AT_LEAST_SECONDS else usable


def _from_the_loud(track: Floats, usable: Bools, steady: Bools, demodulated: Demodulated) -> float:
    """How far the part that counts lies from all that can be used, the louder the more, in cents: a pluck comes down as it
    fades, and whoever looks at its beginning reads it higher.
    """
    counts = middle(track[steady])
    part = usable & (np.abs(track - counts) < AROUND_MIDDLE_CENTS)
    power = np.square(demodulated.sizes[part]).sum(axis=1) + 1e-30
    return float(power @ track[part] / power.sum()) - counts


def _off_the_string(fitted: Fit, orders: Floats) -> Floats:
    """How far each partial lies from the one string that is fitted to them all, in cents: shape (partials,)."""
    lie = partial_hz(fitted.hz, fitted.stiffness, orders)
    return np.asarray(CENTS_PER_LN * np.log(np.maximum(fitted.partial_hz, 0.5 * lie) / lie))


def _disagreement(off: Floats, fitted: Fit) -> float:
    """How far the partials lie from the one string that is fitted to them, in cents, the louder the more: a plucked string's
    first ones are pulled by the body, and whoever goes by them alone reads it otherwise.
    """
    near = np.abs(off) < AROUND_MIDDLE_CENTS
    if not near.any():
        return 0.0
    return float(np.sqrt(np.average(off[near] ** 2, weights=fitted.strength[near] + 1e-15)))


def _power_elsewhere(off: Floats, fitted: Fit) -> float:
    """How much of the partials' power lies off the string that is fitted to them."""
    power = np.square(fitted.strength)
    return float(power[np.abs(off) > ELSEWHERE_CENTS].sum() / max(float(power.sum()), 1e-30))


def _by_the_first(off: Floats, fitted: Fit) -> float:
    """How far off the string lies for whoever goes by its first partial alone, in cents; 0 where that is hardly there."""
    heard = fitted.off_by_cents[0] < FIRST_KNOWN_TO_CENTS
    heard = heard and fitted.strength[0] > 10.0 ** (FIRST_HEARD_DB / 20.0) * fitted.strength.max()
    return abs(float(off[0])) if heard and abs(off[0]) < AROUND_MIDDLE_CENTS else 0.0


def _steady_pitch(sound: Sound, frames: Frames, demodulated: Demodulated, fitted: Fit, usable: Bools) -> _Pitch | Refusal:
    track = pitch_track_cents(demodulated, fitted, lag=1)
    if len(track) == 0:
        return Refusal("too-short")
    usable = _settled(frames, demodulated, usable)
    centred = np.append(track, track[-1])
    steady = steady_part(centred, usable, fluctuation(track, usable[: len(track)]))
    if isinstance(steady, str):
        return Refusal(steady)
    final = fit(demodulated, steady)
    if final is None:
        return Refusal("noisy")
    off = _off_the_string(final, demodulated.orders)
    disagreement = _disagreement(off, final)
    elsewhere = _power_elsewhere(off, final)
    whose = shares(sound, final.hz, demodulated, steady)
    if disagreement > DISAGREE_AT_MOST_CENTS or elsewhere > ELSEWHERE_AT_MOST or not whose.are_one_strings:
        return Refusal("not-a-string")
    loud = _from_the_loud(centred, usable, steady, demodulated)
    wandered = math.hypot(spread_of(centred[steady]), loud / MEANT_OTHERWISE)
    in_frames = on_grid(steady, demodulated.seconds, frames.seconds)
    return _Pitch(
        hz=final.hz,
        orders=demodulated.orders,
        levels=middles(demodulated.sizes[steady]),
        whose=whose,
        certain=(np.abs(off) < CERTAIN_CENTS) & (final.off_by_cents < CERTAIN_TO_CENTS),
        spread_cents=max(math.hypot(wandered, disagreement), _by_the_first(off, final) / SPREADS_HOLD),
        unsteady_cents=math.hypot(wandered, disagreement / MEANT_OTHERWISE),
        seconds_steady=float(steady.sum() * HOP_SECONDS),
        aperiodicity=middle(frames.aperiodicity[in_frames]) if in_frames.any() else 0.5,
        level_spread_db=_level_spread_db(frames),
    )


def _level_spread_db(frames: Frames) -> float:
    """How much the level swells and fades, from stretch to stretch, in dB."""
    over = round(LEVEL_OVER_SECONDS / HOP_SECONDS)
    if len(frames.level_db) <= over:
        return float("inf")
    power = np.convolve(10.0 ** (frames.level_db / 10.0), np.ones(over) / over, mode="valid")
    return float(np.ptp(10.0 * np.log10(power + 1e-12)))
