"""Foretelling: before each turn it is said what it will do, then it is turned and seen. It is how hands learn a screw."""

from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise

import numpy as np

from pondus.core.errors import BadInput
from pondus.core.practice.hands import Course, ask_screw, course_of, judge_hands, stands
from pondus.core.practice.questions import Action, Answer, Judged, Question, Setup, Task

FORETOLD_OFF, FORETOLD_LEAST_CENTS, MOST_FORETOLD_CENTS = 0.5, 6.0, 1200.0
"""R140: what was foretold of turns lies within half of what they did, in the middle, a small one within three cents."""


def foretell_items(setup: Setup, level: int) -> tuple[str, ...]:
    """A little off; then far for a screw."""
    kinds = (("near",), ("near", "wide"))[level - 1]
    return tuple(f"{kind}:{name}" for kind in kinds for name in setup.instrument.string_names)


def ask_foretell(setup: Setup, item: str, rng: np.random.Generator) -> Question:
    """Say what each turn will do, then turn and see: it is how hands learn a screw."""
    question = ask_screw(setup, item, rng, how="pluck")
    assert question.task is not None
    name = question.task.string
    task = f"Bring the {name} string in tune with its fine tuner. Before each turn say what it will do; then pluck, and see."
    return replace(question, say=task, task=replace(question.task, foretells=True))


def told_of(task: Task, course: Course, actions: Sequence[Action]) -> str | None:
    """What came of the last turn that was foretold, in words; None: none was."""
    turns = _turns(task, course, actions)
    return _said(*turns[-1]) if turns else None


def judge_foretold(setup: Setup, task: Task, answer: Answer) -> Judged:
    """What the hands came to, and how near what was foretold lay to it. Raises BadInput."""
    judged = judge_hands(setup, task, answer)
    turns = _turns(task, course_of(task, answer.actions or ()), answer.actions or ())
    if judged.outcome is None or not turns:
        return replace(judged, right=False)
    off = float(np.median([abs(did - said) / max(abs(did), FORETOLD_LEAST_CENTS) for said, did in turns]))
    return Judged(
        bool(judged.right) and off <= FORETOLD_OFF,
        " ".join([judged.said, *(_said(*turn) for turn in turns)]),
        replace(judged.outcome, foretold_off=round(off, 2)),
    )


def _turns(task: Task, course: Course, actions: Sequence[Action]) -> list[tuple[float, float]]:
    """What was foretold of each turn, and what it did, in cents: up to the next that was foretold."""
    begins = [place for place, action in enumerate(actions) if action.foretold is not None]
    turns = []
    for place, end in pairwise([*begins, len(actions)]):
        before, after = stands(task, course.woods[place]), stands(task, course.woods[end])
        foretold = actions[place].foretold
        if foretold is not None and abs(foretold) > MOST_FORETOLD_CENTS:
            raise BadInput("actions", f"{foretold:g} cents is more than a turn does; say {MOST_FORETOLD_CENTS:g} at most.")
        if before is not None and after is not None and foretold is not None:
            turns.append((foretold, after - before))
    return turns


def _said(foretold: float, did: float) -> str:
    """
    >>> _said(25.0, 34.4)
    'Foretold up 25: it went up 34.'
    """
    up, went = "up" if foretold > 0.0 else "down", "up" if did > 0.0 else "down"
    return f"Foretold {up} {abs(foretold):.0f}: it went {went} {abs(did):.0f}."
