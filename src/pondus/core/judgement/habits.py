"""Habits of a school beside its approach, each chosen or left: one row a habit. Rule R128.

They are what practitioners differ in; what is unsafe isn't among them.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal, get_args

from pondus.core.errors import BadInput

Habit = Literal["e-screw-only", "e-as-others", "slack-to-teacher", "peg-back", "bow"]
HABIT_NAMES: tuple[Habit, ...] = get_args(Habit)


@dataclass(frozen=True)
class HabitChoice:
    """One habit: how a choice says it, why it is taught, and which one it can't stand beside."""

    value: Habit
    said: str
    why: str
    instead_of: Habit | None = None


HABITS = (
    HabitChoice("e-screw-only", "The violin’s E peg is a teacher’s", "it is the string that snaps first", "e-as-others"),
    HabitChoice(
        "e-as-others", "The violin’s E takes its peg as the others do", "one rule for all four strings", "e-screw-only"
    ),
    HabitChoice("slack-to-teacher", "Slack and broken strings go to a teacher", "the bridge may fall"),
    HabitChoice(
        "peg-back", "A little sharp, no fine tuner: the peg back and up", "a pull is never the same twice, and wears the string"
    ),
    HabitChoice("bow", "Bow while a hand turns", "a bowed string shows its pitch all the while, and none too sharp"),
)


def check_habits(names: Iterable[str]) -> tuple[Habit, ...]:
    """Habits by their names, each once, in the order of the table. Raises BadInput naming those there are.

    >>> check_habits(["bow", "peg-back", "bow"])
    ('peg-back', 'bow')
    """
    chosen = set(names)
    strange = next((name for name in sorted(map(str, chosen)) if name not in HABIT_NAMES), None)
    if strange is not None:
        raise BadInput("habits", f"There is no habit “{strange}”; choose from {', '.join(HABIT_NAMES)}.")
    for habit in HABITS:
        if habit.value in chosen and habit.instead_of in chosen:
            raise BadInput("habits", f"{habit.value} and {habit.instead_of} are opposites; choose one of the two.")
    return tuple(name for name in HABIT_NAMES if name in chosen)
