"""How much pitch a movement makes, and how far a string is from breaking.

Ideal string: ``f = sqrt(T/mu) / (2L)``. Stretching the whole string (vibrating length and extra length) by ``delta``
adds ``EA * delta / L_total`` of tension, so for small changes ``dcents = (600/ln 2) * dT/T``; exactly,
``cents = 600 * log2(1 + dT/T)``. A peg of radius r stretches ``r * theta``; a fine tuner its stretch per turn.
These are priors, not truths: ±35 % for a screw, ±50 % for a peg, until the log of moves knows better.
Peg figures are per degree of the peg's head; a geared peg's head turns four times as far for the same stretch.
"""

import math
from dataclasses import dataclass

from pondus.core.instruments import SYNTHETIC_STIFFNESS, Instrument, StringCore, StringData

SMALL_CHANGE_CENTS = 600.0 / math.log(2.0)
SCREW_PRIOR_SPREAD = 0.35
PEG_PRIOR_SPREAD = 0.50
GEAR_RATIO = 4.0
BREAK_CENTS_VIOLIN_E, BREAK_CENTS_OTHERS = 400.0, 600.0
OLD_STRING_DAYS = 365.0
OLD_STRING_SHARE = 2.0 / 3.0


@dataclass(frozen=True)
class Rate:
    """Cents made by one unit of movement, with its spread (one standard deviation), both positive."""

    cents: float
    plus_minus: float


def cents_per_stretch_mm(instrument: Instrument, string: StringData, *, size: str, core: StringCore) -> float:
    """Cents per millimetre of stretch at pitch, for small stretches."""
    stiffness = string.stiffness_n * (SYNTHETIC_STIFFNESS if core == "synthetic" else 1.0)
    total_mm = instrument.lengths_mm[size] + instrument.extra_length_mm
    return SMALL_CHANGE_CENTS * stiffness / total_mm / string.tension_n


def screw_rate(instrument: Instrument, string: StringData, *, size: str, core: StringCore) -> Rate:
    """Cents per turn of the fine tuner, before anything is learned.

    >>> from pondus.core.instruments import INSTRUMENTS
    >>> violin = INSTRUMENTS["violin"]
    >>> round(screw_rate(violin, violin.string("A"), size="4/4", core="steel").cents, 1)
    39.7
    >>> round(screw_rate(violin, violin.string("E"), size="1/16", core="steel").cents)
    78
    """
    cents = cents_per_stretch_mm(instrument, string, size=size, core=core) * instrument.stretch_per_turn_mm
    return Rate(cents, SCREW_PRIOR_SPREAD * cents)


def peg_rate(instrument: Instrument, string: StringData, *, size: str, core: StringCore, geared: bool = False) -> Rate:
    """Cents per degree of the peg's head, before anything is learned.

    >>> from pondus.core.instruments import INSTRUMENTS
    >>> violin = INSTRUMENTS["violin"]
    >>> round(peg_rate(violin, violin.string("E"), size="1/16", core="steel").cents)
    26
    """
    per_degree_mm = instrument.peg_radius_mm * math.pi / 180.0
    cents = cents_per_stretch_mm(instrument, string, size=size, core=core) * per_degree_mm
    cents = cents / GEAR_RATIO if geared else cents
    return Rate(cents, PEG_PRIOR_SPREAD * cents)


LINEAR_WITHIN_CENTS = 100.0
"""Within a semitone of its target a string gives the same cents for the same turn, as far as any hand can tell (5 %)."""


def change_at_pitch(before_cents: float, after_cents: float) -> float:
    """The cents that a change of tension would make at the target, from where the string stood before and after: the one scale
    on which turns are foretold, learned and added up.

    A turn always adds the same tension; far under the target that makes many more cents than near it.

    >>> round(change_at_pitch(-600.0, 0.0), 1), round(change_at_pitch(-10.0, 0.0), 1)
    (438.4, 10.0)
    """
    return _at_pitch(after_cents) - _at_pitch(before_cents)


def change_made(before_cents: float, at_pitch_cents: float) -> float:
    """The cents that a turn makes where the string stands, from those that it would make at the target: the other way round of
    `change_at_pitch`. Slackened to nothing, it is as far down as can be said.

    >>> round(change_made(-600.0, 438.4)), round(change_made(-10.0, 10.0), 1)
    (600, 10.0)
    """
    after, limit = _at_pitch(before_cents) + at_pitch_cents, LINEAR_WITHIN_CENTS
    if abs(after) <= limit:
        return after - before_cents
    edge = math.copysign(limit, after)
    tension = 2.0 ** (edge / 600.0) + (after - edge) / SMALL_CHANGE_CENTS
    return 600.0 * math.log2(max(tension, 2.0**-8)) - before_cents


def _at_pitch(cents: float) -> float:
    """Where a string stands, in cents of tension: its own cents within a semitone, the ideal string's further out."""
    if abs(cents) <= LINEAR_WITHIN_CENTS:
        return cents
    edge = math.copysign(LINEAR_WITHIN_CENTS, cents)
    return edge + SMALL_CHANGE_CENTS * float(2.0 ** (cents / 600.0) - 2.0 ** (edge / 600.0))


def is_old(string_age_days: float | None) -> bool:
    """Whether a string counts as old: over a year on the instrument. Unknown age counts as new."""
    return string_age_days is not None and string_age_days > OLD_STRING_DAYS


def is_violin_e(instrument: Instrument, string: StringData) -> bool:
    """The thinnest string of all and the first to snap."""
    return string.name == instrument.delicate_string


def breaking_point_cents(instrument: Instrument, string: StringData, *, string_age_days: float | None) -> float:
    """How far above its target a string may be expected to snap, in cents."""
    new = BREAK_CENTS_VIOLIN_E if is_violin_e(instrument, string) else BREAK_CENTS_OTHERS
    return new * (OLD_STRING_SHARE if is_old(string_age_days) else 1.0)


def break_margin_cents(instrument: Instrument, string: StringData, *, cents_off: float, string_age_days: float | None) -> float:
    """Cents from the present reading to where the string may snap; 0 when it is past that.

    >>> from pondus.core.instruments import INSTRUMENTS
    >>> violin = INSTRUMENTS["violin"]
    >>> break_margin_cents(violin, violin.string("A"), cents_off=-38.0, string_age_days=None)
    638.0
    """
    point = breaking_point_cents(instrument, string, string_age_days=string_age_days)
    return max(0.0, point - cents_off)
