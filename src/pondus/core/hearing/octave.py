"""Which octave sounds: whether the partials between those of a pitch are the string's own.

Four witnesses. Their levels: beside a string of its own they'd be like their neighbours'. Their pitches: a string's partials
lie on one stiff string to within a few cents, another player's don't, however loud. And the wave: if it repeats clearly better
after twice the period than after one, something sounds between. Last, what all these leave open, where a string is due.
"""

import math
from collections.abc import Collection

import numpy as np

from pondus.core.hearing.arrays import middle
from pondus.core.hearing.partials import CENTS_PER_LN, Bools, Demodulated, Fit, Floats, one_string
from pondus.core.pitch.notes import cents_between

OCTAVES_TRIED_BELOW = 2
"""A string is fitted that much below the period found, so that what sounds between its partials is seen."""
HIGHEST_MULTIPLE = 6
PRESENT_DB, PRESENT_WEIGHT = -12.0, 0.08
CERTAIN_POWER, PRESENT_POWER = 0.3, 0.12
OTHERS_POWER, FADES_DB = 0.035, 2.0
"""Of all partials' power, what another player at −15 dB may have in those between. A string that has no more (a plucked harp)
is told by its fading: all of it fades by so much from the first third to the last.
"""
ABSENT_DB, LEFT_DB = -40.0, -25.0
"""Partials this far under their neighbours aren't there; a finger that touches the string half way leaves no more of them."""
SURE_TO_CENTS, BELONG_CENTS = 3.0, 6.0
"""A partial between that is known to so many cents belongs to the string if it lies that near to where the others put it; a
body pulls a pluck's first one by up to as much.
"""
BELONG_SHARE = 0.5
"""So much of what sounds between must belong."""
OWN_DB = (-30.0, -24.0, -45.0)
"""Where it is weak, one of its partials that a neighbour a fifth up hasn't (unlike the third and the ninth) must be no further
under the loudest of all than the first figure, and either it is the first partial, by the second figure, or there are two, by
the third.
"""
TUNED_CENTS, NOT_ANOTHERS_POWER = 40.0, 0.0015
"""What lies further than this from every string isn't where others tune: whose octave or twelfth below agrees with it to a few
cents all the same is its own string, slack, with so little of the power.
"""
OWN_AT_LEAST, TOGETHER_CENTS = 4, 1.0
"""A string's own lie on it within this, taken together; of another player’s octave a sixth do by chance.
"""
LIKELY_CENTS, HIGHER_TRIED, FAINT_POWER = 100.0, (2, 3, 4), 0.06
"""An octave or a twelfth below a string lies 200 cents over another: no string is that sharp, while others tune there. So much
of the power in between is theirs at most: a slack string sounds an octave down with more.
"""
REPEATS_SURELY, REPEATS_CLEARLY, REPEATS_HARDLY = 0.4, 0.7, 0.9
"""How much deeper the dip after twice the period is for the wave to repeat better then."""


def sounding_multiple(
    fitted: Fit, demodulated: Demodulated, steady: Bools, *, repeats: float, highest_hz: float, likely_hz: Collection[float]
) -> int:
    """Which multiple of a pitch sounds that was fitted to these frames `OCTAVES_TRIED_BELOW` under the period found.

    ``repeats``: the depth of the dip after twice that period, over that after one. ``highest_hz``: no string is above it.
    ``likely_hz``: where strings should be; they decide what the sound leaves open.
    """
    orders = demodulated.orders
    multiple = true_multiple(fitted, orders)
    belongs, _ = _belonging_between(fitted, orders, OCTAVES_TRIED_BELOW)
    if (
        not is_tuned(fitted.hz * OCTAVES_TRIED_BELOW, likely_hz)
        and repeats < REPEATS_SURELY
        and sounds_between(fitted, orders, OCTAVES_TRIED_BELOW)
    ):
        return 1
    if multiple % OCTAVES_TRIED_BELOW and not (
        repeats < REPEATS_CLEARLY and belongs.any() and _is_no_others(fitted, demodulated, steady)
    ):
        multiple *= OCTAVES_TRIED_BELOW
    if _is_the_shortest(fitted, orders, multiple, highest_hz=highest_hz, likely_hz=likely_hz):
        multiple = min(multiple, OCTAVES_TRIED_BELOW)
    if is_likely(fitted.hz * multiple, likely_hz):
        return multiple
    if multiple == OCTAVES_TRIED_BELOW and is_likely(fitted.hz, likely_hz):
        return 1 if repeats < REPEATS_HARDLY and _has_own(belongs[orders % 3 != 0], fitted) else multiple
    power = np.square(fitted.strength)
    for factor in HIGHER_TRIED:
        between = (orders % multiple == 0) & (orders % (factor * multiple) != 0)
        others = (orders % (factor * multiple)) == 0
        faint = float(power[between].sum()) < FAINT_POWER * float(power[between | others].sum())
        likely = is_likely(fitted.hz * multiple * factor, likely_hz)
        if likely and faint and not _fade_together(demodulated, steady, between, others):
            return multiple * factor
    return multiple


def _is_the_shortest(fitted: Fit, orders: Floats, multiple: int, *, highest_hz: float, likely_hz: Collection[float]) -> bool:
    """Whether the period that was found is the shortest that repeats: what sounds isn't higher then, however weak some partials
    are; unless there are none at all but one, another player's that the wave has to wait for. Shorter ones weren't sought
    above the highest string: where one is due there its partials must be more than a harmonic leaves of them.
    """
    was_sought = fitted.hz * multiple < highest_hz
    if not was_sought and not is_likely(fitted.hz * OCTAVES_TRIED_BELOW, likely_hz):
        return False
    least_db = ABSENT_DB if was_sought else LEFT_DB
    return between_db(fitted, orders, orders % OCTAVES_TRIED_BELOW == 0, multiple) > least_db


def is_tuned(hz: float, likely_hz: Collection[float]) -> bool:
    """Whether a pitch lies where other players may tune to."""
    return any(abs(cents_between(hz, near_hz)) < TUNED_CENTS for near_hz in likely_hz)


def sounds_between(fitted: Fit, orders: Floats, times: int) -> bool:
    """Whether partials between those of ``times`` the fitted pitch are a string's own: they lie on it, all together too, with
    enough power; of four times, those that two times hasn't.
    """
    own = (orders % 2 == 1) | (times % 2 == 1)
    levels, apart = _belonging_between(fitted, orders, times)
    power = np.square(levels) * own
    if np.count_nonzero(power) < OWN_AT_LEAST or abs(float(np.average(apart, weights=power))) > TOGETHER_CENTS:
        return False
    return float(power.sum()) > NOT_ANOTHERS_POWER * float(np.square(fitted.strength).sum())


def is_likely(hz: float, likely_hz: Collection[float]) -> bool:
    """Whether a string may stand there on a usual day."""
    return any(abs(cents_between(hz, near_hz)) < LIKELY_CENTS for near_hz in likely_hz)


def _has_own(levels: Floats, fitted: Fit) -> bool:
    """Whether partials of these levels, the first one's first, are enough to be a string's."""
    loudest, first, other = (fitted.strength.max() * 10.0 ** (db / 20.0) for db in OWN_DB)
    return bool(levels.max() > loudest and (levels[0] > first or (levels > other).sum() > 1))


def _belonging_between(fitted: Fit, orders: Floats, times: int) -> tuple[Floats, Floats]:
    """The levels of the partials between every so many that lie on the string which those alone agree on, the others' 0 (all 0
    where most of what sounds between lies elsewhere), and how far each lies from it in cents: both of shape (partials,).
    """
    nothing = np.zeros(len(orders))
    known = fitted.off_by_cents < SURE_TO_CENTS
    of_these, between = known & (orders % times == 0), known & (orders % times != 0)
    if not of_these.any():
        return nothing, nothing
    offsets = CENTS_PER_LN * np.log(np.maximum(fitted.partial_hz, 1e-9) / orders)
    cents, stiffness, _, _ = one_string(offsets, orders, np.where(of_these, fitted.strength, 0.0), fitted.off_by_cents)
    apart = np.asarray(offsets - cents - 0.5 * CENTS_PER_LN * stiffness * (orders**2 - 1.0))
    ours = np.where(between & (np.abs(apart) < BELONG_CENTS), fitted.strength, 0.0)
    return (ours if ours.sum() >= BELONG_SHARE * fitted.strength[between].sum() else nothing), apart


def _is_no_others(fitted: Fit, demodulated: Demodulated, steady: Bools) -> bool:
    """Whether the odd partials can't be another player's, who tunes an octave below: they are too loud for that, or fade as
    the even ones do.
    """
    odd, power = demodulated.orders % 2 == 1, np.square(fitted.strength)
    if float(power[odd].sum()) > OTHERS_POWER * float(power.sum()):
        return True
    return _fade_together(demodulated, steady, odd, ~odd)


def _fade_together(demodulated: Demodulated, steady: Bools, some: Bools, others: Bools) -> bool:
    """Whether two groups of partials both fade from the first third of the frames to the last: a plucked string's own do."""
    over_time = np.square(demodulated.sizes[steady])
    third = max(1, len(over_time) // 3)
    first, last = over_time[:third].mean(axis=0), over_time[-third:].mean(axis=0)
    return all(
        10.0 * math.log10((first[which].sum() + 1e-30) / (last[which].sum() + 1e-30)) > FADES_DB for which in (some, others)
    )


def true_multiple(fitted: Fit, orders: Floats) -> int:
    """Which multiple of the fitted pitch really sounds, when it may lie an octave or more too low.

    Twofold and threefold, as often as the partials in between aren't the string's own: they don't agree with it, or they
    are typically 12 dB weaker than their neighbours, as noise or another player an octave below would be. One loud
    partial decides nothing: the comparison is each partial's with its neighbours, and the middle one of them counts.
    """
    multiple = 1
    for factor in (2, 2, 3):
        ours = orders % multiple == 0
        if multiple * factor <= HIGHEST_MULTIPLE and not _between_present(fitted, orders, ours, multiple * factor):
            multiple *= factor
    return multiple


def _between_present(fitted: Fit, orders: Floats, ours: Bools, multiple: int) -> bool:
    """Whether, of our partials, those that aren't multiples of ``multiple`` sound and belong to the string."""
    others = ours & (orders % multiple != 0)
    multiples = orders % multiple == 0
    if not multiples.any():
        return True
    power = np.square(fitted.strength)
    share = float(power[others].sum() / max(power[ours].sum(), 1e-30))
    agreeing = bool(fitted.weights[others].sum() > PRESENT_WEIGHT)
    if share > CERTAIN_POWER or (agreeing and share > PRESENT_POWER):
        return True
    return agreeing and between_db(fitted, orders, ours, multiple) > PRESENT_DB


def between_db(fitted: Fit, orders: Floats, ours: Bools, multiple: int) -> float:
    """Of our partials, how far those that aren't multiples of ``multiple`` lie over their neighbours that are, in dB: the
    middle one of them; minus infinity where there are none.
    """
    others, multiples = ours & (orders % multiple != 0), orders % multiple == 0
    if not others.any() or not multiples.any():
        return -math.inf
    level = 20.0 * np.log10(fitted.strength + 1e-15)
    return middle(level[others] - np.interp(orders[others], orders[multiples], level[multiples]))
