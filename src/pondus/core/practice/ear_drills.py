"""Stages 6 and 7: fifths, beats, which of two tones is higher, harmonics; and what they come to.

Differences in cents come from `threshold`; what is right comes from the sounds themselves, through `core/fifths/beats` and
`core/pitch/notes`. No difference at all now and then keeps "the same" an honest answer: those don't count for the threshold.
"""

import itertools
import math

import numpy as np

from pondus.core.fifths.beats import (
    beats_per_cent,
    fifth_between,
    fifth_from_pure,
    from_pure_of_beats,
    harmonics_of,
    too_slow_to_count,
)
from pondus.core.instruments.targets import PURE_FIFTH_CENTS, targets_hz
from pondus.core.judgement import words
from pondus.core.pitch.notes import cents_between, shift_hz
from pondus.core.practice.questions import Choice, Heard, Picture, Question, Setup

Rng = np.random.Generator
NONE_SHARE = 0.12
"""How often there is no difference at all."""
FIFTH_SECONDS, TONE_SECONDS = 2.6, 1.3
BEATS = (0.8, 5.0)
BEATS_WITHIN, BEATS_LEAST = 0.2, 0.25
"""A count is right within a fifth of it, or a quarter of a beat."""
SAID_NARROW, SAID_PURE, SAID_WIDE = "narrow", "pure", "wide"


def pairs_of(setup: Setup) -> tuple[tuple[str, str], ...]:
    """Neighbours, lower first."""
    names = setup.instrument.string_names
    return tuple(itertools.pairwise(names))


def fifth_items(setup: Setup, level: int) -> tuple[str, ...]:
    """Neighbours whose beats aren't too slow to hear; where all are, all."""
    heard = [
        (low, high)
        for low, high in pairs_of(setup)
        if not too_slow_to_count(targets_hz(setup.instrument, a4=setup.a4)[low], tolerance_cents=1.0)
    ]
    return tuple(f"{low}:{high}" for low, high in heard or pairs_of(setup))


def ask_fifth(setup: Setup, item: str, rng: Rng, cents: float) -> Question:
    """Narrow, pure or wide?"""
    low, high = item.split(":")
    off = 0.0 if rng.uniform() < NONE_SHARE else cents * (1.0 if rng.uniform() < 0.5 else -1.0)
    targets = targets_hz(setup.instrument, a4=setup.a4, fifth_cents=PURE_FIFTH_CENTS)
    lower = targets[low]
    upper = shift_hz(lower, PURE_FIFTH_CENTS + off)
    fifth = fifth_between(lower, upper)
    right = SAID_PURE if abs(fifth.from_pure_cents) < 0.01 else SAID_WIDE if fifth.from_pure_cents > 0 else SAID_NARROW
    so = (
        "still"
        if right == SAID_PURE
        else f"{words.cents(fifth.from_pure_cents)} too {right}, {fifth.beats_hz:.1f} beats a second"
    )
    return Question(
        item,
        f"The open {low} and {high} together. How is the fifth?",
        (Choice(SAID_NARROW, "narrow"), Choice(SAID_PURE, "pure: it stands still"), Choice(SAID_WIDE, "wide")),
        frozenset({right}),
        f"It is {so}.",
        Picture("strings", string=f"{low}{high}"),
        heard=(Heard((lower, upper), FIFTH_SECONDS),),
        beside=(Heard((lower, shift_hz(lower, PURE_FIFTH_CENTS)), FIFTH_SECONDS),),
        beside_said="the pure fifth",
        cents=cents if right != SAID_PURE else None,
        beats=fifth.beats_hz,
    )


def tone_items(setup: Setup, level: int) -> tuple[str, ...]:
    """Every string."""
    return setup.instrument.string_names


def ask_higher(setup: Setup, item: str, rng: Rng, cents: float) -> Question:
    """A reference, then a string: higher, lower, the same?"""
    target = targets_hz(setup.instrument, a4=setup.a4)[item]
    off = 0.0 if rng.uniform() < NONE_SHARE else cents * (1.0 if rng.uniform() < 0.5 else -1.0)
    second = shift_hz(target, off)
    between = cents_between(second, target)
    right = "same" if abs(between) < 0.01 else "higher" if between > 0 else "lower"
    answer = "the same" if right == "same" else f"{words.cents(between)} {right}"
    return Question(
        item,
        f"First the reference {item}, then a string. How is the string?",
        (Choice("lower", "lower"), Choice("same", "the same"), Choice("higher", "higher")),
        frozenset({right}),
        f"It is {answer}.",
        Picture("strings", string=item),
        heard=(Heard((target,), TONE_SECONDS), Heard((second,), TONE_SECONDS)),
        beside=(Heard((target,), TONE_SECONDS), Heard((target,), TONE_SECONDS)),
        beside_said="two that are the same",
        cents=cents if right != "same" else None,
    )


def ask_harmonics(setup: Setup, item: str, rng: Rng, cents: float) -> Question:
    """The octave harmonic of the upper string, then the twelfth of the lower: what of the fifth?"""
    low, high = item.split(":")
    off = 0.0 if rng.uniform() < NONE_SHARE else cents * (1.0 if rng.uniform() < 0.5 else -1.0)
    lower = targets_hz(setup.instrument, a4=setup.a4, fifth_cents=PURE_FIFTH_CENTS)[low]
    upper = shift_hz(lower, PURE_FIFTH_CENTS + off)
    pair = harmonics_of(lower, upper)
    fifth = fifth_between(lower, upper)
    right = SAID_PURE if abs(off) < 0.01 else SAID_WIDE if fifth.from_pure_cents > 0 else SAID_NARROW
    how = {
        SAID_PURE: "Both are the same pitch: the fifth is pure.",
        SAID_WIDE: f"The second is {words.cents(off)} lower: the fifth is wide, the lower string flat against the upper.",
        SAID_NARROW: f"The second is {words.cents(off)} higher: the fifth is narrow.",
    }[right]
    return Question(
        item,
        f"First the {high} string’s harmonic at half its length, then the {low} string’s at a third. How is the fifth?",
        (
            Choice(SAID_NARROW, "narrow: the second is higher"),
            Choice(SAID_PURE, "pure: the same"),
            Choice(SAID_WIDE, "wide: the second is lower"),
        ),
        frozenset({right}),
        how,
        Picture("strings", string=f"{low}{high}"),
        heard=(Heard((pair.octave_hz,), TONE_SECONDS), Heard((pair.twelfth_hz,), TONE_SECONDS)),
        beside=(Heard((pair.twelfth_hz,), TONE_SECONDS), Heard((pair.twelfth_hz,), TONE_SECONDS)),
        beside_said="two that are the same",
        cents=cents if right != SAID_PURE else None,
    )


def harmonics_items(setup: Setup, level: int) -> tuple[str, ...]:
    """Every pair of neighbours."""
    return tuple(f"{low}:{high}" for low, high in pairs_of(setup))


def beats_items(setup: Setup, level: int) -> tuple[str, ...]:
    """Neighbours whose beats can be counted; a cello's upper ones."""
    return fifth_items(setup, level)


def ask_beats(setup: Setup, item: str, rng: Rng) -> Question:
    """How many beats a second?"""
    low, high = item.split(":")
    lower = targets_hz(setup.instrument, a4=setup.a4, fifth_cents=PURE_FIFTH_CENTS)[low]
    wanted = math.exp(rng.uniform(math.log(BEATS[0]), math.log(BEATS[1])))
    sign = 1.0 if rng.uniform() < 0.5 else -1.0
    fifth = fifth_from_pure(lower, sign * from_pure_of_beats(lower, wanted))
    upper = shift_hz(lower, fifth.interval_cents)
    off = words.cents(fifth.from_pure_cents)
    return Question(
        item,
        f"The open {low} and {high} together: how many beats in a second? Tap along, or type a figure.",
        because=(
            f"{fifth.beats_hz:.1f} beats a second: {off} from pure, for near pure one cent makes"
            f" {beats_per_cent(lower):.2f} on these strings. Which side, beats alone don’t tell."
        ),
        picture=Picture("strings", string=f"{low}{high}"),
        heard=(Heard((lower, upper), 6.0),),
        beside=(Heard((lower, shift_hz(lower, PURE_FIFTH_CENTS)), FIFTH_SECONDS),),
        beside_said="the pure fifth",
        beats=fifth.beats_hz,
    )


def counted_right(counted: float, beats: float) -> bool:
    """Whether a count is near enough.

    >>> counted_right(2.3, 2.0), counted_right(3.0, 2.0), counted_right(0.8, 1.0)
    (True, False, True)
    """
    return abs(counted - beats) <= max(BEATS_LEAST, BEATS_WITHIN * beats)
