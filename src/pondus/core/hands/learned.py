"""What an instrument's own log teaches: cents per turn, cents per degree, pull between strings. Rules R49, R115.

Each move with a reading before and after it is a measurement. The physics of `mechanics` is the prior; Bayesian linear
regression through the origin combines the two (`regression`), so that a slipped peg or a mistyped reading doesn't decide.
A new string or new fittings start anew. Amounts are signed, positive raises; changes in cents.
"""

import math
from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import UTC, datetime, time
from functools import lru_cache

import numpy as np
from numpy.typing import ArrayLike

from pondus.core.clock import Clock
from pondus.core.hands.records import FittedString
from pondus.core.hands.summary import MeasuredMove, TuningSummary
from pondus.core.instruments import Instrument
from pondus.core.instruments.mechanics import Rate
from pondus.core.judgement.after_move import EFFECT_DUE_CENTS, EFFECT_SHARE, WRONG_WAY_CENTS
from pondus.core.judgement.coupling import default_coupling
from pondus.core.judgement.situation import Situation
from pondus.core.regression import Floats, robust_fit

READING_ERROR_CENTS = 1.0
"""Spread of one reading; a change has two of them."""
SCREW_HAND_ERROR, PEG_HAND_ERROR = 0.15, 0.40
ONE_SIDED_SHARE = 0.2
"""Of a hand's error, however many moves there are: hands miss in one direction too, nut and bridge hold some of a turn back."""
COUPLING_PRIOR_SPREAD = 0.02
LARGEST_CHANGE_CENTS = 400.0
"""One move between two readings makes less; more is another string, an octave, or a misprint."""
SMALL_NUDGE_DEGREES, FEWEST_NUDGES = 1.25, 2
REMEMBERED = 4096
"""Strings of which what was learned is remembered."""
_NEVER = datetime.min.replace(tzinfo=UTC)


@dataclass(frozen=True)
class Learned:
    """A value with its uncertainty (one standard deviation) and the number of moves behind it."""

    value: float
    plus_minus: float
    count: int


@dataclass(frozen=True)
class LearnedRates:
    """Cents per turn of the screw and per degree of the peg's head, as this string's log has it."""

    screw: Learned
    peg: Learned


@dataclass(frozen=True)
class MoveLog:
    """What an instrument's log measured: its single moves per string, and the coupling of two strings."""

    moves: Mapping[str, Sequence[MeasuredMove]] = field(default_factory=dict)
    couplings: Mapping[tuple[str, str], Sequence[tuple[float, float]]] = field(default_factory=dict)


def move_log(tunings: Iterable[TuningSummary]) -> MoveLog:
    """What these tunings measured."""
    moves: dict[str, list[MeasuredMove]] = defaultdict(list)
    couplings: dict[tuple[str, str], list[tuple[float, float]]] = defaultdict(list)
    for tuning in tunings:
        for move in tuning.measured:
            moves[move.string].append(move)
        for one in tuning.couplings:
            couplings[one.moved, one.other].append((one.went_cents, one.gave_cents))
    return MoveLog(moves, couplings)


def learned_coupling(instrument: Instrument, log: MoveLog) -> dict[str, dict[str, float]]:
    """Cents of each other string per cent of the moved one, as the log has it over the usual."""
    coupling = default_coupling(instrument)
    for (moved, other), samples in log.couplings.items():
        if other in coupling.get(moved, {}):
            went, gave = zip(*samples, strict=True)
            coupling[moved][other] = learn_coupling(went, gave, prior=coupling[moved][other]).value
    return coupling


def learned_rates(string: FittedString, facts: Situation, measured: Sequence[MeasuredMove], *, clock: Clock) -> LearnedRates:
    """What the moves since this string and its fittings were put on say, with the physics as the prior."""
    put_on = _NEVER if string.put_on is None else clock.at(string.put_on, time())
    since = max(put_on, string.fitted_at or _NEVER)
    fresh = [move for move in measured if move.at >= since]
    return LearnedRates(_learned_of(fresh, "fine-tuner", facts.screw_rate), _learned_of(fresh, "peg", facts.peg_rate))


def _learned_of(fresh: Sequence[MeasuredMove], mechanism: str, prior: Rate) -> Learned:
    return _learned(tuple((move.amount, move.change_cents) for move in fresh if move.mechanism == mechanism), mechanism, prior)


# An entry on one string leaves what the other three taught as it was; a bench asks for all four each time.
@lru_cache(maxsize=REMEMBERED)
def _learned(made: tuple[tuple[float, float], ...], mechanism: str, prior: Rate) -> Learned:
    did = [(amount, change) for amount, change in made if not without_effect(amount, change, prior)]
    amounts, changes = [amount for amount, _ in did], [change for _, change in did]
    if mechanism == "peg":
        return learn_peg_rate(amounts, changes, prior=prior)
    return learn_rate(amounts, changes, prior=prior, hand_error=SCREW_HAND_ERROR)


def without_effect(amount: float, change_cents: float, prior: Rate) -> bool:
    """R23, R25: from a turn that should have moved the string and didn't, or that went the other way, nothing is learned: who
    knows what was turned.

    >>> [without_effect(0.5, change, Rate(25.0, 8.0)) for change in (0.3, -20.0, 6.0)]
    [True, True, False]
    """
    due = abs(amount) * (prior.cents - prior.plus_minus)
    along = change_cents if amount > 0 else -change_cents
    return along < -WRONG_WAY_CENTS or (due >= EFFECT_DUE_CENTS and along < EFFECT_SHARE * due)


def with_learned(facts: Situation, learned: LearnedRates) -> Situation:
    """The situation with what the log teaches in place of the priors, where there is anything."""
    tuner, peg = facts.fine_tuner, facts.peg
    if tuner is not None and learned.screw.count:
        tuner = replace(tuner, cents_per_turn=learned.screw.value, cents_per_turn_plus_minus=learned.screw.plus_minus)
    if learned.peg.count:
        peg = replace(peg, cents_per_degree=learned.peg.value)
    return replace(facts, fine_tuner=tuner, peg=peg)


def learn_rate(amounts: ArrayLike, changes_cents: ArrayLike, *, prior: Rate, hand_error: float) -> Learned:
    """Cents made by one unit of movement.

    ``amounts`` (turns or degrees, signed) and ``changes_cents``: shape (moves,). ``hand_error`` is how far a hand misses
    the amount it means, as a share. No moves give the prior back with count 0.

    >>> learned = learn_rate([0.5, -0.5, 0.25], [21.0, -20.0, 10.5], prior=Rate(30.0, 10.5), hand_error=0.15)
    >>> round(learned.value), learned.count
    (40, 3)
    """
    x, y = _finite(amounts, changes_cents)
    believable = np.abs(y) <= LARGEST_CHANGE_CENTS
    x, y = x[believable], y[believable]
    if len(x) == 0:
        return Learned(prior.cents, prior.plus_minus, 0)
    value, spread = _robust_slope(x, y, prior=prior, hand_error=hand_error)
    return Learned(max(value, 0.05 * prior.cents), math.hypot(spread, ONE_SIDED_SHARE * hand_error * value), len(x))


def learn_peg_rate(degrees: ArrayLike, changes_cents: ArrayLike, *, prior: Rate) -> Learned:
    """As `learn_rate`, for a peg: the smallest nudges may only show how far it jumps, so they count where nothing else does."""
    x, y = _finite(degrees, changes_cents)
    larger = np.abs(x) > SMALL_NUDGE_DEGREES
    if larger.sum() >= FEWEST_NUDGES:
        x, y = x[larger], y[larger]
    return learn_rate(x, y, prior=prior, hand_error=PEG_HAND_ERROR)


def learn_coupling(moved_cents: ArrayLike, others_cents: ArrayLike, *, prior: float) -> Learned:
    """Cents of another string per cent of the moved one (negative: it gives way).

    Both shape (moves,): how far the moved string went, and the other between its readings around that move.
    """
    x, y = _finite(moved_cents, others_cents)
    if len(x) == 0:
        return Learned(prior, COUPLING_PRIOR_SPREAD, 0)
    value, spread = _robust_slope(x, y, prior=Rate(prior, COUPLING_PRIOR_SPREAD), hand_error=0.0)
    return Learned(value, spread, len(x))


def _finite(first: ArrayLike, second: ArrayLike) -> tuple[Floats, Floats]:
    x, y = np.asarray(first, dtype=np.float64), np.asarray(second, dtype=np.float64)
    usable = np.isfinite(x) & np.isfinite(y) & (x != 0.0)
    return x[usable], y[usable]


def _robust_slope(x: Floats, y: Floats, *, prior: Rate, hand_error: float) -> tuple[float, float]:
    """Slope of y = slope * x with a normal prior, and its spread; far-off points weigh little."""
    fit = robust_fit(
        x[:, None],
        y,
        prior=np.array([prior.cents]),
        prior_spread=np.array([prior.plus_minus]),
        noise=lambda slope: np.sqrt(2.0 * READING_ERROR_CENTS**2 + (hand_error * slope[0] * x) ** 2),
    )
    return float(fit.coefficients[0]), float(np.sqrt(max(fit.agreement, 1.0) * fit.covariance[0, 0]))
