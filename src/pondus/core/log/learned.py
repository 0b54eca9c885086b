"""What an instrument's own log teaches: its measured moves handed to `learning`, string by string."""

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import UTC, datetime, time
from functools import lru_cache

from pondus.core.clock import Clock
from pondus.core.instruments import Instrument
from pondus.core.judgement.after_move import EFFECT_DUE_CENTS, EFFECT_SHARE, WRONG_WAY_CENTS
from pondus.core.judgement.coupling import default_coupling
from pondus.core.judgement.situation import Situation
from pondus.core.log.learning import (
    SCREW_HAND_ERROR,
    Learned,
    learn_coupling,
    learn_peg_rate,
    learn_rate,
)
from pondus.core.log.records import FittedString
from pondus.core.log.summary import MeasuredMove, TuningSummary
from pondus.core.mechanics import Rate

REMEMBERED = 4096
"""Strings of which what was learned is remembered."""
Figures = tuple[float, ...]
_NEVER = datetime.min.replace(tzinfo=UTC)


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


def learned_rates(
    string: FittedString, facts: Situation, measured: Sequence[MeasuredMove], *, clock: Clock
) -> LearnedRates:
    """What the moves since this string and its fittings were put on say, with the physics as the prior."""
    put_on = _NEVER if string.put_on is None else clock.at(string.put_on, time())
    since = max(put_on, string.fitted_at or _NEVER)
    fresh = [move for move in measured if move.at >= since]
    turns, by_screw = _amounts(fresh, "fine-tuner", facts.screw_rate)
    degrees, by_peg = _amounts(fresh, "peg", facts.peg_rate)
    return LearnedRates(
        screw=_screw(turns, by_screw, facts.screw_rate),
        peg=_peg(degrees, by_peg, facts.peg_rate),
    )


def without_effect(amount: float, change_cents: float, prior: Rate) -> bool:
    """R23, R25: from a turn that should have moved the string and didn't, or that went the other way, nothing is learned: who
    knows what was turned.

    >>> [without_effect(0.5, change, Rate(25.0, 8.0)) for change in (0.3, -20.0, 6.0)]
    [True, True, False]
    """
    due = abs(amount) * (prior.cents - prior.plus_minus)
    along = change_cents if amount > 0 else -change_cents
    return along < -WRONG_WAY_CENTS or (due >= EFFECT_DUE_CENTS and along < EFFECT_SHARE * due)


# An entry on one string leaves what the other three taught as it was; a bench asks for all four each time.
@lru_cache(maxsize=REMEMBERED)
def _screw(turns: Figures, changes: Figures, prior: Rate) -> Learned:
    return learn_rate(turns, changes, prior=prior, hand_error=SCREW_HAND_ERROR)


@lru_cache(maxsize=REMEMBERED)
def _peg(degrees: Figures, changes: Figures, prior: Rate) -> Learned:
    return learn_peg_rate(degrees, changes, prior=prior)


def with_learned(facts: Situation, learned: LearnedRates) -> Situation:
    """The situation with what the log teaches in place of the priors, where there is anything."""
    tuner, peg = facts.fine_tuner, facts.peg
    if tuner is not None and learned.screw.count:
        tuner = replace(tuner, cents_per_turn=learned.screw.value, cents_per_turn_plus_minus=learned.screw.plus_minus)
    if learned.peg.count:
        peg = replace(peg, cents_per_degree=learned.peg.value)
    return replace(facts, fine_tuner=tuner, peg=peg)


def _amounts(measured: Sequence[MeasuredMove], mechanism: str, prior: Rate) -> tuple[Figures, Figures]:
    ours = [
        move
        for move in measured
        if move.mechanism == mechanism and not without_effect(move.amount, move.change_cents, prior)
    ]
    return tuple(move.amount for move in ours), tuple(move.change_cents for move in ours)
