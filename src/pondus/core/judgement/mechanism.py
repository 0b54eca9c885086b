"""Peg or fine tuner: what an approach (see `approaches`) says, and what holds whatever the approach.

Fine tuners are small, safe and the first choice; pegs are big, risky, and turned only when needed. Rules R7 to R11.
"""

from dataclasses import dataclass
from typing import Literal

from pondus.core.instruments.mechanics import change_at_pitch
from pondus.core.judgement.reading import ROUNDING_CENTS
from pondus.core.judgement.recent_move import RecentMove
from pondus.core.judgement.situation import FineTuner, Mechanism, Pitch, Situation

Reason = Literal[
    "no-fine-tuner",
    "screw-recentres",
    "violin-e",
    "violin-e-too-far",
    "pegs-only",
    "no-travel",
    "used-up",
    "past-threshold",
    "within-reach",
    "peg-under-way",
    "tug",
]

VIOLIN_E_PEG_PAST_CENTS = 150.0
SCREW_KEEPS_TURNS, USES_UP_PAST_CENTS = 0.5, 50.0
"""R8: a string that is off by more than so much leaves its screw so far from its end, or the peg is turned."""
TUG_UP_TO_CENTS = 20.0
"""R82: a string with no screw that is sharp by no more than this is tugged down."""
TUG_AFTER_TURN_CENTS, TUG_AFTER_PUSH_CENTS = 60.0, 100.0
"""R82: and by no more than this, where the peg brought it past its target; the second where that was the smallest push, which
from where a lowering would leave it would go past again: never to and fro with the peg.
"""
SMALLEST_PUSH_FROM_CENTS = -20.0
PULLS_ENOUGH, PULL_DID_CENTS = 2, 1.5
"""R82: so many pulls in a row that let it down by less than this are enough: the peg, by its smallest move."""
SCREW_TAKES_OVER_TURNS, PEG_LEAVES_CENTS, PEG_GOES_ON_CENTS = 1.0, 10.0, 15.0
"""R61: a peg that is being turned anyway goes on while half of what is left to its aim is more than a move of the screw; turned
while the string sounds, on to its aim.
"""


@dataclass(frozen=True)
class Choice:
    """The main move a string needs, and the rule that chose it."""

    mechanism: Mechanism
    pitch: Pitch
    reason: Reason


def choose(situation: Situation, cents_off: float, *, recent: RecentMove | None = None) -> Choice:
    """The mechanism for a string that stands ``cents_off`` from its target (not within tolerance); ``recent`` the last move
    on it, if known.
    """
    pitch: Pitch = "raise" if cents_off < 0 else "lower"
    tuner = situation.fine_tuner
    pulls = situation.pulls_down and situation.pulled_in_vain < PULLS_ENOUGH
    if pulls and 0.0 < cents_off <= _tugged_up_to(recent) + ROUNDING_CENTS:
        return Choice("peg", pitch, "tug")
    if tuner is None:
        return Choice("peg", pitch, "no-fine-tuner")
    reason = _reason(situation, tuner, cents_off)
    if reason == "within-reach" and _peg_under_way(situation, cents_off, recent):
        reason = "peg-under-way"
    by_screw: tuple[Reason, ...] = ("screw-recentres", "violin-e", "within-reach")
    return Choice("fine-tuner" if reason in by_screw else "peg", pitch, reason)


def _tugged_up_to(recent: RecentMove | None) -> float:
    if recent is None or recent.from_cents is None:
        return TUG_UP_TO_CENTS
    if recent.mechanism == "tug":
        return TUG_AFTER_PUSH_CENTS
    if recent.mechanism != "peg" or recent.direction != "raise" or recent.from_cents >= 0.0:
        return TUG_UP_TO_CENTS
    return TUG_AFTER_PUSH_CENTS if recent.from_cents >= SMALLEST_PUSH_FROM_CENTS else TUG_AFTER_TURN_CENTS


def _reason(situation: Situation, tuner: FineTuner, cents_off: float) -> Reason:
    covered = covers(situation, tuner, cents_off)
    if situation.taken_by.uses_screw and covered and recentres(situation, tuner, cents_off):
        return "screw-recentres"
    if situation.is_delicate_e:
        near = abs(cents_off) <= VIOLIN_E_PEG_PAST_CENTS + ROUNDING_CENTS
        return ("violin-e" if covered else "no-travel") if near else "violin-e-too-far"
    if not situation.taken_by.uses_screw:
        return "pegs-only"
    if not covered:
        return "no-travel"
    if abs(cents_off) > USES_UP_PAST_CENTS and not covers(situation, tuner, cents_off, keeps=SCREW_KEEPS_TURNS):
        return "used-up"
    past = abs(cents_off) > situation.taken_by.peg_past_cents + ROUNDING_CENTS
    return "past-threshold" if past else "within-reach"


def _peg_under_way(situation: Situation, cents_off: float, recent: RecentMove | None) -> bool:
    """R61: whether the last move was a nudge of the peg this way, with more left than the screw does sooner."""
    pitch: Pitch = "raise" if cents_off < 0 else "lower"
    if recent is None or recent.mechanism != "peg" or recent.direction != pitch:
        return False
    screw = SCREW_TAKES_OVER_TURNS * situation.screw_rate.cents
    if situation.while_sounding:
        screw = min(screw, PEG_GOES_ON_CENTS)
    return abs(cents_off) > PEG_LEAVES_CENTS + screw


def travel_left_cents(situation: Situation, tuner: FineTuner, pitch: Pitch) -> float:
    """What the screw can still give that way, in cents at pitch (as expected).

    >>> from pondus.core.instruments import INSTRUMENTS
    >>> from pondus.core.judgement.situation import Peg, situation
    >>> screw = FineTuner(turns_from_middle=3.0, reach_turns=4.0, cents_per_turn=40.0)
    >>> a = situation(INSTRUMENTS["violin"], "A", fine_tuner=screw, peg=Peg())
    >>> travel_left_cents(a, screw, "raise"), travel_left_cents(a, screw, "lower")
    (40.0, 280.0)
    """
    turns = tuner.turns_from_middle if pitch == "raise" else -tuner.turns_from_middle
    return (tuner.reach_turns - turns) * situation.screw_rate.cents


def covers(situation: Situation, tuner: FineTuner, cents_off: float, *, keeps: float = 0.0) -> bool:
    """R8: whether the screw's remaining travel covers the need, ``keeps`` so many turns of it kept; where it doesn't, the screw
    is *nearly at its end*.
    """
    pitch: Pitch = "raise" if cents_off < 0 else "lower"
    left = travel_left_cents(situation, tuner, pitch) - keeps * situation.screw_rate.cents
    return abs(change_at_pitch(cents_off, 0.0)) <= left + ROUNDING_CENTS


def recentres(situation: Situation, tuner: FineTuner, cents_off: float) -> bool:
    """R9: whether the screw would end no further from its middle than it stands now."""
    ends = tuner.turns_from_middle + change_at_pitch(cents_off, 0.0) / situation.screw_rate.cents
    return abs(ends) <= abs(tuner.turns_from_middle) + 1e-9
