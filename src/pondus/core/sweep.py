"""Sorting a whole group's instruments after a sweep: leave, a student can, the teacher must, the luthier.

What each string needs is the plan's answer for whoever may turn everything; the sorting only asks what kind of move it is.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from pondus.core.instruments import Instrument
from pondus.core.judgement.plan import OrderSchool, Pull, StringAsked, plan
from pondus.core.judgement.reading import SLACK_CENTS
from pondus.core.stations import Clearance

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
    asked: Mapping[str, StringAsked],
    *,
    instrument: Instrument,
    order: OrderSchool = "A-outward",
    pull: Pull | None = None,
) -> Sorted:
    """Sort one instrument by its four readings. ``asked``: as `plan` takes them, for someone who may turn pegs."""
    left = [name for name in instrument.string_names if name not in asked or asked[name].heard is None]
    if left:
        return unheard(left)
    planned = plan(asked, instrument=instrument, order=order, pull=pull)
    if planned.refer == "luthier":
        return Sorted("luthier", None, 0, 0, 0, "a peg that can’t be moved")
    pegs = [move for move in planned.moves if move.step.do == "turn-peg"]
    screws = planned.total_moves - len(pegs)
    slack = [name for name, each in planned.strings.items() if (each.cents_off or 0.0) < -SLACK_CENTS]
    if slack:
        return Sorted("teacher-must", "teacher", screws, len(pegs), planned.rounds, f"slack: {', '.join(slack)}")
    if planned.ask:
        return Sorted("teacher-must", "teacher", screws, len(pegs), planned.rounds, f"unsure: {', '.join(planned.ask)}")
    if pegs:
        names = ", ".join(dict.fromkeys(move.string for move in pegs))
        return Sorted("teacher-must", "pegs", screws, len(pegs), planned.rounds, f"peg: {names}")
    if screws:
        return Sorted(
            "student-can", "fine-tuners", screws, 0, planned.rounds, f"fine tuner: {', '.join(planned.order)}"
        )
    return Sorted("leave", None, 0, 0, 0, "in tune")


def unheard(strings: Sequence[str]) -> Sorted:
    """An instrument of which these strings are still to be heard."""
    return Sorted("not-heard", None, 0, 0, 0, f"still to hear: {', '.join(strings)}")


def at_luthier(why: str) -> Sorted:
    """An instrument that is away at the luthier's."""
    return Sorted("luthier", None, 0, 0, 0, f"at the luthier’s: {why}" if why else "at the luthier’s")
