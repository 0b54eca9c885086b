"""Five minutes a lesson: which drill each of those present does, so that as many as can do the same."""

from collections import Counter
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from uuid import UUID

from pondus.core.group.people import STAGES, stage_at
from pondus.core.practice.drills import DRILLS, Drill, drills_of_stage
from pondus.core.practice.shown import DrillShown, Gone, known_of, shown_by

LESSON_MINUTES = 5
MINUTES: Mapping[str, float] = {"choice": 2.0, "ears": 4.0, "figure": 2.0, "hands": 3.0, "microphone": 4.0}
"""What a go takes, about."""


@dataclass(frozen=True)
class Learner:
    """Someone present: who, what they are cleared for, and their goes before."""

    key: str
    cleared: tuple[int, ...]
    goes: tuple[Gone, ...] = ()


@dataclass(frozen=True)
class LessonDrill:
    """One drill of a lesson: who does it, why each, and what it takes."""

    drill: Drill
    minutes: float
    who: tuple[str, ...]
    why: Mapping[str, str]


def who_is_there(players: Sequence[UUID], *, named: Collection[UUID] = (), here: Collection[UUID] = ()) -> list[UUID]:
    """Whose lesson it is, in the roll's order: those who are named; nobody named: those with a place this morning (``here``);
    nobody there either: every player.

    >>> ana, ben = UUID(int=1), UUID(int=2)
    >>> who_is_there([ana, ben], here=[ben]) == [ben], who_is_there([ana, ben]) == [ana, ben]
    (True, True)
    """
    wanted = named or here
    found = [each for each in players if each in wanted]
    return found if named or found else list(players)


def lesson_for(present: Sequence[Learner], *, today: date, quiet: bool = True) -> tuple[LessonDrill, ...]:
    """Two drills at most for each, five minutes in all; what is shared by most comes first. ``quiet`` false: nothing that wants
    listening.
    """
    wanted = {learner.key: _wanted(learner, today=today, quiet=quiet) for learner in present}
    shared = Counter(name for found in wanted.values() for name in found)
    taken: dict[str, list[str]] = {}
    why: dict[str, dict[str, str]] = {}
    for learner in present:
        left = float(LESSON_MINUTES)
        for name in sorted(
            wanted[learner.key], key=lambda each: (-shared[each], list(wanted[learner.key]).index(each))
        ):
            if MINUTES[DRILLS[name].way] <= left:
                left -= MINUTES[DRILLS[name].way]
                taken.setdefault(name, []).append(learner.key)
                why.setdefault(name, {})[learner.key] = wanted[learner.key][name]
    lesson = [
        LessonDrill(DRILLS[name], MINUTES[DRILLS[name].way], tuple(who), why[name]) for name, who in taken.items()
    ]
    return tuple(sorted(lesson, key=lambda each: (-len(each.who), list(DRILLS).index(each.drill.name))))


def _wanted(learner: Learner, *, today: date, quiet: bool) -> dict[str, str]:
    """Drills for one learner, the most wanted first, each with its reason."""
    found: dict[str, str] = {}
    stage = stage_at(learner.cleared) or max(STAGES)
    drills = [each for each in drills_of_stage(stage) if each.way != "microphone" and (quiet or not each.sounds)]
    shown = shown_by(learner.goes)
    open_ones = [each for each in drills if not shown[each.name].managed]
    for drill in open_ones:
        if known_of(drill, learner.goes, today=today).returns:
            found.setdefault(drill.name, "what was missed comes back")
    for drill in open_ones:
        found.setdefault(drill.name, _why(shown[drill.name]))
    if not open_ones:
        for drill in drills:
            found.setdefault(drill.name, f"stage {stage} is shown: to keep it")
    return found


def _why(shown: DrillShown) -> str:
    return "new" if not shown.points else shown.said
