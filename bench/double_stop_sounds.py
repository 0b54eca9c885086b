"""The sounds the fifths benchmark is run on: neighbours bowed and plucked together, and what is no such pair."""

from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from pondus.core.instruments import INSTRUMENTS
from pondus.core.instruments.targets import PURE_FIFTH_CENTS, target_hz
from pondus.core.pitch.notes import shift_hz
from pondus.core.simulated.sound import Samples, Tone, bowed, mixed, plucked, white_noise

SECONDS = 2.0
NOISE_DB = 25.0
AROUND_PURE_CENTS, LEVELS_APART_DB, BOTH_OFF_CENTS = 40.0, 8.0, 30.0
PAIRS = [(kind, pair) for kind, each in INSTRUMENTS.items() for pair in pairwise(each.string_names)]


@dataclass(frozen=True)
class Pair:
    """Two strings sounding together; ``lower_hz`` and ``upper_hz`` their true first partials."""

    kind: str
    strings: tuple[str, str]
    samples: Samples
    rate_hz: int
    lower_hz: float
    upper_hz: float


def sounded(how: str, hz: float, rate: int, rng: np.random.Generator) -> Samples:
    """One string bowed, bowed with changes, or plucked."""
    tone = Tone(hz, SECONDS, rate, weak_fundamental_db=-30.0 if hz < 140.0 else 0.0)
    if how == "plucked":
        stiff = Tone(hz, SECONDS, rate, stiffness=rng.uniform(0, 4e-4), weak_fundamental_db=tone.weak_fundamental_db)
        return plucked(stiff, rng)
    return bowed(tone, rng, bow_changes_at=(0.8, 1.5) if how == "changing bow" else ())


def double_stop(how: str, kind: str, strings: tuple[str, str], rng: np.random.Generator) -> Pair:
    """A pair -40 to +40 cents around pure, up to 8 dB apart, in 25 dB of noise."""
    rate = int(rng.choice([44_100, 48_000]))
    lower = shift_hz(target_hz(INSTRUMENTS[kind].string(strings[0])), rng.uniform(-BOTH_OFF_CENTS, BOTH_OFF_CENTS))
    upper = shift_hz(lower, PURE_FIFTH_CENTS + rng.uniform(-AROUND_PURE_CENTS, AROUND_PURE_CENTS))
    apart = rng.uniform(-LEVELS_APART_DB, LEVELS_APART_DB)
    both = mixed(sounded(how, lower, rate, rng), sounded(how, upper, rate, rng), below_db=apart)
    return Pair(kind, strings, mixed(both, white_noise(len(both), rng), below_db=NOISE_DB), rate, lower, upper)


def single(kind: str, string: str, rng: np.random.Generator) -> Samples:
    """One string alone, bowed or plucked, in the same noise, at 44.1 kHz."""
    hz = shift_hz(target_hz(INSTRUMENTS[kind].string(string)), rng.uniform(-BOTH_OFF_CENTS, BOTH_OFF_CENTS))
    alone = sounded(str(rng.choice(["bowed", "plucked", "changing bow"])), hz, 44_100, rng)
    return mixed(alone, white_noise(len(alone), rng), below_db=NOISE_DB)
