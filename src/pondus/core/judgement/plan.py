"""From four readings to the whole round: which string in which order, each move, and where all four stand after it.

The body gives: raising one string lowers the others a little. A plan doesn't chase that, it anticipates it: each string
is left where the moves still to come will pull it to its target. Rules R43 to R48.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from pondus.core.instruments import Instrument
from pondus.core.judgement import words
from pondus.core.judgement.advise import Advice, advise
from pondus.core.judgement.amounts import peg_moves_needed
from pondus.core.judgement.cautions import Caution, cautions_for
from pondus.core.judgement.heard import Heard
from pondus.core.judgement.mechanism import Choice, choose
from pondus.core.judgement.procedure import NEAR_STAGE_CENTS, SLACK_AIMS_CENTS, Procedure, procedure
from pondus.core.judgement.reading import ROUNDING_CENTS, State, state_of
from pondus.core.judgement.recent_move import RecentMove
from pondus.core.judgement.situation import Situation
from pondus.core.judgement.steps import Step
from pondus.core.targets import PURE_FIFTH_CENTS, TEMPERED_FIFTH_CENTS, offset_cents

StringOrder = Literal["A-outward", "top-down", "low-up"]
Refer = Literal["teacher", "luthier"]
Coupling = Mapping[str, Mapping[str, float]]

NEIGHBOUR_COUPLING, FURTHER_COUPLING = -0.03, -0.015
SCREW_SECONDS, PEG_SECONDS, SWEEP_SECONDS = 15, 45, 25
MOST_ROUNDS = 3
MOST_OVER_CENTS = 5.0
FAR_DOWN_CENTS, FAR_DOWN_STRINGS = 300.0, 2
"""R84: from so many strings so far down the bridge is looked at, and they come up in rounds together."""
PURE_WITHIN_CENTS = 1.5
"""R87: a string this near its pure place is right by ear."""
PASSES_AFTER_SLACK = 2
"""Times over all strings after they came up together; the second is a touch-up and no round of its own."""
FAR_CENTS, UNDONE_SHARE = 100.0, 0.3
"""Strings further off than this move the others enough to undo a peg's patient creeping; they come before it."""


@dataclass(frozen=True)
class StringAsked:
    """One string of a plan: how it stands, and what was heard of it (None: not heard, or taken off)."""

    situation: Situation
    heard: Heard | None
    sure: bool = False
    recent_move: RecentMove | None = None


@dataclass(frozen=True)
class StateNow:
    """Where a string stands now."""

    state: State
    cents_off: float | None


@dataclass(frozen=True)
class PlannedMove:
    """One step on one string, with where every known string stands before and should stand after it (cents off)."""

    string: str
    step: Step
    before: dict[str, float]
    predicted: dict[str, float]


@dataclass(frozen=True)
class Plan:
    """The whole round. ``ask`` names strings to be heard (again) before anything is turned on them, ``off`` those that are
    broken or missing. ``offer_pure``: the four are a pure chain; nothing is turned, tuning pure is offered. ``peg_moves``: how
    many of ``total_moves`` are a peg's.
    """

    strings: dict[str, StateNow]
    ask: tuple[str, ...]
    order: tuple[str, ...]
    rounds: int
    total_moves: int
    seconds: int
    refer: Refer | None
    moves: tuple[PlannedMove, ...]
    cautions: tuple[Caution, ...]
    why: str
    off: tuple[str, ...] = ()
    offer_pure: bool = False
    peg_moves: int = 0


def order_of(instrument: Instrument, order: StringOrder) -> tuple[str, ...]:
    """The order in which a school goes over the strings.

    >>> from pondus.core.instruments import INSTRUMENTS
    >>> [" ".join(order_of(INSTRUMENTS["violin"], each)) for each in ("A-outward", "top-down", "low-up")]
    ['A D G E', 'E A D G', 'G D A E']
    >>> order_of(INSTRUMENTS["cello"], "A-outward")
    ('A', 'D', 'G', 'C')
    """
    low_up = instrument.string_names
    if order == "low-up":
        return low_up
    if order == "top-down":
        return low_up[::-1]
    a = low_up.index("A")
    return (*low_up[a::-1], *low_up[a + 1 :])


def default_coupling(instrument: Instrument) -> dict[str, dict[str, float]]:
    """What a string's rise does to the others before anything is learned: a share of its change, negative."""
    names = instrument.string_names
    return {
        moved: {
            other: NEIGHBOUR_COUPLING if abs(names.index(moved) - names.index(other)) == 1 else FURTHER_COUPLING
            for other in names
            if other != moved
        }
        for moved in names
    }


def plan(
    asked: Mapping[str, StringAsked],
    *,
    instrument: Instrument,
    order: StringOrder = "A-outward",
    coupling: Coupling | None = None,
) -> Plan:
    """Plan the round. ``asked`` holds the strings that are on the instrument; others stand in ``ask``.

    Raises BadInput for a reading or a move that can't be meant.
    """
    advices = {
        name: advise(each.situation, each.heard, sure_of_string=each.sure, recent_move=each.recent_move)
        for name, each in asked.items()
        if each.heard is not None or each.situation.string_state != "on" or each.situation.peg.state == "out"
    }
    ask, refer, held = _held_back(instrument, advices)
    off = tuple(
        name for name in instrument.string_names if name in advices and advices[name].state in ("broken", "off")
    )
    known = {
        name: advice.cents_off for name, advice in advices.items() if name not in ask and advice.cents_off is not None
    }
    working = _Working(
        {name: asked[name].situation for name in known},
        known,
        {**default_coupling(instrument), **(coupling or {})},
        held,
        {name for name, advice in advices.items() if "octave-guess" in advice.cautions},
        {name: asked[name].recent_move for name in known},
        {name for name, advice in advices.items() if advice.state == "slack" and name in known},
    )
    far = _far_down(working, instrument.string_names)
    if len(far) >= FAR_DOWN_STRINGS and any(asked[name].situation.is_student for name in far):
        refer, held = refer or "teacher", held | set(far)
        working.held = held
    if refer == "teacher":
        working.cautions.append("adult")
    pure = refer is None and _is_pure(instrument, working)
    in_order = order_of(instrument, order)
    rounds = 0
    if not pure and refer_luthier_for_bridge(asked) is None:
        _unknown(working, {name: advices[name] for name in in_order if name in advices})
        rounds = _rounds(working, in_order)
    moves = tuple(working.moves)
    touched = tuple(dict.fromkeys(move.string for move in moves))
    states = {
        name: StateNow(advices[name].state, advices[name].cents_off)
        for name in instrument.string_names
        if name in advices
    }
    counts = {id(move): _count(move, working.facts_at.get(id(move))) for move in moves}
    return Plan(
        strings=states,
        ask=tuple(name for name in instrument.string_names if name in ask),
        order=touched,
        rounds=rounds,
        total_moves=sum(counts.values()),
        seconds=_seconds(moves, counts, rounds),
        refer=refer,
        moves=moves,
        cautions=tuple(dict.fromkeys(working.cautions)),
        why=PURE_SAID if pure else _why(working, touched, ask, refer, rounds),
        off=off,
        offer_pure=pure,
        peg_moves=sum(counts[id(move)] for move in moves if move.step.do == "turn-peg"),
    )


PURE_SAID = (
    "These are pure fifths: right by ear, though a tuner shows them flat or sharp of equal temperament. Leave them, or tune"
    " pure from now on."
)


def refer_luthier_for_bridge(asked: Mapping[str, StringAsked]) -> Refer | None:
    """R86: a bridge that has moved or fallen stops everything."""
    return "luthier" if any(each.situation.bridge in ("moved", "fallen") for each in asked.values()) else None


def _is_pure(instrument: Instrument, working: "_Working") -> bool:
    """R87: all four strings within 1.5 cents of pure, from an A in tune, and equal temperament is asked for."""
    if set(working.cents) != set(instrument.string_names):
        return False
    facts = working.situations["A"]
    if facts.fifth_cents != TEMPERED_FIFTH_CENTS or not working.in_tune("A", working.cents["A"]):
        return False
    a = working.cents["A"]
    return all(
        abs(working.cents[string.name] - a - offset_cents(string, fifth_cents=PURE_FIFTH_CENTS))
        <= PURE_WITHIN_CENTS + ROUNDING_CENTS
        for string in instrument.strings
    )


def _unknown(working: "_Working", advices: Mapping[str, Advice]) -> None:
    """R80, R85: new strings, slack ones that give no pitch yet, and those of which only a side is known. What can be said of
    them comes first; where they stand nobody knows.
    """
    for name, advice in advices.items():
        if advice.cents_off is None and advice.state in ("slack", "broken", "off"):
            for step in advice.steps:
                if step.do in ("put-string-on", "turn-peg", "look-at-bridge"):
                    working.note(name, step)
            working.cautions.extend(advice.cautions)
        elif advice.side in ("flat", "sharp"):
            for step in (each for each in advice.steps if each.is_counted):
                working.note(name, step)
            working.cautions.extend(advice.cautions)


def _held_back(instrument: Instrument, advices: Mapping[str, Advice]) -> tuple[set[str], Refer | None, set[str]]:
    """R43: strings to ask about, whom to refer to, and strings nothing is turned on though they are known."""
    ask = {name for name in instrument.string_names if name not in advices}
    refer: Refer | None = None
    held: set[str] = set()
    for name, advice in advices.items():
        first = advice.steps[0].do if advice.steps else None
        if first == "luthier":
            refer, held = "luthier", held | {name}
        elif advice.state in ("unsure", "other-string", "no-effect", "wrong-way") and first != "fetch-teacher":
            ask.add(name)
        elif first == "fetch-teacher":
            refer, held = refer or "teacher", held | {name}
    return ask, refer, held


@dataclass
class _Working:
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
        self.facts_at: dict[int, Situation] = {}

    def note(self, name: str, step: Step) -> None:
        """A step that moves nothing whose place is known."""
        cents = _rounded(self.cents)
        self.moves.append(PlannedMove(name, step, cents, cents))

    def make(self, name: str, step: Step, to: float) -> None:
        """One step on one string: it goes where the step aims, and the others give."""
        before = dict(self.cents)
        change = to - self.cents[name]
        for other in self.cents:
            self.cents[other] += self.coupling.get(name, {}).get(other, 0.0) * change if other != name else change
        move = PlannedMove(name, step, _rounded(before), _rounded(self.cents))
        self.moves.append(move)
        self.facts_at[id(move)] = self.situations[name]

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


def _rounds(working: _Working, in_order: tuple[str, ...]) -> int:
    """R44: at most three rounds; each goes over the strings that need a peg first, then the rest. Strings that are slack, or
    two or more that are far down, come up before them in rounds of their own.
    """
    far = _far_down(working, in_order)
    slack = [name for name in in_order if name in working.slack and name not in working.held]
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


def _far_down(working: _Working, names: Sequence[str]) -> list[str]:
    """R84: the strings that are far down, in this order."""
    free = [name for name in names if name in working.cents and name not in working.held]
    return [name for name in free if working.cents[name] < -FAR_DOWN_CENTS]


def _sequence(working: _Working, in_order: tuple[str, ...]) -> tuple[str, ...]:
    names = [name for name in in_order if name in working.cents and name not in working.held]
    pegs = [name for name in names if _choice(working, name).mechanism == "peg"]
    far = [name for name in pegs if abs(working.cents[name]) > FAR_CENTS]
    near = [name for name in pegs if name not in far]
    screws = [name for name in names if name not in pegs]
    waiting = [name for name in near if _would_be_undone(working, name, [*far, *screws])]
    return (*far, *(name for name in near if name not in waiting), *screws, *waiting)


def _would_be_undone(working: _Working, name: str, others: Sequence[str]) -> bool:
    """R62: a peg without a screw can't aim over for pulls to come; it waits where the others' moves would undo it."""
    facts = working.situations[name]
    if facts.fine_tuner is not None or facts.peg.kind == "geared":
        return False
    return abs(working.still_to_come(name, tuple(others))) > UNDONE_SHARE * facts.tolerance_cents


def _choice(working: _Working, name: str) -> Choice:
    cents = working.cents[name]
    if working.in_tune(name, cents):
        return Choice("fine-tuner", "raise", "within-reach")
    return choose(working.situations[name], cents, recent=working.recent[name])


def _raise_slack(working: _Working, name: str, aim: float) -> None:
    """R45: one stage of a slack string, and a look at the bridge."""
    facts = working.situations[name]
    choice = Choice("peg", "raise", "past-threshold")
    laid = Procedure(facts, working.cents[name], None)
    laid.turn_peg_to(aim)
    laid.look_at_bridge()
    nudge = laid.steps[0]
    working.make(name, nudge, aim)
    working.make(name, laid.steps[-1], working.cents[name])
    working.cautions.extend(
        cautions_for(facts, choice, [nudge], cents_off=aim, slack=True, octave_guess=False, screw_ends=())
    )


def _tune(working: _Working, name: str, later: tuple[str, ...]) -> None:
    """R46: one string to where the moves still to come will pull it to its target; left alone if they will anyway."""
    facts = working.situations[name]
    coming = working.still_to_come(name, later)
    cents = working.cents[name]
    if working.in_tune(name, cents + coming):
        return
    recent = working.recent.pop(name)
    working.recent[name] = None
    in_tune = working.in_tune(name, cents)
    choice = choose(facts, cents + coming if in_tune else cents, recent=recent)
    if in_tune and choice.mechanism == "peg":
        return  # a string in tune is not let down for its screw's sake, nor turned by its peg for pulls to come
    aim = max(-MOST_OVER_CENTS, min(MOST_OVER_CENTS, -coming))
    if choice.mechanism == "peg" and choice.reason != "tug" and facts.who == "student-fine-tuners":
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


def _count(move: PlannedMove, facts: Situation | None) -> int:
    """R47: how many turns (or tugs) one step of a plan takes: a peg's nudges each count."""
    step = move.step
    if not step.is_counted:
        return 0
    if step.do == "turn-peg" and facts is not None and step.aim_cents is not None:
        return peg_moves_needed(facts, step.aim_cents - move.before[move.string])
    if step.do == "set-fine-tuner-to-middle" and facts is not None and step.pitch == "raise" and step.expect_cents:
        whole = (step.aim_cents or 0.0) - move.before[move.string]
        return max(1, round(whole / step.expect_cents))
    return 1


def _seconds(moves: tuple[PlannedMove, ...], counts: Mapping[int, int], rounds: int) -> int:
    """R47: 15 s a screw move or a tug, 45 s a peg move, 25 s for each going over all four, first and last included."""
    turned = sum(counts[id(move)] * (PEG_SECONDS if move.step.do == "turn-peg" else SCREW_SECONDS) for move in moves)
    return turned + SWEEP_SECONDS * (rounds + 1)


def _rounded(cents: Mapping[str, float]) -> dict[str, float]:
    return {name: round(value, 2) + 0.0 for name, value in cents.items()}


def _why(working: _Working, order: tuple[str, ...], ask: set[str], refer: Refer | None, rounds: int) -> str:
    said = []
    if ask:
        said.append(f"Play {', '.join(sorted(ask))} (again) first: without a sure reading nothing is turned there.")
    if refer == "luthier":
        bridge = any(facts.bridge in ("moved", "fallen") for facts in working.situations.values())
        said.append(
            "The bridge doesn't stand as it should: turn nothing, it goes to the luthier."
            if bridge
            else "A peg that an adult can't move goes to the luthier."
        )
    if refer == "teacher":
        needs = "needs" if len(working.held) == 1 else "need"
        said.append(f"{', '.join(sorted(working.held))} {needs} a peg: take it to your teacher.")
    if not order:
        said.append("Nothing needs turning." if not said else "")
    else:
        said.append(
            f"{', '.join(order)} in this order; each is left where the others' moves will pull it to its target."
        )
    left = [
        f"{name} would still be {words.off(cents)}"
        for name, cents in working.cents.items()
        if rounds >= MOST_ROUNDS and not working.in_tune(name, cents) and name not in working.held
    ]
    if left:
        said.append(f"After three rounds {', '.join(left)}: stop then and look what is wrong.")
    return " ".join(each for each in said if each)
