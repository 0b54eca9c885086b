"""Care for people and instruments: said where it applies, once, not as wallpaper. Rules R26 to R38."""

from collections.abc import Sequence
from typing import Literal

from pondus.core.instruments.mechanics import is_old, is_violin_e
from pondus.core.judgement.mechanism import Choice
from pondus.core.judgement.reading import ROUNDING_CENTS
from pondus.core.judgement.situation import FineTuner, Situation
from pondus.core.judgement.steps import Step

Caution = Literal[
    "push-in",
    "ease-down-first",
    "face-away",
    "wrong-peg",
    "e-string",
    "break-margin",
    "screw-near-end",
    "bridge",
    "adult",
    "old-string",
    "octave-guess",
    "recentre-later",
    "one-at-a-time",
]
CAUTION_SAID: dict[Caution, str] = {
    "push-in": "Push the peg in while it turns, both ways, and brace the other side of the pegbox; or it springs back.",
    "ease-down-first": "Free it first: ease it a hair down.",
    "face-away": "Keep faces away while it goes up; whoever watches keeps their eyes low and to the side.",
    "wrong-peg": "Follow the string with your eye to its peg before you turn.",
    "e-string": "The E is the thinnest and the first to snap: the smallest nudges you can make.",
    "break-margin": "Strings break when they go up too far: nothing more upwards than is said here.",
    "screw-near-end": "The fine tuner comes near its end: too far out it falls off, too far in its lever can dig into the top.",
    "bridge": "Look at the bridge after each round: its back edge square to the top, feet flat.",
    "adult": "A peg: an adult stands by.",
    "old-string": "This string is over a year old: it breaks sooner and drifts more. Have a new one ready.",
    "octave-guess": "The tuner named no octave: this is a guess from the nearest one.",
    "recentre-later": "The fine tuner ends near its end: recentre it next time.",
    "one-at-a-time": "Never slacken all strings at once: the bridge and the soundpost stand by their pressure.",
}
NEAR_END_TURNS = 0.5
BREAK_MARGIN_PAST_CENTS = 100.0


def near_end(tuner: FineTuner, turns: float) -> bool:
    """Whether a screw position lies within the last half turn of its travel, either way.

    >>> near_end(FineTuner(reach_turns=4.0), -3.6), near_end(FineTuner(reach_turns=4.0), 3.0)
    (True, False)
    """
    return abs(turns) >= tuner.reach_turns - NEAR_END_TURNS - 1e-9


def cautions_for(
    situation: Situation,
    choice: Choice,
    steps: Sequence[Step],
    *,
    cents_off: float,
    slack: bool,
    octave_guess: bool,
    screw_ends: Sequence[float],
) -> tuple[Caution, ...]:
    """The cautions that apply to these steps and no others, in the contract's order; ``cents_off``: cents from the target."""
    pegs = [step for step in steps if step.do == "turn-peg"]
    raises = any(step.pitch == "raise" for step in pegs)
    violin_e = is_violin_e(situation.instrument, situation.string)
    far_up = cents_off > BREAK_MARGIN_PAST_CENTS + ROUNDING_CENTS
    student_peg = situation.is_student and choice.mechanism == "peg" and choice.reason != "tug"
    leans = situation.bridge == "leans" or any(step.do == "look-at-bridge" for step in steps)
    applies: dict[Caution, bool] = {
        "push-in": bool(pegs) and situation.peg.kind == "friction",
        "ease-down-first": bool(pegs) and situation.peg.kind == "friction",
        "face-away": raises,
        "wrong-peg": raises,
        "e-string": violin_e and bool(pegs),
        "break-margin": not slack and (far_up or (violin_e and raises)),
        "screw-near-end": _ends_near(situation, screw_ends),
        "bridge": slack or leans,
        "adult": student_peg,
        "old-string": is_old(situation.string_age_days) and any(step.is_move for step in steps),
        "octave-guess": octave_guess,
        "recentre-later": _ends_near(situation, screw_ends[-1:]),
        "one-at-a-time": slack,
    }
    return tuple(caution for caution, does in applies.items() if does)


def _ends_near(situation: Situation, ends: Sequence[float]) -> bool:
    tuner = situation.fine_tuner
    return tuner is not None and any(near_end(tuner, turns) for turns in ends)
