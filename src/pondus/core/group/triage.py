"""Sorting a whole group's instruments after a sweep: leave, a student can, the teacher must, the luthier.

What each string needs is the plan's answer for whoever may turn everything; the sorting only asks what kind of move it is.
"""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from pondus.core.clock import Clock
from pondus.core.group.jobs import Clearance
from pondus.core.group.pace import Done, expected_minutes, learned_pace
from pondus.core.hands.learned import learned_coupling, move_log
from pondus.core.hands.records import FittedInstrument, TuningLog
from pondus.core.hands.state import TuningNow, tuning_now
from pondus.core.hands.summary import TuningSummary
from pondus.core.instruments import Instrument
from pondus.core.judgement.coupling import Coupling
from pondus.core.judgement.plan import Plan, StringAsked, plan
from pondus.core.judgement.round import FAR_DOWN_CENTS, FAR_DOWN_STRINGS
from pondus.core.judgement.situation import Situation
from pondus.core.judgement.string_order import StringOrder

Group = Literal["not-heard", "leave", "student-can", "teacher-must", "luthier"]
GROUPS: tuple[Group, ...] = ("teacher-must", "student-can", "not-heard", "leave", "luthier")
WAITING: frozenset[Group] = frozenset({"teacher-must", "student-can", "not-heard"})
"""Groups whose instruments still want someone's hands."""


@dataclass(frozen=True)
class Sorted:
    """One instrument: its group, what its turns need (None: nothing to turn), moves by kind, rounds, and why in a few words."""

    group: Group
    needs: Clearance | None
    screw_moves: int
    peg_moves: int
    rounds: int
    said: str

    @property
    def waits(self) -> bool:
        """Whether it still wants someone's hands."""
        return self.group in WAITING


def sort_instrument(
    strings: Mapping[str, StringAsked],
    *,
    instrument: Instrument,
    order: StringOrder = "A-outward",
    coupling: Coupling | None = None,
    may_be_pure: bool = True,
    planned: Plan | None = None,
) -> Sorted:
    """Sort one instrument by its four readings. ``strings``, ``may_be_pure``: as `plan` takes them, for someone who may turn
    pegs. ``planned``: the plan of just these, where it is known.
    """
    gone = {name: _gone(string.situation) for name, string in strings.items()}
    left = [
        name for name in instrument.string_names if name not in strings or (strings[name].heard is None and gone[name] is None)
    ]
    if left:
        return unheard(left)
    if planned is None:
        planned = plan(strings, instrument=instrument, order=order, coupling=coupling, may_be_pure=may_be_pure)
    if planned.refer == "luthier":
        bridge = any(string.situation.bridge in ("moved", "fallen") for string in strings.values())
        return Sorted("luthier", None, 0, 0, 0, "the bridge" if bridge else "a peg that can’t be moved")
    screws = planned.total_moves - planned.peg_moves
    missing = [f"{name} {reason}" for name, reason in gone.items() if reason is not None]
    if missing:
        reason = ", ".join(missing)
        return Sorted("teacher-must", "teacher", screws, max(1, planned.peg_moves), max(1, planned.rounds), reason)
    for who, what, names in _teachers(planned):
        if names:
            reason = f"{what}: {', '.join(names)}"
            return Sorted("teacher-must", who, screws, planned.peg_moves, planned.rounds, reason)
    if screws:
        reason = f"fine tuner: {', '.join(planned.order)}"
        return Sorted("student-can", "fine-tuners", screws, 0, planned.rounds, reason)
    return Sorted("leave", None, 0, 0, 0, "in tune")


def _teachers(planned: Plan) -> Iterator[tuple[Clearance, str, Iterable[str]]]:
    """What makes an instrument the teacher's, the gravest first: who, why, and which strings."""
    off = planned.strings.items()
    far = [name for name, state in off if (state.cents_off or 0.0) < -FAR_DOWN_CENTS]
    yield "teacher", "slack", [name for name, state in off if state.state == "slack"]
    yield "teacher", "far down", far if len(far) >= FAR_DOWN_STRINGS else ()
    yield "teacher", "unsure", planned.ask
    yield "pegs", "peg", dict.fromkeys(move.string for move in planned.moves if move.step.do == "turn-peg")


def _gone(facts: Situation) -> str | None:
    """What became of a string that gives no pitch; None for one that does."""
    if facts.string_state != "on":
        return {"floppy": "floppy", "broken": "broken", "off": "missing"}[facts.string_state]
    return "peg out" if facts.peg.state == "out" else None


def unheard(strings: Sequence[str]) -> Sorted:
    """An instrument of which these strings are still to be heard."""
    return Sorted("not-heard", None, 0, 0, 0, f"still to hear: {', '.join(strings)}")


def at_luthier(why: str) -> Sorted:
    """An instrument that is away at the luthier's."""
    return Sorted("luthier", None, 0, 0, 0, f"at the luthier’s: {why}" if why else "at the luthier’s")


@dataclass(frozen=True)
class TriagedInstrument:
    """How an instrument is sorted, how many minutes it will take, and how many of its strings were heard."""

    sorted: Sorted
    minutes: float
    heard: int


HISTORY_TUNINGS = 12
"""Tunings that say how long an instrument takes."""


def triaged_instrument(
    instrument: FittedInstrument, log: TuningLog, past: Sequence[TuningSummary], *, clock: Clock
) -> TriagedInstrument:
    """Sort an instrument by today's tuning of it, for whoever may turn everything. ``past``: its tunings, oldest first."""
    return triaged_states(instrument, tuning_now(instrument, log, move_log(past), clock=clock), past)


def triaged_states(
    instrument: FittedInstrument, now: TuningNow, past: Sequence[TuningSummary], *, planned: Plan | None = None
) -> TriagedInstrument:
    """As `triaged_instrument`, where it is known already how its strings stand; ``planned``: and its round, for whoever may
    turn everything.
    """
    log = now.log
    questions = {state.string.name: state.asked(for_teacher=True) for state in now.states}
    verdict = sort_instrument(
        questions,
        instrument=instrument.facts,
        order=log.tuning.order,
        coupling=learned_coupling(instrument.facts, move_log(past)),
        may_be_pure=not log.counting_moves,
        planned=planned,
    )
    earlier = _earlier(log, past)
    minutes = 0.0
    if verdict.screw_moves + verdict.peg_moves:
        minutes = expected_minutes(
            earlier, screw_moves=verdict.screw_moves, peg_moves=verdict.peg_moves, rounds=max(1, verdict.rounds)
        )
    return TriagedInstrument(verdict, minutes, sum(one.heard is not None for one in questions.values()))


def instrument_pace(log: TuningLog, past: Sequence[TuningSummary]) -> float:
    """R47: how many times as long as usual this instrument takes, by its tunings before this one."""
    return learned_pace(_earlier(log, past), usual=1.0)


def _earlier(log: TuningLog, past: Sequence[TuningSummary]) -> list[Done]:
    return [
        Done(one.screw_moves, one.peg_moves, one.minutes)
        for one in past[-HISTORY_TUNINGS - 1 :]
        if one.tuning_id != log.tuning.id
    ]
