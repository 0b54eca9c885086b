"""How hard a drill is made, and what comes back: for drills that have levels in place of a difference in cents.

The level goes by a weighted up-down staircase that settles where three of four answers are right (Kaernbach, C. (1991). Simple
adaptive testing with the weighted up-down method. Perception & Psychophysics 49:227): up a third of a level for each right
answer, down one for each wrong one. What was missed comes back after three questions, and on later days at
widening distances (Leitner's boxes, 1972).
"""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

BACK_AFTER_QUESTIONS = 3
BACK_AFTER_DAYS = (0, 1, 3, 7, 14)
"""How long after its last showing a missed item comes back, by how often it was right since."""


@dataclass(frozen=True)
class Asked:
    """One item that was asked, on a day, and whether the answer was right."""

    item: str
    right: bool
    day: date | None = None


def level_after(answers: Sequence[Asked], *, levels: int, begins: int = 1) -> int:
    """The level of the next question, from 1.

    >>> right, wrong = Asked("x", True), Asked("x", False)
    >>> level_after([right] * 3, levels=3), level_after([right] * 6 + [wrong], levels=3), level_after([wrong], levels=3)
    (2, 2, 1)
    """
    thirds = 3 * (begins - 1)
    for one in answers:
        thirds += 1 if one.right else -3
        thirds = max(0, min(3 * (levels - 1) + 2, thirds))
    return 1 + thirds // 3


def comes_back(answers: Sequence[Asked]) -> str | None:
    """An item that was missed in this course and is to be asked now, if one is: it was shown at least three questions ago, and
    not right since.
    """
    waiting: dict[str, int] = {}
    for place, one in enumerate(answers):
        if one.right:
            waiting.pop(one.item, None)
        else:
            waiting[one.item] = place
    due = [item for item, place in waiting.items() if len(answers) - place > BACK_AFTER_QUESTIONS]
    return due[0] if due else None


def due_again(past: Sequence[Asked], today: date) -> tuple[str, ...]:
    """Items missed on other days that come back today, the longest due first.

    >>> from datetime import date
    >>> missed = Asked("E5", False, date(2026, 7, 1))
    >>> due_again([missed], date(2026, 7, 1)), due_again([missed, Asked("E5", True, date(2026, 7, 1))], date(2026, 7, 1))
    (('E5',), ())
    """
    boxes: dict[str, tuple[int, date]] = {}
    for one in past:
        if one.day is None:
            continue
        if not one.right:
            boxes[one.item] = (0, one.day)
        elif one.item in boxes:
            boxes[one.item] = (boxes[one.item][0] + 1, one.day)
    overdue = {
        item: (today - day).days - BACK_AFTER_DAYS[box] for item, (box, day) in boxes.items() if box < len(BACK_AFTER_DAYS)
    }
    return tuple(item for item, days in sorted(overdue.items(), key=lambda pair: -pair[1]) if days >= 0)
