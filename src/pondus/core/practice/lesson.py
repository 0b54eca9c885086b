"""Five minutes a lesson: which drill each of those present does, so that as many as can do the same."""

from collections import Counter
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from uuid import UUID

from pondus.core.group.people import STAGES, stage_at
from pondus.core.practice.at_bench import STUMBLED, Stumble
from pondus.core.practice.drills import DRILLS, Drill, drills_of_stage
from pondus.core.practice.shown import DrillShown, Gone, known_of, shown_by

LESSON_MINUTES = 5
MINUTES: Mapping[str, float] = {"choice": 2.0, "ears": 4.0, "figure": 2.0, "hands": 3.0, "microphone": 4.0}
"""What a go takes, about."""


@dataclass(frozen=True)
class Learner:
    """Someone present: who, what they are cleared for, their goes before, and what they do again and again at the bench."""

    key: str
    cleared: tuple[int, ...]
    goes: tuple[Gone, ...] = ()
    stumbles: Mapping[Stumble, int] = field(default_factory=dict)


@dataclass(frozen=True)
class LessonDrill:
    """One drill of a lesson: who does it together at one device, why each, and what it takes."""

    drill: Drill
    minutes: float
    who: tuple[str, ...]
    why: Mapping[str, str]


@dataclass(frozen=True)
class Lesson:
    """What is done, and who has nothing this time."""

    drills: tuple[LessonDrill, ...] = ()
    not_today: tuple[str, ...] = ()


def who_is_there(players: Sequence[UUID], *, named: Collection[UUID] = (), here: Collection[UUID] = ()) -> list[UUID]:
    """Whose lesson it is, in the roll's order: those who are named; nobody named: those with a place this morning (``here``);
    nobody there either: every player.

    >>> ana, ben = UUID(int=1), UUID(int=2)
    >>> who_is_there([ana, ben], here=[ben]) == [ben], who_is_there([ana, ben]) == [ana, ben]
    (True, True)
    """
    wanted = named or here
    present = [player for player in players if player in wanted]
    return present if named or present else list(players)


def lesson_for(present: Sequence[Learner], *, today: date, quiet: bool = True, devices: int = 1) -> Lesson:
    """Five minutes at so many devices, several people at one. What is shared by most comes first, each once; whatever time is
    left at a device is for those who are there. ``quiet`` false: nothing that is done by ear.
    """
    wanted = {learner.key: wanted_drills(learner, today=today, quiet=quiet) for learner in present}
    left = [float(LESSON_MINUTES)] * max(0, devices)
    at: dict[str, int] = {}
    lesson: list[LessonDrill] = []

    def take(name: str, who: Sequence[str], device: int) -> None:
        left[device] -= _minutes(name)
        lesson.append(LessonDrill(DRILLS[name], _minutes(name), tuple(who), {key: wanted[key][name] for key in who}))

    while True:
        waiting = [key for key in wanted if key not in at]
        free = max(range(len(left)), key=left.__getitem__, default=None)
        name = None if free is None else _most_wanted(wanted, waiting, left[free])
        if free is None or name is None:
            break
        who = [key for key in waiting if name in wanted[key]]
        take(name, who, free)
        at |= dict.fromkeys(who, free)
    for device in range(len(left)):
        here = [key for key, where in at.items() if where == device]
        done = {drill.drill.name for drill in lesson if set(drill.who) & set(here)}
        more = {key: {name: why for name, why in wanted[key].items() if name not in done} for key in here}
        second = _most_wanted(more, here, left[device])
        if second is not None:
            take(second, [key for key in here if second in more[key]], device)
    not_today = tuple(key for key in wanted if key not in at)
    return Lesson(tuple(sorted(lesson, key=lambda drill: (-len(drill.who), list(DRILLS).index(drill.drill.name)))), not_today)


def _minutes(name: str) -> float:
    return MINUTES[DRILLS[name].way]


def _most_wanted(wanted: Mapping[str, Mapping[str, str]], who: Sequence[str], minutes: float) -> str | None:
    """The drill that most of them want and that fits the time; of two, the one that is wanted sooner."""
    shared = Counter(name for key in who for name in wanted[key] if _minutes(name) <= minutes)
    sooner = {name: min(list(wanted[key]).index(name) for key in who if name in wanted[key]) for name in shared}
    return min(shared, key=lambda name: (-shared[name], sooner[name], list(DRILLS).index(name)), default=None)


def wanted_drills(learner: Learner, *, today: date, quiet: bool = True) -> dict[str, str]:
    """Drills for one learner, the most wanted first, each with its reason: what goes wrong again and again at the bench, what
    was missed, what isn't shown yet; else the stage's own again, and where its drills all want quiet and there is none, those
    of the stages before.
    """
    stage = stage_at(learner.cleared) or max(STAGES)
    shown = shown_by(learner.goes)
    reasons = {
        DRILLS[name].name: f"{said} {times} times lately, at the bench"
        for what, times in sorted(learner.stumbles.items(), key=lambda counted: -counted[1])
        for said, name in [STUMBLED[what]]
        if DRILLS[name].stage <= stage and (quiet or not DRILLS[name].wants_quiet)
    }
    for at in range(stage, 0, -1):
        drills = [drill for drill in drills_of_stage(at) if not drill.beside and (quiet or not drill.wants_quiet)]
        open_ones = [drill for drill in drills if not shown[drill.name].managed]
        for drill in open_ones:
            if known_of(drill, learner.goes, today=today).returns:
                reasons.setdefault(drill.name, "what was missed comes back")
        for drill in open_ones:
            reasons.setdefault(drill.name, _why(shown[drill.name]))
        if not open_ones:
            reasons |= {drill.name: f"stage {at} is shown: to keep it" for drill in drills if drill.name not in reasons}
        if drills:
            break
    return reasons


def _why(shown: DrillShown) -> str:
    return "new" if not shown.points else shown.said
