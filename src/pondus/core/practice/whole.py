"""A whole instrument in the hands: hear every string, decide, turn, hear all again, since one that is turned pulls the others.

It begins as the morning left it; what counts is where all strings end, and what went wrong on the way.
"""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from pondus.core.errors import BadInput
from pondus.core.instruments.targets import PURE_FIFTH_CENTS, targets_hz
from pondus.core.judgement import words
from pondus.core.judgement.heard import Way
from pondus.core.pitch.notes import cents_between, nearest_note, shift_hz
from pondus.core.practice.hands import (
    BY_EAR_WITHIN_CENTS,
    MUCH_TURNED,
    SHOWN_WITHIN_CENTS,
    Course,
    course_of,
    display_of,
    hurt_by,
    moved_ratio,
    passed,
    stands,
)
from pondus.core.practice.questions import Action, Answer, Judged, Outcome, Picture, Question, Setup, Shows, Task
from pondus.core.simulated.weather import Start, begun
from pondus.core.simulated.wood import Wood, as_plain, made

Rng = np.random.Generator

_BEGINS: dict[str, tuple[Start, str]] = {
    "morning": ("morning", "It hung overnight."),
    "cold": ("sharp", "It comes out of a cold hall."),
    "slipped": ("one-far-off", "The night was dry, and a peg has slipped."),
    "new": ("new-strings", "Its strings are a day old."),
}
_SHOWN: dict[Shows, str] = {
    "figures": "",
    "letters": " The tuner shows a letter, and left, middle or right of it.",
    "light": " The tuner shows left, middle or right, and no more.",
    "tones": " There is no tuner: each string’s tone sounds as you ask for it.",
    "fifths": " There is no tuner: take the A from its tone, and the others from their fifths.",
}
OVER_CENTS = 80.0
"""So far over its note, and higher than it began, a string was risked; once past each is what a hand may do (R139)."""
_BY_EAR: tuple[Shows, ...] = ("tones", "fifths")


def whole_items(setup: Setup, level: int, *, shows: tuple[Shows, ...]) -> tuple[str, ...]:
    """How it begins and what is shown of it: a morning's drift; then a peg that slipped, cold; then new strings."""
    begins = (("morning",), ("morning", "slipped", "cold"), ("slipped", "new"))[level - 1]
    return tuple(f"{begin}:{shown}" for begin in begins for shown in shows)


def ask_whole(setup: Setup, item: str, rng: Rng) -> Question:
    """Bring all strings home."""
    begin, shown = item.split(":")
    start, story = _BEGINS[begin]
    shows: Shows = shown  # type: ignore[assignment]  # an item of `whole_items`
    wood = begun(made(setup.kind, seed=int(rng.integers(2**31)), size=setup.size), start)
    by_ear = shows in _BY_EAR
    return Question(
        item,
        f"{story} Tune all its strings, and hear each again at the end: one that is turned pulls the others.{_SHOWN[shows]}",
        picture=Picture("strings"),
        task=Task(
            as_plain(wood),
            "A",
            "bow",
            display=not by_ear,
            who="student-pegs",
            home_within_cents=BY_EAR_WITHIN_CENTS if by_ear else setup.tolerance_cents,
            aims=_aims(setup, wood, pure=shows == "fifths"),
            shows=shows,
        ),
    )


def _aims(setup: Setup, wood: Wood, *, pure: bool) -> tuple[tuple[str, float], ...]:
    """Where each string should be, in cents from its own target; by fifths alone they are pure, from the A."""
    hz = targets_hz(setup.instrument, a4=setup.a4, fifth_cents=PURE_FIFTH_CENTS if pure else setup.fifth_cents)
    return tuple((name, cents_between(hz[name], wood.true[name].target_hz)) for name in setup.instrument.string_names)


def of_string(task: Task, string: str) -> Task:
    """The task as one of its strings has it. Raises BadInput for one that isn't there."""
    aims = dict(task.aims or [(task.string, task.aim_cents)])
    if string not in aims:
        raise BadInput("string", f"There is no {string} string here; there are {', '.join(aims)}.")
    return replace(task, string=string, aim_cents=aims[string])


def shown_of(setup: Setup, task: Task, wood: Wood, rng: Rng) -> tuple[str, float | None] | None:
    """What a tuner shows of the string of this task: text, and cents where it has figures; None: no pitch, or no tuner."""
    shown = display_of(setup, task, wood, rng) if task.display else None
    if shown is None or task.shows == "figures":
        return None if shown is None else (shown.text, shown.cents)
    target = setup.facts(task.string).target_hz
    note = nearest_note(shift_hz(target, shown.cents), a4=setup.a4, spelling=setup.spelling)
    letter = note.name.rstrip("0123456789")
    own = nearest_note(target, a4=setup.a4, spelling=setup.spelling).name.rstrip("0123456789")
    off = shown.cents if letter == own or task.shows == "light" else note.cents
    place = _LIGHTS[_way(off, setup.tolerance_cents)]
    return (place if task.shows == "light" else f"{letter}, {place}"), None


_LIGHTS: dict[Way, str] = {"flat": "left", "in-tune": "middle", "sharp": "right"}


def _way(cents: float, within: float) -> Way:
    return "in-tune" if abs(cents) <= within else "flat" if cents < 0.0 else "sharp"


def judge_whole(setup: Setup, task: Task, answer: Answer) -> Judged:
    """What the hands came to, over all its strings. Raises BadInput."""
    if answer.actions is None:
        raise BadInput("answer", "What was done to the instrument? Send its turns.")
    course = course_of(task, answer.actions)
    ended = {name: stands(of_string(task, name), course.now) for name, _ in task.aims}
    if any(cents is None for cents in ended.values()):
        gone = ", ".join(name for name, cents in ended.items() if cents is None)
        return hurt_by(course, f"The {gone} string broke")
    off = {name: cents for name, cents in ended.items() if cents is not None}
    within = task.home_within_cents + (SHOWN_WITHIN_CENTS if task.display else 1e-6)
    out = {name: cents for name, cents in off.items() if abs(cents) > within}
    tracks = {name: _track(of_string(task, name), course) for name in off}
    moved = [moved_ratio(track, within) for track in tracks.values()]
    counted = [cents for cents in moved if cents is not None]
    low, high = min(off.values()), max(off.values())
    outcome = Outcome(
        ended_cents=round(high if high > -low else low, 2),
        overshoots=sum(passed(track, within) for track in tracks.values()),
        turned_ratio=round(float(np.mean(counted)), 2) if counted else None,
        mishaps=course.mishaps,
    )
    risked = [name for name, track in tracks.items() if max(track) > max(OVER_CENTS, track[0] + within)]
    tidy = (outcome.overshoots or 0) <= len(off) and (outcome.turned_ratio or 0.0) <= MUCH_TURNED and not risked
    right = tidy and not out and not course.mishaps and not answer.stopped
    return Judged(right, _said(out, outcome, _pulled(answer.actions, tracks, within), risked), outcome)


def _track(task: Task, course: Course) -> list[float]:
    return [at for wood in course.woods if (at := stands(task, wood)) is not None]


def _pulled(actions: Sequence[Action], tracks: dict[str, list[float]], within: float) -> tuple[str, ...]:
    """Strings that were in tune once and aren't, though nobody turned them since."""
    pulled = []
    for name, track in tracks.items():
        home = [place for place, at in enumerate(track) if abs(at) <= within]
        is_out = bool(home) and home[-1] < len(track) - 1
        if is_out and all(action.string != name for action in actions[home[-1] :]):
            pulled.append(name)
    return tuple(pulled)


def _said(out: dict[str, float], outcome: Outcome, pulled: Sequence[str], risked: Sequence[str]) -> str:
    if out:
        parts = [f"Not in tune yet: {', '.join(f'the {name} {words.off(cents)}' for name, cents in out.items())}."]
    else:
        parts = ["In tune, all of them."]
    if pulled:
        parts.append(f"{_and(pulled)} had been in tune, and the others pulled it out: hear all again at the end.")
    if outcome.overshoots:
        times = "once" if outcome.overshoots == 1 else f"{outcome.overshoots} times"
        parts.append(f"Past the note {times}.")
    if (outcome.turned_ratio or 0.0) > MUCH_TURNED:
        parts.append("The strings were moved far more than they had to go: smaller turns, and listen after each.")
    if risked:
        parts.append(f"{_and(risked)} went far over, where strings break: go up slowly, and stop under the note.")
    return " ".join([*parts, *outcome.mishaps])


def _and(names: Sequence[str]) -> str:
    return f"The {names[0]}" if len(names) == 1 else f"The {', '.join(names[:-1])} and {names[-1]}"
