"""Checks of a fifth as they are entered: two strings heard together, two harmonics read, beats tapped, or how it sounds."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Literal

from pondus.core.entries.typed import parse_typed_harmonic
from pondus.core.errors import BadInput
from pondus.core.fifths.beats import (
    FURTHEST_CHECKED_CENTS,
    beats_per_cent,
    checked_fifth,
    from_pure_of_beats,
    strings_of_harmonics,
)
from pondus.core.fifths.tapping import Moved, SmallMove, fifth_from_taps, wide_by_small_move
from pondus.core.hands.records import CheckWay, FifthCheck
from pondus.core.judgement.situation import Pitch
from pondus.core.pitch.notes import cents_between, check_heard_hz

CheckSource = Literal["typed", "microphone", "recording", "simulated", "tapped"]
FifthHeard = Literal["still", "slow", "fast", "rough", "below", "level", "above"]
Compared = Literal["slower", "faster"]
HEARD_BEATS: Mapping[FifthHeard, tuple[float, float]] = {
    "still": (0.0, 0.5),
    "slow": (1.2, 0.9),
    "fast": (4.0, 2.5),
    "rough": (10.0, 6.0),
}
"""R135: beats a second that each word stands for, give or take: under one in two seconds is still, two a second are counted
along easily, seven hardly, beyond that they are a roughness.
"""
HEARD_HARMONICS: Mapping[FifthHeard, tuple[float, float]] = {"below": (15.0, 12.0), "level": (0.0, 5.0), "above": (-15.0, 12.0)}
"""R135: where the lower string's twelfth lies beside the upper's octave: cents that the fifth is from pure, give or take. Ears
tell some 8 cents apart.
"""
LARGEST_HEARD_HZ, FASTER = 16.0, 1.5
LARGEST_BEATS_HZ, LARGEST_UNCERTAINTY_CENTS = 5000.0, 2400.0
OTHER_PAIRS_WITHIN_CENTS = 250.0
"""R117: pitches this near another pair's targets, and not this one's, were of that pair."""


@dataclass(frozen=True)
class FifthCheckEntry:
    """What a check found: pitches in Hz where they were heard, beats a second, cents from pure (positive wide; None where the
    beats alone don't tell the direction).
    """

    way: CheckWay
    source: CheckSource
    beats_hz: float
    lower_hz: float | None = None
    upper_hz: float | None = None
    from_pure_cents: float | None = None
    plus_minus_cents: float | None = None


def double_stop_entry(
    lower_hz: float,
    upper_hz: float,
    *,
    pair: tuple[str, str],
    targets: Mapping[str, float],
    source: CheckSource,
    plus_minus_cents: float | None = None,
) -> FifthCheckEntry:
    """Both strings of a pair heard together, in Hz; ``targets`` are the instrument's, thickest string first.

    Raises BadInput for what no string sounds, what is no fifth, or is another pair's.
    """
    lower = check_heard_hz(lower_hz, field="check.lower_hz")
    upper = check_heard_hz(upper_hz, field="check.upper_hz")
    _check_pair(lower, upper, pair, targets)
    return _of_pitches("double-stop", source, lower, upper, plus_minus_cents)


def harmonics_entry(
    octave: str, twelfth: str, *, lower_target_hz: float, upper_target_hz: float, a4: float, source: CheckSource
) -> FifthCheckEntry:
    """The upper string's octave harmonic and the lower's twelfth, as a tuner shows them; ``a4`` in Hz. Raises BadInput."""
    lower, upper = strings_of_harmonics(
        octave_hz=parse_typed_harmonic(octave, near_hz=2.0 * upper_target_hz, a4=a4, field="octave"),
        twelfth_hz=parse_typed_harmonic(twelfth, near_hz=3.0 * lower_target_hz, a4=a4, field="twelfth"),
    )
    return _of_pitches("harmonics", source, lower, upper, None)


def tapped_entry(
    taps: Sequence[float],
    *,
    lower_target_hz: float,
    small_move: tuple[Moved, Pitch] | None = None,
    earlier: FifthCheck | None = None,
) -> FifthCheckEntry:
    """Beats tapped, moments in seconds. ``small_move``: what was turned a hair since ``earlier``, the check before, which
    tells the direction.

    Raises BadInput for taps that say nothing, and for a small move before which nothing was tapped.
    """
    move = None
    if small_move is not None:
        move = SmallMove(*small_move, _before(earlier).beats_hz)
    tapped = fifth_from_taps(taps, lower_hz=lower_target_hz, small_move=move)
    return FifthCheckEntry(
        "tapped", "tapped", tapped.beats_hz, from_pure_cents=tapped.from_pure_cents, plus_minus_cents=tapped.plus_minus_cents
    )


def by_ear_entry(
    heard: FifthHeard,
    *,
    lower_target_hz: float,
    compared: Compared | None = None,
    small_move: tuple[Moved, Pitch] | None = None,
    earlier: FifthCheck | None = None,
) -> FifthCheckEntry:
    """How a fifth sounds, both strings bowed together, or where the lower string's harmonic lies beside the upper's (R135).
    ``compared``: beside ``earlier``, the check before the small move; where it is left out, the two words tell.

    Raises BadInput where there is no check before the move, or the two sound alike.
    """
    if heard in HEARD_HARMONICS:
        from_pure, cents = HEARD_HARMONICS[heard]
        beats = beats_per_cent(lower_target_hz) * abs(from_pure)
        return FifthCheckEntry("by-ear", "typed", beats, from_pure_cents=from_pure, plus_minus_cents=cents)
    beats, give_or_take = HEARD_BEATS[heard]
    sure = from_pure_of_beats(lower_target_hz, give_or_take)
    if heard == "still":
        return FifthCheckEntry("by-ear", "typed", 0.0, from_pure_cents=0.0, plus_minus_cents=sure)
    if small_move is None:
        return FifthCheckEntry("by-ear", "typed", beats, plus_minus_cents=sure)
    before = _before(earlier).beats_hz
    if compared is not None:
        beats = min(max(beats, before), LARGEST_HEARD_HZ) if compared == "faster" else min(beats, before)
        before = beats / FASTER if compared == "faster" else beats * FASTER
    wide = wide_by_small_move(before_hz=before, after_hz=beats, moved=small_move[0], pitch=small_move[1])
    size = from_pure_of_beats(lower_target_hz, beats)
    return FifthCheckEntry("by-ear", "typed", beats, from_pure_cents=size if wide else -size, plus_minus_cents=sure)


def _before(earlier: FifthCheck | None) -> FifthCheck:
    """The beats before a small move. Raises BadInput where nobody listened."""
    if earlier is None or earlier.way not in ("tapped", "by-ear"):
        raise BadInput("small_move", "Listen to the beats before the small move first; then move, and listen again.")
    return earlier


def check_figures(entry: FifthCheckEntry) -> FifthCheckEntry:
    """A check that was kept elsewhere, its figures as the ways to enter one would have left them. Raises BadInput."""
    for name, hz in (("lower_hz", entry.lower_hz), ("upper_hz", entry.upper_hz)):
        if hz is not None:
            check_heard_hz(hz, field=name)
    for name, value, least, most in (
        ("beats_hz", entry.beats_hz, 0.0, LARGEST_BEATS_HZ),
        ("from_pure_cents", entry.from_pure_cents, -FURTHEST_CHECKED_CENTS, FURTHEST_CHECKED_CENTS),
        ("plus_minus_cents", entry.plus_minus_cents, 0.0, LARGEST_UNCERTAINTY_CENTS),
    ):
        if value is not None and not least <= value <= most:
            raise BadInput(name, f"{name} = {value:g} can't be right.")
    return entry


def _check_pair(lower: float, upper: float, pair: tuple[str, str], targets: Mapping[str, float]) -> None:
    """Raises BadInput where both pitches are another pair's, and not this one's."""

    def away(of: tuple[str, str]) -> float:
        return max(abs(cents_between(lower, targets[of[0]])), abs(cents_between(upper, targets[of[1]])))

    nearest = min(pairwise(targets), key=away)
    if nearest != pair and away(nearest) <= OTHER_PAIRS_WITHIN_CENTS < away(pair):
        one, other = "–".join(nearest), "–".join(pair)
        raise BadInput(
            "check.lower_hz", f"{lower:.0f} and {upper:.0f} Hz are {one}, not {other}; choose {one}, or bow {other}."
        )


def _of_pitches(
    way: CheckWay, source: CheckSource, lower_hz: float, upper_hz: float, plus_minus_cents: float | None
) -> FifthCheckEntry:
    fifth = checked_fifth(lower_hz, upper_hz)
    return FifthCheckEntry(way, source, fifth.beats_hz, lower_hz, upper_hz, fifth.from_pure_cents, plus_minus_cents)
