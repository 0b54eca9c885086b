"""What someone has shown by their goes: at each drill, and for each stage whether a teacher may think of clearing them.

Nothing here clears anyone: it says what stands for it, in sentences, and a teacher decides.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date

import numpy as np

from pondus.core.figures import Tenth
from pondus.core.group.people import STAGES, stage_at
from pondus.core.judgement import words
from pondus.core.practice.drills import DRILLS, Drill, drills_of_stage
from pondus.core.practice.run import Record
from pondus.core.practice.staircase import Asked, due_again, level_after
from pondus.core.practice.threshold import Threshold

LOOKED_AT, RIGHT_OF_THEM = 10, 9
"""Of choices: nine of the last ten, at the hardest level."""
HANDS_LOOKED_AT, HANDS_RIGHT = 6, 5
FIGURES_LOOKED_AT, FIGURES_RIGHT = 6, 5
ENOUGH_TRIALS = 16
BEFORE_DAYS = 14
DAYS_SHOWN = 2
"""R105: what was shown on so many days is shown."""


@dataclass(frozen=True)
class Gone:
    """One go that was gone through: the drill, the day, what was answered, and the threshold it came to."""

    drill: str
    day: date
    records: tuple[Record, ...]
    threshold: Threshold | None = None
    level: int = 1


@dataclass(frozen=True)
class Point:
    """One go in a plot: the day; how many of how many were right; the threshold with its ±, or how far off hands ended at the
    median, in cents; how often they went past, on average.
    """

    day: date
    right: int
    asked: int
    level: int
    cents: Tenth | None = None
    low: Tenth | None = None
    high: Tenth | None = None
    overshoots: Tenth | None = None


@dataclass(frozen=True)
class DrillShown:
    """One drill's goes, oldest first; whether what is wanted of it was shown; and what was, in words."""

    drill: Drill
    points: tuple[Point, ...]
    managed: bool
    said: str
    before: str = ""
    """What had been shown a fortnight before the last go; empty: nothing yet."""


@dataclass(frozen=True)
class StageShown:
    """A stage: its drills as they were shown. ``ready``: all of them managed."""

    stage: int
    said: str
    drills: tuple[DrillShown, ...]

    @property
    def ready(self) -> bool:
        """Whether everything that is wanted for it was shown."""
        return bool(self.drills) and all(drill.managed for drill in self.drills)


def shown_by(goes: Sequence[Gone]) -> dict[str, DrillShown]:
    """What each drill's goes come to, oldest first; drills never tried are there too."""
    by_drill: dict[str, list[Gone]] = {name: [] for name in DRILLS}
    for go in sorted(goes, key=lambda go: go.day):
        if go.drill in by_drill and go.records:
            by_drill[go.drill].append(go)
    return {name: _with_before(DRILLS[name], found) for name, found in by_drill.items()}


def _with_before(drill: Drill, goes: Sequence[Gone]) -> DrillShown:
    earlier = [go for go in goes if (goes[-1].day - go.day).days >= BEFORE_DAYS]
    return replace(_shown(drill, goes), before=_shown(drill, earlier).said if earlier else "")


def stages_shown(drills: Mapping[str, DrillShown]) -> tuple[StageShown, ...]:
    """Every stage, with what was shown for it. What counts beside the others isn't wanted of anyone: a room may have no quiet
    corner for one's own instrument, and a whole one takes minutes.
    """
    return tuple(
        StageShown(stage, said, tuple(drills[drill.name] for drill in drills_of_stage(stage) if not drill.beside))
        for stage, said in STAGES.items()
    )


def next_stage(stages: Sequence[StageShown], cleared: Sequence[int]) -> StageShown | None:
    """The stage someone is at: the first they aren't cleared for; None: cleared for all."""
    at = stage_at(cleared)
    return next((stage for stage in stages if stage.stage == at), None)


def _shown(drill: Drill, goes: Sequence[Gone]) -> DrillShown:
    points = tuple(_point(drill, go) for go in goes)
    if not goes:
        return DrillShown(drill, (), False, "not tried yet")
    records = [one for go in goes for one in go.records]
    if drill.way == "ears":
        return _by_ear(drill, goes, points)
    wanted, of = _wanted(drill)
    last = records[-of:]
    right = sum(one.right for one in last)
    reached = max(go.level for go in goes[-2:])
    days = {go.day for go in goes if go.level >= drill.levels and _well(go, wanted / of)}
    managed = len(last) >= of and right >= wanted and len(days) >= DAYS_SHOWN
    level = "" if drill.levels == 1 else f", {_level_said(reached, drill.levels)}"
    return DrillShown(drill, points, managed, f"{right} of the last {len(last)} right{level}{_hands_said(drill, last)}")


def _well(go: Gone, share: float) -> bool:
    """Whether that share of a go was right, or more."""
    return sum(one.right for one in go.records) >= share * len(go.records) - 1e-9


def _wanted(drill: Drill) -> tuple[int, int]:
    if drill.way in ("hands", "microphone"):
        return HANDS_RIGHT, HANDS_LOOKED_AT
    return (FIGURES_RIGHT, FIGURES_LOOKED_AT) if drill.way == "figure" else (RIGHT_OF_THEM, LOOKED_AT)


def _level_said(level: int, levels: int) -> str:
    return "up to the hardest" if level >= levels else f"up to level {level} of {levels}"


def _hands_said(drill: Drill, last: Sequence[Record]) -> str:
    passed = [one.outcome.overshoots for one in last if one.outcome is not None and one.outcome.overshoots is not None]
    if drill.way != "hands" or not passed:
        return ""
    times = sum(passed)
    times_said = ", never went past" if times == 0 else f", went past {'once' if times == 1 else f'{times} times'}"
    beside = [one.outcome.beside_share for one in last if one.outcome is not None and one.outcome.beside_share is not None]
    return times_said if not beside else f"{times_said}; its turns miss by {np.mean(beside):.0%} of their way"


def _by_ear(drill: Drill, goes: Sequence[Gone], points: tuple[Point, ...]) -> DrillShown:
    known = next((go.threshold for go in reversed(goes) if go.threshold is not None), None)
    if known is None or drill.within_cents is None:
        return DrillShown(drill, points, False, "too few answers yet")
    if not known.is_told:
        return DrillShown(drill, points, False, "not told apart yet better than by guessing")
    trials = sum(go.threshold.trials for go in goes if go.threshold is not None)
    days = {go.day for go in goes if go.threshold is not None and go.threshold.cents <= drill.within_cents}
    managed = trials >= ENOUGH_TRIALS and known.cents <= drill.within_cents and len(days) >= DAYS_SHOWN
    sentence = f"tells {words.cents(known.cents)} apart, very likely between {known.low:.1f} and {known.high:.1f}"
    return DrillShown(drill, points, managed, sentence)


def _point(drill: Drill, go: Gone) -> Point:
    ended = [
        abs(one.outcome.ended_cents) for one in go.records if one.outcome is not None and one.outcome.ended_cents is not None
    ]
    passed = [one.outcome.overshoots for one in go.records if one.outcome is not None and one.outcome.overshoots is not None]
    threshold = go.threshold
    return Point(
        go.day,
        sum(one.right for one in go.records),
        len(go.records),
        go.level,
        cents=threshold.cents if threshold is not None else float(np.median(ended)) if ended else None,
        low=None if threshold is None else threshold.low,
        high=None if threshold is None else threshold.high,
        overshoots=float(np.mean(passed)) if passed else None,
    )


@dataclass(frozen=True)
class Known:
    """What a new go begins with: items to ask again, the threshold known, the level reached."""

    returns: tuple[str, ...] = ()
    before: Threshold | None = None
    begins: int = 1


def known_of(drill: Drill, goes: Sequence[Gone], *, today: date) -> Known:
    """What is known of someone at a drill from their goes before."""
    mine = sorted((go for go in goes if go.drill == drill.name), key=lambda go: go.day)
    answers = [Asked(one.item, one.right, go.day) for go in mine for one in go.records]
    last = mine[-1] if mine else None
    begins = 1
    if last is not None and drill.levels > 1:
        reached = level_after([Asked(one.item, one.right) for one in last.records], levels=drill.levels, begins=last.level)
        begins = max(1, min(last.level, reached))
    before = next((go.threshold for go in reversed(mine) if go.threshold is not None), None)
    return Known(due_again(answers, today), before, begins)
