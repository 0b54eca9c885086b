"""What follows from the answer to "what was it?" after a move without effect or the wrong way. Rules R23, R25, R81."""

from dataclasses import dataclass, replace

from pondus.core.errors import BadInput
from pondus.core.judgement import words
from pondus.core.judgement.after_move import Sign
from pondus.core.judgement.questions import about_move, answers_to, other_winding
from pondus.core.judgement.recent_move import Answer, RecentMove
from pondus.core.judgement.situation import FineTuner, Pitch, Situation
from pondus.core.judgement.steps import Step

SPRANG_BACK_ENOUGH = 3
"""R81: a peg that sprang back so often in one tuning is left for today."""
NOT_TURNED_ENOUGH = 3
"""R143: who says so often in a row that it wasn't turned, though nothing moves, looks at it with somebody."""


@dataclass(frozen=True)
class After:
    """Either the only ``steps`` there are now, none of which turns anything, or the situation as it is known now, to be advised
    anew (``steps`` empty).
    """

    situation: Situation
    steps: tuple[Step, ...] = ()


def question_about_move(situation: Situation, sign: Sign, recent: RecentMove, off: float | None) -> tuple[Step, ...]:
    """What is asked, or the end of asking: a peg that sticks is no riddle. ``off``: cents from the target."""
    if sign == "no-effect" and recent.turned == "peg" and situation.peg.state == "sticks":
        return (_stuck(situation, recent, off),)
    if recent.repeats and situation.is_student:
        return (Step("fetch-teacher", words.fetch_teacher(situation, off, needs="doesn't follow what I turn")),)
    return (about_move(situation, sign, recent),)


def after_answer(situation: Situation, sign: Sign, recent: RecentMove, answer: Answer, off: float | None) -> After:
    """What the answer changes. Raises BadInput for one that wasn't among those offered.

    Nothing is learned from such a move, whichever answer it is.
    """
    offered = answers_to(sign, recent)
    if answer not in offered or (situation.peg.state == "sticks" and sign == "no-effect" and recent.turned == "peg"):
        raise BadInput("answer", f"“{answer}” doesn't answer what was asked; there were {', '.join(offered)}.")
    name = situation.string.name
    if answer == "other-peg":
        say = (
            f"Play all the strings again, one by one: the one that moved tells what you turned. Then follow the {name} string"
            " with your eye to its own."
        )
        return After(situation, (Step("play-again", say),))
    if answer == "none" or (sign == "no-effect" and answer == "not-turned" and situation.not_turned >= NOT_TURNED_ENOUGH):
        return After(situation, (_second_eyes(situation, off),))
    if answer == "wound-other-way":
        return After(replace(situation, peg=other_winding(situation.peg)))
    if answer == "end-or-loose" and situation.fine_tuner is not None:
        at_end = end_turns(situation.fine_tuner, recent.direction)
        return After(replace(situation, fine_tuner=replace(situation.fine_tuner, turns_from_middle=at_end)))
    if answer == "sprang-back":
        if situation.sprang_back >= SPRANG_BACK_ENOUGH:
            return After(situation, (_stop_for_today(situation, off),))
        return After(replace(situation, peg=replace(situation.peg, state="slips")))
    return After(situation)


def _stop_for_today(situation: Situation, off: float | None) -> Step:
    name = situation.string.name
    if situation.is_student:
        return Step("fetch-teacher", words.fetch_teacher(situation, off, needs="has a peg that springs back every time"))
    return Step(
        "luthier",
        f"The {name} peg has sprung back {situation.sprang_back} times: leave it for today, and note it for the luthier.",
    )


def end_turns(tuner: FineTuner, direction: Pitch) -> float:
    """Where a screw stands that goes no further that way, in turns from its middle.

    >>> end_turns(FineTuner(reach_turns=3.0), "raise"), end_turns(FineTuner(reach_turns=3.0), "lower")
    (3.0, -3.0)
    """
    return tuner.reach_turns if direction == "raise" else -tuner.reach_turns


def _second_eyes(situation: Situation, off: float | None) -> Step:
    if situation.is_student:
        return Step("fetch-teacher", words.fetch_teacher(situation, off, needs="doesn't follow what I turn"))
    return Step("check", words.STOP_HERE)


def _stuck(situation: Situation, recent: RecentMove, off: float | None) -> Step:
    """R25, the ladder of a stuck peg."""
    name = situation.string.name
    if situation.is_student:
        return Step("fetch-teacher", words.fetch_teacher(situation, off, needs="has a peg that sticks"))
    if recent.repeats:
        return Step("luthier", f"The {name} peg won't move: no force and no pliers; it goes to the luthier.")
    return Step(
        "check",
        f"The {name} peg sticks. Have another adult try: ease it out with a wiggle, one small turn, then peg compound on it."
        " Never force, never pliers.",
    )
