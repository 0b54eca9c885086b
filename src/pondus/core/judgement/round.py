"""The strings as they would stand while a round is laid: each is left where the moves still to come will pull it to its target.

Rules R44 to R46, R62, R84.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from pondus.core.judgement.cautions import BREAK_MARGIN_PAST_CENTS, Caution, cautions_for
from pondus.core.judgement.coupling import Coupling
from pondus.core.judgement.mechanism import Choice, choose
from pondus.core.judgement.permitted import Means, Wanted, permitted
from pondus.core.judgement.procedure import (
    NEAR_STAGE_CENTS,
    SLACK_AIMS_CENTS,
    STAGES_BELOW_CENTS,
    Procedure,
    aim_for,
    procedure,
)
from pondus.core.judgement.reading import state_of
from pondus.core.judgement.recent_move import RecentMove
from pondus.core.judgement.situation import Situation
from pondus.core.judgement.steps import Step

MOST_ROUNDS = 3
FAR_DOWN_CENTS, FAR_DOWN_STRINGS = 300.0, 2
"""R84: from so many strings so far down the bridge is looked at, and they come up in rounds together."""
PASSES_AFTER_SLACK = 2
"""Times over all strings after they came up together; the second is a touch-up and no round of its own."""
FAR_CENTS, UNDONE_SHARE = 100.0, 0.3
"""Strings further off than this move the others enough to undo a peg's patient creeping; they come before it."""


@dataclass(frozen=True)
class PlannedMove:
    """One step on one string, with where every known string stands before and should stand after it (cents off). ``facts``:
    the string as it is then (None: nothing is moved whose place is known); ``gains_cents``: by how much nearer its target
    the string stands for it, when the others have pulled.
    """

    string: str
    step: Step
    before: dict[str, float]
    predicted: dict[str, float]
    facts: Situation | None = None
    gains_cents: float = 0.0


@dataclass
class Round:
    """The strings as they would stand after the moves laid so far."""

    situations: dict[str, Situation]
    cents: dict[str, float]
    coupling: Coupling
    held: set[str]
    guessed: set[str]
    recent: dict[str, RecentMove | None]
    slack: set[str]

    def __post_init__(self) -> None:
        self.moves: list[PlannedMove] = []
        self.cautions: list[Caution] = []

    def note(self, name: str, step: Step) -> None:
        """A step that moves nothing whose place is known."""
        cents = rounded(self.cents)
        self.moves.append(PlannedMove(name, step, cents, cents))

    def make(self, name: str, step: Step, to: float) -> None:
        """One step on one string: it goes where the step aims, and the others give."""
        before = dict(self.cents)
        change = to - self.cents[name]
        for other in self.cents:
            self.cents[other] += self.coupling.get(name, {}).get(other, 0.0) * change if other != name else change
        self.moves.append(PlannedMove(name, step, rounded(before), rounded(self.cents), self.situations[name]))

    def still_to_come(self, name: str, later: tuple[str, ...]) -> float:
        """How far the moves on later strings will pull this one, in cents."""
        return sum(
            -self.cents[other] * self.coupling.get(other, {}).get(name, 0.0)
            for other in later
            if not self.in_tune(other, self.cents[other])
        )

    def in_tune(self, name: str, cents: float) -> bool:
        """Whether a string at ``cents`` is left alone."""
        return state_of(self.situations[name], cents) == "in-tune"


def go_round(working: Round, in_order: tuple[str, ...]) -> int:
    """R44: at most three rounds; each goes over the strings that need a peg first, then the rest. Strings that are slack, or
    two or more that are far down, come up before them in rounds of their own.
    """
    far = far_down(working, in_order)
    free = [name for name in in_order if name in working.cents and name not in working.held]
    slack = [name for name in free if name in working.slack or working.cents[name] < STAGES_BELOW_CENTS]
    up = far if len(far) >= FAR_DOWN_STRINGS else slack
    rounds = 0
    for aim in SLACK_AIMS_CENTS if up else ():
        lower = [name for name in up if working.cents[name] < aim - NEAR_STAGE_CENTS]
        rounds += bool(lower)
        for name in lower:
            _raise_slack(working, name, aim)
    for _ in range(MOST_ROUNDS if not rounds else PASSES_AFTER_SLACK):
        sequence = _sequence(working, in_order)
        before = len(working.moves)
        for place, name in enumerate(sequence):
            _tune(working, name, sequence[place + 1 :])
        if len(working.moves) == before:
            break
        rounds = min(MOST_ROUNDS, rounds + 1)
    return rounds


def far_down(working: Round, names: Sequence[str]) -> list[str]:
    """R84: the strings that are far down, in this order."""
    free = [name for name in names if name in working.cents and name not in working.held]
    return [name for name in free if working.cents[name] < -FAR_DOWN_CENTS]


def _sequence(working: Round, in_order: tuple[str, ...]) -> tuple[str, ...]:
    names = [name for name in in_order if name in working.cents and name not in working.held]
    pegs = [name for name in names if _choice(working, name).mechanism == "peg"]
    far = [name for name in pegs if abs(working.cents[name]) > FAR_CENTS]
    near = [name for name in pegs if name not in far]
    screws = [name for name in names if name not in pegs]
    waiting = [name for name in near if _would_be_undone(working, name, [*far, *screws])]
    # What stands near where strings break is eased before anything else is turned.
    tight = [name for name in names if working.cents[name] > BREAK_MARGIN_PAST_CENTS]
    far, near, screws, waiting = ([name for name in part if name not in tight] for part in (far, near, screws, waiting))
    return (*tight, *far, *(name for name in near if name not in waiting), *screws, *waiting)


def _would_be_undone(working: Round, name: str, others: Sequence[str]) -> bool:
    """R62: a peg without a screw can't aim over for pulls to come; it waits where the others' moves would undo it."""
    facts = working.situations[name]
    if facts.fine_tuner is not None or facts.peg.kind == "geared":
        return False
    return abs(working.still_to_come(name, tuple(others))) > UNDONE_SHARE * facts.tolerance_cents


def _choice(working: Round, name: str) -> Choice:
    cents = working.cents[name]
    if working.in_tune(name, cents):
        return Choice("fine-tuner", "raise", "within-reach")
    return choose(working.situations[name], cents, recent=working.recent[name])


def _raise_slack(working: Round, name: str, aim: float) -> None:
    """R45: one stage of a slack string, and a look at the bridge."""
    facts = working.situations[name]
    choice = Choice("peg", "raise", "past-threshold")
    is_slack = name in working.slack
    laid = Procedure(facts, working.cents[name], None)
    laid.turn_peg_to(aim)
    laid.look_at_bridge()
    nudge = laid.steps[0]
    working.make(name, nudge, aim)
    working.make(name, laid.steps[-1], working.cents[name])
    working.cautions.extend(
        cautions_for(facts, choice, laid.steps, cents_off=aim, slack=is_slack, octave_guess=False, screw_ends=())
    )


def _tune(working: Round, name: str, later: tuple[str, ...]) -> None:
    """R46: one string to where the moves still to come will pull it to its target; left alone if they will anyway."""
    facts = working.situations[name]
    coming = working.still_to_come(name, later)
    cents = working.cents[name]
    aim = aim_for(coming)
    if working.in_tune(name, cents) or working.in_tune(name, cents + coming) or (aim - cents) * cents > 0.0:
        return
    recent = working.recent.pop(name)
    working.recent[name] = None
    choice = choose(facts, cents, recent=recent)
    means: Means = "tug" if choice.reason == "tug" else choice.mechanism
    if permitted(facts, Wanted(means)).permission != "may":
        return
    laid = procedure(facts, choice, cents, aim=aim)
    for step in laid.steps:
        if step.is_counted:
            assert step.aim_cents is not None
            working.make(name, step, laid.cents_off if step.do == "tug-down" else step.aim_cents)
    working.cautions.extend(
        cautions_for(
            facts,
            choice,
            laid.steps,
            cents_off=cents,
            slack=False,
            octave_guess=name in working.guessed,
            screw_ends=laid.screw_ends,
        )
    )
    if facts.fine_tuner is not None and laid.screw_turns is not None:
        reach = facts.fine_tuner.reach_turns
        turns = max(-reach, min(reach, laid.screw_turns))
        working.situations[name] = replace(facts, fine_tuner=replace(facts.fine_tuner, turns_from_middle=turns))


def with_gains(moves: Sequence[PlannedMove]) -> tuple[PlannedMove, ...]:
    """What each move is worth: how much further its string would be without it when it is next turned, or at the end."""
    return tuple(_with_gain(move, moves[place + 1 :]) for place, move in enumerate(moves))


def _with_gain(move: PlannedMove, later: Sequence[PlannedMove]) -> PlannedMove:
    if move.facts is None:
        return move
    name, last = move.string, later[-1].predicted if later else move.predicted
    then = next((move.before[name] for move in later if move.string == name), last[name])
    pulled = then - move.predicted[name]
    return replace(move, gains_cents=round(abs(move.before[name] + pulled) - abs(then), 2) + 0.0)


def rounded(cents: Mapping[str, float]) -> dict[str, float]:
    """Cents as they are printed: two decimals, never a minus zero."""
    return {name: round(value, 2) + 0.0 for name, value in cents.items()}
